"""Heat in the real window: the rail in true time, settings, readings, curves and the board."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from banister.core.heat.preheat import SHOP_C, method_b_c, method_b_map
from banister.core.procedure.windows import Window
from banister.desktop.rail import CLOCK
from banister.desktop.window import MainWindow
from tests.desktop.test_window import type_in


def press(window: MainWindow, text: str) -> None:
    next(b for b in window.panels["heat"].findChildren(QPushButton) if b.text().startswith(text)).click()


def test_the_rail_becomes_true_to_time_with_waits_and_a_temperature_anywhere(demo: MainWindow) -> None:
    assert demo.store.heat is None
    demo.rail.set_scale(CLOCK)
    schedule = demo.store.heat.schedule
    posts = demo.rail.layout_posts()
    k = (posts[-1].x1 - posts[0].x0) / (schedule.passes[-1].end_s - schedule.passes[0].start_s)
    for post, passed in zip(posts, schedule.passes, strict=True):
        assert post.x0 - posts[0].x0 == pytest.approx((passed.start_s - schedule.passes[0].start_s) * k, abs=0.5)
        assert post.x1 - post.x0 == pytest.approx((passed.end_s - passed.start_s) * k, abs=0.5)
    moment = demo.rail.moment(posts[4].x0)
    assert "predicted" in moment and "\N{DEGREE SIGN}C" in moment
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
    assert "Waits" in panel.words.text() and "between" in panel.words.text()
    type_in(qtbot, panel.fields["air_c"].edit, "900")
    assert "enter -40 to 60" in panel.fields["air_c"].fault.text() and demo.store.joint.heat.air_c == 20
    demo.store.undo()
    demo.store.undo()
    assert demo.store.heat.schedule.waiting_s == pytest.approx(before.waiting_s)


def test_limits_that_no_joint_can_meet_are_said(demo: MainWindow) -> None:
    demo.go_to("heat")
    joint = demo.store.joint
    kept = tuple(w for w in joint.windows if w.quantity not in ("preheat", "interpass"))
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
    press(demo, "What would change it")
    assert panel.other_words.text().count("\n") >= 4 and "twice as wide" in panel.other_words.text()
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


def test_the_board_orders_what_is_ticked_and_keeps_breaks(demo: MainWindow) -> None:
    demo.actions_by_name["board"].trigger()
    board = demo.board
    everything = sum(len(plan.passes) for _, plan in board.jobs)
    assert board.list.count() == everything and board.best.end_s <= board.best.one_by_one_s
    board.boxes["H1"].click()
    assert board.list.count() < everything and "H1" not in {s.joint_id for s in board.best.slots}
    board.pause.edit.setText("8:00..9:00")
    board.order()
    assert all(not (s.started.start_s < 2 * 3600 and s.until_s > 3600) for s in board.best.slots)
    board.pause.edit.setText("9:00..8:00")
    board.order()
    assert "ends before it begins" in board.title.text()
    board.begin.edit.setText("soon")
    board.order()
    assert "7:30" in board.title.text() and not board.grab().isNull()
    board.close()


def test_the_preheat_map_shows_the_joints_steel_and_follows_it(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    press(demo, "Preheat map")
    shown = demo.preheat_map
    joint, plan = demo.store.joint, demo.store.plan
    assert joint.steel.is_known
    heat = min(p.heat_input_kj_mm for p in plan.passes)
    asked = method_b_c(joint.steel.cet, joint.thickness_mm, joint.heat.hydrogen_ml, heat)
    assert (f"{asked:.0f} \N{DEGREE SIGN}C" if asked > SHOP_C else "no preheat") in shown.title.text()
    before = shown.field.degrees
    wetter = method_b_map(joint.steel.cet, 15.0)
    demo.store.edit_joint("wetter", heat=replace(joint.heat, hydrogen_ml=15.0))
    assert shown.field.degrees == wetter != before
    assert all(a <= b for row in wetter for a, b in itertools.pairwise(row)), "thicker asks for no less"
    demo.store.edit_joint("stainless", heat=replace(joint.heat, stainless=True))
    assert "stainless" in shown.title.text() and shown.field.degrees == ()
    assert not shown.grab().isNull()


def test_the_board_ends_with_the_shift_and_keeps_a_locked_joint_together(demo: MainWindow) -> None:
    demo.actions_by_name["board"].trigger()
    board = demo.board
    board.end.edit.setText("9:00")
    board.order()
    done, left = board.shift.done(board.best)
    assert done and left and max(s.until_s for s in done) <= 2 * 3600
    assert f"{len(done)} of {len(board.best.slots)} passes" in board.title.text() and "next shift" in board.title.text()
    assert not board.grab().isNull()
    board.end.edit.setText("6:00")
    board.order()
    assert "ends before it begins" in board.title.text()
    board.end.edit.setText("")
    board.lock.setCurrentIndex(board.lock.findData("H1"))
    board.order()
    rows = [i for i, s in enumerate(board.best.slots) if s.joint_id == "H1"]
    assert rows == list(range(rows[0], rows[-1] + 1)) and "next shift" not in board.title.text()
    board.close()


def test_a_preheat_figure_read_in_the_users_copy_is_typed_and_warns(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("heat")
    panel = demo.panels["heat"]
    assert "unverified" in panel.methods.text() and "AWS D1.1 annex asks" not in panel.warnings.text()
    type_in(qtbot, panel.fields["annex_own_c"].edit, "140")
    assert "AWS D1.1 annex: 140" in panel.methods.text() and "from your copy" in panel.methods.text()
    assert "AWS D1.1 annex asks for 140" in panel.warnings.text()
    type_in(qtbot, panel.fields["annex_own_c"].edit, "900")
    assert demo.store.joint.heat.annex_own_c == 140.0
    demo.store.undo()
    assert demo.store.joint.heat.annex_own_c == 0.0 and "unverified" in panel.methods.text()
