"""Measured temperatures correct the loss to the air: the factor that fits them best by least squares."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.cooling import Variants
from banister.core.heat.history import at_readings_c
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.joint.joint import Joint, edited
from banister.core.plan.plan import Plan
from banister.core.value import Struct, replace

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

LEAST_FACTOR, MOST_FACTOR = 0.3, 4.0
SEARCHES = (np.geomspace(0.25, 4.0, 61), np.geomspace(0.7, 1.4, 41), np.geomspace(0.9, 1.1, 41), np.geomspace(0.98, 1.02, 41))
"""Factors tried about the best so far, ever closer; the model is built anew between, as its draws are exact only near it."""


class Fitted(Struct, frozen=True):
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
    factor = joint.heat.loss_factor
    before = _mean_squares(joint, plan, schedule, factor, np.ones(1))[0]
    for tried in SEARCHES:
        inside = tried[(factor * tried >= LEAST_FACTOR) & (factor * tried <= MOST_FACTOR)]
        factor *= float(inside[np.argmin(_mean_squares(joint, plan, schedule, factor, inside))])
    left = _mean_squares(joint, plan, schedule, factor, np.ones(1))[0]
    return Fitted(factor, float(left) ** 0.5, float(before) ** 0.5)


def _mean_squares(joint: Joint, plan: Plan, schedule: Schedule, factor: float, tried: Floats) -> Floats:
    """Mean square of measured less predicted for a loss factor times each of those tried."""
    near = edited(joint, heat=replace(joint.heat, loss_factor=factor))
    alike = np.ones(tried.size)
    misses = at_readings_c(near, plan, schedule, variants=Variants(tried, alike, alike)) - [r.temp_c for r in joint.readings]
    return np.asarray(np.square(misses).mean(axis=1))
