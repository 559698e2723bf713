"""What can be done with sites."""

from __future__ import annotations

from django.db import transaction

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from .models import Site


def _named(name: str, itself: Site | None = None) -> str:
    name = name.strip()
    if not name:
        raise InputError.at("name", "a site needs a name")
    others = Site.objects.filter(name__iexact=name)
    if itself is not None:
        others = others.exclude(pk=itself.pk)
    if others.exists():
        raise InputError.at("name", f"there is a site {name} already: choose it, or tell the two apart")
    return name


@transaction.atomic
def make_site(name: str, notes: str) -> Site:
    """Make a site.

    Raises
    ------
    InputError
        Without a name, or if one is called so already.
    """
    return Site.objects.create(name=_named(name), notes=notes)


@transaction.atomic
def change_site(site: Site, revision: int, name: str | None = None, notes: str | None = None) -> Site:
    """Rename a site or change its notes; what is None stays.

    Raises
    ------
    InputError
        Without a name, or if another is called so already.
    Conflict
        If it is no longer at the revision that the change began from.
    """
    site = Site.objects.get(pk=site.pk)
    if site.revision != revision:
        raise Conflict(f"{site} was changed meanwhile, to revision {site.revision}: look at it, then change it")
    site.name = site.name if name is None else _named(name, site)
    site.notes = site.notes if notes is None else notes
    site.revision += 1
    site.save()
    return site
