"""From the figures of a joint to the two walls of its groove."""

from __future__ import annotations

import math

from banister.core.joint.joint import Joint
from banister.core.joint.kinds import BEVEL, COMPOUND, SQUARE
from banister.core.joint.wall import Wall, bevelled, rounded, straight, two_angled


def walls_of(joint: Joint) -> tuple[Wall, Wall]:
    """The left and right wall through the whole thickness, from y = 0 at the root or the back."""
    if joint.kind.fillet:
        return fillet_walls(joint)
    kind = joint.kind
    left, right = joint.plate_heights_mm
    return (_through(joint, kind.left, joint.bevel_left_deg, left), _through(joint, kind.right, joint.bevel_right_deg, right))


def _through(joint: Joint, shape: str, angle: float, t: float) -> Wall:
    if shape == SQUARE:
        return straight((0.0, 0.0), (0.0, t))
    if not joint.kind.double:
        return cut(joint, shape, angle, t, joint.root_face_mm)
    back = joint.back_depth_mm
    front = t - joint.root_face_mm - back
    lower = cut(joint, shape, joint.back_bevel_deg, back, 0.0).upside_down(back)
    upper = cut(joint, shape, angle, front + joint.root_face_mm, joint.root_face_mm).raised(back)
    return Wall((*lower.pieces, *upper.pieces))


def cut(joint: Joint, shape: str, angle: float, height: float, face: float) -> Wall:
    """One wall as it is cut from one side, `height` deep with its root face at the foot."""
    if shape == SQUARE:
        return straight((0.0, 0.0), (0.0, height))
    if shape == BEVEL:
        return bevelled(height, face, angle)
    if shape == COMPOUND:
        return two_angled(height, face, angle, min(joint.knee_mm, height), joint.upper_bevel_deg)
    return rounded(height, face, joint.root_radius_mm, angle, joint.root_level_mm)


def fillet_throat_mm(joint: Joint) -> float:
    """Design throat: height of the triangle of the two legs over its longest side."""
    a, b, angle = joint.leg_left_mm, joint.leg_right_mm, math.radians(joint.fillet_angle_deg)
    chord = math.sqrt(a * a + b * b - 2 * a * b * math.cos(angle))
    return a * b * math.sin(angle) / chord


def fillet_walls(joint: Joint) -> tuple[Wall, Wall]:
    """The faces of the two plates, turned so that the face of the fillet is level."""
    throat = fillet_throat_mm(joint)

    def wall(leg: float) -> Wall:
        return straight((0.0, 0.0), (math.sqrt(max(leg * leg - throat * throat, 0.0)), throat))

    return wall(joint.leg_left_mm), wall(joint.leg_right_mm)
