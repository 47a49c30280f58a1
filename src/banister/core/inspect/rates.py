"""Rates with their doubt: a share of welds (Wilson), a number per metre (Byar's form of the Poisson interval); 95 per cent."""

from __future__ import annotations

import math

Z = 1.959964
FEWEST = 10
"""Under so many welds only counts are printed."""


def share_interval(k: int, n: int) -> tuple[float, float]:
    """Between which shares k of n lies.

    >>> [round(100 * v) for v in share_interval(0, 40)]
    [0, 9]
    """
    p, z2 = k / n, Z * Z
    middle, half = p + z2 / (2 * n), Z * math.sqrt(p * (1 - p) / n + z2 / (4 * n * n))
    return max((middle - half) / (1 + z2 / n), 0.0), min((middle + half) / (1 + z2 / n), 1.0)


def count_interval(k: int) -> tuple[float, float]:
    """Between which expected numbers a count of k lies."""
    low = 0.0 if k == 0 else k * (1 - 1 / (9 * k) - Z / (3 * math.sqrt(k))) ** 3
    up = k + 1
    return low, up * (1 - 1 / (9 * up) + Z / (3 * math.sqrt(up))) ** 3
