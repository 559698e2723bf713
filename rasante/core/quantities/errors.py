"""The one family of errors that the core raises for input it cannot accept."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """One thing wrong with one input.

    Parameters
    ----------
    where : str
        The key or field, as a dotted path (``shape.diameter_mm``); empty for the input as a whole.
    what : str
        What is wrong and what to do about it, as a sentence a technician can act on.
    """

    where: str
    what: str

    def __str__(self) -> str:
        return f"{self.where}: {self.what}" if self.where else self.what


class InputError(ValueError):
    """Input that cannot be accepted, with every problem found in it.

    Parameters
    ----------
    *problems : Problem
        At least one.
    """

    def __init__(self, *problems: Problem) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))

    @classmethod
    def at(cls, where: str, what: str) -> InputError:
        """Make the error for a single problem."""
        return cls(Problem(where, what))

    def under(self, prefix: str) -> InputError:
        """Return the same error with every place moved under `prefix`."""
        return InputError(*(Problem(f"{prefix}.{p.where}" if p.where else prefix, p.what) for p in self.problems))
