"""Trouble over HTTP: a case worked out as it is typed, kept, closed with all its findings frozen."""

from __future__ import annotations

import time
from typing import Any

import numpy as np
from django.db import DatabaseError, connection

from rasante.core.faults.fault_test import gates
from rasante.core.quantities.errors import InputError
from rasante.faults.models import FaultCase
from rasante.faults.services import installation_of
from rasante.readings.intake import Batch, channels_of, take_in
from rasante.readings.services import keep_source
from rasante.scaling.chains import chain_of, keep_chain, scaled_chain
from rasante.seals.services import broken_seals
from rasante.wiring.services import keep_wiring

from .base import ApiTest

#: A two-wire loop with a box on its way.
LOOP = {"kind": "two_wire", "cable[0].length": "40 m", "cable[1].length": "15 m"}
#: Jumping wildly, and the sensor alone jumps too while the input stands still.
WILD = {
    "technology": "hydrostatic",
    "rows[0].test": "look", "rows[0].outcome": "noisy",
    "rows[1].test": "inject-still", "rows[1].outcome": "steady",
    "rows[2].test": "inject-50", "rows[2].value": "19660",
    "rows[3].test": "alone-still", "rows[3].outcome": "restless",
    "rows[4].test": "sensor-volts", "rows[4].value": "22",
    "rows[5].test": "alone-sensor", "rows[5].value": "13",
    "rows[6].test": "in-air", "rows[6].value": "4.3",
}  # fmt: skip
#: When every gate of those tests was ticked.
TICKED_AT = "2026-05-04T09:30:00Z"


def ticked(entries: dict[str, str]) -> dict[str, str]:
    """The same with every gate ticked that may be asked for."""
    rows = {path.split(".")[0] for path in entries if path.startswith("rows[")}
    return {**entries, **{f"{row}.gate.{gate}": TICKED_AT for row in rows for gate in gates()}}


WILD = ticked(WILD)


class Trouble(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        self.scaled()
        keep_wiring(self.tank, LOOP, "metric", self.technician, 0)

    @property
    def path(self) -> str:
        return f"tanks/{self.tank.pk}/trouble/"

    def check(self, entries: dict[str, str], system: str = "metric") -> dict[str, Any]:
        answer = self.send("post", self.path, {"entries": entries, "system": system})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def keep(self, entries: dict[str, str], revision: int = 0) -> dict[str, Any]:
        answer = self.send("put", self.path, {"entries": entries, "system": "metric", "revision": revision})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def close(self, **more: Any):
        body = {"fault": "sensor-noisy", "did": "New sensor of the same range", "restored": True, "proven": True,
                "system": "metric", "revision": 1} | more  # fmt: skip
        return self.send("post", f"tanks/{self.tank.pk}/fault-cases/", body)

    def test_before_anything_is_found_everything_is_possible(self) -> None:
        found = self.check({})
        self.assertEqual(found["verdict"], "go-on")
        self.assertAlmostEqual(sum(one["share"] for one in found["parts"]), 1, places=6)
        self.assertEqual(found["steps"], [])
        self.assertGreater(found["choices"][0]["bits"], 0.02)
        self.assertAlmostEqual(sum(one["share"] for one in found["means"]), 1, delta=0.01)
        # What cannot be there is not asked for: no voltage output, no bus, no sonar.
        keys = {one["key"] for one in found["tests"]}
        self.assertTrue({"alone", "inject-50", "counts", "box-volts"} <= keys)
        self.assertFalse({"number-alone", "signal-ohms", "battery"} & keys)

    def test_what_was_read_along_the_chain_is_at_hand_as_findings(self) -> None:
        self.assertEqual(self.check({})["along"], [])
        rows = {"rows[0].level": "1000", "rows[1].level": "40 cm", "rows[1].arriving": "7.02", "rows[1].sent": "7.02"}
        body = {"entries": rows, "system": "metric", "revision": 0}
        self.assertEqual(self.send("put", f"tanks/{self.tank.pk}/parting/", body).status_code, 200)
        # The newest moment, with its units; what the sensor sends is read with the loop taken apart: no such test.
        along = self.check({}, "us")["along"]
        self.assertEqual(
            [(one["test"], one["typed"], one["says"]) for one in along],
            [("dip", "40 cm", "15.75 in"), ("arriving", "7.02", "7.02 mA")],
        )
        taken = {
            f"rows[{i}].{k}": v
            for i, one in enumerate(along)
            for k, v in (("test", one["test"]), ("value", one["typed"]))
        }
        found = self.check(taken)
        self.assertEqual(found["along"], [])
        self.assertEqual([(one["row"], one["read"]) for one in found["steps"]], [(0, "400 mm"), (1, "7.02 mA")])
        # What was read there is done: it is kept without a gate, the dip too; another value at the same place is not.
        self.keep(taken)
        for path, value in (("rows[0].value", "50 cm"), ("rows[1].value", "40")):
            body = {"entries": {**taken, path: value}, "system": "metric", "revision": 1}
            self.assertTrue([at for at in self.refused(self.send("put", self.path, body)) if ".gate." in at], path)

    def test_what_was_read_before_the_last_case_was_closed_is_not_at_hand(self) -> None:
        path, body = f"tanks/{self.tank.pk}/parting/", {"entries": {"rows[0].counts": "12000"}, "system": "metric"}
        self.assertEqual(self.send("put", path, body | {"revision": 0}).status_code, 200)
        self.keep(WILD)
        self.assertEqual([one["says"] for one in self.check({})["along"]], ["12000"])
        self.assertEqual(self.close().status_code, 201)
        after = self.check({})
        self.assertEqual((after["along"], after["along_at"]), ([], None))
        body["entries"] = {"rows[0].counts": "12010"}
        self.assertEqual(self.send("put", path, body | {"revision": 1}).status_code, 200)
        self.assertEqual([one["says"] for one in self.check({})["along"]], ["12010"])

    def test_a_bare_number_read_along_the_chain_is_in_the_units_it_was_typed_in(self) -> None:
        body = {"entries": {"rows[0].level": "1000"}, "system": "metric", "revision": 0}
        self.assertEqual(self.send("put", f"tanks/{self.tank.pk}/parting/", body).status_code, 200)
        one = self.check({}, "us")["along"][0]
        self.assertEqual((one["typed"], one["says"]), ("1000 mm", "39.37 in"))

    def test_whatever_was_kept_along_the_chain_the_case_is_there(self) -> None:
        odd = {"marks.high": "80 %", "rows[x].counts": "1", "": "2", "rows": "3"}
        for revision, rows in enumerate((odd, {**odd, "rows[0].counts": "12000"})):
            body = {"entries": rows, "system": "metric", "revision": revision}
            self.send("put", f"tanks/{self.tank.pk}/parting/", body)
            self.assertEqual([one["says"] for one in self.check({})["along"]], ["12000"] * revision)

    def test_wild_readings_and_a_steady_input_are_the_sensor(self) -> None:
        found = self.check(WILD)
        self.assertEqual((found["verdict"], found["parts"][0]["part"]), ("found", "sensor"))
        self.assertIn("the sensor", found["steps"][1]["says"] + found["steps"][0]["says"])
        self.assertTrue(found["restore"], "it was injected: control is in manual")
        # A look, the way to the panel, the calibrator and two readings with it, then the sensor on its own supply; up
        # on the tank its volts; the sensor alone again, at its own terminals and in the air.
        up = (12 + 2) + (4 + 1) + 4
        self.assertEqual(found["minutes"], 4 + (4 + 4 + 3) + 1 + (4 + 3) + up)

    def test_a_scaling_that_stood_here_before_is_found_by_its_own_ends(self) -> None:
        former = chain_of(self.tank)
        assert former is not None
        old = scaled_chain(self.tank, "metric")
        wider = {**former.entries, "sensor.high": "3600 mm"}
        keep_chain(self.tank, wider, "metric", self.technician, former.revision)
        at = installation_of(self.tank, "metric")
        self.assertEqual(len(at.former), 1)
        level = 0.5 * at.sound.top_m
        now = at.sound.at(level, exact=False)
        left = float(old.ideal.forward("counts", "number", np.array([now["counts"]]), exact=False)[0])
        typed = {"counts": f"{now['counts']:.0f}", "number": f"{left:.0f} mm"}
        entries = {"rows[0].test": "look", "rows[0].outcome": "live"}
        for row, (test, text) in enumerate([*typed.items(), ("scaling", "other")], 1):
            entries |= {f"rows[{row}].test": test}
            entries |= {f"rows[{row}].{'outcome' if test == 'scaling' else 'value'}": text}
        found = self.check(entries)
        what, then = found["says"]
        self.assertTrue(what.startswith("It is the scaling: the scaling is the one that stood here before, "), what)
        self.assertIn("prove it", then)
        self.assertGreater(found["parts"][0]["share"], 0.95)

    def test_where_the_leads_go_is_of_this_very_circuit(self) -> None:
        choices = {one["test"]: one for one in self.check({})["choices"]}
        self.assertEqual(choices["box-volts"]["leads"], ["box1.1", "box1.2"])
        self.assertEqual(choices["box-volts"]["dial"], "V")
        self.assertEqual(choices["inject-25"]["put_in"], "8 mA")
        self.assertIn("Control is in manual", choices["inject-25"]["gates"][0]["says"])
        self.assertIn("puts a signal in", " ".join(choices["inject-25"]["acts"]))

    def test_what_takes_the_signal_away_asks_for_the_same_gates_as_what_puts_one_in(self) -> None:
        asked = {one["key"]: {gate["key"] for gate in one["gates"]} for one in self.check({})["tests"]}
        for key in ("alone", "alone-sensor", "arriving", "insulation", "pair-ohms", "in-air", "inject-50", "channel"):
            self.assertLessEqual({"manual", "told"}, asked[key], key)
        self.assertIn("vessel", asked["dip"])
        self.assertIn("height", asked["dip"])
        self.assertEqual(asked["counts"], set())

    def test_nothing_is_kept_of_a_test_whose_gates_are_not_ticked(self) -> None:
        row = {"rows[0].test": "alone", "rows[0].value": "12"}
        body = {"entries": row, "system": "metric", "revision": 0}
        problems = self.refused(self.send("put", self.path, body))
        self.assertIn("Control is in manual", problems["rows[0].gate.manual"])
        self.assertEqual(self.check(row)["steps"][0]["gates"][0][:20], "Control is in manual")
        self.keep(ticked(row))
        # What was kept stays, whatever a later form says of it.
        self.assertEqual(self.keep(row, 1)["revision"], 2)

    def test_what_was_put_in_is_as_it_was_typed(self) -> None:
        row = {"rows[0].test": "inject-same", "rows[0].value": "6553", "rows[0].put_in": "4 mA"}
        found = self.check(row)
        self.assertEqual(found["steps"][0]["read"], "6553, with 4 mA put in")
        # Without it nobody knows what was put in, as long as nothing was read that the sensor gave.
        del row["rows[0].put_in"]
        wrong = {one["path"]: one["problem"] for one in self.check(row)["fields_read"] if one["state"] == "wrong"}
        self.assertIn("say what was put in", wrong["rows[0].put_in"])
        first = {"rows[0].test": "arriving", "rows[0].value": "10.4", "rows[1].test": "inject-same",
                 "rows[1].value": "17039"}  # fmt: skip
        self.assertEqual(self.check(first)["steps"][1]["read"], "17039, with 10.4 mA put in")
        absurd = {"rows[0].test": "inject-50", "rows[0].value": "6553", "rows[0].put_in": "4000 mA"}
        wrong = {one["path"]: one["problem"] for one in self.check(absurd)["fields_read"] if one["state"] == "wrong"}
        self.assertIn("no calibrator puts in so much", wrong["rows[0].put_in"])

    def test_a_reading_across_any_two_terminals_counts(self) -> None:
        row = {"rows[0].test": "volts", "rows[0].red": "fuse.1", "rows[0].black": "fuse.2", "rows[0].value": "24 V"}
        before, after = ({one["part"]: one["share"] for one in self.check(e)["parts"]} for e in ({}, row))
        # All of the supply stands across the fuse: it is blown.
        self.assertGreater(after["fuse"], 0.9)
        self.assertLess(before["fuse"], 0.2)

    def test_what_cannot_be_read_stands_at_its_field(self) -> None:
        found = self.check({"rows[0].test": "counts", "rows[0].value": "many", "rows[1].test": "nonsense"})
        wrong = {one["path"]: one["problem"] for one in found["fields_read"] if one["state"] == "wrong"}
        self.assertIn("many", wrong["rows[0].value"])
        self.assertIn("nonsense", wrong["rows[1].test"])
        self.assertEqual(found["steps"], [])
        answer = self.send("put", self.path, {"entries": {"rows[0].test": "nonsense"}, "system": "metric",
                                              "revision": 0})  # fmt: skip
        self.assertIn("rows[0].test", self.refused(answer))

    def test_without_a_way_up_nothing_on_the_tank_is_advised(self) -> None:
        free = {one["test"] for one in self.check({})["choices"]}
        barred = {one["test"] for one in self.check({"barred.height": "yes", "lacks.calibrator": "yes"})["choices"]}
        self.assertTrue({"dip", "sensor-volts", "alone", "inject-50"} <= free)
        self.assertFalse({"dip", "sensor-volts", "alone", "inject-50"} & barred)
        self.assertIn("counts", barred)

    def test_standing_at_the_panel_the_way_there_is_paid_once(self) -> None:
        far, near = (
            {one["test"]: one["minutes"] for one in self.check(e)["choices"]} for e in ({}, {"place": "panel"})
        )
        self.assertEqual(far["counts"] - near["counts"], 4)

    def test_kept_by_one_and_refused_to_another_who_has_an_older_one(self) -> None:
        self.assertEqual(self.keep(WILD)["revision"], 1)
        stale = self.send("put", self.path, {"entries": {}, "system": "metric", "revision": 0})
        self.assertEqual(stale.status_code, 409)
        self.assertEqual(self.send("get", self.path).json()["entries"]["rows[0].test"], "look")

    def test_closed_it_is_frozen_and_feeds_the_next(self) -> None:
        before = self.check({})
        self.keep(WILD)
        self.assertEqual(self.close().status_code, 201)
        case = FaultCase.objects.get()
        self.assertEqual((case.fault, case.number), ("sensor-noisy", 1))
        self.assertTrue(case.document["named_first"])
        self.assertEqual(case.document["trail"][0]["did"], "Look at some minutes of the readings")
        # What had to be so before the injection stands in the record, with who ticked it and when.
        gate = case.document["trail"][1]["gates"][0]
        self.assertEqual((gate["at"], bool(gate["by"])), (TICKED_AT, True))
        for change in (
            lambda: FaultCase.objects.update(fault="fuse"),
            lambda: FaultCase.objects.all().delete(),
            lambda: FaultCase(pk=case.pk, tank=self.tank, number=1, document={}, closed_by=self.technician).save(),
        ):
            with self.assertRaises(InputError):
                change()
        with self.assertRaises(DatabaseError), connection.cursor() as cursor:
            cursor.execute("UPDATE faults_faultcase SET fault = 'fuse'")
        self.assertEqual(list(broken_seals()), [])
        # The next case begins anew, on the same kind of installation, and knows of this one.
        kept = self.send("get", self.path).json()
        self.assertEqual((kept["entries"], kept["revision"]), ({"technology": "hydrostatic"}, 2))
        shares = [{one["part"]: one["share"] for one in found["parts"]} for found in (before, self.check({}))]
        self.assertGreater(shares[1]["sensor"], shares[0]["sensor"])
        self.assertEqual(installation_of(self.tank, "metric").closed, (("sensor-noisy", 1),))

    def test_it_is_not_closed_before_all_is_done(self) -> None:
        self.assertIn("", self.refused(self.close(revision=0)))
        self.keep(WILD)
        for lacks, where in (
            ({"did": " "}, "did"), ({"restored": False}, "restored"), ({"proven": False}, "proven"),
            ({"fault": "gremlins"}, "fault"),
        ):  # fmt: skip
            self.assertIn(where, self.refused(self.close(**lacks)))
        self.assertEqual(self.close(revision=0).status_code, 409)
        self.assertEqual(FaultCase.objects.count(), 0)
        self.assertEqual(self.close(fault="other", did="A cable of the neighbour's").status_code, 201)
        self.assertEqual(FaultCase.objects.get().fault, "")

    def test_a_closed_case_is_given_as_it_was_frozen(self) -> None:
        self.keep(WILD)
        number = self.close().json()["id"]
        file = self.send("get", f"fault-cases/{number}/case.json/")
        self.assertIn("attachment", file["Content-Disposition"])
        self.assertEqual(file.json()["was"], "the sensor jumps wildly")
        listed = self.send("get", f"tanks/{self.tank.pk}/fault-cases/").json()["results"]
        self.assertEqual([one["did"] for one in listed], ["New sensor of the same range"])

    def test_an_open_case_needs_a_person_until_it_is_closed(self) -> None:
        def watch() -> dict[str, Any]:
            answer = self.send("get", f"tanks/{self.tank.pk}/stations/").json()
            return next(one for one in answer if one["key"] == "watch")

        self.assertEqual(watch()["state"], "not started")
        self.keep(WILD)
        self.assertEqual(watch()["state"], "needs you")
        self.assertIn("a case of trouble is open: the sensor", watch()["words"])
        self.close()
        self.assertEqual(watch()["state"], "not started")

    def test_what_arrives_is_evidence_too(self) -> None:
        self.assertIsNone(self.check({})["live"])
        source = keep_source(
            None, {"kind": "push", "name": "unit", "period": "60 s", "channels[0].name": "level",
                   "channels[0].kind": "level", "channels[0].tank": str(self.tank.pk)}, "metric", self.lead, 0,
        )  # fmt: skip
        channel = channels_of(source)["level"]
        end = int(time.time()) * 1000
        at = [end - 60_000 * back for back in range(40, 0, -1)]
        take_in({channel: Batch(at, [1200.0 + 300 * (-1) ** (one // 60_000) for one in at], [0] * len(at))}, end)
        live = self.check({})["live"]
        self.assertIn(live["look"], ("noisy", "periodic"))
        self.assertTrue(live["says"])

    def test_it_stands_in_the_history(self) -> None:
        self.keep(WILD)
        kinds = {one["kind"] for one in self.send("get", f"tanks/{self.tank.pk}/history/").json()["results"]}
        self.assertIn("trouble", kinds)
