"""The section: the largest thing on every view, and the thing people touch."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF,
)  # fmt: skip
from PySide6.QtWidgets import QToolTip, QWidget

from banister.core.drawing.section import handles_of, pass_label, section_drawing
from banister.core.drawing.shapes import Drawing, Handle
from banister.core.drawing.symbol import symbol_drawing
from banister.core.polygon import holds
from banister.core.joint.joint import Joint, edited
from banister.core.joint.heating import HeatSettings
from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import LIMITS
from banister.core.plan.plan import Pass, Plan
from banister.core.units import minutes
from banister.desktop.painting import Frame, framed, paint
from banister.desktop.store import Store
from banister.desktop.theme import Theme, font

HANDLE_PX = 12.0
COLD = HeatSettings()
SYMBOL_FROM_PX = 680
SYMBOL_AREA = QRectF(2, 0, 206, 92)
MELTED_NOTE = "broken line: typical melted margin, not computed"
TOP_PX, BOTTOM_PX = 30.0, 26.0
STEP = {"thickness_mm": 0.5, "right_thickness_mm": 0.5, "front_share": 0.05, "root_radius_mm": 0.5, "leg_left_mm": 0.5, "leg_right_mm": 0.5,
        "knee_mm": 0.5, "upper_bevel_deg": 0.5,
        "root_gap_mm": 0.25, "root_face_mm": 0.25, "bevel_left_deg": 0.5, "bevel_right_deg": 0.5, "back_bevel_deg": 0.5}  # fmt: skip
"""What can be dragged and what a drag rounds to; an arrow key moves by twice as much."""
DRAG_TRIALS, DRAG_ROUNDS = 12, 4
UPRIGHT = {"thickness_mm", "right_thickness_mm", "front_share", "root_face_mm", "leg_right_mm", "knee_mm"}
"""Handles that move up and down; the others move across."""


class SectionView(QWidget):
    """Draws the section, selects beads, and lets bevel, gap, face and thickness be dragged."""

    value_dragged = Signal(str, float)
    drag_ended = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.drawing: Drawing | None = None
        self._key: object = None
        self._cache: QPixmap | None = None
        self._handle: Handle | None = None
        self._dragging = False
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(260, 220)
        self.setAccessibleName("Section of the joint")
        self.setToolTip("")
        store.selection_changed.connect(self.update)

    def sizeHint(self) -> QSize:  # noqa: N802
        """As large as there is room for."""
        return QSize(760, 520)

    def render_job(self) -> None:
        """Draw what the store holds, if it is not drawn already."""
        joint, plan = self.store.joint, self._shown_plan()
        drawn = None if joint is None else edited(joint, heat=COLD, readings=())
        key = (drawn, id(plan), self.store.units, self.store.outside, self.store.habit, self.theme.dark)
        if key == self._key:
            return
        self._key, self._cache = key, None
        self.drawing = None
        if joint is not None and not joint_faults(joint):
            self.drawing = section_drawing(joint, plan, self.store.units, self.store.outside, self.store.habit)
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme, self._key = theme, None
        self.render_job()

    def _shown_plan(self) -> Plan | None:
        plan = self.store.plan
        return plan if plan is not None and plan.passes and plan.feasible else None

    @property
    def frame_px(self) -> Frame:
        """How the drawing lies in the widget."""
        assert self.drawing is not None
        area = QRectF(self.rect()).adjusted(8, TOP_PX, -8, -BOTTOM_PX)
        return framed(self.drawing, area)

    def as_svg(self) -> str:
        """The drawing as SVG."""
        from banister.export.svg import svg

        assert self.drawing is not None and self.store.joint is not None
        return svg(self.drawing, self.store.joint.name)

    # --- painting ----------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Blit the cached drawing, then what is selected and held."""
        painter = QPainter(self)
        if self.drawing is None:
            painter.fillRect(self.rect(), QColor(self.theme.drawing["paper"]))
            self._paint_fault(painter)
            return
        if self._cache is None or self._cache.size() != self.size() * self.devicePixelRatio():
            self._cache = QPixmap(self.size() * self.devicePixelRatio())
            self._cache.setDevicePixelRatio(self.devicePixelRatio())
            self._cache.fill(QColor(self.theme.drawing["paper"]))
            cached = QPainter(self._cache)
            paint(cached, self.drawing, self.frame_px, self.theme)
            self._paint_margin(cached)
            cached.end()
        painter.drawPixmap(0, 0, self._cache)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_selection(painter)
        self._paint_handles(painter)

    def _paint_fault(self, painter: QPainter) -> None:
        joint = self.store.joint
        if joint is None:
            return
        painter.setPen(QColor(self.theme.bad))
        painter.setFont(font(15))
        text = "\n".join(f"{f.text}. {f.remedy}" for f in joint_faults(joint))
        painter.drawText(self.rect().adjusted(24, 24, -24, -24), Qt.TextFlag.TextWordWrap, text)

    def _paint_margin(self, painter: QPainter) -> None:
        joint = self.store.joint
        assert joint is not None
        place = joint.place
        order = ("low side (left) first" if place.low_side_first else "sides in turn") + halves(joint)
        k = self.frame_px.k * 25.4 / 96
        scale = f"{k:.1f} : 1" if k >= 1 else f"1 : {1 / k:.1f}"
        if self.width() > SYMBOL_FROM_PX:
            symbol = symbol_drawing(joint, self.store.units, self.store.habit)
            paint(painter, symbol, framed(symbol, SYMBOL_AREA), self.theme)
        painter.setFont(font(12))
        painter.setPen(QColor(self.theme.drawing["note"]))
        foot = QRectF(12, self.height() - 24, self.width() - 24, 20)
        code = f"{joint.piece.position} / {place.iso(joint.piece.progression)}"
        note = MELTED_NOTE if self.width() > 640 and not joint.prep.kind.fillet else ""
        room = foot.width() - painter.fontMetrics().horizontalAdvance(note) - 16
        said = (f"{code}, {place.title}; {order}; about {scale} at 96 dpi", f"{code}; {order}; about {scale}", f"{code}; about {scale}")
        fits = next((text for text in said if painter.fontMetrics().horizontalAdvance(text) <= room), said[-1])
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, fits)
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, note)

    def _paint_selection(self, painter: QPainter) -> None:
        found = self.store.selected
        if found is None or self._shown_plan() is None:
            return
        polygon = self.frame_px.polygon(found.outline_mm)
        for style, width in (("select.outer", 6.0), ("select.inner", 2.5)):
            pen = QPen(QColor(self.theme.drawing[style]), width)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(polygon)

    def _paint_handles(self, painter: QPainter) -> None:
        assert self.drawing is not None
        colour = QColor(self.theme.drawing["handle"])
        for handle in self.drawing.handles:
            at = self.frame_px.px(*handle.at)
            held = self._handle is not None and handle.id == self._handle.id
            painter.setPen(QPen(colour, 2.0))
            painter.setBrush(colour if held else QColor(self.theme.drawing["paper"]))
            r = 6.5 if held else 4.5
            painter.drawPolygon(QPolygonF([at + QPointF(0, -r), at + QPointF(r, 0), at + QPointF(0, r), at + QPointF(-r, 0)]))
            if held:
                self._paint_held(painter, handle, at)

    def _paint_held(self, painter: QPainter, handle: Handle, at: QPointF) -> None:
        joint = self.store.joint
        assert joint is not None
        value = getattr(joint, handle.id)
        shown = self.store.units.with_unit(value, 2) if handle.id.endswith("mm") else f"{value:g}" + ("\N{DEGREE SIGN}" if handle.id.endswith("deg") else "")
        text = f"{handle.title} {shown}"
        painter.setFont(font(13, QFont.Weight.DemiBold))
        width = painter.fontMetrics().horizontalAdvance(text) + 14
        left = min(at.x() + 14, self.width() - width - 4)
        box = QRectF(left, max(2.0, at.y() - 32), width, 22)
        painter.setBrush(QColor(self.theme.panel))
        painter.setPen(QPen(QColor(self.theme.drawing["handle"]), 1))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(QColor(self.theme.text))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    # --- touching ----------------------------------------------------------------------------
    def bead_at(self, point: QPointF) -> Pass | None:
        """The bead under a pixel."""
        plan = self._shown_plan()
        if self.drawing is None or plan is None:
            return None
        x, y = self.frame_px.mm(point)
        return next((p for p in reversed(plan.passes) if holds(p.outline_mm, x, y)), None)

    def handle_at(self, point: QPointF) -> Handle | None:
        """The handle within reach of a pixel (24 px across)."""
        if self.drawing is None:
            return None
        near = [(math.hypot(*((self.frame_px.px(*h.at) - point).toTuple())), h) for h in self.drawing.handles]
        distance, handle = min(near, key=lambda found: found[0], default=(math.inf, None))
        return handle if distance <= HANDLE_PX else None

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of a handle, or select a bead."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._handle = self.handle_at(event.position())
        self._dragging = self._handle is not None
        if not self._dragging:
            self.store.select(self.bead_at(event.position()))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Drag the held handle, or show what is under the pointer."""
        if self._dragging and self._handle is not None and self.store.joint is not None and self.drawing is not None:
            value = dragged_value(self.store.joint, self._handle.id, *self.frame_px.mm(event.position()))
            self.value_dragged.emit(self._handle.id, value)
            return
        over = self.handle_at(event.position())
        self.setCursor(Qt.CursorShape.SizeAllCursor if over else Qt.CursorShape.ArrowCursor)
        bead = None if over else self.bead_at(event.position())
        text = f"drag the {over.title}" if over else bead_words(bead, self.store) if bead else ""
        QToolTip.showText(event.globalPosition().toPoint(), text, self)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go."""
        if self._dragging:
            self._dragging = False
            self.drag_ended.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """H takes the next handle, arrows nudge it, or walk through the beads where none is held."""
        key = event.key()
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1}
        if key == Qt.Key.Key_H and self.drawing is not None:
            ids = [h.id for h in self.drawing.handles]
            at = -1 if self._handle is None else ids.index(self._handle.id) if self._handle.id in ids else -1
            self._handle = self.drawing.handles[(at + 1) % len(ids)]
        elif key == Qt.Key.Key_Escape:
            self._handle = None
            self.store.select(None)
        elif key in steps and self._handle is not None and self.store.joint is not None:
            name = self._handle.id
            _, low, high = LIMITS[name]
            value = getattr(self.store.joint, name) + steps[Qt.Key(key)] * 2 * STEP[name]
            self.value_dragged.emit(name, min(max(value, low), high))
        elif key in steps:
            self.store.select_step(steps[Qt.Key(key)])
        else:
            super().keyPressEvent(event)
            return
        self.update()


def dragged_value(joint: Joint, name: str, x: float, y: float) -> float:
    """The value that brings a handle under the pointer: looked for among all that leave a possible joint."""
    _, low, high = LIMITS[name]
    count, best = DRAG_TRIALS, getattr(joint, name)
    for _ in range(DRAG_ROUNDS):
        step = (high - low) / count
        tried = [low + i * step for i in range(count + 1)]
        best = min(tried, key=lambda value: _miss(joint, name, value, x, y))
        low, high = max(low, best - step), min(high, best + step)
    rounded = round(best / STEP[name]) * STEP[name]
    _, low, high = LIMITS[name]
    rounded = min(max(rounded, low), high)
    return rounded if math.isfinite(_miss(joint, name, rounded, x, y)) else best


def _miss(joint: Joint, name: str, value: float, x: float, y: float) -> float:
    """How far a handle is from the pointer, along the way it moves, with this value."""
    tried = edited(joint, **{name: value})
    if joint_faults(tried):
        return math.inf
    at = next((h.at for h in handles_of(tried) if h.id == name), None)
    if at is None:
        return math.inf
    return abs(at[1] - y) if name in UPRIGHT else abs(at[0] - x)


def halves(joint: Joint) -> str:
    """On fixed pipe: how the two halves are gone round."""
    if joint.piece.form != "pipe" or len(joint.attitudes("fill")) == 1:
        return ""
    return ", each half from the bottom up" if joint.piece.progression == "up" else ", each half from the top down"


def bead_words(p: Pass, store: Store) -> str:
    """A bead in two lines, for the pointer."""
    u = store.units
    return (
        f"{pass_label(p)}: {p.role}, layer {p.layer}, {p.rod.id}, {p.amps:.0f} A\n"
        f"run-out {u.long_length(p.run_out_mm)} {u.length_unit}, {u.energy(p.arc_energy_kj_mm)} {u.energy_unit}, "
        f"{p.rod_count} rods, {minutes(p.arc_time_s)}"
    )
