"""Draws what is typed of what the rules' answers are kept, and writes the answers.

``python -m tests.core.draw_answers`` writes the answers to what is kept anew. With the name of a reader and a number,
that many are drawn for it, and those of them stay that between them run through all that any of them runs through;
with 0, each of its cases stands with nothing typed. What nothing may end in, an error, is said with what was typed.
"""

from __future__ import annotations

import json
import random
import re
import sys
import traceback
import warnings
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from .answers_of import MODELS, READERS, fields_of
from .test_answers import KEPT, Typed, kept, told
from .test_anything_typed import WHOLE
from .test_procedures import OPTIONS

# What people type of anything, so that something of it is of the right kind for whatever field.
PALETTE = (
    "0", "1", "2", "3", "4", "7", "12", "40", "150", "0.5", "-1", "0 mm", "3 mm", "40 mm", "300 mm", "0.9 m", "1.8 m",
    "2600 mm", "6 ft", "14 in", "80 m", "450 m", "20 L", "800 L", "6 m3", "500 gal", "5 %", "60 %", "93 %", "0.1 %",
    "4 mA", "11.3 mA", "20 mA", "3 V", "12 V", "24 V", "30 V", "20 mV", "1 Ω", "250 Ω", "2 MΩ", "0.2 bar", "0.4 bar",
    "15 psi", "-20 °C", "18 °C", "60 °C", "700 kg/m3", "840 kg/m3", "1000 kg/m3", "7 lb/gal", "20 s", "4 min", "2°",
    "90 L", "90 L/min", "1200 kg", "20000 lb", "3 t", "5 nF", "1 mH", "0.3 W", "1.5 mm2", "16 AWG", "12000", "1502",
    "yes", "no", "a word", "AB-12", "127.0.0.1",
)  # fmt: skip
#: What drawing begins with, where nothing comes of next to nothing.
STARTS: dict[str, list[dict[str, str]]] = {
    "survey": [
        *WHOLE,
        {**WHOLE[0], "name": "A", "product": "diesel", "reference_height_mm": "2.2 m", "safe_fill_pct": "93 %",
         "measured.all": "tape_inside", "gauge_position_mm": "1 m", "slope_mm_per_m": "8 mm/m"},
        {**WHOLE[1], "product": "water", "reference_height_mm": "3.6 m", "dip.read": "2 m",
         "uncertainty.diameter_mm": "4 mm", "floor_heel_l": "20 L"},
        {**WHOLE[0], "shape.diameter_mm": "", "how.shape.diameter_mm": "capacity",
         "how.shape.diameter_mm.capacity": "14000 L", "measured.all": "plate"},
    ],
    "gauge": [{"choice.model": key} for key in MODELS],
    "wiring": [{"kind": kind} for kind in ("two_wire", "three_wire", "four_wire", "digital", "contact")],
    "slopes": [
        {f"readings[{at}].{what}": one
         for at, (signal, level) in enumerate(rows) for what, one in (("signal", signal), ("level", level))}
        for rows in (
            [("7 mA", "0.4 m"), ("12 mA", "1.1 m"), ("14.2 mA", "1.5 m"), ("18 mA", "2 m")],
            [("6 mA", "0.3 m"), ("10 mA", "0.8 m"), ("13 mA", "2.9 m"), ("17 mA", "1.7 m"), ("19 mA", "2 m")],
            [("8 mA", "2 ft"), ("16 mA", "4 ft")],
        )
    ],
    "parting": [
        {"rows[0].level": "1 m", "rows[0].sent": "9.3 mA", "rows[0].counts": "15300", "rows[0].shown": "600 mm"},
        {"rows[0].level": "1.2 m", "rows[0].sent": "14 mA", "rows[0].shown": "1200 mm", "rows[1].level": "0.4 m",
         "rows[1].shown": "390 mm"},
        {"rows[0].level": "0.8 m", "rows[0].number": "1.1 m", "rows[0].words": "1100", "rows[0].shown": "1100 mm"},
    ],
    "marks": [
        {"marks.overfill": "97 %", "marks.high": "93 %", "marks.reorder": "30 %", "marks.low": "200 mm",
         "response": "5 min", "fill_rate": "400 L/min"},
        {"marks.high": "1.6 m", "marks.low": "1.7 m", "marks.empty": "60 mm"},
    ],
    "wet-ends": [
        {**{f"full[{at}].counts": one for at, one in enumerate(("30100", "30105", "30102", "30103"))},
         **{f"empty[{at}].counts": one for at, one in enumerate(("6550", "6551", "6550", "6549"))}},
        {**{f"full[{at}].counts": one for at, one in enumerate(("30100", "30900", "31500"))},
         "empty[0].counts": "90"},
    ],
    "line": [
        {"sensor.high": "10 psi", "value.sent": "10.4 mA"}, {"sensor.high": "0.4 bar", "value.shown": "1.2 m"},
        {"sensor.quantity": "distance", "sensor.high": "3 m", "value.counts": "12000", "tank.height": "2.6 m"},
    ],
    "load": [
        {"capacity": "8000 L", "temperature": "15 °C", "density": "505 kg/m3", "confirmed": "yes", "now": "2000 L",
         "before": "1000 L", "meter": "1000 L", "rate": "250 L/min", "weight": "3000 kg"},
    ],
    "pours": [
        {"start.reading": "0 mm", "reads": "level", **{
            f"pours[{at}].{what}": text
            for at, (level, litres) in enumerate(((150, 75), (300, 76), (480, 130), (700, 240), (900, 190)))
            for what, text in (("amount", f"{litres} L"), ("reading", f"{level} mm"), ("does", "in"))}},
        {"start.reading": "0 mm", "reads": "level", "draws[0].metered": "20 L", "draws[0].drawn": "19.9 L",
         "draws[1].metered": "20 L", "draws[1].drawn": "19.95 L", "target": "5 L", "pours[0].amount": "300 L",
         "pours[0].reading": "560 mm", "pours[0].does": "in"},
    ],
    "source": [
        {"kind": kind, "name": "Yard", "host": "127.0.0.1", "port": "1502", "period": "20",
         "channels[0].name": "level", "channels[0].kind": "level", "channels[0].tank": "1"}
        for kind in ("modbus", "push", "csv", "mqtt")
    ],
    "trouble": [
        {"rows[0].test": "look", "rows[0].outcome": "live", "rows[1].test": "shown", "rows[1].value": "300"},
        {"rows[0].test": "look", "rows[0].outcome": "frozen", "rows[1].test": "counts", "rows[1].value": "6553"},
        {"rows[0].test": "dip", "rows[0].value": "800 mm", "rows[1].test": "alone", "rows[1].value": "9 mA"},
    ],
}  # fmt: skip
#: What readers that have no fields choose from.
OPTIONS_OF: dict[str, Mapping[str, tuple[str, ...]]] = {"procedure": OPTIONS}


ONE_OF = re.compile(r"is not one of (.+)$")


class Drawing:
    """Draws what is typed into a reader's fields, kind by kind of what they take."""

    def __init__(self, name: str, rng: random.Random) -> None:
        self.name, self.rng = name, rng
        self.takes: dict[str, tuple[str, ...]] = {}
        self.last: Typed = ("", "metric", {})

    def typed(self) -> Typed:
        """One case."""
        rng, (reader, cases) = self.rng, READERS[self.name]
        case, system = rng.choice(cases), rng.choice(("metric", "metric", "us"))
        entries = dict(rng.choice(STARTS.get(self.name, [{}])))
        options = OPTIONS_OF.get(self.name)
        if options is not None:
            return case, system, {key: rng.choice(words) for key, words in options.items()}
        for _ in range(rng.randrange(3, 26)):
            self.last = case, system, dict(entries)
            there = sorted(fields_of(reader(case, entries, system)[0]))  # type: ignore[arg-type]
            if not there:
                break
            path = self._another_row(rng.choice(there))
            takes = self._takes(case, path, entries)
            good = rng.random() < 0.93
            entries[path] = rng.choice(takes if takes and good else PALETTE)
        self.last = case, system, entries
        return self.last

    def _another_row(self, path: str) -> str:
        """The same field of another row, now and then: rows are there once something stands in them."""
        return re.sub(r"\[(\d+)\]", lambda found: f"[{self.rng.choice((int(found[1]), 0, 1, 2, 3, 4))}]", path)

    def _takes(self, case: str, path: str, entries: dict[str, str]) -> tuple[str, ...]:
        key = re.sub(r"\d+", "0", path)
        if key not in self.takes:
            read, found = READERS[self.name][0], []
            self.last = case, "metric", {**entries, path: "(each that may be typed)"}
            field = fields_of(read(case, {**entries, path: "?!"}, "metric")[0]).get(path)
            options = ONE_OF.search(field.problem) if field is not None else None
            for text in options[1].split(", ") if options else PALETTE:
                one = fields_of(read(case, {**entries, path: text}, "metric")[0]).get(path)
                found += [text] if one is not None and one.state == "read" else []
            self.takes[key] = tuple(found)
        return self.takes[key]


def drawn(name: str, count: int, most: int) -> list[Typed]:
    """Cases that between them run through what all that were drawn run through, as few as do."""
    from coverage import Coverage

    if name == "limits":
        return [
            (f"{reader}:{READERS[reader][1][0]}", system, start)
            for reader, starts in STARTS.items()
            for system, start in zip(("metric", "us", "metric"), starts[:: max(len(starts) // 3, 1)], strict=False)
            # A case, a parting and a whole run take seconds for so many readings, and have few limits of their own.
            if reader not in ("trouble", "parting") and (reader, system) != ("pours", "metric")
        ]
    if not count:
        return [(case, "metric", {}) for case in READERS[name][1]]
    drawing, ran = Drawing(name, random.Random(count)), []
    # What NumPy warns of is wrong, here as in every run of the tests.
    warnings.simplefilter("error", RuntimeWarning)
    for _ in range(count):
        try:
            typed = drawing.typed()
            measured = Coverage(data_file=None, branch=True, source=["rasante"])
            with measured.collect():
                told(name, typed)
        except Exception:
            # A find: nothing that is typed may end in one.
            print(name, drawing.last, traceback.format_exc(limit=-4), file=sys.stderr)
            continue
        data = measured.get_data()
        arcs = {(file, arc) for file in data.measured_files() for arc in data.arcs(file) or ()}
        ran.append((typed, arcs))
    chosen: list[Typed] = []
    seen: set[Any] = set()
    while ran and len(chosen) < most:
        best = max(ran, key=lambda one: len(one[1] - seen))
        if not best[1] - seen and len(chosen) >= most // 2:
            break
        chosen.append(best[0])
        seen |= best[1]
        ran.remove(best)
    return chosen


def written(name: str, cases: Sequence[Typed]) -> Iterator[str]:
    for typed in cases:
        yield "## " + json.dumps(typed, ensure_ascii=False)
        yield from told(name, typed)


def main(arguments: list[str]) -> None:
    """Write the answers of today's code."""
    KEPT.mkdir(parents=True, exist_ok=True)
    anew = dict(zip(arguments[::2], map(int, arguments[1::2]), strict=True))
    for name in anew or READERS:
        cases = (
            drawn(name, anew[name], max(anew[name] // 5, 8)) if name in anew else [typed for typed, _ in kept(name)]
        )
        (KEPT / f"{name}.txt").write_text("\n".join(written(name, cases)) + "\n", "utf-8")
        print(name, len(cases), file=sys.stderr)


if __name__ == "__main__":
    main(sys.argv[1:])
