"""The schedule of one joint: temperatures before every pass, waits, reheats and the end.

A pass may start when every watched station reads at most the interpass limit at the measuring point,
and none reads less than preheat further out; a joint that fell below is reheated.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from banister.core.remark import OUTSIDE, WARNING, Finding
from banister.core.heat.cooling import TOO_COLD_K, Cooling, Work
from banister.core.heat.cooling_time import CoolingTime, cooling_time, shape_factors
from banister.core.heat.fin import Fin
from banister.core.heat.thermal import Limits, heat_faults, limits_of, valid_from_s, warmed_to_c
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import before_s, changes_s, cleaning_s
from banister.core.limits.windows import Bounds, bounds

if TYPE_CHECKING:
    from banister.core.heat.fin import Bools, Floats

STAINLESS_ENERGY = 2.0
"""kJ/mm of arc energy, typical upper limit for austenitic steel."""
HELD_ROUNDS, SHORT_WAIT_S = 60, 2.0
"""Where heat is kept on, a free fall is too short a wait: it is waited again until the joint has cooled to a fraction of a kelvin."""


@dataclass(frozen=True, slots=True, eq=False)
class Begun:
    """A pass at its start in every variant: arrays of shape (variants,), `state` as in `Cooling`."""

    wait_s: Floats
    reheat_s: Floats
    start_s: Floats
    never: Bools
    state: Floats


@dataclass(frozen=True, slots=True)
class Started:
    """A pass in time: when it starts, how long the joint was waited for, and how hot it was.

    `temp_c` is the hottest station at the interpass point, `preheat_point_c` the coldest where preheat is
    read, both at the start; `arrival_c` is the coldest there as the arc comes to it.
    """

    pass_id: str
    start_s: float
    end_s: float
    wait_s: float
    reheat_s: float
    temp_c: float
    preheat_point_c: float
    arrival_c: float
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
    choices, before = joint.choices, before_s(joint, plan)
    return tuple(
        Work(p.id, p.arc_time_s + float(changes_s(choices, p.rod_count)), float(cleaning_s(choices, p.length_mm)),
             p.heat_input_kj_mm * 1e6, before.get(p.id, 0.0), reverse=joint.heat.to_and_fro and joint.form == "plate" and i % 2 == 1)
        for i, p in enumerate(plan.passes)
    )  # fmt: skip


def schedule_of(joint: Joint, plan: Plan, fin: Fin | None = None) -> Schedule:
    """The plan's passes in time, one after the other."""
    faults = heat_faults(joint)
    limits = limits_of(joint)
    if faults or not plan.passes:
        return Schedule(limits=limits, findings=faults)
    cooling = Cooling(joint, fin)
    works = works_of(joint, plan)
    found: list[Started] = []
    for p, (work, begun) in zip(plan.passes, walked(cooling, works), strict=True):
        if begun.never[0]:
            return Schedule(tuple(found), float(cooling.now_s[0]), limits, (_never(joint, p),))
        found.append(as_started(cooling, p, work, begun))
    end_s = found[-1].end_s + works[-1].cleaning_s
    return Schedule(tuple(found), end_s, limits, _remarks(joint, plan, found, limits))


def walked(cooling: Cooling, works: Sequence[Work]) -> Iterator[tuple[Work, Begun]]:
    """Pass by pass through a joint's work, in every variant; each comes after it was welded."""
    cleaned: Floats = cooling.now_s
    for work in works:
        cooling.carry_to(cleaned + work.before_s)
        begun = begin(cooling)
        cooling.weld(work)
        yield work, begun
        cleaned = cooling.now_s + work.cleaning_s


def begin(cooling: Cooling) -> Begun:
    """Wait for a pass, reheat what fell too cold, and read the joint."""
    wait = cooling.ready_s()
    never = np.isinf(wait)
    waited = np.where(never, 0.0, wait)
    cooling.carry_to(cooling.now_s + waited)
    for _ in range(HELD_ROUNDS if cooling.held else 0):
        wait = np.where(never, 0.0, cooling.ready_s())
        if (wait < SHORT_WAIT_S).all():
            break
        cooling.carry_to(cooling.now_s + wait)
        waited = waited + wait
    cold = cooling.too_cold()
    reheat = np.where(cold, cooling.joint.heat.reheat_s, 0.0)
    if cold.any():
        cooling.carry_to(cooling.now_s + reheat)
        cooling.warm(warmed_to_c(cooling.joint), cold)
    return Begun(waited, reheat, cooling.now_s, never, cooling.state)


def as_started(cooling: Cooling, p: Pass, work: Work, begun: Begun) -> Started:
    """The first variant of a pass that has just been welded."""
    joint = cooling.joint
    temps = cooling.temps(cooling.reading, begun.state)[0]
    hottest, coldest = float(temps.max()), float(cooling.temps(cooling.far_reading, begun.state)[0].min())
    f2, f3 = shape_factors(joint)
    t85 = None if joint.heat.stainless else cooling_time(p.heat_input_kj_mm, joint.welded_thickness_mm, hottest, f2, f3)
    return Started(
        pass_id=p.id, start_s=float(begun.start_s[0]), end_s=float(cooling.now_s[0]), wait_s=float(begun.wait_s[0]), reheat_s=float(begun.reheat_s[0]),
        temp_c=hottest, preheat_point_c=coldest, arrival_c=float(cooling.on_arrival_c(begun.state, work)[0]) if cooling.preheated else coldest,
        hottest_station=cooling.stations[int(temps.argmax())].name, t85=t85,
    )  # fmt: skip


def _never(joint: Joint, p: Pass) -> Finding:
    return Finding("heat.never", OUTSIDE, f"before pass {p.number} the joint does not cool to the interpass limit within a day",
                   "Use wider plates, allow a higher limit, or cool the air.", basis="cooling model")  # fmt: skip


def _remarks(joint: Joint, plan: Plan, found: Sequence[Started], limits: Limits) -> tuple[Finding, ...]:
    """What to know of a schedule: t8/5, the far end, a small piece and what helps it, and where the model is rough."""
    waits, work = sum(s.wait_s for s in found), sum(p.arc_time_s for p in plan.passes)
    remarks = [*_cooling_times(joint, plan, found), *_behind(joint, plan, found, limits)]
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
        remarks += _stainless(joint, plan)
    return tuple(remarks)


def _stainless(joint: Joint, plan: Plan) -> Iterator[Finding]:
    """What austenitic steel changes, and its usual limit of arc energy where the procedure sets none."""
    yield Finding("heat.stainless", WARNING, "constants of austenitic steel are typical and not verified; t8/5 does not apply to it", "Measure at the joint.")
    most = max(plan.passes, key=lambda p: p.arc_energy_kj_mm)
    is_set = any(bounds(joint.windows, q, most.role, most.rod.id).high < math.inf for q in ("arc_energy", "heat_input"))
    if most.arc_energy_kj_mm > STAINLESS_ENERGY and not is_set:
        yield Finding("heat.stainless.energy", WARNING, f"pass {most.number} has {most.arc_energy_kj_mm:.2f} kJ/mm, over {STAINLESS_ENERGY:g} kJ/mm, a usual "
                      "limit for austenitic steel; the procedure sets none", "Weld smaller beads, or enter the procedure's limit.",
                      value=most.arc_energy_kj_mm, unit="kJ/mm", max=STAINLESS_ENERGY, basis="typical")  # fmt: skip


def _behind(joint: Joint, plan: Plan, found: Sequence[Started], limits: Limits) -> Iterator[Finding]:
    """One warning for all passes whose arc comes to a place that has fallen below preheat since they began."""
    numbers = {p.id: p.number for p in plan.passes}
    behind = [s for s in found if s.arrival_c < limits.preheat_c - TOO_COLD_K and s.preheat_point_c >= limits.preheat_c - TOO_COLD_K]
    if not behind:
        return
    coldest = min(behind, key=lambda s: s.arrival_c)
    air, warmed = joint.heat.air_c, warmed_to_c(joint)
    remedy = "Keep heat on ahead of the arc, or weld in shorter lengths."
    if coldest.arrival_c > air + 1:  # what was warmed cools in proportion to how far it was over the air
        enough = air + (limits.preheat_c - air) * (warmed - air) / (coldest.arrival_c - air)
        if enough < limits.interpass_c:
            remedy = f"Keep heat on while welding, warm a wider band, or warm it to {math.ceil(enough / 5) * 5:.0f} \N{DEGREE SIGN}C instead of {warmed:.0f}."
    others = ", ".join(str(numbers[s.pass_id]) for s in behind if s is not coldest)
    yield Finding("heat.behind", WARNING, f"the joint falls below preheat before the arc has come to its end: to {coldest.arrival_c:.0f} \N{DEGREE SIGN}C "
                  f"in pass {numbers[coldest.pass_id]}" + (f", also in pass {others}" if others else ""), remedy,
                  value=coldest.arrival_c, unit="\N{DEGREE SIGN}C", min=limits.preheat_c, basis="cooling model")  # fmt: skip


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
