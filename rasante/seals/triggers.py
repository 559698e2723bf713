"""Triggers by which the database itself refuses to change or delete what is frozen."""

from __future__ import annotations

from django.db import migrations

_GUARD = """
CREATE TRIGGER {table}_{verb} BEFORE {verb} ON {table} {when}
BEGIN SELECT RAISE(ABORT, '{why}'); END;
"""


def guards(table: str, why: str, when: str = "") -> list[migrations.RunSQL]:
    """Return the operations of a migration that guard a table.

    Parameters
    ----------
    table, why : str
        The table, and what is said to whoever tries.
    when : str
        For instance ``WHEN OLD.state = 'signed'``; nothing for every row.
    """
    return [
        migrations.RunSQL(_GUARD.format(table=table, verb=verb, when=when, why=why), f"DROP TRIGGER {table}_{verb}")
        for verb in ("UPDATE", "DELETE")
    ]


def seal_rows(app: str, model: str, order: str, **frozen):
    """Return the operation of a migration that seals what was frozen before there were seals.

    Parameters
    ----------
    app, model : str
        The model.
    order : str
        The column by which its rows came about.
    **frozen
        Which rows are.
    """

    def put(apps, schema_editor):
        from django.utils import timezone

        from .hashing import make_seal

        for record in apps.get_model(app, model)._base_manager.filter(**frozen).order_by(order, "pk"):
            make_seal(apps.get_model("seals", "Seal"), record, timezone.now())

    return migrations.RunPython(put, migrations.RunPython.noop)
