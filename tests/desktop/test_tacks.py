"""Tacks, the ring and the turn of a pipe in the real window: laid, dragged, ordered by the keys; bent; read from files, turned and kept."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.fitup.places import course_of
from banister.core.joint.fitting import FitUp, Turning
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.fitup.panel import FitUpPanel
from tests.conftest import shapes_of, texts_of
from tests.core.test_charts import outside
from tests.desktop.conftest import Answers, choose, press, step, type_in


@pytest.fixture
def panel(demo: MainWindow) -> FitUpPanel:
    demo.store.edit_joint("bare", fitup=FitUp())
    found = step(demo, "fitup")
    assert isinstance(found, FitUpPanel)
    found.work.chosen.emit("tack")
    QApplication.processEvents()
    return found


def middles(demo: MainWindow) -> list[float]:
    return [round(t.middle) for t in demo.store.joint.fitup.in_order]


def test_tacks_are_laid_dragged_and_worked_by_the_keys(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    view = demo.work.batten
    assert panel.tacks.isVisible() and not panel.reading.isVisible() and "No tacks yet" in " ".join(texts_of(view.drawing))
    choose(panel.tacks.school, "plate")
    press(demo, "fitup", "fitup_step.lay")
    assert middles(demo) == [16, 884, 450, 233, 667] and panel.tacks.list.count() == 5
    assert "open the gap to 3.4 mm before it" in panel.tacks.list.item(0).text() and "held already" in panel.tacks.list.item(2).text()
    assert "5 tacks: open the gap to 3.4 mm at 16 mm" in " ".join(texts_of(view.drawing))
    at = QPoint(int(view.chart.along.at(450.0)), view.height() // 2)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    assert demo.store.view.tack == 3
    per_mm = view.chart.along.scale
    for mm in (20, 40):
        qtbot.mouseMove(view, QPoint(int(at.x() + mm * per_mm), at.y()))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at)
    assert abs(middles(demo)[2] - 490) <= 2 and demo.store.session.undoable()[0] == "Tack 3 moved"
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert abs(middles(demo)[2] - 495) <= 2
    length = demo.store.joint.fitup.in_order[2].length_mm
    qtbot.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert demo.store.joint.fitup.in_order[2].length_mm == pytest.approx(length + 5.0)
    qtbot.keyClick(view, Qt.Key.Key_1)
    assert abs(middles(demo)[0] - 497) <= 2 and demo.store.view.tack == 1
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert len(middles(demo)) == 4 and demo.store.view.tack == 0
    view.point_to(450.0)
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert middles(demo)[-1] == 450 and demo.store.view.tack == 5
    demo.store.undo()
    assert len(middles(demo)) == 4


def test_what_cannot_be_a_tack_is_said_and_rules_are_held(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    panel.tacks.hand.lay("plate")
    demo.store.look(tack=3)
    type_in(qtbot, panel.tacks.middle.edit, "240")
    assert "lies on" in panel.tacks.middle.fault.text() and middles(demo)[2] == 450
    qtbot.keyClick(panel.tacks.middle.edit, Qt.Key.Key_Escape)
    type_in(qtbot, panel.tacks.length.edit, "60")
    assert demo.store.joint.fitup.in_order[2].length_mm == pytest.approx(60.0) and middles(demo)[2] == 450
    type_in(qtbot, panel.tacks.longest.edit, "50")
    assert "tack 3 is 60 mm long" in panel.tacks.bad.text().lower() and panel.tacks.bad.isVisible()
    type_in(qtbot, panel.tacks.closes.edit, "0.3")
    assert "open the gap to 3.3 mm" in panel.tacks.list.item(0).text()
    panel.tacks.removed.click()
    assert demo.store.joint.fitup.in_order[2].removed
    names = {getattr(s, "id", "") for s in shapes_of(demo.work.batten.drawing)}
    assert {"tack:3", "tack:selected", "ghost"} <= names


def test_the_ring_is_drawn_of_one_joint_however_it_comes_to_be_drawn(demo: MainWindow, panel: FitUpPanel, monkeypatch: pytest.MonkeyPatch) -> None:
    """Asked for in the middle of an edit: the joint is another already, the plan still that of before."""
    demo.store.look(joint_id="P4", ring=True)
    demo.store.edit_joint("both sides", key="double-v", pipe_od_mm=914.0, position="1G")
    view, real, drawn = demo.work.batten, demo.errands.run, list[bool]()
    assert {p.side for p in demo.store.now.plan.passes} == {"front", "back"}
    monkeypatch.setattr(demo.errands, "run", lambda errand: (view.redraw(), drawn.append(view.round is not None), real(errand)))
    demo.store.edit_joint("one side", key="single-v")
    assert drawn and all(drawn) and {p.side for p in demo.store.now.plan.passes} == {"front"}


def test_the_batten_of_a_pipe_is_bent_to_a_ring(demo: MainWindow, panel: FitUpPanel, qtbot: QtBot) -> None:
    demo.store.look(joint_id="P4", tacking=False)
    view = demo.work.batten
    qtbot.keyClick(view, Qt.Key.Key_O)
    assert view.is_ring and demo.section.isHidden() and view.round is not None
    QApplication.processEvents()
    x, y = view.round.centre
    place = QPoint(int(x + 150), int(view.height() - y))
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=place)
    course = course_of(demo.store.joint)
    assert view.pointer_mm == pytest.approx(course.length_mm / 4, abs=8.0), "three o'clock lies at the right"
    assert panel.fields["gap"].edit.hasFocus() and panel.fields["gap"].edit.text() == "3.9", "what was read there stands in the field"
    assert any("wedge" in t for t in texts_of(view.drawing)) and "C8" in texts_of(view.drawing), "the section stands in the middle"
    assert texts_of(view.drawing).count("12:00") == 1, "where it begins it ends: said once"
    x0, y0, x1, y1 = view.drawing.box
    assert all(x0 <= t.at[0] <= x1 and y0 <= t.at[1] <= y1 for t in shapes_of(view.drawing) if hasattr(t, "text"))
    demo.store.look(joint_id="F2")
    assert not view.is_ring and not demo.section.isHidden(), "a plate has none"


def test_two_ends_are_read_turned_and_kept(demo: MainWindow, panel: FitUpPanel, dialogs: Answers, tmp_path: Path, qtbot: QtBot) -> None:
    demo.store.look(joint_id="P4")
    given = demo.store.joint.fitup.turning
    demo.store.edit_joint("bare", fitup=FitUp())
    demo.menus.actions["turn"].trigger()
    view = demo.opened["turn"]
    assert "No ends measured" in view.state.text() and not view.take.isEnabled()
    for n, end in enumerate(given.ends):
        dialogs.path = tmp_path / f"{n}.csv"
        dialogs.path.write_text("angle_deg,radius_mm\n" + "".join(f"{a},{r}\n" for a, r in zip(end.angles_deg, end.radii_mm, strict=True)))
        view.read[n].click()
    dialogs.path.write_text("angle_deg,radius_mm\n0,wide\n")
    view.read[1].click()
    assert "line 2" in view.fault.text() and len(demo.store.joint.fitup.turning.ends) == 2
    for n, end in enumerate(given.ends):
        type_in(qtbot, view.seams[n].edit, f"{end.seam_deg:g}")
    best = view.rings.found.best
    view.resize(view.minimumSizeHint())
    QApplication.processEvents()
    assert outside(view.rings.drawing) == []
    assert any("Turn the new end" in t for t in texts_of(view.rings.drawing)) and view.rings.turn_deg == best.turn_deg
    for _ in range(4):
        qtbot.keyClick(view.rings, Qt.Key.Key_Right)
    assert view.rings.turn_deg == (best.turn_deg + 2.0) % 360.0
    qtbot.keyClick(view.rings, Qt.Key.Key_Home)
    view.take.click()
    kept = demo.store.joint.fitup.turning
    assert kept.turn_deg is not None and kept.turn_deg % 360.0 == best.turn_deg and "anticlockwise" in view.taken.text()
    choose(view.goal, "rms")
    view.goal.chosen.emit("rms")
    type_in(qtbot, view.most.edit, "10")
    assert view.rings.found.best is None or abs(view.rings.found.best.turn_deg) <= 10 or view.rings.found.best.turn_deg >= 350
    view.close()
    demo.store.undo()
    assert demo.store.joint.fitup.turning != Turning()
