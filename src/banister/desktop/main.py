"""Opening the window."""

from __future__ import annotations

import gc
import logging  # noqa: F401  as below
import multiprocessing.connection  # noqa: F401
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

# Read before PySide6 on purpose: its import hook inspects the source of every module imported after it,
# and these are many. They come with the window in any case.
import banister.core.drawing.charts.rail
import banister.core.drawing.section
import banister.core.drawing.symbol
import banister.core.heat.advice
import banister.core.heat.board
import banister.core.heat.line
import banister.core.sheet
import banister.job.recovery  # noqa: F401
from banister.core.words import Speech
from banister.job.library import data_file, words

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

NO_DISPLAY, NO_FILE = 5, 4


def main(arguments: list[str]) -> int:
    """Open the window on a job, the demo or the start page; returns the exit code."""
    say = Speech(words())
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        print(say("start.no_display"), end="", file=sys.stderr)
        return NO_DISPLAY
    names = [a for a in arguments if not a.startswith("-")]
    if names and not Path(names[0]).exists():
        print(say("start.no_file", name=names[0]), file=sys.stderr)
        return NO_FILE
    from PySide6.QtCore import QTimer
    from PySide6.QtGui import QIcon
    from PySide6.QtWidgets import QApplication

    from banister.desktop.app.ahead import Ahead
    from banister.desktop.app.dialogs import QtDialogs
    from banister.desktop.app.faults import hook, start_logging, state_folder
    from banister.desktop.app.preferences import TEXT_SIZES, Preferences, user_settings
    from banister.desktop.app.style import dress
    from banister.desktop.app.theme import DARK_THEME, LIGHT_THEME, load_fonts
    from banister.desktop.app.window import MainWindow, system_is_dark
    from banister.desktop.errands import Errands
    from banister.desktop.notices import Notice

    preferences = Preferences(user_settings())
    if preferences.text_size != TEXT_SIZES[0]:
        os.environ.setdefault("QT_SCALE_FACTOR", str(preferences.text_size / 100))
    app = QApplication(["banister", *arguments])
    app.setApplicationName("banister")
    app.setDesktopFileName("banister")
    app.setWindowIcon(QIcon(str(data_file("icons/banister.svg"))))
    folder = state_folder()
    unlogged = start_logging(folder)
    errands = Errands()
    load_fonts()
    dress(app, DARK_THEME if preferences.view(system_is_dark()).dark else LIGHT_THEME)
    window = MainWindow(errands, QtDialogs(), preferences, folder / "recovery")
    hook(window.told_fault)
    if unlogged:
        window.notices.add(Notice(say("settings.state", path=str(folder), why=unlogged)))
    window.show()
    app.processEvents()
    gc.freeze()
    gc.enable()
    if names:
        QTimer.singleShot(0, lambda: window.open_path(Path(names[0])))
    elif "--demo" in arguments:
        QTimer.singleShot(0, lambda: open_demo(window))
    else:
        QTimer.singleShot(0, window.offer_recovery)
    QTimer.singleShot(0, errands.warm)
    Ahead(window.work, window.store)
    return int(app.exec())


def open_demo(window: MainWindow) -> None:
    """The demo, or the work that a crash left: that comes first."""
    window.offer_recovery()
    if window.store.job is None:
        window.open_demo()
