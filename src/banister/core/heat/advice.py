"""What preheat the steel asks for, and what a different way of working would change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import fmean

from banister.core.remark import WARNING, Finding
from banister.core.heat.preheat import SHOP_C, Preheat, by_method
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.thermal import limits_of, stations_of
from banister.core.joint.joint import Joint, RodUse
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.limits.windows import Window
from banister.core.rods.rod import Rod

LEAST_C = -270.0
WARMER_K, HIGHER_K, FASTER = 50.0, 30.0, 1.15
"""How far the other ways of working go from the plan."""
AGREE_K = 10.0
SIZED_ROLES = ("fill", "cap")


def preheat_methods(joint: Joint, plan: Plan) -> tuple[Preheat, ...]:
    """The three methods for this joint; empty where no composition is known, or for stainless, which takes none."""
    if not joint.steel.is_known or joint.heat.stainless or not plan.passes:
        return ()
    coldest = min(p.heat_input_kj_mm for p in plan.passes)
    thick = max(joint.thickness_mm, joint.right_thickness_mm)
    heat = joint.heat
    own = {c.cell: c.least_c for c in heat.own_cells}
    return by_method(joint.steel.cet, joint.steel.pcm, thick, heat.hydrogen_ml, coldest, heat.restraint, heat.category, own)


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


def disagreement(methods: Sequence[Preheat]) -> str:
    """How far the methods lie apart, in words; '' where fewer than two give a figure, or they agree within 10 K."""
    given = [max(m.least_c, SHOP_C) for m in methods if m.least_c is not None]
    apart = max(given) - min(given) if len(given) > 1 else 0.0
    if apart <= AGREE_K:
        return ""
    highest = max((m for m in methods if m.least_c is not None), key=lambda m: m.least_c or 0.0)
    return f"They lie up to {apart:.0f} K apart; {highest.method} asks for the most. None is averaged: your code says which counts."


@dataclass(frozen=True, slots=True)
class Other:
    """One change of the way of working, and the schedule it gives; no passes where it cannot be planned."""

    title: str
    schedule: Schedule
    passes: int


def others(joint: Joint, plan: Plan, rods: Mapping[str, Rod]) -> Iterator[Other]:
    """If the joint were preheated more, waited for less, welded faster, with another rod, in other beads, or wider."""
    limits = limits_of(joint)
    warmer = max(limits.preheat_c, joint.heat.air_c) + WARMER_K
    if warmer < limits.interpass_c - 10:
        yield _other(f"preheat {WARMER_K:g} K more", with_limit(joint, "preheat", low=warmer), plan)
    yield _other(f"wait less: limit {HIGHER_K:g} K higher", with_limit(joint, "interpass", high=limits.interpass_c + HIGHER_K), plan)
    yield _planned(f"weld faster: rods of fill and cap run {FASTER - 1:.0%} further", faster(joint, plan), plan.answer, rods)
    for word, step in (("larger", 1), ("smaller", -1)):
        rod = next_size(plan, rods, step)
        if rod is not None:
            yield _planned(f"next {word} rod: {rod.id} for fill and cap", only_with(joint, rod), plan.answer, rods)
    for answer, words in (("fewest", "larger beads (fewest)"), ("coolest", "smaller beads (coolest)")):
        if answer != plan.answer:
            yield _planned(words, joint, answer, rods)
    c = joint.choices
    quick = replace(c, rod_change_s=0.5 * c.rod_change_s, clean_bead_s=0.5 * c.clean_bead_s, clean_per_m_s=0.5 * c.clean_per_m_s)
    yield _other("half the time for rods and cleaning", replace(joint, choices=quick), plan)
    heat = joint.heat
    if limits.preheat_c > heat.air_c and not heat.preheat_held:
        yield _other("heat kept on while welding", replace(joint, heat=replace(heat, preheat_held=True)), plan)
    if joint.form == "plate" and not heat.to_and_fro and len(stations_of(joint)) > 1:
        yield _other("to and fro: every other pass from the other end", replace(joint, heat=replace(heat, to_and_fro=True)), plan)
    wide = replace(heat, width_left_mm=2 * heat.width_left_mm, width_right_mm=2 * heat.width_right_mm)
    yield _other("a piece twice as wide", replace(joint, heat=wide), plan)


def _other(title: str, joint: Joint, plan: Plan) -> Other:
    return Other(title, schedule_of(joint, plan), len(plan.passes))


def _planned(title: str, joint: Joint, answer: str, rods: Mapping[str, Rod]) -> Other:
    plan = plan_joint(joint, rods, answer)
    return _other(title, joint, plan) if plan.feasible else Other(title, Schedule(limits=limits_of(joint)), 0)


def with_limit(joint: Joint, quantity: str, low: float | None = None, high: float | None = None) -> Joint:
    """The joint with another limit in the place of its own."""
    kept = tuple(w for w in joint.windows if w.quantity != quantity)
    return replace(joint, windows=(*kept, Window(quantity=quantity, low=low, high=high)))


def faster(joint: Joint, plan: Plan) -> Joint:
    """The joint with every rod of fill and cap run further than the plan does on average: at the same current that much faster."""
    run_outs: dict[tuple[str, str], list[float]] = {}
    for p in plan.passes:
        if p.role in SIZED_ROLES:
            run_outs.setdefault((p.role, p.rod.id), []).append(p.run_out_mm)
    windows = tuple(Window(quantity="run_out", role=role, rod=rod, low=FASTER * fmean(found)) for (role, rod), found in run_outs.items())
    used = {rod for _, rod in run_outs}
    kept = tuple(use for use in joint.rods if use.role not in SIZED_ROLES or use.rod in used)
    return replace(joint, windows=(*joint.windows, *windows), rods=kept)


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
    kept = tuple(use for use in joint.rods if use.role not in SIZED_ROLES)
    return replace(joint, rods=(*kept, *(RodUse(role=role, rod=rod.id) for role in SIZED_ROLES)))
