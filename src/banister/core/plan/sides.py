"""The sides a joint is welded from, each as a groove of its own with y from its root up to its face.

A single groove has its front; a double one, or one that is gouged or sealed behind, a back as well.
The second side is planned on the shape the gouge leaves. A fillet is turned so that its face is level.
"""

from __future__ import annotations

import math

from banister.core.beads.surface import Point, Surface, groove_surface, wedge_surface
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import edited
from banister.core.joint.kinds import SQUARE
from banister.core.joint.preparations import cut, fillet_throat_mm
from banister.core.joint.wall import Wall, rounded, straight
from banister.core.joint.working import RodUse
from banister.core.plan.inputs import PlanInputs
from banister.core.value import Struct

FRONT, BACK = "front", "back"
SEAL_DEPTH_MM = 1.0
"""Ground off the root before a sealing run (shop figure)."""


class Side(Struct, frozen=True):
    """One side: the joint as it presents itself from there, its groove, and how it lies in the section."""

    name: str
    joint: PlanInputs
    groove: Groove
    root_y: float = 0.0
    turned: bool = False
    tilt_deg: float = 0.0

    def surface(self) -> Surface:
        """The bare groove with the plates (of a fillet: their faces) beside it."""
        return wedge_surface(self.groove) if self.joint.prep.kind.fillet else groove_surface(self.groove)

    def in_section(self, point: Point) -> Point:
        """A point of this side in the section's coordinates."""
        x, y = point
        if self.tilt_deg:
            a = math.radians(self.tilt_deg)
            return x * math.cos(a) - y * math.sin(a), x * math.sin(a) + y * math.cos(a)
        return (x, self.root_y - y) if self.turned else (x, self.root_y + y)

    def from_section(self, point: Point) -> Point:
        """A point of the section in this side's coordinates."""
        x, y = point
        if self.tilt_deg:
            a = math.radians(-self.tilt_deg)
            return x * math.cos(a) - y * math.sin(a), x * math.sin(a) + y * math.cos(a)
        return (x, self.root_y - y) if self.turned else (x, y - self.root_y)


def sides_of(joint: PlanInputs) -> tuple[Side, ...]:
    """The sides in the order they are begun."""
    if joint.prep.kind.fillet:
        return (_fillet(joint),)
    front = _front(joint)
    second = joint.prep.second_side if not joint.prep.kind.double or joint.prep.second_side != "none" else "gouge"
    return (front,) if second == "none" else (front, _back(joint, second))


def _fillet(joint: PlanInputs) -> Side:
    """The left plate's face lies level in the section, the right one stands on it."""
    throat = fillet_throat_mm(joint.prep)
    lean = math.degrees(math.acos(min(throat / joint.prep.leg_left_mm, 1.0)))
    presented = edited(
        joint, thickness_mm=throat, right_thickness_mm=0.0, backing="closed", root_face_mm=0.0, root_gap_mm=0.0, high_low_mm=0.0, cap_overlap_mm=0.0,
    )  # fmt: skip
    return Side(FRONT, presented, groove_of(joint.prep), tilt_deg=90.0 - lean)


def _front(joint: PlanInputs) -> Side:
    """From the nose up: a closed root face is not melted from here, an open one is."""
    whole, prep = groove_of(joint.prep), joint.prep
    closed = prep.backing == "closed"
    root_y = max((prep.back_depth_mm if prep.kind.double else 0.0) + (_closed_face_mm(joint) if closed else 0.0) + _lowest_nose(joint, closed), 0.0)
    noses = (prep.back_depth_mm, prep.back_depth_mm + prep.high_low_mm) if prep.kind.double else (0.0, 0.0)
    groove = Groove(whole.gap_mm, *(_upward(w, root_y, nose) for w, nose in zip((whole.left, whole.right), noses, strict=True))) if root_y else whole
    hang = 0.0 if prep.kind.double else joint.choices.root_reinforcement_mm
    presented = edited(
        joint, thickness_mm=groove.thickness_mm, right_thickness_mm=0.0, root_face_mm=0.0 if closed else prep.root_face_mm,
        root_reinforcement_mm=hang, plate_mm=_plate_mm(joint),
    )  # fmt: skip
    return Side(FRONT, presented, groove, root_y)


def _closed_face_mm(joint: PlanInputs) -> float:
    """The face that the front leaves unmelted; a square butt has none cut, whatever stood there before it became one."""
    return joint.prep.root_face_mm if joint.prep.kind.has_face else 0.0


def _plate_mm(joint: PlanInputs) -> float:
    """The plate's own thickness, whatever part of it a side is."""
    return joint.plate_mm or joint.prep.thickness_mm


def _upward(wall: Wall, root_y: float, nose: float) -> Wall:
    """A wall from the front's root up; below its own nose, which hangs over the back's groove, it goes straight down."""
    if nose <= root_y or wall.reach(nose - 1e-6) <= wall.reach(nose) + 1e-9:
        return wall.above(root_y).raised(-root_y)
    upper = wall.above(nose).raised(-root_y)
    foot = upper.pieces[0]
    return Wall((*straight((foot.d0, 0.0), (foot.d0, foot.y0)).pieces, *upper.pieces))


def _lowest_nose(joint: PlanInputs, closed: bool) -> float:
    """How far high-low moves the lowest nose: a square edge has none, and an open root never begins above the left one's."""
    kind = joint.prep.kind
    noses = [offset for shape, offset in ((kind.left, 0.0), (kind.right, joint.prep.high_low_mm)) if shape != SQUARE]
    lowest = min(noses, default=0.0)
    return lowest if closed else min(0.0, lowest)


def _back(joint: PlanInputs, second: str) -> Side:
    """The second side as the gouge (or the grinder, for a sealing run) leaves it; the right plate's back stands `high_low_mm` higher in the section."""
    prep = joint.prep
    back = prep.back_depth_mm if prep.kind.double else 0.0
    unwelded = 0.0 if prep.backing != "closed" else _closed_face_mm(joint)
    depth = back + SEAL_DEPTH_MM if second == "seal" else back + unwelded + prep.gouge_into_mm
    depth = max(depth, SEAL_DEPTH_MM)
    right_depth = max(depth - prep.high_low_mm, SEAL_DEPTH_MM)
    if prep.kind.double:
        walls = [_gouged_groove(joint, shape, own, own - back) for shape, own in ((prep.kind.left, depth), (prep.kind.right, right_depth))]
    else:
        gouge = gouged(max(depth, right_depth), prep.gouge_radius_mm, prep.gouge_angle_deg)
        walls = [gouge.below(depth), gouge.below(right_depth)]
    inner = joint.piece.pipe_od_mm / 2 - prep.thickness_mm
    groove = Groove(0.0, *walls)
    presented = edited(
        joint, pipe_od_mm=2 * (inner + depth), thickness_mm=groove.thickness_mm, right_thickness_mm=0.0, backing="closed", root_face_mm=0.0,
        high_low_mm=0.0, root_reinforcement_mm=0.0, from_inside=True, uses=in_a_gouge(joint), plate_mm=_plate_mm(joint),
    )  # fmt: skip
    return Side(BACK, presented, groove, depth, turned=True)


def in_a_gouge(joint: PlanInputs) -> tuple[RodUse, ...]:
    """Rods of the back: what serves an open root has no place in a ground gouge; where nothing else is named the fill's rods begin it."""
    by_id = joint.rods_by_id
    roots = [use for use in joint.uses if use.role == "root" and use.rod in by_id and by_id[use.rod].family not in ("cellulosic", "tig")]
    roots = roots or [RodUse(role="root", rod=rod) for rod in joint.rods_for("fill")]
    return (*roots, *(use for use in joint.uses if use.role not in ("root", "hot")))


def _gouged_groove(joint: PlanInputs, shape: str, depth: float, nose: float) -> Wall:
    """A wall of the back's own groove with its nose gouged out; along a square edge the gouge keeps to it.

    A nose that stands beyond the gouge (`nose` below 0) is cut off by it and joined by a floor.
    """
    half_gap = joint.prep.root_gap_mm / 2
    if shape == SQUARE:
        return straight((0.0, 0.0), (half_gap, 0.0), (half_gap, depth))
    bevel = cut(joint.prep, shape, joint.prep.back_bevel_deg, depth - nose, 0.0).outwards(half_gap)
    if nose < 0.0:
        upper = bevel.raised(nose).above(0.0)
        return Wall((*straight((0.0, 0.0), (upper.pieces[0].d0, 0.0)).pieces, *upper.pieces))
    return _wider(gouged(depth, joint.prep.gouge_radius_mm, min(joint.prep.gouge_angle_deg, joint.prep.back_bevel_deg)), bevel, nose)


def gouged(depth: float, radius: float, angle_deg: float) -> Wall:
    """Half a gouge, ground clean: an arc from the centre line, then straight sides; shallow ones are all arc."""
    steepest = math.degrees(math.asin(max(0.0, 1.0 - depth / radius))) if depth < radius else 0.0
    return rounded(depth, 0.0, radius, max(angle_deg, steepest))


def _wider(gouge: Wall, bevel: Wall, nose: float) -> Wall:
    """The outermost of gouge and bevel at every height; the bevel begins at `nose`."""
    bevel = bevel.raised(nose)
    low, high = nose, gouge.height

    def inside(y: float) -> bool:
        return bevel.reach(y) < gouge.reach(y)

    if inside(high - 1e-9):
        return gouge
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if inside(middle) else (low, middle)
    lower, upper = gouge.below(high), bevel.above(high)
    step = straight((lower.pieces[-1].d1, high), (upper.pieces[0].d0, high)).pieces if high <= nose + 1e-6 else ()
    return Wall((*lower.pieces, *step, *upper.pieces))
