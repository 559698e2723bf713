"""What can be done with the scaling chain of a tank."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.errors import InputError
from ..core.gauges.model import check_model
from ..core.judgement import Judgement
from ..core.scaling.chain import Chain, path_of
from ..core.scaling.chain_form import ChainForm, chain_start, read_chain
from ..core.scaling.chain_judge import judge_chain
from ..core.scaling.chain_settings import SETTINGS, text_of
from ..core.scaling.hops import level_from
from ..core.scaling.parting_form import PartingForm, read_parting
from ..core.scaling.wet_ends import ENDS as WET_ENDS
from ..core.scaling.wet_ends import WetEnds as CoreWetEnds
from ..core.scaling.wet_ends import read_wet_ends
from ..core.tanks.tank import Tank as CoreTank
from ..core.tanks.tank_file import TankFile
from ..core.units import System, Words, with_unit
from ..gauges.services import gauge_of, keep_planned, kept_entries, renew
from ..tanks.models import IssuedTable, Tank, checked
from .models import ChainReadings, ScalingChain, Transmitter, WetEnds

#: How many former settings of a chain are tried as the ones left in.
_FORMER = 4


def newest_table(tank: Tank) -> IssuedTable | None:
    """Return the table issued last, without its rows, or None."""
    return tank.issued_tables.defer("rows").first()


def table_tank(tank: Tank) -> CoreTank:
    """The tank as its newest issued table has it; as surveyed before one is issued."""
    issued = newest_table(tank)
    return tank.file.tank if issued is None else checked(issued.document).tank


def start_of(tank: Tank, file: TankFile, system: System) -> dict[str, str]:
    """What a tank's product, gauge and scale say of its chain."""
    gauge = gauge_of(tank)
    model = check_model(gauge.document["model"]) if gauge is not None and gauge.document.get("model") else None
    output = gauge.document.get("output", "") if gauge is not None else ""
    scaled = Transmitter.objects.filter(tank=tank).first()
    return chain_start(file, model, output, scaled.scaled if scaled else None, system)


def read_tank_chain(tank: Tank, entries: Mapping[str, str], system: System) -> ChainForm:
    """Read a tank's chain as far as it has been typed."""
    return read_chain_on(tank, entries, tank.file, table_tank(tank), system)


def read_chain_on(
    tank: Tank, entries: Mapping[str, str], file: TankFile, table: CoreTank, system: System
) -> ChainForm:
    """Read a tank's chain on another survey or table of it than the newest."""
    return read_chain(entries, file, table, start_of(tank, file, system), system)


def chain_of(tank: Tank) -> ScalingChain | None:
    """Return the chain kept of a tank, or None before one is."""
    return ScalingChain.objects.select_related("changed_by").filter(tank=tank).first()


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


def judge_tank_chain(tank: Tank, chain: Chain, system: System) -> list[Judgement]:
    """Judge a chain, and whether it is the one that the tank's scale was kept for."""
    found = judge_chain(chain, system)
    transmitter = Transmitter.objects.filter(tank=tank).first()
    if transmitter is not None and chain.signal_kind == "ma4":
        w = Words(system)
        for current in (0.004, 0.020):
            scaled = float(transmitter.scaled.innage(tank.file.tank, current))
            chained = level_from(chain, "signal", current)
            if abs(scaled - chained) > 0.002 * tank.file.tank.inside_height:
                text = (
                    f"At {current * 1000:g} mA the kept scale has {w.length(scaled)}, this chain "
                    f"{w.length(chained)}: one of them is not this sensor's."
                )
                found.insert(0, Judgement("watch", "scale-differs", text))
                break
    order = {"stop": 0, "watch": 1, "good": 2}
    return sorted(found, key=lambda judgement: order[judgement.weight])


def settings_of(chain: Chain) -> dict[str, str]:
    """Every setting of a chain by its entry, in metric words: what a record keeps."""
    return {path_of(name): text_of(chain, name, "metric") for name in SETTINGS}


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
    planned = renew(ScalingChain, tank, revision)
    judgements = judge_tank_chain(tank, found.chain, system)
    worst = judgements[0]
    standing = (worst.text, worst.weight == "stop")
    return keep_planned(planned, tank, kept, {"settings": settings_of(found.chain)}, standing, person)


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


def wet_ends_of(tank: Tank) -> WetEnds | None:
    """Return the wet ends kept of a tank's probe, or None before any are."""
    return WetEnds.objects.select_related("changed_by").filter(tank=tank).first()


def read_tank_wet_ends(tank: Tank, entries: Mapping[str, str], system: System) -> CoreWetEnds:
    """Read the wet ends of a tank's probe as far as they have been typed."""
    return read_wet_ends(entries, system, tank.product)


@transaction.atomic
def keep_wet_ends(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> WetEnds:
    """Keep the wet ends of a tank's probe, with fuel and temperature.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept others meanwhile.
    """
    found = read_tank_wet_ends(tank, entries, system)
    found.form.require()
    counts: dict[str, Any] = {end: found.ends[end].counts for end in WET_ENDS}
    document = {**counts, "fuel": found.fuel, "temperature_c": found.temperature_c}
    texts = [f"{end} {value:.0f}" if value is not None else f"{end} not still" for end, value in counts.items()]
    pressing = any(judgement.weight == "stop" for judgement in found.judgements)
    planned = renew(WetEnds, tank, revision)
    return keep_planned(
        planned, tank, kept_entries(entries, found.form.kept), document, (", ".join(texts), pressing), person
    )
