"""What makes a joint the repair of another: where it lies along that weld, how its hollow is dug, how thick the plate is around it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

from banister.core.joint.boat import RANGES, Boat, Dig
from banister.core.remark import Figure, Remark, fault
from banister.core.value import Struct

if TYPE_CHECKING:
    from banister.core.joint.preparation import Preparation

MOST_MM = 1e5


class RepairOf(Struct, frozen=True, kw_only=True):
    """The joint that is repaired (by id), which of its repairs this is, the record it was decided by, and the hollow: from which side, mm.

    Depth, radius and sides of the hollow are those of the joint's own preparation; its ends run out one in `run_out`.
    """

    joint: str
    nth: int = 1
    record: int = 0
    side: str = "face"
    from_mm: float = 0.0
    bottom_mm: float = 20.0
    run_out: float = 3.0
    plate_mm: float = 20.0

    def boat(self, prep: Preparation) -> Boat:
        """The hollow."""
        dig = Dig(radius_mm=prep.root_radius_mm, side_deg=prep.bevel_left_deg, run_out=self.run_out)
        return Boat(depth_mm=prep.thickness_mm, bottom_mm=self.bottom_mm, from_mm=self.from_mm, dig=dig)


def repairing_faults(repair: RepairOf, prep: Preparation) -> Iterator[Remark]:
    """What a repair cannot be."""
    low, high = RANGES["run_out"]
    if not low <= repair.run_out <= high:
        yield fault("repair.range", "repair.run_out", window=Figure((low, high), "ratio"))
    for name in ("from_mm", "bottom_mm", "plate_mm"):
        value = getattr(repair, name)
        if not math.isfinite(value) or abs(value) > MOST_MM or (name != "from_mm" and value <= 0.0):
            yield fault("repair.figure", f"repair.{name}", what=Figure(f"repairing.{name}", "word"))
    if repair.plate_mm < prep.thickness_mm:
        yield fault("repair.plate", "repair.plate_mm", plate=Figure(repair.plate_mm, "fine_length"), depth=Figure(prep.thickness_mm, "fine_length"))
