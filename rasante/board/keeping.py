"""How standings are kept: forgotten with whatever they rest on, worked out anew when they are asked for."""

from __future__ import annotations

from functools import cache
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.db import transaction
from django.db.models.signals import post_delete, post_save

from ..devices.models import Rescaling
from ..faults.models import FaultPlan
from ..gauges.models import GaugePlan
from ..pouring.models import PourPlan
from ..proving.models import Proof
from ..readings.models import Channel, Event
from ..scaling.models import ChainReadings, Marks, ScalingChain
from ..tanks.models import IssuedTable, Tank
from ..wiring.models import Wiring
from .models import Call, Standing
from .standings import PRESSING, last_dip, rank_of, stations, tanks_with_work

#: What a standing rests on.
RESTS_ON = (
    Tank,
    IssuedTable,
    GaugePlan,
    Wiring,
    ScalingChain,
    ChainReadings,
    Marks,
    PourPlan,
    FaultPlan,
    Rescaling,
    Proof,
    Channel,
    Event,
)
#: How many tanks are worked out in one go.
_PIECE = 200


@cache
def code_stamp() -> str:
    """Return what tells the code of today from another: another version may see a tank otherwise."""
    package = Path(__file__).resolve().parents[1]
    files = sorted(path for path in package.rglob("*") if path.suffix in (".py", ".json") and path.is_file())
    told = "\n".join(f"{path.relative_to(package)} {path.stat().st_size} {path.stat().st_mtime_ns}" for path in files)
    return sha256(told.encode()).hexdigest()[:16]


def _forget(sender: Any, instance: Any, **kwargs: Any) -> None:
    # Within the writer's own transaction: nobody sees the one with the standing of the other.
    tank = instance.pk if sender is Tank else instance.tank_id
    Standing.objects.filter(tank_id=tank).delete()


def watch() -> None:
    """Listen to everything that standings rest on."""
    for model in RESTS_ON:
        post_save.connect(_forget, sender=model, dispatch_uid=f"standing-saved-{model.__name__}")
        if model is not Tank:
            post_delete.connect(_forget, sender=model, dispatch_uid=f"standing-deleted-{model.__name__}")


def forget_all() -> None:
    """Forget every standing, after a change that went past the models."""
    Standing.objects.all().delete()


def renew_standings() -> None:
    """Work out what is not kept; with all kept it costs two counts."""
    if Standing.objects.filter(stamp=code_stamp()).count() == Tank.objects.count():
        return
    # One writer at a time: what is read here is not changed before it is kept.
    with transaction.atomic():
        Standing.objects.exclude(stamp=code_stamp()).delete()
        missing = list(Tank.objects.filter(standing=None).values_list("pk", flat=True))
        for start in range(0, len(missing), _PIECE):
            _keep(tanks_with_work().filter(pk__in=missing[start : start + _PIECE]))


def _keep(tanks: Any) -> None:
    made = []
    for tank in tanks:
        found = stations(tank)
        rank = min(rank_of(station["state"]) for station in found)
        made.append(Standing(tank=tank, stamp=code_stamp(), stations=found, level=last_dip(tank), rank=rank))
    Standing.objects.bulk_create(made)
    Call.objects.bulk_create(
        Call(
            standing=standing,
            rank=rank_of(station["state"]),
            **{key: station[key] for key in ("words", "state")},
            station=station["key"],
        )
        for standing in made
        for station in standing.stations
        if station["state"] in PRESSING
    )
