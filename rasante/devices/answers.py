"""What the API answers of rescalings. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass

from ..core.devices.rescale import Change
from ..core.quantities.form import FormField
from ..scaling import answers as scaling


@dataclass(frozen=True)
class Link:
    """A link that may be changed, with the settings that go with it."""

    key: str
    label: str
    settings: list[scaling.Setting]


@dataclass(frozen=True)
class Rescale:
    """What a change asks for."""

    changes: list[Change]
    level_mm: float
    right: str
    forgotten: str
    ratio: float | None
    rounding_mm: float


@dataclass(frozen=True)
class RescaleReading:
    """A rescaling as far as it has been typed."""

    fields_read: list[FormField]
    links: list[Link]
    rescale: Rescale | None
