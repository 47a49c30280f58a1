"""What cannot stand in an issued sheet: figures nobody welds by, words that are none, figures that do not follow from each other.

A sheet is frozen, so formulas of its day are not tried again; what holds whatever the formulas is.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterator

from banister.core.heat.line import HeatLine
from banister.core.heat.schedule import Schedule
from banister.core.heat.thermal import STATIONS
from banister.core.joint.faults import joint_faults
from banister.core.joint.kinds import PROGRESSIONS
from banister.core.limits.windows import ROLES
from banister.core.plan.plan import TECHNIQUES, Pass, Plan
from banister.core.plan.sides import BACK, FRONT
from banister.core.plan.spending import YIELD
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, WATCH, Figure, Remark, at, fault, unknown_word
from banister.core.rods.faults import rod_faults
from banister.core.sheet import Sheet
from banister.core.words import Speech

LIMITS = {
    "amps": ("current", 5.0, 2000.0), "volts": ("voltage", 5.0, 100.0), "length_mm": ("long_length", 0.1, 1e6), "area_mm2": ("area", 0.01, 1e4),
    "run_out_mm": ("long_length", 1.0, 1e5), "travel_mm_min": ("speed", 0.1, 1e5), "arc_energy_kj_mm": ("energy", 0.0, 100.0),
    "heat_input_kj_mm": ("energy", 0.0, 100.0), "arc_time_s": ("duration", 0.0, 1e7), "efficiency": ("ratio", 0.1, 1.0), "rod_count": ("count", 0, 1e6),
    "width_mm": ("length", 0.0, 1000.0), "thickness_mm": ("length", 0.0, 1000.0),
}  # fmt: skip
VERDICTS = (INSIDE, OUTSIDE, NOT_JUDGED, WATCH)
MOST_PASSES, MOST_POINTS, FARTHEST_MM, LONGEST_S, HOTTEST_C = 2000, 2000, 5000.0, 1e8, 3000.0
ORDINARY, NAMES = 1e6, ("name", "names")
FOLLOWS = 0.03
"""Figures that follow from each other differ by no more than this share: they are kept to six digits."""


def sheet_faults(sheet: Sheet, say: Speech | None = None) -> Iterator[Remark]:
    """Everything in an issued sheet that cannot be right, each with the path of the value; with `say` also remarks that cannot be said."""
    for found in joint_faults(sheet.joint):
        yield at(found, "joint")
    passes = sheet.plan.passes
    if len(passes) > MOST_PASSES:
        yield fault("sheet.passes", "plan.passes", most=Figure(MOST_PASSES, "count"))
        return
    keys = set[str]()
    for i, p in enumerate(passes):
        if p.key in keys or not p.key:
            yield fault("sheet.key", f"plan.passes[{i}].key", key=Figure(p.key[:40], "name"))
        keys.add(p.key)
        for found in _pass_faults(p, i):
            yield at(found, f"plan.passes[{i}]")
    of_passes = {p.rod for p in passes}
    for i, rod in enumerate(sheet.rods):
        for found in rod_faults(rod) if rod not in of_passes else ():
            yield at(found, f"rods[{i}]")
    yield from _order_faults(sheet.plan)
    if say is not None:
        yield from _remark_faults(sheet, say)
    if sheet.heat is not None:
        yield from _schedule_faults(sheet.heat.schedule, keys)
        yield from _line_faults(sheet.heat)


def _pass_faults(p: Pass, i: int) -> Iterator[Remark]:
    for name, (kind, low, high) in LIMITS.items():
        if not low <= (value := getattr(p, name)) <= high:  # nor is what is no number
            yield fault("sheet.range", name, value=Figure(float(value), kind), window=Figure((low, high), kind))
    words = (
        ("role", p.role, ROLES), ("side", p.side, (FRONT, BACK)), ("process", p.process, tuple(YIELD)), ("technique", p.technique, TECHNIQUES),
        ("progression", p.progression, ("", *PROGRESSIONS)),
    )  # fmt: skip
    for name, word, known in words:
        if word not in known:
            yield unknown_word(name, word, known)
    if p.number != i + 1:
        yield fault("sheet.number", "number", n=Figure(i + 1, "count"))
    for found in rod_faults(p.rod):
        yield at(found, "rod")
    inside = all(-FARTHEST_MM <= x <= FARTHEST_MM and -FARTHEST_MM <= y <= FARTHEST_MM for x, y in (*p.outline_mm, p.aim_mm))
    if not inside or not 3 <= len(p.outline_mm) <= MOST_POINTS or not 2 <= p.face_points <= len(p.outline_mm):
        yield fault("sheet.outline", "outline_mm", most=Figure(FARTHEST_MM, "long_length"))
    welded = p.travel_mm_min * p.arc_time_s / 60.0
    if math.isfinite(welded) and abs(welded - p.length_mm) > FOLLOWS * p.length_mm:
        yield fault("sheet.length", "arc_time_s", value=Figure(welded, "long_length"), follows=Figure(p.length_mm, "long_length"))
    energy = 60.0 * p.volts * p.amps / 1000.0 / p.travel_mm_min if p.travel_mm_min > 0 else 0.0
    for name, follows in (("arc_energy_kj_mm", energy), ("heat_input_kj_mm", p.efficiency * p.arc_energy_kj_mm)):
        value = float(getattr(p, name))
        if math.isfinite(value) and math.isfinite(follows) and abs(value - follows) > FOLLOWS * max(abs(follows), 1e-9):
            yield fault("sheet.follows", name, value=Figure(value, "energy"), follows=Figure(follows, "energy"))


def _remark_faults(sheet: Sheet, say: Speech) -> Iterator[Remark]:
    """Remarks with verdicts, codes and figures that there are: what cannot be said cannot be printed."""
    plan, heat = sheet.plan, sheet.heat
    where = {"judgement.remarks": sheet.judgement.remarks, "plan.remarks": plan.remarks, "plan.reasons": plan.reasons,
             "heat.schedule.remarks": () if heat is None else heat.schedule.remarks}  # fmt: skip
    where |= {f"plan.passes[{i}].remarks": (*p.remarks, p.why) for i, p in enumerate(plan.passes)}
    said: dict[Hashable, bool] = {}
    for path, remarks in where.items():
        for i, remark in enumerate(remarks):
            form = _form(remark)
            if form not in said:
                said[form] = _can_be_said(remark, say)
            if remark.verdict not in VERDICTS or not said[form]:
                yield fault("sheet.remark", f"{path}[{i}]", code=Figure(remark.code[:40], "name"))


def _form(remark: Remark) -> Hashable:
    """What decides whether a remark can be said (one thing reads otherwise than many): a sheet says few things of many numbers."""
    figures = tuple([(name, f.kind, f.value == 1 if name == "n" else _ordinary(f.value, f.kind)) for name, f in remark.figures.items()])
    return remark.code, remark.verdict, remark.place.side, figures, None if remark.mends is None else tuple(_form(one) for one in remark.mends)


def _ordinary(value: object, kind: str) -> Hashable:
    """An ordinary number or a name can be said whatever it is; all else is looked at as it is."""
    if isinstance(value, tuple):
        return tuple([_ordinary(one, kind) for one in value])
    return ... if (isinstance(value, (float, int)) and abs(value) < ORDINARY) or (isinstance(value, str) and kind in NAMES) else value


def _can_be_said(remark: Remark, say: Speech) -> bool:
    try:
        return bool(say.text(remark)) and say.remedy(remark) is not None
    except (KeyError, IndexError, ValueError, TypeError, AttributeError, OverflowError):
        return False


def _order_faults(plan: Plan) -> Iterator[Remark]:
    """Phases name passes there are."""
    known = {p.key for p in plan.passes}
    for i, phase in enumerate(plan.sequence):
        if wrong := [key for key in phase.passes if key not in known]:
            yield fault("sheet.phase", f"plan.sequence[{i}].passes", key=Figure(wrong[0][:40], "name"))


def _line_faults(heat: HeatLine) -> Iterator[Remark]:
    """A line with as many temperatures as times, and a band of waits for every pass in the schedule, or none at all."""
    lines = (heat.times, heat.likely, heat.low, heat.high)
    waits = len(heat.wait_bands_s) in (0, len(heat.schedule.passes))
    figures = [v for line in lines for v in line] + [v for band in (heat.ends_s, *heat.wait_bands_s) for v in band]
    if len({len(line) for line in lines}) > 1 or not waits or not all(math.isfinite(v) and abs(v) <= LONGEST_S for v in figures):
        yield fault("sheet.line", "heat")


def _schedule_faults(schedule: Schedule, keys: set[str]) -> Iterator[Remark]:
    """A schedule of the plan's own passes, in times that can be."""
    for i, p in enumerate(schedule.passes):
        where = f"heat.schedule.passes[{i}]"
        if p.key not in keys:
            yield fault("sheet.phase", f"{where}.key", key=Figure(p.key[:40], "name"))
        if p.hottest_station not in STATIONS:
            yield unknown_word(f"{where}.hottest_station", p.hottest_station, STATIONS)
        times = (p.start_s, p.end_s, p.wait_s, p.reheat_s)
        if not all(math.isfinite(t) and 0.0 <= t <= LONGEST_S for t in times) or p.end_s < p.start_s:
            yield fault("sheet.time", f"{where}.start_s")
        if not all(math.isfinite(c) and -273.0 <= c <= HOTTEST_C for c in (p.temp_c, p.preheat_point_c, p.arrival_c)):
            yield fault("sheet.temp", f"{where}.temp_c", most=Figure(HOTTEST_C, "temperature"))
