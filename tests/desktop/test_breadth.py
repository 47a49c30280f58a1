"""Preparations, second sides, the chooser, procedures and schools, in the real window."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from banister.core.drawing.section import handles_of
from banister.core.joint.defaults import with_preparation
from banister.core.joint.kinds import KINDS
from banister.desktop.section_view import STEP, dragged_value
from banister.desktop.window import MainWindow
from banister.job.library import techniques
from tests.cli.test_breadth import PROCEDURE, WELDER
from tests.conftest import make_joint
from tests.desktop.conftest import Answers
from tests.desktop.test_window import type_in


def choose(field: object, key: str) -> None:
    field.box.setCurrentIndex(field.box.findData(key))
    field.box.activated.emit(field.box.currentIndex())


def press(window: MainWindow, panel: str, text: str) -> None:
    next(b for b in window.panels[panel].findChildren(QPushButton) if b.text().startswith(text)).click()


def without_documents(window: MainWindow) -> None:
    window.go_to("procedure")
    choose(window.panels["procedure"].procedure, "")
    choose(window.panels["procedure"].welder, "")


@pytest.mark.parametrize("key", list(KINDS))
def test_any_preparation_is_chosen_planned_undone_saved_and_opened(window: MainWindow, key: str, dialogs: Answers, tmp_path: Path) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    window.go_to("joint")
    before = window.store.joint
    choose(window.panels["joint"].preparation, key)
    joint = window.store.joint
    assert joint.prep.key == key
    plan = window.store.plan
    assert plan.feasible or (key == "square" and plan.reasons[0].remedy)
    shown = {name for name, field in window.panels["joint"].fields.items() if not field.isHidden()}
    assert ("front_share" in shown) == KINDS[key].double and ("leg_left_mm" in shown) == KINDS[key].fillet
    assert ("root_radius_mm" in shown) == ("round" in KINDS[key].shapes)
    dialogs.path = tmp_path / "all.banister"
    assert window.save_as()
    window.open_path(dialogs.path)
    window.store.show_joint("H1")
    assert window.store.joint == joint
    window.open_demo()
    window.store.show_joint("H1")
    if key != "single-v":
        choose(window.panels["joint"].preparation, key)
        window.store.undo()
    assert window.store.joint == before


@pytest.mark.parametrize("key", [k for k in KINDS if k != "square"])
def test_every_handle_lies_where_its_value_puts_it(key: str) -> None:
    joint = replace(with_preparation(make_joint(thickness_mm=32.0), key))
    handles = handles_of(joint)
    assert {h.id for h in handles} <= set(STEP) and len(handles) >= 2
    for handle in handles:
        value = getattr(joint, handle.id)
        assert dragged_value(joint, handle.id, *handle.at) == pytest.approx(value, abs=STEP[handle.id]), handle.id
        away = dragged_value(joint, handle.id, handle.at[0] + 4.0, handle.at[1] + 4.0)
        assert away != value, handle.id


def test_the_share_of_a_double_groove_is_dragged_as_one_step(window: MainWindow, qtbot: QtBot) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    choose(window.panels["joint"].preparation, "double-v")
    section = window.section
    start = section.frame_px.px(*next(h for h in section.drawing.handles if h.id == "front_share").at).toPoint()
    steps = len(window.store.history.past)
    qtbot.mousePress(section, Qt.MouseButton.LeftButton, pos=start)
    for dy in (6, 14, 26):
        qtbot.mouseMove(section, start + QPoint(0, dy))
    qtbot.mouseRelease(section, Qt.MouseButton.LeftButton, pos=start + QPoint(0, 26))
    assert window.store.joint.prep.front_share > 0.5 and len(window.store.history.past) == steps + 1
    assert {p.side for p in window.store.plan.passes} == {"front", "back"}


def test_a_contradiction_is_said_at_its_field_and_loses_nothing(window: MainWindow, qtbot: QtBot) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    choose(window.panels["joint"].preparation, "double-u")
    panel, joint = window.panels["joint"], window.store.joint
    for name, text, said in (("root_radius_mm", "29", "at most"), ("front_share", "1.5", "0.1 to 0.9"), ("back_bevel_deg", "-4", "0 to 60")):
        type_in(qtbot, panel.fields[name].edit, text)
        assert said in panel.fields[name].fault.text() and window.store.joint == joint
        panel.fields[name].edit.setModified(False)


def test_balance_takes_the_straightest_share_and_order(window: MainWindow) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    window.store.edit_joint("Set share", preparation="double-v", front_share=0.3)
    press(window, "joint", "Balance")
    assert 0.35 <= window.store.joint.prep.front_share <= 0.6
    assert window.note.text().startswith("Balance: front")
    window.store.undo()
    assert window.store.joint.prep.front_share == 0.3


def test_a_bead_of_the_back_is_selected_and_pinned_there(window: MainWindow, qtbot: QtBot) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    choose(window.panels["joint"].preparation, "double-v")
    found = next(p for p in window.store.plan.passes if p.side == "back" and p.role == "fill")
    window.store.select(found)
    window.go_to("passes")
    type_in(qtbot, window.panels["passes"].area.edit, f"{1.08 * found.area_mm2:.1f}")
    pinned = [p for p in window.store.plan.passes if p.state == "pinned"]
    assert [p.side for p in pinned] == ["back"] and pinned[0].area_mm2 == pytest.approx(1.08 * found.area_mm2, abs=0.1)
    window.store.release()
    assert not window.store.joint.working.pins


def test_the_chooser_compares_sorts_and_makes_the_joint(window: MainWindow, qtbot: QtBot) -> None:
    window.open_demo()
    window.store.show_joint("H1")
    before = window.store.joint
    window.actions_by_name["compare"].trigger()
    chooser = window.chooser
    one_side = chooser.table.rowCount()
    chooser.access.setCurrentIndex(1)
    chooser.access.activated.emit(1)
    assert chooser.table.rowCount() > one_side >= 3
    assert "square" in chooser.refused.text()
    for column in (1, 3, 7):
        chooser.table.sortItems(column)
        keys = [chooser.table.item(row, column).data(Qt.ItemDataRole.UserRole) for row in range(chooser.table.rowCount())]
        assert keys == sorted(keys)
    row = next(r for r in range(chooser.table.rowCount()) if chooser.table.item(r, 0).text() == "double V")
    assert not chooser.table.item(row, 0).icon().isNull()
    chooser.table.selectRow(row)
    chooser.take()
    assert window.store.joint.prep.key == "double-v" and window.store.joint.id == "H1" and window.store.plan.feasible
    window.store.undo()
    assert window.store.joint == before


def test_procedure_and_welder_are_taken_in_and_judge_at_once(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    without_documents(demo)
    assert demo.store.covered == ()
    dialogs.path = tmp_path / "p.json"
    changed = json.loads(json.dumps(PROCEDURE))
    changed["procedure"]["consumables"] = [{"role": "root", "type": "E7018"}]
    dialogs.path.write_text(json.dumps(changed))
    press(demo, "procedure", "Take in a procedure")
    assert demo.store.joint.procedure == "OL-12" and any(w.origin == "OL-12" for w in demo.store.joint.windows)
    verdicts = {c.item: c.verdict for c in demo.store.covered}
    assert verdicts["thickness"] == "inside" and verdicts["consumable, root"] == "outside"
    assert "p1" in demo.store.outside and "1 outside" in [state.state for state in demo._steps(demo.store.joint)]
    assert "inside</b> <b>thickness" in demo.panels["procedure"].lines.text()
    dialogs.path = tmp_path / "w.json"
    dialogs.path.write_text(json.dumps(WELDER))
    press(demo, "procedure", "Take in a welder")
    assert any("continuity" in c.item and c.verdict == "outside" for c in demo.store.covered)
    dialogs.path.write_text("{")
    press(demo, "procedure", "Take in a welder")
    assert "not valid JSON" in demo.panels["procedure"].fault.text() and demo.store.joint.welder == "K7"
    choose(demo.panels["procedure"].procedure, "")
    assert demo.store.joint.procedure == "" and not any(w.origin for w in demo.store.joint.windows)
    dialogs.path = tmp_path / "made.json"
    press(demo, "procedure", "Write this joint")
    assert json.loads(dialogs.path.read_text())["procedure"]["positions"] == ["3G"]


def test_the_steel_gives_its_equivalents(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("procedure")
    panel, plan = demo.panels["procedure"], demo.store.plan
    choose(panel.preset, panel.preset.box.itemData(2))
    assert "CEV 0.432" in panel.steel_words.text() and "44 mm" in panel.steel_words.text()
    type_in(qtbot, panel.percent["mn"], "9")
    assert "enter 0 to 3" in panel.fault.text()
    type_in(qtbot, panel.percent["mn"], "2.4")
    assert "CET is not made for" in panel.steel_words.text() and demo.store.plan is plan


def test_a_school_is_compared_applied_and_kept(demo: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    demo.go_to("rods")
    panel = demo.panels["rods"]
    press(demo, "rods", "Compare all schools")
    assert panel.compared.text().count("\n") == len(techniques()) - 1
    choose(panel.school, "tig-basic")
    assert "Risks" in panel.school_words.text()
    press(demo, "rods", "Weld by this school")
    assert demo.store.plan.passes[0].process == "GTAW" and demo.store.plan.passes[0].efficiency == 0.6
    panel.own_school.edit.setText("night shift way")
    press(demo, "rods", "Keep this joint")
    assert any(t.title == "night shift way" for t in techniques())


def test_the_manner_of_drawing_is_one_switch(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    texts = [s.text for s in demo.section.drawing.shapes if hasattr(s, "text")]
    demo.actions_by_name["habit"].trigger()
    changed = [s.text for s in demo.section.drawing.shapes if hasattr(s, "text")]
    assert any("root gap b" in t for t in texts) and any("root opening R" in t for t in changed)
    dialogs.path = tmp_path / "symbol.svg"
    demo.export("symbol")
    assert "SMAW" in dialogs.path.read_text()
    assert demo.settings.value("habit") == "aws"


def test_a_range_is_vouched_for_with_a_reason_only(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    without_documents(demo)
    panel = demo.panels["procedure"]
    panel.vouch()
    assert "Take in a procedure first" in panel.fault.text()
    dialogs.path = tmp_path / "p.json"
    dialogs.path.write_text(json.dumps(PROCEDURE))
    press(demo, "procedure", "Take in a procedure")
    panel.low.edit.setText("24")
    press(demo, "procedure", "Vouch")
    assert "needs its reason" in panel.fault.text()
    panel.reason.edit.setText("test plate 7")
    press(demo, "procedure", "Vouch")
    line = next(c for c in demo.store.covered if c.item == "thickness")
    assert line.verdict == "outside" and "test plate 7" in line.rule
    demo.store.undo()
    assert next(c for c in demo.store.covered if c.item == "thickness").verdict == "inside"


def test_hydrogen_class_is_stated_from_the_packet(demo: MainWindow) -> None:
    demo.go_to("rods")
    panel = demo.panels["rods"]
    choose(panel.hydrogen, "H5")
    assert panel._rod().hydrogen == "H5"
