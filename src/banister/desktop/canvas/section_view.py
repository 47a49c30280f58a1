"""The section: the largest thing on every view, and the thing people touch."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from banister.core.drawing.dragging import dragged_value
from banister.core.drawing.section import pass_label, section_drawing, warm_section, welded_section
from banister.core.drawing.shapes import Drawing, Handle
from banister.core.drawing.symbol import symbol_drawing
from banister.core.drawing.warmth import spaced
from banister.core.fitup.places import course_of
from banister.core.fitup.recut import recut
from banister.core.fitup.uneven import at_station
from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import FIGURES
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass
from banister.core.polygon import holds
from banister.core.remark import Figure
from banister.core.value import replace
from banister.core.words import Speech
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import Still, paint_focus
from banister.desktop.canvas.copying import copies
from banister.desktop.canvas.painting import Frame, framed, paint
from banister.desktop.errands import HEAT, Errand
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

if TYPE_CHECKING:
    from banister.core.heat.film import Warmth

HANDLE_PX, WARMTH = 12.0, "warmth"
SYMBOL_FROM_PX = 680
SYMBOL_AREA = QRectF(2, 0, 206, 92)
TOP_PX, BOTTOM_PX, LOW_PX = 30.0, 26.0, 320
MELTED_FROM_PX = 640
PIXELS_PER_MM = 96 / 25.4


class SectionView(QWidget):
    """Draws the section, selects passes, and lets what has a handle be dragged."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.drawing: Drawing | None = None
        self._still = Still()
        self._framed: tuple[Drawing, QSize, Frame] | None = None
        self._spaced: tuple[Drawing, float, Drawing] | None = None
        self._handle: Handle | None = None
        self._dragging = False
        self.warmth: Warmth | None = None
        """How warm it is across the weld, on the heat step."""
        self.cut_mm: float | None = None
        """The place of the fitted joint that is shown, None for the joint as it is drawn."""
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(260, 220)
        self.setAccessibleName(store.say("section.name"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """As large as there is room for."""
        return QSize(760, 520)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs."""
        drawn = ("plan", "say")
        joint, before = new.joint, None if old is None else old.joint
        same = joint is not None and before is not None and (joint.prep, joint.piece, joint.procedure) == (before.prep, before.piece, before.procedure)
        alike = old is not None and new.outside == old.outside and new.view.convention == old.view.convention
        is_turned = old is not None and (old.view.step == "weld") != (new.view.step == "weld")
        is_warm = old is not None and (old.view.step == "heat") != (new.view.step == "heat")
        self._ask_warmth(old, new)
        welds = new.view.step == "weld" and new.differs(old, "records", "issued", "followed") and self._is_followed(new)
        if not same or not alike or is_turned or is_warm or welds or new.differs(old, *drawn):
            self._draw(new)
        if new.differs(old, "selected", "say"):
            self._describe(new)
        self.update()

    def _draw(self, new: Snapshot) -> None:
        joint = new.joint
        self.drawing = None
        if joint is not None and not joint_faults(joint):
            welded = self.store.following.welded(new) if new.view.step == "weld" else None
            if welded is not None and new.issued is not None:
                self.drawing = welded_section(joint, new.issued.plan, welded.now.plan, welded.now.welded, new.say, new.view.convention)
                return
            plan = new.plan if new.feasible else None
            self.drawing = section_drawing(joint, plan, new.say, new.outside, new.view.convention)
            if plan is not None and self._is_warm(new) and self.warmth is not None and self.warmth.key in plan.numbers:
                self.drawing = warm_section(joint, plan, self.warmth, self.drawing, new.say)

    def _is_followed(self, now: Snapshot) -> bool:
        """True once what was welded is known as it is told now: until then the section stays as it was."""
        return self.store.following.welded(now) is not None or not self.store.following.is_behind(now)

    def _is_warm(self, now: Snapshot) -> bool:
        """True on the heat step, where there is a schedule."""
        return now.view.step == "heat" and now.feasible and now.heat is not None and now.heat.schedule.feasible

    def _ask_warmth(self, old: Snapshot | None, new: Snapshot) -> None:
        """On the heat step: how warm it is across the weld as the selected pass is done, the last one where none is; worked out beside the window."""
        asked = ("joint", "plan", "heat", "selected")
        if old is not None and not new.differs(old, *asked) and (old.view.step == "heat") == (new.view.step == "heat"):
            return
        if not self._is_warm(new):
            self.warmth = None
        elif new.joint is not None and new.plan is not None and new.heat is not None:
            from banister.core.heat.film import warmth_of

            key = (new.selected or new.plan.passes[-1]).key
            request = (new.joint, new.plan, new.heat.schedule, key)
            self.store.errands.run(Errand(HEAT, WARMTH, WARMTH, warmth_of, request, self._warm))

    def _warm(self, still: Warmth) -> None:
        self.warmth = still
        self._draw(self.store.now)
        self.update()

    def cut_at(self, s_mm: float | None) -> None:
        """The section as it is at a place of the fitted joint, the plan's layers held; None for the joint as it is drawn."""
        now = self.store.now
        joint, plan = now.joint, now.plan
        self.cut_mm = s_mm
        if s_mm is None or joint is None or plan is None or not joint.fitup.readings or joint_faults(joint):
            self._draw(now)
        else:
            here = at_station(joint, joint.fitup, s_mm)
            drawing = section_drawing(here, recut(joint, plan, here) if now.feasible else None, now.say, now.outside, now.view.convention)
            self.drawing = replace(drawing, handles=())
        self.update()

    def _describe(self, new: Snapshot) -> None:
        self.setAccessibleDescription("" if new.selected is None or new.joint is None else pass_words(new.joint, new.selected, new.say))

    def set_theme(self, theme: Theme) -> None:
        """Another theme."""
        self.theme = theme
        self.update()

    @property
    def frame_px(self) -> Frame:
        """How the drawing lies in the widget."""
        assert self.drawing is not None
        if self._framed is None or self._framed[0] is not self.drawing or self._framed[1] != self.size():
            foot = BOTTOM_PX if self.height() > LOW_PX else 2 * BOTTOM_PX  # small, the figures under the root reach further down than the drawing
            self._framed = self.drawing, self.size(), framed(self.drawing, QRectF(self.rect()).adjusted(8, TOP_PX, -8, -foot))
        return self._framed[2]

    def shown(self) -> Drawing:
        """The drawing without the figures there is no room for at this size."""
        assert self.drawing is not None
        k = self.frame_px.k
        if self._spaced is None or self._spaced[0] is not self.drawing or self._spaced[1] != k:
            self._spaced = self.drawing, k, spaced(self.drawing, k)
        return self._spaced[2]

    # --- painting ----------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """The drawing as it was painted last, then what is selected and held."""
        painter, joint = QPainter(self), self.store.now.joint
        if self.drawing is None or joint is None:
            painter.fillRect(self.rect(), QColor(self.theme.drawing["paper"]))
            self._paint_fault(painter)
            return
        self._still.put(painter, self, self.shown(), self.frame_px, self.theme, "paper")
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_margin(painter, joint)
        self._paint_selection(painter)
        for handle in self.drawing.handles:
            self._paint_handle(painter, handle, joint)
        if self.hasFocus():
            paint_focus(painter, self, self.theme)

    def _paint_fault(self, painter: QPainter) -> None:
        joint = self.store.joint
        if joint is None:
            return
        painter.setPen(QColor(self.theme.bad))
        painter.setFont(font(15))
        text = "\n".join(map(self.store.say.sentence, joint_faults(joint)))
        painter.drawText(self.rect().adjusted(24, 24, -24, -24), Qt.TextFlag.TextWordWrap, text)

    def _paint_margin(self, painter: QPainter, joint: Joint) -> None:
        """The welding symbol, and at the foot how it lies, which side goes first, and the scale."""
        say, convention = self.store.say, self.store.view.convention
        if self.width() > SYMBOL_FROM_PX:
            symbol = symbol_drawing(joint, say, convention)
            paint(painter, symbol, framed(symbol, SYMBOL_AREA), self.theme)
        painter.setFont(font(12))
        painter.setPen(QColor(self.theme.drawing["note"]))
        foot = QRectF(12, self.height() - 24, self.width() - 24, 20)
        note = say("section.melted") if self.width() > MELTED_FROM_PX and not joint.prep.kind.fillet else ""
        said = foot_words(joint, self.frame_px.k / PIXELS_PER_MM, say)
        if self.cut_mm is not None:
            said = (say("section.cut", at=course_of(joint).figure(self.cut_mm)), *said)
        elif self.warmth is not None and (p := self._done()) is not None:
            reads, off = Figure(self.warmth.read_c, "temperature"), Figure(joint.heat.measure_at_mm, "length")
            said, note = (say("section.warm", bead=pass_label(p), reads=reads, mm=off), *said), ""
        room = foot.width() - painter.fontMetrics().horizontalAdvance(note) - 16
        fits = next((text for text in said if painter.fontMetrics().horizontalAdvance(text) <= room), said[-1])
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, fits)
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, note)

    def _done(self) -> Pass | None:
        """The pass the warmth is told of."""
        plan = self.store.now.plan
        return None if plan is None or self.warmth is None else next((p for p in plan.passes if p.key == self.warmth.key), None)

    def _paint_selection(self, painter: QPainter) -> None:
        found = self.store.now.selected
        if found is None or not self.store.now.feasible or self.cut_mm is not None:
            return
        polygon = self.frame_px.polygon(found.outline_mm)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for style, width in (("select.outer", 6.0), ("select.inner", 2.5)):
            pen = QPen(QColor(self.theme.drawing[style]), width)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.drawPolygon(polygon)

    def _paint_handle(self, painter: QPainter, handle: Handle, joint: Joint) -> None:
        colour, at = QColor(self.theme.drawing["handle"]), self.frame_px.px(*handle.at)
        held = self._handle is not None and handle.id == self._handle.id
        painter.setPen(QPen(colour, 2.0))
        painter.setBrush(colour if held else QColor(self.theme.drawing["paper"]))
        r = 6.5 if held else 4.5
        painter.drawPolygon(QPolygonF([at + QPointF(0, -r), at + QPointF(r, 0), at + QPointF(0, r), at + QPointF(-r, 0)]))
        if held:
            self._paint_held(painter, handle, at, joint)

    def _paint_held(self, painter: QPainter, handle: Handle, at: QPointF, joint: Joint) -> None:
        figure, say = FIGURES[handle.id], self.store.say
        text = f"{say(figure.label)} {say.sized(figure.kind, figure.of(joint))}"
        painter.setFont(font(13, QFont.Weight.DemiBold))
        width = painter.fontMetrics().horizontalAdvance(text) + 14
        box = QRectF(min(at.x() + 14, self.width() - width - 4), max(2.0, at.y() - 32), width, 22)
        painter.setBrush(QColor(self.theme.panel))
        painter.setPen(QPen(QColor(self.theme.drawing["handle"]), 1))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(QColor(self.theme.text))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    # --- touching ----------------------------------------------------------------------------
    def pass_at(self, point: QPointF) -> Pass | None:
        """The pass under a pixel."""
        plan = self.store.now.plan
        if self.drawing is None or plan is None or not plan.feasible:
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
        """Take hold of a handle, or select a pass."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._handle = self.handle_at(event.position())
        self._dragging = self._handle is not None
        if not self._dragging:
            self.store.select(self.pass_at(event.position()))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Drag the held handle, or show what is under the pointer."""
        if self._dragging and self._handle is not None and self.store.joint is not None and self.drawing is not None:
            key = self._handle.id
            self.store.set_figure(key, dragged_value(self.store.joint, key, *self.frame_px.mm(event.position())), f"drag {key}")
            return
        over, say = self.handle_at(event.position()), self.store.say
        self.setCursor(Qt.CursorShape.SizeAllCursor if over else Qt.CursorShape.ArrowCursor)
        bead = None if over else self.pass_at(event.position())
        joint = self.store.joint
        text = say("section.drag", figure=say(FIGURES[over.id].label)) if over else pass_words(joint, bead, say) if bead and joint else ""
        QToolTip.showText(event.globalPosition().toPoint(), text, self)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go."""
        if self._dragging:
            self._dragging = False
            self.store.settle()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """H takes the next handle, arrows nudge it, or walk through the passes where none is held."""
        if copies(event, self, None if self.drawing is None else self.shown()):
            return
        key = event.key()
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1}.get(Qt.Key(key))
        if key == Qt.Key.Key_H and self.drawing is not None and self.drawing.handles:
            ids = [h.id for h in self.drawing.handles]
            at = ids.index(self._handle.id) if self._handle is not None and self._handle.id in ids else -1
            self._handle = self.drawing.handles[(at + 1) % len(ids)]
        elif key == Qt.Key.Key_Escape:
            self._handle = None
            self.store.select(None)
        elif step is not None and self._handle is not None:
            self.store.nudge(self._handle.id, step)
        elif step is not None:
            self.store.select_step(step)
        else:
            super().keyPressEvent(event)
            return
        self.update()


def foot_words(joint: Joint, scale: float, say: Speech) -> tuple[str, ...]:
    """How the joint lies, which side goes first and the scale on screen, the longest wording first."""
    place, piece = joint.place, joint.piece
    order = say("section.low_first" if place.low_side_first else "section.in_turn")
    if piece.form == "pipe" and len(joint.attitudes("fill")) > 1:
        order = say(f"section.halves.{piece.progression}", order=order)
    written = f"{scale:.1f} : 1" if scale >= 1 else f"1 : {1 / scale:.1f}"
    figures = {"code": f"{piece.position} / {place.iso(piece.progression)}", "position": say(place.word), "order": order, "scale": written}
    return tuple(say(f"section.foot.{key}", **figures) for key in ("long", "middle", "short"))


def pass_words(joint: Joint, p: Pass, say: Speech) -> str:
    """A pass in two lines, for the pointer."""
    return say("pass.words", label=pass_label(p), role=say(joint.role_word(p.role, p.side)), layer=str(p.layer), rod=Figure(p.rod.id, "rod"),
               amps=Figure(p.amps, "current"), run_out=Figure(p.run_out_mm, "long_length"), energy=Figure(p.arc_energy_kj_mm, "energy"), rods=str(p.rod_count),
               lasts=Figure(p.arc_time_s, "duration"))  # fmt: skip
