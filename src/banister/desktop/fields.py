"""Fields that take what people write: '3/32', '1/8 in', '2.4', '2,4 mm'; a wrong word stays, marked, with what would fit."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QWheelEvent
from PySide6.QtWidgets import QAbstractItemView, QComboBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from banister.core.remark import Refused, Remark
from banister.core.typed import METRIC, beyond, turned, typed, written
from banister.core.units import Units
from banister.core.words import Speech
from banister.desktop.app.style import BAD, SOFT, tint

UNDOING = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)
Committed = Callable[[float], Remark | None]
"""Takes a value, or says why it cannot be."""


class Entry(QLineEdit):
    """A line of what was typed: Esc gives back what stood there; undoing is the job's, unless something is being typed."""

    given_back = Signal()

    def __init__(self, name: str = "") -> None:
        super().__init__()
        self.kept = ""
        """What stands there once it was taken."""
        self.setAccessibleName(name)

    def show_text(self, text: str) -> None:
        """Show what the job holds, unless the user is in the middle of typing another."""
        if self.hasFocus() and self.isModified() and self.text() != text:
            return
        self.kept = text
        self.setModified(False)
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    @property
    def is_new(self) -> bool:
        """True where something else is typed than what stands there."""
        return self.text() != self.kept

    @property
    def is_wrong(self) -> bool:
        """True where what is typed was refused."""
        return bool(self.property("wrong"))

    def mark(self, is_wrong: bool) -> None:
        """Mark what is typed as refused, or no more."""
        if self.is_wrong != is_wrong:
            self.setProperty("wrong", is_wrong)
            self.update()

    def empty(self) -> None:
        """What is typed is given up, and nothing stands there."""
        self.setModified(False)
        self.show_text("")

    def write_as(self, text: str) -> None:
        """Write what stands there another way: what was kept stays that, and so does what is being typed."""
        was_kept, is_typed = not self.is_new, self.isModified()
        self.setText(text)
        self.setModified(is_typed)
        if was_kept:
            self.kept = text

    def keep(self) -> None:
        """What is typed was taken."""
        self.kept = self.text()
        self.setModified(False)

    def event(self, event: QEvent) -> bool:
        """Leave the keys of undoing to the job where nothing is being typed."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and not self.isModified() and any(map(event.matches, UNDOING)):
            event.ignore()
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Esc gives back what stood there; where nothing else is typed it goes on to the window."""
        if event.key() != Qt.Key.Key_Escape or not self.is_new:
            super().keyPressEvent(event)
            return
        self.setText(self.kept)
        self.selectAll()
        self.given_back.emit()


class FigureField(QWidget):
    """A labelled figure of a kind: read in the unit worked in, refused in words under it; up and down nudge it."""

    def __init__(
        self, title: str, kind: str, commit: Committed, nudge: float = 0.0, low: float = -math.inf, high: float = math.inf, optional: bool = False,
    ) -> None:  # fmt: skip
        super().__init__()
        self.kind, self.commit, self.nudge, self.low, self.high, self.optional = kind, commit, nudge, low, high, optional
        self.edit, self.label, self.unit, self.fault = Entry(), QLabel(), QLabel(), QLabel()
        self.edit.setMaximumWidth(110)
        self.label.setBuddy(self.edit)
        self.label.setWordWrap(True)
        tint(self.unit, SOFT)
        self.unit.setMinimumWidth(48)
        tint(self.fault, BAD)
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
        self._say: Speech | None = None
        self._known: tuple[str, float] | None = None
        """The figure that was shown, and how it was written: it is that very one until something else is typed."""
        self.set_title(title)
        self.edit.editingFinished.connect(self._finish)
        self.edit.textEdited.connect(self._typed)
        self.edit.given_back.connect(lambda: self.tell(""))

    def set_title(self, title: str) -> None:
        """What stands before the field."""
        self.label.setText(title)
        self.edit.setAccessibleName(title)

    def show_unit(self, say: Speech, kind: str = "") -> None:
        """Show the unit; what stands there already stays the figure it is, in the new one."""
        before, self._say, self.kind = self._say, say, kind or self.kind
        if before is not None and before.units != say.units and not kind:
            self.turn(before.units, say.units)
        unit = say.units.unit(self.kind)
        self.unit.setText(unit)
        self.edit.setAccessibleName(f"{self.label.text()}, {unit}" if unit else self.label.text())
        if not self.fault.text():
            self.edit.setAccessibleDescription(self._bounds(say))

    def turn(self, before: Units, now: Units) -> None:
        """Write what stands there in other units, unless it names its own; what is no figure stays as it was typed."""
        if self._known is not None and self.edit.text() == self._known[0]:
            self._known = written(self._known[1], self.kind, now), self._known[1]
            self.edit.write_as(self._known[0])
            return
        try:
            then, as_now = (typed(self.edit.text(), self.kind, units, self.low, self.high) for units in (before, now))
        except Refused:
            return
        if then != as_now:
            self.edit.write_as(written(then, self.kind, now))

    def _bounds(self, say: Speech) -> str:
        """What it may be, for those who hear the field."""
        low, high = (end if math.isfinite(end) else None for end in (self.low, self.high))
        return "" if low is None and high is None else say.window(low, high, self.kind)

    def show_value(self, value: float | None, say: Speech) -> None:
        """Show a value (None: empty) unless the user is in the middle of typing another."""
        self.show_unit(say)
        text = "" if value is None else say.units.text(self.kind, value)
        self._known = None if value is None else (text, value)
        self.edit.show_text(text)
        if not self.edit.is_new:
            self.tell("")

    def value(self) -> float:
        """The figure as it is typed now; Refused says why it is none, or that it is outside what the field takes."""
        value = self._read()
        if (refusal := beyond(value, self.kind, self.low, self.high)) is not None:
            raise Refused(refusal)
        return value

    def _read(self) -> float:
        text = self.edit.text()
        return self._known[1] if self._known is not None and text == self._known[0] else self.parse(text)

    def parse(self, text: str) -> float:
        """The figure somebody typed."""
        return typed(text, self.kind, METRIC if self._say is None else self._say.units, self.low, self.high)

    def put(self, value: float, text: str) -> None:
        """Put a figure there as if it were typed, written so."""
        self._known = text, value
        self.edit.setText(text)

    def empty(self) -> None:
        """What is typed is given up, and nothing stands there."""
        self._known = None
        self.edit.empty()
        self.tell("")

    def tell(self, fault: str) -> None:
        """Show or clear the words under the field."""
        self.fault.setText(fault)
        self.fault.setVisible(bool(fault))
        self.edit.setAccessibleDescription(fault or (self._bounds(self._say) if self._say is not None else ""))
        self.edit.mark(bool(fault))

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down nudge the value, within what it may be."""
        step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if step is None or not self.nudge:
            super().keyPressEvent(event)
            return
        try:
            self._offer(min(max(self._read() + step * self.nudge, self.low), self.high))
        except Refused as refused:
            self._refuse(refused.remarks[0])

    def _typed(self, text: str) -> None:
        """Once it is marked wrong, what is typed is tried at once, so that the mark goes as soon as it may."""
        if self.fault.isVisible():
            self._take(text)

    def _finish(self) -> None:
        if self.edit.is_new:
            self._take(self.edit.text())

    def _take(self, text: str) -> None:
        try:
            self._offer(math.nan if self.optional and not text.strip() else self.value())
        except Refused as refused:
            self._refuse(refused.remarks[0])

    def _offer(self, value: float) -> None:
        refusal = self.commit(value)
        if refusal is not None:
            self._refuse(refusal)
            return
        self.tell("")
        if self._known is None or self._known[0] != self.edit.text():
            self._known = None if math.isnan(value) else (self.edit.text(), value)
        self.edit.keep()

    def _refuse(self, remark: Remark) -> None:
        if self._say is not None:
            self.tell(self._say.sentence(remark))


class QuietBox(QComboBox):
    """A list that the wheel passes over while it is not in use."""

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        """Turn the list only while it has the focus."""
        if self.hasFocus():
            super().wheelEvent(event)
        else:
            event.ignore()


class ChoiceField(QWidget):
    """A labelled list of choices with keys."""

    chosen = Signal(str)

    def __init__(self, title: str, choices: dict[str, str]) -> None:
        super().__init__()
        self.box = QuietBox()
        self.box.setAccessibleName(title)
        self.box.setMinimumContentsLength(8)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.label = QLabel(title)
        self.label.setBuddy(self.box)
        self.label.setMinimumWidth(118)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.label)
        row.addWidget(self.box, 1)
        self.set_choices(choices)
        self.box.activated.connect(lambda i: self.chosen.emit(self.box.itemData(i)))

    @property
    def key(self) -> str:
        """The choice that is shown."""
        return str(self.box.currentData() or "")

    def set_choices(self, choices: dict[str, str]) -> None:
        """Replace the list, if it differs."""
        now = {self.box.itemData(i): self.box.itemText(i) for i in range(self.box.count())}
        if now != choices:
            kept = self.box.currentData()
            self.box.clear()
            for key, text in choices.items():
                self.box.addItem(text, key)
            self.show_choice(kept)

    def show_choice(self, key: str | None) -> None:
        """Show a choice."""
        i = self.box.findData(key)
        if i >= 0 and i != self.box.currentIndex():
            self.box.setCurrentIndex(i)


class NameField(QWidget):
    """A labelled line of free text."""

    committed = Signal(str)

    def __init__(self, title: str, narrow: bool = False) -> None:
        super().__init__()
        self.edit = Entry(title)
        self.label = QLabel(title)
        self.label.setBuddy(self.edit)
        self.label.setMinimumWidth(0 if narrow else 118)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.label)
        row.addWidget(self.edit, 1)
        self.edit.editingFinished.connect(lambda: self.committed.emit(self.edit.text()))
        self.edit.textChanged.connect(self.edit.setToolTip)  # a long one is read whole

    def empty(self) -> None:
        """What is typed is given up, and nothing stands there."""
        self.edit.empty()

    def show_text(self, text: str) -> None:
        """Show a text unless the user is typing another."""
        self.edit.show_text(text)


class UnitsField(NameField):
    """A line with figures in it, read in the unit worked in: when that changes they are written anew, and stay what they are."""

    def __init__(self, title: str, kind: str = "") -> None:
        """`kind` is that of all its figures."""
        super().__init__(title)
        self.title, self.kind = title, kind
        self._units: Units | None = None

    def show_units(self, say: Speech, kind: str | None = None) -> None:
        """The unit worked in, behind the name where all figures are of one kind."""
        before, self._units, self.kind = self._units, say.units, self.kind if kind is None else kind
        if before is not None and before != say.units and self.edit.text().strip():
            text = self.turned(self.edit.text(), before, say.units)
            if text != self.edit.text():
                self.edit.write_as(text)
        unit = say.units.unit(self.kind) if self.kind else ""
        self.label.setText(f"{self.title}, {unit}" if unit else self.title)
        self.edit.setAccessibleName(self.label.text())

    def turned(self, text: str, before: Units, now: Units) -> str:
        """What stands there, written in other units."""
        return turned(text, self.kind, before, now)


class Refusal(QLabel):
    """Why something could not be taken, under what was asked for; gone while there is nothing to say."""

    def __init__(self) -> None:
        super().__init__()
        tint(self, BAD)
        self.setWordWrap(True)
        self.hide()

    def tell(self, why: str) -> None:
        """Say why; '' for nothing."""
        self.setText(why)
        self.setVisible(bool(why))


def take_typed(widget: QWidget | None) -> bool:
    """Take what is being typed in a widget as if it were left, before something else is done; False where it is refused: it stays, marked."""
    if isinstance(widget, Entry):
        if widget.is_new:
            widget.editingFinished.emit()
        return not widget.is_wrong
    if isinstance(widget, QLineEdit) and any(isinstance(one, QAbstractItemView) for one in _above(widget)):
        widget.clearFocus()  # a cell's own line gives its text to the table as it loses the keys
    return True


def _above(widget: QWidget) -> Iterator[QWidget]:
    """What a widget stands in, from the inside out."""
    while (above := widget.parentWidget()) is not None:
        yield above
        widget = above
