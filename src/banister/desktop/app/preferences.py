"""What the window remembers from one session to the next: theme, units, convention, step, table, size, files that were open."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import QByteArray, QLocale, QSettings

from banister.core.drawing.convention import CONVENTIONS, ISO
from banister.core.value import replace
from banister.desktop.snapshot import DeviceLine, View
from banister.desktop.steps.registry import STEPS_BY_KEY
from banister.devices.speeds import A_PEDAL, A_THERMOMETER, AN_OVEN, ARC_METER, BAUDS, DEFAULT_BAUD

RECENT = 8
YES, NO = "true", "false"
DEVICE_NAMES = {ARC_METER: "meter", A_THERMOMETER: "thermometer", AN_OVEN: "oven", A_PEDAL: "pedal"}
"""What the line of each device is kept under."""
TEXT_SIZES = (100, 115, 130, 150)
"""Sizes of text and everything with it, in per cent."""


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

    def view(self, system_dark: bool = False) -> View:
        """How the window looked when it was left; dark as the system is, unless it was chosen here."""
        convention, step, dark = (self._read(key) for key in ("convention", "step", "dark"))
        return replace(View(), dark=system_dark if self.follows_system else dark == YES, inches=self._read("inches") == YES,
                       convention=str(convention) if convention in CONVENTIONS else ISO, step=str(step) if step in STEPS_BY_KEY else View().step,
                       put_away=tuple(str(self._read("put_away") or "").split()),
                       lines=tuple(self._lines()))  # fmt: skip

    def _lines(self) -> Iterator[DeviceLine]:
        for device, name in DEVICE_NAMES.items():
            path, baud = str(self._read(f"{name}_line") or ""), str(self._read(f"{name}_baud"))
            if path:
                yield DeviceLine(device, path, int(baud) if baud in map(str, BAUDS) else DEFAULT_BAUD)

    def keep_view(self, view: View) -> None:
        """Remember theme, units, convention and step."""
        for key, value in (("inches", view.inches), *(() if self.follows_system else (("dark", view.dark),))):
            self._write(key, YES if value else NO)
        self._write("convention", view.convention)
        self._write("step", view.step)
        self._write("put_away", " ".join(view.put_away))
        for device, name in DEVICE_NAMES.items():
            line = view.line_of(device)
            self._write(f"{name}_line", "" if line is None else line.path)
            if line is not None:
                self._write(f"{name}_baud", line.baud)

    @property
    def follows_system(self) -> bool:
        """True while dark or light is the system's choice."""
        return self._read("theme") != "chosen"

    @follows_system.setter
    def follows_system(self, value: bool) -> None:
        self._write("theme", "system" if value else "chosen")

    @property
    def text_size(self) -> int:
        """Size of text in per cent, from the next start on."""
        found = str(self._read("text_size"))
        return int(found) if found in map(str, TEXT_SIZES) else TEXT_SIZES[0]

    @text_size.setter
    def text_size(self, percent: int) -> None:
        self._write("text_size", percent)

    @property
    def decimal_comma(self) -> bool:
        """True where tables are written with a decimal comma: as the desktop's own language does, until it is chosen here."""
        found = self._read("decimal_comma")
        return QLocale.system().decimalPoint() == "," if found is None else found == YES

    @decimal_comma.setter
    def decimal_comma(self, value: bool) -> None:
        self._write("decimal_comma", YES if value else NO)

    @property
    def shows_table(self) -> bool:
        """True where the table of passes was shown."""
        return self._read("table") == YES

    @shows_table.setter
    def shows_table(self, value: bool) -> None:
        self._write("table", YES if value else NO)

    @property
    def split(self) -> QByteArray | None:
        """How section and table share their room."""
        found = self._read("split")
        return found if isinstance(found, QByteArray) else None

    @split.setter
    def split(self, value: QByteArray) -> None:
        self._write("split", value)

    @property
    def practice(self) -> Path | None:
        """The practice book that was open last, while it is there."""
        found = self._read("practice")
        return Path(found) if isinstance(found, str) and found and _exists(Path(found)) else None

    @practice.setter
    def practice(self, path: Path | None) -> None:
        self._write("practice", "" if path is None else str(path))

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
