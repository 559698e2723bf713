"""The 4–20 mA transmitter, forward and backward, and how its range fits the tank."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rasante.core.errors import InputError
from rasante.core.scaling.line import find_line, read_line
from rasante.core.scaling.transmitter import MEASURING_A, check_transmitter, judge_range, read_transmitter
from rasante.core.tanks.tank_file import check_document

from .samples import example, tank_file

FILE = check_document(example())
TANK = FILE.tank


def transmitter(reports: str, low: float, high: float, offset: float = 0.0):
    return check_transmitter(
        {"reports": reports, "value_at_4ma_mm": low, "value_at_20ma_mm": high, "datum_offset_mm": offset}
    )


class Signal(TestCase):
    def test_level(self) -> None:
        scaled = transmitter("level", 0, 2400)
        np.testing.assert_allclose(scaled.current(TANK, [0, 1.2, 2.4]), [0.004, 0.012, 0.020])

    def test_level_counts_from_its_own_zero(self) -> None:
        scaled = transmitter("level", 0, 2000, 60)
        np.testing.assert_allclose(scaled.current(TANK, [0.06, 1.06]), [0.004, 0.012])

    def test_distance_runs_down(self) -> None:
        # The face is 250 mm above the reference point of 2550 mm: empty is 2800 mm away, full 400 mm.
        scaled = transmitter("distance", 2800, 400, 250)
        np.testing.assert_allclose(scaled.current(TANK, [0, 1.2, 2.4]), [0.004, 0.012, 0.020])

    def test_it_saturates_at_the_measuring_limits(self) -> None:
        # NAMUR NE 43, from memory: a measured value is signalled within 3.8 to 20.5 mA.
        self.assertEqual(MEASURING_A, (0.0038, 0.0205))
        scaled = transmitter("level", 500, 1500)
        np.testing.assert_allclose(scaled.signal(TANK, [0, 2.4]), MEASURING_A)

    @given(
        st.sampled_from(["level", "distance"]),
        st.floats(-3000, 9000),
        st.floats(50, 20000),
        st.booleans(),
        st.floats(-500, 500),
        st.floats(0, 2.4),
    )
    def test_backward_is_the_inverse_of_forward(self, reports, low, span, falls, offset, level) -> None:
        ends = (low + span, low) if falls else (low, low + span)
        scaled = transmitter(reports, *ends, offset)
        self.assertAlmostEqual(float(scaled.innage(TANK, scaled.current(TANK, level))), level, places=9)


class Judgements(TestCase):
    def codes(self, scaled, tank=TANK) -> list[str]:
        return [found.code for found in judge_range(scaled, tank, "metric")]

    def test_a_range_cut_to_the_tank(self) -> None:
        self.assertEqual(self.codes(transmitter("level", 0, 2400)), ["covers"])

    def test_a_top_that_is_not_read_is_a_stop_with_its_volume(self) -> None:
        worst = judge_range(transmitter("level", 0, 2000), TANK, "metric")[0]
        lost = (TANK.capacity - float(TANK.volume(2.0))) * 1000
        self.assertEqual((worst.weight, worst.code), ("stop", "top-unread"))
        self.assertIn("400 mm", worst.text)
        self.assertIn(f"{lost:.1f} L", worst.text)

    def test_a_bottom_that_is_not_read(self) -> None:
        self.assertEqual(self.codes(transmitter("level", 0, 2340, 60)), ["bottom-unread"])

    def test_a_range_that_wastes_most_of_its_span(self) -> None:
        self.assertEqual(self.codes(transmitter("level", 0, 10000)), ["wasted-span"])
        # Common practice, no published source: 0–15 psi of water spans 34.65 ft; on a 5 ft tank it is mostly unused.
        tank = tank_file({"kind": "box", "length_mm": 1000, "width_mm": 1000, "height_mm": 5 * 304.8}).tank
        self.assertEqual(self.codes(transmitter("level", 0, 34.65 * 304.8), tank), ["wasted-span"])

    def test_a_range_beside_the_tank(self) -> None:
        self.assertEqual(self.codes(transmitter("level", 5000, 9000)), ["outside"])

    def test_a_current_that_falls_as_the_tank_fills(self) -> None:
        self.assertIn("falls", self.codes(transmitter("distance", 150, 2550)))
        self.assertNotIn("falls", self.codes(transmitter("distance", 2550, 150)))

    def test_a_face_that_liquid_reaches(self) -> None:
        self.assertIn("face-wet", self.codes(transmitter("distance", 2350, -50, -200)))


class Typed(TestCase):
    def test_as_people_write_it(self) -> None:
        document = read_transmitter(
            {"reports": "level", "value_at_4ma_mm": "0", "value_at_20ma_mm": "8 ft", "datum_offset_mm": ""}, "us"
        )
        self.assertEqual(document["value_at_20ma_mm"], 2438.4)
        self.assertEqual(document["datum_offset_mm"], 0.0)

    def test_what_measures_nothing_is_refused(self) -> None:
        bad = [
            ({"reports": "level", "value_at_4ma_mm": "5 mm", "value_at_20ma_mm": "5 mm"}, "value_at_20ma_mm"),
            ({"reports": "level", "value_at_4ma_mm": "", "value_at_20ma_mm": "5 mm"}, "value_at_4ma_mm"),
            ({"reports": "sound", "value_at_4ma_mm": "0", "value_at_20ma_mm": "5 mm"}, "reports"),
            ({"reports": "level", "value_at_4ma_mm": "0", "value_at_20ma_mm": "900 m"}, "value_at_20ma_mm"),
        ]
        for entries, where in bad:
            with self.subTest(where), self.assertRaises(InputError) as caught:
                read_transmitter(entries, "metric")
            self.assertIn(where, [problem.where for problem in caught.exception.problems])


class Line(TestCase):
    scaled = transmitter("level", 0, 2400)

    def test_every_reading_finds_the_same_line(self) -> None:
        line = read_line(FILE, self.scaled, 1.234)
        typed = {
            "innage": f"{line.innage_m * 1000} mm",
            "ullage": f"{line.ullage_m * 1000} mm",
            "volume": f"{line.volume_m3 * 1000!r} L",
            "volume_pct": f"{line.volume_ratio * 100!r} %",
            "linear_pct": f"{line.linear_ratio * 100!r} %",
            "sensed": f"{line.sensed_m * 1000} mm",
            "current": f"{line.current_a * 1000!r} mA",
        }
        for by, text in typed.items():
            with self.subTest(by):
                self.assertAlmostEqual(find_line(FILE, self.scaled, by, text, "metric"), 1.234, places=8)

    def test_what_no_level_gives_is_refused_with_the_range(self) -> None:
        for by, text in (
            ("innage", "2.5 m"), ("volume", "90000 L"), ("volume_pct", "101 %"), ("current", "21 mA"),
            ("ullage", "0"), ("colour", "red"),
        ):  # fmt: skip
            with self.subTest(by), self.assertRaises(InputError):
                find_line(FILE, self.scaled, by, text, "metric")
        with self.assertRaisesRegex(InputError, "not scaled yet"):
            find_line(FILE, None, "current", "12 mA", "metric")
