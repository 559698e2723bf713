"""Which steps a visit has, what must come before each, and in which order waits are filled."""

from __future__ import annotations

import json
import random
from itertools import pairwise, permutations, product
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.gauges.model import technologies
from rasante.core.procedures.compose import PHASES_FIRST, compose, kit_of, matters
from rasante.core.procedures.facts import HAZARDS, check_facts, clash, hazards_of, holds, settle
from rasante.core.procedures.step import FORMAT, Step, gates, procedure_data, read_steps, standard_steps, with_own
from rasante.core.procedures.timing import learn, schedule, three_finishes
from rasante.core.quantities.errors import InputError

DATA = procedure_data()
FREE = {key: tuple(row["options"]) for key, row in DATA["facts"].items()}
OPTIONS = {
    "job": tuple(DATA["jobs"]),
    "method": tuple(technologies()),
    **FREE,
    **dict.fromkeys(HAZARDS, ("no", "yes")),
}
PLAIN = {key: words[0] for key, words in FREE.items()}


def chosen(**facts: str) -> dict[str, str]:
    """Facts of a visit, those not named as plain as can be, settled."""
    return settle({**PLAIN, **dict.fromkeys(HAZARDS, "no"), **facts})


@st.composite
def any_facts(draw: st.DrawFn) -> dict[str, str]:
    """Facts that go together."""
    facts = settle({key: draw(st.sampled_from(values)) for key, values in OPTIONS.items()})
    if facts["mount"] == "below":
        facts = settle({**facts, "port": "none"})
    if facts["method"] == "rods":
        facts = settle({**facts, "link": "relay", "power": "mains"})
    elif facts["link"] == "relay":
        facts = settle({**facts, "link": "current"})
    if facts["pressurised"] == "yes" and facts["mount"] != "below":
        facts = settle({**facts, "pressurised": "no"})
    if facts["opens"] == "yes" and facts["port"] == "none":
        facts = settle({**facts, "port": "spare"})
    return facts


class EveryVisit(TestCase):
    def test_no_facts_make_steps_wait_for_one_another(self) -> None:
        # Conditions only fall away with the steps and gates that do not apply: if all of them together go in no
        # circle, then none of any facts do.
        left = {step.key: step for step in standard_steps()}
        before = {key: set(step.after) for key, step in left.items()}
        for step in left.values():
            for gate in step.needs:
                before[step.key] |= {one.key for one in left.values() if gate in one.gives}
            for gate in step.takes:
                before[step.key] |= {one.key for one in left.values() if gate in one.needs and not one.last}
            before[step.key].discard(step.key)
            earlier = PHASES_FIRST[: PHASES_FIRST.index(step.phase)] if step.phase in PHASES_FIRST else PHASES_FIRST
            before[step.key] |= {one.key for one in left.values() if one.phase in earlier}
        while left:
            free = [key for key in left if not before[key] & set(left)]
            self.assertTrue(free, f"these wait for one another: {sorted(left)}")
            for key in free:
                del left[key]

    def test_every_gate_that_is_needed_is_given_whatever_the_facts(self) -> None:
        """All facts that a gate, its givers and its needers look at, in all their combinations."""
        base = ("job", "method", "link", "port", "pumps", "flammable", "pressurised")
        cores = [
            facts
            for values in product(*(OPTIONS[key] for key in base))
            if not clash(facts := chosen(**dict(zip(base, values, strict=True))))
        ]
        self.assertGreater(len(cores), 500)
        tried = 0
        for key, gate in gates().items():
            needers = [step for step in standard_steps() if key in step.needs]
            givers = [step for step in standard_steps() if key in step.gives]
            looked = {fact for step in [*needers, *givers] for clause in step.when for fact in clause}
            looked = {fact for fact in looked if fact in FREE or fact == "potable"} - set(base)
            for core in cores:
                if not holds(gate.when, core):
                    continue
                for values in product(*(OPTIONS[fact] for fact in sorted(looked))):
                    facts = {**core, **dict(zip(sorted(looked), values, strict=True))}
                    if clash(facts):
                        continue
                    tried += 1
                    if any(holds(step.when, facts) for step in needers):
                        self.assertTrue(any(holds(step.when, facts) for step in givers), (key, facts))
        self.assertGreater(tried, 5000)

    def test_every_step_can_be_reached(self) -> None:
        rng = random.Random(1)
        left = {step.key for step in standard_steps()}
        for _ in range(20_000):
            facts = settle({key: rng.choice(values) for key, values in OPTIONS.items()})
            if not clash(facts):
                left -= {step.key for step in standard_steps() if step.key in left and holds(step.when, facts)}
            if not left:
                break
        self.assertEqual(left, set())

    @settings(max_examples=150)
    @given(any_facts())
    def test_any_visit_is_walked_to_its_end(self, facts: dict[str, str]) -> None:
        if clash(facts):
            return
        visit = compose(facts)
        over: set[str] = set()
        for step in visit.steps:
            self.assertLessEqual(visit.before[step.key], over)
            over.add(step.key)
        self.assertEqual(visit.steps[-1].kind, "sign")
        given = {gate for step in visit.steps for gate in step.gives}
        self.assertEqual(set(visit.gates) & {g for s in visit.steps for g in s.needs} - given, set())
        plan = schedule(visit.steps, visit.before, {step.key: step.minutes[1] for step in visit.steps})
        self.assertLessEqual(plan.minutes, plan.in_a_row + 1e-9)
        self.assertGreaterEqual(plan.minutes, plan.critical - 1e-9)
        begun = {one.key: one for one in plan.steps}
        for step in visit.steps:
            for first in visit.before[step.key]:
                self.assertGreaterEqual(begun[step.key].begin, begun[first].end - 1e-9)

    def test_no_hands_do_two_things_at_once(self) -> None:
        visit = compose(
            chosen(job="install", method="sonar", port="none", link="radio", pressurised="yes", flammable="yes")
        )
        plan = schedule(visit.steps, visit.before, {step.key: step.minutes[1] for step in visit.steps})
        hands = sorted((p.begin, p.end) for p in plan.steps if not visit.step(p.key).waits)
        for (_, end), (begin, _) in pairwise(hands):
            self.assertGreaterEqual(begin, end - 1e-9)

    def test_under_pressure_nothing_is_opened(self) -> None:
        visit = compose(
            chosen(job="install", method="sonar", port="none", link="radio", pressurised="yes", flammable="yes")
        )
        keys = [step.key for step in visit.steps]
        self.assertFalse({"drill", "port_spare", "gas_test", "dip", "inspect_inside"} & set(keys))
        self.assertTrue({"pressure_rules", "grease", "cure", "compare_float"} <= set(keys))
        self.assertLess(keys.index("soft_install"), keys.index("bond"))
        self.assertLess(keys.index("grease"), keys.index("soft_install"))

    def test_the_vehicle_tank_in_the_order_of_good_people(self) -> None:
        visit = compose(
            chosen(job="install", method="capacitance", vessel="vehicle", port="new", flammable="yes", long="yes")
        )
        keys = [step.key for step in visit.steps]
        order = ["drain", "purge", "gas_test", "inspect_inside", "drill", "depth", "join", "saw", "cap", "wet_full",
                 "wet_empty", "latch"]  # fmt: skip
        self.assertEqual([key for key in keys if key in order], order)
        self.assertEqual(visit.step("drill").who, "authorised")
        self.assertIn(("Plug, stud and sleeve", 1), kit_of(visit))

    def test_a_signal_is_injected_only_in_manual_and_control_is_restored(self) -> None:
        for job in ("install", "replace", "calibrate", "commission", "trouble"):
            visit = compose(chosen(job=job, method="hydrostatic", link="current", pumps="yes"))
            keys = [step.key for step in visit.steps]
            self.assertLess(keys.index("operator"), keys.index("inject"))
            self.assertLess(keys.index("inject"), keys.index("restore"))
            if "isolate" in keys and "connect" in keys:
                self.assertLess(keys.index("connect"), keys.index("power_up"))

    def test_the_operator_is_told_where_something_moves_and_nowhere_else(self) -> None:
        """By hand: injecting moves things, relays do, and wires at the terminals where pumps act on the level."""
        for job, link, pumps, acts in (
            ("trouble", "digital", "no", "no"),
            ("trouble", "digital", "yes", "yes"),
            ("check", "digital", "yes", "no"),
            ("commission", "digital", "yes", "no"),
            ("check", "current", "no", "no"),
            ("commission", "current", "no", "yes"),
            ("check", "relay", "no", "yes"),
            ("install", "radio", "yes", "no"),
        ):
            method = "rods" if link == "relay" else "sonar" if link == "radio" else "hydrostatic"
            facts = chosen(job=job, method=method, link=link, pumps=pumps)
            self.assertEqual(facts["acts"], acts, f"{job} {link} {pumps}")
            self.assertEqual(holds(gates()["manual"].when, facts), acts == "yes")

    def test_what_belongs_before_driving_comes_first_whatever_is_longest(self) -> None:
        visit = compose(chosen(job="install", method="sonar", port="none", link="radio", pressurised="yes"))
        plan = schedule(visit.steps, visit.before, {step.key: step.minutes[1] for step in visit.steps})
        phases = [visit.step(one.key).phase for one in plan.steps]
        first = [phase for phase in phases if phase in PHASES_FIRST]
        self.assertEqual(phases[: len(first)], sorted(first, key=PHASES_FIRST.index))

    def test_only_facts_that_matter_are_asked_for(self) -> None:
        facts = {**PLAIN, "job": "install", "method": "sonar", "port": "none", "link": "radio"}
        found = matters(facts, DATA, {"flammable": "yes", "pressurised": "yes", "potable": "no"})
        self.assertIn("seam", found)
        self.assertFalse({"double_wall", "long", "other_range", "splices"} & set(found))

    def test_parts_are_counted(self) -> None:
        visit = compose(chosen(job="install", method="rods", link="relay", power="mains", long="yes"))
        kit = dict(kit_of(visit, ["Two relays", "lock nut"]))
        self.assertEqual(kit["Rod"], 4)
        self.assertEqual(kit["Lock nut"], 16)
        self.assertEqual(kit["Two relays"], 1)
        self.assertNotIn("lock nut", kit)
        # A tool serves every step that asks for it.
        tools = {name for step in visit.steps for name in step.kit}
        used = {name for step in visit.steps for name, _ in step.parts}
        self.assertEqual({kit[name] for name in tools - used}, {1})


class Chosen(TestCase):
    def test_what_does_not_go_together_is_said_at_its_fact(self) -> None:
        facts = {**PLAIN, "job": "install", "method": "radar", "port": "spare"}
        with self.assertRaises(InputError) as refused:
            check_facts(facts, DATA, "propane")
        self.assertEqual([problem.where for problem in refused.exception.problems], ["facts.method"])
        self.assertEqual(check_facts({**facts, "method": "sonar", "port": "none"}, DATA, "propane")["opens"], "no")
        with self.assertRaises(InputError) as refused:
            check_facts({"job": "instal", "colour": "red"}, DATA, "diesel")
        wrong = {problem.where for problem in refused.exception.problems}
        self.assertTrue({"facts.job", "facts.method", "facts.colour", "facts.vessel"} <= wrong)

    def test_every_clash_is_said_of_the_fact_to_change(self) -> None:
        sound = {"pressurised": "no", "mount": "top", "method": "radar", "port": "spare", "opens": "yes"}
        sound |= {"link": "loop", "power": "loop"}
        self.assertEqual(clash(sound), [])
        for change, at in (
            ({"pressurised": "yes"}, ["method"]),
            ({"pressurised": "yes", "method": "float"}, []),
            ({"pressurised": "yes", "mount": "below", "port": "none", "opens": "no"}, []),
            ({"mount": "below", "opens": "no"}, ["port"]),
            ({"port": "none"}, ["port"]),
            ({"method": "rods"}, ["link"]),
            ({"link": "relay"}, ["link"]),
            ({"method": "rods", "link": "relay"}, []),
            ({"method": "rods", "link": "relay", "power": "battery"}, ["power"]),
            ({"power": "battery"}, []),
        ):
            self.assertEqual([fact for fact, _ in clash({**sound, **change})], at, change)

    def test_what_is_not_known_is_taken_as_flammable(self) -> None:
        self.assertEqual(hazards_of("mystery")["flammable"], "yes")


def steps(
    *rows: tuple[str, float, str, tuple[str, ...]],
) -> tuple[list[Step], dict[str, frozenset[str]], dict[str, float]]:
    """Make steps by hand: key, minutes, ``w`` for a wait, and what comes before."""
    made = [
        Step(key, "fit", key, key, key, "wait" if kind == "w" else "confirm", (m, m, m), after=after)
        for key, m, kind, after in rows
    ]
    return made, {s.key: frozenset(s.after) for s in made}, {s.key: s.minutes[1] for s in made}


class Waits(TestCase):
    """Worked by hand."""

    def test_a_cure_is_filled(self) -> None:
        # Bond 2, cure 10 by itself, then check 1; wiring 8 fits into the cure: 13, not 21.
        plan = schedule(
            *steps(
                ("bond", 2, "", ()), ("cure", 10, "w", ("bond",)), ("check", 1, "", ("cure",)), ("wire", 8, "", ())
            )
        )
        self.assertEqual((plan.minutes, plan.in_a_row, plan.critical), (13, 21, 13))
        self.assertEqual([one.key for one in plan.steps], ["bond", "cure", "wire", "check"])

    def test_two_waits_at_once(self) -> None:
        # Network 3 and cure 10 run side by side; both are begun before the long work.
        plan = schedule(*steps(
            ("wake", 1, "", ()), ("network", 3, "w", ("wake",)), ("bond", 2, "", ()), ("cure", 10, "w", ("bond",)),
            ("wire", 6, "", ()), ("see", 1, "", ("network", "cure")),
        ))  # fmt: skip
        self.assertEqual(plan.minutes, 13)
        self.assertEqual(plan.critical, 13)

    def test_the_hands_are_the_limit_where_there_is_no_wait(self) -> None:
        plan = schedule(*steps(("a", 4, "", ()), ("b", 5, "", ()), ("c", 6, "", ("a",))))
        self.assertEqual((plan.minutes, plan.critical), (15, 10))

    def test_a_wait_that_runs_has_its_rest_to_go(self) -> None:
        made, before, minutes = steps(("cure", 10, "w", ()), ("wire", 3, "", ()), ("see", 1, "", ("cure",)))
        self.assertEqual(schedule(made, before, minutes, {"cure": 4.0}).minutes, 5)

    def test_against_every_order(self) -> None:
        """The best of all orders in which one pair of hands could do it, on small random cases."""
        rng, best, off = random.Random(4), 0, 0.0
        for _ in range(150):
            rows = []
            for i in range(rng.randint(3, 6)):
                before = tuple(f"s{j}" for j in range(i) if rng.random() < 0.3)
                rows.append((f"s{i}", float(rng.randint(1, 9)), "w" if rng.random() < 0.35 else "", before))
            made, before_of, minutes = steps(*rows)
            found = schedule(made, before_of, minutes).minutes
            ideal = min(_run(order, before_of, minutes) for order in permutations(made))
            self.assertGreaterEqual(found, ideal - 1e-9)
            best += found <= ideal + 1e-9
            off = max(off, found / ideal)
        self.assertGreaterEqual(best, 140)
        self.assertLessEqual(off, 1.35)


def _run(order: tuple[Step, ...], before: dict[str, frozenset[str]], minutes: dict[str, float]) -> float:
    """How long one order takes: hands one after another, waits begun as soon as they may."""
    ends: dict[str, float] = {}
    hands = 0.0
    left = list(order)
    while left:
        step = next((s for s in left if s.waits and before[s.key] <= set(ends)), None)
        if step is None:
            step = next(s for s in left if not s.waits) if any(not s.waits for s in left) else left[0]
            if not before[step.key] <= set(ends):
                return float("inf")
        begin = max((ends[key] for key in before[step.key]), default=0.0)
        if not step.waits:
            begin = max(begin, hands)
            hands = begin + minutes[step.key]
        ends[step.key] = begin + minutes[step.key]
        left.remove(step)
    return max(ends.values())


class Minutes(TestCase):
    def test_nothing_seen_changes_nothing(self) -> None:
        self.assertEqual(learn((1, 2, 5), []), (1, 2, 5))

    def test_what_was_seen_moves_the_likely_and_widens_the_rest(self) -> None:
        low, likely, high = learn((1, 2, 5), [6, 7, 8])
        self.assertEqual((low, likely, high), (1, 4.5, 8))
        self.assertAlmostEqual(learn((1, 2, 5), [8.0] * 97)[1], 0.03 * 2 + 0.97 * 8)

    def test_the_finish_comes_nearer_as_it_goes(self) -> None:
        visit = compose(chosen(job="install", method="hydrostatic"))
        least, likely, most = three_finishes(visit, [], {}, {})
        self.assertLess(least.minutes, likely.minutes)
        self.assertLess(likely.minutes, most.minutes)
        later = three_finishes(visit, [step.key for step in visit.steps[:5]], {}, {})[1]
        self.assertLess(later.minutes, likely.minutes)


class OwnSteps(TestCase):
    ROW = {"key": "gate_key", "phase": "arrive", "title": "Fetch the yard's key", "instruction": "At the office.",
           "why": "The yard is locked.", "kind": "confirm", "minutes": [1, 3, 10], "after": ["arrived"]}  # fmt: skip

    def test_a_shops_step_joins(self) -> None:
        text = json.dumps({"format": FORMAT, "steps": [{**self.ROW, "when": {"vessel": "storage"}}]})
        steps = with_own(read_steps(text))
        self.assertIn("gate_key", [s.key for s in compose(chosen(job="check", method="radar"), steps).steps])
        self.assertNotIn(
            "gate_key", [s.key for s in compose(chosen(job="check", method="radar", vessel="tower"), steps).steps]
        )

    def test_what_is_wrong_is_named_at_its_key(self) -> None:
        for change, where in (
            ({"key": "dip"}, "steps[0].key"),
            ({"after": ["nowhere"]}, "steps[0].after"),
            ({"needs": ["luck"]}, "steps[0].needs"),
            ({"gives": ["vent"]}, "steps[0].gives"),
            ({"when": {"colour": "red"}}, "steps[0].when.colour"),
            ({"when": {"vessel": "barrel"}}, "steps[0].when.vessel"),
            ({"kind": "choose"}, "steps[0].options"),
            ({"minutes": [5, 3, 1]}, "steps[0].minutes"),
            ({"kind": "guess"}, "steps[0].kind"),
        ):
            with self.subTest(where), self.assertRaises(InputError) as refused:
                read_steps(json.dumps({"format": FORMAT, "steps": [{**self.ROW, **change}]}))
            self.assertIn(where, [problem.where for problem in refused.exception.problems])
        with self.assertRaises(InputError):
            read_steps("{")
        with self.assertRaises(InputError):
            read_steps(json.dumps({"format": "other/1", "steps": []}))
