"""Where a proof may apply and read: the stations of a chain, displays beside it, the runs and the readings."""

from __future__ import annotations

#: The stations that something may be applied or read at, with how that is said.
PLACES: dict[str, str] = {
    "level": "Level in the tank",
    "sensed": "At the sensor: depth, distance, pressure",
    "sent": "Signal at the sensor",
    "arriving": "Signal injected at the input",
    "counts": "Counts of the input card",
    "number": "Scaled number",
    "words": "Register",
    "read": "Read over the link",
    "shown": "Shown on the screen",
}
#: What a display that is no part of the chain may show, with its quantity.
DISPLAYS: dict[str, tuple[str, str]] = {
    "innage": ("Level on another display", "length"),
    "span_pct": ("Per cent of span", "ratio"),
    "volume": ("Volume on another display", "volume"),
    "volume_pct": ("Per cent full, by volume", "ratio"),
}
APPLIED: dict[str, str] = {key: words for key, words in PLACES.items() if key != "shown"}
READ: dict[str, str] = {
    **{key: words for key, words in PLACES.items() if key != "level"},
    **{key: words for key, (words, _) in DISPLAYS.items()},
}
POINTS = 5
RUNS = {"found": "As found", "left": "As left"}
DIRECTIONS = {"up": "rising", "down": "falling"}
CELLS = tuple(f"{run}_{direction}" for run in RUNS for direction in DIRECTIONS)
