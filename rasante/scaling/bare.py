"""What becomes of a line without a tank: a tank of its own, or a finding on one that is known."""

from __future__ import annotations

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.db import transaction

from ..core.quantities.errors import InputError, Problem
from ..core.quantities.units import System
from ..core.scaling.bare import bare_start
from ..core.scaling.chain import STATIONS
from ..core.scaling.parting import MOST_ROWS
from ..tanks.models import Site, Tank
from ..tanks.services import survey_tank
from .chains import chain_of, keep_chain, keep_readings, readings_of
from .models import ChainReadings

#: Where a survey takes what a line has typed.
_SURVEYED = {
    "tank.diameter": "shape.diameter_mm", "tank.height": "shape.shell_height_mm",
    "tank.rings": "how.shape.shell_height_mm.rings", "tank.course": "how.shape.shell_height_mm.course",
    "tank.product": "product",
}  # fmt: skip


def _survey(name: str, entries: Mapping[str, str]) -> dict[str, str]:
    """A plain upright's survey from what was typed of a line."""
    found = {
        "name": name, "shape.kind": "vertical_cylinder", "shape.bottom.kind": "flat", "shape.top.kind": "flat",
        **{to: entries[path] for path, to in _SURVEYED.items() if entries.get(path, "").strip()},
    }  # fmt: skip
    if "shape.shell_height_mm" not in found and "how.shape.shell_height_mm.rings" in found:
        found["how.shape.shell_height_mm"] = "rings"
    return found


def _chain(entries: Mapping[str, str], system: System) -> dict[str, str]:
    """What was typed of a line's chain; what its sensor senses goes with it, said or not."""
    typed = {
        path: text for path, text in entries.items()
        if text.strip() and path.partition(".")[0] not in ("tank", "value", "at")
    }  # fmt: skip
    if any(path.startswith("sensor.") for path in typed):
        typed.setdefault("sensor.quantity", bare_start(system)["sensor.quantity"])
    return typed


def _readings(entries: Mapping[str, str]) -> dict[str, str]:
    return {
        station: entries[f"value.{station}"] for station in STATIONS if entries.get(f"value.{station}", "").strip()
    }


@transaction.atomic
def tank_of_line(site: Site, name: str, entries: Mapping[str, str], system: System, person: User) -> Tank:
    """Make a tank of a line: a plain upright, with the chain and the values that were typed.

    Raises
    ------
    InputError
        At the line's fields; nothing is kept then.
    """
    try:
        tank = survey_tank(site, _survey(name, entries), system, person, {"notes": "", "ports": []})
    except InputError as error:
        back = {to: path for path, to in _SURVEYED.items()}
        raise InputError(*(Problem(back.get(p.where, p.where), p.what) for p in error.problems)) from None
    chain = _chain(entries, system)
    if chain:
        keep_chain(tank, chain, system, person, 0)
        if _readings(entries):
            finding_on(tank, entries, system, person)
    return tank


@transaction.atomic
def finding_on(tank: Tank, entries: Mapping[str, str], system: System, person: User) -> ChainReadings:
    """Put the values of a line with those read along a tank's chain, as a row of their own.

    Raises
    ------
    InputError
        If there is none, no chain is kept of the tank, its rows are full, or a value cannot be read there.
    """
    values = _readings(entries)
    if not values:
        raise InputError.at("value", "type at least one value that was read: it is what is found")
    if chain_of(tank) is None:
        raise InputError.at("tank", "no chain is kept of this tank yet: look at it at Scale, and keep it first")
    before = readings_of(tank)
    kept = dict(before.entries) if before is not None else {}
    row = next((i for i in range(MOST_ROWS) if not any(path.startswith(f"rows[{i}].") for path in kept)), None)
    if row is None:
        raise InputError.at("tank", f"its readings are full, {MOST_ROWS} rows: clear some at Where it parts first")
    kept |= {f"rows[{row}].{station}": text for station, text in values.items()}
    return keep_readings(tank, kept, system, person, before.revision if before is not None else 0)
