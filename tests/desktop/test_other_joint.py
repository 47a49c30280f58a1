"""Another joint is shown: what is being typed, dragged, read or computed belongs to the joint it is of, and never reaches the next."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from banister.core.value import replace
from banister.desktop.app.dialogs import CANCEL
from banister.desktop.app.window import MainWindow
from banister.desktop.fields import Refusal
from banister.desktop.steps.joint.chooser import COMPARE
from banister.desktop.steps.joint.improve_view import IMPROVE
from banister.job.codec import decoded
from tests.desktop.conftest import Late, choose, press, step, type_in

CTRL = Qt.KeyboardModifier.ControlModifier


def typing(demo: MainWindow, qtbot: QtBot, edit: QLineEdit, text: str) -> None:
    """Keys into a field that is not left again."""
    demo.show()
    demo.activateWindow()
    QApplication.processEvents()
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)


def gaps(demo: MainWindow) -> dict[str, float]:
    return {joint.id: joint.prep.root_gap_mm for joint in demo.store.job.joints}


def test_a_figure_half_typed_goes_to_its_own_joint(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="G1")
    gap, before = step(demo, "joint").fields["root_gap_mm"], gaps(demo)
    typing(demo, qtbot, gap.edit, "7")
    demo.menus.actions["next_joint"].trigger()
    assert demo.store.joint.id == "P4" and gap.edit.text() == "3" and gaps(demo) == before | {"G1": 7.0}
    qtbot.keyClick(gap.edit, Qt.Key.Key_Return)
    assert gaps(demo) == before | {"G1": 7.0}


def test_a_joint_is_not_left_by_keys_while_what_is_typed_is_refused_and_the_next_never_shows_it(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="G1")
    gap, job = step(demo, "joint").fields["root_gap_mm"], demo.store.job
    typing(demo, qtbot, gap.edit, "a gap")
    demo.menus.actions["next_joint"].trigger()
    assert demo.store.joint.id == "G1" and gap.edit.text() == "a gap" and gap.fault.isVisible()
    qtbot.keyClick(gap.edit, Qt.Key.Key_Escape)
    demo.menus.actions["next_joint"].trigger()
    assert demo.store.joint.id == "P4" and not gap.fault.isVisible()
    typing(demo, qtbot, gap.edit, "a gap")
    demo.store.look(joint_id="H1")  # as from the weld list
    assert gap.edit.text() == "3" and not gap.fault.isVisible() and demo.store.job is job


def test_what_is_typed_is_saved_issued_and_kept_when_the_window_is_left(demo: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    demo.dialogs.path = tmp_path / "job.banister"
    gap = step(demo, "joint").fields["root_gap_mm"]
    typing(demo, qtbot, gap.edit, "4.5")
    demo.menus.actions["save"].trigger()
    assert decoded((tmp_path / "job.banister").read_bytes()).job.joints[0].prep.root_gap_mm == 4.5 and not demo.store.session.dirty
    typing(demo, qtbot, gap.edit, "3.5")
    demo.menus.actions["issue"].trigger()
    assert demo.store.now.issued.joint.prep.root_gap_mm == 3.5 and demo.store.now.stands
    typing(demo, qtbot, gap.edit, "2.5")
    demo.open_view("list")
    demo.opened["list"].activateWindow()
    qtbot.waitUntil(lambda: demo.store.joint.prep.root_gap_mm == 2.5)
    demo.opened["list"].close()
    demo.menus.actions["save"].trigger()
    typing(demo, qtbot, gap.edit, "2")
    demo.dialogs.keep = CANCEL
    demo.close_job()
    assert demo.store.joint.prep.root_gap_mm == 2.0 and demo.dialogs.asked[-1] == "keep"


def test_the_pin_of_a_pass_is_not_typed_into_the_next(demo: MainWindow, qtbot: QtBot) -> None:
    panel = step(demo, "passes")
    demo.store.select(demo.store.now.plan.passes[3])
    typing(demo, qtbot, panel.amps.edit, "111")
    demo.menus.actions["next_pass"].trigger()
    assert [pin.amps for pin in demo.store.joint.working.pins] == [111.0] and demo.store.now.selected.number == 5
    qtbot.keyClick(panel.amps.edit, Qt.Key.Key_Return)
    assert len(demo.store.joint.working.pins) == 1


def test_what_was_read_at_one_joint_is_not_taken_at_another(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="P4")
    weld = step(demo, "weld")
    typing(demo, qtbot, weld.temp.edit, "150")
    demo.store.look(joint_id="G1")
    records = demo.store.now.records
    weld.take_temperature()
    assert weld.temp.edit.text() == "" and weld.temp.fault.isVisible() and demo.store.now.records == records
    demo.store.look(joint_id="P4")
    inspect = step(demo, "inspect")
    demo.store.look(inspect_seen=demo.store.inspection.found.seen[0].id)
    assert any(field.edit.text() for field in inspect.fields.values())
    demo.toggle_theme()
    assert any(field.edit.text() for field in inspect.fields.values()), "the same joint in other colours"
    demo.store.look(joint_id="F2")
    assert not any(field.edit.text() for field in (*inspect.fields.values(), inspect.note)) and demo.store.view.inspect_seen == 0
    fitup = step(demo, "fitup")
    type_in(qtbot, fitup.fields["gap"].edit, "2")
    demo.store.look(joint_id="P4")
    assert fitup.fields["gap"].edit.text() == ""


def test_per_cents_of_the_steel_are_edits_only_where_another_was_typed(demo: MainWindow, qtbot: QtBot) -> None:
    panel = step(demo, "procedure")
    carbon = panel.percent["c"]
    demo.store.look(joint_id="G1")
    type_in(qtbot, carbon, "0.19")
    demo.store.look(joint_id="F2")
    type_in(qtbot, carbon, "0.12")
    job = demo.store.job
    demo.store.look(joint_id="G1")
    assert carbon.hasFocus() and carbon.text() == "0.19"
    panel.preset.box.setFocus()
    assert demo.store.job is job
    typing(demo, qtbot, carbon, "lots")
    demo.menus.actions["next_joint"].trigger()
    assert demo.store.joint.id == "G1" and panel.refused.isVisible() and carbon.is_wrong
    choose(panel.preset, "")
    qtbot.keyClick(carbon, Qt.Key.Key_Escape)
    type_in(qtbot, carbon, "0.2")
    assert not carbon.is_wrong and demo.store.joint.metal.steel.c == 0.2


def test_a_cell_half_typed_is_taken_too(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="G1", step="limits")
    QApplication.processEvents()
    grid = demo.work.grid
    grid.cells.setCurrentCell(1, grid.columns.index("amps"))
    grid.cells.setFocus()
    qtbot.keyClicks(grid.cells, "7")
    (editor,) = (edit for edit in grid.cells.findChildren(QLineEdit) if edit.isVisible())
    qtbot.keyClicks(editor, "0-180")
    before = {joint.id: joint.working.windows for joint in demo.store.job.joints}
    demo.menus.actions["next_joint"].trigger()
    now = {joint.id: joint.working.windows for joint in demo.store.job.joints}
    assert demo.store.joint.id == "P4" and {key for key in now if now[key] != before[key]} == {"G1"}
    assert any((window.quantity, window.low, window.high) == ("amps", 70.0, 180.0) for window in now["G1"])


def test_windows_beside_the_work_say_whose_they_are_as_another_joint_is_shown(demo: MainWindow, qtbot: QtBot) -> None:
    demo.store.look(joint_id="P4", step="inspect")
    seen = demo.store.inspection.found.seen[0].id
    demo.store.look(inspect_seen=seen)
    for key in ("cause", "repair", "paper"):
        demo.open_view(key)
    cause, repair, paper = (demo.opened[key] for key in ("cause", "repair", "paper"))
    assert paper.whose.text() == demo.store.joint.called
    choose(paper.what, "temp")
    typing(demo, qtbot, paper.temp.edit, "140")
    demo.store.look(joint_id="G1")
    assert paper.whose.text() == demo.store.joint.called and paper.temp.edit.text() == ""
    assert all(f"Observation {seen} is of P4" in label.text() for label in (cause.title, repair.under))
    demo.store.look(joint_id="P4")
    assert not any("Observation" in label.text() for label in (cause.title, repair.under))
    for view in (cause, repair, paper):
        view.close()
    demo.store.look(inspect_seen=seen, inspect_mm=100.0)
    demo.open_demo()
    assert (demo.store.view.inspect_seen, demo.store.view.inspect_mm) == (0, 0.0), "nor is it selected in the next job"


def test_keys_do_nothing_while_something_is_dragged(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    shown, job = demo.store.joint, demo.store.job
    monkeypatch.setattr(QApplication, "mouseButtons", lambda: Qt.MouseButton.LeftButton)
    for key in ("next_joint", "add_joint", "drop_joint"):
        demo.menus.actions[key].trigger()
    assert demo.store.joint is shown and demo.store.job is job
    monkeypatch.undo()
    demo.menus.actions["next_joint"].trigger()
    assert demo.store.joint is not shown


@pytest.mark.awaits("stops", "others")
def test_what_was_asked_for_one_joint_is_not_shown_of_another_that_cannot_be_planned(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    demo.store.look(joint_id="H1")
    demo.store.edit_joint("too wide", root_gap_mm=12.0)
    assert not demo.store.now.feasible
    errands = Late(demo.store.errands, {"film", "curves", "profile", "sure", "stops", "pieces", "others", "techniques"})
    monkeypatch.setattr(demo.store, "errands", errands)
    demo.store.look(joint_id="F2")
    rods, heat = step(demo, "rods"), step(demo, "heat")
    rods.techniques.compare()
    keys = ("film", "curves", "sure", "stops", "pieces")
    for key in keys:
        demo.open_view(key)
    film, curves, sure, stops, pieces = (demo.opened[key] for key in keys)
    assert set(errands.late) == errands.keys
    demo.store.look(joint_id="H1", step="heat")
    step(demo, "rods")
    errands.bring()
    assert (film.picture.film, curves.curves, curves.profile, sure.picture.sure, stops.strip.stops) == (None,) * 5
    assert pieces.picture.zones == pieces.picture.cuts == () and not pieces.sheet.isEnabled()
    assert heat.others.text() == rods.techniques.compared.text() == ""
    demo.store.look(joint_id="F2", step="heat")
    errands.bring()
    assert None not in (film.picture.film, curves.curves, sure.picture.sure, stops.strip.stops) and pieces.picture.cuts and heat.others.text()
    for key in keys:
        demo.opened[key].close()


def test_nothing_is_welded_to_an_older_plan_where_the_shown_one_cannot_be_issued_yet(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    demo.store.look(joint_id="G1")
    sheet = demo.store.now.issued
    assert demo.store.now.stands
    errands = Late(demo.store.errands, {"heat", "plan"})
    monkeypatch.setattr(demo.store.derived, "_errands", errands)
    demo.store.edit_joint("wider", root_gap_mm=9.0)
    demo.menus.actions["weld"].trigger()
    assert "weld" not in demo.opened and demo.store.now.issued is sheet and "in a moment" in demo.notices.shown.text
    demo.notices.clear()
    demo.store.edit_joint("far too wide", root_gap_mm=30.0)
    errands.bring()
    assert not demo.store.now.feasible
    demo.menus.actions["weld"].trigger()
    assert "weld" not in demo.opened and demo.store.now.issued is sheet and "no plan" in demo.notices.shown.text
    demo.store.undo()
    errands.bring()
    demo.menus.actions["weld"].trigger()
    assert demo.store.now.issued is not sheet and demo.opened["weld"].bench.now.plan.passes
    demo.opened["weld"].close()


def test_a_new_joint_never_takes_the_id_of_one_the_journal_speaks_of(demo: MainWindow, tmp_path: Path) -> None:
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="F2")
    demo.menus.actions["copy_joint"].trigger()
    assert demo.store.joint.id == "F2-2"
    assert demo.logbook.write("temp", "F2-2", c=140.0) is not None
    demo.menus.actions["drop_joint"].trigger()
    assert "F2-2" not in {joint.id for joint in demo.store.job.joints}
    demo.store.look(joint_id="F2")
    demo.menus.actions["copy_joint"].trigger()
    assert demo.store.joint.id == "F2-3"


def test_why_something_was_refused_is_said_of_its_own_joint_only(demo: MainWindow) -> None:
    pressed = {"fitup": "fitup_step.take", "procedure": "override.set", "inspect": "inspect.cannot_see", "record": "record.sign"}
    demo.store.look(joint_id="P4")
    for key, word in pressed.items():
        panel = step(demo, key)
        press(demo, key, word)
        assert [one for one in panel.findChildren(Refusal) if one.isVisible()], key
        demo.store.look(joint_id="G1")
        assert not [one.text() for one in panel.findChildren(Refusal) if one.text()], key
        demo.store.look(joint_id="P4")


def test_the_whole_of_a_long_name_is_told_as_it_is_typed_and_gone_with_it(demo: MainWindow, qtbot: QtBot) -> None:
    note = step(demo, "inspect").note
    typing(demo, qtbot, note.edit, "A5")
    assert note.edit.toolTip() == "A5"
    note.empty()
    assert note.edit.toolTip() == ""


def test_windows_beside_the_work_follow_names_joints_and_rods_of_the_job(demo: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    store = demo.store
    demo.dialogs.path = tmp_path / "sheets.pdf"
    for key in ("print", "sure", "stops", "chooser", "improve"):
        demo.open_view(key)
    paper, sure, stops = (demo.opened[key] for key in ("print", "sure", "stops"))
    paper.choose_all()
    store.edit_joint("Name", name="Sill, left")
    assert paper.joints.item(0).text() == sure.title.text() == "F2  Sill, left" and stops.title.text().startswith("F2  Sill, left")
    job = store.job
    store.edit(replace(job, joints=job.joints[:2], issued=()), "taken out")
    assert paper.chosen == ("F2", "G1") and paper.joints.count() == 2
    asked, real = list[str](), demo.errands.run
    monkeypatch.setattr(demo.errands, "run", lambda errand: (asked.append(errand.key), real(errand)))
    store.edit(job.with_rod(replace(job.rods[0], burn_off_g_ah=7.5)), "Rod")
    assert {COMPARE, IMPROVE} <= set(asked)
    monkeypatch.setattr(store.errands, "run", lambda errand: None)
    store.edit_joint("Thick", thickness_mm=60.0)
    assert store.now.plan is None and not paper.buttons["look"].isEnabled(), "not before there is a plan to print"
    store.errands.stop("plan")
    for key in ("print", "sure", "stops", "chooser", "improve"):
        demo.opened[key].close()


def test_stops_of_a_joint_that_cannot_be_planned_offer_nothing(demo: MainWindow) -> None:
    demo.store.edit_joint("Wide", root_gap_mm=9.0)
    demo.open_view("stops")
    stops = demo.opened["stops"]
    assert stops.title.text() == demo.store.say("strip.none") and not (stops.more.isEnabled() or stops.fewer.isEnabled() or stops.paper.isEnabled())
    demo.store.edit_joint("Narrow", root_gap_mm=3.0)
    assert stops.title.text().startswith(demo.store.joint.called) and stops.paper.isEnabled()
    stops.close()


def test_what_is_heard_of_a_chart_goes_with_the_chart(demo: MainWindow) -> None:
    demo.store.look(joint_id="P4")
    step(demo, "fitup")
    assert "Root gap" in demo.work.batten.accessibleDescription()
    demo.store.edit_joint("No face", root_face_mm=60.0)
    assert demo.work.batten.drawing is None and demo.work.batten.accessibleDescription() == ""
