"""What can be done with seals: put over a record, and looked through."""

from __future__ import annotations

from collections.abc import Iterator

from django.apps import apps
from django.db import models, transaction
from django.utils import timezone

from .hashing import NOTHING, digest_of, link_of, make_seal
from .models import Seal


@transaction.atomic
def seal(record: models.Model) -> Seal:
    """Put a seal over a record that was just frozen; part of the same transaction.

    Parameters
    ----------
    record
        A saved record of a model that says by ``frozen_when`` which of its rows never change.
    """
    return make_seal(Seal, type(record)._base_manager.get(pk=record.pk), timezone.now())


def head() -> tuple[int, str]:
    """Return how many seals there are, and the link of the last."""
    last = Seal.objects.order_by("-pk").first()
    return Seal.objects.count(), last.link if last is not None else NOTHING


def _frozen() -> Iterator[models.Model]:
    """Every row that is said never to change."""
    for model in apps.get_models():
        when = getattr(model, "frozen_when", None)
        if when is not None:
            yield from model._base_manager.filter(when).order_by("pk").iterator(chunk_size=200)


def broken_seals() -> Iterator[str]:
    """Tell what does not hold: seals that were changed or taken out, records that differ, are gone or have none."""
    before = NOTHING
    sealed = set()
    for one in Seal.objects.order_by("pk").iterator(chunk_size=500):
        sealed.add((one.model, one.record))
        link = link_of(before, one.model, one.record, one.fields, one.digest, one.sealed_at)
        if link != one.link:
            yield f"{one} was changed, or one before it was taken out"
        before = one.link
        record = apps.get_model(one.model)._base_manager.filter(pk=one.record).first()
        if record is None:
            yield f"{one.model} {one.record} is gone; {one} was put over it on {one.sealed_at:%Y-%m-%d}"
        elif digest_of(record, one.fields) != one.digest:
            yield f"{one.model} {one.record} is not what was sealed on {one.sealed_at:%Y-%m-%d}"
    for record in _frozen():
        if (record._meta.label, record.pk) not in sealed:
            yield f"{record._meta.label} {record.pk} was never sealed: it came in by another way than the application"
