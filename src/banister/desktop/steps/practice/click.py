"""The pacer's click: a short tone handed to the system's own player; where there is none the light stays, and that is said once."""

from __future__ import annotations

import math
import shutil
import struct
import wave
from pathlib import Path

from PySide6.QtCore import QProcess

PLAYERS = (("pw-play",), ("paplay",), ("aplay", "-q"))
RATE_HZ, CLICK_S, TONE_HZ, LOUD = 22_050, 0.05, 880.0, 0.5


class Click:
    """Plays the click; `is_there` tells whether there is a player."""

    def __init__(self, folder: Path) -> None:
        self._file = folder / "pacer-click.wav"
        self._player = next((command for command in PLAYERS if shutil.which(command[0]) is not None), None)

    @property
    def is_there(self) -> bool:
        """True where something can be heard."""
        return self._player is not None

    def play(self) -> None:
        """Once, without waiting for it."""
        if self._player is None:
            return
        try:
            if not self._file.exists():
                self._file.parent.mkdir(parents=True, exist_ok=True)
                _write(self._file)
        except OSError:
            self._player = None
            return
        QProcess.startDetached(self._player[0], [*self._player[1:], str(self._file)])


def _write(path: Path) -> None:
    """A tone that swells and dies away, so that it does not crack."""
    count = int(RATE_HZ * CLICK_S)
    values = (LOUD * math.sin(math.pi * i / count) * math.sin(2 * math.pi * TONE_HZ * i / RATE_HZ) for i in range(count))
    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE_HZ)
        file.writeframes(b"".join(struct.pack("<h", int(32_000 * value)) for value in values))
