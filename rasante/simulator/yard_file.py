"""A yard as it is written: tanks, what flows between them, and the devices that measure them."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ..core.plant.flows import DAY_S, NEVER, Calendar, Flow, Pump, Vessel, every_day
from ..core.plant.instruments import Instrument, Link, Surface
from ..core.plant.plant import Plant
from ..core.scaling.chain import Chain
from ..core.tanks.tank import Tank

#: How far ahead calendars reach [s].
AHEAD_S = 400 * DAY_S


@dataclass(frozen=True)
class TrueTank:
    """A tank as it truly is, with its instrument's chain where it has one."""

    tank: Tank
    chain: Chain | None


@dataclass(frozen=True)
class Yard:
    """A yard: its plant; instruments, links and surfaces by their tanks; its devices as they are written."""

    plant: Plant
    instruments: Mapping[str, Instrument]
    links: Mapping[str, Link]
    surfaces: Mapping[str, Surface]
    devices: list[dict[str, Any]] = field(default_factory=list)


def _calendar(row: Mapping[str, Any], begin_s: float, end_s: float, seed: int) -> Calendar:
    if "minutes" not in row:
        return Calendar((begin_s,), (end_s,)) if row.get("always") else NEVER
    hours = row["hours"] if "hours" in row else [row["hour"]]
    spans = []
    for number, hour in enumerate(hours):
        one = every_day(
            begin_s, end_s, hour, row["minutes"] * 60, row.get("days", range(7)), row.get("jitter_min", 0) * 60,
            seed + number,
        )  # fmt: skip
        spans += list(zip(one.starts, one.ends, strict=True))
    spans.sort()
    apart = [span for before, span in zip([(0.0, 0.0), *spans], spans, strict=False) if span[0] >= before[1]]
    return Calendar(tuple(start for start, _ in apart), tuple(end for _, end in apart))


def _surface(row: Mapping[str, Any], begin_s: float, end_s: float, seed: int) -> Surface:
    storms = _calendar(row["storms"], begin_s, end_s, seed) if "storms" in row else NEVER
    return Surface(row.get("still_mm", 0.3) / 1000, row.get("slosh_mm", 0) / 1000, row.get("period_s", 3.0), storms)


def make_yard(spec: Mapping[str, Any], tanks: Mapping[str, TrueTank], begin_s: float, end_s: float) -> Yard:
    """Make a yard from what is written of it.

    Parameters
    ----------
    spec : mapping
        As ``demo/yard.json``.
    tanks : mapping of str to TrueTank
        Its tanks, by their names.
    begin_s, end_s : float
        From when to when its calendars reach [s since 1970-01-01 UTC].
    """
    seed = spec["seed"]
    vessels: list[Vessel] = []
    instruments: dict[str, Instrument] = {}
    links: dict[str, Link] = {}
    surfaces: dict[str, Surface] = {}
    for number, row in enumerate(spec["vessels"]):
        true = tanks[row["tank"]]
        vessels.append(Vessel(row["tank"], true.tank, row["start"] * true.tank.capacity, row.get("expansion", 0.0)))
        surfaces[row["tank"]] = _surface(row, begin_s, end_s, seed + number)
        chain = true.chain
        if chain is not None:
            instruments[row["tank"]] = Instrument(
                row["tank"],
                chain,
                (),
                surfaces[row["tank"]],
                row.get("drift_mm_day", 0) / 1000 / DAY_S,
                begin_s,
            )
        link = row.get("link", {})
        outages = _calendar(link["outages"], begin_s, end_s, seed) if "outages" in link else NEVER
        links[row["tank"]] = Link(
            link.get("period_s", 300.0), link.get("delay_s", 2.0), link.get("loss", 0.0), outages
        )
    flows = tuple(
        Flow(
            row["name"],
            row.get("source"),
            row.get("target"),
            row["l_min"] / 60_000,
            _calendar(row, begin_s, end_s, seed + 100 + number),
        )
        for number, row in enumerate(spec["flows"])
    )
    by_name = {vessel.name: vessel.tank for vessel in vessels}
    pumps = tuple(
        Pump(
            row["name"],
            row.get("source"),
            row.get("target"),
            row["l_min"] / 60_000,
            row["watches"],
            float(by_name[row["watches"]].volume(row["start_m"])),
            float(by_name[row["watches"]].volume(row["stop_m"])),
        )
        for row in spec["pumps"]
    )
    plant = Plant(tuple(vessels), flows, pumps, seed, spec["mean_c"], spec["swing_k"])
    return Yard(plant, instruments, links, surfaces, list(spec["devices"]))


def read_spec(path: Path) -> dict[str, Any]:
    """Read a yard as it is written."""
    spec: dict[str, Any] = json.loads(path.read_text("utf-8"))
    return spec
