"""Why: likely causes of what was seen, what would narrow them, what would mend them, and what it was in the end."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.drawing.charts.cause_picture import CausePicture, CauseView, cause_picture
from banister.core.drawing.shapes import Drawing
from banister.core.follow.cues import CUE, cue_of
from banister.core.follow.facts import NOTHING_TOLD
from banister.core.follow.stopped import stops_as_welded
from banister.core.inspect.advising import Advised, advised
from banister.core.inspect.causes import ELSE, CauseTable
from banister.core.inspect.found import FOUND, causes_found, counted_said, finding
from banister.core.inspect.observed import Observation
from banister.core.stops.of_plan import JointStops
from banister.core.words import capital
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import SOFT, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.logbook import Logbook
from banister.desktop.panel import Panel
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.inspect.inspecting import gone_said
from banister.desktop.store import Store
from banister.job.causes import cause_table
from banister.job.reading import FileFault

RIGHT_PX = 330
KEY = "cause"


class CauseWidget(ChartView):
    """The picture; a click, up and down mark a cause."""

    marked_wanted = Signal(str)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.of: tuple[Advised, Observation] | None = None
        self.marked = ""
        self.chart: CausePicture | None = None
        self.setMinimumSize(560, 420)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("advise.window"))

    def made(self) -> Drawing | None:
        """The picture for the present size."""
        joint, plan = self.store.now.joint, self.store.now.welded_plan
        self.chart = None
        if self.of is None or joint is None or plan is None or self.width() < 300:
            return None
        self.chart = cause_picture(*self.of, joint, plan, self.store.say, CauseView(float(self.width()), float(self.height()), self.marked))
        return self.chart.drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Mark the cause under the hand."""
        if self.chart is not None and (cause := self.chart.card_at(self.point(event.position()))):
            self.marked_wanted.emit(cause)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Up and down walk through the causes."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None or self.of is None:
            super().keyPressEvent(event)
            return
        names = [one.cause for one in self.of[0].named]
        at = names.index(self.marked) if self.marked in names else -step
        self.marked_wanted.emit(names[min(max(at + step, 0), len(names) - 1)])


class CauseColumn(Panel):
    """Beside the picture: the remedies of the marked cause, what to look at first, what it was."""

    def __init__(self, store: Store, theme: Theme, dialog: CauseDialog) -> None:
        super().__init__(store, theme)
        self.setFixedWidth(RIGHT_PX)
        say = store.say
        self.heading(say("advise.mend"), 16)
        self.cause = self.heading("", 13)
        self.next_pass, self.next_joint = self.remark(kind="plain"), self.remark()
        self.cue, self.carried = self.button("advise.cue", dialog.carry, tip=True), self.remark()
        self.this = self.button("advise.this", lambda: dialog.it_was(dialog.picture.marked), tip=True)
        self.other = self.button("advise.other", lambda: dialog.it_was(ELSE))
        self.was = self.remark(kind="plain")
        self.look_head, self.look = self.heading(say("advise.look"), 14), self.remark(kind="plain")
        self.levels = QVBoxLayout()
        self.column.addLayout(self.levels)
        self.forget = self.button("advise.not_taken", dialog.forget)
        self.unknown, self.counted = self.remark(), self.remark()
        self.column.addStretch(1)
        self.remark(say("advise.caution"))


class CauseDialog(Beside):
    """Ranks the causes of the observation that is selected."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1120, 700)
        self.store, say = store, store.say
        self.logbook: Logbook = parent.logbook  # type: ignore[attr-defined]
        self.number = store.view.inspect_seen
        self.answered: dict[str, str] = {}
        """What was looked at since, by evidence."""
        self.setWindowTitle(say("advise.window"))
        self.title, self.alike = QLabel(), QLabel()
        self.title.setFont(font(18, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        tint(self.alike, SOFT)
        self.alike.setWordWrap(True)
        self.picture, self.side = CauseWidget(store, theme), CauseColumn(store, theme, self)
        self.picture.marked_wanted.connect(self.mark)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.picture, 1)
        row.addWidget(self.side)
        for part in (self.title, self.alike):
            column.addWidget(part)
        column.addLayout(row, 1)
        self.table = self._table()
        self.stops: JointStops | None = None
        """The stops of its plan, once they are laid."""
        store.changed.connect(self.show_job)
        self.rank()
        self.lay_stops()
        self.picture.setFocus()

    def _table(self) -> CauseTable | None:
        """The table of causes; None where the user's own cannot be read, which is said."""
        try:
            return cause_table(self.store.library.folder)
        except FileFault as broken:
            self.title.setText("\n".join(self.store.say.faults(broken.remarks)))
            return None

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Rank anew when another observation is selected, or more is known."""
        if new.view.inspect_seen and new.view.inspect_seen != self.number:
            self.number, self.answered, self.picture.marked = new.view.inspect_seen, {}, ""
            self.rank()
        elif new.differs(old, "joint", "plan", "issued", "records", "say"):
            self.rank()
        if new.differs(old, "joint", "plan", "issued"):
            self.lay_stops()

    def lay_stops(self) -> None:
        """Have the stops of the plan laid beside the window: a search takes longer than ranking."""
        joint, plan = self.store.now.joint, self.store.now.welded_plan
        self.stops = None
        if joint is None or plan is None:
            self.store.stop(KEY)
            return
        request = (joint, plan, self.store.now.told or NOTHING_TOLD)
        self.store.errands.run(Errand(SEARCH, KEY, "stops", stops_as_welded, request, self._laid))

    def _laid(self, found: JointStops | None) -> None:
        self.stops, self.picture.marked = found, ""
        self.rank()

    def stop(self) -> None:
        """What is asked for stays unanswered."""
        self.store.stop(KEY)

    def rank(self) -> None:
        """Rank by what is known now, and show it."""
        store, say, table = self.store, self.store.say, self.table
        joint, plan, shown = store.now.joint, store.now.welded_plan, store.inspection
        one = None if shown is None else shown.seen(self.number)
        if table is None:
            return
        found = None
        if joint is not None and plan is not None and one is not None:
            found = advised(one, joint, plan, store.standing, table, self.stops, self.answered,
                            self.logbook.traces(), store.job.rods_by_id if store.job is not None else {})  # fmt: skip
        self.picture.of = None if found is None or one is None else (found, one)
        self.side.setVisible(found is not None)
        self.alike.setText("")
        if found is None or one is None or shown is None:
            self.title.setText(say("advise.none") if one is not None else gone_said(store.now, self.number))
        else:
            named = [likely.cause for likely in found.named]
            self.picture.marked = self.picture.marked if self.picture.marked in named else named[0]
            kind, first = capital(say(f"defect.{one.kind}")), say(f"cause.{named[0]}")
            self.title.setText(say("advise.title", kind=kind, at=shown.course.figure(one.s_mm), cause=first))
            bare = not any(likely.speaks_for or likely.against for likely in found.named)
            self.alike.setText(say("advise.bare") if bare else say(f"advise.alike.{found.advice.alike}") if found.advice.alike else "")
            self._show_side(found, table)
        self.picture.redraw()

    def _show_side(self, found: Advised, table: CauseTable) -> None:
        """Remedies, the next look and its answers, what was found so far."""
        say, side, marked, advice = self.store.say, self.side, self.picture.marked, found.advice
        side.cause.setText(say(f"cause.{marked}"))
        side.next_pass.setText(say(f"cause.{marked}.next_pass"))
        side.next_joint.setText(say(f"cause.{marked}.next_joint"))
        records, joint = self.store.standing, self.store.joint
        carried = cue_of(records, joint.id if joint is not None else "")
        side.cue.setEnabled(carried != marked)
        side.carried.setText(say("advise.carried", cause=say(f"cause.{carried}")) if carried in table.ratios else "")
        side.carried.setVisible(bool(side.carried.text()))
        was = next((one for one in causes_found(records, joint.id if joint is not None else "") if one.of == self.number), None)
        side.was.setText("" if was is None else say("advise.was", cause=say(f"cause.{was.cause}")))
        side.was.setVisible(was is not None)
        side.look.setText(say("advise.look.at", what=say(f"evidence.{advice.next_look}")) if advice.next_look else say("advise.enough"))
        self._show_levels(tuple(table.levels[advice.next_look]) if advice.next_look else (), advice.next_look)
        side.forget.setVisible(bool(self.answered))
        rest = [say(f"evidence.{one}") for one in advice.unknown if one != advice.next_look]
        side.unknown.setText(say("advise.unknown", what=", ".join(rest)) if rest else "")
        side.counted.setText(counted_said(causes_found(records), say))

    def _show_levels(self, levels: tuple[str, ...], evidence: str) -> None:
        """A button for every answer to what is looked at first."""
        while (item := self.side.levels.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for level in levels:
            button = QPushButton(self.store.say(f"level.{level}"))
            button.setAutoDefault(False)
            button.clicked.connect(partial(self.answer, evidence, level))
            self.side.levels.addWidget(button)

    def answer(self, evidence: str, level: str, _checked: bool = False) -> None:
        """It was looked at: rank anew at once."""
        self.answered[evidence] = level
        self.picture.marked = ""
        self.rank()

    def carry(self) -> None:
        """The remedy of the marked cause stands at the joint before the next pass."""
        joint, marked = self.store.joint, self.picture.marked
        if joint is not None and marked and self.logbook.write(CUE, joint.id, cause=marked, of=self.number) is not None:
            self.rank()

    def forget(self) -> None:
        """What was answered counts no more."""
        self.answered = {}
        self.rank()

    def mark(self, cause: str) -> None:
        """Another cause is looked at."""
        self.picture.marked = cause
        self.rank()

    def it_was(self, cause: str) -> None:
        """What was found in the end is kept."""
        joint = self.store.joint
        if joint is not None and self.picture.of is not None:
            self.logbook.write(FOUND, joint.id, **finding(self.number, cause, self.picture.of[0]))

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """F: this was it."""
        if event.text().lower() == "f" and self.picture.of is not None:
            self.it_was(self.picture.marked)
            return
        super().keyPressEvent(event)
