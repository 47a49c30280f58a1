"""One side planned: options, optimal layers, placement, pins, and the figures read off."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from banister.core.beads.surface import Surface
from banister.core.joint.groove import Groove
from banister.core.joint.working import BALANCED, COOLEST, FEWEST, Pin, cap_of
from banister.core.plan import rules
from banister.core.plan.chains import Chain, optimal, rewished, wished
from banister.core.plan.climb import solve
from banister.core.plan.explain import blocked, bridging_remarks, over_cap, why_bead
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import (
    PER_BEAD,
    PREFERENCE_S,
    REVEAL_S,
    Layer,
    LayerProgram,
    Wish,
    setting_of,
)  # fmt: skip
from banister.core.plan.measured import measured
from banister.core.plan.options import options_for
from banister.core.plan.placing import Course, Laid, Step, cap_shape, place, place_rest, place_welded
from banister.core.plan.plan import CapShape, Pass, Plan
from banister.core.plan.sides import Side
from banister.core.plan.soundness import (
    CROSSED_MM2,
    cap_valleys,
    crossed,
    section_figures,
    slots,
)  # fmt: skip
from banister.core.plan.state import DONE, FILL, HOT, ROOT, SectionState, bare
from banister.core.plan.timing import welding_s
from banister.core.remark import NO_PLACE, Figure, Place, Remark, outside
from banister.core.value import Struct, replace

DRIFT_MM = 0.25
NEARBY_STATES = 5
CAP_TRIES, LESS, ALIKE = 5, 0.985, 1e-4
"""How often, and by how much at least, less is asked for where a bead came out over a cap; how far over it is none."""
FLUSH_MM = 1e-3
"""A cap this little under flush is flush: less than its outline is drawn to."""


class SideStudy(Struct, frozen=True):
    """What all answers share on one side: the side, its layer program and the balanced layers, None where there are none."""

    side: Side
    program: LayerProgram
    balanced: tuple[Layer, ...] | None

    @property
    def joint(self) -> PlanInputs:
        """The joint as it presents itself from this side."""
        return self.side.joint


def side_study(side: Side) -> SideStudy | tuple[Remark, ...]:
    """The shared part of one side, or the findings that make it impossible to plan."""
    joint, groove = side.joint, side.groove
    options, reasons = options_for(joint, groove)
    if reasons:
        return reasons
    program = LayerProgram(joint, groove, options)
    layers = solve(program, Wish(BALANCED))
    if layers is None:
        wider = stretched(side)
        layers = solve(wider, Wish(BALANCED))
        program = program if layers is None else wider
    if layers is None:
        return SideStudy(side, program, None)
    return SideStudy(side, program, tuple(layers))


def stretched(side: Side) -> LayerProgram:
    """The program of a side with beads somewhat smaller and larger than are easy to hold."""
    return LayerProgram(side.joint, side.groove, options_for(side.joint, side.groove, rules.STRETCH)[0])


def side_plan(study: SideStudy, answer: str, state: SectionState | None = None, wish: Wish | None = None) -> Plan:
    """One of the answers for one side, placed bead by bead, in the side's own coordinates; `wish` is what it wishes for if not what its name says.

    From a state on, the plan is of what is left: `state` is the bare groove unless given. It is a function of study,
    answer and state alone, in the middle of a layer too.
    """
    start = bare(study.side) if state is None else state
    cap = cap_of(answer)
    if cap is not None and study.balanced is not None:
        return _under_cap(study, answer, Wish(*cap), start)
    chain = None
    if study.balanced is not None:
        chain = optimal(study.program, answer, study.balanced) if wish is None else wished(study.program, wish)
    if chain is None:
        return Plan(answer, reasons=(blocked(study.joint, study.program),))
    return _as_wished(study, answer, chain, start)


def _under_cap(study: SideStudy, answer: str, wish: Wish, start: SectionState) -> Plan:
    """A plan with no pass over a cap as it is laid: a bead may come out with more than the program gave it, and then a little less is asked for."""
    asked = wish.energy_cap
    for _ in range(CAP_TRIES):
        chain = wished(study.program, replace(wish, energy_cap=asked))
        if chain is None:
            break
        plan = _as_wished(study, answer, chain, start)
        if not plan.feasible or plan.peak_arc_energy_kj_mm <= wish.energy_cap * (1 + ALIKE):
            return plan
        asked *= min(wish.energy_cap / plan.peak_arc_energy_kj_mm, LESS)
    return Plan(answer, reasons=(over_cap(study.program, study.balanced or (), wish.energy_cap),))


def _as_wished(study: SideStudy, answer: str, chain: Chain, start: SectionState) -> Plan:
    """A chain placed; where its wish for time leaves a cap that misses, wished for once more with the cap weighed in full."""
    plan = _built(study, answer, chain, start)
    if plan.feasible or chain.wish.reveal_s == REVEAL_S:
        return plan
    wanted = rewished(study.program, chain, REVEAL_S)
    again = None if wanted is None else _built(study, answer, wanted, start)
    return again if again is not None and again.feasible else plan


def _built(study: SideStudy, answer: str, chain: Chain, state: SectionState) -> Plan:
    joint, program = study.joint, study.program
    course = Course(joint, program.groove)
    laid, used, left_open = list[Laid](), list[Layer](), list[Remark]()
    before_cap: Surface | None = None
    first = state.passes
    for step, after in laying(study, course, chain, state):
        layer = step.laid.layer
        if state.begun is None:
            before_cap = state.surface if layer.role == "cap" else before_cap
            left_open += slots(state.surface, program.groove, layer.option.rod.diameter_mm) if state.passes else []
        laid.append(step.laid)
        if after.begun is None:
            used.append(replace(layer, count=sum(one.layer_number == step.laid.layer_number for one in laid)))
        state = after
    if not laid or state.stage != DONE:
        return Plan(answer, reasons=(_nothing_above(state.level),))
    figures, walls = section_figures(program.groove, laid, before_cap)
    remarks = (*bridging_remarks(joint, program), *left_open, *walls, *cap_valleys(state.surface, program.groove))
    return replace(_measured(study, answer, chain.wish, laid, used, state.surface, course, first), figures=figures, remarks=remarks)


def laying(study: SideStudy, course: Course, chain: Chain, state: SectionState) -> Iterator[tuple[Step, SectionState]]:
    """The beads from a state on, each with the state it leaves; the last one is the cap's, unless nothing can be laid."""
    while state.stage != DONE:
        if state.begun is not None:
            steps, layer, pin = place_rest(course, state.surface, state.begun), state.begun.layer, state.begun.pin
        else:
            ahead = chain.layers if state.is_bare else _onward(study.program, chain.wish, state)
            if not ahead:
                return
            layer, pin = ahead[0], _pin_for(study.joint, ahead[0])
            layer = layer if pin is None else _forced(study, layer, pin)
            steps = _placed(course, state.surface, layer, state.layers + 1, pin)
        for step in steps:
            state = state.with_bead(step.surface, step.begun, setting_of(step.laid.layer.option))
            if step.begun is None:
                state = _closed(study, chain.wish, state, layer, pin)
            yield step, state


class Welded(Struct, frozen=True):
    """Beads of one layer that are welded: what they were to be, and the areas that are known of them, in laying order."""

    passes: tuple[Pass, ...]
    areas: tuple[float, ...]

    @property
    def facts(self) -> tuple[object, ...]:
        """All that says how they lie on what is under them."""
        return self.areas, tuple((p.rod, p.role, p.amps, p.area_mm2) for p in self.passes)


Lying = dict[tuple[object, ...], tuple[SectionState, tuple[Pass, ...]]]
"""Welded metal of one study as it lies, by the layers it was welded in: it never moves, and who follows a joint pass by pass lays it once."""


def as_welded(study: SideStudy, answer: str, done: Sequence[Welded], known: Lying) -> tuple[SectionState, tuple[Pass, ...]]:
    """The section with welded beads laid as facts: the state planning goes on from, and the beads as they lie, in the side's own coordinates.

    What is `known` of the first layers is taken from there, and what is laid now is added to it.
    """
    course, found = Course(study.joint, study.program.groove), (bare(study.side), tuple[Pass, ...]())
    layers: tuple[object, ...] = (study.side.name, answer)
    for one in done:
        layers = (*layers, one.facts)
        if layers not in known:
            known[layers] = _layer_welded(study, course, answer, one, *found)
        found = known[layers]
    state, lying = found
    planned = (p for one in done for p in one.passes[: len(one.areas)])
    return state, tuple(p if p.why == as_planned.why else replace(p, why=as_planned.why) for p, as_planned in zip(lying, planned, strict=False))


def _layer_welded(
    study: SideStudy, course: Course, answer: str, one: Welded, state: SectionState, below: tuple[Pass, ...],
) -> tuple[SectionState, tuple[Pass, ...]]:  # fmt: skip
    """The beads of one more layer laid on those below."""
    program, wish, found = study.program, Wish(BALANCED if answer not in (COOLEST, FEWEST) else answer), list(below)
    layer = _layer_of(study, one, state.level)
    for step, p in zip(place_welded(course, state.surface, layer, state.layers + 1, one.areas), one.passes, strict=False):
        state = state.with_bead(step.surface, step.begun, setting_of(step.laid.option))
        lying = measured(study.joint, study.side.name, step.laid, len(found) + 1, p.why, step.begun is None)
        found.append(replace(lying, state="welded", remarks=(), area_mm2=step.laid.bead.area_mm2))
        if step.begun is None:
            stage = DONE if layer.role == "cap" else HOT if layer.role == "root" else FILL
            level = layer.y1 if stage == DONE else _level(program.groove, state.surface)
            state = state.next_layer(level, stage if _onward(program, wish, state.next_layer(level, stage)) or stage != HOT else FILL)
    return state, tuple(found)


def state_on(study: SideStudy, surface: Surface, passes: int) -> SectionState:
    """A side as it stands whatever made it so: with so many beads on it, the next layer begins where the metal is on the average."""
    stage = FILL if passes > 1 else HOT if passes else ROOT
    state = SectionState(study.side.name, tuple(surface.x), tuple(surface.y), _level(study.program.groove, surface), stage, passes, passes)
    return state if stage != HOT or _onward(study.program, Wish(BALANCED), state) else replace(state, stage=FILL)


def closed_early(study: SideStudy, state: SectionState) -> SectionState:
    """A layer that is begun taken as done with the beads it has: what is missing the next one makes up."""
    return state.next_layer(_level(study.program.groove, state.surface), FILL)


def _layer_of(study: SideStudy, done: Welded, level: float) -> Layer:
    """The layer welded beads belong to, as it was planned."""
    first, count = done.passes[0], len(done.passes)
    option = replace(rules.option_of(study.joint, first.rod, first.role, study.program.groove), amps=first.amps)
    total = sum(p.area_mm2 for p in done.passes)
    below = rules.root_metal_below(study.joint) if first.role == "root" else 0.0
    heights, areas = study.program.y, study.program.area - float(study.program.groove.area_below(level))
    top = study.program.groove.thickness_mm if first.role == "cap" else float(np.interp(total - below, areas, heights))
    return Layer(first.role, option, count, level, top, total / count, 0.0, rules.domes(study.joint)[2] if first.role == "cap" else 0.0)


def _closed(study: SideStudy, wish: Wish, state: SectionState, layer: Layer, pin: Pin | None) -> SectionState:
    """The state after a layer's last bead: as high as was planned while that is near enough, else where the metal really stands."""
    if layer.role == "cap":
        return state.next_layer(layer.y1, DONE)
    stage = HOT if layer.role == "root" else FILL
    level = _level(study.program.groove, state.surface)
    real = state.next_layer(level, stage)
    if pin is None and (abs(level - layer.y1) <= DRIFT_MM or _onward(study.program, wish, real) is None):
        return state.next_layer(layer.y1, stage)
    return real


def _onward(program: LayerProgram, wish: Wish, state: SectionState) -> list[Layer] | None:
    """The rest of the plan from a level, or from the nearest one that has a rest; beads even it out."""
    for step in range(NEARBY_STATES + 1):
        for sign in (1, -1):
            found = solve(program, wish, state.level + sign * step * program.step, state.stage, state.last)
            if found is not None:
                return found
    return None


def _nothing_above(level_mm: float) -> Remark:
    return outside("pin.blocks", Place(y_mm=level_mm))


def _level(groove: Groove, surface: Surface) -> float:
    """The height the groove is filled to, were it level."""
    return groove.filled_to(groove.level_area_mm2 - surface.below_level(groove.thickness_mm - 1e-9))


def _placed(course: Course, surface: Surface, layer: Layer, number: int, pin: Pin | None) -> list[Step]:
    """The layer's beads; a cap whose heights miss the limits is tried with one bead more or less."""
    steps = place(course, surface, layer, number, pin)
    if layer.role != "cap" or pin is not None:
        return steps
    best = (_cap_miss(course, steps[-1].surface), steps)
    total = layer.area_mm2 * layer.count
    for count in (layer.count + 1, layer.count - 1):
        if best[0] <= 0.0:
            break
        if count >= 2 and layer.option.low <= total / count <= layer.option.high:
            other = place(course, surface, replace(layer, count=count, area_mm2=total / count), number)
            best = min(best, (_cap_miss(course, other[-1].surface), other), key=lambda found: found[0])
    return best[1]


def _cap_miss(course: Course, surface: Surface) -> float:
    shape = cap_shape(course, surface)
    limit = rules.cap_limit(course.joint, course.groove)
    return max(rules.cap_edge_height(course.joint) - shape.min, 0.0, -shape.edge_min - FLUSH_MM) + max(shape.max - limit, 0.0)


def _pin_for(joint: PlanInputs, layer: Layer) -> Pin | None:
    """The pin that speaks of this layer: same role, and for fill its point within the layer."""
    for pin in joint.pins:
        if pin.role == layer.role and (layer.role != "fill" or layer.y0 <= pin.y_mm < layer.y1):
            return pin
    return None


def _forced(study: SideStudy, layer: Layer, pin: Pin) -> Layer:
    """The layer with a pinned rod or bead count; its thickness follows the new bead areas."""
    option = layer.option
    rods = study.joint.rods_by_id
    if pin.rod is not None and pin.rod in rods:
        option = rules.option_of(study.joint, rods[pin.rod], layer.role, study.program.groove)
    total = layer.area_mm2 * layer.count
    count = layer.count if pin.beads is None else max(1, pin.beads)
    if pin.area_mm2 is not None and layer.role in ("fill", "cap"):
        rest = total - pin.area_mm2
        others = max(0, round(rest / option.middle)) if pin.beads is None else count - 1
        count = 1 + others
        total = pin.area_mm2 + others * min(max(rest / max(others, 1), option.low), option.high)
    elif pin.rod is None and pin.beads is None:
        return layer
    elif layer.role != "cap":
        total = min(max(total, option.low * count), option.high * count)
    below = rules.root_metal_below(study.joint) if layer.role == "root" else 0.0
    heights = study.program.y
    areas = study.program.area - float(study.program.groove.area_below(layer.y0))
    y1 = layer.y1 if layer.role == "cap" else float(np.interp(total - below, areas, heights))
    return replace(layer, option=option, count=count, y1=y1, area_mm2=total / count)


def _measured(
    study: SideStudy,
    answer: str,
    wish: Wish,
    laid: Sequence[Laid],
    layers: Sequence[Layer],
    surface: Surface,
    course: Course,
    before: int,
) -> Plan:
    """The figures of a side as it was laid; `wish` is what its layers were chosen for."""
    joint = study.joint
    shape = cap_shape(course, surface, [one.bead for one in laid if one.layer.role == "cap"])
    ends = {one.layer_number: i for i, one in enumerate(laid)}
    options = {one.layer_number: one.layer.option for one in laid}
    chosen = {one.layer_number: one.layer for one in laid}
    whys = {number: why_bead(joint, study.program, layer, options.get(number - 1)) for number, layer in chosen.items()}
    passes = tuple(measured(joint, study.side.name, one, before + i + 1, whys[one.layer_number], ends[one.layer_number] == i) for i, one in enumerate(laid))
    miss = _cap_miss(course, surface)
    reasons: tuple[Remark, ...] = ()
    if miss > 1e-9:
        limit = rules.cap_limit(joint, course.groove)
        reasons = (_cap_reason(shape, rules.cap_edge_height(joint), limit),)
    reasons += tuple(crossed(p.key, p.aim_mm, p.area_mm2) for p in passes if abs(p.simulated_area_mm2 - p.area_mm2) > CROSSED_MM2)
    cost = _cost(study, wish, laid, layers)
    planned = sum(layer.cost for layer in layers) - _per_bead(wish.answer, layers)
    seconds = welding_s(joint.choices, passes)
    return Plan(answer, passes, reasons, (), cost, cost / planned - 1 if planned > 0 else 0.0, seconds, shape)


def _cap_reason(shape: CapShape, least: float, limit: float) -> Remark:
    found = (min(shape.min, shape.edge_min), shape.max)
    return outside("cap.height", NO_PLACE, "typical", heights=Figure(found, "length"), value=Figure(shape.max, "length"),
                   window=Figure((least, limit), "length"))  # fmt: skip


def _per_bead(answer: str, layers: Sequence[Layer]) -> float:
    return PER_BEAD * sum(layer.count for layer in layers) if answer == FEWEST else 0.0


def _cost(study: SideStudy, wish: Wish, laid: Sequence[Laid], layers: Sequence[Layer]) -> float:
    """The stated cost of the beads as placed, seconds (the count itself left out for 'fewest')."""
    program, total = study.program, 0.0
    for bead in laid:
        y = (bead.layer.y0 + bead.layer.y1) / 2 if bead.layer.role != "cap" else bead.layer.y1
        area = np.asarray(bead.bead.area_mm2)
        total += float(program.beads_cost(bead.option, Wish(COOLEST), area, np.asarray(1.0), y))
        if wish.answer == BALANCED:
            total += PREFERENCE_S * ((bead.bead.area_mm2 - bead.option.middle) / bead.option.half) ** 2
    for layer in layers:
        if layer.role == "cap":
            at_once = layer.y0 == 0.0
            reveal = 0.0 if at_once else study.joint.prep.thickness_mm - layer.y0 - study.joint.choices.reveal_mm
            total += 4 * wish.reveal_s * (reveal**2 + (layer.dome_mm - rules.domes(study.joint)[2]) ** 2)
    return total
