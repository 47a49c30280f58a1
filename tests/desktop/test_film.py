"""Watch it weld in the real window: by its button, its keys and by dragging; nothing to watch where there is no schedule."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.drawing.shapes import Polygon
from banister.desktop.app.window import MainWindow
from tests.conftest import shapes_of
from tests.desktop.conftest import Answers


def test_the_film_is_played_dragged_and_follows_the_joint(demo: MainWindow, qtbot: QtBot, dialogs: Answers, tmp_path: Path) -> None:
    demo.store.look(joint_id="F2")
    demo.menus.actions["film"].trigger()
    QApplication.processEvents()
    view = demo.opened["film"]
    picture = view.picture
    assert picture.own_s == 0.0 and view.play.isEnabled() and not view.timer.isActive()
    qtbot.keyClick(view, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: picture.own_s > 0.1, timeout=3000)
    assert view.timer.isActive() and view.play.text() == demo.store.say("film.pause")
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert not view.timer.isActive()
    qtbot.mousePress(picture, Qt.MouseButton.LeftButton, pos=QPoint(picture.width() // 2, picture.height() - 40))
    assert picture.own_s == pytest.approx(picture.film.length_s / 2, rel=0.01)
    assert "Welding F" in picture.accessibleDescription() and "of 17" in picture.accessibleDescription()
    qtbot.keyClick(view, Qt.Key.Key_End)
    assert picture.accessibleDescription().startswith("Welded")
    dialogs.path = tmp_path / "strip.pdf"
    view.strip.click()
    assert dialogs.path.read_bytes().startswith(b"%PDF")
    view.toggle()
    assert picture.own_s < 1.0, "from the beginning"
    before = picture.film
    demo.store.look(joint_id="P4")
    assert picture.film is not before and picture.own_s == 0.0 and not view.timer.isActive()
    demo.store.edit_joint("Set gap", root_gap_mm=19.0)
    assert picture.film is None and view.none.isVisible() and not view.play.isEnabled() and not view.strip.isEnabled()
    qtbot.keyClick(view, Qt.Key.Key_Space)
    assert not view.timer.isActive()
    demo.store.undo()
    view.close()


def test_the_heat_step_shows_the_section_warm_and_follows_the_pass_that_is_selected(demo: MainWindow) -> None:
    demo.store.look(joint_id="F2")

    def warm() -> set[str]:
        return {s.style for s in shapes_of(demo.section.drawing) if isinstance(s, Polygon) and s.style.startswith("warm.")}

    assert not warm()
    demo.go_to("heat")
    passes = demo.store.now.plan.passes
    assert warm() and demo.section.warmth.key == passes[-1].key
    demo.store.select(passes[3])
    later = [s for s in shapes_of(demo.section.drawing) if isinstance(s, Polygon) and s.style == "later"]
    assert demo.section.warmth.key == passes[3].key and len(later) == len(passes) - 4
    demo.go_to("passes")
    assert not warm() and demo.section.warmth is None
