"""The device sheet: everything to be typed into the devices of a chain, in order, and what was found in them."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from ..quantities.errors import InputError
from ..quantities.text import refuse_what_cannot_be_kept
from ..quantities.typed import read_number
from ..quantities.units import UNITS, System
from ..scaling.chain import STATIONS, Chain
from ..scaling.chain_settings import write_setting
from ..scaling.chain_values import fault_texts, places_text, value_text, words_at
from ..scaling.hop import Setting
from ..scaling.marks import Mark
from ..scaling.numbers import Link, Register
from ..scaling.screen import BY_VOLUME

FORMAT = "rasante.device-sheet/1"
COLUMNS = ("section", "key", "label", "value", "unit")
#: Levels that the check table has, by the inside height.
_CHECKS = (0.0, 0.25, 0.5, 0.75, 1.0)
_MOST_BYTES = 1_000_000
_MOUNTED_SECTION = "As mounted"
_MOUNTED = ("sensor.accuracy", "sensor.step", "counts.accuracy", "chain.reader")


@dataclass(frozen=True)
class Item:
    """One line of the sheet: its section, its key (the chain's entry), its words, its value and the value's unit."""

    section: str
    key: str
    label: str
    value: str
    unit: str


def _split(text: str) -> tuple[str, str]:
    """Part a value from its unit."""
    number, _, unit = text.partition(" ")
    try:
        read_number(number)
    except InputError:
        return text, ""
    return number, unit


def _item(section: str, key: str, label: str, text: str) -> Item:
    return Item(section, key, label, *_split(text))


def make_items(c: Chain, marks: Sequence[Mark], system: System, serial: str = "") -> list[Item]:
    """Write a chain's device sheet, in the order in which the devices stand.

    Parameters
    ----------
    c : Chain
        The chain.
    marks : sequence of Mark
        Its alarms.
    system : {"metric", "us"}
        The units of levels and pressures.
    serial : str
        The sensor's serial number or tag; empty where none is noted.
    """
    items = [_setting_item(c, path, station, one, system) for path, (station, one) in c.known().items()]
    # What is as mounted stands first, and together.
    if serial.strip():
        items.append(Item(_MOUNTED_SECTION, "sensor.serial", "Serial or tag", serial.strip(), ""))
    items.sort(key=lambda item: item.section != _MOUNTED_SECTION)
    items += _coefficients(c)
    items += _points(c)
    items += [
        _item("Alarms", f"marks.{mark.key}.{station}", f"{mark.label}, {STATIONS[station].lower()}", text)
        for mark in marks
        for station, text in _mark_texts(c, mark, system).items()
    ]
    items += [_item("On a fault", f"fault.{s}", STATIONS[s], text) for s, text in fault_texts(c, system)]
    return items + _checks(c, system)


def _setting_item(c: Chain, path: str, station: str, one: Setting, system: System) -> Item:
    text = write_setting(c, one, c.settings()[path], system)
    # What the devices are not told, but all of it rests on.
    mounted = station == "sensed" or path in _MOUNTED
    section = _MOUNTED_SECTION if mounted else c.hop(station).name if station in c.stations else "Sensor"
    value, unit = (text or "not given", "") if one.kind in ("choice", "label") else _split(text)
    return Item(section, path, one.label, value, unit)


def _mark_texts(c: Chain, mark: Mark, system: System) -> dict[str, str]:
    values = c.at(mark.level_m)
    stations = [s for s in ("level", "arriving", "counts", "number", "shown") if s in values]
    return {station: value_text(c, station, values[station], system) for station in stations}


def coefficients(c: Chain) -> dict[str, tuple[float, float]]:
    """Slope and offset of every straight hop: output = m × input + b, in the units of the devices.

    Returns
    -------
    dict of str to (float, float)
        ``counts`` from the signal [mA, V or mV/V], ``number`` from the counts, ``words`` from the scaled number,
        ``read`` from the register.
    """
    found = {}
    if c.card is not None and c.signal is not None:
        size = 1.0 if c.signal.quantity == "voltage" else 1e-3
        m = (c.card.high - c.card.low) / (c.card.at_high - c.card.at_low)
        found["counts"] = (m * size, c.card.low - m * c.card.at_low)
    m = (c.scaling.high - c.scaling.low) / (c.scaling.raw_high - c.scaling.raw_low)
    found["number"] = (m, c.scaling.low - m * c.scaling.raw_low)
    register, link = c.find(Register), c.find(Link)
    if register is not None:
        found["words"] = (register.multiplier, register.offset)
    if link is not None:
        found["read"] = (1 / link.multiplier, 0.0 - link.offset / link.multiplier)
    return found


def _coefficients(c: Chain) -> list[Item]:
    items = []
    for station, (slope, offset) in coefficients(c).items():
        items.append(Item("Linear coefficients", f"m.{station}", f"{STATIONS[station]}, m", f"{slope:.9g}", ""))
        items.append(Item("Linear coefficients", f"b.{station}", f"{STATIONS[station]}, b", f"{offset:.9g}", ""))
    return items


def _points(c: Chain) -> list[Item]:
    volumes = c.screen.volumes
    device = volumes.device if volumes is not None else None
    if device is None or c.screen.shows not in BY_VOLUME:
        return []
    unit = "l" if c.screen.shows == "volume_pct" else c.screen.unit
    length = c.screen.from_unit if UNITS[c.screen.from_unit].quantity == "length" else "mm"
    items = []
    for index, (level, volume) in enumerate(zip(device.levels_m, device.volumes_m3, strict=True), start=1):
        written = (("level", level, length, 3), ("volume", volume, unit, 1))
        items += [
            Item(
                "Breakpoints",
                f"points[{index}].{what}",
                f"Point {index}, {what}",
                places_text(value / UNITS[of].si, places),
                UNITS[of].name,
            )
            for what, value, of, places in written
        ]
    return items


def _checks(c: Chain, system: System) -> list[Item]:
    items = []
    values = c.run(np.array(_CHECKS) * c.top_m)
    for index, share in enumerate(_CHECKS):
        section, key = f"Check at {share:.0%}", f"check.{share * 100:.0f}"
        for station in c.stations:
            value = float(values[station][index])
            items.append(_item(section, f"{key}.{station}", STATIONS[station], value_text(c, station, value, system)))
            if station == "words":
                items.append(Item(section, f"{key}.in_hex", "Its words", words_at(c, value), ""))
    return items


def sheet_document(items: Iterable[Item], title: Mapping[str, str]) -> dict[str, Any]:
    """Write a sheet as a document: what it is for, and its lines."""
    return {"format": FORMAT, **title, "items": [asdict(item) for item in items]}


def to_csv(document: Mapping[str, Any]) -> str:
    """Write a sheet as CSV, with the header `COLUMNS`."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    writer.writerows({column: item[column] for column in COLUMNS} for item in document["items"])
    return out.getvalue()


def read_found(text: str) -> dict[str, str]:
    """Read what was found in the devices: a sheet as JSON or CSV with the values as found, keys and values at least.

    Returns
    -------
    dict of str to str
        Values with their units, by keys.

    Raises
    ------
    InputError
        If it is neither, or has no keys and values; with the row.
    """
    if len(text.encode()) > _MOST_BYTES:
        raise InputError.at("text", "is more than 1 MB: this is no device sheet")
    if text.lstrip().startswith("{"):
        try:
            content = json.loads(text)
            refuse_what_cannot_be_kept(content)
            items = content["items"]
            return {str(item["key"]): _joined(item) for item in items if str(item.get("value", "")).strip()}
        except (ValueError, KeyError, TypeError, AttributeError):
            raise InputError.at(
                "text", f"this JSON is no device sheet: “items” with “key” and “value”, as in {FORMAT}"
            ) from None
    first = text.lstrip("\ufeff").splitlines()[0] if text.strip() else ""
    delimiter = max(",;\t", key=first.count)
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")), delimiter=delimiter)
    names = {name.strip().lower(): name for name in reader.fieldnames or [] if name}
    if "key" not in names or "value" not in names:
        raise InputError.at("text", "needs the columns “key” and “value”: export the sheet as CSV and type into that")
    found = {}
    for row in reader:
        item = {name: row.get(original) or "" for name, original in names.items()}
        if item["key"].strip() and item["value"].strip():
            found[item["key"].strip()] = _joined(item)
    if not found:
        raise InputError.at("text", "has no values")
    return found


def _joined(item: Mapping[str, Any]) -> str:
    return f"{str(item['value']).strip()} {str(item.get('unit') or '').strip()}".strip()


@dataclass(frozen=True)
class Difference:
    """One line as it should be and as it was found: ``same``, ``differs``, ``missing`` there, or ``extra`` there."""

    key: str
    label: str
    section: str
    wanted: str
    found: str
    state: str


def compare_found(document: Mapping[str, Any], found: Mapping[str, str]) -> list[Difference]:
    """Compare what was found with a sheet.

    Parameters
    ----------
    document : mapping
        The sheet.
    found : mapping of str to str
        As `read_found` gives it.

    Notes
    -----
    Numbers are the same within a millionth, or within half of the last place that was written down.
    """
    rows = []
    for item in document["items"]:
        wanted = _joined(item)
        there = found.get(item["key"], "")
        state = "missing" if not there else "same" if alike(wanted, there) else "differs"
        rows.append(Difference(item["key"], item["label"], item["section"], wanted, there, state))
    known = {item["key"] for item in document["items"]}
    rows += [Difference(key, key, "", "", text, "extra") for key, text in found.items() if key not in known]
    return rows


def alike(wanted: str, found: str) -> bool:
    """Whether two values are the same: the same words, or numbers that are, with the same unit or none."""
    if " ".join(wanted.lower().split()) == " ".join(found.lower().split()):
        return True
    (first, unit), (second, other) = _split(wanted), _split(found)
    try:
        one, two = read_number(first), read_number(second)
    except InputError:
        return False
    places = len(second.replace(",", ".").partition(".")[2])
    near = bool(np.isclose(one, two, rtol=1e-6, atol=0.5 * 10.0**-places if places else 1e-9))
    return near and (not other or other.lower() == unit.lower())
