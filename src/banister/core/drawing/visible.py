"""What of a bead can be seen, and where its number may stand when a bead from the other side was later melted into it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.drawing.shapes import Point
from banister.core.plan.plan import Pass

if TYPE_CHECKING:
    from numpy.typing import NDArray

SAMPLES = 24
HIDDEN_SHARE = 0.05
"""A bead that loses less than this to the other side keeps its number in the middle."""


def visible_middle(p: Pass, later: Sequence[Pass]) -> tuple[Point, Point] | None:
    """Middle and extent of what other sides' later beads leave of a bead; None where they cover none of it, or all.

    A grid over the bead's box is good enough for a place to write; the middle is the grid's point
    nearest to the mean, so that it lies on the bead.
    """
    over = [q for q in later if q.side != p.side and _boxes_meet(p, q)]
    if not over:
        return None
    points = np.array(p.outline_mm)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    x, y = (grid.ravel() for grid in np.meshgrid(np.linspace(x0, x1, SAMPLES), np.linspace(y0, y1, SAMPLES)))
    inside = _held(points, x, y)
    covered = np.logical_or.reduce([_held(np.array(q.outline_mm), x, y) for q in over])
    seen = inside & ~covered
    if not seen.any() or (inside & covered).sum() < HIDDEN_SHARE * inside.sum():
        return None
    x, y = x[seen], y[seen]
    nearest = int(np.argmin((x - x.mean()) ** 2 + (y - y.mean()) ** 2))
    return (float(x[nearest]), float(y[nearest])), (float(np.ptp(x)), float(np.ptp(y)))


def _boxes_meet(p: Pass, q: Pass) -> bool:
    a, b = np.array(p.outline_mm), np.array(q.outline_mm)
    return bool((a.min(axis=0) < b.max(axis=0)).all() and (b.min(axis=0) < a.max(axis=0)).all())


def contains(p: Pass, x: float, y: float) -> bool:
    """True if a bead's outline holds a point."""
    return bool(_held(np.array(p.outline_mm), np.array([x]), np.array([y]))[0])


def _held(outline: NDArray[np.float64], x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which places a closed outline holds (even-odd)."""
    (ax, ay), (bx, by) = outline.T, np.roll(outline, -1, axis=0).T
    crosses = (ay > y[:, None]) != (by > y[:, None])
    at = (bx - ax) * (y[:, None] - ay) / np.where(by == ay, 1.0, by - ay) + ax
    return np.asarray((crosses & (x[:, None] < at)).sum(axis=1) % 2 == 1)
