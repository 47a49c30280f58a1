"""The kinds of joint: which shape each wall has, and which figures describe it.

One table instead of a class for every preparation: a kind is a pair of wall shapes, cut from one
side or from both.
"""

from __future__ import annotations

from dataclasses import dataclass

SQUARE, BEVEL, COMPOUND, ROUND = "square", "bevel", "compound", "round"


@dataclass(frozen=True, slots=True)
class Kind:
    """A preparation: its title, the shape of either wall, and whether it is cut from both sides."""

    title: str
    left: str
    right: str
    double: bool = False
    fillet: bool = False

    @property
    def shapes(self) -> frozenset[str]:
        """The shapes that occur."""
        return frozenset((self.left, self.right))

    @property
    def has_face(self) -> bool:
        """True where a root face is cut; a square butt has none, nor has a fillet."""
        return not self.fillet and self.shapes != {SQUARE}


KINDS = {
    "square": Kind("square butt", SQUARE, SQUARE),
    "single-v": Kind("single V", BEVEL, BEVEL),
    "single-bevel": Kind("single bevel", SQUARE, BEVEL),
    "compound-v": Kind("compound V, two angles", COMPOUND, COMPOUND),
    "single-u": Kind("single U", ROUND, ROUND),
    "single-j": Kind("single J", SQUARE, ROUND),
    "double-v": Kind("double V", BEVEL, BEVEL, double=True),
    "double-bevel": Kind("double bevel", SQUARE, BEVEL, double=True),
    "double-u": Kind("double U", ROUND, ROUND, double=True),
    "fillet-tee": Kind("fillet, tee", BEVEL, BEVEL, fillet=True),
    "fillet-lap": Kind("fillet, lap", BEVEL, BEVEL, fillet=True),
    "fillet-corner": Kind("fillet, corner", BEVEL, BEVEL, fillet=True),
}
PREPARATIONS = {key: kind.title for key, kind in KINDS.items()}
BACKINGS = {
    "open": "open root",
    "bar": "steel bar",
    "ceramic": "stick-on ceramic",
    "closed": "closed, sound metal behind",
}
SECOND_SIDES = {"none": "not welded", "gouge": "gouged to sound metal and welded", "seal": "sealing run on the root"}
SEQUENCES = {
    "one-side": "all of one side, then the other",
    "turn-back": "root and fill, turn, finish, turn back",
    "alternate": "layer by layer in turn",
}
_FILLET = ("leg_left_mm", "leg_right_mm", "fillet_angle_deg", "root_gap_mm", "thickness_mm")


def figures_of(preparation: str, backing: str, second_side: str) -> tuple[str, ...]:
    """The fields of a joint that shape it, in the order a drawing office gives them."""
    kind = KINDS[preparation]
    if kind.fillet:
        return _FILLET
    found = ["thickness_mm", "right_thickness_mm", "high_low_mm", "root_gap_mm"]
    if kind.left != SQUARE:
        found.append("bevel_left_deg")
    if kind.right != SQUARE:
        found.append("bevel_right_deg")
    if COMPOUND in kind.shapes:
        found += ["knee_mm", "upper_bevel_deg"]
    if ROUND in kind.shapes:
        found += ["root_radius_mm", "root_level_mm"]
    if kind.double:
        found += ["front_share", "back_bevel_deg"]
    if kind.has_face:
        found.append("root_face_mm")
    found += {"bar": ["bar_thickness_mm", "bar_width_mm", "bar_gap_mm"], "ceramic": ["ceramic_width_mm", "ceramic_depth_mm"]}.get(backing, [])
    if second_side == "gouge" or (kind.double and second_side != "none"):
        found += ["gouge_into_mm", "gouge_radius_mm", "gouge_angle_deg"]
    return tuple(found)
