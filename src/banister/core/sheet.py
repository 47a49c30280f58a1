"""The sheet of a joint: everything that is printed of it, as values. Issued, it never changes again.

Wording, unit and layout are those of the program that prints; figures, verdicts and codes are those of the
day it was issued.
"""

from __future__ import annotations

from typing import TypeVar

from banister.core.heat.line import HeatLine
from banister.core.joint.joint import Joint
from banister.core.judge.judgement import Judgement
from banister.core.plan.identity import last_key
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import Point, thinned
from banister.core.remark import NOT_JUDGED, OUTSIDE, Figure, Remark, watch
from banister.core.rods.rod import Rod
from banister.core.value import Struct, asdict, replace

OUTLINE_TOLERANCE_MM, OUTLINE_DIGITS, FIGURES_KEPT = 0.02, 2, 6
UNSAID_PLANNER = "2"
"""The planner of sheets whose file does not name one: files leave out what was usual when they were first written."""
SAME = 1e-4
"""Figures nearer to one another than this share are printed alike."""
Value = TypeVar("Value")


class Heading(Struct, frozen=True, kw_only=True):
    """What stands over a sheet beside the joint's own names."""

    job: str
    site: str = ""
    prepared_by: str = ""
    checked_by: str = ""


class Sheet(Struct, frozen=True, kw_only=True, weakref=True):
    """A joint with its plan, heat and judgement; `heat` is None where none was kept (plans issued by version 3).

    `rods` are those of its passes, then the others the joint may be welded with, as they were (files of before kept those
    of its passes alone). `issued_on` is the day it was issued, '' for one that was not. `last_key` is the highest number
    any pass of the joint ever had in its key.
    """

    heading: Heading
    joint: Joint
    plan: Plan
    heat: HeatLine | None
    judgement: Judgement
    planner_version: str = UNSAID_PLANNER
    issued_on: str = ""
    last_key: int = 0
    rods: tuple[Rod, ...] = ()

    @property
    def is_issued(self) -> bool:
        """True once it was issued."""
        return bool(self.issued_on)


def rods_of(joint: Joint, plan: Plan, rods: tuple[Rod, ...]) -> tuple[Rod, ...]:
    """The rods of a plan's passes, and of the job's those that else may be welded with."""
    of_passes = {p.rod.id: p.rod for p in plan.passes}
    named = {use.rod for use in joint.working.rods}
    return (*of_passes.values(), *(rod for rod in rods if rod.id in named and rod.id not in of_passes))


def issued(sheet: Sheet, on: str, used_key: int = 0) -> Sheet:
    """A sheet as it is kept: outlines thinned, figures rounded once and for all, so that the file holds what was printed."""
    passes = tuple(_kept(p) for p in sheet.plan.passes)
    plan = _rounded(replace(sheet.plan, passes=passes))
    return replace(sheet, plan=plan, heat=_rounded(sheet.heat), judgement=_rounded(sheet.judgement), issued_on=on,
                   last_key=max(used_key, last_key(sheet.plan), sheet.last_key))  # fmt: skip


def _kept(p: Pass) -> Pass:
    face = _thin(p.outline_mm[: p.face_points])
    base = _thin((p.outline_mm[p.face_points - 1], *p.outline_mm[p.face_points :], p.outline_mm[0]))
    return replace(p, outline_mm=(*face, *base[1:-1]), face_points=len(face))


def _thin(points: tuple[Point, ...]) -> tuple[Point, ...]:
    return tuple((round(x, OUTLINE_DIGITS), round(y, OUTLINE_DIGITS)) for x, y in thinned(points, OUTLINE_TOLERANCE_MM))


def _rounded(value: Value) -> Value:
    """Every number in a value to six figures; rods stay as they are."""
    if isinstance(value, float):
        return float(f"{value:.{FIGURES_KEPT}g}")  # type: ignore[return-value]
    if isinstance(value, Figure):
        return Figure(_rounded(value.value), value.kind)  # type: ignore[return-value]
    if isinstance(value, tuple):
        return tuple(_rounded(one) for one in value)  # type: ignore[return-value]
    if isinstance(value, Remark):
        figures = {name: _rounded(figure) for name, figure in value.figures.items()}
        return replace(value, figures=figures, place=_rounded(value.place))
    if isinstance(value, Struct) and not isinstance(value, Rod):
        return type(value)(**{name: _rounded(one) for name, one in asdict(value).items()})
    return value


def changed_since(sheet: Sheet, joint: Joint, rods: tuple[Rod, ...]) -> tuple[str, ...]:
    """What is other in a joint than when its sheet was issued: plan, heat, limits, names (the words `changed.KEY`); empty if nothing."""
    before, found = sheet.joint, []
    if not still_planned(sheet, joint, rods) or before.working.chosen != joint.working.chosen:
        found.append("plan")
    if (before.heat, before.readings, before.metal) != (joint.heat, joint.readings, joint.metal):
        found.append("heat")
    if before.working.windows != joint.working.windows:
        found.append("limits")
    names = ("name", "drawing", "procedure", "procedure_revision", "welder")
    if any(getattr(before, name) != getattr(joint, name) for name in names):
        found.append("names")
    return tuple(found)


def still_planned(sheet: Sheet, joint: Joint, rods: tuple[Rod, ...]) -> bool:
    """True while the joint would be planned from what the sheet was, whichever answer is chosen now.

    Rods count where the joint uses them; a rod that only a remedy could offer does not.
    """
    used = {use.rod for use in joint.working.rods}
    now = {rod.id: rod for rod in rods if rod.id in used}
    return inputs_of(sheet.joint) == inputs_of(joint) and all(now.get(p.rod.id, p.rod) == p.rod for p in sheet.plan.passes)


def stands(sheet: Sheet, joint: Joint, rods: tuple[Rod, ...]) -> bool:
    """True while neither plan nor limits are others than were issued; names, readings and settings of heat leave a sheet standing."""
    return not {"plan", "limits"} & set(changed_since(sheet, joint, rods))


def differences(old: Sheet, new: Sheet) -> tuple[Remark, ...]:
    """What issuing again would change, figure by figure (codes `issue.KEY`); empty where the sheets say the same."""
    a, b = old.plan, new.plan
    pairs = [
        ("passes", len(a.passes), len(b.passes), "count"), ("rods", a.rods, b.rods, "count"), ("metal", a.weld_metal_kg, b.weld_metal_kg, "mass"),
        ("time", a.total_time_s, b.total_time_s, "duration"), ("peak", a.peak_arc_energy_kj_mm, b.peak_arc_energy_kj_mm, "energy"),
        ("outside", old.judgement.count(OUTSIDE), new.judgement.count(OUTSIDE), "count"),
        ("not_judged", old.judgement.count(NOT_JUDGED), new.judgement.count(NOT_JUDGED), "count"),
    ]  # fmt: skip
    if old.heat is not None and new.heat is not None:
        pairs.append(("ends", old.heat.schedule.end_s, new.heat.schedule.end_s, "duration"))
    changed = [(key, x, y, kind) for key, x, y, kind in pairs if abs(x - y) > SAME * max(abs(x), abs(y))]
    return tuple(watch(f"issue.{key}", before=Figure(float(x), kind), after=Figure(float(y), kind)) for key, x, y, kind in changed)
