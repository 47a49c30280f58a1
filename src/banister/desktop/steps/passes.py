"""Step 4, the passes: the selected bead with its window bars, why it is so, and what can be pinned."""

from __future__ import annotations

import math

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from banister.core.drawing.section import pass_label
from banister.core.remark import OUTSIDE
from banister.core.judge.check import PER_PASS, pass_value
from banister.core.plan.notes import findings_on, notes_of
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.pull import gap_closing_in_words, pull_of, transverse_shrinkage_mm
from banister.core.plan.sequence import sequence_in_words
from banister.core.limits.windows import TITLES, Bounds, bounds
from banister.core.units import MM_PER_INCH, minutes, parsed_number
from banister.desktop.fields import ChoiceField, ValueField
from banister.desktop.panel import Panel
from banister.desktop.store import Store
from banister.desktop.theme import Theme
from banister.desktop.window_bar import WindowBar

ORDER = ("run_out", "amps", "arc_energy", "heat_input", "travel", "volts", "weave")


class PassesPanel(Panel):
    """Figures of the selected bead."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.title = self.heading("Passes", 20)
        self.words = self.remark()
        self.column.setSpacing(5)
        self.bars: dict[str, WindowBar] = {}
        for quantity in ORDER:
            bar = WindowBar(TITLES[quantity], theme)
            self.bars[quantity] = bar
            self.column.addWidget(bar)
        self.area_bar = WindowBar("Bead area", theme)
        self.column.addWidget(self.area_bar)
        self.faults, self.warnings = self.remark(kind="bad"), self.remark(kind="warn")
        self.why = self.remark()
        self.pins = QWidget()
        self.column.addWidget(self.pins)
        self._build_pins()
        self.column.addStretch(1)
        store.selection_changed.connect(self.render_job)

    def _build_pins(self) -> None:
        keep, self.column = self.column, self.column.__class__(self.pins)
        self.column.setContentsMargins(0, 6, 0, 0)
        self.heading("Pin this bead", 14)
        self.area = ValueField("Bead area", self._area)
        self.amps = ValueField("Current", parsed_number, 5.0)
        self.rod = ChoiceField("Rod", {})
        self.area.committed.connect(lambda v: self._pin("size", area_mm2=v) if 2 <= v <= 150 else self.area.say("enter 2 to 150 mm\N{SUPERSCRIPT TWO}"))
        self.amps.committed.connect(lambda v: self._pin("current", amps=v) if 20 <= v <= 500 else self.amps.say("enter 20 to 500 A"))
        self.rod.chosen.connect(lambda rod: self._pin("rod", rod=rod))
        for widget in (self.area, self.amps, self.rod):
            self.column.addWidget(widget)
        row = QHBoxLayout()
        self.more, self.fewer, self.free = QPushButton("Insert bead"), QPushButton("Remove bead"), QPushButton("Release")
        self.more.setToolTip("One bead more in this layer; the rest is planned round it (Ins)")
        self.fewer.setToolTip("One bead less in this layer (Ctrl+Del)")
        self.free.setToolTip("Give this bead back to the planner (Ctrl+R)")
        self.more.clicked.connect(lambda: self.change_count(1))
        self.fewer.clicked.connect(lambda: self.change_count(-1))
        self.free.clicked.connect(self.store.release)
        for button in (self.more, self.fewer, self.free):
            row.addWidget(button)
        self.column.addLayout(row)
        self.column = keep

    def _area(self, text: str) -> float:
        value = parsed_number(text)
        return value * MM_PER_INCH**2 if self.store.units.inches else value

    def _pin(self, what: str, **values: object) -> None:
        found = self.store.selected
        if found is not None:
            self.store.pin(f"Pin {what} of pass {found.number}", **values)

    def change_count(self, step: int) -> None:
        """One bead more or less in the selected bead's layer."""
        found, plan = self.store.selected, self.store.plan
        if found is None or plan is None:
            return
        count = sum(p.layer == found.layer for p in plan.passes) + step
        if 1 <= count <= 60 and found.role != "root":
            word = "Insert a bead in" if step > 0 else "Remove a bead from"
            self.store.pin(f"{word} layer {found.layer}", beads=count, area_mm2=None)

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for bar in (*self.bars.values(), self.area_bar):
            bar.theme = theme
            bar.update()
        super().set_theme(theme)

    def render_job(self) -> None:
        """Show the selected bead, or what to do."""
        found, plan, joint = self.store.selected, self.store.plan, self.store.joint
        shown = found is not None and joint is not None and plan is not None and plan.feasible
        for widget in (*self.bars.values(), self.area_bar, self.why, self.pins):
            widget.setVisible(shown)
        if not shown or found is None:
            self.title.setText("Passes")
            self.words.setText(self._without_selection())
            notes = notes_of(plan) if plan is not None and plan.feasible else ()
            self._say([(note.finding.severity, note.text) for note in notes])
            return
        self._show(found)

    def _without_selection(self) -> str:
        plan = self.store.plan
        if plan is None:
            return "Planning."
        if not plan.feasible:
            return "No plan: the reasons stand over the drawing."
        rods = "\n".join(f"{count} \N{MULTIPLICATION SIGN} {rod}" for rod, count in plan.rods_by_consumable().items())
        cap = plan.cap
        u = self.store.units
        height = "" if cap is None else f"\nCap {u.length(cap.min)} to {u.with_unit(cap.max)} over flush"
        height += self._movement(plan)
        return (f"{len(plan.passes)} beads in {plan.layers} layers\nWeld metal {plan.weld_metal_kg:.2f} kg\n{rods}\n"
                f"Arc time {minutes(plan.arc_time_s)}\nWith cleaning and rod changes {minutes(plan.total_time_s)}\n"
                f"Waits for cooling: see Heat\n{plan.stops} stops inside passes{height}\n\n"
                f"Select a bead in the section, the table or on the rail.")  # fmt: skip

    def _movement(self, plan: Plan) -> str:
        """Order of the sides, shrinkage and pull: rough figures, said to be so."""
        joint, u = self.store.joint, self.store.units
        if joint is None or joint.prep.kind.fillet:
            return ""
        area = sum(p.area_mm2 for p in plan.passes)
        low, high = transverse_shrinkage_mm(area, joint.prep.welded_thickness_mm, joint.prep.root_gap_mm)
        pull = pull_of(plan.passes, joint.prep.welded_thickness_mm)
        order = "\n\nOrder: " + "; ".join(sequence_in_words(plan)) + "." if plan.turns else ""
        return (f"{order}\n\nShrinks {u.length(low)} to {u.with_unit(high)} across (two schools, rough)\n"
                f"Pull index {pull.final_deg:+.1f}\N{DEGREE SIGN} to the {'front' if pull.final_deg >= 0 else 'back'}, at most "
                f"{abs(pull.greatest_deg):.1f}\N{DEGREE SIGN} on the way: ranks preparations and orders, uncertain by 100 %"
                + (f"\n\n{closing}" if (closing := gap_closing_in_words(joint, u)) else ""))  # fmt: skip

    def _show(self, found: Pass) -> None:
        joint, plan, u = self.store.joint, self.store.plan, self.store.units
        assert joint is not None
        self.title.setText(f"{pass_label(found)}  {found.role}, layer {found.layer}")
        arrow = f" {found.progression}" if found.progression else ""
        self.words.setText(f"{found.rod.id}, {found.rod.polarity}, {found.technique}{arrow}. {found.rod_count} rods, arc time "
                           f"{minutes(found.arc_time_s)}." + (" Pinned." if found.state == "pinned" else ""))  # fmt: skip
        energy_set = any(bounds(joint.working.windows, q, found.role, found.rod.id).is_set for q in ("heat_input",))
        self.bars["arc_energy"].setVisible(not energy_set or bounds(joint.working.windows, "arc_energy", found.role, found.rod.id).is_set)
        for quantity in PER_PASS:
            value = pass_value(found, quantity)
            self._bar(self.bars[quantity], quantity, value, bounds(joint.working.windows, quantity, found.role, found.rod.id))
        low, high = found.area_window
        self.area_bar.show_value(
            found.area_mm2, u.area(found.area_mm2), u.area_unit, Bounds(low, high), (u.area(low), u.area(high)),
            u.area(abs(min(found.area_mm2 - low, high - found.area_mm2))), found.area_origin.split(",")[0])  # fmt: skip
        said = findings_on(plan, found) if plan is not None else ()
        self._say([(f.severity, f"{f.text}. {f.remedy}") for f in said])
        self.why.setText("Why this bead: " + u.sentence(found.why))
        self.area.show_value(u.area(found.area_mm2), u.area_unit)
        self.amps.show_value(f"{found.amps:.0f}", "A")
        self.rod.set_choices({use.rod: use.rod for use in joint.working.rods if use.role == found.role})
        self.rod.show_choice(found.rod.id)
        self.free.setEnabled(self.store.pin_of(found) is not None)
        several = found.role in ("fill", "cap")
        self.more.setEnabled(several)
        self.fewer.setEnabled(several and sum(p.layer == found.layer for p in (plan.passes if plan is not None else ())) > 1)

    def _say(self, said: list[tuple[str, str]]) -> None:
        """What is outside in red, what to watch in amber."""
        for label, outside in ((self.faults, True), (self.warnings, False)):
            texts = [self.store.units.sentence(text) for severity, text in said if (severity == OUTSIDE) == outside]
            label.setText("\n\n".join(texts))
            label.setVisible(bool(texts))

    def _bar(self, bar: WindowBar, quantity: str, value: float, window: Bounds) -> None:
        u = self.store.units
        ends = tuple(u.quantity(quantity, v) if math.isfinite(v) else "" for v in (window.low, window.high))
        near = min(abs(value - window.low), abs(window.high - value))
        margin = "" if math.isinf(near) else u.quantity(quantity, near)
        bar.show_value(value, u.quantity(quantity, value), u.quantity_unit(quantity), window, (ends[0], ends[1]), margin)
