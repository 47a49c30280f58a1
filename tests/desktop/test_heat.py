"""Heat in the real window: the rail in true time, settings, readings, curves and the board."""

from __future__ import annotations

import itertools
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from banister.core.heat.preheat import SHOP_C, annex_cell, method_b_c, method_b_map
from banister.core.heat.shift import AS_DRAWN, IN_ONE_GO, LEFT_OUT, Shift
from banister.core.limits.windows import Window
from banister.core.units import clock
from banister.desktop.board_rows import HEAD_PX, LEFT_PX, RIGHT_PX, ROW_PX
from banister.desktop.board_view import BoardDialog
from banister.desktop.fields import NameField
from banister.desktop.rail import CLOCK
from banister.desktop.window import MainWindow
from banister.job.codec import decoded, encoded
from tests.desktop.test_window import type_in


def press(window: MainWindow, text: str) -> None:
    next(b for b in window.panels["heat"].findChildren(QPushButton) if b.text().startswith(text)).click()


def test_the_rail_becomes_true_to_time_with_waits_and_a_temperature_anywhere(demo: MainWindow, qtbot: QtBot) -> None:
    assert demo.store.heat is None
    demo.rail.set_scale(CLOCK)
    schedule = demo.store.heat.schedule
    posts = demo.rail.layout_posts()
    k = (posts[-1].x1 - posts[0].x0) / (schedule.passes[-1].end_s - schedule.passes[0].start_s)
    for post, passed in zip(posts, schedule.passes, strict=True):
        assert post.x0 - posts[0].x0 == pytest.approx((passed.start_s - schedule.passes[0].start_s) * k, abs=0.5)
        assert post.x1 - post.x0 == pytest.approx((passed.end_s - passed.start_s) * k, abs=0.5)
    seconds, likely, low, high = demo.rail.read(posts[4].x0)
    assert seconds == pytest.approx(schedule.passes[4].start_s, abs=30.0) and low <= likely <= high
    assert likely == pytest.approx(schedule.passes[4].temp_c, abs=8.0) and demo.rail.read(2.0) is None
    still = demo.rail.grab().toImage()
    qtbot.mouseMove(demo.rail, QPoint(round(posts[4].x0), 60))
    qtbot.waitUntil(lambda: demo.rail.cursor_x is not None)
    assert demo.rail.grab().toImage() != still
    assert schedule.end_s > demo.store.plan.total_time_s
    assert not demo.grab().isNull()


def test_what_cools_the_joint_is_typed_and_plans_nothing_anew(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    plan, before = demo.store.plan, demo.store.heat.schedule
    panel = demo.panels["heat"]
    for name in ("width_left_mm", "width_right_mm"):
        type_in(qtbot, panel.fields[name].edit, "60")
    after = demo.store.heat.schedule
    assert demo.store.plan is plan and after.waiting_s > before.waiting_s
    assert "Waits" in panel.words.text() and "nine of ten" in panel.words.text()
    type_in(qtbot, panel.fields["air_c"].edit, "900")
    assert "enter -40 to 60" in panel.fields["air_c"].fault.text() and demo.store.joint.heat.air_c == 20
    demo.store.undo()
    demo.store.undo()
    assert demo.store.heat.schedule.waiting_s == pytest.approx(before.waiting_s)


def test_every_pass_has_its_wait_temperature_and_cooling_time_in_the_table_and_when_selected(demo: MainWindow) -> None:
    demo.show_table()
    plain = demo.table.as_text()
    demo.go_to("heat")
    schedule, table = demo.store.heat.schedule, demo.table
    rows = [row.split("\t") for row in table.as_text().splitlines()[1:]]
    assert [row[0][1:] for row in rows] == [p.pass_id.removeprefix("p") for p in schedule.passes] and table.rowCount() == len(rows)
    for row, p in zip(rows, schedule.passes, strict=True):
        assert (row[2], row[5], row[9]) == (clock(p.start_s), f"{p.temp_c:.0f}", p.hottest_station) and row[6] == f"{p.t85.seconds:.1f} ({p.t85.regime})"
    assert [table.item(4, i).text() for i in range(table.columnCount())] == rows[4]
    demo.store.select(demo.store.plan.passes[6])
    words = demo.panels["heat"].pass_words.text()
    assert "Pass F7 starts" in words and f"t8/5 {schedule.passes[6].t85.seconds:.1f} s" in words
    demo.store.edit(replace(demo.store.job, shift=Shift(begins_s=9 * 3600.0)), "Later")
    assert table.as_text().splitlines()[1].split("\t")[3] == "9:00" and "Begun at 9:00" in demo.panels["heat"].words.text()
    demo.go_to("passes")
    assert demo.table.as_text() == plain


def test_limits_that_no_joint_can_meet_are_said(demo: MainWindow) -> None:
    demo.go_to("heat")
    joint = demo.store.joint
    kept = tuple(w for w in joint.working.windows if w.quantity not in ("preheat", "interpass"))
    demo.store.edit_joint("Low limit", windows=(*kept, Window(quantity="interpass", high=10.0)))
    assert "never cools" in demo.panels["heat"].bad.text()
    demo.store.edit_joint("Crossed", windows=(*kept, Window(quantity="interpass", high=100.0), Window(quantity="preheat", low=120.0)))
    assert "no pass may start" in demo.panels["heat"].bad.text()
    demo.rail.set_scale(CLOCK)
    assert not demo.grab().isNull()


def test_readings_are_entered_fitted_and_dropped(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    panel = demo.panels["heat"]
    for minute, temp in (("60", "150"), ("90", "140"), ("120", "150")):
        panel.at.edit.setText(minute)
        panel.where.edit.setText("30")
        panel.temp.edit.setText(temp)
        press(demo, "Add reading")
    assert len(demo.store.joint.readings) == 3 and "fits" in panel.fit_words.text()
    press(demo, "Use the loss that fits")
    assert demo.store.joint.heat.loss_factor != 1.0
    panel.temp.edit.setText("hot")
    press(demo, "Add reading")
    assert "not a number" in panel.fit_words.text() and len(demo.store.joint.readings) == 3
    panel.readings.itemAt(0).widget().findChild(QPushButton).click()
    assert len(demo.store.joint.readings) == 2


def test_preheat_methods_and_other_ways_stand_beside_one_another(demo: MainWindow) -> None:
    demo.go_to("heat")
    panel = demo.panels["heat"]
    assert all(name in panel.methods.text() for name in ("EN 1011-2", "annex", "prequalified")) and "unverified" in panel.methods.text()
    assert "asks for" in panel.warnings.text()
    ways = panel.ways.text()
    assert ways.count("waits") >= 6 and all(w in ways for w in ("twice as wide", "weld faster", "next smaller rod", "wait less", "preheat 50 K"))
    demo.store.edit_joint("Warmer air", heat=replace(demo.store.joint.heat, air_c=35.0))
    assert panel.ways.text() != ways and panel.ways.text().count("waits") >= 6
    demo.store.edit_joint("Stainless", heat=replace(demo.store.joint.heat, stainless=True))
    assert "no preheat" in panel.methods.text() and "not verified" in panel.warnings.text()


def test_curves_are_drawn_and_the_time_is_dragged(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    press(demo, "Temperatures")
    curves = demo.curves
    assert len(curves.over.lines) == 3 and len(curves.across.lines) == 3
    first = curves.moment.text()
    qtbot.mouseClick(curves.over, Qt.MouseButton.LeftButton, pos=QPoint(curves.over.width() - 40, 80))
    assert curves.moment.text() != first
    near, far = curves.over.lines[0][1].max(), curves.over.lines[2][1].max()
    assert near > far > 60 and not curves.grab().isNull()
    curves.close()


@pytest.fixture
def board(demo: MainWindow, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot) -> BoardDialog:
    """The board of the demo; the search is cut short."""
    monkeypatch.setattr("banister.desktop.board_view.MOST_CHOICES", 2)
    monkeypatch.setattr("banister.desktop.board_view.ROUNDS", 1)
    monkeypatch.setattr("banister.desktop.board_view.TRIES", 2)
    demo.actions_by_name["board"].trigger()
    yield demo.board
    demo.board.close()


def settled(board: BoardDialog, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: not board.halt.isVisible(), timeout=20_000)


def entered(field: NameField, text: str) -> None:
    field.edit.setText(text)
    field.edit.editingFinished.emit()


def test_the_board_orders_what_is_kept_on_it_and_the_shift_is_part_of_the_job(demo: MainWindow, board: BoardDialog, qtbot: QtBot) -> None:
    everything = sum(len(plan.passes) for _, plan in board.jobs)
    first = board.best.end_s
    settled(board, qtbot)
    assert board.list.count() == everything and board.best.end_s <= min(first, board.best.one_by_one_s)
    board.rows.ways["H1"].textActivated.emit(LEFT_OUT)
    assert board.list.count() < everything and "H1" not in board.best.order and demo.store.job.shift.left_out == ("H1",)
    entered(board.pause, "8:00..9:00")
    assert all(not (s.started.start_s < 2 * 3600 and s.until_s > 3600) for s in board.best.slots)
    demo.store.undo()
    demo.store.undo()
    assert demo.store.job.shift == Shift() and board.list.count() == everything and board.pause.edit.text() == ""
    kept = demo.store.job.shift
    for field, wrong, word in ((board.pause, "9:00..8:00", "more than 8 hours"), (board.begin, "soon", "7:30"), (board.end, "6:00", "23.0 hours")):
        before = field.edit.text()
        entered(field, wrong)
        assert word in board.fault.text() and demo.store.job.shift == kept
        entered(field, before)
    assert board.fault.text() == "" and not board.grab().isNull()
    assert decoded(encoded(demo.store.job)).job == demo.store.job


def test_two_welders_are_told_apart_and_a_drawn_joint_keeps_its_places(demo: MainWindow, board: BoardDialog, qtbot: QtBot) -> None:
    settled(board, qtbot)
    alone, places = board.best.end_s, [i for i, id_ in enumerate(board.best.order) if id_ == "F2"]
    board.rows.ways["F2"].textActivated.emit(AS_DRAWN)
    settled(board, qtbot)
    entered(board.begin, "6:30")
    settled(board, qtbot)
    assert [i for i, id_ in enumerate(board.best.order) if id_ == "F2"] == places and demo.store.job.shift.order
    demo.store.undo()
    demo.store.undo()
    board.welders.box.setCurrentIndex(1)
    board.welders.chosen.emit("2")
    settled(board, qtbot)
    assert demo.store.job.shift.welders == 2 and board.best.end_s < 0.8 * alone
    assert {"welder 1", "welder 2"} <= {board.list.item(i).text().split(" ", 1)[1].split(":")[0] for i in range(board.list.count())}
    assert not board.grab().isNull()


def test_the_preheat_map_shows_the_joints_steel_and_follows_it(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    press(demo, "Preheat map")
    shown = demo.preheat_map
    joint, plan = demo.store.joint, demo.store.plan
    assert joint.metal.steel.is_known
    heat = min(p.heat_input_kj_mm for p in plan.passes)
    asked = method_b_c(joint.metal.steel.cet, joint.prep.thickness_mm, joint.heat.hydrogen_ml, heat)
    assert (f"{asked:.0f} \N{DEGREE SIGN}C" if asked > SHOP_C else "no preheat") in shown.title.text()
    before = shown.field.degrees
    wetter = method_b_map(joint.metal.steel.cet, 15.0)
    demo.store.edit_joint("wetter", heat=replace(joint.heat, hydrogen_ml=15.0))
    assert shown.field.degrees == wetter != before
    assert all(a <= b for row in wetter for a, b in itertools.pairwise(row)), "thicker asks for no less"
    demo.store.edit_joint("stainless", heat=replace(joint.heat, stainless=True))
    assert "stainless" in shown.title.text() and shown.field.degrees == ()
    assert not shown.grab().isNull()


def test_a_pass_is_picked_in_rows_and_list_and_the_page_is_written(demo: MainWindow, board: BoardDialog, qtbot: QtBot, tmp_path: Path) -> None:
    settled(board, qtbot)
    slot = board.best.in_time[7]
    board.list.setCurrentRow(7)
    assert board.rows.lit == slot
    k = (board.rows.width() - LEFT_PX - RIGHT_PX) / board.best.end_s
    other = next(s for s in board.best.slots if s.joint_id != slot.joint_id)
    row = [j.id for j in demo.store.job.joints].index(other.joint_id)
    at = QPoint(int(LEFT_PX + (other.started.start_s + other.started.end_s) / 2 * k), int(HEAD_PX + row * ROW_PX + 40))
    qtbot.mouseClick(board.rows, Qt.MouseButton.LeftButton, pos=at)
    assert board.rows.lit == other and board.best.in_time[board.list.currentRow()] == other
    demo.dialogs.path = tmp_path / "wall.pdf"
    board.write_page()
    assert demo.dialogs.path.read_bytes().startswith(b"%PDF")
    demo.dialogs.path = tmp_path / "no" / "such" / "wall.pdf"
    board.write_page()
    assert "not written" in board.fault.text()


def test_the_board_ends_with_the_shift_and_keeps_a_joint_in_one_go(demo: MainWindow, board: BoardDialog, qtbot: QtBot) -> None:
    entered(board.end, "9:00")
    done, left = board.best.done_by(demo.store.job.shift.lasts_s)
    assert done and left and max(s.until_s for s in done) <= 2 * 3600
    assert f"{len(done)} of {len(board.best.slots)} passes" in board.title.text() and "next shift" in board.title.text()
    assert not board.grab().isNull()
    entered(board.end, "")
    board.rows.ways["H1"].textActivated.emit(IN_ONE_GO)
    settled(board, qtbot)
    rows = [i for i, id_ in enumerate(board.best.order) if id_ == "H1"]
    assert rows == list(range(rows[0], rows[-1] + 1)) and "next shift" not in board.title.text()


def test_cells_of_the_preheat_tables_are_entered_from_the_users_copy(demo: MainWindow) -> None:
    demo.go_to("heat")
    panel, joint = demo.panels["heat"], demo.store.joint
    assert "unverified" in panel.methods.text() and "AWS D1.1 annex asks" not in panel.warnings.text()
    press(demo, "Preheat tables")
    shown = demo.preheat_tables
    cell = annex_cell(joint.metal.steel.pcm, joint.heat.hydrogen_ml, joint.prep.thickness_mm, joint.heat.restraint)
    i, j = next((i, j) for i, row in enumerate(shown._keys()) for j, key in enumerate(row) if key == cell)
    assert shown.table.item(i, j).text().endswith("?")
    shown.table.item(i, j).setText("284 F")
    assert shown.table.item(i, j).text() == "140" and all(len(one.heat.own_cells) == 1 for one in demo.store.job.joints)
    assert "AWS D1.1 annex: 140" in panel.methods.text() and "from your copy" in panel.methods.text()
    assert "AWS D1.1 annex asks for 140" in panel.warnings.text()
    for wrong, word in (("900", "400"), ("warm", "not a number")):
        shown.table.item(i, j).setText(wrong)
        assert word in shown.fault.text() and shown.table.item(i, j).text() == "140"
    assert decoded(encoded(demo.store.job)).job == demo.store.job
    demo.actions_by_name["add_joint"].trigger()
    assert [c.least_c for c in demo.store.joint.heat.own_cells] == [140.0], "figures of the job hold for a joint added later"
    demo.store.undo()
    demo.store.show_joint(joint.id)
    shown.table.item(i, j).setText("")
    assert shown.table.item(i, j).text().endswith("?") and demo.store.joint.heat.own_cells == ()
    demo.store.undo()
    assert shown.table.item(i, j).text() == "140"
    shown.forget()
    assert "unverified" in panel.methods.text()
    shown.which.setCurrentIndex(3)
    shown.which.activated.emit(3)
    assert shown.table.rowCount() == 4 and not shown.table.item(0, 0).text().endswith("?") and shown.table.item(3, 0).text().endswith("?")
    assert not shown.grab().isNull()
    shown.close()


def test_heat_kept_on_and_warming_over_are_set_and_mend_the_far_end(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    panel = demo.panels["heat"]
    demo.store.edit_joint("Not warmed over", heat=replace(demo.store.joint.heat, warm_over_k=0.0))
    assert "falls below preheat" in panel.warnings.text()
    panel.held.click()
    assert demo.store.joint.heat.preheat_held and "falls below preheat" not in panel.warnings.text()
    panel.held.click()
    type_in(qtbot, panel.fields["warm_over_k"].edit, "110")
    assert demo.store.joint.heat.warm_over_k == 110 and "falls below preheat" not in panel.warnings.text()
