"""What the API's tests share: people, a tank, and a client that speaks JSON."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.test import TestCase

from rasante.accounts.services import make_person
from rasante.core.proving.proof_entries import blank_proof
from rasante.proving import services as proving
from rasante.proving.models import Proof
from rasante.scaling.chains import chain_of, keep_chain, scaled_chain
from rasante.tanks.models import Site, Tank
from rasante.tanks.services import import_tank
from tests.core.samples import example, text

#: The first hops of a chain: a sensor over the example's whole height.
SENSOR = {"sensor.low": "0 mm", "sensor.high": "2400 mm", "sensor.serial": "T-1"}


class ApiTest(TestCase):
    """Signed in as a technician, with one tank of the example's shape."""

    technician: User
    lead: User
    site: Site
    tank: Tank

    @classmethod
    def setUpTestData(cls) -> None:
        cls.technician = make_person("tess", "Tess Till", "a-long-secret", "technician")
        cls.lead = make_person("lena", "Lena Lind", "another-secret", "lead")
        cls.site = Site.objects.create(name="Yard")
        cls.tank = import_tank(cls.site, text(example()), cls.technician)

    def setUp(self) -> None:
        self.client.force_login(self.technician)

    def send(self, method: str, path: str, body: Any = None):
        return getattr(self.client, method)(f"/api/{path}", data=body, content_type="application/json")

    def refused(self, response, status: int = 400) -> dict[str, str]:
        """The problems of a refusal, by their place."""
        self.assertEqual(response.status_code, status, response.content[:400])
        problems = response.json()["problems"]
        self.assertGreater(len(problems), 0)
        return {problem["where"]: problem["what"] for problem in problems}

    def scaled(self) -> Tank:
        """The tank, with a chain of the sensor's two ends kept."""
        if chain_of(self.tank) is None:
            keep_chain(self.tank, SENSOR, "metric", self.technician, 0)
        return self.tank

    def whole_entries(self) -> dict[str, Any]:
        """Entries of a proof that may be signed."""
        entries = blank_proof(scaled_chain(self.scaled(), "metric")) | {
            "read_as": "innage",
            "control_in_manual": True,
            "control_restored": True,
        }
        for point, read in zip(entries["points"], ("1 mm", "601", "1201 mm", "1801", "2401 mm"), strict=True):
            point["found_up"] = read
        entries["dip"] |= {"measured": "1200 mm", "indicated": "1204 mm"}
        return entries

    def signed(self) -> Proof:
        proof = proving.begin_proof(self.scaled(), "metric", self.technician)
        proof = proving.keep_draft(proof, self.whole_entries(), proof.kept)
        return proving.sign_proof(proof, "Tess Till", proof.kept, self.technician, proving.basis_of(proof.tank))

    def signing(self, proof: dict[str, Any], **changes: Any) -> dict[str, Any]:
        """The body with which a draft is signed as it was answered."""
        body = {"signature": "Tess Till", "password": "a-long-secret", "kept": proof["kept"], "basis": proof["basis"]}
        return body | changes
