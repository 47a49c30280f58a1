"""Figures to start from when a preparation, a backing or a piece is chosen (typical shop figures)."""

from __future__ import annotations

from typing import Any

from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import BEVEL, COMPOUND, KINDS, ROUND, SQUARE, Kind
from banister.core.joint.positions import positions
from banister.core.joint.preparation import Preparation

V_ANGLE_DEG, BEVEL_ANGLE_DEG, COMPOUND_ANGLE_DEG, U_ANGLE_DEG, J_ANGLE_DEG = 30.0, 45.0, 37.5, 12.0, 20.0
"""A bevel against a square edge is opened wider: the arc has to reach the square wall."""
U_RADIUS_MM, J_RADIUS_MM = 6.0, 8.0
CLOSED_FACE_SHARE = 0.15
_SAME_PLACE = {
    "fillet": {"1G": "1F", "2G": "2F", "3G": "3F", "4G": "4F", "5G": "3F", "6G": "3F", "5F": "3F"},
    "fillet-pipe": {"1G": "1F", "2G": "2F", "3G": "5F", "4G": "4F", "5G": "5F", "6G": "5F", "3F": "5F"},
    "plate": {"1F": "1G", "2F": "2G", "3F": "3G", "4F": "4G", "5G": "3G", "6G": "3G", "5F": "3G"},
    "pipe": {"3G": "5G", "4G": "5G", "1F": "1G", "2F": "2G", "3F": "5G", "4F": "5G", "5F": "5G"},
}


def with_preparation(joint: Joint, preparation: str) -> Joint:
    """The joint with another preparation and figures that go with it; thickness, position and rods stay."""
    kind, t = KINDS[preparation], joint.prep.welded_thickness_mm
    fields: dict[str, Any] = {"key": preparation, "pins": ()}
    angles = [_angle(joint, kind, shape) for shape in (kind.left, kind.right)]
    fields |= {"bevel_left_deg": angles[0], "bevel_right_deg": angles[1], "back_bevel_deg": max(angles)}
    if kind.fillet:
        leg = min(max(round(0.7 * t), 4.0), 12.0)
        fields |= {"root_gap_mm": 0.0, "root_face_mm": 0.0, "backing": "closed", "second_side": "none",
                   "leg_left_mm": leg, "leg_right_mm": leg, "high_low_mm": 0.0, "right_thickness_mm": 0.0}  # fmt: skip
        return in_place(edited(joint, **fields))
    if joint.prep.kind.fillet:
        fields |= {"backing": "open", "root_gap_mm": 3.0, "root_face_mm": 1.5}
        joint = edited(joint, backing="open")
    if kind.shapes == {SQUARE} or joint.prep.backing in ("bar", "ceramic"):
        fields["root_face_mm"] = 0.0
    elif joint.prep.root_face_mm == 0.0:
        fields["root_face_mm"] = 1.5
    if COMPOUND in kind.shapes:
        fields["knee_mm"] = round(0.55 * t)
    if ROUND in kind.shapes:
        depth = (t - 2.0) / (2 if kind.double else 1)
        fields["root_radius_mm"] = min(U_RADIUS_MM if kind.left == ROUND else J_RADIUS_MM, round(0.8 * depth, 1))
    if kind.double:
        fields |= {"second_side": "gouge", "front_share": 0.5}
        if joint.prep.backing in ("bar", "ceramic"):
            fields |= {"backing": "open", "root_gap_mm": 3.0, "root_face_mm": 1.5}
    elif joint.prep.kind.double:
        fields["second_side"] = "none"
    return in_place(edited(joint, **fields))


def _angle(joint: Joint, kind: Kind, shape: str) -> float:
    """The angle for a wall: kept where it stood against a like wall, else the usual one."""
    if shape == SQUARE:
        return 0.0
    against_square = SQUARE in (kind.left, kind.right)
    if shape == ROUND:
        return J_ANGLE_DEG if against_square else U_ANGLE_DEG
    if shape == BEVEL and joint.prep.kind.shapes == kind.shapes:
        return joint.prep.bevel_right_deg
    return COMPOUND_ANGLE_DEG if shape == COMPOUND else BEVEL_ANGLE_DEG if against_square else V_ANGLE_DEG


def with_backing(joint: Joint, backing: str) -> Joint:
    """The joint with something else behind its root, and the gap and face that go with it."""
    return edited(joint, pins=(), **with_backing_figures(joint.prep, backing))


def with_backing_figures(prep: Preparation, backing: str) -> dict[str, Any]:
    """What of a preparation goes with something else behind its root."""
    gap, face = {"bar": (8.0, 0.0), "ceramic": (5.0, 0.0), "closed": (0.0, _closed_face_mm(prep))}.get(backing, (3.0, 1.5))
    second = "gouge" if backing == "closed" else prep.second_side if prep.kind.double else "none"
    face = 0.0 if prep.kind.shapes == {SQUARE} else face
    return {"backing": backing, "root_gap_mm": gap, "root_face_mm": face, "second_side": second}


def _closed_face_mm(prep: Preparation) -> float:
    """A face that leaves thin plates a groove to weld in: about a seventh of the plate, 1 to 3 mm."""
    return min(max(round(CLOSED_FACE_SHARE * prep.welded_thickness_mm * 2) / 2, 1.0), 3.0)


def in_place(joint: Joint) -> Joint:
    """The joint with a position that exists for it: the like one where its own does not."""
    form = joint.place_form
    if joint.piece.position in {p.code for p in positions(form)}:
        return joint
    return edited(joint, position=_SAME_PLACE[form].get(joint.piece.position, "1F" if joint.prep.kind.fillet else "1G"))
