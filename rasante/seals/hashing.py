"""How a record is hashed, and a seal linked to the one before: for models of today and of a migration alike."""

from __future__ import annotations

from datetime import datetime
from hashlib import sha256
from typing import Any

import orjson

#: What stands before the first seal.
NOTHING = "0" * 64


def field_names(record: Any) -> list[str]:
    """Return the columns of a record, in the order of their names."""
    return sorted(field.attname for field in record._meta.concrete_fields)


def digest_of(record: Any, names: list[str]) -> str:
    """Return the SHA-256 of some columns of a record, as hexadecimal digits.

    Parameters
    ----------
    record : Model
        As it stands in the database.
    names : list of str
        Its columns.
    """
    content = {name: getattr(record, name) for name in names}
    return sha256(orjson.dumps(content, option=orjson.OPT_SORT_KEYS | orjson.OPT_UTC_Z)).hexdigest()


def link_of(before: str, model: str, record: int, names: list[str], digest: str, sealed_at: datetime) -> str:
    """Return the SHA-256 of a seal with the link of the one before it."""
    parts = [before, model, record, names, digest, sealed_at]
    return sha256(orjson.dumps(parts, option=orjson.OPT_UTC_Z)).hexdigest()


def make_seal(seals: Any, record: Any, sealed_at: datetime) -> Any:
    """Put a seal over a record that is frozen from now on.

    Parameters
    ----------
    seals : type
        The model of the seals, of today or of a migration.
    record : Model
        As it stands in the database.
    sealed_at : datetime
        When.
    """
    last = seals._base_manager.order_by("-pk").values_list("link", flat=True).first() or NOTHING
    names, model = field_names(record), record._meta.label
    digest = digest_of(record, names)
    link = link_of(last, model, record.pk, names, digest, sealed_at)
    return seals._base_manager.create(
        model=model, record=record.pk, fields=names, digest=digest, link=link, sealed_at=sealed_at
    )
