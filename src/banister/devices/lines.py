"""Where a device is, made into its driver: a serial line, or for an arc meter a trace that was recorded."""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

from banister.devices.driver import Replay, SerialDevice
from banister.devices.kinds import ARC, Kind
from banister.devices.trace import read_trace

Told = TypeVar("Told")
TRACES = (".csv", ".csv.gz")


def is_trace(path: str) -> bool:
    """True for the path of a recorded trace."""
    return path.lower().endswith(TRACES)


def driver_of(kind: Kind[Told], path: str, baud: int) -> SerialDevice[Told] | Replay[Told]:
    """The driver of a line; Refused or OSError where a trace is none, or cannot be read."""
    if kind.device == ARC.device and is_trace(path):
        samples = read_trace(Path(path)).samples
        return Replay(kind, [(t, tuple(value for value in fields if value is not None)) for t, *fields in samples])
    return SerialDevice(kind, Path(path), baud)
