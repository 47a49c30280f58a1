"""What it is cut on: plate or pipe, how long the weld is, and how it lies while it is welded."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, overload

from banister.core.joint.positions import Position, position
from banister.core.joint.preparation import Preparation
from banister.core.value import Struct

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]


class Piece(Struct, frozen=True, kw_only=True):
    """The work: lengths in mm. `root_progression` '' is the progression of the rest.

    `least_bore_mm` is the smallest bore of a pipe that is welded from its inside here (600 to get in or reach in, shop figure).
    """

    form: str = "plate"
    length_mm: float = 500.0
    pipe_od_mm: float = 273.1
    position: str = "1G"
    progression: str = "up"
    root_progression: str = ""
    least_bore_mm: float = 600.0


class OnPiece:
    """A preparation on a piece: what follows from both."""

    __slots__ = ()
    prep: Preparation
    piece: Piece

    @property
    def from_inside(self) -> bool:
        """True where a pipe is welded from its bore: heights then go inwards."""
        return False

    @property
    def place(self) -> Position:
        """The welding position; KeyError for one that is not known for this kind of joint."""
        return position(self.piece.position, self.place_form)

    @property
    def place_form(self) -> str:
        """What its positions are those of: plate, pipe, or a fillet on either."""
        if not self.prep.kind.fillet:
            return self.piece.form
        return "fillet-pipe" if self.piece.form == "pipe" else "fillet"

    @property
    def stands(self) -> bool:
        """True for a plate that stands upright: its other side is reached by walking round."""
        return self.piece.form == "plate" and not self.prep.kind.fillet and self.piece.position in ("2G", "3G")

    @property
    def runs(self) -> int:
        """Stretches a pass is welded in: the two halves of a pipe that stands still, else one."""
        return 2 if self.piece.form == "pipe" and len(self.attitudes("fill")) > 1 else 1

    def role_word(self, role: str, side: str = "front") -> str:
        """The key of the word for a pass: a fillet's cap is its face, all of a sealed back is a sealing run."""
        if side == "back" and self.prep.second_side == "seal":
            return "role.seal"
        return "role.face" if role == "cap" and self.prep.kind.fillet else f"role.{role}"

    def attitudes(self, role: str) -> tuple[str, ...]:
        """The ways the pool lies while a role is welded; the root may go the other way than the rest."""
        piece = self.piece
        return self.place.attitudes(piece.root_progression if role == "root" and piece.root_progression else piece.progression)

    @overload
    def weld_length_mm(self, y_mm: float | None = None) -> float: ...

    @overload
    def weld_length_mm(self, y_mm: Floats | float) -> Floats | float: ...

    def weld_length_mm(self, y_mm: Floats | float | None = None) -> Floats | float:
        """Length of the weld, for a pipe round the circle at height(s) y (default: the face), for a fillet on one through its centroid."""
        if self.piece.form == "plate":
            return self.piece.length_mm
        height = self.prep.thickness_mm if y_mm is None else y_mm
        if self.prep.kind.fillet:
            return 2 * math.pi * (self.piece.pipe_od_mm / 2 + (self.prep.leg_left_mm + self.prep.leg_right_mm) / 6)
        if self.from_inside:
            return 2 * math.pi * (self.piece.pipe_od_mm / 2 - height)
        return 2 * math.pi * (self.piece.pipe_od_mm / 2 - self.prep.thickness_mm + height)
