"""The schedule of one joint: temperatures before every pass, waits, reheats and the end.

A pass may start when every watched station reads at most the interpass limit at the measuring point,
and none reads less than preheat further out; a joint that fell below is reheated.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.cooling import BACK, ON, TOGETHER, Cooling, Work
from banister.core.heat.cooling_time import CoolingTime, cooling_time, shape_factors
from banister.core.heat.fin import Fin
from banister.core.heat.shift import DAY_S
from banister.core.heat.thermal import USUAL_INTERPASS_C, Limits, fin_of, heat_faults, limits_of, valid_from_s, warmed_to_c
from banister.core.joint.joint import Joint
from banister.core.limits.windows import bounds
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import before_s, changes_s, cleaning_s
from banister.core.remark import NO_PLACE, OUTSIDE, Figure, Place, Remark, outside, watch
from banister.core.value import Struct

if TYPE_CHECKING:
    from banister.core.heat.fin import Bools, Floats

STAINLESS_ENERGY = 2.0
"""kJ/mm of arc energy, typical upper limit for austenitic steel."""
HELD_ROUNDS, SHORT_WAIT_S = 60, 2.0
"""Where heat is kept on, a free fall is too short a wait: it is waited again until the joint has cooled to a fraction of a kelvin."""


class Begun(Struct, frozen=True):
    """A pass at its start in every variant: arrays of shape (variants,), `state` as in `Cooling`."""

    wait_s: Floats
    reheat_s: Floats
    start_s: Floats
    never: Bools
    state: Floats


class Started(Struct, frozen=True):
    """A pass in time: when it starts, how long the joint was waited for, and how hot it was.

    `temp_c` is the hottest station at the interpass point, `preheat_point_c` the coldest where preheat is
    read, both at the start; `arrival_c` is the coldest there as the arc comes to it.
    """

    key: str
    start_s: float
    end_s: float
    wait_s: float
    reheat_s: float
    temp_c: float
    preheat_point_c: float
    arrival_c: float
    hottest_station: str
    t85: CoolingTime | None


class Schedule(Struct, frozen=True):
    """All passes in time; `end_s` with the last cleaning. `remarks` say what is not possible or what dominates."""

    passes: tuple[Started, ...] = ()
    end_s: float = 0.0
    limits: Limits = Limits(None, USUAL_INTERPASS_C, False)
    remarks: tuple[Remark, ...] = ()

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
        return bool(self.passes) and not any(r.verdict == OUTSIDE for r in self.remarks)


def works_of(joint: Joint, plan: Plan, changes: bool = True, together: bool = False) -> tuple[Work, ...]:
    """The plan's passes as heat sees them; turns, gouging and changes of rod or current before the passes they precede.

    Without `changes` those of rod and current are left to whoever knows what the welder held before. `together`: two welders
    burn a half of a fixed pipe each, in half the time.
    """
    choices, hands = joint.working.choices, 2 if together else 1
    before = before_s(joint, choices, plan, changes)
    return tuple(
        Work(p.key, (p.arc_time_s + float(changes_s(choices, p.rod_count))) / hands, float(cleaning_s(choices, p.length_mm)) / hands,
             p.heat_input_kj_mm * 1e6, before.get(p.key, 0.0), TOGETHER if together else _course(joint, i))
        for i, p in enumerate(plan.passes)
    )  # fmt: skip


def _course(joint: Joint, i: int) -> str:
    return BACK if joint.heat.to_and_fro and joint.piece.form == "plate" and i % 2 == 1 else ON


def schedule_of(joint: Joint, plan: Plan, fin: Fin | None = None, within_s: float = DAY_S, together: bool = False) -> Schedule:
    """The plan's passes in time, one after the other; a wait longer than `within_s` is never waited out."""
    faults = heat_faults(joint)
    limits = limits_of(joint)
    if faults or not plan.passes:
        return Schedule(limits=limits, remarks=faults)
    cooling = Cooling(joint, fin or fin_of(joint, plan))
    works = works_of(joint, plan, together=together)
    found: list[Started] = []
    for p, (work, begun) in zip(plan.passes, walked(cooling, works), strict=True):
        if begun.never[0] or begun.wait_s[0] > within_s:
            return Schedule(tuple(found), float(cooling.now_s[0]), limits, (_never(p, begun, within_s),))
        found.append(as_started(cooling, p, work, begun))
    end_s = found[-1].end_s + works[-1].cleaning_s
    return Schedule(tuple(found), end_s, limits, _remarks(joint, plan, found))


def walked(cooling: Cooling, works: Sequence[Work]) -> Iterator[tuple[Work, Begun]]:
    """Pass by pass through a joint's work, in every variant; each comes after it was welded."""
    cleaned: Floats = cooling.now_s
    for work in works:
        begun = begin(cooling, cleaned + work.before_s)
        cooling.weld(work)
        yield work, begun
        cleaned = cooling.now_s + work.cleaning_s


def begin(cooling: Cooling, from_s: Floats | float) -> Begun:
    """Wait for a pass that could begin at a time not before now, reheat what fell too cold, and read the joint."""
    if cooling.held:
        cooling.carry_to(from_s)
    wait = np.maximum(cooling.now_s + cooling.ready_s() - from_s, 0.0)
    never = np.isinf(wait)
    waited = np.where(never, 0.0, wait)
    cooling.carry_to(from_s + waited)
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
    t85 = None if joint.metal.stainless else cooling_time(p.heat_input_kj_mm, joint.plate_thickness_mm, hottest, f2, f3)
    return Started(
        key=p.key, start_s=float(begun.start_s[0]), end_s=float(cooling.now_s[0]), wait_s=float(begun.wait_s[0]), reheat_s=float(begun.reheat_s[0]),
        temp_c=hottest, preheat_point_c=coldest, arrival_c=float(cooling.on_arrival_c(begun.state, work)[0]) if cooling.preheated else coldest,
        hottest_station=cooling.stations[int(temps.argmax())].name, t85=t85,
    )  # fmt: skip


def _never(p: Pass, begun: Begun, within_s: float) -> Remark:
    """A pass whose joint does not cool to the interpass limit in time."""
    place = Place((p.key,))
    if begun.never[0] or begun.wait_s[0] > DAY_S:
        return outside("heat.never", place, "model")
    return outside("heat.shift", place, "model", wait=Figure(float(begun.wait_s[0]), "duration"), shift=Figure(within_s, "duration"))


def _remarks(joint: Joint, plan: Plan, found: Sequence[Started]) -> tuple[Remark, ...]:
    """What to know of a schedule: a small piece and what helps it, and where the model is rough."""
    waits, work = sum(s.wait_s for s in found), sum(p.arc_time_s for p in plan.passes)
    remarks = []
    if waits > work:
        longest = max(found, key=lambda s: s.wait_s)
        remarks.append(watch("heat.small", Place((longest.key,)), "model", waits=Figure(waits, "duration"), arc=Figure(work, "duration"),
                             value=Figure(waits, "seconds"), window=Figure((None, work), "seconds")))  # fmt: skip
    if found and min((b.start_s - a.end_s for a, b in itertools.pairwise(found)), default=math.inf) < valid_from_s(joint):
        remarks.append(watch("heat.early", NO_PLACE, "model", valid=Figure(valid_from_s(joint), "duration")))
    if joint.metal.stainless:
        remarks += _stainless(joint, plan)
    return tuple(remarks)


def _stainless(joint: Joint, plan: Plan) -> Iterator[Remark]:
    """What austenitic steel changes, and its usual limit of arc energy where the procedure sets none."""
    yield watch("heat.stainless", NO_PLACE, "model")
    most = max(plan.passes, key=lambda p: p.arc_energy_kj_mm)
    is_set = any(bounds(joint.working.windows, q, most.role, most.rod.id).high < math.inf for q in ("arc_energy", "heat_input"))
    if most.arc_energy_kj_mm > STAINLESS_ENERGY and not is_set:
        yield watch("heat.stainless.energy", Place((most.key,)), "typical", value=Figure(most.arc_energy_kj_mm, "energy"),
                    most=Figure(STAINLESS_ENERGY, "energy"), window=Figure((None, STAINLESS_ENERGY), "energy"))  # fmt: skip
