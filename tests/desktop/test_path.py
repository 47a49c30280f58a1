"""A newcomer's way from a pattern to a printed sheet, counted in clicks and keys: 40 at most without limits, 80 with."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from banister.desktop.app.window import MainWindow
from tests.desktop.conftest import Answers

pytestmark = pytest.mark.awaits("answers")


class Hand:
    """Clicks and keys, counted."""

    def __init__(self, qtbot: QtBot) -> None:
        self.qtbot, self.count = qtbot, 0

    def click(self, widget: QWidget) -> None:
        assert widget.isVisible() and widget.isEnabled()
        self.qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)
        QApplication.processEvents()
        self.count += 1

    def keys(self, widget: QWidget, text: str, end: Qt.Key = Qt.Key.Key_Return) -> None:
        for letter in text:
            self.qtbot.keyClick(widget, letter)
            self.count += 1
        self.qtbot.keyClick(widget, end)
        self.count += 1

    def chord(self, widget: QWidget, key: Qt.Key, *modifiers: Qt.KeyboardModifier) -> None:
        pressed = Qt.KeyboardModifier.NoModifier
        for one in modifiers:
            pressed |= one
        self.qtbot.keyClick(widget, key, pressed)
        QApplication.processEvents()
        self.count += 1 + len(modifiers)


@pytest.mark.awaits("front")
def test_from_a_pattern_to_a_printed_sheet(window: MainWindow, dialogs: Answers, qtbot: QtBot, tmp_path: Path) -> None:
    hand, dialogs.path = Hand(qtbot), tmp_path / "sheet.pdf"
    window.show()
    hand.click(window.start.tiles[1])
    fields = window.work.panel("joint").fields
    for key, text in (("thickness_mm", "18"), ("length_mm", "750")):
        hand.click(fields[key].edit)
        hand.chord(fields[key].edit, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        hand.keys(fields[key].edit, text)
    joint = window.store.joint
    assert (joint.prep.thickness_mm, joint.piece.length_mm) == (18.0, 750.0) and window.store.now.feasible
    printed(window, hand)
    assert dialogs.path.read_bytes().startswith(b"%PDF") and hand.count <= 40
    without = hand.count
    window.activateWindow()
    QApplication.processEvents()
    hand.chord(window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    assert window.store.view.step == "limits"
    grid = window.work.grid
    grid.cells.setFocus()
    for row, text in enumerate(("80-250", "70-120")):
        grid.cells.setCurrentCell(row, 0)
        qtbot.keyClick(grid.cells, text[0])
        hand.count += 2  # the cell, the first key
        (editor,) = (edit for edit in grid.cells.findChildren(QLineEdit) if edit.isVisible())
        hand.keys(editor, text[1:])
    hand.click(grid.above["interpass"])
    hand.keys(grid.above["interpass"], "220")
    assert len(window.store.joint.working.windows) == 3
    printed(window, hand)
    print(f"a printed sheet: {without} without limits, {hand.count} with three windows")
    assert without < hand.count <= 80


def printed(window: MainWindow, hand: Hand) -> None:
    """Ctrl+P, and the pages as a file."""
    hand.chord(window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    hand.click(window.opened["print"].buttons["pdf"])
