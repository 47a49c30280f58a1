"""The fit-up step in the real window: click, type, Enter; judged, undone, read from a file, planned on."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.drawing.charts.batten import BattenView, batten
from banister.core.fitup.judged import judged_fit
from banister.core.fitup.places import course_of
from banister.core.fitup.tolerances import set_of
from banister.core.joint.fitting import SIMULATED, FitUp, GapReading
from banister.core.words import Speech
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.fitup.panel import FitUpPanel
from tests.conftest import SAY, SAY_INCH, make_joint, shapes_of, texts_of
from tests.core.test_charts import box_of, collisions
from tests.desktop.conftest import Answers, press, step, type_in


@pytest.fixture
def panel(demo: MainWindow) -> FitUpPanel:
    demo.show()
    found = step(demo, "fitup")
    QApplication.processEvents()
    assert isinstance(found, FitUpPanel)
    return found


def test_a_click_a_figure_and_enter_are_a_reading(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    demo.store.edit_joint("bare", fitup=FitUp())
    view = demo.work.batten
    assert (view.isVisible() and "Not measured yet" in texts_of(view.drawing)[-2]) or "Not measured yet" in " ".join(texts_of(view.drawing))
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(int(view.chart.along.at(300.0)), view.height() // 2))
    assert panel.fields["gap"].edit.hasFocus() and abs(float(panel.place.edit.text().split()[0]) - 300.0) <= 2.0
    qtbot.keyClicks(panel.fields["gap"].edit, "3,4")
    qtbot.keyClick(panel.fields["gap"].edit, Qt.Key.Key_Return)
    (reading,) = demo.store.joint.fitup.readings
    assert reading.gap == 3.4 and demo.store.now.plan is not None and "3.4" in texts_of(view.drawing)
    for at, gap in (("20", "3"), ("600", "5.6"), ("880", "3.1")):
        type_in(qtbot, panel.place.edit, at)
        type_in(qtbot, panel.fields["gap"].edit, gap)
    assert [r.s_mm for r in demo.store.joint.fitup.readings][-1] == 880.0 and len(demo.store.joint.fitup.readings) == 4
    assert "Close the gap by 2.6 mm at 600 mm" in " ".join(texts_of(view.drawing)) and "2.6 mm" in panel.warn.text() and "unverified" in panel.warn.text()
    assert panel.place.edit.text() not in ("", "880"), "the place worth most comes next"
    assert panel.uneven.isVisible() and "mm instead of" in panel.uneven.text(), "where it is wide a rod goes less far"
    demo.store.undo()
    assert len(demo.store.joint.fitup.readings) == 3
    demo.store.edit_joint("bare", fitup=FitUp())
    assert not panel.uneven.isVisible()


def test_a_simulated_gauge_reads_and_its_readings_say_so_until_they_are_measured(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    demo.store.edit_joint("bare", fitup=FitUp())
    type_in(qtbot, panel.place.edit, "300")
    press(demo, "fitup", "fitup_step.gauge")
    assert demo.store.joint.fitup.readings == () and panel.fields["gap"].edit.text(), "it stands in the fields, and is not taken yet"
    panel.take()
    assert panel.refused.text() == ""
    assert [(r.s_mm, r.note) for r in demo.store.joint.fitup.readings] == [(300.0, SIMULATED)] and "SIMULATED" in panel.warn.text()
    assert "SIMULATED" in " ".join(texts_of(demo.work.batten.drawing))
    press(demo, "fitup", "fitup_step.gauge")
    panel.take()
    panel.place.edit.setText("")
    press(demo, "fitup", "fitup_step.gauge")
    panel.take()
    assert [r.note for r in demo.store.joint.fitup.readings] == [SIMULATED] * 3, "the place worth most is read next, wherever it lies"
    panel.aim(300.0)
    panel.take()
    made = next(r for r in demo.store.joint.fitup.readings if r.s_mm == 300.0)
    assert made.note == SIMULATED, "taken again as it is"
    demo.store.edit_joint("bare", fitup=FitUp())
    panel.aim(300.0)
    panel.fields["gap"].edit.setText(f"{made.gap:g}")
    type_in(qtbot, panel.fields["face"].edit, f"{made.face:g}")
    assert demo.store.joint.fitup.readings[0].note == "", "a figure that was measured alike is measured"
    type_in(qtbot, panel.place.edit, "300")
    press(demo, "fitup", "fitup_step.gauge")
    panel.take()
    panel.aim(300.0)
    type_in(qtbot, panel.fields["gap"].edit, "3.7")
    assert next(r for r in demo.store.joint.fitup.readings if r.s_mm == 300.0).note == ""


def panel_clock(demo: MainWindow, s_mm: float) -> str:
    return str(course_of(demo.store.joint).figure(s_mm).value)


def test_a_reading_stays_where_it_was_taken_and_what_it_is_in_other_units(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    demo.store.edit_joint("bare", fitup=FitUp())
    type_in(qtbot, panel.place.edit, "10")
    type_in(qtbot, panel.fields["gap"].edit, "3,2")
    (taken,) = demo.store.joint.fitup.readings
    type_in(qtbot, panel.place.edit, "250")
    demo.toggle_units()
    assert panel.place.edit.text() == "9.84" and panel.place.unit.text() == "in"
    panel.aim(10.0)
    assert panel.place.edit.text() == "0.39", "its own words would be ten inches here"
    panel.take()
    assert demo.store.joint.fitup.readings == (taken,), "taken again as it stands, nothing of it moves"
    type_in(qtbot, panel.place.edit, "9.75")
    type_in(qtbot, panel.fields["gap"].edit, "1/8")
    inch = demo.store.joint.fitup.readings[1]
    assert (inch.at, inch.s_mm, inch.gap) == ("247.65", pytest.approx(247.65), 3.175)
    demo.toggle_units()
    panel.aim(inch.s_mm)
    panel.take()
    assert demo.store.joint.fitup.readings == (taken, inch)
    demo.store.look(joint_id="P4")
    demo.store.edit_joint("bare", fitup=FitUp())
    panel.aim(100.0)
    type_in(qtbot, panel.fields["gap"].edit, "3")
    (round_about,) = demo.store.joint.fitup.readings
    assert round_about.at == panel_clock(demo, round_about.s_mm) and abs(round_about.s_mm - 100.0) < 1.0, "on a pipe it is where its clock says"
    demo.toggle_units()
    panel.aim(round_about.s_mm)
    panel.take()
    assert demo.store.joint.fitup.readings == (round_about,)


def test_what_cannot_be_a_reading_is_said_and_nothing_is_taken(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    before = demo.store.job
    for place, gap, word in (("950", "3", "outside the joint"), ("noon", "3", "length"), ("300", "", "at least one"), ("300", "99", "Enter")):
        panel.place.edit.setText(place)
        panel.fields["gap"].edit.setText(gap)
        panel.take()
        assert word in panel.refused.text() and demo.store.job is before
    demo.store.look(joint_id="P4")
    panel.aim(0.0)
    panel.fields["gap"].edit.setText("3")
    panel.take()
    assert demo.store.joint.fitup.readings[0].gap == 3.0 and "12:00" in " ".join(texts_of(demo.work.batten.drawing))


def test_readings_leave_an_issued_plan_alone_and_their_means_are_a_choice(demo: MainWindow, panel: FitUpPanel) -> None:
    demo.store.issue()
    issued, gap = demo.store.now.issued, demo.store.joint.prep.root_gap_mm
    panel.aim(20.0)
    panel.fields["gap"].edit.setText("3.9")
    panel.take()
    assert demo.store.now.issued is issued and demo.store.now.stands
    panel.plan_on_means()
    assert demo.store.joint.prep.root_gap_mm > gap and not demo.store.now.stands
    demo.store.undo()
    assert demo.store.joint.prep.root_gap_mm == gap and demo.store.now.stands


def test_readings_come_from_a_file_and_go_into_one(demo: MainWindow, panel: FitUpPanel, dialogs: Answers, tmp_path: Path) -> None:
    before = demo.store.joint.fitup.readings
    dialogs.path = tmp_path / "out.csv"
    panel.write()
    dialogs.path.write_text(dialogs.path.read_text().replace("610,5.6", "610,wide"))
    panel.read()
    assert "line 7, gap_mm" in panel.refused.text() and demo.store.joint.fitup.readings == before
    dialogs.path.write_text(dialogs.path.read_text().replace("610,wide", "610,4.1"))
    panel.read()
    assert panel.refused.isHidden() and [r.gap for r in demo.store.joint.fitup.readings][5] == 4.1 and len(demo.store.joint.fitup.readings) == 9
    own = demo.store.say("fitup_step.read")
    assert own and demo.store.session.undoable()[0]


def test_a_tolerance_of_ones_own_judges_and_the_stair_says_so(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    type_in(qtbot, panel.over.edit, "1")
    assert demo.store.joint.fitup.gap_over_mm == 1.0 and "610" in panel.bad.text() and panel.bad.isVisible()
    state = demo.work.stair.states[3]
    assert state.bad and state.text == demo.store.say("stair.fitup.bad", n=9, bad="1")
    press(demo, "fitup", "fitup_step.take")
    assert panel.refused.text()
    qtbot.keyClick(demo.work.batten, Qt.Key.Key_Right)
    assert demo.work.batten.pointer_mm == 10.0


def test_the_batten_draws_what_was_measured() -> None:
    joint = make_joint(thickness_mm=22.0, length_mm=900.0)
    bare = batten(joint, judged_fit(joint, joint.fitup, set_of(joint)), set_of(joint), SAY, BattenView(800.0, 260.0))
    assert not [s for s in shapes_of(bare.drawing) if getattr(s, "id", "").startswith("reading:")]
    names = {getattr(s, "id", "") for s in shapes_of(bare.drawing)}
    assert {"lath:upper", "lath:lower", "tolerance:low", "tolerance:high"} <= names
    x0, y0, x1, y1 = bare.drawing.box
    assert all(x0 <= t.at[0] <= x1 and y0 <= t.at[1] <= y1 for t in shapes_of(bare.drawing) if hasattr(t, "text"))
    low = batten(joint, judged_fit(joint, joint.fitup, set_of(joint)), set_of(joint), SAY, BattenView(800.0, 170.0))
    times = next(t for t in shapes_of(low.drawing) if getattr(t, "id", "") == "scale").text
    narrow = batten(joint, judged_fit(joint, joint.fitup, set_of(joint)), set_of(joint), SAY, BattenView(200.0, 240.0))
    head = next(t for t in shapes_of(narrow.drawing) if getattr(t, "size", 0.0) > 1 and t.at[1] > 220.0)
    assert head.size < 17.0 and box_of(head)[0] >= 0.0 and box_of(head)[2] <= 200.0, "what to do is whole"
    assert int(re.search(r"-?\d+", times).group()) >= 2, "a low one has its gap still drawn larger than it is"


def test_a_small_window_leaves_no_share_to_a_large_one(demo: MainWindow) -> None:
    demo.resize(960, 540)
    for key, size in (("fitup", (960, 540)), ("joint", (1280, 800)), ("fitup", (1280, 800))):
        demo.go_to(key)
        demo.resize(*size)
        QApplication.processEvents()
    assert demo.section.isVisible() and demo.work.batten.height() > 220 and demo.section.height() > 220


@pytest.mark.parametrize("say", [SAY, SAY_INCH], ids=["mm", "inch"])
@pytest.mark.parametrize("tacking", [False, True])
@pytest.mark.parametrize("width", [560.0, 736.0, 1100.0])
def test_words_over_the_batten_never_collide(width: float, tacking: bool, say: Speech) -> None:
    for readings in ((), (GapReading(at="300", s_mm=300.0, gap=3.0),), (GapReading(at="610", s_mm=610.0, gap=5.6, note=SIMULATED),)):
        joint = make_joint(thickness_mm=22.0, length_mm=900.0, fitup=FitUp(readings=readings))
        fit = judged_fit(joint, joint.fitup, set_of(joint))
        assert collisions(batten(joint, fit, set_of(joint), say, BattenView(width, 240.0, tacking=tacking)).drawing) == []


def test_the_section_is_cut_anew_where_the_pointer_is(demo: MainWindow, panel: FitUpPanel) -> None:
    whole = demo.section.drawing
    demo.work.batten.point_to(610.0)
    assert demo.section.drawing is not whole and any("5.6" in text for text in texts_of(demo.section.drawing)) and demo.section.drawing.handles == ()
    demo.work.batten.point_to(None)
    assert texts_of(demo.section.drawing) == texts_of(whole)
    demo.work.batten.point_to(610.0)
    demo.go_to("passes")
    assert demo.section.cut_mm is None and texts_of(demo.section.drawing) == texts_of(whole)


def test_readings_off_a_weld_made_shorter_are_said_and_a_copy_has_none(demo: MainWindow, panel: FitUpPanel) -> None:
    demo.store.edit_joint("Shorter", length_mm=500.0)
    assert "outside the joint" in panel.bad.text() and panel.bad.isVisible() and demo.work.stair.states[3].bad
    demo.store.undo()
    assert "outside the joint" not in panel.bad.text()
    demo.menus.actions["copy_joint"].trigger()
    assert demo.store.joint.id == "F2-2" and demo.store.joint.fitup.readings == () and demo.store.job.joint("F2").fitup.readings


def test_means_that_cannot_be_a_joint_are_refused(demo: MainWindow, panel: FitUpPanel) -> None:
    demo.store.edit_joint("Steps", fitup=FitUp().with_reading(GapReading(at="100", s_mm=100.0, high_low=15.0)))
    before = demo.store.job
    panel.plan_on_means()
    assert demo.store.job is before and panel.refused.text()
