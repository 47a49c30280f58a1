"""The groove itself as the unknown: which preparation inside the user's bounds takes least time, metal or pull, and what each step of the present one costs.

Every preparation that is tried is planned like any other: what the planner refuses, or whose wall is hard to reach, is none. The
search always takes the same steps: a grid over the two figures that weigh most, then every figure by itself round the best.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Mapping

from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import FIGURES, JointFigure
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import ROUND, SQUARE
from banister.core.plan.answers import plan_joint
from banister.core.plan.compare import fusion_risk
from banister.core.plan.pull import pull_of
from banister.core.remark import Figure, Refused, Remark, outside
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

BEVEL, GAP, FACE, SHARE, RADIUS = "bevel", "root_gap_mm", "root_face_mm", "front_share", "root_radius_mm"
TIME, METAL, PULL, EVEN = "time", "metal", "pull", "even"
GOALS = (TIME, METAL, PULL, EVEN)
STEPS = {BEVEL: 2.5, GAP: 0.5, FACE: 0.5, SHARE: 0.05, RADIUS: 1.0}
"""What a shop sets a figure by; half of it is the last step of the search."""
USUAL = {BEVEL: (20.0, 40.0), GAP: (1.5, 5.0), FACE: (0.0, 3.0), SHARE: (0.3, 0.7), RADIUS: (4.0, 12.0)}
HALF_GROOVE_BEVEL, BAR_GAP = (30.0, 50.0), (4.0, 10.0)
"""Where one wall stands upright, and on a bar, the usual bounds are others (shop figures)."""
ACROSS, UP, MOST_ROUNDS = 9, 6, 5
ROOT_RULES = ("root.gap.wide", "root.gap.tight", "root.face", "root.unfused", "bar.gap")
"""What a plan warns of at its root is no improvement; the present joint may have it."""
LEAST_PULL_DEG = 0.2


class Bound(Struct, frozen=True):
    """A figure that may be chosen anew, from where to where."""

    key: str
    low: float
    high: float

    @property
    def figure(self) -> JointFigure:
        """The joint's figure it stands for; that of the bevels is the right one's."""
        return FIGURES["bevel_right_deg" if self.key == BEVEL else self.key]

    @property
    def kind(self) -> str:
        """The kind of figure."""
        return self.figure.kind

    def kept(self, value: float) -> float:
        """A value as a shop sets it, to a fifth of its step, inside the bounds."""
        return min(max(self.set(value), self.low), self.high)

    def set(self, value: float) -> float:
        """A value as a shop sets it, whatever the bounds."""
        fine = STEPS[self.key] / 5
        return round(round(value / fine) * fine, 4)


class Weights(Struct, frozen=True):
    """How much a per cent of time, of metal and of pull weigh against one another."""

    time: float = 1.0
    metal: float = 0.0
    pull: float = 0.0


WEIGHTS = {TIME: Weights(), METAL: Weights(0.0, 1.0), PULL: Weights(0.1, 0.0, 1.0), EVEN: Weights(1.0, 1.0, 1.0)}


class Tried(Struct, frozen=True):
    """A preparation that was planned: its figures by key, what it takes a metre and how far it pulls; or why it is none."""

    values: tuple[tuple[str, float], ...]
    joint: Joint
    time_s_m: float = math.inf
    metal_kg_m: float = math.inf
    rods_m: float = math.inf
    pull_deg: float = math.inf
    risk: str = ""
    reasons: tuple[Remark, ...] = ()

    @property
    def is_one(self) -> bool:
        """True where it can be welded and its walls reached."""
        return not self.reasons

    def of(self, key: str) -> float:
        """One of its figures."""
        return dict(self.values)[key]


class StepCost(Struct, frozen=True):
    """What one step of one figure of the present joint changes a metre; `tried` may be none, with its reason."""

    key: str
    change: float
    tried: Tried


class Improving(Struct, frozen=True):
    """How far the search is: the present joint, the best so far, the grid over the two first figures (None: not tried yet), the steps, done of most."""

    present: Tried
    best: Tried
    bounds: tuple[Bound, ...]
    weights: Weights
    xs: tuple[float, ...] = ()
    ys: tuple[float, ...] = ()
    grid: tuple[Tried | None, ...] = ()
    steps: tuple[StepCost, ...] = ()
    done: int = 0
    most: int = 0

    def cost(self, tried: Tried) -> float:
        """What a preparation costs by the weights, the present joint (or the best) as one; infinite where it is none."""
        return _cost(tried, self.present if self.present.is_one else self.best, self.weights)


def unknowns_of(joint: Joint) -> tuple[Bound, ...]:
    """The figures of a joint that can be chosen anew, with the usual bounds, the present value inside; the two that weigh most first."""
    kind, prep = joint.prep.kind, joint.prep
    if kind.fillet:
        return ()
    found = list[str]()
    if kind.left != SQUARE or kind.right != SQUARE:
        found.append(BEVEL)
    if prep.backing != "closed":
        found.append(GAP)
    if kind.double:
        found.append(SHARE)
    if ROUND in kind.shapes:
        found.append(RADIUS)
    if kind.has_face and prep.backing != "bar":
        found.append(FACE)
    usual = USUAL | ({BEVEL: HALF_GROOVE_BEVEL} if SQUARE in (kind.left, kind.right) else {}) | ({GAP: BAR_GAP} if prep.backing == "bar" else {})
    usual = usual | ({BEVEL: (5.0, 20.0)} if ROUND in kind.shapes else {})
    return tuple(Bound(key, min(usual[key][0], value_of(joint, key)), max(usual[key][1], value_of(joint, key))) for key in found)


def value_of(joint: Joint, key: str) -> float:
    """What a figure is in a joint now."""
    if key != BEVEL:
        return FIGURES[key].of(joint)
    return joint.prep.bevel_right_deg if joint.prep.kind.right != SQUARE else joint.prep.bevel_left_deg


def with_values(joint: Joint, values: Mapping[str, float]) -> Joint:
    """The joint with these figures; both bevels are cut alike, that of the back too where it is cut as the front."""
    fields = {key: value for key, value in values.items() if key != BEVEL}
    if BEVEL in values:
        prep, now, bevel = joint.prep, value_of(joint, BEVEL), values[BEVEL]
        fields |= {"bevel_left_deg": bevel} if prep.kind.left != SQUARE else {}
        fields |= {"bevel_right_deg": bevel} if prep.kind.right != SQUARE else {}
        fields |= {"back_bevel_deg": bevel} if prep.kind.double and prep.back_bevel_deg == now else {}
    return edited(joint, **fields)


def bounds_faults(joint: Joint, bounds: tuple[Bound, ...]) -> Iterator[Remark]:
    """Bounds that are none: of a figure the joint does not have, or outside what it may be, or the wrong way round."""
    known = {bound.key for bound in unknowns_of(joint)}
    for bound in bounds:
        if bound.key not in known:
            yield outside("improve.unknown", figure=Figure(bound.key[:40], "name"))
            continue
        low, high = bound.figure.window
        if not low <= bound.low <= bound.high <= high:
            yield outside("improve.bounds", figure=Figure(f"improve.{bound.key}", "word"), window=Figure((low, high), bound.kind))


def improved(joint: Joint, rods: Mapping[str, Rod], bounds: tuple[Bound, ...], weights: Weights) -> Iterator[Improving]:
    """The present joint, then the best so far as the search goes on: grid row by row, then figure by figure; Refused where nothing is free.

    A figure whose bounds are one value is set to it, in all but the present joint.
    """
    free = tuple(bound for bound in bounds if bound.high > bound.low)
    if faults := tuple(bounds_faults(joint, bounds)):
        raise Refused(*faults)
    if not free:
        raise Refused(outside("improve.nothing"))
    base = edited(joint, pins=())
    as_it_is = _Tries(base, rods)
    tried = _Tries(with_values(base, {bound.key: bound.low for bound in bounds if bound not in free}), rods)
    present = as_it_is.at({bound.key: value_of(joint, bound.key) for bound in free})
    xs, ys = _between(free[0], ACROSS), _between(free[1], UP) if len(free) > 1 else ()
    most = 1 + len(xs) * max(len(ys), 1) + 2 * len(free) * MOST_ROUNDS
    state = Improving(present, present, free, weights, xs, ys, (None,) * (len(xs) * max(len(ys), 1)), (), 1, most)
    yield state
    state = replace(state, steps=tuple(_steps(as_it_is, present, free)))
    yield (state := _better(state, (step.tried for step in state.steps), tried.count))
    for row, y in enumerate(ys or (None,)):
        found = [tried.at(dict(present.values) | {free[0].key: x} | ({} if y is None else {free[1].key: y})) for x in xs]
        grid = [*state.grid]
        grid[row * len(xs) : (row + 1) * len(xs)] = found
        yield (state := _better(replace(state, grid=tuple(grid)), found, tried.count))
    for share in (1.0, 0.5):
        moved = True
        while moved and tried.count < most:
            before = state.best
            for bound in free:
                here, step = before.of(bound.key), share * STEPS[bound.key]
                near = {bound.kept(here - step), bound.kept(here + step)}
                state = _better(state, [tried.at(dict(state.best.values) | {bound.key: v}) for v in sorted(near)], tried.count)
                yield state
            moved = state.best is not before
    yield replace(state, done=most)


def _better(state: Improving, found: Iterable[Tried], count: int) -> Improving:
    """The best of what was found and what was best before."""
    best = min([state.best, *found], key=state.cost)
    return replace(state, best=best, done=min(count, state.most))


def _steps(tried: _Tries, present: Tried, bounds: tuple[Bound, ...]) -> Iterator[StepCost]:
    """One shop step of every figure either way, whatever the bounds: what it would cost, or why it cannot be."""
    for bound, sign in itertools.product(bounds, (-1.0, 1.0)):
        low, high = bound.figure.window
        value = bound.set(present.of(bound.key) + sign * STEPS[bound.key])
        if low <= value <= high:
            yield StepCost(bound.key, value - present.of(bound.key), tried.at(dict(present.values) | {bound.key: value}))


class _Tries:
    """Plans a preparation once."""

    def __init__(self, joint: Joint, rods: Mapping[str, Rod]) -> None:
        self.joint, self.rods = joint, rods
        self._found: dict[tuple[tuple[str, float], ...], Tried] = {}

    @property
    def count(self) -> int:
        """How many were planned."""
        return len(self._found)

    def at(self, values: Mapping[str, float]) -> Tried:
        """What a preparation with these figures takes."""
        key = tuple(values.items())
        if key not in self._found:
            self._found[key] = self._planned(key)
        return self._found[key]

    def _planned(self, values: tuple[tuple[str, float], ...]) -> Tried:
        joint = with_values(self.joint, dict(values))
        if faults := joint_faults(joint):
            return Tried(values, joint, reasons=faults)
        risk, is_present = fusion_risk(joint, upright=False), joint == self.joint
        if risk == "high" and not is_present:
            return Tried(values, joint, risk=risk, reasons=(outside("improve.access"),))
        plan = plan_joint(joint, self.rods, joint.working.chosen)
        broken = plan.reasons or (() if is_present else tuple(r for r in plan.remarks if r.code in ROOT_RULES))
        if broken:
            return Tried(values, joint, risk=risk, reasons=broken)
        metres, pull = float(joint.weld_length_mm()) / 1000.0, pull_of(plan.passes, joint.prep.welded_thickness_mm)
        return Tried(values, joint, plan.total_time_s / metres, plan.weld_metal_kg / metres, plan.rods / metres, abs(pull.final_deg), risk)


def _cost(tried: Tried, base: Tried, weights: Weights) -> float:
    if not tried.is_one:
        return math.inf
    if not base.is_one:  # nothing to compare with yet: by time
        return tried.time_s_m
    parts = ((weights.time, tried.time_s_m, base.time_s_m), (weights.metal, tried.metal_kg_m, base.metal_kg_m),
             (weights.pull, tried.pull_deg, max(base.pull_deg, LEAST_PULL_DEG)))  # fmt: skip
    return sum(weight * value / whole for weight, value, whole in parts)


def _between(bound: Bound, count: int) -> tuple[float, ...]:
    """Values from one bound to the other, as a shop sets them."""
    step = (bound.high - bound.low) / (count - 1)
    return tuple(dict.fromkeys(bound.kept(bound.low + i * step) for i in range(count)))
