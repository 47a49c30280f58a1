"""A schedule as a film: a clock of its own on which arcs take the time they need and waits pass quickly, and the temperature across the weld along it."""

from __future__ import annotations

from bisect import bisect_right

import numpy as np

from banister.core.heat.fin import distinct
from banister.core.heat.history import laid_out
from banister.core.heat.schedule import Schedule, Started
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.value import Struct

WAITS_FASTER = 8.0
"""How much faster than arcs everything between them passes."""
PASS_S, SHORTEST_S, LONGEST_S = 3.0, 20.0, 120.0
"""What a pass takes of the film, and how long that may be at least and at most, s."""
STILLS = 240
AFTER_S = (-0.01, 0.01, 1.0, 2.0, 3.5, 6.0, 10.0, 16.0, 25.0, 40.0, 65.0, 100.0)
"""Stills beside the even ones: before heat comes, and while it spreads fastest."""
ACROSS_MM, STILL_AFTER_S = 220.0, 0.5


class Film(Struct, frozen=True):
    """The film's own clock against the schedule's (both rising, s), and stills at `still_s` of the schedule: temperatures across the weld.

    `across_c` is (stills, places) at `x_mm` from the weld's middle, of the hottest station at each place; `read_c` what the hottest station reads at
    the measuring point. All are the likely case, predicted.
    """

    own_s: tuple[float, ...]
    at_s: tuple[float, ...]
    still_s: tuple[float, ...]
    x_mm: tuple[float, ...]
    across_c: tuple[tuple[float, ...], ...]
    read_c: tuple[float, ...]

    @property
    def length_s(self) -> float:
        """How long it runs."""
        return self.own_s[-1]

    def clock(self, own_s: float) -> float:
        """The time of the schedule at one of the film."""
        return float(np.interp(own_s, self.own_s, self.at_s))

    def own(self, at_s: float) -> float:
        """The time of the film at one of the schedule."""
        return float(np.interp(at_s, self.at_s, self.own_s))

    def temps(self, at_s: float) -> tuple[tuple[float, ...], float]:
        """Temperatures across the weld and at the measuring point at a time of the schedule, between the stills before and after it."""
        i = min(max(bisect_right(self.still_s, at_s) - 1, 0), len(self.still_s) - 2)
        share = min(max((at_s - self.still_s[i]) / (self.still_s[i + 1] - self.still_s[i]), 0.0), 1.0)
        pairs = zip((*self.across_c[i], self.read_c[i]), (*self.across_c[i + 1], self.read_c[i + 1]), strict=True)
        *across, read = (a + share * (b - a) for a, b in pairs)
        return tuple(across), read


class Moment(Struct, frozen=True):
    """Where the welding is at a time: passes laid, the one that burns, the next one and how long until it begins (s)."""

    laid: tuple[str, ...]
    burning: Started | None
    next: Started | None
    until_s: float


def film_of(joint: Joint, plan: Plan, schedule: Schedule) -> Film:
    """The film of a schedule that can be welded."""
    at, paces = [0.0], list[float]()
    for p in schedule.passes:
        for end, pace in ((p.start_s, WAITS_FASTER), (p.end_s, 1.0)):
            if end > at[-1]:
                at.append(end)
                paces.append(pace)
    if schedule.end_s > at[-1]:
        at.append(schedule.end_s)
        paces.append(WAITS_FASTER)
    own = np.concatenate(([0.0], np.cumsum(np.diff(at) / np.array(paces))))
    own *= min(max(PASS_S * len(schedule.passes), SHORTEST_S), LONGEST_S) / own[-1]
    cooling = laid_out(joint, plan, schedule, fin_of(joint, plan))
    x = 1000 * cooling.fin.x
    inside = np.abs(x) <= ACROSS_MM
    across, read = list[tuple[float, ...]](), list[float]()
    even = np.interp(np.linspace(0.0, own[-1], STILLS), own, at)
    heated = [heat.at_s + after for heat in cooling.pending for after in AFTER_S]
    stills = distinct(np.clip(np.concatenate((even, heated, at)), 0.0, at[-1]))
    for at_s in stills:
        cooling.carry_to(float(at_s))
        profiles = np.array([cooling.fin.profile(state) for state in cooling.state[0]])
        across.append(tuple((joint.heat.air_c + profiles.max(axis=0)[inside]).tolist()))
        read.append(float(cooling.temps(cooling.reading)[0].max()))
    return Film(tuple(own.tolist()), tuple(at), tuple(stills.tolist()), tuple(x[inside].tolist()), tuple(across), tuple(read))


class Warmth(Struct, frozen=True):
    """Temperatures across the weld just after a pass, as those of a film: of the hottest station, at places in mm from the middle, and where it is read."""

    key: str
    x_mm: tuple[float, ...]
    across_c: tuple[float, ...]
    read_c: float


def warmth_of(joint: Joint, plan: Plan, schedule: Schedule, key: str) -> Warmth:
    """The still as a pass of a schedule is done; KeyError where the schedule has no such pass."""
    ends = {p.key: p.end_s for p in schedule.passes}
    cooling = laid_out(joint, plan, schedule, fin_of(joint, plan))
    x = 1000 * cooling.fin.x
    inside = np.abs(x) <= ACROSS_MM
    cooling.carry_to(ends[key] + STILL_AFTER_S)
    profiles = np.array([cooling.fin.profile(state) for state in cooling.state[0]])
    across = joint.heat.air_c + profiles.max(axis=0)[inside]
    return Warmth(key, tuple(x[inside].tolist()), tuple(across.tolist()), float(cooling.temps(cooling.reading)[0].max()))


def moment_of(schedule: Schedule, at_s: float) -> Moment:
    """Where the welding is at a time of its schedule."""
    laid = tuple(p.key for p in schedule.passes if p.end_s <= at_s)
    burning = next((p for p in schedule.passes if p.start_s <= at_s < p.end_s), None)
    to_come = next((p for p in schedule.passes if p.start_s > at_s), None)
    return Moment(laid, burning, to_come, 0.0 if to_come is None else to_come.start_s - at_s)
