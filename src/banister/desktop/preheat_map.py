"""The preheat map: what method B asks for over thickness and heat input, with this joint's place on it."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QDialog, QLabel, QVBoxLayout, QWidget

from banister.core.heat.preheat import MAP_HEAT_INPUTS, MAP_THICKNESSES_MM, SHOP_C, method_b_c, method_b_map
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font

LEFT, TOP, RIGHT, FOOT = 92.0, 34.0, 14.0, 12.0
HOTTEST_C = 250.0
BLOCKED = "No map: state the steel under Procedure (composition or a preset)."


class PreheatMap(QDialog):
    """A table to read at arm's length: degrees in every field, the deeper the shade the hotter."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent)
        self.store = store
        self.setWindowTitle("Preheat map")
        self.resize(940, 600)
        self.title, self.field = QLabel(), _Field(theme)
        self.title.setFont(font(15))
        self.title.setWordWrap(True)
        note = QLabel("EN 1011-2 method B, thicker plate, heat input with k included. The ring is this joint's thickness and its smallest heat "
                      "input. The annex and table of AWS D1.1 stand under Heat; your procedure and code decide.")  # fmt: skip
        note.setWordWrap(True)
        note.setProperty("soft", True)
        column = QVBoxLayout(self)
        column.addWidget(self.title)
        column.addWidget(self.field, 1)
        column.addWidget(note)
        store.changed.connect(self.render_job)
        self.render_job()

    def render_job(self) -> None:
        """Draw the map of the shown joint's steel."""
        joint, plan = self.store.joint, self.store.plan
        if joint is None or plan is None or not plan.passes or not joint.metal.steel.is_known or joint.metal.stainless:
            stainless = joint is not None and joint.metal.stainless
            self.title.setText("No map: stainless takes no preheat." if stainless else BLOCKED if plan is None or plan.passes else "No plan, no map.")
            self.field.show_map((), (0.0, 0.0), self.store)
            return
        thick, heat = max(joint.prep.thickness_mm, joint.prep.right_thickness_mm), min(p.heat_input_kj_mm for p in plan.passes)
        cet, hydrogen = joint.metal.steel.cet, joint.heat.hydrogen_ml
        here = method_b_c(cet, thick, hydrogen, heat)
        words = "no preheat beyond shop temperature" if here <= SHOP_C else f"{here:.0f} \N{DEGREE SIGN}C"
        u = self.store.units
        self.title.setText(f"{joint.id}: {words} at {u.with_unit(thick)}, {u.energy(heat)} {u.energy_unit}; CET {cet:.2f}, hydrogen {hydrogen:g} ml/100 g")
        self.field.show_map(method_b_map(cet, hydrogen), (thick, heat), self.store)


class _Field(QWidget):
    """Paints the map."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.degrees: tuple[tuple[float, ...], ...] = ()
        self.setAccessibleName("Preheat over thickness and heat input")

    def show_map(self, degrees: tuple[tuple[float, ...], ...], here: tuple[float, float], store: Store) -> None:
        """Draw another map, with a place on it."""
        self.degrees, self.here, self.units = degrees, here, store.units
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Fields with their degrees, heads, and the ring."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.theme.panel))
        if not self.degrees:
            return
        wide, high = (self.width() - LEFT - RIGHT) / len(MAP_THICKNESSES_MM), (self.height() - TOP - FOOT) / len(MAP_HEAT_INPUTS)
        u, centre = self.units, Qt.AlignmentFlag.AlignCenter
        painter.setFont(font(13, family=CONDENSED))
        painter.setPen(QColor(self.theme.soft))
        painter.drawText(QRectF(0, 0, LEFT - 6, TOP), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, u.energy_unit)
        for j, thickness in enumerate(MAP_THICKNESSES_MM):
            painter.drawText(QRectF(LEFT + j * wide, 0, wide, TOP), centre, u.with_unit(thickness))
        for i, (heat, row) in enumerate(zip(MAP_HEAT_INPUTS, self.degrees, strict=True)):
            painter.setFont(font(13, family=CONDENSED))
            painter.setPen(QColor(self.theme.soft))
            painter.drawText(QRectF(0, TOP + i * high, LEFT - 10, high), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, u.energy(heat))
            for j, value in enumerate(row):
                box = QRectF(LEFT + j * wide, TOP + i * high, wide - 1, high - 1)
                shade = QColor(self.theme.accent)
                shade.setAlphaF(0.5 * min(max((value - SHOP_C) / (HOTTEST_C - SHOP_C), 0.0), 1.0))
                painter.fillRect(box, shade)
                painter.setFont(font(15, QFont.Weight.DemiBold))
                painter.setPen(QColor(self.theme.text))
                painter.drawText(box, centre, "none" if value <= SHOP_C else f"{value:.0f} \N{DEGREE SIGN}C")
        at = QPointF(LEFT + (_place(self.here[0], MAP_THICKNESSES_MM) + 0.5) * wide, TOP + (_place(self.here[1], MAP_HEAT_INPUTS) + 0.5) * high)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, line in ((self.theme.panel, 6.0), (self.theme.changed, 3.0)):
            painter.setPen(QPen(QColor(colour), line))
            painter.drawEllipse(at, 10.0, 10.0)


def _place(value: float, marks: Sequence[float]) -> float:
    """Where a value stands between marks drawn at even distances; beyond them, at the nearest end.

    >>> _place(12.5, (10.0, 15.0, 20.0)), _place(99.0, (10.0, 15.0))
    (0.5, 1.0)
    """
    if not marks[0] <= value < marks[-1] or math.isnan(value):
        return 0.0 if value < marks[0] else len(marks) - 1.0
    i = bisect_right(marks, value) - 1
    return i + (value - marks[i]) / (marks[i + 1] - marks[i])
