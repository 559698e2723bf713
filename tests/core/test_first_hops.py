"""A chain's first hops: a 4–20 mA transmitter, forward and backward, how its range fits the tank, and the line."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.quantities.signals import SIGNALS
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.line import find_line, read_line
from rasante.core.tanks.tank_file import TankFile, check_document

from .chain_cases import ground
from .said import said
from .samples import example, tank_file

FILE = check_document(example())
TANK = FILE.tank
RANGE_CODES = ("covers", "top-unread", "bottom-unread", "wasted-span", "outside", "falls", "face-wet")


def scaled(quantity: str, low: float, high: float, zero: float = 0.0, file: TankFile = FILE) -> Chain:
    """A chain by its sensor's two ends, in millimetres."""
    typed = {
        "sensor.quantity": quantity, "sensor.low": f"{low!r} mm", "sensor.high": f"{high!r} mm",
        "sensor.zero": f"{zero!r} mm",
    }  # fmt: skip
    found = read_chain(typed, ground(file), "metric")
    assert found.chain is not None, found.form.problems
    return found.chain


def sent(c: Chain, *levels: float) -> np.ndarray:
    return c.forward("level", "sent", np.array(levels))


class Signals(TestCase):
    def test_level(self) -> None:
        np.testing.assert_allclose(sent(scaled("level", 0, 2400), 0, 1.2, 2.4), [0.004, 0.012, 0.020])

    def test_level_counts_from_its_own_zero(self) -> None:
        np.testing.assert_allclose(sent(scaled("level", 0, 2000, 60), 0.06, 1.06), [0.004, 0.012])

    def test_distance_runs_down(self) -> None:
        # The face is 250 mm above the reference point of 2550 mm: empty is 2800 mm away, full 400 mm.
        np.testing.assert_allclose(sent(scaled("distance", 2800, 400, 250), 0, 1.2, 2.4), [0.004, 0.012, 0.020])

    def test_it_saturates_at_the_measuring_limits(self) -> None:
        # NAMUR NE 43, from memory: a measured value is signalled within 3.8 to 20.5 mA; 3.6 and 21 mA are faults.
        ma4 = SIGNALS["ma4"]
        self.assertEqual((ma4.least, ma4.most, ma4.fault_low, ma4.fault_high), (0.0038, 0.0205, 0.0036, 0.0210))
        np.testing.assert_allclose(sent(scaled("level", 500, 1500), 0, 2.4), [0.0038, 0.0205])

    @given(
        st.sampled_from(["level", "distance"]),
        st.floats(-3000, 9000),
        st.floats(50, 20000),
        st.booleans(),
        st.floats(-500, 500),
        st.floats(0.1, 0.9),
    )
    def test_backward_is_the_inverse_of_forward(self, quantity, low, span, falls, zero, share) -> None:
        ends = (low + span, low) if falls else (low, low + span)
        c = scaled(quantity, *ends, zero)
        level = c.level_from("sent", 0.004 + 0.016 * share)
        self.assertAlmostEqual(float(sent(c, level)[0]), 0.004 + 0.016 * share, places=9)


class Judgements(TestCase):
    def codes(self, c: Chain) -> list[str]:
        return [found.code for found in judge_chain(c, "metric") if found.code in RANGE_CODES]

    def test_a_range_cut_to_the_tank(self) -> None:
        self.assertEqual(self.codes(scaled("level", 0, 2400)), ["covers"])

    def test_a_top_that_is_not_read_is_a_stop_with_its_volume(self) -> None:
        worst = judge_chain(scaled("level", 0, 2000), "metric")[0]
        lost = (TANK.capacity - float(TANK.volume(2.0))) * 1000
        self.assertEqual((worst.weight, worst.code), ("stop", "top-unread"))
        self.assertIn("400 mm", said(worst))
        self.assertIn(f"{lost:.1f} L", said(worst))
        self.assertEqual((worst.value, worst.limit), (2.0, 2.4))

    def test_a_bottom_that_is_not_read(self) -> None:
        self.assertEqual(self.codes(scaled("level", 0, 2340, 60)), ["bottom-unread"])

    def test_a_range_that_wastes_most_of_its_span(self) -> None:
        self.assertEqual(self.codes(scaled("level", 0, 10000)), ["wasted-span"])
        # Common practice, no published source: 0–15 psi of water spans 34.65 ft; on a 5 ft tank it is mostly unused.
        box = tank_file({"kind": "box", "length_mm": 1000, "width_mm": 1000, "height_mm": 5 * 304.8})
        self.assertEqual(self.codes(scaled("level", 0, 34.65 * 304.8, file=box)), ["wasted-span"])

    def test_half_of_a_span_is_where_it_begins_to_be_wasted(self) -> None:
        """Common practice, no published source."""
        self.assertEqual(self.codes(scaled("level", 0, 2400 / 0.51)), ["covers"])
        self.assertEqual(self.codes(scaled("level", 0, 2400 / 0.49)), ["wasted-span"])

    def test_a_range_beside_the_tank(self) -> None:
        self.assertEqual(self.codes(scaled("level", 5000, 9000)), ["outside"])

    def test_a_face_that_liquid_reaches(self) -> None:
        self.assertIn("face-wet", self.codes(scaled("distance", 2350, -50, -200)))
        self.assertNotIn("face-wet", self.codes(scaled("distance", 2550, 150)))


class Line(TestCase):
    chain = scaled("level", 0, 2400)

    def test_every_reading_finds_the_same_line(self) -> None:
        line = read_line(FILE, self.chain, 1.234)
        typed = {
            "innage": f"{line.innage_m * 1000} mm",
            "ullage": f"{line.ullage_m * 1000} mm",
            "volume": f"{line.volume_m3 * 1000!r} L",
            "volume_pct": f"{line.volume_ratio * 100!r} %",
            "linear_pct": f"{line.linear_ratio * 100!r} %",
            "sensed": f"{line.stations['sensed'] * 1000} mm",
            "arriving": f"{line.stations['arriving'] * 1000!r} mA",
        }
        for by, text in typed.items():
            with self.subTest(by):
                self.assertAlmostEqual(find_line(FILE, self.chain, by, text, "metric"), 1.234, places=8)

    def test_what_no_level_gives_is_refused_with_the_range(self) -> None:
        for by, text in (
            ("innage", "2.5 m"), ("volume", "90000 L"), ("volume_pct", "101 %"), ("arriving", "21 mA"),
            ("ullage", "0"), ("colour", "red"),
        ):  # fmt: skip
            with self.subTest(by), self.assertRaises(InputError):
                find_line(FILE, self.chain, by, text, "metric")
        with self.assertRaisesRegex(InputError, "no chain is kept"):
            find_line(FILE, None, "arriving", "12 mA", "metric")
