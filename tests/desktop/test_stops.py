"""The stop map in the real window: laid, lit up, laid anew after an edit, and as a picture."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.cli.main import run
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.passes.stops_view import StopsDialog
from banister.job.library import data_file
from tests.conftest import shapes_of, texts_of
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


def test_an_edit_lays_them_anew_and_more_is_wanted(demo: MainWindow, stops: StopsDialog, qtbot: QtBot) -> None:
    before = stops.strip.stops
    demo.store.edit_joint("Gap", root_gap_mm=3.5)
    assert stops.strip.stops is not None and stops.strip.stops is not before
    type_in(qtbot, stops.wanted.edit, "300")
    assert "Less than the 300 mm wanted" in stops.title.text()
    demo.store.edit_joint("Square", key="square", root_face_mm=0.0)
    assert stops.list.count() == 0 and stops.strip.drawing is None


def test_the_strip_as_a_picture(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "stops.svg"
    run(["stops", str(data_file("demo.banister")), "--joint", "P4", "--svg", str(path)])
    assert "first half" in capsys.readouterr().out and path.read_text().count("<polygon") >= 20 and "tightest" in path.read_text()
