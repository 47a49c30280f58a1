"""A widget that shows a display list and finds what is under the hand by its id."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QSize, Qt
from PySide6.QtGui import QColor, QInputEvent, QKeyEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from banister.core.drawing.charts.window_bar import Gauge, window_bar
from banister.core.drawing.shapes import Drawing
from banister.core.words import Speech
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.copying import copies
from banister.desktop.canvas.painting import Frame, of_chart, paint


class Still:
    """A drawing as it was painted last: what moves over it need not paint it again."""

    def __init__(self) -> None:
        self._pixmap: QPixmap | None = None
        self._of: tuple[Drawing, Frame, Theme] | None = None

    def put(self, painter: QPainter, widget: QWidget, drawing: Drawing, frame: Frame, theme: Theme, ground: str = "ground") -> None:
        """Paint a drawing, from what is kept of it where nothing changed."""
        size = widget.size() * widget.devicePixelRatio()
        kept = self._of is not None and self._of[0] is drawing and self._of[1:] == (frame, theme)
        if self._pixmap is None or self._pixmap.size() != size or not kept:
            self._pixmap = QPixmap(size)
            self._pixmap.setDevicePixelRatio(widget.devicePixelRatio())
            self._pixmap.fill(theme.drawing[ground])
            still = QPainter(self._pixmap)
            paint(still, drawing, frame, theme)
            still.end()
            self._of = (drawing, frame, theme)
        painter.drawPixmap(0, 0, self._pixmap)


def paint_focus(painter: QPainter, widget: QWidget, theme: Theme) -> None:
    """The frame of the picture the keys go to."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme.accent), 2))
    painter.drawRect(widget.rect().adjusted(1, 1, -1, -1))


class ChartView(QWidget):
    """Shows a chart made for its own size; subclasses say what by `made`."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._drawing: Drawing | None = None
        self._still, self._is_behind = Still(), False

    def made(self) -> Drawing | None:
        """The chart for the present size, None for nothing."""
        return None

    @property
    def drawing(self) -> Drawing | None:
        """The chart as it is seen; what was left to be made is made now."""
        if self._is_behind and self.isVisible():
            self._is_behind, self._drawing = False, self.made()
            if self._drawing is None:
                self.setAccessibleDescription("")  # nothing is told that is not seen
        return self._drawing

    def redraw(self) -> None:
        """Make the chart anew: at once where it is seen, else when it is shown, for it has no size before that."""
        self._leave_behind()
        _ = self.drawing

    def _leave_behind(self) -> None:
        """The chart is made when it is next painted or asked for: a layout that settles gives it many sizes, and one that stays."""
        self._is_behind = True
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Another theme: the same chart in other colours."""
        self.theme = theme
        self.update()

    def point(self, at: QPointF) -> tuple[float, float]:
        """A pixel as a point of the chart."""
        return at.x(), self.height() - at.y()

    def event(self, event: QEvent) -> bool:
        """The hand and the keys find what is seen: a chart that was left to be made is made before them."""
        if self._is_behind and isinstance(event, QInputEvent):
            _ = self.drawing
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Ctrl+C copies the picture."""
        if not copies(event, self, self.drawing):
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        """The chart is made for its size."""
        super().resizeEvent(event)
        self._leave_behind()

    def showEvent(self, event: QShowEvent) -> None:  # noqa: N802
        """What changed while it was hidden is made for the eye."""
        super().showEvent(event)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint the chart, then what moves over it."""
        painter, drawing = QPainter(self), self.drawing
        if drawing is None:
            painter.fillRect(self.rect(), Qt.GlobalColor.transparent)
            return
        self._still.put(painter, self, drawing, of_chart(drawing), self.theme)
        self.paint_over(painter)
        if self.hasFocus():
            paint_focus(painter, self, self.theme)

    def paint_over(self, painter: QPainter) -> None:
        """What moves over the chart."""


class WindowBar(ChartView):
    """One figure of the selected pass against its window."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self._gauge: tuple[Gauge, Speech] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802
        """One bar."""
        return QSize(260, int(self._gauge[0].height()) if self._gauge is not None else 24)

    def show_gauge(self, gauge: Gauge, say: Speech) -> None:
        """Show another figure."""
        if self._gauge == (gauge, say):
            return
        self._gauge = (gauge, say)
        self.setAccessibleName(gauge.title)
        self.setAccessibleDescription(f"{say.sized(gauge.kind, gauge.value)}, {gauge.words(say)}")
        self.setFixedHeight(int(gauge.height()))
        self.redraw()

    def made(self) -> Drawing | None:
        """The bar."""
        return None if self._gauge is None else window_bar(self._gauge[0], float(self.width()), self._gauge[1])
