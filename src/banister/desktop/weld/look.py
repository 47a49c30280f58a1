"""The look after a pass as the hand sets it: the tiles that are tapped, the depth of the whole weld and of places along it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from banister.core.drawing.charts.weld_page import LOOKS

DEPTH_STEP_MM = 0.5
PLACES = 9
"""Places along a weld where a depth of its own can be told."""


@dataclass(slots=True)
class Look:
    """What was tapped and what depth is set; `place` is the one whose own depth is set now (0: all of the weld), `depths` are those of places 1 to 9."""

    tapped: set[str] = field(default_factory=set)
    tile: int = 0
    depth_mm: float = 0.0
    place: int = 0
    depths: dict[int, float] = field(default_factory=dict)

    def tap(self, key: str) -> None:
        """A tile changes between no and yes."""
        self.tapped ^= {key}

    def next_tile(self, way: int) -> None:
        """Another tile is at hand."""
        self.tile = (self.tile + way) % len(LOOKS)

    def expect(self, depth_mm: float) -> None:
        """The depth is set from what is expected, everywhere."""
        self.depth_mm, self.place, self.depths = round(depth_mm / DEPTH_STEP_MM) * DEPTH_STEP_MM, 0, {}

    @property
    def shown_mm(self) -> float:
        """The depth that is set now: of the place, or of the whole weld."""
        return self.depths.get(self.place, self.depth_mm)

    @property
    def all_mm(self) -> tuple[float, ...]:
        """Every depth that was set."""
        return (self.depth_mm, *self.depths.values())

    def deeper(self, steps: int) -> None:
        """The depth that is set now, by so many steps."""
        depth = max(self.shown_mm + steps * DEPTH_STEP_MM, 0.0)
        if self.place:
            self.depths[self.place] = depth
        else:
            self.depth_mm = depth

    def next_place(self) -> None:
        """Another place along the weld, and after the last the whole of it."""
        self.place = (self.place + 1) % (PLACES + 1)

    def measured(self, length_mm: float) -> dict[str, Any]:
        """The depth that is kept, the mean where places have their own, and those along a weld of a length."""
        if not self.depths:
            return {"depth_mm": round(self.depth_mm, 2)}
        found = [(round(place_mm(k, length_mm), 1), self.depths.get(k, self.depth_mm)) for k in range(1, PLACES + 1)]
        return {"depth_mm": round(sum(depth for _, depth in found) / PLACES, 2), "depths": [list(pair) for pair in found]}


def place_mm(place: int, length_mm: float) -> float:
    """Where a place is, from the start of a weld."""
    return (place - 1) / (PLACES - 1) * length_mm
