"""F1: what the step in hand asks for; and one overview of all keys."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QTextBrowser, QVBoxLayout, QWidget

from banister.core.words import Speech
from banister.job.library import data_file

HAND_KEYS = ("handle", "arrows", "escape", "rail", "wheel", "field")


def help_text(step: str, say: Speech) -> str:
    """The help of one step, as Markdown."""
    text = data_file("help.md").read_text(encoding="utf-8")
    parts = {part.split("\n", 1)[0].strip(): part.split("\n", 1)[1] for part in ("\n" + text).split("\n# ")[1:]}
    return f"## {say(f'step.{step}')}\n{parts[step]}"


def keys_text(actions: Sequence[QAction], say: Speech) -> str:
    """All keys as Markdown."""
    rows = [(a.shortcut().toString(QKeySequence.SequenceFormat.NativeText), a.text().replace("&", "")) for a in actions if not a.shortcut().isEmpty()]
    rows += [(say(f"keys.{key}"), say(f"keys.{key}.what")) for key in HAND_KEYS]
    return f"## {say('keys.title')}\n" + "\n".join(f"- **{keys}**: {what}" for keys, what in rows)


class HelpDialog(QDialog):
    """A page of help that stays open beside the work."""

    def __init__(self, parent: QWidget, markdown: str, title: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(560, 460)
        self.page = QTextBrowser()
        self.page.setMarkdown(markdown)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        column = QVBoxLayout(self)
        column.addWidget(self.page)
        column.addWidget(buttons)
