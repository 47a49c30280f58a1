"""What lies between readings: straight lines, and a random walk pinned at the readings for how sure they are.

On made joints straight lines came nearest to the truth, within a few hundredths of anything longer (shop trial, seeded);
they never overshoot, and a welder can redo them. The walk's variance is that of a Brownian bridge (any textbook on
random processes) with the reading error at its ends.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

PRIOR_WANDER, PRIOR_SPANS = 0.001, 3.0
"""mm2 of variance a mm of weld before anything is measured, and how many spans that is worth (shop trial)."""
ROUGH_MM = 0.10
"""Roughness of a cut edge between readings (typical)."""
NINE_IN_TEN = 1.645


class Line(Struct, frozen=True):
    """A quantity along a weld: places and values of its readings, sorted; `length_mm` closes it on a pipe.

    `error` is the sd of one reading, `wander` the variance a mm of weld adds, `rough` the sd of the edge itself.
    """

    at: tuple[float, ...]
    values: tuple[float, ...]
    length_mm: float
    closed: bool
    error: float
    wander: float
    rough: float = ROUGH_MM

    def mean(self, places: Floats) -> Floats:
        """The quantity at places: straight between readings, flat beyond the outer ones of a plate."""
        if self.closed:
            return np.interp(places, self.at, self.values, period=self.length_mm)
        return np.interp(places, self.at, self.values)

    def sd(self, places: Floats) -> Floats:
        """Its standard deviation at places."""
        at = np.asarray(self.at)
        places = np.asarray(places, dtype=float)
        if self.closed:
            at = np.concatenate((at[-1:] - self.length_mm, at, at[:1] + self.length_mm))
            places = np.mod(places, self.length_mm)
        i = np.clip(np.searchsorted(at, places, side="right") - 1, 0, max(len(at) - 2, 0))
        a, b = at[i], at[np.minimum(i + 1, len(at) - 1)]
        h = np.maximum(b - a, 1e-9)
        u = np.clip((places - a) / h, 0.0, 1.0)
        beyond = np.maximum(np.maximum(at[0] - places, places - at[-1]), 0.0)
        inside = self.wander * h * u * (1 - u) + self.error**2 * ((1 - u) ** 2 + u**2)
        return np.asarray(np.sqrt(inside + self.wander * beyond + self.rough**2))


def line_of(at: Sequence[float], values: Sequence[float], length_mm: float, closed: bool, error: float, rough: float = ROUGH_MM,
            prior: float = PRIOR_WANDER) -> Line:  # fmt: skip
    """The line through some readings, its wander learnt from their spans."""
    order = np.argsort(at)
    s, v = np.asarray(at, dtype=float)[order], np.asarray(values, dtype=float)[order]
    return Line(tuple(s.tolist()), tuple(v.tolist()), length_mm, closed, error, wander_of(s, v, length_mm, closed, error, prior), rough)


def wander_of(s: Floats, v: Floats, length_mm: float, closed: bool, error: float, prior: float = PRIOR_WANDER) -> float:
    """Variance a mm of weld adds: that of the spans beyond the reading error, and of what is usual; a plate's straight trend is no wander."""
    if len(s) < 2:
        return prior
    if closed:
        steps, spans = np.diff(np.append(v, v[0])), np.diff(np.append(s, s[0] + length_mm))
    else:
        slope = np.polyfit(s, v, 1)[0] if len(s) > 2 else 0.0
        steps, spans = np.diff(v - slope * s), np.diff(s)
    seen = np.maximum(0.0, steps**2 - 2 * error**2) / spans
    return float((PRIOR_SPANS * prior + seen.sum()) / (PRIOR_SPANS + len(spans) - 1))
