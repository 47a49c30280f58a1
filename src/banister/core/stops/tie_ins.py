"""Tie-ins of pipe halves: how far past the centres each pass runs, and which half goes first."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

PAST_MM = tuple(float(v) for v in range(10, 45, 5))
"""How far past the centre a first half runs (typical, 10 at least)."""
MOST_NODES = 2000


def tie_ins(passes: int, touching: Sequence[tuple[int, int]], past_mm: Sequence[float] = PAST_MM) -> tuple[float, tuple[float, ...]]:
    """The greatest least distance between tie-ins of touching passes, and a signed lap past the centre for each pass.

    The sign tells which half goes first. For each distance asked, the greatest first, the pass with the fewest laps left is
    laid next and takes from its neighbours what lies too near; a search that grows too long is given up, never called impossible.
    """
    laps = tuple(sorted({*past_mm, *(-v for v in past_mm)}, reverse=True))
    near: list[list[int]] = [[] for _ in range(passes)]
    for i, j in touching:
        near[i].append(j)
        near[j].append(i)
    asked = sorted({abs(a - b) for a, b in itertools.product(laps, laps)}, reverse=True)
    for d in asked:
        nodes = itertools.count()
        found = _laid([laps] * passes, {}, near, d, nodes)
        if found is not None:
            return (d if touching else float("inf")), tuple(found[i] for i in range(passes))
    return 0.0, (laps[0],) * passes


def _laid(left: Sequence[Sequence[float]], done: dict[int, float], near: Sequence[Sequence[int]], d: float, nodes: Iterator[int]) -> dict[int, float] | None:
    if len(done) == len(left):
        return done
    if next(nodes) > MOST_NODES:
        return None
    i = min((k for k in range(len(left)) if k not in done), key=lambda k: (len(left[k]), -len(near[k]), k))
    for lap in left[i]:
        narrowed = list(left)
        for j in near[i]:
            if j not in done:
                narrowed[j] = [other for other in left[j] if abs(other - lap) >= d - 1e-9]
        if all(narrowed[j] for j in near[i]):
            found = _laid(narrowed, done | {i: lap}, near, d, nodes)
            if found is not None:
                return found
    return None
