"""The analysis of an arc: one object, one sample at a time, constant memory; rods with their arcs, times, energy and charge.

A sample is the mean over the time since the one before. Arc on and off are dated back to where they began. A rod change is
told from a restart by the gap and by how far the rod was burnt, so that a lost arc is no rod.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field

from banister.core.arc.amiss import HOLE, POLARITY, STICKING, UNSEEN, UNSURE, Clamp, Drift, LongArc, Notice, Window
from banister.core.arc.change import ASKED_BELOW, USUAL_CHANGE_S, rod_or_restart
from banister.core.value import Struct

ON_S, OFF_S, SHORTED_V, STUCK_S = 0.12, 0.08, 9.0, 0.5
ARC_SHARE = 0.4
"""A touch shorts and gives little power, mixed with idle in a slow sample: an arc gives so much of the usual."""
LEAST_A, LIVE_SHARE = 15.0, 0.25
MOST_V, MOST_A, SPIKE_V, SPIKE_A, SPIKE_SHARE = 150.0, 1500.0, 110.0, 30.0, 2.5
FILLED_S, SAID_S, HOLE_STEPS = 10.0, 1.0, 3.5
NEGATIVE_S = 1.0
WHOLE = (0.8, 1.25)
"""A rod burnt so far teaches how much a whole one is."""


class Setting(Struct, frozen=True, kw_only=True):
    """What is welded with: amps set, usual volts, ampere seconds of a whole rod, whether the electrode is to be positive, the window of amps."""

    amps: float
    volts: float
    rod_amp_s: float
    electrode_positive: bool = True
    family: str = "basic"
    window: tuple[float | None, float | None] = (None, None)


@dataclass(slots=True)
class RodBurnt:
    """A rod as the meter saw it: from when to when, arcs, arc time, energy, charge; seconds that were filled in, whether some of it was not seen."""

    on_s: float
    off_s: float = 0.0
    arcs: int = 1
    arc_s: float = 0.0
    joules: float = 0.0
    amp_s: float = 0.0
    filled_s: float = 0.0
    is_unsure: bool = False
    v_s: float = 0.0

    @property
    def kj(self) -> float:
        """Energy of the arc."""
        return self.joules / 1000.0

    def burnt(self, rod_amp_s: float) -> float:
        """Share of a rod."""
        return self.amp_s / rod_amp_s


@dataclass(slots=True)
class _Sums:
    """What a stretch of samples comes to before it is known what it was."""

    s: float = 0.0
    joules: float = 0.0
    amp_s: float = 0.0
    v_s: float = 0.0
    samples: int = 0

    def take(self, dt: float, volts: float, amps: float, watts: float) -> None:
        self.s, self.joules, self.amp_s, self.v_s = self.s + dt, self.joules + watts * dt, self.amp_s + amps * dt, self.v_s + volts * dt
        self.samples += 1


@dataclass(slots=True)
class ArcAnalysis:
    """Feed it samples in time; `rods` are those that are done, `rod` the one in hand."""

    setting: Setting
    rods: list[RodBurnt] = field(default_factory=list)
    rod: RodBurnt | None = None
    notices: list[Notice] = field(default_factory=list)
    is_burning: bool = False
    restarts: int = 0
    failed: int = 0
    spikes: int = 0
    rod_amp_s: float = 0.0
    usual_change_s: float = USUAL_CHANGE_S
    _t: float = math.nan
    _step: float = 0.0
    _striking: _Sums = field(default_factory=_Sums)
    _strike_at: float = math.nan
    _dead_between: float = 0.0
    _dead: _Sums = field(default_factory=_Sums)
    _short: _Sums = field(default_factory=_Sums)
    _stuck: bool = False
    _arc_since: float = math.nan
    _negative_s: float = 0.0
    _is_negative: bool = False
    _long: LongArc = field(init=False)
    _drift: Drift = field(default_factory=Drift)
    _window: Window = field(init=False)
    _clamp: Clamp = field(default_factory=Clamp)

    def __post_init__(self) -> None:
        self.rod_amp_s = self.setting.rod_amp_s
        self._long = LongArc(self.setting.volts, 3.5 if self.setting.family == "cellulosic" else 2.5)
        self._window = Window(*self.setting.window)

    @property
    def all_rods(self) -> list[RodBurnt]:
        """Every rod, the one in hand last."""
        return [*self.rods, *([self.rod] if self.rod is not None else [])]

    def take(self, t: float, volts: float, amps: float, watts: float | None = None) -> None:
        """One sample; what cannot be one is passed over, and the next good one carries its time."""
        if not (math.isfinite(volts) and math.isfinite(amps)) or abs(volts) >= MOST_V or abs(amps) >= MOST_A:
            return
        if math.isnan(self._t):
            self._t = t
            return
        dt = t - self._t
        if dt <= 0 or self._is_spike(volts, amps):
            self.spikes += dt > 0
            return
        volts, amps, watts = self._turned(t, dt, volts, amps, watts)
        power = volts * amps if watts is None else watts
        if self._step and dt > max(HOLE_STEPS * self._step, 0.4):
            self._hole(t, dt, volts, amps, power)
        else:
            self._step = dt if not self._step else self._step + 0.02 * (min(dt, 3 * self._step) - self._step)
            self._arc(t, dt, volts, amps, power)
        self._t = t

    def _is_spike(self, volts: float, amps: float) -> bool:
        wrong_sign = self.is_burning and volts * amps < 0 and abs(amps) > LEAST_A
        return abs(amps) > SPIKE_SHARE * self.setting.amps + SPIKE_A or abs(volts) > SPIKE_V or wrong_sign

    def _turned(self, t: float, dt: float, volts: float, amps: float, watts: float | None) -> tuple[float, float, float | None]:
        """Both signs negative are told once, then turned."""
        if volts < 0 and amps < -LEAST_A:
            self._negative_s += dt
            if self._negative_s > NEGATIVE_S and not self._is_negative and self.setting.electrode_positive:
                self._is_negative = True
                self.notices.append(Notice(POLARITY, t))
            return -volts, -amps, watts if watts is None else abs(watts)
        self._negative_s = 0.0 if volts > 0 and amps > LEAST_A else self._negative_s
        return abs(volts), abs(amps), watts if watts is None else abs(watts)

    # --- the arc ------------------------------------------------------------------------------
    def _arc(self, t: float, dt: float, volts: float, amps: float, power: float) -> None:
        is_live = amps > max(LEAST_A, LIVE_SHARE * self.setting.amps)
        clamp = self._clamp.take(t, dt, volts, amps)
        if clamp is not None:
            self.notices.append(clamp)
        if self.is_burning:
            self._burn(t, dt, volts, amps, power, is_live)
        else:
            is_arc = is_live and volts >= SHORTED_V and power >= ARC_SHARE * self.setting.amps * self.setting.volts
            self._strike(t, dt, volts, amps, power, is_arc)

    def _strike(self, t: float, dt: float, volts: float, amps: float, power: float, is_arc: bool) -> None:
        """A live stretch long enough is an arc, dated back; one that ends before is a failed strike."""
        if not is_arc:
            if self._striking.samples:
                self._dead_between += dt
                if self._dead_between >= OFF_S:
                    self.failed += 1
                    self._striking, self._dead_between = _Sums(), 0.0
            return
        if not self._striking.samples:
            self._strike_at = t - dt
        self._dead_between = 0.0
        self._striking.take(dt, volts, amps, power)
        if self._striking.s >= ON_S - 1e-9 and self._striking.samples >= 2:
            self._struck()

    def _struck(self) -> None:
        self.is_burning, self._arc_since = True, self._strike_at
        if self.rod is None:
            self.rod = RodBurnt(self._strike_at)
        else:
            gap = self._strike_at - self.rod.off_s
            is_new, sure = rod_or_restart(gap, self.rod.burnt(self.rod_amp_s), self.usual_change_s)
            if sure < ASKED_BELOW:
                self.notices.append(Notice(UNSURE, self._strike_at, sure))
            if is_new:
                self._done(gap)
                self.rod = RodBurnt(self._strike_at)
            else:
                self.rod.arcs += 1
                self.restarts += 1
        self._add(self._striking)
        self._striking, self._dead, self._short, self._stuck = _Sums(), _Sums(), _Sums(), False

    def _done(self, gap_s: float) -> None:
        """The rod in hand is burnt: a whole one teaches what a whole one is."""
        assert self.rod is not None
        self.rods.append(self.rod)
        if WHOLE[0] <= self.rod.burnt(self.rod_amp_s) <= WHOLE[1]:
            self.rod_amp_s += 0.25 * (self.rod.amp_s - self.rod_amp_s)
            self.usual_change_s += 0.25 * (gap_s - self.usual_change_s)

    def _add(self, sums: _Sums) -> None:
        assert self.rod is not None
        self.rod.arc_s += sums.s
        self.rod.joules += sums.joules
        self.rod.amp_s += sums.amp_s
        self.rod.v_s += sums.v_s

    def _burn(self, t: float, dt: float, volts: float, amps: float, power: float, is_live: bool) -> None:
        if not is_live:
            self._dead.take(dt, volts, amps, power)
            if self._dead.s >= OFF_S - 1e-9 and self._dead.samples >= 2:
                self._out(t - self._dead.s)
            return
        if self._dead.samples:
            self._add(self._dead)
            self._dead = _Sums()
        if volts < SHORTED_V:
            self._short.take(dt, volts, amps, power)
            if self._short.s > STUCK_S and not self._stuck:
                self._stuck = True
                self.notices.append(Notice(STICKING, t, self._short.s))
            return
        if self._short.samples:
            if not self._stuck:
                self._add(self._short)
            self._short, self._stuck = _Sums(), False
        one = _Sums()
        one.take(dt, volts, amps, power)
        self._add(one)
        self._watch(t, dt, volts, amps)

    def _out(self, at: float) -> None:
        """The arc went out, dated back; a short that led there belongs to it unless the rod was stuck."""
        if self._short.samples and not self._stuck:
            self._add(self._short)
        self.is_burning = False
        self._dead, self._short, self._stuck = _Sums(), _Sums(), False
        assert self.rod is not None
        self.rod.off_s = at

    def _watch(self, t: float, dt: float, volts: float, amps: float) -> None:
        arc_s = t - self._arc_since
        found = [self._long.take(t, dt, volts, arc_s), self._drift.take(t, dt, volts, amps) if arc_s > 2.0 else None, self._window.take(t, dt, amps)]
        self.notices += [one for one in found if one is not None]

    # --- holes --------------------------------------------------------------------------------
    def _hole(self, t: float, dt: float, volts: float, amps: float, power: float) -> None:
        """Samples are missing: under the arc a short hole is filled at the rod's own mean, a long one was not seen."""
        is_live = amps > max(LEAST_A, LIVE_SHARE * self.setting.amps)
        if not self.is_burning:
            self._arc(t, self._step, volts, amps, power)
            return
        assert self.rod is not None
        if is_live and dt <= FILLED_S and self.rod.arc_s > 0:
            filled, arc_s = dt - self._step, self.rod.arc_s
            self.rod.joules += self.rod.joules / arc_s * filled
            self.rod.amp_s += self.rod.amp_s / arc_s * filled
            self.rod.v_s += self.rod.v_s / arc_s * filled
            self.rod.arc_s, self.rod.filled_s = arc_s + filled, self.rod.filled_s + filled
            if dt > SAID_S:
                self.notices.append(Notice(HOLE, t, dt))
            self._arc(t, self._step, volts, amps, power)
            return
        self.notices.append(Notice(UNSEEN if dt > FILLED_S else HOLE, t, dt))
        self.rod.is_unsure = True
        self._out(self._t)
        self._arc(t, self._step, volts, amps, power)

    def finish(self) -> None:
        """The samples are at an end: an arc that still burns ends with them."""
        if self.is_burning:
            self._out(self._t)


def scanned(samples: Iterator[tuple[float, float, float, float | None]], setting: Setting) -> ArcAnalysis:
    """A whole trace."""
    analysis = ArcAnalysis(setting)
    for sample in samples:
        analysis.take(*sample)
    analysis.finish()
    return analysis
