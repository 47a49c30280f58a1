"""F1: what the step in hand asks for; and one overview of all keys."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QPushButton, QTextBrowser, QVBoxLayout, QWidget

from banister.core.words import Speech
from banister.desktop.app.beside import Beside

HAND_KEYS = ("handle", "arrows", "escape", "rail", "wheel", "field", "entry", "menus")


def help_text(step: str, say: Speech) -> str:
    """The help of one step, as Markdown."""
    return f"## {say(f'step.{step}')}\n{say(f'help.{step}')}"


def keys_text(actions: Sequence[QAction], say: Speech) -> str:
    """All keys as Markdown."""
    rows = [(a.shortcut().toString(QKeySequence.SequenceFormat.NativeText), a.text().replace("&", "")) for a in actions if not a.shortcut().isEmpty()]
    rows += [(say(f"keys.{key}"), say(f"keys.{key}.what")) for key in HAND_KEYS]
    return f"## {say('keys.title')}\n" + "\n".join(f"- **{keys}**: {what}" for keys, what in rows)


class HelpDialog(Beside):
    """A page of help that stays open beside the work."""

    def __init__(self, parent: QWidget, markdown: str, say: Speech) -> None:
        super().__init__(parent, 560, 460)
        self.setWindowTitle(say("help.window"))
        self.page = QTextBrowser()
        self.page.setMarkdown(markdown)
        close = QPushButton(say("help.close"))
        close.clicked.connect(self.close)
        column = QVBoxLayout(self)
        column.addWidget(self.page)
        column.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
