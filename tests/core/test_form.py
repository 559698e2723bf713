"""Fields of a form: what stands in them where nothing is typed, and what is made of what is."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.form import Form, FormField, usual_text


def length(typed: str, start: str) -> FormField:
    form = Form({"a": typed}, "metric", {"a": start})
    form.quantity("a", "length", 0.0, 1.0)
    return form.fields["a"]


class Starts(TestCase):
    def test_what_stands_in_is_no_reading_and_what_is_typed_goes_before_it(self) -> None:
        stands = length(" ", "5 mm")
        self.assertEqual((stands.state, stands.usual, stands.kept), ("empty", "5 mm", ""))
        typed = length("7", "5 mm")
        self.assertEqual((typed.state, typed.usual, typed.kept), ("read", "5 mm", "7 mm"))

    def test_what_is_beyond_its_bounds_is_wrong_whoever_put_it_there(self) -> None:
        for entries in (("2 m", "5 mm"), ("", "2 m")):
            wrong = length(*entries)
            self.assertEqual(wrong.state, "wrong", entries)
            self.assertIn("1000 mm", wrong.problem)

    def test_what_stands_in_is_written_as_people_write_it(self) -> None:
        for ohm, text in ((250.0, "250 Ω"), (999.0, "999 Ω"), (1000.0, "1 kΩ"), (1e6, "1 MΩ")):
            self.assertEqual(usual_text(ohm, "resistance", "metric"), text)
        # Only of resistance are a thousand a kilo.
        self.assertEqual(usual_text(12.5, "length", "metric"), "12500 mm")
        self.assertEqual(usual_text(2500.0, "pressure", "metric"), "0.025 bar")
