"""What was chosen for the stops of a joint, as it is kept: the distance wanted, and marks that were put by hand."""

from __future__ import annotations

from banister.core.value import Struct, replace

WANTED_MM = 25.0
"""How far stops of touching passes lie apart at least (typical)."""
FIRST, SECOND = "first", "second"
HALVES = ("", FIRST, SECOND)
"""The run a mark is in: round or along the whole weld, or one half of a fixed pipe."""


class StopPin(Struct, frozen=True, kw_only=True):
    """The marks of one run as they were put by hand: its pass (by key), its half, places in mm from the run's datum."""

    key: str
    half: str = ""
    marks: tuple[float, ...] = ()


class StopChoices(Struct, frozen=True, kw_only=True):
    """The distance wanted between stops of touching passes, and the runs laid by hand."""

    wanted_mm: float = WANTED_MM
    pins: tuple[StopPin, ...] = ()

    def pinned(self, half: str) -> dict[str, tuple[float, ...]]:
        """The marks put by hand in a half, by pass."""
        return {pin.key: pin.marks for pin in self.pins if pin.half == half}

    def pinning(self, pin: StopPin) -> StopChoices:
        """With one run's marks put by hand, in the place of earlier ones."""
        return replace(self, pins=(*self.without(pin.key, pin.half).pins, pin))

    def without(self, key: str, half: str) -> StopChoices:
        """With a run's marks free again."""
        return replace(self, pins=tuple(pin for pin in self.pins if (pin.key, pin.half) != (key, half)))
