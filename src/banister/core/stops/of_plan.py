"""The stop map of a plan: which passes touch, their runs, and what each piece means for the rod in hand."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from banister.core.fitup.places import Course, course_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import Figure
from banister.core.stops.runs import LEAST_PIECE_MM, WANTED_MM, Forbidden, Run
from banister.core.stops.search import StopMap, stop_map
from banister.core.words import Speech

TOUCH_MM, TOUCH_LENGTH_MM, SAMPLE_MM = 0.25, 1.0, 0.2
CENTRE_CLEAR_MM = 25.0
"""Stops keep so far off 6 and 12 o'clock (typical)."""
FIRST, SECOND = "first", "second"


@dataclass(frozen=True, slots=True)
class Piece:
    """What one rod lays: from mark to mark along its run, how much of a rod that is, and whether it is the last."""

    from_s: float
    to_s: float
    share: float
    last: bool


@dataclass(frozen=True, slots=True)
class PassStops:
    """The stops of a pass: its half ('' for a run round or along), its marks and its pieces."""

    key: str
    number: int
    half: str
    marks: tuple[float, ...]
    pieces: tuple[Piece, ...]


@dataclass(frozen=True, slots=True)
class JointStops:
    """The stop maps of a joint: one, or one for each half of a fixed pipe; every pass with its stops."""

    course: Course
    maps: tuple[StopMap, ...]
    passes: tuple[PassStops, ...]

    @property
    def distance_mm(self) -> float:
        """The least distance between stops of touching passes."""
        return min((m.distance_mm for m in self.maps), default=float("inf"))


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


def joint_stops(joint: Joint, plan: Plan, wanted_mm: float = WANTED_MM, pinned: Mapping[str, tuple[float, ...]] | None = None,
                forbidden: Sequence[Forbidden] = (), seed: int = 1) -> JointStops:  # fmt: skip
    """Where the rods of a plan end. Marks count along the outside from each run's own start."""
    course, touching = course_of(joint), touching_passes(plan.passes)
    halves = (FIRST, SECOND) if joint.runs > 1 else ("",)
    length = course.length_mm / len(halves)
    clear = (Forbidden(from_s=0.0, to_s=CENTRE_CLEAR_MM, why="centre"), Forbidden(from_s=length - CENTRE_CLEAR_MM, to_s=length, why="centre"))
    maps, passes = list[StopMap](), list[PassStops]()
    for half in halves:
        runs = tuple(
            Run(key=p.key, length_mm=length, run_out_mm=p.run_out_mm * course.length_mm / p.length_mm, half=half,
                forbidden=(*forbidden, *(clear if half else ())), pinned=(pinned or {}).get(p.key)) for p in plan.passes
        )  # fmt: skip
        found = stop_map(runs, touching, wanted_mm=wanted_mm, least_mm=LEAST_PIECE_MM, seed=seed)
        maps.append(found)
        passes += [PassStops(p.key, p.number, half, marks, pieces_of(run, marks)) for p, run, marks in zip(plan.passes, found.runs, found.marks, strict=True)]
    return JointStops(course, tuple(maps), tuple(passes))


def stops_said(p: PassStops, say: Speech) -> str:
    """A pass's stops in words: its marks, part rods, and what is left of the last."""
    marks = ", ".join(say.units.text("long_length", t) for t in p.marks) or say("cli.stops.none")
    short = [say("cli.stops.part", number=str(i + 1), share=Figure(round(100 * piece.share), "percent"))
             for i, piece in enumerate(p.pieces) if piece.share < 0.97 and not piece.last]  # fmt: skip
    last = say("cli.stops.left", share=Figure(round(100 * (1 - p.pieces[-1].share)), "percent"))
    return say("cli.stops.pass", number=str(p.number), marks=marks, unit=say.units.unit("long_length"), notes="; ".join([*short, last]))


def pieces_of(run: Run, marks: Sequence[float]) -> tuple[Piece, ...]:
    """The pieces of a run between its marks."""
    ends = (0.0, *marks, run.length_mm)
    return tuple(Piece(a, b, (b - a) / run.run_out_mm, b == run.length_mm) for a, b in itertools.pairwise(ends))
