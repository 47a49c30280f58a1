"""The limits: the procedure's windows and the planner's own choices."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from banister.core.joint.figures import CHOICE_FIGURES, FIGURES
from banister.core.joint.joint import edited
from banister.core.joint.working import ROLES
from banister.core.judge.passes import PER_PASS, pass_value
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.limits.windows import QUANTITIES, Window, window_faults
from banister.core.remark import Refused
from banister.core.typed import typed
from banister.core.words import Speech
from banister.desktop.app.theme import Theme
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel, capital, cleared
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

NAMES = {"procedure": "procedure", "procedure_revision": "revision", "group": "base_metal"}
FLAGS = ("stringers_only", "walls_first", "start_right")
STARTS = {"preheat": (20.0, None), "interpass": (None, 250.0)}
"""What a window of heat starts from; one of a pass starts from the plan."""
AROUND = (0.9, 1.1)
ENDS = ("low", "high")


class WindowRow(QWidget):
    """One window: what it covers, its two bounds, and a way to drop it."""

    def __init__(self, panel: LimitsPanel, index: int, window: Window) -> None:
        super().__init__()
        self.panel, self.index, self.limit, self.kind = panel, index, window, QUANTITIES[window.quantity]
        say, units = panel.say, panel.say.units
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 2)
        grid.setHorizontalSpacing(6)
        title, covers = capital(say(f"quantity.{window.quantity}")), covered(window, say)
        cover = QLabel(covers)
        cover.setProperty("soft", True)
        grid.addWidget(QLabel(title), 0, 0, 1, 3)
        grid.addWidget(cover, 1, 0)
        self.ends: dict[str, QLineEdit] = {}
        for column, end in enumerate(ENDS):
            value = getattr(window, end)
            edit = QLineEdit("" if value is None else units.text(self.kind, value))
            edit.setPlaceholderText(say(f"limits.{end}"))
            edit.setAccessibleName(f"{title}, {covers}, {say(f'limits.{end}')}")
            edit.setMaximumWidth(72)
            edit.editingFinished.connect(partial(self._finish, end))
            grid.addWidget(edit, 1, column + 1)
            self.ends[end] = edit
        grid.addWidget(QLabel(units.unit(self.kind)), 1, 3)
        drop = QPushButton(say("limits.drop"))
        drop.setToolTip(say("limits.drop.tip"))
        drop.clicked.connect(lambda: panel.drop(index))
        grid.addWidget(drop, 1, 4)
        grid.setColumnStretch(0, 1)
        self.fault = QLabel()
        self.fault.setProperty("bad", True)
        self.fault.setWordWrap(True)
        self.fault.hide()
        grid.addWidget(self.fault, 2, 0, 1, 5)

    def _finish(self, end: str) -> None:
        text, say, old = self.ends[end].text().strip(), self.panel.say, getattr(self.limit, end)
        if text == ("" if old is None else say.units.text(self.kind, old)):
            return
        try:
            value = typed(text, self.kind, say.units) if text else None
            changed = replace(self.limit, low=value) if end == "low" else replace(self.limit, high=value)
        except Refused as refused:
            self._tell(say.sentence(refused.remarks[0]))
            return
        if faults := window_faults(changed):
            self._tell(say.sentence(faults[0]))
            return
        self.panel.put(self.index, changed)

    def _tell(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.show()


def covered(window: Window, say: Speech) -> str:
    """Which passes and rods a window speaks of."""
    role = say(f"role.{window.role}")
    return f"{role} {say.units.rod(window.rod)}" if window.rod != "*" else role


class LimitsPanel(Panel):
    """The windows of the qualified procedure. What is not set is not judged."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.heading(say("limits.title"))
        self.names: dict[str, NameField] = {}
        for field, word in NAMES.items():
            edit = NameField(say(f"limits.{word}"))
            edit.committed.connect(partial(self._named, field, word))
            self.names[field] = edit
            self.column.addWidget(edit)
        self.state = self.remark()
        self.rows = QVBoxLayout()
        self.column.addLayout(self.rows)
        self.heading(say("limits.set"), 14)
        self.quantity = self.choice("limits.quantity", {q: capital(say(f"quantity.{q}")) for q in QUANTITIES})
        self.role = self.choice("limits.pass", self.words("role", ("*", *ROLES)))
        self.rod = self.choice("limits.rod", {"*": say("limits.every_rod")})
        self.button("limits.add", self._add)
        self.heading(say("limits.rules"), 14)
        self.remark(say("limits.rules.note"))
        self.acceptance = self.choice("limits.acceptance", self.words("acceptance", ACCEPTANCE), lambda key: self._choose("acceptance", key))
        self.flags = {flag: self.tick(f"limits.{flag}", partial(self._choose, flag)) for flag in FLAGS}
        self.figures = {f.key: self.figure(f) for f in CHOICE_FIGURES}
        self.column.addStretch(1)

    # --- intents -----------------------------------------------------------------------------
    def put(self, index: int, window: Window) -> None:
        """Replace a window."""
        if self.store.joint is not None:
            windows = list(self.store.joint.working.windows)
            windows[index] = window
            self.store.edit_joint(self._step("edit.window", window.quantity), windows=tuple(windows))

    def drop(self, index: int) -> None:
        """Remove a window."""
        if self.store.joint is not None:
            windows = list(self.store.joint.working.windows)
            gone = windows.pop(index)
            self.store.edit_joint(self._step("edit.window.drop", gone.quantity), windows=tuple(windows))

    def _step(self, key: str, quantity: str) -> str:
        return self.say(key, quantity=self.say(f"quantity.{quantity}"))

    def _add(self) -> None:
        joint, plan = self.store.joint, self.store.now.plan
        if joint is None:
            return
        quantity = self.quantity.key
        window = Window(quantity=quantity, role=self.role.key, rod=self.rod.key)
        low, high = STARTS.get(quantity, (None, None))
        if quantity in PER_PASS and plan is not None and plan.passes:
            values = [pass_value(p, quantity) for p in plan.passes if window.covers(p.role, p.rod.id)]
            low, high = (round(AROUND[0] * min(values), 2), round(AROUND[1] * max(values), 2)) if values else (None, None)
        self.store.edit_joint(self._step("edit.window.add", quantity), windows=(*joint.working.windows, replace(window, low=low, high=high)))

    def _named(self, field: str, word: str, text: str) -> None:
        joint = self.store.joint
        if joint is not None and edited(joint, **{field: text}) != joint:
            self.store.edit_joint(self.say("edit.name", what=self.say(f"limits.{word}")), **{field: text})

    def _choose(self, field: str, value: object) -> None:
        self.store.edit_joint(self.say("edit.name", what=self.say(f"limits.{field}")), **{field: value})

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show windows and rules."""
        joint, before, say = new.joint, None if old is None else old.joint, new.say
        if joint is None or not new.differs(old, "joint", "say"):
            return
        for field, edit in self.names.items():
            edit.show_text(joint.metal.group if field == "group" else getattr(joint, field))
        windows = joint.working.windows
        if before is None or windows != before.working.windows or new.differs(old, "say"):
            cleared(self.rows)
            for i, window in enumerate(windows):
                self.rows.addWidget(WindowRow(self, i, window))
        self.state.setText("" if windows else say("limits.none"))
        self.rod.set_choices({"*": say("limits.every_rod")} | {use.rod: say.units.rod(use.rod) for use in joint.working.rods})
        choices = joint.working.choices
        self.acceptance.show_choice(choices.acceptance)
        for flag, box in self.flags.items():
            box.setChecked(getattr(choices, flag))
        for key, field_ in self.figures.items():
            field_.show_value(FIGURES[key].of(joint), say)
            field_.setVisible(FIGURES[key].applies(joint))
