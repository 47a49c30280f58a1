"""The countdown at the joint: coolings that walk along with what was really welded, weighed by what was read, say when the next pass may start.

No fit: every reading makes the coolings that disagree with it count less, and one wild reading does not kill the right ones.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from statistics import NormalDist
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from banister.core.heat.cooling import Cooling, Variants, Work
from banister.core.heat.fin import Fin
from banister.core.joint.joint import Joint
from banister.core.value import Struct, replace

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

COOLINGS = 256
LOSS_SPREAD, HEAT_SPREAD = 0.25, 0.10
"""How far the loss and the heat that enters may be off, as spreads of their logarithms (shop figures)."""
READ_K, READ_SHARE = 4.0, 0.04
"""How sure a reading is, K, and how sure the model, as a share of the rise over the air (shop figures)."""
INFRARED_SHARE = 0.08
"""How sure an infrared reading is, as a share of the rise: its emissivity is never quite that of the surface (shop figure)."""
FITS_NONE = (1.0 + 3.0**2 / 4.0) ** -2.5
"""A reading three spreads off the coolings, as they were weighed before it, fits none of them."""
SHARES = (0.1, 0.5, 0.9)
STEPS = (0.7548776662466927, 0.5698402909980532)
"""Steps of a grid that fills a square evenly (powers of the inverse of the plastic number)."""


class Welded(Struct, frozen=True):
    """A pass that was welded: from when (s on the history's clock), and as heat sees it."""

    at_s: float
    work: Work


class Read(NamedTuple):
    """A temperature that was read: when (s on the history's clock), degC, and whether by infrared."""

    at_s: float
    c: float
    is_infrared: bool = False


class Countdown(Struct, frozen=True):
    """When every place is at most at the interpass limit: early, likely and late end of the band, s on the history's clock; `now_c` likely now.

    `contradicted` is true where the last reading fits none of the coolings that fitted those before: then nothing is predicted.
    """

    early_s: float
    likely_s: float
    late_s: float
    now_c: float
    contradicted: bool = False
    loss: float = 1.0
    """Its loss to the air over what the joint is set to, as the readings have it."""


def spread_evenly() -> Variants:
    """The coolings: loss and heat off by their spreads, on a fixed grid; paces as they were."""
    k = np.arange(1, COOLINGS + 1)
    at = [(0.5 + step * k) % 1.0 for step in STEPS]
    z = [np.array([NormalDist().inv_cdf(float(share)) for share in column]) for column in at]
    return Variants(np.exp(LOSS_SPREAD * z[0]), np.exp(HEAT_SPREAD * z[1]), np.ones(COOLINGS))


def countdown(joint: Joint, fin: Fin, passes: Sequence[Welded], readings: Sequence[Read], now_s: float) -> Countdown | None:
    """When the joint is down to its interpass limit, by passes in the order they were welded and readings; None before the first pass.

    A reading under the arc, or before the first pass, says nothing here and is passed over. Times are infinite where it never cools so far.
    """
    return Coolings(joint, fin).countdown(passes, readings, now_s)


class Coolings:
    """The coolings of a joint while it is welded: what they went through they do not go through again."""

    def __init__(self, joint: Joint, fin: Fin) -> None:
        self._joint, self._fin, self._variants = joint, fin, spread_evenly()
        self._begin()

    def _begin(self) -> None:
        """Before the first pass; its arc is where their clock begins."""
        self._gone: tuple[Welded | Read, ...] = ()
        self._cooling, self._weights, self._contradicted = Cooling(self._joint, self._fin, self._variants), np.ones(COOLINGS), False

    def countdown(self, passes: Sequence[Welded], readings: Sequence[Read], now_s: float) -> Countdown | None:
        """As `countdown`: on from the last time where passes and readings are those of then and more."""
        if not passes:
            return None
        events = tuple(_events(passes, readings, now_s))
        if events[: len(self._gone)] != self._gone:
            self._begin()
        for event in events[len(self._gone) :]:
            self._go_through(event)
        self._gone = events
        return self._read(now_s, now_s - passes[0].at_s)

    def _go_through(self, event: Welded | Read) -> None:
        cooling = self._cooling
        cooling.carry_to(event.at_s)
        if isinstance(event, Welded):
            cooling.weld(event.work)
            return
        agreement = _agreement(cooling, event)
        self._contradicted = bool(self._weights @ agreement < FITS_NONE * self._weights.sum())
        self._weights = self._weights * agreement

    def _read(self, now_s: float, at_s: float) -> Countdown:
        """What they tell now, which is `at_s` on their clock; they stay where they were, for the next event may be entered as of before."""
        cooling, weights = self._cooling, self._weights
        stood = cooling.state, cooling.now_s
        cooling.carry_to(at_s)
        ready = now_s + cooling.ready_s()
        now_c = cooling.temps(cooling.reading).max(axis=1)
        cooling.state, cooling.now_s = stood
        early, likely, late = (_at(ready, weights, share) for share in SHARES)
        return Countdown(early, likely, late, _at(now_c, weights, 0.5), self._contradicted, _at(self._variants.loss, weights, 0.5))


def _events(passes: Sequence[Welded], readings: Sequence[Read], now_s: float) -> Iterator[Welded | Read]:
    """Passes and what was read between them, in order; s after the first arc, to a thousandth: whichever time theirs were counted from."""
    begun, waiting = passes[0].at_s, sorted(readings)
    for i, one in enumerate(passes):
        yield Welded(_after(begun, one.at_s), replace(one.work, duration_s=round(one.work.duration_s, 3)))
        ends = one.at_s + one.work.duration_s
        until = passes[i + 1].at_s if i + 1 < len(passes) else math.inf
        yield from (read._replace(at_s=_after(begun, read.at_s)) for read in waiting if ends <= read.at_s <= min(until, now_s))


def _after(begun_s: float, at_s: float) -> float:
    return round(at_s - begun_s, 3)


def _agreement(cooling: Cooling, read: Read) -> Floats:
    """How much a reading says for every cooling (Student's t with four degrees, so that one wild reading does not decide)."""
    model = cooling.temps(cooling.reading).max(axis=1)
    rise = np.maximum(model - cooling.joint.heat.air_c, 0.0)
    sd = np.maximum(READ_K, INFRARED_SHARE * rise) if read.is_infrared else READ_K
    z = (read.c - model) / np.hypot(sd, READ_SHARE * rise)
    return np.asarray((1.0 + z * z / 4.0) ** -2.5)


def _at(values: Floats, weights: Floats, share: float) -> float:
    """The value below which a share of the weight lies."""
    order = np.argsort(values)
    held = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(held, share * held[-1])])
