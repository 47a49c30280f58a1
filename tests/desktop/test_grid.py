"""The grid of windows in the real window: typed, copied, pasted, refused, undone; and how many entries an ordinary procedure takes."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QLineEdit, QTableWidgetSelectionRange
from pytestqt.qtbot import QtBot

from banister.core.judge.grid import COLUMNS, Row, cell_window, plan_range
from banister.core.limits.windows import Bounds, Window
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.limits.grid import WindowGrid
from tests.desktop.conftest import type_in


@pytest.fixture
def grid(demo: MainWindow) -> WindowGrid:
    demo.store.edit_joint("No windows", windows=())
    demo.show()
    demo.go_to("limits")
    QApplication.processEvents()
    return demo.work.grid


def typed_into(qtbot: QtBot, grid: WindowGrid, row: int, quantity: str, text: str) -> None:
    """What a hand does: the cell, the keys, Enter."""
    grid.cells.setCurrentCell(row, grid.columns.index(quantity))
    grid.cells.setFocus()
    qtbot.keyClicks(grid.cells, text[0])
    (editor,) = (edit for edit in grid.cells.findChildren(QLineEdit) if edit.isVisible())
    qtbot.keyClicks(editor, text[1:])
    qtbot.keyClick(editor, Qt.Key.Key_Return)


def held(demo: MainWindow, quantity: str, row: Row) -> Bounds:
    return cell_window(demo.store.joint.working.windows, quantity, row)


def test_a_cell_is_typed_and_enter_goes_down(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    plan = demo.store.now.plan
    assert not grid.cells.isHidden() and demo.work.below.currentWidget() is grid and grid.cells.rowCount() == len(grid.rows) >= 6
    typed_into(qtbot, grid, 1, "amps", "70-110 A")
    assert held(demo, "amps", grid.rows[1]) == Bounds(70.0, 110.0) and grid.cells.currentRow() == 2
    assert grid.cells.item(1, 0).text() == "70..110" and demo.store.now.plan.passes == plan.passes, "what the plan keeps changes nothing"
    typed_into(qtbot, grid, 0, "weave", "..14")
    assert held(demo, "weave", Row()) == Bounds(high=14.0)
    demo.store.undo()
    demo.store.undo()
    assert demo.store.joint.working.windows == () and grid.cells.item(1, 0).text() == ""


def test_what_is_no_window_stays_marked_with_its_reason_and_changes_nothing(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    before = demo.store.job
    typed_into(qtbot, grid, 1, "amps", "90-9999")
    assert demo.store.job is before and grid.cells.item(1, 0).text() == "90-9999" and "1 to 2000 A" in grid.fault.text() and grid.fault.isVisible()
    typed_into(qtbot, grid, 1, "volts", "30-20")
    assert "Put the lower one first" in grid.fault.text() and demo.store.job is before
    type_in(qtbot, grid.above["interpass"], "hot")
    assert demo.store.job is before and grid.above["interpass"].property("wrong") is True and grid.above["interpass"].text() == "hot"
    type_in(qtbot, grid.above["interpass"], "220")
    assert held(demo, "interpass", Row()) == Bounds(high=220.0) and not grid.fault.isVisible() and grid.above["interpass"].property("wrong") is False


def test_cells_are_copied_pasted_and_cleared_as_one_step(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    QGuiApplication.clipboard().setText("80-120\t22-28\n90-125\t..29\n")
    grid.cells.setCurrentCell(1, 0)
    qtbot.keyClick(grid.cells, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert [held(demo, q, grid.rows[i]) for i in (1, 2) for q in ("amps", "volts")] == [
        Bounds(80, 120), Bounds(22, 28), Bounds(90, 125), Bounds(high=29)]  # fmt: skip
    grid.cells.setCurrentCell(2, 0)
    qtbot.keyClick(grid.cells, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert held(demo, "amps", grid.rows[3]) == Bounds(90, 125) and grid.cells.currentRow() == 3
    grid.cells.setRangeSelected(grid.cells.selectedRanges()[0], False)
    grid.cells.setCurrentCell(1, 1)
    qtbot.keyClick(grid.cells, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text() == "22..28"
    qtbot.keyClick(grid.cells, Qt.Key.Key_Delete)
    assert not held(demo, "volts", grid.rows[1]).is_set
    for _ in range(3):
        demo.store.undo()
    assert demo.store.joint.working.windows == ()


def test_inches_and_what_the_plan_has_stand_in_the_cells(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    demo.toggle_units()
    typed_into(qtbot, grid, 0, "arc_energy", "20-66")
    found = held(demo, "arc_energy", Row())
    assert found.low == pytest.approx(20 / 25.4) and found.high == pytest.approx(66 / 25.4)
    assert grid.cells.item(0, COLUMNS.index("arc_energy")).text() == "20.0..66.0"
    demo.store.edit_joint("Exact", windows=(Window(quantity="run_out", low=161.3, high=203.7),))
    grid.cells.setCurrentCell(0, COLUMNS.index("run_out"))
    qtbot.keyClick(grid.cells, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert held(demo, "run_out", grid.rows[1]) == Bounds(161.3, 203.7), "what is copied down is the window, not the rounded text of it"
    least, most = plan_range(Row().passes(demo.store.now.plan), None, "arc_energy")
    energies = [p.arc_energy_kj_mm for p in demo.store.now.plan.passes]
    assert (least, most) == (min(energies), max(energies)) and "plan 2" in grid.cells.item(0, COLUMNS.index("arc_energy")).toolTip()
    demo.store.edit_joint("By role", windows=(Window(quantity="t85", role="cap", low=5.0, high=30.0),))
    assert grid.columns[-1] == "t85" and Row("cap") in grid.rows and plan_range(Row("cap").passes(demo.store.now.plan), demo.store.now.heat, "t85") is not None


def test_an_ordinary_procedure_takes_under_40_entries(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    """Current, voltage and travel of every rod in every role, width, preheat and interpass: one entry a window, were none copied down."""
    entries = 0
    for quantity, text in (("amps", "60-230"), ("volts", "18-32"), ("travel", "50-300")):
        typed_into(qtbot, grid, 1, quantity, text)
        entries += len(grid.rows) - 1
        grid.cells.setRangeSelected(QTableWidgetSelectionRange(1, grid.columns.index(quantity), len(grid.rows) - 1, grid.columns.index(quantity)), True)
        grid.copy_down()
        grid.cells.clearSelection()
    typed_into(qtbot, grid, 0, "weave", "..16")
    for quantity, text in (("preheat", "80"), ("interpass", "250")):
        type_in(qtbot, grid.above[quantity], text)
    entries += 3
    assert len(demo.store.joint.working.windows) == entries < 40 and demo.store.now.feasible


def test_what_is_no_window_in_one_joint_is_not_told_of_another_chosen_elsewhere(demo: MainWindow, grid: WindowGrid, qtbot: QtBot) -> None:
    typed_into(qtbot, grid, 1, "amps", "90-9999")
    demo.go_to("joint")
    demo.go_to("limits")
    assert grid.cells.item(1, 0).text() == "90-9999" and grid.fault.isVisible(), "another step was only looked at"
    demo.go_to("joint")
    demo.store.look(joint_id=demo.store.job.joints[1].id)
    demo.go_to("limits")
    assert grid.cells.item(1, 0).text() != "90-9999" and not grid.fault.isVisible()
    demo.go_to("joint")
    demo.toggle_theme()
    demo.toggle_units()
    demo.go_to("limits")
    assert grid.cells.horizontalHeaderItem(grid.columns.index("travel")).text().endswith("in/min")
    colours = {grid.cells.item(i, j).foreground().color().name() for i in range(len(grid.rows)) for j in range(len(grid.columns))}
    assert colours <= {demo.theme.text, demo.theme.bad}, "another theme's colours are gone"
