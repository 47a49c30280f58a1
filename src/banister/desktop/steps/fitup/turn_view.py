"""Turning two measured pipe ends, in a window of its own: radii from files, the rings to drag, the turn taken into the job."""

from __future__ import annotations

import math
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.charts.turn_rings import TurnRings, TurnView, turn_rings
from banister.core.drawing.shapes import Drawing
from banister.core.fitup.turn import GOALS, LIMIT_MM, MAX, STEP_DEG, Turned, best_turn, rules_of, signed, usual_seams_mm, way_of
from banister.core.joint.fitting import PipeEnd, Turning
from banister.core.remark import Figure, Refused, Remark
from banister.core.value import replace
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, tint
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.job.fitup_csv import read_pipe_end
from banister.job.reading import FileFault

DETENT_DEG = 2.0


class RingsWidget(ChartView):
    """The rings: drag the outer one, arrows turn it half a degree, Home goes to the best turn."""

    turned = Signal(float)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.ends: tuple[PipeEnd, PipeEnd] | None = None
        self.found: Turned | None = None
        self.chart: TurnRings | None = None
        self.turn_deg, self.limit_mm = 0.0, LIMIT_MM
        self._held: tuple[float, float] | None = None
        self.setMinimumSize(460, 460)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("turn.window"))

    def made(self) -> Drawing | None:
        """The rings for the present size."""
        if self.ends is None or self.found is None or self.width() < 200:
            self.chart = None
            return None
        self.chart = turn_rings(self.ends, self.found, self.store.say, TurnView(float(self.width()), float(self.height()), self.turn_deg, self.limit_mm))
        return self.chart.drawing

    def turn_to(self, degrees: float, rests: bool = False) -> None:
        """Show another turn; near one of the best places a hand comes to rest in it."""
        degrees = round(degrees / STEP_DEG) * STEP_DEG % 360.0
        if rests and self.found is not None:
            degrees = next((v.turn_deg for v in self.found.valleys if abs(signed(v.turn_deg - degrees)) <= DETENT_DEG), degrees)
        if degrees != self.turn_deg:
            self.turn_deg = degrees
            self.turned.emit(degrees)
            self.redraw()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of the new end."""
        if self.chart is not None:
            self._held = self.chart.angle_at(self.point(event.position())), self.turn_deg

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Turn it with the hand."""
        if self._held is not None and self.chart is not None:
            start, before = self._held
            self.turn_to(before + self.chart.angle_at(self.point(event.position())) - start, rests=True)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go."""
        self._held = None

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows turn, with Shift by ten steps; Home to the best."""
        step = {Qt.Key.Key_Right: STEP_DEG, Qt.Key.Key_Left: -STEP_DEG}.get(Qt.Key(event.key()))
        if step is not None:
            self.turn_to(self.turn_deg + step * (10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1))
        elif event.key() == Qt.Key.Key_Home and self.found is not None and self.found.best is not None:
            self.turn_to(self.found.best.turn_deg)
        else:
            super().keyPressEvent(event)


class TurnDialog(Beside):
    """Reads both ends, finds the best turn, keeps the one that is taken."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1080, 720)
        self.store, say = store, store.say
        self.setWindowTitle(say("turn.window"))
        self.rings = RingsWidget(store, theme)
        self.state, self.fault, self.taken = QLabel(), QLabel(), QLabel()
        tint(self.fault, BAD)
        for label in (self.state, self.fault, self.taken):
            label.setWordWrap(True)
        self.read = [self._button(f"turn.read.{end}", partial(self._read, n)) for n, end in enumerate(("lying", "new"))]
        self.seams = [FigureField(say(f"turn.seam.{end}"), "angle", partial(self._seam, n), 5.0, 0.0, 360.0, optional=True)
                      for n, end in enumerate(("lying", "new"))]  # fmt: skip
        self.apart = FigureField(say("turn.apart"), "length", self._apart, 5.0, 0.0, 2000.0, optional=True)
        self.most = FigureField(say("turn.most"), "angle", self._most, 5.0, 1.0, 180.0)
        self.limit = FigureField(say("turn.limit"), "fine_length", self._limit, 0.1, 0.1, 20.0)
        self.goal = ChoiceField(say("turn.goal"), {goal: say(f"turn.goal.{goal}") for goal in GOALS})
        self.goal.chosen.connect(lambda _: self._find())
        self.best, self.take, self.leave = (self._button(f"turn.{key}", act) for key, act in (
            ("best", self._to_best), ("take", self._take), ("leave", self._leave)))  # fmt: skip
        side = QVBoxLayout()
        rules = (*self.seams, self.apart, self.most, self.limit, self.goal)
        for widget in (self.state, *self.read, *rules, self.fault, self.best, self.take, self.leave, self.taken):
            side.addWidget(widget)
        side.addStretch(1)
        self.note = QLabel(say("turn.note"))
        tint(self.note, SOFT)
        self.note.setWordWrap(True)
        side.addWidget(self.note)
        panel = QWidget()
        panel.setLayout(side)
        panel.setFixedWidth(310)
        row = QHBoxLayout(self)
        row.addWidget(self.rings, 1)
        row.addWidget(panel)
        store.changed.connect(self.show_job)
        self._find()

    def _button(self, word: str, act: object) -> QPushButton:
        button = QPushButton(self.store.say(word))
        button.clicked.connect(lambda _checked=False: act())  # type: ignore[operator]
        return button

    @property
    def turning(self) -> Turning:
        """What the job holds of it."""
        joint = self.store.joint
        return Turning() if joint is None else joint.fitup.turning

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Find anew after other ends, another joint or another unit."""
        if new.differs(old, "joint", "say"):
            self.note.setText(new.say("turn.note"))
            self._find()

    # --- intents -----------------------------------------------------------------------------
    def _read(self, n: int) -> None:
        """One end from a CSV file; nothing is taken from one with faults."""
        window, say = self.parent(), self.store.say
        path = window.dialogs.document_path(self, say(f"turn.read.{('lying', 'new')[n]}"), Path.home(), say, "csv")  # type: ignore[union-attr]
        if path is None:
            return
        try:
            end = read_pipe_end(path)
        except FileFault as broken:
            self._tell("\n".join(say.faults(broken.remarks)))
            return
        ends = list(self.turning.ends or (end, end))
        ends[n] = replace(end, seam_deg=ends[n].seam_deg if self.turning.ends else None)
        self._put(replace(self.turning, ends=tuple(ends), turn_deg=None), "edit.turn.read")

    def _seam(self, n: int, value: float) -> Remark | None:
        if self.turning.ends:
            ends = list(self.turning.ends)
            ends[n] = replace(ends[n], seam_deg=None if math.isnan(value) else value)
            self._put(replace(self.turning, ends=tuple(ends)), "edit.turn.rules")
        return None

    def _apart(self, value: float) -> Remark | None:
        self._put(replace(self.turning, seams_apart_mm=None if math.isnan(value) else value), "edit.turn.rules")
        return None

    def _most(self, value: float) -> Remark | None:
        self._put(replace(self.turning, most_deg=value), "edit.turn.rules")
        return None

    def _limit(self, value: float) -> Remark | None:
        self.rings.limit_mm = value
        self._find()
        return None

    def _to_best(self) -> None:
        if self.rings.found is not None and self.rings.found.best is not None:
            self.rings.turn_to(self.rings.found.best.turn_deg)

    def _take(self) -> None:
        """The turn that is shown is the joint's."""
        self._put(replace(self.turning, turn_deg=signed(self.rings.turn_deg)), "edit.turn.take")

    def _leave(self) -> None:
        self._put(replace(self.turning, turn_deg=None), "edit.turn.leave")

    def _put(self, turning: Turning, name: str) -> None:
        joint = self.store.joint
        if joint is not None and turning != self.turning:
            self.store.edit_joint(self.store.say(name), fitup=replace(joint.fitup, turning=turning))

    # --- showing -----------------------------------------------------------------------------
    def _find(self) -> None:
        """Try every turn and show the chosen one, or the best."""
        joint, say, rings = self.store.joint, self.store.say, self.rings
        turning, rings.ends, rings.found = self.turning, None, None
        is_pipe = joint is not None and joint.piece.form == "pipe"
        self._tell("")
        if joint is not None and is_pipe and len(turning.ends) == 2:
            rules = rules_of(turning, joint.piece.pipe_od_mm, joint.prep.thickness_mm, self.goal.key or MAX, rings.limit_mm)
            try:
                rings.found = best_turn(*turning.ends, rules)
                rings.ends = (turning.ends[0], turning.ends[1])
                self._tell("\n".join(say.sentence(r) for r in rings.found.remarks))
            except Refused as refused:
                self._tell(" ".join(say.sentence(r) for r in refused.remarks))
        if rings.found is not None:
            best = rings.found.best
            rings.turn_deg = turning.turn_deg % 360.0 if turning.turn_deg is not None else best.turn_deg if best is not None else 0.0
        self.state.setText(say("turn.only_pipe") if not is_pipe else say("turn.no_ends") if not turning.ends else say(
            "turn.have", first=str(len(turning.ends[0].angles_deg)), second=str(len(turning.ends[1].angles_deg))))  # fmt: skip
        self._show_fields(turning, is_pipe)
        rings.redraw()

    def _show_fields(self, turning: Turning, is_pipe: bool) -> None:
        joint, say, has = self.store.joint, self.store.say, bool(turning.ends)
        for n, field in enumerate(self.seams):
            field.show_value(turning.ends[n].seam_deg if has else None, say)
            field.setEnabled(has)
        usual = usual_seams_mm(joint.prep.thickness_mm) if joint is not None else 0.0
        self.apart.show_value(usual if turning.seams_apart_mm is None else turning.seams_apart_mm, say)
        self.most.show_value(turning.most_deg, say)
        self.limit.show_value(self.rings.limit_mm, say)
        for button in self.read:
            button.setEnabled(is_pipe)
        for button in (self.best, self.take):
            button.setEnabled(self.rings.found is not None)
        self.leave.setEnabled(turning.turn_deg is not None)
        turn = turning.turn_deg
        self.taken.setText("" if turn is None else say("turn.taken", turn=Figure(abs(turn), "angle"), way=say(f"turn.{way_of(turn)}")))

    def _tell(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
