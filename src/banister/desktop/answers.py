"""The four answers side by side; one is taken by a click."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from banister.core.joint.working import ANSWERS
from banister.core.plan.plan import Plan
from banister.core.units import Units, minutes
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font

MEANING = {
    "balanced": "Time, with every bead near the middle of its comfortable range",
    "quickest": "Least time: arc, rod changes and cleaning",
    "coolest": "Least peak arc energy, with at most half as many beads again",
    "fewest": "Fewest beads, then least time",
}


class AnswerTile(QAbstractButton):
    """One answer: its name, beads, time, peak energy."""

    def __init__(self, answer: str, theme: Theme) -> None:
        super().__init__()
        self.answer, self.theme = answer, theme
        self.plan: Plan | None = None
        self.units = Units()
        self.setCheckable(True)
        self.setToolTip(f"{MEANING[answer]} (Ctrl+{ANSWERS.index(answer) + 1})")
        self.setAccessibleName(answer)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802
        """One tile."""
        return QSize(180, 62)

    def lines(self) -> tuple[str, str]:
        """What the tile says under its name."""
        if self.plan is None:
            return "planning", ""
        if not self.plan.feasible:
            return "cannot be planned", ""
        rods = sum(self.plan.rods_by_consumable().values())
        peak = f"peak {self.units.energy(self.plan.peak_arc_energy_kj_mm)} {self.units.energy_unit}"
        return f"{len(self.plan.passes)} beads, {minutes(self.plan.total_time_s)}", f"{rods} rods, {peak}"

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paint the tile."""
        painter = QPainter(self)
        t = self.theme
        box = self.rect().adjusted(1, 1, -1, -1)
        painter.fillRect(box, QColor(t.accent_ground if self.isChecked() else t.panel))
        painter.setPen(QPen(QColor(t.accent if self.isChecked() or self.hasFocus() else t.line), 2 if self.isChecked() or self.hasFocus() else 1))
        painter.drawRect(box)
        first, second = self.lines()
        name = self.answer + ("  \N{MIDDLE DOT} shown" if self.isChecked() else "")
        bad = self.plan is not None and not self.plan.feasible
        rows = ((name, 13, QFont.Weight.DemiBold, t.text, 3), (first, 13, QFont.Weight.Medium, t.bad if bad else t.text, 21),
                (second, 12, QFont.Weight.Normal, t.soft, 39))  # fmt: skip
        for text, size, weight, colour, top in rows:
            painter.setFont(fitted(text, size, weight, self.width() - 16))
            painter.setPen(QColor(colour))
            painter.drawText(QRectF(10, top, self.width() - 14, 20), Qt.AlignmentFlag.AlignVCenter, text)


def fitted(text: str, size: float, weight: QFont.Weight, width: float) -> QFont:
    """The condensed font at the size, or as much smaller as the text needs (10 px at least)."""
    made = font(size, weight, CONDENSED)
    while size > 10 and QFontMetricsF(made).horizontalAdvance(text) > width:
        size -= 0.5
        made = font(size, weight, CONDENSED)
    return made


class AnswersStrip(QWidget):
    """The four tiles."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store = store
        self.tiles = {answer: AnswerTile(answer, theme) for answer in ANSWERS}
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 6, 8, 6)
        row.setSpacing(6)
        for answer, tile in self.tiles.items():
            tile.clicked.connect(partial(self.choose, answer))
            row.addWidget(tile)

    def choose(self, answer: str) -> None:
        """Show another answer."""
        joint = self.store.joint
        if joint is not None and joint.working.chosen != answer:
            self.store.edit_joint(f"Choose {answer}", chosen=answer)
        self.render_job()

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        for tile in self.tiles.values():
            tile.theme = theme
            tile.update()

    def render_job(self) -> None:
        """Show what is planned so far."""
        planned, joint = self.store.planned, self.store.joint
        for answer, tile in self.tiles.items():
            tile.plan = None if planned is None else planned.plans.get(answer)
            tile.units = self.store.units
            tile.setChecked(joint is not None and joint.working.chosen == answer)
            tile.setAccessibleDescription(", ".join(tile.lines()))
            tile.update()
