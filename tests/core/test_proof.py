"""The five-point check."""

from __future__ import annotations

from itertools import pairwise
from typing import Any, ClassVar
from unittest import TestCase

import numpy as np

from rasante.core.proving.proof import judge_proof
from rasante.core.proving.proof_csv import read_proof_csv, with_readings
from rasante.core.proving.proof_entries import blank_proof, check_entries
from rasante.core.quantities.errors import InputError
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import read_chain
from rasante.core.tanks.tank_file import check_document

from .chain_cases import ground
from .samples import example

FILE = check_document(example())
TANK = FILE.tank


def scaled(**entries: str) -> Chain:
    """A chain of the example's tank: ``sensor__high="2400 mm"`` stands for ``sensor.high``."""
    typed = {key.replace("__", "."): text for key, text in entries.items()}
    found = read_chain(typed, ground(FILE), "metric")
    assert found.chain is not None, found.form.problems
    return found.chain


LEVEL = scaled(sensor__high="2400 mm")
TRUE = (0, 600, 1200, 1800, 2400)


def proof(readings: dict[str, Any], chain: Chain = LEVEL, **changes: Any):
    entries = blank_proof(chain) | {"control_in_manual": True, "control_restored": True} | changes
    for cell, texts in readings.items():
        for point, text in zip(entries["points"], texts, strict=True):
            point[cell] = str(text)
    return judge_proof(check_entries(entries), chain, TANK, "metric")


class Verdicts(TestCase):
    def test_a_true_receiver_passes(self) -> None:
        result = proof({"found_up": TRUE, "found_down": TRUE[::1]})
        self.assertEqual((result.verdict, result.missing, result.problems), ("pass", (), ()))
        self.assertAlmostEqual(result.runs["found"].worst.value_m, 0.0)
        self.assertAlmostEqual(result.runs["found"].hysteresis.value_m, 0.0)

    def test_tolerance_in_per_cent_of_span_and_as_a_length(self) -> None:
        off = (0, 600, 1211, 1800, 2400)
        self.assertEqual(proof({"found_up": off}, tolerance="0.5 %").verdict, "pass")  # 12 mm of 2400 mm
        self.assertEqual(proof({"found_up": off}, tolerance="10 mm").verdict, "fail")
        self.assertEqual(proof({"found_up": (0, 600, 1212, 1800, 2400)}, tolerance="0.5").verdict, "pass")
        self.assertEqual(proof({"found_up": (0, 600, 1212.1, 1800, 2400)}, tolerance="0.5 %").verdict, "fail")

    def test_the_worst_error_and_the_hysteresis_are_named(self) -> None:
        run = proof({"found_up": (0, 603, 1200, 1793, 2400), "found_down": (0, 608, 1200, 1795, 2400)}).runs["found"]
        self.assertEqual((run.worst.point, run.worst.direction), (1, "down"))
        self.assertAlmostEqual(run.worst.value_m, 0.008)
        self.assertAlmostEqual(run.worst.value_ratio, 8 / 2400)
        self.assertEqual(run.hysteresis.point, 1)
        self.assertAlmostEqual(run.hysteresis.value_m, 0.005)

    def test_as_left_decides_over_as_found(self) -> None:
        result = proof({"found_up": (0, 640, 1280, 1920, 2560), "left_up": TRUE})
        self.assertEqual((result.runs["found"].verdict, result.runs["left"].verdict), ("fail", "pass"))
        self.assertEqual(result.verdict, "pass")

    def test_zero_and_span_errors_are_told_apart(self) -> None:
        run = proof({"found_up": [value * 1.01 + 20 for value in TRUE]}).runs["found"]
        self.assertAlmostEqual(run.zero_m, 0.020)
        self.assertAlmostEqual(run.full_m, 0.044)
        self.assertAlmostEqual(run.rest_m, 0.0, places=9)

    def test_a_range_swapped_without_rescaling_reads_two_thirds(self) -> None:
        # Common practice, no published source: 0–10 psi replaced by 0–15 psi and the receiver left as it was.
        run = proof({"found_up": [value * 2 / 3 for value in TRUE]}).runs["found"]
        self.assertEqual(run.verdict, "fail")
        self.assertAlmostEqual(run.full_m, -0.8)

    def test_what_is_missing_is_said(self) -> None:
        result = proof({"found_up": ("0", "600", "", "", "")}, control_in_manual=False)
        self.assertEqual(result.verdict, "incomplete")
        self.assertIn("as found, rising: point 3, 4, 5", result.missing)
        self.assertTrue(any("manual" in what for what in result.missing))
        self.assertIn("the readings as found", proof({}).missing)

    def test_a_cell_that_cannot_be_read_stands_at_its_place(self) -> None:
        result = proof({"found_up": ("0", "six hundred", "1200", "1800", "2400")})
        self.assertEqual([problem.where for problem in result.problems], ["points[1].found_up"])
        self.assertEqual(result.verdict, "incomplete")

    def test_five_different_points_are_asked_for(self) -> None:
        points = [dict(point, applied="12 mA") for point in blank_proof(LEVEL)["points"]]
        self.assertIn("five different points", proof({"found_up": [1200] * 5}, points=points).missing)


class OtherReceivers(TestCase):
    """Whatever the receiver shows, a true one passes and one that is 24 mm high is 1 % of span out."""

    def test_each_way_of_reading(self) -> None:
        def shown(kind: str, innage: float) -> str:
            volume = float(TANK.volume(innage))
            return {
                "innage": f"{innage} m",
                "sensed": f"{innage} m",
                "span_pct": f"{innage / 2.4 * 100!r} %",
                "volume": f"{volume * 1000!r} L",
                "volume_pct": f"{volume / TANK.capacity * 100!r} %",
                "arriving": f"{4 + 16 * innage / 2.4!r} mA",
                "counts": f"{6553 + 26214 * innage / 2.4!r}",
                "words": f"{innage * 1000:.0f}",
                "shown": f"{innage * 1000!r} mm",
            }[kind]

        levels = [0.2, 0.6, 1.2, 1.8, 2.2]
        for kind in ("innage", "sensed", "span_pct", "volume", "volume_pct", "arriving", "counts", "words", "shown"):
            points = [{"applied": f"{level} m"} for level in levels]
            for off in (0.0, 0.024):
                with self.subTest(f"{kind} {off}"):
                    result = proof(
                        {"found_up": [shown(kind, level + off) for level in levels]},
                        applied_as="level",
                        read_as=kind,
                        points=[dict(point) for point in points],
                    )
                    self.assertAlmostEqual(result.runs["found"].worst.value_m, off, places=5)
                    self.assertEqual(result.verdict, "fail" if off else "pass")

    def test_distance_to_a_target(self) -> None:
        down = scaled(sensor__quantity="distance", sensor__low="2550 mm", sensor__high="150 mm")
        points = [{"applied": f"{mm} mm"} for mm in (150, 750, 1350, 1950, 2550)]
        result = proof(
            {"found_up": ["20 mA", "16 mA", "12 mA", "8 mA", "4 mA"]},
            down,
            applied_as="sensed",
            read_as="arriving",
            points=points,
        )
        self.assertEqual((result.verdict, result.problems), ("pass", ()))


class Dips(TestCase):
    def test_innage_and_ullage(self) -> None:
        for kind, measured in (("innage", "1200 mm"), ("ullage", "1350 mm")):
            dip = {"kind": kind, "measured": measured, "indicated": "1215 mm", "tolerance": "10 mm"}
            result = proof({"found_up": TRUE}, dip=dip)
            self.assertAlmostEqual(result.dip.difference_m, 0.015)
            volume = float(TANK.volume(1.215) - TANK.volume(1.2))
            self.assertAlmostEqual(result.dip.difference_m3, volume)
            self.assertFalse(result.dip.passes)
            self.assertEqual(result.verdict, "fail")

    def test_a_dip_outside_the_tank_is_refused(self) -> None:
        dip = {"kind": "innage", "measured": "9 m", "indicated": "1 m", "tolerance": ""}
        self.assertEqual(proof({"found_up": TRUE}, dip=dip).problems[0].where, "dip.measured")


CSV = """run,direction,applied_ma,read_mm
found,up,4,1
found,up,8,601
found,up,12,1202
found,up,16,1801
found,up,20,2402
"""


class FromCsv(TestCase):
    def test_plain_and_as_spreadsheets_write_it(self) -> None:
        plain = read_proof_csv(CSV)
        self.assertEqual((plain["applied_as"], plain["read_as"]), ("arriving", "innage"))
        self.assertEqual(plain["points"][2]["found_up"], "1202.0 mm")
        european = "\ufeff" + CSV.replace(",", ";").replace("1202", "1202,0").replace("\n", "\r\n")
        self.assertEqual(read_proof_csv(european), plain)
        self.assertEqual(judge_proof(blank_proof() | plain, LEVEL, TANK, "metric").runs["found"].verdict, "pass")

    def test_both_runs_and_ways_in_any_order(self) -> None:
        rows = [f"{run},{way},{ma},{ma * 10}" for ma in (20, 4, 12, 8, 16) for run in ("as found", "left")
                for way in ("up", "falling")]  # fmt: skip
        points = read_proof_csv("\n".join(["run,direction,applied_ma,read_pct", *rows]))["points"]
        self.assertEqual(points[0]["left_down"], "40.0 %")
        self.assertTrue(all(point[cell] for point in points for cell in ("found_up", "found_down", "left_up")))

    def test_bad_files_say_the_place_and_the_cause(self) -> None:
        bad = {
            CSV.replace(",read_mm", ",shown"): "column “read_<unit>” is missing",
            CSV.replace("read_mm", "read_furlong"): "unit is not known",
            CSV + "found,up,14,1500\n": "has 6 points",
            CSV.replace("1202", "high"): "row 4, column read_mm: “high” is not a number",
            CSV.replace("found,up,8", "lost,up,8"): "row 3, column run",
            CSV.replace("found,up,8", "found,sideways,8"): "row 3, column direction",
            CSV + "found,up,4,2\n": "is there twice",
            CSV.replace("1202", ""): "row 4, column read_mm: is empty",
            CSV + "found,up,5,5\n" * 100_000: "100,007 lines",
            "": "has no rows",
            CSV.replace("1202", "NaN"): "not a number",
        }
        for content, words in bad.items():
            with self.subTest(words), self.assertRaises(InputError) as caught:
                read_proof_csv(content)
            self.assertIn(words, str(caught.exception))


class Entries(TestCase):
    def test_the_form_is_checked(self) -> None:
        bad = [
            {"colour": 1},
            {"read_as": "smell"},
            {"points": [{}] * 6},
            {"points": [{"applied": 4}] * 5},
            {"control_in_manual": "yes"},
            {"remarks": "x" * 3000},
            {"dip": {"depth": "1"}},
        ]
        for entries in bad:
            with self.subTest(str(entries)[:40]), self.assertRaises(InputError):
                check_entries(entries)
        with self.assertRaises(InputError):
            check_entries([])


class BetweenAnyTwoStations(TestCase):
    """What is applied at one station and read at a later one, for every kind of link."""

    CHAINS: ClassVar[dict[str, dict[str, str]]] = {
        "4–20 mA": {},
        "0–10 V": {"signal__kind": "v10"},
        "1–5 V": {"signal__kind": "v15"},
        "a panel meter": {"chain__reader": "meter"},
        "a digital sensor": {"signal__kind": "digital"},
        "litres by registers": {"shown__as": "volume", "shown__decimals": "1", "register__type": "float32"},
        "a pressure sensor": {"sensor__quantity": "pressure", "sensor__high": "0.25 bar"},
    }

    def test_a_true_chain_passes_and_one_that_is_off_fails_wherever_it_is_read(self) -> None:
        for name, entries in self.CHAINS.items():
            c = scaled(**{"sensor__high": "2400 mm", **entries})
            wrong = c.put({"scaled.high": c.scaling.low + 1.03 * (c.scaling.high - c.scaling.low)})
            for applied_as, read_as in pairwise_and_far(c):
                x = c.forward("level", applied_as, np.array([0.3, 0.7, 1.2, 1.6, 2.0]), exact=False)
                # What no wheel turns at the station itself is typed with all its digits.
                points = [{"applied": f"{value!r}{unit_of(c, applied_as)}"} for value in map(float, x)]
                for real, verdict in ((c, "pass"), (wrong, "fail")):
                    if real is wrong and not spans(c, applied_as, read_as, "number"):
                        continue
                    y = real.forward(applied_as, read_as, x, exact=False)
                    texts = [f"{value!r}{unit_of(c, read_as)}" for value in map(float, y)]
                    with self.subTest(name, applied_as=applied_as, read_as=read_as, verdict=verdict):
                        result = proof(
                            {"found_up": texts}, c, applied_as=applied_as, read_as=read_as, tolerance="1 %",
                            points=[dict(point) for point in points],
                        )  # fmt: skip
                        self.assertEqual((result.problems, result.missing), ((), ()))
                        self.assertEqual(result.verdict, verdict)

    def test_what_the_chain_has_not_is_said_at_its_choice(self) -> None:
        digital = scaled(sensor__high="2400 mm", signal__kind="digital")
        result = proof({"found_up": TRUE}, digital, applied_as="arriving")
        self.assertEqual([problem.where for problem in result.problems], ["applied_as"])
        backwards = proof({"found_up": TRUE}, applied_as="counts", read_as="sent")
        self.assertEqual([problem.where for problem in backwards.problems], ["read_as"])

    def test_a_simulated_level_asks_for_control_in_manual_too(self) -> None:
        for applied_as in ("level", "sensed", "arriving"):
            points = [{"applied": text} for text in ("4", "8", "12", "16", "20")]
            result = proof({}, applied_as=applied_as, points=points, control_in_manual=False, control_restored=False)
            self.assertEqual(sum("control" in what for what in result.missing), 2, applied_as)

    def test_the_devices_points_are_not_the_instruments_error(self) -> None:
        c = scaled(sensor__high="2400 mm", shown__as="volume", shown__points="5", shown__decimals="1")
        level = 2.25
        on_its_lines = float(c.run(np.array([level]), exact=False)["shown"][0])
        table = float(TANK.volume(level)) * 1000
        self.assertGreater(abs(on_its_lines - table), 50.0)
        points = [{"applied": f"{mm} mm"} for mm in (200, 700, 1200, 1700, 2250)]
        shown = [float(c.run(np.array([v]), exact=False)["shown"][0]) for v in (0.2, 0.7, 1.2, 1.7, 2.25)]
        result = proof(
            {"found_up": [f"{value!r} L" for value in shown]}, c, applied_as="level", read_as="shown", points=points
        )
        cell = result.points[4].cells["found_up"]
        self.assertEqual(result.verdict, "pass")
        assert cell.split is not None
        self.assertAlmostEqual(cell.split.instrument_m3, 0.0, places=6)
        self.assertAlmostEqual(cell.split.points_m3 * 1000, on_its_lines - table, places=1)
        self.assertAlmostEqual(cell.split.table_m3, 0.0, places=6)

    def test_whatever_volume_is_read_of_a_tank_with_a_heel(self) -> None:
        # A sloped tank has volume where its gauge reads nothing: 0 L stands for no level of it.
        sloped = check_document({**example(), "slope_mm_per_m": 20})
        found = read_chain({"sensor.high": "2400 mm"}, ground(sloped), "metric").chain
        assert found is not None
        for text in ("0 L", "-5 L", "90000 L", "1 L"):
            points = [{"applied": f"{mm} mm", "found_up": text} for mm in (200, 700, 1200, 1700, 2250)]
            entries = blank_proof(found) | {"applied_as": "level", "read_as": "volume", "points": points}
            result = judge_proof(entries, found, sloped.tank, "metric")
            self.assertEqual(result.runs["found"].verdict, "fail", text)


class ARunFromAFile(TestCase):
    """Readings as left from a file, after those as found were typed: the found ones stay."""

    def file(
        self, run: str, applied: tuple[float, ...] = (4, 8, 12, 16, 20), read: str = "read_mm"
    ) -> dict[str, Any]:
        rows = [f"{run},up,{ma},{i * 600 + 1}" for i, ma in enumerate(applied)]
        return read_proof_csv("\n".join([f"run,direction,applied_ma,{read}", *rows]))

    def found(self) -> dict[str, Any]:
        entries = blank_proof(LEVEL) | {"read_as": "innage", "remarks": "at noon"}
        for point, text in zip(entries["points"], ("1", "599", "1198 mm", "1803", "2399"), strict=True):
            point["found_up"] = text
        return entries

    def test_the_other_run_stays(self) -> None:
        merged = with_readings(self.found(), self.file("left"))
        self.assertEqual([point["found_up"] for point in merged["points"]], ["1", "599", "1198 mm", "1803", "2399"])
        self.assertEqual(merged["points"][2]["left_up"], "1201.0 mm")
        self.assertEqual(merged["remarks"], "at noon")
        # The same run again takes the file's place of what was there.
        again = with_readings(merged, self.file("found"))
        self.assertEqual(again["points"][0]["found_up"], "1.0 mm")
        self.assertEqual(again["points"][0]["left_up"], "1.0 mm")

    def test_other_points_or_places_are_refused_where_something_would_be_lost(self) -> None:
        for other in (self.file("left", (4, 7, 12, 16, 20)), self.file("left", read="read_l")):
            with self.assertRaises(InputError) as refused:
                with_readings(self.found(), other)
            self.assertIn("as found would be lost", refused.exception.problems[0].what)
        # With nothing typed nothing is lost.
        blank = with_readings(blank_proof(LEVEL), self.file("left", (4, 7, 12, 16, 20)))
        self.assertEqual(blank["points"][1]["applied"], "7.0 mA")


def unit_of(c: Chain, station: str) -> str:
    """What stands behind a number of a station in SI."""
    if station in ("sent", "arriving"):
        return {"current": "e3 mA", "voltage": " V"}[c.signal.quantity] if c.signal else ""
    if station == "sensed":
        return {"length": " m", "pressure": "e-5 bar"}.get(c.sensing.quantity, "")
    return {"level": " m"}.get(station, "")


def spans(c: Chain, start: str, end: str, station: str) -> bool:
    return c.stations.index(start) < c.stations.index(station) <= c.stations.index(end)


def pairwise_and_far(c: Chain) -> list[tuple[str, str]]:
    """Every two neighbouring stations, and the first and the last."""
    return [*pairwise(c.stations), ("level", "shown")]
