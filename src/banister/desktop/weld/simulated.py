"""A simulated welder behind the page: strikes, burns rods down, changes them, in fast motion; seeded, and always said to be simulated."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from banister.core.passing import ARC, ARC_OFF, ARC_ON, CHANGE, COLD, GAP, HOT, READY
from banister.desktop.weld.bench import Bench

SPEEDS = (1, 10, 60)
STRIKE_S, CHANGE_S, SPREAD = 4.0, 14.0, 0.05


class FastClock:
    """A clock that runs so many times as fast as another."""

    def __init__(self, clock: Callable[[], float], speed: float) -> None:
        self._clock, self._begun, self.speed = clock, clock(), speed

    def __call__(self) -> float:
        """Seconds since it began."""
        return (self._clock() - self._begun) * self.speed


class SimulatedWelder:
    """Welds the lit pass until its length is covered; what comes then is the user's: pass done, clean, look."""

    def __init__(self, hand: float = 1.0, seed: int = 1) -> None:
        self.hand, self._draw = hand, random.Random(seed)
        self._key, self._rods_left, self._next_s = "", 0.0, 0.0

    def due(self, bench: Bench) -> list[str]:
        """The events whose time has come."""
        p, passing, now = bench.lit, bench.passing, bench.clock()
        if p is None or passing.state not in (READY, COLD, HOT, ARC, GAP, CHANGE):
            return []
        if passing.key != self._key:
            real = bench.asked_mm2(p) * self.hand * math.exp(self._draw.gauss(0.0, SPREAD))
            self._key, self._rods_left, self._next_s = passing.key, real * p.length_mm / p.rod.deposit_mm3, now + STRIKE_S
        if now < self._next_s or (self._rods_left <= 0 and passing.state != ARC):
            return []
        if passing.state == ARC:
            self._next_s = now + CHANGE_S * math.exp(self._draw.gauss(0.0, 0.2))
            return [ARC_OFF]
        share = min(self._rods_left, 1.0)
        self._rods_left -= share if share < 1.0 else 1.0
        self._next_s = now + share * p.rod.burn_time_s(p.amps) * math.exp(self._draw.gauss(0.0, 0.03))
        return [ARC_ON]
