"""The heat: what the joint is cooled by, the schedule, preheat by three methods, measured temperatures."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.section import pass_label
from banister.core.follow.warmth import AtTheJoint, at_the_joint
from banister.core.heat.advice import Other
from banister.core.heat.line import HeatLine
from banister.core.heat.preheat import disagreement_said, preheat_methods
from banister.core.heat.readings import LEAST_FACTOR, MOST_FACTOR, Fitted, fitted
from banister.core.heat.schedule import Schedule
from banister.core.heat.shift import Shift
from banister.core.joint.faults import reading_fault
from banister.core.joint.figures import FIGURES
from banister.core.joint.heating import BORES, CATEGORIES, RESTRAINTS, Reading
from banister.core.joint.joint import Joint
from banister.core.plan.notes import notes_of
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, Refused
from banister.core.rods.rod import Rod
from banister.core.words import Speech, capital, stopped
from banister.desktop.app.theme import Theme
from banister.desktop.app.views import VIEWS, open_view
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import FigureField
from banister.desktop.panel import Panel, cleared, show_notes
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.heat import all_others

PIECE = ("width_left_mm", "width_right_mm", "air_c", "loss_factor", "measure_at_mm", "preheat_band_mm", "margin_k", "reheat_s")
FLAGS = ("preheat_held", "to_and_fro")
THREE_WAYS = ("width_left_mm", "width_right_mm")
"""On a tee or a lap heat goes three ways, and the widths mean other plates."""
OTHERS, FIT, THERE = "others", "fit", "there"
MOST_THERE = 6
SAME_END_S = 30.0


class HeatPanel(Panel):
    """How hot, how long to wait, and what would help."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("step.heat"), 14)
        self.ends = self.heading("", 20)
        self.text = self.remark()
        self.pass_text = self.remark(kind="plain")
        self.bad, self.warnings = self.remark(kind="bad"), self.remark(kind="warn")
        for key in VIEWS:
            self.button(f"heat.{key}", partial(self._open, key), tip=True)
        self.others_head = self.heading(say("heat.others"), 14)
        self.others = self.remark(kind="plain")
        self._add_piece()
        self._add_methods()
        self._add_readings()
        self.column.addStretch(1)
        self._fit: Fitted | None = None
        self._asked: tuple[Plan, Joint, tuple[Rod, ...]] | None = None
        self._known: list[Other] = []
        self._of = ""
        self._there: AtTheJoint | None = None

    def _open(self, key: str) -> None:
        open_view(self.window(), key)

    def _add_piece(self) -> None:
        self.heading(self.say("heat.piece"), 14)
        self.fields = {key: self.figure(FIGURES[key]) for key in PIECE}
        self.bore = self.choice("heat.bore", self.words("bore", BORES), partial(self._choose, "bore"))
        self.flags = {flag: self.tick(f"heat.{flag}", partial(self._flag, flag), tip=True) for flag in FLAGS}

    def _add_methods(self) -> None:
        say = self.say
        self.heading(say("heat.methods"), 14)
        self.methods = self.remark()
        self.fields["hydrogen_ml"] = self.figure(FIGURES["hydrogen_ml"])
        self.restraint = self.choice("heat.restraint", self.words("restraint", RESTRAINTS), partial(self._choose, "restraint"))
        self.category = self.choice("heat.category", {c: c for c in CATEGORIES}, partial(self._choose, "category"))
        self.button("heat.tables", partial(self._open, "tables"), tip=True)
        self.flags["stainless"] = self.tick("heat.stainless", partial(self._flag, "stainless"))

    def _add_readings(self) -> None:
        say = self.say
        self.heading(say("heat.readings"), 14)
        self.remark(say("heat.readings.note"))
        self.readings = QVBoxLayout()
        self.column.addLayout(self.readings)
        self.at = FigureField(say("reading.at"), "minutes", lambda _: None)
        self.where = FigureField(say("reading.where"), "length", lambda _: None)
        self.temp = FigureField(say("reading.temp"), "temperature", lambda _: None)
        self.drafts = (self.at, self.where, self.temp)
        for field in self.drafts:
            self.column.addWidget(field)
        self.button("reading.add", self.add_reading)
        self.read_there = self.remark()
        self.there_button = self.button("heat.there.use", self.use_there)
        self.fit_text = self.remark()
        self.fit_button = self.button("reading.use_fit", self.use_fit)

    # --- intents -----------------------------------------------------------------------------
    def _flag(self, flag: str, on: bool) -> None:
        self.store.edit_joint(self.say(f"edit.{flag}.{'on' if on else 'off'}"), **{flag: on})

    def _choose(self, field: str, key: str) -> None:
        self.store.edit_joint(self.say("edit.name", what=self.say(f"heat.{field}")), **{field: key})

    def add_reading(self) -> None:
        """Take a measured temperature into the joint."""
        joint, say = self.store.joint, self.say
        if joint is None:
            return
        try:
            reading = Reading(at_s=60 * self.at.value(), x_mm=self.where.value(), temp_c=self.temp.value())
        except Refused as refused:
            self.fit_text.setText(say.sentence(refused.remarks[0]))
            return
        refusal = reading_fault(reading)
        if refusal is not None:
            self.fit_text.setText(say.sentence(refusal))
            return
        step = say("edit.reading", temp=Figure(reading.temp_c, "temperature"))
        self.store.edit_joint(step, readings=tuple(sorted((*joint.readings, reading), key=lambda r: r.at_s)))

    def _drop(self, i: int) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(self.say("edit.reading.drop"), readings=joint.readings[:i] + joint.readings[i + 1 :])

    def use_fit(self) -> None:
        """Set the loss factor that fits the readings."""
        if self._fit is not None:
            factor = round(self._fit.factor, 3)
            self.store.edit_joint(self.say("edit.fit", factor=Figure(factor, "ratio")), loss_factor=factor)

    def use_there(self) -> None:
        """Set the loss factor that what was read at the joint speaks for."""
        if self._there is not None and self._there.factor is not None:
            factor = round(min(max(self._there.factor, LEAST_FACTOR), MOST_FACTOR), 2)
            self.store.edit_joint(self.say("edit.fit", factor=Figure(factor, "ratio")), loss_factor=factor)

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show settings, schedule and preheat."""
        joint, say = new.joint, new.say
        if joint is None:
            return
        if new.differs(old, "joint", "say"):
            self._show_settings(joint, say)
            self._show_readings(joint, say)
        if new.differs(old, "job", "plan", "heat", "judgement", "say"):
            self._show_schedule(joint, new)
        if new.differs(old, "joint", "plan", "heat"):
            self._ask_fit(joint, new)
        elif new.differs(old, "say"):
            self._say_fit()
        if new.differs(old, "joint", "records", "issued", "say", "followed"):
            self._ask_there(joint, new)
        if new.differs(old, "selected", "heat", "say", "plan"):
            self.pass_text.setText(pass_heat_said(new) if new.heat is not None and new.heat.schedule.feasible else "")

    def _show_settings(self, joint: Joint, say: Speech) -> None:
        three_ways = joint.prep.kind.fillet and joint.prep.key != "fillet-corner"
        for key, field in self.fields.items():
            figure = FIGURES[key]
            field.set_title(say(f"{figure.label}.three_ways") if three_ways and key in THREE_WAYS else capital(say(figure.label)))
            field.show_value(figure.of(joint), say)
        for field in (self.at, self.where, self.temp):
            field.show_unit(say)
        for flag, is_on in (("preheat_held", joint.heat.preheat_held), ("to_and_fro", joint.heat.to_and_fro), ("stainless", joint.metal.stainless)):
            self.flags[flag].setChecked(is_on)
        self.flags["to_and_fro"].setEnabled(joint.piece.form == "plate")
        self.bore.setVisible(joint.piece.form == "pipe")
        self.bore.show_choice(joint.heat.bore)
        self.restraint.show_choice(joint.heat.restraint)
        self.category.show_choice(joint.heat.category)

    def _show_schedule(self, joint: Joint, now: Snapshot) -> None:
        heat, plan, say = now.heat, now.plan, now.say
        if heat is None and (plan is None or plan.feasible) and self._of == joint.id:
            self.ends.setText(say("heat.open"))  # the rest stays in place until it comes, so that nothing jumps under the hand
            return
        self._of = joint.id
        if plan is None or heat is None:
            self.ends.setText(say("heat.no_plan") if plan is not None and not plan.feasible else say("heat.open"))
            for label in (self.text, self.methods):
                label.setText("")
            show_notes(self.bad, self.warnings, [], say)
            self._drop_others()
            return
        schedule, shift = heat.schedule, now.job.shift if now.job is not None else Shift()
        self.ends.setText(say("heat.takes", lasts=Figure(schedule.end_s, "duration")) if schedule.feasible else say("stair.no_schedule"))
        self.text.setText(schedule_said(heat, shift, say))
        if schedule.feasible:
            self._ask_others(joint, plan)
        else:
            self._drop_others()
        remarks = [r for r in now.judgement.to_watch if r.code.startswith(("heat.", "preheat."))] if now.judgement is not None else []
        show_notes(self.bad, self.warnings, list(notes_of(plan, remarks)), say)
        self.methods.setText(self._methods_said(joint, plan, say))

    def _methods_said(self, joint: Joint, plan: Plan, say: Speech) -> str:
        own = self.store.job.own_cells if self.store.job is not None else ()
        methods = preheat_methods(joint, plan, own)
        if not methods:
            return say("heat.methods.stainless" if joint.metal.stainless else "heat.methods.none")
        lines = []
        for m in methods:
            lines.append(say("heat.method", method=say(f"method.{m.method}"), asks=m.said(say)))
            lines += [f"    {say.text(r)}" for r in (m.inputs, *m.notes)]
        apart = disagreement_said(methods, say)
        return "\n".join([*lines, *([apart] if apart else [])])

    # --- what would change it ----------------------------------------------------------------
    def _ask_others(self, joint: Joint, plan: Plan) -> None:
        """Have the other ways of working scheduled beside the window, whenever joint or plan is another; else say anew what is known."""
        job = self.store.job
        if job is None:
            return
        of = plan, joint, job.rods
        if self._asked is not None and all(a is b for a, b in zip(self._asked, of, strict=True)):
            self._say_others()
            return
        self._asked = of
        self.others_head.setText(self.say("heat.others.open"))
        request = (joint, plan, dict(job.rods_by_id))
        self.store.errands.run(Errand(SEARCH, OTHERS, "others", all_others, request, self._show_others,
                                      failed=lambda _: self.others_head.setText(self.say("heat.others"))))  # fmt: skip

    def _drop_others(self) -> None:
        """There are none, or they are of another joint or plan; what is still on its way stays away."""
        self.store.stop(OTHERS)
        self._asked, self._known = None, []
        self.others_head.setText(self.say("heat.others"))
        self.others.setText("")

    def _show_others(self, found: list[Other]) -> None:
        self._known = found
        self.others_head.setText(self.say("heat.others"))
        self._say_others()

    def _say_others(self) -> None:
        heat, say = self.store.now.heat, self.say
        if heat is not None:
            self.others.setText("\n".join(other_said(other, heat.schedule, say) for other in self._known))

    # --- readings ----------------------------------------------------------------------------
    def _show_readings(self, joint: Joint, say: Speech) -> None:
        cleared(self.readings)
        for i, r in enumerate(joint.readings):
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            said = say("reading.said", at=Figure(r.at_s / 60, "minutes"), where=Figure(r.x_mm, "length"), temp=Figure(r.temp_c, "temperature"))
            line.addWidget(QLabel(said), 1)
            drop = QPushButton(say("reading.drop"))
            drop.clicked.connect(partial(self._drop, i))
            line.addWidget(drop)
            self.readings.addWidget(row)

    def _ask_there(self, joint: Joint, now: Snapshot) -> None:
        """Have what was read at the joint laid beside the model."""
        self._show_there(joint, None)
        welded = self.store.welded if now.records else None
        if welded is not None:
            request = (joint, welded.now.plan, welded.records, dict(welded.told.passes))
            self.store.errands.run(Errand(SEARCH, THERE, "fit", at_the_joint, request, partial(self._show_there, joint)))

    def _show_there(self, joint: Joint, found: AtTheJoint | None) -> None:
        if joint is not self.store.now.joint:
            return
        say, self._there = self.say, found
        self.read_there.setVisible(found is not None)
        self.there_button.setVisible(found is not None and found.factor is not None)
        if found is None:
            return
        reads = [say("heat.there.read", at=Figure(r.at_s, "clock"), temp=Figure(r.c, "temperature")) for r in found.readings[-MOST_THERE:]]
        factor = "" if found.factor is None else " " + say("heat.there.factor", factor=Figure(found.factor, "ratio"))
        self.read_there.setText(say("heat.there", n=len(found.readings), reads=", ".join(reads)) + factor)

    def _ask_fit(self, joint: Joint, now: Snapshot) -> None:
        """Have the loss that fits the readings looked for beside the window."""
        plan = now.plan
        self.fit_button.setEnabled(False)
        if not joint.readings or plan is None or not plan.feasible:
            self._fit = None
            self._say_fit()
            return
        self.store.errands.run(Errand(SEARCH, FIT, "fit", fitted, (joint, plan), partial(self._show_fit, joint)))

    def _show_fit(self, joint: Joint, fit: Fitted | None) -> None:
        if joint is not self.store.now.joint:
            return
        self._fit = fit
        self.fit_button.setEnabled(fit is not None)
        self._say_fit()

    def _say_fit(self) -> None:
        now, fit = self.store.now, self._fit
        if fit is None:
            self.fit_text.setText("")
            return
        said = now.say("reading.fit", factor=Figure(fit.factor, "ratio"), left=Figure(fit.rms_k, "temperature_difference"),
                       before=Figure(fit.before_k, "temperature_difference"))  # fmt: skip
        beyond = now.heat is not None and now.heat.contradicted
        self.fit_text.setText(f"{said} {now.say('reading.contradicted')}" if beyond else said)


def schedule_said(heat: HeatLine, shift: Shift, say: Speech) -> str:
    """When it ends and within what, waits, reheats and the limits held."""
    schedule, limits = heat.schedule, heat.schedule.limits
    interpass = say("heat.interpass" if limits.set_ else "heat.interpass.typical", limit=Figure(limits.interpass_c, "set_temperature"))
    preheat = say("heat.preheat.none") if limits.preheat_c is None else say("heat.preheat", limit=Figure(limits.preheat_c, "set_temperature"))
    held = say("heat.limits", interpass=interpass, preheat=preheat)
    if not schedule.feasible:
        return held
    longest = max(s.wait_s for s in schedule.passes)
    low, high = (shift.clock(t, say) for t in heat.ends_s)
    return "\n".join([
        say("heat.ends", begins=shift.clock(0.0, say), ends=shift.clock(schedule.end_s, say), low=low, high=high),
        say("heat.waits", waits=Figure(schedule.waiting_s, "duration"), longest=Figure(longest, "duration")),
        say("heat.reheats", reheats=Figure(schedule.reheating_s, "duration")), held, say("heat.predicted"),
    ])  # fmt: skip


def pass_heat_said(now: Snapshot) -> str:
    """What the schedule says of the selected pass; without one, how to ask for it."""
    heat, p, job, say = now.heat, now.selected, now.job, now.say
    started = None if heat is None or p is None else next((s for s in heat.schedule.passes if s.key == p.key), None)
    if started is None or p is None or job is None:
        return say("heat.pass.select")
    wait = say("heat.pass.wait", wait=Figure(started.wait_s, "duration")) if started.wait_s >= 1 else say("heat.pass.at_once")
    reheat = say("heat.pass.reheat", reheat=Figure(started.reheat_s, "duration")) if started.reheat_s else ""
    t85 = "" if started.t85 is None else say("heat.pass.t85", t85=Figure(started.t85.seconds, "seconds"), regime=started.t85.regime)
    return stopped(say("heat.pass.said", label=pass_label(p), at=Figure(started.start_s, "clock"), time=job.shift.clock(started.start_s, say), wait=wait,
                       reheat=reheat, temp=Figure(started.temp_c, "temperature"), station=say(f"station.{started.hottest_station}"), t85=t85))  # fmt: skip


def other_said(other: Other, now: Schedule, say: Speech) -> str:
    """One other way of working in two lines, with what it changes."""
    title = capital(say.text(other.change))
    if not other.schedule.feasible:
        return say("heat.other.not_possible", change=title)
    later = other.schedule.end_s - now.end_s
    key = "same" if abs(later) < SAME_END_S else "later" if later > 0 else "sooner"
    end = say(f"heat.other.{key}", lasts=Figure(abs(later), "duration"))
    return say("heat.other.said", change=title, end=end, waits=Figure(other.schedule.waiting_s, "duration"), n=other.passes)
