"""The groove as a pair of wall profiles: widths, areas, centroids and volumes in closed form.

x runs across the joint (0 on the gap's centre line), y up through the thickness (0 at the root).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from banister.core.joint.joint import Joint
import itertools

Profile = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Groove:
    """Two wall profiles, each `(distance from the gap edge, height)` from root to face, in mm."""

    gap_mm: float
    left: Profile
    right: Profile

    @property
    def thickness_mm(self) -> float:
        """Height of the groove from root to face."""
        return self.left[-1][1]

    @property
    def top_width_mm(self) -> float:
        """Distance between the groove's edges at the face."""
        return self.gap_mm + self.left[-1][0] + self.right[-1][0]

    def x_left(self, y_mm: float) -> float:
        """x of the left wall at a height."""
        return -self.gap_mm / 2 - _reach(self.left, y_mm)

    def x_right(self, y_mm: float) -> float:
        """x of the right wall at a height."""
        return self.gap_mm / 2 + _reach(self.right, y_mm)

    @cached_property
    def _breaks(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Heights where the width bends, the widths there and the areas below them."""
        heights = np.array(sorted({y for _, y in (*self.left, *self.right)}))
        widths = np.array([self.x_right(y) - self.x_left(y) for y in heights])
        slices = np.diff(heights) * (widths[1:] + widths[:-1]) / 2
        return heights, widths, np.concatenate(([0.0], np.cumsum(slices)))

    def width(self, y_mm: np.ndarray | float) -> np.ndarray:
        """Width between the walls at height(s) y (any shape); piecewise linear, hence exact."""
        heights, widths, _ = self._breaks
        found: np.ndarray = np.interp(y_mm, heights, widths)
        return found

    def area_below(self, y_mm: np.ndarray | float) -> np.ndarray:
        """Area in mm2 between the root and height(s) y (any shape), exact."""
        heights, widths, areas = self._breaks
        y = np.clip(y_mm, 0.0, heights[-1])
        i = np.clip(np.searchsorted(heights, y, side="right") - 1, 0, len(heights) - 2)
        result: np.ndarray = areas[i] + (y - heights[i]) * (widths[i] + self.width(y)) / 2
        return result

    @property
    def area_mm2(self) -> float:
        """Area of the whole groove, root to flush."""
        return float(self._breaks[2][-1])

    @property
    def centroid_height_mm(self) -> float:
        """Height of the centroid of the groove's area above the root."""
        heights, widths, _ = self._breaks
        low, high, a, b = heights[:-1], heights[1:], widths[:-1], widths[1:]
        moment = (high - low) * (a * (2 * low + high) + b * (low + 2 * high)) / 6
        return float(moment.sum() / self.area_mm2)

    def mirrored(self) -> Groove:
        """The groove seen from the other end."""
        return Groove(self.gap_mm, self.right, self.left)

    def edge(self) -> tuple[tuple[float, float], ...]:
        """The groove's outline from the left face edge down to the root and up to the right one."""
        g = self.gap_mm / 2
        down = [(-g - d, y) for d, y in reversed(self.left)]
        return tuple(down + [(g + d, y) for d, y in self.right])


def _reach(profile: Profile, y: float) -> float:
    for (d0, y0), (d1, y1) in itertools.pairwise(profile):
        if y <= y1:
            return d0 + (d1 - d0) * max(0.0, y - y0) / (y1 - y0)
    return profile[-1][0]


def bevelled(thickness_mm: float, root_face_mm: float, bevel_deg: float) -> Profile:
    """A wall with a root face and one straight bevel, `bevel_deg` from the vertical."""
    reach = (thickness_mm - root_face_mm) * math.tan(math.radians(bevel_deg))
    points = [(0.0, 0.0), (0.0, root_face_mm), (reach, thickness_mm)]
    if root_face_mm <= 0:
        del points[0]
    if root_face_mm >= thickness_mm:
        del points[-1]
    return tuple(points)


def groove_of(joint: Joint) -> Groove:
    """The groove a joint describes. A single bevel has its square edge on the left."""
    t, f = joint.thickness_mm, joint.root_face_mm
    square = ((0.0, 0.0), (0.0, t))
    if joint.preparation == "square":
        return Groove(joint.root_gap_mm, square, square)
    right = bevelled(t, f, joint.bevel_right_deg)
    left = bevelled(t, f, joint.bevel_left_deg) if joint.preparation == "single-v" else square
    return Groove(joint.root_gap_mm, left, right)


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
