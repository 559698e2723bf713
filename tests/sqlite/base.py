"""SQLite as Django has it; but a database for tests begins from one that was migrated once for all processes."""

from __future__ import annotations

import sqlite3
from contextlib import closing

from django.db.backends.sqlite3 import base
from django.db.backends.sqlite3.creation import DatabaseCreation as Creation

from tests.prepared import prepared
from tests.warm import get_ready


class DatabaseCreation(Creation):
    """Makes databases for tests."""

    def _create_test_db(self, verbosity: int, autoclobber: bool, keepdb: bool = False) -> str:
        name: str = super()._create_test_db(verbosity, autoclobber, keepdb)
        self.connection.close()
        self.connection.settings_dict["NAME"] = name
        self.connection.ensure_connection()
        # In memory: it stays open, and what is migrated afterwards is nothing but what came since.
        with closing(sqlite3.connect(prepared("migrated") / "rasante.sqlite3")) as made:
            made.backup(self.connection.connection)
        # The workers that are forked next begin what they begin from one process.
        get_ready()
        return name


class DatabaseWrapper(base.DatabaseWrapper):
    """A connection."""

    creation_class = DatabaseCreation
