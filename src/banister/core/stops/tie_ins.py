"""Tie-ins of pipe halves: how far past the centres each pass runs, and which half goes first."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

PAST_MM = tuple(float(v) for v in range(10, 45, 5))
"""How far past the centre a first half runs (typical, 10 at least)."""


def tie_ins(passes: int, touching: Sequence[tuple[int, int]], past_mm: Sequence[float] = PAST_MM) -> tuple[float, tuple[float, ...]]:
    """The greatest least distance between tie-ins of touching passes, and a signed lap past the centre for each pass.

    The sign tells which half goes first. Exact: for each distance asked, depth first over the passes.
    """
    laps = sorted({*past_mm, *(-v for v in past_mm)})
    near: list[list[int]] = [[] for _ in range(passes)]
    for i, j in touching:
        near[max(i, j)].append(min(i, j))
    asked = sorted({abs(a - b) for a, b in itertools.product(laps, laps)}, reverse=True)
    for d in asked:
        found = _laid(0, passes, near, laps, d, ())
        if found is not None:
            return (d if touching else float("inf")), found
    return 0.0, (laps[-1],) * passes


def _laid(k: int, passes: int, near: Sequence[Sequence[int]], laps: Sequence[float], d: float, done: tuple[float, ...]) -> tuple[float, ...] | None:
    if k == passes:
        return done
    for lap in reversed(laps):
        if all(abs(lap - done[j]) >= d - 1e-9 for j in near[k]):
            found = _laid(k + 1, passes, near, laps, d, (*done, lap))
            if found is not None:
                return found
    return None
