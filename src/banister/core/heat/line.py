"""The temperature line of a schedule: at the measuring point over time, with the band of what cannot be known."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.fin import distinct
from banister.core.heat.history import curves_c, laid_out
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.shift import DAY_S
from banister.core.heat.spread import drawn, spread_of, temperature_band_c
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.value import Struct

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

POINTS = 140
Band = tuple[float, float]


class HeatLine(Struct, frozen=True):
    """A schedule, times in s, and the hottest station's temperature at the measuring point: likely, low, high.

    Nine of ten draws end between `ends_s`, and wait between `wait_bands_s` before each pass. The readings
    fit none of the draws where `contradicted`. Without a schedule that is possible the lines are empty.
    """

    schedule: Schedule
    times: tuple[float, ...] = ()
    likely: tuple[float, ...] = ()
    low: tuple[float, ...] = ()
    high: tuple[float, ...] = ()
    ends_s: Band = (0.0, 0.0)
    wait_bands_s: tuple[Band, ...] = ()
    contradicted: bool = False

    def at(self, seconds: float) -> tuple[float, float, float]:
        """The likely temperature at a time, and the band about it: likely, low, high."""
        likely, low, high = (float(np.interp(seconds, self.times, line)) for line in (self.likely, self.low, self.high))
        return likely, low, high

    @property
    def hottest_c(self) -> float:
        """The top of the band."""
        return max(self.high, default=0.0)


def heat_line(joint: Joint, plan: Plan, within_s: float = DAY_S) -> HeatLine:
    """Everything that is said and drawn of a plan's heat; a wait longer than `within_s` makes it impossible."""
    fin = fin_of(joint, plan)
    schedule = schedule_of(joint, plan, fin, within_s)
    if not schedule.feasible:
        return HeatLine(schedule)
    marks = [t for p in schedule.passes for t in (p.start_s, (p.start_s + p.end_s) / 2 + 1.0, p.end_s)]
    times = distinct(np.concatenate((np.linspace(0.0, schedule.end_s, POINTS), marks)))
    likely = curves_c(laid_out(joint, plan, schedule, fin), times, joint.heat.measure_at_mm)[0].max(axis=0)
    variants = drawn()
    spread = spread_of(joint, plan, schedule, variants, fin)
    low, high = temperature_band_c(joint, plan, schedule, times, variants, spread, fin)
    return HeatLine(
        schedule, _values(times), _values(likely), _values(np.minimum(low, likely)), _values(np.maximum(high, likely)),
        spread.ends_s, spread.wait_bands_s, spread.contradicted,
    )  # fmt: skip


def _values(line: Floats) -> tuple[float, ...]:
    return tuple(line.tolist())
