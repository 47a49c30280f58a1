"""The board drawn: one row per joint in time, and every welder's way through them; for the window and for the wall."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.charts.axis import Axis, step_for
from banister.core.drawing.hatch import hatched
from banister.core.drawing.section import HATCHES
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.heat.board import BOTH, Board, Slot
from banister.core.heat.shift import LEFT_OUT, Shift
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

HEAD, FOOT, RIGHT = 26.0, 26.0, 16.0
HOUR_STEPS_S = (900.0, 1800.0, 3600.0, 7200.0, 14_400.0)
HATCH_SPACING, CAP_PX = 4.0, 5.0
WARM_PX = (11.0, 3.0)
"""How far under a row's foot the line of temperatures lies, lowest and highest."""
HIT = 4.0


class BoardView(Struct, frozen=True):
    """What is looked at: width in pixels, height of a row, room for the names at the left, and the pass lit up."""

    width: float
    row: float = 68.0
    left: float = 186.0
    lit: Slot | None = None

    def height(self, rows: int) -> float:
        """Height of so many rows."""
        return HEAD + rows * self.row + FOOT


class BoardChart(Struct, frozen=True):
    """The board as shapes, and what the hand needs: the time along it, and the foot of every joint's row."""

    drawing: Drawing
    time: Axis
    feet: dict[str, float]
    row: float

    def slot_at(self, board: Board, point: Point) -> Slot | None:
        """The pass drawn at a place, 4 px to spare."""
        x, y = point
        joint = next((key for key, foot in self.feet.items() if foot - 10 <= y < foot - 10 + self.row), None)
        near = [(max(self.time.at(s.started.start_s) - x, x - self.time.at(s.started.end_s), 0.0), s) for s in board.slots if s.joint_id == joint]
        gap, slot = min(near, key=lambda one: one[0], default=(HIT + 1, None))
        return slot if gap <= HIT else None


def board_chart(joints: Sequence[Joint], board: Board | None, shift: Shift, say: Speech, view: BoardView) -> BoardChart:
    """Rows in time; without a board the names only."""
    height = view.height(len(joints))
    end = 1.0 if board is None else max(board.end_s, 1.0)
    time = Axis(0.0, end, view.left, view.width - RIGHT)
    feet = {joint.id: height - HEAD - (i + 1) * view.row + 10 for i, joint in enumerate(joints)}
    chart = BoardChart(Drawing((), (0.0, 0.0, view.width, height)), time, feet, view.row)
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, height), "ground")]
    if board is not None:
        shapes += _hours(chart, board, shift, say, height)
    shapes += [shape for joint in joints for shape in _row(joint, shift, feet[joint.id], view)]
    if board is not None:
        shapes += [shape for welder in range(1, shift.welders + 1) for shape in _way(chart, [s for s in board.in_time if s.is_by(welder)], welder)]
        shapes += [shape for joint in joints for shape in _posts(chart, [s for s in board.in_time if s.joint_id == joint.id], view.lit)]
        if shift.lasts_s < board.end_s:
            shapes += _end_of_shift(chart, shift, say, height)
        shapes += [shape for joint in joints for shape in _warmth(chart, board, joint.id)]
        shapes.append(Text((view.left, FOOT / 2), _key(board, shift, say), "soft", 12.0, "start"))
    return BoardChart(Drawing(tuple(shapes), (0.0, 0.0, view.width, height)), time, feet, view.row)


def _row(joint: Joint, shift: Shift, foot: float, view: BoardView) -> Iterator[Shape]:
    out = shift.kept_as(joint.id) == LEFT_OUT
    yield Lines((((view.left, foot), (view.width - RIGHT, foot)),), "rule" if out else "text", f"row:{joint.id}")
    middle = foot + min(37.0, view.row - 26)
    yield Text((10.0, middle), joint.id, "soft" if out else "text", 14.0, "start", face=BOLD)
    begin = 10.0 + advance(joint.id, 14.0, BOLD) + 8
    yield Text((begin, middle), elided(joint.name, view.left - 16 - begin, 12.0, NARROW), "soft", 12.0, "start", face=NARROW)


def _hours(chart: BoardChart, board: Board, shift: Shift, say: Speech, height: float) -> Iterator[Shape]:
    """Breaks as shaded uprights, the hours of the day over them."""
    time = chart.time
    for begin, end in shift.breaks_s:
        if begin < board.end_s:
            yield Rect((time.at(begin), FOOT, time.kept(end), height - HEAD), "pause", id="break")
    step = step_for(time, HOUR_STEPS_S, 64.0)
    at = (-shift.begins_s) % step
    while at <= board.end_s:
        x = time.at(at)
        yield Lines((((x, FOOT), (x, height - HEAD + 4)),), "rule")
        yield Text((x, height - 13), shift.clock(at, say), "soft", 12.0, face=NARROW)
        at += step


def _way(chart: BoardChart, slots: Sequence[Slot], welder: int) -> Iterator[Shape]:
    """A welder's way from joint to joint; the second one's is broken."""
    middle = _post_height(chart) / 2
    for a, b in itertools.pairwise(slots):
        if a.joint_id != b.joint_id:
            begin = (chart.time.at(a.started.end_s), chart.feet[a.joint_id] + middle)
            end = (chart.time.at(b.started.start_s), chart.feet[b.joint_id] + middle)
            yield Lines(((begin, end),), "way" if welder == 1 else "way.2")


def _post_height(chart: BoardChart) -> float:
    return 0.47 * chart.row


def _posts(chart: BoardChart, slots: Sequence[Slot], lit: Slot | None) -> Iterator[Shape]:
    """A joint's balusters; a number that does not fit inside stands above where there is room."""
    taken = -math.inf
    for slot in slots:
        foot, tall = chart.feet[slot.joint_id], _post_height(chart)
        x0 = chart.time.at(slot.started.start_s)
        x1 = max(chart.time.at(slot.started.end_s), x0 + 2.0)
        box, middle, number = (x0, foot, x1, foot + tall), (x0 + x1) / 2, str(slot.number)
        if slot.before_s:
            at, over = chart.time.at(slot.prepared_s), foot + tall + 10
            yield Lines((((at, foot), (at, over)), ((at, over), (x0, over))), "turn", f"before:{slot.joint_id}:{slot.started.key}")
        yield Rect(box, f"bead.{slot.role}", "bead.edge", f"{slot.joint_id}:{slot.started.key}")
        if slot.role in HATCHES:
            yield Lines(hatched(((x0, foot), (x1, foot), (x1, foot + tall), (x0, foot + tall)), HATCHES[slot.role], HATCH_SPACING), f"hatch.{slot.role}")
        if slot.welder != 1:
            yield Rect(((x0 + x1) / 2 if slot.welder == BOTH else x0, foot + tall - CAP_PX, x1, foot + tall), "welder.2")
        if slot == lit:
            yield Rect(box, "", "select.outer")
            yield Rect(box, "", "select.inner")
        wide = advance(number, 12.0, NARROW_BOLD)
        if wide + 2 <= x1 - x0:
            if slot.role in HATCHES:
                yield Rect((middle - wide / 2 - 1, foot + tall / 2 - 7, middle + wide / 2 + 1, foot + tall / 2 + 7), f"bead.{slot.role}")
            yield Text((middle, foot + tall / 2), number, "number", 12.0, face=NARROW_BOLD)
        elif middle - wide / 2 > taken:
            yield Text((middle, foot + tall + 7), number, "text", 11.0, face=NARROW)
            taken = middle + wide / 2 + 3


def _warmest(board: Board) -> tuple[float, float]:
    temps = [slot.started.temp_c for slot in board.slots]
    return min(temps), max(temps)


def _warmth(chart: BoardChart, board: Board, joint_id: str) -> Iterator[Shape]:
    """How hot a joint is where its passes start, as a thin line under its row; all rows have one scale."""
    low, high = _warmest(board)
    axis = Axis(low, max(high, low + 1.0), chart.feet[joint_id] - WARM_PX[0], chart.feet[joint_id] - WARM_PX[1])
    points = [(chart.time.at(s.started.start_s), axis.at(s.started.temp_c)) for s in board.in_time if s.joint_id == joint_id]
    if len(points) > 1:
        yield Lines(tuple(itertools.pairwise(points)), "warmth", f"warmth:{joint_id}")


def _key(board: Board, shift: Shift, say: Speech) -> str:
    warmth = say("board.warmth", temps=Figure(_warmest(board), "temperature"))
    return f"{say('board.key')}; {warmth}" if shift.welders > 1 else warmth


def _end_of_shift(chart: BoardChart, shift: Shift, say: Speech, height: float) -> Iterator[Shape]:
    """What lies after the end of the shift stands beyond a red upright."""
    x = chart.time.at(shift.lasts_s)
    yield Lines((((x, FOOT), (x, height - HEAD + 4)),), "late", "end")
    yield Text((x - 5, FOOT / 2), say("board.end_of_shift"), "late", 12.0, "end", face=PLAIN)
