"""F1: what the step in hand asks for; and one overview of all keys."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QTextBrowser, QVBoxLayout, QWidget

from banister.job.library import data_file

SECTION_KEYS = (
    ("H", "take hold of the next handle in the drawing"),
    ("arrow keys in the drawing", "nudge the handle, or walk through the beads"),
    ("Esc", "let go, clear the selection"),
    ("arrow keys on the rail", "walk through the beads"),
    ("wheel on the rail", "zoom true time"),
    ("up and down in a field", "nudge the value"),
)


def help_text(step: str) -> str:
    """The help of one step, as Markdown."""
    text = data_file("help.md").read_text(encoding="utf-8")
    parts = {part.split("\n", 1)[0].strip(): part.split("\n", 1)[1] for part in ("\n" + text).split("\n# ")[1:]}
    return f"## {step.capitalize()}\n{parts[step]}"


def keys_text(actions: Sequence[QAction]) -> str:
    """All keys as Markdown."""
    rows = [(a.shortcut().toString(QKeySequence.SequenceFormat.NativeText), a.text().replace("&", "")) for a in actions if not a.shortcut().isEmpty()]
    return "## Keys\n" + "\n".join(f"- **{keys}**: {what}" for keys, what in (*rows, *SECTION_KEYS))


class HelpDialog(QDialog):
    """A page of help that stays open beside the work."""

    def __init__(self, parent: QWidget, markdown: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.resize(560, 460)
        self.page = QTextBrowser()
        self.page.setMarkdown(markdown)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        column = QVBoxLayout(self)
        column.addWidget(self.page)
        column.addWidget(buttons)
