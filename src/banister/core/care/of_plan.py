"""What a plan asks of the oven: rods to take along, and every rod that has a clock as the schedule burns it."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.care.classes import class_of
from banister.core.care.take import Need, need_of
from banister.core.care.trips import Trip, Use, evened
from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, Refused, outside

MOST_RODS = 2000
"""Nobody walks to the oven by plan for more: such a joint is no joint of one shift."""


def needs_of(joint: Joint, plan: Plan) -> dict[str, Need]:
    """What each rod of a plan needs; a fixed pipe's passes are two runs."""
    runs = joint.runs
    units: dict[str, list[float]] = {}
    for p in plan.passes:
        units.setdefault(p.rod.id, []).extend([p.length_mm / runs / p.run_out_mm] * runs)
    return {rod: need_of(own) for rod, own in units.items()}


def uses_of(plan: Plan, schedule: Schedule) -> Iterator[Use]:
    """Every rod that has a clock, as the schedule burns it: evenly over its pass."""
    started = {s.key: s for s in schedule.passes}
    for p in plan.passes:
        care = class_of(p.rod)
        if care.clocked:
            begin, end = started[p.key].start_s, started[p.key].end_s
            each = (end - begin) / p.rod_count
            for i in range(p.rod_count):
                yield Use(start_s=begin + i * each, end_s=begin + (i + 1) * each, open_s=3600.0 * care.open_h, key=str(p.number))


def moments_of(schedule: Schedule) -> list[tuple[float, float]]:
    """When somebody may walk to the oven: before the first arc and between passes."""
    found, last = [], 0.0
    for s in schedule.passes:
        found.append((last, s.start_s))
        last = s.end_s
    return found


def trips_of(plan: Plan, schedule: Schedule, quiver: int | None = None) -> tuple[tuple[Trip, ...], float, tuple[Use, ...]]:
    """The fewest trips, evened, the longest time out (s), and the rods they are for; Refused where no trip can serve one, or rods are too many."""
    rods = sum(p.rod_count for p in plan.passes)
    if rods > MOST_RODS:
        raise Refused(outside("trips.many", n=Figure(rods, "count"), most=Figure(MOST_RODS, "count")))
    uses = tuple(uses_of(plan, schedule))
    found, longest = evened(uses, moments_of(schedule), quiver) if uses else ((), 0.0)
    return found, longest, uses
