"""The sides a joint is welded from, each as a groove of its own with y from its root up to its face.

A single groove has its front; a double one, or one that is gouged or sealed behind, a back as well.
The second side is planned on the shape the gouge leaves. A fillet is turned so that its face is level.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from banister.core.beads.surface import Point, Surface, groove_surface, wedge_surface
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import edited
from banister.core.joint.kinds import SQUARE
from banister.core.joint.preparations import cut, fillet_throat_mm
from banister.core.joint.wall import Wall, rounded, straight
from banister.core.plan.inputs import PlanInputs

FRONT, BACK = "front", "back"
SEAL_DEPTH_MM = 1.0
"""Ground off the root before a sealing run (shop figure)."""


@dataclass(frozen=True)
class Side:
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
    whole = groove_of(joint.prep)
    closed = joint.prep.backing == "closed"
    root_y = (joint.prep.back_depth_mm if joint.prep.kind.double else 0.0) + (joint.prep.root_face_mm if closed else 0.0)
    groove = Groove(whole.gap_mm, *(w.above(root_y).raised(-root_y) for w in (whole.left, whole.right))) if root_y else whole
    hang = 0.0 if joint.prep.kind.double else joint.choices.root_reinforcement_mm
    presented = edited(
        joint, thickness_mm=groove.thickness_mm, right_thickness_mm=0.0, root_face_mm=0.0 if closed else joint.prep.root_face_mm,
        root_reinforcement_mm=hang,
    )  # fmt: skip
    return Side(FRONT, presented, groove, root_y)


def _back(joint: PlanInputs, second: str) -> Side:
    """The second side as the gouge (or the grinder, for a sealing run) leaves it."""
    back = joint.prep.back_depth_mm if joint.prep.kind.double else 0.0
    unwelded = 0.0 if joint.prep.backing != "closed" else joint.prep.root_face_mm
    depth = back + SEAL_DEPTH_MM if second == "seal" else back + unwelded + joint.prep.gouge_into_mm
    depth = max(depth, SEAL_DEPTH_MM)
    walls = [gouged(depth, joint.prep.gouge_radius_mm, joint.prep.gouge_angle_deg)] * 2
    if joint.prep.kind.double:
        walls = [_gouged_groove(joint, shape, depth, depth - back) for shape in (joint.prep.kind.left, joint.prep.kind.right)]
    inner = joint.piece.pipe_od_mm / 2 - joint.prep.thickness_mm
    presented = edited(
        joint, pipe_od_mm=2 * (inner + depth), thickness_mm=depth, right_thickness_mm=0.0, backing="closed", root_face_mm=0.0, high_low_mm=0.0,
        root_reinforcement_mm=0.0,
    )  # fmt: skip
    return Side(BACK, presented, Groove(0.0, *walls), depth, turned=True)


def _gouged_groove(joint: PlanInputs, shape: str, depth: float, nose: float) -> Wall:
    """A wall of the back's own groove with its nose gouged out; along a square edge the gouge keeps to it."""
    half_gap = joint.prep.root_gap_mm / 2
    if shape == SQUARE:
        return straight((0.0, 0.0), (half_gap, 0.0), (half_gap, depth))
    bevel = cut(joint.prep, shape, joint.prep.back_bevel_deg, depth - nose, 0.0).outwards(half_gap)
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
