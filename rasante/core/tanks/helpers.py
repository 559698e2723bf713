"""Survey helpers: the arithmetic between what the tape says and what the tank file wants, done where it is taken.

Each helper keeps what was measured; the dimension is worked out from it and never typed twice.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import pi

from ..quantities.errors import InputError
from ..quantities.typed import read_number, read_quantity, with_unit
from ..quantities.units import System

Numbers = Mapping[str, float]


@dataclass(frozen=True)
class Measured:
    """One thing that a helper asks to be measured.

    Parameters
    ----------
    key, label, hint : str
        Its key, its name, and where to put the tape.
    quantity : str
        ``length``, ``volume`` or ``count``.
    optional : bool
        Whether it may be left out, and then is zero.
    """

    key: str
    label: str
    hint: str = ""
    quantity: str = "length"
    optional: bool = False


@dataclass(frozen=True)
class Helper:
    """One way to work a dimension out.

    Parameters
    ----------
    key, label : str
        Its tag in the survey, and its name on the screen.
    fields : tuple of str
        Endings of the paths that it can fill.
    measures : tuple of Measured
        What it asks for.
    work : callable
        The dimension [m] from the measures [m], [1].
    formula : str
        The arithmetic in words.
    method : str
        The way of measuring that it amounts to.
    """

    key: str
    label: str
    fields: tuple[str, ...]
    measures: tuple[Measured, ...]
    work: Callable[[Numbers], float]
    formula: str
    method: str


_DIAMETERS = ("shape.diameter_mm",)
_HEIGHTS = ("shape.diameter_mm", "shape.height_mm", "shape.shell_height_mm", "shape.section.height_mm")

#: The helper whose dimension waits for the heads.
LESS_HEADS = "less_heads"
#: Common practice in the trade, no published source.
HELPERS: dict[str, Helper] = {
    helper.key: helper
    for helper in (
        Helper(
            "outside_less_walls",
            "Outside measure less two walls",
            (
                *_DIAMETERS,
                "shape.width_mm",
                "shape.height_mm",
                "shape.length_mm",
                "shape.section.width_mm",
                "shape.section.height_mm",
            ),
            (
                Measured("outside", "Outside", "Over the bare shell"),
                Measured("wall", "One wall", "Plate and paint, of one side"),
            ),
            lambda m: m["outside"] - 2 * m["wall"],
            "outside − 2 × wall",
            "tape_outside",
        ),
        Helper(
            "circumference",
            "Circumference",
            _DIAMETERS,
            (
                Measured("around", "Circumference", "Outside, the tape pulled tight and square to the axis"),
                Measured("plate", "Plate", "Thickness of the plate"),
                Measured("paint", "Paint", "Thickness of the coat outside", optional=True),
            ),
            lambda m: m["around"] / pi - 2 * (m["plate"] + m["paint"]),
            "circumference ÷ π − 2 × (plate + paint)",
            "strapped",
        ),
        Helper(
            "double_wall",
            "Reference height less riser and interstice",
            _HEIGHTS,
            (
                Measured("reference", "Reference height", "Threads down to the floor, at the port"),
                Measured("riser", "Riser", "Threads down to the top of the outer tank"),
                Measured(
                    "interstice",
                    "Top interstice",
                    "A bent wire hooked under the top of the inner tank, less the riser",
                    optional=True,
                ),
            ),
            lambda m: m["reference"] - m["riser"] - m["interstice"],
            "reference height − riser − top interstice",
            "tape_inside",
        ),
        Helper(
            "rings",
            "Rings × course height",
            ("shape.shell_height_mm", "overflow_height_mm", "shape.height_mm"),
            (
                Measured("rings", "Rings", "Whole courses up to it", "count"),
                Measured("course", "One course", "Seam to seam, at eye height"),
                Measured("rest", "And above", "From the last whole course up", optional=True),
            ),
            lambda m: m["rings"] * m["course"] + m["rest"],
            "rings × course height + what is above",
            "tape_outside",
        ),
        Helper(
            "overflow_from_reference",
            "Down from the reference point",
            ("overflow_height_mm", "outlet_height_mm"),
            (
                Measured("reference", "Reference height", "Threads down to the floor"),
                Measured("down", "Down to it", "Threads down to the lip of the overflow, or the suction's mouth"),
            ),
            lambda m: m["reference"] - m["down"],
            "reference height − down to it",
            "tape_inside",
        ),
        # What is left of it once the heads, typed at their own fields, are taken off too: `survey` does that.
        Helper(
            LESS_HEADS,
            "Overall length less both heads",
            ("shape.shell_length_mm",),
            (
                Measured("overall", "Overall length", "Outermost point to outermost point, along the axis"),
                Measured("plate", "One head's plate", "Its thickness; none for an inside length", optional=True),
            ),
            lambda m: m["overall"] - 2 * m["plate"],
            "overall length − two plates − both heads",
            "tape_outside",
        ),
        Helper(
            "rise_over_length",
            "Rise over a length",
            ("slope_mm_per_m",),
            (
                Measured("rise", "Rise of the right end", "− if the right end is lower"),
                Measured("over", "Over", "Between the two spots, the tape held level"),
            ),
            lambda m: m["rise"] / m["over"] if m["over"] else 0.0,
            "rise ÷ length, as mm per m",
            "",
        ),
    )
}


@dataclass(frozen=True)
class Worked:
    """What a helper made of its measures: the value [m], and each measure as it is kept."""

    value_m: float
    kept: Mapping[str, str]


def work_out(key: str, entries: Mapping[str, str], where: str, system: System) -> Worked:
    """Work a dimension out.

    Parameters
    ----------
    key : str
        The helper.
    entries : mapping of str to str
        Its measures as typed, under ``{where}.{measure}``.
    where : str
        The path they stand under, ``how.shape.diameter_mm`` for instance.
    system : {"metric", "us"}
        What a bare number means.

    Raises
    ------
    InputError
        At the measure that lacks something or cannot be.
    """
    helper = HELPERS[key]
    numbers: dict[str, float] = {}
    kept: dict[str, str] = {}
    for measure in helper.measures:
        place = f"{where}.{measure.key}"
        text = str(entries.get(place, ""))
        kept[place] = text
        if not text.strip():
            if not measure.optional:
                raise InputError.at(place, f"{measure.label.lower()} is not typed yet")
            numbers[measure.key] = 0.0
            continue
        numbers[measure.key] = _read(measure, text, system, place)
        if measure.quantity != "count":
            kept[place] = with_unit(text, measure.quantity, system)
    value = helper.work(numbers)
    if key not in ("rise_over_length", "overflow_from_reference") and value <= 0:
        raise InputError.at(
            f"{where}.{helper.measures[-1].key}",
            f"{helper.formula} comes to {value * 1000:g} mm: nothing is left, check what was measured",
        )
    return Worked(value, kept)


def _read(measure: Measured, text: str, system: System, place: str) -> float:
    if measure.quantity == "count":
        try:
            number = read_number(text)
        except InputError as error:
            raise InputError.at(place, error.problems[0].what) from None
        if number < 0 or number > 1000:
            raise InputError.at(place, f"{number:g} is no count of rings")
        return number
    number = read_quantity(text, measure.quantity, system, place)
    if number < 0 and measure.key != "rise":
        raise InputError.at(place, "must not be below 0")
    return number


@dataclass(frozen=True)
class Dip:
    """A dip by tape and paste.

    Parameters
    ----------
    level_m : float
        Innage of the liquid [m].
    water_m : float
        Innage of the water under the product [m].
    """

    level_m: float
    water_m: float


#: How a tape is read: by the wet mark above the floor, or down from the reference point.
DIP_READ = {"innage": "Up from the floor", "ullage": "Down from the reference point"}


def read_dip(entries: Mapping[str, str], reference_m: float, system: System) -> Dip | None:
    """Read a dip by tape and paste.

    Parameters
    ----------
    entries : mapping of str to str
        ``dip.read`` (`DIP_READ`), ``dip.product`` and ``dip.water`` as typed: where the product's paste and the
        water's paste changed.
    reference_m : float
        Height of the reference point [m].
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    Dip or None
        None if no product cut is typed.

    Raises
    ------
    InputError
        If a cut cannot be read, or the water stands above the product.
    """
    product = str(entries.get("dip.product", ""))
    water = str(entries.get("dip.water", ""))
    if not product.strip():
        if water.strip():
            raise InputError.at("dip.product", "the water cut is typed, the product cut is not")
        return None
    cuts = [
        read_quantity(text, "length", system, place) if text.strip() else None
        for text, place in ((product, "dip.product"), (water, "dip.water"))
    ]
    level, low = cuts
    assert level is not None
    if entries.get("dip.read") == "ullage":
        level = reference_m - level
        low = None if low is None else reference_m - low
    if level < 0:
        raise InputError.at("dip.product", f"stands for an innage of {level * 1000:g} mm: check the reference height")
    low = max(low or 0.0, 0.0)
    if low > level:
        raise InputError.at(
            "dip.water", f"the water, {low * 1000:g} mm up, stands above the product, {level * 1000:g} mm: swap them?"
        )
    return Dip(level, low)
