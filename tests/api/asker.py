"""Asks the server everything about the demo's tanks, and writes what it answers into a folder, a file a tank.

``python -m tests.api.asker FOLDER`` with ``RASANTE_DATA`` on a data folder of the demo.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import django

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
    django.setup()

from django.contrib.auth.models import User
from django.test import Client
from django.test.utils import setup_test_environment

from rasante.readings.models import Channel
from rasante.tanks.models import Tank
from tests.answers import lines

PLANNED = ("gauge", "wiring", "chain", "marks", "slopes", "wet-ends", "parting")
#: Six cans of a run of pours on the workboat's tank, by the level that each left.
POURED = {"start.reading": "0 mm", "reads": "level"}
for _at, (_level, _amount) in enumerate(((165, 80), (272, 80), (360, 80), (440, 80), (514, 80), (588, 80))):
    POURED |= {
        f"pours[{_at}].amount": f"{_amount} L",
        f"pours[{_at}].reading": f"{_level} mm",
        f"pours[{_at}].does": "in",
    }
#: The same fields with other things typed: what is judged of them, by the tank, what is asked, and the units.
TYPED: list[tuple[str, str, str, dict[str, str]]] = [
    ("Process water", "gauge", "us", {"site.sediment": "4 in", "site.foam": "heavy"}),
    ("Process water", "gauge", "metric", {"model": "", "site.temperature_high": "70 °C", "site.pressure": "0.4 bar"}),
    ("Quay diesel north", "gauge", "us", {"spot.x": "2400 mm", "site.face": "100 mm"}),
    ("Quay diesel south", "gauge", "metric", {"model": "", "site.bore": "38 mm", "site.temperature_low": "-30 °C"}),
    ("Slip petrol", "gauge", "metric", {"site.bore": "2 in", "site.sediment": "30 mm"}),
    ("Workboat fuel", "gauge", "metric", {"cut.school": "free", "cut.depth": "640 mm"}),
    ("Workboat fuel", "gauge", "us", {"cut.school": "hard", "tilt.pitch": "6", "tilt.roll": "12"}),
    ("Boiler oil", "gauge", "metric", {"site.temperature_high": "80 °C"}),
    ("Village vessel, manse", "gauge", "metric", {}),
    ("Quay diesel south", "wiring", "us", {"cable[0].length": "900 m", "cable[0].size": "24 AWG"}),
    ("Quay diesel south", "wiring", "metric", {"supply.nominal": "12 V", "burden.ohm": "500 Ω"}),
    ("Quay diesel south", "wiring", "metric", {"calibrator": "yes", "meter": "yes"}),
    ("Slip petrol", "wiring", "metric",
     {"barrier": "yes", "barrier.uo": "28 V", "barrier.co": "83 nF", "sensor.ui": "26 V", "cable[0].length": "500 m",
      "sensor.ci": "5 nF", "supply.most": "35 V"}),
    ("Boiler oil", "wiring", "metric", {"kind": "three_wire", "output": "1-5", "sensor.draw": "30 mA"}),
    ("Boiler oil", "wiring", "metric", {"kind": "four_wire", "input.mode": "active"}),
    ("Boiler oil", "wiring", "us", {"kind": "contact"}),
    ("Boiler oil", "wiring", "metric", {"kind": "digital", "shield": "both"}),
    ("Boiler oil", "chain", "metric", {"sensor.quantity": "pressure", "sensor.high": "0.5 bar", "counts.bits": "12"}),
    ("Boiler oil", "chain", "us",
     {"sensor.quantity": "distance", "register.type": "float32", "register.order": "CDAB"}),
    ("Header tank", "chain", "metric", {"signal.kind": "ma0", "scaled.high": "900", "shown.decimals": "2"}),
    ("Quay diesel north", "chain", "us", {"shown.as": "volume", "shown.points": "9", "filter.time": "40 s"}),
    ("Slip petrol", "chain", "metric",
     {"signal.kind": "v15", "sensor.high": "0.1 bar", "liquid.temperature": "30 °C"}),
    ("Quay diesel south", "marks", "us", {"marks.high": "96 %", "marks.low": "5 in", "fill_rate": "200 gal/min"}),
    ("Slip petrol", "marks", "metric", {"marks.overfill": "98 %", "marks.reorder": "300 L", "response": "5 min"}),
    ("Quay diesel south", "parting", "metric",
     {"rows[0].level": "1 m", "rows[0].sent": "12.1 mA", "rows[0].shown": "400 mm"}),
    ("Header tank", "parting", "us", {"rows[0].level": "30 in", "rows[0].counts": "20000", "rows[1].shown": "12 in"}),
    ("Header tank", "slopes", "metric",
     {"rows[0].depth": "0.4 m", "rows[0].reading": "8 mA", "rows[1].depth": "1 m", "rows[1].reading": "14.2 mA",
      "rows[2].depth": "1.2 m", "rows[2].reading": "16 mA"}),
    ("Smokehouse", "load", "metric",
     {"density": "505 kg/m3", "confirmed": "yes", "temperature": "22 °C", "butane": "10 %", "before": "3000 L",
      "now": "4.1 m3", "meter": "1000 L", "rate": "250 L", "stopping": "6 s", "weight": "4200 kg"}),
    ("Smokehouse", "load", "us", {"density": "4.2 lb/gal", "before": "2000 gal", "now": "2100 gal"}),
    ("Village vessel, chapel", "load", "metric",
     {"now": "160 L", "code.filling": "85 %", "code.reason": "buried, by the code in force", "place": "buried"}),
    ("Workboat fuel", "pours", "metric",
     {"target": "4 L", "meter.half": "0.4 %", "tilt": "1°", "offset": "200 mm", "foam": "yes", **POURED}),
    ("Workboat fuel", "pours", "us",
     {"temperature.first": "8 °C", "temperature.last": "15 °C",
      "draws[0].metered": "20 L", "draws[0].drawn": "19.9 L", "draws[1].metered": "20 L", "draws[1].drawn": "19.95 L",
      **POURED, "pours[3].amount": "55 L"}),
    ("Workboat fuel", "wet-ends", "metric",
     {f"empty[{at}].counts": text for at, text in enumerate(("21155", "21151", "21149", "21150"))}),
    ("Quay diesel north", "parting", "metric",
     {"rows[0].level": "1.2 m", "rows[0].counts": "19660", "rows[0].words": "0x0000 0x4496", "rows[0].read": "0"}),
    ("Boiler oil", "parting", "us", {"rows[0].level": "60 in", "rows[0].shown": "20 in", "rows[1].level": "30 in"}),
    ("Quay diesel north", "slopes", "us",
     {"rows[0].depth": "20 in", "rows[0].reading": "7 mA", "rows[1].depth": "60 in", "rows[1].reading": "14 mA"}),
]  # fmt: skip


class Asker:
    """Asks the server about the demo's tanks as a technician."""

    def __init__(self) -> None:
        self.client = Client()
        self.client.force_login(User.objects.get(username="tech"))

    def answer(self, method: str, path: str, body: Any = None, **query: Any) -> Iterator[str]:
        call = self.client.get(f"/api/{path}", query) if method == "get" else self.client.post(
            f"/api/{path}", body, content_type="application/json"
        )  # fmt: skip
        yield f"## {path} {' '.join(map(str, query.values()))}".rstrip() + f" → {call.status_code}"
        yield from lines(call.json())

    def of_tank(self, tank: Tank) -> Iterator[str]:
        """Everything that is asked of a tank."""
        here, height = f"tanks/{tank.pk}/", tank.file.tank.inside_height
        found: list[Iterator[str]] = [self.answer("get", here), self.answer("get", here + "stations/")]
        found += [
            self.answer("get", here + "line/", by="innage", text=f"{height * share * 1000:.1f} mm", system=system)
            for share in (0.0, 0.31, 0.87, 1.0)
            for system in ("metric", "us")
        ]
        found.append(self.answer("get", here + "line/", by="volume", text=f"{tank.file.tank.capacity * 400:.1f} L"))
        found.append(self.answer("get", here + "table/", step="100"))
        found.append(self.answer("get", here + "budget/", innage_mm=f"{height * 370:.1f}"))
        found.append(self.answer("get", here + "contents/", innage_mm=f"{height * 370:.1f}", temperature="31 °C"))
        found.append(self.answer("get", here + "points/", count="7"))
        for kind in PLANNED:
            entries = self.client.get(f"/api/{here}{kind}/").json()["entries"]
            found.append(self.answer("post", f"{here}{kind}/", {"entries": entries, "system": "metric"}))
        for name, kind, system, changes in TYPED:
            if str(tank.document["name"]).startswith(name):
                entries = self.client.get(f"/api/{here}{kind}/").json()["entries"]
                body = {"entries": {**entries, **changes}, "system": system}
                found.append(self.answer("post", f"{here}{kind}/", body))
        for proof in self.client.get(f"/api/{here}proofs/").json()["results"]:
            found.append(lines({"proof": proof}))
        for sheet in self.client.get(f"/api/{here}device-sheets/").json()["results"]:
            found.append(lines({"sheet": sheet}))
        for one in found:
            for line in one:
                yield line.replace(f"tanks/{tank.pk}/", "")


def file_of(name: str) -> str:
    """What the file of a tank is called."""
    return "".join(letter if letter.isalnum() else "_" for letter in name.lower()) + ".txt"


def main(folder: str) -> None:
    setup_test_environment()
    # What a source sends of a tank moves with the clock.
    Channel.objects.exclude(source__kind="hand").update(tank=None)
    asker = Asker()
    for tank in Tank.objects.order_by("pk"):
        Path(folder, file_of(tank.document["name"])).write_text("\n".join(asker.of_tank(tank)) + "\n", "utf-8")


if __name__ == "__main__":
    main(sys.argv[1])
