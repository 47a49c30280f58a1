"""The welder's own factor and the metal of a rod, learnt together from what was seen.

f is the logarithm of real over asked area of this welder with a rod in a position, m that of real over nominal metal a rod
leaves. Rods alone cannot part them; depths tell the metal. A Kalman step for every look (any textbook on estimation).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct, replace

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

PRIOR_F, PRIOR_M, BEAD_SD, DRIFT_SD = 0.18, 0.07, 0.10, 0.02
"""Spreads before anything is seen, of bead to bead, and of the hand from pass to pass (typical)."""
KNOWN_METAL = 0.055
"""The factor steers what is asked only once the metal is known so well."""
SURE_OF = 1.5
ASKED_SHARE = (0.75, 1.35)
MARK_MM, GAUGE_MM, LEVEL_SHARE = 3.0, 0.3, 0.03
NEAR_ROD, UNTOLD_ROD = 8.0, 0.29
"""Rods read to so many hundredths; where the part left was not told, to a uniform whole."""
RODS, DEPTH = "rods", "depth"
ROD_TO_ROD_SD, ROD_METAL_SD, MEASURED = 0.06, 0.03, 1
"""How much a hand, and the metal of a rod, differ from rod to rod (judgement); so many depths tell the metal of one."""


class Own(Struct, frozen=True):
    """Both unknowns with their covariance, and from how many looks."""

    f: float = 0.0
    m: float = 0.0
    p_ff: float = PRIOR_F**2
    p_mm: float = PRIOR_M**2
    p_fm: float = 0.0
    looks: int = 0
    depths: int = 0

    @property
    def sd_f(self) -> float:
        """How unsure the factor is."""
        return math.sqrt(self.p_ff)

    @property
    def sd_m(self) -> float:
        """How unsure the metal is."""
        return math.sqrt(self.p_mm)

    @property
    def steers(self) -> bool:
        """True once the metal is known and the factor tells: only then is something else asked than is wanted."""
        return self.sd_m < KNOWN_METAL and abs(self.f) > SURE_OF * self.sd_f

    @property
    def ratio(self) -> float:
        """Real over asked area."""
        return math.exp(self.f)

    def asked(self, wanted_mm2: float) -> float:
        """What is asked so that what is wanted comes out; what is wanted itself while the factor does not steer."""
        if not self.steers:
            return wanted_mm2
        low, high = ASKED_SHARE
        return wanted_mm2 * min(max(1.0 / self.ratio, low), high)

    def next_pass(self, drift_sd: float = DRIFT_SD) -> Own:
        """A pass later: the hand may have moved."""
        return replace(self, p_ff=self.p_ff + drift_sd**2)

    def seen(self, y: float, variance: float, by: str) -> Own:
        """After a look: rods tell f - m, a depth tells m."""
        h = np.array([1.0, -1.0] if by == RODS else [0.0, 1.0])
        p = np.array([[self.p_ff, self.p_fm], [self.p_fm, self.p_mm]])
        gain = p @ h / float(h @ p @ h + variance)
        x = np.array([self.f, self.m]) + gain * (y - float(h @ np.array([self.f, self.m])))
        p = p - np.outer(gain, h @ p)
        return Own(float(x[0]), float(x[1]), float(p[0, 0]), float(p[1, 1]), float(p[0, 1]), self.looks + 1, self.depths + (by == DEPTH))


def like_others(own: Iterable[Own]) -> Own:
    """What is expected of a rod not yet seen, from the same hand's other rods: their factor, less surely; their metal where it was measured."""
    known = [one for one in own if one.looks]
    if not known:
        return Own()
    weight = sum(1.0 / one.p_ff for one in known)
    f = sum(one.f / one.p_ff for one in known) / weight
    measured = [one for one in known if one.depths >= MEASURED]
    metal = min((one.p_mm for one in measured), default=PRIOR_M**2)
    return Own(f=f, p_ff=min(1.0 / weight + ROD_TO_ROD_SD**2, PRIOR_F**2), p_mm=min(metal + ROD_METAL_SD**2, PRIOR_M**2), depths=len(measured))


def rods_variance(rods: float, length_mm: float, told: bool = True, bead_sd: float = BEAD_SD) -> float:
    """Variance of the logarithm of an area told by rods over a length; `told` where the part left of the last one was."""
    rods = max(rods, 0.2)
    variance = (NEAR_ROD / 100.0 / rods) ** 2 + (MARK_MM / length_mm) ** 2 + bead_sd**2
    return variance if told else variance + (UNTOLD_ROD / rods) ** 2


def depth_variance(width_mm: float, area_mm2: float) -> float:
    """Variance of the logarithm of an area told by a depth gauge over a layer."""
    return (GAUGE_MM * width_mm / area_mm2) ** 2 + LEVEL_SHARE**2


def fused(mean: float, sd: float, seen: float, seen_sd: float) -> tuple[float, float]:
    """Two normal beliefs of one figure as one: its mean and sd."""
    k = sd**2 / (sd**2 + seen_sd**2)
    return mean + k * (seen - mean), math.sqrt(1 - k) * sd
