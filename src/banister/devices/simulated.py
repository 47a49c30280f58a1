"""Simulated devices: what one would tell, without a line; `is_plugged` may be taken away and given back."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator
from typing import Generic, Protocol, TypeVar

from banister.core.arc.simulated import SimulatedArc
from banister.devices.driver import ABSENT, LIVE, AlreadyOpen
from banister.devices.kinds import ARC, KEYS, OVEN, THERMOMETER, Kind
from banister.devices.line import Field

Told = TypeVar("Told")
Line = tuple[float, tuple[Field, ...]]


class Source(Protocol):
    """Something that goes on in time and is read: its readings up to a time (s, fields), rising, each told once."""

    def until(self, t: float) -> Iterator[Line]:
        """What was read since the last time."""


class Simulated(Generic[Told]):
    """A driver of a simulated source."""

    is_simulated = True

    def __init__(self, kind: Kind[Told], source: Source) -> None:
        self.kind, self.source, self.is_plugged, self._is_open = kind, source, True, False

    @property
    def state(self) -> str:
        """Live as long as it is plugged in."""
        return LIVE if self._is_open and self.is_plugged else ABSENT

    def open(self) -> None:
        """Begin."""
        if self._is_open:
            raise AlreadyOpen
        self._is_open = True

    def poll(self, now_s: float) -> tuple[Told, ...]:
        """What went on meanwhile; lost where it is not plugged in."""
        if not self._is_open:
            return ()
        seen = tuple(self.kind.made(t, fields) for t, fields in self.source.until(now_s))
        return seen if self.is_plugged else ()

    def close(self) -> None:
        """End."""
        self._is_open = False


class ArcSource:
    """A simulated arc as it is read."""

    def __init__(self, arc: SimulatedArc) -> None:
        self.arc = arc

    def until(self, t: float) -> Iterator[Line]:
        """Volts, amps, watts."""
        for at, *fields in self.arc.until(t):
            yield at, tuple(value for value in fields if value is not None)


class SimulatedMeter(Simulated[tuple[float, float, float, float | None]]):
    """What a meter would tell of a simulated arc."""

    def __init__(self, arc: SimulatedArc) -> None:
        super().__init__(ARC, ArcSource(arc))

    @property
    def arc(self) -> SimulatedArc:
        """The arc it is on."""
        assert isinstance(self.source, ArcSource)
        return self.source.arc

    @arc.setter
    def arc(self, arc: SimulatedArc) -> None:
        self.source = ArcSource(arc)


class Ticking:
    """Reads at a rate: what it reads at a time is a function of the time alone, so the same seed tells the same."""

    def __init__(self, rate_hz: float, read: Callable[[float], tuple[Field, ...] | None], begin_s: float = 0.0) -> None:
        self._each, self._next, self._read = 1.0 / rate_hz, begin_s, read

    def until(self, t: float) -> Iterator[Line]:
        """Its readings since the last time."""
        while self._next <= t:
            fields = self._read(self._next)
            if fields is not None:
                yield self._next, fields
            self._next += self._each


PLATE_C, AIR_C, COOLS_S, NOISE_K = 240.0, 20.0, 600.0, 1.5
HELD_C, DOOR_EACH_S, DOOR_S, DOOR_DROP_K = 120.0, 300.0, 40.0, 18.0
PRESS_EACH_S, PRESS_S = 20.0, 0.4


def plate(seed: int = 1) -> Ticking:
    """A probe held on a plate that cools."""
    draw = random.Random(seed)

    def read(t: float) -> tuple[Field, ...]:
        return "probe", round(AIR_C + (PLATE_C - AIR_C) * math.exp(-t / COOLS_S) + draw.gauss(0.0, NOISE_K), 1)

    return Ticking(THERMOMETER.rate_hz, read)


def oven(seed: int = 1) -> Ticking:
    """An oven whose door is opened every few minutes."""
    draw = random.Random(seed)

    def read(t: float) -> tuple[Field, ...]:
        is_open = t % DOOR_EACH_S > DOOR_EACH_S - DOOR_S
        return "oven-1", round(HELD_C - (DOOR_DROP_K if is_open else 0.0) + draw.gauss(0.0, 1.0), 1), HELD_C, float(is_open)

    return Ticking(OVEN.rate_hz, read)


def pedal(seed: int = 1) -> Ticking:
    """A pedal that is pressed and let go again and again."""
    rate = 1.0 / PRESS_S
    each = round(PRESS_EACH_S * rate)

    def read(t: float) -> tuple[Field, ...] | None:
        at = round(t * rate) % each
        return ("space", float(at == 0)) if at < 2 else None

    return Ticking(rate, read, PRESS_S * (1 + seed % 3))


SIMULATED: dict[str, tuple[Kind[object], Callable[[int], Ticking]]] = {
    THERMOMETER.device: (THERMOMETER, plate), OVEN.device: (OVEN, oven), KEYS.device: (KEYS, pedal),
}  # fmt: skip
"""Simulated devices but the arc, by their word."""
