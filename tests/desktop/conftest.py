"""The real window, offscreen, planning in place."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QSettings
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.desktop.lane import DirectLane
from banister.desktop.theme import LIGHT_THEME, dress, load_fonts
from banister.desktop.window import MainWindow


class Answers:
    """Dialogs that answer as the test says."""

    def __init__(self) -> None:
        self.path: Path | None = None
        self.keep = "discard"
        self.asked: list[str] = []

    def open_path(self, parent: object) -> Path | None:
        self.asked.append("open")
        return self.path

    def document_path(self, parent: object, title: str) -> Path | None:
        self.asked.append("document")
        return self.path

    def save_path(self, parent: object, title: str, name: str, kind: str) -> Path | None:
        self.asked.append("save")
        return self.path

    def keep_changes(self, parent: object, name: str) -> str:
        self.asked.append("keep")
        return self.keep


@pytest.fixture
def dialogs() -> Answers:
    return Answers()


@pytest.fixture
def window(qtbot: QtBot, qapp: QApplication, dialogs: Answers, tmp_path: Path) -> Iterator[MainWindow]:
    load_fonts()
    dress(qapp, LIGHT_THEME)
    settings = QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)
    made = MainWindow(DirectLane(), dialogs, settings, tmp_path / "recovery")
    made.show()
    qtbot.waitExposed(made)
    yield made
    dialogs.keep = "discard"
    made.close()
    made.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert not [w for w in qapp.topLevelWidgets() if isinstance(w, MainWindow)], "a window leaked"


@pytest.fixture
def demo(window: MainWindow) -> MainWindow:
    window.open_demo()
    return window
