"""The board: several joints in time, what the shift lays down, and the work list."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QLabel, QListWidget, QPushButton, QScrollArea, QSplitter, QVBoxLayout, QWidget

from banister.core.heat.board import Board, Slot, board_faults, board_said, work_list
from banister.core.heat.shift import AS_DRAWN, LEFT_OUT, LONGEST_LEAVING_S, Shift, shift_faults, typed_pauses
from banister.core.job import Job
from banister.core.plan.plan import Plan
from banister.core.remark import Refused, Remark
from banister.core.typed import typed_clock_s
from banister.core.units import clock
from banister.core.value import replace
from banister.core.words import Speech
from banister.desktop.app.beside import Beside
from banister.desktop.app.style import BAD, SOFT, bordered, tint
from banister.desktop.app.theme import Theme, font
from banister.desktop.board.rows import Rows
from banister.desktop.errands import SEARCH, Errand
from banister.desktop.fields import ChoiceField, FigureField, NameField
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.board import Found, Jobs, OnBoard, sought_board

BOARD = "board"


def goes_on_said(plan: Plan, say: Speech, joint: str) -> str:
    """That a joint goes on where its journal left off, and that how warm it is now is not known here."""
    return say("board.goes_on", joint=joint, number=str(plan.passes[0].number))


class BoardDialog(Beside):
    """Orders the job's joints; goes on looking for a better order beside the window until stopped.

    What the shift lays down is part of the job: it is undone, saved and found again like all else.
    """

    page_wanted = Signal(object, object, object)

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent, 1200, 740)
        self.store = store
        self.best: Board | None = None
        self.jobs: Jobs = []
        self.lines: list[tuple[str, Slot]] = []
        """The rows of the list, each with its pass."""
        self._key: object = None
        self._is_old = False
        """True while the board of the job before is still shown, until the first of the new one comes."""
        self.setWindowTitle(store.say("board.title"))
        self.rows, self.list = Rows(store, theme), QListWidget()
        bordered(self.list)
        column = QVBoxLayout(self)
        column.addLayout(self._head())
        column.addLayout(self._options())
        column.addWidget(self._rows_and_list(), 1)
        note = QLabel(store.say("board.predicted"))
        tint(note, SOFT)
        column.addWidget(note)
        store.changed.connect(self.show_job)
        self.show_job(None, store.now)

    def _head(self) -> QHBoxLayout:
        say = self.store.say
        self.title, self.progress = QLabel(), QLabel()
        self.title.setFont(font(15))
        self.title.setWordWrap(True)
        tint(self.progress, SOFT)
        self.halt, page = QPushButton(say("board.stop")), QPushButton(say("board.print"))
        self.halt.setToolTip(say("board.stop.tip"))
        page.setToolTip(say("board.print.tip"))
        self.halt.clicked.connect(self.stop)
        page.clicked.connect(self.write_page)
        row = QHBoxLayout()
        row.addWidget(self.title, 1)
        for widget in (self.progress, self.halt, page):
            row.addWidget(widget)
        return row

    def _options(self) -> QVBoxLayout:
        say, rows = self.store.say, QVBoxLayout()
        times, ways = QHBoxLayout(), QHBoxLayout()
        for row in (times, ways):
            row.setSpacing(18)
            rows.addLayout(row)
        self.begin, self.end, self.pause = (NameField(say(f"board.{key}"), narrow=True) for key in ("begins", "ends", "breaks"))
        self.end.edit.setPlaceholderText(say("board.ends.open"))
        self.pause.edit.setPlaceholderText(say("board.breaks.like"))
        for field, wide in ((self.begin, 170), (self.end, 130), (self.pause, 260)):
            field.setMaximumWidth(wide)
            field.committed.connect(lambda _: self.set_shift())
            times.addWidget(field)
        self.welders = ChoiceField(say("board.welders"), {"1": say("board.welders.one"), "2": say("board.welders.two")})
        self.welders.label.setMinimumWidth(0)
        self.welders.chosen.connect(lambda _: self.set_shift())
        self.root, self.fault = QCheckBox(say("board.root")), QLabel()
        self.root.setToolTip(say("board.root.tip"))
        self.root.clicked.connect(self.set_shift)
        tint(self.fault, BAD)
        self.fault.setWordWrap(True)
        self.leaving = FigureField(say("board.leaving"), "seconds", self._set_leaving, 10.0, 0.0, LONGEST_LEAVING_S)
        self.leaving.setToolTip(say("board.leaving.tip"))
        self.leaving.setFixedWidth(222)
        self.leaving.edit.setMaximumWidth(64)
        times.addWidget(self.fault, 1)
        for widget in (self.welders, self.leaving, self.root):
            ways.addWidget(widget)
        ways.addStretch(1)
        return rows

    def _rows_and_list(self) -> QSplitter:
        self.rows.kept.connect(self.keep)
        self.rows.picked.connect(self.pick)
        self.list.setAccessibleName(self.store.say("board.list"))
        self.list.setFont(font(14))
        self.list.currentRowChanged.connect(lambda i: self.pick(self.lines[i][1] if i >= 0 else None))
        self.rows_area, split = QScrollArea(), QSplitter(Qt.Orientation.Vertical)
        self.rows_area.setFrameShape(QFrame.Shape.NoFrame)
        self.rows_area.setWidgetResizable(True)
        self.rows_area.setWidget(self.rows)
        split.addWidget(self.rows_area)
        split.addWidget(self.list)
        split.setStretchFactor(1, 1)
        return split

    # --- what the shift lays down -------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Order the joints anew if the job has changed."""
        job = new.job
        key = None if job is None else (job.joints, job.rods, job.shift, new.say, new.records)
        if key == self._key:
            return
        self._key = key
        if job is not None:
            shift = job.shift
            self.begin.show_text(clock(shift.begins_s))
            self.end.show_text("" if shift.until_s is None else clock(shift.until_s))
            self.pause.show_text(", ".join(f"{clock(p.from_s)}..{clock(p.to_s)}" for p in shift.pauses))
            self.welders.show_choice(str(shift.welders))
            self.leaving.show_value(shift.leaving_s, new.say)
            self.root.setChecked(not shift.root_alone)
        self.order()

    def set_shift(self) -> None:
        """Take the typed times and welders into the job; what cannot be read stays, with a word."""
        job, say = self.store.job, self.store.say
        if job is None:
            return
        try:
            until = self.end.edit.text().strip()
            shift = replace(
                job.shift, begins_s=typed_clock_s(self.begin.edit.text()), until_s=typed_clock_s(until) if until else None,
                pauses=typed_pauses(self.pause.edit.text()), welders=int(self.welders.key), root_alone=not self.root.isChecked(),
            )  # fmt: skip
        except Refused as refused:
            self.fault.setText(say.sentence(refused.remarks[0]))
            return
        faults = shift_faults(shift)
        self.fault.setText(" ".join(say.sentence(f) for f in faults))
        if not faults and shift != job.shift:
            self.store.edit(replace(job, shift=shift), say("edit.shift"))

    def _set_leaving(self, seconds: float) -> Remark | None:
        job, say = self.store.job, self.store.say
        if job is None:
            return None
        shift = replace(job.shift, leaving_s=seconds)
        refusal = next(iter(shift_faults(shift)), None)
        if refusal is None and shift != job.shift:
            self.store.edit(replace(job, shift=shift), say("edit.shift"))
        return refusal

    def keep(self, joint_id: str, way: str) -> None:
        """Keep a joint another way; as drawn takes this board's order along."""
        job, say = self.store.job, self.store.say
        if job is None:
            return
        shift = job.shift.keeping(joint_id, way)
        if way == AS_DRAWN and self.best is not None:
            shift = replace(shift, order=self.best.order)
        self.store.edit(replace(job, shift=shift), say("edit.way", joint=joint_id, way=say(f"way.{way}")))

    # --- ordering -----------------------------------------------------------------------------
    def order(self) -> None:
        """Order the joints that are on the board."""
        job, say = self.store.job, self.store.say
        self.stop()
        wanted = [] if job is None else [j for j in job.joints if job.shift.kept_as(j.id) != LEFT_OUT]
        if job is None or not wanted:
            self._tell(say("board.empty"), None)
            return
        if faults := board_faults(wanted):
            self._tell("\n".join(f"{joint.id}: {say.sentence(remark)}" for joint, remark in faults), None)
            return
        self._is_old = True
        self.halt.show()
        self.progress.setText(say("board.ordering"))
        standing = self.store.standing
        on = [OnBoard(j, job.plan_issued_for(j), job.issued_for(j), tuple(r for r in standing if r.j == j.id)) for j in wanted]
        request = (on, dict(job.rods_by_id), job.shift)
        self.store.errands.run(Errand(SEARCH, BOARD, "board", sought_board, request, self._arrived, self._settled, lambda _: self._settled()))

    def _arrived(self, found: Found) -> None:
        jobs, best, word, done, most = found
        say = self.store.say
        if not jobs:
            self._tell(say("board.all_welded"), None)
            return
        if best is None:
            blocked = [joint.id for joint, plan in jobs if not plan.feasible]
            self._tell(say("board.blocked", joints=", ".join(blocked)) if blocked else say("board.never"), None)
            return
        if word:
            self.progress.setText(say(f"board.trying.{word}", done=str(done), all=str(most)))
        shift = self.store.job.shift if self.store.job is not None else Shift()
        if self._is_old or self.best is None or best.cost_s(shift) < self.best.cost_s(shift):
            self._is_old = False
            self.jobs = jobs
            self._show(best)

    def _settled(self) -> None:
        self.halt.hide()
        self.progress.setText("")

    # --- showing ------------------------------------------------------------------------------
    def _show(self, best: Board) -> None:
        job, say = self.store.job, self.store.say
        assert isinstance(job, Job)
        begun = [goes_on_said(plan, say, joint.id) for joint, plan in self.jobs if plan.passes[0].number > 1]
        self._tell("\n".join([*board_said(best, job.shift, say), *begun]), best)
        self.lines = work_list(self.jobs, best, job.shift, say)
        self.list.addItems([line for line, _ in self.lines])

    def pick(self, slot: Slot | None) -> None:
        """Light a pass up in the rows and in the list."""
        self.rows.light(slot)
        rows = [i for i, (_, one) in enumerate(self.lines) if one == slot]
        if self.list.currentRow() not in (rows or [-1]):
            self.list.setCurrentRow(rows[-1] if rows else -1)

    def write_page(self) -> None:
        """The board as one page for the wall."""
        if self.best is not None and self.store.job is not None:
            self.page_wanted.emit(self.jobs, self.best, self.store.job.shift)

    def _tell(self, text: str, board: Board | None) -> None:
        job = self.store.job
        self.title.setText(text)
        self.lines = []
        self.list.clear()
        self.best = board
        self.rows.show_board(() if job is None else job.joints, board, Shift() if job is None else job.shift)
        self.rows_area.setMaximumHeight(self.rows.minimumHeight() + 2)

    def stop(self) -> None:
        """Keep the best so far."""
        self.store.stop(BOARD)
        self._settled()
