"""Backups: the whole installation in one file, made while it runs, and put back.

A backup is a ZIP with the database as SQLite's own backup copies it, the secret key, and a list of what is in it: how
many rows every table has and the hash of every file. It is opened and counted before it is called made.
"""

from __future__ import annotations

import fcntl
import json
import re
import sqlite3
import tempfile
import threading
import time
import zipfile
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime, timedelta
from hashlib import sha256
from pathlib import Path
from typing import IO, Any

DATABASE, KEY, LIST = "rasante.sqlite3", "secret_key", "backup.json"
FORMAT = "rasante.backup/1"
#: How often the nightly one is looked after [s], and how old the last may be before the next is made.
_LOOK, _NIGHT = 900, timedelta(hours=24)
_NIGHTLY = re.compile(r"nightly-\d{8}-\d{6}\.zip")


class BackupError(Exception):
    """A backup that cannot be made or put back; its text says why and what to do."""


def _counts(database: Path) -> dict[str, int]:
    """Count the rows of every table, after SQLite has looked through the whole file."""
    with closing(sqlite3.connect(f"{database.as_uri()}?mode=ro", uri=True)) as connection:
        sound = connection.execute("PRAGMA integrity_check").fetchone()[0]
        if sound != "ok":
            raise BackupError(f"SQLite finds the database damaged: {sound}")
        names = [row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for name in sorted(names)}


def _hash(path: Path) -> str:
    with path.open("rb") as file:
        return sha256(file.read()).hexdigest()


def make_backup(data: Path, target: Path) -> dict[str, Any]:
    """Copy an installation into one file; it may be running.

    Parameters
    ----------
    data : Path
        The installation's data folder.
    target : Path
        The file to be made; one that is there already is never written over.

    Returns
    -------
    dict
        The list that lies in it: ``made_at``, ``rows`` by table, ``files`` with their hashes.

    Raises
    ------
    BackupError
        If there is nothing to copy, no room, or the copy does not hold what the database holds.
    """
    if not (data / DATABASE).exists():
        raise BackupError(f"there is no database in {data}")
    if target.exists():
        raise BackupError(f"{target} is there already: give another name")
    try:
        with tempfile.TemporaryDirectory(dir=target.parent) as folder:
            copy = Path(folder) / DATABASE
            with closing(sqlite3.connect(data / DATABASE)) as live, closing(sqlite3.connect(copy)) as into:
                live.backup(into)
                # As a single file, without the log beside it.
                into.execute("PRAGMA journal_mode=DELETE")
            made = {"format": FORMAT, "made_at": datetime.now(UTC).isoformat(), "rows": _counts(copy)}
            files = {DATABASE: copy, KEY: data / KEY}
            made["files"] = {name: _hash(path) for name, path in files.items() if path.exists()}
            half = Path(folder) / "backup.zip"
            half.touch(mode=0o600)
            with zipfile.ZipFile(half, "w", zipfile.ZIP_DEFLATED) as packed:
                for name in made["files"]:
                    packed.write(files[name], name)
                packed.writestr(LIST, json.dumps(made, indent=1))
            read_backup(half)
            half.rename(target)
    except OSError as error:
        raise BackupError(f"{target}: {error.strerror or error}") from error
    (data / "last_backup").write_text(json.dumps({"made_at": made["made_at"], "file": str(target)}))
    return made


def read_backup(file: Path, into: Path | None = None) -> dict[str, Any]:
    """Open a backup and see that all is in it, row by row of the count and byte by byte of the hash.

    Parameters
    ----------
    file : Path
        The backup.
    into : Path, optional
        A folder to unpack it to; nothing is left anywhere without it.

    Raises
    ------
    BackupError
        If it is no backup, or not whole.
    """
    try:
        with zipfile.ZipFile(file) as packed, tempfile.TemporaryDirectory() as folder:
            listed = json.loads(packed.read(LIST))
            if listed.get("format") != FORMAT:
                raise BackupError(f"{file} was made by another version: {listed.get('format')}")
            place = into or Path(folder)
            for name, expected in listed["files"].items():
                if name not in (DATABASE, KEY):
                    raise BackupError(f"{file} holds {name[:60]}, which is no part of an installation")
                path = place / name
                path.touch(mode=0o600)
                path.write_bytes(packed.read(name))
                if _hash(path) != expected:
                    raise BackupError(f"{file}: {name} is not what was backed up")
            if _counts(place / DATABASE) != listed["rows"]:
                raise BackupError(f"{file}: the database has other rows than were backed up")
            return listed
    except (zipfile.BadZipFile, KeyError, ValueError, sqlite3.DatabaseError) as error:
        raise BackupError(f"{file} is no backup of Rasante, or only part of one") from error
    except OSError as error:
        raise BackupError(f"{file}: {error.strerror or error}") from error


def restore_backup(file: Path, data: Path) -> tuple[dict[str, Any], Path | None]:
    """Put a backup in the place of an installation that is stopped; what was there is set aside.

    Parameters
    ----------
    file, data : Path
        The backup, and the data folder.

    Returns
    -------
    dict, Path or None
        What is in it, and the folder to which what was there before was moved.

    Raises
    ------
    BackupError
        If the backup is not whole, or the installation is running.
    """
    data.mkdir(parents=True, exist_ok=True, mode=0o700)
    with hold(data, alone=True), tempfile.TemporaryDirectory(dir=data) as folder:
        listed = read_backup(file, Path(folder))
        aside = None
        if (data / DATABASE).exists():
            aside = data / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"
            aside.mkdir(mode=0o700)
            for name in (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", KEY):
                if (data / name).exists():
                    (data / name).rename(aside / name)
        for name in listed["files"]:
            (Path(folder) / name).rename(data / name)
    return listed, aside


def hold(data: Path, alone: bool = False) -> IO[str]:
    """Hold a data folder while something works on it; it is let go with the file that is returned.

    Parameters
    ----------
    data : Path
        The data folder.
    alone : bool
        Whether nobody else may hold it: a server does not mind another, a restoring does.

    Raises
    ------
    BackupError
        If it is held so that it cannot be.
    """
    file = (data / "in_use").open("w")
    try:
        fcntl.flock(file, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
    except OSError as error:
        file.close()
        what = "the server is running: stop it first, then restore" if alone else "a backup is being restored: wait"
        raise BackupError(what) from error
    return file


def folder_of(data: Path) -> Path:
    """Return the folder of the backups that are made by themselves."""
    folder = data / "backups"
    folder.mkdir(exist_ok=True, mode=0o700)
    return folder


def nightlies(data: Path) -> list[Path]:
    """Return the nightly backups, the oldest first; what else lies beside them is none."""
    return sorted(path for path in folder_of(data).glob("nightly-*.zip") if _NIGHTLY.fullmatch(path.name))


def last_backup(data: Path) -> datetime | None:
    """Return when the last backup was made, wherever it went."""
    try:
        return datetime.fromisoformat(json.loads((data / "last_backup").read_text())["made_at"])
    except (OSError, ValueError, KeyError):
        return None


def look_after_nightly(data: Path, days: int, now: datetime | None = None) -> Path | None:
    """Make the nightly backup if the last is a day old, and drop those that are older than `days`.

    Parameters
    ----------
    data : Path
        The data folder.
    days : int
        How long they are kept.
    now : datetime, optional
        The time; that of the clock without it.
    """
    now = now or datetime.now(UTC)
    made = None
    there = nightlies(data)
    if not there or _made_at(there[-1]) <= now - _NIGHT:
        made = folder_of(data) / f"nightly-{now:%Y%m%d-%H%M%S}.zip"
        make_backup(data, made)
    for old in nightlies(data)[:-1]:
        if _made_at(old) < now - timedelta(days=days):
            old.unlink()
    return made


def _made_at(nightly: Path) -> datetime:
    return datetime.strptime(nightly.stem.removeprefix("nightly-"), "%Y%m%d-%H%M%S").replace(tzinfo=UTC)


def keep_nightlies(data: Path, days: int) -> threading.Thread:
    """Look after the nightly backups from now on, beside the server."""

    def run() -> None:
        for _ in _forever():
            try:
                look_after_nightly(data, days)
            except (BackupError, OSError, sqlite3.Error) as error:
                print(f"rasante: no backup could be made: {error}", flush=True)

    thread = threading.Thread(target=run, daemon=True, name="nightly backups")
    thread.start()
    return thread


def _forever() -> Iterator[None]:
    while True:
        yield
        time.sleep(_LOOK)
