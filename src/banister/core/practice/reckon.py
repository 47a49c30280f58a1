"""Reckon first: a question on a joint of the job, asked before its plan is shown, with the plan's own answer and the reason for it."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping

import numpy as np

from banister.core.heat.history import curve_c
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import Side, sides_of
from banister.core.remark import Figure, Remark
from banister.core.rods.rod import Rod
from banister.core.value import Struct, field, replace

BEADS, RUN_OUT, PLACE, COOL, ROD = "reckon_beads", "reckon_run_out", "reckon_place", "reckon_cool", "reckon_rod"
QUESTIONS = (BEADS, RUN_OUT, PLACE, COOL, ROD)
"""What is asked, in the order it is asked; each is a figure of the practice book."""
COOL_TO_C, COOL_STEP_C, LEAST_COOLING_K = 150.0, 25.0, 20.0
"""What a joint is asked to cool to where it comes well over it, else the next round temperature under what it comes to."""
LONGEST_S, PEAK_WITHIN_S, STEPS = 8 * 3600.0, 900.0, 130


class Question(Struct, frozen=True):
    """What is asked of a joint, of which pass (0: of the whole joint); `figures` are told with the question, `because` with the answer.

    `answer` is a number in the question's unit, or the id of a rod; `why` is the plan's own reason where it has one.
    """

    key: str
    joint: str
    number: int
    answer: float | str
    kind: str
    figures: Mapping[str, Figure] = field(default_factory=dict)
    because: Mapping[str, Figure] = field(default_factory=dict)
    choices: tuple[str, ...] = ()
    why: Remark | None = None


def answered_from(joint: Joint, rods: Mapping[str, Rod]) -> tuple[Plan, Schedule | None]:
    """What a joint's questions are answered from: the plan of its chosen answer, and its schedule where there is one."""
    plan = plan_joint(joint, rods, joint.working.chosen)
    return plan, schedule_of(joint, plan) if plan.feasible else None


def questions_for(joint: Joint, plan: Plan, schedule: Schedule | None) -> tuple[str, ...]:
    """What can be asked: cooling only with a schedule, the rod only where the plan has several."""
    if not plan.feasible:
        return ()
    asked = [BEADS, RUN_OUT]
    asked += [PLACE] if len(plan.passes) > 1 else []
    asked += [COOL] if schedule is not None and schedule.feasible and not math.isclose(joint.heat.air_c, COOL_TO_C) else []
    asked += [ROD] if len({p.rod.id for p in plan.passes}) > 1 else []
    return tuple(asked)


def question(key: str, joint: Joint, rods: Mapping[str, Rod], plan: Plan, schedule: Schedule | None, turn: int) -> Question:
    """One question; `turn` decides on which pass, the same one for the same turn."""
    draw = random.Random(f"{joint.id} {key} {turn}")
    if key == BEADS:
        return _beads(joint, plan)
    if key == COOL:
        assert schedule is not None
        return _cool(joint, plan, schedule, draw.choice(plan.passes))
    p = draw.choice(plan.passes[1:] if key == PLACE else plan.passes)
    if key == RUN_OUT:
        return _run_out(joint, p)
    if key == PLACE:
        return _place(joint, rods, p)
    ids = tuple(dict.fromkeys(rod.id for rod in sorted((p.rod for p in plan.passes), key=lambda rod: (rod.type, rod.diameter_mm))))
    return Question(ROD, joint.id, p.number, p.rod.id, "rod", _of_pass(p), {"rod": Figure(p.rod.id, "rod")}, ids, p.why)


def _of_pass(p: Pass) -> dict[str, Figure]:
    return {"n": Figure(float(p.number), "count"), "role": Figure(f"role.{p.role}", "word")}


def _beads(joint: Joint, plan: Plan) -> Question:
    metal = sum(p.area_mm2 for p in plan.passes)
    because = {"metal": Figure(metal, "area"), "mean": Figure(metal / len(plan.passes), "area"), "layers": Figure(plan.layers, "count")}
    figures = {"position": Figure(joint.piece.position, "name"), "rods": Figure(tuple(dict.fromkeys(p.rod.id for p in plan.passes)), "names")}
    return Question(BEADS, joint.id, 0, float(len(plan.passes)), "count", figures, because)


def _run_out(joint: Joint, p: Pass) -> Question:
    figures = _of_pass(p) | {"rod": Figure(p.rod.id, "rod"), "amps": Figure(p.amps, "current"), "area": Figure(p.area_mm2, "area")}
    because = {"core": Figure(p.rod.core_area_mm2, "area"), "burnt": Figure(p.rod.burnt_mm, "long_length"), "recovery": Figure(p.rod.recovery, "ratio"),
               "area": Figure(p.area_mm2, "area"), "run_out": Figure(p.run_out_mm, "long_length")}  # fmt: skip
    return Question(RUN_OUT, joint.id, p.number, p.run_out_mm, "long_length", figures, because)


def _place(joint: Joint, rods: Mapping[str, Rod], p: Pass) -> Question:
    side = side_named(joint, rods, p.side)
    because = {"width": Figure(p.width_mm, "length"), "area": Figure(p.area_mm2, "area")}
    return Question(PLACE, joint.id, p.number, side.from_section(p.aim_mm)[0], "length", _of_pass(p) | {"rod": Figure(p.rod.id, "rod")}, because, why=p.why)


def side_named(joint: Joint, rods: Mapping[str, Rod], name: str) -> Side:
    """A side of a joint."""
    return next(side for side in sides_of(inputs_of(joint, rods.values())) if side.name == name)


def _cool(joint: Joint, plan: Plan, schedule: Schedule, p: Pass) -> Question:
    """How long the measuring point takes after a pass, if nothing comes after it."""
    index = next(i for i, begun in enumerate(schedule.passes) if begun.key == p.key)
    upto = replace(schedule, passes=schedule.passes[: index + 1])
    begun = upto.passes[-1].end_s
    times = begun + np.concatenate((np.linspace(0.0, PEAK_WITHIN_S, STEPS), np.geomspace(PEAK_WITHIN_S + 1.0, LONGEST_S, STEPS)))
    curve = curve_c(joint, plan, upto, times, joint.heat.measure_at_mm).max(axis=0)
    peak = int(np.argmax(curve))
    under = COOL_STEP_C * math.floor((float(curve[peak]) - LEAST_COOLING_K) / COOL_STEP_C)
    to_c = max(min(COOL_TO_C, under), joint.heat.air_c + 0.35 * (float(curve[peak]) - joint.heat.air_c))
    after = curve[peak:]
    seconds = float(np.interp(-to_c, -after, times[peak:])) - begun
    figures = {"to": Figure(to_c, "temperature"), "off": Figure(joint.heat.measure_at_mm, "length"), "energy": Figure(p.arc_energy_kj_mm, "energy")}
    because = {"peak": Figure(float(curve[peak]), "temperature"), "after": Figure(float(times[peak]) - begun, "duration"),
               "air": Figure(joint.heat.air_c, "temperature"), "lasts": Figure(seconds, "duration")}  # fmt: skip
    return Question(COOL, joint.id, p.number, seconds / 60, "minutes", _of_pass(p) | figures, because)
