"""A load as it is typed: the vessel, the gas with its density confirmed, the limits, and how it is measured."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..products.registry import USUAL_FILLING
from ..quantities.errors import InputError
from ..quantities.form import Form, usual_text
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from ..quantities.odd_units import show_density, show_temperature
from ..quantities.units import System
from .filling import permitted, places
from .gas import SIXTY_F, Gas
from .load import Progress, Targets, progress, targets

#: From the word until nothing flows any more where nobody typed another [s]: common practice, no published source.
STOPPING_S = 10.0
#: A density further from what is listed than this asks for another look [1].
_APART = 0.005
#: At what temperature a density is stated, by the units of its paper: 60 °F, 15 °C, or that of the load itself.
DENSITY_AT = {"60f": "at 60 °F", "15c": "at 15 °C", "load": "at the load's temperature"}
#: Contents by a sensor and by a meter further apart than this share of the vessel ask for another look [1].
_CONTENTS_APART = 0.02
#: What may be liquid-full only above this is nothing to worry about [°C]: common practice, no published source.
_HOT_C = 50.0


@dataclass(frozen=True)
class Sensed:
    """What a vessel's sensor says now.

    Parameters
    ----------
    contents_m3 : float or None
        What is in it [m³]; None where no sensor that can be gone by says so.
    rate : float
        How fast it fills [m³/s].
    silent : str
        Why the sensor that there is cannot be gone by, in words; empty where it can, or where there is none.
    """

    contents_m3: float | None = None
    rate: float = 0.0
    silent: str = ""


@dataclass(frozen=True)
class Contents:
    """What is in a vessel, and by what that is known.

    Parameters
    ----------
    m3, loaded_m3 : float or None
        What is in it, and what has come since the beginning [m³]; None where nothing says so.
    rate : float
        How fast it fills [m³/s].
    by : {"sensor", "meter", "typed", "before", ""}
        What says so; ``before`` is only what was in it before anything came.
    """

    m3: float | None
    loaded_m3: float | None
    rate: float
    by: str


@dataclass(frozen=True)
class LoadForm:
    """A load as far as it has been typed.

    Parameters
    ----------
    form : Form
        Its fields.
    gas : Gas or None
        What is loaded; None while it is not known.
    temperature_c : float
        Of what is loaded [°C].
    filling : float
        Share of the vessel that may be liquid [1].
    table_filling : float or None
        The same by the code's table; None where it has no row.
    targets : Targets or None
        How much may be in it; None while something lacks.
    progress : Progress or None
        How far it has come; None before anything is known of the contents.
    loaded_m3 : float or None
        What has come since the beginning [m³].
    by : str
        What says what is in it, as `Contents`.
    confirmed : bool
        Whether the density of this load was typed and confirmed.
    judgements : list of Judgement
        The heaviest first.
    """

    form: Form
    gas: Gas | None
    temperature_c: float
    filling: float
    table_filling: float | None
    targets: Targets | None
    progress: Progress | None
    loaded_m3: float | None
    by: str
    confirmed: bool
    judgements: list[Judgement]


def read_load(
    entries: Mapping[str, str],
    capacity_m3: float | None,
    filling_ratio: float | None,
    sensed: Sensed,
    system: System,
) -> LoadForm:
    """Read a load as it is typed.

    Parameters
    ----------
    entries : mapping of str to str
        ``capacity`` (where no tank gives it), ``butane``, ``temperature``, ``density`` with ``density.at`` (of
        `DENSITY_AT`) and ``confirmed``, ``weight``,
        ``place``, ``code.filling`` and ``code.reason``, ``before``, ``meter``, ``now``, ``rate``, ``stopping``.
    capacity_m3, filling_ratio : float or None
        Of the tank: all that it holds [m³], and its own filling limit [1]; None where it is typed.
    sensed : Sensed
        What its sensor says now.
    system : {"metric", "us"}
        What a bare number means.
    """
    form = Form(entries, system)
    typed_capacity = form.quantity("capacity", "volume", 1e-3) if capacity_m3 is None else None
    capacity = capacity_m3 if capacity_m3 is not None else typed_capacity
    if capacity is None:
        form.blame("capacity", "say how much the vessel holds, water measure: it stands on its plate")
    butane = form.quantity("butane", "ratio", 0.0, 1.0, usual=0.0)
    temperature = form.quantity("temperature", "temperature", -45.0, 60.0, usual=15.0)
    density = form.quantity("density", "density", 300.0, 700.0)
    stated_at = form.choice("density.at", DENSITY_AT, "60f" if system == "us" else "15c")
    stated_c = {"60f": SIXTY_F, "15c": 15.0, "load": temperature}[stated_at]
    at_stated = Gas(butane).density(stated_c)
    form.stand_in("density", show_density(at_stated, system))
    # What is listed confirms nothing: the density is typed off the paper of this load.
    confirmed = form.flag("confirmed") and density is not None
    weight = form.quantity("weight", "mass", 1.0)
    place = form.choice("place", places(), "large" if (capacity or 0) > 4.542 else "small")
    # What is stated at one temperature is corrected to the load's by the way that the mixture goes with it.
    ratio = 1.0 if density is None else density / at_stated
    if density is not None and not form.entries.get("density.at"):
        # Nobody said at which temperature: whatever makes it densest, which lets least in.
        ratio = max(density / Gas(butane).density(celsius) for celsius in (SIXTY_F, 15.0, temperature))
    gas = Gas(butane, ratio)
    judgements: list[Judgement] = []
    table = _by_table(gas, temperature, place)
    filling = _filling(form, filling_ratio, table, judgements)
    if not confirmed:
        judgements.append(
            watch(
                "density-not-confirmed",
                "the density is not confirmed for this load: read it off the loading paper and type it",
            )
        )
    if density is not None and not form.entries.get("density.at"):
        judgements.append(
            watch(
                "density-at",
                "say at which temperature the density is stated: most papers have 60 °F or 15 °C; until then the "
                "denser is taken",
            )
        )
    if table is None:
        judgements.append(
            watch(
                "no-table-row",
                "the code's table has no row for a relative density of {value:.3f}: filled to {limit:ratio} until "
                "the code's own figure is typed",
                value=gas.relative_density,
                limit=filling,
            )
        )
    if density is not None and abs(ratio - 1) > _APART:
        judgements.append(
            watch(
                "density-apart",
                "the density typed is {value:.1%} off what is listed for this mixture {at}: check at which "
                "temperature it is stated, the unit and the product",
                value=ratio - 1,
                at=DENSITY_AT[stated_at],
            )
        )
    found = None
    if capacity is not None:
        try:
            found = targets(gas, temperature, capacity, filling, weight)
        except InputError as error:
            form.blame(error.problems[0].where, error.problems[0].what)
    contents = _contents(form, sensed, capacity, judgements)
    stopping = form.number("stopping", 0.0, 600.0, "s")
    form.stand_in("stopping", f"{STOPPING_S:g} s")
    going = None
    if found is not None and contents.m3 is not None:
        wait = STOPPING_S if stopping is None else stopping
        going = progress(found.target_m3, contents.m3, contents.rate, wait)
    if found is not None:
        judgements += _judge(found, going)
    said = by_weight(judgements)
    loaded = contents.loaded_m3
    return LoadForm(form, gas, temperature, filling, table, found, going, loaded, contents.by, confirmed, said)


def _by_table(gas: Gas, temperature: float, place: str) -> float | None:
    try:
        return permitted(gas, temperature, place).ratio
    except InputError:
        return None


def _filling(form: Form, own: float | None, table: float | None, judgements: list[Judgement]) -> float:
    """The share of the vessel that may be liquid: no more than is usual, unless the code's own figure is given."""
    figure = form.quantity("code.filling", "ratio", 0.05, 0.98)
    reason = form.text("code.reason", 200)
    usual = min(own or USUAL_FILLING, table if table is not None else USUAL_FILLING, USUAL_FILLING)
    form.stand_in("code.filling", usual_text(usual, "ratio", form.system))
    if figure is None:
        return usual
    if figure > usual and not reason:
        form.blame("code.reason", "say which code gives more than is usual, and where: nothing goes above it without")
        return usual
    if figure > usual:
        judgements.append(
            watch(
                "above-usual-filling",
                "filled to {value:ratio} by the code's own figure, above the {limit:ratio} that are usual: {reason}",
                value=figure,
                limit=usual,
                reason=reason,
            )
        )
    return figure


def _contents(form: Form, sensed: Sensed, capacity: float | None, judgements: list[Judgement]) -> Contents:
    """What is in the vessel now: by its sensor, by a meter, or as typed, and the largest where they differ.

    Notes
    -----
    The largest, because too little seen is too much loaded. What was in it before stands for what is in it only while
    there is no sensor: one that is no longer live would otherwise seem to say that nothing comes.
    """
    before = form.quantity("before", "volume", 0.0, capacity)
    metered = form.quantity("meter", "volume", 0.0)
    now = form.quantity("now", "volume", 0.0)
    typed_rate = form.quantity("rate", "volume", 0.0)
    rate = max(0.0 if typed_rate is None else typed_rate / 60.0, sensed.rate)
    said = {
        "sensor": sensed.contents_m3,
        "meter": None if before is None or metered is None else before + metered,
        "typed": now,
    }
    there = {by: m3 for by, m3 in said.items() if m3 is not None}
    if sensed.silent:
        judgements.append(
            stop(
                "sensor-silent",
                "its sensor cannot be gone by ({why}): stop, or go by the meter and type what it shows",
                why=sensed.silent,
            )
        )
    if not there:
        if before is None or sensed.silent:
            return Contents(None, None, rate, "")
        judgements.append(
            watch("only-before", "nothing says what has come since: type what the meter shows, or what is in it now")
        )
        return Contents(before, None, rate, "before")
    by = max(there, key=lambda one: there[one])
    spread = there[by] - min(there.values())
    if capacity and spread > _CONTENTS_APART * capacity:
        judgements.append(
            watch(
                "contents-apart",
                "what says how much is in it differs by {value:volume}: the largest is gone by; find out why",
                value=round(spread, 3),
            )
        )
    return Contents(there[by], None if before is None else there[by] - before, rate, by)


def _judge(found: Targets, going: Progress | None) -> list[Judgement]:
    judgements = []
    if found.full_at_c is not None and found.full_at_c < _HOT_C:
        judgements.append(
            watch(
                "liquid-full",
                "at {value:.0f} °C this load would fill the vessel with liquid: no room to expand is left above that",
                value=found.full_at_c,
            )
        )
    if going is None:
        return judgements
    if going.state == "over":
        judgements.append(
            stop(
                "over-target",
                "there is {value:volume} more in it than may be: stop, close, and follow the site's own procedure; "
                "never vent it to make room",
                value=round(-going.left_m3, 3),
            )
        )
    elif going.state == "stop":
        judgements.append(stop("stop-now", "stop now: what still comes while it stops fills it to the target"))
    else:
        judgements.append(good("room-left", "{value:volume} to go to the target", value=round(going.left_m3, 3)))
    return judgements


def gas_words(gas: Gas, temperature_c: float, system: System) -> str:
    """What is listed for a mixture, in words: density at its temperature and at 60 °F, and its vapour pressure."""
    pure = Gas(gas.butane)
    return (
        f"{show_density(pure.density(temperature_c), system)} listed at {show_temperature(temperature_c, system)}, "
        f"{show_density(pure.density(SIXTY_F), system)} at 60 °F"
    )
