"""What is refused leaves nothing behind, and what is done is done whole or not at all."""

from __future__ import annotations

from contextlib import contextmanager
from unittest.mock import patch

from django.db import models
from django.test import TestCase

from rasante.accounts.services import make_person
from rasante.core.proving.proof_entries import blank_proof
from rasante.devices.models import Rescaling
from rasante.devices.rescales import begin_rescale, close_rescale, tick
from rasante.devices.services import write_sheet
from rasante.proving.models import Proof
from rasante.proving.services import basis_of, begin_proof, keep_draft, sign_proof
from rasante.scaling.chains import chain_of, keep_chain, scaled_chain
from rasante.scaling.models import ScalingChain
from rasante.tanks.issued import issue_table
from rasante.tanks.models import IssuedTable, Profile, Site, Tank
from rasante.tanks.services import TableOrder, import_tank, read_step
from tests.core.samples import example, text

from .base import SENSOR, ApiTest


class Renames(ApiTest):
    def test_a_taken_name_is_refused_and_the_old_one_stays(self) -> None:
        other = Site.objects.create(name="Quay")
        problems = self.refused(self.send("patch", f"sites/{other.pk}/", {"name": "Yard", "revision": 1}))
        self.assertIn("name", problems)
        self.assertEqual(self.send("get", f"sites/{other.pk}/").json()["name"], "Quay")

    def test_a_profile_of_the_same_kind_is_not_made_twice(self) -> None:
        body = {"tank": self.tank.pk, "note": "", "capacity": "30 m3", "overall_diameter": "2420 mm"}
        made = self.send("post", "profiles/", {"name": "First", **body})
        self.assertEqual(made.status_code, 201, made.content)
        self.assertIn("already", self.refused(self.send("post", "profiles/", body))["overall_diameter"])
        self.assertEqual(Profile.objects.count(), 1)


class AnotherTanks(ApiTest):
    def test_chart_or_table_is_not_compared_with_this_ones(self) -> None:
        other = import_tank(self.site, text(example(name="Other")), self.technician)
        issue_table(other, TableOrder(read_step("10", "mm")), "first", self.technician, other.revision)
        rows = "level_mm,volume_l\n0,0\n1200,15000\n2400,30000"
        mapping = {"text": rows, "name": "Wall chart"}
        self.send("post", f"tanks/{other.pk}/charts/", mapping)
        chart = other.charts.first()
        wanted = ["table-1"] + ([f"chart-{chart.pk}"] if chart else [])
        for first in wanted:
            found = self.send("get", f"tanks/{self.tank.pk}/compare/?first={first}&second=current")
            self.assertIn(found.status_code, (400, 404), first)


class Gone(ApiTest):
    def test_what_a_colleague_deletes_while_it_is_looked_at_is_said_to_be_gone(self) -> None:
        def deleted() -> None:
            Tank.objects.filter(pk=self.tank.pk).delete()

        with patch("rasante.board.api.renew_standings", deleted):
            answer = self.send("get", f"tanks/{self.tank.pk}/stations/")
        self.assertIn("may have been deleted", self.refused(answer, 404)[""])


class Refused(ApiTest):
    def test_a_chain_a_proof_and_marks_keep_nothing_of_a_refused_body(self) -> None:
        self.scaled()
        kept = chain_of(self.tank)
        assert kept is not None
        path = f"tanks/{self.tank.pk}/"
        for entries in ({**SENSOR, "sensor.high": "0 mm"}, {**SENSOR, "counts.bits": "many"}):
            self.refused(self.send("put", f"{path}chain/", {"entries": entries, "revision": 1}))
            self.refused(self.send("put", f"{path}chain/", {"entries": SENSOR, "revision": 7}), 409)
            again = chain_of(self.tank)
            assert again is not None
            self.assertEqual((again.entries, again.revision), (kept.entries, 1))
        self.assertEqual(ScalingChain.history.count(), 1)
        self.refused(self.send("put", f"{path}marks/", {"entries": {"marks.high": "9 bar"}, "revision": 0}))
        self.assertEqual(self.send("get", f"{path}marks/").json()["revision"], 0)


@contextmanager
def failing_after(kind: type[models.Model]):
    """Saves of a kind go through, and then something breaks."""
    save = kind.save

    def broken(self, *args, **kwargs):
        save(self, *args, **kwargs)
        raise RuntimeError("the power went")

    with patch.object(kind, "save", broken):
        yield


class Whole(TestCase):
    """A service that breaks half way leaves all as it was."""

    def setUp(self) -> None:
        self.person = make_person("tess", "Tess Till", "a-long-secret", "technician")
        self.tank = import_tank(Site.objects.create(name="Yard"), text(example()), self.person)
        keep_chain(self.tank, SENSOR, "metric", self.person, 0)

    def draft(self) -> Proof:
        proof = begin_proof(self.tank, "metric", self.person)
        entries = blank_proof(scaled_chain(self.tank, "metric")) | {
            "read_as": "innage", "control_in_manual": True, "control_restored": True,
        }  # fmt: skip
        for point, read in zip(entries["points"], ("0 mm", "600 mm", "1200 mm", "1800 mm", "2400 mm"), strict=True):
            point["found_up"] = read
        return keep_draft(proof, entries, proof.kept)

    def test_signing(self) -> None:
        proof = self.draft()
        with failing_after(Proof), self.assertRaises(RuntimeError):
            sign_proof(proof, "Tess Till", proof.kept, self.person, basis_of(proof.tank))
        kept = Proof.objects.get()
        self.assertEqual((kept.state, kept.record), ("draft", None))
        signed = sign_proof(kept, "Tess Till", kept.kept, self.person, basis_of(kept.tank))
        self.assertEqual(signed.state, "signed")

    def test_issuing_and_writing(self) -> None:
        with failing_after(IssuedTable), self.assertRaises(RuntimeError):
            issue_table(self.tank, TableOrder(read_step("10", "mm")), "first", self.person, self.tank.revision)
        self.assertEqual(IssuedTable.objects.count(), 0)
        issue_table(self.tank, TableOrder(read_step("10", "mm")), "first", self.person, self.tank.revision)
        self.assertEqual(write_sheet(self.tank, "metric", "", self.person).number, 1)

    def test_closing_a_rescaling(self) -> None:
        begun = begin_rescale(self.tank, {"sensor.high": "3 m"}, 1.2, "metric", "Longer", self.person, 1)
        for index in range(len(begun.document["tasks"])):
            begun = tick(begun, index, True, begun.kept)
        with failing_after(Rescaling), self.assertRaises(RuntimeError):
            close_rescale(begun, begun.kept, self.person)
        kept = chain_of(self.tank)
        assert kept is not None
        self.assertEqual((kept.entries["sensor.high"], kept.revision), ("2400 mm", 1))
        self.assertIsNone(Rescaling.objects.get().closed_at)
        close_rescale(begun, begun.kept, self.person)
        kept = chain_of(self.tank)
        assert kept is not None
        self.assertEqual((kept.entries["sensor.high"], kept.revision), ("3 m", 2))

    def test_making_a_tank(self) -> None:
        with failing_after(Tank), self.assertRaises(RuntimeError):
            import_tank(Site.objects.get(), text(example(name="Second")), self.person)
        self.assertEqual(Tank.objects.count(), 1)
