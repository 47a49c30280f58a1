"""The boat of a repair: how deep and long it is dug, how much metal that is, which side is the shorter way; how long each pass of it gets.

Its section is the gouge the planner knows: an arc at the bottom, straight sides. Its ends run out one in so many.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from banister.core.value import Struct, replace

RADIUS_MM, SIDE_DEG, RUN_OUT, INTO_SOUND_MM, BEYOND_MM, CRACK_BEYOND_MM, LIGAMENT_MM = 5.0, 20.0, 3.0, 1.5, 10.0, 50.0, 4.0
"""Typical: radius and side of the gouge, its run-out, how far into sound metal and beyond the ends, and the least metal left under it."""
SIZE_DOUBT_MM = 1.0
RANGES = {
    "radius_mm": (4.0, 8.0), "side_deg": (10.0, 35.0), "run_out": (2.0, 5.0), "into_sound_mm": (1.0, 3.0), "beyond_mm": (10.0, 50.0), "ligament_mm": (3.0, 6.0),
}  # fmt: skip
"""What may be chosen; ends that are dug square are never."""


class Dig(Struct, frozen=True, kw_only=True):
    """How it is dug."""

    radius_mm: float = RADIUS_MM
    side_deg: float = SIDE_DEG
    run_out: float = RUN_OUT
    into_sound_mm: float = INTO_SOUND_MM
    beyond_mm: float = BEYOND_MM
    ligament_mm: float = LIGAMENT_MM


class Boat(Struct, frozen=True, kw_only=True):
    """A boat: depth, the length of its level bottom, and where that begins along the weld; mm."""

    depth_mm: float
    bottom_mm: float
    from_mm: float = 0.0
    dig: Dig = Dig()

    @property
    def area_mm2(self) -> float:
        """Area of its section at full depth."""
        return area_mm2(self.depth_mm, self.dig)

    @property
    def width_mm(self) -> float:
        """Its width at the surface."""
        return width_mm(self.depth_mm, self.dig)

    @property
    def length_mm(self) -> float:
        """Its length at the surface, run-outs counted."""
        return self.bottom_mm + 2 * self.dig.run_out * self.depth_mm

    @property
    def volume_mm3(self) -> float:
        """The metal dug out, to the surface it is dug from."""
        return self.area_mm2 * self.bottom_mm + 2 * self.dig.run_out * _integral(self.depth_mm, self.dig)

    def filled_mm3(self, level_mm: float) -> float:
        """How much is filled up to a level over its bottom."""
        below = min(max(level_mm, 0.0), self.depth_mm)
        run_outs = 2 * self.dig.run_out * _integral(below, self.dig)
        return area_mm2(below, self.dig) * self.bottom_mm + run_outs


def area_mm2(depth: float, dig: Dig) -> float:
    """Area of the section at a depth."""
    r, b = dig.radius_mm, math.radians(dig.side_deg)
    arc = r * (1 - math.sin(b))
    if depth <= arc:
        half = math.sqrt(max(2 * r * depth - depth * depth, 0.0))
        return float(r * r * math.atan2(half, r - depth) - (r - depth) * half)
    over = depth - arc
    return float(r * r * (math.pi / 2 - b - math.sin(b) * math.cos(b)) + 2 * r * math.cos(b) * over + over * over * math.tan(b))


def width_mm(depth: float, dig: Dig) -> float:
    """Width at the top of a depth."""
    r, b = dig.radius_mm, math.radians(dig.side_deg)
    arc = r * (1 - math.sin(b))
    if depth <= arc:
        return 2 * math.sqrt(max(2 * r * depth - depth * depth, 0.0))
    return 2 * (r * math.cos(b) + (depth - arc) * math.tan(b))


def _integral(depth: float, dig: Dig) -> float:
    """The area of the section integrated over its depth: what a run-out of one in one holds."""
    r, b = dig.radius_mm, math.radians(dig.side_deg)
    arc = r * (1 - math.sin(b))
    u = r - min(depth, arc)
    q = max(r * r - u * u, 0.0)
    half = math.sqrt(q)
    below = r * r * (half - u * math.atan2(half, u)) - half**3 / 3
    if depth <= arc:
        return float(below)
    over = depth - arc
    return float(below) + area_mm2(arc, dig) * over + r * math.cos(b) * over**2 + over**3 * math.tan(b) / 3


class Defect(Struct, frozen=True, kw_only=True):
    """What is to be dug out: its upper end under the face it is dug from, its height, where it begins and how long it is; whether it is a crack; mm."""

    top_mm: float
    height_mm: float
    from_mm: float
    length_mm: float
    is_crack: bool = False
    doubt_mm: float = SIZE_DOUBT_MM


def boat_for(defect: Defect, dig: Dig | None = None) -> Boat:
    """The boat from the face a defect is measured from: into sound metal under it, beyond both its ends."""
    dig = dig or Dig()
    beyond = max(dig.beyond_mm, CRACK_BEYOND_MM) if defect.is_crack else dig.beyond_mm
    depth = defect.top_mm + defect.height_mm + defect.doubt_mm + dig.into_sound_mm
    return Boat(depth_mm=depth, bottom_mm=defect.length_mm + 2 * beyond, from_mm=defect.from_mm - beyond, dig=dig)


def dug_boat(boat: Boat, stations: Sequence[tuple[float, float]]) -> Boat:
    """The least boat of that shape that is at every station (place along the weld, depth; mm) as deep as was measured there; its length follows too.

    A single station tells the depth alone.
    """
    deepest = max(depth for _, depth in stations)
    if len(stations) == 1:
        return replace(boat, depth_mm=deepest)
    reach = [(s, boat.dig.run_out * (deepest - depth)) for s, depth in stations]
    begins, ends = min(s + run for s, run in reach), max(s - run for s, run in reach)
    return replace(boat, depth_mm=deepest, from_mm=begins, bottom_mm=max(ends - begins, 0.0))


def from_the_other_side(defect: Defect, thickness_mm: float) -> Defect:
    """The same defect as it lies under the other face."""
    return replace(defect, top_mm=thickness_mm - defect.top_mm - defect.height_mm)


def goes_through(boat: Boat, thickness_mm: float) -> bool:
    """True where less than the ligament would be left under it."""
    return thickness_mm - boat.depth_mm < boat.dig.ligament_mm - 1e-9


def lengths_mm(boat: Boat, areas_mm2: Sequence[float]) -> tuple[float, ...]:
    """The length of metal of every pass, whose areas in the full section are given from the bottom up; passes get longer upwards.

    Areas times lengths are the boat and the cap over its whole length: an identity, by construction.
    """
    found, held = list[float](), 0.0
    for area in areas_mm2:
        y0, y1 = level_mm(boat, held), level_mm(boat, held + area)
        within = area_mm2(y1, boat.dig) - area_mm2(y0, boat.dig)
        filled = boat.filled_mm3(y1) - boat.filled_mm3(y0)
        over = area - within
        found.append((filled + max(over, 0.0) * boat.length_mm) / area if area > 0 else 0.0)
        held += area
    return tuple(found)


def level_mm(boat: Boat, filled_mm2: float) -> float:
    """The level over the bottom that a filled area of the section comes to; the boat's depth once it is full."""
    if filled_mm2 <= 0 or filled_mm2 >= boat.area_mm2:
        return 0.0 if filled_mm2 <= 0 else boat.depth_mm
    low, high = 0.0, boat.depth_mm
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if area_mm2(middle, boat.dig) < filled_mm2 else (low, middle)
    return (low + high) / 2
