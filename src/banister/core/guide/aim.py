"""Where the rod points and how it leans, read off the metal under the planned bead.

The arc goes into the deepest corner under the bead; the rod leans along the bisector of the two flanks that rise from it.
Angles are degrees from the section's vertical, positive where the tail leans to +x. Shop figures, tried on 52 beads.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from banister.core.joint.positions import HORIZONTAL
from banister.core.value import Struct

Point = tuple[float, float]
COATED = {"cellulosic": 1.45, "rutile": 1.65, "basic": 1.75}
"""Diameter of a coated rod over its core (typical)."""
BARE = 1.0
MOST_FILL_DEG, MOST_CAP_DEG, UP_DEG = 40.0, 15.0, 5.0
FLAT_MM, SHALLOW_SHARE, WIDE_CORES = 0.15, 0.08, 0.6
CLEAR_MM, ARC_CORES = 0.5, 0.8
STEP_DEG = 1.0


class Aim(Struct, frozen=True):
    """The corner the arc goes into (mm), the lean of the rod, and whether the rod has room there."""

    corner: Point
    lean_deg: float
    has_room: bool = True


def coated_mm(core_mm: float, family: str) -> float:
    """Diameter of a rod with its coating."""
    return core_mm * COATED.get(family, BARE)


def aim(base: Sequence[Point], edges_x: tuple[float, float], top_y: float, core_mm: float, family: str, attitude: str = "flat",
        most_deg: float = MOST_FILL_DEG) -> Aim:  # fmt: skip
    """Where to point. `base` is the metal under the bead from toe to toe (mm), `edges_x` and `top_y` the groove's edges at the face."""
    corner, is_shallow = _corner(base, core_mm)
    lean = _square_to(base) if is_shallow else _bisector(base, corner)
    if attitude == HORIZONTAL:
        lean -= UP_DEG  # the pool is held up against the fall: x < 0 is low
    lean = min(max(lean, -most_deg), most_deg)
    radius = coated_mm(core_mm, family) / 2 + CLEAR_MM
    tip = corner[0], corner[1] + ARC_CORES * core_mm
    allowed = _with_room(tip, edges_x, top_y, radius, lean, most_deg)
    return Aim(corner, lean if allowed is None else allowed, allowed is not None)


def _corner(base: Sequence[Point], core_mm: float) -> tuple[Point, bool]:
    """The deepest point below the chord of the toes, and whether it is too shallow to lean into."""
    (x0, y0), (x1, y1) = base[0], base[-1]
    chord = math.hypot(x1 - x0, y1 - y0)

    def depth(p: Point) -> float:
        return ((y0 - p[1]) * (x1 - x0) - (x0 - p[0]) * (y1 - y0)) / max(chord, 1e-9)

    points = _refined(base)
    deepest = max(map(depth, points))
    flat = [p for p in points if depth(p) >= deepest - FLAT_MM]
    if deepest < SHALLOW_SHARE * chord:
        return _middle(base), True
    if flat[-1][0] - flat[0][0] > WIDE_CORES * core_mm and abs(flat[-1][1] - flat[0][1]) <= 2 * FLAT_MM:
        return ((flat[0][0] + flat[-1][0]) / 2, (flat[0][1] + flat[-1][1]) / 2), False
    return max(points, key=depth), False


def _refined(base: Sequence[Point]) -> list[Point]:
    """The base with a point every quarter of a millimetre."""
    found: list[Point] = [base[0]]
    for (x0, y0), (x1, y1) in itertools.pairwise(base):
        n = max(1, math.ceil(math.hypot(x1 - x0, y1 - y0) / 0.25))
        found += [(x0 + (x1 - x0) * k / n, y0 + (y1 - y0) * k / n) for k in range(1, n + 1)]
    return found


def _middle(base: Sequence[Point]) -> Point:
    """The point of the base halfway between its toes."""
    x = (base[0][0] + base[-1][0]) / 2
    points = _refined(base)
    near = min(points, key=lambda p: abs(p[0] - x))
    return x, near[1]


def _square_to(base: Sequence[Point]) -> float:
    (x0, y0), (x1, y1) = base[0], base[-1]
    return -math.degrees(math.atan2(y1 - y0, x1 - x0))


def _bisector(base: Sequence[Point], corner: Point) -> float:
    """The bisector of the flanks from the corner to the two toes, from the vertical; positive where it leans to +x."""
    angles = [math.degrees(math.atan2(x - corner[0], y - corner[1])) for x, y in (base[0], base[-1])]
    return sum(angles) / 2


def _with_room(tip: Point, edges_x: tuple[float, float], top_y: float, radius: float, lean: float, most_deg: float) -> float | None:
    """The lean nearest to the one wanted at which the rod passes both edges; None where none does."""
    up = top_y - tip[1]
    if up <= 0:
        return lean
    wanted = sorted((k * STEP_DEG for k in range(math.ceil(-most_deg / STEP_DEG), math.floor(most_deg / STEP_DEG) + 1)), key=lambda a: abs(a - lean))
    for angle in (lean, *wanted):
        across, half = tip[0] + up * math.tan(math.radians(angle)), radius / math.cos(math.radians(angle))
        if across - half >= edges_x[0] - 1e-9 and across + half <= edges_x[1] + 1e-9:
            return angle
    return None
