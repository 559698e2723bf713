"""``make bench``: ratios against references measured in the same run, so that the machine's speed does not matter."""

from __future__ import annotations

import os
import random
import statistics
import sys
import tempfile
import time
from collections.abc import Callable

import numpy as np
from fluids.geometry import TANK

from rasante.core.gauges.model import check_model, generic_models
from rasante.core.gauges.situation import read_situation
from rasante.core.gauges.suit import judge_models
from rasante.core.gauges.tilt import SPOTS, tilt_map
from rasante.core.quantities.form import Form
from rasante.core.scaling.parting import find_parting
from rasante.core.tanks.breakpoints import best_knots, best_points
from rasante.core.tanks.table import make_table
from rasante.core.tanks.tank_file import TankFile, check_document
from rasante.core.tanks.uncertainty import _remembered, volume_uncertainty
from tests.bench_readings import each_minute, folder, push_against_executemany, year_against_scan
from tests.core.chain_cases import chain, file_of, get, put, readings
from tests.core.samples import horizontal
from tests.core.sloped import by_quadrature
from tests.core.test_parting import WELL

GRAVITY = 9.80665
HEAD = {"kind": "torispherical", "dish_radius_mm": 2400, "knuckle_radius_mm": 144}


def median(act: Callable[[], object], runs: int) -> float:
    """Median time of one call [s], after one that is not counted."""
    act()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def table_against_fluids() -> float:
    """How many times faster a 1 mm table of a 2.4 m tank with dished heads is than `fluids` row by row."""
    file = horizontal(2400, 6000, HEAD, HEAD)
    other = TANK(
        D=2.4, L=6.0, horizontal=True,
        sideA="torispherical", sideA_f=1.0, sideA_k=0.06, sideB="torispherical", sideB_f=1.0, sideB_k=0.06,
    )  # fmt: skip
    levels = np.arange(2401) / 1000
    ours = median(lambda: make_table(file, 0.001, uncertainty=False), 15)
    theirs = median(lambda: [other.V_from_h(level) for level in levels], 3)
    return theirs / ours


def sloped() -> TankFile:
    """The same tank 12 mm/m out of level, with a half-width for every dimension."""
    file = horizontal(2400, 6000, HEAD, HEAD)
    document = {**file.document, "slope_mm_per_m": 12, "gauge_position_mm": 1500, "measured": {"all": "tape_inside"}}
    return check_document(document)


def sloped_against_quad() -> float:
    """How many times faster 3,000 sloped rows are than `scipy.integrate.quad` row by row, at equal accuracy.

    The reference takes every hundredth row: the definition of the volume, split where the surface meets the
    shell. Both are within 1e-9 of the capacity of one another (checked here).
    """
    file = sloped()
    levels = np.linspace(0, file.tank.inside_height, 3000)
    document = dict(file.document)
    some = levels[::100]
    theirs = median(lambda: [by_quadrature(document, level, 1e-9) for level in some], 1) * len(levels) / len(some)
    reference = np.array([by_quadrature(document, level, 1e-9) for level in some])
    assert np.max(np.abs(file.tank.volume(some) - reference)) < 1e-9 * file.tank.capacity
    return theirs / median(lambda: file.tank.volume(levels), 9)


def uncertainty_anew(file: TankFile, levels: np.ndarray) -> None:
    """U of all rows as the first to ask for it has it: what is remembered is forgotten first."""
    _remembered.cache_clear()
    volume_uncertainty(file, levels)


def uncertainty_and_breakpoints() -> tuple[float, float]:
    """How many sloped tables U for all rows takes, and 64 breakpoints of its 1 mm table, volumes free."""
    file = sloped()
    levels = np.linspace(0, file.tank.inside_height, 2401)
    volumes = file.tank.volume(levels)
    table = median(lambda: file.tank.volume(levels), 9)
    uncertain = median(lambda: uncertainty_anew(file, levels), 5)
    points = median(lambda: (best_knots(levels, volumes, 64), best_points(levels, volumes, 64)), 3)
    return uncertain / table, points / table


def gauges() -> tuple[float, float]:
    """How many uncertainty tables judging all models takes, and how many level evaluations a tilt map's spot."""
    file = sloped()
    levels = np.linspace(0, file.tank.inside_height, 2401)
    uncertain = median(lambda: uncertainty_anew(file, levels), 5)
    models = [check_model(document) for document in generic_models()]
    there = read_situation(Form({}, "metric"), file, [])
    judged = median(lambda: judge_models(there, models), 5)
    one = median(lambda: file.tank.volume(1.2), 50)
    mapped = median(lambda: tilt_map(file.tank, 5, 3), 3)
    return judged / uncertain, mapped / (SPOTS[0] * SPOTS[1]) / one


def chain_against_numpy() -> float:
    """How many times one NumPy expression of the same hops a chain takes over 2,000 levels, every step rounded."""
    c = chain(**WELL)
    levels = np.linspace(0, file_of("upright").tank.inside_height, 2000)
    s = c.settings()
    weight = s["liquid.density"] * GRAVITY
    low, high = s["sensor.low"], s["sensor.high"]
    span = (s["counts.high"] - s["counts.low"]) / 0.016

    def by_hand() -> np.ndarray:
        pressed = np.clip(weight * np.maximum(levels - s["sensor.zero"], 0), low, high)
        sent = np.clip(0.004 + 0.016 * (pressed - low) / (high - low), 0.0038, 0.0205)
        counts = np.clip(np.rint(s["counts.low"] + (sent - 0.004) * span), 0, 32767)
        share = (counts - s["scaled.raw_low"]) / (s["scaled.raw_high"] - s["scaled.raw_low"])
        number = np.round(s["scaled.low"] + share * (s["scaled.high"] - s["scaled.low"]), 1)
        words = np.rint(number * s["register.multiplier"] + s["register.offset"]).astype(np.int16)
        return np.asarray(np.round((words - s["read.offset"]) / s["read.multiplier"] + s["shown.zero"], 1))

    # Both show the same, but where one of them rounds the other way.
    assert np.median(np.abs(c.run(levels)["shown"] - by_hand())) < 0.05
    return median(lambda: c.run(levels), 60) / median(by_hand, 60)


def partings() -> tuple[float, float]:
    """One answer of where truth and reading part [ms]: two rows wholly read, and ten with all between unread."""
    rng = random.Random(9)
    c = chain(**WELL)
    wrong = put(c, sensor_high=get(c, "sensor_high") * 0.7)
    two = readings(c, wrong, rng)
    ten = [row for _ in range(5) for row in readings(c, wrong, rng, ("level", "shown"))]
    return tuple(median(lambda rows=rows: find_parting(c, rows), 5) * 1000 for rows in (two, ten))


def table_endpoint() -> tuple[float, float]:
    """How many times a trivial signed-in answer the answer of 2,400 rows takes: made anew, and made before."""
    import django
    from django.core.management import call_command
    from django.test import Client

    django.setup()
    call_command("migrate", verbosity=0)
    from rasante.accounts.services import make_person
    from rasante.tanks import services
    from rasante.tanks.models import Site
    from rasante.tanks.services import import_tank
    from tests.core.samples import example, text

    person = make_person("bench", "Bench Mark", "a-long-secret", "technician")
    document = example(uncertainty=None, deadwood=None)
    document["shape"] |= {"left_head": HEAD, "right_head": HEAD}
    tank = import_tank(Site.objects.create(name="Yard"), text(document), person)
    client = Client(SERVER_NAME="localhost")
    client.force_login(person)

    def get(path: str) -> None:
        assert client.get(path).status_code == 200, path

    def anew() -> None:
        services._table.cache_clear()
        get(f"/api/tanks/{tank.pk}/table/?step=1&step_unit=mm")

    trivial = median(lambda: get("/api/session/"), 60)
    first = median(anew, 40)
    again = median(lambda: get(f"/api/tanks/{tank.pk}/table/?step=1&step_unit=mm"), 40)
    return first / trivial, again / trivial


def many_tanks(count: int) -> tuple[float, float, float]:
    """Board and list of `count` tanks as multiples of a trivial signed-in answer; and first board of a start [s]."""
    from django.contrib.auth.models import User
    from django.db import transaction
    from django.test import Client

    from rasante.tanks.models import Site, Tank
    from tests.api.test_many_tanks import many

    person = User.objects.get(username="bench")
    with transaction.atomic():
        many(Site.objects.create(name=f"Yard of {count}"), count - Tank.objects.count(), person)
    client = Client(SERVER_NAME="localhost")
    client.force_login(person)

    def get(path: str) -> None:
        assert client.get(path).status_code == 200, path

    start = time.perf_counter()
    get("/api/board/")
    first = time.perf_counter() - start
    trivial = median(lambda: get("/api/session/"), 40)
    board, listed = (median(lambda path=path: get(path), 20) for path in ("/api/board/", "/api/tanks/?page_size=25"))
    return board / trivial, listed / trivial, first


def workbook_against_bare() -> float:
    """A workbook of 40,000 rows as a multiple of a bare loop of the same writer over the same numbers."""
    import io
    from types import SimpleNamespace

    import xlsxwriter

    from rasante.core.quantities.units import UNITS
    from rasante.tanks.columns import table_columns
    from rasante.tanks.files import MadeTable, table_xlsx
    from rasante.tanks.services import TableOrder, read_step

    file = horizontal(2400, 6000, HEAD, HEAD)
    table = make_table(file, 2.4 / 40_000, uncertainty=False)
    tank = SimpleNamespace(name="x", product="diesel", revision=1, site=SimpleNamespace(name="y"), document={})
    made = MadeTable(tank, table, None, TableOrder(read_step("1", "mm")), None, UNITS["mm"], UNITS["l"])  # type: ignore[arg-type]
    columns = [c for c in table_columns(table, UNITS["mm"], UNITS["l"]).values() if c is not None]

    def bare() -> None:
        book = xlsxwriter.Workbook(io.BytesIO(), {"constant_memory": True})
        sheet = book.add_worksheet()
        for number, row in enumerate(zip(*(column.tolist() for column in columns), strict=True)):
            for place, value in enumerate(row):
                sheet.write_number(number, place, value)
        book.close()

    return median(lambda: table_xlsx(made), 3) / median(bare, 3)


def main() -> int:
    faster = table_against_fluids()
    quad = sloped_against_quad()
    uncertain, points = uncertainty_and_breakpoints()
    judged, spot = gauges()
    along = chain_against_numpy()
    two, ten = partings()
    with tempfile.TemporaryDirectory() as data:
        os.environ["RASANTE_DATA"] = data
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
        first, again = table_endpoint()
        workbook = workbook_against_bare()
        board, listed, start = many_tanks(1000)
        pushed, drawn = push_against_executemany(folder()), year_against_scan()
        fleet = [(1000, *each_minute(1000, 60))]
        growth = [many_tanks(10_000)] if "--growth" in sys.argv else []
        fleet += [(10_000, *each_minute(10_000, 6))] if growth else []
    held = [
        ("1 mm table, dished heads, against fluids row by row: times faster", faster, faster >= 10, "at least 10"),
        ("3,000 sloped rows, dished heads, against quad row by row: times faster", quad, quad >= 100, "at least 100"),
        ("U of 2,400 sloped rows, against one table", uncertain, uncertain <= 25, "at most 25"),
        ("64 breakpoints of a 1 mm sloped table, against one table", points, points <= 20, "at most 20"),
        ("all gauge models judged for a sloped tank, against its U of 2,400 rows", judged, judged <= 2, "at most 2"),
        ("tilt map of 41 × 21 spots, level evaluations by spot", spot, spot <= 400, "at most 400"),
        ("chain over 2,000 levels, against one NumPy expression of its hops", along, along <= 20, "at most 20"),
        ("where two rows part [ms]", two, two <= 150, "at most 150"),
        ("where ten rows part, all between unread [ms]", ten, ten <= 300, "at most 300"),
        ("table endpoint, 2,400 rows made anew, against a trivial answer", first, first <= 5, "at most 5"),
        ("workbook of 40,000 rows, against a bare loop of its writer", workbook, workbook <= 1.5, "at most 1.5"),
        ("board of 1,000 tanks, against a trivial answer", board, board <= 4, "at most 4"),
        ("list of 1,000 tanks, against a trivial answer", listed, listed <= 4, "at most 4"),
        ("first board of 1,000 tanks after a change of the code [s]", start, True, "told, not bounded"),
        ("table endpoint, 2,400 rows made before, against a trivial answer", again, again <= 5, "at most 5"),
    ]
    held += [
        ("10,000 readings pushed, against bare executemany of the same rows", pushed, pushed <= 4, "at most 4"),
        ("a year of minutes drawn, against a scan of its roll-up", drawn, drawn <= 2, "at most 2"),
    ]
    for count, share, size in fleet:
        held += [
            (f"a reading a minute of {count} tanks: share of one core [%]", share, True, "told, not bounded"),
            (f"the same: bytes a reading on disk, roll-ups with it, {count} tanks", size, True, "told, not bounded"),
        ]
    for board, listed, start in growth:
        held += [
            ("board of 10,000 tanks, against a trivial answer", board, True, "told, not bounded"),
            ("list of 10,000 tanks, against a trivial answer", listed, True, "told, not bounded"),
            ("first board of 10,000 tanks [s]", start, True, "told, not bounded"),
        ]
    for words, ratio, good, wanted in held:
        print(f"{ratio:7.1f}  {words} ({wanted}){'' if good else '   NOT HELD'}")
    return 0 if all(good for _, _, good, _ in held) else 1


if __name__ == "__main__":
    sys.exit(main())
