"""What of a joint and its plan an inspection is judged by."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.fitup.places import course_of
from banister.core.inspect.judged import Judgement, Rules, Weld, judged
from banister.core.inspect.observed import Inspected
from banister.core.inspect.sets import CIRCUMFERENTIAL, AcceptanceSet
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.plan.sides import FRONT

ROOT_SLACK_MM = 0.5
"""The root bead's width is taken so far over the back of the plates."""


def weld_of(joint: Joint, plan: Plan | None) -> Weld:
    """The weld of a joint, its widths those of the plan where one fits."""
    course, t = course_of(joint), thinner_mm(joint)
    groove = groove_of(joint.prep)
    passes = () if plan is None else tuple(p for p in plan.passes if p.side == FRONT)
    cap = [x for p in passes if p.role == "cap" for x, _ in p.outline_mm]
    root = [x for p in passes if p.role == "root" for x, y in p.outline_mm if y <= ROOT_SLACK_MM]
    return Weld(t=t, s=t, b=max(cap) - min(cap) if cap else groove.top_width_mm, br=max(root) - min(root) if root else joint.prep.root_gap_mm,
                length_mm=course.length_mm, closed=course.closed, has_root=not joint.prep.two_sided and joint.repair is None)  # fmt: skip


def thinner_mm(joint: Joint) -> float:
    """The thinner of the two parts; of a repair the plate's."""
    if joint.repair is not None:
        return joint.repair.plate_mm
    return min(joint.prep.thickness_mm, joint.prep.right_thickness_mm or joint.prep.thickness_mm)


def flags_of(joint: Joint, asked: Mapping[str, bool]) -> dict[str, bool]:
    """The flags of a set as the joint itself and the answers given to its questions have them."""
    return {CIRCUMFERENTIAL: joint.piece.form == "pipe"} | dict(asked)


def judged_joint(joint: Joint, plan: Plan | None, found: Inspected, by: AcceptanceSet, rules: Rules | None = None) -> Judgement:
    """A joint's inspection held against a set."""
    whole = Inspected(found.seen, found.looked, found.no_access, found.vouched, flags_of(joint, found.flags))
    return judged(whole, weld_of(joint, plan), by, rules)
