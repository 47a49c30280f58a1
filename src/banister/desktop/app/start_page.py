"""The empty state: worked patterns to start from, the demo, and what was open last."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from banister.core.drawing.section import section_drawing
from banister.core.drawing.shapes import Drawing, Text
from banister.core.joint.joint import Joint
from banister.core.words import Speech
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.painting import framed, paint
from banister.desktop.panel import cleared
from banister.job.library import patterns

PER_ROW, MOST_RECENT = 3, 4


class PatternTile(QAbstractButton):
    """A pattern as a small section with its name."""

    def __init__(self, joint: Joint, say: Speech, theme: Theme) -> None:
        super().__init__()
        self.theme, self.joint, self.say, self.name = theme, joint, say, ""
        self.show_words(say)
        self.setMinimumSize(200, 150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    @cached_property
    def drawing(self) -> Drawing:
        """The section without its figures, drawn when it is first seen."""
        drawing = section_drawing(self.joint, None, self.say)
        return Drawing(tuple(s for s in drawing.shapes if not isinstance(s, Text)), drawing.box)

    def show_words(self, say: Speech) -> None:
        """Its name in the units of the day."""
        self.say, self.name = say, say(f"pattern.{self.joint.id}")
        self.setAccessibleName(self.name)
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802
        """One tile."""
        return QSize(260, 180)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Enter takes it, as Space does."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint section and name."""
        painter = QPainter(self)
        box = self.rect().adjusted(1, 1, -1, -1)
        painter.fillRect(box, QColor(self.theme.drawing["paper"]))
        active = self.hasFocus() or self.underMouse()
        paint(painter, self.drawing, framed(self.drawing, QRectF(box).adjusted(8, 8, -8, -34)), self.theme)
        painter.setPen(QPen(QColor(self.theme.accent if active else self.theme.line), 2 if active else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setPen(QColor(self.theme.text))
        painter.setFont(font(13, QFont.Weight.Medium))
        painter.drawText(QRectF(10, self.height() - 32, self.width() - 20, 26), Qt.AlignmentFlag.AlignVCenter, self.name)


class StartPage(QWidget):
    """Offers patterns, the demo, a file, and recent files."""

    pattern_chosen = Signal(object)
    wanted = Signal(str)
    recent_chosen = Signal(object)

    def __init__(self, say: Speech, theme: Theme) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(48, 36, 48, 24)
        column.setSpacing(12)
        title = QLabel(say("start.title"))
        title.setFont(font(26, QFont.Weight.DemiBold))
        column.addWidget(title)
        column.addWidget(_soft(say("start.said")))
        grid = QGridLayout()
        grid.setSpacing(12)
        self.tiles = []
        for i, joint in enumerate(patterns().joints):
            tile = PatternTile(joint, say, theme)
            tile.clicked.connect(partial(self.pattern_chosen.emit, joint))
            grid.addWidget(tile, i // PER_ROW, i % PER_ROW)
            self.tiles.append(tile)
        column.addLayout(grid, 1)
        row = QHBoxLayout()
        for key in ("nothing", "demo", "open", "practice"):
            button = QPushButton(say(f"start.{key}"))
            button.clicked.connect(partial(self.wanted.emit, key))
            row.addWidget(button)
        self.recent = QHBoxLayout()
        row.addLayout(self.recent)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(_soft(say("start.caution")))

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for tile in self.tiles:
            tile.theme = theme
            tile.update()

    def show_words(self, say: Speech) -> None:
        """Other units."""
        for tile in self.tiles:
            tile.show_words(say)

    def show_recent(self, paths: Sequence[Path]) -> None:
        """Offer files that were open before."""
        cleared(self.recent)
        for path in paths[:MOST_RECENT]:
            button = QPushButton(path.name)
            button.setToolTip(str(path))
            button.clicked.connect(partial(self.recent_chosen.emit, path))
            self.recent.addWidget(button)


def _soft(text: str) -> QLabel:
    label = QLabel(text)
    tint(label, SOFT)
    label.setWordWrap(True)
    return label
