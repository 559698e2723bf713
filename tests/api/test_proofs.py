"""Proofs over HTTP: drafts that are kept right or wrong, and signatures that hold."""

from __future__ import annotations

import io

from django.db import IntegrityError, connection, transaction
from pypdf import PdfReader

from rasante.core.quantities.errors import InputError
from rasante.proving.models import Proof
from rasante.scaling.chains import chain_of, keep_chain
from rasante.tanks.issued import issue_table
from rasante.tanks.services import TableOrder, read_step, resurvey_tank
from tests.core.test_proof import CSV

from .base import ApiTest


class Drafts(ApiTest):
    def begin(self):
        self.scaled()
        return self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"}).json()

    def test_a_proof_needs_a_chain(self) -> None:
        answer = self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"})
        self.assertIn("no chain is kept", self.refused(answer)["tank"])

    def test_whatever_is_typed_is_kept(self) -> None:
        proof = self.begin()
        entries = proof["entries"]
        entries["points"][0]["found_up"] = "six foot"
        entries["tolerance"] = "0,5 %"
        kept = self.send("put", f"proofs/{proof['id']}/", {"entries": entries, "kept": proof["kept"]}).json()
        self.assertEqual(kept["entries"]["points"][0]["found_up"], "six foot")
        self.assertEqual(kept["result"]["problems"][0]["where"], "points[0].found_up")
        self.assertAlmostEqual(kept["result"]["tolerance_mm"], 12)
        again = self.send("get", f"proofs/{proof['id']}/").json()
        self.assertEqual(again["entries"], kept["entries"])

    def test_an_older_copy_does_not_overwrite_a_newer_one(self) -> None:
        proof = self.begin()
        body = {"entries": proof["entries"], "kept": proof["kept"]}
        self.assertEqual(self.send("put", f"proofs/{proof['id']}/", body).status_code, 200)
        self.assertIn("another device", self.refused(self.send("put", f"proofs/{proof['id']}/", body), 409)[""])

    def test_csv_in_and_bad_csv_changes_nothing(self) -> None:
        proof = self.begin()
        path = f"proofs/{proof['id']}/import/"
        taken = self.send("post", path, {"text": CSV, "kept": proof["kept"]}).json()
        self.assertEqual(taken["entries"]["points"][4]["found_up"], "2402.0 mm")
        self.assertEqual(taken["entries"]["tolerance"], proof["entries"]["tolerance"])
        bad = self.send("post", path, {"text": CSV.replace("1202", "high"), "kept": taken["kept"]})
        self.assertIn("row 4, column read_mm", self.refused(bad)["csv"])
        self.assertEqual(self.send("get", f"proofs/{proof['id']}/").json()["kept"], taken["kept"])

    def test_bad_forms_are_refused(self) -> None:
        proof = self.begin()
        for entries in (
            {},
            {"points": 3},
            proof["entries"] | {"read_as": "smell"},
            proof["entries"] | {"points": []},
        ):
            answer = self.send("put", f"proofs/{proof['id']}/", {"entries": entries, "kept": proof["kept"]})
            self.refused(answer)


class Signing(ApiTest):
    def draft(self):
        self.scaled()
        proof = self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"}).json()
        body = {"entries": self.whole_entries(), "kept": proof["kept"]}
        return self.send("put", f"proofs/{proof['id']}/", body).json()

    def test_sign_and_record(self) -> None:
        proof = self.draft()
        path = f"proofs/{proof['id']}/"
        self.assertIn("sign it first", self.refused(self.client.get(f"/api/{path}record.pdf/"))[""])
        wrong = self.send("post", f"{path}sign/", self.signing(proof, signature="Someone Else"))
        self.assertIn("Tess Till", self.refused(wrong)["signature"])
        signed = self.send("post", f"{path}sign/", self.signing(proof, signature="tess till")).json()
        self.assertEqual((signed["state"], signed["signed_by"]), ("signed", "Tess Till"))
        self.assertEqual(signed["result"]["verdict"], "pass")
        pdf = PdfReader(io.BytesIO(self.client.get(f"/api/{path}record.pdf/").content))
        words = "\n".join(page.extract_text() for page in pdf.pages)
        for expected in ("Net loft diesel", "PASSES", "Tess Till", "T-1", "1201 mm", "cannot be changed", "12 mm"):
            self.assertIn(expected, words)

    def test_the_password_is_asked_for_again(self) -> None:
        proof = self.draft()
        wrong = self.send("post", f"proofs/{proof['id']}/sign/", self.signing(proof, password="another-secret"))
        self.assertIn("not your password", self.refused(wrong)["password"])
        self.assertEqual(Proof.objects.get().state, "draft")

    def test_what_was_looked_at_is_what_is_signed(self) -> None:
        moves = {
            "kept again, revision": lambda: keep_chain(
                self.tank, {**chain_of(self.tank).entries, "sensor.high": "2300 mm"}, "metric", self.lead, 1
            ),
            "surveyed again, revision": lambda: resurvey_tank(
                self.tank,
                {**self.tank.entries, "shape.diameter_mm": "2390 mm"},
                "metric",
                self.lead,
                {"notes": "", "ports": []},
                1,
            ),
            "table 1 was issued": lambda: issue_table(
                self.tank, TableOrder(read_step("10", "mm")), "first", self.lead, 2
            ),
        }
        proof = self.draft()
        for words, move in moves.items():
            with self.subTest(words):
                move()
                self.tank.refresh_from_db()
                late = self.send("post", f"proofs/{proof['id']}/sign/", self.signing(proof))
                self.assertIn(words, self.refused(late, 409)[""])
                proof = self.send("get", f"proofs/{proof['id']}/").json()
        # A newer draft is no less another thing.
        other = self.send(
            "put", f"proofs/{proof['id']}/", {"entries": proof["entries"], "kept": proof["kept"]}
        ).json()
        self.refused(self.send("post", f"proofs/{proof['id']}/sign/", self.signing(proof)), 409)
        self.assertEqual(other["state"], "draft")

    def test_what_is_missing_cannot_be_signed(self) -> None:
        proof = self.draft()
        entries = proof["entries"] | {"control_restored": False}
        kept = self.send("put", f"proofs/{proof['id']}/", {"entries": entries, "kept": proof["kept"]}).json()
        answer = self.send("post", f"proofs/{proof['id']}/sign/", self.signing(kept))
        self.assertIn("control is restored", self.refused(answer)[""])


class Signed(ApiTest):
    """A signed proof never changes, whoever tries and however."""

    def setUp(self) -> None:
        super().setUp()
        self.proof = self.signed()
        self.before = Proof.objects.filter(pk=self.proof.pk).values().get()

    def tearDown(self) -> None:
        self.assertEqual(Proof.objects.filter(pk=self.proof.pk).values().get(), self.before)

    def lead_signs(self) -> dict:
        basis = {"tank": 1, "chain": 1, "wiring": 0, "table": 0}
        return {
            "signature": "Lena Lind",
            "password": "another-secret",
            "kept": self.proof.kept,
            "basis": basis,
        }

    def test_not_through_the_api(self) -> None:
        path = f"proofs/{self.proof.pk}/"
        self.client.force_login(self.lead)
        body = {"entries": self.whole_entries(), "kept": self.proof.kept}
        self.refused(self.send("put", path, body), 409)
        self.refused(self.send("post", f"{path}import/", {"text": CSV, "kept": self.proof.kept}), 409)
        self.refused(self.send("post", f"{path}sign/", self.lead_signs()), 409)
        self.refused(self.send("delete", path))

    def test_not_through_the_orm(self) -> None:
        proof = Proof.objects.get(pk=self.proof.pk)
        proof.entries["remarks"] = "changed"
        for act in (
            proof.save,
            proof.delete,
            lambda: Proof.objects.update(system="us"),
            lambda: Proof.objects.all().delete(),
            lambda: Proof.objects.bulk_update([proof], ["entries"]),
        ):
            with self.assertRaises(InputError), transaction.atomic():
                act()

    def test_not_through_sql(self) -> None:
        for statement in ("UPDATE proving_proof SET state = 'draft'", "DELETE FROM proving_proof"):
            refused = self.assertRaisesMessage(IntegrityError, "never changes")
            with refused, transaction.atomic(), connection.cursor() as cursor:
                cursor.execute(statement)

    def test_its_sheet_stays_when_the_tank_changes(self) -> None:
        def words() -> str:
            pdf = PdfReader(io.BytesIO(self.client.get(f"/api/proofs/{self.proof.pk}/record.pdf/").content))
            return "\n".join(page.extract_text() for page in pdf.pages)

        before = words()
        self.tank.document["name"] = "Renamed"
        self.tank.save()
        self.assertEqual(words(), before)
