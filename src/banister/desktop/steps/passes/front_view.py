"""What can be had, as a picture: a click on a point, or the arrows and Enter, shows its plan."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.front import FrontChart, front_chart
from banister.core.drawing.shapes import Drawing
from banister.core.joint.working import ANSWERS
from banister.core.plan.front import FrontPoint, answer_said
from banister.core.plan.timing import between_s
from banister.core.remark import Figure
from banister.core.value import replace
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
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._front: tuple[FrontPoint, ...] = ()
        """The points with the time the work is turned in, as they are drawn."""
        self.pointed = ""
        """The answer under the pointer or the arrows."""

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
        chosen = now.joint.working.chosen
        named = {answer: plan for answer, plan in now.plans.items() if plan.feasible and answer in (*ANSWERS, chosen)}
        spent = between_s(now.joint, now.joint.working.choices)
        turned_s = sum(spent.get(phase.action, 0.0) for phase in now.plan.sequence) if now.plan is not None else 0.0
        self._front = tuple(replace(point, time_s=point.time_s + turned_s) for point in now.front)
        self.chart = front_chart(self._front, named, chosen, (float(self.width()), float(self.height())), now.say, self.pointed)
        return self.chart.drawing

    def answer_under(self, event: QMouseEvent) -> str | None:
        """The answer under the pointer."""
        return None if self.chart is None else self.chart.answer_at(self.point(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say which answer is under the pointer."""
        answer = self.answer_under(event)
        self.setCursor(Qt.CursorShape.PointingHandCursor if answer else Qt.CursorShape.ArrowCursor)
        self._point_at(answer or "")

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """Nothing is pointed at any more."""
        self._point_at("")

    def focusInEvent(self, event: QFocusEvent) -> None:  # noqa: N802
        """The arrows begin at what is shown."""
        super().focusInEvent(event)
        if event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason) and self._now is not None and self._now.joint is not None:
            self._point_at(self._now.joint.working.chosen)

    def focusOutEvent(self, event: QFocusEvent) -> None:  # noqa: N802
        """Nothing is pointed at any more."""
        super().focusOutEvent(event)
        self._point_at("")

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Left and right go along the points, Enter picks the one that is pointed at."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self.chart is not None and self._now is not None and self._now.joint is not None:
            self._point_at(self.chart.beside(self.pointed or self._now.joint.working.chosen, step))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.pointed:
            self.picked.emit(self.pointed)
        else:
            super().keyPressEvent(event)

    def _point_at(self, answer: str) -> None:
        if answer != self.pointed:
            self.pointed = answer
            said = self._said(answer) if answer else ""
            self.setToolTip(said)
            self.setAccessibleDescription(said)
            self.redraw()

    def _said(self, answer: str) -> str:
        """What an answer is called, and what it comes to where it is no plan yet."""
        now = self._now
        if now is None:
            return ""
        point = next((p for p in self._front if p.answer == answer), None)
        name = answer_said(answer, now.say)
        if point is None:
            return name
        return now.say("front.point", answer=name, first=now.say("answer.first", n=point.passes, lasts=Figure(point.time_s, "duration")))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Pick the answer under the pointer."""
        answer = self.answer_under(event)
        if answer:
            self.picked.emit(answer)
