"""The window bar: a value, the procedure's window under it, the margin in figures, and words outside."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from banister.core.limits.windows import Bounds
from banister.desktop.theme import CONDENSED, Theme, font


class WindowBar(QWidget):
    """One quantity of the selected bead against its window."""

    def __init__(self, title: str, theme: Theme) -> None:
        super().__init__()
        self.title, self.theme = title, theme
        self.value, self.shown, self.unit = math.nan, "", ""
        self.window = Bounds()
        self.ends = ("", "")
        self.typical = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(title)

    def sizeHint(self) -> QSize:  # noqa: N802
        """One bar."""
        return QSize(260, 50 if self.window.is_set else 24)

    def show_value(
        self, value: float, shown: str, unit: str, window: Bounds, ends: tuple[str, str], margin: str, typical: str = ""
    ) -> None:
        """Set what the bar shows; texts come formatted in the window's units."""
        self.value, self.shown, self.unit, self.window, self.ends, self.typical = value, shown, unit, window, ends, typical
        self.margin = margin
        self.setAccessibleDescription(f"{shown} {unit}, {self.words()}")
        self.updateGeometry()
        self.update()

    def words(self) -> str:
        """The verdict in words, with the margin."""
        verdict = self.window.verdict(self.value)
        if verdict == "not judged":
            return "not judged"
        if verdict == "outside":
            return f"{self.margin} {'under' if self.value < self.window.low else 'over'} the window"
        return f"{self.margin} to spare" + (f" ({self.typical})" if self.typical else "")

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint title, value, bar and words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, w = self.theme, self.width()
        outside = self.window.verdict(self.value) == "outside"
        painter.setFont(font(13))
        painter.setPen(QColor(t.soft))
        painter.drawText(QRectF(0, 0, w, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.setFont(font(15, QFont.Weight.DemiBold))
        painter.setPen(QColor(t.bad if outside else t.text))
        painter.drawText(QRectF(0, 0, w, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{self.shown} {self.unit}")
        if not self.window.is_set:
            title = painter.fontMetrics().horizontalAdvance(f"{self.shown} {self.unit}")
            painter.setFont(font(11.5, family=CONDENSED))
            painter.setPen(QColor(t.soft))
            painter.drawText(QRectF(0, 1, w - title - 10, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.words())
            return
        self._paint_bar(painter, 25.0, w, outside)
        painter.setFont(font(11.5, family=CONDENSED))
        painter.setPen(QColor(t.bad if outside else t.soft))
        foot = QRectF(0, 31, w, 17)
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, self.words())
        painter.setPen(QColor(t.soft))
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.ends[0])
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.ends[1])

    def _paint_bar(self, painter: QPainter, y: float, w: float, outside: bool) -> None:
        t, b = self.theme, self.window
        painter.fillRect(QRectF(0, y - 2, w, 4), QColor(t.line))
        low = b.low if math.isfinite(b.low) else min(self.value, b.high) * 0.5
        high = b.high if math.isfinite(b.high) else max(self.value, b.low) * 1.5
        span = max(high - low, 1e-9)
        start, end = low - 0.25 * span, high + 0.25 * span

        def at(value: float) -> float:
            return (min(max(value, start), end) - start) / (end - start) * w

        painter.fillRect(QRectF(at(low), y - 4, at(high) - at(low), 8), QColor(t.band))
        painter.setPen(QPen(QColor(t.good), 2))
        for bound, x in ((b.low, at(low)), (b.high, at(high))):
            if math.isfinite(bound):
                painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5))
        x = at(self.value)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(t.bad if outside else t.text))
        painter.drawPolygon(QPolygonF([QPointF(x - 5, y - 6), QPointF(x + 5, y - 6), QPointF(x, y + 4)]))
