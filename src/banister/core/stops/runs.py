"""Runs: stretches welded in one go, with the rods they take and the places no stop may lie."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from banister.core.remark import Figure, Refused, fault

LEAST_PIECE_MM = 40.0
WANTED_MM, GOAL_MM = 25.0, 50.0
"""How far stops of touching passes lie apart at least, and where paying for more stops ends (typical)."""
EXACT = 1e-6


@dataclass(frozen=True, slots=True, kw_only=True)
class Forbidden:
    """A stretch no stop may lie in; where no pattern is left the lowest rank is dropped first, and named."""

    from_s: float
    to_s: float
    why: str = ""
    rank: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """One stretch in one go: its pass (key), length, run-out of one rod, forbidden stretches, pinned marks.

    Marks count from the run's own start; `half` tells the halves of a fixed pipe apart.
    """

    key: str
    length_mm: float
    run_out_mm: float
    forbidden: tuple[Forbidden, ...] = ()
    pinned: tuple[float, ...] | None = None
    half: str = ""

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
    """Refused where a run-out is so short that two pieces do not fit in it."""
    for run in runs:
        if run.run_out_mm < 2 * least_mm and run.rods > 1:
            raise Refused(fault("stops.short", run.key, run_out=Figure(run.run_out_mm, "long_length"), least=Figure(2 * least_mm, "long_length")))
