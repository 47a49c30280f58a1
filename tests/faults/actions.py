"""Random actions in the real window for some minutes: clicks, typing, keys, menus, steps, other joints; the processes beside it killed now and then.

    python -m tests.faults.actions [MINUTES] [SEED]

Anything unexpected (an exception, a dialog nobody asked for, a window that hangs) is told and ends it with 1.
"""

from __future__ import annotations

import collections
import contextlib
import os
import random
import signal
import sys
import tempfile
import time
import traceback
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QEvent, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLineEdit, QListWidget, QWidget
from shiboken6 import isValid

from banister.desktop.app import ahead
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.style import dress
from banister.desktop.app.theme import LIGHT_THEME, load_fonts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Errands
from banister.desktop.steps.registry import STEPS
from tests.desktop.conftest import Answers

TYPED = ("", "3", "12,5", "1/8 in", "-4", "99999", "abc", "0", "4:30", "80..120", "..", "nan", "1e9", "Q2", "\N{GREEK SMALL LETTER ALPHA}<b>", "12:00..12:30")
KEYS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Tab,
        Qt.Key.Key_N, Qt.Key.Key_A, Qt.Key.Key_B, Qt.Key.Key_O, Qt.Key.Key_Delete, Qt.Key.Key_Home)  # fmt: skip
NOT_PRESSED = ("quit", "print", "about", "open", "full_screen")
WHAT = ("click", "click", "type", "type", "choose", "list", "key", "key", "menu", "step", "joint", "undo", "redo", "place", "kill", "close", "size")
HANGS_S = 8.0


def press(widget: QWidget, key: Qt.Key) -> None:
    """A key down and, if the widget is still there, up."""
    QTest.keyPress(widget, key)
    if isValid(widget):
        QTest.keyRelease(widget, key)


class Wild:
    """Somebody with a bad day."""

    def __init__(self, seed: int, folder: Path) -> None:
        self.draw, self.folder, self.did = random.Random(seed), folder, collections.Counter[str]()
        self.faults: list[str] = []
        sys.excepthook = lambda kind, error, trace: self.faults.append("".join(traceback.format_exception(kind, error, trace)))
        self.app = QApplication.instance() or QApplication([])
        load_fonts()
        dress(self.app, LIGHT_THEME)  # type: ignore[arg-type]
        self.answers = Answers()
        self.answers.path = folder / "job.banister"
        settings = QSettings(str(folder / "w.ini"), QSettings.Format.IniFormat)
        self.window = MainWindow(Errands(), self.answers, Preferences(settings), folder / "recovery")
        self.window.logbook.folder = folder / "data"
        ahead.QUIET_MS = 50  # nobody here is quiet for longer
        ahead.Ahead(self.window.work, self.window.store)
        self.window.show()
        self.window.open_demo()

    def visible(self, kind: type) -> list[Any]:
        """Widgets of a kind somebody can reach."""
        tops: list[QWidget] = [w for w in self.app.topLevelWidgets() if w.isVisible()]  # type: ignore[attr-defined]
        return [w for top in tops for w in top.findChildren(kind) if w.isVisible() and w.isEnabled()]

    def once(self) -> str:
        """One action; its name."""
        draw, window, store = self.draw, self.window, self.window.store
        what = draw.choice(WHAT)
        if what == "click" and (found := self.visible(QAbstractButton)):
            button = draw.choice(found)
            what = f"click {button.text()}"
            button.click()
        elif what == "type" and (found := self.visible(QLineEdit)):
            edit = draw.choice(found)
            edit.setFocus()
            edit.selectAll()
            edit.insert(draw.choice(TYPED))
            press(edit, draw.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape)))
        elif what == "choose" and (found := [b for b in self.visible(QComboBox) if b.count()]):
            box = draw.choice(found)
            box.setCurrentIndex(draw.randrange(box.count()))
            box.activated.emit(box.currentIndex())
        elif what == "list" and (found := [one for one in self.visible(QListWidget) if one.count()]):
            rows = draw.choice(found)
            rows.setCurrentRow(draw.randrange(rows.count()))
        elif what == "key" and (at := self.app.focusWidget()) is not None:  # type: ignore[attr-defined]
            press(at, draw.choice(KEYS))
        elif what == "menu":
            actions = {key: a for key, a in window.menus.actions.items() if a.isEnabled() and not any(word in key for word in NOT_PRESSED)}
            key = draw.choice(list(actions))
            what = f"menu {key}"
            actions[key].trigger()
        elif what == "step":
            window.go_to(draw.choice(STEPS).key)
        elif what == "joint" and store.job is not None and store.job.joints:
            store.look(joint_id=draw.choice(store.job.joints).id)
        elif what in ("undo", "redo"):
            getattr(store, what)()
        elif what == "place" and (found := self.visible(QWidget)):
            widget = draw.choice(found)
            QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=widget.rect().center())
            if isValid(widget):  # a window system releases on nothing that is gone
                QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=widget.rect().center())
        elif what == "kill" and draw.random() < 0.3:
            for pid in window.errands.worker_pids().values():  # type: ignore[attr-defined]
                with contextlib.suppress(ProcessLookupError):  # killed a moment ago, and not yet missed
                    os.kill(pid, signal.SIGKILL)
        elif what == "close" and (found := [w for w in self.app.topLevelWidgets() if w is not window and w.isVisible()]):  # type: ignore[attr-defined]
            draw.choice(found).close()
        elif what == "size":
            window.resize(draw.choice((960, 1100, 1280, 1700)), draw.choice((540, 700, 800, 1000)))
        if store.job is None:
            window.open_demo()
        return what

    def go(self, minutes: float) -> int:
        """Until the time is up, or something unexpected happens."""
        until, n, slowest = time.monotonic() + 60 * minutes, 0, (0.0, "")
        while time.monotonic() < until and len(self.faults) < 5:
            begun = time.monotonic()
            what = "raised"
            try:
                what = self.once()
            except Exception:  # noqa: BLE001  what is looked for: the hook of the window would take it and end the trial in silence
                self.faults.append(traceback.format_exc())
            self.app.processEvents()  # type: ignore[attr-defined]
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # without a loop running what was closed would stay for ever
            n += 1
            self.did[what.split()[0]] += 1
            slowest = max(slowest, (time.monotonic() - begun, what))
        for fault in self.faults:
            print(fault)
        print(f"{n} actions, {len(self.faults)} faults, slowest {slowest[0]:.2f} s ({slowest[1]}); {dict(self.did)}")
        self.answers.keep = "discard"
        self.window.close()
        return int(bool(self.faults) or slowest[0] > HANGS_S)


if __name__ == "__main__":
    minutes, seed = (float(sys.argv[1]) if len(sys.argv) > 1 else 30.0), (int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    with tempfile.TemporaryDirectory() as name:
        sys.exit(Wild(seed, Path(name)).go(minutes))
