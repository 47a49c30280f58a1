"""The worst window along a weld: lengths added up, points counted, the least mean of a profile; exact, by the places where they can turn.

The weld of a pipe is closed: places wrap, a length may run over twelve o'clock.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

EDGE_MM = 1e-9
"""What lies on a window's edge is in it."""
Interval = tuple[float, float]


class Worst(Struct, frozen=True):
    """The worst value, and where its window begins, mm along the weld."""

    value: float
    from_mm: float


def merged(intervals: Sequence[Interval]) -> list[Interval]:
    """What any of the intervals covers, once."""
    found: list[Interval] = []
    for begin, end in sorted(intervals):
        if found and begin <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((begin, end))
    return found


def worst_length(intervals: Sequence[Interval], window_mm: float, weld_mm: float, closed: bool = False, union: bool = False) -> Worst:
    """The greatest length in any window, and where; both toes at one place add up unless `union`.

    f(a) = C(a + W) - C(a) with C the length covered left of a place; it can turn from rising to falling only where a window's
    end leaves an interval or its start enters one, so those places are enough.

    >>> worst_length([(980, 1010), (5, 25), (400, 440)], 100, 1017.5, closed=True).value
    50.0
    """
    if not intervals:
        return Worst(0.0, 0.0)
    wrapped = _wrapped(intervals, weld_mm) if closed else [(max(a, 0.0), min(b, weld_mm)) for a, b in intervals]
    if window_mm >= weld_mm:
        whole = merged(_once_round(wrapped, weld_mm) if closed else wrapped) if union else wrapped
        return Worst(float(sum(b - a for a, b in whole)), 0.0)
    laid = [(a + k * weld_mm, b + k * weld_mm) for k in ((-1, 0, 1, 2) if closed else (0,)) for a, b in wrapped]
    laid = merged(laid) if union else laid
    starts, ends = np.sort([a for a, _ in laid]), np.sort([b for _, b in laid])
    last = weld_mm if closed else weld_mm - window_mm
    tried = np.clip(np.concatenate([starts, ends - window_mm, [0.0, last]]), 0.0, last)
    held = _covered(tried + window_mm, starts, ends) - _covered(tried, starts, ends)
    at = int(np.argmax(held))
    return Worst(float(held[at]), float(tried[at]))


def _wrapped(intervals: Sequence[Interval], weld_mm: float) -> list[Interval]:
    return [(a % weld_mm, a % weld_mm + min(b - a, weld_mm)) for a, b in intervals]


def _once_round(intervals: Sequence[Interval], weld_mm: float) -> list[Interval]:
    return [part for a, b in intervals for part in (((a, weld_mm), (0.0, b - weld_mm)) if b > weld_mm else ((a, b),))]


def _covered(x: Floats, starts: Floats, ends: Floats) -> Floats:
    """The length covered left of places: sum of (x - start)+ less sum of (x - end)+."""
    return _ramps(x, starts) - _ramps(x, ends)


def _ramps(x: Floats, at: Floats) -> Floats:
    left = np.searchsorted(at, x, side="right")
    return np.asarray(left * x - np.concatenate([[0.0], np.cumsum(at)])[left])


def worst_points(points: Sequence[tuple[float, float]], window_mm: float, weld_mm: float, closed: bool = False) -> Worst:
    """The greatest sum of sizes of points (s, size) in any window; one on its edge counts.

    >>> worst_points([(100, 2), (125, 2)], 25, 480).value
    4.0
    """
    if not points:
        return Worst(0.0, 0.0)
    placed = sorted(((s % weld_mm if closed else s), size) for s, size in points)
    if closed and window_mm < weld_mm:
        placed = [*placed, *((s + weld_mm, size) for s, size in placed)]
    best, held, first = Worst(0.0, placed[0][0]), 0.0, 0
    for s, size in placed:
        held += size
        while s - placed[first][0] > window_mm + EDGE_MM:
            held -= placed[first][1]
            first += 1
        if held > best.value + EDGE_MM:
            best = Worst(float(held), placed[first][0])
    return best


def least_mean(s_mm: Sequence[float], h_mm: Sequence[float], window_mm: float) -> Worst:
    """The least mean of straight-line readings over any window, and where it begins.

    Between two readings the line is an assumption. It can turn where an end of the window passes a reading, or where both ends
    read alike.
    """
    s, h = np.asarray(s_mm, dtype=float), np.asarray(h_mm, dtype=float)
    if window_mm >= s[-1] - s[0]:
        return Worst(float(np.trapezoid(h, s) / (s[-1] - s[0])) if s[-1] > s[0] else float(h.min()), float(s[0]))
    last = s[-1] - window_mm
    corners = np.unique(np.clip(np.concatenate([s, s - window_mm, [s[0], last]]), s[0], last))
    apart = np.interp(corners + window_mm, s, h) - np.interp(corners, s, h)
    with np.errstate(divide="ignore", invalid="ignore"):
        alike = corners[:-1] - apart[:-1] * np.diff(corners) / np.diff(apart)
    turns = alike[(np.sign(apart[:-1]) * np.sign(apart[1:]) < 0) & np.isfinite(alike)]
    tried = np.concatenate([corners, turns])
    means = (_integral(tried + window_mm, s, h) - _integral(tried, s, h)) / window_mm
    at = int(np.argmin(means))
    return Worst(float(means[at]), float(tried[at]))


def _integral(x: Floats, s: Floats, h: Floats) -> Floats:
    """The area under straight lines between readings, left of places."""
    areas = np.concatenate([[0.0], np.cumsum((h[1:] + h[:-1]) / 2 * np.diff(s))])
    i = np.clip(np.searchsorted(s, x, side="right") - 1, 0, s.size - 2)
    along = x - s[i]
    slope = (h[i + 1] - h[i]) / (s[i + 1] - s[i])
    return np.asarray(areas[i] + h[i] * along + slope * along**2 / 2)


def stretches_over(s_mm: Sequence[float], h_mm: Sequence[float], limit: float) -> list[Interval]:
    """Where straight lines between readings lie over a limit."""
    found: list[Interval] = []
    for (a, ha), (b, hb) in zip(zip(s_mm, h_mm, strict=True), list(zip(s_mm, h_mm, strict=True))[1:], strict=False):
        if max(ha, hb) <= limit:
            continue
        cut = a + (limit - ha) / (hb - ha) * (b - a) if (ha > limit) != (hb > limit) else None  # by signs: a product of small figures is nought
        begin, end = (a if cut is None or ha > limit else cut), (b if cut is None or hb > limit else cut)
        found = [*found[:-1], (found[-1][0], end)] if found and found[-1][1] == begin else [*found, (begin, end)]
    return found
