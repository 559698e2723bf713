"""The device sheet: everything to be typed into the devices of a chain, in order, and what was found in them."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from ..errors import InputError
from ..units import UNITS, System, read_number
from . import registers
from .chain import HOPS, SIGNALS, STATIONS, Chain, path_of
from .chain_line import fault_texts
from .chain_settings import SETTINGS, asked, text_of
from .chain_values import places_text, value_text
from .hops import run, words_of
from .marks import Mark

FORMAT = "rasante.device-sheet/1"
COLUMNS = ("section", "key", "label", "value", "unit")
#: Levels that the check table has, by the inside height.
_CHECKS = (0.0, 0.25, 0.5, 0.75, 1.0)
_MOST_BYTES = 1_000_000
_MOUNTED_SECTION = "As mounted"
_MOUNTED = ("sensor_accuracy", "sensor_step", "counts_accuracy")


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


def make_items(c: Chain, marks: Sequence[Mark], system: System) -> list[Item]:
    """Write a chain's device sheet, in the order in which the devices stand.

    Parameters
    ----------
    c : Chain
        The chain.
    marks : sequence of Mark
        Its alarms.
    system : {"metric", "us"}
        The units of levels and pressures.
    """
    items = [_setting_item(c, name, system) for name in asked(c)]
    # What is as mounted stands first, and together.
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


def _setting_item(c: Chain, name: str, system: System) -> Item:
    setting, text = SETTINGS[name], text_of(c, name, system)
    # What the devices are not told, but all of it rests on.
    section = _MOUNTED_SECTION if setting.hop == "sensed" or name in _MOUNTED else HOPS[setting.hop]
    value, unit = (text or "not given", "") if setting.kind in ("choice", "label") else _split(text)
    return Item(section, path_of(name), setting.label, value, unit)


def _mark_texts(c: Chain, mark: Mark, system: System) -> dict[str, str]:
    values = run(c, mark.level_m)
    stations = [s for s in ("level", "signal", "counts", "scaled", "shown") if s in values]
    return {station: value_text(c, station, values[station], system) for station in stations}


def coefficients(c: Chain) -> dict[str, tuple[float, float]]:
    """Slope and offset of every straight hop: output = m × input + b, in the units of the devices.

    Returns
    -------
    dict of str to (float, float)
        ``counts`` from the signal [mA or V], ``scaled`` from the counts, ``register`` from the scaled number,
        ``read`` from the register.
    """
    size = UNITS["ma"].si if SIGNALS[c.signal_kind][1] == "current" else 1.0 if c.signal_kind != "mv" else 1e-3
    found = {}
    if not c.digital:
        m = (c.counts_high - c.counts_low) / (c.counts_at_high - c.counts_at_low)
        found["counts"] = (m * size, c.counts_low - m * c.counts_at_low)
    m = (c.scaled_high - c.scaled_low) / (c.scaled_raw_high - c.scaled_raw_low)
    found["scaled"] = (m, c.scaled_low - m * c.scaled_raw_low)
    found["register"] = (c.register_multiplier, c.register_offset)
    found["read"] = (1 / c.read_multiplier, 0.0 - c.read_offset / c.read_multiplier)
    return found


def _coefficients(c: Chain) -> list[Item]:
    items = []
    for station, (slope, offset) in coefficients(c).items():
        items.append(Item("Linear coefficients", f"m.{station}", f"{STATIONS[station]}, m", f"{slope:.9g}", ""))
        items.append(Item("Linear coefficients", f"b.{station}", f"{STATIONS[station]}, b", f"{offset:.9g}", ""))
    return items


def _points(c: Chain) -> list[Item]:
    device = c.volumes.device
    if device is None or c.shown_as not in ("volume", "volume_pct"):
        return []
    unit = "l" if c.shown_as == "volume_pct" else c.shown_unit
    length = c.shown_from if UNITS[c.shown_from].quantity == "length" else "mm"
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
    for share in _CHECKS:
        values = run(c, c.tank.inside_height * share)
        for station in c.stations:
            text = value_text(c, station, values[station], system)
            section, key = f"Check at {share:.0%}", f"check.{share * 100:.0f}"
            items.append(_item(section, f"{key}.{station}", STATIONS[station], text))
            if station == "register":
                words = registers.show_words(words_of(c, values[station]))
                items.append(Item(section, f"{key}.words", "Its words", words, ""))
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
