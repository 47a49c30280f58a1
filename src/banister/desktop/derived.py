"""What follows from the job: plans, heat and judgement of the shown joint, computed at once where that is quick, else beside the window."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field

from banister.core.heat.line import HeatLine, heat_line
from banister.core.heat.shift import DAY_S
from banister.core.job import Job
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint
from banister.core.joint.working import AT_ONCE, BETWEEN
from banister.core.judge.judgement import Documents, Judgement, judged
from banister.core.plan.answers import answered
from banister.core.plan.front import FrontPoint
from banister.core.plan.inputs import PlanInputs, inputs_of
from banister.core.plan.plan import Plan
from banister.core.remark import Remark
from banister.core.sheet import Sheet
from banister.core.value import Struct
from banister.desktop.errands import HEAT, PLAN, SEARCH, Errand, Runs
from banister.desktop.work.plans import Fronted, Keys, front_and_between, plans_of

FRONT = "front"
AT_ONCE_S = 0.05
SLOW_ABOVE_MM = 32.0
"""A joint thicker than this is planned beside the window, and so is one that lately took longer than AT_ONCE_S."""


@dataclass(slots=True)
class Planned:
    """The plans of one joint, filled in as they come, each with the keys of the sheet issued last."""

    inputs: PlanInputs
    faults: tuple[Remark, ...]
    issued: Sheet | None
    plans: dict[str, Plan] = field(default_factory=dict)
    asked: frozenset[str] = frozenset()
    """Answers that are on their way, were stopped or failed."""
    front: tuple[FrontPoint, ...] = ()
    hints: tuple[Remark, ...] = ()
    front_asked: bool = False

    @property
    def keys(self) -> Keys:
        """Where its passes have their keys from."""
        return Keys() if self.issued is None else Keys(self.issued.plan, self.issued.last_key)


class HeatKey(Struct, frozen=True):
    """What the heat of a plan depends on beside the plan itself."""

    plan: int
    parts: tuple[object, ...]
    within_s: float


class Derived:
    """Keeps what was computed for the values it was computed from."""

    def __init__(self, errands: Runs, arrived: Callable[[], None]) -> None:
        self._errands, self._arrived = errands, arrived
        self._planned: dict[str, Planned] = {}
        self._heat: tuple[HeatKey, Plan, HeatLine] | None = None
        self._heat_asked: HeatKey | None = None
        self._judged: tuple[tuple[object, ...], Judgement] | None = None
        self._is_slow = False

    def forget(self) -> None:
        """Another job is open."""
        self._planned.clear()
        self._heat = self._heat_asked = self._judged = None
        for key in (PLAN, HEAT, FRONT):
            self._errands.stop(key)

    # --- plans --------------------------------------------------------------------------------
    def plans(self, job: Job, joint: Joint) -> dict[str, Plan]:
        """The plans of a joint that are known; the others are on their way."""
        known = self._known(job, joint)
        missing = [a for a in dict.fromkeys((joint.working.chosen, *AT_ONCE)) if a not in known.plans]
        if missing and known.faults:
            known.plans |= {answer: Plan(answer, reasons=known.faults) for answer in missing}
            missing = []
        if missing and missing[0] == joint.working.chosen and self._is_quick(joint):
            begun = time.perf_counter()
            answer = missing.pop(0)
            known.plans[answer] = known.keys.on(answered(known.inputs, answer))
            self._is_slow = time.perf_counter() - begun > AT_ONCE_S
        if not known.asked.issuperset(missing):
            self._ask(known, tuple(missing))
        return dict(known.plans)

    def _known(self, job: Job, joint: Joint) -> Planned:
        inputs, faults = inputs_of(joint, job.rods), joint_faults(joint)
        issued = job.issued_for(joint)
        known = self._planned.get(joint.id)
        if known is None or known.inputs != inputs or known.faults != faults or known.issued is not issued:
            known = self._planned[joint.id] = Planned(inputs, faults, issued)
            standing = None if issued is None else job.plan_issued_for(joint, issued.plan.answer)
            if standing is not None:
                known.plans[standing.answer] = standing
        return known

    def _is_quick(self, joint: Joint) -> bool:
        return joint.prep.thickness_mm <= SLOW_ABOVE_MM and not self._is_slow

    def _ask(self, known: Planned, missing: tuple[str, ...]) -> None:
        """Once, until another joint's plans are asked for in its place, or the user asks again after a stop or a fault."""
        for other in self._planned.values():
            other.asked = known.asked.union(missing) if other is known else frozenset()

        def arrived(plan: Plan) -> None:
            known.plans[plan.answer] = plan
            self._arrived()

        self._errands.run(Errand(PLAN, PLAN, "plan", plans_of, (known.inputs, missing, known.keys), arrived, failed=lambda _: self._arrived()))

    def front(self, joint: Joint) -> tuple[FrontPoint, ...]:
        """The front of a joint as far as it is known."""
        known = self._planned.get(joint.id)
        return () if known is None else known.front

    def hints(self, joint: Joint) -> tuple[Remark, ...]:
        """What a little more of something would save, as far as it is known."""
        known = self._planned.get(joint.id)
        return () if known is None else known.hints

    def ask_front(self, joint: Joint) -> None:
        """Have the front of a joint worked out beside the window, once."""
        known = self._planned.get(joint.id)
        if known is None or known.front_asked or known.faults:
            return
        known.front_asked = True

        def arrived(found: Fronted) -> None:
            known.front, known.hints = found[0], found[2]
            known.plans.setdefault(BETWEEN, found[1])
            self._arrived()

        self._errands.run(Errand(SEARCH, FRONT, "front", front_and_between, (known.inputs, known.keys), arrived))

    def ask_again(self, joint: Joint) -> None:
        """Ask once more for what was stopped or failed."""
        self._heat_asked = None
        known = self._planned.get(joint.id)
        if known is not None:
            known.asked = frozenset()

    # --- heat and judgement -------------------------------------------------------------------
    def heat(self, job: Job, joint: Joint, plan: Plan | None, sheet: Sheet | None) -> HeatLine | None:
        """The heat of a plan: that of its sheet where it was issued so, what is computed already, else None and it is asked for."""
        if plan is None or not plan.feasible:
            return None
        if sheet is not None and sheet.plan is plan and sheet.heat is not None and "heat" not in job.changed_since_issued(joint):
            return sheet.heat
        within = min(job.shift.lasts_s, DAY_S)
        key = HeatKey(id(plan), (joint.prep, joint.piece, joint.working.choices, joint.working.windows, joint.heat, joint.metal, joint.readings), within)
        if self._heat is not None and self._heat[0] == key and self._heat[1] is plan:
            return self._heat[2]
        if self._heat_asked != key:
            self._heat_asked = key

            def arrived(line: HeatLine) -> None:
                self._heat = (key, plan, line)
                self._arrived()

            self._errands.run(Errand(HEAT, HEAT, "heat", heat_line, (joint, plan, within), arrived, failed=lambda _: self._arrived()))
            return self._heat[2] if self._heat is not None and self._heat[0] == key else None
        return None

    def judgement(self, joint: Joint, plan: Plan | None, heat: HeatLine | None, documents: Documents) -> Judgement | None:
        """What the judge says of a plan with the heat that is known; None where there is no plan yet."""
        if plan is None:
            return None
        key = (joint, plan, heat, documents)
        if self._judged is None or any(a is not b for a, b in zip(self._judged[0][:3], key[:3], strict=True)) or self._judged[0][3] != documents:
            self._judged = (key, judged(joint, plan, None if heat is None else heat.schedule, documents))
        return self._judged[1]
