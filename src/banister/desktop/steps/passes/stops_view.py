"""The stop map in a window of its own: laths to look at, a list to weld by, laid beside the window."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QSplitter, QVBoxLayout, QWidget

from banister.core.drawing.charts.stop_strip import StopStrip, StripView, stop_strip
from banister.core.drawing.shapes import Drawing
from banister.core.follow.facts import NOTHING_TOLD
from banister.core.follow.stopped import as_welded
from banister.core.joint.stopping import StopChoices, StopPin
from banister.core.remark import Figure, Refused, Remark
from banister.core.stops.by_hand import evenly, moved, with_marks
from banister.core.stops.of_plan import JointStops, dropped_said, joint_stops, stops_said, with_half
from banister.core.stops.runs import MOST_WANTED_MM
from banister.core.value import replace
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.sheet.actions import plain_name, put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import chalk_pages

STOPS = "stops"


class StripWidget(ChartView):
    """The laths. A click, or the arrow keys, light a pass up everywhere; a joint between two rods is dragged, and holds there."""

    dropped = Signal(str, tuple)
    """A run's marks were put by hand: its pass, the marks."""
    refused = Signal(object)
    """What stops a drag, None where nothing does any more."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store, self.half = store, ""
        self.stops: JointStops | None = None
        self.chart: StopStrip | None = None
        self._held: tuple[str, int, JointStops] | None = None
        """What is dragged: pass and mark, and the stops as they were before."""
        self.setMinimumHeight(220)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("strip.name"))

    @property
    def fits(self) -> bool:
        """True while the stops are those of the plan that is shown."""
        plan = self.store.now.plan
        return self.stops is not None and plan is not None and plan.feasible and {p.key for p in self.stops.passes} == {p.key for p in plan.passes}

    def made(self) -> Drawing | None:
        """The strip for the present size."""
        plan, found = self.store.now.plan, self.store.now.selected
        if not self.fits or plan is None or self.stops is None or self.width() < 200:
            self.chart = None
            return None
        view = StripView(float(self.width()), float(self.height()), self.half, "" if found is None else found.key)
        self.chart = stop_strip(plan.passes, self.stops, self.store.say, view)
        return self.chart.drawing

    # --- the mouse ---------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of the stop under the pointer, else select the pass."""
        at, plan = self.point(event.position()), self.store.now.plan
        if self.chart is None or plan is None or self.stops is None:
            return
        key, mark = self.chart.key_at(at), self.chart.mark_at(at)
        self.store.select(next((p for p in plan.passes if p.key == key), None))
        if mark is not None:
            self._held = (*mark, self.stops)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Drag the stop that is held: its run follows, the others make room at once."""
        at = self.point(event.position())
        if self._held is None or self.chart is None:
            over = self.chart is not None and self.chart.mark_at(at) is not None
            self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)
            return
        key, n, before = self._held
        self._put(before, key, n, self.chart.along.value(at[0]))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go: the run holds where it is."""
        held, self._held = self._held, None
        if held is not None and self.stops is not None and self.stops is not held[2]:
            self.refused.emit(None)
            self.dropped.emit(held[0], self.stops.of(held[0], self.half).marks)

    def _put(self, before: JointStops, key: str, n: int, to_mm: float) -> None:
        joint, plan = self.store.now.joint, self.store.now.plan
        if joint is None or plan is None:
            return
        found = before.maps[before.halves.index(self.half)]
        i = next(k for k, run in enumerate(found.runs) if run.key == key)
        put = moved(found.runs[i], found.marks[i], n, to_mm)
        self.refused.emit(put.stopped)
        self.stops = with_half(joint, plan, before, self.half, with_marks(found, before.touching, i, put.marks))
        self.redraw()

    # --- the keys ----------------------------------------------------------------------------
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
        self._cannot = False
        self.strip, self.list, self.title, self.fault = StripWidget(store, theme), QListWidget(), QLabel(), QLabel()
        bordered(self.list)
        self.title.setFont(font(15))
        tint(self.fault, BAD)
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.list.setAccessibleName(say("strip.list"))
        self.list.setFont(font(13))
        self.half = ChoiceField(say("strip.half"), {})
        self.half.chosen.connect(self._show_half)
        self.wanted = FigureField(say("strip.wanted"), "length", self._set_wanted, 5.0, 0.0, MOST_WANTED_MM)
        self.wanted.setFixedWidth(260)
        self.half.setFixedWidth(250)
        self.halt = self._button("board.stop", self.stop)
        self.more, self.fewer, self.free, self.paper = (self._button(f"strip.{key}", act) for key, act in (
            ("more", lambda: self._count(1)), ("fewer", lambda: self._count(-1)), ("free", self._free), ("paper", self._print)))  # fmt: skip
        top, hand = QHBoxLayout(), QHBoxLayout()
        top.addWidget(self.title, 1)
        for widget in (self.half, self.wanted, self.halt):
            top.addWidget(widget)
        hand.addWidget(self.fault, 1)
        hand.addStretch(0)
        for button in (self.more, self.fewer, self.free, self.paper):
            hand.addWidget(button)
        split, column = QSplitter(Qt.Orientation.Vertical), QVBoxLayout(self)
        split.addWidget(self.strip)
        split.addWidget(self.list)
        split.setSizes([460, 180])
        note = QLabel(say("strip.note"))
        tint(note, SOFT)
        note.setWordWrap(True)
        column.addLayout(top)
        column.addWidget(split, 1)
        column.addLayout(hand)
        column.addWidget(note)
        for key, act in ((Qt.Key.Key_Plus, self.more.click), (Qt.Key.Key_Minus, self.fewer.click), (Qt.Key.Key_Space, self.free.click)):
            QShortcut(QKeySequence(key), self.strip, act, context=Qt.ShortcutContext.WidgetShortcut)
        self.strip.dropped.connect(self._pin)
        self.strip.refused.connect(self._tell)
        store.changed.connect(self.show_job)
        self.lay()

    def _button(self, word: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(self.store.say(word))
        button.clicked.connect(lambda _checked=False: act())
        return button

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Lay anew after another plan, other tacks or other pins; another selection only lights up."""
        before = None if old is None or old.joint is None else (old.joint.stops, old.joint.fitup.tacks)
        after = None if new.joint is None else (new.joint.stops, new.joint.fitup.tacks)
        if new.differs(old, "plan", "say") or before != after:
            self.lay()
        elif new.differs(old, "selected"):
            self.strip.redraw()
        self._show_buttons()
        self._say_title()

    # --- intents -----------------------------------------------------------------------------
    def _set_wanted(self, value: float) -> Remark | None:
        joint = self.store.joint
        if joint is not None and value != joint.stops.wanted_mm:
            self._choose(replace(joint.stops, wanted_mm=value), "edit.stops.wanted")
        return None

    def _pin(self, key: str, marks: tuple[float, ...]) -> None:
        """The marks of a run hold where they are."""
        joint = self.store.joint
        if joint is None:
            return
        told = self.store.now.told
        welded = None if told is None else told.passes.get(key)
        if welded is not None and self.strip.half in dict(welded.stops):
            self.lay()
            self.fault.setText(self.store.say("strip.welded"))
            self.fault.show()
            return
        self._choose(joint.stops.pinning(StopPin(key=key, half=self.strip.half, marks=marks)), "edit.stops.pin")

    def _count(self, more: int) -> None:
        """The lit pass takes a rod more, or one fewer, evenly laid."""
        found, stops = self.store.now.selected, self.strip.stops
        if found is None or stops is None:
            return
        own = stops.maps[stops.halves.index(self.strip.half)]
        run = next(run for run in own.runs if run.key == found.key)
        try:
            marks = evenly(run, len(stops.of(found.key, self.strip.half).pieces) + more)
        except Refused as refused:
            self._tell(refused.remarks[0])
            return
        self._tell(None)
        self._pin(found.key, marks)

    def _free(self) -> None:
        """The lit pass, or every pass where none is lit, is laid by the search again."""
        joint, found = self.store.now.joint, self.store.now.selected
        if joint is not None:
            left = replace(joint.stops, pins=()) if found is None else joint.stops.without(found.key, self.strip.half)
            if left != joint.stops:
                self._choose(left, "edit.stops.free")

    def _choose(self, stops: StopChoices, name: str) -> None:
        found, say = self.store.now.selected, self.store.say
        self.store.edit_joint(say(name, number=str(found.number if found is not None else say("strip.all"))), stops=stops)

    def _print(self) -> None:
        """The chalk strip at its true size, as a PDF."""
        window, joint, plan, stops = self.parent(), self.store.now.joint, self.store.now.plan, self.strip.stops
        if joint is None or plan is None or stops is None:
            return
        path = window.dialogs.save_path(self, self.store.say("strip.paper"), f"{plain_name(joint.id)}-stops.pdf", "*.pdf")  # type: ignore[union-attr]
        if path is not None:
            put_on_paper(window, path, chalk_pages, joint, plan, stops, self.store.say)

    # --- showing -----------------------------------------------------------------------------
    def _tell(self, remark: Remark | None) -> None:
        self.fault.setText("" if remark is None else self.store.say.sentence(remark))
        self.fault.setVisible(remark is not None)

    def lay(self) -> None:
        """Have the stops laid beside the window; what was dragged is seen until they are."""
        joint, plan, say = self.store.now.joint, self.store.now.plan, self.store.say
        if not self.strip.fits:
            self.strip.stops = None
            self.list.clear()
        self.strip.redraw()
        self._cannot = False
        self._say_title()
        self._show_buttons()
        if joint is None or plan is None or not plan.feasible:
            self.stop()
            return
        self.wanted.show_value(joint.stops.wanted_mm, say)
        self.halt.show()
        request = (as_welded(joint, self.store.now.told or NOTHING_TOLD), plan)
        self.store.errands.run(Errand(SEARCH, STOPS, "stops", joint_stops, request, self._arrived, self.halt.hide, self._failed))

    def _arrived(self, found: JointStops) -> None:
        say = self.store.say
        self.strip.stops = found
        if self.strip.half not in found.halves:
            self.strip.half = found.halves[0]
        self.half.set_choices({half: say(f"cli.stops.half.{half}") if half else say("cli.stops.whole") for half in found.halves})
        self.half.setVisible(len(found.halves) > 1)
        self._say_title()
        self._show_half(self.strip.half)

    def _failed(self, report: str) -> None:
        """Nothing could be laid: where a run is too short for its rods, why."""
        self.halt.hide()
        self._cannot = True
        self._say_title()

    def _say_title(self) -> None:
        """Whose stops they are, and where they could not be laid as far apart as is wanted."""
        joint, stops, say = self.store.now.joint, self.strip.stops, self.store.say
        if joint is None or not self.store.now.feasible or self._cannot:
            self.title.setText(say("strip.cannot" if self._cannot else "strip.none"))
            return
        less = stops is not None and stops.distance_mm < joint.stops.wanted_mm - 1e-6
        self.title.setText(joint.called + (f". {say('cli.stops.less', wanted=Figure(joint.stops.wanted_mm, 'length'))}" if less else ""))

    def _show_half(self, half: str) -> None:
        self.strip.half = half
        self.half.show_choice(half)
        self.strip.redraw()
        self.list.clear()
        if self.strip.stops is not None:
            self.list.addItems([stops_said(p, self.store.say) for p in self.strip.stops.passes if p.half == half])
            self.list.addItems(dropped_said(self.strip.stops, self.store.say))
        self._show_buttons()

    def _show_buttons(self) -> None:
        joint, found = self.store.now.joint, self.store.now.selected
        pins = () if joint is None else joint.stops.pins
        for button in (self.more, self.fewer):
            button.setEnabled(found is not None and self.strip.stops is not None)
        self.free.setEnabled(any(found is None or (pin.key, pin.half) == (found.key, self.strip.half) for pin in pins))
        self.paper.setEnabled(self.strip.stops is not None)

    def stop(self) -> None:
        """Leave it unlaid."""
        self.store.stop(STOPS)
        self.halt.hide()
