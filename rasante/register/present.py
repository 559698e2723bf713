"""How the register is written for the API."""

from __future__ import annotations

from ..tanks.models import Tank
from . import answers
from .models import SiteFacts, TankFacts


def register_of(tank: Tank, missing: list[str]) -> answers.RegisterOfTank:
    """Write what is noted of a tank and its site."""
    own = TankFacts.objects.select_related("customer").filter(tank=tank).first() or TankFacts(tank=tank)
    place = SiteFacts.objects.filter(site=tank.site_id).first() or SiteFacts(site_id=tank.site_id)
    return answers.RegisterOfTank(
        owner=own.owner,
        customer=own.customer_id,
        customer_name=str(own.customer) if own.customer is not None else "",
        painted=own.painted,
        revision=own.revision + place.revision,
        site_customer=place.customer_id,
        latitude=place.latitude,
        longitude=place.longitude,
        contact=place.contact,
        telephone=place.telephone,
        missing=missing,
    )
