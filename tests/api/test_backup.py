"""Backups: made while others write, whole or none, put back, made by themselves at night and before an upgrade."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import tempfile
import threading
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import TestCase

from rasante.backup import (
    DATABASE,
    BackupError,
    hold,
    last_backup,
    look_after_nightly,
    make_backup,
    nightlies,
    read_backup,
    restore_backup,
)
from tests.prepared import copy_of
from tests.tags import slow
from tests.warm import begin, call, rasante


class Backups(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name) / "data"
        self.data.mkdir()
        self.out = Path(folder.name) / "out"
        self.out.mkdir()
        (self.data / "secret_key").write_text("a secret")
        with closing(sqlite3.connect(self.data / DATABASE)) as made:
            made.execute("PRAGMA journal_mode=WAL")
            made.execute("CREATE TABLE one (number INTEGER)")
            made.execute("CREATE TABLE other (number INTEGER)")
            made.commit()

    def rows(self, data: Path) -> list[int]:
        with closing(sqlite3.connect(data / DATABASE)) as connection:
            return [row[0] for row in connection.execute("SELECT number FROM one ORDER BY number")]

    def write(self, number: int) -> None:
        with closing(sqlite3.connect(self.data / DATABASE, timeout=30)) as connection:
            connection.execute("INSERT INTO one VALUES (?)", [number])
            connection.execute("INSERT INTO other VALUES (?)", [number])
            connection.commit()

    def test_made_while_others_write_it_holds_whole_writings_alone(self) -> None:
        ended = threading.Event()

        def keep_writing() -> None:
            number = 0
            while not ended.is_set():
                self.write(number)
                number += 1

        writer = threading.Thread(target=keep_writing)
        writer.start()
        try:
            made = [make_backup(self.data, self.out / f"{number}.zip") for number in range(4)]
        finally:
            ended.set()
            writer.join()
        for one in made:
            self.assertEqual(one["rows"]["one"], one["rows"]["other"])
        self.assertGreater(len(self.rows(self.data)), 0)
        self.assertEqual((self.out / "0.zip").stat().st_mode & 0o777, 0o600)

    def test_put_back_it_is_what_it_was_and_the_old_is_set_aside(self) -> None:
        self.write(1)
        make_backup(self.data, self.out / "a.zip")
        self.write(2)
        (self.data / "secret_key").write_text("another")
        _, aside = restore_backup(self.out / "a.zip", self.data)
        assert aside is not None
        self.assertEqual((self.rows(self.data), self.rows(aside)), ([1], [1, 2]))
        self.assertEqual((self.data / "secret_key").read_text(), "a secret")
        # On another machine there is nothing to set aside.
        other = self.out / "elsewhere" / "data"
        self.assertIsNone(restore_backup(self.out / "a.zip", other)[1])
        self.assertEqual(self.rows(other), [1])

    def test_what_is_not_whole_is_refused_and_changes_nothing(self) -> None:
        self.write(1)
        make_backup(self.data, self.out / "a.zip")
        whole = (self.out / "a.zip").read_bytes()
        (self.out / "half.zip").write_bytes(whole[: len(whole) // 2])
        (self.out / "text.zip").write_text("no zip")
        self.repacked("edited.zip", lambda name, content: content.replace(b"a secret", b"no secret"))
        self.repacked("named.zip", lambda name, content: content.replace(b'"secret_key"', b'"../../key"'))
        for name in ("half.zip", "text.zip", "edited.zip", "named.zip", "none.zip"):
            with self.subTest(name), self.assertRaises(BackupError):
                restore_backup(self.out / name, self.data)
        self.assertEqual(self.rows(self.data), [1])
        with self.assertRaisesRegex(BackupError, "there already"):
            make_backup(self.data, self.out / "a.zip")
        self.assertEqual((self.out / "a.zip").read_bytes(), whole)

    def repacked(self, name: str, change) -> None:
        with zipfile.ZipFile(self.out / "a.zip") as old, zipfile.ZipFile(self.out / name, "w") as new:
            for part in old.namelist():
                new.writestr(part, change(part, old.read(part)))

    def test_a_running_server_is_not_taken_from_under(self) -> None:
        make_backup(self.data, self.out / "a.zip")
        with hold(self.data), hold(self.data), self.assertRaisesRegex(BackupError, "stop it first"):
            restore_backup(self.out / "a.zip", self.data)
        with hold(self.data, alone=True), self.assertRaisesRegex(BackupError, "being restored"):
            hold(self.data)
        restore_backup(self.out / "a.zip", self.data)

    def test_a_damaged_database_is_no_backup(self) -> None:
        for number in range(20):
            self.write(number)
        with closing(sqlite3.connect(self.data / DATABASE)) as connection:
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        content = bytearray((self.data / DATABASE).read_bytes())
        content[4096:8192] = bytes(4096)
        (self.data / DATABASE).write_bytes(content)
        with self.assertRaises((BackupError, sqlite3.DatabaseError)):
            make_backup(self.data, self.out / "a.zip")
        self.assertFalse((self.out / "a.zip").exists())

    def test_one_a_night_kept_for_so_many_days(self) -> None:
        start = datetime(2026, 3, 1, 2, 0, tzinfo=UTC)
        self.assertIsNone(last_backup(self.data))
        for hour in range(0, 24 * 6, 5):
            look_after_nightly(self.data, 3, start + timedelta(hours=hour))
        (self.data / "backups" / "nightly-of-ours.zip").write_text("put there by hand")
        look_after_nightly(self.data, 3, start + timedelta(days=7))
        days = [path.name[8:16] for path in nightlies(self.data)]
        self.assertEqual(days[-1], "20260308")
        self.assertLessEqual(len(days), 5)
        self.assertEqual(len(set(days)), len(days))
        self.assertIsNotNone(last_backup(self.data))
        for path in nightlies(self.data):
            read_backup(path)


@slow
class ByTheCommand(TestCase):
    def call(self, data: str, *arguments: str) -> str:
        environment = {**os.environ, "RASANTE_DATA": data}
        environment.pop("DJANGO_SETTINGS_MODULE", None)
        done = call(list(arguments), environment, "a-long-enough-one\n")
        done.check_returncode()
        return done.stdout

    def test_a_server_that_runs_holds_its_data(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            data, file = f"{folder}/data", f"{folder}/a.zip"
            copy_of("migrated", data)
            self.call(data, "person", "ann", "--name", "Ann Ash")
            self.call(data, "backup", file)
            environment = {**os.environ, "RASANTE_DATA": data}
            environment.pop("DJANGO_SETTINGS_MODULE", None)
            read, write = os.pipe()
            with Path(os.devnull).open("r+b") as nothing, os.fdopen(read) as says:
                streams = (nothing.fileno(), write, nothing.fileno())
                server = begin(rasante, ["serve", "--port", "0", "--backup-days", "0"], environment, streams)
                os.close(write)
                heard = says.readline()
            try:
                self.assertIn("Rasante on http", heard)
                with self.assertRaises(subprocess.CalledProcessError) as refused:
                    self.call(data, "restore", file)
                self.assertIn("stop it first", refused.exception.stderr)
            finally:
                server.terminate()
                server.join()
            self.assertIn("holds what was backed up", self.call(data, "restore", file))

    def test_backed_up_restored_and_upgraded(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            first, second, file = (f"{folder}/{name}" for name in ("first", "second", "a.zip"))
            copy_of("migrated", first)
            self.call(first, "person", "ann", "--name", "Ann Ash")
            self.assertIn("opened and counted", self.call(first, "backup", file))
            self.assertIn("holds what was backed up", self.call(second, "restore", file))
            self.assertIn("as it was", self.call(second, "check"))
            with closing(sqlite3.connect(f"{second}/{DATABASE}")) as database:
                self.assertEqual(database.execute("SELECT username FROM auth_user").fetchall(), [("ann",)])
                # As an older version left it: the newest of its migrations is still to come.
                database.execute("DELETE FROM django_migrations WHERE app = 'board'")
                database.execute("DROP TABLE board_call")
                database.execute("DROP TABLE board_standing")
                database.commit()
            self.assertIn("as it was it lies in", self.call(second, "check"))
            (kept,) = Path(second, "backups").glob("before-upgrade-*.zip")
            self.assertEqual(read_backup(kept)["rows"]["auth_user"], 1)
            self.assertNotIn("board_call", read_backup(kept)["rows"])
