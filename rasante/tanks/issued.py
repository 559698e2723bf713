"""Issuing tables, and comparing any two of a tank's: issued ones, charts, and the tank as it stands."""

from __future__ import annotations

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from ..accounts.models import name_of
from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.tanks.compare import Comparison, Side, compare
from ..core.tanks.points import Points
from ..core.tanks.table import Table
from ..seals.services import seal
from .columns import LITRE, MM, table_columns
from .models import Chart, IssuedTable, Tank
from .services import TableOrder, table_of

CURRENT = "current"


@transaction.atomic
def issue_table(tank: Tank, order: TableOrder, why: str, person: User, revision: int) -> IssuedTable:
    """Issue a tank's table: the next number, its rows and the tank's document frozen in.

    Parameters
    ----------
    tank, order
        The tank and what the table is made of: always from 0 to the top, by innage.
    why : str
        Why it is issued, in a few words.
    person : User
        Who issues it.
    revision : int
        The tank's revision as whoever issues it saw it.

    Raises
    ------
    InputError
        If no reason is given.
    Conflict
        If the tank was surveyed again since.
    """
    if not why.strip():
        raise InputError.at("why", "say why it is issued: first table, new survey, heel measured…")
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    if tank.revision != revision:
        raise Conflict(
            f"the tank was surveyed again meanwhile by {name_of(tank.changed_by)}: you looked at revision "
            f"{revision}, it is {tank.revision} now; look at the table anew before you issue it"
        )
    table = table_of(tank.file, TableOrder(order.step))
    last = tank.issued_tables.aggregate(Max("number"))["number__max"] or 0
    columns = table_columns(table, MM, LITRE)
    issued = IssuedTable(
        tank=tank,
        number=last + 1,
        document=tank.document,
        step=order.step.text,
        rows={
            name: None if column is None else column.tolist()
            for name, column in columns.items()
            if name in ("innage_mm", "volume_l", "u95_l")
        },
        capacity_l=tank.file.tank.capacity * 1000,
        reference_height_mm=tank.file.tank.reference_height_m * 1000,
        why=why.strip(),
        issued_by=person,
    )
    issued.save()
    seal(issued)
    return issued


def table_as_issued(issued: IssuedTable) -> Table:
    """Give back a table as it was issued; nothing is computed anew."""
    innage = np.array(issued.rows["innage_mm"]) / 1000
    volume = np.array(issued.rows["volume_l"]) / 1000
    u95 = issued.rows["u95_l"]
    return Table(
        innage,
        volume,
        None if u95 is None else np.array(u95) / 1000,
        issued.reference_height_mm / 1000 - innage,
        volume / (issued.capacity_l / 1000),
        innage / innage[-1],
    )


def side_of(tank: Tank, key: str) -> Side:
    """Return one side of a comparison.

    Parameters
    ----------
    tank : Tank
        The tank.
    key : str
        ``current``, ``table-3`` for the issued table of that number, or ``chart-7`` for a chart by its id.

    Raises
    ------
    InputError
        If the tank has no such table.
    """
    kind, _, number = key.partition("-")
    if key == CURRENT:
        return Side.of(f"the tank as surveyed, revision {tank.revision}", tank.file.tank)
    if kind == "table" and number.isdecimal():
        issued = tank.issued_tables.filter(number=int(number)).first()
        if issued is not None:
            table = table_as_issued(issued)
            return Side.of_rows(f"table {number}", table.innage_m, table.volume_m3, issued.capacity_l / 1000)
    if kind == "chart" and number.isdecimal():
        chart = tank.charts.filter(pk=int(number)).first()
        if chart is not None:
            points = chart_shape(chart)
            return Side(chart.name, points.volume, points.inside_height, points.capacity)
    raise InputError.at("first", f"this tank has no “{key[:40]}”: choose one of its tables")


def chart_shape(chart: Chart) -> Points:
    """Return a chart's points as a shape."""
    return Points(tuple((level / 1000, volume / 1000) for level, volume in chart.points))


def compare_tables(tank: Tank, first: str, second: str) -> tuple[Side, Side, Comparison]:
    """Compare two of a tank's tables, the second less the first."""
    one, other = side_of(tank, first), side_of(tank, second)
    return one, other, compare(one, other)
