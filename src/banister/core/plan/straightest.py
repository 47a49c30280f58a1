"""Which share and order of the sides leave the plates straightest: found by planning, not by habit."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace

from banister.core.joint.joint import Joint, joint_faults
from banister.core.joint.kinds import SEQUENCES
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.pull import Pull, pull_of
from banister.core.plan.sequence import resequenced
from banister.core.rods.rod import Rod

SHARES = tuple(round(0.25 + 0.05 * i, 2) for i in range(11))
PER_TURN_DEG = 0.15
"""A turn is worth this much pull: of two orders alike in pull the one with fewer turns is named first (shop figure)."""


@dataclass(frozen=True, slots=True)
class Order:
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


def straightest(joint: Joint, rods: Mapping[str, Rod], stop: Callable[[], bool] = lambda: False) -> tuple[Order, ...]:
    """All shares and sequences of a double groove that can be planned, straightest first.

    Empty for a groove cut from one side. `stop` is asked between plans.
    """
    if not joint.kind.double:
        return ()
    found: list[Order] = []
    for share in SHARES:
        if stop():
            break
        found += _orders(replace(joint, front_share=share, pins=()), rods)
    return tuple(sorted(found, key=lambda order: order.merit))


def _orders(joint: Joint, rods: Mapping[str, Rod]) -> Iterator[Order]:
    if joint_faults(joint):
        return
    plan = plan_answer(study_of(joint, rods), joint.chosen)
    if not plan.feasible:
        return
    for sequence in SEQUENCES:
        ordered = resequenced(replace(joint, sequence=sequence), plan)
        pull = pull_of(ordered.passes, joint.welded_thickness_mm)
        yield Order(joint.front_share, sequence, pull, ordered.turns, len(ordered.passes))
