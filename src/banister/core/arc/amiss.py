"""What is amiss under the arc: a long arc, a machine that drifts, amps outside the window, the wrong polarity, a clamp that is off.

Each watcher takes a sample and says at most one thing; none keeps more than a few sums.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from banister.core.value import Struct

LONG_ARC, DRIFT, WINDOW, POLARITY, CLAMP_OFF, STICKING, HOLE, UNSEEN, UNSURE = (
    "long_arc", "drift", "window", "polarity", "clamp_off", "sticking", "hole", "unseen", "unsure",
)  # fmt: skip
DROOP_A_PER_V = 1.2
"""How a machine's current falls with the voltage until it is learnt (typical)."""


class Notice(Struct, frozen=True):
    """Something amiss: what (the word `arc.KIND`), when (s), and its figure: share of drift, seconds, volts."""

    kind: str
    t: float
    value: float = 0.0


@dataclass(slots=True)
class LongArc:
    """Volts over the usual for a second and a half."""

    usual_v: float
    grace_s: float
    smooth: float = 0.0
    over_s: float = 0.0
    is_told: bool = False

    def take(self, t: float, dt: float, volts: float, arc_s: float) -> Notice | None:
        """A sample under the arc, so long after it was struck."""
        self.smooth = volts if self.smooth == 0.0 else self.smooth + (volts - self.smooth) * min(dt / 1.0, 1.0)
        if arc_s < self.grace_s:
            return None
        self.over_s = self.over_s + dt if self.smooth > self.usual_v + 4.0 else 0.0
        if self.smooth < self.usual_v + 2.0:
            self.is_told = False
        if self.over_s > 1.5 and not self.is_told:
            self.is_told = True
            return Notice(LONG_ARC, t, self.smooth)
        return None


@dataclass(slots=True)
class Drift:
    """The machine's current going off, told apart from the arc's length by the droop: a two-sided cumulative sum of five-second means."""

    sum_i: float = 0.0
    sum_v: float = 0.0
    sum_s: float = 0.0
    reference: list[tuple[float, float]] = field(default_factory=list)
    i0: float = 0.0
    v0: float = 0.0
    up: float = 0.0
    down: float = 0.0
    seen: list[float] = field(default_factory=list)

    def take(self, t: float, dt: float, volts: float, amps: float) -> Notice | None:
        """A sample under the arc."""
        self.sum_i, self.sum_v, self.sum_s = self.sum_i + amps * dt, self.sum_v + volts * dt, self.sum_s + dt
        if self.sum_s < 5.0:
            return None
        i, v = self.sum_i / self.sum_s, self.sum_v / self.sum_s
        self.sum_i = self.sum_v = self.sum_s = 0.0
        if len(self.reference) < 6:
            self.reference.append((i, v))
            self.i0, self.v0 = (sum(one[k] for one in self.reference) / len(self.reference) for k in (0, 1))
            return None
        r = (i - self.i0 + DROOP_A_PER_V * (v - self.v0)) / self.i0
        own = [(a - self.i0 + DROOP_A_PER_V * (b - self.v0)) / self.i0 for a, b in self.reference]
        z = r / max(math.sqrt(sum(x * x for x in own) / len(own)), 0.012)
        self.up, self.down = max(self.up + z - 1.0, 0.0), max(self.down - z - 1.0, 0.0)
        self.seen = [*self.seen, r][-8:] if self.up or self.down else []
        if max(self.up, self.down) > 6.0:
            share = sum(self.seen) / len(self.seen)
            self.reference, self.up, self.down, self.seen = [], 0.0, 0.0, []
            return Notice(DRIFT, t, share)
        return None


@dataclass(slots=True)
class Window:
    """Amps outside what is allowed for three seconds; again only after ten inside."""

    low: float | None
    high: float | None
    smooth: float = 0.0
    out_s: float = 0.0
    in_s: float = 10.0

    def take(self, t: float, dt: float, amps: float) -> Notice | None:
        """A sample under the arc."""
        self.smooth = amps if self.smooth == 0.0 else self.smooth + (amps - self.smooth) * min(dt / 3.0, 1.0)
        is_out = (self.low is not None and self.smooth < self.low) or (self.high is not None and self.smooth > self.high)
        self.out_s, self.in_s = (self.out_s + dt, 0.0 if self.out_s > 3.0 else self.in_s) if is_out else (0.0, self.in_s + dt)
        if is_out and self.out_s > 3.0 and self.out_s - dt <= 3.0:
            return Notice(WINDOW, t, self.smooth)
        return None


@dataclass(slots=True)
class Clamp:
    """Arc volts without amps, moving: the clamp is off. A reduced idle voltage stands still."""

    mean: float = 0.0
    square: float = 0.0
    lasts_s: float = 0.0
    shorted_s: float = 0.0
    is_told: bool = False

    def take(self, t: float, dt: float, volts: float, amps: float) -> Notice | None:
        """Any sample; the short circuits of an arc are looked over."""
        self.shorted_s = self.shorted_s + dt if volts < 14.0 else 0.0
        if 0.0 < self.shorted_s < 0.3 and amps <= 5.0:
            return None
        if not 14.0 <= volts <= 45.0 or amps > 5.0:
            self.mean = self.square = self.lasts_s = 0.0
            self.is_told = self.is_told and amps <= 5.0
            return None
        self.lasts_s += dt
        k = min(dt / 1.0, 1.0) if self.lasts_s > dt else 1.0
        self.mean += k * (volts - self.mean)
        self.square += k * (volts * volts - self.square)
        if self.lasts_s > 3.0 and self.square - self.mean**2 > 0.6 and not self.is_told:
            self.is_told = True
            return Notice(CLAMP_OFF, t, self.mean)
        return None
