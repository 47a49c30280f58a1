"""Measured temperatures correct the loss to the air: the factor that fits them best by least squares."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.fin import Fin
from banister.core.heat.schedule import Cooling, Schedule, cooling_of, schedule_of, works_of
from banister.core.heat.thermal import edge_mm
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

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
    misses = [(float(np.square(_misses(joint, plan, schedule, f)).mean()), float(f)) for f in FACTORS]
    _, best = min(misses)
    around = np.geomspace(best / 1.12, best * 1.12, 15)
    square, best = min((float(np.square(_misses(joint, plan, schedule, float(f))).mean()), float(f)) for f in around)
    own = float(np.square(_misses(joint, plan, schedule, joint.heat.loss_factor)).mean())
    return Fitted(best, square**0.5, own**0.5)


def _misses(joint: Joint, plan: Plan, schedule: Schedule, factor: float) -> Floats:
    tried = replace(joint, heat=replace(joint.heat, loss_factor=factor))
    return np.array([predicted_c(tried, plan, schedule, r.at_s, r.x_mm) - r.temp_c for r in joint.readings])


def predicted_c(joint: Joint, plan: Plan, schedule: Schedule, at_s: float, x_mm: float, fin: Fin | None = None) -> float:
    """The hottest station's temperature x mm beyond the groove's edge at a time of a schedule."""
    cooling = _laid_out(joint, plan, schedule, fin)
    cooling.carry_to(max(at_s, cooling.now_s))
    reading = cooling.fin.reading((edge_mm(joint) + x_mm) / 1000)
    return float(cooling.temps(reading).max())


def _laid_out(joint: Joint, plan: Plan, schedule: Schedule, fin: Fin | None = None) -> Cooling:
    """The joint's cooling with the heat of every pass of a schedule waiting at its time."""
    cooling = cooling_of(joint, fin)
    works = {w.pass_id: w for w in works_of(joint, plan)}
    for begun in schedule.passes:
        if begun.reheat_s:
            cooling.pending.append((begun.start_s, None))
        cooling.lay_out(works[begun.pass_id], begun.start_s)
    return cooling


def profile_c(joint: Joint, plan: Plan, schedule: Schedule, at_s: float) -> tuple[Floats, Floats]:
    """Temperature across the weld at a time: places in mm from its middle, and (stations, places)."""
    cooling = _laid_out(joint, plan, schedule)
    cooling.carry_to(at_s)
    temps = np.array([joint.heat.air_c + cooling.fin.profile(cooling.state[:, i]) for i in range(len(cooling.stations))])
    return 1000 * cooling.fin.x, temps


def curve_c(joint: Joint, plan: Plan, schedule: Schedule, times_s: Floats, x_mm: float) -> Floats:
    """Temperature of every station over time, x mm beyond the groove's edge; shape (stations, times)."""
    cooling = _laid_out(joint, plan, schedule)
    reading = cooling.fin.reading((edge_mm(joint) + x_mm) / 1000)
    found = np.empty((len(cooling.stations), times_s.size))
    for i, at in enumerate(times_s):
        cooling.carry_to(float(at))
        found[:, i] = cooling.temps(reading)
    return found
