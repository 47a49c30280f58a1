"""The finished cap against the acceptance set that was chosen."""

from __future__ import annotations

import math
from collections.abc import Iterator

from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.judge.limit import Limit, Measure
from banister.core.limits.acceptance import ACCEPTANCE, NONE_CHOSEN, TOE_ANGLE_DEG
from banister.core.limits.windows import Bounds
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import CapShape
from banister.core.plan.rules import cap_limit
from banister.core.remark import OUTSIDE, SURE, UNVERIFIED, Figure, Remark, watch


def judged_cap(joint: Joint, cap: CapShape) -> Iterator[Remark]:
    """Height and toe angle; nothing where no set is chosen."""
    chosen = joint.working.choices.acceptance
    if chosen == NONE_CHOSEN:
        return
    source = Figure(f"acceptance.{chosen}", "word")
    limit = Bounds(0.0, cap_limit(inputs_of(joint), groove_of(joint.prep)))
    lowest = limit.verdict(cap.edge_min) == OUTSIDE
    certainty = SURE if ACCEPTANCE[chosen].is_sure else UNVERIFIED
    yield Limit("cap.height.set", limit, "acceptance", certainty=certainty).held(Measure(cap.edge_min if lowest else cap.max, "length"), set=source)
    least = TOE_ANGLE_DEG.get(chosen)
    if least is None:
        return
    toe = min(cap.toe_left_deg, cap.toe_right_deg)
    remark = Limit("cap.toe", Bounds(least, math.inf), "acceptance", certainty=UNVERIFIED).held(Measure(round(toe), "angle"), set=source)
    yield remark
    if toe < least:
        yield watch("cap.toe.steep", remark.place, "acceptance", **remark.figures)
