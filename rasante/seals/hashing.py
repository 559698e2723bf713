"""How a record is hashed, and a seal linked to the one before: for models of today and of a migration alike."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime
from hashlib import sha256
from typing import Any

#: What stands before the first seal.
NOTHING = "0" * 64


def field_names(record: Any) -> list[str]:
    """Return the columns of a record, in the order of their names."""
    return sorted(field.attname for field in record._meta.concrete_fields)


def _hash(content: Any) -> str:
    # In ASCII: a record of an older version may hold half a character, and is sealed as it stands.
    text = json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=True, default=_written)
    return sha256(text.encode("ascii")).hexdigest()


def _written(value: Any) -> str:
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    raise TypeError(f"a seal does not know how to write {type(value).__name__}")


def digest_of(record: Any, names: list[str]) -> str:
    """Return the SHA-256 of some columns of a record, as hexadecimal digits.

    Parameters
    ----------
    record : Model
        As it stands in the database.
    names : list of str
        Its columns.
    """
    return _hash({name: getattr(record, name) for name in names})


def link_of(before: str, model: str, record: int, names: list[str], digest: str, sealed_at: datetime) -> str:
    """Return the SHA-256 of a seal with the link of the one before it."""
    return _hash([before, model, record, names, digest, sealed_at])


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
