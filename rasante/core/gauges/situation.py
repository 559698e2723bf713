"""What a gauge meets in this tank: product, pressure, temperature, levels, opening, vapour, and its spot."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..products.liquid import boiling_pressure, density_within
from ..products.registry import Product, product_of
from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.units import show
from ..tanks.inside import bounds, plan_of
from ..tanks.limits import limits_of
from ..tanks.lying import Lying
from ..tanks.tank import Tank
from ..tanks.tank_file import TankFile

AMOUNTS = {"none": "none", "some": "some", "heavy": "heavy"}
WALLS = {"steel": "steel", "aluminium": "aluminium", "plastic": "plastic", "fibreglass": "fibreglass"}
ZONE_NAMES = {"none": "not hazardous", "2": "zone 2", "1": "zone 1", "0": "zone 0"}
#: Temperatures that a tank outside is taken to see where nobody typed them [°C].
_USUAL_C = (-10.0, 40.0)
_ATMOSPHERE_BAR = 1.01325
#: What a liquid that nobody knows is taken to weigh, for the range that it needs [kg/m³].
_ANY_DENSITY = (900.0, 1000.0)


@dataclass(frozen=True)
class Situation:
    """What a gauge meets.

    Parameters
    ----------
    file : TankFile
        The tank.
    product : Product
        What it holds, as the registry knows it.
    lowest_m, highest_m : float
        Working levels, innage [m].
    temperature_c : (float, float)
        Lowest and highest process temperature [°C].
    pressure_bar : float
        Most pressure above the liquid, gauge [bar].
    density : (float, float)
        Lightest and heaviest that the liquid gets [kg/m³].
    zone : str
        The zone where the sensor sits, of `ZONES`.
    vapour, foam, waves : str
        Of `AMOUNTS`.
    sediment_m : float
        Thickness of what lies on the floor [m].
    wall : str
        Of `WALLS`.
    lined, double_wall, bottom_reached : bool
        Whether the wall is lined inside, is double, and whether its bottom can be reached from outside.
    breathes : bool
        Whether the tank is open to the air by a vent.
    bore_m : float or None
        The opening's bore [m]; None if nobody knows.
    riser_m : float
        How far the gauge's face or flange is above the reference point [m].
    x_m, y_m : float
        The spot, in the tank's own frame [m].
    supply_v : float or None
        The least voltage that its supply gives [V].
    assumed : tuple of str
        What was taken as usual because nobody typed it, in words.
    """

    file: TankFile
    product: Product
    lowest_m: float
    highest_m: float
    temperature_c: tuple[float, float]
    pressure_bar: float
    density: tuple[float, float]
    zone: str
    vapour: str
    foam: str
    waves: str
    sediment_m: float
    wall: str
    lined: bool
    double_wall: bool
    bottom_reached: bool
    breathes: bool
    bore_m: float | None
    riser_m: float
    x_m: float
    y_m: float
    supply_v: float | None
    assumed: tuple[str, ...] = field(default=())

    @property
    def tank(self) -> Tank:
        """The tank."""
        return self.file.tank

    @property
    def face_m(self) -> float:
        """Height of the gauge's face or flange above the inside bottom [m]."""
        return self.tank.reference_height_m + self.riser_m

    @property
    def density_mean(self) -> float:
        """The density that a scale would be made for [kg/m³]."""
        return sum(self.density) / 2

    @property
    def floor_m(self) -> float:
        """Height of the floor under the spot above the lowest inside point [m]; 0 where no shape is known."""
        try:
            floor = float(bounds(self.tank.shape, self.x_m, self.y_m)[0])
        except InputError:
            return 0.0
        return 0.0 if np.isnan(floor) else floor

    def surface_m(self, innage: float) -> float:
        """Height of the surface at the spot above the section's lowest point [m], across a sloped tank's axis."""
        shape = self.tank.shape
        if not isinstance(shape, Lying) or shape.slope == 0:
            return innage
        return innage * float(np.hypot(1.0, shape.slope)) + (shape.gauge_m - self.x_m) * shape.slope

    @property
    def depth_m(self) -> float:
        """From the face straight down to the floor under it [m]."""
        return self.face_m - self.floor_m


def read_situation(form: Form, file: TankFile, ports: list[dict[str, Any]], double_wall: bool = False) -> Situation:
    """Read what a gauge meets; what is not typed is taken from the tank and its product, or as usual.

    Parameters
    ----------
    form : Form
        ``site.temperature_low|temperature_high|pressure|density_low|density_high|zone|vapour|foam|waves|sediment|
        wall|lined|double_wall|bottom|bore|riser|lowest|highest|supply``, ``spot.x`` and ``spot.y``.
    file : TankFile
        The tank.
    ports : list of dict
        Its openings, as kept.
    double_wall : bool
        Whether its survey says that it has a double wall.
    """
    tank = file.tank
    product = product_of(file.product)
    assumed: list[str] = []
    low = form.quantity("site.temperature_low", "temperature", -60.0, 400.0)
    high = form.quantity("site.temperature_high", "temperature", -60.0, 400.0)
    if low is None or high is None:
        assumed.append(f"{_USUAL_C[0]:g} to {_USUAL_C[1]:g} °C".replace("-", "−"))
    temperature = (_USUAL_C[0] if low is None else low, _USUAL_C[1] if high is None else high)
    if temperature[0] > temperature[1]:
        form.blame("site.temperature_low", "is above the highest: swap them")
        temperature = temperature[1], temperature[0]
    lowest, highest = _levels(form, tank, assumed)
    zone = form.choice("site.zone", ZONE_NAMES)
    if not zone:
        zone = product.zone if product.flammable else "none"
        if zone != "none":
            assumed.append(f"{ZONE_NAMES[zone]} ({product.why_zone})")
    x, y = _spot(form, file)
    vents = [port for port in ports if "vent" in port.get("uses", ())]
    sediment = form.quantity("site.sediment", "length", 0.0, tank.inside_height, usual=0.0)
    riser = form.quantity("site.riser", "length", -tank.inside_height, 20.0, usual=0.0)
    return Situation(
        file=file,
        product=product,
        lowest_m=lowest,
        highest_m=highest,
        temperature_c=temperature,
        pressure_bar=_pressure(form, product, temperature[1], assumed),
        density=_densities(form, product, temperature, assumed),
        zone=zone,
        vapour=form.choice("site.vapour", AMOUNTS) or product.vapour,
        foam=form.choice("site.foam", AMOUNTS, "none"),
        waves=form.choice("site.waves", AMOUNTS, "none"),
        sediment_m=sediment,
        wall=form.choice("site.wall", WALLS, "steel"),
        lined=form.flag("site.lined"),
        double_wall=form.flag("site.double_wall", double_wall),
        bottom_reached=form.flag("site.bottom", True),
        breathes=bool(vents) and not product.pressurised,
        bore_m=form.quantity("site.bore", "length", 0.001, 5.0),
        riser_m=riser,
        x_m=x,
        y_m=y,
        supply_v=form.quantity("site.supply", "voltage", 0.0, 400.0),
        assumed=tuple(assumed),
    )


def _levels(form: Form, tank: Tank, assumed: list[str]) -> tuple[float, float]:
    """The lowest and the highest level that is worked with [m]."""
    top = tank.inside_height
    lowest = form.quantity("site.lowest", "length", 0.0, top)
    highest = form.quantity("site.highest", "length", 0.0, top)
    try:
        limits = limits_of(tank)
        safe, outlet = limits.safe_level_m, limits.outlet_level_m
    except InputError:
        limits, safe, outlet = None, top, None
    filling = None if limits is None else limits.filling_level_m
    if filling is not None and highest is not None and highest > filling + 1e-9:
        text = show(filling, "length", form.system)
        form.blame("site.highest", f"is above the filling limit of this vessel, {text}: it is not filled above that")
        highest = None
    if highest is None:
        highest = safe
        words = "the filling limit" if safe == filling else "the safe fill" if safe < top else "the inside top"
        assumed.append(f"highest level: {words}")
    if lowest is None:
        lowest = min(max(outlet or 0.0, 0.0), highest)
    if lowest > highest:
        form.blame("site.lowest", "is above the highest level: swap them")
        lowest, highest = highest, lowest
    return lowest, highest


def _spot(form: Form, file: TankFile) -> tuple[float, float]:
    """Where the gauge stands in the tank's own frame [m]: as placed, or at the gauge of the table."""
    x = form.quantity("spot.x", "length", -50.0, 200.0)
    y = form.quantity("spot.y", "length", -50.0, 50.0)
    outline = file.tank.shape.outline()
    gauge = float(file.document.get("gauge_position_mm", outline.gauge_x * 1000)) / 1000
    try:
        plan = plan_of(file.tank.shape)
    except InputError:
        return gauge if x is None else x, 0.0 if y is None else y
    if x is not None and not plan.low[0] <= x <= plan.high[0]:
        form.blame(
            "spot.x", f"is beside the tank: it reaches from {plan.low[0] * 1000:g} to {plan.high[0] * 1000:g} mm"
        )
        x = None
    if y is not None and not plan.low[1] <= y <= plan.high[1]:
        form.blame(
            "spot.y", f"is beside the tank: it reaches from {plan.low[1] * 1000:g} to {plan.high[1] * 1000:g} mm"
        )
        y = None
    upright = file.tank.shape.kind in ("vertical_cylinder", "sphere", "courses")
    start = plan.middle[0] if upright else gauge
    return (start if x is None else x), (0.0 if y is None else y)


def _pressure(form: Form, product: Product, hottest: float, assumed: list[str]) -> float:
    typed = form.quantity("site.pressure", "pressure", 0.0, 1e8)
    if typed is not None:
        return typed / 1e5
    if not product.pressurised:
        return 0.0
    try:
        bar = boiling_pressure(product, hottest) / 1e5 - _ATMOSPHERE_BAR
    except InputError:
        bar = 20.0
    assumed.append(f"{bar:.1f} bar, {product.key or 'gas'} at {hottest:g} °C")
    return max(bar, 0.0)


def _densities(
    form: Form, product: Product, temperature: tuple[float, float], assumed: list[str]
) -> tuple[float, float]:
    """The lightest and the heaviest that the liquid gets [kg/m³]."""
    low = form.quantity("site.density_low", "density", 300.0, 2000.0)
    high = form.quantity("site.density_high", "density", 300.0, 2000.0)
    if low is not None and high is not None:
        if low > high:
            form.blame("site.density_low", "is above the heaviest: swap them")
        return min(low, high), max(low, high)
    beyond = False
    try:
        ends = [density_within(product, celsius) for celsius in (temperature[1], temperature[0])]
        found, beyond = [density for density, _ in ends], not all(reached for _, reached in ends)
    except InputError:
        found = list(_ANY_DENSITY)
    one = low if high is None else high
    if one is not None:
        return one, one
    words = f"{min(found):.0f} to {max(found):.0f} kg/m³"
    if beyond:
        words += ", its tables end before these temperatures"
    elif found == list(_ANY_DENSITY):
        words += ", not known: type the lightest and the heaviest"
    assumed.append(words)
    return min(found), max(found)
