"""What preheat the steel asks for, and what a different way of working would change."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from banister.core.finding import WARNING, Finding
from banister.core.heat.preheat import Preheat, compared, from_own_copy
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.thermal import limits_of
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.procedure.windows import Window
from banister.core.rods.rod import Rod

LEAST_C = -270.0


def preheat_methods(joint: Joint, plan: Plan) -> tuple[Preheat, ...]:
    """The three methods for this joint; empty where no composition is known, or for stainless, which takes none."""
    if not joint.steel.is_known or joint.heat.stainless or not plan.passes:
        return ()
    coldest = min(p.heat_input_kj_mm for p in plan.passes)
    thick = max(joint.thickness_mm, joint.right_thickness_mm)
    heat = joint.heat
    en, annex, table = compared(joint.steel.cet, joint.steel.pcm, thick, heat.hydrogen_ml, coldest, heat.restraint, heat.category)
    return en, from_own_copy(annex, heat.annex_own_c), from_own_copy(table, heat.table_own_c)


def preheat_findings(joint: Joint, plan: Plan) -> tuple[Finding, ...]:
    """A warning for every method that asks for more than the job's limit."""
    in_force = limits_of(joint).preheat_c
    has = max(in_force, joint.heat.air_c)
    return tuple(
        Finding("heat.preheat", WARNING, f"{m.method} asks for {m.least_c:.0f} \N{DEGREE SIGN}C" + ("" if m.verified else " (unverified)")
                + (f", the job sets {in_force:g}" if in_force > LEAST_C else ", the job sets no preheat"),
                "Set the preheat your procedure and code require.", value=m.least_c, unit="\N{DEGREE SIGN}C", min=m.least_c, basis=m.method)
        for m in preheat_methods(joint, plan) if m.least_c is not None and m.least_c > has + 0.5
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Other:
    """One change of the way of working, and the schedule it gives."""

    title: str
    schedule: Schedule
    passes: int


def others(joint: Joint, plan: Plan, rods: Mapping[str, Rod]) -> Iterator[Other]:
    """If the joint were preheated more, the limit higher, the welding quicker, the beads larger or the piece wider."""
    limits = limits_of(joint)
    warmer = max(limits.preheat_c, joint.heat.air_c) + 50.0
    if warmer < limits.interpass_c - 10:
        yield Other("preheat 50 K more", schedule_of(_with(joint, "preheat", low=warmer), plan), len(plan.passes))
    yield Other("wait less: limit 30 K higher", schedule_of(_with(joint, "interpass", high=limits.interpass_c + 30.0), plan), len(plan.passes))
    quick = replace(joint, choices=replace(joint.choices, rod_change_s=0.5 * joint.choices.rod_change_s, clean_bead_s=0.5 * joint.choices.clean_bead_s,
                                           clean_per_m_s=0.5 * joint.choices.clean_per_m_s))  # fmt: skip
    yield Other("half the time for rods and cleaning", schedule_of(quick, plan), len(plan.passes))
    for answer in ("fewest", "coolest"):
        if answer != plan.answer:
            other = plan_joint(joint, rods, answer)
            if other.feasible:
                yield Other("larger beads (fewest)" if answer == "fewest" else "smaller beads (coolest)", schedule_of(joint, other), len(other.passes))
    wide = replace(joint.heat, width_left_mm=2 * joint.heat.width_left_mm, width_right_mm=2 * joint.heat.width_right_mm)
    yield Other("a piece twice as wide", schedule_of(replace(joint, heat=wide), plan), len(plan.passes))


def _with(joint: Joint, quantity: str, low: float | None = None, high: float | None = None) -> Joint:
    kept = tuple(w for w in joint.windows if w.quantity != quantity)
    return replace(joint, windows=(*kept, Window(quantity=quantity, low=low, high=high)))
