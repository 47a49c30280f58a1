"""Opening the window."""

from __future__ import annotations

import os
import sys
import traceback
from pathlib import Path
from types import TracebackType

# Read before PySide6 on purpose: its import hook inspects the source of every module imported after it,
# and these are many. They come with the window in any case.
import banister.core.drawing.section
import banister.core.drawing.symbol
import banister.core.plan.answers
import banister.core.judge.check
import banister.core.plan.notes
import banister.job.files
import banister.job.history
import banister.job.library  # noqa: F401

NO_DISPLAY = """\
banister: there is no display here.
On a machine with a screen, start it there. Without one, run it on a virtual display:
    xvfb-run -a banister --demo
or use the command line: banister plan JOB (see banister --help).
"""


def main(arguments: list[str]) -> int:
    """Open the window on a job, the demo or the start page; returns the exit code."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        print(NO_DISPLAY, end="", file=sys.stderr)
        return 5
    names = [a for a in arguments if not a.startswith("-")]
    if names and not Path(names[0]).exists():
        print(f"banister: no file '{names[0]}'; banister --help lists the commands", file=sys.stderr)
        return 4
    from PySide6.QtCore import QSettings, QTimer
    from PySide6.QtGui import QIcon
    from PySide6.QtWidgets import QApplication

    from banister.desktop.dialogs import QtDialogs
    from banister.desktop.lane import ProcessLane
    from banister.desktop.theme import DARK_THEME, LIGHT_THEME, dress, load_fonts
    from banister.desktop.window import MainWindow
    from banister.job.library import data_file

    app = QApplication(["banister", *arguments])
    app.setApplicationName("banister")
    app.setDesktopFileName("banister")
    app.setWindowIcon(QIcon(str(data_file("icons/banister.svg"))))
    settings = QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "banister", "window")
    load_fonts()
    dress(app, DARK_THEME if settings.value("dark", "false") == "true" else LIGHT_THEME)
    window = MainWindow(ProcessLane(), QtDialogs(), settings)
    sys.excepthook = _reporter(window)
    window.show()
    app.processEvents()
    if names:
        QTimer.singleShot(0, lambda: window.open_path(Path(names[0])))
    elif "--demo" in arguments:
        QTimer.singleShot(0, lambda: (window.offer_recovery(), window.store.job or window.open_demo()))
    else:
        QTimer.singleShot(0, window.offer_recovery)
    return int(app.exec())


def _reporter(window: object) -> object:
    """Faults nobody expected: logged, work kept, and a report that can be copied."""

    def report(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        from banister.desktop.window import MainWindow

        text = "".join(traceback.format_exception(kind, error, trace))
        print(text, file=sys.stderr)
        if isinstance(window, MainWindow):
            window.documents.keep_recovery()
            window.say(f"A fault in the program; your work is kept.\n{text[-900:]}", True)

    return report
