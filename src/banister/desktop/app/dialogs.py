"""Questions to the user behind one protocol, so that tests can answer them."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from banister.core.words import Speech

SAVE, DISCARD, CANCEL = "save", "discard", "cancel"


class Dialogs(Protocol):
    """What the window may ask."""

    def open_path(self, parent: QWidget, say: Speech) -> Path | None:
        """A job file to open."""

    def document_path(self, parent: QWidget, title: str, folder: Path, say: Speech, suffix: str = "json") -> Path | None:
        """A file to read that is no job: a procedure, a welder, readings."""

    def save_path(self, parent: QWidget, title: str, name: str, kind: str) -> Path | None:
        """Where to write."""

    def keep_changes(self, parent: QWidget, name: str, say: Speech) -> str:
        """SAVE, DISCARD or CANCEL before unsaved work is left."""


class QtDialogs:
    """The real ones."""

    def open_path(self, parent: QWidget, say: Speech) -> Path | None:
        """A job file to open."""
        name, _ = QFileDialog.getOpenFileName(parent, say("dialog.open"), "", f"{say('dialog.jobs')} (*.banister);;{say('dialog.all')} (*)")
        return Path(name) if name else None

    def document_path(self, parent: QWidget, title: str, folder: Path, say: Speech, suffix: str = "json") -> Path | None:
        """A file to read that is no job: a procedure, a welder, readings."""
        name, _ = QFileDialog.getOpenFileName(parent, title, str(folder), f"{say('dialog.documents')} (*.{suffix});;{say('dialog.all')} (*)")
        return Path(name) if name else None

    def save_path(self, parent: QWidget, title: str, name: str, kind: str) -> Path | None:
        """Where to write."""
        ask = QFileDialog(parent, title, str(Path(name).parent), kind)
        ask.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        ask.setDefaultSuffix(Path(name).suffix.lstrip("."))  # added before the question whether to replace a file that is there
        ask.selectFile(Path(name).name)
        return Path(ask.selectedFiles()[0]) if ask.exec() else None

    def keep_changes(self, parent: QWidget, name: str, say: Speech) -> str:
        """SAVE, DISCARD or CANCEL before unsaved work is left."""
        box = QMessageBox(parent)
        box.setText(say("dialog.unsaved", name=name))
        save = box.addButton(say("dialog.save"), QMessageBox.ButtonRole.AcceptRole)
        discard = box.addButton(say("dialog.discard"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(say("dialog.cancel"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        pressed = box.clickedButton()
        return SAVE if pressed is save else DISCARD if pressed is discard else CANCEL
