"""Where in a chain its kinds of hop, stations and settings are: that depends on the kinds of its hops alone."""

from __future__ import annotations

from functools import cached_property, lru_cache

from .hop import Hop, fields_of


class Places:
    """Where things are in all chains of the same kinds of hop.

    Parameters
    ----------
    kinds : tuple of type
        Of its hops, in order.
    """

    def __init__(self, kinds: tuple[type[Hop], ...]) -> None:
        self.kinds = kinds
        #: Its stations, in order; and which hop leads to each but the first.
        self.stations = ("level", *(kind.station for kind in kinds))
        self.leading = {kind.station: at for at, kind in enumerate(kinds)}
        self._of: dict[type[Hop], int | None] = {}

    def of(self, kind: type[Hop]) -> int | None:
        """Which hop is the first of a kind; None if there is none."""
        if kind not in self._of:
            self._of[kind] = next((at for at, one in enumerate(self.kinds) if issubclass(one, kind)), None)
        return self._of[kind]

    @cached_property
    def settings(self) -> dict[str, list[tuple[int, str]]]:
        """Which hops hold each setting, by its entry, and in which of their fields."""
        found: dict[str, list[tuple[int, str]]] = {}
        for at, kind in enumerate(self.kinds):
            for one, name in fields_of(kind):
                found.setdefault(one.path, []).append((at, name))
        return found


@lru_cache(maxsize=1024)
def places(kinds: tuple[type[Hop], ...]) -> Places:
    """Where things are in chains of these kinds of hop."""
    return Places(kinds)
