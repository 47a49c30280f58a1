"""What the journal says of the passes of a joint: begun, rods burnt, ended, marks and depths; and what areas that comes to."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from banister.core.follow.factor import DEPTH, GAUGE_MM, RODS, Own, depth_variance, fused, like_others, rods_variance
from banister.core.follow.hands import read_back
from banister.core.joint.stopping import HALVES
from banister.core.journal import Record
from banister.core.passing import LEFT
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.rules import root_metal_below
from banister.core.plan.sides import FRONT, Side
from banister.core.value import Struct, field, replace

POSSIBLE_C = (-40.0, 1000.0)
DEEPER_MM = 5.0
"""A depth over what should be open by more than this is no reading."""
SUSPECT = 0.30
"""A depth that says so much other metal than the rods is asked again."""
LAYER_SD, LEAST_LEVEL_MM = 0.09, 0.05
"""How unsure the areas of a layer are before its depth is read, and how sure its level can be at most (judgement)."""


class PassFacts(Struct, frozen=True):
    """One pass as its records tell it: the rods that were burnt and their arc time, the part left of the last (None: not told), readings, what was flagged."""

    key: str
    rod: str = ""
    amps: float = 0.0
    asked_mm2: float | None = None
    arc_s: tuple[float, ...] = ()
    left: float | None = None
    length_mm: float | None = None
    is_ended: bool = False
    run_outs: tuple[float, ...] = ()
    temps: tuple[tuple[float, float], ...] = ()
    depth_mm: float | None = None
    flags: tuple[str, ...] = ()
    simulated: bool = False
    burnt: tuple[float | None, ...] = ()
    """How much of each rod was burnt, as a meter told it by its charge; None where none did."""
    kj: tuple[float | None, ...] = ()
    depths: tuple[tuple[float, float], ...] = ()
    """Depths read at places along the weld (mm, mm), in order; none where one depth was told for all of it."""
    in_hand: tuple[float, int] | None = None
    """Arc time and arcs of the rod that was in hand when the pass was left."""
    stops: tuple[tuple[str, tuple[float, ...]], ...] = ()
    """Where its rods were to end as it was begun, by half, mm from the start of the run; none where no stops were laid."""

    @property
    def energy_kj(self) -> float | None:
        """Energy of all its arcs; None where no meter saw them all."""
        seen = [kj for kj in self.kj if kj is not None]
        return sum(seen) if seen and len(seen) == len(self.arc_s) else None

    @property
    def rods_used(self) -> float:
        """Rods burnt: by their charge where a meter saw them all, else counted, the part left of the last taken off."""
        seen = [share for share in self.burnt if share is not None]
        if seen and len(seen) == len(self.arc_s):
            return sum(seen)
        return max(len(self.arc_s) - (0.0 if self.left is None else self.left), 0.0)


class Deviation(Struct, frozen=True):
    """A rule that was left: the number of its record, of which pass, rule, value, limit, and how it was disposed of ('' while open)."""

    n: int
    key: str
    rule: str
    value: float | None
    limit: float | None
    as_: str = ""
    why: str = ""


class Told(Struct, frozen=True):
    """A joint as its journal tells it: the passes in the order they were begun, deviations."""

    passes: Mapping[str, PassFacts] = field(default_factory=dict)
    deviations: tuple[Deviation, ...] = ()
    steps: tuple[str, ...] = ()
    """What was done to the work since the last pass was begun: turned, gouged, warmed."""
    hands: Mapping[str, Own] = field(default_factory=dict)
    """Figures of the welder from earlier jobs that are gone by, by rod."""

    @property
    def ended(self) -> tuple[str, ...]:
        """Keys of the passes that are welded, in order."""
        return tuple(key for key, facts in self.passes.items() if facts.is_ended)

    @property
    def open(self) -> tuple[Deviation, ...]:
        """Deviations that nobody disposed of yet."""
        return tuple(d for d in self.deviations if not d.as_)


NOTHING_TOLD = Told()


def told(records: Iterable[Record], joint: str, before: Told = NOTHING_TOLD) -> Told:
    """What records (after corrections) say of a joint's passes, on from what those before them said."""
    passes, deviations = dict(before.passes), {d.n: d for d in before.deviations}
    steps, hands = before.steps, before.hands
    for r in records:
        if r.j != joint:
            continue
        if r.k == "disposition":
            of = r.d.get("of")
            if isinstance(of, int) and of in deviations:
                deviations[of] = replace(deviations[of], as_=str(r.d.get("as", "")), why=str(r.d.get("why", "")))
        elif r.k == "deviation":
            deviations[r.n] = Deviation(r.n, r.p, str(r.d.get("rule", "")), _number(r.d.get("value")), _number(r.d.get("limit")))
        elif r.k == "hands":
            hands = read_back(r.d.get("of"))
        elif r.k == "step":
            steps = (*steps, str(r.d.get("what", "")))
        elif r.p:
            steps = () if r.k == "pass-begun" else steps
            passes[r.p] = _with(passes.get(r.p, PassFacts(r.p)), r)
    return Told(passes, tuple(deviations.values()), steps, hands)


class Telling:
    """Tells of a joint while its journal grows: what was told of the records so far is not told again."""

    def __init__(self, joint: str) -> None:
        self.joint = joint
        self._gone: tuple[Record, ...] = ()
        self._told = NOTHING_TOLD

    def of(self, records: tuple[Record, ...]) -> Told:
        """What records (after corrections) say, from the first on where one of those before is another now."""
        gone = len(self._gone)
        goes_on = records[:gone] == self._gone
        self._told = told(records[gone:], self.joint, self._told) if goes_on else told(records, self.joint)
        self._gone = records
        return self._told


def _with(facts: PassFacts, r: Record) -> PassFacts:
    if r.d.get("simulated") and not facts.simulated:
        facts = replace(facts, simulated=True)
    if r.k == "pass-begun":
        return replace(facts, rod=str(r.d.get("rod", "")), amps=_number(r.d.get("amps")) or 0.0, asked_mm2=_number(r.d.get("area")),
                       stops=_stops(r.d.get("stops")))  # fmt: skip
    if r.k == "rod":
        mark = _number(r.d.get("run_out_mm"))
        marks = facts.run_outs if mark is None else (*facts.run_outs, mark)
        return replace(facts, arc_s=(*facts.arc_s, _number(r.d.get("arc_s")) or 0.0), burnt=(*facts.burnt, _number(r.d.get("burnt"))),
                       kj=(*facts.kj, _number(r.d.get("kj"))), run_outs=marks, in_hand=None)  # fmt: skip
    if r.k == "pass-ended":
        return replace(facts, is_ended=True, left=_number(r.d.get("left")), length_mm=_number(r.d.get("length_mm")))
    if r.k == "temp":
        c = _number(r.d.get("c"))
        return facts if c is None else replace(facts, temps=(*facts.temps, (r.m, c)))
    if r.k == "measure":
        depth, mark = _number(r.d.get("depth_mm")), _number(r.d.get("run_out_mm"))
        marks = facts.run_outs if mark is None else (*facts.run_outs, mark)
        return replace(facts, depth_mm=facts.depth_mm if depth is None else depth, run_outs=marks, depths=_places(r.d.get("depths")) or facts.depths)
    if r.k == "note" and r.d.get("text") == LEFT:
        return replace(facts, in_hand=(_number(r.d.get("arc_s")) or 0.0, int(_number(r.d.get("arcs")) or 0)))
    if r.k == "flag":
        return replace(facts, flags=(*facts.flags, str(r.d.get("kind", ""))))
    return facts


def _places(found: object) -> tuple[tuple[float, float], ...]:
    """Pairs of a place and a depth; what is none is passed over."""
    pairs = [(_number(pair[0]), _number(pair[1])) for pair in found if isinstance(pair, list) and len(pair) == 2] if isinstance(found, list) else []
    return tuple(sorted((s, depth) for s, depth in pairs if s is not None and depth is not None))


def _stops(found: object) -> tuple[tuple[str, tuple[float, ...]], ...]:
    """Halves with their marks; what is none is passed over."""
    halves = found.items() if isinstance(found, dict) else ()
    read = [(half, [_number(m) for m in marks]) for half, marks in halves if half in HALVES and isinstance(marks, list)]
    return tuple((half, tuple(m for m in marks if m is not None)) for half, marks in read if None not in marks)


def _number(value: object) -> float | None:
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value) else None


def open_deviations(records: Sequence[Record]) -> dict[str, int]:
    """How many deviations nobody disposed of, by joint (records after corrections); joints with none are left out."""
    joints = dict.fromkeys(r.j for r in records if r.k == "deviation")
    found = {joint: len(told(records, joint).open) for joint in joints}
    return {joint: n for joint, n in found.items() if n}


class Learnt(Struct, frozen=True):
    """Areas of the welded passes as they are believed (mm2, by key), and what was learnt of each rod and its metal, by rod id."""

    areas_mm2: Mapping[str, float]
    own: Mapping[str, Own]
    suspect: tuple[str, ...] = ()
    """Passes whose depth disagrees so much with the rods that it is asked again."""

    def of(self, rod: str) -> Own:
        """What is known of a welder with a rod."""
        return self.own.get(rod) or like_others(self.own.values())


def learnt(facts: Told, plan: Plan, sides: Mapping[str, Side]) -> Learnt:
    """Go through the welded passes in their order, learning the factor and the metal of every rod as it was seen, from what is gone by.

    `sides` are the sides of the joint by name; depths are the level left open, mm under the face.
    """
    own, areas, by_rods, suspect = dict(facts.hands), dict[str, float](), dict[str, float](), list[str]()
    by_key = {p.key: p for p in plan.passes}
    for key in facts.ended:
        p, one = by_key.get(key), facts.passes[key]
        if p is None:
            continue
        before = (own.get(p.rod.id) or like_others(own.values())).next_pass()
        asked = one.asked_mm2 or p.area_mm2
        length = one.length_mm or p.length_mm
        after, areas[key] = _by_rods(before, one, p, asked, length)
        by_rods[key] = one.rods_used * p.rod.deposit_mm3 / length or areas[key] / math.exp(before.m)
        if one.depth_mm is not None:
            after, is_suspect = _by_depth(after, key, one.depth_mm, plan, areas, by_rods, sides[p.side])
            suspect += [key] if is_suspect else []
        own[p.rod.id] = after
    return Learnt(areas, own, tuple(suspect))


def _by_rods(own: Own, facts: PassFacts, p: Pass, asked: float, length: float) -> tuple[Own, float]:
    """The area of a pass by its rods; where none were told the factor alone says."""
    rods = facts.rods_used
    prior = math.log(asked) + own.f
    if rods <= 0:
        return own, math.exp(prior)
    y = math.log(rods * p.rod.deposit_mm3 / length / asked)
    variance = rods_variance(rods, length, facts.left is not None)
    seen = math.log(asked) + y + own.m
    believed, _ = fused(prior, math.sqrt(own.p_ff + 0.01), seen, math.sqrt(variance + own.p_mm))
    return own.seen(y, variance, RODS), math.exp(believed)


def _by_depth(
    own: Own, key: str, depth_mm: float, plan: Plan, areas: dict[str, float], by_rods: Mapping[str, float], side: Side,
) -> tuple[Own, bool]:  # fmt: skip
    """A depth after a layer tells its metal: the layer's areas are scaled towards it.

    What a rod leaves is told by all the metal it left so far against its rods alone, not against what was believed of the layer:
    that leans on the hand as it was known before, and on the layers under it.
    """
    p = next(q for q in plan.passes if q.key == key)
    lying = [q for q in plan.passes if q.side == p.side and q.layer <= p.layer and q.key in areas]
    layer, like = [q.key for q in lying if q.layer == p.layer], [q.key for q in lying if q.rod.id == p.rod.id]
    t = side.groove.thickness_mm
    level = min(max(t - depth_mm, 0.0), t)
    believed, told_by_rods = sum(areas[k] for k in layer), sum(by_rods[k] for k in like)
    hanging = root_metal_below(side.joint) if side.name == FRONT else 0.0
    whole = float(side.groove.area_below(np.array([level]))[0]) + hanging
    by_depth = whole - sum(areas[q.key] for q in lying) + believed
    left = whole - sum(areas[q.key] for q in lying if q.key not in like)
    if by_depth <= 0 or believed <= 0 or left <= 0:
        return own, True
    off, width = math.log(by_depth / believed), float(side.groove.width(level))
    share, _ = fused(0.0, max(LAYER_SD, LEAST_LEVEL_MM * width / believed), off, GAUGE_MM * width / believed)
    for k in layer:
        areas[k] *= math.exp(share)
    return own.seen(math.log(left / told_by_rods), depth_variance(width, left), DEPTH), abs(math.exp(off) - 1) > SUSPECT


def is_possible_depth(depth_mm: float, open_mm: float) -> bool:
    """False for a depth nobody can read: under nought, or deeper than is open by more than can be."""
    return 0.0 <= depth_mm <= open_mm + DEEPER_MM
