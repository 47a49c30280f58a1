"""Temperatures of a schedule at any time and place: over time, across the weld, at one point."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.cooling import LIKELY, Cooling, Variants
from banister.core.heat.fin import Fin
from banister.core.heat.schedule import Schedule, works_of
from banister.core.heat.thermal import edge_mm, fin_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats


def laid_out(joint: Joint, plan: Plan, schedule: Schedule, fin: Fin | None = None, variants: Variants = LIKELY) -> Cooling:
    """The joint's cooling with the heat of every pass of a schedule waiting at its time, the same for all variants."""
    cooling = Cooling(joint, fin or fin_of(joint, plan), variants)
    works = {w.key: w for w in works_of(joint, plan)}
    for begun in schedule.passes:
        if begun.reheat_s:
            cooling.reheat_at(begun.start_s)
        cooling.lay_out(works[begun.key], begun.start_s)
    return cooling


def curves_c(cooling: Cooling, times_s: Floats, x_mm: float) -> Floats:
    """Temperature over rising times, x mm beyond the groove's edge; shape (variants, stations, times)."""
    reading = cooling.fin.reading((edge_mm(cooling.joint) + x_mm) / 1000)
    found = []
    for at in times_s:
        cooling.carry_to(float(at))
        found.append(cooling.temps(reading))
    return np.stack(found, axis=2)


def curve_c(joint: Joint, plan: Plan, schedule: Schedule, times_s: Floats, x_mm: float) -> Floats:
    """The likely temperature of every station over time, x mm beyond the groove's edge; shape (stations, times)."""
    return np.asarray(curves_c(laid_out(joint, plan, schedule), times_s, x_mm)[0])


def profile_c(joint: Joint, plan: Plan, schedule: Schedule, at_s: float) -> tuple[Floats, Floats]:
    """The likely temperature across the weld at a time: places in mm from its middle, and (stations, places)."""
    cooling = laid_out(joint, plan, schedule)
    cooling.carry_to(at_s)
    return 1000 * cooling.fin.x, np.array([joint.heat.air_c + cooling.fin.profile(one) for one in cooling.state[0]])


def at_readings_c(joint: Joint, plan: Plan, schedule: Schedule, fin: Fin | None = None, variants: Variants = LIKELY) -> Floats:
    """What the hottest station is predicted to read where and when the joint was measured; shape (variants, readings)."""
    cooling = laid_out(joint, plan, schedule, fin, variants)
    found = np.empty((variants.loss.size, len(joint.readings)))
    for i in sorted(range(len(joint.readings)), key=lambda i: joint.readings[i].at_s):
        r = joint.readings[i]
        cooling.carry_to(r.at_s)
        found[:, i] = cooling.temps(cooling.fin.reading((edge_mm(joint) + r.x_mm) / 1000)).max(axis=1)
    return found
