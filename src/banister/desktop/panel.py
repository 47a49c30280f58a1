"""What the panels of all steps share: headings, notes and how they get at the store."""

from __future__ import annotations

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from banister.core.units import parsed_length_mm
from banister.desktop.store import Store
from banister.desktop.theme import Theme, font


class Panel(QWidget):
    """A column at the right; `render_job` shows what the store holds."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(18, 14, 18, 14)
        self.column.setSpacing(8)

    def render_job(self) -> None:
        """Show the store's joint and plan."""

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.render_job()

    def length(self, text: str) -> float:
        """Parse a length in the unit that is worked in."""
        return parsed_length_mm(text, self.store.units.inches)

    def heading(self, text: str, size: float = 17) -> QLabel:
        """A heading in the column."""
        label = QLabel(text)
        label.setFont(font(size, QFont.Weight.DemiBold))
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    def remark(self, text: str = "", kind: str = "soft") -> QLabel:
        """A quieter line in the column: soft, warn or bad."""
        label = QLabel(text)
        label.setProperty(kind, True)
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label


def cleared(layout: QVBoxLayout) -> None:
    """Remove and delete everything in a layout."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
