"""What the window remembers from one session to the next: theme, units, convention, size, files that were open."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings

from banister.core.drawing.convention import CONVENTIONS, ISO
from banister.desktop.snapshot import View

RECENT = 8
YES = "true"


def user_settings() -> QSettings:
    """The user's settings file."""
    return QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "banister", "window")


class Preferences:
    """Settings with their meaning; a file that cannot be read is left as it is, and nothing is remembered over it."""

    def __init__(self, settings: QSettings) -> None:
        self._settings = settings
        self.file = Path(settings.fileName())
        settings.sync()
        self.is_broken = settings.status() != QSettings.Status.NoError
        self._kept: dict[str, object] = {}

    def _read(self, key: str) -> object:
        return self._kept.get(key, None if self.is_broken else self._settings.value(key))

    def _write(self, key: str, value: object) -> None:
        self._kept[key] = value
        if not self.is_broken:
            self._settings.setValue(key, value)

    def view(self) -> View:
        """How the window looked when it was left."""
        convention = self._read("convention")
        return replace(View(), dark=self._read("dark") == YES, inches=self._read("inches") == YES,
                       convention=str(convention) if convention in CONVENTIONS else ISO)  # fmt: skip

    def keep_view(self, view: View) -> None:
        """Remember theme, units and convention."""
        for key, value in (("dark", view.dark), ("inches", view.inches)):
            self._write(key, YES if value else "false")
        self._write("convention", view.convention)

    @property
    def geometry(self) -> QByteArray | None:
        """Place and size of the window."""
        found = self._read("geometry")
        return found if isinstance(found, QByteArray) else None

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._write("geometry", value)

    @property
    def recent(self) -> list[Path]:
        """Files that were open before and still exist."""
        found = self._read("recent")
        names = [found] if isinstance(found, str) else found if isinstance(found, list) else []
        return [Path(name) for name in names if isinstance(name, str) and _exists(Path(name))]

    def opened(self, path: Path) -> None:
        """Remember a file as the one that was open last."""
        first = path.absolute()
        self._write("recent", [str(first), *(str(p) for p in self.recent if p != first)][:RECENT])


def _exists(path: Path) -> bool:
    try:
        return path.is_file()
    except OSError:
        return False
