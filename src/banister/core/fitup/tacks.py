"""Tacks: where, how long, in what order, and what each does to the gap.

A tack closes its gap; those before it are hinges; the rest moves least in mean square (rigid ends). As truth doubtful,
useful as a ranking: minimise x'Gx under Cx = r, x = G^-1 C'(C G^-1 C')^-1 r (least squares with constraints, any textbook).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.fitup.places import Course, course_of
from banister.core.joint.fitting import FitUp, Tack, Turning
from banister.core.joint.piece import OnPiece
from banister.core.remark import Figure, Remark, fault, outside, unknown_word
from banister.core.value import Struct, replace

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
KINDS, SIDES = ("tack", "bridge", "bar"), ("front", "back")
MOST_CLOSES_MM, MOST_TACK_MM, MOST_RADIUS_MM = 3.0, 300.0, 5000.0
BARS = ("bar", "ceramic")
TWO_AND_WEDGE, BY_THE_CLOCK, OFF_THE_CLOCK, PLATE, BRIDGES, BAR = "two-and-wedge", "by-the-clock", "off-the-clock", "plate", "bridges", "bar"
OFF_DEG = 30.0
"""By the clock, but off 6 and 12, where a fixed test looks first."""
BRIDGE_MM, BAR_TACK_MM, BAR_PITCH_MM = 30.0, 35.0, 250.0
STOP_CLEAR_MM, TACKED_LAYERS = 10.0, 2
"""Stops keep so far off the ends of a tack, in so many layers (typical)."""


class TackStep(Struct, frozen=True):
    """One tack of the order: what its gap is wedged to before it (None where the parts are held already), and what it then is to read."""

    tack: Tack
    wedge_mm: float | None
    reads_mm: float


def schools_of(joint: OnPiece) -> tuple[str, ...]:
    """Ways to tack a joint, the usual one first."""
    if joint.piece.form == "pipe":
        return (TWO_AND_WEDGE, BY_THE_CLOCK, OFF_THE_CLOCK, BRIDGES)
    return (BAR, BRIDGES, PLATE) if joint.prep.backing in BARS else (PLATE, BRIDGES)


def tack_steps(joint: OnPiece, fitup: FitUp) -> tuple[TackStep, ...]:
    """The tacks in their order, each with what its gap is wedged to before it: ends even from any start while the earlier ones are hinges."""
    closes, target = closing(fitup), joint.prep.root_gap_mm
    hold = HOLDING[joint.piece.form == "pipe"]
    return tuple(TackStep(tack, wedge_to(target, closes) if i < hold else None, target) for i, tack in enumerate(fitup.in_order))


def closing(fitup: FitUp) -> float:
    """What a tack closes its gap by: as it was seen on this joint, else the usual figure."""
    return CLOSES_MM if fitup.closes_mm is None else fitup.closes_mm


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


def usual_length_mm(joint: OnPiece) -> float:
    """How long a tack is on a thickness: the middle of what is usual."""
    return sum(next(window for most, window in LENGTHS_MM if joint.prep.thickness_mm <= most)) / 2


def usual_tacks(joint: OnPiece, school: str) -> tuple[Tack, ...]:
    """The tacks of a school, in its order."""
    course, thickness, length = course_of(joint), joint.prep.thickness_mm, usual_length_mm(joint)
    if school == BRIDGES:
        count = max(2, math.ceil(course.length_mm / PLATE_PITCH_MM) + (not course.closed))
        return tuple(replace(tack, kind="bridge", removed=True) for tack in _even(course, count, BRIDGE_MM, range(count)))
    if school == BAR:
        count = max(2, math.ceil(course.length_mm / BAR_PITCH_MM) + 1)
        return tuple(replace(tack, kind="bar", side="back") for tack in _even(course, count, BAR_TACK_MM, _halving(count)))
    if not course.closed:
        count = max(2, math.ceil(course.length_mm / min(PLATE_PITCH_MM, 25 * thickness)) + 1)
        return _even(course, count, length, _halving(count))
    od = joint.piece.pipe_od_mm
    count = next((n for most, n in COUNTS if od <= most), max(6, math.ceil(course.length_mm / EVERY_MM)))
    if school == TWO_AND_WEDGE:
        degrees = [0.0, 180.0, 90.0, 270.0] if od > 170 else [0.0, 180.0]
    else:
        degrees = [0.0, 120.0, 240.0] if count == 3 else [0.0, 180.0, 90.0, 270.0] if count == 4 else _opposite(count)
    turn = OFF_DEG if school == OFF_THE_CLOCK else 0.0
    return tuple(_tack((d + turn) / 360.0 * course.length_mm, length, i + 1) for i, d in enumerate(degrees))


def _even(course: Course, count: int, length: float, order: Iterable[int]) -> tuple[Tack, ...]:
    """Tacks at one pitch, end to end of a plate or round a pipe, in an order."""
    span = course.length_mm * (count - 1) / count if course.closed else course.length_mm - length
    start = 0.0 if course.closed else length / 2
    return tuple(_tack(start + i * span / (count - 1), length, n + 1) for n, i in enumerate(order))


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


def tack_faults(course: Course, fitup: FitUp) -> Iterator[Remark]:
    """What cannot be: tacks off the weld, or upon one another."""
    for i, tack in enumerate(fitup.tacks):
        length = tack.length_mm
        off = not course.closed and (tack.from_s < -1e-6 or tack.to_s > course.length_mm + 1e-6)
        if not (math.isfinite(length) and 0 < length < course.length_mm) or off:
            yield fault("tack.outside", f"tacks[{i}]", number=Figure(str(tack.order), "name"), window=Figure((0.0, course.length_mm), "long_length"))
            continue
        for other in fitup.tacks[:i]:
            if other.side == tack.side and course.apart(tack.middle, other.middle) < (length + other.length_mm) / 2 - 1e-9:
                first, second = sorted((tack.order, other.order))
                yield fault("tack.overlap", f"tacks[{i}]", first=Figure(str(first), "name"), second=Figure(str(second), "name"))


def choice_faults(fitup: FitUp) -> Iterator[Remark]:
    """Words that are none, and figures nobody could have entered, of tacks, their rules and the two ends of a pipe."""
    for i, tack in enumerate(fitup.tacks):
        if tack.kind not in KINDS:
            yield unknown_word(f"tacks[{i}].kind", tack.kind, KINDS)
        if tack.side not in SIDES:
            yield unknown_word(f"tacks[{i}].side", tack.side, SIDES)
    rules, ends = fitup.tack_rules, fitup.turning.ends
    for field, value, most in (("closes_mm", fitup.closes_mm, MOST_CLOSES_MM), ("tack_rules.longest_mm", rules.longest_mm, MOST_TACK_MM),
                               ("tack_rules.seam_clear_mm", rules.seam_clear_mm, MOST_TACK_MM)):  # fmt: skip
        if value is not None and not 0.0 <= value <= most:
            yield fault("tack.figure", field, value=Figure(value, "length"), window=Figure((0.0, most), "length"))
    if len(ends) not in (0, 2):
        yield fault("turn.ends", "turning.ends", n=Figure(len(ends), "count"))
    for i, end in enumerate(ends):
        if len(end.angles_deg) != len(end.radii_mm) or any(not 0.0 < r < MOST_RADIUS_MM for r in end.radii_mm):
            yield fault("turn.radii", f"turning.ends[{i}]", window=Figure((0.0, MOST_RADIUS_MM), "length"))


def tack_remarks(joint: OnPiece, fitup: FitUp) -> Iterator[Remark]:
    """Tacks held against the user's own rules and the seams of a pipe."""
    course, rules = course_of(joint), fitup.tack_rules
    if rules.most is not None and len(fitup.tacks) > rules.most:
        yield outside("tack.most", n=Figure(len(fitup.tacks), "count"), most=Figure(rules.most, "count"))
    seams = seams_mm(fitup.turning, course) if course.closed else ()
    for tack in fitup.in_order:
        number = Figure(str(tack.order), "name")
        if rules.longest_mm is not None and tack.length_mm > rules.longest_mm + 1e-9:
            yield outside("tack.long", number=number, value=Figure(tack.length_mm, "length"), most=Figure(rules.longest_mm, "length"))
        near = min((course.apart(tack.middle, seam) - tack.length_mm / 2 for seam in seams), default=math.inf)
        if near < rules.seam_clear_mm - 1e-9:
            yield outside("tack.seam", number=number, apart=Figure(max(near, 0.0), "length"), least=Figure(rules.seam_clear_mm, "length"))


def seams_mm(turning: Turning, course: Course) -> tuple[float, ...]:
    """Where the seams of both pipes lie round the joint as they are turned."""
    turns = (0.0, turning.turn_deg or 0.0)
    return tuple((end.seam_deg + turn) % 360.0 / 360.0 * course.length_mm for end, turn in zip(turning.ends, turns, strict=False) if end.seam_deg is not None)


def kept_off(fitup: FitUp) -> tuple[tuple[float, float], ...]:
    """Stretches of the weld, mm, where no rod may end in the first layers: about each end of a tack that stays."""
    ends = [end for tack in fitup.tacks if not tack.removed and tack.side == "front" for end in (tack.from_s, tack.to_s)]
    return tuple((end - STOP_CLEAR_MM, end + STOP_CLEAR_MM) for end in sorted(ends))
