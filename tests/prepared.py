"""Data folders that are made ready once for all processes of a run of the tests, to be copied from."""

from __future__ import annotations

import fcntl
import gzip
import os
import shutil
import sqlite3
import sys
import tempfile
from collections.abc import Mapping
from contextlib import closing
from functools import cache
from multiprocessing.util import Finalize
from pathlib import Path

from .warm import begin, call, come_in, manage

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
#: A database as the code before the rooms were moved made it; and who is added to it, with a password, to sign in.
BEFORE_ROOMS = Path(__file__).parent / "api" / "data" / "database_before_rooms.sql.gz"
LATER = ("later", "harbour-wall-7")


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
    """A data folder of a kind, ``migrated``, ``demo`` or ``before_rooms``; the first makes it, others wait."""
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
    making = made.with_suffix(".making")
    shutil.rmtree(making, ignore_errors=True)
    making.mkdir(mode=0o700)
    environment = {**os.environ, "RASANTE_DATA": str(making), "TZ": "UTC"}
    if kind == "before_rooms":
        _bring_up(making, environment)
    else:
        _run(kind, made, making, environment)
    making.rename(made)


def _run(kind: str, made: Path, making: Path, environment: Mapping[str, str]) -> None:
    before, command = _KINDS[kind]
    if before:
        copy_of(before, making)
    runs = [(manage, list(command))]
    if kind == "demo":
        runs.append((come_in, [str(made.parent / COOKIES), *_PEOPLE]))
    for run, arguments in runs:
        process = begin(run, arguments, environment)
        process.join()
        assert process.exitcode == 0, f"{arguments[0]} ended with {process.exitcode}"


def _bring_up(making: Path, environment: Mapping[str, str]) -> None:
    """Bring an old database up to date as whoever keeps the server would: with the first command that is given."""
    with closing(sqlite3.connect(making / "rasante.sqlite3")) as connection:
        connection.executescript(gzip.decompress(BEFORE_ROOMS.read_bytes()).decode())
    name, password = LATER
    added = call(["person", name, "--name", "Una Fell", "--role", "lead"], environment, f"{password}\n")
    assert added.returncode == 0, added.stderr


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
    for named in sys.argv[1:]:
        prepared(named)
