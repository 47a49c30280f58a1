"""What is written of an inspection: of the shown joint, by whom, and what was written last, which can be taken back."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from banister.core.journal import Record
from banister.desktop.fields import NameField
from banister.desktop.logbook import Logbook
from banister.desktop.store import Store


class Entries(QObject):
    """Writes records of the shown joint under the mark of the inspector."""

    has_last = Signal(bool)
    """Whether there is a last record that can be taken back."""

    def __init__(self, panel: QWidget, store: Store, by: NameField) -> None:
        super().__init__(panel)
        self._panel, self._store, self._by = panel, store, by
        self._last = 0
        """Number of the record written last, 0 for none."""

    @property
    def by(self) -> str:
        """The mark of who inspects, '' for nobody."""
        return self._by.edit.text().strip()

    def write(self, kind: str, /, **data: Any) -> Record | None:
        """One record; None where it could not be kept, which is said."""
        joint = self._store.joint
        if joint is None:
            return None
        record = self._logbook.write(kind, joint.id, **data, **({"by": self.by} if self.by else {}))
        self._remember(0 if record is None else record.n)
        return record

    def take_back(self, number: int) -> bool:
        """A record counts no more; it stays in the journal as taken back."""
        return self._logbook.void(number, self._store.say("rack.void.why")) is not None

    def take_last_back(self) -> None:
        """What was written last counts no more."""
        if self._last and self.take_back(self._last):
            self._remember(0)

    def _remember(self, number: int) -> None:
        self._last = number
        self.has_last.emit(number > 0)

    @property
    def _logbook(self) -> Logbook:
        found: Logbook = self._panel.window().logbook  # type: ignore[attr-defined]
        return found
