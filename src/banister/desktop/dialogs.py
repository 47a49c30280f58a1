"""Questions to the user behind one protocol, so that tests can answer them."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget


class Dialogs(Protocol):
    """What the window may ask."""

    def open_path(self, parent: QWidget) -> Path | None:
        """A job file to open."""

    def document_path(self, parent: QWidget, title: str) -> Path | None:
        """A procedure or welder file to read."""

    def save_path(self, parent: QWidget, title: str, name: str, kind: str) -> Path | None:
        """Where to write."""

    def keep_changes(self, parent: QWidget, name: str) -> str:
        """'save', 'discard' or 'cancel' before unsaved work is left."""


class QtDialogs:
    """The real ones."""

    def open_path(self, parent: QWidget) -> Path | None:
        """A job file to open."""
        name, _ = QFileDialog.getOpenFileName(parent, "Open a job", "", "Banister jobs (*.banister);;All files (*)")
        return Path(name) if name else None

    def document_path(self, parent: QWidget, title: str) -> Path | None:
        """A procedure or welder file to read."""
        from banister.job.procedures import library_folder

        name, _ = QFileDialog.getOpenFileName(parent, title, str(library_folder()), "Documents (*.json);;All files (*)")
        return Path(name) if name else None

    def save_path(self, parent: QWidget, title: str, name: str, kind: str) -> Path | None:
        """Where to write."""
        chosen, _ = QFileDialog.getSaveFileName(parent, title, name, kind)
        return Path(chosen) if chosen else None

    def keep_changes(self, parent: QWidget, name: str) -> str:
        """'save', 'discard' or 'cancel' before unsaved work is left."""
        box = QMessageBox(parent)
        box.setText(f"{name} has changes that are not saved.")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        discard = box.addButton("Discard", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return {save: "save", discard: "discard"}.get(box.clickedButton(), "cancel")
