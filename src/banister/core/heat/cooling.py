"""A joint as it cools: a history of mode amplitudes for every variant and every station along the weld.

A variant is one guess at what cannot be known (loss to the air, heat that enters, travel speed). The
likely one is a variant among others, so one schedule and a thousand are the same walk.
"""

from __future__ import annotations

from functools import cached_property, lru_cache
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.fin import Fin, last_falls_s, scanned
from banister.core.heat.thermal import Station, band_half_mm, edge_mm, limits_of, preheat_point_mm, stations_of, warmed_to_c
from banister.core.joint.joint import Joint
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from banister.core.heat.fin import Bools, Floats

ON, BACK, TOGETHER = "on", "back", "together"
HELD_STEP_S = 120.0
"""Where heat is kept on, the band is brought back to preheat this often."""
TOO_COLD_K = 0.5


class Work(Struct, frozen=True):
    """A pass as heat sees it: seconds under way, seconds of cleaning after it, J per metre, seconds before it.

    `course` is how the arc runs: ON from the start of the weld to its end, BACK the other way, TOGETHER where two welders
    burn both halves of a fixed pipe at once.
    """

    key: str
    duration_s: float
    cleaning_s: float
    heat_j_m: float
    before_s: float = 0.0
    course: str = ON


class Variants(Struct, frozen=True):
    """Factors of shape (variants,) on the loss to the air, on the heat that enters, and on the travel speed."""

    loss: Floats
    heat: Floats
    speed: Floats


LIKELY = Variants(np.ones(1), np.ones(1), np.ones(1))


class Coming(Struct, frozen=True):
    """Heat on its way to every variant at one time: J per metre, shape (variants, stations), or None for a reheat of the band."""

    at_s: float
    joules: Floats | None


class _Run:
    """How a pass's heat comes to the stations: shares of its time, of its heat (shares, stations), and when the arc is first there.

    `left` is what is left of its time from its start and from each share.
    """

    def __init__(self, stations: tuple[Station, ...], course: str) -> None:
        events = [tuple((1 - at if course == BACK else at, q) for at, q in (s.together if course == TOGETHER else s.events)) for s in stations]
        self.shares = np.array(sorted({at for found in events for at, _ in found}))
        self.parts = np.array([[sum(q for at, q in found if at == share) for found in events] for share in self.shares])
        self.left = np.concatenate(([1.0], 1 - self.shares))
        self.arrives = np.array([min(at for at, _ in found) for found in events])


@lru_cache(maxsize=32)
def _runs_of(stations: tuple[Station, ...]) -> dict[str, _Run]:
    return {course: _Run(stations, course) for course in (ON, BACK, TOGETHER)}


class Cooling:
    """A joint before its first pass, preheated as its limits ask; carried on pass by pass.

    `state` has the shape (variants, stations, modes), `now_s` (variants,). Arrays are replaced, never
    written into, so a shallow copy is a fork. `held` is true where heat is kept on, so that the band
    never falls below preheat.
    """

    def __init__(self, joint: Joint, fin: Fin, variants: Variants = LIKELY) -> None:
        self.joint, self.fin, self.variants = joint, fin, variants
        self.stations, self.limits = stations_of(joint), limits_of(joint)
        self.preheat_c = joint.heat.air_c if self.limits.preheat_c is None else self.limits.preheat_c
        self.preheated = self.preheat_c > joint.heat.air_c
        self.held = joint.heat.preheat_held and self.preheated
        edge, heat, fin = edge_mm(joint), joint.heat, self.fin
        self.reading, self.far_reading = fin.reading((edge + heat.measure_at_mm) / 1000), fin.reading((edge + preheat_point_mm(joint)) / 1000)
        self.rates = np.maximum(fin.rates + (variants.loss[:, None] - 1) * fin.loss_rates, 0.0)
        start = warmed_to_c(joint) - heat.air_c
        self._band_half_m = band_half_mm(joint) / 1000
        band = fin.band(start, self._band_half_m) if start else np.zeros(fin.rates.size)
        self.state: Floats = np.tile(band, (variants.loss.size, len(self.stations), 1))
        self.now_s: Floats = np.zeros(variants.loss.size)
        self.pending: tuple[Coming, ...] = ()
        self._runs = _runs_of(self.stations)

    @cached_property
    def _scan(self) -> NDArray[np.float32]:
        return scanned(self.rates)

    @cached_property
    def _band(self) -> tuple[Bools, Floats]:
        """The cells inside the preheated band, and what reads its two ends, where it is coldest."""
        inside = np.abs(self.fin.x) <= self._band_half_m
        ends = [float(self.fin.x[i]) for i in np.flatnonzero(inside)[[0, -1]]]
        return inside, np.stack([self.fin.reading(x) for x in ends], axis=1)

    # --- time --------------------------------------------------------------------------------
    def carry_to(self, at_s: Floats | float) -> None:
        """Carry every history on to a time (one for all variants, or one each), heat that comes on the way included."""
        while self.pending and self.pending[0].at_s <= np.min(at_s) + 1e-9:
            heat, self.pending = self.pending[0], self.pending[1:]
            self._decay(heat.at_s)
            if heat.joules is None:
                self.warm(warmed_to_c(self.joint))
            else:
                self._heat(heat.joules)
        self._decay(at_s)

    def _heat(self, joules: Floats) -> None:
        self.state = self.state + joules[:, :, None] * self.fin.source

    def _decay(self, at_s: Floats | float) -> None:
        seconds = np.maximum(at_s - self.now_s, 0.0)
        longest = float(seconds.max())
        if longest <= 0:
            return
        steps = int(longest // HELD_STEP_S) + 1 if self.held else 1
        decay = np.exp(-self.rates * (seconds / steps)[:, None])[:, None, :]
        for _ in range(steps):
            self.state = self.state * decay
            if self.held:
                self.warm(self.preheat_c)
        self.now_s = self.now_s + seconds

    def weld(self, work: Work) -> None:
        """Weld a pass from now on at every variant's own pace, and carry the histories to its end."""
        lasts_s, joules, run = work.duration_s / self.variants.speed, self._joules(work), self._runs[work.course]
        if self.held:
            start_s = self.now_s
            for share, parts in zip(run.shares, run.parts, strict=True):
                self._decay(start_s + share * lasts_s)
                self._heat(joules * parts)
            self._decay(start_s + lasts_s)
            return
        decay = np.exp(-self.rates[:, None, :] * (lasts_s[:, None] * run.left)[:, :, None])
        came = joules[:, :, None] * (run.parts.T @ decay[:, 1:, :]) * self.fin.source
        self.state, self.now_s = self.state * decay[:, :1, :] + came, self.now_s + lasts_s

    def lay_out(self, work: Work, start_s: float) -> None:
        """Lay a pass's heat out in time to come, for all variants at the planned pace."""
        joules, run = self._joules(work), self._runs[work.course]
        times = start_s + run.shares * work.duration_s
        self.pending += tuple(Coming(float(at), joules * parts) for at, parts in zip(times, run.parts, strict=True))

    def _joules(self, work: Work) -> Floats:
        return (work.heat_j_m * self.variants.heat / self.variants.speed)[:, None]

    def reheat_at(self, at_s: float) -> None:
        """Have the band brought back to preheat at a time to come."""
        self.pending += (Coming(at_s, None),)

    def warm(self, least_c: float, chosen: Bools | None = None) -> None:
        """Raise what is colder inside the band, in the chosen variants."""
        wanted, (inside, ends) = least_c - self.joint.heat.air_c, self._band
        colder = (self.state @ ends < wanted).any(axis=(1, 2))
        if chosen is not None:
            colder &= chosen
        if not colder.any():
            return
        root = np.sqrt(self.fin.capacities)
        rise = (self.state[colder] @ self.fin.modes.T) / root
        state = self.state.copy()
        state[colder] = (np.where(inside, np.maximum(rise, wanted), rise) * root) @ self.fin.modes
        self.state = state

    # --- what it reads ------------------------------------------------------------------------
    def temps(self, reading: Floats, state: Floats | None = None) -> Floats:
        """Temperature by a reading, now or in a state kept from before, degC, shape (variants, stations)."""
        return np.asarray(self.joint.heat.air_c + (self.state if state is None else state) @ reading)

    def ready_s(self) -> Floats:
        """Seconds from now until every station is at most at the interpass limit, inf if never; shape (variants,)."""
        rise = self.limits.interpass_c - self.joint.heat.air_c
        return last_falls_s(self.state * self.reading, self.rates, self._scan, rise)

    def too_cold(self) -> Bools:
        """The variants in which a station is below preheat where preheat is read."""
        if not self.preheated:
            return np.zeros(self.now_s.size, dtype=bool)
        return np.asarray((self.temps(self.far_reading) < self.preheat_c - TOO_COLD_K).any(axis=1))

    def on_arrival_c(self, state: Floats, work: Work) -> Floats:
        """Coldest reading of the preheat point as the arc of a pass begun in a state comes to each station; shape (variants,)."""
        seconds = self._runs[work.course].arrives[None, :] * (work.duration_s / self.variants.speed)[:, None]
        later = state * np.exp(-self.rates[:, None, :] * seconds[:, :, None])
        coldest = self.joint.heat.air_c + (later @ self.far_reading).min(axis=1)
        return np.asarray(np.maximum(coldest, self.preheat_c) if self.held else coldest)
