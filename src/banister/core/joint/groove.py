"""The groove as a pair of walls: widths, areas, centroids and volumes in closed form.

x runs across the joint (0 on the gap's centre line), y up through the thickness (0 at the root).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from banister.core.joint.joint import Joint
from banister.core.joint.preparations import walls_of
from banister.core.joint.wall import Wall

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Groove:
    """Two walls from root to face, and the gap between their feet, in mm."""

    gap_mm: float
    left: Wall
    right: Wall

    @property
    def thickness_mm(self) -> float:
        """Height of the groove from root to face."""
        return self.left.height

    @property
    def top_width_mm(self) -> float:
        """Distance between the groove's edges at the face."""
        return self.gap_mm + self.left.pieces[-1].d1 + self.right.pieces[-1].d1

    @property
    def root_width_mm(self) -> float:
        """Distance between the walls' feet."""
        return self.gap_mm + self.left.pieces[0].d0 + self.right.pieces[0].d0

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
        y = np.clip(np.asarray(y_mm, dtype=np.float64), self.left.foot, self.thickness_mm)
        return np.asarray(self.gap_mm * (y - self.left.foot) + self.left.area_below(y) + self.right.area_below(y))

    @cached_property
    def area_mm2(self) -> float:
        """Area of the whole groove, root to flush."""
        return float(self.area_below(self.thickness_mm))

    @property
    def centroid_height_mm(self) -> float:
        """Height of the centroid of the groove's area above the root."""
        moment = self.gap_mm * self.thickness_mm**2 / 2 + self.left.moment + self.right.moment
        return moment / self.area_mm2

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


def groove_of(joint: Joint) -> Groove:
    """The groove a joint describes, through the whole thickness; single bevels have their square edge left."""
    return Groove(0.0 if joint.kind.fillet else joint.root_gap_mm, *walls_of(joint))


def misaligned_areas_mm2(groove: Groove, high_low_mm: float) -> tuple[float, float]:
    """Area of a groove whose right part is raised by `high_low_mm`, closed by straight chords from
    corner to corner, and the same filled level to the high plate (mm2)."""
    left = groove.left.pieces[-1].d1 - groove.left.pieces[0].d0
    right = groove.right.pieces[-1].d1 - groove.right.pieces[0].d0
    chord = groove.area_mm2 + high_low_mm * (left - right) / 2
    return chord, chord + abs(high_low_mm) * groove.top_width_mm / 2


def pipe_volume_mm3(area_mm2: float, centroid_radius_mm: float) -> float:
    """Volume swept round a pipe: area times the path of its centroid (Pappus)."""
    return 2 * math.pi * centroid_radius_mm * area_mm2


def groove_volume_mm3(joint: Joint, groove: Groove) -> float:
    """Volume of the groove, root to flush, along the whole weld."""
    if joint.form == "plate":
        return groove.area_mm2 * joint.length_mm
    inner = joint.pipe_od_mm / 2 - joint.thickness_mm
    return pipe_volume_mm3(groove.area_mm2, inner + groove.centroid_height_mm)


def cap_area_mm2(width_mm: float, height_mm: float) -> float:
    """Area of a parabolic cap: two thirds of width times height."""
    return 2 / 3 * width_mm * height_mm
