"""What a plan depends on, as one value: two joints that are alike in it have the same plans."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from banister.core.joint.joint import Joint
from banister.core.joint.piece import OnPiece, Piece
from banister.core.joint.preparation import Preparation
from banister.core.joint.repairing import RepairOf
from banister.core.joint.working import Choices, OwnRunOut, Pin, RodUse
from banister.core.limits.windows import Window
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

HELD = ("amps", "volts", "travel", "arc_energy", "heat_input", "run_out", "weave")
"""Quantities of a pass that the planner keeps inside their windows; the others are judged when heat is computed."""


class PlanInputs(OnPiece, Struct, frozen=True, kw_only=True):
    """A joint as the planner sees it. `rods` are those of the job: the ones in use and those a remedy may offer."""

    prep: Preparation
    piece: Piece
    uses: tuple[RodUse, ...] = ()
    windows: tuple[Window, ...] = ()
    own_run_out: tuple[OwnRunOut, ...] = ()
    choices: Choices = Choices()
    pins: tuple[Pin, ...] = ()
    sequence: str = "one-side"
    rods: tuple[Rod, ...] = ()
    from_inside: bool = False
    plate_mm: float = 0.0
    """Thickness the acceptance of the cap goes by where a side presents itself with another one; 0: its own."""
    repair: RepairOf | None = None

    @property
    def rods_by_id(self) -> Mapping[str, Rod]:
        """The rods by their id."""
        return {rod.id: rod for rod in self.rods}

    def rods_for(self, role: str) -> tuple[str, ...]:
        """Ids of the candidate rods for a role, in the order given."""
        return tuple(use.rod for use in self.uses if use.role == role)


def inputs_of(joint: Joint, rods: Iterable[Rod] = ()) -> PlanInputs:
    """What of a joint its plans depend on: no names, no limits of heat, no spare rods, not where a window came from."""
    w = joint.working
    return PlanInputs(
        prep=joint.prep, piece=joint.piece, uses=w.rods, windows=tuple(replace(one, origin="") for one in w.windows if one.quantity in HELD),
        own_run_out=w.own_run_out, choices=w.choices, pins=w.pins, sequence=w.sequence, rods=tuple(rods),
        plate_mm=0.0 if joint.repair is None else joint.repair.plate_mm, repair=joint.repair,
    )  # fmt: skip
