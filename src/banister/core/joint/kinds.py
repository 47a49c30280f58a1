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
SECOND_SIDES = {"none": "not welded", "gouge": "gouged and welded", "seal": "sealing run"}
SEQUENCES = {"one-side": "one side, then the other", "turn-back": "begin, turn, turn back", "alternate": "layer by layer in turn"}
