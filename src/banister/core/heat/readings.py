"""Measured temperatures correct the loss to the air: the factor that fits them best by least squares."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from banister.core.heat.history import at_readings_c
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan

FACTORS = np.geomspace(0.3, 4.0, 25)


@dataclass(frozen=True, slots=True)
class Fitted:
    """The factor on the loss that fits, and what is left between measured and predicted, K (root mean square)."""

    factor: float
    rms_k: float
    before_k: float


def fitted(joint: Joint, plan: Plan) -> Fitted | None:
    """The loss factor that fits the joint's readings, None where there are none.

    The passes' times are those of the schedule as it stands: what was measured is compared with what
    was predicted for those times.
    """
    if not joint.readings or not plan.passes:
        return None
    schedule = schedule_of(joint, plan)
    _, best = min((_mean_square(joint, plan, schedule, float(f)), float(f)) for f in FACTORS)
    square, best = min((_mean_square(joint, plan, schedule, float(f)), float(f)) for f in np.geomspace(best / 1.12, best * 1.12, 15))
    return Fitted(best, square**0.5, _mean_square(joint, plan, schedule, joint.heat.loss_factor) ** 0.5)


def _mean_square(joint: Joint, plan: Plan, schedule: Schedule, factor: float) -> float:
    tried = replace(joint, heat=replace(joint.heat, loss_factor=factor))
    misses = at_readings_c(tried, plan, schedule)[0] - [r.temp_c for r in joint.readings]
    return float(np.square(misses).mean())
