"""Habits of the hand: nothing changes by accident, undoing is the job's, menus say what can be done, and what was chosen is kept."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, QSettings, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication, QCheckBox, QComboBox, QLabel, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from banister.core.limits.windows import ROLES
from banister.desktop.app import ahead
from banister.desktop.app.frame import MADE_BELOW
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import SOFT, TINTS
from banister.desktop.app.theme import DARK_THEME, LIGHT_THEME
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Direct
from banister.desktop.steps.registry import STEPS
from tests.desktop.conftest import Answers, choose, step, type_in
from tests.export.test_exports import contrast


def seen(window: MainWindow) -> None:
    window.show()
    window.activateWindow()
    QApplication.processEvents()


def test_a_wheel_over_what_is_not_in_use_changes_nothing(demo: MainWindow) -> None:
    seen(demo)
    before, boxes = demo.store.job, 0
    for one in STEPS:
        demo.go_to(one.key)
        QApplication.processEvents()
        for box in [box for box in demo.findChildren(QComboBox) if box.isVisible() and not box.hasFocus()]:
            at = QPointF(box.rect().center())
            event = QWheelEvent(at, box.mapToGlobal(at), QPoint(0, -120), QPoint(0, -120), Qt.MouseButton.NoButton,
                                Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
            shown = box.currentIndex()
            QApplication.sendEvent(box, event)
            assert box.currentIndex() == shown and not event.isAccepted()
            boxes += 1
    assert boxes >= 12 and demo.store.job is before


def test_esc_gives_a_field_back_and_undo_is_the_jobs_unless_one_types(demo: MainWindow, qtbot: QtBot) -> None:
    seen(demo)
    gap = step(demo, "joint").fields["root_gap_mm"]
    shown, before = gap.edit.text(), demo.store.job
    gap.edit.setFocus()
    gap.edit.selectAll()
    qtbot.keyClicks(gap.edit, "a gap")
    qtbot.keyClick(gap.edit, Qt.Key.Key_Return)
    assert gap.edit.text() == "a gap" and gap.fault.isVisible() and gap.fault.text() == gap.edit.accessibleDescription() != ""
    qtbot.keyClick(gap.edit, Qt.Key.Key_Escape)
    assert gap.edit.text() == shown and not gap.fault.isVisible() and demo.store.job is before
    type_in(qtbot, gap.edit, "4")
    assert demo.store.joint.prep.root_gap_mm == 4.0 and gap.edit.hasFocus()
    qtbot.keyClick(gap.edit, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert demo.store.job == before and gap.edit.text() == shown
    qtbot.keyClick(gap.edit, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert demo.store.joint.prep.root_gap_mm == 4.0
    qtbot.keyClicks(gap.edit, "9")
    qtbot.keyClick(gap.edit, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert demo.store.joint.prep.root_gap_mm == 4.0 and gap.edit.text() == "4", "what was typed goes first"


def test_enter_and_esc_in_the_board(demo: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    seen(demo)
    demo.open_view("board")
    board = demo.opened["board"]
    board.activateWindow()
    QApplication.processEvents()
    pressed = []
    board.halt.clicked.connect(lambda: pressed.append("stop"))
    board.halt.show()
    type_in(qtbot, board.begin.edit, "7:15")
    assert demo.store.job.shift.begins_s == 7.25 * 3600 and pressed == [] and board.isVisible()
    qtbot.keyClick(board.begin.edit, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert demo.store.job.shift.begins_s != 7.25 * 3600
    stopped = []
    monkeypatch.setattr(demo.store, "stop", lambda key: stopped.append(key))
    qtbot.keyClick(board, Qt.Key.Key_Escape)
    assert not board.isVisible() and stopped == ["board"]


def test_menus_say_what_can_be_done_and_what_is_on(window: MainWindow, tmp_path: Path) -> None:
    actions = window.menus.actions
    assert not any(actions[key].isEnabled() for key in ("save", "undo", "issue", "pdf", "drop_joint")) and actions["open"].isEnabled()
    window.open_demo()
    assert actions["pdf"].isEnabled() and not actions["undo"].isEnabled() and not actions["release"].isEnabled()
    window.store.edit_joint("another", root_gap_mm=3.5)
    window.store.select(window.store.now.plan.passes[2])
    assert actions["undo"].isEnabled() and actions["release"].isEnabled() and window.isWindowModified() and "[*]" in window.windowTitle()
    window.toggle_units()
    assert actions["units"].isChecked() and actions["step.passes"].isChecked() and not actions["step.heat"].isChecked()
    window.toggle_theme()
    assert actions["theme"].isChecked() and not actions["theme_system"].isChecked()
    window.follow_system()
    assert not actions["theme"].isChecked() and actions["theme_system"].isChecked()
    named = [action for menu in window.menuBar().actions() for action in menu.menu().actions() if not action.isSeparator()]
    for menu in window.menuBar().actions():
        letters = [action.text()[action.text().index("&") + 1].lower() for action in menu.menu().actions() if "&" in action.text()]
        assert len(set(letters)) == len(letters), (menu.text(), letters)
    assert len(named) > 40 and any(action.isSeparator() for action in window.menuBar().actions()[0].menu().actions())
    window.dialogs.path = tmp_path / "job.banister"
    window.save_as()
    window.menus.recent.aboutToShow.emit()
    assert [action.text() for action in window.menus.recent.actions()] == [str(tmp_path / "job.banister")]
    assert window.windowFilePath() == str(tmp_path / "job.banister") and not window.isWindowModified()
    window.show_about()
    assert "qualifies no procedure" in window.help_dialog.page.toPlainText()
    window.help_dialog.close()


def test_step_table_theme_and_text_size_are_kept_for_the_next_time(qtbot: QtBot, tmp_path: Path) -> None:
    settings = tmp_path / "window.ini"

    def opened() -> MainWindow:
        made = MainWindow(Direct(), Answers(), Preferences(QSettings(str(settings), QSettings.Format.IniFormat)), tmp_path / "recovery")
        made.show()
        return made

    first = opened()
    first.open_demo()
    first.go_to("heat")
    first.work.show_table()
    first.toggle_theme()
    first.set_text_size(130)
    first.close()
    again = opened()
    kept = again.store.view.step, again.store.view.dark, again.work.table_wanted, again.preferences.text_size
    again.close()
    for one in (first, again):
        one.deleteLater()
    assert kept == ("heat", True, True, 130)


def test_edges_hatches_and_lines_stand_out(demo: MainWindow) -> None:
    """3:1 at least for what is seen and no text: borders of what can be worked, hatches on their beads, limits and focus on their ground."""
    for theme in (LIGHT_THEME, DARK_THEME):
        d = theme.drawing
        pairs = [(theme.edge, theme.window), (theme.edge, theme.panel), (theme.accent, theme.window), (theme.accent, theme.panel),
                 (d["limit"], d["ground"]), (d["outside"], d["ground"]), (d["warmth"], d["ground"]),
                 *((d[f"hatch.{role}"], d[f"bead.{role}"]) for role in ("root", "hot", "cap"))]  # fmt: skip
        assert [pair for pair in pairs if contrast(*pair) < 3.0] == []


def test_where_the_keys_go_what_is_on_and_what_is_wrong_is_seen_in_both_themes(demo: MainWindow) -> None:
    seen(demo)
    demo.go_to("limits")
    panel, grid = demo.work.panel("limits"), demo.work.grid
    box, button, field = panel.findChildren(QCheckBox)[0], demo.work.rail_steps, grid.above["interpass"]
    note = next(label for label in panel.findChildren(QLabel) if label.foregroundRole() == TINTS[SOFT])

    def edge(widget: QWidget, x: int = 0) -> str:
        return widget.grab().toImage().pixelColor(x, widget.height() // 2).name()

    for theme in (LIGHT_THEME, DARK_THEME):
        demo.store.look(dark=theme.dark)
        box.setFocus()
        QApplication.processEvents()
        assert edge(box) == theme.accent and edge(field) == theme.edge and note.palette().color(note.foregroundRole()).name() == theme.soft
        assert edge(button) == theme.accent and edge(button, 4) == theme.accent_ground and edge(demo.work.rail_clock) == theme.edge, "what is on"
        field.setFocus()
        assert edge(field) == edge(field, 1) == theme.accent and edge(box) == theme.window
        box.setChecked(not box.isChecked())
        marked = theme.accent if box.isChecked() else theme.window
        assert edge(box, 4) == marked
        field.setProperty("wrong", True)
        assert edge(field) == theme.bad
        field.setProperty("wrong", False)
        demo.work.table.setFocus() if demo.work.table.isVisible() else grid.cells.setFocus()
        assert edge(grid.cells) == theme.accent


def test_every_field_names_itself_with_its_unit_and_tab_follows_the_eye(demo: MainWindow) -> None:
    seen(demo)
    for one in STEPS:
        demo.go_to(one.key)
        QApplication.processEvents()
        edits = [edit for edit in demo.work.panel(one.key).findChildren(QLineEdit) if edit.isVisible()]
        assert all(edit.accessibleName() for edit in edits), one.key
    gap = step(demo, "joint").fields["root_gap_mm"].edit
    assert gap.accessibleName().endswith(", mm") and "25" in gap.accessibleDescription()
    assert "Passes" not in demo.work.stair.accessibleName() and "Joint" in demo.work.stair.accessibleName()
    demo.store.select(demo.store.now.plan.passes[3])
    for view in (demo.section, demo.rail):
        assert "F4" in view.accessibleDescription()
    order, widget = [], demo.work.header.joints
    for _ in range(40):
        order.append(widget)
        widget = widget.nextInFocusChain()
    places = [order.index(w) for w in (demo.work.header.joints, demo.work.stair, demo.section)]
    assert places == sorted(places)
    demo.enter_step("joint")
    assert demo.work.panel("joint").isAncestorOf(QApplication.focusWidget())


def test_a_word_is_explained_until_it_is_put_away(demo: MainWindow) -> None:
    seen(demo)
    panel = step(demo, "rods")
    box = panel._explained["candidate"]
    assert box.isVisible()
    next(b for b in box.findChildren(QPushButton)).click()
    assert not box.isVisible() and "candidate" in demo.preferences.view().put_away and panel.techniques._explained["technique"].isVisible()


def test_ctrl_c_copies_what_has_the_keys_and_an_edit_leaves_them_there(demo: MainWindow, qtbot: QtBot) -> None:
    seen(demo)
    board = QApplication.clipboard()
    for view in (demo.section, demo.rail):
        view.setFocus()
        qtbot.keyClick(view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        data = board.mimeData()
        assert data.hasImage() and bytes(data.data("image/svg+xml")).startswith(b"<svg") and "F4" in data.text()
    demo.work.show_table()
    demo.table.setFocus()
    qtbot.keyClick(demo.table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert board.text() == demo.table.as_text()
    panel = step(demo, "rods")
    QApplication.processEvents()
    box = panel.rows.itemAt(ROLES.index("cap")).widget().findChildren(QComboBox)[0]
    box.setFocus()
    box.activated.emit(box.findData("E7018-2.5x350"))
    QApplication.processEvents()
    held = QApplication.focusWidget()
    assert held is not None and held is not box and held.accessibleName() == demo.store.say("rods.candidate", role=demo.store.say("role.cap"))


def test_the_board_and_the_curves_are_walked_by_keys_and_said(demo: MainWindow, qtbot: QtBot) -> None:
    demo.open_view("board")
    board = demo.opened["board"]
    for _ in range(3):
        qtbot.keyClick(board.rows, Qt.Key.Key_Right)
    slot = board.best.in_time[2]
    assert board.rows.lit == slot and slot.joint_id in board.rows.accessibleDescription() and board.list.currentRow() >= 0
    board.close()
    demo.open_view("curves")
    curves = demo.opened["curves"]
    before = curves.at_s
    qtbot.keyClick(curves.over, Qt.Key.Key_Left)
    assert curves.at_s < before and curves.over.accessibleDescription() == curves.moment.text() != ""
    curves.close()


def test_what_the_steps_show_is_made_while_nobody_works(demo: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(ahead, "QUIET_MS", 10)
    monkeypatch.setattr(ahead, "BETWEEN_MS", 0)
    computing = ["a plan"]
    monkeypatch.setattr(type(demo.errands), "busy", property(lambda _: tuple(computing)))
    ahead.Ahead(demo.work, demo.store)
    seen(demo)
    shown = demo.work.side.currentWidget()
    qtbot.wait(60)
    demo.toggle_units()
    qtbot.wait(60)
    assert list(demo.work.panels) == [demo.store.view.step], "not before something changed, nor while something is computed"
    computing.clear()
    qtbot.waitUntil(lambda: set(demo.work.panels) == {one.key for one in STEPS} and set(MADE_BELOW) <= set(vars(demo.work)))
    assert demo.work.side.currentWidget() is shown and not demo.work.below.isVisible()
    assert {key for key, panel in demo.work.panels.items() if panel.shown is not None} == {*ahead.FILLED, demo.store.view.step}
    assert demo.work.grid.cells.rowCount() and demo.work.panels["practice"].desk.is_example, "cells are filled, a book is open"
    for key in ("limits", "passes"):
        step(demo, key)
    assert demo.work.table.rowCount() == 0, "and the table, which nobody wants, is not filled on the way"


def test_what_stands_in_a_field_is_the_same_figure_in_other_units(demo: MainWindow, qtbot: QtBot) -> None:
    heat, rods, seen = (step(demo, key) for key in ("heat", "rods", "inspect"))
    choose(rods.own.like, next(key for key, rod in rods.own.known.items() if rod.diameter_mm == 2.5))
    kept = rods.own.diameter.edit.text(), rods.own.length.edit.text()
    drafts = {heat.temp: "120", heat.at: "25 min", rods.own.length: "1/8", seen.fields["height"]: "3 mm", seen.fields["depth"]: "three"}
    for field, text in drafts.items():
        field.edit.clear()
        qtbot.keyClicks(field.edit, text)
    demo.toggle_units()
    for key in ("heat", "rods", "inspect"):
        step(demo, key)
    assert heat.temp.edit.text() == "248" and heat.temp.value() == pytest.approx(120.0) and heat.temp.edit.isModified()
    assert rods.own.diameter.edit.text() == "0.098" and not rods.own.diameter.edit.is_new
    assert [field.edit.text() for field in drafts][1:] == ["25 min", "1/8", "3 mm", "three"], "what names its unit, and what is none"
    demo.toggle_units()
    for key in ("heat", "rods", "inspect"):
        step(demo, key)
    assert heat.temp.edit.text() == "120" and rods.own.diameter.value() == pytest.approx(2.5, abs=0.02) and kept[0] == "2.5"


def test_a_pipes_clock_is_the_same_in_other_units_and_so_is_a_pass_that_is_heard(demo: MainWindow) -> None:
    demo.store.look(joint_id="P4")
    seen = step(demo, "inspect")
    seen.place.edit.setText("3")
    demo.store.select(demo.store.now.plan.passes[2])
    assert "mm" in demo.section.accessibleDescription()
    demo.toggle_units()
    assert seen.place.edit.text() == "3" and "mm" not in demo.section.accessibleDescription()
    step(demo, "passes")
    demo.toggle_theme()
    explained = demo.work.panel("passes")._explained
    assert explained and not any(box.isVisible() for box in explained.values()), "what is said of the whole plan stays away while one pass is shown"
