"""The API against its own OpenAPI document: no input makes it fail, and what it answers is what it promises."""

from __future__ import annotations

from collections import Counter
from itertools import cycle

import schemathesis
from django.db.models import Model
from django.utils import timezone
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.core.failures import FailureGroup

from rasante.proving.services import begin_proof
from rasante.readings.models import Event, Source
from rasante.readings.services import keep_source, renew_token
from rasante.wsgi import application
from tests.tags import slow

from .base import ApiTest
from .promises import CHECKS

TOKEN = "a" * 32
#: In how many parts the operations are tried, so that they run beside one another.
PARTS = 4


def broken(case, response) -> str:
    """Which promises an answer breaks, in words: the group itself does not pass from a worker to who reports it."""
    try:
        case.validate_response(response, checks=CHECKS)
    except FailureGroup as group:
        return "\n".join(str(one) for one in group.exceptions)
    return ""


class Contract:
    """Every operation whose place in the document leaves `part` when divided by the parts."""

    part: int

    def test_every_operation(self) -> None:
        self.scaled()
        document = self.client.get("/api/schema/?format=json").json()
        # Signing out or deleting would take away what the other calls need.
        del document["paths"]["/api/session/"]
        for path in document["paths"].values():
            path.pop("delete", None)
        # A draft and a signed one in turn: they do not answer alike.
        self.proofs = cycle((begin_proof(self.tank, "metric", self.lead), self.signed()))
        self.sources = cycle([self._source(kind) for kind in ("modbus", "push", "csv")])
        _, self.sends = renew_token(self._source("push", "for pushes alone"), self.lead)
        self.event = Event.objects.create(kind="lost", tank=self.tank, opened_at=timezone.now())
        schema = schemathesis.openapi.from_dict(document)
        schema.app = application
        every = [result.ok() for result in schema.get_all_operations()]
        self.assertGreater(len(every), 60)
        operations = every[self.part :: PARTS]
        self.statuses: Counter[int] = Counter()
        self.client.force_login(self.lead)
        session = self.client.cookies["sessionid"].value
        self.cookies = {"sessionid": session, "csrftoken": TOKEN}
        for operation in operations:
            with self.subTest(operation.label):
                self._try(operation)
        # The calls got past the door: they were answered, not turned away.
        self.assertGreater(self.statuses[200], 50)
        self.assertEqual((self.statuses[401], self.statuses[403]), (0, 0))

    def _try(self, operation) -> None:
        read: dict[str, int] = {}

        @given(case=operation.as_strategy())
        @settings(
            # Few of each: the trials send many more.
            max_examples=7,
            deadline=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        def run(case) -> None:
            # A tank that is there is met as often as one that is not.
            if "id" in case.path_parameters:
                case.path_parameters["id"] = self._there(case.path).pk
            # What only reads answers the same to the same: it is asked once, and counts as often as it is drawn.
            asked = f"{case.formatted_path} {case.query}"
            if case.method == "GET" and asked in read:
                self.statuses[read[asked]] += 1
                return
            sent = {"Authorization": f"Bearer {self.sends}"} if case.path == "/api/push/" else {}
            headers = {"X-CSRFToken": TOKEN, "Accept-Encoding": "identity", **sent}
            response = case.call(headers=headers, cookies=self.cookies)
            read[asked] = response.status_code
            self.statuses[response.status_code] += 1
            self.assertEqual(broken(case, response), "")

        run()

    def _source(self, kind: str, name: str = "") -> Source:
        entries = {"kind": kind, "name": name or kind, "host": "127.0.0.1", "port": "1", "timeout": "0.1"}
        channel = {"name": "level", "kind": "level", "tank": str(self.tank.pk)}
        entries |= {f"channels[0].{key}": text for key, text in channel.items()}
        return keep_source(None, entries, "metric", self.lead, 0)

    def _there(self, path: str) -> Model:
        """Something that is there, of the kind that a path asks for."""
        if path.startswith("/api/proofs"):
            return next(self.proofs)
        if path.startswith("/api/sources"):
            return next(self.sources)
        return {"/api/sites": self.site, "/api/event": self.event}.get(path[:10], self.tank)


@slow
class ContractFirst(Contract, ApiTest):
    part = 0


@slow
class ContractSecond(Contract, ApiTest):
    part = 1


@slow
class ContractThird(Contract, ApiTest):
    part = 2


@slow
class ContractFourth(Contract, ApiTest):
    part = 3
