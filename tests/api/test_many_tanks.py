"""Many tanks: standings are kept and renewed with what they rest on, lists come by pages, queries stay few."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import connection
from django.test.utils import CaptureQueriesContext

from rasante.board.keeping import RESTS_ON, code_stamp, renew_standings
from rasante.board.models import Call, Standing
from rasante.board.standings import stations, tanks_with_work
from rasante.core.quantities.errors import InputError
from rasante.devices.rescales import begin_rescale, drop_rescale
from rasante.planned.services import remembered
from rasante.proving import services as proving
from rasante.scaling.chains import chain_of, newest_table, tanks_with_basis
from rasante.tanks.issued import issue_table
from rasante.tanks.models import Site, Tank
from rasante.tanks.services import TableOrder, import_tank, read_step
from tests.core.samples import example, text

from .base import ApiTest


def many(site: Site, count: int, person: User) -> None:
    """Tanks that differ in name and size."""
    for number in range(count):
        shape = {**example()["shape"], "shell_length_mm": 3000 + number}
        import_tank(site, text(example(name=f"Tank {number:04d}", shape=shape)), person)


class Standings(ApiTest):
    def kept(self) -> Any:
        renew_standings()
        return Standing.objects.get(tank=self.tank).stations

    def test_a_standing_is_forgotten_with_all_that_it_is_made_of(self) -> None:
        """Whatever is read to make a standing is listened to: else it stays as it was when that changes."""
        query = tanks_with_work()
        read = {Tank._meta.get_field(name).related_model for name in query.query.select_related}
        read |= {Tank._meta.get_field(str(getattr(one, "prefetch_to", one))).related_model
                 for one in query._prefetch_related_lookups}  # fmt: skip
        self.assertEqual(read - {Site} - set(RESTS_ON), set())

    def test_they_are_renewed_with_whatever_they_rest_on(self) -> None:
        """After every verb that a station rests on, what is kept is what is worked out anew."""
        rescaling = {}

        def begin() -> None:
            kept = chain_of(self.tank)
            assert kept is not None
            rescaling["one"] = begin_rescale(
                self.tank, {"sensor.high": "2300 mm"}, 1.0, "metric", "sensor", self.technician, kept.revision
            )

        verbs = {
            "kept a chain": self.scaled,
            "issued": lambda: issue_table(
                self.tank, TableOrder(read_step("100", "mm")), "first", self.technician, self.tank.revision
            ),
            "signed": self.signed_here,
            "begun a rescaling": begin,
            "dropped it": lambda: drop_rescale(rescaling["one"], rescaling["one"].kept, self.technician),
            "wired": lambda: self.put("wiring/", {"supply.nominal": "24 V"}),
            "planned": lambda: self.put("gauge/", {"site.temperature": "10 °C"}),
            "marked": lambda: self.put("marks/", {"marks.low": "1000 L"}),
            "surveyed": self.resurvey,
        }
        seen = [self.kept()]
        for name, verb in verbs.items():
            with self.subTest(name):
                verb()
                found = self.kept()
                self.assertEqual(found, stations(tanks_with_work().get(pk=self.tank.pk)))
                seen.append(found)
        self.assertGreater(len({str(one) for one in seen}), 6)

    def signed_here(self) -> None:
        proof = proving.begin_proof(self.tank, "metric", self.technician)
        proof = proving.keep_draft(proof, self.whole_entries(), proof.kept)
        proving.sign_proof(proof, "Tess Till", proof.kept, self.technician, proving.basis_of(proof.tank))

    def put(self, what: str, entries: dict[str, str]) -> None:
        here = f"tanks/{self.tank.pk}/{what}"
        revision = self.send("get", here).json()["revision"]
        answer = self.send("put", here, {"entries": entries, "system": "metric", "revision": revision})
        self.assertEqual(answer.status_code, 200, answer.content)

    def resurvey(self) -> None:
        tank = self.send("get", f"tanks/{self.tank.pk}/").json()
        body = {key: tank[key] for key in ("ports", "notes", "revision")}
        entries = {**tank["entries"], "shape.diameter_mm": "2390 mm"}
        answer = self.send("put", f"tanks/{self.tank.pk}/", {**body, "entries": entries, "system": "metric"})
        self.assertEqual(answer.status_code, 200, answer.content)

    def test_other_code_works_them_out_anew(self) -> None:
        self.kept()
        Standing.objects.update(stamp="of before", stations=[])
        self.assertEqual(len(self.kept()), 7)
        self.assertEqual(Standing.objects.get().stamp, code_stamp())

    def test_a_tank_that_goes_takes_its_own_along(self) -> None:
        self.kept()
        self.assertGreater(Call.objects.count(), 0)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"tanks/{self.tank.pk}/").status_code, 204)
        self.assertEqual((Standing.objects.count(), Call.objects.count()), (0, 0))

    def test_a_name_is_text_whatever_it_looks_like(self) -> None:
        for name in ("7", "null", "true", "[1]", "1000000000000000000000000000000", '"quoted"'):
            import_tank(self.site, text(example(name=name)), self.technician)
        board = self.send("get", "board/").json()
        names = {call["name"] for call in board["attention"]}
        self.assertLessEqual({"7", "null", "true", "[1]", "1000000000000000000000000000000", '"quoted"'}, names)
        self.assertEqual({type(name) for name in names}, {str})

    def test_the_board_comes_by_pages(self) -> None:
        many(self.site, 64, self.technician)
        pages = [self.send("get", f"board/?page={page}").json() for page in (1, 2, 3, 4)]
        first = pages[0]
        self.assertEqual([len(one["tanks"]) for one in pages], [30, 30, 5, 0])
        self.assertEqual(first["tank_count"], 65)
        self.assertEqual(len({card["id"] for one in pages for card in one["tanks"]}), 65)
        found: list[tuple[int, str]] = []
        page = 1
        while calls := self.send("get", f"board/?calls_page={page}").json()["attention"]:
            found += [(call["tank"], call["station"]) for call in calls]
            page += 1
        self.assertEqual((len(found), len(set(found))), (first["attention_count"],) * 2)
        for bad in ("0", "x", "-1", "9" * 30):
            self.refused(self.send("get", f"board/?page={bad}"))


class FewQueries(ApiTest):
    def count(self, path: str) -> int:
        self.send("get", path)
        with CaptureQueriesContext(
            connection,
        ) as caught:
            answer = self.send("get", path)
        self.assertEqual(answer.status_code, 200)
        return len(caught)

    def test_as_many_tanks_as_there_are(self) -> None:
        few = {path: self.count(path) for path in ("board/", "tanks/", "sites/")}
        many(self.site, 40, self.technician)
        for path, queries in few.items():
            with self.subTest(path):
                self.assertLessEqual(self.count(path), queries)
                self.assertLessEqual(queries, 10)

    def test_forty_drafts(self) -> None:
        self.scaled()
        for number in range(40):
            proving.begin_proof(self.tank, ("metric", "us")[number % 2], self.technician)
        path = f"tanks/{self.tank.pk}/proofs/?page_size=40"
        self.assertEqual(len(self.send("get", path).json()["results"]), 40)
        self.assertLessEqual(self.count(path), 8)

    def test_the_line_of_a_tank_and_its_chain(self) -> None:
        self.scaled()
        for path in ("curve/", "line/?by=innage&text=1200"):
            with self.subTest(path):
                self.assertLessEqual(self.count(f"tanks/{self.tank.pk}/{path}"), 5)

    def test_of_the_tables_that_a_chain_could_stand_on_the_newest_alone_is_read(self) -> None:
        tanks = tanks_with_basis().filter(pk=self.tank.pk)
        self.assertIsNone(newest_table(tanks.get()))
        for why in ("first", "second", "third"):
            issue_table(self.tank, TableOrder(read_step("100", "mm")), why, self.technician, self.tank.revision)
        found = tanks.get()
        with self.assertNumQueries(0):
            newest = newest_table(found)
        assert newest is not None
        self.assertEqual((newest.number, len(found.newest_issued)), (3, 1))

    def test_a_document_is_read_once_for_all_answers_and_anew_when_it_is_another(self) -> None:
        asked: list[dict[str, int]] = []

        def read(document: dict[str, int]) -> dict[str, int]:
            asked.append(document)
            if document["ohm"] < 0:
                raise InputError.at("ohm", "is no resistance")
            return {"ohm": document["ohm"]}

        known, document = remembered(read), {"ohm": 250}
        self.assertIs(known(document), known({"ohm": 250}))
        document["ohm"] = 270
        self.assertEqual(known(document), {"ohm": 270})
        for _ in range(2):
            with self.assertRaises(InputError):
                known({"ohm": -1})
        self.assertEqual([one["ohm"] for one in asked], [250, 270, -1, -1])


class Lists(ApiTest):
    def test_no_list_ends_at_fifty(self) -> None:
        self.scaled()
        for _ in range(53):
            proving.begin_proof(self.tank, "metric", self.technician)
        here = f"tanks/{self.tank.pk}/proofs/"
        first, second = (self.send("get", f"{here}?page={page}").json() for page in (1, 2))
        self.assertEqual((first["count"], len(first["results"]), len(second["results"])), (53, 50, 3))
        self.assertEqual(self.send("get", f"{here}?page=3").status_code, 404)
        many(self.site, 55, self.technician)
        names = {
            row["facts"]["name"]
            for page in (1, 2)
            for row in self.send("get", f"tanks/?page={page}").json()["results"]
        }
        self.assertEqual(names, {tank.name for tank in Tank.objects.all()})

    def test_head_sends_no_body(self) -> None:
        for path in ("board/", "tanks/", f"tanks/{self.tank.pk}/", f"tanks/{self.tank.pk}/file/", "words/"):
            with self.subTest(path):
                answer = self.client.head(f"/api/{path}")
                self.assertEqual((answer.status_code, answer.content), (200, b""))
