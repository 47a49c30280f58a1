"""The stop map in the real window: laid, lit up, laid anew after an edit, and as a picture."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.cli.main import run
from banister.core.joint.fitting import Tack
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.passes.stops_view import StopsDialog
from banister.job.library import data_file
from tests.conftest import shapes_of, texts_of
from tests.core.test_charts import collisions
from tests.desktop.conftest import choose, type_in


@pytest.fixture
def stops(demo: MainWindow) -> Iterator[StopsDialog]:
    demo.show()
    demo.store.look(joint_id="P4")
    demo.menus.actions["stops"].trigger()
    QApplication.processEvents()
    yield demo.opened["stops"]
    demo.opened["stops"].close()


def test_the_laths_show_every_rod_and_a_click_lights_a_pass_up(demo: MainWindow, stops: StopsDialog, qtbot: QtBot) -> None:
    found, plan = stops.strip.stops, demo.store.now.plan
    pieces = [s for s in shapes_of(stops.strip.drawing) if re.fullmatch(r"p\d+:\d+", getattr(s, "id", ""))]
    assert len(pieces) == sum(len(p.pieces) for p in found.passes if p.half == "first") and stops.list.count() == len(plan.passes)
    assert any("apart at least" in text for text in texts_of(stops.strip.drawing)) and len(stops.strip.chart.rows) == len(plan.passes)
    low, high = stops.strip.chart.rows[plan.passes[3].key]
    qtbot.mouseClick(stops.strip, Qt.MouseButton.LeftButton, pos=QPoint(300, int(stops.strip.height() - (low + high) / 2)))
    assert demo.store.now.selected == plan.passes[3]
    qtbot.keyClick(stops.strip, Qt.Key.Key_Up)
    assert demo.store.now.selected == plan.passes[4]
    choose(stops.half, "second")
    stops.half.chosen.emit("second")
    assert stops.strip.half == "second" and stops.list.count() == len(plan.passes)


def test_laths_of_many_passes_stay_under_the_words(demo: MainWindow, stops: StopsDialog) -> None:
    demo.store.look(joint_id="H1")
    for height in (720, 560):
        stops.resize(760, height)
        QApplication.processEvents()
        assert len(stops.strip.chart.rows) == len(demo.store.now.plan.passes) and collisions(stops.strip.drawing) == []


def test_halves_of_a_pipe_come_and_go_with_the_joint(demo: MainWindow, stops: StopsDialog) -> None:
    for joint, halves in (("H1", 1), ("P4", 2), ("F2", 1)):
        demo.store.look(joint_id=joint)
        stops.resize(stops.minimumSizeHint())  # its parts take another place as the list of halves does, and are drawn at once
        QApplication.processEvents()
        assert len(stops.strip.stops.halves) == halves and stops.half.isVisible() == (halves == 2)
        assert stops.list.count() >= len(demo.store.now.plan.passes)


def test_an_edit_lays_them_anew_and_more_is_wanted(demo: MainWindow, stops: StopsDialog, qtbot: QtBot) -> None:
    before = stops.strip.stops
    demo.store.edit_joint("Gap", root_gap_mm=3.5)
    assert stops.strip.stops is not None and stops.strip.stops is not before
    type_in(qtbot, stops.wanted.edit, "300")
    assert "Less than the 300 mm wanted" in stops.title.text()
    demo.store.edit_joint("Square", key="square", root_face_mm=0.0)
    assert stops.list.count() == 0 and stops.strip.drawing is None


def test_the_stops_of_a_welded_pass_stay_where_they_were(demo: MainWindow, stops: StopsDialog) -> None:
    begun = next(r for r in demo.store.records if r.k == "pass-begun" and r.j == "P4" and r.p == "p5")
    assert stops.strip.stops.of("p5", "first").marks == tuple(begun.d["stops"]["first"])
    before = demo.store.job
    stops.strip.dropped.emit("p5", (80.0, 240.0))
    assert demo.store.job is before and "is welded" in stops.fault.text() and not stops.fault.isHidden()
    assert stops.strip.stops.of("p5", "first").marks == tuple(begun.d["stops"]["first"])


def mark_px(stops: StopsDialog, key: str, n: int) -> QPoint:
    """Where a stop lies on the screen."""
    low, high = stops.strip.chart.rows[key]
    return QPoint(round(stops.strip.chart.along.at(stops.strip.chart.marks[key][n])), int(stops.strip.height() - (low + high) / 2))


def drag(qtbot: QtBot, stops: StopsDialog, key: str, n: int, by_px: int) -> None:
    at = mark_px(stops, key, n)
    qtbot.mousePress(stops.strip, Qt.MouseButton.LeftButton, pos=at)
    for part in (by_px // 2, by_px):
        qtbot.mouseMove(stops.strip, QPoint(at.x() + part, at.y()))
    qtbot.mouseRelease(stops.strip, Qt.MouseButton.LeftButton, pos=QPoint(at.x() + by_px, at.y()))


def test_a_stop_is_dragged_holds_there_and_is_laid_anew(demo: MainWindow, stops: StopsDialog, qtbot: QtBot) -> None:
    demo.store.look(joint_id="F2")
    key = demo.store.now.plan.passes[4].key
    before = stops.strip.stops.of(key, "").marks
    drag(qtbot, stops, key, 1, 12)
    pin = demo.store.joint.stops.pinned("")[key]
    assert pin[1] > before[1] + 3 and stops.strip.stops.of(key, "").is_pinned and stops.strip.stops.of(key, "").marks == pin
    assert demo.store.session.undoable()[0] == "Stops of pass 5 put by hand"
    drag(qtbot, stops, key, 1, 4000)
    held = demo.store.joint.stops.pinned("")[key]
    reach = next(run.run_out_mm for run in stops.strip.stops.maps[0].runs if run.key == key)
    assert all(b - a <= reach + 0.011 for a, b in itertools.pairwise((0.0, *held, 900.0))), "a rod goes no further than it does"
    rods = len(held) + 1
    qtbot.keyClick(stops.strip, Qt.Key.Key_Plus)
    assert len(demo.store.joint.stops.pinned("")[key]) == rods
    for _ in range(2):
        qtbot.keyClick(stops.strip, Qt.Key.Key_Minus)
    assert stops.fault.isVisible() and "do not reach" in stops.fault.text()
    qtbot.keyClick(stops.strip, Qt.Key.Key_Space)
    assert key not in demo.store.joint.stops.pinned("") and not stops.strip.stops.of(key, "").is_pinned
    demo.store.undo()
    assert key in demo.store.joint.stops.pinned("")


def test_tack_ends_are_kept_clear_of_stops(demo: MainWindow, stops: StopsDialog) -> None:
    demo.store.look(joint_id="G1")
    joint = demo.store.joint
    demo.store.edit_joint("tacks", fitup=joint.fitup.with_tacks((Tack(from_s=300.0, to_s=330.0, order=1),)))
    plan = demo.store.now.plan
    first = [p for p in plan.passes if p.layer <= 2 and p.side == "front"]
    for p in first:
        assert all(not a < t < b for t in stops.strip.stops.of(p.key, "").marks for a, b in ((290.0, 310.0), (320.0, 340.0)))
    assert any("kept-off:tack" in getattr(s, "id", "") for s in shapes_of(stops.strip.drawing))


def test_the_strip_as_a_picture(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "stops.svg"
    run(["stops", str(data_file("demo.banister")), "--joint", "P4", "--svg", str(path)])
    assert "half by 3 o'clock" in capsys.readouterr().out and path.read_text().count("<polygon") >= 20 and "tightest" in path.read_text()


def test_how_sure_is_told_and_leads_to_where_it_is_measured(demo: MainWindow, qtbot: QtBot) -> None:
    demo.menus.actions["sure"].trigger()
    view = demo.opened["sure"]
    found = view.picture.sure
    assert found.draws == 1000 and "planned anew" in view.note.text() and any("rods, nine in ten" in t for t in texts_of(view.picture.drawing))
    qtbot.keyClick(view.picture, Qt.Key.Key_Down)
    assert view.picture.outcome == "time"
    heaviest = next(iter(view.picture.chart.weights))
    qtbot.keyClick(view.picture, Qt.Key.Key_1)
    assert demo.store.view.step == ("rods" if heaviest in ("hand", "deposit") else "fitup")
    demo.store.edit_joint("gap", root_gap_mm=3.4)
    assert view.picture.sure is not found
    view.close()
