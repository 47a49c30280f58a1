"""The other end of a line: a simulated device that is silent until it is asked, as a real one is."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.arc.simulated import SimulatedArc
from banister.devices.driver import SIMULATOR
from banister.devices.kinds import ARC, Kind
from banister.devices.line import LineReader, Reading, encoded
from banister.devices.simulated import ArcSource, Line, Source

CHANGE_S, FIRST_S = 14.0, 3.0
VERSION = "1"


class RodAfterRod(ArcSource):
    """An arc that burns rod after rod: the next is struck when the one before has been out for as long as a change takes."""

    def __init__(self, arc: SimulatedArc) -> None:
        super().__init__(arc)
        arc.strike(FIRST_S)

    def until(self, t: float) -> Iterator[Line]:
        """Volts, amps, watts."""
        if self.arc.is_free:
            self.arc.strike(self.arc.truths[-1].off_s + CHANGE_S)
        yield from super().until(t)


class SimulatedStation:
    """Goes on, and answers what it hears on the line."""

    def __init__(self, kind: Kind[object], source: Source, rate_hz: float | None = None, seed: int = 1) -> None:
        self.kind, self.source, self.rate_hz, self.seed = kind, source, kind.rate_hz if rate_hz is None else rate_hz, seed
        self.is_asked, self._reader, self._seq, self._ms = False, LineReader(), dict[str, int](), 0

    @classmethod
    def of_arc(cls, arc: SimulatedArc) -> SimulatedStation:
        """A meter on an arc that burns rod after rod."""
        return cls(ARC, RodAfterRod(arc), arc.rate_hz, arc.seed)

    def hears(self, data: bytes) -> bytes:
        """What it answers to what the host sends: who it is, and that it begins or stops to report."""
        answers = b""
        for reading in self._reader.feed(data):
            if reading.kind == "R":
                self.is_asked = not reading.fields or bool(reading.fields[0])
            if reading.kind in "QR":
                answers += self._line("H", self.kind.device, VERSION, float(self.rate_hz), SIMULATOR, f"S{self.seed}")
        return answers

    def until(self, t: float) -> Iterator[bytes]:
        """Its lines up to a time."""
        for at, fields in self.source.until(t):
            self._ms = int(at * 1000)
            if self.is_asked:
                yield self._line(self.kind.letter, *(value if isinstance(value, str) else round(value, 2) for value in fields))

    def _line(self, kind: str, *fields: float | str) -> bytes:
        seq = self._seq.get(kind, -1) + 1
        self._seq[kind] = seq % 10_000
        return encoded(Reading(kind, seq % 10_000, self._ms, tuple(fields)))
