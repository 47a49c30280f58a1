"""What of a bead can be seen, and where its number may stand when a bead from the other side was later melted into it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from banister.core.drawing.shapes import Point
from banister.core.plan.plan import Pass
from banister.core.polygon import boxes_meet, held

SAMPLES = 24
HIDDEN_SHARE = 0.05
"""A bead that loses less than this to the other side keeps its number in the middle."""


def visible_middle(p: Pass, later: Sequence[Pass]) -> tuple[Point, Point] | None:
    """Middle and extent of what other sides' later beads leave of a bead; None where they cover none of it, or all.

    A grid over the bead's box is good enough for a place to write; the middle is the grid's point
    nearest to the mean, so that it lies on the bead.
    """
    points = np.array(p.outline_mm)
    over = [outline for q in later if q.side != p.side and boxes_meet(points, outline := np.array(q.outline_mm))]
    if not over:
        return None
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    x, y = (grid.ravel() for grid in np.meshgrid(np.linspace(x0, x1, SAMPLES), np.linspace(y0, y1, SAMPLES)))
    inside = held(points, x, y)
    covered = np.logical_or.reduce([held(outline, x, y) for outline in over])
    seen = inside & ~covered
    if not seen.any() or (inside & covered).sum() < HIDDEN_SHARE * inside.sum():
        return None
    x, y = x[seen], y[seen]
    nearest = int(np.argmin((x - x.mean()) ** 2 + (y - y.mean()) ** 2))
    return (float(x[nearest]), float(y[nearest])), (float(np.ptp(x)), float(np.ptp(y)))
