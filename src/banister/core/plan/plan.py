"""A plan: passes in welding order with their figures, all read off one simulated section.

Every figure of a pass is a value, worked out once when the pass is planned: a plan that was issued reads
the same for ever, whatever the formulas become.
"""

from __future__ import annotations

import math
from typing import Any

from banister.core.beads.surface import Point
from banister.core.polygon import area
from banister.core.remark import Remark
from banister.core.rods.rod import STEEL_G_MM3, Rod, rods_needed
from banister.core.value import Struct

PLANNER_VERSION = "4"
STRINGER, WEAVE = "stringer", "weave"
TECHNIQUES = (STRINGER, WEAVE)


class Pass(Struct, frozen=True):
    """One bead: its place in the section and everything a welder sets or watches.

    `key` names the pass for good: it is given once, kept when the joint is planned anew, and never shown.
    `number` is its place in the order of welding. The first `face_points` of the outline are the face, from
    its left toe to its right one as seen from the pass's own side; the rest is the metal it lies on. Heat input is arc energy (k = 1) times `efficiency`.
    """

    key: str
    number: int
    role: str
    layer: int
    rod: Rod
    amps: float
    volts: float
    length_mm: float
    area_mm2: float
    optimum_area_mm2: float
    aim_mm: Point
    width_mm: float
    thickness_mm: float
    outline_mm: tuple[Point, ...]
    face_points: int
    technique: str
    progression: str
    state: str
    why: Remark
    area_window: tuple[float, float]
    area_origin: str
    run_out_mm: float
    rod_count: int
    travel_mm_min: float
    arc_energy_kj_mm: float
    heat_input_kj_mm: float
    arc_time_s: float
    process: str
    efficiency: float
    remarks: tuple[Remark, ...] = ()
    side: str = "front"

    @property
    def volume_mm3(self) -> float:
        """Weld metal of the pass."""
        return self.area_mm2 * self.length_mm

    @property
    def simulated_area_mm2(self) -> float:
        """Area of the outline: computed apart from the area the bead was laid with."""
        return area(self.outline_mm)


def pass_figures(rod: Rod, amps: float, volts: float, area_mm2: float, length_mm: float, runs: int = 1) -> dict[str, Any]:
    """What follows for a pass from its rod, setting, bead area, length, and the runs it is welded in."""
    energy = rod.arc_energy_kj_mm(area_mm2, amps, volts)
    volume = area_mm2 * length_mm
    return {
        "rod": rod, "amps": amps, "volts": volts, "area_mm2": area_mm2, "length_mm": length_mm, "process": rod.process,
        "efficiency": rod.efficiency, "run_out_mm": rod.run_out_mm(area_mm2), "rod_count": rods_needed(volume, rod, runs),
        "travel_mm_min": rod.travel_mm_min(area_mm2, amps), "arc_energy_kj_mm": energy, "heat_input_kj_mm": rod.efficiency * energy,
        "arc_time_s": rod.arc_time_s(volume, amps),
    }  # fmt: skip


class CapShape(Struct, frozen=True):
    """What the finished cap is like: heights over flush, overlaps past the edges, in mm.

    `min` and `max` are taken from 1.5 mm inside the edges, `edge_min` between the edges. The toe
    angles are between plate and face, measured outside the weld: 180 is a weld without a step.
    """

    min: float
    max: float
    edge_min: float
    overlap_left: float
    overlap_right: float
    toe_left_deg: float = 180.0
    toe_right_deg: float = 180.0


class SectionFigures(Struct, frozen=True):
    """What else was read off the section, mm: depth below flush that the last fill leaves (least, mean,
    most), and the longest stretch of either wall that a single bead has to melt."""

    left_before_cap: tuple[float, float, float]
    wall_left: float
    wall_right: float


class Phase(Struct, frozen=True):
    """One stretch of the work in order: weld passes of a side (by their keys), gouge it, or turn the piece."""

    action: str
    side: str
    passes: tuple[str, ...] = ()


class Plan(Struct, frozen=True):
    """One of the answers, feasible or not; `reasons` say what blocks it and what would free it."""

    answer: str
    passes: tuple[Pass, ...] = ()
    reasons: tuple[Remark, ...] = ()
    remarks: tuple[Remark, ...] = ()
    cost_s: float = math.nan
    cost_gap: float = math.nan
    total_time_s: float = 0.0
    cap: CapShape | None = None
    figures: SectionFigures | None = None
    sequence: tuple[Phase, ...] = ()

    @property
    def feasible(self) -> bool:
        """True if there are passes and nothing blocks them."""
        return bool(self.passes) and not self.reasons

    @property
    def turns(self) -> int:
        """How often the work is turned."""
        return sum(phase.action == "turn" for phase in self.sequence)

    @property
    def layers(self) -> int:
        """Number of layers."""
        return max((p.layer for p in self.passes), default=0)

    @property
    def arc_time_s(self) -> float:
        """Arc time of all passes."""
        return sum(p.arc_time_s for p in self.passes)

    @property
    def weld_metal_kg(self) -> float:
        """Mass of all weld metal, cap and root included."""
        return sum(p.volume_mm3 for p in self.passes) * STEEL_G_MM3 / 1000

    @property
    def peak_arc_energy_kj_mm(self) -> float:
        """Greatest arc energy of any pass."""
        return max((p.arc_energy_kj_mm for p in self.passes), default=0.0)

    @property
    def stops(self) -> int:
        """Rod changes inside passes."""
        return sum(p.rod_count - 1 for p in self.passes)

    @property
    def rods(self) -> int:
        """Whole rods of all passes."""
        return sum(p.rod_count for p in self.passes)

    @property
    def numbers(self) -> dict[str, int]:
        """The number of every pass by its key."""
        return {p.key: p.number for p in self.passes}

    def rods_by_consumable(self) -> dict[str, int]:
        """Whole rods by consumable, counted pass by pass (a part-used rod is not carried on)."""
        counts: dict[str, int] = {}
        for p in self.passes:
            counts[p.rod.id] = counts.get(p.rod.id, 0) + p.rod_count
        return dict(sorted(counts.items()))
