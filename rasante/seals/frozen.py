"""What is written once: the models' part of never changing, beside the triggers of the database."""

from __future__ import annotations

from django.db import models

from ..core.quantities.errors import InputError


class FrozenQuerySet(models.QuerySet):
    """Sets of what never changes do not change either."""

    def _refuse(self):
        raise InputError.at("", self.model.NEVER)

    def update(self, **kwargs) -> int:
        """Refuse."""
        self._refuse()

    def bulk_update(self, objs, fields, batch_size=None) -> int:
        """Refuse."""
        self._refuse()

    def delete(self):
        """Refuse."""
        self._refuse()


class WrittenOnce(models.Model):
    """A record that is kept once and never changed; a model of such says why by its ``NEVER``."""

    NEVER = "this was written down once and never changes: make a new one"

    objects = FrozenQuerySet.as_manager()
    #: Which rows never change: all of them.
    frozen_when = models.Q()

    class Meta:
        abstract = True

    def save(self, *args, **kwargs) -> None:
        """Keep a new one; refuse to change one."""
        if self.pk:
            raise InputError.at("", self.NEVER)
        super().save(*args, **kwargs)

    def delete(self, *args, **kwargs):
        """Refuse."""
        raise InputError.at("", self.NEVER)
