"""The scaling chain: its stations from the liquid's level to what a screen shows, and all settings along it."""

from __future__ import annotations

from dataclasses import dataclass

from ..tanks.tank import Tank
from .volumes import Volumes

QUANTITIES: dict[str, str] = {
    "pressure": "Pressure of the liquid",
    "level": "Level above its zero",
    "distance": "Distance down to the surface",
    "counts": "Capacitance counts, between its wet ends",
    "time": "Echo time, there and back",
}
LOOKS: dict[str, str] = {"down": "down from the top", "up": "up from below"}
#: Signals: name, quantity, SI ends, and the least and most that a working transmitter sends.
#: 4–20 mA by NAMUR NE 43, from memory: measuring 3.8 to 20.5 mA. The others are common practice.
SIGNALS: dict[str, tuple[str, str, tuple[float, float], tuple[float, float]]] = {
    "ma4": ("4–20 mA", "current", (0.004, 0.020), (0.0038, 0.0205)),
    "ma0": ("0–20 mA", "current", (0.0, 0.020), (0.0, 0.0205)),
    "v10": ("0–10 V", "voltage", (0.0, 10.0), (0.0, 10.25)),
    "v15": ("1–5 V", "voltage", (1.0, 5.0), (0.95, 5.125)),
    "v5": ("0–5 V", "voltage", (0.0, 5.0), (0.0, 5.125)),
    "mv": ("Millivolts by volt", "", (0.0, 1.0), (-0.05, 1.05)),
    "digital": ("Digital, no signal to convert", "", (0.0, 1.0), (0.0, 1.0)),
}
FAULTS: dict[str, str] = {"low": "goes low (3.6 mA)", "high": "goes high (21.0 mA)", "hold": "holds its last value"}
#: Signals at and beyond which a reader takes the sensor for failed, where it looks at all. 4–20 mA by NAMUR NE 43,
#: from memory; the others are common practice.
TAKEN_FOR_FAULT: dict[str, tuple[float, float]] = {
    "ma4": (0.0036, 0.0210), "ma0": (-0.001, 0.0210), "v10": (-0.5, 10.5), "v15": (0.9, 5.25), "v5": (-0.25, 5.25),
    "mv": (-0.1, 1.1), "digital": (-1.0, 2.0),
}  # fmt: skip
ERRORS: dict[str, str] = {
    "none": "shows what comes of it",
    "flag": "shows an error",
    "hold": "holds the last value",
}
OVER: dict[str, str] = {
    "clip": "stop at the card's own ends",
    "ends": "stop at the scaled ends",
    "wrap": "wrap round",
}
ROUNDINGS: dict[str, str] = {"round": "rounded", "truncate": "cut off"}
TAKES: dict[str, str] = {
    "level": "level",
    "distance": "distance down",
    "pressure": "pressure",
    "percent": "per cent of the height",
}
SHOWS: dict[str, str] = {
    "level": "level",
    "ullage": "ullage",
    "volume": "volume",
    "volume_pct": "per cent by volume",
    "linear_pct": "per cent by height",
}
#: Stations along the chain, and the hop that leads to each.
STATIONS: dict[str, str] = {
    "level": "Level",
    "sensed": "At the sensor",
    "signal": "Signal",
    "counts": "Counts",
    "scaled": "Scaled number",
    "register": "Register",
    "read": "Read from it",
    "shown": "Shown",
}
HOPS: dict[str, str] = {
    "sensed": "Sensing",
    "signal": "Transmitter",
    "counts": "Input card",
    "scaled": "Scaling",
    "register": "Register",
    "read": "Link",
    "shown": "Screen",
}


@dataclass(frozen=True)
class Chain:
    """A scaling chain; a field is named after its entry, ``sensor_low`` after ``sensor.low``.

    Parameters
    ----------
    tank : Tank
        The tank as surveyed: what the level truly is.
    volumes : Volumes
        How the screen turns level into volume.
    liquid_density : float
        Of the liquid as it is [kg/m³].
    liquid_tolerance, sensor_medium : float
        Half-widths of the density and of the echo's speed (k = 2), by their size [1].
    sensor_quantity, sensor_looks : str
        Of `QUANTITIES` and `LOOKS`.
    sensor_zero : float
        Height of its zero above the inside bottom; of its face above the reference point where it looks down [m].
    sensor_mounting : float
        Half-width of that height (k = 2) [m].
    sensor_low, sensor_high : float
        What it senses at the signal's two ends [Pa, m, 1 or s].
    sensor_sound : float
        Speed of sound or light that its echo travels with [m/s].
    sensor_empty, sensor_full, sensor_length : float
        Counts of a capacitance probe at its wet ends, and how far apart these are [1], [1], [m].
    sensor_accuracy, sensor_step : float
        Half-width by its span (k = 2) [1], and the least step of its reading [m].
    signal_kind, signal_fault : str
        Of `SIGNALS` and `FAULTS`.
    signal_ratio : float
        Volts by volt at its high end, of a bridge [1].
    counts_at_low, counts_at_high, counts_low, counts_high : float
        Two signals, and the counts that stand for them.
    counts_bits, counts_over : int, str
        Bits of the card, and what it does beyond them, of `OVER`.
    counts_accuracy : float
        Half-width by its span (k = 2) [1].
    scaled_raw_low, scaled_raw_high, scaled_low, scaled_high : float
        Two counts (of a digital chain: two values sensed), and the numbers that stand for them.
    scaled_unit, scaled_rounding : str
        The number's unit, and how it is brought to its places, of `ROUNDINGS`.
    scaled_decimals, scaled_digits : int
        Places it keeps (−1: all), and the most digits it has (0: any).
    register_type, register_order, register_multiplier, register_offset
        How the number is written: register = number × multiplier + offset.
    register_address : str
        Where it stands, as its device names it.
    read_type, read_order, read_multiplier, read_offset
        How the far end reads it.
    shown_takes, shown_from : str
        What the far end takes the number for, of `TAKES`, and in which unit.
    shown_zero : float
        Level of that number's zero above the inside bottom [m].
    shown_density, shown_height : float
        Density that it works with [kg/m³]; height of its hundred per cent [m].
    shown_as, shown_unit, shown_decimals
        What it shows, of `SHOWS`, in which unit, to how many places.
    shown_error : str
        What it does with a failed sensor's signal, of `ERRORS`.
    shown_below, shown_above : float
        Signals at and beyond which the sensor is taken for failed.
    filter_time : float
        Time constant of all filters together [s].
    """

    tank: Tank
    volumes: Volumes
    liquid_density: float
    liquid_tolerance: float
    sensor_quantity: str
    sensor_looks: str
    sensor_zero: float
    sensor_mounting: float
    sensor_low: float
    sensor_high: float
    sensor_sound: float
    sensor_medium: float
    sensor_empty: float
    sensor_full: float
    sensor_length: float
    sensor_accuracy: float
    sensor_step: float
    signal_kind: str
    signal_ratio: float
    signal_fault: str
    counts_at_low: float
    counts_at_high: float
    counts_low: float
    counts_high: float
    counts_bits: int
    counts_over: str
    counts_accuracy: float
    scaled_raw_low: float
    scaled_raw_high: float
    scaled_low: float
    scaled_high: float
    scaled_unit: str
    scaled_decimals: int
    scaled_rounding: str
    scaled_digits: int
    register_type: str
    register_order: str
    register_multiplier: float
    register_offset: float
    register_address: str
    read_type: str
    read_order: str
    read_multiplier: float
    read_offset: float
    shown_takes: str
    shown_from: str
    shown_zero: float
    shown_density: float
    shown_height: float
    shown_as: str
    shown_unit: str
    shown_decimals: int
    shown_error: str
    shown_below: float
    shown_above: float
    filter_time: float

    @property
    def digital(self) -> bool:
        """Whether no signal is converted: the sensor's own number goes on."""
        return self.signal_kind == "digital"

    @property
    def stations(self) -> tuple[str, ...]:
        """Its stations, in order."""
        return tuple(s for s in STATIONS if not (self.digital and s in ("signal", "counts")))

    @property
    def signal_ends(self) -> tuple[float, float]:
        """The signal at its two ends."""
        return (0.0, self.signal_ratio) if self.signal_kind == "mv" else SIGNALS[self.signal_kind][2]

    @property
    def signal_limits(self) -> tuple[float, float]:
        """The least and the most that a working transmitter sends."""
        low, high = SIGNALS[self.signal_kind][3]
        return (low * self.signal_ratio, high * self.signal_ratio) if self.signal_kind == "mv" else (low, high)


def path_of(setting: str) -> str:
    """Return the entry that a setting is typed under."""
    return setting.replace("_", ".", 1)
