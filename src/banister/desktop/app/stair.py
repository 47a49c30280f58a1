"""The stair at the left: the steps in the order of the work, each saying its state in words."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from banister.desktop.app.theme import Theme, font, font_within, width_px
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.registry import STEPS, StepState
from banister.desktop.store import Store

ROW_PX, RISE_PX, HEAD_PX = (38.0, 58.0), 6.0, 10.0
"""Height of a step in a low and in a high window, how much further in each lies, and the room above."""
FOLDED_PX, FOLDS_BELOW_PX = 26.0, 700.0
"""Height of a step that only says its name, and under which height of the window all but the present one and its neighbours do."""


class Stair(QWidget):
    """Lists the steps; one is the one worked on."""

    chosen = Signal(str)
    entered = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.states: tuple[StepState, ...] = tuple(StepState("") for _ in STEPS)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedWidth(196)
        self.setAccessibleName(store.say("stair.name"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A column."""
        return QSize(196, 400)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Show where each step stands."""
        states = tuple(step.state(new) for step in STEPS) if new.joint is not None else self.states
        if states != self.states or new.differs(old, "view", "say"):
            self.states = states
            titles = (f"{new.say(step.title)}: {state.text}" for step, state in zip(STEPS, states, strict=True))
            self.setAccessibleDescription("; ".join(titles))
            here = next(i for i, step in enumerate(STEPS) if step.key == new.view.step)
            self.setAccessibleName(new.say("stair.here", steps=new.say("stair.name"), step=new.say(STEPS[here].title), state=states[here].text))
            self.update()

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint the treads, each a little further in than the one above."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.theme.window))
        tops = self.tops_px()
        for i, state in enumerate(self.states):
            self._paint_step(painter, i, state, tops[i], tops[i + 1] - 6)

    @property
    def _here(self) -> int:
        return next((i for i, step in enumerate(STEPS) if step.key == self.store.view.step), 0)

    def is_folded(self, i: int) -> bool:
        """True where a step only says its name: in a low window all but the present one and its neighbours."""
        return self.window().height() < FOLDS_BELOW_PX and abs(i - self._here) > 1

    def tops_px(self) -> list[float]:
        """The upper edge of every step, and the foot of the last: all of them are seen."""
        least, most = ROW_PX
        folded = sum(self.is_folded(i) for i in range(len(STEPS)))
        row = min(max((self.height() - HEAD_PX - folded * FOLDED_PX) / max(len(STEPS) - folded, 1), least), most)
        return list(itertools.accumulate((FOLDED_PX if self.is_folded(i) else row for i in range(len(STEPS))), initial=HEAD_PX))

    def _paint_step(self, painter: QPainter, i: int, state: StepState, top: float, foot: float) -> None:
        t, left = self.theme, 14 + i * RISE_PX
        here = STEPS[i].key == self.store.view.step
        tread = QRectF(left - 6, top, self.width() - left + 6, foot - top)
        if here:
            painter.fillRect(tread, QColor(t.accent_ground))
        painter.setPen(QPen(QColor(t.accent if here else t.line), 3 if here else 1.5))
        painter.drawLine(int(left - 6), int(foot), self.width(), int(foot))
        if here and self.hasFocus():
            painter.setPen(QPen(QColor(t.accent), 2))
            painter.drawRect(tread.adjusted(1, 1, -1, -1))
        is_folded = self.is_folded(i)
        title_y = (top + foot) / 2 - (11 if is_folded else 20)
        painter.setFont(font(13 if is_folded else 15, QFont.Weight.DemiBold if here else QFont.Weight.Medium))
        painter.setPen(QColor(t.bad if is_folded and state.bad else t.text))
        title = f"{i + 1}  {self.store.say(STEPS[i].title)}"
        painter.drawText(QRectF(left, title_y, self.width() - left, 22), Qt.AlignmentFlag.AlignVCenter, title)
        if is_folded:
            return
        painter.setPen(QColor(t.bad if state.bad else t.soft))
        room = int(self.width() - left - 6)
        painter.setFont(font(12) if width_px(state.text, 12) <= room else font_within(state.text, 12, room))
        text = painter.fontMetrics().elidedText(state.text, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, title_y + 20, self.width() - left - 4, 18), Qt.AlignmentFlag.AlignVCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Go to a step."""
        tops, y = self.tops_px(), event.position().y()
        i = next((i for i in range(len(STEPS)) if tops[i] <= y < tops[i + 1]), None)
        if i is not None:
            self.chosen.emit(STEPS[i].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk the stair, Enter and right go into the panel of the step."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right, Qt.Key.Key_Space):
            self.entered.emit()
            return
        move = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        keys = [step.key for step in STEPS]
        if move is None:
            super().keyPressEvent(event)
            return
        self.chosen.emit(keys[min(max(keys.index(self.store.view.step) + move, 0), len(keys) - 1)])
