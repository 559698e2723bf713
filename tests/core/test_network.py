"""The nodal solver against circuits worked by hand, closed forms, and Kirchhoff's laws."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.wiring.network import Drive, Fuse, Resistor, Sink, Source, solve

OHMS = st.floats(0.1, 1e5)


def balance(elements, solution) -> float:
    """Largest sum of currents at any node, counted from the elements' own currents, by the largest current."""
    sums: dict[str, float] = {}
    for element in elements:
        a, b = (element.a, element.b) if hasattr(element, "a") else (element.plus, element.minus)
        flow = solution.current[element.name]
        # Out of plus for what drives, into a for what is driven through.
        sign = -1 if isinstance(element, Source | Drive) else 1
        sums[a] = sums.get(a, 0.0) - sign * flow
        sums[b] = sums.get(b, 0.0) + sign * flow
    largest = max((abs(flow) for flow in solution.current.values()), default=0.0)
    return max(map(abs, sums.values())) / largest if largest else 0.0


class ByHand(TestCase):
    def test_a_divider(self) -> None:
        # 12 V over 1 kΩ and 2 kΩ in series: 4 mA, 8 V over the larger. Worked by hand.
        solution = solve([Source("v", "a", "0", 12), Resistor("r1", "a", "b", 1000), Resistor("r2", "b", "0", 2000)])
        self.assertAlmostEqual(solution.volts("b", "0"), 8.0, 12)
        self.assertAlmostEqual(solution.current["r1"], 0.004, 15)

    def test_a_bridge_out_of_balance(self) -> None:
        # A Wheatstone bridge, 10 V, arms 100/200 and 300/400 Ω, 50 Ω across. Mesh equations solved by hand with
        # fractions: the bridge carries 200/20200·… = 10·(200·300 − 100·400)/D, D = 50·300·700 + 100·200·700 +
        # 300·400·300 (Ω³), which is 200 000 / 60 500 000 A.
        elements = [
            Source("v", "t", "0", 10),
            Resistor("a1", "t", "l", 100), Resistor("a2", "l", "0", 200),
            Resistor("b1", "t", "r", 300), Resistor("b2", "r", "0", 400),
            Resistor("x", "l", "r", 50),
        ]  # fmt: skip
        solution = solve(elements)
        across = 10 * (200 * 300 - 100 * 400) / (50 * 300 * 700 + 100 * 200 * 700 + 300 * 400 * 300)
        self.assertAlmostEqual(solution.current["x"], across, 14)

    def test_two_sources_share_a_load(self) -> None:
        # Millman's theorem: V = (10/2 + 6/3) / (1/2 + 1/3 + 1/6) = 7 V.
        elements = [Source("a", "n", "0", 10, 2), Source("b", "n", "0", 6, 3), Resistor("load", "n", "0", 6)]
        self.assertAlmostEqual(solve(elements).volts("n", "0"), 7.0, 12)

    def test_what_nothing_joins_has_no_voltage_between(self) -> None:
        elements = [Source("a", "p", "q", 5), Resistor("r", "p", "q", 5), Resistor("far", "x", "y", 5)]
        solution = solve(elements)
        self.assertIsNone(solution.volts("p", "x"))
        self.assertIsNone(solution.volts("p", "nowhere"))
        self.assertEqual(solution.volts("x", "y"), 0.0)

    def test_sources_that_contradict_are_refused(self) -> None:
        with self.assertRaisesRegex(InputError, "contradict"):
            solve([Source("a", "p", "q", 5), Source("b", "p", "q", 6)])
        with self.assertRaisesRegex(InputError, "above 0"):
            solve([Source("a", "p", "q", 5), Resistor("r", "p", "q", 0)])


class ClosedForms(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(OHMS, min_size=1, max_size=12), st.floats(1, 100))
    def test_series(self, ohms, volt) -> None:
        parts = [Resistor(f"r{i}", f"n{i}", f"n{i + 1}", ohm) for i, ohm in enumerate(ohms)]
        solution = solve([Source("v", "n0", f"n{len(ohms)}", volt), *parts])
        self.assertAlmostEqual(solution.current["r0"] * sum(ohms) / volt, 1, 11)
        self.assertLess(balance([Source("v", "n0", f"n{len(ohms)}", volt), *parts], solution), 1e-12)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(OHMS, min_size=1, max_size=12), st.floats(1, 100))
    def test_parallel(self, ohms, volt) -> None:
        parts = [Resistor(f"r{i}", "a", "b", ohm) for i, ohm in enumerate(ohms)]
        solution = solve([Source("v", "a", "b", volt), *parts])
        self.assertAlmostEqual(solution.current["v"] / (volt * sum(1 / ohm for ohm in ohms)), 1, 11)

    @settings(max_examples=80, deadline=None)
    @given(st.data())
    def test_kirchhoff_on_any_mesh(self, data) -> None:
        # A ring with random chords: what flows into every node flows out again, to 1e-12 of the largest current.
        size = data.draw(st.integers(3, 9))
        ring = [Resistor(f"ring{i}", f"n{i}", f"n{(i + 1) % size}", data.draw(OHMS)) for i in range(size)]
        ends = st.tuples(st.integers(0, size - 1), st.integers(0, size - 1)).filter(lambda pair: pair[0] != pair[1])
        chords = [
            Resistor(f"chord{k}", f"n{a}", f"n{b}", data.draw(OHMS))
            for k, (a, b) in enumerate(data.draw(st.lists(ends, max_size=6)))
        ]
        a, b = data.draw(ends)
        elements = [
            Source("v", f"n{a}", f"n{b}", data.draw(st.floats(1, 50)), data.draw(st.floats(0, 10))),
            *ring,
            *chords,
        ]
        solution = solve(elements)
        self.assertLess(solution.residual, 1e-12)
        self.assertLess(balance(elements, solution), 1e-12)
        # Around every element the voltage is what its current makes of it.
        for part in (*ring, *chords):
            self.assertAlmostEqual(solution.volts(part.a, part.b), solution.current[part.name] * part.ohm, 9)


class States(TestCase):
    def loop(self, sink: Sink, load: float = 250, volt: float = 24, rating: float = 0.1):
        return solve(
            [
                Source("v", "p", "0", volt),
                Fuse("f", "p", "q", 5, rating),
                sink,
                Resistor("load", sink.minus if sink.plus == "q" else sink.plus, "0", load),
            ]
        )

    def test_a_transmitter_draws_its_current_while_it_has_its_voltage(self) -> None:
        solution = self.loop(Sink("tx", "q", "r", 0.02, 10))
        self.assertEqual(solution.state["tx"], "regulating")
        self.assertAlmostEqual(solution.current["load"], 0.02, 15)
        self.assertAlmostEqual(solution.volts("q", "r"), 24 - 0.02 * 255, 12)

    def test_short_of_voltage_it_falls_behind_and_never_jumps(self) -> None:
        before = None
        for load in range(500, 900, 10):
            solution = self.loop(Sink("tx", "q", "r", 0.02, 10), load)
            current = solution.current["load"]
            self.assertLessEqual(current, 0.02 + 1e-12)
            if before is not None:
                self.assertLess(abs(current - before), 0.0005)
            before = current
        self.assertEqual(solution.state["tx"], "starved")

    def test_one_that_wants_nothing_takes_nothing_whether_it_has_its_voltage_or_not(self) -> None:
        for volt in (24.0, 3.0, 0.0):
            sink = Sink("s", "b", "0", 0.0, 9.0)
            solution = solve([Source("v", "a", "0", volt), Resistor("r", "a", "b", 250), sink])
            self.assertLess(abs(solution.current["s"]), 1e-6)
            self.assertAlmostEqual(solution.volts("b", "0"), volt, 3)

    def test_the_wrong_way_round_it_blocks(self) -> None:
        solution = self.loop(Sink("tx", "r", "q", 0.02, 10))
        self.assertEqual(solution.state["tx"], "blocked")
        self.assertLess(abs(solution.current["load"]), 1e-5)

    def test_a_fuse_blows_and_stays_blown(self) -> None:
        solution = self.loop(Sink("tx", "q", "r", 0.02, 10), rating=0.01)
        self.assertEqual(solution.state["f"], "blown")
        self.assertEqual(solution.current["load"], 0.0)

    def test_an_active_output_drives_what_it_can(self) -> None:
        easy = solve([Drive("out", "a", "b", 0.02, 15), Resistor("load", "a", "b", 500)])
        self.assertAlmostEqual(easy.current["load"], 0.02, 12)
        hard = solve([Drive("out", "a", "b", 0.02, 15), Resistor("load", "a", "b", 1499)])
        self.assertEqual(hard.state["out"], "saturated")
        self.assertAlmostEqual(hard.current["load"], 15 / 1500, 12)
