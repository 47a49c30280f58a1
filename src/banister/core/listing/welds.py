"""A line for every weld of a job: what it is, how far it is, what it takes; joints alike are planned once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence

from banister.core.job import Job
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.answers import Study, plan_answer, study_of
from banister.core.plan.inputs import PlanInputs, inputs_of
from banister.core.plan.plan import Plan
from banister.core.plan.spending import YIELD
from banister.core.remark import OUTSIDE, WATCH, Remark
from banister.core.value import Struct

BLOCKED, PLANNED, ISSUED, BEGUN, WELDED = "blocked", "planned", "issued", "begun", "welded"
"""How far a weld is, each the word `weld_state.KEY`."""


class Weld(Struct, frozen=True):
    """One line: the joint, its plan, how far it is, its passes that are welded; `remarks` are those worth a look."""

    joint: Joint
    plan: Plan
    state: str
    passes_welded: int
    remarks: tuple[Remark, ...]

    @property
    def beads(self) -> int:
        """Beads of one of them."""
        return len(self.plan.passes)

    @property
    def rods(self) -> Mapping[str, int]:
        """Rods to burn by their id, for all that are alike."""
        found = Counter[str]()
        for p in self.plan.passes:
            found[p.rod.id] += p.rod_count * self.joint.alike
        return found

    @property
    def metal_kg(self) -> float:
        """Weld metal of all that are alike."""
        return self.joint.alike * sum(p.rod_count * p.rod.deposit_g for p in self.plan.passes) / 1000

    @property
    def bought_kg(self) -> Mapping[str, float]:
        """Electrodes bought by rod, stubs and coating counted, for all that are alike."""
        found = Counter[str]()
        for p in self.plan.passes:
            found[p.rod.id] += self.joint.alike * p.rod_count * p.rod.deposit_g / 1000 / YIELD[p.process]  # type: ignore[assignment]
        return found

    @property
    def seconds(self) -> float:
        """Time at the joint without waits for cooling, for all that are alike."""
        return self.joint.alike * self.plan.total_time_s

    @property
    def length_mm(self) -> float:
        """Length of all that are alike."""
        return self.joint.alike * self.joint.weld_length_mm()


class Listed(Struct, frozen=True):
    """The lines so far, and of how many; how many different welds were planned for them."""

    welds: tuple[Weld, ...]
    of: int
    kinds: int


def listed(job: Job, records: Sequence[Record] = ()) -> Iterator[Listed]:
    """The weld list as it grows: after every joint that was planned, at last the whole. `records` are the journal's, after corrections."""
    known: dict[tuple[PlanInputs, str], Plan] = {}
    found = list[Weld]()
    ended = Counter(r.j for r in records if r.k == "pass-ended")
    begun = {r.j for r in records if r.k in ("pass-begun", "rod")}
    rods = tuple(job.rods)
    for joint in job.joints:
        is_new = False
        issued = job.plan_issued_for(joint)
        if issued is not None:
            plan = issued
        elif faults := joint_faults(joint):
            plan = Plan(joint.working.chosen, reasons=faults)
        else:
            key = (inputs_of(joint, rods), joint.working.chosen)
            is_new = key not in known
            if is_new:
                known[key] = _planned(*key)
            plan = known[key]
        found.append(_weld(job, joint, plan, ended[joint.id], joint.id in begun))
        if is_new:
            yield Listed(tuple(found), len(job.joints), len(known))
    yield Listed(tuple(found), len(job.joints), len(known))


def _planned(inputs: PlanInputs, answer: str) -> Plan:
    study = study_of(inputs)
    return plan_answer(study, answer) if isinstance(study, Study) else Plan(answer, reasons=study)


def _weld(job: Job, joint: Joint, plan: Plan, ended: int, is_begun: bool) -> Weld:
    if not plan.feasible:
        state = BLOCKED
    elif plan.passes and ended >= len(plan.passes):
        state = WELDED
    elif is_begun:
        state = BEGUN
    else:
        state = ISSUED if job.standing_for(joint) is not None else PLANNED
    remarks = tuple(r for r in (*plan.reasons, *plan.remarks, *(r for p in plan.passes for r in p.remarks)) if r.verdict in (OUTSIDE, WATCH))
    return Weld(joint, plan, state, ended, remarks)
