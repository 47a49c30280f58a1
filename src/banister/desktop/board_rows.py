"""The board drawn: one row per joint in time, how each is kept, and every welder's way through them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QWidget

from banister.core.heat.board import Board, Slot
from banister.core.heat.shift import AS_DRAWN, FREE, IN_ONE_GO, LEFT_OUT, Shift
from banister.core.joint.joint import Joint
from banister.desktop.theme import CONDENSED, Theme, font

ROW_PX, LEFT_PX, RIGHT_PX, HEAD_PX, POST_PX, FOOT_PX, HIT_PX = 68.0, 186.0, 16.0, 26.0, 32.0, 26.0, 4.0
WAYS = {
    FREE: "Welded whenever it is best",
    IN_ONE_GO: "Once begun, welded to its end before its welder takes another",
    AS_DRAWN: "Keeps the places it has on this board; the others are ordered round it",
    LEFT_OUT: "Not on the board",
}


class Rows(QWidget):
    """Paints a board; beside each row is chosen how its joint is kept."""

    kept = Signal(str, str)
    picked = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.board: Board | None = None
        self.joints: Sequence[Joint] = ()
        self.shift = Shift()
        self.ways: dict[str, QComboBox] = {}
        self.lit: Slot | None = None
        self.setMouseTracking(True)
        self.setAccessibleName("Board of joints in time")

    def show_board(self, joints: Sequence[Joint], board: Board | None, shift: Shift) -> None:
        """Draw another board of the job's joints."""
        if [j.id for j in joints] != list(self.ways):
            for way in self.ways.values():
                way.deleteLater()
            self.ways = {joint.id: self._way(joint.id) for joint in joints}
        self.joints, self.board, self.shift, self.lit = joints, board, shift, None
        for i, (joint_id, way) in enumerate(self.ways.items()):
            way.setCurrentText(shift.kept_as(joint_id))
            way.setToolTip(WAYS[shift.kept_as(joint_id)])
            way.setGeometry(8, int(HEAD_PX + (i + 1) * ROW_PX - 34), int(LEFT_PX - 26), 24)
            way.show()
        self.setMinimumHeight(int(HEAD_PX + len(joints) * ROW_PX + FOOT_PX))
        self.update()

    def _way(self, joint_id: str) -> QComboBox:
        way = QComboBox(self)
        way.setAccessibleName(f"How {joint_id} is kept")
        way.addItems(list(WAYS))
        way.textActivated.connect(lambda word: self.kept.emit(joint_id, word))
        return way

    def light(self, slot: Slot | None) -> None:
        """Outline a pass."""
        self.lit = slot
        self.update()

    # --- touching -----------------------------------------------------------------------------
    def slot_at(self, x: float, y: float) -> Slot | None:
        """The pass drawn at a place, 4 px to spare."""
        row = int((y - HEAD_PX) // ROW_PX)
        if self.board is None or not 0 <= row < len(self.joints) or x < LEFT_PX - HIT_PX:
            return None
        k = self._scale()
        near = [(max(LEFT_PX + s.started.start_s * k - x, x - LEFT_PX - s.started.end_s * k, 0.0), s)
                for s in self.board.slots if s.joint_id == self.joints[row].id]  # fmt: skip
        gap, slot = min(near, key=lambda one: one[0], default=(HIT_PX + 1, None))
        return slot if gap <= HIT_PX else None

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Pick the pass under the pointer."""
        slot = self.slot_at(event.position().x(), event.position().y())
        if slot is not None:
            self.picked.emit(slot)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say when the pass under the pointer is welded, and how hot the joint is predicted to be."""
        slot = self.slot_at(event.position().x(), event.position().y())
        self.setToolTip("" if slot is None else f"{slot.joint_id} pass {slot.started.pass_id.removeprefix('p')}: {self.shift.clock(slot.started.start_s)} "
                        f"until {self.shift.clock(slot.until_s)}, joint then {slot.started.temp_c:.0f} \N{DEGREE SIGN}C (predicted)")  # fmt: skip

    def _scale(self) -> float:
        return 0.0 if self.board is None else (self.width() - LEFT_PX - RIGHT_PX) / max(self.board.end_s, 1.0)

    # --- painting -----------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Rows, balusters in time, and the way from one to the next."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.theme.panel))
        foot = {joint.id: HEAD_PX + (i + 1) * ROW_PX - 10 for i, joint in enumerate(self.joints)}
        board = self.board
        k = self._scale()
        if board is not None:
            self._hours(painter, board, k)
        for joint in self.joints:
            self._row(painter, joint, foot[joint.id])
        if board is None:
            return
        for welder in range(1, self.shift.welders + 1):
            self._way_through(painter, [slot for slot in board.slots if slot.welder == welder], foot, k)
        for joint in self.joints:
            self._posts(painter, [slot for slot in board.slots if slot.joint_id == joint.id], foot[joint.id], k)
        if self.shift.lasts_s < board.end_s:
            self._end_of_shift(painter, LEFT_PX + self.shift.lasts_s * k)
        if self.shift.welders > 1:
            painter.setPen(QColor(self.theme.soft))
            painter.setFont(font(12))
            where = QRectF(LEFT_PX, self.height() - FOOT_PX + 4, self.width() - LEFT_PX, 18)
            painter.drawText(where, Qt.AlignmentFlag.AlignLeft, "plain, unbroken line: welder 1; hatched, broken line: welder 2")

    def _row(self, painter: QPainter, joint: Joint, y: float) -> None:
        out = self.shift.kept_as(joint.id) == LEFT_OUT
        painter.setPen(QPen(QColor(self.theme.line if out else self.theme.text), 2))
        painter.drawLine(QPointF(LEFT_PX, y), QPointF(self.width() - RIGHT_PX, y))
        painter.setPen(QColor(self.theme.soft if out else self.theme.text))
        painter.setFont(font(14, QFont.Weight.DemiBold))
        room = QRectF(10, y - 47, LEFT_PX - 30, 20)
        painter.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, joint.id)
        begin = painter.fontMetrics().horizontalAdvance(joint.id) + 8
        painter.setFont(font(12, family=CONDENSED))
        painter.setPen(QColor(self.theme.soft))
        name = painter.fontMetrics().elidedText(joint.name, Qt.TextElideMode.ElideRight, int(room.width() - begin))
        painter.drawText(room.adjusted(begin, 0, 0, 0), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, name)

    def _way_through(self, painter: QPainter, slots: Sequence[Slot], foot: dict[str, float], k: float) -> None:
        """A welder's way from joint to joint."""
        slots = sorted(slots, key=lambda slot: slot.started.start_s)
        second = bool(slots) and slots[0].welder > 1
        painter.setPen(QPen(QColor(self.theme.accent), 1.4, Qt.PenStyle.DashLine if second else Qt.PenStyle.SolidLine))
        for a, b in itertools.pairwise(slots):
            if a.joint_id != b.joint_id:
                begin = QPointF(LEFT_PX + a.started.end_s * k, foot[a.joint_id] - POST_PX / 2)
                painter.drawLine(begin, QPointF(LEFT_PX + b.started.start_s * k, foot[b.joint_id] - POST_PX / 2))

    def _posts(self, painter: QPainter, slots: Sequence[Slot], y: float, k: float) -> None:
        """A joint's balusters; a number that does not fit inside stands above where there is room."""
        colours = self.theme.drawing
        taken = -math.inf
        for slot in slots:
            shape = QRectF(LEFT_PX + slot.started.start_s * k, y - POST_PX, max((slot.started.end_s - slot.started.start_s) * k, 2.0), POST_PX)
            painter.setPen(QPen(QColor(colours["bead.edge"]), 1))
            painter.setBrush(QColor(colours["bead.fill"]))
            painter.drawRect(shape)
            if slot == self.lit:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                for width, style in ((5.0, "select.outer"), (2.0, "select.inner")):
                    painter.setPen(QPen(QColor(colours[style]), width))
                    painter.drawRect(shape)
            number = slot.started.pass_id.removeprefix("p")
            painter.setFont(font(12, QFont.Weight.DemiBold, CONDENSED))
            wide = QFontMetricsF(painter.font()).horizontalAdvance(number)
            inside = wide + 2 <= shape.width()
            if slot.welder > 1:
                painter.setBrush(QBrush(QColor(colours["bead.edge"]), Qt.BrushStyle.BDiagPattern))
                painter.drawRect(shape)
                if inside:
                    painter.fillRect(QRectF(shape.center().x() - wide / 2 - 1, shape.center().y() - 7, wide + 2, 14), QColor(colours["bead.fill"]))
            if inside:
                painter.setPen(QColor(colours["number"]))
                painter.drawText(shape, Qt.AlignmentFlag.AlignCenter, number)
            elif shape.center().x() - wide / 2 > taken:
                painter.setPen(QColor(self.theme.text))
                painter.setFont(font(11, family=CONDENSED))
                painter.drawText(QRectF(shape.center().x() - 20, shape.top() - 14, 40, 13), Qt.AlignmentFlag.AlignCenter, number)
                taken = shape.center().x() + wide / 2 + 3

    def _end_of_shift(self, painter: QPainter, x: float) -> None:
        """What lies after the end of the shift is veiled, not hidden."""
        foot = self.height() - FOOT_PX
        veil = QColor(self.theme.panel)
        veil.setAlpha(150)
        painter.fillRect(QRectF(x, HEAD_PX, self.width() - x, foot - HEAD_PX), veil)
        painter.setPen(QPen(QColor(self.theme.bad), 2))
        painter.drawLine(QPointF(x, HEAD_PX - 4), QPointF(x, foot))
        painter.setFont(font(12))
        painter.drawText(QRectF(x - 104, foot + 4, 100, 18), Qt.AlignmentFlag.AlignRight, "end of shift")

    def _hours(self, painter: QPainter, board: Board, k: float) -> None:
        painter.setFont(font(12, family=CONDENSED))
        step = next((s for s in (900.0, 1800.0, 3600.0, 7200.0) if s * k >= 64), 14400.0)
        for begin, end in self.shift.breaks_s:
            if begin < board.end_s:
                painter.fillRect(QRectF(LEFT_PX + begin * k, HEAD_PX, (end - begin) * k, self.height() - HEAD_PX - FOOT_PX), QColor(self.theme.band))
        at = (-self.shift.begins_s) % step
        while at <= board.end_s:
            x = LEFT_PX + at * k
            painter.setPen(QPen(QColor(self.theme.line), 1))
            painter.drawLine(QPointF(x, HEAD_PX - 4), QPointF(x, self.height() - FOOT_PX))
            painter.setPen(QColor(self.theme.soft))
            painter.drawText(QRectF(x - 40, 4, 80, 16), Qt.AlignmentFlag.AlignCenter, self.shift.clock(at))
            at += step
