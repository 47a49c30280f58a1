"""A photo is read beside the window, in a thread: Qt lets the window go on meanwhile."""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QImage, QImageReader

from banister.job.photos import MOVED, photo_path, photo_state, photo_told
from banister.job.reading import FileFault

LARGEST_PX, SMALLEST_PX = 4000, 400
"""A larger photo is read smaller; smaller ones than the second are of no use."""
Images = tuple[QImage, ...]
"""A photo and what it is at a half, a quarter and so on, each the mean of what it stands for: shown small, a fusion line does not fall between the pixels."""


class PhotoReading(QObject):
    """Reads for one window; what was asked for last counts."""

    _read = Signal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._asked = 0
        self._taken: Callable[[Any], None] | None = None
        self._read.connect(self._arrived)

    def ask(self, read: Callable[[], Any], taken: Callable[[Any], None]) -> None:
        """Have it read, and taken once it is there."""
        self.forget()
        self._taken = taken
        threading.Thread(target=self._go, args=(self._asked, read), name="photo", daemon=True).start()

    def forget(self) -> None:
        """What is being read is no longer wanted."""
        self._asked, self._taken = self._asked + 1, None

    @property
    def is_reading(self) -> bool:
        """True while something is on its way."""
        return self._taken is not None

    def _go(self, number: int, read: Callable[[], Any]) -> None:
        found = read()
        with contextlib.suppress(RuntimeError):  # the window is gone meanwhile
            self._read.emit(number, found)

    def _arrived(self, number: int, found: Any) -> None:
        if number == self._asked and self._taken is not None:
            taken, self._taken = self._taken, None
            taken(found)


def photo_taken(path: Path, job: Path | None) -> tuple[dict[str, Any], Images] | FileFault:
    """What a record tells of a photo, and its images: none where Qt cannot read it; or why it is no photo at all."""
    try:
        return photo_told(path, job), _images(path)
    except FileFault as broken:
        return broken


def photo_found_again(told: Mapping[str, Any], job: Path | None) -> tuple[str, Images]:
    """How a photo that was taken in once is found now, and its images: none where it is not there."""
    state = photo_state(told, job)
    return state, () if state == MOVED else _images(photo_path(told, job))


def _images(path: Path) -> Images:
    reader = QImageReader(str(path))
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > LARGEST_PX:
        reader.setScaledSize(size.scaled(LARGEST_PX, LARGEST_PX, Qt.AspectRatioMode.KeepAspectRatio))
    found = [reader.read()]
    while not found[-1].isNull() and max(found[-1].width(), found[-1].height()) >= 2 * SMALLEST_PX:
        found.append(found[-1].scaled(found[-1].size() / 2, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation))
    return () if found[0].isNull() else tuple(found)
