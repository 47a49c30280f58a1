"""The planner's rules in one table, and what they make of a rod in a role of this joint."""

from __future__ import annotations

import math

from banister.core.joint.groove import Groove, cap_area_mm2
from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.limits.acceptance import cap_limit_mm
from banister.core.limits.windows import QUANTITIES, Bounds, bounds
from banister.core.plan.inputs import PlanInputs
from banister.core.remark import Figure
from banister.core.rods.ranges import PROCEDURE, THROAT, AreaRange, comfortable_area, own_area, usual_amps
from banister.core.rods.rod import Rod
from banister.core.value import Struct, replace

# All typical shop figures unless said otherwise; lengths in core diameters where named *_CORES.
STRINGER_ACROSS_CORES = 3.3
WEAVE_ACROSS_CORES, FILLET_UPHILL_CORES = 3.75, 4.4
SPLIT_FACTORS = {"early": 0.85, "usual": 1.0, "late": 1.12}
"""When a layer is split into more beads: factors on the widest single bead."""
STRINGER_WIDTH_CORES = 3.0
WIDEST_STRINGER = 1.3
PITCH_SHARE = (0.4, 0.8)
WEAVE_PITCH = 0.7
PITCH_PER_THICKNESS = 0.85
THICKNESS_CORES = (0.45, 1.15)
WEAVE_THICKNESS_CORES = 1.4
WIDEST_PER_THICKNESS = 5.8
"""A single fill bead wider than this for its thickness is a film, and its slag will not come off."""
SIDE_BY_SIDE_THICKNESS_CORES = 0.95
MOST_LAYER_MM = 5.0
ROD_FITS_CORES = 1.5
PLAN_ROOM = (1.02, 0.97)
WEAVE_CLASH_CORES, LEAST_LEFT = 2.0, 0.5
STRETCH = 1.25
"""How far the comfortable range is stretched, and said so, where a joint cannot be planned inside it."""
BRIDGED_GAP_CORES, DOWNHILL_GAP_CORES = (0.6, 1.4), (0.35, 1.0)
BRIDGED_FACE_CORES, DOWNHILL_FACE_CORES = 0.75, 0.5
"""What a root rod bridges and burns through; a cellulosic one downhill, as on pipelines, a smaller gap and a lighter face for its size."""
TIG_BRIDGES_AS_MM = 3.2
LEAST_GAP_CORES, WIDEST_GAP_CORES = 0.2, 2.0
"""Beyond these an open root is none, or does not hold: refused, where a gap outside BRIDGED_GAP_CORES only warns."""
THICKEST_FACE_CORES = 1.25
"""A face heavier than this is not burnt through: refused, where one over BRIDGED_FACE_CORES only warns."""
SQUARE_OPEN_UP_TO_MM = 6.0
THROAT_OVER_FACE_MM = 0.3
MELTED_EDGE_MM = 0.8
HOT_SKIPPED_BELOW_MM = 3.6
ROOT_BEADS_ON_BAR = 3
BAR_ROOT_LEAST, CLOSED_ROOT_LEAST = 0.75, 0.65
"""A first bead in a narrow gap on a bar, or in a nose on sound metal, may be this much smaller than the range for fill."""
NOSE_WIDTH_CORES, NOSE_THICKNESS_CORES, NOSE_THICKNESS_WIDTHS, NOSE_MOST_MM = 0.9, 1.6, 1.5, 6.0
"""A root in a closed nose: as wide at its top as the arc needs, and, a triangle being half its height thick, not too deep."""
TYPICAL_ENERGY = (0.5, 2.2)
TYPICAL_ENERGY_UPHILL = (0.8, 3.4)
CAP_COVER = 0.58
GAP_UNDER_BAR_MM = 1.6
FILLET_GAP_FREE_MM = 1.6
ONE_BEAD_UP_TO_MM = 5.5
"""Deepest groove on sound metal that one bead may fill."""
ONE_RUN_LEG_MM = {FLAT: 10.0, HORIZONTAL: 8.0, VERTICAL_UP: 12.0, VERTICAL_DOWN: 8.0, OVERHEAD: 8.0}
"""Largest fillet leg in one run by position (AWS D1.1 prequalified; unverified, enter from your copy)."""
ONE_RUN_CORES = 2.1
"""Depth of a fillet laid in one run, in core diameters: its wedge is half as thick as it is deep."""
MOST_RUN_OUT_BURNT = 2.0
"""Bead drawn from a rod, per length burnt: more than this no hand draws."""
REVEAL_MM = (0.3, 2.4)
DOME_MM = (1.1, 2.1)
DOME_WANTED_MM = 1.5
FILLET_DOME_MM = (0.2, 1.2)
FILLET_DOME_WANTED_MM = 0.6
"""A fillet is laid flat to slightly convex: it need only reach its throat everywhere."""
CAP_EDGE_MM = 1.5
CAP_EDGE_HEIGHT_MM = 0.5
BASIC_UPHILL_MOST_MM = 4.0
"""Largest low-hydrogen core vertical and overhead (AWS A5.1 / D1.1)."""


class Option(Struct, frozen=True):
    """A rod in a role: its setting and the bead areas (mm2) it may lay in this joint."""

    role: str
    rod: Rod
    amps: float
    volts: float
    low: float
    high: float
    middle: float
    half: float
    across_mm: float
    weave_limit_mm: float
    origin: str
    stretched: bool = False

    @property
    def energy_per_area(self) -> float:
        """Arc energy per bead area, kJ/mm per mm2: a constant of the rod and its setting."""
        return self.rod.arc_energy_kj_mm(1.0, self.amps, self.volts)

    @property
    def stringer_mm(self) -> float:
        """Width of a straight bead."""
        return STRINGER_WIDTH_CORES * self.rod.diameter_mm

    @property
    def widest_pitch_mm(self) -> float:
        """Widest pitch of beads side by side; the last of a layer is wider by its own foot."""
        return min(PITCH_SHARE[1] * self.stringer_mm, WEAVE_PITCH * self.weave_limit_mm)

    @property
    def is_open(self) -> bool:
        """True if any area is left inside all windows."""
        return self.low < self.high


def area_bounds(joint: PlanInputs, rod: Rod, role: str, amps: float, volts: float) -> dict[str, Bounds]:
    """What every window on energy, speed and run-out leaves of the bead area, mm2, by its quantity; only windows that are set."""
    unit, speed = rod.arc_energy_kj_mm(1.0, amps, volts), rod.travel_mm_min(1.0, amps)
    found = {}
    for quantity, per_area in (("arc_energy", unit), ("heat_input", unit * rod.efficiency)):
        window = bounds(joint.windows, quantity, role, rod.id)
        if window.is_set:
            found[quantity] = Bounds(window.low / per_area, window.high / per_area)
    for quantity, scale in (("travel", speed), ("run_out", rod.deposit_mm3)):
        window = bounds(joint.windows, quantity, role, rod.id)
        if window.is_set:
            found[quantity] = Bounds(scale / window.high if window.high > 0 else 0.0, scale / window.low if window.low > 0 else math.inf)
    return found


def _bounded_areas(joint: PlanInputs, rod: Rod, role: str, amps: float, volts: float) -> Bounds:
    """Procedure windows on energy, speed and run-out, as one window of bead area."""
    found = area_bounds(joint, rod, role, amps, volts).values()
    return Bounds(max((b.low for b in found), default=0.0), min((b.high for b in found), default=math.inf))


def clashing_window(joint: PlanInputs, rod: Rod, role: str) -> tuple[str, Figure] | None:
    """The window that leaves a rod the least of what a hand can lay with it, if that is under half; as quantity and window.

    A limit on bead width clashes where it is narrower than the rod needs to fit.
    """
    widest = bounds(joint.windows, "weave", role, rod.id)
    if widest.high < WEAVE_CLASH_CORES * rod.diameter_mm:
        return "weave", widest.figure(QUANTITIES["weave"])
    comfort = comfort_of(joint, rod, role)
    span, worst = max(comfort.high - comfort.low, 1e-9), (LEAST_LEFT, "")
    for quantity, area in area_bounds(joint, rod, role, *settings_of(joint, rod, role)).items():
        left = (min(comfort.high, area.high) - max(comfort.low, area.low)) / span
        worst = min(worst, (left, quantity))
    if not worst[1]:
        return None
    return worst[1], bounds(joint.windows, worst[1], role, rod.id).figure(QUANTITIES[worst[1]])


def comfort_of(joint: PlanInputs, rod: Rod, role: str) -> AreaRange:
    """The range a hand can hold: the welder's own run-out where there is one, else typical."""
    for own in joint.own_run_out:
        if own.rod == rod.id and own.position == joint.piece.position:
            return own_area(rod, own.run_out_mm)
    attitudes = joint.attitudes(role)
    return comfortable_area(rod, role, attitudes, joint.prep.open_root)


def settings_of(joint: PlanInputs, rod: Rod, role: str) -> tuple[float, float]:
    """Amps and volts for a rod in a role: usual ones, moved inside the procedure's windows."""
    attitudes = joint.attitudes(role)
    amps = bounds(joint.windows, "amps", role, rod.id).middle(usual_amps(rod, attitudes, role))
    return amps, bounds(joint.windows, "volts", role, rod.id).middle(rod.volts)


def option_of(joint: PlanInputs, rod: Rod, role: str, groove: Groove, stretch: float = 1.0) -> Option:
    """What a rod may do in a role of this joint; only the comfortable range is ever stretched."""
    amps, volts = settings_of(joint, rod, role)
    comfort = comfort_of(joint, rod, role)
    if role == "root" and joint.prep.open_root:
        comfort = _with_throat(comfort, joint, groove)
    if role == "root" and not joint.prep.open_root:
        comfort = replace(comfort, low=comfort.low * (CLOSED_ROOT_LEAST if joint.prep.backing == "closed" else BAR_ROOT_LEAST))
    if stretch > 1.0:
        low, high = comfort.low / stretch, comfort.high * stretch
        comfort = AreaRange(low, high, comfort.origin)
    window = _bounded_areas(joint, rod, role, amps, volts)
    low, high = max(comfort.low, window.low), min(comfort.high, window.high)
    origin = comfort.origin
    if (window.low > 0 or window.high < math.inf) and low > 0.9 * high:
        low, high, origin = max(window.low, 1.0), min(window.high, 3 * comfort.high), PROCEDURE
    energy = [bounds(joint.windows, quantity, role, rod.id).is_set for quantity in ("arc_energy", "heat_input")]
    low = max(low, rod.deposit_mm3 / (MOST_RUN_OUT_BURNT * rod.burnt_mm))
    if not any(energy) and role != "root":
        unit = rod.arc_energy_kj_mm(1.0, amps, volts)
        least, most = _typical_energy(joint, role)
        low, high = max(low, least / unit), min(high, most / unit)
    across, weave = _across(joint, rod, role)
    half = max((comfort.high - comfort.low) / 2, 1e-6)
    middle = min(max(comfort.middle, low), high)
    return Option(role, rod, amps, volts, low, high, middle, half, across, weave, origin, stretch > 1.0 and origin != PROCEDURE)


def _typical_energy(joint: PlanInputs, role: str) -> tuple[float, float]:
    attitudes = joint.attitudes(role)
    return TYPICAL_ENERGY_UPHILL if VERTICAL_UP in attitudes else TYPICAL_ENERGY


def _across(joint: PlanInputs, rod: Rod, role: str) -> tuple[float, float]:
    """Widest single bead across the groove, and the procedure's own limit on bead width."""
    attitudes = joint.attitudes(role)
    stringers = joint.choices.stringers_only or HORIZONTAL in attitudes
    cores = STRINGER_ACROSS_CORES if stringers else WEAVE_ACROSS_CORES
    if joint.prep.kind.fillet and attitudes == (VERTICAL_UP,) and not stringers:
        cores = FILLET_UPHILL_CORES
    weave = bounds(joint.windows, "weave", role, rod.id).high
    if joint.choices.stringers_only:
        weave = min(weave, STRINGER_WIDTH_CORES * rod.diameter_mm)
    return min(cores * SPLIT_FACTORS[joint.choices.split] * rod.diameter_mm, weave), weave


def root_metal_below(joint: PlanInputs) -> float:
    """Metal below the plate: two thirds of its depth times its width, as it hangs or as the ceramic shapes it."""
    width, depth = root_below_mm(joint)
    return cap_area_mm2(width, depth)


def root_below_mm(joint: PlanInputs) -> tuple[float, float]:
    """Width and depth of the metal a root leaves below the plate; nought on a bar or on sound metal."""
    if joint.prep.backing == "ceramic":
        return joint.prep.ceramic_width_mm, joint.prep.ceramic_depth_mm
    if joint.prep.open_root:
        return joint.prep.root_gap_mm + 2 * MELTED_EDGE_MM, joint.choices.root_reinforcement_mm
    return 0.0, 0.0


def throat_mm(joint: PlanInputs) -> float:
    """Least height of an open root: a little over the root face; half the plate in an open square butt."""
    if joint.prep.key == "square" and joint.prep.open_root:
        return 0.5 * joint.prep.thickness_mm
    return min(joint.prep.root_face_mm + THROAT_OVER_FACE_MM, joint.prep.thickness_mm)


def _with_throat(comfort: AreaRange, joint: PlanInputs, groove: Groove) -> AreaRange:
    needed = float(groove.area_below(throat_mm(joint))) + root_metal_below(joint)
    room = needed / (PLAN_ROOM[0] * PLAN_ROOM[1]) * 1.1
    if comfort.high >= room:
        return comfort
    return replace(comfort, high=room, origin=THROAT)


def bridging_cores(joint: PlanInputs, rod: Rod) -> tuple[bool, bool]:
    """Whether a rod bridges the root gap, and burns the root face through."""
    (low, high), most = bridged_cores(joint, rod)
    core = bridging_core_mm(rod)
    gap_ok = low * core - 1e-9 <= joint.prep.root_gap_mm <= high * core + 1e-9
    face = 0.0 if joint.prep.key == "square" else joint.prep.root_face_mm
    return gap_ok, face <= most * core + 1e-9


def bridged_cores(joint: PlanInputs, rod: Rod) -> tuple[tuple[float, float], float]:
    """Gaps a rod bridges and the face it burns through, in its cores: they belong to the technique."""
    if rod.family == "cellulosic" and VERTICAL_DOWN in joint.attitudes("root"):
        return DOWNHILL_GAP_CORES, DOWNHILL_FACE_CORES
    return BRIDGED_GAP_CORES, BRIDGED_FACE_CORES


def can_bridge(joint: PlanInputs, rod: Rod) -> bool:
    """False where a rod's open root would not hold, has no gap to get through, or leaves the face unmelted."""
    core, face = bridging_core_mm(rod), joint.prep.root_face_mm if joint.prep.kind.has_face else 0.0
    in_gap = LEAST_GAP_CORES * rod.diameter_mm <= joint.prep.root_gap_mm <= WIDEST_GAP_CORES * core
    return in_gap and face <= THICKEST_FACE_CORES * core


def bridging_core_mm(rod: Rod) -> float:
    """The core diameter a gap is measured by; a TIG pool bridges what a 3.2 mm electrode does."""
    return max(rod.diameter_mm, TIG_BRIDGES_AS_MM) if rod.process == "GTAW" else rod.diameter_mm


def one_bead_up_to_mm(joint: PlanInputs) -> float:
    """Depth that one bead may fill from the root to the face: by position for a fillet, whose throat that is."""
    if not joint.prep.kind.fillet:
        return ONE_BEAD_UP_TO_MM
    return min(ONE_RUN_LEG_MM[attitude] for attitude in joint.attitudes("cap")) / math.sqrt(2.0)


def domes(joint: PlanInputs) -> tuple[float, float, float]:
    """Least, greatest and wanted height of the cap over the chord of its edges, mm."""
    if joint.prep.kind.fillet:
        return (*FILLET_DOME_MM, FILLET_DOME_WANTED_MM)
    return (*DOME_MM, DOME_WANTED_MM)


def cap_edge_height(joint: PlanInputs) -> float:
    """Height the cap must have from 1.5 mm inside its edges on."""
    return 0.0 if joint.prep.kind.fillet else CAP_EDGE_HEIGHT_MM


def cap_limit(joint: PlanInputs, groove: Groove) -> float:
    """Greatest cap height of the chosen acceptance set, 2.5 mm (typical) where none is chosen."""
    width = groove.top_width_mm + 2 * joint.choices.cap_overlap_mm
    return cap_limit_mm(joint.choices.acceptance, joint.plate_mm or joint.prep.thickness_mm, width, joint.piece.form == "pipe")


def contact_angle_deg(joint: PlanInputs, role: str, rod: Rod) -> float:
    """How steeply a pool stands on the metal (chosen by eye on etched-looking sections, typical)."""
    attitudes = joint.attitudes(role)
    base = 34.0 if role == "cap" else 55.0 if rod.family == "cellulosic" and role != "root" else 40.0
    return base + (5.0 if HORIZONTAL in attitudes else 0.0)
