"""A repair planned: the boat from either side, laid by the planner like any other groove, each pass with its own length; and through, both ways of it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence

from banister.core.fitup.places import Course
from banister.core.heat.thermal import limits_of
from banister.core.inspect.kinds import FACE, ROOT
from banister.core.inspect.observed import Observation
from banister.core.joint.boat import RANGES, Boat, Defect, Dig, boat_for, dug_boat, from_the_other_side, goes_through
from banister.core.joint.groove import Groove
from banister.core.joint.joint import Joint, edited
from banister.core.joint.positions import FLAT, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.joint.working import AT_ONCE, BALANCED, RodUse
from banister.core.plan.dug import as_dug, chalk_mm
from banister.core.plan.inputs import inputs_of
from banister.core.plan.one_side import SideStudy, side_plan, side_study
from banister.core.plan.plan import Plan
from banister.core.plan.sides import FRONT, Side, gouged, in_a_gouge
from banister.core.plan.timing import turning_s
from banister.core.remark import Figure, Refused, Remark, fault, outside, watch
from banister.core.rods.rod import Rod
from banister.core.typed import turned, typed
from banister.core.units import Units
from banister.core.value import Struct

DIG_MM3_S = 40.0
"""Metal ground out in a second, beside what turning the work takes (typical)."""
WARMER_K, WARMER_CRACK_K, THICK_MM, BEYOND_HEAT_MM = 25.0, 50.0, 30.0, 75.0
"""A repair is preheated so much warmer, after a crack or over a thickness so much, to the whole length and so far beyond (typical)."""
THIN_LIGAMENT_MM, THIN_ROD_MM = 6.0, 3.2
INSIDE = ("301", "2011", "3041", "401", "4011", "4012", "4013")
CRACKS = ("100", "101", "102", "103", "104")
BEVEL_DEG, GAP_MM, FACE_MM = 25.0, 3.0, 1.5
RANGE_KINDS = {"run_out": "ratio", "side_deg": "angle"}
"""Figures of how a boat is dug that are no lengths, by their kind."""
LEAST_INSIDE_MM = 600.0
"""A pipe is dug from inside from this bore on."""
DUG, DUG_MM, REACH_MM = "dug_mm", (0.5, 500.0), 1.0
"""How deep it was really dug: less is a scratch, more a slip; and how far short of its ends a hollow may be measured."""
PLATE_POSITION = {FLAT: "1G", OVERHEAD: "4G", VERTICAL_UP: "3G", VERTICAL_DOWN: "3G"}


class Way(Struct, frozen=True):
    """One way in: from which side, its boat, the passes with the length of each, chalk marks, and the time with digging and turning, s."""

    side: str
    boat: Boat
    plan: Plan
    chalk_mm: tuple[float, ...]
    digging_s: float
    turning_s: float

    @property
    def total_s(self) -> float:
        """From the first spark of the grinder to the last of the arc."""
        return self.digging_s + self.turning_s + self.plan.total_time_s

    @property
    def rods(self) -> int:
        """Rods to burn."""
        return sum(p.rod_count for p in self.plan.passes)

    @property
    def metal_mm3(self) -> float:
        """The metal of its passes."""
        return sum(p.area_mm2 * p.length_mm for p in self.plan.passes)


class Through(Struct, frozen=True):
    """A side from which less than the ligament would be left: how much, and where it opens as a groove of its own (`opened`)."""

    side: str
    left_mm: float
    opened: Plan


class Repair(Struct, frozen=True):
    """A planned repair: ways in, the shortest first; sides it goes through from; preheat (None: none is set); what stands against it."""

    defect: Defect
    ways: tuple[Way, ...]
    through: tuple[Through, ...]
    preheat_c: float | None
    heated_mm: float
    reasons: tuple[Remark, ...] = ()


def defect_faults(defect: Defect, thickness_mm: float, weld_mm: float, closed: bool, dig: Dig | None = None) -> tuple[Remark, ...]:
    """What of a defect cannot be."""
    found: list[Remark] = []
    for name in ("top_mm", "height_mm", "length_mm"):
        value = getattr(defect, name)
        if not math.isfinite(value) or value < 0 or (name == "height_mm" and value == 0):
            found.append(outside("repair.figure", what=Figure(f"repair.{name}", "word")))
    if found:
        return tuple(found)
    if defect.top_mm + defect.height_mm > thickness_mm + 1e-9:
        found.append(outside("repair.deep", most=Figure(thickness_mm, "fine_length")))
    if not math.isfinite(defect.from_mm) or (not closed and not 0.0 <= defect.from_mm <= weld_mm):
        found.append(outside("repair.place", window=Figure((0.0, weld_mm), "long_length")))
    if boat_for(defect, dig).length_mm > weld_mm:
        found.append(outside("repair.long", length=Figure(boat_for(defect, dig).length_mm, "long_length"), weld=Figure(weld_mm, "long_length")))
    return tuple(found)


def range_fault(name: str, value: float) -> Remark | None:
    """What is wrong with one figure of how a boat is dug; None where it is within what may be chosen."""
    low, high = DUG_MM if name == DUG else RANGES[name]
    return None if low <= value <= high else fault("repair.range", name, window=Figure((low, high), RANGE_KINDS.get(name, "fine_length")))


def repair_of(joint: Joint, defect: Defect, rods: Iterable[Rod], weld_mm: float, closed: bool, cap_mm: float = 0.0, dig: Dig | None = None,
              dug: Sequence[tuple[float, float]] = ()) -> Repair:  # fmt: skip
    """A repair from both sides: the boat from the face is dug through the cap. `dug` are the depths that were really dug, at places along the weld."""
    found, shape = tuple(rods), dig or Dig()
    t = min(joint.prep.thickness_mm, joint.prep.right_thickness_mm or joint.prep.thickness_mm)
    wrong = [range_fault(name, getattr(shape, name)) for name in RANGES] + [range_fault(DUG, depth) for _, depth in dug]
    faults = (*(one for one in wrong if one is not None), *defect_faults(defect, t, weld_mm, closed, shape))
    preheat = preheat_c(joint, defect)
    boat = boat_for(defect, shape)
    heated = boat.length_mm + 2 * BEYOND_HEAT_MM
    if faults:
        return Repair(defect, (), (), preheat, heated, faults)
    ways, through = list[Way](), list[Through]()
    for side in (FACE, ROOT):
        if side == ROOT and not can_reach_root(joint):
            continue
        seen = defect if side == FACE else from_the_other_side(defect, t)
        own = boat_for(seen, shape)
        if dug and side == FACE:
            own = dug_boat(own, _about(dug, defect, weld_mm if closed else 0.0))
        if goes_through(own, t):
            through.append(Through(side, t - own.depth_mm, _opened(joint, own, found)))
            continue
        way = _way(joint, side, own, found, t, cap_mm if side == FACE else 0.0)
        if isinstance(way, Way):
            ways.append(way)
    return Repair(defect, tuple(sorted(ways, key=lambda way: way.total_s)), tuple(through), preheat, heated)


def reach_remarks(defect: Defect, way: Way, course: Course) -> Iterator[Remark]:
    """A hollow that was measured and does not reach over what is dug out."""
    begins, ends = way.boat.from_mm, way.boat.from_mm + way.boat.bottom_mm
    if begins > defect.from_mm + REACH_MM or ends < defect.from_mm + defect.length_mm - REACH_MM:
        yield watch("repair.short", start=course.figure(begins), end=course.figure(ends))


def _about(dug: Sequence[tuple[float, float]], defect: Defect, round_mm: float) -> list[tuple[float, float]]:
    """Stations on the lap of the weld the defect lies on: round a pipe a place has many."""
    if not round_mm:
        return list(dug)
    middle = defect.from_mm + defect.length_mm / 2
    return [(middle + (s - middle + round_mm / 2) % round_mm - round_mm / 2, depth) for s, depth in dug]


def dug_stations(text: str, course: Course, units: Units) -> tuple[tuple[float, float], ...]:
    """Depths dug as they were typed: a depth, or PLACE=DEPTH; PLACE=DEPTH; nothing at all is none. Refused says what is wrong."""
    found = list[tuple[float, float]]()
    for part in (part for part in text.split(";") if part.strip()):
        place, equals, depth = part.rpartition("=")
        found.append((course.place(place.strip(), units) if equals else 0.0, typed(depth, "length", units)))
    if (len(found) > 1 and "=" not in text) or text.count("=") not in (0, len(found)):
        raise Refused(fault("repair.dug", DUG))
    for _, deep in found:
        if (wrong := range_fault(DUG, deep)) is not None:
            raise Refused(wrong)
    return tuple(found)


def dug_turned(text: str, course: Course, before: Units, now: Units) -> str:
    """Depths dug as they were typed, in other units."""
    parts = []
    for part in text.split(";"):
        place, equals, depth = part.rpartition("=")
        parts.append(f"{course.turned(place.strip(), before, now)}{equals}{turned(depth.strip(), 'length', before, now)}")
    return "; ".join(parts)


def can_reach_root(joint: Joint) -> bool:
    """True for a plate, and for a pipe one gets into."""
    bore = joint.piece.pipe_od_mm - 2 * joint.prep.thickness_mm
    return joint.piece.form == "plate" or bore >= LEAST_INSIDE_MM


def defect_of(one: Observation, top_mm: float | None = None, height_mm: float | None = None) -> Defect:
    """What is to be dug out of what was seen; its depth is where its upper end lies under the face, of a surface fault how deep it goes.

    Raises Refused where nothing tells how deep it reaches.
    """
    inside = one.kind in INSIDE
    top = top_mm if top_mm is not None else (one.depth if inside else 0.0)
    height = height_mm if height_mm is not None else (one.height if inside else one.depth if one.depth is not None else one.size)
    if top is None or height is None:
        raise Refused(outside("repair.unknown", kind=Figure(f"defect.{one.kind}", "word")))
    return Defect(top_mm=top, height_mm=height, from_mm=one.s_mm, length_mm=one.length or 0.0, is_crack=one.kind in CRACKS)


def preheat_c(joint: Joint, defect: Defect) -> float | None:
    """How warm it is preheated: the joint's own and 25 K, 50 K after a crack or over 30 mm; None where the joint has none."""
    base = limits_of(joint).preheat_c
    more = WARMER_CRACK_K if defect.is_crack or joint.prep.thickness_mm > THICK_MM else WARMER_K
    return None if base is None else base + more


def _way(joint: Joint, side: str, boat: Boat, rods: Sequence[Rod], t: float, cap_mm: float) -> Way | None:
    study = side_study(_side(joint, boat, rods, t))
    if not isinstance(study, SideStudy):
        return None
    plan = side_plan(study, joint.working.chosen if joint.working.chosen in AT_ONCE else BALANCED)
    if not plan.feasible:
        return None
    choices = joint.working.choices
    timed = as_dug(plan, boat, choices)
    dug = boat.volume_mm3 + boat.width_mm * cap_mm * 2 / 3 * boat.length_mm
    turn = turning_s(joint, choices) if side == ROOT else 0.0
    return Way(side, boat, timed, tuple(chalk_mm(boat, timed.passes)), dug / DIG_MM3_S, turn)


def _side(joint: Joint, boat: Boat, rods: Sequence[Rod], t: float) -> Side:
    """The boat's full section as the planner sees a side: two walls of a gouge, closed under it, the cap judged by the plate's thickness."""
    wall = gouged(boat.depth_mm, boat.dig.radius_mm, boat.dig.side_deg)
    inputs = inputs_of(joint, rods)
    position = position_of(joint, boat)
    presented = edited(
        inputs, thickness_mm=boat.depth_mm, right_thickness_mm=0.0, backing="closed", root_face_mm=0.0, root_gap_mm=0.0, high_low_mm=0.0,
        root_reinforcement_mm=0.0, form="plate", position=position, length_mm=boat.length_mm, uses=uses_in(joint, rods, t - boat.depth_mm), plate_mm=t, pins=(),
    )  # fmt: skip
    return Side(FRONT, presented, Groove(0.0, wall, wall))


def uses_in(joint: Joint, rods: Iterable[Rod], ligament_mm: float) -> tuple[RodUse, ...]:
    """Rods of a gouge; over a thin ligament the first pass has none over 3.2."""
    inputs = inputs_of(joint, rods)
    uses, by_id = in_a_gouge(inputs), inputs.rods_by_id
    if ligament_mm >= THIN_LIGAMENT_MM:
        return uses
    thin = tuple(use for use in uses if use.role != "root" or by_id[use.rod].diameter_mm <= THIN_ROD_MM)
    return thin if any(use.role == "root" for use in thin) else uses


def position_of(joint: Joint, boat: Boat) -> str:
    """The position of the piece of weld that is repaired; of a fixed pipe by where it lies on the clock."""
    if joint.piece.form == "plate" or joint.runs == 1:
        return joint.piece.position if joint.piece.form == "plate" else "2G" if joint.piece.position == "2G" else "1G"
    around = math.pi * joint.piece.pipe_od_mm
    angle = ((boat.from_mm + boat.bottom_mm / 2) % around) / around * 360.0
    over = min(angle, 360.0 - angle)
    return PLATE_POSITION[FLAT if over < 45 else VERTICAL_UP if over < 135 else OVERHEAD]


def _opened(joint: Joint, boat: Boat, rods: Sequence[Rod]) -> Plan:
    """Opened through as a V with an open root, as long as the boat."""
    from banister.core.plan.answers import plan_joint

    opened = edited(joint, key="single-v", bevel_left_deg=BEVEL_DEG, bevel_right_deg=BEVEL_DEG, root_gap_mm=GAP_MM, root_face_mm=FACE_MM, backing="open",
                    high_low_mm=0.0, right_thickness_mm=0.0, form="plate", position=position_of(joint, boat), length_mm=boat.length_mm, pins=())  # fmt: skip
    return plan_joint(opened, {rod.id: rod for rod in rods})
