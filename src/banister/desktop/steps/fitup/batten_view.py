"""The batten on screen: move along it, click a place, type what is read there."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.drawing.charts.batten import Batten, BattenView, batten, nearest_station
from banister.core.drawing.shapes import Drawing
from banister.core.fitup.judged import Fit, judged_fit
from banister.core.fitup.tolerances import set_of
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

STEP_MM, NEAR_PX = 10.0, 8.0
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
        self.pointer_mm: float | None = None
        self._judged: tuple[Joint, Fit] | None = None
        """The fit-up as it was judged last: moving along it judges nothing anew."""
        self.setMinimumHeight(170)
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
        elif old is None or old.view.step != "fitup" or new.differs(old, "joint", "say"):
            self.redraw()

    def made(self) -> Drawing | None:
        """The batten for the present size."""
        joint = self.store.joint
        if joint is None or self.width() < 200 or joint_faults(joint):
            self.chart = None
            return None
        tolerances = set_of(joint)
        if self._judged is None or self._judged[0] is not joint:
            self._judged = joint, judged_fit(joint, joint.fitup, tolerances)
            self.setAccessibleDescription(" ".join(self.store.say.sentence(r) for r in self._judged[1].remarks))
        view = BattenView(float(self.width()), float(self.height()), self.pointer_mm)
        self.chart = batten(joint, self._judged[1], tolerances, self.store.say, view)
        return self.chart.drawing

    def place_at(self, x: float) -> float | None:
        """The place under a pixel, the reading there where one is near."""
        joint = self.store.joint
        if self.chart is None or joint is None:
            return None
        along = self.chart.along
        at = min(max(along.value(x), along.low), along.high)
        near = nearest_station([r.s_mm for r in joint.fitup.readings], at, NEAR_PX / along.scale)
        return round(at) if near is None else near

    def point_to(self, s_mm: float | None) -> None:
        """Point at a place."""
        if s_mm != self.pointer_mm:
            self.pointer_mm = s_mm
            self.redraw()
            self.pointed.emit(s_mm)

    # --- touching ----------------------------------------------------------------------------
    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say what is known at the place under the pointer."""
        self.point_to(self.place_at(event.position().x()))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Measure here."""
        at = self.place_at(event.position().x())
        if at is not None:
            self.point_to(at)
            self.picked.emit(at)

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """Without a pointer nothing is pointed at, unless the keys are here."""
        if not self.hasFocus():
            self.point_to(None)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows walk along it, Enter takes the place up."""
        step = {Qt.Key.Key_Right: STEP_MM, Qt.Key.Key_Left: -STEP_MM}.get(Qt.Key(event.key()))
        if step is not None and self.chart is not None:
            along = self.chart.along
            self.point_to(min(max((self.pointer_mm or 0.0) + step, along.low), along.high))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.pointer_mm is not None:
            self.picked.emit(self.pointer_mm)
        else:
            super().keyPressEvent(event)
