"""A new rod, or the same one struck again: told by the gap before it and by how far the rod was burnt (shop trial)."""

from __future__ import annotations

import math

USUAL_CHANGE_S, RESTART_S = 14.0, 1.5
CHANGE_SPREAD, RESTART_SPREAD = 0.45, 0.9
TOO_SHORT_S, LONG_S = 0.8, 45.0
ASKED_BELOW = 0.8
"""A guess less sure than this is asked about at the next look."""


def rod_or_restart(gap_s: float, burnt: float, usual_change_s: float = USUAL_CHANGE_S) -> tuple[bool, float]:
    """True for a new rod, and how sure that is; `burnt` is the share of the rod that was burnt."""
    g = math.log(max(gap_s, 1e-3))
    told = _normal(g, math.log(usual_change_s), CHANGE_SPREAD) - _normal(g, math.log(RESTART_S), RESTART_SPREAD)
    told += math.log(0.88 * math.exp(_normal(burnt, 1.0, 0.12)) + 0.09) - math.log(0.96 / (1 + math.exp((burnt - 1) / 0.05)) + 0.02)
    if gap_s < TOO_SHORT_S:
        told -= 3.0
    if gap_s > LONG_S:
        told = max(told, 3.0 if burnt > 0.5 else 0.1)
    return told > 0, 1 / (1 + math.exp(-abs(told)))


def _normal(x: float, mean: float, sd: float) -> float:
    """Logarithm of a normal density."""
    return -0.5 * ((x - mean) / sd) ** 2 - math.log(sd * math.sqrt(2 * math.pi))
