"""Step 6, the heat: what the joint is cooled by, the schedule, preheat by three methods, measured temperatures."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.section import pass_label
from banister.core.heat.advice import Other, disagreement, others, preheat_findings, preheat_methods
from banister.core.heat.preheat import RESTRAINTS
from banister.core.heat.readings import Fitted, fitted
from banister.core.heat.schedule import Schedule
from banister.core.heat.shift import Shift
from banister.core.joint.joint import Joint
from banister.core.joint.heating import Reading
from banister.core.joint.figures import HEAT_LIMITS
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod
from banister.core.units import clock, minutes, parsed_number
from banister.desktop.fields import ChoiceField, ValueField
from banister.desktop.panel import Panel, cleared
from banister.desktop.store import Store
from banister.desktop.theme import Theme

NUDGES = {"width_left_mm": 10.0, "width_right_mm": 10.0, "air_c": 1.0, "loss_factor": 0.1, "measure_at_mm": 5.0, "preheat_band_mm": 5.0,
          "warm_over_k": 5.0, "reheat_s": 60.0, "hydrogen_ml": 1.0}  # fmt: skip
UNIT = {"air_c": "\N{DEGREE SIGN}C", "reheat_s": "s", "hydrogen_ml": "ml/100 g", "warm_over_k": "K", "loss_factor": "x still air"}
THREE_WAYS = {"width_left_mm": "Plate that goes on past the weld, each side", "width_right_mm": "Width of the other plate"}
WHAT_IF, WORKING = "What would change it", "Working it out"


class HeatPanel(Panel):
    """How hot, how long to wait, and what would help."""

    wanted = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Heat", 14)
        self.ends = self.heading("", 20)
        self.words = self.remark()
        self.pass_words = self.remark(kind="plain")
        store.selection_changed.connect(self._show_pass)
        self.bad, self.warnings = self.remark(kind="bad"), self.remark(kind="warn")
        for key, text, tip in (("curves", "Temperatures over time and across", "The predicted curves of the shown joint"),
                               ("map", "Preheat map of this steel", "What method B asks for over thickness and heat input"),
                               ("board", "Board: several joints", "Weld other joints of the job while one cools")):  # fmt: skip
            button = QPushButton(text)
            button.setToolTip(tip)
            button.clicked.connect(partial(self.wanted.emit, key))
            self.column.addWidget(button)
        self.ways_head = self.heading(WHAT_IF, 14)
        self.ways = self.remark(kind="plain")
        self._stop: Callable[[], None] = lambda: None
        self.heading("The piece", 14)
        self.fields: dict[str, ValueField] = {}
        for name, nudge in NUDGES.items():
            if name == "hydrogen_ml":
                self.heading("Preheat by method", 14)
                self.methods = self.remark()
            label = HEAT_LIMITS[name][0]
            field = ValueField(label[0].upper() + label[1:], self.length if name.endswith("_mm") else parsed_number, nudge)
            field.committed.connect(partial(self._set, name))
            self.fields[name] = field
            self.column.addWidget(field)
        self.held = QCheckBox("Heat kept on while welding (mats, torch)")
        self.held.setToolTip("The preheated band never falls below preheat")
        self.held.clicked.connect(lambda on: self._change("Heat kept on" if on else "Heat not kept on", preheat_held=on))
        self.column.insertWidget(self.column.indexOf(self.fields["reheat_s"]) + 1, self.held)
        self.to_and_fro = QCheckBox("Every other pass from the other end")
        self.to_and_fro.setToolTip("A plate welded to and fro is hottest elsewhere than one welded all one way")
        self.to_and_fro.clicked.connect(lambda on: self._change("Weld to and fro" if on else "Weld one way", to_and_fro=on))
        self.column.insertWidget(self.column.indexOf(self.held) + 1, self.to_and_fro)
        self.stainless = QCheckBox("Austenitic stainless (not verified)")
        self.stainless.clicked.connect(lambda on: self._change("Set steel kind", stainless=on))
        self.restraint = ChoiceField("Restraint", {r: r for r in RESTRAINTS})
        self.category = ChoiceField("D1.1 category", {c: c for c in "ABCD"})
        self.restraint.chosen.connect(lambda key: self._change("Set restraint", restraint=key))
        self.category.chosen.connect(lambda key: self._change("Set category", category=key))
        tables = QPushButton("Preheat tables: enter your copy's figures")
        tables.setToolTip("The cells of both AWS D1.1 tables are written from memory; replace them cell by cell")
        tables.clicked.connect(partial(self.wanted.emit, "tables"))
        for widget in (self.restraint, self.category, tables, self.stainless):
            self.column.addWidget(widget)
        self.heading("Measured temperatures", 14)
        self.remark("Minutes after the first arc, how far from the groove's edge, and what the thermometer read. They narrow the band and "
                    "correct the loss to the air.")  # fmt: skip
        self.readings = QVBoxLayout()
        self.column.addLayout(self.readings)
        self.at, self.where, self.temp = ValueField("After", parsed_number), ValueField("From the edge", self.length), ValueField("Read", parsed_number)
        self.at.unit.setText("min")
        self.temp.unit.setText("\N{DEGREE SIGN}C")
        add, fit = QPushButton("Add reading"), QPushButton("Use the loss that fits")
        add.clicked.connect(self.add_reading)
        fit.clicked.connect(self.use_fit)
        self.fit_words = self.remark()
        for widget in (self.at, self.where, self.temp, add, self.fit_words, fit):
            self.column.addWidget(widget)
        self.column.addStretch(1)
        self._fit: Fitted | None = None
        self._asked: tuple[Plan, Joint] | None = None
        self._of = ""

    def _change(self, name: str, **fields: object) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(name, heat=replace(joint.heat, **fields))

    def _set(self, name: str, value: float) -> None:
        title, low, high = HEAT_LIMITS[name]
        if not low <= value <= high:
            self.fields[name].say(self.store.units.sentence(f"enter {low:g} to {high:g}" + (" mm" if name.endswith("_mm") else "")))
            return
        self._change(f"Set {title} {value:g}", **{name: value})

    def add_reading(self) -> None:
        """Take a measured temperature into the joint."""
        joint = self.store.joint
        if joint is None:
            return
        try:
            after, read = (parsed_number(field.edit.text()) for field in (self.at, self.temp))
            reading = Reading(at_s=60 * after, x_mm=self.length(self.where.edit.text()), temp_c=read)
        except ValueError as error:
            self.fit_words.setText(str(error))
            return
        if not (0 <= reading.at_s <= 2e5 and 0 <= reading.x_mm <= 500 and -40 <= reading.temp_c <= 1000):
            self.fit_words.setText("Enter up to 3333 minutes, 0 to 500 mm, -40 to 1000 \N{DEGREE SIGN}C.")
            return
        self.store.edit_joint(f"Reading {reading.temp_c:g} \N{DEGREE SIGN}C", readings=tuple(sorted((*joint.readings, reading), key=lambda r: r.at_s)))

    def use_fit(self) -> None:
        """Set the loss factor that fits the readings."""
        if self._fit is not None:
            self._change(f"Loss factor {self._fit.factor:.2f} from readings", loss_factor=round(self._fit.factor, 3))

    def _ask_others(self, joint: Joint, plan: Plan) -> None:
        """Have the other ways of working scheduled beside the window, whenever joint or plan is another."""
        job = self.store.job
        if (self._asked is not None and self._asked[0] is plan and self._asked[1] is joint) or job is None:
            return
        self._stop()
        self._asked = (plan, joint)
        self.ways_head.setText(f"{WHAT_IF}: {WORKING.lower()}")
        self._stop = self.store.each(all_others, [(joint, plan, job.rods_by_id)], lambda _, found: self._show_others(found or []), lambda: None)

    def _show_others(self, found: list[Other]) -> None:
        heat = self.store.heat
        self.ways_head.setText(WHAT_IF)
        if heat is not None:
            self.ways.setText("\n".join(other_in_words(other, heat.schedule) for other in found))

    def render_job(self) -> None:
        """Show settings, schedule and preheat."""
        joint, plan, u = self.store.joint, self.store.plan, self.store.units
        if joint is None:
            return
        three_ways = joint.prep.kind.fillet and joint.prep.key != "fillet-corner"
        for name, field in self.fields.items():
            value = getattr(joint.heat, name)
            label = THREE_WAYS.get(name, "") if three_ways else ""
            field.label.setText(label or HEAT_LIMITS[name][0][:1].upper() + HEAT_LIMITS[name][0][1:])
            is_length = name.endswith("_mm")
            field.show_value(u.length(value, 1) if is_length else f"{value:g}", u.length_unit if is_length else UNIT[name])
        self.where.unit.setText(u.length_unit)
        self.held.setChecked(joint.heat.preheat_held)
        self.to_and_fro.setChecked(joint.heat.to_and_fro)
        self.to_and_fro.setEnabled(joint.piece.form == "plate")
        self.stainless.setChecked(joint.metal.stainless)
        self.restraint.show_choice(joint.heat.restraint)
        self.category.show_choice(joint.heat.category)
        self._show_schedule(joint, plan)
        self._show_readings(joint, plan)

    def _show_schedule(self, joint: Joint, plan: Plan | None) -> None:
        heat = self.store.heat
        if heat is None and (plan is None or plan.feasible) and self._of == joint.id:
            self.ends.setText(WORKING)  # the rest stays in place until it comes, so that nothing jumps under the hand
            return
        self._of = joint.id
        if plan is None or not plan.feasible or heat is None:
            self.ends.setText("No plan, no schedule" if plan is not None and not plan.feasible else WORKING)
            self._say((), ())
            for label in (self.words, self.pass_words, self.methods, self.ways):
                label.setText("")
            self._asked = None
            return
        schedule, limits = heat.schedule, heat.schedule.limits
        interpass = f"Interpass at most {limits.interpass_c:g} \N{DEGREE SIGN}C" + ("" if limits.set_ else ", typical: not set under Limits")
        preheat = f"preheat {limits.preheat_c:g} \N{DEGREE SIGN}C" if limits.preheat_c > -270 else "preheat not set"
        if schedule.feasible:
            longest = max(schedule.passes, key=lambda s: s.wait_s)
            shift = Shift() if self.store.job is None else self.store.job.shift
            likely, low, high = (shift.clock(t) if math.isfinite(t) else "never" for t in (schedule.end_s, *heat.ends_s))
            self.ends.setText(f"Takes {minutes(schedule.end_s)}")
            self._show_pass()
            self.words.setText(f"Begun at {shift.clock(0.0)} it ends at {likely}; nine of ten end between {low} and {high}\n"
                               f"Waits {minutes(schedule.waiting_s)}, the longest {minutes(longest.wait_s)}\nReheats {minutes(schedule.reheating_s)}\n"
                               f"{interpass}, {preheat}\nPredicted: measure at the joint.")  # fmt: skip
            self._ask_others(joint, plan)
        else:
            self.ends.setText("No schedule")
            self.words.setText(f"{interpass}, {preheat}")
            self.pass_words.setText("")
            self.ways.setText("")
        outside = [f for f in schedule.findings if f.severity == "outside"]
        watch = [f for f in (*schedule.findings, *preheat_findings(joint, plan)) if f.severity != "outside"]
        self._say([f"{f.text}. {f.remedy}" for f in outside], [f"{f.text}. {f.remedy}" for f in watch])
        methods = preheat_methods(joint, plan)
        none = "Stainless takes no preheat: keep it dry, and hold the interpass and heat input limits." if joint.metal.stainless else (
            "State the steel under Procedure to compare methods.")  # fmt: skip
        said = [f"{m.method}: {m.in_words}\n    {m.inputs}" + "".join(f"\n    {n}" for n in m.notes) for m in methods]
        self.methods.setText(self.store.units.sentence("\n".join(filter(None, (*said, disagreement(methods)))) or none))

    def _show_pass(self) -> None:
        """What the schedule says of the selected pass; without one, how to ask for it."""
        heat, p, job = self.store.heat, self.store.selected, self.store.job
        started = None if heat is None or p is None else next((s for s in heat.schedule.passes if s.pass_id == p.id), None)
        if started is None or p is None or job is None:
            self.pass_words.setText("Select a pass for its wait, temperature and t8/5; the table (Ctrl+T) has all.")
            return
        t85 = "" if started.t85 is None else f", t8/5 {started.t85.seconds:.1f} s ({started.t85.regime})"
        wait = f"after a wait of {minutes(started.wait_s)}" if started.wait_s >= 1 else "without waiting"
        reheat = f", reheated for {minutes(started.reheat_s)}" if started.reheat_s else ""
        self.pass_words.setText(f"Pass {pass_label(p)} starts {clock(started.start_s)} after the first arc ({job.shift.clock(started.start_s)}), "
                                f"{wait}{reheat}. The joint is then at {started.temp_c:.0f} \N{DEGREE SIGN}C ({started.hottest_station}){t85}.")  # fmt: skip

    def _say(self, outside: Sequence[str], watch: Sequence[str]) -> None:
        for label, texts in ((self.bad, outside), (self.warnings, watch)):
            label.setText(self.store.units.sentence("\n\n".join(t[:1].upper() + t[1:] for t in texts)))
            label.setVisible(bool(texts))

    def _show_readings(self, joint: Joint, plan: Plan | None) -> None:
        cleared(self.readings)
        u = self.store.units
        for i, r in enumerate(joint.readings):
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            line.addWidget(QLabel(f"{r.at_s / 60:.0f} min, {u.with_unit(r.x_mm)}: {r.temp_c:g} \N{DEGREE SIGN}C"), 1)
            drop = QPushButton("Drop")
            drop.clicked.connect(partial(self._drop, i))
            line.addWidget(drop)
            self.readings.addWidget(row)
        self._fit = fitted(joint, plan) if joint.readings and plan is not None and plan.feasible else None
        heat = self.store.heat
        beyond = heat is not None and heat.spread is not None and heat.spread.contradicted
        if self._fit is not None:
            self.fit_words.setText(f"A loss of {self._fit.factor:.2f} x still air fits: {self._fit.rms_k:.0f} K left, {self._fit.before_k:.0f} K now."
                                   + (" The readings lie outside the band: it stays wide until a loss fits them." if beyond else ""))  # fmt: skip

    def _drop(self, i: int) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint("Drop reading", readings=joint.readings[:i] + joint.readings[i + 1 :])


def all_others(joint: Joint, plan: Plan, rods: Mapping[str, Rod]) -> list[Other]:
    """Every other way of working, in one go."""
    return list(others(joint, plan, rods))


def other_in_words(other: Other, now: Schedule) -> str:
    """One other way of working in two lines, with what it changes."""
    if not other.schedule.feasible:
        return f"{other.title}:\n    cannot be"
    later = other.schedule.end_s - now.end_s
    change = "the same end" if abs(later) < 30 else f"{minutes(abs(later))} {'later' if later > 0 else 'sooner'}"
    return f"{other.title}:\n    {change}, waits {minutes(other.schedule.waiting_s)}, {other.passes} beads"
