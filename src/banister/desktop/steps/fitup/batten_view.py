"""The batten on screen: move along it, click a place, type what is read there."""

from __future__ import annotations

import math

from PySide6.QtCore import QEvent, QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.batten import Batten, BattenView, batten, nearest_station
from banister.core.drawing.charts.ring import Ring, ring
from banister.core.drawing.section import section_drawing
from banister.core.drawing.shapes import Drawing
from banister.core.fitup.places import course_of
from banister.core.fitup.recut import recut
from banister.core.fitup.tack_edits import MOVE, TO, tack_near
from banister.core.fitup.tolerances import fit_of, set_of
from banister.core.fitup.uneven import at_station
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.fitup.tack_hand import TackHand
from banister.desktop.store import Store

STEP_MM, TACK_STEP_MM, NEAR_PX, NEAR_DEG = 10.0, 5.0, 8.0, 2.5
HEIGHT = 250


class BattenWidget(ChartView):
    """Shows the fit-up of the shown joint; `picked` brings the place that was clicked, or walked to."""

    picked = Signal(float)
    pointed = Signal(object)
    """The place pointed at, in mm, None for none."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.chart: Batten | None = None
        self.round: Ring | None = None
        self.pointer_mm: float | None = None
        self.hand = TackHand(store)
        self._held: tuple[int, str, float] | None = None
        """What is dragged: a tack by its order, what of it, and the place the hand was at last."""
        self.setMinimumHeight(190)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("batten.name"))

    def sizeHint(self) -> QSize:  # noqa: N802
        """A broad strip."""
        return QSize(700, HEIGHT)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, on its step only."""
        if new.view.step != "fitup":
            self.point_to(None)
        elif old is None or new.differs(old, "joint", "say", "view"):
            self.redraw()

    @property
    def is_ring(self) -> bool:
        """True while the batten is bent to a ring."""
        now = self.store.now
        return now.view.ring and now.joint is not None and course_of(now.joint).closed

    def made(self) -> Drawing | None:
        """The batten, or the ring, for the present size."""
        now = self.store.now  # the joint its plan is of: the store's own may be a step ahead of it
        joint, say, look = now.joint, now.say, now.view
        self.chart = self.round = None
        if joint is None or self.width() < 200 or joint_faults(joint):
            return None
        tolerances = set_of(joint)
        fit, view = fit_of(joint), BattenView(float(self.width()), float(self.height()), self.pointer_mm, look.tacking, look.tack)
        self.setAccessibleDescription(" ".join(say.sentence(r) for r in fit.remarks))
        if self.is_ring:
            self.round = ring(joint, fit, tolerances, say, view, self._section(joint))
            return self.round.drawing
        self.chart = batten(joint, fit, tolerances, say, view)
        return self.chart.drawing

    def _section(self, joint: Joint) -> Drawing | None:
        """The section in the middle of the ring: where it is pointed to, the plan's layers held."""
        now = self.store.now
        if not now.feasible or now.plan is None:
            return None
        if self.pointer_mm is None or not joint.fitup.readings:
            return section_drawing(joint, now.plan, now.say, now.outside)
        here = at_station(joint, joint.fitup, self.pointer_mm)
        return section_drawing(here, recut(joint, now.plan, here), now.say, now.outside)

    def place_at(self, at: QPointF) -> float | None:
        """The place under a pixel, the reading there where one is near."""
        joint, s_mm = self.store.joint, self._along(at)
        if s_mm is None or joint is None:
            return None
        near = nearest_station([r.s_mm for r in joint.fitup.readings], s_mm, self._near_mm)
        return round(s_mm) if near is None else near

    def _along(self, at: QPointF) -> float | None:
        """The place under a pixel, mm along the weld."""
        if self.round is not None:
            return self.round.place_at(self.point(at))
        if self.chart is None:
            return None
        along = self.chart.along
        return min(max(along.value(at.x()), along.low), along.high)

    @property
    def _near_mm(self) -> float:
        """So far from a place a pixel still means it."""
        if self.chart is not None:
            return NEAR_PX / self.chart.along.scale
        return NEAR_DEG / 360.0 * self.round.length_mm if self.round is not None else 0.0

    def _tack_under(self, s_mm: float) -> tuple[int, str] | None:
        """The tack at a place, and what of it a hand takes hold of."""
        joint = self.store.joint
        return None if joint is None else tack_near(joint.fitup.tacks, course_of(joint), s_mm, self._near_mm)

    def point_to(self, s_mm: float | None) -> None:
        """Point at a place."""
        if s_mm != self.pointer_mm:
            self.pointer_mm = s_mm
            self.redraw()
            self.pointed.emit(s_mm)

    # --- touching ----------------------------------------------------------------------------
    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say what is known at the place under the pointer; drag the tack that is held."""
        s_mm = self._along(event.position())
        if s_mm is None:
            return
        if self._held is not None:
            order, what, before = self._held
            self.hand.move(order, what, s_mm - before)
            self._held = order, what, s_mm
        elif self.store.view.tacking:
            over = self._tack_under(s_mm)
            shape = Qt.CursorShape.ArrowCursor if over is None else Qt.CursorShape.OpenHandCursor if over[1] == MOVE else Qt.CursorShape.SizeHorCursor
            self.setCursor(shape)
        self.point_to(self.place_at(event.position()))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Measure here, or take hold of a tack."""
        at, s_mm = self.place_at(event.position()), self._along(event.position())
        if at is None or s_mm is None:
            return
        self.point_to(at)
        if not self.store.view.tacking:
            self.picked.emit(at)
            return
        found = self._tack_under(s_mm)
        self._held = None if found is None else (*found, s_mm)
        self.store.look(tack=0 if found is None else found[0])

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go of a tack."""
        self._held = None
        self.store.settle()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """A tack more goes here."""
        at = self.place_at(event.position())
        if self.store.view.tacking and at is not None and self.store.view.tack == 0:
            self.hand.put(at)

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """Without a pointer nothing is pointed at, unless the keys are here."""
        if not self.hasFocus():
            self.point_to(None)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows walk along it, Enter takes the place up, O bends it to a ring; a tack selected is moved, with Shift lengthened, a figure is its order."""
        step = {Qt.Key.Key_Right: STEP_MM, Qt.Key.Key_Left: -STEP_MM}.get(Qt.Key(event.key()))
        if self.store.view.tacking and self._tack_key(event, step):
            return
        course = None if self.store.joint is None else course_of(self.store.joint)
        if event.key() == Qt.Key.Key_O and course is not None and course.closed:
            self.store.look(ring=not self.store.view.ring)
        elif step is not None and course is not None:
            to_mm = (self.pointer_mm or 0.0) + step
            self.point_to(to_mm % course.length_mm if course.closed else min(max(to_mm, 0.0), course.length_mm))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.pointer_mm is not None:
            self.picked.emit(self.pointer_mm)
        else:
            super().keyPressEvent(event)

    def _tack_key(self, event: QKeyEvent, step: float | None) -> bool:
        """Work the tacks by the keys; False where the key is not theirs."""
        key, order = Qt.Key(event.key()), self.store.view.tack
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.hand.select(1 if key == Qt.Key.Key_Up else -1)
        elif key in (Qt.Key.Key_Insert, Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.pointer_mm is not None and not order:
            self.hand.put(self.pointer_mm)
        elif not order:
            return False
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.hand.remove(order)
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_9:
            self.hand.reorder(order, key - Qt.Key.Key_0)
        elif step is not None:
            is_longer = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.hand.move(order, TO if is_longer else MOVE, math.copysign(TACK_STEP_MM, step))
        else:
            return False
        return True
