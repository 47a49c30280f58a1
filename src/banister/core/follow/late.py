"""What happened at a joint while nobody watched, told from paper afterwards: the records it comes to."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta

from banister.core.follow.facts import POSSIBLE_C
from banister.core.passing import Entry
from banister.core.plan.plan import PLANNER_VERSION, Pass
from banister.core.remark import Figure, Refused, fault

MOST_RODS = 200


def pass_entries(
    p: Pass, asked_mm2: float, rods: int, left: float = 0.0, temp_c: float | None = None, depth_mm: float | None = None,
) -> tuple[Entry, ...]:  # fmt: skip
    """A whole pass from paper: begun, its rods (their arc times not known), ended with the part left of the last, what was read.

    Raises Refused where a figure cannot be.
    """
    if not 1 <= rods <= MOST_RODS:
        raise Refused(fault("late.rods", "rods", n=Figure(rods, "count"), most=Figure(MOST_RODS, "count")))
    if not 0.0 <= left < 1.0:
        raise Refused(fault("late.left", "left"))
    entries = [] if temp_c is None else [Entry(kind="temp", of_pass=p.key, data={"c": possible_c(temp_c)})]
    begun = {"rod": p.rod.id, "amps": p.amps, "area": round(asked_mm2, 2), "planner": PLANNER_VERSION, "temp": temp_c}
    entries.append(Entry(kind="pass-begun", of_pass=p.key, data=begun))
    entries += [Entry(kind="rod", of_pass=p.key, data={"n": n + 1}) for n in range(rods)]
    entries.append(Entry(kind="pass-ended", of_pass=p.key, data={"left": round(left, 2), "rods": rods}))
    return tuple(entries) if depth_mm is None else (*entries, Entry(kind="measure", of_pass=p.key, data={"depth_mm": depth_mm}))


def possible_c(c: float) -> float:
    """A temperature that can be; Refused for one that cannot."""
    low, high = POSSIBLE_C
    if not low <= c <= high:
        raise Refused(fault("late.temp", "temp", low=Figure(low, "temperature"), high=Figure(high, "temperature")))
    return round(c, 1)


def timed(entries: Iterable[Entry], p: Pass, ended: datetime, rods: int) -> tuple[tuple[Entry, datetime], ...]:
    """When each of a pass's records happened: the temperature and the start as long before its end as so many rods burn, the rest at its end."""
    begun = ended - timedelta(seconds=rods * p.rod.burn_time_s(p.amps))
    return tuple((entry, begun if entry.kind in ("temp", "pass-begun") else ended) for entry in entries)
