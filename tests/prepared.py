"""Data folders that are made ready once for all processes of a run of the tests, to be copied from."""

from __future__ import annotations

import fcntl
import os
import shutil
import tempfile
from collections.abc import Mapping
from functools import cache
from multiprocessing.util import Finalize
from pathlib import Path

from .warm import begin, come_in, manage

#: Under which name a run hands its folder to the processes that it starts.
_NAMED = "RASANTE_PREPARED"
#: What is made from what, and by which commands.
_KINDS: Mapping[str, tuple[str, tuple[str, ...]]] = {
    "migrated": ("", ("migrate", "--verbosity", "0")),
    "demo": ("migrated", ("load_demo",)),
}
#: Beside a folder of the demo: the cookies of each of its people, signed in.
COOKIES = "cookies.json"
_PEOPLE = ("tech", "tech2", "lead")


def _home() -> Path:
    if _NAMED not in os.environ:
        os.environ[_NAMED] = tempfile.mkdtemp(prefix="rasante-prepared-")
        # Only the process that made it takes it away: those that it starts begin without what is registered here.
        Finalize(None, shutil.rmtree, (os.environ[_NAMED], True), exitpriority=1)
    return Path(os.environ[_NAMED])


# Here and now: workers are started later, and share it.
_home()


@cache
def prepared(kind: str) -> Path:
    """A data folder of a kind, ``migrated`` or ``demo``; whoever comes first makes it, others wait."""
    # Whoever has other settings hashes passwords otherwise, and reads none of these.
    home = _home() / os.environ.get("DJANGO_SETTINGS_MODULE", "rasante.settings")
    home.mkdir(exist_ok=True)
    made = home / kind
    with (home / f"{kind}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not made.exists():
            _make(kind, made)
    return made


def copy_of(kind: str, folder: str | Path) -> None:
    """Copy what was prepared into a folder, which may be there already."""
    shutil.copytree(prepared(kind), folder, dirs_exist_ok=True)


def _make(kind: str, made: Path) -> None:
    before, command = _KINDS[kind]
    making = made.with_suffix(".making")
    shutil.rmtree(making, ignore_errors=True)
    making.mkdir(mode=0o700)
    if before:
        copy_of(before, making)
    environment = {**os.environ, "RASANTE_DATA": str(making), "TZ": "UTC"}
    runs = [(manage, list(command))]
    if kind == "demo":
        runs.append((come_in, [str(made.parent / COOKIES), *_PEOPLE]))
    for run, arguments in runs:
        process = begin(run, arguments, environment)
        process.join()
        assert process.exitcode == 0, f"{arguments[0]} ended with {process.exitcode}"
    making.rename(made)


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
    prepared("demo")
