"""Where the rods of welded passes ended: as they were laid when the pass was begun, whatever the search would lay today."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from banister.core.follow.facts import Told
from banister.core.joint.joint import Joint
from banister.core.joint.stopping import StopPin
from banister.core.plan.plan import Plan
from banister.core.remark import Refused
from banister.core.stops.of_plan import JointStops, joint_stops
from banister.core.value import replace


def marks_recorded(stops: JointStops | None, key: str) -> Mapping[str, Sequence[float]]:
    """The marks of a pass by half, as its record keeps them (mm, to a tenth); nothing where none were laid."""
    return {} if stops is None else {own.half: [round(mark, 1) for mark in own.marks] for own in stops.passes if own.key == key}


def as_welded(joint: Joint, facts: Told) -> Joint:
    """The joint with the stops of its welded passes where they were: they are not laid anew, those to come keep clear of them."""
    stops = joint.stops
    for key, one in facts.passes.items():
        for half, marks in one.stops:
            stops = stops.pinning(StopPin(key=key, half=half, marks=marks))
    return replace(joint, stops=stops)


def stops_as_welded(joint: Joint, plan: Plan, facts: Told) -> JointStops | None:
    """Where the rods of a plan end, those of welded passes as they were; None where none can be laid."""
    try:
        return joint_stops(as_welded(joint, facts), plan) if plan.feasible else None
    except Refused:
        return None
