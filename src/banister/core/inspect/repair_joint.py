"""A repair as a joint of its own: issued, welded, logged, inspected and recorded like any other, planned as long as its hollow is."""

from __future__ import annotations

import math
from collections.abc import Iterable

from banister.core.inspect.observed import Observation
from banister.core.inspect.repair import Way, position_of, uses_in
from banister.core.joint.boat import Boat
from banister.core.joint.fitting import FitUp
from banister.core.joint.joint import Joint, edited
from banister.core.joint.repairing import RepairOf
from banister.core.joint.stopping import StopChoices
from banister.core.joint.wall import least_height_of_rounded
from banister.core.limits.windows import Window
from banister.core.rods.rod import Rod
from banister.core.words import Speech

PREPARATION = "single-u"


def repair_id(joint: str, nth: int) -> str:
    """The id of a repair's joint.

    >>> repair_id("P4", 2)
    'P4-R2'
    """
    return f"{joint}-R{nth}"


def joint_of_repair(joint: Joint, way: Way, one: Observation, nth: int, record: int, rods: Iterable[Rod], preheat_c: float | None, say: Speech) -> Joint:
    """The joint of a way in that was decided on; `preheat_c` raises its preheat, `record` is the number of the decision's record."""
    boat = way.boat
    t = joint.plate_thickness_mm
    along = {"from_mm": boat.from_mm, "bottom_mm": boat.bottom_mm, "run_out": boat.dig.run_out}
    repair = RepairOf(joint=joint.id, nth=nth, record=record, side=way.side, plate_mm=t, **along)
    windows = joint.working.windows if preheat_c is None else _warmer(joint.working.windows, preheat_c)
    return edited(
        joint, id=repair_id(joint.id, nth), name=say("repairing.name", nth=str(nth), joint=joint.id, kind=say(f"defect.{one.kind}")), repair=repair,
        key=PREPARATION, thickness_mm=boat.depth_mm, right_thickness_mm=0.0, root_face_mm=0.0, root_gap_mm=0.0, high_low_mm=0.0, backing="closed",
        second_side="none", bevel_left_deg=boat.dig.side_deg, bevel_right_deg=boat.dig.side_deg, root_radius_mm=_radius_mm(boat), root_level_mm=0.0,
        root_reinforcement_mm=0.0, form="plate", position=position_of(joint, boat), root_progression="", length_mm=boat.length_mm,
        rods=uses_in(joint, rods, t - boat.depth_mm), windows=windows, pins=(), readings=(), fitup=FitUp(), stops=StopChoices(), preheat_held=False,
    )  # fmt: skip


def _radius_mm(boat: Boat) -> float:
    """The radius of the gouge, smaller where the hollow is not as deep as that makes it."""
    needs = least_height_of_rounded(0.0, 1.0, boat.dig.side_deg)
    return min(boat.dig.radius_mm, math.floor(10 * boat.depth_mm / needs) / 10)


def _warmer(windows: tuple[Window, ...], preheat_c: float) -> tuple[Window, ...]:
    """The windows with a preheat of at least so much."""
    others = tuple(w for w in windows if w.quantity != "preheat")
    return (*others, Window(quantity="preheat", low=preheat_c))
