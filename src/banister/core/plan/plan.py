"""A plan: passes in welding order with their figures, all read off one simulated section."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from banister.core.beads.surface import Point, Surface
from banister.core.polygon import area
from banister.core.remark import Finding
from banister.core.rods.rod import EFFICIENCY, Rod, rods_needed

PLANNER_VERSION = "1"


@dataclass(frozen=True, slots=True)
class Pass:
    """One bead: its place in the section and everything a welder sets or watches."""

    id: str
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
    technique: str
    progression: str
    state: str
    why: str
    area_window: tuple[float, float]
    area_origin: str
    findings: tuple[Finding, ...] = ()
    side: str = "front"
    process: str = "SMAW"
    efficiency: float = EFFICIENCY["SMAW"]

    @property
    def volume_mm3(self) -> float:
        """Weld metal of the pass."""
        return self.area_mm2 * self.length_mm

    @property
    def run_out_mm(self) -> float:
        """Length of bead one rod makes."""
        return self.rod.run_out_mm(self.area_mm2)

    @property
    def rod_count(self) -> int:
        """Whole rods for the pass."""
        return rods_needed(self.volume_mm3, self.rod)

    @property
    def travel_mm_min(self) -> float:
        """Travel speed."""
        return self.rod.travel_mm_min(self.area_mm2, self.amps)

    @property
    def arc_energy_kj_mm(self) -> float:
        """Arc energy, k = 1."""
        return self.rod.arc_energy_kj_mm(self.area_mm2, self.amps, self.volts)

    @property
    def heat_input_kj_mm(self) -> float:
        """Heat input, arc energy times the efficiency."""
        return self.efficiency * self.arc_energy_kj_mm

    @property
    def arc_time_s(self) -> float:
        """Arc time of the pass."""
        return self.rod.arc_time_s(self.volume_mm3, self.amps)

    @property
    def simulated_area_mm2(self) -> float:
        """Shoelace of the outline: computed apart from the area the bead was laid with."""
        return area(self.outline_mm)


@dataclass(frozen=True, slots=True)
class CapShape:
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


@dataclass(frozen=True, slots=True)
class SectionFigures:
    """What else was read off the section, mm: depth below flush that the last fill leaves (least, mean,
    most), and the longest stretch of either wall that a single bead has to melt."""

    left_before_cap: tuple[float, float, float]
    wall_left: float
    wall_right: float


@dataclass(frozen=True, slots=True)
class Phase:
    """One stretch of the work in order: weld passes of a side, gouge it, or turn the piece."""

    action: str
    side: str
    passes: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Plan:
    """One of the answers, feasible or not; `reasons` say what blocks it and what would free it."""

    answer: str
    passes: tuple[Pass, ...] = ()
    reasons: tuple[Finding, ...] = ()
    findings: tuple[Finding, ...] = ()
    cost_s: float = math.nan
    cost_gap: float = math.nan
    total_time_s: float = 0.0
    cap: CapShape | None = None
    figures: SectionFigures | None = None
    sequence: tuple[Phase, ...] = ()
    surface: Surface | None = field(default=None, compare=False)

    @property
    def feasible(self) -> bool:
        """True if there are passes and nothing blocks them."""
        return bool(self.passes) and not self.reasons

    @property
    def turns(self) -> int:
        """How often the work is turned."""
        return sum(step.action == "turn" for step in self.sequence)

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
        return sum(p.volume_mm3 for p in self.passes) * 7.85e-6

    @property
    def peak_arc_energy_kj_mm(self) -> float:
        """Greatest arc energy of any pass."""
        return max((p.arc_energy_kj_mm for p in self.passes), default=0.0)

    @property
    def stops(self) -> int:
        """Rod changes inside passes."""
        return sum(p.rod_count - 1 for p in self.passes)

    def rods_by_consumable(self) -> dict[str, int]:
        """Whole rods by consumable, counted pass by pass (a part-used rod is not carried on)."""
        counts: dict[str, int] = {}
        for p in self.passes:
            counts[p.rod.id] = counts.get(p.rod.id, 0) + p.rod_count
        return dict(sorted(counts.items()))
