"""Fields that take what people write: '3/32', '1/8 in', '2.4', '2,4 mm'; a wrong word stays, marked."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget


class ValueField(QWidget):
    """A labelled line with a unit, a parser and a plain word under it when it cannot be read."""

    committed = Signal(float)

    def __init__(self, title: str, parse: Callable[[str], float], nudge: float = 0.0, optional: bool = False) -> None:
        super().__init__()
        self.parse, self.nudge, self.optional = parse, nudge, optional
        self.edit = QLineEdit()
        self.edit.setAccessibleName(title)
        self.edit.setMaximumWidth(110)
        self.label = QLabel(title)
        self.label.setBuddy(self.edit)
        self.label.setWordWrap(True)
        self.unit = QLabel()
        self.unit.setProperty("soft", True)
        self.unit.setMinimumWidth(48)
        self.fault = QLabel()
        self.fault.setProperty("bad", True)
        self.fault.setWordWrap(True)
        self.fault.hide()
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.label, 1)
        row.addWidget(self.edit)
        row.addWidget(self.unit)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(row)
        column.addWidget(self.fault)
        self._shown = ""
        self.edit.editingFinished.connect(self._finish)
        self.edit.textEdited.connect(self._typed)

    def show_value(self, text: str, unit: str) -> None:
        """Show a value unless the user is in the middle of typing another."""
        self.unit.setText(unit)
        if self.edit.hasFocus() and self.edit.isModified():
            return
        self._shown = text
        if self.edit.text() != text:
            self.edit.setText(text)
        self.say("")

    def say(self, fault: str) -> None:
        """Show or clear the plain word under the field."""
        self.fault.setText(fault)
        self.fault.setVisible(bool(fault))
        if self.edit.property("wrong") != bool(fault):
            self.edit.setProperty("wrong", bool(fault))
            self.edit.style().unpolish(self.edit)
            self.edit.style().polish(self.edit)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down nudge the value."""
        step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if step is None or not self.nudge:
            super().keyPressEvent(event)
            return
        try:
            self.committed.emit(max(0.0, self.parse(self.edit.text()) + step * self.nudge))
        except ValueError as error:
            self.say(str(error))

    def _typed(self, text: str) -> None:
        """A value that reads is taken at once; one that does not waits for the end of typing."""
        if self.fault.isVisible():
            self._take(text)

    def _finish(self) -> None:
        if self.edit.text() != self._shown:
            self._take(self.edit.text())

    def _take(self, text: str) -> None:
        if self.optional and not text.strip():
            self.edit.setModified(False)
            self.say("")
            self.committed.emit(float("nan"))
            return
        try:
            value = self.parse(text)
        except ValueError as error:
            self.say(str(error))
            return
        self.say("")
        self._shown = text
        self.edit.setModified(False)
        self.committed.emit(value)


class ChoiceField(QWidget):
    """A labelled list of choices with keys."""

    chosen = Signal(str)

    def __init__(self, title: str, choices: dict[str, str]) -> None:
        super().__init__()
        self.box = QComboBox()
        self.box.setAccessibleName(title)
        self.box.setMinimumContentsLength(8)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        label = QLabel(title)
        label.setBuddy(self.box)
        label.setMinimumWidth(118)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label)
        row.addWidget(self.box, 1)
        self.set_choices(choices)
        self.box.activated.connect(lambda i: self.chosen.emit(self.box.itemData(i)))

    def set_choices(self, choices: dict[str, str]) -> None:
        """Replace the list, if it differs."""
        now = {self.box.itemData(i): self.box.itemText(i) for i in range(self.box.count())}
        if now != choices:
            self.box.clear()
            for key, text in choices.items():
                self.box.addItem(text, key)

    def show_choice(self, key: str) -> None:
        """Show a choice."""
        i = self.box.findData(key)
        if i >= 0 and i != self.box.currentIndex():
            self.box.setCurrentIndex(i)


class NameField(QWidget):
    """A labelled line of free text."""

    committed = Signal(str)

    def __init__(self, title: str) -> None:
        super().__init__()
        self.edit = QLineEdit()
        self.edit.setAccessibleName(title)
        label = QLabel(title)
        label.setBuddy(self.edit)
        label.setMinimumWidth(118)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label)
        row.addWidget(self.edit, 1)
        self.edit.editingFinished.connect(lambda: self.committed.emit(self.edit.text()))

    def show_text(self, text: str) -> None:
        """Show a text unless the user is typing another."""
        if not self.edit.hasFocus() and self.edit.text() != text:
            self.edit.setText(text)
            self.edit.setCursorPosition(0)
            self.edit.setToolTip(text)
