"""The board: several joints in time, what the shift lays down, and a list to walk by."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QLabel, QListWidget, QPushButton, QScrollArea, QSplitter, QVBoxLayout, QWidget

from banister.core.heat.board import PREDICTED, Board, Slot, board_faults, board_in_words, first_boards, good_enough, rolled_out, varied, walking_list
from banister.core.heat.shift import AS_DRAWN, LEFT_OUT, Shift, parsed_pauses, shift_faults
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod
from banister.core.units import clock, parsed_clock_s
from banister.desktop.board_rows import Rows
from banister.desktop.fields import ChoiceField, NameField
from banister.desktop.store import Store
from banister.desktop.theme import Theme, font

ROUNDS, TRIES = 12, 10
"""Drawn variations come in rounds, so that a plan asked for meanwhile need not wait long."""
MOST_CHOICES = 400
Jobs = list[tuple[Joint, Plan]]


def planned_board(jobs: list[tuple[Joint, Mapping[str, Rod]]], shift: Shift) -> tuple[Jobs, Board | None]:
    """Plans of the joints and the best board of the fixed rules."""
    found = [(joint, plan_joint(joint, rods, joint.working.chosen)) for joint, rods in jobs]
    if any(not plan.feasible for _, plan in found):
        return found, None
    boards = first_boards(found, shift)
    return found, boards[0] if boards else None


class BoardDialog(QDialog):
    """Orders the job's joints; goes on looking for a better order beside the window until stopped.

    What the shift lays down is part of the job: it is undone, saved and found again like all else.
    """

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent)
        self.store = store
        self.best: Board | None = None
        self.jobs: Jobs = []
        self._key: object = None
        self._stop: Callable[[], None] = lambda: None
        self._turn = 0
        self.setWindowTitle("Board")
        self.resize(1200, 740)
        self.title = QLabel()
        self.title.setFont(font(15))
        self.title.setWordWrap(True)
        self.progress = QLabel()
        self.progress.setProperty("soft", True)
        self.halt = QPushButton("Stop looking")
        self.halt.setToolTip("Keep the best board so far")
        self.halt.clicked.connect(self.stop)
        self.begin, self.end, self.pause = NameField("Shift begins"), NameField("ends"), NameField("breaks")
        self.end.edit.setPlaceholderText("open")
        self.pause.edit.setPlaceholderText("12:00..12:30")
        self.welders = ChoiceField("welders", {"1": "one", "2": "two"})
        self.fault = QLabel()
        self.fault.setProperty("bad", True)
        head, options = QHBoxLayout(), QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(self.progress)
        head.addWidget(self.halt)
        page = QPushButton("Page for the wall")
        page.setToolTip("Write rows and list as one PDF page")
        page.clicked.connect(self.write_page)
        head.addWidget(page)
        options.setSpacing(18)
        for field, wide in ((self.begin, 170), (self.end, 130), (self.pause, 260)):
            label = field.findChild(QLabel)
            label.setMinimumWidth(0)
            field.setMaximumWidth(wide)
            field.committed.connect(lambda _: self.set_shift())
            options.addWidget(field)
        self.welders.findChild(QLabel).setMinimumWidth(0)
        self.welders.chosen.connect(lambda _: self.set_shift())
        options.addWidget(self.welders)
        self.root = QCheckBox("No root left alone")
        self.root.setToolTip("The pass after a root is welded before its welder takes another joint")
        self.root.clicked.connect(self.set_shift)
        options.addWidget(self.root)
        options.addWidget(self.fault, 1)
        self.rows, self.list = Rows(theme), QListWidget()
        self.rows.kept.connect(self.keep)
        self.list.setAccessibleName("List to walk by")
        self.scroll, split = QScrollArea(), QSplitter(Qt.Orientation.Vertical)
        self.scroll.setWidgetResizable(True)
        self.scroll.setWidget(self.rows)
        split.addWidget(self.scroll)
        split.addWidget(self.list)
        split.setStretchFactor(1, 1)
        self.list.setFont(font(14))
        self.list.currentRowChanged.connect(lambda i: self.pick(self.best.in_time[i] if self.best is not None and i >= 0 else None))
        self.rows.picked.connect(self.pick)
        note = QLabel(PREDICTED)
        note.setProperty("soft", True)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addLayout(options)
        column.addWidget(split, 1)
        column.addWidget(note)
        store.changed.connect(self.render_job)
        self.render_job()

    # --- what the shift lays down -------------------------------------------------------------
    def render_job(self) -> None:
        """Order the joints anew if the job has changed."""
        job = self.store.job
        key = None if job is None else (job.joints, job.rods, job.shift)
        if key == self._key:
            return
        self._key = key
        if job is not None:
            shift = job.shift
            self.begin.show_text(clock(shift.begins_s))
            self.end.show_text("" if shift.until_s is None else clock(shift.until_s))
            self.pause.show_text(", ".join(f"{clock(p.from_s)}..{clock(p.to_s)}" for p in shift.pauses))
            self.welders.show_choice(str(shift.welders))
            self.root.setChecked(not shift.root_alone)
        self.order()

    def set_shift(self) -> None:
        """Take the typed times and welders into the job; what cannot be read stays, with a word."""
        job = self.store.job
        if job is None:
            return
        try:
            until = self.end.edit.text().strip()
            shift = replace(
                job.shift, begins_s=parsed_clock_s(self.begin.edit.text()), until_s=parsed_clock_s(until) if until else None,
                pauses=parsed_pauses(self.pause.edit.text()), welders=int(self.welders.box.currentData()),
                root_alone=not self.root.isChecked(),
            )  # fmt: skip
        except ValueError as error:
            self.fault.setText(str(error))
            return
        faults = shift_faults(shift)
        self.fault.setText("; ".join(text for _, text in faults))
        if not faults and shift != job.shift:
            self.store.edit(replace(job, shift=shift), "Set shift")

    def keep(self, joint_id: str, way: str) -> None:
        """Keep a joint another way; as drawn takes this board's order along."""
        job = self.store.job
        if job is None:
            return
        shift = job.shift.keeping(joint_id, way)
        if way == AS_DRAWN and self.best is not None:
            shift = replace(shift, order=self.best.order)
        self.store.edit(replace(job, shift=shift), f"{joint_id} {way}")

    # --- ordering -----------------------------------------------------------------------------
    def order(self) -> None:
        """Order the joints that are on the board."""
        self.stop()
        job = self.store.job
        wanted = [] if job is None else [j for j in job.joints if job.shift.kept_as(j.id) != LEFT_OUT]
        if job is None or not wanted:
            self._say("No joint is on the board.", None)
            return
        if faults := board_faults(wanted):
            self._say("\n".join(f"{f.text}. {f.remedy}" for f in faults), None)
            return
        self.halt.show()
        self.progress.setText("ordering")
        items = [([(joint, job.rods_by_id) for joint in wanted], job.shift)]
        self._stop = self.store.each(planned_board, items, lambda _, found: self._planned(found), lambda: None)

    def _planned(self, found: tuple[Jobs, Board | None] | None) -> None:
        if found is None or found[1] is None:
            blocked = [joint.id for joint, plan in (found[0] if found else []) if not plan.feasible]
            self._say(f"No board: {', '.join(blocked)} cannot be planned." if blocked else "No board: a joint never cools to its limit.", None)
            self.stop()
            return
        self.jobs, self.best = found
        self._show()
        self._next(self._turn, ())

    def _next(self, turn: int, taken: tuple[str, ...]) -> None:
        """Try the next choice, one at a time, so that the interface and other plans come in between."""
        best, job = self.best, self.store.job
        if turn != self._turn or best is None or job is None:
            return
        if good_enough(best) or len(taken) >= min(len(best.slots), MOST_CHOICES):
            self._vary()
            return
        self.progress.setText(f"trying every choice: pass {len(taken) + 1} of {len(best.slots)}")

        def arrived(_: int, found: tuple[Board, tuple[str, ...]] | None) -> None:
            if found is not None:
                self._better(found[0])
                QTimer.singleShot(0, lambda: self._next(turn, found[1]))

        self._stop = self.store.each(rolled_out, [(self.jobs, best, job.shift, taken)], arrived, lambda: None)

    def _vary(self) -> None:
        best, job = self.best, self.store.job
        if best is None or job is None or good_enough(best):
            self.stop()
            return

        def arrived(i: int, board: Board | None) -> None:
            self.progress.setText(f"trying variations: {i + 1} of {ROUNDS}")
            if board is not None:
                self._better(board)

        rounds = [(self.jobs, best, job.shift, seed, TRIES) for seed in range(ROUNDS)]
        self._stop = self.store.each(varied, rounds, arrived, self.stop)

    def _better(self, board: Board) -> None:
        if self.best is not None and board.end_s < self.best.end_s:
            self.best = board
            self._show()

    # --- showing ------------------------------------------------------------------------------
    def _show(self) -> None:
        best, job = self.best, self.store.job
        assert best is not None and job is not None
        self._say("\n".join(board_in_words(best, job.shift)), best)
        self.list.addItems(walking_list(self.jobs, best, job.shift))

    def pick(self, slot: Slot | None) -> None:
        """Light a pass up in the rows and in the list."""
        self.rows.light(slot)
        i = -1 if slot is None or self.best is None else self.best.in_time.index(slot)
        if self.list.currentRow() != i:
            self.list.setCurrentRow(i)

    def write_page(self) -> None:
        """The board as one page for the wall."""
        best, job = self.best, self.store.job
        path = None if best is None or self.store.dialogs is None else self.store.dialogs.save_path(self, "Write the board", "board.pdf", "*.pdf")
        if best is None or job is None or path is None:
            return
        from banister.export.board_pdf import board_page
        from banister.job.files import write_atomically

        try:
            write_atomically(path, board_page(self.jobs, best, job.shift))
        except OSError as error:
            self.fault.setText(f"{path.name}: not written ({error.strerror or error})")
            return
        self.progress.setText(f"{path.name} written")

    def _say(self, text: str, board: Board | None) -> None:
        job = self.store.job
        self.title.setText(text)
        self.list.clear()
        self.best = board
        self.rows.show_board(() if job is None else job.joints, board, Shift() if job is None else job.shift)
        self.scroll.setMaximumHeight(self.rows.minimumHeight() + 2)

    def stop(self) -> None:
        """Keep the best so far."""
        self._turn += 1
        self._stop()
        self.halt.hide()
        self.progress.setText("")

    def closeEvent(self, event: object) -> None:  # noqa: N802
        """Nothing goes on behind a closed board."""
        self.stop()
