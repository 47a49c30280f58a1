"""The one mutable object of the window: the job with its history, the plans, and what is selected."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from banister.core.drawing.habit import ISO
from banister.core.polygon import holds
from banister.core.job import Job, same_work
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import Pin
from banister.core.plan.answers import Study, plan_answer, study_of
from banister.core.judge.check import OUTSIDE_, Judged, checked
from banister.core.joint.working import ANSWERS
from banister.core.plan.plan import PLANNER_VERSION, Pass, Plan
from banister.core.units import Units, minutes
from banister.desktop.dialogs import Dialogs
from banister.desktop.lane import Arrived, Lane, Work
from banister.job.history import History

if TYPE_CHECKING:
    from banister.core.heat.line import HeatLine
    from banister.core.judge.coverage import Covered

AT_ONCE_S = 0.05
SLOW_ABOVE_MM = 32.0
MINUS = "\N{MINUS SIGN}"


@dataclass(slots=True)
class Planned:
    """Plans of one joint value, filled in as they come."""

    joint: Joint
    rods: tuple[Any, ...]
    plans: dict[str, Plan] = field(default_factory=dict)
    study: Study | tuple[Any, ...] | None = None
    judged: tuple[Judged, ...] | None = None
    outside: frozenset[str] | None = None
    covered: tuple[Covered, ...] | None = None
    heat: HeatLine | None = None
    heat_asked: bool = False

    def forget_check(self) -> None:
        """Judge again when next asked: the joint's limits or its plan changed."""
        self.judged = self.outside = self.covered = self.heat = None
        self.heat_asked = False


class Store(QObject):
    """Holds the job; every view renders on `changed` and edits through `edit`."""

    changed = Signal()
    selection_changed = Signal()

    def __init__(self, lane: Lane, dialogs: Dialogs | None = None) -> None:
        super().__init__()
        self.dialogs = dialogs
        self.history: History | None = None
        self.saved: Job | None = None
        self.joint_id = ""
        self.units = Units()
        self.habit = ISO
        self.note = ""
        self.anchor: tuple[float, float, str] | None = None
        self._planned: dict[str, Planned] = {}
        self._lane = lane
        self._key = 0
        self._slow = False
        self._stop_heat: Callable[[], None] = lambda: None
        lane.ready.connect(self._arrived)

    # --- the job -----------------------------------------------------------------------------
    @property
    def job(self) -> Job | None:
        """The job, or None on the start page."""
        return None if self.history is None else self.history.job

    @property
    def joint(self) -> Joint | None:
        """The joint that is shown."""
        if self.job is None or not self.job.joints:
            return None
        return next((j for j in self.job.joints if j.id == self.joint_id), self.job.joints[0])

    @property
    def dirty(self) -> bool:
        """True if something would be lost by closing."""
        return self.job is not None and self.job != self.saved

    def open(self, job: Job | None, saved: bool = True) -> None:
        """Show another job (or the start page)."""
        self.history = None if job is None else History(job)
        self.saved = job if saved else None
        self.joint_id = job.joints[0].id if job is not None and job.joints else ""
        self.anchor, self.note = None, ""
        self._planned.clear()
        self._refresh()

    def mark_saved(self) -> None:
        """What is shown is on disk."""
        self.saved = self.job
        self.changed.emit()

    def edit(self, job: Job, name: str, merge: str = "") -> None:
        """Commit a new job value as one named step, and say what it changed."""
        if self.history is None:
            return
        before = self.plan
        if self.history.commit(job, name, merge):
            self._refresh(before, name)

    def edit_joint(self, step: str, merge: str = "", /, **fields: Any) -> None:
        """Commit new values of fields of the shown joint."""
        if self.job is not None and self.joint is not None:
            self.edit(self.job.with_joint(edited(self.joint, **fields)), step, merge)

    def settle(self) -> None:
        """A drag or a run of typing is over: the next edit is its own step."""
        if self.history is not None:
            self.history.settle()

    def undo(self) -> None:
        """Step back."""
        self._step("Undone", None if self.history is None else self.history.undo)

    def redo(self) -> None:
        """Step forward."""
        self._step("Done again", None if self.history is None else self.history.redo)

    def _step(self, word: str, step: Any) -> None:
        before = self.plan
        name = step() if step is not None else ""
        if name:
            self._refresh(before, f"{word}: {name}")

    def show_joint(self, joint_id: str) -> None:
        """Show another joint of the job."""
        self.joint_id, self.anchor, self.note = joint_id, None, ""
        self._refresh()

    def set_units(self, inches: bool) -> None:
        """Millimetres or inches for the whole window."""
        self.units = Units(inches)
        self.changed.emit()

    def set_habit(self, habit: str) -> None:
        """Dimensions and symbol in the ISO or the AWS manner."""
        self.habit = habit
        self.changed.emit()

    # --- plans -------------------------------------------------------------------------------
    @property
    def planned(self) -> Planned | None:
        """The plans of the shown joint."""
        return None if self.joint is None else self._planned.get(self.joint.id)

    @property
    def plan(self) -> Plan | None:
        """The chosen answer of the shown joint, or None while it is being planned."""
        found = self.planned
        return None if found is None or self.joint is None else found.plans.get(self.joint.working.chosen)

    @property
    def judged(self) -> tuple[Judged, ...]:
        """The check of the shown plan."""
        found = self.planned
        if found is None or self.plan is None or self.joint is None:
            return ()
        if found.judged is None:
            found.judged = checked(self.joint, self.plan)
        return found.judged

    @property
    def covered(self) -> tuple[Covered, ...]:
        """Joint and plan against the procedure document and the welder; empty where neither is in the job."""
        found, job, joint = self.planned, self.job, self.joint
        if found is None or job is None or joint is None or self.plan is None:
            return ()
        if job.procedure_of(joint) is None and job.welder_of(joint) is None:
            return ()
        if found.covered is None:
            from banister.job.procedures import covered_today

            found.covered = covered_today(job, joint, self.plan)
        return found.covered

    @property
    def heat(self) -> HeatLine | None:
        """The schedule of the shown plan with its temperature line, None until it was asked for and came."""
        return None if self.planned is None else self.planned.heat

    def ask_heat(self) -> None:
        """Have the shown plan's schedule computed beside the window; the views are drawn again when it comes."""
        found, joint, plan = self.planned, self.joint, self.plan
        if found is None or joint is None or plan is None or not plan.feasible or found.heat_asked:
            return
        from banister.core.heat.line import heat_line

        found.heat_asked = True

        def arrived(_: int, line: HeatLine | None) -> None:
            if self.plan is plan and found.joint is joint:
                found.heat = line
                self.changed.emit()

        self._stop_heat()  # only the newest edit's schedule counts
        self._stop_heat = self._lane.each(heat_line, [(joint, plan)], arrived, lambda: None)

    def rod_types(self) -> dict[str, str]:
        """Type of every rod of the job by its id."""
        return {} if self.job is None else {rod.id: rod.type for rod in self.job.rods}

    @property
    def outside(self) -> frozenset[str]:
        """Passes with a figure outside."""
        lines, found = self.judged, self.planned
        if found is None or not lines:
            return frozenset()
        if found.outside is None:
            uncovered = (pass_id for line in self.covered if line.verdict == OUTSIDE_ for pass_id in line.pass_ids)
            found.outside = frozenset((*(line.pass_id for line in lines if line.verdict == OUTSIDE_ and line.pass_id), *uncovered))
        return found.outside

    def take(self) -> None:
        """Take the shown plan: it is stored in the job with the planner's version."""
        if self.job is not None and self.joint is not None and self.plan is not None and self.plan.feasible:
            self.edit(self.job.taking(self.joint, self.plan, PLANNER_VERSION), f"Take the plan of {self.joint.id}")

    def _refresh(self, before: Plan | None = None, name: str = "") -> None:
        joint, job = self.joint, self.job
        if joint is not None and job is not None:
            known = self._planned.get(joint.id)
            if known is not None:
                known.forget_check()
            if known is not None and known.rods == job.rods and same_work(edited(known.joint, chosen=joint.working.chosen), joint):
                known.joint = joint
            else:
                self._planned[joint.id] = Planned(joint, job.rods)
            self._plan_now(self._planned[joint.id], job)
            self.note = _what_changed(before, self.plan, name) if name else ""
        self.changed.emit()

    def _plan_now(self, planned: Planned, job: Job) -> None:
        joint = planned.joint
        taken = job.taken_for(joint)
        if taken is not None:
            planned.plans[taken.plan.answer] = taken.plan
        if joint.working.chosen not in planned.plans and (joint.prep.thickness_mm <= SLOW_ABOVE_MM or not self._slow):
            start = time.perf_counter()
            planned.study = planned.study or study_of(joint, job.rods_by_id)
            planned.plans[joint.working.chosen] = plan_answer(planned.study, joint.working.chosen)
            self._slow = time.perf_counter() - start > AT_ONCE_S
        missing = [a for a in (joint.working.chosen, *ANSWERS) if a not in planned.plans]
        if missing:
            self._key += 1
            for answer in dict.fromkeys(missing):
                self._lane.ask(self._key, joint, job.rods_by_id, answer)

    def each(self, work: Work, items: Sequence[tuple[Any, ...]], arrived: Arrived, finished: Callable[[], None]) -> Callable[[], None]:
        """Longer work item by item beside the window; returns what stops it."""
        return self._lane.each(work, items, arrived, finished)

    def _arrived(self, key: int, joint: Joint, plan: Plan) -> None:
        found = self._planned.get(joint.id)
        if found is not None and same_work(edited(found.joint, chosen=joint.working.chosen), joint):
            found.plans[plan.answer] = plan
            if plan.answer == found.joint.working.chosen:
                found.forget_check()
            self.changed.emit()

    # --- selection ---------------------------------------------------------------------------
    @property
    def selected(self) -> Pass | None:
        """The bead that holds the selected point; beads are recomputed, so the point is what stays."""
        if self.anchor is None or self.plan is None:
            return None
        x, y, role = self.anchor
        same = [p for p in self.plan.passes if p.role == role]
        held = next((p for p in same if holds(p.outline_mm, x, y)), None)
        return held or min(same, key=lambda p: (p.aim_mm[0] - x) ** 2 + (p.aim_mm[1] - y) ** 2, default=None)

    def select(self, found: Pass | None) -> None:
        """Select a bead everywhere."""
        from banister.core.polygon import centroid

        self.anchor = None if found is None else (*centroid(found.outline_mm), found.role)
        self.selection_changed.emit()

    def select_step(self, step: int) -> None:
        """Select the next or the previous bead."""
        if self.plan is None or not self.plan.passes:
            return
        at = self.selected
        last = len(self.plan.passes) - 1
        i = (0 if step > 0 else last) if at is None else min(max(at.number - 1 + step, 0), last)
        self.select(self.plan.passes[i])

    def pin(self, name: str, **values: Any) -> None:
        """Pin something of the selected bead; an earlier pin on it is replaced."""
        found, joint = self.selected, self.joint
        if found is None or joint is None or self.anchor is None:
            return
        x, y, role = self.anchor
        old = self.pin_of(found)
        fresh = replace(old, **values) if old is not None else Pin(x_mm=x, y_mm=y, role=role, side=found.side, **values)
        kept = tuple(p for p in joint.working.pins if p is not old)
        self.edit_joint(name, pins=(*kept, fresh))

    def release(self) -> None:
        """Release the pin of the selected bead."""
        found, joint = self.selected, self.joint
        if found is not None and joint is not None:
            old = self.pin_of(found)
            if old is not None:
                self.edit_joint(f"Release pass {found.number}", pins=tuple(p for p in joint.working.pins if p is not old))

    def pin_of(self, found: Pass) -> Pin | None:
        """The pin on a bead or on its layer."""
        if self.joint is None or self.plan is None:
            return None
        layer = [p for p in self.plan.passes if p.layer == found.layer]
        for pin in self.joint.working.pins:
            if pin.role == found.role and pin.side == found.side and any(holds(p.outline_mm, pin.x_mm, pin.y_mm) for p in layer):
                return pin
        return None


def _what_changed(before: Plan | None, after: Plan | None, name: str) -> str:
    if before is None or after is None or not before.passes or not after.passes:
        return name
    said = []
    if len(before.passes) != len(after.passes):
        said.append(f"beads {len(before.passes)} \N{RIGHTWARDS ARROW} {len(after.passes)}")
    rods = sum(after.rods_by_consumable().values()) - sum(before.rods_by_consumable().values())
    if rods:
        said.append(f"rods {'+' if rods > 0 else MINUS}{abs(rods)}")
    seconds = after.total_time_s - before.total_time_s
    if abs(seconds) >= 30:
        said.append(f"time {'+' if seconds > 0 else MINUS}{minutes(abs(seconds))}")
    return f"{name}: " + (", ".join(said) if said else "same beads, rods and time")
