"""What shows over weeks: sessions count, not rods; a line is only spoken of where its doubt leaves one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cache

import numpy as np

from banister.core.value import Struct

FEWEST_SESSIONS = 5
ROD_SD, DAY_SD = 0.35, 0.15
"""sd of the logarithm of a figure from rod to rod and from day to day, until one's own are known (shop trial)."""
NINETEEN_IN_TWENTY = 1.96


class Trend(Struct, frozen=True):
    """A straight line through session medians: per day, half of its 95 % interval, where it stands at the mean day; `shown` where the interval leaves out 0."""

    slope: float
    half: float
    mean_day: float
    mean: float
    residual_sd: float
    spread_days: float
    shown: bool

    def at(self, day: float) -> float:
        """Where the line stands."""
        return self.mean + self.slope * (day - self.mean_day)

    def doubt_at(self, day: float, count: int) -> float:
        """Half of the 95 % band of the line."""
        return t_975(count - 2) * self.residual_sd * math.sqrt(1.0 / count + ((day - self.mean_day) / self.spread_days) ** 2)


def trend(days: Sequence[float], medians: Sequence[float]) -> Trend | None:
    """Least squares over the days with the t interval; None with fewer sessions than say anything, or all on one day."""
    n = len(days)
    x, y = np.asarray(days, dtype=np.float64), np.asarray(medians, dtype=np.float64)
    spread = float(np.sqrt(((x - x.mean()) ** 2).sum())) if n else 0.0
    if n < FEWEST_SESSIONS or spread == 0.0:
        return None
    slope = float(((x - x.mean()) * (y - y.mean())).sum()) / spread**2
    left = y - y.mean() - slope * (x - x.mean())
    sd = math.sqrt(float((left**2).sum()) / (n - 2))
    half = t_975(n - 2) * sd / spread
    return Trend(slope, half, float(x.mean()), float(y.mean()), sd, spread, abs(slope) > half)


@cache
def t_975(df: int) -> float:
    """The value Student's t stays under in 97.5 % of cases, by the closed form for whole degrees of freedom (Abramowitz and Stegun, 26.7.3 and 26.7.4)."""
    low, high = 0.0, 100.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if _within(middle, df) < 0.95 else (low, middle)
    return (low + high) / 2


def _within(t: float, df: int) -> float:
    """The chance that |t| is no larger."""
    angle = math.atan2(t, math.sqrt(df))
    cos, sin = math.cos(angle), math.sin(angle)
    term, total = (cos, cos) if df % 2 else (1.0, 1.0)
    for k in range(3 if df % 2 else 2, df - 1, 2):
        term *= (k - 1) / k * cos * cos
        total += term
    if df % 2 == 0:
        return sin * total
    return 2.0 / math.pi * (angle + (sin * total if df > 1 else 0.0))


class Apart(Struct, frozen=True):
    """How well a figure tells hands apart: ICC(1,1), sd within a hand, rods needed for 0.8, the least change seen between means of six."""

    icc: float
    within_sd: float
    rods_needed: int | None
    least_change_of_six: float


def apart(hands: Sequence[Sequence[float]]) -> Apart:
    """One-way analysis of variance over hands with as many rods each (square roots of figures)."""
    values = np.asarray(hands, dtype=np.float64)
    n, k = values.shape
    between = k * float(((values.mean(axis=1) - values.mean()) ** 2).sum()) / (n - 1)
    within = float(((values - values.mean(axis=1, keepdims=True)) ** 2).sum()) / (n * (k - 1))
    icc = (between - within) / (between + (k - 1) * within) if between > 0 or within > 0 else 0.0
    needed = math.ceil(0.8 * (1 - icc) / (0.2 * icc)) if icc > 0 else None
    return Apart(icc, math.sqrt(within), None if needed is None else max(needed, 1), least_change(math.sqrt(within), 6, 0.0))


def least_change(rod_sd: float, rods: int, day_sd: float) -> float:
    """The least change between two sessions that is not chance in 19 of 20: of a rod's own scatter and the day's."""
    return NINETEEN_IN_TWENTY * math.sqrt(2.0 * (rod_sd**2 / rods + day_sd**2))
