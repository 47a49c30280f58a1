"""Procedure, welder, steel, techniques and the chooser in the real window."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from pytestqt.qtbot import QtBot

from banister.core.plan.spending import Rates, spent_on
from banister.core.remark import OUTSIDE
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.joint.chooser import PICTURE
from banister.job.codec import decoded, encoded
from tests.cli.test_breadth import PROCEDURE, WELDER
from tests.desktop.conftest import Answers, choose, press, step, type_in


def without_documents(window: MainWindow) -> None:
    panel = step(window, "procedure")
    choose(panel.procedure, "")
    choose(panel.welder, "")


def coverage(window: MainWindow) -> dict[str, str]:
    found = [(r.code.removeprefix("cover."), r.verdict) for r in window.store.now.judgement.coverage]
    return dict(found) | {code: verdict for code, verdict in found if verdict == OUTSIDE}


def test_procedure_and_welder_are_imported_and_judge_at_once(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    without_documents(demo)
    panel, store = demo.work.panel("procedure"), demo.store
    assert coverage(demo) == {}
    dialogs.path = tmp_path / "p.json"
    changed = json.loads(json.dumps(PROCEDURE))
    changed["procedure"]["consumables"] = [{"role": "root", "type": "E7018"}]
    dialogs.path.write_text(json.dumps(changed))
    press(demo, "procedure", "procedure.import")
    assert store.joint.procedure == "OL-12" and any(w.origin == "OL-12" for w in store.joint.working.windows)
    found = coverage(demo)
    assert found["thickness"] == "inside" and found["consumable"] == "outside"
    assert {p.key for p in store.now.plan.passes if p.role == "root"} <= store.now.outside
    assert demo.work.stair.states[2].text == store.say("stair.outside", n=1) and "<b style" in panel.lines.text()
    dialogs.path = tmp_path / "w.json"
    dialogs.path.write_text(json.dumps(WELDER))
    press(demo, "procedure", "procedure.import_welder")
    assert coverage(demo)["welder.continuity"] == "outside"
    dialogs.path.write_text("{")
    press(demo, "procedure", "procedure.import_welder")
    assert "w.json: line 1" in demo.notices.shown.text and store.joint.welder == "K7"
    choose(panel.procedure, "")
    assert store.joint.procedure == "" and not any(w.origin for w in store.joint.working.windows)
    dialogs.path = tmp_path / "made.json"
    press(demo, "procedure", "procedure.write")
    assert json.loads(dialogs.path.read_text())["procedure"]["positions"] == ["3G"]


def test_a_range_is_overridden_with_a_reason_only(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    without_documents(demo)
    panel, store = demo.work.panel("procedure"), demo.store
    panel.override()
    assert panel.refused.text() == store.say("override.first")
    dialogs.path = tmp_path / "p.json"
    dialogs.path.write_text(json.dumps(PROCEDURE))
    press(demo, "procedure", "procedure.import")
    choose(panel.variable, "thickness")
    panel.low.edit.setText("24")
    press(demo, "procedure", "override.set")
    assert "reason" in panel.refused.text() and coverage(demo)["thickness"] == "inside"
    panel.reason.edit.setText("test plate 7")
    press(demo, "procedure", "override.set")
    line = next(r for r in store.now.judgement.coverage if r.code == "cover.thickness")
    assert line.verdict == OUTSIDE and "test plate 7" in panel.lines.text()
    store.undo()
    assert coverage(demo)["thickness"] == "inside"


def test_the_steel_gives_its_equivalents(demo: MainWindow, qtbot: QtBot) -> None:
    panel, plan = step(demo, "procedure"), demo.store.now.plan
    choose(panel.preset, panel.preset.box.itemData(2))
    assert "CEV 0.432" in panel.steel_words.text() and "44 mm" in panel.steel_words.text()
    type_in(qtbot, panel.percent["mn"], "9")
    assert "0 to 3" in panel.refused.text()
    type_in(qtbot, panel.percent["mn"], "2.4")
    assert "CET is not made for" in panel.steel_words.text() and demo.store.now.plan is plan


def test_techniques_are_compared_applied_and_saved(demo: MainWindow) -> None:
    panel, store = step(demo, "rods").techniques, demo.store
    known = store.library.techniques
    press(demo, "rods", "technique.compare")
    assert panel.compared.text().count("\n") == len(known) - 1 and "kJ/mm" in panel.compared.text()
    choose(panel.technique, "tig-basic")
    assert "Risks" in panel.words_of_it.text()
    press(demo, "rods", "technique.apply")
    assert store.now.plan.passes[0].process == "GTAW" and store.now.plan.passes[0].efficiency == 0.6
    demo.toggle_units()
    assert "kJ/in" in panel.compared.text() and "kJ/mm" not in panel.compared.text(), "still known: a technique brings its own rods"
    store.edit_joint("Gap", root_gap_mm=3.2)
    assert panel.compared.text() == "", "that was another groove"
    panel.own_name.edit.setText("night shift way")
    press(demo, "rods", "technique.save")
    assert [t.title for t in store.library.techniques[len(known) :]] == ["night shift way"]


def test_rates_are_part_of_the_job_and_a_cost_is_told_only_with_them(demo: MainWindow) -> None:
    sheet, passes = step(demo, "sheet"), step(demo, "passes")
    assert "kWh from the mains" in passes.text.text() and "Costs" not in passes.text.text()
    field = sheet.rates["hour"]
    for text, hour in (("-3", 0.0), ("45", 45.0)):
        field.edit.setText(text)
        field.edit.editingFinished.emit()
        assert demo.store.job.rates == Rates(hour=hour) and bool(field.fault.text()) == (text == "-3")
    spent = spent_on(demo.store.now.plan, demo.store.now.heat.schedule.end_s)
    assert f"Costs {spent.total_s / 3600 * 45:.2f} at your rates" in passes.text.text()
    assert decoded(encoded(demo.store.job)).job.rates == Rates(hour=45.0)
    demo.store.undo()
    assert demo.store.job.rates == Rates() and "Costs" not in passes.text.text()
    demo.toggle_units()
    by_pound = sheet.rates["rods_kg"]
    by_pound.edit.setText("2.72")
    by_pound.edit.editingFinished.emit()
    assert "pound" in by_pound.label.text() and demo.store.job.rates.rods_kg == pytest.approx(2.72 / 0.45359237)
    demo.toggle_units()
    assert by_pound.edit.text() == "6.00" and "kg" in by_pound.label.text()


def test_a_rods_figures_are_typed_refused_and_judged_anew(demo: MainWindow, qtbot: QtBot) -> None:
    panel, store = step(demo, "rods"), demo.store
    rod = panel.shown_rod.key
    type_in(qtbot, panel.figures["recovery"].edit, "9")
    assert "0.3 to 3" in panel.figures["recovery"].fault.text() and store.job.rods_by_id[rod].recovery < 2
    type_in(qtbot, panel.figures["stub_mm"].edit, "70")
    assert store.job.rods_by_id[rod].stub_mm == 70
    choose(panel.hydrogen, "H5")
    assert store.job.rods_by_id[rod].hydrogen == "H5"


def test_the_chooser_compares_sorts_and_makes_the_joint(demo: MainWindow) -> None:
    store = demo.store
    store.look(joint_id="H1")
    before = store.joint
    demo.menus.actions["compare"].trigger()
    chooser = demo.opened["chooser"]
    one_side = chooser.table.rowCount()
    chooser.access.setCurrentIndex(1)
    chooser.access.activated.emit(1)
    assert chooser.table.rowCount() > one_side >= 3 and "square" in chooser.refused.text()
    for column in (1, 3, 7):
        chooser.table.sortItems(column)
        keys = [chooser.table.item(row, column).data(Qt.ItemDataRole.UserRole) for row in range(chooser.table.rowCount())]
        assert keys == sorted(keys)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("banister.desktop.steps.joint.chooser.paint", None)  # other units draw no section anew
        demo.toggle_units()
    assert not any(" mm" in text for text in (chooser.title.text(), chooser.refused.text()))
    assert [chooser.table.item(row, 7).data(Qt.ItemDataRole.UserRole) for row in range(chooser.table.rowCount())] == keys, "in the order it had"
    demo.toggle_units()
    found, picture = list(chooser.found), chooser.table.item(0, 0).icon().pixmap(PICTURE).toImage()
    demo.toggle_theme()
    assert demo.opened["chooser"] is chooser and chooser.found == found, "nothing is compared once more for other colours"
    assert chooser.table.item(0, 0).icon().pixmap(PICTURE).toImage() != picture
    store.look(joint_id="G1")
    assert chooser.title.text().startswith("G1") and all(c.candidate.joint is None or c.candidate.joint.name == store.joint.name for c in chooser.found)
    store.look(joint_id="H1")
    row = next(r for r in range(chooser.table.rowCount()) if chooser.table.item(r, 0).text() == "double bevel")
    assert not chooser.table.item(row, 0).icon().isNull()
    chooser.table.selectRow(row)
    chooser.take()
    assert store.joint.prep.key == "double-bevel" and store.joint.id == "H1" and store.now.feasible
    store.undo()
    assert store.joint == before


@pytest.mark.parametrize("key", ["import", "import_welder"])
def test_a_dialog_left_without_a_file_changes_nothing(demo: MainWindow, key: str) -> None:
    step(demo, "procedure")
    before = demo.store.job
    press(demo, "procedure", f"procedure.{key}")
    assert demo.store.job is before
