"""A pass of a fixed pipe at the joint: two stretches, one pass. Which half is being welded follows from the rods that were burnt in it."""

from __future__ import annotations

from banister.core.joint.stopping import FIRST, SECOND
from banister.core.plan.plan import Pass
from banister.core.stops.of_plan import JointStops
from banister.core.value import Struct

HALVES = (FIRST, SECOND)


class HalfNow(Struct, frozen=True):
    """The half that is welded: `first` is that by 3 o'clock; its length, its stops from its own start (mm), rods planned for it and burnt before it."""

    half: str
    length_mm: float
    marks_mm: tuple[float, ...]
    rods: int
    rods_before: int
    centres: tuple[str, ...] = ()
    """Where it begins and ends by the clock; nothing where no stops are laid."""


def half_now(p: Pass, runs: int, rods_burnt: int, stops: JointStops | None) -> HalfNow | None:
    """Which half of a pass is welded, by the count of its rods; None for a weld in one run."""
    if runs == 1:
        return None
    per = max(p.rod_count // runs, 1)
    index = min(rods_burnt // per, runs - 1)
    half = HALVES[index]
    own = None if stops is None else next((one for one in stops.passes if (one.key, one.half) == (p.key, half)), None)
    if own is None or stops is None:
        return HalfNow(half, p.length_mm / runs, (), per, index * per)
    begins, against = own.pieces[0].from_s, own.pieces[0].from_s > own.pieces[-1].to_s
    marks = tuple(abs(piece.to_s - begins) for piece in own.pieces[:-1])
    return HalfNow(half, own.end_mm - own.start_mm, marks, per, index * per, tuple(reversed(stops.centres)) if against else stops.centres)
