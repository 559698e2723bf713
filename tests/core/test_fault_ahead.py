"""What is said before a reading is taken, against what is said once it is entered."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.faults.case_ahead import Branch, look_ahead
from rasante.core.faults.case_form import CaseForm, read_case
from tests.tags import slow

from .fault_cases import BARRIER, FARM, installations


class Ahead(TestCase):
    """What is said before the way up is what will be said once the reading is entered."""

    def entered(self, found: CaseForm, branch: Branch, row: int) -> dict[str, str] | None:
        """What is typed for a branch; None where it is a whole range."""
        test = found.advice.choices[0].test
        here = {f"rows[{row}].test": test.key}
        if test.outcomes:
            # The likelier of two is named first.
            return {**here, f"rows[{row}].outcome": branch.reads.split(" or ")[0].replace(" ", "-")}
        if branch.reads != "nothing" and (not branch.reads.startswith("about ") or " or " in branch.reads):
            return None
        return {**here, f"rows[{row}].value": branch.reads.removeprefix("about ")}

    @slow
    def test_as_the_page_says_it_afterwards(self) -> None:
        checked = 0
        ways = [(name, look, "") for name in installations() for look in ("live", "noisy")]
        for name, look, school in [*ways, (FARM, "frozen", "input"), (BARRIER, "live", "input")]:
            at = installations()[name]
            entries = {"rows[0].test": "look", "rows[0].outcome": look, "school": school}
            for row in (1, 2):
                found = read_case(entries, at, "metric")
                ahead = look_ahead(found, "metric", steps=1)
                typed = {}
                for branch in ahead:
                    more = self.entered(found, branch, row)
                    if more is None:
                        continue
                    then = read_case({**entries, **more}, at, "metric")
                    self.assertEqual(then.form.problems, [])
                    said = f"{name}, {look}, {school}: {more}"
                    self.assertEqual(branch.verdict, then.advice.verdict, said)
                    if branch.then is not None:
                        # What is typed is rounded: of tests that tell as much, another may go first.
                        first = next(one for one in then.advice.choices if one.test.key == branch.then.key)
                        best = then.advice.choices[0]
                        self.assertGreater(first.rate, 0.85 * best.rate - 1e-3, f"{said}, then {best.test.key}")
                    checked, typed = checked + 1, more
                entries |= typed
                if not typed:
                    break
        self.assertGreater(checked, 30)
