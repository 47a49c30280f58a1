"""The answers for a joint: each side planned, then joined in the order of welding."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache

from banister.core.joint.faults import geometry_faults, joint_faults, working_faults
from banister.core.joint.joint import Joint
from banister.core.joint.working import BALANCED, BETWEEN
from banister.core.plan.explain import blocked, fillet_remarks, unfused_remarks
from banister.core.plan.front import FrontPoint, front_of, in_between
from banister.core.plan.inputs import PlanInputs, inputs_of
from banister.core.plan.layers import Wish
from banister.core.plan.one_side import SideStudy, side_plan, side_study
from banister.core.plan.plan import Plan
from banister.core.plan.remedies import freeing
from banister.core.plan.sequence import in_section, joined
from banister.core.plan.sides import Side, sides_of
from banister.core.remark import Remark
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace


class Study(Struct, frozen=True):
    """What all answers of a joint share: its sides, and where one cannot be planned the changes that would free it."""

    joint: PlanInputs
    sides: tuple[SideStudy, ...]
    mends: tuple[Remark, ...] | None = None


def study_of(joint: PlanInputs) -> Study | tuple[Remark, ...]:
    """The shared part, or the remarks that make the joint impossible to plan."""
    faults = (*geometry_faults(joint), *working_faults(joint.windows, joint.own_run_out, joint.pins))
    if faults:
        return faults
    studies = []
    for side in sides_of(joint):
        study = side_study(_with_its_pins(side, joint))
        if isinstance(study, tuple):
            return study
        studies.append(study)
    reasons = [blocked(one.joint, one.program) for one in studies if one.balanced is None]
    return Study(joint, tuple(studies), freeing(joint, reasons) if reasons else None)


def _with_its_pins(side: Side, joint: PlanInputs) -> Side:
    """The side with only its own pins, in its own coordinates."""
    pins = []
    for pin in joint.pins:
        if pin.side == side.name:
            x, y = side.from_section((pin.x_mm, pin.y_mm))
            pins.append(replace(pin, x_mm=x, y_mm=y))
    return replace(side, joint=replace(side.joint, pins=tuple(pins)))


def plan_answer(study: Study | tuple[Remark, ...], answer: str) -> Plan:
    """One of the answers, placed bead by bead, in the section's coordinates."""
    if isinstance(study, tuple):
        return Plan(answer, reasons=study)
    if answer == BETWEEN:
        return between(study, front_of(study.sides))
    return _placed(study, answer, None)


def between(study: Study, front: Sequence[FrontPoint]) -> Plan:
    """The plan in the middle of a front; the easiest to hold where there is none."""
    return _placed(study, BETWEEN, in_between(front).wish if front else Wish(BALANCED))


def _placed(study: Study, answer: str, wish: Wish | None) -> Plan:
    plans = [in_section(side_plan(one, answer, wish=wish), one.side) for one in study.sides]
    plan = joined(study.joint, [one.side for one in study.sides], plans)
    if plan.reasons and study.mends is not None:
        plan = replace(plan, reasons=(replace(plan.reasons[0], mends=study.mends), *plan.reasons[1:]))
    return replace(plan, remarks=(*fillet_remarks(study.joint), *unfused_remarks(study.joint), *plan.remarks))


def plan_joint(joint: Joint, rods: Mapping[str, Rod], answer: str = BALANCED) -> Plan:
    """Plan a joint for one answer; a description that cannot be right blocks it."""
    if faults := joint_faults(joint):
        return Plan(answer, reasons=faults)
    return answered(inputs_of(joint, rods.values()), answer)


@lru_cache(maxsize=64)
def answered(joint: PlanInputs, answer: str) -> Plan:
    """One answer for a joint by itself; remembered, so that what is undone, or alike, is there at once."""
    return plan_answer(study_of(joint), answer)
