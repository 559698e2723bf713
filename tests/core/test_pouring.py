"""Pouring on 200 made-up odd tanks: what is stated holds, fewer pours do, and a wrong one is found."""

from __future__ import annotations

import time
from dataclasses import replace
from unittest import TestCase

import numpy as np

from rasante.core.pouring.advice import advise
from rasante.core.pouring.meter import meter_factor, pulses_anew
from rasante.core.pouring.misfit import find_misfit, spilled_amounts
from rasante.core.pouring.poured import Pour, Start, put_together, run_of
from rasante.core.quantities.errors import InputError
from tests.tags import slow

from .odd_tanks import INSTRUMENTS, KINDS, Somebody

#: None of these tanks was looked at while the curve's ± was found.
SEEDS = range(20_000, 20_200)
#: The error that is asked for, by what the tank holds [1].
TARGET = 0.005


def stays_below(errors: list[float], limit: float, first: int = 1) -> int:
    """From which number of pours on an error stays below a limit."""
    over = [at for at, error in enumerate(errors, first) if error > limit]
    return max(over, default=first - 1) + 1


class OddTanks(TestCase):
    """The same 200 runs, looked at from all sides."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.runs = []
        for seed in SEEDS:
            somebody = Somebody(seed)
            errors = somebody.follow(TARGET * somebody.capacity)
            cls.runs.append((somebody, somebody.put(), errors))

    def test_every_kind_is_among_them(self) -> None:
        self.assertEqual({one.kind for one, _, _ in self.runs}, set(KINDS))

    def test_what_is_stated_covers_what_is_true_at_93_in_100_levels(self) -> None:
        inside = []
        for somebody, found, _ in self.runs:
            z, error = somebody.errors(found)
            inside.append(float(np.mean(error <= found.curve.half(z))))
        self.assertGreaterEqual(np.mean(inside), 0.93)
        # In no kind of tank is it the others that make up for it.
        for kind in KINDS:
            share = [one for one, (somebody, _, _) in zip(inside, self.runs, strict=True) if somebody.kind == kind]
            self.assertGreaterEqual(np.mean(share), 0.93, kind)

    @slow
    def test_advised_pours_do_with_fewer_than_equal_ones(self) -> None:
        """Beside the usual afternoon: equal amounts, and straight lines between them as a device draws them."""
        ratios, more = [], []
        for somebody, _, errors in self.runs:
            limit = TARGET * somebody.capacity
            by_lines = []
            for count in range(2, 61):
                usual = Somebody(somebody.seed)
                for _ in range(count):
                    usual.pour(0.9999 * usual.capacity / count)
                by_lines.append(usual.error_by_lines(usual.put()))
                if len(by_lines) > 10 and max(by_lines[-10:]) <= limit:
                    break
            needs, usually = stays_below(errors, limit), stays_below(by_lines, limit, 2)
            ratios.append(needs / usually)
            more.append((needs, usually))
        self.assertLessEqual(np.median(ratios), 0.75)
        # Where few equal pours happen to do, one or two more may be advised: nothing was known of the shape.
        beyond = [(needs, usually) for needs, usually in more if needs > 1.1 * usually]
        self.assertLessEqual(len(beyond), 0.06 * len(more), beyond)
        self.assertTrue(all(needs <= usually + 2 for needs, usually in beyond), beyond)

    def test_it_stops_by_itself(self) -> None:
        for somebody, found, errors in self.runs:
            self.assertLess(len(errors), 50, somebody.seed)
            self.assertLessEqual(found.curve.gap_half.max(), TARGET * somebody.capacity * 1.001)

    def test_a_wrong_amount_is_found_and_no_right_one_is(self) -> None:
        false, found_at = 0, {"+20 %": 0, "−20 %": 0, "left out": 0}
        for somebody, found, _ in self.runs:
            false += find_misfit(found, INSTRUMENTS) is not None
            step = int(np.random.default_rng(somebody.seed + 7).integers(1, len(somebody.pours) - 1))
            for what, factor in (("+20 %", 1.2), ("−20 %", 0.8), ("left out", 0.0)):
                pours = list(somebody.pours)
                if factor:
                    pours[step] = replace(pours[step], amount=pours[step].amount * factor)
                else:
                    del pours[step]
                    pours = [replace(one, row=row) for row, one in enumerate(pours)]
                try:
                    wrong = put_together(somebody.start, pours, INSTRUMENTS)
                except InputError as error:
                    # It goes with nothing at all: said at its reading.
                    self.assertRegex(error.problems[0].what, "does not go with its amount|more than there was")
                    found_at[what] += 1
                    continue
                assert wrong is not None
                misfit = find_misfit(wrong, INSTRUMENTS)
                found_at[what] += misfit is not None and misfit.row == step
        count = len(self.runs)
        self.assertLessEqual(false / count, 0.03)
        self.assertGreaterEqual(sum(found_at.values()) / (3 * count), 0.95)
        for what, times in found_at.items():
            self.assertGreaterEqual(times / count, 0.93, what)

    def test_filled_up_only_a_tank_that_widens_is_not_taken_for_a_wrong_amount(self) -> None:
        """No pour went over the same levels twice: less is found then, and nothing is claimed."""
        false = 0
        for seed in SEEDS[:100]:
            somebody = Somebody(seed)
            for _ in range(16):
                somebody.pour(0.9999 * somebody.capacity / 16)
            false += find_misfit(somebody.put(), INSTRUMENTS) is not None
        self.assertLessEqual(false, 3)

    def test_what_was_spilled_is_told_by_the_others(self) -> None:
        off = []
        for somebody, _, _ in self.runs[:60]:
            step = len(somebody.pours) // 2
            true = somebody.pours[step].amount
            said = [replace(one, amount=one.amount * (1.15 if one.row == step else 1)) for one in somebody.pours]
            told = spilled_amounts(run_of(somebody.start, said, INSTRUMENTS), [step])
            if step in told:
                came, half = told[step]
                off.append(abs(came - true) <= half)
        self.assertGreater(len(off), 50)
        self.assertGreaterEqual(np.mean(off), 0.85)

    def test_advice_takes_no_time(self) -> None:
        _, found, _ = self.runs[0]
        began = time.process_time()
        for _ in range(20):
            advise(found.curve, found.volume, 2 * found.volume, 1e-6)
        self.assertLess((time.process_time() - began) / 20, 0.15)


class ByHand(TestCase):
    def test_straight_walls_are_read_from_two_pours(self) -> None:
        start = Start(0.010, 0.0, 0.05)
        found = put_together(start, [Pour(0.1, 0.15, row=0), Pour(0.2, 0.35, row=1)], INSTRUMENTS)
        assert found is not None
        np.testing.assert_allclose(found.curve.at(np.array([0.05, 0.1, 0.25, 0.35])), [0.01, 0.06, 0.21, 0.31])

    def test_cans_without_a_reading_count_with_the_next(self) -> None:
        start = Start(0.0, 0.0, 0.0)
        apart = put_together(start, [Pour(0.04, None, row=0), Pour(0.06, 0.1, row=1)], INSTRUMENTS)
        assert apart is not None
        self.assertEqual(list(apart.step_rows), [1])
        self.assertAlmostEqual(apart.volume, 0.1)

    def test_work_goes_on_from_what_is_in_it_by_then(self) -> None:
        pours = [Pour(0.1, 0.1, row=0), Pour(0.1, 0.2, row=1), Pour(0.05, 0.2, resumed=0.15, row=2)]
        found = put_together(Start(0.0, 0.0, 0.0), pours, INSTRUMENTS)
        assert found is not None
        self.assertAlmostEqual(found.volume, 0.2, 6)
        with self.assertRaises(InputError) as refused:
            put_together(Start(0.0, 0.0, 0.0), [*pours, Pour(0.05, 0.3, resumed=0.26, row=3)], INSTRUMENTS)
        self.assertEqual(refused.exception.problems[0].where, "pours[3].resumed")

    def test_more_that_reads_lower_is_refused_at_its_row(self) -> None:
        with self.assertRaises(InputError) as refused:
            put_together(Start(0.0, 0.0, 0.0), [Pour(0.1, 0.1, row=0), Pour(0.1, 0.09, row=1)], INSTRUMENTS)
        self.assertEqual(refused.exception.problems[0].where, "pours[1].reading")
        with self.assertRaises(InputError) as refused:
            put_together(Start(0.0, 0.0, 0.0), [Pour(0.1, 0.1, row=0), Pour(-0.3, 0.0, row=1)], INSTRUMENTS)
        self.assertEqual(refused.exception.problems[0].where, "pours[1].amount")

    def test_advice_takes_whole_cans_and_stays_below_safe_fill(self) -> None:
        first = advise(None, 0.0, 0.2, 0.001, cans=(0.02,))
        self.assertAlmostEqual(first.amount, 0.1)
        self.assertEqual((first.enough, first.to_reading), (False, None))
        odd = advise(None, 0.0, 0.2, 0.001, cans=(0.03,))
        self.assertAlmostEqual(odd.amount, 0.09)
        short = advise(None, 0.0, 0.2, 0.001, most=0.04)
        self.assertAlmostEqual(short.amount, 0.04)
        found = put_together(Start(0.0, 0.0, 0.0), [Pour(0.19, 0.9, row=0)], INSTRUMENTS)
        assert found is not None
        last = advise(found.curve, 0.19, 0.2, 1e-4, draws=False, cans=(0.02,))
        self.assertLessEqual(0.19 + last.amount, 0.2 + 1e-12)


class Meter(TestCase):
    def test_the_factor_lies_within_what_is_stated(self) -> None:
        rng = np.random.default_rng(11)
        within = 0
        for _ in range(400):
            true, container = rng.uniform(0.97, 1.03), rng.normal(0, 0.0005)
            metered = np.full(5, 0.02)
            drawn = metered * true * (1 + rng.normal(0, 0.0008, 5)) * (1 + container)
            found = meter_factor(metered.tolist(), drawn.tolist(), "pulse", 0.001)
            within += abs(found.factor - true) <= found.half * found.factor
        self.assertGreaterEqual(within / 400, 0.93)

    def test_students_t(self) -> None:
        """Five draws: t(0.975, 4) = 2.776 (any table of Student's t; JCGM 100:2008, table G.2)."""
        found = meter_factor([1.0] * 5, [0.998, 0.999, 1.0, 1.001, 1.002], "pulse", 0.0)
        self.assertAlmostEqual(found.half, 2.776 * np.sqrt(2.5e-6) / np.sqrt(5), 6)
        self.assertAlmostEqual(found.spread, 0.004)
        self.assertFalse(found.repeats)

    def test_what_cooled_in_the_container_was_more_at_the_meter(self) -> None:
        found = meter_factor([0.02], [0.02], "pulse", 0.0, expansion=8e-4, warmer_k=10.0)
        self.assertAlmostEqual(found.factor, 1.008)
        self.assertEqual(found.half, 0.002)

    def test_pulses_are_set_so_that_the_meter_says_what_is_true(self) -> None:
        # 98 pulses a litre counted for what were 1.02 L: 100 pulses are 1.0408 L, so 96.08 a litre.
        self.assertAlmostEqual(pulses_anew(98e3, 1.02), 96.078e3, -1)

    def test_nothing_drawn_is_refused(self) -> None:
        for metered, drawn in (([], []), ([0.02], []), ([0.02], [0.0])):
            with self.assertRaises(InputError):
                meter_factor(metered, drawn, "pulse", 0.001)
