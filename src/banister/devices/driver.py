"""Drivers of devices, one protocol for every kind: on a serial line, replayed from what was recorded, none.

A driver never blocks and never raises while it is polled: what fails is its state, and it comes back by itself. It is
absent (not there), silent (there, and says nothing), live, or faulty (something else answers).
"""

from __future__ import annotations

import os
import termios
import tty
from collections.abc import Sequence
from pathlib import Path
from typing import Generic, Protocol, TypeVar

from banister.devices.kinds import Kind
from banister.devices.line import DeviceClock, Field, LineReader, Reading, encoded
from banister.devices.speeds import DEFAULT_BAUD, RATES_HZ

ABSENT, SILENT, LIVE, FAULTY = "absent", "silent", "live", "faulty"
RETRY_S, CHUNK, MOST_CHUNKS = 1.0, 4096, 64
"""So often a device is looked for and asked; so much is read at once."""
ASKED_SHARE = 0.5
"""After so much of the time in which it may say nothing a device is asked who it is."""
SIMULATOR = "simulated"
"""The maker a simulated device names: its figures are never shown or kept without saying so."""


class AlreadyOpen(ValueError):
    """A driver that is open is not opened again."""


Told = TypeVar("Told", covariant=True)


class Driver(Protocol[Told]):
    """Tells what a device of a kind reads, in time."""

    @property
    def state(self) -> str:
        """Absent, silent, live or faulty."""

    @property
    def is_simulated(self) -> bool:
        """True where what it tells is no measurement."""

    def open(self) -> None:
        """Begin; AlreadyOpen where it has begun. Nothing is read before."""

    def poll(self, now_s: float) -> tuple[Told, ...]:
        """What was read since the last time, by the host's clock, rising; nothing when it is not open."""

    def close(self) -> None:
        """End; nothing is told any more."""


class NoDevice:
    """There is none: all by key."""

    def __init__(self) -> None:
        self._is_open = False

    state, is_simulated = ABSENT, False

    def open(self) -> None:
        """Begin."""
        if self._is_open:
            raise AlreadyOpen
        self._is_open = True

    def poll(self, now_s: float) -> tuple[()]:
        """Never anything."""
        return ()

    def close(self) -> None:
        """End."""
        self._is_open = False


class Replay(Generic[Told]):
    """What was recorded (its seconds, its fields), told again from the moment it is first polled: nothing that is read now."""

    is_simulated = True

    def __init__(self, kind: Kind[Told], recorded: Sequence[tuple[float, tuple[Field, ...]]]) -> None:
        self.kind, self._recorded, self._at, self._is_open = kind, recorded, 0, False
        self._begun: float | None = None

    @property
    def state(self) -> str:
        """Live until all is told."""
        if not self._is_open:
            return ABSENT
        return LIVE if self._at < len(self._recorded) else SILENT

    def open(self) -> None:
        """From the start."""
        if self._is_open:
            raise AlreadyOpen
        self._is_open, self._at, self._begun = True, 0, None

    def poll(self, now_s: float) -> tuple[Told, ...]:
        """What has come due."""
        if not self._is_open:
            return ()
        if self._begun is None:
            self._begun = now_s - (self._recorded[0][0] if self._recorded else 0.0)
        begun, first = self._begun, self._at
        while self._at < len(self._recorded) and self._recorded[self._at][0] + begun <= now_s:
            self._at += 1
        return tuple(self.kind.made(t + begun, fields) for t, fields in self._recorded[first : self._at])

    def close(self) -> None:
        """End."""
        self._is_open = False


class SerialDevice(Generic[Told]):
    """A device on a serial line: a real adapter or a pseudo-terminal; looked for and asked again until it answers."""

    def __init__(self, kind: Kind[Told], path: Path, baud: int = DEFAULT_BAUD) -> None:
        self.kind, self.path, self.baud = kind, path, baud
        self.answers = ""
        """What the device calls itself."""
        self.maker = ""
        self.trouble = ""
        self._is_open, self._fd, self._asked_at, self._heard_at, self._seq = False, -1, -1e9, -1e9, 0
        self._reader, self._clock, self._last_t, self._now = LineReader(), DeviceClock(), -1e9, 0.0

    @property
    def state(self) -> str:
        """As the last poll found it."""
        if not self._is_open or self._fd < 0:
            return ABSENT
        if self.answers not in ("", self.kind.device):
            return FAULTY
        return LIVE if self._now - self._heard_at <= self.kind.silent_s else SILENT

    @property
    def is_simulated(self) -> bool:
        """True where the device says that it is a simulator."""
        return self.maker == SIMULATOR

    @property
    def damaged(self) -> int:
        """Lines that were damaged or lost."""
        return self._reader.bad + self._reader.lost

    def open(self) -> None:
        """Begin; a line that is not there yet is looked for."""
        if self._is_open:
            raise AlreadyOpen
        self._is_open, self._asked_at = True, -1e9

    def close(self) -> None:
        """Stop the device, let the line go."""
        if self._fd >= 0:
            self._send("R", 0.0)
        self._drop()
        self._is_open = False

    def poll(self, now_s: float) -> tuple[Told, ...]:
        """All that has come; the line is taken up again where it was lost."""
        if not self._is_open:
            return ()
        self._now = now_s
        if now_s - self._asked_at >= RETRY_S and (self._fd < 0 or now_s - self._heard_at > ASKED_SHARE * self.kind.silent_s):
            self._asked_at = now_s
            if self._fd < 0:
                self._connect()
            self._send("Q")
            self._send("R", min(self.kind.rate_hz, RATES_HZ[self.baud]))
        found: list[Told] = []
        for reading in self._reader.feed(self._read()):
            self._heard(reading, now_s, found)
        return tuple(found)

    def _heard(self, reading: Reading, now_s: float, found: list[Told]) -> None:
        if reading.kind == "H":
            self.answers = str(reading.fields[0])
            self.maker = str(reading.fields[3]) if len(reading.fields) > 3 else ""
            if self.kind.speaks_when_used and self.answers == self.kind.device:
                self._heard_at = now_s
        elif reading.kind == "E":
            self.trouble = " ".join(str(value) for value in reading.fields)
        elif reading.kind == self.kind.letter:
            self._heard_at = now_s
            self._last_t = max(self._clock.host(reading.ms, now_s), self._last_t + 1e-3)
            found.append(self.kind.made(self._last_t, reading.fields))

    # --- the line ----------------------------------------------------------------------------
    def _connect(self) -> None:
        try:
            fd = os.open(self.path, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
        except OSError:
            return
        try:
            tty.setraw(fd, termios.TCSANOW)
            settings = termios.tcgetattr(fd)
            settings[4] = settings[5] = getattr(termios, f"B{self.baud}")
            settings[6][termios.VMIN], settings[6][termios.VTIME] = 1, 0
            termios.tcsetattr(fd, termios.TCSANOW, settings)
        except (termios.error, OSError):
            os.close(fd)
            return
        self._fd, self.answers, self._reader, self._clock = fd, "", LineReader(), DeviceClock()

    def _drop(self) -> None:
        if self._fd >= 0:
            os.close(self._fd)
        self._fd = -1

    def _send(self, kind: str, *fields: float) -> None:
        if self._fd < 0:
            return
        self._seq = (self._seq + 1) % 10_000
        try:
            os.write(self._fd, encoded(Reading(kind, self._seq, 0, fields)))
        except BlockingIOError:
            return
        except OSError:
            self._drop()

    def _read(self) -> bytes:
        """What waits on the line, as far as it is not endless; a line that is at its end is let go."""
        parts: list[bytes] = []
        while self._fd >= 0 and len(parts) < MOST_CHUNKS:
            try:
                part = os.read(self._fd, CHUNK)
            except BlockingIOError:
                break
            except OSError:
                part = b""
            if not part:
                self._drop()
                break
            parts.append(part)
        return b"".join(parts)
