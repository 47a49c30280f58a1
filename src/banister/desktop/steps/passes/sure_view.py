"""How sure, in a window of its own: ranges and weights, first from few variants, then from all; a weight leads to where it is measured better."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.charts.sure_beam import SureBeam, SureView, range_said, sure_beam
from banister.core.drawing.shapes import Drawing
from banister.core.sure.inputs import DEPOSIT, HAND
from banister.core.sure.said import sure_said
from banister.core.sure.variants import OUTCOMES, Sure, how_sure
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

SURE = "sure"
BETTER = {HAND: "rods", DEPOSIT: "rods"}
"""The step where an input is known better; every other one is measured at the fit-up."""


class SureWidget(ChartView):
    """The picture; up and down change the outcome, a weight leads on."""

    wanted = Signal(str)
    """The input that is to be measured better."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.sure: Sure | None = None
        self.chart: SureBeam | None = None
        self.outcome = OUTCOMES[1]
        self.setMinimumSize(480, 420)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("sure.window"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        if self.sure is None or self.width() < 200:
            self.chart = None
            return None
        say = self.store.say
        self.setAccessibleDescription(", ".join(f"{say(f'sure.of.{name}')} {range_said(name, o, say)}" for name, o in self.sure.outcomes.items()))
        self.chart = sure_beam(self.sure, say, SureView(float(self.width()), float(self.height()), self.outcome))
        return self.chart.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Light an outcome up, or go where an input is measured."""
        if self.chart is None:
            return
        x, y = self.point(event.position())
        row = next((name for name, (low, high) in self.chart.rows.items() if low <= y <= high), None)
        if row is not None:
            self.outcome = row
            self.redraw()
            return
        found = next((name for name, (left, right) in self.chart.weights.items() if left <= x <= right), None)
        if found is not None:
            self.wanted.emit(found)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk through the outcomes, a figure leads to where that weight is measured."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        nth = event.key() - Qt.Key.Key_1
        if self.chart is not None and 0 <= nth < len(self.chart.weights):
            self.wanted.emit(list(self.chart.weights)[nth])
            return
        if step is None:
            super().keyPressEvent(event)
            return
        self.outcome = OUTCOMES[min(max(OUTCOMES.index(self.outcome) + step, 0), len(OUTCOMES) - 1)]
        self.redraw()


class SureDialog(Beside):
    """Varies the plan of the shown joint beside the window, and again after every edit."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 860, 620)
        self.store, say = store, store.say
        self.setWindowTitle(say("sure.window"))
        self.title, self.note, self.picture = QLabel(), QLabel(), SureWidget(store, theme)
        self.title.setFont(font(15))
        tint(self.note, SOFT)
        self.note.setWordWrap(True)
        self.halt = QPushButton(say("board.stop"))
        self.halt.clicked.connect(self.stop)
        top, column = QHBoxLayout(), QVBoxLayout(self)
        top.addWidget(self.title, 1)
        top.addWidget(self.halt)
        column.addLayout(top)
        column.addWidget(self.picture, 1)
        column.addWidget(self.note)
        self.picture.wanted.connect(self._measure)
        store.changed.connect(self.show_job)
        self.vary()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Vary anew after another plan or other readings."""
        readings = None if old is None or old.joint is None else old.joint.fitup.readings
        if new.differs(old, "plan", "say") or (new.joint is not None and new.joint.fitup.readings is not readings):
            self.vary()
        elif new.joint is not None and new.feasible:
            self.title.setText(new.joint.called)

    def vary(self) -> None:
        """Have it computed."""
        store, joint, plan, job, say = self.store, self.store.now.joint, self.store.now.plan, self.store.job, self.store.say
        self.picture.sure = None
        self.picture.redraw()
        self.note.setText("")
        if joint is None or job is None or plan is None or not plan.feasible:
            self.title.setText(say("sure.none"))
            self.stop()
            return
        self.title.setText(joint.called)
        self.halt.show()
        store.errands.run(Errand(SEARCH, SURE, "sure", how_sure, (joint, plan, job.rods), self._arrived, self.halt.hide, lambda _: self.halt.hide()))

    def _arrived(self, found: Sure) -> None:
        self.picture.sure = found
        self.picture.redraw()
        self.note.setText(" ".join(sure_said(found, self.store.say)))

    def _measure(self, name: str) -> None:
        """Go where an input can be known better."""
        self.store.look(step=BETTER.get(name, "fitup"))

    def stop(self) -> None:
        """Leave it at what is known."""
        self.store.stop(SURE)
        self.halt.hide()
