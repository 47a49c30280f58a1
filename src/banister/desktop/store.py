"""The one mutable object of the window: the session, how it is looked at, and what follows; every change is told with old and new."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from datetime import date
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from banister.core.care.rack import hours_of
from banister.core.heat.line import HeatLine
from banister.core.job import Job
from banister.core.joint.edits import nudged, set_figure
from banister.core.joint.figures import FIGURES
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import ANSWERS, Pin
from banister.core.journal import Record, corrected
from banister.core.judge.judgement import Judgement
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import centroid, holds
from banister.core.remark import Figure, Remark
from banister.core.sheet import differences, issued
from banister.core.units import Units, minutes
from banister.core.value import replace
from banister.core.words import Speech, Words
from banister.desktop.derived import Derived
from banister.desktop.errands import HEAT, PLAN, Runs
from banister.desktop.session import Session
from banister.desktop.snapshot import Snapshot, View
from banister.desktop.steps.inspect.inspecting import Inspecting
from banister.desktop.weld.following import FOLLOW, Following
from banister.job.library import Library

if TYPE_CHECKING:
    from banister.core.follow.facts import Telling, Told
    from banister.core.under_way import Welded
    from banister.desktop.steps.inspect.inspecting import Inspection

CHANGED_S = 30.0
"""A change of the time smaller than this is not worth a word."""

NOTHING_SELECTED: Mapping[str, Any] = {"anchor": None, "tack": 0, "inspect_seen": 0, "inspect_mm": 0.0}
"""How another joint is first looked at: no pass, tack or observation of the one before."""


class Store(QObject):
    """Holds the job; views draw what `changed(old, new)` brings and edit through it."""

    changed = Signal(object, object)
    noticed = Signal(str, bool)

    def __init__(self, errands: Runs, library: Library, words: Words, view: View | None = None, today: Callable[[], date] = date.today,
                 clock: Callable[[], float] = time.time) -> None:  # fmt: skip
        super().__init__()
        self.errands, self.library, self._words, self._today = errands, library, words, today
        self._clock, self.records, self.standing, self._as_it_was = clock, tuple[Record, ...](), tuple[Record, ...](), False
        self._tellings: dict[str, Telling] = {}
        errands.together = self.together
        self.session = Session()
        self.view = view or View()
        self.derived, self.following, self.inspecting = Derived(errands, self._publish), Following(errands, self._publish), Inspecting()
        self._edit_name, self._edit_merge = "", ""
        self._before: Plan | None = None
        self._refusal: Remark | None = None
        self._is_publishing = self._is_stale = False
        self.now = Snapshot(self._speech(), self.view)

    def _speech(self) -> Speech:
        return Speech(self._words, Units(self.view.inches))

    @property
    def today(self) -> date:
        """The day sheets are issued and documents judged on."""
        return self._today()

    @property
    def now_h(self) -> float:
        """Now, in hours; of a journal that is only shown, when its last record was made."""
        return hours_of(self.records[-1]) if self._as_it_was and self.records else self._clock() / 3600.0

    def take_records(self, records: tuple[Record, ...], as_it_was: bool = False) -> None:
        """The journal of the job as it is now."""
        self.records, self.standing, self._as_it_was = records, corrected(records).records, as_it_was
        self._publish()

    @property
    def inspection(self) -> Inspection | None:
        """The inspection of the shown joint; None without one."""
        return self.inspecting.of(self.now)

    @property
    def welded(self) -> Welded | None:
        """What was welded of the shown joint, and the plan as it follows; None also while that is worked out (`is_behind`)."""
        return self.following.welded(self.now)

    @property
    def is_behind(self) -> bool:
        """True while what was welded is being followed, and where that was stopped or failed."""
        return self.following.is_behind(self.now)

    @property
    def ids_taken(self) -> set[str]:
        """Ids a new joint may not have: those of the job, and those the journal speaks of, whose joints were taken out."""
        return {joint.id for joint in (self.job.joints if self.job is not None else ())} | {record.j for record in self.records}

    def when_followed(self, do: Callable[[], object]) -> None:
        """Do something to the shown joint as soon as what was welded of it is known, if it is still shown then."""
        sheet = self.now.issued
        self.following.when_followed(self.now, lambda: do() if self.now.issued is sheet else None)

    @property
    def say(self) -> Speech:
        """How the window talks."""
        return self.now.say

    # --- the session --------------------------------------------------------------------------
    @property
    def job(self) -> Job | None:
        """The job, or None on the start page."""
        return self.session.job

    @property
    def joint(self) -> Joint | None:
        """The joint that is shown."""
        job = self.job
        if job is None or not job.joints:
            return None
        return next((j for j in job.joints if j.id == self.view.joint_id), job.joints[0])

    def open(self, job: Job | None, saved: Job | None, step: str = "") -> None:
        """Show another job (or the start page), on a step, '' for the one that is shown; `saved` is what of it is on disk."""
        self.session.open(job, saved)
        self.derived.forget()
        first = job.joints[0].id if job is not None and job.joints else ""
        self.view = replace(self.view, joint_id=first, step=step or self.view.step, **NOTHING_SELECTED)
        self._told("", None)
        self._publish()

    def mark_saved(self) -> None:
        """What is shown is on disk."""
        self.session.mark_saved()
        self._publish()

    def edit(self, job: Job, name: str, merge: str = "") -> None:
        """Commit a new job value as one named step; steps of one `merge` are told together until they settle."""
        history = self.session.history
        if history is None:
            return
        before = self._before if merge and merge == self._edit_merge else self.now.plan
        if history.commit(job, name, merge):
            self._told(name, before, merge)
            self._publish()

    def edit_joint(self, step: str, merge: str = "", /, **fields: Any) -> None:
        """Commit new values of fields of the shown joint."""
        if self.job is not None and self.joint is not None:
            self.edit(self.job.with_joint(edited(self.joint, **fields)), step, merge)

    def choose(self, answer: str) -> None:
        """Another answer of the shown joint is shown, and issued."""
        if self.joint is not None and self.joint.working.chosen != answer:
            name = self.say(f"answer.{answer}" if answer in ANSWERS else "answer.point")
            self.edit_joint(self.say("edit.choose", answer=name), chosen=answer)

    def set_figure(self, key: str, value: float, merge: str = "") -> Remark | None:
        """Set one figure of the shown joint; where it cannot be, the reason is shown over the section and returned."""
        return self._figured(key, merge, lambda joint: set_figure(joint, key, value))

    def nudge(self, key: str, steps: int) -> Remark | None:
        """Move one figure of the shown joint by steps of a drag."""
        return self._figured(key, "", lambda joint: nudged(joint, key, steps, of_drag=True))

    def _figured(self, key: str, merge: str, change: Callable[[Joint], Joint | Remark]) -> Remark | None:
        job, joint = self.job, self.joint
        if job is None or joint is None:
            return None
        found = change(joint)
        if isinstance(found, Remark):
            self.refuse(found)
            return found
        figure = FIGURES[key]
        name = self.say("edit.figure", figure=self.say(figure.label), value=Figure(figure.of(found), figure.kind))
        if found == joint:
            self.refuse(None)
        else:
            self.edit(job.with_joint(found), name, merge)
        return None

    def refuse(self, remark: Remark | None) -> None:
        """Say why something cannot be, where the hand is."""
        self._refusal = remark
        self._publish()

    def settle(self) -> None:
        """A drag or a run of typing is over: the next edit is its own step."""
        if self.session.history is not None:
            self.session.history.settle()
        self._edit_merge = ""

    def undo(self) -> None:
        """Step back."""
        history = self.session.history
        self._stepped("edit.undone", history.undo if history is not None else None)

    def redo(self) -> None:
        """Step forward."""
        history = self.session.history
        self._stepped("edit.redone", history.redo if history is not None else None)

    def _stepped(self, word: str, step: Callable[[], str] | None) -> None:
        before = self.now.plan
        name = step() if step is not None else ""
        if name:
            self._told(self.say(word, name=name), before)
            self._publish()

    def issue(self) -> None:
        """Freeze everything that is printed of the shown joint, and say what that changed against the sheet before."""
        now, job = self.now, self.job
        if job is None or now.joint is None or now.plan is None or now.heat is None or not now.feasible:
            self.noticed.emit(self.say("issue.wait" if now.plan is None or now.feasible else "issue.no_plan"), True)
            return
        sheet = job.sheet_of(now.joint, now.plan, now.heat, self.library.rows, self._today())
        before = job.issued_for(now.joint)
        fresh = issued(sheet, self._today().isoformat(), before.last_key if before is not None else 0)
        self.edit(job.issuing(fresh), self.say("edit.issue", joint=now.joint.id))
        if before is not None:
            changes = differences(before, fresh)
            self._told(self.say("issue.again", what=", ".join(self.say.text(r) for r in changes) or self.say("issue.same")), None)
            self._publish()

    # --- looking ------------------------------------------------------------------------------
    def look(self, **changes: Any) -> None:
        """Look at the job another way: joint_id, inches, convention, dark, step."""
        if "joint_id" in changes:
            changes |= NOTHING_SELECTED
            self._told("", None)
        self.view = replace(self.view, **changes)
        self._publish()

    def select(self, found: Pass | None) -> None:
        """Select a pass everywhere; the point in it is what stays when passes are planned anew."""
        self.look(anchor=None if found is None else (*centroid(found.outline_mm), found.role))

    def select_step(self, step: int) -> None:
        """Select the next or the previous pass."""
        plan, at = self.now.plan, self.now.selected
        if plan is None or not plan.passes:
            return
        last = len(plan.passes) - 1
        i = (0 if step > 0 else last) if at is None else min(max(at.number - 1 + step, 0), last)
        self.select(plan.passes[i])

    # --- pins ---------------------------------------------------------------------------------
    def pin(self, name: str, **values: Any) -> None:
        """Pin something of the selected pass; an earlier pin on it is replaced."""
        found, joint, anchor = self.now.selected, self.joint, self.view.anchor
        if found is None or joint is None or anchor is None:
            return
        x, y, role = anchor
        old = self.pin_of(found)
        fresh = replace(old, **values) if old is not None else Pin(x_mm=x, y_mm=y, role=role, side=found.side, **values)
        kept = tuple(p for p in joint.working.pins if p is not old)
        self.edit_joint(name, pins=(*kept, fresh))

    def release(self) -> None:
        """Release the pin of the selected pass."""
        found, joint = self.now.selected, self.joint
        old = None if found is None else self.pin_of(found)
        if found is not None and joint is not None and old is not None:
            self.edit_joint(self.say("edit.release", number=str(found.number)), pins=tuple(p for p in joint.working.pins if p is not old))

    def pin_of(self, found: Pass) -> Pin | None:
        """The pin on a pass or on its layer."""
        plan, joint = self.now.plan, self.joint
        if plan is None or joint is None:
            return None
        layer = [p for p in plan.passes if p.layer == found.layer]
        same = (pin for pin in joint.working.pins if pin.role == found.role and pin.side == found.side)
        return next((pin for pin in same if any(holds(p.outline_mm, pin.x_mm, pin.y_mm) for p in layer)), None)

    # --- what follows -------------------------------------------------------------------------
    def ask_again(self) -> None:
        """Have computed what was stopped, or failed."""
        if self.joint is not None:
            self.derived.ask_again(self.joint)
            self.following.ask_again(self.now)
            self._publish()

    def ask_front(self) -> None:
        """Have what lies between the answers worked out for the shown joint."""
        if self.joint is not None and self.now.feasible:
            self.derived.ask_front(self.joint)

    def stop(self, key: str) -> None:
        """Stop an errand; what it would have brought stays away."""
        self.errands.stop(key)
        if key == FOLLOW:
            self.following.stopped()
        if key in (PLAN, HEAT, FOLLOW):
            self._publish()

    def _told(self, name: str, before: Plan | None, merge: str = "") -> None:
        self._edit_name, self._before, self._edit_merge, self._refusal = name, before, merge, None

    @contextmanager
    def together(self) -> Iterator[None]:
        """What is changed meanwhile is told as one."""
        was, self._is_publishing = self._is_publishing, True
        try:
            yield
        finally:
            self._is_publishing = was
            if self._is_stale and not was:
                self._publish()

    def _publish(self) -> None:
        """Tell the views; what arrives while they are told is told after it."""
        self._is_stale = True
        if self._is_publishing:
            return
        self._is_publishing = True
        try:
            while self._is_stale:
                self._is_stale = False
                now = self._snapshot()
                if self._is_stale:
                    continue  # what was asked for was there at once: told together
                old, self.now = self.now, now
                self.changed.emit(old, self.now)
        finally:
            self._is_publishing = False

    def _snapshot(self) -> Snapshot:
        job, joint, say = self.job, self.joint, self._speech()
        if job is None or joint is None:
            return Snapshot(say, self.view, job, dirty=self.session.dirty)
        plans = self.derived.plans(job, joint)
        plan = plans.get(joint.working.chosen)
        sheet = job.issued_for(joint)
        heat = self.derived.heat(job, joint, plan, sheet)
        old = self.now
        return Snapshot(
            say, self.view, job, joint, old.plans if _same(old.plans, plans) else plans, plan, heat, self._judgement(job, joint, plan, heat), sheet,
            sheet is not None and job.standing_for(joint) is sheet, _selected(plan, self.view), self.session.dirty,
            what_changed(self._before, plan, self._edit_name, say), self._refusal, self.derived.front(joint), self.derived.hints(joint),
            self.records, self.standing, self._told_of(joint), self.following.arrival,
        )  # fmt: skip

    def _told_of(self, joint: Joint) -> Told | None:
        if not any(r.j == joint.id and r.p for r in self.standing):
            return None
        from banister.core.follow.facts import Telling  # the first window, where nothing is welded, does without

        found = self._tellings.setdefault(joint.id, Telling(joint.id)).of(self.standing)
        return found if found.passes else None

    def _judgement(self, job: Job, joint: Joint, plan: Plan | None, heat: HeatLine | None) -> Judgement | None:
        """That of the sheet while nothing at all changed since it was issued, else what the judge says now."""
        sheet = job.issued_for(joint)
        if sheet is not None and plan is sheet.plan and sheet.heat is not None and not job.changed_since_issued(joint):
            return sheet.judgement
        return self.derived.judgement(joint, plan, heat, job.documents_of(joint, self.library.rows, self._today()))


def _same(a: Mapping[str, Plan], b: Mapping[str, Plan]) -> bool:
    return a.keys() == b.keys() and all(a[key] is b[key] for key in a)


def _selected(plan: Plan | None, view: View) -> Pass | None:
    """The pass that holds the selected point, or the nearest one of its role."""
    if view.anchor is None or plan is None:
        return None
    x, y, role = view.anchor
    same = [p for p in plan.passes if p.role == role]
    held = next((p for p in same if holds(p.outline_mm, x, y)), None)
    return held or min(same, key=lambda p: (p.aim_mm[0] - x) ** 2 + (p.aim_mm[1] - y) ** 2, default=None)


def what_changed(before: Plan | None, after: Plan | None, name: str, say: Speech) -> str:
    """What an edit did to the plan, in figures; its name alone where nothing can be compared."""
    if not name or before is None or after is None or not before.passes or not after.passes:
        return name
    said = []
    if len(before.passes) != len(after.passes):
        said.append(say("change.passes", before=str(len(before.passes)), after=str(len(after.passes))))
    if rods := after.rods - before.rods:
        said.append(say("change.rods.more" if rods > 0 else "change.rods.fewer", rods=str(abs(rods))))
    seconds = after.total_time_s - before.total_time_s
    if abs(seconds) >= CHANGED_S:
        said.append(say("change.time.more" if seconds > 0 else "change.time.less", lasts=minutes(abs(seconds))))
    return say("change.said", name=name, what=", ".join(said) if said else say("change.same"))
