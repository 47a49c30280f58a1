"""The sheet, on the step of the passes: who prepared it, whether it is issued, the check in words. What is printed or saved stands in the File menu."""

from __future__ import annotations

from functools import partial
from typing import Any

from banister.core.plan.front import answer_said
from banister.core.plan.notes import note_on
from banister.core.plan.spending import MOST_RATE, Rates, rates_faults
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, Figure, Remark
from banister.core.sheet import changed_since
from banister.core.value import replace
from banister.desktop.app.theme import Theme
from banister.desktop.fields import FigureField, NameField
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

OF_JOB, OF_JOINT = ("name", "site", "prepared_by", "checked_by", "notes"), ("name", "drawing")
LISTED_AT_MOST = 12


class SheetPart(Panel):
    """Names, the state of the sheet, the check, rates."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.column.setContentsMargins(0, 0, 0, 0)
        say = self.say
        self.explained("issue")
        self.edits = {name: self._name("job", name) for name in OF_JOB}
        self.joint_edits = {name: self._name("joint", name) for name in OF_JOINT}
        self.state = self.remark(kind="plain")
        self.issue = self.button("sheet_step.issue", store.issue, tip=True)
        self.heading(say("sheet_step.check"), 14)
        self.check, self.bad = self.remark(), self.remark(kind="bad")
        self.remark(say("sheet_step.note"))
        self.heading(say("sheet_step.rates"), 14)
        self.rates = {name: self._rate(name) for name in Rates.__struct_fields__}

    def _name(self, owner: str, name: str) -> NameField:
        edit = NameField(self.say(f"sheet_step.{owner}.{name}"))
        edit.committed.connect(partial(self._named, owner, name))
        self.column.addWidget(edit)
        return edit

    def _rate(self, name: str) -> FigureField:
        field = FigureField(self.say(f"sheet_step.rates.{name}"), Rates.kind(name), partial(self._priced, name), low=0.0, high=MOST_RATE)
        self.column.addWidget(field)
        return field

    def _priced(self, name: str, value: float) -> Remark | None:
        job, say = self.store.job, self.store.say
        if job is None:
            return None
        rates = replace(job.rates, **{name: value})
        refusal = next(rates_faults(rates), None)
        if refusal is None and rates != job.rates:
            step = say("edit.rates", what=say(f"sheet_step.rates.{name}").lower(), value=Figure(value, Rates.kind(name)))
            self.store.edit(replace(job, rates=rates), step)
        return refusal

    def _named(self, owner: str, name: str, text: str) -> None:
        job, joint = self.store.job, self.store.joint
        value = job if owner == "job" else joint
        if job is None or joint is None or getattr(value, name) == text:
            return
        step = self.say("edit.name", what=self.say(f"sheet_step.{owner}.{name}"))
        if owner == "job":
            names: dict[str, Any] = {name: text}
            self.store.edit(replace(job, **names), step)
        else:
            self.store.edit_joint(step, **{name: text})

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show names, what is issued, and the check."""
        job, joint, judgement = new.job, new.joint, new.judgement
        if job is None or joint is None:
            return
        for edits, owner in ((self.edits, job), (self.joint_edits, joint)):
            for name, edit in edits.items():
                edit.show_text(getattr(owner, name))
        for name, field in self.rates.items():
            field.set_title(new.say(f"sheet_step.rates.{name}"))
            field.show_value(getattr(job.rates, name), new.say)
        self._show_state(new)
        if judgement is None or new.plan is None:
            self.check.setText("")
            self.bad.hide()
            return
        counts, say = judgement.counts, new.say
        tally = say("sheet.tally", inside=str(counts[INSIDE]), outside=str(counts[OUTSIDE]), not_judged=str(counts[NOT_JUDGED]))
        self.check.setText(tally if judgement.is_whole or not new.feasible else f"{tally} {say('sheet_step.open')}")
        bad = [note_on(new.plan, r).said(say) for r in judgement.of(OUTSIDE)]
        more = [say("sheet_step.more", n=len(bad) - LISTED_AT_MOST)] if len(bad) > LISTED_AT_MOST else []
        self.bad.setText("\n".join([*bad[:LISTED_AT_MOST], *more]))
        self.bad.setVisible(bool(bad))

    def _show_state(self, now: Snapshot) -> None:
        say, sheet, job, joint = now.say, now.issued, now.job, now.joint
        assert job is not None and joint is not None
        if sheet is None:
            self.state.setText(say("sheet_step.not_issued"))
            self.issue.setText(say("sheet_step.issue"))
            return
        said = say("sheet_step.issued", on=sheet.issued_on, answer=answer_said(sheet.plan.answer, say), n=len(sheet.plan.passes), planner=sheet.planner_version)
        changed = changed_since(sheet, joint, job.rods)
        if changed:
            what = ", ".join(say(f"changed.{key}") for key in changed)
            said = f"{said}\n{say('sheet_step.changed' if now.stands else 'sheet_step.fallen', what=what)}"
        self.state.setText(said)
        self.issue.setText(say("sheet_step.again"))
