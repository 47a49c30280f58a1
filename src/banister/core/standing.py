"""The sheet of a joint as it stands: as it was issued while that holds, else planned, timed and judged now."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from banister.core.heat.line import HeatLine, heat_line
from banister.core.heat.schedule import schedule_of
from banister.core.heat.shift import DAY_S
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.limits.qualification import QualificationRows
from banister.core.plan.answers import plan_joint
from banister.core.plan.identity import keyed
from banister.core.plan.plan import Plan
from banister.core.sheet import Sheet


def standing_plan(job: Job, joint: Joint, answer: str | None = None) -> Plan:
    """An answer of a joint, the chosen one unless another is wanted: as it was issued while it would still be planned so, else planned now."""
    wanted = answer or joint.working.chosen
    standing, before = job.plan_issued_for(joint, wanted), job.issued_for(joint)
    if standing is not None:
        return standing
    plan = plan_joint(joint, job.rods_by_id, wanted)
    return keyed(plan, before.plan, before.last_key) if before is not None else plan


def standing_sheet(job: Job, joint: Joint, rows: QualificationRows, today: date | None, answer: str | None = None, whole: bool = False) -> Sheet:
    """What is known of a joint: as it was issued, or plan, heat and judgement as they are now; `whole` with the line for the rail."""
    standing = job.standing_for(joint)
    if standing is not None and standing.heat is not None and answer in (None, standing.plan.answer):
        return standing
    plan = standing_plan(job, joint, answer)
    return job.sheet_of(joint, plan, heat_of(job, joint, plan, whole), rows, today)


def heat_of(job: Job, joint: Joint, plan: Plan, whole: bool = False) -> HeatLine:
    """The schedule of a plan, with its line and bands where the whole is asked for."""
    within = min(job.shift.lasts_s, DAY_S)
    return heat_line(joint, plan, within) if whole else HeatLine(schedule_of(joint, plan, within_s=within))


def names_on_paper(job: Job, joints: Iterable[Joint]) -> list[str]:
    """The user's own words that are printed: fonts may lack their characters."""
    found = [job.name, job.site, job.prepared_by, job.checked_by]
    for joint in joints:
        found += [joint.id, joint.name, joint.drawing, joint.procedure, joint.procedure_revision, joint.metal.group, *(u.rod for u in joint.working.rods)]
    return found
