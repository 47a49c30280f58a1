"""Reckon first: a question on any joint of the job before its plan is seen; then the plan's answer beside the guess, kept in the practice book."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from banister.core.drawing.charts.play_picture import Staged
from banister.core.drawing.charts.practice_picture import weeks_picture
from banister.core.drawing.charts.reckon_picture import reckon_picture
from banister.core.drawing.shapes import Drawing
from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Pass, Plan
from banister.core.play.hand import Play, begun
from banister.core.practice.book import Guess
from banister.core.practice.reckon import BEADS, COOL, PLACE, ROD, RUN_OUT, Question, answered_from, question, questions_for
from banister.core.practice.reckoned import answer_said, asked_said, near_said, weeks_of_guesses
from banister.core.remark import Refused
from banister.core.typed import typed
from banister.core.words import capital
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, UnitsField
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.desktop.store import Store

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow
    from banister.desktop.steps.practice.panel import PracticePanel

RECKON = "reckon"
AIM_STEP_MM = 0.5
KINDS = {BEADS: "count", RUN_OUT: "long_length", COOL: "minutes"}
"""Kinds of what is typed."""


def _asked_of(joint: Joint) -> object:
    """What of a joint its questions go by: a name or a reading asks nothing anew."""
    return inputs_of(joint), joint.working, joint.heat, joint.metal, joint.piece


class ReckonSection(ChartView):
    """The joint as far as it may be seen; the pointer guesses a place."""

    aimed = Signal(float)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.play: Play | None = None
        self.own_mm: float | None = None
        self.answer: Pass | None = None
        self.picture: Staged | None = None
        self.setMinimumSize(420, 320)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(store.say("reckon.picture"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        if self.play is None or self.width() < 200:
            return None
        self.picture = reckon_picture(self.play, self.own_mm, self.answer, self.store.say, (float(self.width()), float(self.height())))
        return self.picture.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """A place is guessed."""
        self.setFocus()
        if self.picture is not None:
            self.aimed.emit(self.picture.stage.aim_mm(*self.point(event.position())))


class WeeksOfGuesses(ChartView):
    """How near one comes at the question that is asked, over the days."""

    def __init__(self, store: Store, theme: Theme, desk: PracticeDesk) -> None:
        super().__init__(theme)
        self.store, self.desk, self.key = store, desk, BEADS
        self.setMinimumHeight(170)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def made(self) -> Drawing | None:
        """The picture for the present size; nothing before two days."""
        book, metric = self.desk.book, self.desk.drills.reckoning[self.key]
        weeks = None if book is None else weeks_of_guesses(book, metric)
        if book is None or weeks is None or len(weeks.last) < 2 or self.width() < 200:
            return None
        self.setAccessibleDescription(near_said(book, metric, self.store.say))
        return weeks_picture(weeks, book.target_of(metric), self.store.say, (float(self.width()), float(self.height())))


class ReckonDialog(Beside):
    """A question, a guess, the answer; then the next."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1240, 760)
        self.store, say = store, store.say
        panel = cast("PracticePanel", cast("MainWindow", parent).work.panel("practice"))
        panel.catch_up()
        self.desk = panel.desk
        self.asked: Question | None = None
        self._found: tuple[Joint, Plan, Schedule | None] | None = None
        self._turns = dict[str, int]()
        self._told: Guess | None = None
        """What was guessed of the question that is asked, once it is answered."""
        self.setWindowTitle(say("reckon.window"))
        self.section, self.weeks = ReckonSection(store, theme), WeeksOfGuesses(store, theme, self.desk)
        self.section.aimed.connect(self.guess_place)
        self.joint = ChoiceField(say("reckon.joint"), {})
        self.joint.chosen.connect(lambda _: self.plan())
        self.what = ChoiceField(say("reckon.what"), {})
        self.what.chosen.connect(lambda _: self.ask())
        self.guess, self.rod = UnitsField(say("reckon.guess")), ChoiceField(say("reckon.guess"), {})
        self.unit, self.fault, self.near, self.kept = QLabel(), QLabel(), QLabel(), QLabel()
        self.near.setFont(font(14))
        self.asks, self.tells = QLabel(), QLabel()
        self.asks.setFont(font(20, QFont.Weight.DemiBold))
        self.tells.setFont(font(15))
        for label in (self.asks, self.tells):
            label.setWordWrap(True)
        note = QLabel(say("reckon.note"))
        for label, kind in ((self.unit, "soft"), (self.fault, "bad"), (self.near, "plain"), (self.kept, "soft"), (note, "soft")):
            tint(label, kind)
            label.setWordWrap(True)
        self.say_button, self.next_button = QPushButton(say("reckon.say")), QPushButton(say("reckon.next"))
        self.say_button.clicked.connect(lambda _checked=False: self.tell())
        self.next_button.clicked.connect(lambda _checked=False: self.ask_next())
        column, side, row, left = QVBoxLayout(), QWidget(), QHBoxLayout(self), QVBoxLayout()
        for widget in (self.joint, self.what, self.guess, self.rod, self.unit, self.fault, self.say_button, self.next_button, self.near, self.kept):
            column.addWidget(widget)
        column.addStretch(1)
        column.addWidget(note)
        side.setLayout(column)
        side.setFixedWidth(340)
        left.addWidget(self.asks)
        left.addWidget(self.section, 1)
        left.addWidget(self.tells)
        left.addWidget(self.weeks)
        row.addLayout(left, 1)
        row.addWidget(side)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    # --- the joint ---------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Another job is asked of; other units are shown."""
        if new.job is None or new.joint is None:
            return
        if old is None or new.differs(old, "job"):
            ids = [joint.id for joint in new.job.joints]
            shown = self.joint.key if old is not None and self.joint.key in ids else new.joint.id
            self.joint.set_choices({joint.id: joint.called for joint in new.job.joints})
            self.joint.show_choice(shown)
            chosen = new.job.joint(shown)
            if self._found is None or self._found[0].id != shown or _asked_of(self._found[0]) != _asked_of(chosen):
                self.plan()
        elif new.differs(old, "say"):
            self._show()

    def plan(self) -> None:
        """Have the joint planned beside the window; nothing of it is shown."""
        job = self.store.job
        joint = None if job is None else next((j for j in job.joints if j.id == self.joint.key), None)
        self.asked, self._found = None, None
        if job is None or joint is None:
            return
        self._wait(self.store.say("reckon.planning"))
        self.store.errands.run(Errand(SEARCH, RECKON, RECKON, answered_from, (joint, dict(job.rods_by_id)), lambda found: self._planned(joint, *found)))

    def _wait(self, text: str) -> None:
        self.section.play, self.section.answer, self.section.own_mm = None, None, None
        self.section.redraw()
        self.asks.setText(text)
        self.tells.clear()
        self.near.clear()
        self.kept.clear()
        self.fault.clear()
        self.weeks.hide()
        for widget in (self.guess, self.rod, self.unit, self.say_button, self.next_button):
            widget.hide()

    def _planned(self, joint: Joint, plan: Plan, schedule: Schedule | None) -> None:
        self._found = joint, plan, schedule
        can = questions_for(joint, plan, schedule)
        self.what.set_choices({key: capital(self.store.say(f"practice.metric.{key}")) for key in can})
        if not can:
            self._wait(self.store.say("reckon.none"))
            return
        self.what.show_choice(can[0])
        self.ask()

    # --- asking ------------------------------------------------------------------------------
    def ask(self) -> None:
        """Ask what is chosen, of the next pass whose turn it is."""
        job, key = self.store.job, self.what.key
        if self._found is None or job is None or not key:
            return
        joint, plan, schedule = self._found
        book = self.desk.book
        turn = self._turns.setdefault(key, len(book.guesses) if book is not None else 0)
        self.asked, self._told = question(key, joint, job.rods_by_id, plan, schedule, turn), None
        seen = 0 if key == BEADS else self.asked.number - (key in (PLACE, ROD))
        self.section.play = begun(joint, job.rods_by_id, plan.passes, seen)
        self.section.answer, self.section.own_mm = None, None
        self.guess.empty()
        self._show()
        (self.guess.edit if key in KINDS else self.section).setFocus()

    def ask_next(self) -> None:
        """The next kind of question there is; after the last the first of the next turn."""
        if self._found is None or self.asked is None:
            return
        can = questions_for(*self._found)
        self._turns[self.asked.key] = self._turns.get(self.asked.key, 0) + 1
        self.what.show_choice(can[(can.index(self.asked.key) + 1) % len(can)])
        self.ask()

    def guess_place(self, across_mm: float) -> None:
        """A place across the joint."""
        if self.asked is not None and self.asked.key == PLACE and self._told is None:
            self.section.own_mm = across_mm
            self.section.redraw()

    def tell(self) -> None:
        """Lay the answer beside the guess, and keep both."""
        asked, say = self.asked, self.store.say
        if asked is None or self._told is not None or self._found is None:
            return
        try:
            own = self._own(asked)
        except Refused as refused:
            self.fault.setText(say.sentence(refused.remarks[0]))
            return
        if own is None:
            self.fault.setText(say("reckon.not_asked"))
            return
        on = self.store.today.isoformat()
        self._told = guess = Guess(on=on, question=asked.key, joint=asked.joint[:80], number=asked.number, guess=own, answer=asked.answer)
        self._reveal(asked)
        book = self.desk.book
        is_kept = book is not None and self.desk.put(book.with_guess(guess))
        self.kept.setText(say("reckon.kept", trainee=book.trainee) if is_kept and book is not None and not self.desk.is_example
                          else self.desk.fault or say("reckon.kept.nowhere"))  # fmt: skip
        self._show()

    def _own(self, asked: Question) -> float | str | None:
        """What was guessed; None for nothing yet."""
        if asked.key == ROD:
            return self.rod.key or None
        if asked.key == PLACE:
            return self.section.own_mm
        text = self.guess.edit.text().strip()
        return typed(text, KINDS[asked.key], self.store.say.units, 0.0, 1e6) if text else None

    def _reveal(self, asked: Question) -> None:
        """The plan's beads, as far as the question went."""
        job, found = self.store.job, self._found
        if job is None or found is None or self.section.play is None:
            return
        joint, plan, _ = found
        if asked.key == BEADS:
            self.section.play = begun(joint, job.rods_by_id, plan.passes, len(plan.passes))
        elif self.section.play.ahead and asked.key in (PLACE, ROD):
            self.section.answer = self.section.play.ahead[0]

    # --- showing -----------------------------------------------------------------------------
    def _show(self) -> None:
        asked, say, book = self.asked, self.store.say, self.desk.book
        if asked is None:
            return
        self.asks.setText(asked_said(asked, say))
        self.section.setAccessibleDescription(self.asks.text())
        told = self._told
        self.tells.setText("" if told is None else "\n".join(answer_said(asked, told, say)))
        self.tells.setVisible(told is not None)
        if told is None:
            self.kept.clear()
        self.rod.set_choices({rod: say.units.rod(rod) for rod in asked.choices})
        self.fault.setText("")
        is_typed = asked.key in KINDS
        self.guess.setVisible(is_typed)
        self.rod.setVisible(asked.key == ROD)
        self.unit.setVisible(True)
        self.guess.show_units(say, KINDS.get(asked.key, ""))
        self.unit.setText(say(f"reckon.unit.{asked.key}"))
        self.say_button.setVisible(told is None)
        self.next_button.setVisible(told is not None)
        metric = self.desk.drills.reckoning[asked.key]
        self.near.setText("" if book is None else near_said(book, metric, say))
        self.weeks.key = asked.key
        self.weeks.redraw()
        self.weeks.setVisible(self.weeks.drawing is not None)
        self.section.redraw()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Enter says, or asks the next; comma and full stop move the place."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not isinstance(self.focusWidget(), QPushButton):
            (self.tell if self._told is None else self.ask_next)()
        elif key in (Qt.Key.Key_Comma, Qt.Key.Key_Period) and self.section.hasFocus() and self.section.play is not None:
            low, high = self.section.play.reach_mm
            here = self.section.own_mm if self.section.own_mm is not None else (low + high) / 2
            self.guess_place(min(max(here + (AIM_STEP_MM if key == Qt.Key.Key_Period else -AIM_STEP_MM), low), high))
        else:
            super().keyPressEvent(event)

    def stop(self) -> None:
        """Leave it unplanned."""
        self.store.stop(RECKON)
