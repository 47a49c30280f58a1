"""The weld list in the real window: sorted, filtered, typed over as edits of the job, read and written."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QItemSelectionModel, Qt
from PySide6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from banister.core.limits.windows import Window
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from banister.desktop.listing.dialog import ListDialog
from banister.desktop.listing.model import COLUMNS
from tests.conftest import texts_of
from tests.desktop.conftest import Answers, Late

NEW = "id,name,preparation,thickness_mm,root_gap_mm,backing,length_mm,position,alike,week\nS1,Sill seam,single-v,14,3,open,800,1G,4,2026-W50\n"


@pytest.fixture
def welds(demo: MainWindow) -> ListDialog:
    """The list of the demo's welds."""
    demo.open_view("list")
    QApplication.processEvents()
    return demo.opened["list"]


def column(key: str) -> int:
    return next(i for i, c in enumerate(COLUMNS) if c.key == key)


def cells(view: ListDialog, key: str) -> list[str]:
    return [str(view.order.index(i, column(key)).data()) for i in range(view.order.rowCount())]


def put(view: ListDialog, row: int, key: str, text: str) -> bool:
    return view.order.setData(view.order.index(row, column(key)), text)


def test_welds_are_sorted_filtered_and_put_together(welds: ListDialog) -> None:
    assert cells(welds, "id") == ["F2", "G1", "H1", "P4"] and welds.title.text().startswith("4 welds: ")
    welds.table.sortByColumn(column("thickness"), Qt.SortOrder.DescendingOrder)
    assert cells(welds, "id") == ["H1", "F2", "G1", "P4"], "by the figure, not by its letters"
    welds.filter.edit.setText("e6010 pipe")
    assert cells(welds, "id") == ["P4"] and welds.title.text().startswith("1 weld: ")
    welds.by.show_choice("procedure")
    welds._show_totals()
    assert "OLP-12" in texts_of(welds.bars.drawing) and "OL-12" not in texts_of(welds.bars.drawing)
    welds.filter.edit.setText("nothing like it")
    assert cells(welds, "id") == [] and welds.buy.rowCount() == 0
    welds.filter.edit.clear()
    assert welds.buy.rowCount() > 1


def test_a_cell_typed_over_is_an_edit_with_undo_and_a_bad_one_loses_nothing(demo: MainWindow, welds: ListDialog) -> None:
    rods = welds.model.welds[0].rods
    assert put(welds, 0, "alike", "3") and demo.store.job.joint("F2").alike == 3
    assert {k: 3 * n for k, n in rods.items()} == dict(welds.model.welds[0].rods)
    assert not demo.store.job.changed_since_issued(demo.store.job.joint("F2")), "how many of it leaves its sheet standing"
    assert put(welds, 0, "week", "2026-w7") and cells(welds, "week")[0] == "2026-W07"
    for key, text, part in (("week", "soon", "2026-W48"), ("alike", "none", ""), ("thickness", "-4", ""), ("position", "9Q", "9Q")):
        before = demo.store.job
        welds.bad.clear()
        put(welds, 0, key, text)
        assert demo.store.job is before and welds.bad.text() and part in welds.bad.text(), key
    beads = welds.model.welds[0].beads
    assert put(welds, 0, "thickness", "26") and demo.store.job.joint("F2").prep.thickness_mm == 26.0 and welds.model.welds[0].beads > beads
    demo.store.undo()
    demo.store.undo()
    demo.store.undo()
    assert demo.store.job.joint("F2").alike == 1 and cells(welds, "alike")[0] == "1"


def test_a_cell_left_as_it_stands_changes_nothing_in_either_unit(demo: MainWindow, welds: ListDialog) -> None:
    job = demo.store.job
    for _ in range(2):
        demo.toggle_units()
        for row in range(welds.order.rowCount()):
            for key, shown in [(c.key, welds.order.index(row, column(c.key)).data()) for c in COLUMNS if c.typed is not None]:
                put(welds, row, key, shown)
                assert demo.store.job is job, (row, key, shown)


def test_a_weld_put_under_a_procedure_takes_its_limits(demo: MainWindow, welds: ListDialog) -> None:
    amps = (Window(quantity="amps", low=80.0, high=140.0),)
    demo.store.edit(demo.store.job.with_procedure(replace(demo.store.job.procedures[0], windows=amps)), "limits")
    assert put(welds, 2, "procedure", "OL-12")
    windows = demo.store.job.joint("H1").working.windows
    assert [(w.quantity, w.low, w.high) for w in windows] == [("amps", 80.0, 140.0)] and windows[0].origin
    assert put(welds, 2, "procedure", "OL-99")
    assert demo.store.job.joint("H1").procedure == "OL-99" and not demo.store.job.joint("H1").working.windows


def test_what_to_buy_rests_on_figures_that_are_shown_and_typed_in_either_unit(demo: MainWindow, welds: ListDialog) -> None:
    spare, packet = welds.buying["spare"], welds.buying["packet"]
    assert (spare.edit.text(), packet.edit.text(), packet.unit.text()) == ("10", "5.00", "kg") and "packets of 5.00 kg" in welds.buy_said.text()
    demo.toggle_units()
    assert (packet.edit.text(), packet.unit.text()) == ("11.02", "lb") and "packets of 11.02 lb" in welds.buy_said.text()
    packet.edit.setText("50")
    packet.edit.editingFinished.emit()
    assert welds.packet == pytest.approx(50 * 0.45359237) and "packets of 50.00 lb" in welds.buy_said.text()


def test_stopped_shows_what_was_planned_so_far(welds: ListDialog) -> None:
    welds.cancel.show()
    welds.so_far = replace(welds.found, welds=welds.found.welds[:2])
    welds._stop()
    assert len(cells(welds, "id")) == 2 and "2 of 4" in welds.progress.text() and welds.cancel.isHidden()


def test_lists_are_read_whole_written_as_shown_and_lead_to_the_weld(demo: MainWindow, welds: ListDialog, dialogs: Answers, tmp_path: Path) -> None:
    dialogs.path = tmp_path / "welds.csv"
    dialogs.path.write_text(NEW.replace(",14,", ",fourteen,"), encoding="utf-8")
    welds.read_list()
    assert "line 2, thickness_mm" in welds.bad.text() and len(demo.store.job.joints) == 4
    dialogs.path.write_text(NEW, encoding="utf-8")
    welds.read_list()
    assert not welds.bad.text() and cells(welds, "id")[-1] == "S1" and demo.store.job.joint("S1").alike == 4
    welds.filter.edit.setText("s1")
    welds.write_list()
    assert [line.split(",")[0] for line in dialogs.path.read_text(encoding="utf-8").splitlines()] == ["id", "S1"]
    welds.table.selectionModel().setCurrentIndex(welds.order.index(0, 0), QItemSelectionModel.SelectionFlag.ClearAndSelect)
    welds.go_to_weld()
    assert demo.store.joint.id == "S1"


def test_a_preparation_is_chosen_in_place_and_lengths_are_typed_in_the_unit_shown(demo: MainWindow, welds: ListDialog) -> None:
    say, delegate = demo.store.say, welds.table.itemDelegateForColumn(column("preparation"))
    box = delegate.createEditor(welds.table, None, welds.order.index(0, column("preparation")))
    assert box.currentText() == say("preparation_short.single-v") and box.count() == 12
    box.setCurrentText(say("preparation_short.single-u"))
    delegate.setModelData(box, welds.order, welds.order.index(0, column("preparation")))
    box.deleteLater()
    joint = demo.store.job.joint("F2")
    assert joint.prep.key == "single-u" and joint.prep.thickness_mm == 22.0 and joint.prep.root_radius_mm > 0 and joint.working.rods
    put(welds, 0, "preparation", "butter")
    assert "butter" in welds.bad.text() and demo.store.job.joint("F2") is joint
    demo.toggle_units()
    assert put(welds, 0, "thickness", "0.9") and demo.store.job.joint("F2").prep.thickness_mm == pytest.approx(22.86)


def test_cells_typed_faster_than_the_list_is_planned_all_count_and_stay_open(demo: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    errands = Late(demo.store.errands, {"list"})
    monkeypatch.setattr(demo.store, "errands", errands)
    demo.open_view("list")
    errands.bring()
    view = demo.opened["list"]
    assert put(view, 0, "thickness", "26") and put(view, 0, "welder", "K9")
    joint = demo.store.job.joint("F2")
    assert (joint.prep.thickness_mm, joint.welder) == (26.0, "K9") and view.order.index(0, column("thickness")).data() == "26"
    view.table.setCurrentIndex(view.order.index(1, column("drawing")))
    view.table.setFocus()
    qtbot.keyClicks(view.table, "O")
    (editor,) = (edit for edit in view.table.findChildren(QLineEdit) if edit.isVisible())
    qtbot.keyClicks(editor, "L-77")
    errands.bring()
    assert editor.isVisible() and editor.text() == "OL-77" and view.model.welds[0].joint is joint
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: demo.store.job.joint("G1").drawing == "OL-77")
    assert demo.store.job.joint("F2") is joint
    view.close()
