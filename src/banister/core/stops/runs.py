"""Runs: stretches welded in one go, with the rods they take and the places no stop may lie."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from banister.core.joint.stopping import HALVES, StopChoices
from banister.core.remark import Figure, Refused, Remark, fault, unknown_word
from banister.core.value import Struct

LEAST_PIECE_MM = 40.0
GOAL_MM, MOST_WANTED_MM = 50.0, 500.0
"""Where paying for more stops ends (typical), and the greatest distance that can be asked for."""
EXACT = 1e-6
MOST_RODS = 150
"""A run of more is longer than anybody welds in one go: its stops are laid part by part."""


class Forbidden(Struct, frozen=True):
    """A stretch no stop may lie in; where no pattern is left the lowest rank is dropped first, and named."""

    from_s: float
    to_s: float
    why: str = ""
    rank: int = 1


class Run(Struct, frozen=True, kw_only=True):
    """One stretch in one go: its pass (key), length, run-out of one rod, forbidden stretches, pinned marks.

    Marks count from a datum the run begins at, or `start_mm` behind it: the halves of a fixed pipe run past its centres,
    each pass by its own lap. `half` tells the halves apart.
    """

    key: str
    length_mm: float
    run_out_mm: float
    start_mm: float = 0.0
    forbidden: tuple[Forbidden, ...] = ()
    pinned: tuple[float, ...] | None = None
    half: str = ""

    @property
    def end_mm(self) -> float:
        """Where it ends, from the datum."""
        return self.start_mm + self.length_mm

    @property
    def rods(self) -> int:
        """Rods it takes, begun ones counted."""
        return rods_for(self.length_mm, self.run_out_mm)


def rods_for(length_mm: float, run_out_mm: float) -> int:
    """Rods for a length; an exact multiple takes no extra one."""
    return max(1, math.ceil(length_mm / run_out_mm - EXACT))


def rods_of_halves(circumference_mm: float, run_out_mm: float, past_centre_mm: float) -> tuple[int, int]:
    """Rods of the two halves of a fixed pipe: the first runs past both centres, the second the shorter rest.

    >>> rods_of_halves(800.0, 170.0, 20.0)
    (3, 3)
    """
    return rods_for(circumference_mm / 2 + 2 * past_centre_mm, run_out_mm), rods_for(circumference_mm / 2 - 2 * past_centre_mm, run_out_mm)


def checked(runs: Sequence[Run], least_mm: float = LEAST_PIECE_MM) -> None:
    """Refused where a run-out is so short that two pieces do not fit in it, or a run takes more rods than a map is laid for."""
    for run in runs:
        if run.rods > MOST_RODS:
            raise Refused(fault("stops.many", run.key, n=Figure(run.rods, "count"), most=Figure(MOST_RODS, "count")))
        if run.run_out_mm < 2 * least_mm and run.rods > 1:
            raise Refused(fault("stops.short", run.key, run_out=Figure(run.run_out_mm, "long_length"), least=Figure(2 * least_mm, "long_length")))


def stop_faults(chosen: StopChoices) -> Iterator[Remark]:
    """What cannot be chosen: distances nobody can keep, halves that are none, marks that are no places."""
    if not (math.isfinite(chosen.wanted_mm) and 0.0 <= chosen.wanted_mm <= MOST_WANTED_MM):
        yield fault("stops.wanted", "wanted_mm", value=Figure(chosen.wanted_mm, "length"), window=Figure((0.0, MOST_WANTED_MM), "length"))
    for i, pin in enumerate(chosen.pins):
        if pin.half not in HALVES:
            yield unknown_word(f"pins[{i}].half", pin.half, HALVES)
        if any(not math.isfinite(t) for t in pin.marks) or any(a >= b for a, b in itertools.pairwise(pin.marks)):
            yield fault("stops.pins", f"pins[{i}].marks", key=Figure(pin.key, "name"))
