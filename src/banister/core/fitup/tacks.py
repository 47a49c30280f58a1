"""Tacks: where, how long, in what order, and what each does to the gap.

A tack closes its gap; those before it are hinges; the rest moves least in mean square (rigid ends). As truth doubtful,
useful as a ranking: minimise x'Gx under Cx = r, x = G^-1 C'(C G^-1 C')^-1 r (least squares with constraints, any textbook).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from banister.core.fitup.places import Course
from banister.core.remark import Figure, Remark, fault
import itertools

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

CLOSES_MM = 0.4
"""What a tack closes its gap by (typical 0.2 to 0.5; learnt from the first two measured)."""
LENGTHS_MM = ((6.0, (10.0, 15.0)), (12.0, (15.0, 25.0)), (30.0, (25.0, 40.0)), (math.inf, (40.0, 60.0)))
"""Length of a tack by thickness (typical)."""
COUNTS = ((60.0, 3), (170.0, 4), (330.0, 4), (610.0, 6))
"""Tacks round a pipe by its outside diameter (typical); above, one every 250 mm."""
EVERY_MM, PLATE_PITCH_MM = 250.0, 250.0
HOLDING = {True: 3, False: 2}
"""After so many a pipe, or a plate, is held: later ones only stress."""
TWO_AND_WEDGE, BY_THE_CLOCK, PLATE = "two-and-wedge", "by-the-clock", "plate"


@dataclass(frozen=True, slots=True, kw_only=True)
class Tack:
    """From where to where (mm along the weld), which side, what kind, its place in the order; feathered at its ends, removed before the root."""

    from_s: float
    to_s: float
    order: int
    side: str = "front"
    kind: str = "tack"
    feathered: bool = True
    removed: bool = False

    @property
    def middle(self) -> float:
        """Where it sits."""
        return (self.from_s + self.to_s) / 2


def _row(course: Course, s_mm: float) -> Floats:
    if course.closed:
        theta = 2 * math.pi * s_mm / course.length_mm
        return np.array([1.0, math.cos(theta), math.sin(theta)])
    return np.array([1.0, 2.0 * s_mm / course.length_mm - 1.0])


def gap_change(course: Course, tacks: Sequence[Tack], places: Sequence[float], closes_mm: float = CLOSES_MM) -> list[list[float]]:
    """The change of the gap at places after each tack, in their order."""
    inverse = np.diag([1.0, 2.0, 2.0] if course.closed else [1.0, 3.0])
    moved, found, rows = np.zeros(inverse.shape[0]), list[list[float]](), []
    for tack in sorted(tacks, key=lambda t: t.order):
        rows.append(_row(course, tack.middle))
        free = len(rows) <= HOLDING[course.closed]
        if free:
            c = np.stack(rows)
            r = np.zeros(len(rows))
            r[-1] = -closes_mm
            moved = moved + inverse @ c.T @ np.linalg.pinv(c @ inverse @ c.T) @ r
        found.append([float(_row(course, s) @ moved) for s in places])
    return found


def wedge_to(gap_mm: float, closes_mm: float = CLOSES_MM) -> float:
    """What the gap is wedged to before a tack that is to leave it as wanted."""
    return gap_mm + closes_mm


def usual_tacks(course: Course, thickness_mm: float, school: str, od_mm: float = 0.0) -> tuple[Tack, ...]:
    """The tacks of a school, in its order."""
    length = sum(next(window for most, window in LENGTHS_MM if thickness_mm <= most)) / 2
    if not course.closed:
        count = max(2, math.ceil(course.length_mm / min(PLATE_PITCH_MM, 25 * thickness_mm)) + 1)
        places = [length / 2 + i * (course.length_mm - length) / (count - 1) for i in range(count)]
        return tuple(_tack(places[i], length, order + 1) for order, i in enumerate(_halving(count)))
    count = next((n for most, n in COUNTS if od_mm <= most), max(6, math.ceil(course.length_mm / EVERY_MM)))
    if school == TWO_AND_WEDGE:
        degrees = [0.0, 180.0, 90.0, 270.0] if od_mm > 170 else [0.0, 180.0]
    else:
        degrees = [0.0, 120.0, 240.0] if count == 3 else [0.0, 180.0, 90.0, 270.0] if count == 4 else _opposite(count)
    return tuple(_tack(d / 360.0 * course.length_mm, length, i + 1) for i, d in enumerate(degrees))


def _tack(middle: float, length: float, order: int) -> Tack:
    return Tack(from_s=middle - length / 2, to_s=middle + length / 2, order=order)


def _opposite(count: int) -> list[float]:
    """Evenly round, each followed by the one opposite."""
    step, half = 360.0 / count, count // 2
    return [angle for i in range(half) for angle in (i * step, (i + half) * step)] + ([(count - 1) * step] if count % 2 else [])


def _halving(count: int) -> list[int]:
    """Both ends first, then always the middle of the widest gap left."""
    done = [0, count - 1]
    while len(done) < count:
        left = sorted(done)
        a, b = max(itertools.pairwise(left), key=lambda pair: pair[1] - pair[0])
        done.append((a + b) // 2)
    return done


def tack_faults(course: Course, tacks: Sequence[Tack], longest_mm: float = math.inf) -> Iterator[Remark]:
    """Tacks that overlap, lie outside the weld or are longer than the rules allow."""
    for i, tack in enumerate(tacks):
        field, length = f"tacks[{i}]", tack.to_s - tack.from_s
        if length <= 0 or (not course.closed and (tack.from_s < -1e-6 or tack.to_s > course.length_mm + 1e-6)):
            yield fault("tack.outside", field, window=Figure((0.0, course.length_mm), "long_length"))
        if length > longest_mm:
            yield fault("tack.long", field, value=Figure(length, "length"), most=Figure(longest_mm, "length"))
        for j, other in enumerate(tacks[:i]):
            if course.apart(tack.middle, other.middle) < (length + other.to_s - other.from_s) / 2 - 1e-9:
                yield fault("tack.overlap", field, first=Figure(str(j + 1), "name"), second=Figure(str(i + 1), "name"))
