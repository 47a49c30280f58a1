"""The stair at the left: the steps in the order of the work, each saying its state in words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from banister.desktop.theme import Theme, font

ROW_PX, RISE_PX = 58.0, 7.0


@dataclass(frozen=True, slots=True)
class StepState:
    """A step's title and its state; `bad` where something in it is outside."""

    key: str
    title: str
    state: str
    bad: bool = False


class Stair(QWidget):
    """Lists the steps; one is the one worked on."""

    chosen = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.steps: tuple[StepState, ...] = ()
        self.current = "joint"
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedWidth(196)
        self.setAccessibleName("Steps of the work")

    def sizeHint(self) -> QSize:  # noqa: N802
        """A column."""
        return QSize(196, 400)

    def show_steps(self, steps: Sequence[StepState], current: str) -> None:
        """Show the steps."""
        self.steps, self.current = tuple(steps), current
        self.setAccessibleDescription("; ".join(f"{s.title}: {s.state}" for s in steps))
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint the treads, each a little further in than the one above."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self.theme
        painter.fillRect(self.rect(), QColor(t.window))
        for i, step in enumerate(self.steps):
            top, left = 14 + i * ROW_PX, 14 + i * RISE_PX
            here = step.key == self.current
            if here:
                painter.fillRect(QRectF(left - 6, top, self.width() - left + 6, ROW_PX - 8), QColor(t.accent_ground))
            painter.setPen(QPen(QColor(t.accent if here else t.line), 3 if here else 1.5))
            painter.drawLine(int(left - 6), int(top + ROW_PX - 8), self.width(), int(top + ROW_PX - 8))
            painter.setPen(QColor(t.text))
            painter.setFont(font(15, QFont.Weight.DemiBold if here else QFont.Weight.Medium))
            painter.drawText(QRectF(left, top + 4, self.width() - left, 22), Qt.AlignmentFlag.AlignVCenter, f"{i + 1}  {step.title}")
            painter.setPen(QColor(t.bad if step.bad else t.soft))
            painter.setFont(font(12))
            text = painter.fontMetrics().elidedText(step.state, Qt.TextElideMode.ElideRight, int(self.width() - left - 6))
            painter.drawText(QRectF(left, top + 26, self.width() - left - 4, 20), Qt.AlignmentFlag.AlignVCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Go to a step."""
        i = int((event.position().y() - 14) // ROW_PX)
        if 0 <= i < len(self.steps):
            self.chosen.emit(self.steps[i].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk the stair."""
        move = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        keys = [s.key for s in self.steps]
        if move is None or self.current not in keys:
            super().keyPressEvent(event)
            return
        self.chosen.emit(keys[min(max(keys.index(self.current) + move, 0), len(keys) - 1)])
