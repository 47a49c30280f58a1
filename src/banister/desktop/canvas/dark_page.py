"""A page of its own, dark whatever the theme, whose picture is made for its size: at the joint, and at the practice bench."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from banister.core.drawing.shapes import Drawing
from banister.desktop.app.theme import DARK_THEME
from banister.desktop.canvas.painting import of_chart, paint

LEAST_PX = 300


class Picture(Protocol):
    """A drawing with what else its page knows of it."""

    @property
    def drawing(self) -> Drawing:
        """What is painted."""


class DarkPage(QWidget):
    """Paints what `shown` brings, which `draw` makes; not before it is `LEAST_PX` wide."""

    def __init__(self, title: str) -> None:
        super().__init__(None, Qt.WindowType.Window)
        self.setWindowTitle(title)
        self.setAccessibleName(title)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def draw(self) -> None:
        """Make the picture anew; pages say how."""

    def shown(self) -> Picture | None:
        """What is painted; pages say what."""
        return None

    def resizeEvent(self, event: object) -> None:  # noqa: N802
        """The picture is made for its size."""
        self.draw()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint it on its ground."""
        painter, picture = QPainter(self), self.shown()
        painter.fillRect(self.rect(), DARK_THEME.drawing["ground"])
        if picture is not None:
            paint(painter, picture.drawing, of_chart(picture.drawing), DARK_THEME)
