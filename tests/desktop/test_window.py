"""The real window driven as a user drives it."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QPoint, Qt
from PySide6.QtGui import QFont, QRawFont
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from banister.core.polygon import centroid
from banister.core.joint.working import ANSWERS
from banister.desktop.help import help_text
from banister.desktop.rail import CLOCK
from banister.desktop.section_view import dragged_value
from banister.desktop.theme import FONTS
from banister.desktop.window import STEP_KEYS, MainWindow
from banister.job.files import JobFile, read
from banister.job.library import data_file, demo_job, save_own_catalogue
from banister.job.recovery import Recovery
from tests.desktop.conftest import Answers
import itertools


def type_in(qtbot: QtBot, edit: object, text: str) -> None:
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    qtbot.keyClick(edit, Qt.Key.Key_Return)


def pixel_of(window: MainWindow, number: int) -> QPoint:
    found = window.store.plan.passes[number - 1]
    return window.section.frame_px.px(*centroid(found.outline_mm)).toPoint()


def test_an_empty_window_offers_patterns_and_one_click_plans(window: MainWindow, qtbot: QtBot) -> None:
    assert window.pages.currentIndex() == 0 and len(window.start.tiles) >= 5
    qtbot.mouseClick(window.start.tiles[1], Qt.MouseButton.LeftButton)
    assert window.pages.currentIndex() == 1
    assert window.store.plan.feasible and window.store.dirty
    assert all(tile.plan is not None and tile.plan.feasible for tile in window.answers.tiles.values())


@pytest.mark.parametrize(("text", "mm"), [("4", 4.0), ("1/8 in", 3.175), ("3,5 mm", 3.5), ("5/32", 3.96875)])
def test_typing_a_gap_replans_and_says_what_changed(demo: MainWindow, qtbot: QtBot, text: str, mm: float) -> None:
    demo.go_to("joint")
    type_in(qtbot, demo.panels["joint"].fields["root_gap_mm"].edit, text)
    assert demo.store.joint.root_gap_mm == mm
    assert demo.note.text().startswith("Set root gap")
    demo.store.undo()
    assert demo.store.joint.root_gap_mm == 3.0
    assert demo.note.text().startswith("Undone: Set root gap")
    demo.store.redo()
    assert demo.store.joint.root_gap_mm == mm


@pytest.mark.parametrize(
    ("name", "text", "word"),
    [("root_gap_mm", "wide", "not a length"), ("root_face_mm", "30", "0 to 20"), ("thickness_mm", "-2", "2 to 150"), ("bevel_right_deg", "80", "0 to 60")],
)
def test_a_wrong_figure_is_refused_at_its_field_and_loses_nothing(demo: MainWindow, qtbot: QtBot, name: str, text: str, word: str) -> None:
    demo.go_to("joint")
    before = demo.store.joint
    field = demo.panels["joint"].fields[name]
    type_in(qtbot, field.edit, text)
    assert demo.store.joint == before
    assert word in field.fault.text() and field.fault.isVisible()
    assert field.edit.text() == text


def test_dragging_the_drawing_is_one_step(demo: MainWindow, qtbot: QtBot) -> None:
    section = demo.section
    handle = next(h for h in section.drawing.handles if h.id == "bevel_right_deg")
    start = section.frame_px.px(*handle.at).toPoint()
    steps = len(demo.store.history.past)
    qtbot.mousePress(section, Qt.MouseButton.LeftButton, pos=start)
    for dx in (4, 8, 14, 20):
        qtbot.mouseMove(section, start + QPoint(dx, 0))
    qtbot.mouseRelease(section, Qt.MouseButton.LeftButton, pos=start + QPoint(20, 0))
    joint = demo.store.joint
    assert joint.prep.bevel_right_deg > 30 and joint.prep.bevel_left_deg == joint.prep.bevel_right_deg
    assert len(demo.store.history.past) == steps + 1
    demo.store.undo()
    assert demo.store.joint.bevel_right_deg == 30


def test_handles_are_worked_by_keys(demo: MainWindow, qtbot: QtBot) -> None:
    demo.section.setFocus()
    qtbot.keyClick(demo.section, Qt.Key.Key_H)
    name = demo.section._handle.id
    before = getattr(demo.store.joint, name)
    qtbot.keyClick(demo.section, Qt.Key.Key_Up)
    assert getattr(demo.store.joint, name) > before
    assert dragged_value(demo.store.joint, "root_gap_mm", 2.1, 0.0) == 4.25


def test_dragging_the_left_bevel_makes_the_sides_unlike(demo: MainWindow, qtbot: QtBot) -> None:
    section = demo.section
    handle = next(h for h in section.drawing.handles if h.id == "bevel_left_deg")
    start = section.frame_px.px(*handle.at).toPoint()
    qtbot.mousePress(section, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(section, start + QPoint(24, 0))
    qtbot.mouseRelease(section, Qt.MouseButton.LeftButton, pos=start + QPoint(24, 0))
    assert demo.store.joint.bevel_left_deg < 30 == demo.store.joint.bevel_right_deg
    assert demo.store.plan.feasible


def test_one_selection_everywhere(demo: MainWindow, qtbot: QtBot) -> None:
    demo.show_table()
    qtbot.mouseClick(demo.section, Qt.MouseButton.LeftButton, pos=pixel_of(demo, 6))
    assert demo.store.selected.number == 6
    assert demo.table.selectionModel().selectedRows()[0].row() == 5
    assert "layer" in demo.panels["passes"].title.text() and "6" in demo.panels["passes"].title.text()
    assert "Why this bead" in demo.panels["passes"].why.text()
    demo.rail.posts = demo.rail.layout_posts()
    post = next(p for p in demo.rail.posts if p.passes[0].number == 9)
    qtbot.mouseClick(demo.rail, Qt.MouseButton.LeftButton, pos=QPoint(int(post.middle), demo.rail.height() - 60))
    assert demo.store.selected.number == 9
    demo.table.selectRow(2)
    assert demo.store.selected.number == 3
    qtbot.keyClick(demo.rail, Qt.Key.Key_Right)
    assert demo.store.selected.number == 4


def test_the_four_answers_and_taking_one(demo: MainWindow, qtbot: QtBot) -> None:
    for answer in ANSWERS:
        qtbot.mouseClick(demo.answers.tiles[answer], Qt.MouseButton.LeftButton)
        assert demo.store.joint.chosen == answer and demo.store.plan.answer == answer
    demo.store.take()
    assert demo.store.job.taken_for(demo.store.joint).plan.passes == demo.store.plan.passes
    demo.go_to("sheet")
    assert "Taken" in demo.panels["sheet"].taken.text()
    demo.store.edit_joint("Set root gap", root_gap_mm=4.0)
    assert "changed since" in demo.panels["sheet"].taken.text()


def test_pins_inserting_and_releasing(demo: MainWindow, qtbot: QtBot) -> None:
    found = next(p for p in demo.store.plan.passes if p.role == "fill" and p.layer == 6)
    demo.store.select(found)
    demo.go_to("passes")
    panel = demo.panels["passes"]
    type_in(qtbot, panel.amps.edit, "112")
    assert demo.store.selected.amps == 112 and demo.store.selected.state == "pinned"
    before = sum(p.layer == demo.store.selected.layer for p in demo.store.plan.passes)
    qtbot.mouseClick(panel.more, Qt.MouseButton.LeftButton)
    assert sum(p.layer == demo.store.selected.layer for p in demo.store.plan.passes) == before + 1
    demo.store.release()
    assert demo.store.joint.pins == ()


def test_a_figure_outside_its_window_is_said_in_words(demo: MainWindow) -> None:
    demo.store.select(next(p for p in demo.store.plan.passes if p.role == "fill"))
    demo.store.pin("Pin current", amps=190.0)
    demo.go_to("passes")
    bar = demo.panels["passes"].bars["amps"]
    assert bar.words().endswith("over the window")
    assert demo.store.selected.id in demo.store.outside
    state = next(s for s in demo.stair.steps if s.key == "limits")
    assert state.bad and "outside" in state.state


def test_inches_for_the_whole_window_at_once(demo: MainWindow) -> None:
    demo.go_to("joint")
    demo.toggle_units()
    assert demo.panels["joint"].fields["root_gap_mm"].edit.text() in ("1/8", "0.118")
    assert demo.panels["joint"].fields["root_gap_mm"].unit.text() == "in"
    assert "kJ/in" in demo.answers.tiles["balanced"].lines()[1]
    assert demo.section.drawing is not None
    before = demo.store.joint
    demo.toggle_units()
    assert demo.store.joint == before


def test_what_cannot_be_planned_keeps_its_groove_and_says_why(demo: MainWindow) -> None:
    demo.store.edit_joint("Set square", preparation="square", root_face_mm=0.0)
    assert "Cannot be planned" in demo.note.text() and "square butt" in demo.note.text()
    assert demo.section.drawing is not None
    assert demo.section.bead_at(demo.section.rect().center().toPointF()) is None


def test_own_run_out_and_windows_are_typed(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("rods")
    field = next(demo.panels["rods"].own_rows.itemAt(i).widget() for i in range(demo.panels["rods"].own_rows.count())
                 if "E7018-3.2" in demo.panels["rods"].own_rows.itemAt(i).widget().label.text())  # fmt: skip
    type_in(qtbot, field.edit, "120")
    assert demo.store.joint.own_run_out[0].run_out_mm == 120
    demo.go_to("limits")
    count = len(demo.store.joint.windows)
    panel = demo.panels["limits"]
    panel.quantity.show_choice("travel")
    button = next(b for b in panel.findChildren(QPushButton) if b.text() == "Add window")
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert len(demo.store.joint.windows) == count + 1
    row = panel.rows.itemAt(count).widget()
    type_in(qtbot, row.ends["low"], "9999")
    assert "above" in row.fault.text() and demo.store.joint.windows[-1].low != 9999


def test_saving_opening_and_what_is_recent(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    dialogs.path = tmp_path / "my job"
    demo.store.edit_joint("Set root gap", root_gap_mm=3.5)
    assert demo.save()
    path = tmp_path / "my job.banister"
    assert read(path).job.joints[0].root_gap_mm == 3.5 and not demo.store.dirty
    demo.close_job()
    demo.open_path(path)
    assert demo.store.joint.root_gap_mm == 3.5
    assert str(path) in demo.documents.recent
    demo.store.edit_joint("Set root gap", root_gap_mm=4.0)
    dialogs.keep = "cancel"
    demo.close_job()
    assert demo.store.job is not None and "keep" in dialogs.asked


def test_a_broken_file_is_said_and_nothing_is_lost(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "bad.banister"
    path.write_text('{"format": "banister-job", "version": 1, "job": {"name": 5}}')
    before = demo.store.job
    demo.open_path(path)
    assert demo.store.job == before
    assert "$.job.name" in demo.message.text() and demo.bar.isVisible()


def test_a_locked_file_is_read_only_here(demo: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    other = JobFile(path)
    other.open()
    demo.open_path(path)
    assert "another window" in demo.message.text()
    other.close()


def test_unsaved_work_survives_a_crash(demo: MainWindow, tmp_path: Path) -> None:
    demo.store.edit_joint("Set root gap", root_gap_mm=3.7)
    demo.documents.keep_recovery()
    left = Recovery(tmp_path / "recovery", None).found()
    assert left is not None and left.joints[0].root_gap_mm == 3.7
    demo.documents.store.open(None)
    demo.offer_recovery()
    assert demo.store.joint.root_gap_mm == 3.7 and demo.store.dirty


def test_opening_a_file_leaves_another_jobs_recovery(window: MainWindow, tmp_path: Path) -> None:
    Recovery(tmp_path / "recovery", None).keep(demo_job())
    path = tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    window.open_path(path)
    assert Recovery(tmp_path / "recovery", None).found() == demo_job()


def test_from_nothing_and_a_joint_added(window: MainWindow, qtbot: QtBot) -> None:
    button = next(b for b in window.start.findChildren(QPushButton) if b.text() == "Start from nothing")
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.store.plan.feasible and window.store.joint.working.windows == ()
    window.actions_by_name["add_joint"].trigger()
    assert [j.id for j in window.store.job.joints] == ["J1", "J2"] and window.store.joint.id == "J2"


def test_joints_are_copied_switched_and_removed(demo: MainWindow) -> None:
    demo.actions_by_name["next_joint"].trigger()
    assert demo.store.joint.id == "G1"
    demo.actions_by_name["copy_joint"].trigger()
    assert demo.store.joint.id == "G1-2" and demo.joints.count() == 5
    demo.actions_by_name["drop_joint"].trigger()
    assert demo.joints.count() == 4


def test_names_are_typed_on_the_sheet_and_plan_nothing_anew(demo: MainWindow, qtbot: QtBot) -> None:
    demo.go_to("sheet")
    plan = demo.store.plan
    sheet = demo.panels["sheet"]
    type_in(qtbot, sheet.joint_edits["name"].edit, "Flange splice, east girder with a long name that does not fit the header")
    type_in(qtbot, sheet.edits["prepared_by"].edit, "night shift")
    assert demo.store.joint.name.startswith("Flange splice, east") and demo.store.job.prepared_by == "night shift"
    assert demo.store.plan is plan
    demo.store.undo()
    assert demo.store.job.prepared_by == ""


def test_exports_from_the_window(demo: MainWindow, dialogs: Answers, tmp_path: Path) -> None:
    for kind, head in (("pdf", b"%PDF"), ("csv", b"joint,pass"), ("schedule", b"joint,pass,role,start_s"), ("svg", b"<svg")):
        dialogs.path = tmp_path / f"out.{kind}"
        demo.export(kind)
        assert dialogs.path.read_bytes().startswith(head)
        assert "Written" in demo.note.text()
    dialogs.path = tmp_path / "no" / "such" / "out.csv"
    demo.export("csv")
    assert "not written" in demo.message.text()


def test_every_step_has_its_help_and_every_action_its_name(demo: MainWindow) -> None:
    for step in STEP_KEYS:
        demo.go_to(step)
        assert len(help_text(step)) > 150
    demo.show_help()
    demo.show_keys()
    assert "Ctrl+Z" in demo.help_dialog.page.toPlainText()
    keys = [a.shortcut().toString() for a in demo.actions_by_name.values() if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys))


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
@pytest.mark.parametrize("dark", [False, True])
def test_views_fit_and_the_section_is_the_largest(demo: MainWindow, size: tuple[int, int], dark: bool) -> None:
    demo.resize(*size)
    demo.set_theme(dark)
    for joint in demo.store.job.joints:
        demo.store.show_joint(joint.id)
        demo.rail.set_scale(CLOCK)
        assert not demo.grab().isNull()
    QCoreApplication.processEvents()
    assert demo.width() == size[0]
    area = demo.section.width() * demo.section.height()
    assert all(area > w.width() * w.height() for w in (demo.stair, demo.answers, demo.rail))


def test_a_long_job_folds_layers_on_the_rail(demo: MainWindow) -> None:
    demo.store.show_joint("H1")
    demo.store.edit_joint("Set thickness", thickness_mm=60.0)
    demo.resize(1024, 700)
    posts = demo.rail.layout_posts()
    assert sum(len(p.passes) for p in posts) == len(demo.store.plan.passes)
    assert len(posts) < len(demo.store.plan.passes)
    assert all(a.x1 <= b.x0 + 1e-6 for a, b in itertools.pairwise(posts))


def test_the_shipped_fonts_have_every_glyph_the_program_draws() -> None:
    root = Path(data_file("rods.json")).parents[1]
    shown = {c for path in root.rglob("*.py") for line in path.read_text(encoding="utf-8").splitlines() for c in line if ord(c) > 126}
    shown |= set("\N{DEGREE SIGN}\N{SUPERSCRIPT TWO}\N{MULTIPLICATION SIGN}\N{RIGHTWARDS ARROW}\N{MINUS SIGN}\N{MIDDLE DOT}")
    for name in FONTS:
        raw = QRawFont(str(data_file(f"fonts/{name}.ttf")), 12.0, QFont.HintingPreference.PreferNoHinting)
        assert [c for c in shown if not raw.supportsCharacter(ord(c))] == []


def test_own_rods_reach_the_list(demo: MainWindow) -> None:
    from dataclasses import replace

    mine = replace(demo.store.job.rods[0], type="E8018")
    save_own_catalogue((mine,))
    demo.panels["rods"]._catalogue = (*demo.panels["rods"]._catalogue, mine)
    demo.go_to("rods")
    demo.panels["rods"]._key = None
    demo.panels["rods"].render_job()
    assert demo.panels["rods"].rod.box.findData(mine.id) >= 0
