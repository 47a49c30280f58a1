"""Patterns of a run: evenly spaced marks, with as many rods as it needs or one more, clear of what is forbidden."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

import numpy as np

from banister.core.stops.runs import Forbidden, Run
from banister.core.value import replace

GRID_MM, PITCHES = 5.0, 3
Pattern = tuple[float, ...]


def patterns_of(run: Run, extra: int, least_mm: float) -> tuple[tuple[Pattern, ...], tuple[Forbidden, ...]]:
    """The patterns of a run with so many extra stops, and the forbidden stretches that had to be dropped, lowest rank first."""
    if run.pinned is not None:
        return (run.pinned,), ()
    kept = sorted(run.forbidden, key=lambda f: f.rank)
    dropped: list[Forbidden] = []
    while True:
        found = tuple(dict.fromkeys(_even(replace(run, forbidden=tuple(kept)), run.rods + extra, least_mm)))
        if found or not kept:
            return found, tuple(dropped)
        dropped.append(kept.pop(0))


def _even(run: Run, rods: int, least_mm: float) -> Iterator[Pattern]:
    """Marks at one pitch, the first piece on a grid; where whole rods leave no grid, the two ends of what is free."""
    if rods == 1:
        yield ()
        return
    low, high, length = run.length_mm / rods, run.run_out_mm, run.length_mm
    for pitch in np.linspace(low, high, PITCHES).tolist():
        first_low, first_high = max(least_mm, length - (rods - 2) * pitch - high), min(high, length - (rods - 2) * pitch - least_mm)
        if first_low > first_high + 1e-9:
            continue
        grid = np.arange(np.ceil(first_low / GRID_MM) * GRID_MM, first_high + 1e-9, GRID_MM).tolist()
        for first in (first_low, *grid, first_high):
            marks = tuple(round(run.start_mm + first + k * pitch, 6) for k in range(rods - 1))
            if is_kept(run, marks, least_mm):
                yield marks


def is_kept(run: Run, marks: Sequence[float], least_mm: float) -> bool:
    """True for marks that keep every rule of the run: pieces no longer than a rod nor shorter than allowed, nothing forbidden."""
    ends = (run.start_mm, *marks, run.end_mm)
    pieces = [b - a for a, b in itertools.pairwise(ends)]
    if len(marks) and not all(least_mm - 1e-6 <= piece <= run.run_out_mm + 1e-6 for piece in pieces):
        return False
    return not any(f.from_s + 1e-6 < t < f.to_s - 1e-6 for f in run.forbidden for t in marks)
