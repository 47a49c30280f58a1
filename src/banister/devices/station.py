"""The other end of a line: a simulated arc meter that is silent until it is asked, as a real one is."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.arc.simulated import SimulatedArc
from banister.devices.line import LineReader, Reading, encoded
from banister.devices.meter import DEVICE, SIMULATOR

CHANGE_S, FIRST_S = 14.0, 3.0
VERSION = "1"


class SimulatedStation:
    """Burns rod after rod, and answers what it hears on the line."""

    def __init__(self, arc: SimulatedArc) -> None:
        self.arc, self.is_asked, self._reader, self._seq = arc, False, LineReader(), dict[str, int]()
        self.arc.strike(FIRST_S)

    def hears(self, data: bytes) -> bytes:
        """What it answers to what the host sends: who it is, and that it begins or stops to report."""
        answers = b""
        for reading in self._reader.feed(data):
            if reading.kind == "R":
                self.is_asked = not reading.fields or bool(reading.fields[0])
            if reading.kind in "QR":
                answers += self._line("H", DEVICE, VERSION, self.arc.rate_hz, SIMULATOR, f"S{self.arc.seed}")
        return answers

    def until(self, t: float) -> Iterator[bytes]:
        """Its lines up to a time; the next rod is struck when the one before has been out for as long as a change takes."""
        if self.arc.is_free:
            self.arc.strike(self.arc.truths[-1].off_s + CHANGE_S)
        for _, volts, amps, watts in self.arc.until(t):
            if self.is_asked:
                yield self._line("A", round(volts, 2), round(amps, 1), round(watts))

    def _line(self, kind: str, *fields: float | str) -> bytes:
        seq = self._seq.get(kind, -1) + 1
        self._seq[kind] = seq % 10_000
        return encoded(Reading(kind, seq % 10_000, int(self.arc.t * 1000), tuple(fields)))
