"""The surface metal is laid on: a polyline whose x never decreases, vertical walls included.

Toes are points on it, found exactly on its straight pieces, so no grid is needed.
"""

from __future__ import annotations

import math

from banister.core.joint.groove import Groove
from banister.core.value import Struct

Point = tuple[float, float]
PLATE_MARGIN_MM = 16.0


class Toe(Struct, frozen=True):
    """A point on a surface: it lies on the piece from vertex `i` to vertex `i + 1`."""

    i: int
    x: float
    y: float


class Surface(Struct, frozen=True):
    """Vertices from left to right."""

    x: list[float]
    y: list[float]

    def sheared(self, slope: float) -> Surface:
        """The surface with its height lowered by `slope` x: areas stay, a tilted chord becomes level."""
        return Surface(self.x, [y - slope * x for x, y in zip(self.x, self.y, strict=True)]) if slope else self

    def mirrored(self) -> Surface:
        """The surface seen from the other end."""
        return Surface([-x for x in reversed(self.x)], list(reversed(self.y)))

    def at_or_below(self, level: float) -> Toe:
        """Coming from the left, the first point at or below a level."""
        xs, ys = self.x, self.y
        for i in range(1, len(ys)):
            if ys[i] <= level:
                return self._on_piece(i - 1, ys[i - 1] - level, ys[i] - level)
        return Toe(len(xs) - 2, xs[-1], ys[-1])

    def at_x(self, x: float) -> Toe:
        """The point at x; on a vertical piece the end met first from the left."""
        xs, ys = self.x, self.y
        for i in range(1, len(xs)):
            if xs[i] >= x:
                x0, x1 = xs[i - 1], xs[i]
                if x1 == x0:
                    return Toe(i - 1, x0, ys[i - 1])
                u = max(0.0, (x - x0) / (x1 - x0))
                return Toe(i - 1, x0 + u * (x1 - x0), ys[i - 1] + u * (ys[i] - ys[i - 1]))
        return Toe(len(xs) - 2, xs[-1], ys[-1])

    def onward(self, start: Toe, x: float, ceiling: float) -> Toe:
        """From `start` rightwards to x, but never up a wall above `ceiling`."""
        xs, ys = self.x, self.y
        x0, y0 = start.x, start.y
        for i in range(start.i + 1, len(xs)):
            x1, y1 = xs[i], ys[i]
            reach = 2.0
            if x1 >= x and x1 > x0:
                reach = (x - x0) / (x1 - x0)
            if y1 > ceiling and y1 > y0:
                reach = min(reach, max(0.0, (ceiling - y0) / (y1 - y0)))
            if reach <= 1.0:
                reach = max(0.0, reach)
                return Toe(i - 1, x0 + reach * (x1 - x0), y0 + reach * (y1 - y0))
            x0, y0 = x1, y1
        return Toe(len(xs) - 2, xs[-1], ys[-1])

    def level_toes(self, level: float) -> tuple[Toe, Toe]:
        """Where a level meets the walls: the first points at or below it from either plate inwards."""
        mirror = self.mirrored().at_or_below(level)
        return self.at_or_below(level), Toe(len(self.x) - 2 - mirror.i, -mirror.x, mirror.y)

    def pool_toes(self, aim: Toe, level: float, slope: float) -> tuple[Toe, Toe]:
        """Where a pool of this level about an aim ends: outward either way, the first point where the height and `slope` times the way reach it."""
        mirrored, last = self.mirrored(), len(self.x) - 2
        found = mirrored._pool_end(Toe(last - aim.i, -aim.x, aim.y), level, slope)
        return Toe(last - found.i, -found.x, found.y), self._pool_end(aim, level, slope)

    def _pool_end(self, aim: Toe, level: float, slope: float) -> Toe:
        before, x0, y0 = aim.y - level, aim.x, aim.y
        for i in range(aim.i + 1, len(self.x)):
            x1, y1 = self.x[i], self.y[i]
            after = y1 + slope * (x1 - aim.x) - level
            if after >= 0.0 > before:
                u = before / (before - after)
                return Toe(i - 1, x0 + u * (x1 - x0), y0 + u * (y1 - y0))
            if before >= 0.0:
                return Toe(i - 1, x0, y0)
            before, x0, y0 = after, x1, y1
        return Toe(len(self.x) - 2, x0, y0)

    def nearest(self, point: Point) -> Toe:
        """The point of the surface that lies nearest to another."""
        best, where = math.inf, Toe(0, self.x[0], self.y[0])
        for i in range(len(self.x) - 1):
            (x0, y0), (x1, y1) = (self.x[i], self.y[i]), (self.x[i + 1], self.y[i + 1])
            along = (x1 - x0) ** 2 + (y1 - y0) ** 2
            u = 0.0 if along == 0.0 else min(max(((point[0] - x0) * (x1 - x0) + (point[1] - y0) * (y1 - y0)) / along, 0.0), 1.0)
            x, y = x0 + u * (x1 - x0), y0 + u * (y1 - y0)
            apart = math.hypot(x - point[0], y - point[1])
            if apart < best:
                best, where = apart, Toe(i, x, y)
        return where

    def under_chord(self, left: Toe, right: Toe) -> float:
        """Signed area between the chord of two toes and the metal below it."""
        xs, ys = self.x, self.y
        x0, y0 = left.x, left.y
        twice = 0.0
        for i in range(left.i + 1, right.i + 1):
            x1, y1 = xs[i], ys[i]
            twice += x0 * y1 - x1 * y0
            x0, y0 = x1, y1
        twice += x0 * right.y - right.x * y0
        return (twice + right.x * left.y - left.x * right.y) / 2

    def below_level(self, level: float) -> float:
        """Area between the surface and a level line inside the groove."""
        return self.under_chord(*self.level_toes(level))

    def replaced(self, left: Toe, right: Toe, face: list[Point]) -> Surface:
        """The surface with everything between two toes replaced by a face (toes included)."""
        xs = self.x[: left.i + 1] + [p[0] for p in face] + self.x[right.i + 1 :]
        ys = self.y[: left.i + 1] + [p[1] for p in face] + self.y[right.i + 1 :]
        return Surface(xs, ys)

    def between(self, left: Toe, right: Toe) -> list[Point]:
        """The points of the surface from one toe to the other."""
        inner = zip(self.x[left.i + 1 : right.i + 1], self.y[left.i + 1 : right.i + 1], strict=True)
        return [(left.x, left.y), *inner, (right.x, right.y)]

    def rise(self, toe: Toe, outward: int, over: float = 0.3) -> tuple[float, float]:
        """Run and rise from a toe outwards over a short way along the metal."""
        j = toe.i + 1 if outward > 0 else toe.i
        x, y, left_over = toe.x, toe.y, over
        while 0 <= j < len(self.x) and left_over > 0:
            dx, dy = self.x[j] - x, self.y[j] - y
            step = (dx * dx + dy * dy) ** 0.5
            share = 1.0 if step <= left_over else left_over / step
            x, y = x + share * dx, y + share * dy
            left_over -= step
            j += outward
        return abs(x - toe.x), y - toe.y

    def _on_piece(self, i: int, before: float, after: float) -> Toe:
        u = 0.0 if before == after else min(1.0, max(0.0, before / (before - after)))
        x0, y0 = self.x[i], self.y[i]
        return Toe(i, x0 + u * (self.x[i + 1] - x0), y0 + u * (self.y[i + 1] - y0))


def wedge_surface(groove: Groove) -> Surface:
    """The faces of two plates that meet in a fillet: its walls go on beyond its legs."""
    edge = groove.edge()
    (x0, y0), (x1, y1) = edge[0], edge[-1]
    left, right = PLATE_MARGIN_MM / abs(x0), PLATE_MARGIN_MM / x1
    points = [(x0 * (1 + left), y0 * (1 + left)), *edge, (x1 * (1 + right), y1 * (1 + right))]
    return Surface([p[0] for p in points], [p[1] for p in points])


def groove_surface(groove: Groove) -> Surface:
    """The bare groove with some plate either side and a floor at the root."""
    edge = groove.edge()
    points = [(edge[0][0] - PLATE_MARGIN_MM, edge[0][1]), *edge, (edge[-1][0] + PLATE_MARGIN_MM, edge[-1][1])]
    return Surface([p[0] for p in points], [p[1] for p in points])
