"""Rescaling, panel meters and device sheets: what must change, what is typed in, and what was found there."""

from __future__ import annotations

import csv
import io
import json
import random
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rasante.core.devices import device_sheet
from rasante.core.devices.rescale import LINKS, rescale
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.units import UNITS
from rasante.core.scaling.chain import all_settings
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.chain_settings import differing
from rasante.core.scaling.panel_meter import meter_ends

from .chain_cases import chain, get, put, random_chain, run

PSI = UNITS["psi"].si
TEN = {
    "sensor__quantity": "pressure", "sensor__high": "10 psi", "scaled__unit": "ft", "scaled__decimals": "1",
    "shown__unit": "ft", "shown__decimals": "1",
}  # fmt: skip


class Rescaling(TestCase):
    def test_another_range_and_the_reading_if_it_is_forgotten(self) -> None:
        c = chain(**TEN)
        found = rescale(c, put(c, sensor_high=15 * PSI), 6 * 0.3048, "us")
        changes = {change.path: change for change in found.changes}
        self.assertEqual(set(changes), {"sensor.high", "scaled.high"})
        self.assertTrue(changes["sensor.high"].chosen)
        self.assertEqual((changes["scaled.high"].old, changes["scaled.high"].new), ("23.1", "34.6"))
        # Common practice, no published source: the swap that is not rescaled reads two thirds.
        self.assertEqual((found.right, found.forgotten, changes["scaled.high"].forgotten), ("6 ft", "4 ft", "4 ft"))
        assert found.ratio is not None
        self.assertAlmostEqual(found.ratio, 2 / 3, 3)

    def test_where_one_end_left_as_it_was_would_meet_the_other_nothing_would_be_shown(self) -> None:
        c = chain(counts__at_low="4 mA", counts__at_high="20 mA")
        found = rescale(c, put(c, counts_at_low=-0.001, counts_at_high=0.004), 1.0, "metric")
        changes = {change.path: change for change in found.changes}
        self.assertEqual(changes["counts.at_low"].forgotten, "nothing")
        self.assertNotEqual(changes["counts.at_high"].forgotten, "nothing")

    def test_a_card_that_counts_from_nothing_keeps_its_ends(self) -> None:
        # Common practice, no published source: a 0–20 mA card of 15 bits has 0 at 0 mA and 32767 at 20 mA.
        c = chain(counts__at_low="0 mA", counts__low="0", sensor__high="3 m")
        found = rescale(c, put(c, sensor_high=4.0), 1.0, "metric")
        self.assertEqual((get(found.chain, "counts_at_low"), get(found.chain, "counts_low")), (0.0, 0.0))
        self.assertEqual({one.path for one in found.changes}, {"sensor.high", "scaled.low", "scaled.high"})
        for level in (0.5, 2.5):
            self.assertAlmostEqual(run(found.chain, level)["shown"], level * 1000, delta=1.0)
            self.assertEqual(run(found.chain, level)["counts"], run(put(c, sensor_high=4.0), level)["counts"])
        # With another signal the ends are another's.
        other = rescale(c, put(c, signal_kind="v10"), 1.0, "metric").chain
        self.assertEqual((get(other, "counts_at_low"), get(other, "counts_at_high")), (0.0, 10.0))
        # Such a card is not what is blamed where something else is wrong.
        self.assertEqual(differing(put(c, scaled_high=2000.0)), ["scaled.high"])
        self.assertIn("counts.at_low", differing(put(chain(), counts_at_low=0.0)))

    def test_places_take_something_off_the_ends(self) -> None:
        c = chain(**TEN)
        found = rescale(c, put(c, liquid_density=840.0), 1.0, "metric")
        exact = 10 * PSI / (840 * 9.80665)
        self.assertAlmostEqual(found.rounding_m, abs(found.chain.scaling.high * 0.3048 - exact), 9)
        self.assertLessEqual(found.rounding_m, 0.05 * 0.3048)
        percent = chain(**TEN | {"shown__takes": "percent", "scaled__unit": "pct"})
        self.assertLessEqual(rescale(percent, percent, 1.0, "metric").rounding_m, 0.0005 * 3.0 + 1e-9)

    @given(st.integers(0, 10**6), st.sampled_from(["sensor_high", "scaled_unit", "register_multiplier", "density"]))
    def test_what_is_rescaled_agrees_and_every_step_was_needed(self, seed: int, what: str) -> None:
        c = random_chain(random.Random(seed))
        there = c.settings()
        changed = {
            "sensor_high": put(
                c, sensor_high=there["sensor.low"] + 1.3 * (there["sensor.high"] - there["sensor.low"])
            ),
            "scaled_unit": put(c, scaled_unit="m" if c.scaling.unit != "m" else "ft", scaled_decimals=3),
            "register_multiplier": put(c, register_multiplier=there["register.multiplier"] * 2),
            "density": put(c, liquid_density=there.get("liquid.density", 1000.0) * 1.1),
        }[what]
        found = rescale(c, changed, c.top_m / 2, "metric")
        self.assertNotIn("parts", {judgement.code for judgement in judge_chain(found.chain, "metric")})
        follow = {change.path for change in found.changes if not change.chosen}
        left = found.chain.put({path: there[path] for path in follow})
        # A digital sensor's two pairs may be any two of its line.
        if c.signal is not None and follow & {"scaled.high", "read.multiplier", "shown.from"}:
            self.assertNotEqual(run(left, 1.2, exact=False), run(found.chain, 1.2, exact=False))

    def test_every_link_names_settings_of_the_chain(self) -> None:
        known = all_settings()
        for _, paths in LINKS.values():
            for path in paths:
                self.assertIn(path, known)


class PanelMeters(TestCase):
    def test_the_ends_come_from_the_chain(self) -> None:
        c = chain(**TEN)
        ends = meter_ends(c, "ft", 4)
        # Common practice, no published source: 0–10 psi spans 23.1 ft of water.
        self.assertEqual((ends.signal_low, ends.signal_high, ends.low, ends.decimals), (0.004, 0.020, 0.0, 2))
        self.assertAlmostEqual(ends.high, 23.1, 1)
        self.assertFalse(ends.falls)
        self.assertEqual(meter_ends(c, "mm", 4).decimals, 0)
        down = meter_ends(chain(sensor__quantity="distance"), "m", 4)
        self.assertTrue(down.falls)
        self.assertAlmostEqual(down.low - down.high, 3.0, 3)
        percent = meter_ends(chain(), "pct", 4)
        self.assertEqual((percent.low, percent.high, percent.decimals), (0.0, 100.0, 1))

    def test_what_does_not_fit_is_refused(self) -> None:
        for c, unit, digits in ((chain(**TEN), "mm", 3), (chain(), "yd", 4), (chain(), "mm", 9)):
            with self.assertRaises(InputError):
                meter_ends(c, unit, digits)
        with self.assertRaises(InputError):
            meter_ends(chain(signal__kind="digital"), "mm", 4)


class Sheets(TestCase):
    def sheet(self, **entries: str) -> dict:
        c = chain("lying", **entries)
        return device_sheet.sheet_document(device_sheet.make_items(c, (), "metric"), {"tank": "case"})

    def test_coefficients_are_the_chains_own_lines(self) -> None:
        c = chain(**TEN)
        for station, before, size in (("counts", "arriving", 1000.0), ("number", "counts", 1.0)):
            slope, offset = device_sheet.coefficients(c)[station]
            for level in (0.3, 2.1):
                values = run(c, level, exact=False)
                self.assertAlmostEqual(slope * values[before] * size + offset, values[station], 6)

    def test_what_is_written_is_read_back_the_same(self) -> None:
        for entries in ({}, TEN, {"shown__as": "volume", "shown__points": "8", "register__type": "float32"}):
            document = self.sheet(**entries)
            for text in (json.dumps(document), device_sheet.to_csv(document)):
                rows = device_sheet.compare_found(document, device_sheet.read_found(text))
                self.assertEqual({row.state for row in rows}, {"same"})
        keys = [item["key"] for item in self.sheet(shown__as="volume", shown__points="8")["items"]]
        self.assertEqual(sum(key.startswith("points[") for key in keys), 16)
        self.assertEqual(len(keys), len(set(keys)))

    def test_what_differs_is_pointed_out(self) -> None:
        document = self.sheet(**TEN)
        rows = list(csv.DictReader(io.StringIO(device_sheet.to_csv(document))))
        found = {row["key"]: f"{row['value']} {row['unit']}" for row in rows}
        found["scaled.high"] = "34.6"
        found["counts.high"] = "32767,0"
        found["shown.unit"] = "m"
        del found["read.order"]
        found["odd.thing"] = "7"
        states = {row.key: row.state for row in device_sheet.compare_found(document, found)}
        odd = {key: state for key, state in states.items() if state != "same"}
        self.assertEqual(
            odd, {"scaled.high": "differs", "shown.unit": "differs", "read.order": "missing", "odd.thing": "extra"}
        )

    def test_numbers_are_alike_to_the_place_that_was_written(self) -> None:
        self.assertTrue(device_sheet.alike("0.689476 bar", "0.6895"))
        self.assertFalse(device_sheet.alike("0.689476 bar", "0.70"))
        self.assertFalse(device_sheet.alike("4 mA", "4 V"))
        self.assertTrue(device_sheet.alike("Goes low", "goes  LOW"))

    def test_what_is_no_sheet_is_refused(self) -> None:
        for text in ("", "{}", '{"items": 3}', "a,b\n1,2", "key,value\n,\n", "x" * 1_100_000):
            with self.assertRaises(InputError):
                device_sheet.read_found(text)
        semicolons = "\ufeffKey;Value\nscaled.high;34,6\n"
        self.assertEqual(device_sheet.read_found(semicolons), {"scaled.high": "34,6"})
