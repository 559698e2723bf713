"""Text that can be kept: every sign on its own side of the line, places by path, nesting by its brackets."""

from __future__ import annotations

import json
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.quantities.text import bad_at, bad_numbers, bad_places, depth_of, mended, refuse_what_cannot_be_kept

#: Anything that JSON can hold, lone surrogates included.
VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-9, 9) | st.text(st.characters(exclude_categories=[]), max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=3), inner, max_size=3),
    max_leaves=12,
)


class Signs(TestCase):
    def test_each_on_its_own_side(self) -> None:
        for bad in ("\ud800", "\udfff", "\x00", "\x08", "\x0b", "\x0c", "\x0e", "\x1f", "\x7f"):
            self.assertEqual(bad_at(f"ab{bad}"), 3, ascii(bad))
        for good in ("", " ", "\t", "\n", "\r", "~", "\x80", "\u202f", "\ud7ff", "\ue000", "\ufffd", "😀"):
            self.assertIsNone(bad_at(f"ab{good}"), ascii(good))

    def test_places(self) -> None:
        value = {"a": ["x", {"b": "\x00"}], "c\ud800": "fine", "d": "\x7f"}
        self.assertEqual(list(bad_places(value)), [("a[1].b", 1), ("c\ufffd", 2), ("d", 1)])
        with self.assertRaises(InputError) as refused:
            refuse_what_cannot_be_kept(value)
        self.assertEqual([problem.where for problem in refused.exception.problems], ["a[1].b", "c\ufffd", "d"])
        self.assertEqual(list(bad_places("\x00")), [("", 1)])

    def test_a_flood_of_them_is_told_in_part(self) -> None:
        with self.assertRaises(InputError) as refused:
            refuse_what_cannot_be_kept(["\x00"] * 500)
        self.assertEqual(len(refused.exception.problems), 20)

    @given(VALUES)
    def test_what_is_mended_can_be_kept_and_what_can_is_as_it_was(self, value: object) -> None:
        again = mended(value)
        self.assertEqual(list(bad_places(again)), [])
        json.dumps(again, ensure_ascii=False).encode()
        if not list(bad_places(value)):
            self.assertEqual(again, value)
            if not list(bad_numbers(value)):
                refuse_what_cannot_be_kept(value)

    def test_numbers_beyond_what_every_reader_takes(self) -> None:
        # RFC 8259, section 6: whole numbers are the same to all within ± (2**53 − 1).
        value = {"a": [2**53 - 1, 2**53, True], "b": {"c": -(10**30)}, "d": float("inf"), "e": 1e308}
        self.assertEqual(list(bad_numbers(value)), ["a[1]", "b.c", "d"])
        with self.assertRaises(InputError) as refused:
            refuse_what_cannot_be_kept(value)
        self.assertIn("too large", refused.exception.problems[0].what)


class Nesting(TestCase):
    def test_by_its_brackets(self) -> None:
        for text, depth in (
            ("", 0),
            ("1", 0),
            ("[]", 1),
            ("[[1],[2]]", 2),
            ('{"a":[{"b":1}]}', 3),
            ('"[[[["', 0),
            ('["\\"[[", [1]]', 2),
            ("[" * 300, 300),
            ("]]]][", 0),
        ):
            with self.subTest(text[:20]):
                self.assertEqual(max(depth_of(text), 0), depth)
