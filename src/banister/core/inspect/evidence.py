"""What the job's own data say about a place where something was seen: which passes lie there, and the evidence for its causes.

Whatever is missing is not known, never normal.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence

import numpy as np

from banister.core.care.life import OUT
from banister.core.care.rack import hours_of, racked
from banister.core.fitup.places import course_of
from banister.core.fitup.readings import line_along
from banister.core.follow.facts import PassFacts
from banister.core.heat.thermal import limits_of
from banister.core.inspect.arc_there import Traces, arc_there, no_traces
from banister.core.inspect.causes import pass_shares
from banister.core.inspect.kinds import ROOT
from banister.core.inspect.observed import LEFT, RIGHT, Observation
from banister.core.inspect.repair import INSIDE
from banister.core.joint.joint import Joint
from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_UP
from banister.core.journal import Record
from banister.core.judge.passes import window_on
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import BACK
from banister.core.rods.rod import Rod
from banister.core.stops.of_plan import JointStops, marks_along, rod_at
from banister.core.value import Struct, field

NEAR_STOP_MM, MID_STOP_MM, END_MM = 15.0, 40.0, 50.0
NEARLY_OUT = 0.75
FLAT_TO_DEG, OVERHEAD_FROM_DEG = 45.0, 135.0
AMPS, PACE = (0.93, 1.07), (0.85, 1.15)
OFF_MM, HIGH_LOW_MM, THICK_CORES, LONG_CORES = 0.5, 1.0, 1.15, 1.75
ATTITUDES = {FLAT: "flat", HORIZONTAL: "horizontal", VERTICAL_UP: "up", OVERHEAD: "overhead"}
ROOT_KINDS = ("402", "4021", "4013", "504", "510", "515", "5013", "516")


class Welded(Struct, frozen=True):
    """What is known of how the joint was welded: facts by pass, all records (after corrections), its stops, the recorded arcs, the rods by id."""

    facts: Mapping[str, PassFacts] = field(default_factory=dict)
    records: Sequence[Record] = ()
    stops: JointStops | None = None
    traces: Traces = no_traces
    rods: Mapping[str, Rod] = field(default_factory=dict)


def blamed(one: Observation, joint: Joint, plan: Plan) -> dict[str, float]:
    """The passes that may have made it, by key with their shares: by its place in the section, its toe, or its side."""
    front = [p for p in plan.passes if p.side != BACK]
    if one.kind in INSIDE and one.depth is not None:
        middle = joint.prep.thickness_mm - one.depth - (one.height or 0.0) / 2
        return pass_shares(plan.passes, (0.0, middle))
    if one.side == ROOT or one.kind in ROOT_KINDS:
        return _alike([p for p in front if p.role in ("root", "hot")])
    caps = [p for p in front if p.role == "cap"]
    if one.toe in (LEFT, RIGHT) and caps:
        edge = min(caps, key=lambda p: p.aim_mm[0]) if one.toe == LEFT else max(caps, key=lambda p: p.aim_mm[0])
        return {edge.key: 1.0}
    return _alike(caps)


def _alike(passes: Sequence[Pass]) -> dict[str, float]:
    return {p.key: 1.0 / len(passes) for p in passes}


def evidence_of(one: Observation, p: Pass, joint: Joint, plan: Plan, welded: Welded) -> dict[str, str]:
    """Every piece of evidence that is known, with its level."""
    found = dict(_place(one, p, joint, welded))
    found |= dict(_rod_there(one, p, joint, welded))
    found |= dict(_fit(one, joint))
    found |= dict(_section(p, plan, joint))
    found |= dict(_out_of_the_oven(p, joint, welded))
    found |= dict(_heat(p, joint, welded))
    attitude = _attitude(one, p, joint)
    if attitude in ATTITUDES:
        found["attitude"] = ATTITUDES[attitude]
    if p.rod.polarity:
        found["current"] = "ac" if p.rod.polarity == "AC" else "dc"
    return found


def _attitude(one: Observation, p: Pass, joint: Joint) -> str:
    """How the pool lay: the position's, round a pipe that stands still by the clock; '' where neither tells."""
    attitudes = joint.attitudes(p.role)
    if len(attitudes) == 1:
        return attitudes[0]
    if joint.piece.form != "pipe" or VERTICAL_UP not in attitudes:
        return ""
    from_12 = course_of(joint).apart(one.s_mm, 0.0) / course_of(joint).length_mm * 360.0
    return FLAT if from_12 < FLAT_TO_DEG else VERTICAL_UP if from_12 < OVERHEAD_FROM_DEG else OVERHEAD


def _place(one: Observation, p: Pass, joint: Joint, welded: Welded) -> Iterator[tuple[str, str]]:
    course = course_of(joint)
    if stops := _stops_of(p, joint, welded):
        off = min(course.apart(one.s_mm, s) for s in stops)
        yield "stop", "near" if off <= NEAR_STOP_MM else "mid" if off <= MID_STOP_MM else "far"
    at_an_end = not course.closed and min(one.s_mm, course.length_mm - one.s_mm) <= END_MM
    yield "where", "end" if at_an_end else "middle"
    if one.toe in (LEFT, RIGHT):
        yield "side", "one"


def _stops_of(p: Pass, joint: Joint, welded: Welded) -> tuple[float, ...]:
    return () if welded.stops is None else marks_along(joint, welded.stops).get(p.key, ())


def rod_there(one: Observation, p: Pass, joint: Joint, welded: Welded) -> tuple[int, float, Record | None] | None:
    """The rod of a pass that was burnt where something was seen: its number from 0, the share of its run-out there, its record where there is one."""
    at = None if welded.stops is None else rod_at(joint, welded.stops, p.key, one.s_mm)
    if at is None:
        return None
    rods = [r for r in welded.records if r.k == "rod" and r.p == p.key and r.j == joint.id]
    return *at, rods[at[0]] if at[0] < len(rods) else None


def _rod_there(one: Observation, p: Pass, joint: Joint, welded: Welded) -> Iterator[tuple[str, str]]:
    """Current, pace and arc of the rod that was burnt there, as its record and its trace have them."""
    there = rod_there(one, p, joint, welded)
    if there is None:
        return
    n, share, rod = there
    if rod is not None and isinstance(rod.d.get("a"), int | float):
        yield "amps", _level(float(rod.d["a"]) / p.amps, AMPS, ("low", "normal", "high"))
    facts = welded.facts.get(p.key)
    if facts is not None and n < len(facts.run_outs):
        yield "pace", _level(facts.run_outs[n] / p.run_out_mm, PACE, ("slow", "normal", "fast"))
    samples = None if rod is None else welded.traces(rod)
    if samples is not None:
        yield from arc_there(samples, share, p.run_out_mm)


def _fit(one: Observation, joint: Joint) -> Iterator[tuple[str, str]]:
    """The fit-up at the station."""
    course, prep = course_of(joint), joint.prep
    for name, quantity, planned, words in (("gap", "gap", prep.root_gap_mm, ("tight", "normal", "wide")),
                                           ("face", "face", prep.root_face_mm, ("light", "normal", "heavy"))):  # fmt: skip
        line = line_along(joint.fitup, quantity, course)
        if line is not None:
            yield name, _level(float(line.mean(np.array([one.s_mm]))[0]) - planned, (-OFF_MM, OFF_MM), words)
    line = line_along(joint.fitup, "high_low", course)
    if line is not None:
        yield "highlow", "large" if abs(float(line.mean(np.array([one.s_mm]))[0])) > HIGH_LOW_MM else "small"


def _out_of_the_oven(p: Pass, joint: Joint, welded: Welded) -> Iterator[tuple[str, str]]:
    """How long the rods of a pass were out when it was begun, of what they may be; nothing where no lot tells."""
    begun = next((r for r in welded.records if r.k == "pass-begun" and r.p == p.key and r.j == joint.id), None)
    if begun is None or not welded.rods:
        return
    before = [r for r in welded.records if r.n < begun.n]
    stocks = racked((r for r in before if r.k == "lot"), (r for r in before if r.k == "care"), welded.rods).of(p.rod.id)
    shares = [stock.longest_h(hours_of(begun)) / stock.care.open_h for stock in stocks if stock.count(OUT) and math.isfinite(stock.care.open_h)]
    if shares:
        yield "exposure", "over" if max(shares) > 1.0 else "near" if max(shares) > NEARLY_OUT else "within"


def _section(p: Pass, plan: Plan, joint: Joint) -> Iterator[tuple[str, str]]:
    """What the section with the planned beads says."""
    core = p.rod.diameter_mm
    yield "slot", "narrow" if any(r.code == "bead.slot" for r in p.remarks) else "ok"
    weave = window_on(joint, p, "weave")
    if weave.is_set:
        yield "weave", "wide" if p.width_mm > weave.high else "ok"
    yield "layer", "thick" if p.thickness_mm / core > THICK_CORES else "ok"
    below = [q for q in plan.passes if q.number == p.number - 1]
    if below:
        yield "lap", "steep" if any(r.code == "bead.cold_lap" for r in below[0].remarks) else "ok"
    if plan.figures is not None and p.role == "fill":
        yield "stretch", "long" if max(plan.figures.wall_left, plan.figures.wall_right) / core > LONG_CORES else "ok"


def _heat(p: Pass, joint: Joint, welded: Welded) -> Iterator[tuple[str, str]]:
    facts, limits = welded.facts.get(p.key), limits_of(joint)
    if facts is not None and facts.temps:
        c = facts.temps[0][1]
        cold = limits.preheat_c is not None and c < limits.preheat_c
        yield "temp", "cold" if cold else "hot" if c > limits.interpass_c else "inside"
    cleaned = _cleaned((r for r in welded.records if r.j == joint.id), p.key)
    if cleaned is not None:
        yield "cleaned", "ticked" if cleaned else "not"


def _cleaned(records: Iterable[Record], key: str) -> bool | None:
    """Whether the pass before it was ticked as cleaned; None where nothing tells."""
    last: bool | None = None
    for r in records:
        if r.k == "clean":
            last = bool(r.d.get("slag"))
        elif r.k == "pass-begun" and r.p == key:
            return last
    return None


def _level(value: float, between: tuple[float, float], words: tuple[str, str, str]) -> str:
    return words[0] if value < between[0] else words[2] if value > between[1] else words[1]
