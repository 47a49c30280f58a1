"""Temperatures of the shown joint: over time at three distances, and across it at a time that can be dragged."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from banister.core.drawing.charts.plot import Plot, Series, across, levels_of, over_time
from banister.core.drawing.shapes import Drawing
from banister.core.follow.warmth import read_there
from banister.core.heat.thermal import stations_of
from banister.core.joint.groove import groove_of
from banister.core.remark import Figure
from banister.core.units import MM_PER_INCH
from banister.core.words import Speech
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import HEAT, Errand
from banister.desktop.fields import QuietBox
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.heat import Curves, curves_of, profile_of

DISTANCES_MM, DISTANCES_INCH_MM = (10.0, 25.0, 50.0), (10.0, MM_PER_INCH, 2 * MM_PER_INCH)
KEY_STEPS = 50
CURVES, PROFILE = "curves", "profile"


class PlotView(ChartView):
    """A plot whose chosen time can be dragged."""

    def __init__(self, theme: Theme, name: str, make: Callable[[tuple[float, float]], Plot | None]) -> None:
        super().__init__(theme)
        self._make = make
        self.plot: Plot | None = None
        self.moved: Callable[[float], None] = lambda value: None
        self.at: Callable[[], float] | None = None
        """The chosen time, where this plot has one."""
        self.setMinimumHeight(220)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)

    def made(self) -> Drawing | None:
        """The plot for the present size."""
        self.plot = self._make((float(self.width()), float(self.height())))
        return None if self.plot is None else self.plot.drawing

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Left and right move the chosen time by a fiftieth of all of it."""
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        if step is None or self.plot is None or self.at is None:
            super().keyPressEvent(event)
            return
        along = self.plot.along
        self.moved(min(max(self.at() + step * (along.high - along.low) / KEY_STEPS, along.low), along.high))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Choose the time here."""
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Drag the chosen time."""
        if self.plot is not None:
            along = self.plot.along
            self.moved(min(max(along.value(event.position().x()), along.low), along.high))


class HeatCurves(Beside):
    """Both plots; what is predicted is a line, what was measured a cross."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 980, 700)
        self.store, say = store, store.say
        self.setWindowTitle(say("curves.window"))
        self.title, self.moment, self.note = QLabel(), QLabel(), QLabel()
        self.title.setFont(font(15))
        self.station = QuietBox()
        self.station.setAccessibleName(say("curves.station"))
        self.station.activated.connect(lambda _: self._redraw())
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        top.addWidget(self.station)
        self.over = PlotView(theme, say("curves.over"), self._over)
        self.across = PlotView(theme, say("curves.across"), self._across)
        self.over.moved = self.choose
        self.over.at = lambda: self.at_s or 0.0
        self.curves: Curves | None = None
        self.profile: tuple[tuple[float, ...], list[tuple[float, ...]]] | None = None
        self.at_s: float | None = None
        tint(self.note, SOFT)
        self.note.setWordWrap(True)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.over, 1)
        column.addWidget(self.moment)
        column.addWidget(self.across, 1)
        column.addWidget(self.note)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    # --- computing ---------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Have the curves of what is shown computed beside the window."""
        if not new.differs(old, "joint", "plan", "heat", "say"):
            if new.differs(old, "followed"):
                self._redraw()
            return
        self.note.setText(new.say("curves.note"))
        joint, plan, heat = new.joint, new.plan, new.heat
        if joint is None or plan is None or heat is None or not heat.schedule.feasible:
            self.stop()
            self.title.setText(new.say("curves.none"))
            self.curves = self.profile = None
            self._redraw()
            return
        names = [new.say(f"station.{s.name}") for s in stations_of(joint)]
        if names != [self.station.itemText(i) for i in range(self.station.count())]:
            self.station.clear()
            self.station.addItems(names)
            self.station.setCurrentIndex(len(names) - 1)
        self.title.setText(joint.called)
        request = (joint, plan, heat.schedule, self._distances(new.say))
        self.store.errands.run(Errand(HEAT, CURVES, "curves", curves_of, request, self._arrived))
        end = heat.schedule.end_s
        self.choose(min(self.at_s if self.at_s is not None else end / 2, end))

    def _distances(self, say: Speech) -> tuple[float, ...]:
        return DISTANCES_INCH_MM if say.units.inches else DISTANCES_MM

    def _arrived(self, curves: Curves) -> None:
        self.curves = curves
        self._redraw()

    def choose(self, seconds: float) -> None:
        """Show the temperature across the joint at a time."""
        joint, plan, heat = self.store.now.joint, self.store.now.plan, self.store.now.heat
        if joint is None or plan is None or heat is None or not heat.schedule.feasible:
            return
        self.at_s = seconds
        self.store.errands.run(Errand(HEAT, PROFILE, "curves", profile_of, (joint, plan, heat.schedule, seconds), self._crossed))
        self._redraw()

    def _crossed(self, profile: tuple[tuple[float, ...], list[tuple[float, ...]]]) -> None:
        self.profile = profile
        self._redraw()

    def stop(self) -> None:
        """What is asked for stays unanswered."""
        for key in (CURVES, PROFILE):
            self.store.stop(key)

    # --- drawing -----------------------------------------------------------------------------
    def _redraw(self) -> None:
        self.over.redraw()
        self.across.redraw()
        self.moment.setText(self._moment())
        self.over.setAccessibleDescription(self.moment.text())

    def _over(self, size: tuple[float, float]) -> Plot | None:
        heat, joint, say = self.store.now.heat, self.store.now.joint, self.store.say
        if self.curves is None or heat is None or joint is None:
            return None
        times, curves = self.curves
        at = min(max(self.station.currentIndex(), 0), len(curves[0]) - 1)
        named = (say("curves.from_edge", where=Figure(d, "length")) for d in self._distances(say))
        series = [Series(name, times, rows[at]) for name, rows in zip(named, curves, strict=True)]
        limits = heat.schedule.limits
        read = [*((r.at_s, r.temp_c) for r in joint.readings), *self._there()]
        return over_time(series, levels_of(limits.preheat_c, limits.interpass_c, say), read, self.at_s or 0.0, size, say)

    def _there(self) -> list[tuple[float, float]]:
        """What was read at the joint, after its first arc."""
        welded, now = self.store.welded, self.store.now
        if welded is None or now.joint is None:
            return []
        return [(r.at_s, r.c) for r in read_there(welded.records, now.joint.id, welded.told.passes, welded.now.plan)]

    def _across(self, size: tuple[float, float]) -> Plot | None:
        if self.profile is None:
            return None
        x, rows = self.profile
        joint = self.store.joint
        groove = groove_of(joint.prep).edge() if joint is not None else ()
        return across([Series(self.station.itemText(i), x, row) for i, row in enumerate(rows)], size, self.store.say, groove)

    def _moment(self) -> str:
        """The chosen time and the temperatures then, in figures."""
        say = self.store.say
        if self.curves is None or self.at_s is None:
            return ""
        times, curves = self.curves
        at = min(max(self.station.currentIndex(), 0), len(curves[0]) - 1)
        read = [say("curves.read", temp=Figure(float(np.interp(self.at_s, times, rows[at])), "temperature"), where=Figure(d, "length"))
                for d, rows in zip(self._distances(say), curves, strict=True)]  # fmt: skip
        return say("curves.moment", at=Figure(self.at_s, "clock"), station=self.station.currentText(), read=", ".join(read))
