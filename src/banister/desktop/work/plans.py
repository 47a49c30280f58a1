"""Plans a view asks for: of a joint under the keys of the sheet issued last, and of what it could be instead."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from banister.core.joint.joint import Joint
from banister.core.joint.working import BETWEEN
from banister.core.plan.answers import between, plan_answer, study_of
from banister.core.plan.compare import Candidate, Compared, compared, technique_plan
from banister.core.plan.front import FrontPoint, front_of
from banister.core.plan.hints import hints_of, window_costs
from banister.core.plan.identity import keyed
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.plan import Plan
from banister.core.plan.straightest import Order, orders_of, shares_of
from banister.core.plan.technique import Technique
from banister.core.remark import Remark
from banister.core.rods.rod import Rod
from banister.core.value import Struct

Fronted = tuple[tuple[FrontPoint, ...], Plan, tuple[Remark, ...]]


class Keys(Struct, frozen=True):
    """Where the passes of a plan have their keys from: the plan issued last (None: they are new), and the highest number ever given."""

    issued: Plan | None = None
    last_key: int = 0

    def on(self, plan: Plan) -> Plan:
        """The plan under these keys."""
        return keyed(plan, self.issued, self.last_key)


def plans_of(inputs: PlanInputs, wanted: tuple[str, ...], keys: Keys) -> Iterator[Plan]:
    """The wanted answers of a joint, one after the other; what they share is worked out once."""
    study = study_of(inputs)
    for answer in wanted:
        yield keys.on(plan_answer(study, answer))


def front_and_between(inputs: PlanInputs, keys: Keys) -> Fronted:
    """The front of a joint, the plan in its middle, what each window costs, and what a little more of something would save."""
    study = study_of(inputs)
    if isinstance(study, tuple):
        return (), Plan(BETWEEN, reasons=study), ()
    front = front_of(study.sides)
    return front, keys.on(between(study, front)), (*window_costs(study.joint, study.sides), *hints_of(study.joint, study.sides))


def balanced_orders(joint: Joint, rods: dict[str, Rod]) -> list[Order]:
    """Every share of the front and every order of the sides, planned."""
    return [order for share in shares_of(joint) for order in orders_of(share, rods)]


def all_compared(wanted: Sequence[Candidate], rods: Mapping[str, Rod]) -> Iterator[Compared]:
    """Every candidate planned, one after the other."""
    for one in wanted:
        yield compared(one, rods)


def technique_plans(joint: Joint, known: tuple[Technique, ...], rods: Mapping[str, Rod]) -> Iterator[tuple[Technique, Plan]]:
    """The joint planned by every technique, one after the other."""
    for technique in known:
        yield technique, technique_plan(joint, technique, rods)
