"""The welds of a job that were looked at, each judged by its contract's set: what counts over a job are made of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from banister.core.fitup.places import course_of
from banister.core.inspect.counted import InspectedWeld
from banister.core.inspect.observed import Inspected, inspected
from banister.core.inspect.of_joint import judged_joint
from banister.core.inspect.sets import AcceptanceSet
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Record


def inspected_welds(job: Job, records: Sequence[Record], sets: Mapping[str, AcceptanceSet]) -> tuple[InspectedWeld, ...]:
    """The welds of a job that were looked at (records after corrections), each judged by its contract's set; a cap's plan is the issued one's."""
    return tuple(_inspected(job, joint, found, sets) for joint in job.joints if (found := inspected(records, joint.id)).is_begun)


def _inspected(job: Job, joint: Joint, found: Inspected, sets: Mapping[str, AcceptanceSet]) -> InspectedWeld:
    sheet, by = job.issued_for(joint), sets.get(joint.working.choices.acceptance)
    plan = None if sheet is None else sheet.plan
    result = "" if by is None else judged_joint(joint, plan, found, by).result
    return InspectedWeld(course_of(joint).length_mm, found, result, plan.cap.max if plan is not None and plan.cap is not None else None)
