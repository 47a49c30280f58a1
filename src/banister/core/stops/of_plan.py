"""The stop map of a plan: which passes touch, their runs, and what each piece means for the rod in hand."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from banister.core.fitup.places import Course, course_of
from banister.core.fitup.tacks import TACKED_LAYERS, kept_off
from banister.core.joint.joint import Joint
from banister.core.joint.repairing import RepairOf
from banister.core.joint.stopping import FIRST, SECOND, StopPin
from banister.core.plan.dug import chalk_mm
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import Figure
from banister.core.stops.runs import LEAST_PIECE_MM, Forbidden, Run
from banister.core.stops.search import StopMap, stop_map
from banister.core.stops.tie_ins import tie_ins
from banister.core.value import Struct
from banister.core.words import Speech

TOUCH_MM, TOUCH_LENGTH_MM, SAMPLE_MM = 0.25, 1.0, 0.2
CENTRE_CLEAR_MM = 25.0
"""Stops keep so far off 6 and 12 o'clock (typical)."""
CENTRE, TACK, TIE_IN, DEFECT = "centre", "tack", "tie-in", "defect"
"""Why no stop may lie in a stretch (the words `stops.why.KEY`), those that are given up first in front."""
LEAST_TIE_IN_MM = 25.0
"""Stops keep so far off the tie-ins of touching passes (typical)."""
RANKS = {CENTRE: 1, TACK: 2, TIE_IN: 3, DEFECT: 4}


class Piece(Struct, frozen=True):
    """What one rod lays, in the order of welding: from mark to mark, how much of a rod that is, and whether it is the last of its run."""

    from_s: float
    to_s: float
    share: float
    last: bool


class PassStops(Struct, frozen=True):
    """The stops of a pass: its half ('' for a run round or along), where its run begins and ends, its marks and its pieces.

    Places count from the datum: the left end of a plate, 12 o'clock of a pipe that turns, the centre a half starts from.
    """

    key: str
    number: int
    half: str
    start_mm: float
    end_mm: float
    marks: tuple[float, ...]
    pieces: tuple[Piece, ...]
    is_pinned: bool = False


class JointStops(Struct, frozen=True):
    """The stop maps of a joint: one, or one for each half of a fixed pipe; every pass with its stops; pins that fit no pass any more."""

    course: Course
    maps: tuple[StopMap, ...]
    passes: tuple[PassStops, ...]
    unused: tuple[StopPin, ...] = ()
    tie_ins_apart_mm: float | None = None
    touching: tuple[tuple[int, int], ...] = ()
    centres: tuple[str, ...] = ()
    """Where a half begins and ends by the clock; nothing for a weld in one run."""

    @property
    def distance_mm(self) -> float:
        """The least distance between stops of touching passes."""
        return min((m.distance_mm for m in self.maps), default=float("inf"))

    @property
    def halves(self) -> tuple[str, ...]:
        """The halves there are, ('',) where the weld is one run."""
        return tuple(dict.fromkeys(p.half for p in self.passes))

    def of(self, key: str, half: str) -> PassStops:
        """A pass in a half; KeyError where there is none."""
        for p in self.passes:
            if (p.key, p.half) == (key, half):
                return p
        raise KeyError(key)


class Laid(Struct, frozen=True):
    """What is laid: the runs of each half, which of them touch, and how far apart their tie-ins lie (None on plate)."""

    runs: dict[str, tuple[Run, ...]]
    touching: tuple[tuple[int, int], ...]
    tie_ins_apart_mm: float | None


def touching_passes(passes: Sequence[Pass]) -> tuple[tuple[int, int], ...]:
    """Pairs of passes whose outlines lie within a quarter of a millimetre of one another over a millimetre or more."""
    edges = [_sampled(p.outline_mm) for p in passes]
    found = []
    for i, j in itertools.combinations(range(len(passes)), 2):
        if passes[i].side == passes[j].side and _near(edges[i], edges[j]):
            found.append((i, j))
    return tuple(found)


def _sampled(outline: Sequence[tuple[float, float]]) -> np.ndarray:
    points = np.asarray(outline, dtype=float)
    ends = np.roll(points, -1, axis=0)
    lengths = np.hypot(*(ends - points).T)
    parts = [a + (b - a) * np.linspace(0, 1, max(2, int(n / SAMPLE_MM) + 1), endpoint=False)[:, None] for a, b, n in zip(points, ends, lengths, strict=True)]
    return np.concatenate(parts)


def _near(first: np.ndarray, second: np.ndarray) -> bool:
    low, high = np.maximum(first.min(axis=0), second.min(axis=0)), np.minimum(first.max(axis=0), second.max(axis=0))
    if (low > high + TOUCH_MM).any():
        return False
    apart = np.sqrt(((first[:, None, :] - second[None, :, :]) ** 2).sum(axis=2)).min(axis=1)
    return bool((apart <= TOUCH_MM).sum() * SAMPLE_MM >= TOUCH_LENGTH_MM)


def joint_stops(joint: Joint, plan: Plan, wanted_mm: float | None = None, seed: int = 1) -> JointStops:
    """Where the rods of a plan end, with the marks that were put by hand and clear of tack ends, centres and tie-ins."""
    laid, maps = laid_of(joint, plan), dict[str, StopMap]()
    wanted = joint.stops.wanted_mm if wanted_mm is None else wanted_mm
    for half, runs in laid.runs.items():
        maps[half] = stop_map(runs, laid.touching, wanted_mm=wanted, least_mm=LEAST_PIECE_MM, seed=seed)
    return stops_of(joint, plan, laid, maps)


def laid_of(joint: Joint, plan: Plan) -> Laid:
    """The runs of a plan: one a pass, or two on a pipe that stands still, each half with its lap past the centres; a repair's lie in its hollow."""
    course, touching = course_of(joint), touching_passes(plan.passes)
    if joint.repair is not None:
        return Laid({"": _in_hollow(joint, plan, joint.repair)}, touching, None)
    halves = (FIRST, SECOND) if joint.runs > 1 else ("",)
    span, apart = course.length_mm / len(halves), None
    laps = (0.0,) * len(plan.passes)
    if len(halves) > 1:
        apart, laps = tie_ins(len(plan.passes), touching)
    near: dict[int, set[int]] = {i: set() for i in range(len(plan.passes))}
    for i, j in touching:
        near[i].add(j)
        near[j].add(i)
    centres = _about(CENTRE, CENTRE_CLEAR_MM, (0.0, span)) if len(halves) > 1 else ()
    found = {}
    for half in halves:
        past = [-lap if half == SECOND else lap for lap in laps]
        tacks = tuple(Forbidden(from_s=a, to_s=b, why=TACK, rank=RANKS[TACK]) for a, b in _in_half(kept_off(joint.fitup), course, half, joint))
        pinned = joint.stops.pinned(half)
        found[half] = tuple(
            Run(key=p.key, start_mm=-past[i], length_mm=span + 2 * past[i], run_out_mm=p.run_out_mm * course.length_mm / p.length_mm, half=half,
                forbidden=(*centres, *(tacks if p.layer <= TACKED_LAYERS and p.side == "front" else ()),
                           *(_about(TIE_IN, LEAST_TIE_IN_MM, [t for j in sorted(near[i]) for t in (-past[j], span + past[j])]) if half else ())),
                pinned=_fitting(pinned.get(p.key), -past[i], span + past[i]))
            for i, p in enumerate(plan.passes)
        )  # fmt: skip
    return Laid(found, touching, apart)


def _in_hollow(joint: Joint, plan: Plan, repair: RepairOf) -> tuple[Run, ...]:
    """Each pass begins and ends on the run-out, where the hollow has its height; no stop lies over what was dug out."""
    boat = repair.boat(joint.prep)
    begins = (boat.length_mm - boat.bottom_mm) / 2
    over = Forbidden(from_s=begins, to_s=begins + boat.bottom_mm, why=DEFECT, rank=RANKS[DEFECT])
    runs, pinned = list[Run](), joint.stops.pinned("")
    for p, length in zip(plan.passes, chalk_mm(boat, plan.passes), strict=True):
        start = (boat.length_mm - length) / 2
        held = _fitting(pinned.get(p.key), start, start + length)
        runs.append(Run(key=p.key, start_mm=start, length_mm=length, run_out_mm=p.run_out_mm, forbidden=(over,), pinned=held))
    return tuple(runs)


def stops_of(joint: Joint, plan: Plan, laid: Laid, maps: Mapping[str, StopMap]) -> JointStops:
    """The maps of a joint's halves as the stops of its passes."""
    passes = list[PassStops]()
    for half, found in maps.items():
        for p, run, marks in zip(plan.passes, found.runs, found.marks, strict=True):
            back = _is_turned(joint, p)
            passes.append(PassStops(p.key, p.number, half, run.start_mm, run.end_mm, marks, pieces_of(run, marks, back), run.pinned is not None))
    used = {(p.key, p.half) for p in passes if p.is_pinned}
    unused = tuple(pin for pin in joint.stops.pins if (pin.key, pin.half) not in used)
    centres = () if joint.runs == 1 else ("12:00", "6:00") if joint.piece.progression == "down" else ("6:00", "12:00")
    return JointStops(course_of(joint), tuple(maps.values()), tuple(passes), unused, laid.tie_ins_apart_mm, laid.touching, centres)


def with_half(joint: Joint, plan: Plan, stops: JointStops, half: str, found: StopMap) -> JointStops:
    """The stops with another map of one half."""
    maps = {name: found if name == half else one for name, one in zip(stops.halves, stops.maps, strict=True)}
    return stops_of(joint, plan, Laid({}, stops.touching, stops.tie_ins_apart_mm), maps)


def apart_of(distance_mm: float) -> Figure:
    """A distance between stops as a figure; in words where no stops face one another."""
    return Figure(distance_mm, "fine_length") if math.isfinite(distance_mm) else Figure("strip.none_near", "word")


def limits_said(found: StopMap, numbers: Sequence[int], say: Speech) -> str:
    """Which stops let no more distance, pass by pass; '' where nothing limits it."""
    by_run: dict[int, list[int]] = {}
    for run, number in found.limits:
        by_run.setdefault(run, []).append(number)
    return "; ".join(say("cli.stops.limit", number=str(numbers[run]), stops=", ".join(map(str, sorted(set(own))))) for run, own in sorted(by_run.items()))


def dropped_said(stops: JointStops, say: Speech) -> list[str]:
    """What was forbidden and had to be given up, pass by pass; pins that fit no pass any more."""
    lines = []
    for found in stops.maps:
        for run in dict.fromkeys(run for run, _ in found.dropped):
            whys = ", ".join(dict.fromkeys(say(f"stops.why.{f.why}") for i, f in found.dropped if i == run))
            number = next(p.number for p in stops.passes if p.key == found.runs[run].key)
            lines.append(say("cli.stops.dropped", number=str(number), why=whys))
    return [*lines, *(say("cli.stops.unused", key=pin.key) for pin in stops.unused)]


def _about(why: str, clear_mm: float, places: Iterable[float]) -> tuple[Forbidden, ...]:
    return tuple(Forbidden(from_s=t - clear_mm, to_s=t + clear_mm, why=why, rank=RANKS[why]) for t in dict.fromkeys(places))


def _fitting(marks: tuple[float, ...] | None, low: float, high: float) -> tuple[float, ...] | None:
    """Marks put by hand while they still lie on the run."""
    return marks if marks is not None and all(low < t < high for t in marks) else None


def _is_turned(joint: Joint, p: Pass) -> bool:
    """True where a pass is welded against the way the datum of its half is set by: a root downhill under fill uphill."""
    piece = joint.piece
    return joint.runs > 1 and p.role == "root" and bool(piece.root_progression) and piece.root_progression != piece.progression


def _in_half(stretches: Sequence[tuple[float, float]], course: Course, half: str, joint: Joint) -> list[tuple[float, float]]:
    """Stretches along the weld as they lie in a half, from the centre it starts at; the first half is that of 3 o'clock."""
    if not half:
        return list(stretches)
    found = []
    for from_s, to_s in stretches:
        ends = sorted(half_place(joint, course, half, s) for s in (from_s, to_s))
        found.append((ends[0], ends[1]))
    return found


def half_place(joint: Joint, course: Course, half: str, s_mm: float) -> float:
    """A place on a pipe, mm from 12 o'clock, as mm from the centre its half starts at: 6 going up, 12 going down."""
    around = (s_mm if half == FIRST else -s_mm) % course.length_mm
    from_12 = around if around <= 0.75 * course.length_mm else around - course.length_mm
    return from_12 if joint.piece.progression == "down" else course.length_mm / 2 - from_12


def marks_along(joint: Joint, stops: JointStops) -> dict[str, tuple[float, ...]]:
    """The marks of every pass as places along the weld: from the left end of a plate, from 12 o'clock of a pipe."""
    found: dict[str, list[float]] = {}
    for p in stops.passes:
        found.setdefault(p.key, []).extend(_along(joint, stops.course, p.half, mark) for mark in p.marks)
    return {key: tuple(sorted(marks)) for key, marks in found.items()}


def _along(joint: Joint, course: Course, half: str, place_mm: float) -> float:
    """The way back of `half_place`."""
    if not half:
        return place_mm % course.length_mm if course.closed else place_mm
    from_12 = place_mm if joint.piece.progression == "down" else course.length_mm / 2 - place_mm
    return (from_12 if half == FIRST else -from_12) % course.length_mm


def rod_at(joint: Joint, stops: JointStops, key: str, s_mm: float) -> tuple[int, float] | None:
    """Which rod of a pass laid a place along the weld, counted from 0 in the order of welding, and at which share of its piece; None for none."""
    n = 0
    for own in (p for p in stops.passes if p.key == key):
        place = half_place(joint, stops.course, own.half, s_mm) if own.half else s_mm
        for piece in own.pieces:
            if min(piece.from_s, piece.to_s) <= place <= max(piece.from_s, piece.to_s):
                return n, abs(place - piece.from_s) / max(abs(piece.to_s - piece.from_s), 1e-9)
            n += 1
    return None


def stops_said(p: PassStops, say: Speech) -> str:
    """A pass's stops in words: its marks, part rods, and what is left of the last."""
    marks = ", ".join(say.units.text("long_length", t) for t in p.marks) or say("cli.stops.none")
    short = [say("cli.stops.part", number=str(i + 1), share=Figure(round(100 * piece.share), "percent"))
             for i, piece in enumerate(p.pieces) if piece.share < 0.97 and not piece.last]  # fmt: skip
    last = say("cli.stops.left", share=Figure(round(100 * (1 - p.pieces[-1].share)), "percent"))
    return say("cli.stops.pass", number=str(p.number), marks=marks, unit=say.units.unit("long_length"), notes="; ".join([*short, last]))


def pieces_of(run: Run, marks: Sequence[float], is_turned: bool = False) -> tuple[Piece, ...]:
    """The pieces of a run between its marks, in the order they are welded."""
    ends = (run.start_mm, *marks, run.end_mm)
    ends = ends[::-1] if is_turned else ends
    return tuple(Piece(a, b, abs(b - a) / run.run_out_mm, b == ends[-1]) for a, b in itertools.pairwise(ends))
