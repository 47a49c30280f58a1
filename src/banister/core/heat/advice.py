"""What a different way of working would change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping

from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.thermal import limits_of, stations_of
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import COOLEST, FEWEST, RodUse
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, Remark, watch
from banister.core.rods.rod import Rod
from banister.core.value import Struct

WARMER_K, HIGHER_K, FASTER = 50.0, 30.0, 1.15
"""How far the other ways of working go from the plan."""
SIZED_ROLES = ("fill", "cap")


class Other(Struct, frozen=True):
    """One change of the way of working, and the schedule it gives; no passes where it cannot be planned."""

    change: Remark
    schedule: Schedule
    passes: int


def others(joint: Joint, plan: Plan, rods: Mapping[str, Rod]) -> Iterator[Other]:
    """If the joint were preheated more, waited for less, welded faster, with another rod, in other beads, or wider."""
    limits, heat = limits_of(joint), joint.heat
    preheat_c = heat.air_c if limits.preheat_c is None else limits.preheat_c
    warmer = max(preheat_c, heat.air_c) + WARMER_K
    if warmer < limits.interpass_c - 10:
        yield _other(watch("other.warmer", more=_difference(WARMER_K)), with_limit(joint, "preheat", low=warmer), plan)
    yield _other(watch("other.hotter", more=_difference(HIGHER_K)), with_limit(joint, "interpass", high=limits.interpass_c + HIGHER_K), plan)
    yield _planned(watch("other.faster", more=Figure(100 * (FASTER - 1), "percent")), faster(joint, plan), plan.answer, rods)
    for code, step in (("other.larger", 1), ("other.smaller", -1)):
        rod = next_size(plan, rods, step)
        if rod is not None:
            yield _planned(watch(code, rod=Figure(rod.id, "rod")), only_with(joint, rod), plan.answer, rods)
    for answer in (FEWEST, COOLEST):
        if answer != plan.answer:
            yield _planned(watch(f"other.{answer}"), joint, answer, rods)
    c = joint.working.choices
    yield _other(watch("other.cleaning"), edited(joint, rod_change_s=0.5 * c.rod_change_s, clean_bead_s=0.5 * c.clean_bead_s,
                                                 clean_per_m_s=0.5 * c.clean_per_m_s), plan)  # fmt: skip
    if preheat_c > heat.air_c and not heat.preheat_held:
        yield _other(watch("other.held"), edited(joint, preheat_held=True), plan)
    if joint.piece.form == "plate" and not heat.to_and_fro and len(stations_of(joint)) > 1:
        yield _other(watch("other.to_and_fro"), edited(joint, to_and_fro=True), plan)
    yield _other(watch("other.wider"), edited(joint, width_left_mm=2 * heat.width_left_mm, width_right_mm=2 * heat.width_right_mm), plan)


def _difference(kelvin: float) -> Figure:
    return Figure(kelvin, "temperature_difference")


def _other(change: Remark, joint: Joint, plan: Plan) -> Other:
    return Other(change, schedule_of(joint, plan), len(plan.passes))


def _planned(change: Remark, joint: Joint, answer: str, rods: Mapping[str, Rod]) -> Other:
    plan = plan_joint(joint, rods, answer)
    return _other(change, joint, plan) if plan.feasible else Other(change, Schedule(limits=limits_of(joint)), 0)


def with_limit(joint: Joint, quantity: str, low: float | None = None, high: float | None = None) -> Joint:
    """The joint with another limit in the place of its own."""
    kept = tuple(w for w in joint.working.windows if w.quantity != quantity)
    return edited(joint, windows=(*kept, Window(quantity=quantity, low=low, high=high)))


def faster(joint: Joint, plan: Plan) -> Joint:
    """The joint with every rod of fill and cap run further than the plan does on average: at the same current that much faster."""
    run_outs: dict[tuple[str, str], list[float]] = {}
    for p in plan.passes:
        if p.role in SIZED_ROLES:
            run_outs.setdefault((p.role, p.rod.id), []).append(p.run_out_mm)
    windows = tuple(Window(quantity="run_out", role=role, rod=rod, low=FASTER * sum(found) / len(found)) for (role, rod), found in run_outs.items())
    used = {rod for _, rod in run_outs}
    kept = tuple(use for use in joint.working.rods if use.role not in SIZED_ROLES or use.rod in used)
    return edited(joint, windows=(*joint.working.windows, *windows), rods=kept)


def next_size(plan: Plan, rods: Mapping[str, Rod], step: int) -> Rod | None:
    """The next larger (1) or smaller (-1) rod of the type that fills most of the groove, None where the job has none."""
    filled = Counter[str]()
    for p in plan.passes:
        if p.role in SIZED_ROLES:
            filled[p.rod.id] += round(p.area_mm2)
    main = rods.get(filled.most_common(1)[0][0]) if filled else None
    if main is None:
        return None
    beyond = [r for r in rods.values() if r.type == main.type and step * (r.diameter_mm - main.diameter_mm) > 0.05]
    return min(beyond, key=lambda r: abs(r.diameter_mm - main.diameter_mm), default=None)


def only_with(joint: Joint, rod: Rod) -> Joint:
    """The joint filled and capped with one rod."""
    kept = tuple(use for use in joint.working.rods if use.role not in SIZED_ROLES)
    return edited(joint, rods=(*kept, *(RodUse(role=role, rod=rod.id) for role in SIZED_ROLES)))
