"""The board: one row per joint in time, one welder's way through them, and a list to walk by."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QCheckBox, QComboBox, QDialog, QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from banister.core.heat.board import FREE, Board, Shift, board_faults, first_boards, improved, left_in_words, parsed_pause, walking_list
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod
from banister.core.units import clock, minutes, parsed_clock_s
from banister.desktop.fields import NameField
from banister.desktop.store import Store
from banister.desktop.theme import CONDENSED, Theme, font

ROW_PX, LEFT_PX = 54.0, 130.0
ROUNDS = 6
Jobs = list[tuple[Joint, Plan]]


class Rows(QWidget):
    """Paints a board."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.board: Board | None = None
        self.joints: list[Joint] = []
        self.start_s, self.until_s = 0.0, math.inf
        self.setAccessibleName("Board of joints in time")

    def show_board(self, joints: list[Joint], board: Board | None, start_s: float, until_s: float) -> None:
        """Draw another board."""
        self.joints, self.board, self.start_s, self.until_s = joints, board, start_s, until_s
        self.setMinimumHeight(int(len(joints) * ROW_PX + 40))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Rows, balusters in time, and the way from one to the next."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.theme.panel))
        if self.board is None:
            return
        k = (self.width() - LEFT_PX - 16) / max(self.board.end_s, 1.0)
        foot = {joint.id: 24 + (i + 1) * ROW_PX - 12 for i, joint in enumerate(self.joints)}
        self._hours(painter, k)
        for joint in self.joints:
            y = foot[joint.id]
            painter.setPen(QPen(QColor(self.theme.text), 2))
            painter.drawLine(QPointF(LEFT_PX, y), QPointF(self.width() - 16, y))
            painter.setFont(font(13, QFont.Weight.DemiBold))
            painter.drawText(QRectF(6, y - 34, LEFT_PX - 14, 18), Qt.AlignmentFlag.AlignRight, joint.id)
            painter.setFont(font(11, family=CONDENSED))
            painter.setPen(QColor(self.theme.soft))
            name = painter.fontMetrics().elidedText(joint.name, Qt.TextElideMode.ElideRight, int(LEFT_PX - 16))
            painter.drawText(QRectF(6, y - 16, LEFT_PX - 14, 16), Qt.AlignmentFlag.AlignRight, name)
        before: QPointF | None = None
        for slot in self.board.slots:
            y = foot[slot.joint_id]
            shape = QRectF(LEFT_PX + slot.started.start_s * k, y - 32, max((slot.started.end_s - slot.started.start_s) * k, 2.0), 32)
            if before is not None and abs(before.y() - (y - 16)) > 1:
                painter.setPen(QPen(QColor(self.theme.accent), 1.4))
                painter.drawLine(before, QPointF(shape.left(), y - 16))
            painter.setPen(QPen(QColor(self.theme.drawing["bead.edge"]), 1))
            painter.setBrush(QColor(self.theme.drawing["bead.fill"]))
            painter.drawRect(shape)
            if shape.width() > 16:
                painter.setPen(QColor(self.theme.drawing["number"]))
                painter.setFont(font(12, QFont.Weight.DemiBold, CONDENSED))
                painter.drawText(shape, Qt.AlignmentFlag.AlignCenter, slot.started.pass_id.removeprefix("p"))
            before = QPointF(shape.right(), y - 16)
        if self.until_s < self.board.end_s:
            self._end_of_shift(painter, LEFT_PX + self.until_s * k)

    def _end_of_shift(self, painter: QPainter, x: float) -> None:
        """What lies after the end of the shift is veiled, not hidden."""
        veil = QColor(self.theme.panel)
        veil.setAlpha(150)
        painter.fillRect(QRectF(x, 20, self.width() - x, self.height() - 28), veil)
        painter.setPen(QPen(QColor(self.theme.bad), 2))
        painter.drawLine(QPointF(x, 20), QPointF(x, self.height() - 8))
        painter.drawText(QRectF(x - 94, self.height() - 20, 90, 14), Qt.AlignmentFlag.AlignRight, "end of shift")

    def _hours(self, painter: QPainter, k: float) -> None:
        assert self.board is not None
        painter.setFont(font(11, family=CONDENSED))
        step = next((s for s in (900.0, 1800.0, 3600.0, 7200.0) if s * k >= 58), 14400.0)
        at = (-self.start_s) % step
        while at <= self.board.end_s:
            x = LEFT_PX + at * k
            painter.setPen(QPen(QColor(self.theme.line), 1))
            painter.drawLine(QPointF(x, 20), QPointF(x, self.height() - 8))
            painter.setPen(QColor(self.theme.soft))
            painter.drawText(QRectF(x - 30, 4, 60, 14), Qt.AlignmentFlag.AlignCenter, clock(at + self.start_s))
            at += step


def planned_board(jobs: list[tuple[Joint, Mapping[str, Rod]]], shift: Shift) -> tuple[Jobs, Board | None]:
    """Plans of the joints and the best board of the fixed rules."""
    found = [(joint, plan_joint(joint, rods, joint.chosen)) for joint, rods in jobs]
    if any(not plan.feasible for _, plan in found):
        return found, None
    boards = first_boards(found, shift)
    return found, boards[0] if boards else None


def better_board(jobs: Jobs, best: Board, shift: Shift, seed: int) -> Board:
    """The best board after one round of drawn variations."""
    return min((best, *improved(jobs, best, shift, seed)), key=lambda board: board.end_s)


class BoardDialog(QDialog):
    """Orders the job's joints; goes on looking for a better order beside the window until stopped."""

    def __init__(self, parent: QWidget, store: Store, theme: Theme) -> None:
        super().__init__(parent)
        self.store = store
        self.best: Board | None = None
        self.jobs: Jobs = []
        self.start_s, self.shift = 0.0, FREE
        self._stop: Callable[[], None] = lambda: None
        self.setWindowTitle("Board")
        self.resize(1160, 700)
        self.title = QLabel()
        self.title.setFont(font(15))
        self.title.setWordWrap(True)
        self.halt = QPushButton("Stop")
        self.halt.clicked.connect(self.stop)
        self.begin, self.end, self.pause = NameField("Shift begins"), NameField("ends"), NameField("Break")
        self.lock = QComboBox()
        self.lock.setAccessibleName("Weld to its end once begun")
        self.lock.setToolTip("Once begun, this joint is welded to its end before another is taken")
        self.lock.addItem("any order")
        self.begin.edit.setText("7:00")
        self.pause.edit.setPlaceholderText("12:00..12:30")
        self.boxes: dict[str, QCheckBox] = {}
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(self.halt)
        options = QHBoxLayout()
        for joint in store.job.joints if store.job is not None else ():
            box = QCheckBox(joint.id)
            box.setChecked(True)
            box.clicked.connect(self.order)
            self.boxes[joint.id] = box
            options.addWidget(box)
            self.lock.addItem(f"{joint.id} in one go", joint.id)
        options.addStretch(1)
        self.lock.activated.connect(self.order)
        options.addWidget(self.lock)
        for field in (self.begin, self.end, self.pause):
            field.edit.setMaximumWidth(96)
            field.setMaximumWidth(180)
            field.committed.connect(lambda _: self.order())
            options.addWidget(field)
        self.rows, self.list = Rows(theme), QListWidget()
        self.list.setAccessibleName("List to walk by")
        note = QLabel("Predicted: start no pass before the joint itself reads inside its limits.")
        note.setProperty("soft", True)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addLayout(options)
        column.addWidget(self.rows)
        column.addWidget(self.list, 1)
        column.addWidget(note)

    def order(self) -> None:
        """Order what is ticked anew."""
        self.stop()
        job = self.store.job
        wanted = [] if job is None else [j for j in job.joints if self.boxes[j.id].isChecked()]
        if job is None or not wanted:
            self._say("Tick a joint.", None)
            return
        if faults := board_faults(wanted):
            self._say("\n".join(f"{f.text}. {f.remedy}" for f in faults), None)
            return
        try:
            self.start_s, self.shift = self._times()
        except ValueError as error:
            self._say(str(error), None)
            return
        self.halt.show()
        items = [([(joint, job.rods_by_id) for joint in wanted], self.shift)]
        self._stop = self.store.each(planned_board, items, lambda _, found: self._planned(found), lambda: None)

    def _times(self) -> tuple[float, Shift]:
        start = parsed_clock_s(self.begin.edit.text())
        until, text = self.end.edit.text().strip(), self.pause.edit.text().strip()
        locked = self.lock.currentData()
        shift = Shift(locked=frozenset((locked,) if locked else ()), until_s=parsed_clock_s(until) - start if until else math.inf)
        if shift.until_s <= 0:
            raise ValueError("the shift ends before it begins")
        if not text:
            return start, shift
        return start, replace(shift, pauses=(parsed_pause(text, start),))

    def _planned(self, found: tuple[Jobs, Board | None] | None) -> None:
        if found is None or found[1] is None:
            blocked = [joint.id for joint, plan in (found[0] if found else []) if not plan.feasible]
            self._say(f"No board: {', '.join(blocked)} cannot be planned." if blocked else "No board: a joint never cools to its limit.", None)
            self.halt.hide()
            return
        self.jobs, self.best = found
        self._show()
        rounds = [(self.jobs, self.best, self.shift, seed) for seed in range(1, ROUNDS + 1)]
        self._stop = self.store.each(better_board, rounds, self._better, self.halt.hide)

    def _better(self, _: int, board: Board | None) -> None:
        if board is not None and self.best is not None and board.end_s < self.best.end_s:
            self.best = board
            self._show()

    def _show(self) -> None:
        best = self.best
        assert best is not None
        saved = f"{best.saved:.0%} less than one after the other" if best.saved > 0.005 else "nothing to gain against one after the other"
        said = [f"Ends {clock(best.end_s + self.start_s)}: {minutes(best.end_s)}, {saved}; not possible before {clock(best.bound_s + self.start_s)}",
                *left_in_words(best, self.shift, lambda s: clock(s + self.start_s))]  # fmt: skip
        self._say("\n".join(said), best)
        names = {j.id: {p.id: f"pass {p.number}, {p.rod.id}, {p.amps:.0f} A" for p in plan.passes} for j, plan in self.jobs}
        self.list.addItems(walking_list(best, names, lambda s: clock(s + self.start_s)))

    def _say(self, text: str, board: Board | None) -> None:
        self.title.setText(text)
        self.list.clear()
        self.rows.show_board([joint for joint, _ in self.jobs] if board is not None else [], board, self.start_s, self.shift.until_s)

    def stop(self) -> None:
        """Keep the best so far."""
        self._stop()
        self.halt.hide()

    def closeEvent(self, event: object) -> None:  # noqa: N802
        """Nothing goes on behind a closed board."""
        self.stop()
