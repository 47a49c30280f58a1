"""A simulated arc: length, voltage and current a thousand times a second, seeded, reported as a meter reports (shop figures).

The truth of every rod is kept beside what is reported, so that an analysis can be held to it. Nothing here is measured:
whoever shows a figure of it says that it is simulated.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from banister.core.value import Struct

Sample = tuple[float, float, float, float]
INNER_HZ, IDLE_V = 1000.0, 72.0
DRAWN_AT_A_TIME = 1024
DROOP_A_PER_V, DIG_A_PER_V, DIG_BELOW_V, LAG_S = 1.2, 3.0, 14.0, 0.006
HOT_SHARE, HOT_S = 0.25, 0.5
STRETCH_MM, STRETCH_S = 6.0, 0.15
SLOW_MM, SLOW_S = 0.3, 15.0
WANDER, WANDER_S = 0.006, 40.0
WHIP_MM, WHIP_S, WHIP_SHARE = 2.6, 1.2, 0.36
SHORT_V = 4.0
DRIFT, LONG, STUCK, HOLES, NEGATIVE, NOISE, SPIKES, CLAMP = "drift", "long", "stuck", "holes", "negative", "noise", "spikes", "clamp"
FAULTS = (DRIFT, LONG, STUCK, HOLES, NEGATIVE, NOISE, SPIKES, CLAMP)
"""What can be made amiss, from forty seconds of arc on."""
FAULT_AT_S, DRIFT_SHARE, LONG_MM, LONG_FOR_S, STUCK_FOR_S, STUCK_SHARE, HOLE_S = 40.0, -0.08, 3.0, 15.0, 1.2, 1.6, 0.8


class Coating(Struct, frozen=True):
    """How an arc under a coating burns: V = fall + gradient x length; its length as a share of the core, its wander, its short circuits."""

    fall_v: float
    gradient_v_mm: float
    share_of_core: float
    wander_mm: float
    wander_s: float
    shorts_per_s: float
    short_s: float
    short_spread: float
    hiss_v: float
    is_whipped: bool = False


COATINGS = {
    "basic": Coating(18.6, 2.6, 0.75, 0.35, 0.45, 5.0, 0.010, 0.5, 0.9),
    "rutile": Coating(16.9, 2.0, 1.0, 0.35, 0.45, 9.0, 0.004, 0.4, 0.6),
    "cellulosic": Coating(18.7, 2.7, 1.05, 0.45, 0.35, 8.0, 0.005, 0.5, 1.6, True),
}


@dataclass(slots=True)
class Truth:
    """What a rod really was: when its arc burnt, its energy and its charge."""

    on_s: float
    off_s: float = 0.0
    joules: float = 0.0
    amp_s: float = 0.0


def normals(seed: int) -> Iterator[float]:
    """Normal figures without end, seeded; drawn many at a time, for one by one they would be most of the work."""
    random = np.random.default_rng(seed)
    while True:
        yield from random.standard_normal(DRAWN_AT_A_TIME).tolist()


class Wander:
    """A figure that wanders about nought by steps of a time, first order."""

    __slots__ = ("_back", "_kick", "now")

    def __init__(self, spread: float, lasts_s: float, dt: float) -> None:
        self.now, self._back, self._kick = 0.0, dt / lasts_s, spread * math.sqrt(2.0 * dt / lasts_s)

    def drawn(self, normal: float) -> float:
        """The figure a step later, by a normal figure."""
        self.now += self._kick * normal - self._back * self.now
        return self.now


@dataclass(slots=True)
class SimulatedArc:
    """An arc that is struck by `strike` and burns a share of a rod down; `until` tells what a meter sees.

    `amps` set, `rod_amp_s` of a whole rod, `core_mm` its core; `family` of its coating (others burn as basic).
    """

    amps: float
    rod_amp_s: float
    core_mm: float
    family: str = "basic"
    seed: int = 1
    rate_hz: float = 50.0
    inner_hz: float = INNER_HZ
    faults: frozenset[str] = frozenset()
    t: float = 0.0
    truths: list[Truth] = field(default_factory=list)
    _random: random.Random = field(init=False)
    _normals: Iterator[float] = field(init=False)
    _coating: Coating = field(init=False)
    _near: Wander = field(init=False)
    _slow: Wander = field(init=False)
    _wander: Wander = field(init=False)
    _strike_at: float = math.inf
    _burns_amp_s: float = 0.0
    _is_burning: bool = False
    _stretch_from: float = math.inf
    _a: float = 0.0
    _short_until: float = -math.inf
    _arc_s: float = 0.0
    _steps: int = 0
    _sums: list[float] = field(default_factory=lambda: [0.0, 0.0, 0.0])

    def __post_init__(self) -> None:
        self._random, self._normals, dt = random.Random(self.seed), normals(self.seed), 1.0 / self.inner_hz
        self._coating = COATINGS.get(self.family, COATINGS["basic"])
        self._near = Wander(self._coating.wander_mm, self._coating.wander_s, dt)
        self._slow, self._wander = Wander(SLOW_MM, SLOW_S, dt), Wander(WANDER, WANDER_S, dt)

    @property
    def is_free(self) -> bool:
        """True where no arc burns and none is about to."""
        return not self._is_burning and math.isinf(self._strike_at)

    @property
    def arc_s(self) -> float:
        """All arc time so far."""
        return self._arc_s

    def strike(self, at: float, share: float = 1.0) -> None:
        """The arc is struck at a time and burns a share of a rod down."""
        self._strike_at, self._burns_amp_s = max(at, self.t), share * self.rod_amp_s

    def until(self, t: float) -> Iterator[Sample]:
        """What a meter reports up to a time: the means of each interval, volts, amps and their product."""
        step, per = 1.0 / self.inner_hz, max(round(self.inner_hz / self.rate_hz), 1)
        sums = self._sums
        while self.t + step <= t:
            self.t += step
            volts, amps = self._moment(step)
            sums[0], sums[1], sums[2] = sums[0] + volts, sums[1] + amps, sums[2] + volts * amps
            self._steps += 1
            if self._steps == per:
                seen = self._seen(sums[0] / per, sums[1] / per, sums[2] / per)
                self._steps, sums[:] = 0, [0.0, 0.0, 0.0]
                if seen is not None:
                    yield seen

    def _moment(self, dt: float) -> tuple[float, float]:
        """Volts and amps at one instant."""
        if not self._is_burning:
            if self.t < self._strike_at:
                self._a = 0.0
                return IDLE_V, 0.0
            self._strike_at, self._is_burning, self._stretch_from = math.inf, True, math.inf
            self.truths.append(Truth(self.t))
        truth = self.truths[-1]
        since = self.t - truth.on_s
        coating = self._coating
        usual = coating.share_of_core * self.core_mm
        length = self._length(usual, since)
        volts = self._volts(usual, length, dt)
        usual_v = coating.fall_v + coating.gradient_v_mm * usual
        wanted = self.amps * (1.0 + self._wander.drawn(next(self._normals))) * (1.0 + (DRIFT_SHARE if self._has(DRIFT) else 0.0))
        wanted += DROOP_A_PER_V * (usual_v - volts) + DIG_A_PER_V * max(0.0, DIG_BELOW_V - volts)
        wanted *= 1.0 + HOT_SHARE * math.exp(-since / HOT_S)
        is_stuck = self._is_stuck()
        if is_stuck:
            volts, wanted = SHORT_V, STUCK_SHARE * self.amps
        self._a += (wanted - self._a) * min(dt / LAG_S, 1.0)
        self._arc_s += dt
        if not is_stuck:
            truth.joules, truth.amp_s = truth.joules + volts * self._a * dt, truth.amp_s + self._a * dt
        self._end(truth)
        return volts, self._a

    def _length(self, usual: float, since: float) -> float:
        length = usual + self._near.drawn(next(self._normals)) + self._slow.drawn(next(self._normals))
        if self._coating.is_whipped and (phase := (since % WHIP_S) / WHIP_S) < WHIP_SHARE:
            length += WHIP_MM * math.sin(math.pi * phase / WHIP_SHARE) ** 2
        if self._has(LONG) and self._arc_s < FAULT_AT_S + LONG_FOR_S:
            length += LONG_MM
        if self.t > self._stretch_from:
            length += STRETCH_MM * (self.t - self._stretch_from) / STRETCH_S
        return max(length, 0.2)

    def _volts(self, usual: float, length: float, dt: float) -> float:
        if self.t < self._short_until:
            return SHORT_V
        coating = self._coating
        likely = coating.shorts_per_s * dt * max(0.0, 1.6 - 0.6 * length / usual)
        if self._random.random() < likely:
            self._short_until = self.t + coating.short_s * math.exp(coating.short_spread * next(self._normals))
        return coating.fall_v + coating.gradient_v_mm * length + coating.hiss_v * next(self._normals)

    def _has(self, fault: str) -> bool:
        return fault in self.faults and self._arc_s >= FAULT_AT_S

    def _is_stuck(self) -> bool:
        return self._has(STUCK) and self._arc_s < FAULT_AT_S + STUCK_FOR_S

    def _end(self, truth: Truth) -> None:
        """A rod that is burnt down is drawn away, and the arc goes out."""
        if truth.amp_s >= self._burns_amp_s and math.isinf(self._stretch_from):
            self._stretch_from = self.t
        if self.t >= self._stretch_from + STRETCH_S:
            truth.off_s, self._is_burning = self.t, False

    def _seen(self, volts: float, amps: float, watts: float) -> Sample | None:
        """What of it a meter tells, with what is wrong with the meter."""
        if self._has(HOLES) and self._arc_s % 10.0 < HOLE_S and self._is_burning:
            return None
        if self._has(SPIKES) and self._random.random() < 1.0 / self.rate_hz:
            return self.t, volts, 5.0 * self.amps, 5.0 * self.amps * volts
        if self._has(CLAMP):
            return self.t, volts, 0.0, 0.0
        if self._has(NOISE):
            volts, amps = volts + next(self._normals), amps + 5.0 * next(self._normals)
        return (self.t, -volts, -amps, watts) if NEGATIVE in self.faults else (self.t, volts, amps, watts)
