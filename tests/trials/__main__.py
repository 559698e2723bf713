"""Run the trials that are named, or all."""

from __future__ import annotations

import os
import random
import sys
from collections.abc import Callable

from .bodies import bad_bodies
from .contract import contract
from .edits import edits
from .faults import faults
from .kills import kills
from .readings import readings
from .strength import strength

TRIALS: dict[str, Callable[[], str]] = {
    "contract": contract,
    "bodies": bad_bodies,
    "kills": kills,
    "edits": edits,
    "readings": readings,
    "strength": strength,
    "faults": faults,
}


def main() -> int:
    seed = int(os.environ.get("SEED", random.randrange(10**6)))
    random.seed(seed)
    print(f"SEED={seed}")
    wrong = 0
    for name in sys.argv[1:] or TRIALS:
        try:
            print(f"{name}: {TRIALS[name]()}", flush=True)
        except AssertionError as error:
            wrong += 1
            print(f"{name}: NOT HELD: {error}", flush=True)
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
