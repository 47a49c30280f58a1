"""Which figures describe a joint: the ones a form shows, a file needs and a drawing dimensions."""

from __future__ import annotations

from banister.core.joint.joint import LIMITS, Joint
from banister.core.joint.kinds import BACKINGS, COMPOUND, ROUND, SECOND_SIDES, SEQUENCES, SQUARE
from banister.core.units import Units

_FILLET = ("thickness_mm", "leg_left_mm", "leg_right_mm", "fillet_angle_deg", "root_gap_mm")
_BACKED = {
    "bar": ("bar_thickness_mm", "bar_width_mm", "bar_gap_mm"),
    "ceramic": ("ceramic_width_mm", "ceramic_depth_mm"),
}  # fmt: skip


def figures_of(joint: Joint) -> tuple[str, ...]:
    """The fields that shape a joint, in the order a drawing office gives them."""
    kind = joint.kind
    if kind.fillet:
        return _FILLET
    found = ["thickness_mm", "right_thickness_mm", "high_low_mm", "root_gap_mm"]
    if joint.right_thickness_mm and joint.right_thickness_mm != joint.thickness_mm:
        found.append("taper")
    found += [f for f, shape in (("bevel_left_deg", kind.left), ("bevel_right_deg", kind.right)) if shape != SQUARE]
    if COMPOUND in kind.shapes:
        found += ["knee_mm", "upper_bevel_deg"]
    if ROUND in kind.shapes:
        found += ["root_radius_mm", "root_level_mm"]
    if kind.double:
        found += ["front_share", "back_bevel_deg"]
    if kind.has_face:
        found.append("root_face_mm")
    found += _BACKED.get(joint.backing, ())
    if joint.second_side == "gouge":
        found += ["gouge_into_mm", "gouge_radius_mm", "gouge_angle_deg"]
    return tuple(found)


def kind_in_words(joint: Joint) -> str:
    """Preparation, what is behind the root and the second side, in words."""
    if joint.kind.fillet:
        return joint.kind.title
    second = "" if joint.second_side == "none" else f", second side {SECOND_SIDES[joint.second_side]}"
    order = f", {SEQUENCES[joint.sequence]}" if joint.second_side != "none" else ""
    return f"{joint.kind.title}, {BACKINGS[joint.backing]}{second}{order}"


def figures_in_words(joint: Joint, units: Units) -> str:
    """The figures that shape a joint beside its thickness; those that are nought are left out."""
    said = []
    for field in figures_of(joint):
        value = getattr(joint, field)
        if field in ("thickness_mm", "fillet_angle_deg") or not value:
            continue
        shown = units.with_unit(value) if field.endswith("_mm") else f"{value:g}" + ("\N{DEGREE SIGN}" if field.endswith("_deg") else "")
        said.append(f"{LIMITS[field][0]} {shown}")
    return "; ".join(said) or "none"


def in_short(joint: Joint, units: Units) -> str:
    """A joint in a few words, for lists and the stair."""
    kind = joint.kind
    if kind.fillet:
        return f"{kind.title.removeprefix('fillet, ')} fillet, legs {units.length(joint.leg_left_mm)} and {units.length(joint.leg_right_mm)}"
    angle = "" if kind.shapes == {SQUARE} else f" {joint.bevel_right_deg:g}\N{DEGREE SIGN}"
    name = kind.title.removeprefix("single ").split(",")[0].removesuffix(" butt")
    return f"{units.length(joint.thickness_mm)} {name}{angle}, gap {units.length(joint.root_gap_mm)}"
