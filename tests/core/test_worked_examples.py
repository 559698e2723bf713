"""The main job against handbook tables, definitions and worked examples from outside the project."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.quantities.signals import SIGNALS
from rasante.core.quantities.units import UNITS
from rasante.core.tanks.heads import EllipsoidalHead
from rasante.core.tanks.survey import read_survey
from rasante.core.tanks.table import make_table

from .samples import horizontal, tank_file
from .test_first_hops import scaled, sent

FLAT = {"kind": "flat"}
GALLON = 3.785411784e-3


class HandbookTables(TestCase):
    """Tables of partly filled vessels as chemical engineering handbooks print them (Perry's, from memory)."""

    # h/D, and the share of the volume of a lying cylinder with flat ends.
    CYLINDER = {0.05: 0.01869, 0.10: 0.05204, 0.20: 0.14238, 0.25: 0.19550, 0.30: 0.25232, 0.40: 0.37353, 0.50: 0.5,
                0.60: 0.62647, 0.75: 0.80450, 0.90: 0.94796, 0.95: 0.98131}  # fmt: skip
    # h/D, and the share of the volume of an ellipsoidal or hemispherical head.
    HEAD = {
        0.05: 0.00725,
        0.10: 0.0280,
        0.20: 0.1040,
        0.25: 0.15625,
        0.30: 0.2160,
        0.40: 0.3520,
        0.50: 0.5,
        0.80: 0.8960,
    }

    def test_lying_cylinder(self) -> None:
        tank = horizontal(1800, 4000, FLAT, FLAT).tank
        for depth, share in self.CYLINDER.items():
            self.assertAlmostEqual(float(tank.volume(depth * 1.8)) / tank.capacity, share, delta=6e-6)

    def test_ellipsoidal_head(self) -> None:
        head = EllipsoidalHead(0.45)
        full = float(head.volume(0.9, 1.8))
        for depth, share in self.HEAD.items():
            self.assertAlmostEqual(float(head.volume(0.9, depth * 1.8)) / full, share, delta=6e-6)

    def test_a_linear_gauge_at_a_quarter_is_five_and_a_half_points_high(self) -> None:
        table = make_table(horizontal(1000, 1000, FLAT, FLAT), 0.25)
        self.assertAlmostEqual(float(table.linear_ratio[1] - table.volume_ratio[1]) * 100, 25 - 19.55, places=2)


class Definitions(TestCase):
    def test_a_us_gallon_is_231_cubic_inches(self) -> None:
        # NIST Handbook 44, appendix C.
        self.assertAlmostEqual(UNITS["usgal"].si, 231 * 0.0254**3, places=15)
        self.assertAlmostEqual(UNITS["ft"].si * 12, UNITS["in"].si * 144, places=15)

    def test_signal_limits(self) -> None:
        # NAMUR NE 43, from memory: 3.8 to 20.5 mA measures; 3.6 mA and less, 21 mA and more is a fault.
        ma4 = SIGNALS["ma4"]
        self.assertEqual((ma4.least, ma4.most, ma4.fault_low, ma4.fault_high), (0.0038, 0.0205, 0.0036, 0.021))


class WorkedByHand(TestCase):
    def test_an_eight_by_ten_foot_tank(self) -> None:
        # By hand: π/4 × 8² × 10 = 502.655 ft³, at 7.480 52 US gal a cubic foot 3760.1 US gal.
        typed = {
            "name": "Yard tank",
            "shape.kind": "horizontal_cylinder",
            "shape.diameter_mm": "8 ft",
            "shape.shell_length_mm": "10'",
            "shape.left_head.kind": "flat",
            "shape.right_head.kind": "flat",
        }
        tank = read_survey(typed, "us").require().tank
        self.assertAlmostEqual(tank.capacity / GALLON, 3760.1, delta=0.05)
        # A dip of 2 ft is a quarter of the height: 19.55 % of 3760.1 is 735.1 US gal.
        self.assertAlmostEqual(float(tank.volume(0.6096)) / GALLON, 735.1, delta=0.05)

    def test_litres_in_a_box(self) -> None:
        # By hand: 1.2 m × 0.8 m × 0.5 m is 480 L; each millimetre is 0.96 L.
        tank = tank_file({"kind": "box", "length_mm": 1200, "width_mm": 800, "height_mm": 500}).tank
        self.assertAlmostEqual(tank.capacity, 0.48)
        self.assertAlmostEqual(float(tank.surface(0.2)), 0.96)
        self.assertAlmostEqual(tank.level(0.24), 0.25, places=9)

    def test_an_upright_tank_by_circumference(self) -> None:
        # By hand: a circumference of 31.416 m is a diameter of 10 m; 78.54 m³ a metre.
        shape = {
            "kind": "vertical_cylinder",
            "diameter_mm": 31416 / np.pi,
            "shell_height_mm": 6000,
            "bottom": FLAT,
            "top": FLAT,
        }
        self.assertAlmostEqual(float(tank_file(shape).tank.volume(1.0)), 78.54, delta=0.001)

    def test_a_bullet_with_hemispheres(self) -> None:
        # By hand: D = 2 m, 4 m of shell: π 4 + 4/3 π = 16.755 m³.
        ball = {"kind": "hemispherical"}
        self.assertAlmostEqual(horizontal(2000, 4000, ball, ball).tank.capacity, 16.7552, places=4)

    def test_currents_of_a_water_transducer(self) -> None:
        # Common practice, no published source: 0–15 psi of water is 34.65 ft (2.31 ft a psi); 10 ft is 8.618 mA.
        column = 34.65 * 304.8
        well = tank_file(
            {"kind": "vertical_cylinder", "diameter_mm": 1000, "shell_height_mm": column, "bottom": FLAT, "top": FLAT}
        )
        current = sent(scaled("level", 0, column, file=well), 10 * 0.3048)[0] * 1000
        self.assertAlmostEqual(current, 4 + 16 * 10 / 34.65, places=9)
        self.assertAlmostEqual(current, 8.618, delta=0.0005)

    def test_a_receiver_that_expects_level_but_gets_distance_reads_backwards(self) -> None:
        # Common practice, no published source. Full shows as empty and the half as the half.
        file = horizontal(2000, 4000, FLAT, FLAT)
        distance, level = scaled("distance", 0, 2000, file=file), scaled("level", 0, 2000, file=file)
        shown = level.backward("sent", "level", sent(distance, 0.0, 1.0, 2.0))
        np.testing.assert_allclose(shown, [2.0, 1.0, 0.0], atol=1e-12)
