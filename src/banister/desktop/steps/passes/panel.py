"""The passes: the selected one with its window bars, why it is so, and what can be pinned."""

from __future__ import annotations

from functools import cached_property

from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.charts.window_bar import Gauge
from banister.core.drawing.section import pass_label
from banister.core.joint.joint import Joint
from banister.core.joint.working import AT_ONCE
from banister.core.judge.passes import basis_k, pass_value, window_on
from banister.core.limits.windows import QUANTITIES, Bounds
from banister.core.plan.front import cards
from banister.core.plan.notes import notes_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.pull import gap_closing_said, pull_of, transverse_shrinkage_mm
from banister.core.plan.sequence import sequence_said
from banister.core.plan.spending import spending_said, spent_on
from banister.core.remark import OUTSIDE, WATCH, Figure, Remark, fault
from banister.core.words import Speech, capital, stopped
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import WindowBar
from banister.desktop.canvas.summary_view import SummaryView
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.panel import Panel, show_notes
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.passes.front_view import FrontView
from banister.desktop.steps.sheet.part import SheetPart
from banister.desktop.store import Store

BEADS, CHECK = "beads", "check"
ORDER = ("run_out", "amps", "arc_energy", "heat_input", "travel", "volts", "weave")
AREA_MM2, AMPS = (2.0, 150.0), (20.0, 500.0)
MOST_BEADS = 60
DEAREST = 2
"""So many of the windows that cost time are named beside other plans."""


class PassesPanel(Panel):
    """Figures of the selected pass; of the whole plan while none is selected."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.work = self.choice("fitup_step.work", {key: say(f"passes.work.{key}") for key in (BEADS, CHECK)}, lambda key: store.look(checking=key == CHECK))
        with self.part() as self.beads:
            self._add_beads(theme)
        self.column.addStretch(1)

    @cached_property
    def sheet(self) -> SheetPart:
        """The sheet, made when it is first looked at."""
        made = SheetPart(self.store, self.theme)
        self.column.insertWidget(self.column.indexOf(self.beads) + 1, made)
        return made

    def _add_beads(self, theme: Theme) -> None:
        self.title = self.heading("", 20)
        self.summary, self.front = SummaryView(theme), FrontView(theme)
        self.front.picked.connect(self.store.choose)
        self.column.addWidget(self.summary)
        self.column.addWidget(self.front)
        self.explained("answer")
        self.button("strip.open", lambda: self.window().open_view("stops"), tip=True)  # type: ignore[attr-defined]
        self.button("sure.open", lambda: self.window().open_view("sure"), tip=True)  # type: ignore[attr-defined]
        self.text = self.remark()
        self.column.setSpacing(5)
        self.bars = {quantity: WindowBar(theme) for quantity in ORDER}
        self.area_bar = WindowBar(theme)
        for bar in (*self.bars.values(), self.area_bar):
            self.column.addWidget(bar)
        self.bad, self.warnings = self.remark(kind="bad"), self.remark(kind="warn")
        self.why = self.remark()
        self.pins = QWidget()
        self.column.addWidget(self.pins)
        self._build_pins()

    def _build_pins(self) -> None:
        say, whole = self.say, self.column
        self.column = QVBoxLayout(self.pins)
        self.column.setContentsMargins(0, 6, 0, 0)
        self.heading(say("pin.title"), 14)
        self.area = FigureField(say("pin.area"), "area", lambda value: self._pin("area_mm2", value, AREA_MM2, "area"))
        self.amps = FigureField(say("pin.amps"), "current", lambda value: self._pin("amps", value, AMPS, "current"), 5.0, *AMPS)
        self.rod = ChoiceField(say("pin.rod"), {})
        self.rod.chosen.connect(lambda rod: self._pinned("rod", rod))
        for widget in (self.area, self.amps, self.rod):
            self.column.addWidget(widget)
        buttons = QGridLayout()
        self.more, self.fewer, self.free = (QPushButton(say(f"pin.{key}")) for key in ("more", "fewer", "free"))
        for i, (key, button) in enumerate((("more", self.more), ("fewer", self.fewer), ("free", self.free))):
            button.setToolTip(say(f"pin.{key}.tip"))
            buttons.addWidget(button, i // 2, i % 2)
        self.more.clicked.connect(lambda: self.change_count(1))
        self.fewer.clicked.connect(lambda: self.change_count(-1))
        self.free.clicked.connect(self.store.release)
        self.column.addLayout(buttons)
        self.column = whole

    # --- intents -----------------------------------------------------------------------------
    def _pin(self, name: str, value: float, window: tuple[float, float], kind: str) -> Remark | None:
        if not window[0] <= value <= window[1]:
            return fault("pin.figure", name, value=Figure(value, kind), window=Figure(window, kind))
        self._pinned(name, value)
        return None

    def _pinned(self, name: str, value: object) -> None:
        found = self.store.now.selected
        if found is not None:
            self.store.pin(self.say("edit.pin", what=self.say(f"pin.{name}.word"), number=str(found.number)), **{name: value})

    def change_count(self, step: int) -> None:
        """One bead more or less in the selected pass's layer."""
        found, plan = self.store.now.selected, self.store.now.plan
        if found is None or plan is None:
            return
        count = sum(p.layer == found.layer for p in plan.passes) + step
        if 1 <= count <= MOST_BEADS and found.role != "root":
            self.store.pin(self.say("edit.bead.more" if step > 0 else "edit.bead.fewer", layer=str(found.layer)), beads=count, area_mm2=None)

    # --- showing -----------------------------------------------------------------------------
    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for bar in (*self.bars.values(), self.area_bar, self.front, self.summary):
            bar.set_theme(theme)
        super().set_theme(theme)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show the selected pass, or what the whole plan comes to; or the sheet."""
        self.work.show_choice(CHECK if new.view.checking else BEADS)
        self.beads.setVisible(not new.view.checking)
        if new.view.checking or "sheet" in vars(self):
            self.sheet.setVisible(new.view.checking)
        if new.view.checking:
            self.sheet.catch_up()
        if new.selected is not None:
            self.hide_explained()
        if not new.differs(old, "joint", "plan", "plans", "selected", "judgement", "say", "front", "heat", "job"):
            return
        if not new.front and all(answer in new.plans for answer in AT_ONCE):
            self.store.ask_front()
        self.front.show_front(new)
        self.summary.show_plan(new, new.selected is None)
        found, joint = new.selected, new.joint
        shown = found is not None and new.feasible
        for widget in (*self.bars.values(), self.area_bar, self.why, self.pins):
            widget.setVisible(shown)
        if joint is None or found is None or not shown:
            self.title.setText(new.say("step.passes"))
            self.text.setText(whole_said(new))
            remarks = new.judgement.to_watch if new.judgement is not None and new.feasible else ()
        else:
            self._show(found, joint, new)
            remarks = tuple(r for r in (new.judgement.remarks if new.judgement is not None else ())
                            if found.key in r.place.passes and r.verdict in (OUTSIDE, WATCH))  # fmt: skip
        show_notes(self.bad, self.warnings, list(notes_of(new.plan, remarks)) if new.plan is not None else [], new.say)

    def _show(self, found: Pass, joint: Joint, now: Snapshot) -> None:
        say, plan = now.say, now.plan
        self.title.setText(say("pass.title", label=pass_label(found), role=say(joint.role_word(found.role, found.side)), layer=str(found.layer)))
        self.text.setText(pass_said(found, say))
        for quantity, bar in self.bars.items():
            gauge = Gauge(quantity_title(found, quantity, say), pass_value(found, quantity), QUANTITIES[quantity], window_on(joint, found, quantity))
            bar.show_gauge(gauge, say)
        held = {quantity for quantity in ("arc_energy", "heat_input") if self.bars[quantity].isVisibleTo(self) and window_on(joint, found, quantity).is_set}
        self.bars["arc_energy"].setVisible(held != {"heat_input"})
        window = Bounds(*found.area_window)
        origin = say(f"origin.{found.area_origin}")
        self.area_bar.show_gauge(Gauge(say("pin.area"), found.area_mm2, "area", window, origin), say)
        self.why.setText("\n".join([say("pass.why", why=stopped(say.text(found.why))), *_cross_check(found, say)]))
        self.area.show_value(found.area_mm2, say)
        self.amps.show_value(found.amps, say)
        self.rod.set_choices({use.rod: say.units.rod(use.rod) for use in joint.working.rods if use.role == found.role})
        self.rod.show_choice(found.rod.id)
        self.free.setEnabled(self.store.pin_of(found) is not None)
        several = found.role in ("fill", "cap")
        self.more.setEnabled(several)
        self.fewer.setEnabled(several and plan is not None and sum(p.layer == found.layer for p in plan.passes) > 1)


def quantity_title(p: Pass, quantity: str, say: Speech) -> str:
    """What a bar is called; energies name the k they are reckoned with."""
    if quantity in ("arc_energy", "heat_input"):
        return say(f"pass.{quantity}", k=Figure(basis_k(p, quantity), "ratio"))
    return capital(say(f"quantity.{quantity}"))


def pass_said(p: Pass, say: Speech) -> str:
    """Rod, technique, rods and time of a pass."""
    technique = say(f"technique_name.{p.technique}")
    if p.progression:
        technique = f"{technique} {say(f'progression.{p.progression}')}"
    said = [say("pass.said", rod=Figure(p.rod.id, "rod"), polarity=p.rod.polarity, technique=technique, n=p.rod_count, lasts=Figure(p.arc_time_s, "duration"))]
    if p.state == "pinned":
        said.append(say("pass.pinned"))
    return " ".join(said)


def _cross_check(p: Pass, say: Speech) -> list[str]:
    """The heat input of a covered electrode by the run-out rule."""
    return [say("pass.run_out_rule", value=Figure(p.rod.run_out_rule_kj_mm(p.run_out_mm), "energy"))] if p.process == "SMAW" else []


def whole_said(now: Snapshot) -> str:
    """What the plan comes to as a whole."""
    say, plan, joint = now.say, now.plan, now.joint
    if plan is None or joint is None:
        return say("plan.planning")
    if not plan.feasible:
        return say("plan.blocked")
    rods = "\n".join(say("plan.rods", n=count, rod=Figure(rod, "rod")) for rod, count in plan.rods_by_consumable().items())
    lines = [rods, say("plan.metal", metal=Figure(plan.weld_metal_kg, "mass")), say("plan.arc", lasts=Figure(plan.arc_time_s, "duration")),
             say("plan.total", lasts=Figure(plan.total_time_s, "duration")), say("plan.stops", n=plan.stops)]  # fmt: skip
    lines += _spending(now, plan)
    if plan.cap is not None:
        lines.append(say("plan.cap", heights=Figure((plan.cap.min, plan.cap.max), "length")))
    return "\n".join([*lines, *_movement(joint, plan, say), *_only(now), *_hints(now), "", say("plan.select")])


def _spending(now: Snapshot, plan: Plan) -> list[str]:
    """Energy, electrodes, cost: with the waits once the heat is computed."""
    if now.job is None or now.heat is None or not now.heat.schedule.feasible:
        return []
    return spending_said(spent_on(plan, now.heat.schedule.end_s), now.job.rates, now.say)


def _hints(now: Snapshot) -> list[str]:
    """What the windows cost (the dearest, all where they leave one plan), and what a little more of something would save."""
    costs, others = ([hint for hint in now.hints if (hint.code == "hint.window") is cost] for cost in (True, False))
    dearest = costs if _only(now) else costs[:DEAREST]
    return [line for hint in (*dearest, *others) for line in ("", stopped(capital(now.say.text(hint))))]


def _only(now: Snapshot) -> list[str]:
    """That all answers are one plan, and whether the windows make it so."""
    joint = now.joint
    if joint is None or not now.front or len(cards(now.plans, joint.working.chosen)) > 1:
        return []
    return ["", now.say("answer.only.windows" if joint.working.windows else "answer.only")]


def _movement(joint: Joint, plan: Plan, say: Speech) -> list[str]:
    """Order of the sides, shrinkage and angular distortion: rough figures, said to be so."""
    if joint.prep.kind.fillet:
        return []
    t = joint.prep.welded_thickness_mm
    shrinks = transverse_shrinkage_mm(sum(p.area_mm2 for p in plan.passes), t, joint.prep.root_gap_mm)
    pull = pull_of(plan.passes, t)
    order = ["", say("plan.order", order="; ".join(sequence_said(plan, say)))] if plan.turns else []
    closing = gap_closing_said(joint, say)
    return [
        *order, "", say("plan.shrinks", shrinks=Figure(shrinks, "length")),
        say("plan.pull", final=Figure(pull.final_deg, "signed_angle"), side=say("side.front" if pull.final_deg >= 0 else "side.back"),
            most=Figure(abs(pull.greatest_deg), "angle")),
        *(["", closing] if closing else []),
    ]  # fmt: skip
