"""Stops put by hand: a mark dragged as far as its rods reach, its run held there, the rest moved out of its way.

The search is not asked again: the order of marks is kept and tightened at once (handful of milliseconds), a new search follows.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from banister.core.remark import Figure, Refused, Remark, watch
from banister.core.stops.runs import LEAST_PIECE_MM, Run
from banister.core.stops.search import StopMap
from banister.core.stops.tighten import tightened
from banister.core.value import Struct, replace


class Moved(Struct, frozen=True):
    """The marks of a run after a drag, and what stopped it short; None where it went all the way."""

    marks: tuple[float, ...]
    stopped: Remark | None = None


def moved(run: Run, marks: Sequence[float], n: int, to_mm: float, least_mm: float = LEAST_PIECE_MM) -> Moved:
    """Mark n (from 0) of a run taken to a place: its neighbours follow as far as their rods need, nothing leaves a rule."""
    count, reach = len(marks), run.run_out_mm
    low = max(run.start_mm + least_mm * (n + 1), run.end_mm - reach * (count - n))
    high = min(run.start_mm + reach * (n + 1), run.end_mm - least_mm * (count - n))
    place, why = _allowed(run, min(max(to_mm, low), high), marks[n])
    if not low - 1e-6 <= place <= high + 1e-6:
        return Moved(tuple(marks))
    if why is None and abs(place - to_mm) > 1e-6:
        is_rod = place == high if high == run.start_mm + reach * (n + 1) else place == low and low == run.end_mm - reach * (count - n)
        why = watch("stops.reach", run_out=Figure(reach, "long_length")) if is_rod else watch("stops.least", least=Figure(least_mm, "long_length"))
    found = list(marks)
    found[n] = place
    for k in range(n + 1, count):
        found[k] = min(max(found[k], found[k - 1] + least_mm, run.end_mm - reach * (count - k)), found[k - 1] + reach, run.end_mm - least_mm * (count - k))
    for k in range(n - 1, -1, -1):
        found[k] = max(min(found[k], found[k + 1] - least_mm, run.start_mm + reach * (k + 1)), found[k + 1] - reach, run.start_mm + least_mm * (k + 1))
    return Moved(tuple(round(t, 2) for t in found), why)


def _allowed(run: Run, to_mm: float, from_mm: float) -> tuple[float, Remark | None]:
    """A place outside what is forbidden: the edge on the side the mark comes from, and why."""
    for f in run.forbidden:
        if f.from_s < to_mm < f.to_s:
            return (f.to_s if from_mm >= f.to_s - 1e-6 else f.from_s), watch("stops.kept_off", why=Figure(f"stops.why.{f.why}", "word"))
    return to_mm, None


def evenly(run: Run, rods: int, least_mm: float = LEAST_PIECE_MM) -> tuple[float, ...]:
    """Marks of a run at one pitch with so many rods; Refused where that many, or so few, cannot be."""
    if rods < run.rods or run.length_mm < rods * least_mm:
        code = "stops.fewer" if rods < run.rods else "stops.more"
        raise Refused(watch(code, n=Figure(rods, "count"), least=Figure(run.rods, "count"), most=Figure(max(1, math.floor(run.length_mm / least_mm)), "count")))
    return tuple(round(run.start_mm + run.length_mm * k / rods, 2) for k in range(1, rods))


def with_marks(found: StopMap, touching: Sequence[tuple[int, int]], i: int, marks: tuple[float, ...], least_mm: float = LEAST_PIECE_MM) -> StopMap:
    """The map with the marks of one run put by hand, the others tightened about them in the order they have."""
    runs = tuple(replace(run, pinned=marks) if k == i else run for k, run in enumerate(found.runs))
    tight = tightened(runs, touching, (*found.marks[:i], marks, *found.marks[i + 1 :]), least_mm)
    return replace(found, runs=runs, marks=tight.marks, distance_mm=tight.distance_mm, limits=tight.limits)
