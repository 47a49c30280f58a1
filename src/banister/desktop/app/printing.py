"""Printing the pass sheet: the PDF goes to the system's printing command."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from banister.core.sheet import Sheet
from banister.desktop.notices import Notice
from banister.export.sheet import pass_sheets

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

LONGEST_S = 20


def print_sheet(window: MainWindow, sheet: Sheet) -> None:
    """Send the sheet to the default printer; say what to do where there is none."""
    say = window.store.say
    command = shutil.which("lp")
    if command is None:
        window.notices.add(Notice(say("print.none")))
        return
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"{sheet.joint.id}.pdf"
        path.write_bytes(pass_sheets([sheet], say, "A4", window.store.view.convention))
        try:
            done = subprocess.run([command, str(path)], capture_output=True, text=True, check=False, timeout=LONGEST_S)
        except subprocess.TimeoutExpired:
            window.notices.add(Notice(say("print.slow", seconds=str(LONGEST_S))))
            return
    if done.returncode != 0:
        window.notices.add(Notice(say("print.failed", why=done.stderr.strip())))
        return
    window.tell(say("print.sent"))
