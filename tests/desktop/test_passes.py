"""Passes in the real window: one selection everywhere, answers, pins, issuing, what is outside."""

from __future__ import annotations

import itertools
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QHeaderView, QPushButton, QTableWidgetItem
from pytestqt.qtbot import QtBot

from banister.core.joint.working import ANSWERS, AT_ONCE, BETWEEN, QUICKEST, cap_of
from banister.core.limits.windows import Window
from banister.core.plan.front import answer_said, cards
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.passes.table import PassTable
from banister.desktop.steps.registry import STEPS
from tests.conftest import shapes_of, texts_of
from tests.desktop.conftest import Answers, pixel_of, step, type_in

pytestmark = pytest.mark.awaits("answers")


def test_an_empty_window_offers_patterns_and_one_click_plans(window: MainWindow, qtbot: QtBot) -> None:
    assert window.pages.currentIndex() == 0 and len(window.start.tiles) >= 5
    qtbot.mouseClick(window.start.tiles[1], Qt.MouseButton.LeftButton)
    assert window.pages.currentIndex() == 1 and window.store.now.feasible and window.store.session.dirty
    assert all(window.answers.tiles[answer].plan.feasible for answer in AT_ONCE)


def test_starting_from_nothing(window: MainWindow) -> None:
    next(b for b in window.start.findChildren(QPushButton) if b.text() == window.store.say("start.nothing")).click()
    assert window.store.now.feasible and window.store.joint.working.windows == ()


def test_one_selection_everywhere(demo: MainWindow, qtbot: QtBot) -> None:
    store, panel = demo.store, step(demo, "joint")
    demo.work.show_table()
    qtbot.mouseClick(demo.section, Qt.MouseButton.LeftButton, pos=pixel_of(demo, 6))
    assert store.now.selected.number == 6 and store.view.step == "passes"
    panel = demo.work.panel("passes")
    assert demo.table.selectionModel().selectedRows()[0].row() == 5
    assert "F6" in panel.title.text() and panel.why.text().startswith("Why this bead")
    post = next(p for p in demo.rail.chart.posts if p.passes[0].number == 9)
    qtbot.mouseClick(demo.rail, Qt.MouseButton.LeftButton, pos=QPoint(int((post.x0 + post.x1) / 2), demo.rail.height() - 60))
    assert store.now.selected.number == 9
    demo.table.selectRow(2)
    assert store.now.selected.number == 3
    qtbot.keyClick(demo.rail, Qt.Key.Key_Right)
    assert store.now.selected.number == 4 and "4" in panel.title.text()


def test_an_issued_answer_stays_on_its_tile_while_another_is_chosen(demo: MainWindow) -> None:
    store = demo.store
    store.look(joint_id="G1")
    sheet = store.now.issued
    assert store.now.plan is sheet.plan and store.now.stands
    store.choose(QUICKEST)
    store.open(store.job, store.job)
    store.look(joint_id="G1")
    assert demo.answers.tiles[sheet.plan.answer].plan is sheet.plan is not store.now.plan, "as it will be when it is chosen again"
    store.choose(sheet.plan.answer)
    assert store.now.plan is sheet.plan and store.now.stands


def test_the_four_answers_and_issuing_one(demo: MainWindow, qtbot: QtBot) -> None:
    store = demo.store
    for answer in ANSWERS:
        qtbot.mouseClick(demo.answers.tiles[answer], Qt.MouseButton.LeftButton)
        assert store.joint.working.chosen == answer and store.now.plan.answer == answer
    store._today = lambda: date(2031, 5, 6)
    sheet = step(demo, "sheet")
    qtbot.mouseClick(sheet.issue, Qt.MouseButton.LeftButton)
    issued = store.now.issued
    assert issued.plan.passes == store.now.plan.passes and store.now.stands and "2031-05-06" in sheet.state.text()
    type_in(qtbot, sheet.joint_edits["drawing"].edit, "OL-9")
    assert store.now.stands and store.now.plan is store.now.issued.plan
    assert store.say("changed.names") in sheet.state.text()
    store.edit_joint("Gap", root_gap_mm=4.0)
    assert not store.now.stands and store.now.issued is issued and store.say("changed.plan") in sheet.state.text()
    qtbot.mouseClick(sheet.issue, Qt.MouseButton.LeftButton)
    assert store.now.stands and "passes" in demo.work.note.text.text() and store.now.issued.last_key >= issued.last_key
    store.undo()
    assert store.now.issued is issued


@pytest.mark.awaits("front")
def test_a_card_is_one_plan_and_the_front_is_picked_from(demo: MainWindow, qtbot: QtBot) -> None:
    store, front = demo.store, step(demo, "passes").front
    store.look(joint_id="G1")
    store.select(None)
    assert front.isVisible() and len(store.now.front) > 2 and BETWEEN in store.now.plans
    found = cards(store.now.plans, store.joint.working.chosen)
    shown = {answer: tile for answer, tile in demo.answers.tiles.items() if tile.isVisible()}
    assert list(shown) == [card.answers[0] for card in found]
    for card in found:
        tile = shown[card.answers[0]]
        assert all(store.say(f"answer.{answer}") in tile.name for answer in card.answers)
    x, y = front.chart.places["coolest"]
    qtbot.mouseClick(front, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(front.height() - y)))
    assert store.joint.working.chosen == "coolest" and demo.answers.tiles["coolest"].isChecked()
    store.undo()
    assert store.joint.working.chosen == "balanced"
    store.select(store.now.plan.passes[3])
    assert not front.isVisible()


@pytest.mark.awaits("front")
def test_any_point_of_the_front_is_picked_by_keys_or_pointer_and_keeps_its_peak(demo: MainWindow, qtbot: QtBot, dialogs: Answers, tmp_path: Path) -> None:
    store, front = demo.store, step(demo, "passes").front
    store.look(joint_id="H1")
    card, cool = demo.answers.tiles[""], store.now.front[len(store.now.front) // 2]
    assert card.isHidden()
    front.setFocus(Qt.FocusReason.TabFocusReason)
    assert front.pointed == "balanced", "the arrows begin at what is shown"
    arrow = Qt.Key.Key_Right if cool.time_s > store.now.plan.total_time_s else Qt.Key.Key_Left
    while front.pointed != cool.answer:
        before = front.pointed
        qtbot.keyClick(front, arrow)
        assert front.pointed != before, "it ends before the point"
    told = front.toolTip()
    assert f"{cool.passes} passes" in told and front.accessibleDescription() == told
    qtbot.keyClick(front, Qt.Key.Key_Return)
    assert told.endswith(card.lines()[0]), "the time the work is turned in is in both"
    _, cap = cap_of(cool.answer)
    assert store.joint.working.chosen == cool.answer and store.now.feasible and store.now.plan.peak_arc_energy_kj_mm <= 1.0005 * cap
    assert card.isVisible() and card.isChecked() and card.name == answer_said(cool.answer, store.say) and "point" in demo.work.note.text.text()
    store.edit_joint("gap", root_gap_mm=store.joint.prep.root_gap_mm + 0.4)
    assert store.now.plan.answer == cool.answer and store.now.plan.peak_arc_energy_kj_mm <= 1.0005 * cap
    dialogs.path = tmp_path / "point.banister"
    assert demo.save_as() and demo.files.open_path(dialogs.path)
    store.look(joint_id="H1")
    assert store.joint.working.chosen == cool.answer and card.isVisible()
    other = store.now.front[-1].answer
    x, y = {**front.chart.points, **front.chart.places}[other]
    qtbot.mouseClick(front, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(front.height() - y)))
    assert store.joint.working.chosen != cool.answer
    demo.answers.choose("balanced")
    assert card.isHidden()


def test_pins_inserting_and_releasing(demo: MainWindow, qtbot: QtBot) -> None:
    store, panel = demo.store, step(demo, "passes")
    store.select(next(p for p in store.now.plan.passes if p.role == "fill" and p.layer == 6))
    type_in(qtbot, panel.amps.edit, "112")
    assert store.now.selected.amps == 112 and store.now.selected.state == "pinned"
    type_in(qtbot, panel.amps.edit, "5")
    assert "20 to 500 A" in panel.amps.fault.text() and store.now.selected.amps == 112
    layer = store.now.selected.layer
    before = sum(p.layer == layer for p in store.now.plan.passes)
    qtbot.mouseClick(panel.more, Qt.MouseButton.LeftButton)
    assert sum(p.layer == layer for p in store.now.plan.passes) == before + 1
    qtbot.mouseClick(panel.free, Qt.MouseButton.LeftButton)
    assert store.joint.working.pins == () and sum(p.layer == layer for p in store.now.plan.passes) == before


def test_a_bead_of_the_back_is_pinned_there(demo: MainWindow, qtbot: QtBot) -> None:
    store = demo.store
    store.look(joint_id="H1")
    found = next(p for p in store.now.plan.passes if p.side == "back" and p.role == "fill")
    store.select(found)
    type_in(qtbot, step(demo, "passes").area.edit, f"{1.08 * found.area_mm2:.1f}")
    pinned = [p for p in store.now.plan.passes if p.state == "pinned"]
    assert [p.side for p in pinned] == ["back"] and abs(pinned[0].area_mm2 - 1.08 * found.area_mm2) < 0.1


def test_what_is_outside_is_said_alike_on_stair_rail_table_section_and_sheet(demo: MainWindow) -> None:
    store, say = demo.store, demo.store.say
    demo.work.show_table()
    found = next(p for p in store.now.plan.passes if p.role == "fill")
    store.select(found)
    store.pin("Pin current", amps=240.0)
    bad, key = store.now.outside, store.now.selected.key
    panel, rod = step(demo, "passes"), store.now.selected.rod
    assert key in bad and panel.bars["amps"].accessibleDescription().endswith("over the window")
    assert f"240 A for a {say.sized('length', rod.diameter_mm)} rod that wants {rod.amps_low:.0f} to {rod.amps_high:.0f} A" in panel.warnings.text()
    states = {s.key: state for s, state in zip(STEPS, demo.work.stair.states, strict=True)}
    count = store.now.judgement.counts["outside"]
    assert states["limits"].bad and say("stair.outside", n=count) == states["limits"].text
    row = next(p.number for p in store.now.plan.passes if p.key == key) - 1
    assert demo.table.item(row, 0).toolTip() == say("table.outside")
    assert {s.id.removeprefix("notch:") for s in shapes_of(demo.rail.drawing) if getattr(s, "id", "").startswith("notch:")} == bad
    assert str(count) in step(demo, "sheet").check.text() and f"Pass {row + 1}" in demo.work.panel("passes").sheet.bad.text()


def test_heat_not_computed_is_never_inside(demo: MainWindow) -> None:
    store = demo.store
    store.look(joint_id="H1")
    ran = store.errands.run
    store.errands.run = lambda errand: None if errand.lane == "heat" else ran(errand)
    store.edit_joint("Windows", windows=(*store.joint.working.windows, Window(quantity="interpass", high=200.0), Window(quantity="t85", low=60.0)))
    now, say = store.now, store.say
    assert now.heat is None and not now.judgement.is_whole
    assert not [r for r in now.judgement.remarks if r.code.startswith(("heat.", "window.t85")) and r.verdict == "inside"]
    states = [state.text for state in demo.work.stair.states]
    assert states.count(say("heat.open")) == 2
    demo.rail.set_scale(True)
    assert any(say("heat.open") in text for text in texts_of(demo.rail.drawing))
    assert say("sheet_step.open") in step(demo, "sheet").check.text()
    store.issue()
    assert store.now.issued is None and demo.notices.shown.text == say("issue.wait")
    del store.errands.run
    demo.notices.clear()


def test_an_own_run_out_is_typed(demo: MainWindow, qtbot: QtBot) -> None:
    store, rods = demo.store, step(demo, "rods")
    fields = [rods.own_rows.itemAt(i).widget() for i in range(rods.own_rows.count())]
    type_in(qtbot, next(f for f in fields if "E7018" in f.label.text() and "3.2" in f.label.text()).edit, "120")
    assert store.joint.working.own_run_out[0].run_out_mm == 120


def test_a_long_job_folds_layers_on_the_rail(demo: MainWindow) -> None:
    store = demo.store
    store.look(joint_id="H1")
    store.edit_joint("Thick", thickness_mm=60.0)
    demo.resize(1024, 700)
    posts = demo.rail.chart.posts
    assert sum(len(p.passes) for p in posts) == len(store.now.plan.passes) > len(posts)
    assert all(a.x1 <= b.x0 + 1e-6 for a, b in itertools.pairwise(posts))


def test_the_table_is_measured_once_however_many_passes_it_has(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    demo.go_to("passes")
    demo.work.show_table()
    measured, real = list[QHeaderView.ResizeMode](), PassTable._item

    def item(table: PassTable, *of: Any) -> QTableWidgetItem:
        measured.append(table.horizontalHeader().sectionResizeMode(0))
        return real(table, *of)

    monkeypatch.setattr(PassTable, "_item", item)
    demo.toggle_units()
    assert len(measured) == demo.table.rowCount() * demo.table.columnCount()
    assert set(measured) == {QHeaderView.ResizeMode.Fixed}, "not with every cell: a thick joint would stand still for seconds"
    assert demo.table.horizontalHeader().sectionResizeMode(0) == QHeaderView.ResizeMode.ResizeToContents
