"""The joint typed, dragged and nudged in the real window; what cannot be is said where the hand is."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from pytestqt.qtbot import QtBot

from banister.core.drawing.dragging import dragged_value
from banister.core.drawing.section import handles_of
from banister.core.joint.defaults import with_preparation
from banister.core.joint.figures import FIGURES
from banister.core.joint.kinds import KINDS
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from tests.conftest import make_joint
from tests.desktop.conftest import Answers, choose, drag, pixel_of, press, step, type_in


@pytest.mark.parametrize(("text", "mm"), [("4", 4.0), ("1/8 in", 3.175), ("3,5 mm", 3.5)])
def test_typing_a_gap_plans_anew_and_says_what_changed(demo: MainWindow, qtbot: QtBot, text: str, mm: float) -> None:
    say, store, field = demo.store.say, demo.store, step(demo, "joint").fields["root_gap_mm"]
    before = store.now.plan
    type_in(qtbot, field.edit, text)
    named = f"Set root gap {say.sized(FIGURES['root_gap_mm'].kind, mm)}"
    assert store.joint.prep.root_gap_mm == mm and store.now.plan != before
    assert demo.work.note.text.text().startswith(named)
    store.undo()
    assert store.joint.prep.root_gap_mm == 3.0 and demo.work.note.text.text().startswith(f"Undone: {named}")
    store.redo()
    assert store.joint.prep.root_gap_mm == mm


def test_a_wrong_figure_is_refused_at_its_field_and_loses_nothing(demo: MainWindow, qtbot: QtBot) -> None:
    before = demo.store.joint
    for name, text, said in (("root_gap_mm", "wide", "not a length"), ("root_face_mm", "30", "0 to 20"), ("thickness_mm", "-2", "2 to 150"),
                             ("bevel_right_deg", "80", "0° to 60°")):  # fmt: skip
        field = step(demo, "joint").fields[name]
        type_in(qtbot, field.edit, text)
        assert demo.store.joint == before
        assert said in field.fault.text() and field.fault.isVisible() and field.edit.text() == text


def test_up_in_a_field_nudges_within_what_may_be(demo: MainWindow, qtbot: QtBot) -> None:
    field = step(demo, "joint").fields["root_face_mm"]
    field.edit.setFocus()
    for _ in range(3):
        qtbot.keyClick(field.edit, Qt.Key.Key_Up)
    assert demo.store.joint.prep.root_face_mm == pytest.approx(1.5 + 3 * FIGURES["root_face_mm"].step)
    type_in(qtbot, field.edit, "0")
    qtbot.keyClick(field.edit, Qt.Key.Key_Down)
    assert demo.store.joint.prep.root_face_mm == 0 and not field.fault.isVisible()


def test_a_drag_is_one_step_and_tells_what_the_whole_of_it_did(demo: MainWindow, qtbot: QtBot) -> None:
    store, steps, before = demo.store, len(demo.store.session.history.past), len(demo.store.now.plan.passes)
    moves = [(dx, 0) for dx in (6, 18, 30, 45, 63)]
    counts = []
    for count in (len(moves) - 1, len(moves)):
        drag(qtbot, demo, "bevel_right_deg", *moves[:count])
        counts.append(len(store.now.plan.passes))
        store.undo()
    drag(qtbot, demo, "bevel_right_deg", *moves, let_go=False)
    prep, after = store.joint.prep, len(store.now.plan.passes)
    assert prep.bevel_right_deg > 30 and prep.bevel_left_deg == prep.bevel_right_deg and len(store.session.history.past) == steps + 1
    assert after == counts[-1] > counts[-2] > before, "the last move alone adds fewer passes than the drag"
    assert f"passes {before} \N{RIGHTWARDS ARROW} {after}" in demo.work.note.text.text()
    qtbot.mouseRelease(demo.section, Qt.MouseButton.LeftButton)
    store.undo()
    assert store.joint.prep.bevel_right_deg == 30


def test_dragging_the_left_bevel_makes_the_sides_unlike(demo: MainWindow, qtbot: QtBot) -> None:
    drag(qtbot, demo, "bevel_left_deg", (24, 0))
    assert demo.store.joint.prep.bevel_left_deg < 30 == demo.store.joint.prep.bevel_right_deg and demo.store.now.feasible


def test_handles_are_worked_by_keys_and_a_refusal_stands_over_the_section(demo: MainWindow, qtbot: QtBot) -> None:
    section, store = demo.section, demo.store
    section.setFocus()
    ids = [h.id for h in section.drawing.handles]
    for _ in range(ids.index("root_face_mm") + 1):
        qtbot.keyClick(section, Qt.Key.Key_H)
    qtbot.keyClick(section, Qt.Key.Key_Up)
    assert store.joint.prep.root_face_mm == 1.5 + 2 * FIGURES["root_face_mm"].drag
    store.edit_joint("Nought", root_face_mm=0.0)
    before = store.joint
    qtbot.keyClick(section, Qt.Key.Key_Down)
    assert store.joint == before and store.now.refusal is not None
    assert demo.work.note.text.text() == store.say.sentence(store.now.refusal) and "0" in demo.work.note.text.text()
    qtbot.keyClick(section, Qt.Key.Key_Up)
    assert store.now.refusal is None and store.joint != before


@pytest.mark.parametrize("key", [k for k in KINDS if k != "square"])
def test_every_handle_lies_where_its_value_puts_it(key: str) -> None:
    joint = with_preparation(make_joint(thickness_mm=32.0), key)
    handles = handles_of(joint)
    assert len(handles) >= 2
    for handle in handles:
        figure = FIGURES[handle.id]
        assert dragged_value(joint, handle.id, *handle.at) == pytest.approx(figure.of(joint), abs=figure.drag), handle.id
        assert dragged_value(joint, handle.id, handle.at[0] + 4.0, handle.at[1] + 4.0) != figure.of(joint), handle.id


@pytest.mark.parametrize("key", ["square", "single-bevel", "compound-v", "double-u", "fillet-tee"])
def test_a_preparation_is_chosen_planned_saved_opened_and_undone(window: MainWindow, key: str, dialogs: Answers, tmp_path: Path) -> None:
    window.open_demo()
    store = window.store
    store.look(joint_id="H1")
    panel, before = step(window, "joint"), window.store.joint
    choose(panel.preparation, key)
    joint = store.joint
    assert joint.prep.key == key and (store.now.feasible or (key == "square" and store.say.remedy(store.now.plan.reasons[0])))
    shown = {name for name, field in panel.fields.items() if not field.isHidden()}
    assert ("front_share" in shown) == KINDS[key].double and ("leg_left_mm" in shown) == KINDS[key].fillet
    assert ("root_radius_mm" in shown) == ("round" in KINDS[key].shapes)
    dialogs.path = tmp_path / "all.banister"
    assert window.save_as()
    store.undo()
    assert store.joint == before
    dialogs.keep = "discard"
    window.open_path(dialogs.path)
    store.look(joint_id="H1")
    assert store.joint == joint


def test_the_share_of_a_double_groove_is_dragged_as_one_step(demo: MainWindow, qtbot: QtBot) -> None:
    store = demo.store
    store.look(joint_id="H1")
    steps = len(store.session.history.past)
    drag(qtbot, demo, "front_share", (0, 6), (0, 14), (0, 26))
    assert store.joint.prep.front_share > 0.5 and len(store.session.history.past) == steps + 1
    assert {p.side for p in store.now.plan.passes} == {"front", "back"}


def test_a_contradiction_is_said_at_its_field_and_loses_nothing(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="H1")
    panel = step(demo, "joint")
    choose(panel.preparation, "double-u")
    joint = demo.store.joint
    for name, text, said in (("root_radius_mm", "29", "at most"), ("front_share", "1.5", "0.1 to 0.9"), ("back_bevel_deg", "-4", "0° to 60°")):
        type_in(qtbot, panel.fields[name].edit, text)
        assert said in panel.fields[name].fault.text() and demo.store.joint == joint
        panel.fields[name].edit.setModified(False)


def test_balance_takes_the_straightest_share_and_order(demo: MainWindow) -> None:
    demo.store.look(joint_id="H1")
    step(demo, "joint")
    demo.store.edit_joint("Set share", front_share=0.3)
    press(demo, "joint", "joint.balance")
    assert 0.35 <= demo.store.joint.prep.front_share <= 0.6
    assert demo.work.note.text.text().startswith("Balance: front")
    demo.store.undo()
    assert demo.store.joint.prep.front_share == 0.3


@pytest.mark.awaits("answers")
def test_what_cannot_be_planned_keeps_its_groove_and_says_why(demo: MainWindow) -> None:
    demo.store.edit_joint("Square", key="square", root_face_mm=0.0)
    note = demo.work.note.text.text()
    assert "Cannot be planned" in note and "square butt" in note and demo.store.say.remedy(demo.store.now.plan.reasons[0]) in note
    assert demo.section.drawing is not None and demo.section.pass_at(demo.section.rect().center().toPointF()) is None
    shown = [tile for tile in demo.answers.tiles.values() if tile.isVisible()]
    assert [(tile.name, *tile.lines()) for tile in shown] == [(demo.store.say("answer.every"), demo.store.say("answer.blocked"), "")]


def test_inches_for_the_whole_window_at_once(demo: MainWindow) -> None:
    field, before = step(demo, "joint").fields["root_gap_mm"], demo.store.joint
    demo.toggle_units()
    assert (field.edit.text(), field.unit.text()) == ("0.118", "in") and "kJ/in" in demo.answers.tiles["balanced"].lines()[1]
    demo.go_to("heat")
    assert demo.work.panel("heat").fields["air_c"].edit.text() == "68"
    assert "68" in demo.rail.accessibleName() or "in" in demo.work.stair.states[0].text
    demo.toggle_units()
    assert demo.store.joint == before


def test_an_edit_of_one_joint_leaves_the_others_plans_and_names_plan_nothing_anew(demo: MainWindow, qtbot: QtBot) -> None:
    store, sheet = demo.store, step(demo, "sheet")
    store.look(joint_id="G1")
    kept = store.now.plan
    store.look(joint_id="F2")
    store.edit_joint("Set root gap", root_gap_mm=3.5)
    planned, heat = store.now.plan, store.now.heat
    type_in(qtbot, sheet.joint_edits["name"].edit, "Flange splice, east girder with a long name that does not fit the header")
    type_in(qtbot, sheet.edits["prepared_by"].edit, "night shift")
    store.edit_joint("Revision", procedure_revision="4")
    assert store.joint.name.startswith("Flange splice, east") and store.job.prepared_by == "night shift"
    assert store.now.plan is planned and store.now.heat is heat
    store.look(joint_id="G1")
    assert store.now.plan is kept
    store.undo()
    store.undo()
    assert store.job.prepared_by == ""
    assert pixel_of(demo, 1) is not None


def test_joints_are_added_copied_switched_and_removed(demo: MainWindow) -> None:
    store, actions = demo.store, demo.menus.actions
    actions["next_joint"].trigger()
    assert store.joint.id == "G1"
    actions["copy_joint"].trigger()
    assert store.joint.id == "G1-2" and demo.work.header.joints.count() == 5
    assert replace(store.joint, id="G1", name="") == replace(store.job.joint("G1"), name="")
    actions["drop_joint"].trigger()
    actions["add_joint"].trigger()
    assert [j.id for j in store.job.joints] == ["F2", "G1", "P4", "H1", "J1"] and store.joint.working.windows == () and store.now.feasible
