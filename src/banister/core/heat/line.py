"""The temperature line of a schedule: at the measuring point over time, with the band of what cannot be known."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.history import curves_c, laid_out
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.spread import Spread, drawn, spread_of, temperature_band_c
from banister.core.heat.thermal import fin_of
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
    spread: Spread | None

    @property
    def ends_s(self) -> tuple[float, float]:
        """Nine of ten draws end between these; 0 and 0 without a schedule."""
        return (0.0, 0.0) if self.spread is None else self.spread.ends_s

    def at(self, seconds: float) -> tuple[float, float, float]:
        """The likely temperature at a time, and the band about it: likely, low, high."""
        likely, low, high = (float(np.interp(seconds, self.times, line)) for line in (self.likely, self.low, self.high))
        return likely, low, high


def heat_line(joint: Joint, plan: Plan) -> HeatLine:
    """Everything the rail draws of heat; without a schedule the lines are empty."""
    fin = fin_of(joint)
    schedule = schedule_of(joint, plan, fin)
    if not schedule.feasible:
        nothing = np.empty(0)
        return HeatLine(schedule, nothing, nothing, nothing, nothing, None)
    marks = [t for p in schedule.passes for t in (p.start_s, (p.start_s + p.end_s) / 2 + 1.0, p.end_s)]
    times = np.unique(np.concatenate((np.linspace(0.0, schedule.end_s, POINTS), marks)))
    likely = curves_c(laid_out(joint, plan, schedule, fin), times, joint.heat.measure_at_mm)[0].max(axis=0)
    variants = drawn()
    spread = spread_of(joint, plan, schedule, variants, fin)
    low, high = temperature_band_c(joint, plan, schedule, times, variants, spread, fin)
    return HeatLine(schedule, times, likely, np.minimum(low, likely), np.maximum(high, likely), spread)
