"""A circuit's file, handed out and taken in again: the same parts, values and wires, or told what would be lost."""

from __future__ import annotations

import copy
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.wiring.circuit import circuit_document
from rasante.core.wiring.circuit_choices import choices_of
from rasante.core.wiring.circuit_kinds import LINKS, read_wiring

TYPED = st.fixed_dictionaries(
    {"kind": st.sampled_from(sorted(LINKS))},
    optional={
        "fuse": st.sampled_from(["yes", "no"]), "barrier": st.sampled_from(["yes", "no"]),
        "meter": st.just("yes"), "calibrator": st.just("yes"), "input.mode": st.sampled_from(["active", "passive"]),
        "supply.nominal": st.sampled_from(["24 V", "12 V"]), "burden.ohm": st.sampled_from(["250 Ω", "120 Ω"]),
        "cable[0].length": st.sampled_from(["12.5 m", "300 ft"]), "cable[1].length": st.just("40 m"),
        "cable[0].size": st.sampled_from(["0.75 mm²", "18 AWG"]), "cable[0].name": st.just("Quay cable"),
        "shield": st.sampled_from(["panel", "both", "field"]), "output": st.sampled_from(["0-10", "1-5", "2-10"]),
        "sensor.lift_off": st.just("9 V"), "barrier.uo": st.just("28 V"), "sensor.ci": st.just("5 nF"),
        "fuse.rating": st.just("63 mA"), "input.ohm": st.just("100 Ω"),
    },
)  # fmt: skip


class AgainTheSame(TestCase):
    @given(TYPED)
    def test_whatever_was_chosen(self, entries: dict[str, str]) -> None:
        made = read_wiring(entries, "metric")
        again = read_wiring(choices_of(circuit_document(made.circuit)), "metric")
        self.assertEqual(again.form.problems, [])
        self.assertEqual(
            {part.id: part.kind for part in again.circuit.parts}, {part.id: part.kind for part in made.circuit.parts}
        )
        for part in made.circuit.parts:
            for key in part.values:
                self.assertAlmostEqual(again.circuit.part(part.id).value(key), part.value(key), places=9)
        self.assertEqual(
            {(wire.a, wire.b) for wire in again.circuit.wires}, {(wire.a, wire.b) for wire in made.circuit.wires}
        )

    def test_a_moved_end_and_a_loose_one(self) -> None:
        plain = read_wiring({"kind": "two_wire"}, "metric")
        first, second = plain.planned[1].id, plain.planned[2].id
        entries = {"kind": "two_wire", f"end.{first}.a": "supply.+", f"end.{second}.a": "nowhere",
                   "extra[0].a": "sensor.+", "extra[0].b": "sensor.−"}  # fmt: skip
        wired = read_wiring(entries, "metric").circuit
        again = read_wiring(choices_of(circuit_document(wired)), "metric").circuit
        self.assertEqual({(w.a, w.b) for w in again.wires}, {(w.a, w.b) for w in wired.wires})


class WhatWouldBeLost(TestCase):
    def document(self) -> dict:
        return copy.deepcopy(circuit_document(read_wiring({"kind": "two_wire"}, "metric").circuit))

    def refused(self, document: dict) -> str:
        with self.assertRaises(InputError) as refused:
            choices_of(document)
        return refused.exception.problems[0].what

    def test_a_part_that_no_choice_makes(self) -> None:
        document = self.document()
        document["parts"].append({"id": "second", "kind": "supply", "name": "Second supply"})
        self.assertIn("Second supply", self.refused(document))

    def test_a_leak(self) -> None:
        document = self.document()
        document["leaks"] = [{"a": "sensor.+", "b": "sensor.−", "ohm": 5000}]
        self.assertIn("leaks", self.refused(document))

    def test_an_output_that_nobody_knows(self) -> None:
        document = circuit_document(read_wiring({"kind": "three_wire"}, "metric").circuit)
        sensor = next(part for part in document["parts"] if part["id"] == "sensor")
        sensor["values"]["out_high_v"] = 7.5
        self.assertIn("7.5 V", self.refused(document))

    def test_nonsense_is_told_with_its_place(self) -> None:
        for spoil, where in (
            (lambda d: d["parts"][0].update(values=[1]), "parts[0].values"),
            (lambda d: d["parts"][0].update(kind=["a"]), "parts[0].kind"),
            (lambda d: d["parts"][-1].update(cores=3), "parts["),
            (lambda d: d["wires"].append(1), "wires["),
            (lambda d: d.update(format="other"), "format"),
        ):
            document = self.document()
            spoil(document)
            with self.assertRaises(InputError) as refused:
                choices_of(document)
            self.assertTrue(any(p.where.startswith(where) for p in refused.exception.problems), where)
        for nothing in (None, [], 3, "x"):
            with self.assertRaises(InputError):
                choices_of(nothing)
