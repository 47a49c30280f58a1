"""What can be had, as a picture: a click on a named answer shows it."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.front import FrontChart, front_chart
from banister.core.drawing.shapes import Drawing
from banister.core.plan.timing import between_s
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot

HEIGHT = 190


class FrontView(ChartView):
    """The front of the shown joint with its answers."""

    picked = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self._now: Snapshot | None = None
        self.chart: FrontChart | None = None
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)

    def sizeHint(self) -> QSize:  # noqa: N802
        """As wide as the panel."""
        return QSize(260, HEIGHT)

    def show_front(self, now: Snapshot) -> None:
        """Show another front; nothing where none is known or a pass is looked at."""
        self._now = now
        self.setVisible(bool(now.front) and now.selected is None and now.feasible)
        self.setAccessibleName(now.say("front.title"))
        self.redraw()

    def made(self) -> Drawing | None:
        """The picture."""
        now = self._now
        if now is None or not now.front or now.joint is None:
            self.chart = None
            return None
        named = {answer: plan for answer, plan in now.plans.items() if plan.feasible}
        spent = between_s(now.joint, now.joint.working.choices)
        turned_s = sum(spent.get(phase.action, 0.0) for phase in now.plan.sequence) if now.plan is not None else 0.0
        front = [replace(point, time_s=point.time_s + turned_s) for point in now.front]
        self.chart = front_chart(front, named, now.joint.working.chosen, (float(self.width()), float(self.height())), now.say)
        return self.chart.drawing

    def answer_under(self, event: QMouseEvent) -> str | None:
        """The answer under the pointer."""
        return None if self.chart is None else self.chart.answer_at(self.point(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say which answer is under the pointer."""
        answer = self.answer_under(event)
        self.setCursor(Qt.CursorShape.PointingHandCursor if answer else Qt.CursorShape.ArrowCursor)
        self.setToolTip(self._now.say(f"answer.{answer}") if answer and self._now is not None else "")

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Pick the answer under the pointer."""
        answer = self.answer_under(event)
        if answer:
            self.picked.emit(answer)
