"""The demo's yard: its sources and two weeks of history in the database, and the process that runs it."""

from __future__ import annotations

import json
import time
from importlib import resources
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from ..core.plant.chance import normal, seed_of
from ..core.plant.plant import Course
from ..core.scaling.chain import Chain
from ..readings import services
from ..readings.intake import Batch, channels_of, take_in, through_of
from ..readings.models import Source
from ..simulator.world import write_state
from ..simulator.yard_file import AHEAD_S, TrueTank, Yard, make_yard
from ..tanks.models import Tank

#: How much history the demo has, and how often something was read then [s].
HISTORY_S, EVERY_S = 14 * 86400.0, 300.0
#: What a unit that has no chain reads to [m].
_STEP_M = 0.0001


def read_yard() -> dict[str, Any]:
    """The yard as it is written."""
    spec: dict[str, Any] = json.loads(resources.files(__package__).joinpath("yard.json").read_text("utf-8"))
    return spec


def true_tanks(spec: dict[str, Any]) -> dict[str, TrueTank]:
    """The yard's tanks as they are known here: what was surveyed is what is there."""
    names = [row["tank"] for row in spec["vessels"]]
    found = {tank.name: tank for tank in Tank.objects.select_related("site").filter(document__name__in=names)}
    return {name: TrueTank(found[name].file.tank, _chain_of(found[name])) for name in names}


def _chain_of(tank: Tank) -> Chain | None:
    return through_of(tank).chain


def make_sources(spec: dict[str, Any], person: User) -> dict[str, str]:
    """Make the sources of a yard's devices; returns the tokens of those that send by themselves."""
    tanks = {tank.name: tank.pk for tank in Tank.objects.all()}
    tokens = {}
    for device in spec["devices"]:
        entries = {"kind": device["kind"], "name": device["name"], "period": device["period"]}
        if device["kind"] == "modbus":
            # Where it is stands in the database once the yard runs.
            entries |= {"host": "127.0.0.1", "port": "502", "unit": str(device["unit"]), "timeout": "2 s"}
        for number, channel in enumerate(device["channels"]):
            told = ("name", "kind", "unit", "function", "register", "type", "order", "bit")
            for key in told:
                if key in channel:
                    entries[f"channels[{number}].{key}"] = str(channel[key])
            entries[f"channels[{number}].tank"] = str(tanks[channel["tank"]])
        source = services.keep_source(None, entries, "metric", person, 0)
        if device["kind"] == "push":
            tokens[device["name"]] = services.renew_token(source, person)[1]
    return tokens


def make_history(spec: dict[str, Any], folder: Path, now_s: float, person: User) -> None:
    """Fill the database with what the yard's devices would have sent, and keep how the yard stands at the end."""
    begin = now_s - HISTORY_S
    yard = make_yard(spec, true_tanks(spec), begin, now_s + AHEAD_S)
    state, course = yard.plant.advance(yard.plant.start(begin), now_s)
    for device in spec["devices"]:
        channels = channels_of(Source.objects.get(name=device["name"]))
        for row in device["channels"]:
            if row.get("seeded", True):
                channel = channels[row["name"]]
                batch = _history(yard, course, row, begin, now_s)
                for start in range(0, len(batch.at), 10_000):
                    part = slice(start, start + 10_000)
                    piece = Batch(batch.at[part], batch.raw[part], batch.quality[part])
                    take_in({channel: piece}, int(now_s * 1000), seed=True)
    folder.mkdir(parents=True, exist_ok=True)
    write_state(folder / "yard-state.json", state)
    span = {"begin_s": begin, "end_s": now_s + AHEAD_S}
    (folder / "yard-span.json").write_text(json.dumps(span), "utf-8")


def _history(yard: Yard, course: Course, row: dict[str, Any], begin: float, end: float) -> Batch:
    """What one channel would have sent."""
    link, tank = yard.links[row["tank"]], row["tank"]
    sent = link.sent_at(begin + EVERY_S, end - 1)
    through, _ = link.arrivals(yard.plant.seed, tank, sent)
    times = sent[through]
    instrument = yard.instruments.get(tank)
    if row["kind"] == "temperature":
        values = np.round(yard.plant.temperature(times), 1)
    elif row["kind"] == "level" or instrument is None:
        level = yard.plant.level(tank, course.volume(tank, times), times)
        places = np.round(times * 10).astype(np.int64)
        level = level + 0.0008 * normal(seed_of(yard.plant.seed, tank), places) + _heave(yard, tank, times)
        values = np.round(level / _STEP_M) * _STEP_M * 1000
    else:
        values = instrument.read(yard.plant, course, row["kind"], times)
    at = np.round(times * 1000).astype(np.int64).tolist()
    return Batch(at, [float(one) for one in np.round(values, 6)], [0] * len(at))


def _heave(yard: Yard, tank: str, times: np.ndarray) -> np.ndarray:
    surface = yard.surfaces.get(tank)
    return np.zeros(len(times)) if surface is None else surface.heave(yard.plant.seed, times)


def point_sources(port: int) -> None:
    """Tell the database where the yard's controllers are today."""
    for device in read_yard()["devices"]:
        source = Source.objects.filter(name=device["name"], kind="modbus").first()
        if source is not None and source.port != port:
            source.port, source.entries = port, {**source.entries, "port": str(port)}
            source.revision += 1
            source.save()


def folder_of(data: Path) -> Path:
    """Where the yard keeps what is its own: how it stands, and the tokens that were typed into its units."""
    return data / "yard"


def load(data: Path, person: User) -> None:
    """Make the yard's sources and history, and keep the units' tokens as a technician would type them in."""
    spec, folder = read_yard(), folder_of(data)
    tokens = make_sources(spec, person)
    make_history(spec, folder, time.time(), person)
    kept = folder / "tokens.json"
    kept.touch(0o600)
    kept.write_text(json.dumps(tokens), "utf-8")
