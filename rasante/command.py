"""How a command ends that could not do what it was told."""

from __future__ import annotations

import sys
from typing import NoReturn


def fail(message: str) -> NoReturn:
    """End with a word on the terminal, as for bad arguments."""
    print(f"rasante: {message}", file=sys.stderr)
    raise SystemExit(2)
