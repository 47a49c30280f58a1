"""Step 2, the limits: the procedure's windows and the planner's own choices."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtWidgets import QCheckBox, QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from banister.core.joint.working import ROLES
from banister.core.joint.figures import CHOICE_LIMITS
from banister.core.judge.check import PER_PASS, pass_value
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.limits.windows import TITLES, Window
from banister.core.units import MM_PER_INCH, parsed_number
from banister.desktop.fields import ChoiceField, NameField, ValueField
from banister.desktop.panel import Panel, cleared
from banister.desktop.store import Store
from banister.desktop.theme import Theme

PER_LENGTH = ("arc_energy", "heat_input")


class WindowRow(QWidget):
    """One window: what it covers, its two bounds, and a way to drop it."""

    def __init__(self, panel: LimitsPanel, index: int, window: Window) -> None:
        super().__init__()
        self.panel, self.index, self.window = panel, index, window
        u = panel.store.units
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 2)
        grid.setHorizontalSpacing(6)
        covers = " ".join(w for w in (window.role if window.role != "*" else "every pass", window.rod if window.rod != "*" else "") if w)
        title = QLabel(TITLES[window.quantity])
        cover = QLabel(covers)
        cover.setProperty("soft", True)
        grid.addWidget(title, 0, 0, 1, 3)
        grid.addWidget(cover, 1, 0)
        self.ends: dict[str, QLineEdit] = {}
        for column, end in enumerate(("low", "high")):
            value = getattr(window, end)
            edit = QLineEdit("" if value is None else u.quantity(window.quantity, value))
            edit.setPlaceholderText("at least" if end == "low" else "at most")
            edit.setAccessibleName(f"{TITLES[window.quantity]}, {covers}, {'least' if end == 'low' else 'most'}")
            edit.setMaximumWidth(72)
            edit.editingFinished.connect(partial(self._finish, end))
            grid.addWidget(edit, 1, column + 1)
            self.ends[end] = edit
        grid.addWidget(QLabel(u.quantity_unit(window.quantity)), 1, 3)
        drop = QPushButton("Drop")
        drop.setToolTip("Remove this window: the quantity is then not judged")
        drop.clicked.connect(lambda: panel.drop(index))
        grid.addWidget(drop, 1, 4)
        grid.setColumnStretch(0, 1)
        self.fault = QLabel()
        self.fault.setProperty("bad", True)
        self.fault.setWordWrap(True)
        self.fault.hide()
        grid.addWidget(self.fault, 2, 0, 1, 5)

    def _finish(self, end: str) -> None:
        text = self.ends[end].text().strip()
        u = self.panel.store.units
        old = getattr(self.window, end)
        if text == ("" if old is None else u.quantity(self.window.quantity, old)):
            return
        try:
            value = self.panel.parsed(self.window.quantity, text) if text else None
        except ValueError as error:
            self._say(str(error))
            return
        changed = replace(self.window, **{end: value})
        if changed.low is not None and changed.high is not None and changed.low > changed.high:
            self._say("the lower bound is above the upper one")
            return
        self.panel.put(self.index, changed)

    def _say(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.show()


class LimitsPanel(Panel):
    """The windows of the qualified procedure. What is not set is not judged."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        self.heading("Limits of the procedure")
        self.names: dict[str, NameField] = {}
        for name, title in (("procedure", "Procedure number"), ("procedure_revision", "Revision"), ("base_metal", "Base metal")):
            edit = NameField(title)
            edit.committed.connect(partial(self._named, name, title))
            self.names[name] = edit
            self.column.addWidget(edit)
        self.state = self.remark()
        self.rows = QVBoxLayout()
        self.column.addLayout(self.rows)
        self.heading("Set a window", 14)
        self.quantity = ChoiceField("Quantity", TITLES)
        self.role = ChoiceField("Pass", {"*": "every pass"} | {r: r for r in ROLES})
        self.rod = ChoiceField("Rod", {"*": "every rod"})
        add = QPushButton("Add window")
        add.clicked.connect(self._add)
        for widget in (self.quantity, self.role, self.rod, add):
            self.column.addWidget(widget)
        self.heading("Planner's rules", 14)
        self.remark("Typical shop figures; yours to change.")
        self.acceptance = ChoiceField("Cap height by", {k: v[0] for k, v in ACCEPTANCE.items()})
        self.acceptance.chosen.connect(lambda key: self._choice("acceptance", key))
        self.column.addWidget(self.acceptance)
        self.stringers = QCheckBox("Stringers only, no weaves")
        self.walls = QCheckBox("Both walls first, the middle last")
        self.stringers.clicked.connect(lambda on: self._choice("stringers_only", on))
        self.walls.clicked.connect(lambda on: self._choice("walls_first", on))
        self.column.addWidget(self.stringers)
        self.column.addWidget(self.walls)
        self.right = QCheckBox("First layer begins at the right")
        self.right.clicked.connect(lambda on: self._choice("start_right", on))
        self.column.addWidget(self.right)
        self.figures: dict[str, ValueField] = {}
        for name, (title, _, _) in CHOICE_LIMITS.items():
            field = ValueField(title.capitalize(), self.length if name.endswith("_mm") else parsed_number)
            field.committed.connect(partial(self._figure, name))
            self.figures[name] = field
            self.column.addWidget(field)
        self.column.addStretch(1)
        self._shown: Any = None

    def parsed(self, quantity: str, text: str) -> float:
        """A bound as typed in the units that are worked in."""
        inches = self.store.units.inches
        if quantity in ("run_out", "weave"):
            return self.length(text)
        value = parsed_number(text)
        if quantity in PER_LENGTH and inches:
            return value / MM_PER_INCH
        return value * MM_PER_INCH if quantity == "travel" and inches else value

    def put(self, index: int, window: Window) -> None:
        """Replace a window."""
        if self.store.joint is not None:
            windows = list(self.store.joint.working.windows)
            windows[index] = window
            self.store.edit_joint(f"Set window: {TITLES[window.quantity].lower()}", windows=tuple(windows))

    def drop(self, index: int) -> None:
        """Remove a window."""
        if self.store.joint is not None:
            windows = list(self.store.joint.working.windows)
            gone = windows.pop(index)
            self.store.edit_joint(f"Drop window: {TITLES[gone.quantity].lower()}", windows=tuple(windows))

    def _add(self) -> None:
        joint, plan = self.store.joint, self.store.plan
        if joint is None:
            return
        quantity = self.quantity.box.currentData()
        role, rod = self.role.box.currentData(), self.rod.box.currentData()
        low = high = None
        if quantity in PER_PASS and plan is not None and plan.passes:
            window = Window(quantity=quantity, role=role, rod=rod)
            values = [pass_value(p, quantity) for p in plan.passes if window.covers(p.role, p.rod.id)]
            low, high = (round(0.9 * min(values), 2), round(1.1 * max(values), 2)) if values else (None, None)
        if quantity == "preheat":
            low = 20.0
        if quantity == "interpass":
            high = 250.0
        made = Window(quantity=quantity, role=role, rod=rod, low=low, high=high)
        self.store.edit_joint(f"Add window: {TITLES[quantity].lower()}", windows=(*joint.working.windows, made))

    def _named(self, name: str, title: str, text: str) -> None:
        joint = self.store.joint
        if joint is not None and getattr(joint, name) != text:
            self.store.edit_joint(f"Set {title.lower()}", **{name: text})

    def _choice(self, name: str, value: object) -> None:
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint("Set " + name.replace("_", " "), choices=replace(joint.working.choices, **{name: value}))

    def _figure(self, name: str, value: float) -> None:
        title, low, high = CHOICE_LIMITS[name]
        if not low <= value <= high:
            self.figures[name].say(f"enter {low:g} to {high:g}")
            return
        joint = self.store.joint
        if joint is not None:
            self.store.edit_joint(f"Set {title}", choices=replace(joint.working.choices, **{name: value}))

    def render_job(self) -> None:
        """Show windows and rules."""
        joint = self.store.joint
        if joint is None:
            return
        u = self.store.units
        for name, edit in self.names.items():
            edit.show_text(getattr(joint, name))
        if self._shown != (joint.working.windows, u):
            self._shown = (joint.working.windows, u)
            cleared(self.rows)
            for i, window in enumerate(joint.working.windows):
                self.rows.addWidget(WindowRow(self, i, window))
        self.state.setText("" if joint.working.windows else "Nothing is set yet, so nothing is judged. A bound added here starts "
                           "from the plan: overwrite it with your procedure's figures.")  # fmt: skip
        self.rod.set_choices({"*": "every rod"} | {use.rod: use.rod for use in joint.working.rods})
        c = joint.working.choices
        self.acceptance.show_choice(c.acceptance)
        self.stringers.setChecked(c.stringers_only)
        self.walls.setChecked(c.walls_first)
        self.right.setChecked(c.start_right)
        for name, field in self.figures.items():
            value = getattr(c, name)
            unit = u.length_unit if name.endswith("_mm") else "%" if name.endswith("percent") else "s"
            field.show_value(u.length(value, 2) if name.endswith("_mm") else f"{value:g}", unit)
