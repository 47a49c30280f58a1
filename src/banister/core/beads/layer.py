"""A layer of beads placed side by side so that together they meet a target surface.

Each bead but the last has one held toe (the wall, the edge past the groove, or the bead before) and
one free toe on the metal ahead. Two conditions fix it: its area, and that the stretch of its face
which stays visible meets the target on average. The last bead takes what is left, both toes held.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

from banister.core.beads.bead import (
    Bead,
    area_of,
    bulge_for_mean,
    lay,
    lean_amplitude,
)  # fmt: skip
from banister.core.beads.surface import Surface, Toe
from banister.core.value import Struct


class Covers(Struct, frozen=True):
    """Share of a bead that the next one covers, by its place in the layer."""

    first: float
    between: float
    before_last: float
    first_of_two: float

    def of(self, laid: int, count: int) -> float:
        """The share of the bead laid after `laid` others of `count`."""
        if laid == 0:
            return self.first_of_two if count == 2 else self.first
        return self.before_last if laid == count - 2 else self.between


COVERS = Covers(0.45, 0.40, 0.40, 0.41)
"""Tried on random joints: a longer foot makes slivers, a shorter one valleys."""
FOOT_PER_DEPTH = 0.9
LEAST_FOOT = 0.3
PITCH_KEPT = (0.75, 1.3)
FIRST_PITCH_KEPT = 0.5
LAST_TAKES_MORE = 0.35
"""The last bead lies on the foot of the one before, so its stretch is wider for the same area."""
WASH_UP_MM = 0.4
"""How far a bead washes up its wall over the level of its layer."""
LEFT, RIGHT = "left", "right"


class Level(Struct, frozen=True):
    """A flat target at a height; its beads hold the walls at `wall`, a little above."""

    height: float
    wall: float

    def mean(self, x0: float, x1: float) -> float:
        """Mean height over a stretch."""
        return self.height

    def mirrored(self) -> Level:
        """Itself."""
        return self

    def toes(self, surface: Surface) -> tuple[Toe, Toe]:
        """Where the target meets the walls."""
        return surface.level_toes(self.wall)


class Dome(Struct, frozen=True):
    """A cap: flat at `top`, falling as a parabola to `base` within `shoulder` of either toe."""

    left: float
    right: float
    base: float
    top: float
    shoulder: float

    def mean(self, x0: float, x1: float) -> float:
        """Mean height over a stretch, in closed form."""
        return (self._integral(x1) - self._integral(x0)) / (x1 - x0)

    def _integral(self, x: float) -> float:
        rise, r = self.top - self.base, self.shoulder
        d_left, d_right = min(r, x - self.left), max(0.0, x - (self.right - r))
        lost = rise * (d_left - r) ** 3 / (3 * r * r) + rise * d_right**3 / (3 * r * r)
        return self.top * x - lost

    def mirrored(self) -> Dome:
        """The dome seen from the other end."""
        return Dome(-self.right, -self.left, self.base, self.top, self.shoulder)

    def toes(self, surface: Surface) -> tuple[Toe, Toe]:
        """The toes past the groove's edges."""
        return surface.at_x(self.left), _unmirrored(surface, surface.mirrored().at_x(-self.right))


Target = Level | Dome


def _unmirrored(surface: Surface, toe: Toe) -> Toe:
    return Toe(len(surface.x) - 2 - toe.i, -toe.x, toe.y)


class _Hand(Struct, frozen=True):
    """What the hand is asked for: area, the pitch kept to, greatest width, the share the next bead covers, and how far area may give."""

    area: float
    kept: tuple[float, float]
    widest: float
    covered: float
    clamp: Callable[[float], float] | None


def sides_in_order(count: int, start: str, walls_first: bool) -> list[str]:
    """From which side each bead of a layer is laid; the last one closes the layer."""
    other = RIGHT if start == LEFT else LEFT
    sides = [start] * count
    if walls_first and count > 2:
        sides[1] = other
    return sides


class Progress(Struct, frozen=True):
    """How far a layer has come: beads laid, the boundaries its next beads are held between, and the metal still to go in."""

    laid: int
    edges: tuple[float, float]
    rest_mm2: float


class Placed(Struct, frozen=True):
    """One bead of a layer, the surface it leaves, and how far the layer has come with it."""

    bead: Bead
    surface: Surface
    progress: Progress


def place_layer(
    surface: Surface,
    target: Target,
    areas: Sequence[float | None],
    total: float,
    clamp: Callable[[int, float], float],
    sides: Sequence[str],
    widest: float,
    lean: float = 0.0,
    begun: Progress | None = None,
) -> list[Placed]:
    """Place `len(areas)` beads in laying order, or those that are left of a layer that is begun.

    A given area is kept, the others share the rest. `clamp(i, area)` bounds the area of the i-th bead;
    `widest` is the width a bead with a free toe is kept to as far as its depth allows.
    """
    if begun is None:
        left, right = target.toes(surface)
        begun = Progress(0, (left.x, right.x), total)
    bounds_x, rest = list(begun.edges), begun.rest_mm2
    placed: list[Placed] = []
    for i in range(begun.laid, len(areas)):
        fixed, later = areas[i], list(areas[i + 1 :])
        free = 1 + sum(a is None for a in later)
        share = fixed if fixed is not None else (rest - sum(a for a in later if a is not None)) / free
        area = clamp(i, share)
        pitch = (bounds_x[1] - bounds_x[0]) / (len(areas) - i + (LAST_TAKES_MORE if i else 0.0))
        kept = (PITCH_KEPT[0] * pitch if i else FIRST_PITCH_KEPT * pitch, min(PITCH_KEPT[1] * pitch, widest / (1 + LEAST_FOOT)))
        hand = _Hand(area, kept, widest, COVERS.of(i, len(areas)), None if fixed is not None else partial(clamp, i))
        if i == len(areas) - 1:
            start = _held(surface, target, bounds_x[0])
            end = _unmirrored(surface, _held(surface.mirrored(), target.mirrored(), -bounds_x[1]))
            bead, surface = lay(surface, start, end, area, lean)
        elif sides[i] == LEFT:
            bead, surface, bounds_x[0] = _from_left(surface, target, bounds_x, hand, lean)
        else:
            flipped = [-bounds_x[1], -bounds_x[0]]
            bead, turned, edge = _from_left(surface.mirrored(), target.mirrored(), flipped, hand, -lean)
            bead, surface, bounds_x[1] = bead.mirrored(), turned.mirrored(), -edge
        rest -= bead.area_mm2
        placed.append(Placed(bead, surface, Progress(i + 1, (bounds_x[0], bounds_x[1]), rest)))
    return placed


def _held(surface: Surface, target: Target, x: float) -> Toe:
    """The held toe at the left boundary: where the target meets the wall, or on the bead before."""
    wall = target.toes(surface)[0]
    return wall if abs(wall.x - x) < 1e-6 else surface.at_x(x)


def _from_left(surface: Surface, target: Target, bounds_x: Sequence[float], hand: _Hand, lean: float) -> tuple[Bead, Surface, float]:
    """Lay a bead against the left boundary; returns the new boundary on its face as well."""
    start = _held(surface, target, bounds_x[0])
    room = bounds_x[1] - start.x

    def tried(edge: float) -> tuple[float, Toe]:
        end = _free_toe(surface, start, edge, target, hand)
        width = end.x - start.x
        upto = min(0.95, (edge - start.x) / width)
        odd = lean_amplitude(lean, width, end.y - start.y)
        mean = target.mean(start.x, start.x + upto * width)
        return area_of(surface, start, end, bulge_for_mean(start, end, odd, upto, mean)), end

    low, high = (min(kept, 0.94 * room) for kept in hand.kept)
    edge, end, needed = _edge_for_area(tried, start.x + low, start.x + high, hand.area)
    area = hand.area if hand.clamp is None else hand.clamp(needed)
    bead, surface = lay(surface, start, end, area, lean)
    return bead, surface, min(edge, bead.right[0] - 0.05 * bead.width_mm)


def _free_toe(surface: Surface, start: Toe, edge: float, target: Target, hand: _Hand) -> Toe:
    """Where the bead runs out on the metal ahead if the next one begins at `edge`."""
    at_edge = surface.onward(start, edge, math.inf)
    top = target.mean(edge, edge + 0.1)
    depth = max(0.0, top - at_edge.y)
    pitch = edge - start.x
    foot = max(hand.covered / (1 - hand.covered) * pitch, FOOT_PER_DEPTH * depth)
    foot = min(foot, max(hand.widest - pitch, LEAST_FOOT * pitch))
    return surface.onward(at_edge, edge + foot, top - 0.35 * depth)


def _edge_for_area(tried: Callable[[float], tuple[float, Toe]], low: float, high: float, area: float) -> tuple[float, Toe, float]:
    """The edge, toe and area of the bead that meets the target with about this area.

    Regula falsi (Illinois) between the edges `low` and `high`; beyond them the edge is kept and
    the area gives way, or a high spot in one layer would be a higher one in the next.
    """
    at_low, toe_low = tried(low)
    at_high, toe_high = tried(high)
    f_low, f_high = at_low - area, at_high - area
    if f_low >= 0:
        return low, toe_low, at_low
    if f_high <= 0:
        return high, toe_high, at_high
    edge, toe, got, last = high, toe_high, at_high, 0
    for _ in range(20):
        edge = (low * f_high - high * f_low) / (f_high - f_low)
        got, toe = tried(edge)
        f = got - area
        if abs(f) < 0.01:
            return edge, toe, area
        if f < 0:
            low, f_low = edge, f
            f_high = f_high / 2 if last < 0 else f_high
            last = -1
        else:
            high, f_high = edge, f
            f_low = f_low / 2 if last > 0 else f_low
            last = 1
    return edge, toe, got
