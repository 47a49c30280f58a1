"""The rack on screen, under the section on the step of the rods: a click, or up and down, light a kind of rod up."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from banister.core.care.of_plan import trips_of
from banister.core.care.rack import Rack, racked
from banister.core.care.trips import Trip, Use
from banister.core.drawing.charts.rack_picture import RackPicture, RackView, rack_picture
from banister.core.drawing.shapes import Drawing
from banister.core.heat.line import HeatLine
from banister.core.journal import folded
from banister.core.remark import Refused, Remark
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

EVERY_MS = 20_000
"""How often the clocks of the rods are drawn anew."""


def rack_of(now: Snapshot) -> Rack:
    """The rack of the shown joint as its journal tells it."""
    if now.joint is None or now.job is None:
        return Rack()
    found = folded(now.records, now.joint.id)
    return racked(found.lots, found.care, now.job.rods_by_id)


class RackWidget(ChartView):
    """Shows every rod of the plan; `picked` brings the kind that was clicked."""

    picked = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store, self.lit, self.quiver = store, "", 0
        self.chart: RackPicture | None = None
        self.refused: tuple[Remark, ...] = ()
        """Why no trips can be made, where none can."""
        self.setMinimumHeight(200)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("rack.name"))
        self._clock = QTimer(self)
        self._clock.setInterval(EVERY_MS)
        self._clock.timeout.connect(self.redraw)
        self._trips: tuple[tuple[HeatLine | None, int], tuple[tuple[Trip, ...], tuple[Use, ...]]] | None = None

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Draw what differs, on its step only."""
        is_shown = new.view.step == "rods" and new.view.racking
        if is_shown and not self._clock.isActive():
            self._clock.start()
        elif not is_shown:
            self._clock.stop()
        if is_shown and (old is None or new.differs(old, "joint", "plan", "heat", "records", "say", "view")):
            self.redraw()

    def hideEvent(self, event: object) -> None:  # noqa: N802
        """Nothing runs behind a hidden rack."""
        self._clock.stop()

    def made(self) -> Drawing | None:
        """The rack for the present size."""
        now = self.store.now
        self.chart = None
        if now.plan is None or not now.feasible or self.width() < 200:
            return None
        trips, uses = self.fetched(now)
        view = RackView(float(self.width()), float(self.height()), self.store.now_h, self.lit)
        self.chart = rack_picture(now.plan.passes, rack_of(now), trips, uses, self.store.say, view)
        return self.chart.drawing

    def fetched(self, now: Snapshot) -> tuple[tuple[Trip, ...], tuple[Use, ...]]:
        """Trips to the oven along the schedule, worked out once for it."""
        key = (now.heat, self.quiver)
        if self._trips is None or self._trips[0][0] is not key[0] or self._trips[0][1] != key[1]:
            found: tuple[tuple[Trip, ...], tuple[Use, ...]] = ((), ())
            self.refused = ()
            if now.plan is not None and now.heat is not None and now.heat.schedule.feasible:
                try:
                    trips, _, uses = trips_of(now.plan, now.heat.schedule, self.quiver or None)
                    found = trips, uses
                except Refused as refused:
                    self.refused = refused.remarks
            self._trips = (key, found)
        return self._trips[1]

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Light the kind under the pointer up."""
        found = None if self.chart is None else self.chart.rod_at(self.point(event.position())[1])
        if found is not None:
            self.light(found)

    def light(self, rod: str) -> None:
        """Light a kind of rod up."""
        if rod != self.lit:
            self.lit = rod
            self.redraw()
            self.picked.emit(rod)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk from kind to kind."""
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None or self.chart is None:
            super().keyPressEvent(event)
            return
        kinds = list(self.chart.rows)
        at = kinds.index(self.lit) + step if self.lit in kinds else 0
        self.light(kinds[min(max(at, 0), len(kinds) - 1)])
