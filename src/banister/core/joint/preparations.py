"""From the figures of a joint to the two walls of its groove."""

from __future__ import annotations

import math

from banister.core.joint.kinds import BEVEL, COMPOUND, SQUARE
from banister.core.joint.preparation import Preparation
from banister.core.joint.wall import Wall, bevelled, rounded, straight, two_angled


def walls_of(prep: Preparation) -> tuple[Wall, Wall]:
    """The left and right wall through the whole thickness, from y = 0 at the root or the back."""
    if prep.kind.fillet:
        return fillet_walls(prep)
    kind = prep.kind
    left, right = prep.plate_heights_mm
    return (_through(prep, kind.left, prep.bevel_left_deg, left), _through(prep, kind.right, prep.bevel_right_deg, right))


def _through(prep: Preparation, shape: str, angle: float, t: float) -> Wall:
    if shape == SQUARE:
        return straight((0.0, 0.0), (0.0, t))
    if not prep.kind.double:
        return cut(prep, shape, angle, t, prep.root_face_mm)
    back = prep.back_depth_mm
    front = t - prep.root_face_mm - back
    lower = cut(prep, shape, prep.back_bevel_deg, back, 0.0).upside_down(back)
    upper = cut(prep, shape, angle, front + prep.root_face_mm, prep.root_face_mm).raised(back)
    return Wall((*lower.pieces, *upper.pieces))


def cut(prep: Preparation, shape: str, angle: float, height: float, face: float) -> Wall:
    """One wall as it is cut from one side, `height` deep with its root face at the foot."""
    if shape == SQUARE:
        return straight((0.0, 0.0), (0.0, height))
    if shape == BEVEL:
        return bevelled(height, face, angle)
    if shape == COMPOUND:
        return two_angled(height, face, angle, min(prep.knee_mm, height), prep.upper_bevel_deg)
    return rounded(height, face, prep.root_radius_mm, angle, prep.root_level_mm)


def fillet_throat_mm(prep: Preparation) -> float:
    """Design throat: height of the triangle of the two legs over its longest side."""
    a, b, angle = prep.leg_left_mm, prep.leg_right_mm, math.radians(prep.fillet_angle_deg)
    chord = math.sqrt(a * a + b * b - 2 * a * b * math.cos(angle))
    return a * b * math.sin(angle) / chord


def fillet_walls(prep: Preparation) -> tuple[Wall, Wall]:
    """The faces of the two plates, turned so that the face of the fillet is level."""
    throat = fillet_throat_mm(prep)

    def wall(leg: float) -> Wall:
        return straight((0.0, 0.0), (math.sqrt(max(leg * leg - throat * throat, 0.0)), throat))

    return wall(prep.leg_left_mm), wall(prep.leg_right_mm)
