"""The API's contract, DELETE among it, under examples that are made from its schema."""

from __future__ import annotations

import random
import time
from collections import Counter
from typing import Any

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.core.failures import FailureGroup

from tests.browser.harness import Server

from ..api.promises import CHECKS
from .base import LEAD, PATIENCE_S, Person, demo


def contract(minutes: float = 5.0) -> str:
    """Random calls of every operation, with DELETE: 0 × 5xx, and nothing that the document does not say."""
    statuses: Counter[int] = Counter()
    wrong: list[str] = []
    end = time.monotonic() + 60 * minutes
    while time.monotonic() < end:
        with demo() as server:
            round_ends = min(time.monotonic() + 75, end)
            person = Person(server, *LEAD)
            document = person.ask("GET", "schema/?format=json").json()
            ids = [tank["id"] for tank in person.ask("GET", "tanks/?page_size=200").json()["results"]]
            schema = schemathesis.openapi.from_dict(document)
            schema.config.update(base_url=server.url)
            operations = [result.ok() for result in schema.get_all_operations()]
            while time.monotonic() < round_ends:
                random.shuffle(operations)
                for operation in operations:
                    if time.monotonic() > round_ends:
                        break
                    _try(operation, person, server, ids, statuses, wrong)
    assert not wrong, "\n".join(wrong[:20])
    told = ", ".join(f"{count} × {status}" for status, count in sorted(statuses.items()))
    return f"{sum(statuses.values())} calls in {minutes:g} min: {told}"


def _try(
    operation: Any, person: Person, server: Server, ids: list[int], statuses: Counter[int], wrong: list[str]
) -> None:
    # Whoever was signed out, or shut out, by a call comes in again.
    if person.ask("GET", "session/").status_code != 200 or person.ask("GET", "tanks/?page_size=1").status_code != 200:
        person.cookies.clear()
        person.__init__(server, *LEAD)  # type: ignore[misc]

    @given(case=operation.as_strategy())
    @settings(
        max_examples=3, deadline=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck), database=None
    )
    def run(case: Any) -> None:
        if "id" in case.path_parameters and random.random() < 0.8:
            case.path_parameters["id"] = random.choice(ids)
        headers = {"X-CSRFToken": person.cookies.get("csrftoken") or "", "Accept-Encoding": "identity"}
        answer = case.call(headers=headers, cookies=person.cookies.get_dict(), timeout=PATIENCE_S)
        statuses[answer.status_code] += 1
        try:
            case.validate_response(answer, checks=CHECKS)
        except FailureGroup as group:
            wrong.append(f"{operation.label}: " + "; ".join(str(one) for one in group.exceptions)[:600])

    run()
