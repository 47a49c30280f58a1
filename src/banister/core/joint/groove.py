"""The groove as a pair of walls: widths, areas, centroids and volumes in closed form.

x runs across the joint (0 on the gap's centre line), y up through the thickness (0 at the root).
"""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np

from banister.core.joint.piece import OnPiece
from banister.core.joint.preparation import Preparation
from banister.core.joint.preparations import walls_of
from banister.core.joint.wall import Wall
from banister.core.value import Struct

Point = tuple[float, float]
Points = tuple[Point, ...]
FILLING_LEVELS = 400


class Groove(Struct, frozen=True, dict=True):
    """Two walls from root to face, and the gap between their feet, in mm."""

    gap_mm: float
    left: Wall
    right: Wall

    @property
    def thickness_mm(self) -> float:
        """Height of the groove from root to face, of the lower plate where they stand unlike."""
        return min(self.left.height, self.right.height)

    @property
    def tilt(self) -> float:
        """Rise of the chord from face edge to face edge, right over left, per width."""
        rise = self.right.height - self.left.height
        return rise / self.top_width_mm if rise else 0.0

    @property
    def top_width_mm(self) -> float:
        """Distance between the groove's edges at the face."""
        return self.gap_mm + self.left.pieces[-1].d1 + self.right.pieces[-1].d1

    @property
    def edges_x(self) -> tuple[float, float]:
        """x of the groove's two edges at the faces."""
        return -self.gap_mm / 2 - self.left.pieces[-1].d1, self.gap_mm / 2 + self.right.pieces[-1].d1

    @property
    def face_mm(self) -> float:
        """Height of the chord over x = 0: the thickness where both faces are level."""
        return self.left.height - self.tilt * self.edges_x[0]

    def x_left(self, y_mm: float) -> float:
        """x of the left wall at a height."""
        return -self.gap_mm / 2 - self.left.reach(y_mm)

    def x_right(self, y_mm: float) -> float:
        """x of the right wall at a height."""
        return self.gap_mm / 2 + self.right.reach(y_mm)

    def width(self, y_mm: np.ndarray | float) -> np.ndarray:
        """Width between the walls at height(s) y (any shape), exact."""
        y = np.asarray(y_mm, dtype=np.float64)
        return np.asarray(self.gap_mm + self.left.reaches(y) + self.right.reaches(y))

    def area_below(self, y_mm: np.ndarray | float) -> np.ndarray:
        """Area in mm2 between the root and height(s) y (any shape), exact."""
        y = np.minimum(np.asarray(y_mm, dtype=np.float64), self.thickness_mm)
        halves = (np.maximum(y - wall.foot, 0.0) * self.gap_mm / 2 + wall.area_below(y) for wall in (self.left, self.right))
        return np.asarray(sum(halves))

    @cached_property
    def _filling(self) -> tuple[np.ndarray, np.ndarray]:
        """Heights from the root to the lower face, and the area below each."""
        heights = np.linspace(0.0, self.thickness_mm, FILLING_LEVELS)
        return heights, self.area_below(heights)

    @cached_property
    def level_area_mm2(self) -> float:
        """Area of the groove filled level with its lower face."""
        return float(self._filling[1][-1])

    def filled_to(self, area_mm2: float) -> float:
        """The height an area of metal fills the groove to, were it level."""
        heights, areas = self._filling
        return float(np.interp(area_mm2, areas, heights))

    @cached_property
    def area_mm2(self) -> float:
        """Area of the whole groove, root to flush; unlike heads, and unlike feet, are closed by a straight chord."""
        half = self.gap_mm / 2
        walls = sum(half * (w.height - w.foot) + float(w.area_below(np.asarray(w.height))) for w in (self.left, self.right))
        return walls + sum((a[0] + b[0]) / 2 * (b[1] - a[1]) for a, b in self._chords)

    @property
    def _chords(self) -> tuple[tuple[Point, Point], tuple[Point, Point]]:
        """The lines that close the groove, anticlockwise: at its foot from left to right, at its head from right to left."""
        left, right = self.left.pieces, self.right.pieces
        half = self.gap_mm / 2
        foot = (-half - left[0].d0, left[0].y0), (half + right[0].d0, right[0].y0)
        head = (half + right[-1].d1, right[-1].y1), (-half - left[-1].d1, left[-1].y1)
        return foot, head

    @property
    def centroid_height_mm(self) -> float:
        """Height of the centroid of the groove's area above the root; half the thickness of one that has no area."""
        if self.area_mm2 <= 0.0:
            return self.thickness_mm / 2
        squares = sum(wall.height**2 - wall.foot**2 for wall in (self.left, self.right))
        closing = sum((b[1] - a[1]) * (2 * a[0] * a[1] + a[0] * b[1] + b[0] * a[1] + 2 * b[0] * b[1]) / 6 for a, b in self._chords)
        return (self.gap_mm * squares / 4 + self.left.moment + self.right.moment + closing) / self.area_mm2

    def mirrored(self) -> Groove:
        """The groove seen from the other end."""
        return Groove(self.gap_mm, self.right, self.left)

    @cached_property
    def left_edge(self) -> Points:
        """The left wall as (x, y) points from foot to head."""
        return tuple((-self.gap_mm / 2 - d, y) for d, y in self.left.points())

    @cached_property
    def right_edge(self) -> Points:
        """The right wall as (x, y) points from foot to head."""
        return tuple((self.gap_mm / 2 + d, y) for d, y in self.right.points())

    def edge(self) -> Points:
        """The groove's outline from the left face edge down to the root and up to the right one."""
        return (*reversed(self.left_edge), *self.right_edge)


def groove_of(prep: Preparation) -> Groove:
    """The groove a joint describes, through the whole thickness; single bevels have their square edge left.

    High-low raises the right wall; a thicker right plate without a taper stands above the left one.
    """
    left, right = walls_of(prep)
    gap = 0.0 if prep.kind.fillet else prep.root_gap_mm
    return Groove(gap, left, right.raised(prep.high_low_mm) if prep.high_low_mm else right)


def pipe_volume_mm3(area_mm2: float, centroid_radius_mm: float) -> float:
    """Volume swept round a pipe: area times the path of its centroid (Pappus)."""
    return 2 * math.pi * centroid_radius_mm * area_mm2


def groove_volume_mm3(joint: OnPiece, groove: Groove) -> float:
    """Volume of the groove, root to flush, along the whole weld."""
    if joint.piece.form == "plate":
        return groove.area_mm2 * joint.piece.length_mm
    inner = joint.piece.pipe_od_mm / 2 - joint.prep.thickness_mm
    return pipe_volume_mm3(groove.area_mm2, inner + groove.centroid_height_mm)


def cap_area_mm2(width_mm: float, height_mm: float) -> float:
    """Area of a parabolic cap: two thirds of width times height."""
    return 2 / 3 * width_mm * height_mm
