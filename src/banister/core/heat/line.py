"""The temperature line of a schedule: at the measuring point over time, with the band of what cannot be known."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.readings import curve_c
from banister.core.heat.schedule import BAND, Schedule, band_of, schedule_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

POINTS = 140


@dataclass(frozen=True, slots=True, eq=False)
class HeatLine:
    """A schedule, times in s, and the hottest station's temperature at the measuring point: likely, low, high."""

    schedule: Schedule
    times: Floats
    likely: Floats
    low: Floats
    high: Floats
    ends_s: tuple[float, float]

    def at(self, seconds: float) -> float:
        """The likely temperature at a time."""
        return float(np.interp(seconds, self.times, self.likely))


def heat_line(joint: Joint, plan: Plan) -> HeatLine:
    """Everything the rail draws of heat; without a schedule the lines are empty."""
    schedule = schedule_of(joint, plan)
    if not schedule.feasible:
        nothing = np.empty(0)
        return HeatLine(schedule, nothing, nothing, nothing, nothing, (0.0, 0.0))
    marks = [t for p in schedule.passes for t in (p.start_s, (p.start_s + p.end_s) / 2 + 1.0, p.end_s)]
    times = np.unique(np.concatenate((np.linspace(0.0, schedule.end_s, POINTS), marks)))
    narrow = 0.35 if joint.readings else 1.0

    def line(loss_share: float) -> Floats:
        factor = joint.heat.loss_factor * (1 + loss_share)
        tried = replace(joint, heat=replace(joint.heat, loss_factor=factor))
        return np.asarray(curve_c(tried, plan, schedule, times, joint.heat.measure_at_mm).max(axis=0))

    ends = [schedule.end_s, *(s.end_s for s in band_of(joint, plan))]
    share = BAND["loss"] * narrow
    return HeatLine(schedule, times, line(0.0), line(share), line(-share), (min(ends), max(ends)))
