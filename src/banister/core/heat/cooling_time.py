"""Cooling time t8/5 from 800 to 500 degC (EN 1011-2 annex D), thick and thin plate.

Unalloyed and low-alloy steel; the shape factors are fairly sure: check them in your copy.
"""

from __future__ import annotations

import math

from banister.core.joint.joint import Joint
from banister.core.value import Struct

HOTTEST_C = 500.0


class CoolingTime(Struct, frozen=True):
    """t8/5 of both regimes, the transition thickness, and which governs (the longer time)."""

    thin_s: float
    thick_s: float
    transition_mm: float

    @property
    def seconds(self) -> float:
        """The time that governs."""
        return max(self.thin_s, self.thick_s)

    @property
    def regime(self) -> str:
        """'2D' where the plate's thickness limits the flow of heat, else '3D'."""
        return "2D" if self.thin_s > self.thick_s else "3D"


def cooling_time(heat_input_kj_mm: float, thickness_mm: float, start_c: float, f2: float = 1.0, f3: float = 1.0) -> CoolingTime | None:
    """t8/5 for a heat input (k included), or None where the metal is as hot as 500 degC already."""
    if start_c >= HOTTEST_C:
        return None
    low, high = 1 / (500 - start_c), 1 / (800 - start_c)
    thick = (6700 - 5 * start_c) * heat_input_kj_mm * (low - high) * f3
    scale = (4300 - 4.3 * start_c) * 1e5
    thin = scale * (heat_input_kj_mm / thickness_mm) ** 2 * (low**2 - high**2) * f2
    transition = math.sqrt(scale / (6700 - 5 * start_c) * heat_input_kj_mm * (low + high) * f2 / f3)
    return CoolingTime(thin, thick, transition)


def shape_factors(joint: Joint) -> tuple[float, float]:
    """F2 and F3: runs in a butt, or in a fillet."""
    if joint.prep.key == "fillet-corner":
        return 0.9, 0.67
    return (0.45, 0.67) if joint.prep.kind.fillet else (0.9, 0.9)
