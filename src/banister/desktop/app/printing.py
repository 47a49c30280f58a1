"""Printing the pass sheet: the PDF goes to the system's printing command, beside the window."""

from __future__ import annotations

from typing import TYPE_CHECKING

from banister.desktop.errands import HEAT, Errand
from banister.desktop.notices import Notice
from banister.desktop.work import LONGEST_S, SENT, Paper, printed

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

PRINT = "print"


def print_sheet(window: MainWindow, paper: Paper) -> None:
    """Send the sheet to the default printer; say what to do where there is none."""
    say = window.store.say

    def told(found: tuple[str, str]) -> None:
        word, why = found
        if word == SENT:
            window.tell(say("print.sent"))
        else:
            window.notices.add(Notice(say(f"print.{word}", why=why, seconds=str(LONGEST_S))))

    window.store.errands.run(Errand(HEAT, PRINT, PRINT, printed, (paper,), told))
