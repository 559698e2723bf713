"""Readings that a person brings: a dip, what a display shows, a logger's file."""

from __future__ import annotations

import time
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.quantities.errors import InputError, Problem
from ..core.quantities.typed import read_quantity
from ..core.quantities.units import System
from ..core.readings.log_file import LogMapping, guess_log, read_log, split_log
from ..core.readings.source_form import BY_HAND
from ..core.scaling.chain_values import read_value
from ..core.tanks.chart_mapping import Grid
from ..scaling.chains import kept_chain
from ..tanks.charts import grid_of
from ..tanks.models import Tank
from .intake import Told, channels_of, group, take_in
from .models import Channel, Source, SourceState
from .pushing import moment_ms


def hand_channel(tank: Tank, what: str, person: User) -> Channel:
    """The channel of a tank under which dips, or what its display shows, stand; made when it is first needed."""
    source, made = Source.objects.get_or_create(kind="hand", defaults={"name": BY_HAND, "changed_by": person})
    if made:
        SourceState.objects.get_or_create(source=source)
    unit = "mm" if what == "level" else "1"
    channel, _ = Channel.objects.select_related("source", "tank__site").get_or_create(
        source=source, name=f"{what} {tank.pk}", defaults={"tank": tank, "kind": what, "unit": unit}
    )
    return channel


@transaction.atomic
def add_typed(tank: Tank, what: str, text: str, at: str, system: System, person: User) -> Told:
    """Keep a dip, or what a display shows.

    Parameters
    ----------
    tank, person
        Whose, and who read it.
    what : {"level", "shown"}
        A dip, or the display.
    text : str
        As typed.
    at : str
        When: ISO 8601 with its zone; empty for now.

    Raises
    ------
    InputError
        At what cannot be read, or is no level of this tank.
    """
    chain = kept_chain(tank, system)
    problems: list[Problem] = []
    raw = 0.0
    try:
        if what == "level":
            raw = read_quantity(text, "length", system, "text") * 1000
            top = tank.file.tank.reference_height_m * 1000
            if not 0 <= raw <= top:
                problems.append(Problem("text", f"is no level of this tank: 0 to {top:.0f} mm"))
        elif chain is None:
            problems.append(
                Problem("text", "what a display shows is taken through the chain: keep one at Scale first")
            )
        else:
            raw = read_value(chain, "shown", text, system)
    except InputError as error:
        problems.append(Problem("text", error.problems[0].what))
    when = int(time.time() * 1000)
    if at:
        try:
            when = moment_ms(at)
        except ValueError:
            problems.append(Problem("at", "is no time: day, month, year, hour and minute"))
    if problems:
        raise InputError(*problems)
    told = take_in(group([(hand_channel(tank, what, person), when, raw, 0)]))
    if told.refused:
        raise InputError.at("at", "is ahead of this clock, or too long ago: check day and time")
    if told.again:
        raise InputError.at("at", "there is one of this very moment already")
    return told


def grid_of_log(text: str, workbook: str) -> Grid:
    """Rows of cells of a logger's file: its text, or a workbook in Base64.

    Raises
    ------
    InputError
        If it is neither.
    """
    return grid_of("", workbook) if workbook else split_log(text)


def look_at_log(source: Source, grid: Grid, mapping: LogMapping | None) -> dict[str, Any]:
    """Look at a logger's file: its first rows, how it seems to be read, and what that gives; nothing is kept."""
    used = guess_log(grid, list(channels_of(source))) if mapping is None else mapping
    rows, problems = [], []
    try:
        rows = list(read_log(grid, used))
    except InputError as error:
        problems = [asdict(problem) for problem in error.problems]
    return {
        "head": [row[:40] for row in grid[:8]],
        "row_count": len(grid),
        "mapping": {**asdict(used), "columns": dict(used.columns)},
        "channels": list(channels_of(source)),
        "count": len(rows),
        "first_at": min((row.at for row in rows), default=None),
        "last_at": max((row.at for row in rows), default=None),
        "problems": problems,
    }


@transaction.atomic
def keep_log(source: Source, grid: Grid, mapping: LogMapping) -> Told:
    """Keep a logger's file.

    Raises
    ------
    InputError
        As `read_log`; nothing is kept then. Neither is it where a time lies ahead of now, or too long ago.
    """
    channels = channels_of(source)
    strange = [name for name, _ in mapping.columns if name not in channels]
    if strange:
        raise InputError.at("columns", f"{source} has no channel {strange[0]}")
    rows = list(read_log(grid, mapping))
    told = take_in(group((channels[row.channel], row.at, row.value, 0) for row in rows if row.value is not None))
    if told.refused:
        raise InputError(*(Problem("time_column", words) for words in told.refused))
    return told


def mapping_of(given: Mapping[str, Any]) -> LogMapping:
    """A mapping as the API takes it."""
    return LogMapping(
        given["header"],
        given["time_column"],
        tuple(given["columns"].items()),
        given["order"],
        given["decimal"],
        given["offset_min"],
    )
