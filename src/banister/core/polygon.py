"""Closed outlines in the plane: area, centroid, what they hold, and how much of one lies in another.

An outline is a sequence of (x, y) points; the last is joined to the first.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]
    Bools = NDArray[np.bool_]

Point = tuple[float, float]
FAR = 1e18
LEVELS = 64
"""Levels at which two outlines are compared: an overlap is good to about one per cent of a bead."""


def area(outline: Sequence[Point]) -> float:
    """Enclosed area (shoelace), never negative.

    >>> area(((0.0, 0.0), (4.0, 0.0), (4.0, 3.0)))
    6.0
    """
    return abs(_moments(outline)[0])


def centroid(outline: Sequence[Point]) -> Point:
    """The centroid of what an outline encloses.

    >>> centroid(((0.0, 0.0), (3.0, 0.0), (3.0, 3.0), (0.0, 3.0)))
    (1.5, 1.5)
    """
    size, x, y = _moments(outline)
    return x / (6 * size), y / (6 * size)


def _moments(outline: Sequence[Point]) -> tuple[float, float, float]:
    """Signed area, and six times its first moments about the axes."""
    total = x = y = 0.0
    for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
        cross = x0 * y1 - x1 * y0
        total += cross
        x += (x0 + x1) * cross
        y += (y0 + y1) * cross
    return total / 2, x, y


def holds(outline: Sequence[Point], x: float, y: float) -> bool:
    """True if an outline holds a point."""
    return bool(held(np.array(outline), np.array([x]), np.array([y]))[0])


def held(outline: Floats, x: Floats, y: Floats) -> Bools:
    """Which of the points (x, y), arrays of one shape (n,), an outline of shape (m, 2) holds (even-odd)."""
    (ax, ay), (bx, by) = outline.T, np.roll(outline, -1, axis=0).T
    crosses = (ay > y[:, None]) != (by > y[:, None])
    at = (bx - ax) * (y[:, None] - ay) / np.where(by == ay, 1.0, by - ay) + ax
    return np.asarray((crosses & (x[:, None] < at)).sum(axis=1) % 2 == 1)


def boxes_meet(a: Floats, b: Floats) -> bool:
    """True if the boxes round two outlines of shape (m, 2) overlap."""
    return bool((a.min(axis=0) < b.max(axis=0)).all() and (b.min(axis=0) < a.max(axis=0)).all())


def stacked(outlines: Sequence[Sequence[Point]]) -> Floats:
    """Outlines in one array of shape (outlines, points, 2); the last point of a short one stands there again, an edge of no length."""
    most = max(map(len, outlines))
    return np.array([[*outline, *[outline[-1]] * (most - len(outline))] for outline in outlines], dtype=np.float64)


def areas(outlines: Floats) -> Floats:
    """What stacked outlines enclose, as `area`; of shape (outlines,)."""
    (x0, y0), (x1, y1) = np.moveaxis(outlines, 2, 0), np.moveaxis(np.roll(outlines, -1, axis=1), 2, 0)
    return np.asarray(np.abs((x0 * y1 - x1 * y0).sum(axis=1)) / 2)


def boxes_shared(a: Floats, b: Floats) -> Floats:
    """Areas that the boxes round stacked outlines share, of shape (outlines of a, outlines of b): the outlines share no more."""
    low, high = np.maximum(a.min(axis=1)[:, None], b.min(axis=1)), np.minimum(a.max(axis=1)[:, None], b.max(axis=1))
    return np.asarray(np.prod(np.maximum(high - low, 0.0), axis=2))


def thinned(points: Sequence[Point], tolerance: float) -> tuple[Point, ...]:
    """A line through fewer of its points, nowhere further from the left out ones than the tolerance (Douglas-Peucker).

    >>> thinned(((0.0, 0.0), (1.0, 0.001), (2.0, 0.0), (2.0, 3.0)), 0.01)
    ((0.0, 0.0), (2.0, 0.0), (2.0, 3.0))
    """
    if len(points) < 3:
        return tuple(points)
    (x0, y0), (x1, y1) = points[0], points[-1]
    dx, dy = x1 - x0, y1 - y0
    length = math.hypot(dx, dy)
    away = [abs((x - x0) * dy - (y - y0) * dx) / length if length else math.hypot(x - x0, y - y0) for x, y in points[1:-1]]
    farthest = max(range(len(away)), key=away.__getitem__)
    if away[farthest] <= tolerance:
        return (points[0], points[-1])
    cut = farthest + 1
    return (*thinned(points[: cut + 1], tolerance)[:-1], *thinned(points[cut:], tolerance))


def strip(outline: Sequence[Point], x0: float, x1: float) -> tuple[Point, ...]:
    """What of an outline lies between two x; () for nothing. Parts that fall apart stay joined by edges along the cut.

    >>> strip(((0.0, 0.0), (4.0, 0.0), (4.0, 3.0)), 2.0, 3.0)
    ((3.0, 2.25), (2.0, 1.5), (2.0, 0.0), (3.0, 0.0))
    """
    return _beyond(_beyond(outline, x0, 1.0), x1, -1.0)


def _beyond(outline: Sequence[Point], at: float, sign: float) -> tuple[Point, ...]:
    found = list[Point]()
    for a, b in zip((*outline[-1:], *outline[:-1]), outline, strict=True):
        u, v = sign * (a[0] - at), sign * (b[0] - at)
        if (u < 0) != (v < 0):
            found.append((at, a[1] + (b[1] - a[1]) * u / (u - v)))
        if v >= 0:
            found.append(b)
    return tuple(found)


def overlap(a: Sequence[Point], b: Sequence[Point]) -> float:
    """Area that two outlines share, by the lengths they share on evenly spread levels.

    >>> round(overlap(((0, 0), (2, 0), (2, 2), (0, 2)), ((1, 0), (3, 0), (3, 2), (1, 2))), 6)
    2.0
    """
    return float(overlaps(stacked([a]), stacked([b]))[0])


def overlaps(a: Floats, b: Floats, levels: int = LEVELS) -> Floats:
    """What every stacked outline of `a` shares with the one in its place in `b`, by their lengths on so many levels; of shape (pairs,)."""
    low = np.maximum(a[..., 1].min(axis=1), b[..., 1].min(axis=1))
    step = np.maximum(np.minimum(a[..., 1].max(axis=1), b[..., 1].max(axis=1)) - low, 0.0) / levels
    heights = low[:, None] + step[:, None] * (np.arange(levels) + 0.5)
    (a0, a1), (b0, b1) = _spans(a, heights), _spans(b, heights)
    shared = np.minimum(a1[..., :, None], b1[..., None, :]) - np.maximum(a0[..., :, None], b0[..., None, :])
    return np.asarray(step * np.maximum(shared, 0.0).sum(axis=(1, 2, 3)))


def _spans(outlines: Floats, levels: Floats) -> tuple[Floats, Floats]:
    """Left and right ends of what outlines (outlines, points, 2) hold on levels (outlines, levels), each (outlines, levels, spans); empty ones lie far away."""
    (ax, ay), (bx, by) = np.moveaxis(outlines, 2, 0)[:, :, None], np.moveaxis(np.roll(outlines, -1, axis=1), 2, 0)[:, :, None]
    y = levels[..., None]
    crosses = (ay > y) != (by > y)
    x = np.where(crosses, ax + (bx - ax) * (y - ay) / np.where(by == ay, 1.0, by - ay), FAR)
    ends = np.sort(x, axis=2)[..., : int(crosses.sum(axis=2).max())]
    return ends[..., ::2], ends[..., 1::2]
