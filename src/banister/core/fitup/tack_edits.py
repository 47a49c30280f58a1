"""Tacks changed one at a time: put, moved, lengthened, taken out, welded earlier or later; what cannot be is refused."""

from __future__ import annotations

from collections.abc import Iterable

from banister.core.fitup.places import Course, course_of
from banister.core.fitup.tacks import tack_faults, usual_length_mm
from banister.core.joint.fitting import FitUp, Tack
from banister.core.joint.piece import OnPiece
from banister.core.remark import Refused
from banister.core.value import replace

LEAST_MM = 5.0
MOVE, FROM, TO = "move", "from", "to"
"""What of a tack a hand takes hold of: the whole, or one end."""


def tack_of(fitup: FitUp, order: int) -> Tack:
    """The tack with this place in the order; KeyError where there is none."""
    for tack in fitup.tacks:
        if tack.order == order:
            return tack
    raise KeyError(order)


def tack_near(tacks: Iterable[Tack], course: Course, s_mm: float, near_mm: float) -> tuple[int, str] | None:
    """The tack at a place (by its order), and what of it is grasped there: one end, or the whole."""
    for tack in tacks:
        off = (s_mm - tack.middle + course.length_mm / 2) % course.length_mm - course.length_mm / 2 if course.closed else s_mm - tack.middle
        half = tack.length_mm / 2
        if abs(off) <= half + near_mm:
            edge = min(near_mm, half / 2)
            return tack.order, FROM if off < edge - half else TO if off > half - edge else MOVE
    return None


def put(joint: OnPiece, fitup: FitUp, s_mm: float) -> FitUp:
    """One more tack of the usual length about a place, welded last."""
    course, half = course_of(joint), usual_length_mm(joint) / 2
    middle = s_mm % course.length_mm if course.closed else min(max(s_mm, half), course.length_mm - half)
    return _checked(course, fitup.with_tacks((*fitup.tacks, Tack(from_s=middle - half, to_s=middle + half, order=len(fitup.tacks) + 1))))


def moved(course: Course, fitup: FitUp, order: int, what: str, by_mm: float) -> FitUp:
    """A tack, or one end of it, moved along the weld: no shorter than can be welded, no further than the ends of a plate."""
    tack = tack_of(fitup, order)
    low, high = tack.from_s, tack.to_s
    if what == MOVE:
        by_mm = by_mm if course.closed else min(max(by_mm, -low), course.length_mm - high)
        low, high = low + by_mm, high + by_mm
        turns = (low + high) / 2 // course.length_mm if course.closed else 0.0
        low, high = low - turns * course.length_mm, high - turns * course.length_mm
    elif what == FROM:
        low = min(low + by_mm, high - LEAST_MM)
        low = low if course.closed else max(low, 0.0)
    else:
        high = max(high + by_mm, low + LEAST_MM)
        high = high if course.closed else min(high, course.length_mm)
    changed = replace(tack, from_s=round(low, 2), to_s=round(high, 2))
    return _checked(course, replace(fitup, tacks=tuple(changed if t is tack else t for t in fitup.tacks)))


def without(fitup: FitUp, order: int) -> FitUp:
    """The tacks without one."""
    return fitup.with_tacks(tuple(t for t in fitup.tacks if t.order != order))


def ordered(fitup: FitUp, order: int, wanted: int) -> FitUp:
    """A tack welded as the `wanted`-th; those between move up or down."""
    row = list(fitup.in_order)
    tack = row.pop(order - 1)
    row.insert(min(max(wanted, 1), len(row) + 1) - 1, tack)
    return replace(fitup, tacks=tuple(replace(t, order=i + 1) for i, t in enumerate(row)))


def _checked(course: Course, fitup: FitUp) -> FitUp:
    faults = tuple(tack_faults(course, fitup))
    if faults:
        raise Refused(*faults)
    return fitup
