"""A simulated welder behind the page: strikes a simulated arc, burns rods down, changes them, in fast motion; seeded, and always said to be simulated."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from typing import TYPE_CHECKING

from banister.core.arc.simulated import FAULTS, INNER_HZ, SimulatedArc
from banister.core.passing import ARC, CHANGE, COLD, GAP, HOT, READY
from banister.core.plan.plan import Pass
from banister.devices.simulated import SimulatedMeter

if TYPE_CHECKING:
    from banister.desktop.weld.bench import Bench

SPEEDS = (1, 10, 60)
STRIKE_S, CHANGE_S, SPREAD = 4.0, 14.0, 0.05
FAST_HZ, RATE_HZ, FAST_RATE_HZ = 200.0, 50.0, 20.0
"""In fast motion the arc is reckoned in wider steps, and reported less often."""
UNPLUGGED, UNPLUGGED_AT_S, UNPLUGGED_FOR_S = "unplugged", 40.0, 30.0
TRIAL_FAULTS = ("", *FAULTS, UNPLUGGED)


class FastClock:
    """A clock that runs so many times as fast as another."""

    def __init__(self, clock: Callable[[], float], speed: float) -> None:
        self._clock, self._begun, self.speed = clock, clock(), speed

    def __call__(self) -> float:
        """Seconds since it began."""
        return (self._clock() - self._begun) * self.speed


class SimulatedWelder:
    """Welds the lit pass until its length is covered; what comes then is the user's: pass done, clean, look. `meter` sees its arc."""

    def __init__(self, hand: float = 1.0, speed: float = 1.0, fault: str = "", seed: int = 1) -> None:
        self.hand, self._speed, self._fault, self._seed, self._draw = hand, speed, fault, seed, random.Random(seed)
        self._key, self.rods_left = "", 0.0
        self.meter = SimulatedMeter(self._arc(100.0, 7000.0, 3.2, "basic", 0.0))
        self._struck_at = math.inf

    def _arc(self, amps: float, rod_amp_s: float, core_mm: float, family: str, t: float) -> SimulatedArc:
        is_fast = self._speed > 1.0
        faults = frozenset({self._fault} & set(FAULTS))
        return SimulatedArc(amps, rod_amp_s, core_mm, family, self._seed, FAST_RATE_HZ if is_fast else RATE_HZ, FAST_HZ if is_fast else INNER_HZ, faults, t)

    def weld(self, bench: Bench) -> None:
        """Strike the next rod where its time has come."""
        p, passing, now = bench.lit, bench.passing, bench.clock()
        if p is None or passing.state not in (READY, COLD, HOT, ARC, GAP, CHANGE):
            return
        if passing.key != self._key:
            self._begin(bench, p, now)
        self.meter.is_plugged = not (self._fault == UNPLUGGED and 0 <= self.meter.arc.t - self._struck_at - UNPLUGGED_AT_S < UNPLUGGED_FOR_S)
        arc = self.meter.arc
        if arc.is_free and self.rods_left > 1e-6:
            share = min(self.rods_left, 1.0)
            self.rods_left -= share
            wait = CHANGE_S * math.exp(self._draw.gauss(0.0, 0.2)) if arc.truths else STRIKE_S
            arc.strike(arc.t + wait, share * math.exp(self._draw.gauss(0.0, 0.03)))

    def _begin(self, bench: Bench, p: Pass, now: float) -> None:
        """A pass: so many rods as its hand lays."""
        real = bench.asked_mm2(p) * self.hand * math.exp(self._draw.gauss(0.0, SPREAD))
        self._key, self.rods_left, self._struck_at = bench.passing.key, real * p.length_mm / p.rod.deposit_mm3, now + STRIKE_S
        self._seed += 1
        self.meter.arc = self._arc(p.amps, p.rod.burn_time_s(p.amps) * p.amps, p.rod.diameter_mm, p.rod.family, now)
