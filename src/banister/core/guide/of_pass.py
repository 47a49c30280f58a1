"""The guidance of one pass: where its rod points, how the hand moves, what may go wrong; read off the section and the plan."""

from __future__ import annotations

import math
from collections.abc import Collection

from banister.core.guide.aim import MOST_CAP_DEG, MOST_FILL_DEG, Aim, Point, aim, coated_mm
from banister.core.guide.hand import Beat, Whip, beat, travel_deg, whip
from banister.core.guide.likely import NO_BLOW, Bead, Blow, Likely, arc_blow, likely_faults
from banister.core.joint.joint import Joint
from banister.core.joint.positions import VERTICAL_DOWN
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import BACK, Side, sides_of
from banister.core.value import Struct

SHOWN_TO_DEG = 5.0


class Guide(Struct, frozen=True):
    """How a pass is welded: the corner in the section, lean and its side, travel angle (dragged positive; None unknown), weave or whip, faults."""

    aim: Aim
    corner: Point
    """Where the arc goes, in the section's coordinates."""
    from_below: bool
    travel_deg: tuple[float, float] | None
    beat: Beat
    whip: Whip | None
    likely: tuple[Likely, ...]
    blow: Blow
    """How the arc is blown where the pass begins and ends."""
    coated_mm: float

    @property
    def lean_shown(self) -> float:
        """The lean as it is told: to five degrees."""
        return SHOWN_TO_DEG * round(self.aim.lean_deg / SHOWN_TO_DEG)


def guide_of(joint: Joint, plan: Plan, p: Pass, flagged: Collection[str] = ()) -> Guide:
    """The guidance of a pass of a plan."""
    side = next(s for s in sides_of(inputs_of(joint)) if s.name == p.side)
    attitude = joint.attitudes(p.role)[0]
    base, core = _base(p, side), p.rod.diameter_mm
    found = aim(base, side.groove.edges_x, float(side.groove.face_mm), core, p.rod.family, attitude, MOST_CAP_DEG if p.role == "cap" else MOST_FILL_DEG)
    speed = p.travel_mm_min / 60.0
    moved = beat(p.width_mm, core, speed, attitude)
    is_whipped = p.rod.family == "cellulosic" and attitude != VERTICAL_DOWN
    return Guide(found, side.in_section(found.corner), p.side == BACK, travel_deg(p.rod.family, attitude), moved, whip(core, speed) if is_whipped else None,
                 likely_faults(_bead(joint, plan, p, side, found, moved, attitude), flagged),
                 _blow(joint, p, side), coated_mm(core, p.rod.family))  # fmt: skip


def _blow(joint: Joint, p: Pass, side: Side) -> Blow:
    """Arc blow at the end of a plate, where first and last rod burn; where the clamp sits nobody told. A pipe has no end, alternating current is not blown."""
    if p.rod.polarity == "AC" or joint.piece.form != "plate":
        return NO_BLOW
    base = _base(p, side)
    chord = (base[0][1] + base[-1][1]) / 2
    left, right = side.groove.edges_x
    return arc_blow(0.0, math.inf, p.amps, max(joint.prep.thickness_mm - chord, 0.0), right - left)


def _base(p: Pass, side: Side) -> list[Point]:
    """The metal under a bead from its left toe to its right one, as seen from its side."""
    points = [side.from_section(point) for point in (*p.outline_mm[p.face_points - 1 :], p.outline_mm[0])]
    return points if points[0][0] <= points[-1][0] else points[::-1]


def _bead(joint: Joint, plan: Plan, p: Pass, side: Side, found: Aim, moved: Beat, attitude: str) -> Bead:
    layer = [q for q in plan.passes if q.side == p.side and q.layer == p.layer]
    core = p.rod.diameter_mm
    place = layer.index(p) if p in layer else 0
    base = _base(p, side)
    wide = max(base[-1][0] - base[0][0], 1e-6)
    chord = (base[0][1] + base[-1][1]) / 2
    low, high = p.rod.amps_low, p.rod.amps_high
    at_wall = p.role == "fill" and (place == 0 or len(layer) == 1 or p.aim_mm[0] in (min(q.aim_mm[0] for q in layer), max(q.aim_mm[0] for q in layer)))
    return Bead(
        role=p.role, backing=joint.prep.backing, family=p.rod.family, attitude=attitude, gap_cores=joint.prep.root_gap_mm / core,
        width_cores=p.width_mm / core, beads_in_layer=len(layer), at_wall=at_wall, slot_coated=wide / coated_mm(core, p.rod.family),
        lean_deg=found.lean_deg, valley_share=max(chord - found.corner[1], 0.0) / wide, amps_share=(p.amps - low) / max(high - low, 1e-6),
        hold_s=moved.hold_s or 1.0, last_of_cap=p.role == "cap" and place == len(layer) - 1, weave=moved.across_mm > 0,
    )  # fmt: skip
