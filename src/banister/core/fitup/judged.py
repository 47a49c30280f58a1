"""The fit-up held against its tolerances at every station: go, adjust, rework, or not sure; what to do about it, and where to measure next."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.fitup.line import NINE_IN_TEN, Line
from banister.core.fitup.places import Course, course_of
from banister.core.fitup.readings import FEWEST, QUANTITIES, drawn, line_along
from banister.core.joint.fitting import SIMULATED, FitUp
from banister.core.joint.joint import Joint
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, SURE, UNVERIFIED, WATCH, Figure, Place, Remark
from banister.core.value import Struct

if TYPE_CHECKING:
    from banister.core.fitup.line import Floats

GO, UNSURE, ADJUST, REWORK, UNSET = "go", "unsure", "adjust", "rework", "unset"
WORST = (GO, UNSET, UNSURE, ADJUST, REWORK)
STEP_MM, CLEAR_MM, AT_A_READING_MM = 10.0, 30.0, 0.5
FEWEST_FOR_TILT, LEAST_TILT_MM = 4, 0.3
"""A pipe is called tilted from so many readings, and so much of its first harmonic, on."""
BY_HAND = frozenset(("gap.tight", "gap.wide", "high_low.over", "bevel.large"))
"""What is mended without cutting or welding: wedges and dogs, a turn, or more metal."""


class Tolerance(Struct, frozen=True, kw_only=True):
    """What a quantity may be off the drawing, mm or degrees; `sure` only where it is the procedure's own or the user's."""

    under: float | None = None
    over: float | None = None
    sure: bool = False


class ToleranceSet(Struct, frozen=True, kw_only=True):
    """Tolerances by quantity, and where they come from (the word `tolerance.KEY`)."""

    key: str
    by: Mapping[str, Tolerance]

    def bounds(self, joint: Joint, quantity: str) -> tuple[float, float] | None:
        """What a quantity of a joint may be; None where nothing is set."""
        found = self.by.get("bevel" if quantity.startswith("bevel") else quantity)
        if found is None:
            return None
        at = 0.0 if quantity == "high_low" else drawn(joint, quantity)
        low = -math.inf if found.under is None else at - found.under
        return (max(low, 0.0) if quantity in ("gap", "face") else low, math.inf if found.over is None else at + found.over)


class Station(Struct, frozen=True):
    """A quantity at a place: mean, half the band nine in ten lie in, its verdict, and what is wrong ('' for nothing)."""

    quantity: str
    s_mm: float
    value: float
    half: float
    verdict: str
    wrong: str = ""
    measured: bool = False


class Fit(Struct, frozen=True):
    """The whole fit-up as judged: stations of every measured quantity, what to do, the place worth measuring next."""

    course: Course
    stations: tuple[Station, ...]
    remarks: tuple[Remark, ...]
    next_mm: float | None

    def at_readings(self) -> dict[float, str]:
        """The worst verdict at every measured place."""
        found: dict[float, str] = {}
        for s in self.stations:
            if s.measured:
                found[s.s_mm] = max(found.get(s.s_mm, GO), s.verdict, key=WORST.index)
        return dict(sorted(found.items()))


def judged_fit(joint: Joint, fitup: FitUp, tolerances: ToleranceSet) -> Fit:
    """Every measured quantity at its readings and every 10 mm between."""
    course, stations, remarks = course_of(joint), list[Station](), list[Remark]()
    doubt: list[tuple[Floats, Floats]] = []
    for quantity in QUANTITIES:
        line, bounds = line_along(fitup, quantity, course), tolerances.bounds(joint, quantity)
        if line is None:
            continue
        own = [*_at_readings(quantity, line, bounds), *_between(quantity, line, bounds, course)]
        stations += sorted(own, key=lambda s: s.s_mm)
        sure = tolerances.by["bevel" if quantity.startswith("bevel") else quantity].sure if bounds is not None else False
        remarks += _said(quantity, sorted(own, key=lambda s: s.s_mm), bounds, joint, course, sure)
        if quantity == "gap":
            remarks += _tilt(line, bounds, course)
        if bounds is not None:
            doubt.append(_doubt(line, bounds, course))
    if 0 < len(fitup.readings) < FEWEST[course.closed]:
        remarks.append(Remark("fitup.few", WATCH, {"n": Figure(len(fitup.readings), "count"), "least": Figure(FEWEST[course.closed], "count")}))
    if (made_up := sum(r.note == SIMULATED for r in fitup.readings)) > 0:
        remarks.append(Remark("fitup.simulated", WATCH, {"n": Figure(made_up, "count")}))
    return Fit(course, tuple(stations), tuple(remarks), _next(doubt, fitup, course))


def _verdict(value: float, half: float, bounds: tuple[float, float] | None, quantity: str) -> tuple[str, str]:
    """How a station stands, and what is wrong with it."""
    if bounds is None:
        return UNSET, ""
    low, high = bounds
    if low <= value <= high:
        return (GO if low <= value - half and value + half <= high else UNSURE), ""
    wrong = _wrong(quantity, value < low)
    return (ADJUST if wrong in BY_HAND else REWORK), wrong


def _wrong(quantity: str, under: bool) -> str:
    if quantity == "high_low":
        return "high_low.over"
    if quantity == "face":
        return "face.thin" if under else "face.heavy"
    if quantity == "gap":
        return "gap.tight" if under else "gap.wide"
    return "bevel.small" if under else "bevel.large"


def _at_readings(quantity: str, line: Line, bounds: tuple[float, float] | None) -> Iterator[Station]:
    """At a reading itself only its own error counts."""
    half = NINE_IN_TEN * line.error
    for s, value in zip(line.at, line.values, strict=True):
        yield Station(quantity, s, value, half, *_verdict(value, half, bounds, quantity), measured=True)


def _between(quantity: str, line: Line, bounds: tuple[float, float] | None, course: Course) -> Iterator[Station]:
    places = np.arange(0.0, course.length_mm + (0.0 if course.closed else 1e-9), STEP_MM)
    apart = np.abs(places[:, None] - np.asarray(line.at)[None, :])
    apart = np.minimum(apart, course.length_mm - apart) if course.closed else apart
    places = places[(apart > AT_A_READING_MM).all(axis=1)]
    for s, value, half in zip(places.tolist(), line.mean(places).tolist(), (NINE_IN_TEN * line.sd(places)).tolist(), strict=True):
        yield Station(quantity, s, value, half, *_verdict(value, half, bounds, quantity))


def _said(quantity: str, stations: Sequence[Station], bounds: tuple[float, float] | None, joint: Joint, course: Course, sure: bool) -> Iterator[Remark]:
    """One remark a stretch that is outside, at its worst place; one where nothing is, or nothing is set."""
    kind, word = QUANTITIES[quantity][1], Figure(f"fitup.{quantity}", "word")
    certainty = SURE if sure else UNVERIFIED
    if bounds is None:
        yield Remark("fitup.unset", NOT_JUDGED, {"quantity": word})
        return
    window = Figure(tuple(b if math.isfinite(b) else None for b in bounds), kind)
    is_bad = False
    for wrong, group in itertools.groupby(stations, key=lambda s: s.wrong):
        found = list(group)
        if not wrong:
            continue
        is_bad = True
        worst = max(found, key=lambda s: max(bounds[0] - s.value, s.value - bounds[1]))
        by = abs(worst.value - (0.0 if quantity == "high_low" else drawn(joint, quantity)))
        yield Remark(f"fitup.{wrong}", OUTSIDE if sure else WATCH, {
            "quantity": word, "value": Figure(worst.value, kind), "window": window, "at": course.figure(worst.s_mm), "by": Figure(by, kind),
            "start": course.figure(found[0].s_mm), "end": course.figure(found[-1].s_mm),
        }, Place(s_mm=worst.s_mm), certainty=certainty)  # fmt: skip
    if not is_bad:
        unsure = next((s for s in stations if s.verdict == UNSURE), None)
        if unsure is None:
            yield Remark("fitup.inside", INSIDE if sure else NOT_JUDGED, {"quantity": word, "window": window}, certainty=certainty)
        else:
            worst = max((s for s in stations if s.verdict == UNSURE), key=lambda s: max(s.value + s.half - bounds[1], bounds[0] - s.value + s.half))
            yield Remark("fitup.unsure", NOT_JUDGED, {"quantity": word, "window": window, "at": course.figure(worst.s_mm),
                         "value": Figure(worst.value, kind)}, Place(s_mm=worst.s_mm), certainty=certainty)  # fmt: skip


def _tilt(line: Line, bounds: tuple[float, float] | None, course: Course) -> Iterator[Remark]:
    """A gap that is uneven round a pipe because one part stands askew: where to drive the wedge, and until how much more."""
    if not course.closed or bounds is None or len(line.at) < FEWEST_FOR_TILT or all(bounds[0] <= v <= bounds[1] for v in line.values):
        return
    theta = 2 * np.pi * np.arange(360) / 360
    gap = line.mean(theta / (2 * np.pi) * course.length_mm)
    across, up = float((gap * np.sin(theta)).mean() * 2), float((gap * np.cos(theta)).mean() * 2)
    amplitude = math.hypot(across, up)
    if amplitude < LEAST_TILT_MM:
        return
    tight = (math.degrees(math.atan2(across, up)) + 180.0) % 360.0 / 360.0 * course.length_mm
    yield Remark("fitup.tilt", WATCH, {"at": course.figure(tight), "by": Figure(amplitude, "fine_length"),
                 "wide": course.figure((tight + course.length_mm / 2) % course.length_mm)}, certainty=UNVERIFIED)  # fmt: skip


def _doubt(line: Line, bounds: tuple[float, float], course: Course) -> tuple[Floats, Floats]:
    """p (1 - p) along the weld, p the chance of being out of tolerance: greatest where a reading tells most."""
    places = np.arange(0.0, course.length_mm, STEP_MM / 2)
    mean, sd = line.mean(places), line.sd(places)
    below, above = (np.array([normal(z) for z in ((bound - mean) / sd).tolist()]) for bound in bounds)
    inside = above - below
    return places, inside * (1 - inside)


def normal(z: float) -> float:
    """The normal distribution up to z."""
    return 0.5 * (1.0 + math.erf(z / math.sqrt(2.0)))


def _next(doubt: Sequence[tuple[Floats, Floats]], fitup: FitUp, course: Course) -> float | None:
    """The place worth most to measure next, clear of what is measured; None where it would tell nothing."""
    best, where = 1e-3, None
    for places, worth in doubt:
        for s, value in zip(places.tolist(), worth.tolist(), strict=True):
            if value > best and all(course.apart(s, r.s_mm) >= CLEAR_MM for r in fitup.readings):
                best, where = value, s
    return where
