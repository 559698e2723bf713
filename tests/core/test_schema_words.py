"""What a schema refuses, in words that a technician reads: every rule that the schemas use, at its key."""

from __future__ import annotations

import copy
import re
from typing import Any
from unittest import TestCase

from rasante.core.gauges.model import check_model, generic_models
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.schema_words import schema_problems, validator_of
from rasante.core.wiring.circuit import check_circuit, circuit_document
from rasante.core.wiring.circuit_kinds import read_wiring

THING = {
    "type": "object", "additionalProperties": False, "required": ["name", "size"],
    "properties": {
        "name": {"type": "string", "minLength": 1, "maxLength": 5, "pattern": "^[a-z]*$"},
        "size": {"type": "number", "minimum": 1, "maximum": 9}, "share": {"type": "number", "exclusiveMinimum": 0},
        "kind": {"enum": ["a", "b"]}, "format": {"const": "thing/1"}, "count": {"type": "integer"},
        "rows": {"type": "array", "items": {"type": ["string", "integer"]}, "maxItems": 3, "minItems": 1,
                 "uniqueItems": True},
        "inner": {"type": "object", "additionalProperties": False, "properties": {"on": {"type": "boolean"}}},
        "below": {"type": "number", "exclusiveMaximum": 5},
    },
}  # fmt: skip


def told(**changes: Any) -> dict[str, str]:
    document = {"name": "one", "size": 3, **changes}
    document = {key: value for key, value in document.items() if value is not ...}
    return {problem.where: problem.what for problem in schema_problems(validator_of(THING), document)}


class Words(TestCase):
    def test_nothing_wrong(self) -> None:
        self.assertEqual(
            told(kind="a", rows=["x", 2], inner={"on": True}, share=0.1, below=4.9, format="thing/1"), {}
        )

    def test_every_rule(self) -> None:
        for changes, where, words in (
            ({"size": ...}, "size", "is missing: it is required"),
            ({"colour": 3}, "colour", "this key is not known here; known are name, size"),
            ({"inner": {"off": 1}}, "inner.off", "this key is not known here; known are on"),
            ({"inner": {"on": "yes"}}, "inner.on", "must be true or false, not “yes”"),
            ({"inner": [1]}, "inner", "must be an object with keys, not a list"),
            ({"size": "x"}, "size", "must be a number, not “x”"), ({"size": True}, "size", "not true"),
            ({"size": None}, "size", "must be a number, not null"),
            ({"count": 1.5}, "count", "a whole number, not 1.5"),
            ({"size": 0}, "size", "is 0; it must be at least 1"), ({"size": 10}, "size", "it must be at most 9"),
            ({"share": 0}, "share", "it must be more than 0"), ({"below": 5}, "below", "it must be less than 5"),
            ({"kind": "c"}, "kind", "is “c”; known are a, b"), ({"kind": ["a"]}, "kind", "is a list; known are"),
            ({"format": "x"}, "format", "known are thing/1"), ({"name": ""}, "name", "must not be empty"),
            ({"name": "longer"}, "name", "has 6 characters; at most 5"), ({"name": "A1"}, "name", "is “A1”"),
            ({"rows": []}, "rows", "has 0 entries; it must have at least 1"),
            ({"rows": ["a", "b", "c", "d"]}, "rows", "has 4 entries; it must have at most 3"),
            ({"rows": ["a", "a"]}, "rows", "names something twice"),
            ({"rows": ["a", {}]}, "rows[1]", "must be text or a whole number, not an object"),
            ({"size": float("nan")}, "size", "must be a finite number"),
            ({"share": float("inf")}, "share", "must be a finite number"),
        ):  # fmt: skip
            with self.subTest(changes):
                found = told(**changes)
                self.assertIn(where, found)
                self.assertIn(words, found[where])

    def test_all_that_is_wrong_is_told_at_once(self) -> None:
        self.assertEqual(set(told(name=..., size=..., other=1)), {"name", "size", "other"})


class Documents(TestCase):
    """No word of the checker's own stands in what is told of a gauge model or a circuit."""

    JARGON = re.compile(
        r"is not of type|is not one of \[|Additional properties|is a required property|does not match|None|\{|\["
    )

    def problems(self, check: Any, document: Any) -> list[tuple[str, str]]:
        with self.assertRaises(InputError) as refused:
            check(document)
        return [(problem.where, problem.what) for problem in refused.exception.problems]

    def test_gauge_models(self) -> None:
        good = generic_models()[0]
        for key in good:
            for bad in ("x" * 200, -5e9, None, [], {"a": 1}, [None], float("nan")):
                document = {**copy.deepcopy(good), key: bad}
                try:
                    check_model(document)
                except InputError as error:
                    for problem in error.problems:
                        self.assertTrue(problem.where.startswith(key) or problem.where, problem)
                        self.assertIsNone(self.JARGON.search(problem.what), problem)
        self.assertIn(("wetted", "is missing: it is required"), self.problems(
            check_model, {key: value for key, value in good.items() if key != "wetted"}))  # fmt: skip
        self.assertEqual(self.problems(check_model, {**good, "colour": 1})[0][0], "colour")

    def test_circuits(self) -> None:
        good = circuit_document(read_wiring({"kind": "two_wire"}, "metric").circuit)
        for part in range(len(good["parts"])):
            for key in ("id", "kind", "values", "cores", "shielded", "name"):
                for bad in (3, [1], {"x": "y"}, None, float("inf")):
                    document = copy.deepcopy(good)
                    document["parts"][part][key] = bad
                    # A core by its number is a core.
                    if (key, bad) == ("cores", [1]):
                        continue
                    for where, what in self.problems(check_circuit, document):
                        self.assertTrue(where.startswith(("parts", "wires")), (where, what))
                        self.assertIsNone(self.JARGON.search(what), (where, what))
