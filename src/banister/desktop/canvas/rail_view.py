"""The handrail on screen: the chart, the hand on it, and a cursor that reads time and temperature."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent

from banister.core.drawing.charts.rail import FOOT, HEAD, LEFT, RIGHT, Post, RailChart, RailView, rail
from banister.core.drawing.shapes import Drawing
from banister.core.remark import Figure
from banister.desktop.app.theme import CONDENSED, Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.canvas.section_view import pass_words
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

HIT_PX = 24.0
STEPS_HEIGHT_PX = 140
MOST_ZOOM = 40.0


class Rail(ChartView):
    """Shows the handrail and selects by it."""

    scale_changed = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.on_clock = False
        self.zoom, self.offset = 1.0, 0.0
        self.chart: RailChart | None = None
        self.cursor_x: float | None = None
        self.setMinimumHeight(STEPS_HEIGHT_PX)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("rail.name"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A strip along the bottom."""
        return QSize(900, 178)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs."""
        if new.differs(old, "joint", "plan", "heat", "judgement", "selected", "say"):
            self.redraw()
        if new.differs(old, "selected", "say"):
            self.setAccessibleDescription("" if new.selected is None or new.joint is None else pass_words(new.joint, new.selected, new.say))

    def set_scale(self, on_clock: bool) -> None:
        """Even steps, or true time."""
        self.on_clock, self.zoom, self.offset = on_clock, 1.0, 0.0
        self.scale_changed.emit()
        self.redraw()

    def made(self) -> Drawing | None:
        """The rail for the present size."""
        now = self.store.now
        if now.joint is None or self.width() < LEFT + RIGHT + 20:
            self.chart = None
            return None
        selected = now.selected.key if now.selected is not None else ""
        view = RailView(float(self.width()), float(self.height()), self.on_clock, self.zoom, self.offset, selected)
        self.chart = rail(now.joint, now.plan, now.heat, now.judgement, now.say, view)
        return self.chart.drawing

    def paint_over(self, painter: QPainter) -> None:
        """An upright where the pointer is, with time and temperature there."""
        if self.cursor_x is None or self.chart is None:
            return
        read = self.read(self.cursor_x)
        if read is None:
            return
        seconds, likely, low, high = read
        say, x = self.store.say, self.cursor_x
        painter.setPen(QPen(QColor(self.theme.text), 1))
        painter.drawLine(QPointF(x, HEAD - 14), QPointF(x, self.height() - FOOT))
        painter.setFont(font(13, QFont.Weight.DemiBold, CONDENSED))
        text = say("rail.cursor", at=Figure(seconds, "clock"), temp=Figure(likely, "temperature"), band=Figure((low, high), "temperature"))
        width = painter.fontMetrics().horizontalAdvance(text) + 12
        top = self.height() - self.chart.temperature_box[1] + 2
        box = QRectF(min(max(x - width / 2, LEFT), self.width() - width - 4), top, width, 19)
        painter.fillRect(box, QColor(self.theme.panel))
        painter.drawRect(box)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    # --- touching ----------------------------------------------------------------------------
    def post_at(self, x: float) -> Post | None:
        """The nearest post within half a hit width."""
        posts = self.chart.posts if self.chart is not None else ()
        best = min(posts, key=lambda post: max(post.x0 - x, x - post.x1, 0.0), default=None)
        return None if best is None or max(best.x0 - x, x - best.x1, 0.0) > HIT_PX / 2 else best

    def read(self, x: float) -> tuple[float, float, float, float] | None:
        """Seconds after the first arc at a place along the rail, and the likely, low and high temperature; None off the clock."""
        heat, chart = self.store.now.heat, self.chart
        if heat is None or not heat.schedule.feasible or not heat.times or chart is None or chart.time is None:
            return None
        seconds = chart.time.value(x)
        return (seconds, *heat.at(seconds)) if 0 <= seconds <= heat.schedule.end_s else None

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Select the pass of a post."""
        post = self.post_at(event.position().x())
        self.store.select(None if post is None else post.passes[0])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Show the figures of the post under the pointer; on the clock, time and temperature anywhere."""
        self.cursor_x = event.position().x()
        post = self.post_at(self.cursor_x)
        self.setToolTip("" if post is None or self.store.joint is None else pass_words(self.store.joint, post.passes[0], self.store.say))
        self.update()

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """No cursor without a pointer."""
        self.cursor_x = None
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        """Zoom true time about the pointer."""
        if not self.on_clock:
            return
        room = self.width() - LEFT - RIGHT
        x = event.position().x() - LEFT + self.offset
        zoom = min(max(self.zoom * (1.25 if event.angleDelta().y() > 0 else 0.8), 1.0), MOST_ZOOM)
        self.offset = min(max(x * zoom / self.zoom - (event.position().x() - LEFT), 0.0), room * (zoom - 1))
        self.zoom = zoom
        self.redraw()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows walk along the rail."""
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.store.select_step(step)
