"""Looking through the database for text that cannot be shown, and mending it where it may be."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.db import DatabaseError, models, transaction

from .core.quantities.text import bad_places, mended

_TEXTS = (models.CharField, models.TextField, models.JSONField)


@dataclass(frozen=True)
class BadRow:
    """A row with text that cannot be kept: its model and key, the field, and where in it."""

    model: type[models.Model]
    pk: Any
    field: str
    place: str


def bad_rows() -> Iterator[BadRow]:
    """Find every row, of today and of the history, that holds a half character or a control sign."""
    for model in apps.get_models():
        fields = [one.attname for one in model._meta.concrete_fields if isinstance(one, _TEXTS)]
        if not fields:
            continue
        for pk, *values in model._base_manager.values_list("pk", *fields).iterator(chunk_size=500):
            for field, value in zip(fields, values, strict=True):
                place = next((where for where, _ in bad_places(value)), None)
                if place is not None:
                    yield BadRow(model, pk, field, f".{place}" if place else "")


def mend(row: BadRow) -> bool:
    """Replace what cannot be kept in a row; False where the row may never be changed."""
    value = row.model._base_manager.values_list(row.field, flat=True).get(pk=row.pk)
    try:
        with transaction.atomic():
            row.model._base_manager.filter(pk=row.pk).update(**{row.field: mended(value)})
    except DatabaseError:
        return False
    return next(bad_places(row.model._base_manager.values_list(row.field, flat=True).get(pk=row.pk)), None) is None
