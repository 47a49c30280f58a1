"""Heat a view asks for: temperatures as curves, and other ways of working beside the planned one."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from banister.core.heat.advice import Other, others
from banister.core.heat.history import curve_c, profile_c
from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod

POINTS, ACROSS_MM = 300, 200.0
Curves = tuple[tuple[float, ...], list[list[tuple[float, ...]]]]


def curves_of(joint: Joint, plan: Plan, schedule: Schedule, distances_mm: tuple[float, ...]) -> Curves:
    """Times, and for every distance every station's temperature over them."""
    times = np.linspace(0.0, schedule.end_s, POINTS)
    curves = [[tuple(row.tolist()) for row in curve_c(joint, plan, schedule, times, d)] for d in distances_mm]
    return tuple(times.tolist()), curves


def profile_of(joint: Joint, plan: Plan, schedule: Schedule, at_s: float) -> tuple[tuple[float, ...], list[tuple[float, ...]]]:
    """Places across the weld, and every station's temperature over them at a time."""
    x, profiles = profile_c(joint, plan, schedule, at_s)
    inside = np.abs(x) <= ACROSS_MM
    return tuple(x[inside].tolist()), [tuple(row[inside].tolist()) for row in profiles]


def all_others(joint: Joint, plan: Plan, rods: Mapping[str, Rod]) -> list[Other]:
    """Every other way of working, in one go."""
    return list(others(joint, plan, rods))
