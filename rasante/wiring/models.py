"""The circuit planned for a tank's gauge."""

from __future__ import annotations

from simple_history.models import HistoricalRecords

from ..core.wiring.circuit import check_circuit
from ..planned.models import Planned


class Wiring(Planned):
    """The circuit planned for a tank's gauge."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"wiring of {self.tank}"

    def save(self, *args, **kwargs) -> None:
        """Keep the wiring, if its circuit is one."""
        check_circuit(self.document)
        super().save(*args, **kwargs)
