"""The board on screen: the chart, and beside each row how its joint is kept."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent

from banister.core.drawing.charts.board import HEAD, BoardChart, BoardView, board_chart
from banister.core.drawing.shapes import Drawing
from banister.core.heat.board import Board, Slot
from banister.core.heat.shift import HALVES, WAYS, Shift
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.desktop.app.theme import Theme
from banister.desktop.canvas.chart_view import ChartView
from banister.desktop.fields import QuietBox
from banister.desktop.store import Store


class Rows(ChartView):
    """Shows a board; beside each row is chosen how its joint is kept."""

    kept = Signal(str, str)
    picked = Signal(object)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(theme)
        self.store = store
        self.board: Board | None = None
        self.joints: Sequence[Joint] = ()
        self.shift = Shift()
        self.ways: dict[str, QuietBox] = {}
        self._offered: list[tuple[str, tuple[str, ...]]] = []
        self.lit: Slot | None = None
        self.chart: BoardChart | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(store.say("board.name"))

    def show_board(self, joints: Sequence[Joint], board: Board | None, shift: Shift) -> None:
        """Draw another board of the job's joints."""
        ways = [(joint.id, self._open(joint, shift)) for joint in joints]
        if ways != self._offered:
            for way in self.ways.values():
                way.deleteLater()
            self._offered, self.ways = ways, {joint_id: self._way(joint_id, offered) for joint_id, offered in ways}
        self.joints, self.board, self.shift, self.lit = joints, board, shift, None
        view = BoardView(float(self.width()))
        for i, (joint_id, way) in enumerate(self.ways.items()):
            kept = shift.kept_as(joint_id)
            way.setCurrentIndex(way.findData(kept))
            way.setToolTip(self.store.say(f"way.{kept}.tip"))
            way.setGeometry(8, int(HEAD + (i + 1) * view.row - 34), int(view.left - 26), 24)
            way.show()
        self.setMinimumHeight(int(view.height(len(joints))))
        self.redraw()

    def _open(self, joint: Joint, shift: Shift) -> tuple[str, ...]:
        """How a joint can be kept: by halves only a pipe that stands still, with two welders."""
        can = joint.runs > 1 and shift.welders > 1
        return tuple(key for key in WAYS if can or key != HALVES or shift.kept_as(joint.id) == HALVES)

    def _way(self, joint_id: str, offered: tuple[str, ...]) -> QuietBox:
        way = QuietBox(self)
        way.setAccessibleName(self.store.say("board.way", joint=joint_id))
        for key in offered:
            way.addItem(self.store.say(f"way.{key}"), key)
        way.activated.connect(lambda i: self.kept.emit(joint_id, way.itemData(i)))
        return way

    def made(self) -> Drawing | None:
        """The rows for the present width."""
        if not self.joints:
            return None
        self.chart = board_chart(self.joints, self.board, self.shift, self.store.say, BoardView(float(self.width()), lit=self.lit))
        return self.chart.drawing

    def light(self, slot: Slot | None) -> None:
        """Outline a pass."""
        self.lit = slot
        self.setAccessibleDescription("" if slot is None else self._said(slot))
        self.redraw()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Left and right walk through the passes in time."""
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        slots = () if self.board is None else self.board.in_time
        if step is None or not slots:
            super().keyPressEvent(event)
            return
        at = slots.index(self.lit) + step if self.lit in slots else 0
        self.picked.emit(slots[min(max(at, 0), len(slots) - 1)])

    def slot_at(self, x: float, y: float) -> Slot | None:
        """The pass drawn at a pixel."""
        if self.board is None or self.chart is None:
            return None
        return self.chart.slot_at(self.board, (x, self.chart.drawing.box[3] - y))

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Pick the pass under the pointer."""
        slot = self.slot_at(event.position().x(), event.position().y())
        if slot is not None:
            self.picked.emit(slot)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Say when the pass under the pointer is welded, and how hot the joint is predicted to be."""
        slot = self.slot_at(event.position().x(), event.position().y())
        self.setToolTip("" if slot is None else self._said(slot))

    def _said(self, slot: Slot) -> str:
        say, clock = self.store.say, self.shift.clock
        return say("board.tip", joint=slot.joint_id, number=str(slot.number), begins=clock(slot.started.start_s, say), ends=clock(slot.until_s, say),
                   temp=Figure(slot.started.temp_c, "temperature"))  # fmt: skip
