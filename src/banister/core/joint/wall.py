"""One wall of a groove: straight pieces and arcs from the root up, with everything in closed form.

`d` is the distance from the gap's edge (mm, outwards), `y` the height (mm). An arc is hollow towards
the groove: its centre lies inside, so d = centre_d + sqrt(r2 - (y - centre_y)2).
"""

from __future__ import annotations

import itertools
import math
from functools import cached_property

import numpy as np

from banister.core.value import Struct, replace

ARC_STEP_DEG = 5.0


class Piece(Struct, frozen=True):
    """From (d0, y0) up to (d1, y1), y1 >= y0; straight, or an arc about (centre_d, centre_y)."""

    d0: float
    y0: float
    d1: float
    y1: float
    radius: float = 0.0
    centre_d: float = 0.0
    centre_y: float = 0.0

    def at(self, y: float) -> float:
        """Distance from the gap's edge at one height within the piece (placing asks thousands of times)."""
        if self.radius:
            return self.centre_d + math.sqrt(max(self.radius**2 - (y - self.centre_y) ** 2, 0.0))
        if self.y1 == self.y0:
            return self.d1
        return self.d0 + (self.d1 - self.d0) * (y - self.y0) / (self.y1 - self.y0)

    def reach(self, y: np.ndarray | float) -> np.ndarray:
        """Distance from the gap's edge at height(s) y within the piece."""
        if self.radius:
            inside = np.maximum(self.radius**2 - (np.asarray(y) - self.centre_y) ** 2, 0.0)
            return np.asarray(self.centre_d + np.sqrt(inside))
        if self.y1 == self.y0:
            return np.full(np.shape(y), self.d1)
        return np.asarray(self.d0 + (self.d1 - self.d0) * (np.asarray(y) - self.y0) / (self.y1 - self.y0))

    def area(self, y: np.ndarray | float) -> np.ndarray:
        """Integral of d from the piece's foot to height(s) y within it, mm2."""
        y = np.asarray(y)
        if self.radius:
            above = self._segment(y - self.centre_y) - self._segment(np.asarray(self.y0 - self.centre_y))
            return np.asarray(self.centre_d * (y - self.y0) + above)
        return np.asarray((self.reach(self.y0) + self.reach(y)) / 2 * (y - self.y0)) if self.y1 > self.y0 else np.zeros(y.shape)

    @property
    def moment(self) -> float:
        """Integral of d y over the whole piece, mm3."""
        low, high = self.y0, self.y1
        if self.radius:
            u, v = low - self.centre_y, high - self.centre_y
            cubes = (math.sqrt(max(self.radius**2 - u * u, 0.0)) ** 3 - math.sqrt(max(self.radius**2 - v * v, 0.0)) ** 3) / 3
            half = self.centre_d * (high**2 - low**2) / 2
            arc = float(self._segment(np.asarray(v)) - self._segment(np.asarray(u)))
            return half + self.centre_y * arc + cubes
        return (high - low) * (self.d0 * (2 * low + high) + self.d1 * (low + 2 * high)) / 6

    def _segment(self, u: np.ndarray) -> np.ndarray:
        """Integral of sqrt(r2 - u2)."""
        r = self.radius
        u = np.clip(u, -r, r)
        return np.asarray((u * np.sqrt(r * r - u * u) + r * r * np.arcsin(u / r)) / 2)

    def points(self) -> list[tuple[float, float]]:
        """The piece as a polyline (d, y), foot and head included, of exactly the piece's own area.

        The inner vertices of an arc stand a trace outside it, as far as the chords lie inside.
        """
        if not self.radius:
            return [(self.d0, self.y0), (self.d1, self.y1)]
        first = math.atan2(self.y0 - self.centre_y, self.d0 - self.centre_d)
        last = math.atan2(self.y1 - self.centre_y, self.d1 - self.centre_d)
        if last <= first:  # cut off right at its end
            return [(self.d0, self.y0), (self.d1, self.y1)]
        n = max(2, math.ceil(math.degrees(last - first) / ARC_STEP_DEG))
        step = (last - first) / n
        k = self.radius
        if n > 2:
            a, b, c = (n - 2) * math.sin(step), 2 * k * math.sin(step), n * k * k * step
            inner = (-b + math.sqrt(b * b + 4 * a * c)) / (2 * a)
        else:
            inner = k * step / math.sin(step)
        turned = [first + i * step for i in range(1, n)]
        between = [(self.centre_d + inner * math.cos(w), self.centre_y + inner * math.sin(w)) for w in turned]
        return [(self.d0, self.y0), *between, (self.d1, self.y1)]


class Wall(Struct, frozen=True, dict=True):
    """Pieces from root to face, each beginning where the one before ended."""

    pieces: tuple[Piece, ...]

    @property
    def height(self) -> float:
        """Height of the wall's upper end."""
        return self.pieces[-1].y1

    @property
    def foot(self) -> float:
        """Height of the wall's lower end."""
        return self.pieces[0].y0

    def reach(self, y: float) -> float:
        """Distance from the gap's edge at a height; the upper one where the wall is level."""
        for piece in self.pieces:
            if y < piece.y1:
                return piece.at(max(y, piece.y0))
        return self.pieces[-1].d1

    def reaches(self, y: np.ndarray) -> np.ndarray:
        """As `reach`, for any shape of heights."""
        found = np.full(np.shape(y), self.pieces[-1].d1)
        for piece in reversed(self.pieces):
            if piece.y1 > piece.y0:
                found = np.where(y < piece.y1, piece.reach(np.clip(y, piece.y0, piece.y1)), found)
        return found

    def area_below(self, y: np.ndarray) -> np.ndarray:
        """Integral of d from the foot to height(s) y, mm2, exact."""
        found = np.zeros(np.shape(y))
        for piece in self.pieces:
            found = found + piece.area(np.clip(y, piece.y0, piece.y1))
        return found

    @cached_property
    def moment(self) -> float:
        """Integral of d y over the wall, mm3."""
        return sum(piece.moment for piece in self.pieces)

    def points(self) -> tuple[tuple[float, float], ...]:
        """The wall as a polyline (d, y) from foot to head."""
        found = [(self.pieces[0].d0, self.pieces[0].y0)]
        for piece in self.pieces:
            found += [point for point in piece.points()[1:] if point != found[-1]]
        return tuple(found)

    def below(self, y: float) -> Wall:
        """The part of the wall up to a height."""
        kept = [p for p in self.pieces if p.y0 < y]
        last = kept[-1]
        if last.y1 > y:
            kept[-1] = replace(last, d1=last.at(y), y1=y)
        return Wall(tuple(kept))

    def above(self, y: float) -> Wall:
        """The part of the wall from a height on."""
        kept = [p for p in self.pieces if p.y1 > y]
        first = kept[0]
        if first.y0 < y:
            kept[0] = replace(first, d0=first.at(y), y0=y)
        return Wall(tuple(kept))

    def raised(self, by: float) -> Wall:
        """The wall lifted by a height."""
        return Wall(tuple(replace(p, y0=p.y0 + by, y1=p.y1 + by, centre_y=p.centre_y + by) for p in self.pieces))

    def outwards(self, by: float) -> Wall:
        """The wall measured from a line that lies further in by so much."""
        return Wall(tuple(replace(p, d0=p.d0 + by, d1=p.d1 + by, centre_d=p.centre_d + by) for p in self.pieces))

    def upside_down(self, height: float) -> Wall:
        """The wall mirrored in the level height / 2: foot and head change places."""
        return Wall(tuple(
            Piece(p.d1, height - p.y1, p.d0, height - p.y0, p.radius, p.centre_d, height - p.centre_y)
            for p in reversed(self.pieces)
        ))  # fmt: skip


def straight(*corners: tuple[float, float]) -> Wall:
    """A wall of straight pieces through (d, y) corners; pieces of no length are left out."""
    pairs = itertools.pairwise(corners)
    pieces = tuple(Piece(d0, y0, d1, y1) for (d0, y0), (d1, y1) in pairs if (d0, y0) != (d1, y1))
    return Wall(pieces)


def bevelled(height: float, face: float, bevel_deg: float, from_y: float = 0.0) -> Wall:
    """A root face and one straight bevel, `bevel_deg` from the vertical."""
    reach = (height - face) * math.tan(math.radians(bevel_deg))
    return straight((0.0, from_y), (0.0, from_y + face), (reach, from_y + height))


def two_angled(height: float, face: float, lower_deg: float, knee: float, upper_deg: float) -> Wall:
    """A compound bevel: the lower angle up to the knee's height, the upper one from there."""
    out = (knee - face) * math.tan(math.radians(lower_deg))
    top = out + (height - knee) * math.tan(math.radians(upper_deg))
    return straight((0.0, 0.0), (0.0, face), (out, knee), (top, height))


def rounded(height: float, face: float, radius: float, bevel_deg: float, level: float = 0.0) -> Wall:
    """A U or J wall: root face, a level stretch, an arc tangent to it, and the bevel tangent to the arc.

    The arc's centre stands straight above the end of the level stretch.
    """
    b = math.radians(bevel_deg)
    head_d, head_y = level + radius * math.cos(b), face + radius * (1 - math.sin(b))
    lower = straight((0.0, 0.0), (0.0, face), (level, face)).pieces
    arc = Piece(level, face, head_d, head_y, radius, level, face + radius)
    upper = straight((head_d, head_y), (head_d + (height - head_y) * math.tan(b), height)).pieces
    return Wall((*lower, arc, *upper))


def least_height_of_rounded(face: float, radius: float, bevel_deg: float) -> float:
    """The height a U or J wall needs for its arc to fit."""
    return face + radius * (1 - math.sin(math.radians(bevel_deg)))
