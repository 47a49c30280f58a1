"""The serial line: one reading a line of ASCII, checked and never repaired.

    >KIND SEQ MS FIELD ... #CRC LF

CRC-16 with the polynomial 1021, start FFFF, not reflected, over all between `>` and ` #`.
"""

from __future__ import annotations

import binascii
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from banister.core.value import Struct

MOST_BYTES, MOST_UNFINISHED = 120, 240
MOST_LOST = 5000
"""A jump of the numbers by less than this is lost lines; by more, a device that began anew."""
_LINE = re.compile(rb">([A-Z]) (\d{1,4}) (\d{1,10})((?: [^ #>]+)*) #([0-9A-F]{4})\r?")
_NUMBER = re.compile(r"-?\d{1,9}(?:\.\d{1,4})?")
_WORD = re.compile(r"[A-Za-z0-9_.+-]{1,24}")
KEYS = ("enter", "space", "left", "right", "back", "info", "big")
Field = str | float


class Reading(Struct, frozen=True):
    """A line that holds: its kind, number, the device's milliseconds, its fields."""

    kind: str
    seq: int
    ms: int
    fields: tuple[Field, ...] = ()


def crc(data: bytes) -> str:
    """The check of some bytes, four hex digits.

    >>> crc(b"123456789")
    '29B1'
    """
    return f"{binascii.crc_hqx(data, 0xFFFF):04X}"


def encoded(reading: Reading) -> bytes:
    """A reading as a line."""
    fields = "".join(f" {_said(value)}" for value in reading.fields)
    body = f"{reading.kind} {reading.seq} {reading.ms}{fields}".encode("ascii")
    return b">" + body + b" #" + crc(body).encode("ascii") + b"\n"


def _said(value: Field) -> str:
    return value if isinstance(value, str) else f"{value:.4f}".rstrip("0").rstrip(".")


def decoded(line: bytes) -> Reading | None:
    """The reading of one line without its line feed; None for anything that is not wholly right."""
    start = line.rfind(b">")
    if start < 0 or len(line) - start > MOST_BYTES:
        return None
    found = _LINE.fullmatch(line[start:])
    if found is None:
        return None
    kind, seq, ms, rest, check = found.groups()
    body = line[start + 1 : start + found.start(5) - 2]
    if crc(body).encode() != check or int(ms) >= 2**32:
        return None
    fields = tuple(_field(part.decode("ascii", "replace")) for part in rest.split(b" ")[1:])
    if any(value is None for value in fields):
        return None
    reading = Reading(kind.decode(), int(seq), int(ms), tuple(value for value in fields if value is not None))
    return reading if _in_range(reading) else None


def _field(text: str) -> Field | None:
    if _NUMBER.fullmatch(text):
        return float(text)
    return text if _WORD.fullmatch(text) else None


def _numbers(values: tuple[Field, ...], *limits: tuple[float, float]) -> bool:
    return len(values) == len(limits) and all(isinstance(v, float) and low <= v <= high for v, (low, high) in zip(values, limits, strict=True))


def _arc(f: tuple[Field, ...]) -> bool:
    return _numbers(f[:2], (-150, 150), (-1500, 1500)) and (len(f) == 2 or _numbers(f[2:], (-200_000, 200_000)))


def _thermometer(f: tuple[Field, ...]) -> bool:
    return len(f) in (2, 3) and isinstance(f[0], str) and _numbers(f[1:2], (-60, 1300)) and (len(f) == 2 or _numbers(f[2:], (0.05, 1)))


def _oven(f: tuple[Field, ...]) -> bool:
    return len(f) == 4 and isinstance(f[0], str) and _numbers(f[1:], (-60, 1300), (-60, 1300), (0, 1))


def _key(f: tuple[Field, ...]) -> bool:
    return len(f) == 2 and isinstance(f[0], str) and f[0] in KEYS and f[1] in (0.0, 1.0)


def _gauge(f: tuple[Field, ...]) -> bool:
    return len(f) == 2 and f[0] in ("gap", "face", "highlow", "bevel", "height", "depth") and _numbers(f[1:], (-100, 200))


def _words(f: tuple[Field, ...]) -> bool:
    return 0 < len(f) <= 5


def _host(f: tuple[Field, ...]) -> bool:
    return len(f) <= 1


_RANGES: dict[str, Callable[[tuple[Field, ...]], bool]] = {
    "A": _arc, "T": _thermometer, "O": _oven, "K": _key, "G": _gauge, "E": _words, "H": _words, "Q": _host, "R": _host, "M": _host,
}  # fmt: skip


def _in_range(reading: Reading) -> bool:
    check = _RANGES.get(reading.kind)
    return check is not None and check(reading.fields)


@dataclass(slots=True)
class LineReader:
    """Cuts a stream of bytes into readings: what is wrong is counted and passed over, what is unfinished waits in few bytes."""

    bad: int = 0
    lost: int = 0
    _buffer: bytes = b""
    _last: dict[str, int] = field(default_factory=dict)

    def feed(self, data: bytes) -> Iterator[Reading]:
        """The readings that some more bytes complete."""
        *lines, rest = (self._buffer + data).split(b"\n")
        if len(rest) > MOST_UNFINISHED:
            rest = rest[rest.rfind(b">") :] if b">" in rest[-MOST_UNFINISHED:] else b""
        self._buffer = rest[-MOST_UNFINISHED:]
        for line in lines:
            reading = decoded(line)
            if reading is None:
                self.bad += b">" in line
                continue
            self._count(reading)
            yield reading

    def _count(self, reading: Reading) -> None:
        before = self._last.get(reading.kind)
        if before is not None:
            missing = (reading.seq - before - 1) % 10_000
            self.lost += missing if missing < MOST_LOST else 0
        self._last[reading.kind] = reading.seq

    @property
    def waiting(self) -> int:
        """Bytes of a line that is not finished."""
        return len(self._buffer)


@dataclass(slots=True)
class DeviceClock:
    """A device's milliseconds on the host's clock: a line is never early, so the offset follows downwards at once, upwards slowly."""

    offset: float | None = None
    jumps: int = 0
    _wraps: int = 0
    _last_ms: int = 0
    _host: float = 0.0

    def host(self, ms: int, now: float) -> float:
        """The host's time of a device's time that arrives now, s."""
        if self.offset is not None and ms < self._last_ms - 2**31:
            self._wraps += 1
        self._last_ms = ms
        device = (ms + self._wraps * 2**32) / 1000.0
        seen = now - device
        if self.offset is None:
            self.offset = seen
        elif abs(seen - self.offset) > 0.5:
            self.offset, self.jumps = seen, self.jumps + 1
        elif seen < self.offset:
            self.offset = seen
        else:
            self.offset = min(self.offset + 0.001 * max(now - self._host, 0.0), seen)
        self._host = now
        return device + self.offset
