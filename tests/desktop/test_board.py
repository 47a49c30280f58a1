"""The board in the real window: the shift is part of the job, joints are kept in several ways, a page is written."""

from __future__ import annotations

import pickle
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from banister.core.heat.shift import AS_DRAWN, IN_ONE_GO, LEFT_OUT, Shift
from banister.desktop.app.window import MainWindow
from banister.desktop.board.dialog import BoardDialog
from banister.desktop.fields import NameField
from banister.job.codec import decoded, encoded
from tests.desktop.conftest import choose


@pytest.fixture
def board(demo: MainWindow) -> Iterator[BoardDialog]:
    """The board of the demo."""
    demo.menus.actions["board"].trigger()
    yield demo.opened["board"]
    demo.opened["board"].close()


def entered(field: NameField, text: str) -> None:
    field.edit.setText(text)
    field.edit.editingFinished.emit()


def test_the_board_orders_what_is_kept_on_it_and_the_shift_is_part_of_the_job(demo: MainWindow, board: BoardDialog) -> None:
    store = demo.store
    everything = sum(len(plan.passes) for _, plan in board.jobs)
    turned = [board.list.item(i).text() for i in range(board.list.count()) if ": turn the work" in board.list.item(i).text()]
    assert board.list.count() == everything + 1 and board.best.end_s < board.best.one_by_one_s
    assert len(turned) == 1 and "gouge" in turned[0] and turned[0].endswith("before pass 11 (back)")
    begun = next(plan for joint, plan in board.jobs if joint.id == "G1")
    assert begun.passes[0].number == 6 and "G1 goes on from pass 6" in board.title.text(), "what is welded is not on the board"
    way = board.rows.ways["H1"]
    way.activated.emit(way.findData(LEFT_OUT))
    assert board.list.count() < everything and "H1" not in board.best.order and store.job.shift.left_out == ("H1",)
    entered(board.pause, "8:00..9:00")
    assert all(not (s.started.start_s < 2 * 3600 and s.until_s > 3600) for s in board.best.slots)
    store.undo()
    store.undo()
    assert store.job.shift == Shift() and board.list.count() == everything + 1 and board.pause.edit.text() == ""
    for field, wrong, word in ((board.pause, "9:00..8:00", "8 h"), (board.begin, "soon", "7:30"), (board.end, "6:00", "23 h")):
        before = field.edit.text()
        entered(field, wrong)
        assert word in board.fault.text() and store.job.shift == Shift()
        entered(field, before)
    assert board.fault.text() == ""
    for seconds, kept in (("9999", 20.0), ("600", 600.0)):
        board.leaving.edit.setText(seconds)
        board.leaving.edit.editingFinished.emit()
        assert store.job.shift.leaving_s == kept and bool(board.leaving.fault.text()) == (kept == 20.0)
    assert decoded(encoded(store.job)).job == store.job


def test_two_welders_are_told_apart_and_a_drawn_joint_keeps_its_places(demo: MainWindow, board: BoardDialog) -> None:
    store = demo.store
    alone, places = board.best.end_s, [i for i, id_ in enumerate(board.best.order) if id_ == "F2"]
    board.rows.kept.emit("F2", AS_DRAWN)
    entered(board.begin, "6:30")
    assert [i for i, id_ in enumerate(board.best.order) if id_ == "F2"] == places and store.job.shift.order
    store.undo()
    store.undo()
    choose(board.welders, "2")
    assert store.job.shift.welders == 2 and board.best.end_s < 0.8 * alone
    rows = [board.list.item(i).text() for i in range(board.list.count())]
    assert any("welder 1" in row for row in rows) and any("welder 2" in row for row in rows)


def test_a_pass_is_picked_in_rows_and_list_and_the_page_is_written(demo: MainWindow, board: BoardDialog, qtbot: QtBot, tmp_path: Path) -> None:
    slot = board.best.in_time[7]
    board.list.setCurrentRow(7)
    assert board.rows.lit == slot
    other = next(s for s in board.best.slots if s.joint_id != slot.joint_id)
    x0, y0, x1, y1 = next(s for s in board.rows.drawing.shapes if getattr(s, "id", "") == f"{other.joint_id}:{other.started.key}").box
    at = QPoint(int((x0 + x1) / 2), int(board.rows.drawing.box[3] - (y0 + y1) / 2))
    qtbot.mouseClick(board.rows, Qt.MouseButton.LeftButton, pos=at)
    assert board.rows.lit == other and board.best.in_time[board.list.currentRow()] == other
    row = board.list.currentRow()
    board._arrived((board.jobs, pickle.loads(pickle.dumps(board.best)), "choices", 1, 2))
    assert board.list.currentRow() == row and board.rows.lit == other, "the same board again, from another process, changes nothing"
    demo.dialogs.path = tmp_path / "wall.pdf"
    board.write_page()
    assert demo.dialogs.path.read_bytes().startswith(b"%PDF")
    demo.dialogs.path = tmp_path / "no" / "such" / "wall.pdf"
    board.write_page()
    assert str(demo.dialogs.path) in demo.notices.shown.text


def test_the_board_ends_with_the_shift_and_keeps_a_joint_in_one_go(demo: MainWindow, board: BoardDialog) -> None:
    store = demo.store
    entered(board.end, "9:00")
    done, left = board.best.done_by(store.job.shift.lasts_s)
    assert done and left and max(s.until_s for s in done) <= 2 * 3600
    assert f"{len(done)} of {len(board.best.slots)} passes" in board.title.text() and "next shift" in board.title.text()
    entered(board.end, "")
    board.rows.kept.emit("H1", IN_ONE_GO)
    rows = [i for i, id_ in enumerate(board.best.order) if id_ == "H1"]
    assert rows == list(range(rows[0], rows[-1] + 1)) and "next shift" not in board.title.text()


def test_an_edit_of_the_job_orders_the_board_anew(demo: MainWindow, board: BoardDialog) -> None:
    before = board.best.end_s
    demo.store.edit_joint("Thicker", thickness_mm=30.0)
    assert board.best.end_s > before and list(dict.fromkeys(slot for _, slot in board.lines)) == list(board.best.in_time)
    demo.menus.actions["drop_joint"].trigger()
    assert "F2" not in board.best.order and "F2" not in board.rows.ways
