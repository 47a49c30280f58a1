"""Which share and order of the sides leave the plates straightest: found by planning, not by habit."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import SEQUENCES
from banister.core.plan.answers import plan_joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.pull import Pull, pull_of
from banister.core.plan.sequence import resequenced
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

SHARES = tuple(round(0.25 + 0.05 * i, 2) for i in range(11))
PER_TURN_DEG = 0.15
"""A turn is worth this much pull: of two orders alike in pull the one with fewer turns is named first (shop figure)."""


class Order(Struct, frozen=True):
    """A share and a sequence with the pull they leave and the turns they take."""

    share: float
    sequence: str
    pull: Pull
    turns: int
    passes: int

    @property
    def merit(self) -> float:
        """What orders are ranked by, degrees: less is straighter."""
        return abs(self.pull.final_deg) + 0.25 * abs(self.pull.greatest_deg) + PER_TURN_DEG * self.turns


def shares_of(joint: Joint) -> list[Joint]:
    """The joint with every share worth planning; none for a groove cut from one side."""
    if not joint.prep.kind.double:
        return []
    tried = (edited(joint, front_share=share, pins=()) for share in SHARES)
    return [one for one in tried if not joint_faults(one)]


def orders_of(joint: Joint, rods: Mapping[str, Rod]) -> list[Order]:
    """Every sequence of a joint as it stands, with the pull it leaves; none if it cannot be planned."""
    plan = plan_joint(joint, rods, joint.working.chosen)
    if not plan.feasible:
        return []
    found = []
    for sequence in SEQUENCES:
        ordered = resequenced(replace(inputs_of(joint), sequence=sequence), plan)
        pull = pull_of(ordered.passes, joint.prep.welded_thickness_mm)
        found.append(Order(joint.prep.front_share, sequence, pull, ordered.turns, len(ordered.passes)))
    return found


def straightest(joint: Joint, rods: Mapping[str, Rod]) -> tuple[Order, ...]:
    """All shares and sequences of a double groove that can be planned, straightest first."""
    found = [order for one in shares_of(joint) for order in orders_of(one, rods)]
    return tuple(sorted(found, key=lambda order: order.merit))
