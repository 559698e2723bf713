"""What can be done with the scaling chain of a tank."""

from __future__ import annotations

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Prefetch, QuerySet, Value

from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Judgement, by_weight, stops
from ..core.quantities.typed import with_unit
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.scaling.chain import Chain
from ..core.scaling.chain_form import ChainForm, Ground, Mounted, chain_start, read_chain
from ..core.scaling.chain_judge import judge_chain, judge_gauge
from ..core.scaling.chain_settings import texts_of
from ..core.scaling.parting_form import PartingForm, read_parting
from ..core.tanks.tank import Tank as CoreTank
from ..core.tanks.tank_file import TankFile
from ..gauges.services import model_of, mounted_of, output_of
from ..planned.services import keep_planned, kept_entries, planned_of, renew
from ..tanks.models import IssuedTable, Tank, checked
from ..wiring.services import circuit_of
from .models import ChainReadings, ScalingChain

NOT_SCALED = "no chain is kept of this tank yet: look at it at Scale, and keep it first"
#: How many former settings of a chain are tried as the ones left in.
_FORMER = 4
#: The settings that say what kind of sensor a chain begins with.
_PINNED = ("sensor.quantity", "signal.kind")


def tanks_with_basis() -> QuerySet[Tank]:
    """Tanks to answer of, each read at once with all that its chain stands on; nothing is kept through them."""
    planned = (f"{kind}__changed_by" for kind in ("gaugeplan", "wiring", "scalingchain"))
    # Of its tables the newest alone: there may be many.
    issued = Prefetch("issued_tables", IssuedTable.objects.defer("rows")[:1], to_attr="newest_issued")
    return (
        Tank.objects.select_related("site", *planned).prefetch_related(issued).annotate(read_along=Value(value=True))
    )


def newest_table(tank: Tank) -> IssuedTable | None:
    """Return the table issued last, without its rows, or None."""
    every = getattr(tank, "_prefetched_objects_cache", {}).get("issued_tables")
    at_hand = getattr(tank, "newest_issued", every)
    return tank.issued_tables.defer("rows").first() if at_hand is None else next(iter(at_hand), None)


def table_tank(tank: Tank) -> CoreTank:
    """The tank as its newest issued table has it; as surveyed before one is issued."""
    issued = newest_table(tank)
    return tank.file.tank if issued is None else checked(issued.document).tank


def ground_of(tank: Tank, file: TankFile, table: CoreTank, system: System) -> Ground:
    """What a tank's chain stands on: its survey and its table, its gauge, and its circuit as it is kept."""
    circuit = circuit_of(tank)
    start = chain_start(file, model_of(tank), output_of(tank), Mounted(*mounted_of(tank)), system, circuit)
    return Ground(file, table, circuit, start)


def read_tank_chain(tank: Tank, entries: Mapping[str, str], system: System) -> ChainForm:
    """Read a tank's chain as far as it has been typed."""
    return read_chain_on(tank, entries, tank.file, table_tank(tank), system)


def read_chain_on(
    tank: Tank, entries: Mapping[str, str], file: TankFile, table: CoreTank, system: System
) -> ChainForm:
    """Read a tank's chain on another survey or table of it than the newest."""
    return read_chain(entries, ground_of(tank, file, table, system), system)


def chain_of(tank: Tank) -> ScalingChain | None:
    """Return the chain kept of a tank, or None before one is."""
    return planned_of(ScalingChain, tank)


def scaled_chain(tank: Tank, system: System) -> Chain:
    """The tank's chain as it is kept; as its gauge and scale have it before one is.

    Raises
    ------
    InputError
        If what was kept no longer makes a chain, since the tank was surveyed anew.
    """
    kept = chain_of(tank)
    found = read_tank_chain(tank, kept.entries if kept else {}, system)
    if found.chain is None:
        raise InputError.at("chain", "the kept chain does not fit the tank any more: look at it at Scale, Chain")
    return found.chain


def kept_chain(tank: Tank, system: System) -> Chain | None:
    """The chain that is kept of a tank; None before one is, or where it no longer fits the tank."""
    kept = chain_of(tank)
    return None if kept is None else read_tank_chain(tank, kept.entries, system).chain


def judge_tank_chain(tank: Tank, chain: Chain, system: System) -> list[Judgement]:
    """Judge a chain, and whether it takes what the tank's gauge senses."""
    model = model_of(tank)
    differs = judge_gauge(chain, model) if model is not None else None
    return by_weight([*judge_chain(chain, system), *([differs] if differs else [])])


def ends_of(chain: Chain) -> list[float]:
    """The innages at the two ends of a chain's sensor [mm], to a hundredth."""
    sensor = chain.sensor
    return [round(chain.level_from("sensed", end) * 1000, 2) for end in (sensor.range_low, sensor.range_high)]


@transaction.atomic
def keep_chain(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> ScalingChain:
    """Keep a tank's chain.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept another meanwhile.
    """
    found = read_tank_chain(tank, entries, system)
    found.form.require()
    assert found.chain is not None
    kept = kept_entries(entries, {path: text for path, text in found.form.kept.items() if entries.get(path)})
    kept = {**_pinned(found), **kept}
    planned = renew(ScalingChain, tank, revision)
    worst = judge_tank_chain(tank, found.chain, system)[0]
    standing = (Words(system).say(worst), bool(stops([worst])))
    document = {"settings": texts_of(found.chain, "metric"), "ends_mm": ends_of(found.chain)}
    return keep_planned(planned, tank, kept, document, standing, person)


def _pinned(found: ChainForm) -> dict[str, str]:
    """What a kept chain is of, though nobody typed it: another gauge planned later does not turn its ends about."""
    there = found.usual
    return {path: str(there[path]) for path in _PINNED if there.get(path)}


def former_chains(tank: Tank, system: System) -> list[Chain]:
    """The chain as it was kept before, newest first; those that make no chain of today's tank are left out."""
    kept = chain_of(tank)
    if kept is None:
        return []
    seen, found = [kept.entries], []
    for record in kept.history.order_by("-history_date", "-history_id")[1 : _FORMER * 3]:
        if record.entries in seen or len(found) >= _FORMER:
            continue
        seen.append(record.entries)
        chain = read_tank_chain(tank, record.entries, system).chain
        found += [chain] if chain is not None else []
    return found


def readings_of(tank: Tank) -> ChainReadings | None:
    """Return the readings kept along a tank's chain, or None before any are."""
    return ChainReadings.objects.select_related("changed_by").filter(tank=tank).first()


def part_chain(tank: Tank, entries: Mapping[str, str], system: System) -> tuple[Chain, PartingForm]:
    """Find where truth and reading part along a tank's kept chain.

    Raises
    ------
    InputError
        As `scaled_chain`.
    """
    chain = scaled_chain(tank, system)
    return chain, read_parting(entries, chain, system, former_chains(tank, system))


@transaction.atomic
def keep_readings(
    tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int
) -> ChainReadings:
    """Keep what was read along a tank's chain, with what was made of it.

    Raises
    ------
    InputError
        At the readings that cannot be read.
    Conflict
        If someone else has kept others meanwhile.
    """
    _, found = part_chain(tank, entries, system)
    found.form.require()
    planned = renew(ChainReadings, tank, revision)
    document = {"says": found.says, "hops": list(found.parting.hops)}
    kept = _with_units(entries, found)
    return keep_planned(planned, tank, kept, document, (found.says, bool(found.parting.hops)), person)


def _with_units(entries: Mapping[str, str], found: PartingForm) -> dict[str, str]:
    """Readings as typed; a level with the unit that it was understood in."""
    system = found.form.system
    return {
        path: with_unit(text, "length", system) if path.endswith(".level") else text
        for path, text in entries.items()
        if text.strip()
    }
