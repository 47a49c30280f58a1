"""The schedule of one joint: temperatures before every pass, waits, reheats and the end.

A pass may start when every watched station reads at most the interpass limit at the measuring point,
and none reads less than preheat further out; a joint that fell below is reheated.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from banister.core.finding import OUTSIDE, WARNING, Finding
from banister.core.heat.cooling_time import CoolingTime, cooling_time, shape_factors
from banister.core.heat.fin import Fin
from banister.core.heat.thermal import (
    PREHEAT_POINT_MM, Limits, Station, edge_mm, fin_of, heat_faults, limits_of, stations_of, valid_from_s,
)  # fmt: skip
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.procedure.windows import Bounds, bounds

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

BAND = {"loss": 0.30, "energy": 0.10}
"""What the user cannot know: loss to the air within 30 %, heat of a pass within 10 %."""


@dataclass(frozen=True, slots=True)
class Work:
    """A pass as heat sees it: seconds under way, seconds of cleaning after it, J per metre, seconds before it."""

    pass_id: str
    duration_s: float
    cleaning_s: float
    heat_j_m: float
    before_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Started:
    """A pass in time: when it starts, how long the joint was waited for, and how hot it was."""

    pass_id: str
    start_s: float
    end_s: float
    wait_s: float
    reheat_s: float
    temp_c: float
    preheat_point_c: float
    hottest_station: str
    t85: CoolingTime | None


@dataclass(frozen=True, slots=True)
class Schedule:
    """All passes in time; `end_s` with the last cleaning. `findings` say what cannot be or what dominates."""

    passes: tuple[Started, ...] = ()
    end_s: float = 0.0
    limits: Limits = Limits(-273.0, 250.0, False)
    findings: tuple[Finding, ...] = ()

    @property
    def waiting_s(self) -> float:
        """All waits for cooling."""
        return sum(p.wait_s for p in self.passes)

    @property
    def reheating_s(self) -> float:
        """All reheats."""
        return sum(p.reheat_s for p in self.passes)

    @property
    def feasible(self) -> bool:
        """True if every pass can start."""
        return bool(self.passes) and not any(f.severity == OUTSIDE for f in self.findings)


def works_of(joint: Joint, plan: Plan) -> tuple[Work, ...]:
    """The plan's passes as heat sees them, turns and gouging before the passes they precede."""
    c = joint.choices
    before: dict[str, float] = {}
    spent = {"turn": c.turn_s, "gouge": c.gouge_per_m_s * joint.weld_length_mm(0.0) / 1000}
    waiting = 0.0
    for step in plan.sequence:
        waiting += spent.get(step.action, 0.0)
        if step.passes:
            before[step.passes[0]], waiting = waiting, 0.0
    return tuple(
        Work(p.id, p.arc_time_s + c.rod_change_s * p.rod_count, c.clean_bead_s + c.clean_per_m_s * p.length_mm / 1000,
             p.heat_input_kj_mm * 1e6, before.get(p.id, 0.0)) for p in plan.passes
    )  # fmt: skip


@dataclass
class Cooling:
    """A joint as it cools: the model, and one history of amplitudes per station."""

    joint: Joint
    fin: Fin
    stations: tuple[Station, ...]
    limits: Limits
    reading: Floats
    far_reading: Floats
    state: Floats = field(init=False)
    now_s: float = 0.0
    pending: list[tuple[float, Floats | None]] = field(default_factory=list)

    def __post_init__(self) -> None:
        air, limits = self.joint.heat.air_c, self.limits
        start = max(limits.preheat_c - air, 0.0)
        band = self.fin.band(start, self.joint.heat.preheat_band_mm / 1000) if start else np.zeros(self.fin.rates.size)
        self.state = np.tile(band[:, None], (1, len(self.stations)))

    def carry_to(self, at_s: float) -> None:
        """Carry every station's history on, heat and reheats (None) that come on the way included."""
        for event_s, heat in [e for e in self.pending if e[0] <= at_s + 1e-9]:
            self._decay(event_s)
            if heat is None:
                self._warm()
            else:
                self.state = self.state + self.fin.source[:, None] * heat[None, :]
        self.pending = [e for e in self.pending if e[0] > at_s + 1e-9]
        self._decay(at_s)

    def _decay(self, at_s: float) -> None:
        if at_s > self.now_s:
            self.state = self.state * np.exp(-self.fin.rates * (at_s - self.now_s))[:, None]
            self.now_s = at_s

    def weld(self, work: Work, start_s: float) -> None:
        """Weld a pass from a time on, and carry the histories to its end."""
        self.lay_out(work, start_s)
        self.carry_to(start_s + work.duration_s)

    def lay_out(self, work: Work, start_s: float) -> None:
        """Lay the pass's heat out in time at every station."""
        shares = sorted({share for station in self.stations for share, _ in station.events})
        for share in shares:
            heat = np.array([sum(q for at, q in station.events if at == share) for station in self.stations]) * work.heat_j_m
            self.pending.append((start_s + share * work.duration_s, heat))
        self.pending.sort(key=lambda event: event[0])

    def temps(self, reading: Floats) -> Floats:
        """Temperature of every station by a reading."""
        return np.asarray(self.joint.heat.air_c + reading @ self.state)

    def ready_s(self) -> float:
        """Seconds from now until every station is at most at the interpass limit, inf if never."""
        rise = self.limits.interpass_c - self.joint.heat.air_c
        return max(self.fin.last_fall_s(self.reading, self.state[:, i], rise) for i in range(len(self.stations)))

    def too_cold(self) -> bool:
        """True if any station is below preheat where preheat is read."""
        return bool((self.temps(self.far_reading) < self.limits.preheat_c - 0.5).any())

    def reheat(self) -> None:
        """Bring the band back to preheat in the time that takes."""
        self.carry_to(self.now_s + self.joint.heat.reheat_s)
        self._warm()

    def _warm(self) -> None:
        """Raise what is colder than preheat inside the band."""
        wanted = self.limits.preheat_c - self.joint.heat.air_c
        inside = np.abs(self.fin.x) <= self.joint.heat.preheat_band_mm / 1000
        profiles = [self.fin.profile(self.state[:, i]) for i in range(len(self.stations))]
        warmed = [self.fin.amplitudes(np.where(inside, np.maximum(p, wanted), p)) for p in profiles]
        self.state = np.stack(warmed, axis=1)


def cooling_of(joint: Joint, fin: Fin | None = None) -> Cooling:
    """A joint before its first pass, preheated as its limits ask."""
    fin = fin_of(joint) if fin is None else fin
    edge = edge_mm(joint)
    far = min(4 * joint.welded_thickness_mm, PREHEAT_POINT_MM)
    return Cooling(joint, fin, stations_of(joint), limits_of(joint), fin.reading((edge + joint.heat.measure_at_mm) / 1000), fin.reading((edge + far) / 1000))


def schedule_of(joint: Joint, plan: Plan, fin: Fin | None = None, heat_factor: float = 1.0) -> Schedule:
    """The plan's passes in time, one after the other."""
    faults = heat_faults(joint)
    limits = limits_of(joint)
    if faults or not plan.passes:
        return Schedule(limits=limits, findings=faults)
    cooling = cooling_of(joint, fin)
    found: list[Started] = []
    at = 0.0
    passes = {p.id: p for p in plan.passes}
    for work in works_of(joint, plan):
        work = replace(work, heat_j_m=work.heat_j_m * heat_factor)
        cooling.carry_to(at + work.before_s)
        started = start(cooling, passes[work.pass_id])
        if started is None:
            return Schedule(tuple(found), at, limits, (_never(joint, passes[work.pass_id]),))
        found.append(started)
        cooling.weld(work, started.start_s)
        found[-1] = replace(started, end_s=cooling.now_s)
        at = cooling.now_s + work.cleaning_s
    return Schedule(tuple(found), at, limits, _remarks(joint, plan, found, at))


def start(cooling: Cooling, p: Pass) -> Started | None:
    """Wait for a pass, reheat if it fell too cold, and read the joint; None if it never gets there."""
    joint = cooling.joint
    wait = cooling.ready_s()
    if not math.isfinite(wait):
        return None
    cooling.carry_to(cooling.now_s + wait)
    reheat = 0.0
    if cooling.too_cold():
        cooling.reheat()
        reheat = joint.heat.reheat_s
    temps = cooling.temps(cooling.reading)
    hottest = int(temps.argmax())
    f2, f3 = shape_factors(joint)
    t85 = cooling_time(p.heat_input_kj_mm, joint.welded_thickness_mm, float(temps.max()), f2, f3)
    return Started(p.id, cooling.now_s, cooling.now_s, wait, reheat, float(temps.max()), float(cooling.temps(cooling.far_reading).min()),
                   cooling.stations[hottest].name, t85)  # fmt: skip


def _never(joint: Joint, p: Pass) -> Finding:
    return Finding("heat.never", OUTSIDE, f"before pass {p.number} the joint does not cool to the interpass limit within a day",
                   "Use wider plates, allow a higher limit, or cool the air.", basis="cooling model")  # fmt: skip


def _remarks(joint: Joint, plan: Plan, found: Sequence[Started], end_s: float) -> tuple[Finding, ...]:
    """The small piece: waits longer than the welding, and what helps."""
    waits, work = sum(s.wait_s for s in found), sum(p.arc_time_s for p in plan.passes)
    remarks = list(_cooling_times(joint, plan, found))
    if waits > work:
        longest = max(found, key=lambda s: s.wait_s)
        number = next(p.number for p in plan.passes if p.id == longest.pass_id)
        remarks.append(Finding(
            "heat.small", WARNING, f"the piece cannot carry the heat: {waits / 60:.0f} min of waiting for {work / 60:.0f} min of arc, the longest "
            f"before pass {number}", "A bigger piece or another joint to weld meanwhile helps; smaller beads do not.",
            value=waits, unit="s", max=work, basis="cooling model"))  # fmt: skip
    if found and min((b.start_s - a.end_s for a, b in itertools.pairwise(found)), default=math.inf) < valid_from_s(joint):
        remarks.append(Finding(
            "heat.early", WARNING, f"some passes start sooner after the arc than the model holds ({valid_from_s(joint):.0f} s): their temperature is rough",
            "Measure at the joint.", basis="limits of the model"))  # fmt: skip
    if joint.heat.stainless:
        remarks.append(Finding("heat.stainless", WARNING, "constants of austenitic steel are typical and not verified", "Measure at the joint."))
    return tuple(remarks)


def _cooling_times(joint: Joint, plan: Plan, found: Sequence[Started]) -> Iterator[Finding]:
    """One warning for all passes whose t8/5 leaves the procedure's window."""
    passes = {p.id: p for p in plan.passes}
    off: list[tuple[int, float, Bounds]] = []
    for s in found:
        p = passes[s.pass_id]
        window = bounds(joint.windows, "t85", p.role, p.rod.id)
        if s.t85 is not None and window.is_set and not window.low <= s.t85.seconds <= window.high:
            off.append((p.number, s.t85.seconds, window))
    if off:
        numbers = ", ".join(f"{number} ({seconds:.1f} s)" for number, seconds, _ in off)
        window = off[0][2]
        allowed = " and ".join(w for w in (f"at least {window.low:g}" if math.isfinite(window.low) else "",
                                           f"at most {window.high:g}" if math.isfinite(window.high) else "") if w)  # fmt: skip
        slow = off[0][1] > window.high
        yield Finding("heat.t85", WARNING, f"t8/5 of pass {numbers} is outside the procedure's window, {allowed} s",
                      "Weld smaller beads or wait for a cooler joint." if slow else "Weld larger beads or preheat more.",
                      value=off[0][1], unit="s", min=window.low if math.isfinite(window.low) else None,
                      max=window.high if math.isfinite(window.high) else None, basis="the job's windows; EN 1011-2 annex D")  # fmt: skip


def band_of(joint: Joint, plan: Plan) -> tuple[Schedule, Schedule]:
    """The quickest and the slowest schedule that what cannot be known allows: loss and heat at their ends."""
    heat = joint.heat
    narrow = 0.35 if joint.readings else 1.0
    ends = []
    for sign in (1.0, -1.0):
        factor = heat.loss_factor * (1 + sign * BAND["loss"] * narrow)
        ends.append(schedule_of(replace(joint, heat=replace(heat, loss_factor=factor)), plan, heat_factor=1 - sign * BAND["energy"] * narrow))
    return ends[0], ends[1]
