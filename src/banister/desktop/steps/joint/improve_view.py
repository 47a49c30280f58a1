"""The groove itself as the unknown: goal and bounds at the left, the landscape as it comes, what each step costs; the best can be taken."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from banister.core.drawing.charts.landscape_picture import landscape_picture
from banister.core.drawing.shapes import Drawing
from banister.core.joint.joint import Joint
from banister.core.plan.improve import GOALS, TIME, WEIGHTS, Bound, Improving, bounds_faults, improved, unknowns_of, with_values
from banister.core.plan.improve_said import gain_said, risk_said, step_said, takes_said, values_said
from banister.core.remark import Remark
from banister.core.rods.rod import Rod
from banister.core.value import replace
from banister.core.words import capital
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, WARN, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, FigureField
from banister.desktop.panel import cleared
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store

IMPROVE = "improve"


class Landscape(ChartView):
    """The landscape as far as the search has come."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.state: Improving | None = None
        self.setMinimumSize(360, 260)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_state(self, state: Improving | None) -> None:
        """Show how far it is."""
        self.state, say = state, self.store.say
        if state is not None:
            second = state.bounds[1].key if len(state.bounds) > 1 else TIME
            names = [say(f"improve.{key}") for key in (state.bounds[0].key,)] + [say("improve.goal.time") if second == TIME else say(f"improve.{second}")]
            self.setAccessibleName(say("improve.name", x=names[0], y=names[1]))
            self.setAccessibleDescription(gain_said(state, say))
        self.redraw()

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        if self.state is None or self.width() < 300:
            return None
        return landscape_picture(self.state, (float(self.width()), float(self.height())), self.store.say)


class ImproveDialog(Beside):
    """Searches the preparation of the shown joint, and takes the best if it is wanted."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1180, 680)
        self.store, say = store, store.say
        self.state: Improving | None = None
        self._joint: Joint | None = None
        self._rods: tuple[Rod, ...] = ()
        self.bounds: tuple[Bound, ...] = ()
        self.setWindowTitle(say("improve.window"))
        self.title, self.gain, self.now, self.best, self.risk, self.steps = (QLabel() for _ in range(6))
        for label in (self.title, self.gain, self.now, self.best, self.risk, self.steps):
            label.setWordWrap(True)
        self.title.setFont(font(15))
        self.gain.setFont(font(15))
        tint(self.risk, WARN)
        self.goal = ChoiceField(say("improve.goal"), {key: say(f"improve.goal.{key}") for key in GOALS})
        self.goal.chosen.connect(lambda _: self.search())
        self.fields, self.rows = dict[str, tuple[FigureField, FigureField]](), QVBoxLayout()
        self.picture, self.progress = Landscape(store, theme), QProgressBar()
        self.progress.setTextVisible(False)
        self.halt, self.use, close = (QPushButton(say(f"improve.{key}")) for key in ("stop", "use", "close"))
        self.halt.clicked.connect(self.stop)
        self.use.clicked.connect(self.take)
        close.clicked.connect(self.close)
        note, contours = QLabel(say("improve.note")), QLabel(say("improve.contours"))
        for label in (note, contours):
            tint(label, SOFT)
            label.setWordWrap(True)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.goal)
        left.addLayout(self.rows)
        for widget in (self.now, self.best, self.risk, self.steps):
            left.addWidget(widget)
        left.addStretch(1)
        left.addWidget(note)
        right.addWidget(self.picture, 1)
        right.addWidget(contours)
        top, middle, foot, column = QHBoxLayout(), QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        top.addWidget(self.title, 1)
        top.addWidget(self.progress)
        top.addWidget(self.halt)
        box = QWidget()
        box.setLayout(left)
        box.setFixedWidth(400)
        middle.addWidget(box)
        middle.addLayout(right, 1)
        foot.addWidget(self.gain, 1)
        foot.addWidget(self.use)
        foot.addWidget(close)
        column.addLayout(top)
        column.addLayout(middle, 1)
        column.addLayout(foot)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    # --- the joint ---------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another joint, or another plan of it, is searched anew; another unit is shown."""
        if new.job is None or new.joint is None:
            return
        before = self._joint
        parts = (new.joint.prep, new.joint.working, new.joint.piece, new.job.rods)
        if before is None or new.joint.id != before.id or parts != (before.prep, before.working, before.piece, self._rods):
            is_other = before is None or new.joint.id != before.id or new.joint.prep.key != before.prep.key
            self._joint, self._rods = new.joint, new.job.rods
            if is_other:
                self.bounds = unknowns_of(new.joint)
                self._show_bounds()
            self.search()
        elif old is not None and new.say != old.say:
            self._show_bounds()
            self._show()

    def _show_bounds(self) -> None:
        say = self.store.say
        cleared(self.rows)
        self.fields = {}
        for bound in self.bounds:
            figure = bound.figure
            name, box, row = capital(say(f"improve.{bound.key}")), QWidget(), QHBoxLayout()
            row.setContentsMargins(0, 0, 0, 0)
            low, high = (FigureField(title, figure.kind, partial(self._set, bound.key, end), low=figure.low, high=figure.high)
                         for end, title in (("low", say("improve.from", figure=name)), ("high", say("improve.to"))))  # fmt: skip
            high.edit.setAccessibleName(f"{name} {say('improve.to')}")
            for field, value in ((low, bound.low), (high, bound.high)):
                field.edit.setMaximumWidth(64)
                field.show_value(value, say)
                row.addWidget(field)
            box.setLayout(row)
            self.rows.addWidget(box)
            self.fields[bound.key] = low, high

    def _set(self, key: str, end: str, value: float) -> Remark | None:
        """A bound was typed: the other end follows where it would lie the wrong way round."""
        old = next(bound for bound in self.bounds if bound.key == key)
        new = replace(old, low=value, high=max(old.high, value)) if end == "low" else replace(old, low=min(old.low, value), high=value)
        refusal = None if self._joint is None else next(bounds_faults(self._joint, (new,)), None)
        if refusal is not None:
            return refusal
        if new != old:
            self.bounds = tuple(new if bound is old else bound for bound in self.bounds)
            for bound in self.bounds:
                low, high = self.fields[bound.key]
                low.show_value(bound.low, self.store.say)
                high.show_value(bound.high, self.store.say)
            self.search()
        return None

    # --- the search --------------------------------------------------------------------------
    def search(self) -> None:
        """Search anew, beside the window."""
        joint, job = self._joint, self.store.job
        if joint is None or job is None:
            return
        say, self.state = self.store.say, None
        self.title.setText(say("improve.title", joint=joint.id, goal=say(f"improve.goal.{self.goal.key or TIME}")))
        free = [bound for bound in self.bounds if bound.high > bound.low]
        if not free:
            self.store.stop(IMPROVE)
            self._finished()
            self.gain.setText(say("improve.fillet") if not self.bounds else say("improve.none"))
            self._show()
            return
        for widget in (self.halt, self.progress):
            widget.show()
        request = (joint, dict(job.rods_by_id), self.bounds, WEIGHTS[self.goal.key or TIME])
        self.store.errands.run(Errand(SEARCH, IMPROVE, "improve", improved, request, self._arrived, self._finished, lambda _: self._finished()))

    def _arrived(self, state: Improving) -> None:
        old, self.state = self.state, state
        self.progress.setRange(0, state.most)
        self.progress.setValue(state.done)
        if old is None or (old.grid, old.best, old.steps) != (state.grid, state.best, state.steps):
            self._show()

    def stop(self) -> None:
        """What was found so far stays."""
        self.store.stop(IMPROVE)
        self._finished()

    def _finished(self) -> None:
        self.halt.hide()
        self.progress.hide()

    def _show(self) -> None:
        state, say = self.state, self.store.say
        self.picture.show_state(state)
        self.use.setEnabled(state is not None and state.best.is_one and state.best is not state.present)
        if state is None:
            for label in (self.now, self.best, self.risk, self.steps):
                label.setText("")
            return
        self.gain.setText(gain_said(state, say))
        self.now.setText(f"{capital(say('improve.present'))}: {values_said(state, state.present, say)}. {capital(takes_said(state.present, say))}")
        other = state.best is not state.present and state.best.is_one
        self.best.setText(f"{capital(say('improve.best'))}: {values_said(state, state.best, say)}. {capital(takes_said(state.best, say))}" if other else "")
        self.risk.setText(risk_said(state, say) if other else "")
        self.steps.setText("\n".join([say("improve.steps"), *(step_said(state, step, say) for step in state.steps)]) if state.steps else "")

    def take(self) -> None:
        """The best preparation becomes the joint's, as one step that can be undone."""
        state, joint, say = self.state, self.store.joint, self.store.say
        if state is None or joint is None or not state.best.is_one:
            return
        wanted = {**{b.key: b.low for b in self.bounds if b.high == b.low}, **dict(state.best.values)}
        made, job = with_values(joint, wanted), self.store.job
        if job is not None:
            self.store.edit(job.with_joint(made), say("edit.improve", values=values_said(state, state.best, say)))
            self.close()
