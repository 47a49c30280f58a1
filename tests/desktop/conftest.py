"""The real window, offscreen, its errands done in place; what a test leaves running or warning fails it."""

from __future__ import annotations

import gc
import hashlib
import logging
import os
import pickle
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, QSettings, Qt, QTimer
from PySide6.QtWidgets import QApplication, QPushButton, QWidget
from pytestqt.qtbot import QtBot
from shiboken6 import isValid

from banister.core.joint.working import AT_ONCE
from banister.core.polygon import centroid
from banister.core.words import Speech
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.derived import FRONT
from banister.desktop.errands import PLAN, Direct, Errand
from banister.desktop.panel import Panel
from banister.desktop.steps.heat.panel import OTHERS
from banister.desktop.weld.opening import STOPS
from banister.desktop.weld.page import WeldPage
from tests.desktop.at_the_joint import Clock, close, opened


class Remembered(dict[bytes, list[Any]]):
    """What errands brought in this run, in the processes beside this one too: a plan asked for by many tests is worked out once."""

    folder: Path | None = None

    def __contains__(self, key: object) -> bool:
        if not super().__contains__(key) and (kept := self._file(key)) is not None and kept.exists():
            super().__setitem__(key, pickle.loads(kept.read_bytes()))
        return super().__contains__(key)

    def __setitem__(self, key: bytes, brought: list[Any]) -> None:
        super().__setitem__(key, brought)
        if (kept := self._file(key)) is not None:
            mine = kept.with_suffix(f".{os.getpid()}")
            mine.write_bytes(pickle.dumps(brought))
            mine.replace(kept)

    def _file(self, key: bytes) -> Path | None:
        return None if self.folder is None else self.folder / hashlib.sha256(key).hexdigest()


REMEMBERED = Remembered()


@pytest.fixture(scope="session", autouse=True)
def remembered_together(tmp_path_factory: pytest.TempPathFactory) -> None:
    """Processes that share a run share what errands brought in it."""
    if "PYTEST_XDIST_WORKER" in os.environ:
        REMEMBERED.folder = tmp_path_factory.getbasetemp().parent / "errands"
        REMEMBERED.folder.mkdir(exist_ok=True)


class Answers:
    """Dialogs that answer as the test says."""

    def __init__(self) -> None:
        self.path: Path | None = None
        self.keep = "discard"
        self.asked: list[str] = []

    def open_path(self, parent: QWidget, say: Speech) -> Path | None:
        self.asked.append("open")
        return self.path

    def document_path(self, parent: QWidget, title: str, folder: Path, say: Speech, suffix: str = "json") -> Path | None:
        self.asked.append("document")
        return self.path

    def save_path(self, parent: QWidget, title: str, name: str, kind: str) -> Path | None:
        self.asked.append("save")
        return self.path

    def keep_changes(self, parent: QWidget, name: str, say: Speech) -> str:
        self.asked.append("keep")
        return self.keep


class Faults(logging.Handler):
    """Log records of warning and above."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.records: list[logging.LogRecord] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.records.append(record)


@pytest.fixture(scope="session", autouse=True)
def modules_are_set_apart() -> None:
    """What was read before the first test is no test's: looking for what one left then passes over it."""
    gc.collect()
    gc.freeze()


@pytest.fixture(autouse=True)
def nothing_is_left(request: pytest.FixtureRequest, qapp: QApplication) -> Iterator[None]:
    """No test leaves a widget, a running timer or a thread, and none logs what it did not mean to (mark: logs)."""
    threads, seen = set(threading.enumerate()), Faults()
    logging.getLogger().addHandler(seen)
    yield
    logging.getLogger().removeHandler(seen)
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert set(threading.enumerate()) <= threads
    assert qapp.topLevelWidgets() == [] or not [w for w in qapp.topLevelWidgets() if w.isVisible() or isinstance(w, MainWindow)]
    gc.collect()
    assert [t for t in gc.get_objects() if type(t) is QTimer and isValid(t) and t.isActive()] == []
    gc.freeze()  # what this test left behind is looked for once
    assert bool(seen.records) == (request.node.get_closest_marker("logs") is not None), [r.getMessage() for r in seen.records]


@pytest.fixture
def dialogs() -> Answers:
    return Answers()


ANSWERS = "answers"


class AtOnce(Direct):
    """Errands done in place; long ones that few tests are about stay on their way (mark: awaits)."""

    LONG = (ANSWERS, FRONT, OTHERS, STOPS)

    def __init__(self, awaited: set[str]) -> None:
        super().__init__(REMEMBERED)
        self.left_out = set(self.LONG) - awaited

    def run(self, errand: Errand) -> None:
        assert errand.work.__module__.startswith(("banister.core.", "banister.desktop.work.")), "its process would have to load the window's own modules"
        if errand.key == PLAN and ANSWERS in self.left_out and len(errand.request[1]) < len(AT_ONCE):
            return  # the chosen answer was planned at once: the others are still on their way
        if errand.key not in self.left_out:
            super().run(errand)


class Late:
    """Errands of some keys are done when the test says so; the newest of a key counts, and one that is stopped brings nothing."""

    def __init__(self, real: Direct, keys: set[str]) -> None:
        self.real, self.keys, self.late = real, keys, dict[str, Errand]()

    def __getattr__(self, name: str) -> object:
        return getattr(self.real, name)

    def run(self, errand: Errand) -> None:
        if errand.key in self.keys:
            self.late[errand.key] = errand
        else:
            self.real.run(errand)

    def stop(self, key: str) -> None:
        self.late.pop(key, None)

    def bring(self) -> None:
        while self.late:  # what came may ask for more
            late, self.late = self.late, {}
            for errand in late.values():
                self.real.run(errand)


@pytest.fixture
def unshown(request: pytest.FixtureRequest, qapp: QApplication, dialogs: Answers, tmp_path: Path) -> Iterator[MainWindow]:
    """The window, not shown yet."""
    load_fonts()
    dress(qapp, LIGHT_THEME)
    settings = QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)
    awaited = {key for mark in request.node.iter_markers("awaits") for key in mark.args}
    window = MainWindow(AtOnce(awaited), dialogs, Preferences(settings), tmp_path / "recovery")
    yield window
    dialogs.keep = "discard"
    window.close()
    window.deleteLater()


@pytest.fixture
def window(unshown: MainWindow, qtbot: QtBot) -> MainWindow:
    """The window on its start page."""
    unshown.show()
    qtbot.waitExposed(unshown)
    return unshown


@pytest.fixture
def demo(unshown: MainWindow, qtbot: QtBot) -> MainWindow:
    """The window on the demo, which it opens before it is shown: the start page need not be drawn first."""
    unshown.open_demo()
    unshown.show()
    qtbot.waitExposed(unshown)
    return unshown


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def page(demo: MainWindow, dialogs: Answers, clock: Clock, tmp_path: Path) -> Iterator[WeldPage]:
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="F2")
    yield opened(demo, clock)
    close(demo)


def type_in(qtbot: QtBot, edit: Any, text: str) -> None:
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    qtbot.keyClick(edit, Qt.Key.Key_Return)


def choose(field: Any, key: str) -> None:
    field.box.setCurrentIndex(field.box.findData(key))
    field.box.activated.emit(field.box.currentIndex())


def step(window: MainWindow, key: str) -> Panel:
    """Go to a step; its panel. The sheet is a part of that of the passes."""
    if key == "sheet":
        window.store.look(step="passes", checking=True)
        return window.work.panel("passes").sheet
    window.go_to(key)
    return window.work.panel(key)


def press(window: MainWindow, step_key: str, word: str) -> None:
    """Press the button of a step that bears the words of a key; what is exported stands in the menu."""
    if word.startswith("export."):
        window.menus.actions[word.removeprefix("export.")].trigger()
        return
    wanted = window.store.say(word)
    next(b for b in window.work.panel(step_key).findChildren(QPushButton) if b.text() == wanted).click()


def pixel_of(window: MainWindow, number: int) -> QPoint:
    """Where a pass lies on the screen."""
    found = window.store.now.plan.passes[number - 1]
    return window.section.frame_px.px(*centroid(found.outline_mm)).toPoint()


def handle_px(window: MainWindow, key: str) -> QPoint:
    """Where a handle lies on the screen."""
    return window.section.frame_px.px(*next(h for h in window.section.drawing.handles if h.id == key).at).toPoint()


def drag(qtbot: QtBot, window: MainWindow, key: str, *moves: tuple[int, int], let_go: bool = True) -> None:
    """Drag a handle of the section through points away from where it lies."""
    section, start = window.section, handle_px(window, key)
    qtbot.mousePress(section, Qt.MouseButton.LeftButton, pos=start)
    for dx, dy in moves:
        qtbot.mouseMove(section, start + QPoint(dx, dy))
    if let_go:
        qtbot.mouseRelease(section, Qt.MouseButton.LeftButton, pos=start + QPoint(*moves[-1]))
