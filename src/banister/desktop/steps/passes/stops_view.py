"""The stop map in a window of its own: laths to look at, a list to weld by, laid beside the window."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QSplitter, QVBoxLayout, QWidget

from banister.core.drawing.charts.stop_strip import StopStrip, StripView, stop_strip
from banister.core.drawing.shapes import Drawing
from banister.core.remark import Figure, Remark
from banister.core.stops.of_plan import JointStops, joint_stops, stops_said
from banister.core.stops.runs import WANTED_MM
from banister.desktop.app.beside import Beside
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

STOPS = "stops"


class StripWidget(ChartView):
    """The laths; a click, or the arrow keys, light a pass up everywhere."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store, self.half = store, ""
        self.stops: JointStops | None = None
        self.chart: StopStrip | None = None
        self.setMinimumHeight(220)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("strip.name"))

    def made(self) -> Drawing | None:
        """The strip for the present size."""
        plan, found = self.store.now.plan, self.store.now.selected
        if self.stops is None or plan is None or not plan.feasible or self.width() < 200 or {p.key for p in self.stops.passes} != {p.key for p in plan.passes}:
            self.chart = None
            return None
        view = StripView(float(self.width()), float(self.height()), self.half, "" if found is None else found.key)
        self.chart = stop_strip(plan.passes, self.stops, self.store.say, view)
        return self.chart.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Select the pass under the pointer."""
        key = None if self.chart is None else self.chart.key_at(self.point(event.position()))
        plan = self.store.now.plan
        self.store.select(next((p for p in plan.passes if p.key == key), None) if plan is not None else None)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk from root to cap."""
        step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.store.select_step(step)


class StopsDialog(Beside):
    """Lays the stops of the shown joint, and again after every edit."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1120, 720)
        self.store, say = store, store.say
        self.setWindowTitle(say("strip.window"))
        self.wanted_mm = WANTED_MM
        self.strip, self.list, self.title = StripWidget(store, theme), QListWidget(), QLabel()
        self.title.setFont(font(15))
        self.list.setAccessibleName(say("strip.list"))
        self.list.setFont(font(13))
        self.half = ChoiceField(say("strip.half"), {})
        self.half.chosen.connect(self._show_half)
        self.wanted = FigureField(say("strip.wanted"), "length", self._set_wanted, 5.0, 0.0, 500.0)
        self.wanted.setFixedWidth(260)
        self.halt = QPushButton(say("board.stop"))
        self.halt.clicked.connect(self.stop)
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        for widget in (self.half, self.wanted, self.halt):
            top.addWidget(widget)
        split, column = QSplitter(Qt.Orientation.Vertical), QVBoxLayout(self)
        split.addWidget(self.strip)
        split.addWidget(self.list)
        split.setSizes([460, 180])
        note = QLabel(say("strip.note"))
        note.setProperty("soft", True)
        note.setWordWrap(True)
        column.addLayout(top)
        column.addWidget(split, 1)
        column.addWidget(note)
        self.wanted.show_value(self.wanted_mm, say)
        store.changed.connect(self.show_job)
        self.lay()

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Lay anew after another plan; another selection only lights up."""
        if new.differs(old, "plan", "say"):
            self.lay()
        elif new.differs(old, "selected"):
            self.strip.redraw()

    def _set_wanted(self, value: float) -> Remark | None:
        self.wanted_mm = value
        self.lay()
        return None

    def lay(self) -> None:
        """Have the stops laid beside the window."""
        joint, plan, say = self.store.joint, self.store.now.plan, self.store.say
        self.strip.stops = None
        self.list.clear()
        self.strip.redraw()
        if joint is None or plan is None or not plan.feasible:
            self.title.setText(say("strip.none"))
            return
        self.title.setText(f"{joint.id}  {joint.name}")
        self.halt.show()
        request = (joint, plan, self.wanted_mm)
        self.store.errands.run(Errand(SEARCH, STOPS, "stops", joint_stops, request, self._arrived, self.halt.hide, lambda _: self.halt.hide()))

    def _arrived(self, found: JointStops) -> None:
        say, joint = self.store.say, self.store.joint
        self.strip.stops = found
        halves = list(dict.fromkeys(p.half for p in found.passes))
        self.half.set_choices({half: say(f"cli.stops.half.{half}") if half else say("cli.stops.whole") for half in halves})
        self.half.setVisible(len(halves) > 1)
        self.strip.half = halves[0]
        if joint is not None:
            less = found.distance_mm < self.wanted_mm - 1e-6
            self.title.setText(f"{joint.id}  {joint.name}" + (f". {say('cli.stops.less', wanted=Figure(self.wanted_mm, 'length'))}" if less else ""))
        self._show_half(halves[0])

    def _show_half(self, half: str) -> None:
        self.strip.half = half
        self.strip.redraw()
        self.list.clear()
        if self.strip.stops is not None:
            self.list.addItems([stops_said(p, self.store.say) for p in self.strip.stops.passes if p.half == half])

    def stop(self) -> None:
        """Leave it unlaid."""
        self.store.stop(STOPS)
        self.halt.hide()

    def closeEvent(self, event: object) -> None:  # noqa: N802
        """Nothing goes on behind a closed window."""
        self.stop()
