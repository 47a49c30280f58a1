"""The kinds of joint: which shape each wall has, and which figures describe it.

One table instead of a class for every preparation: a kind is a pair of wall shapes, cut from one
side or from both. Their names are words (`preparation.KEY`, `backing.KEY`, `second.KEY`, `sequence.KEY`).
"""

from __future__ import annotations

from banister.core.value import Struct

SQUARE, BEVEL, COMPOUND, ROUND = "square", "bevel", "compound", "round"


class Kind(Struct, frozen=True):
    """A preparation: the shape of either wall, and whether it is cut from both sides."""

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
    "square": Kind(SQUARE, SQUARE),
    "single-v": Kind(BEVEL, BEVEL),
    "single-bevel": Kind(SQUARE, BEVEL),
    "compound-v": Kind(COMPOUND, COMPOUND),
    "single-u": Kind(ROUND, ROUND),
    "single-j": Kind(SQUARE, ROUND),
    "double-v": Kind(BEVEL, BEVEL, double=True),
    "double-bevel": Kind(SQUARE, BEVEL, double=True),
    "double-u": Kind(ROUND, ROUND, double=True),
    "fillet-tee": Kind(BEVEL, BEVEL, fillet=True),
    "fillet-lap": Kind(BEVEL, BEVEL, fillet=True),
    "fillet-corner": Kind(BEVEL, BEVEL, fillet=True),
}
BACKINGS = ("open", "bar", "ceramic", "closed")
SECOND_SIDES = ("none", "gouge", "seal")
SEQUENCES = ("one-side", "turn-back", "alternate")
"""One side, then the other; begin, turn, turn back; layer by layer in turn."""
FORMS = ("plate", "pipe")
PROGRESSIONS = ("up", "down")
