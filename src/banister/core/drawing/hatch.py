"""Hatching of a polygon by parallel strokes."""

from __future__ import annotations

import math
from collections.abc import Sequence

Point = tuple[float, float]


def hatched(points: Sequence[Point], angle_deg: float, pitch: float) -> tuple[tuple[Point, Point], ...]:
    """Strokes at an angle and pitch (in the points' unit), cut to a polygon by even-odd crossings."""
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    turned = [(x * c + y * s, -x * s + y * c) for x, y in points]
    low, high = min(v for _, v in turned), max(v for _, v in turned)
    strokes = []
    level = math.ceil(low / pitch) * pitch
    while level < high:
        crossings = sorted(_crossings(turned, level))
        for u0, u1 in zip(crossings[::2], crossings[1::2], strict=False):
            strokes.append(((u0 * c - level * s, u0 * s + level * c), (u1 * c - level * s, u1 * s + level * c)))
        level += pitch
    return tuple(strokes)


def _crossings(turned: Sequence[Point], level: float) -> list[float]:
    found = []
    for (u0, v0), (u1, v1) in zip(turned, [*turned[1:], turned[0]], strict=True):
        if (v0 <= level) != (v1 <= level):
            found.append(u0 + (u1 - u0) * (level - v0) / (v1 - v0))
    return found
