"""A straight strip bent to a ring: what lies along the weld goes round, what stands across it goes out; texts and marks stay upright."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator

from banister.core.drawing.shapes import Dot, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.value import Struct, replace

ARC_DEG = 2.0
"""Straight strokes are bent in pieces of so much."""


class Bend(Struct, frozen=True):
    """Takes points of a strip round: x from `begin` to `end` goes once round from 12 o'clock, a height of `high` comes to the radius `room`."""

    centre: Point
    room: float
    k: float
    begin: float
    end: float
    high: float

    def radius(self, y: float) -> float:
        """The radius a height comes to."""
        return self.room - self.k * (self.high - y)

    def at(self, point: Point) -> Point:
        """Where a point comes to."""
        turn = (point[0] - self.begin) / (self.end - self.begin) * 2 * math.pi
        radius = self.radius(point[1])
        return self.centre[0] + radius * math.sin(turn), self.centre[1] + radius * math.cos(turn)

    def flat(self, point: Point) -> Point:
        """The way back."""
        dx, dy = point[0] - self.centre[0], point[1] - self.centre[1]
        turn = math.atan2(dx, dy) % (2 * math.pi) / (2 * math.pi)
        return self.begin + turn * (self.end - self.begin), self.high - (self.room - math.hypot(dx, dy)) / self.k

    def run(self, a: Point, b: Point) -> list[Point]:
        """A straight stroke in pieces short enough to look bent."""
        degrees = abs(b[0] - a[0]) / abs(self.end - self.begin) * 360.0
        n = max(1, math.ceil(degrees / ARC_DEG))
        return [self.at((a[0] + (b[0] - a[0]) * i / n, a[1] + (b[1] - a[1]) * i / n)) for i in range(n + 1)]

    def closed(self, points: Iterable[Point]) -> tuple[Point, ...]:
        """An outline, bent."""
        own = list(points)
        return tuple(p for a, b in itertools.pairwise([*own, own[0]]) for p in self.run(a, b)[:-1])

    def bent(self, shapes: Iterable[Shape], along: bool = False) -> Iterator[Shape]:
        """Shapes, bent; texts beside the strip have no place on a ring, and what both its ends say is said once.

        `along`: boxes are stretches of the weld, and bend as it does.
        """
        said = set[tuple[str, int, int]]()
        for shape in shapes:
            if isinstance(shape, Polygon):
                yield replace(shape, points=self.closed(shape.points))
            elif isinstance(shape, Lines):
                yield replace(shape, segments=tuple(s for a, b in shape.segments for s in itertools.pairwise(self.run(a, b))))
            elif isinstance(shape, Dot):
                yield replace(shape, at=self.at(shape.at))
            elif isinstance(shape, Text):
                x, y = self.at(shape.at)
                once = (shape.text, round(x), round(y))
                if min(self.begin, self.end) - 1 <= shape.at[0] <= max(self.begin, self.end) + 1 and once not in said:
                    said.add(once)
                    yield replace(shape, at=(x, y), anchor="middle")
            elif isinstance(shape, Rect) and along:
                x0, y0, x1, y1 = shape.box
                corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
                if shape.style:
                    yield Polygon(self.closed(corners), shape.style, shape.id)
                if shape.edge:
                    outline = self.closed(corners)
                    yield Lines(tuple(itertools.pairwise((*outline, outline[0]))), shape.edge, shape.id)
            elif isinstance(shape, Rect):
                x0, y0, x1, y1 = shape.box
                (x, y), wide, high = self.at(((x0 + x1) / 2, (y0 + y1) / 2)), (x1 - x0) / 2, (y1 - y0) / 2
                yield replace(shape, box=(x - wide, y - high, x + wide, y + high))
