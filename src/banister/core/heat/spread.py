"""What cannot be known, drawn many times at once: how far it spreads waits, temperatures and the end.

Loss to the air, heat that enters and the pace of a pass are drawn evenly within their limits (Latin
hypercube, always the same draws). Measured temperatures weigh the draws: those they contradict count
little, and the band narrows.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from banister.core.heat.cooling import Cooling, Variants
from banister.core.heat.fin import Fin
from banister.core.heat.history import at_readings_c, curves_c, laid_out
from banister.core.heat.schedule import Schedule, walked, works_of
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

if TYPE_CHECKING:
    from banister.core.heat.fin import Floats

WITHIN = {"loss": 0.30, "heat": 0.10, "speed": 0.10}
"""How far each may be from the likely value, as a share of it (typical)."""
DRAWS = 200
SHARE = (0.05, 0.95)
"""The band holds nine of ten draws."""
READING_K = 10.0
"""Scatter of one measured temperature against the model: thermometer, place and model (typical)."""
LEAST_DRAWS = 12
"""Where fewer draws than this still count, the readings contradict the band, and all of them count alike."""


class Spread(Struct, frozen=True):
    """Schedules of all draws: `waits_s` of shape (draws, passes), `end_s` (draws,), `weights` (draws,), adding up to 1.

    `contradicted` is true where the readings fit none of the draws.
    """

    waits_s: Floats
    end_s: Floats
    weights: Floats
    contradicted: bool

    @property
    def ends_s(self) -> tuple[float, float]:
        """Nine of ten draws end between these."""
        low, high = between(self.end_s[:, None], self.weights)
        return float(low[0]), float(high[0])

    @property
    def wait_bands_s(self) -> tuple[tuple[float, float], ...]:
        """For every pass, what nine of ten draws wait before it."""
        low, high = between(self.waits_s, self.weights)
        return tuple((float(a), float(b)) for a, b in zip(low, high, strict=True))


def drawn(count: int = DRAWS, seed: int = 1) -> Variants:
    """Variants drawn evenly: every quantity's range is cut into as many strata as there are draws, one draw in each."""
    draw = np.random.default_rng(seed)
    at = np.stack([draw.permutation(count) for _ in WITHIN], axis=1) + draw.random((count, len(WITHIN)))
    factors = 1 + np.array(list(WITHIN.values())) * (2 * at / count - 1)
    return Variants(*(np.ascontiguousarray(column) for column in factors.T))


def spread_of(joint: Joint, plan: Plan, schedule: Schedule, variants: Variants, fin: Fin | None = None) -> Spread:
    """Every draw's own schedule of a plan whose likely schedule is feasible; a draw that never cools ends at infinity."""
    cooling = Cooling(joint, fin or fin_of(joint, plan), variants)
    works = works_of(joint, plan)
    begun = [one for _, one in walked(cooling, works)]
    never = np.logical_or.reduce([one.never for one in begun])
    waits = np.stack([np.where(one.never, math.inf, one.wait_s) for one in begun], axis=1)
    weights, contradicted = weighed(joint, plan, schedule, variants, cooling.fin)
    return Spread(waits, np.where(never, math.inf, cooling.now_s + works[-1].cleaning_s), weights, contradicted)


def weighed(joint: Joint, plan: Plan, schedule: Schedule, variants: Variants, fin: Fin) -> tuple[Floats, bool]:
    """How much each draw counts beside what was measured, adding up to 1; and whether the readings contradict them all."""
    alike = np.full(variants.loss.size, 1 / variants.loss.size)
    if not joint.readings:
        return alike, False
    misses = at_readings_c(joint, plan, schedule, fin, variants) - [r.temp_c for r in joint.readings]
    squares = np.square(misses / READING_K).sum(axis=1)
    weights = np.exp((squares.min() - squares) / 2)
    weights = weights / weights.sum()
    if squares.min() > 9 * len(joint.readings) or 1 / np.square(weights).sum() < min(LEAST_DRAWS, variants.loss.size):
        return alike, True
    return weights, False


def between(values: Floats, weights: Floats) -> tuple[Floats, Floats]:
    """The bounds of the band for values of shape (draws, quantities)."""
    order = np.argsort(values, axis=0)
    sorted_values, held = np.take_along_axis(values, order, axis=0), np.cumsum(weights[order], axis=0)
    low, high = (sorted_values[np.argmax(held >= share - 1e-12, axis=0), np.arange(values.shape[1])] for share in SHARE)
    return low, high


def temperature_band_c(joint: Joint, plan: Plan, schedule: Schedule, times_s: Floats, variants: Variants, spread: Spread, fin: Fin) -> tuple[Floats, Floats]:
    """What the hottest station reads at the interpass point if welded at the schedule's times: low and high at each time."""
    curves = curves_c(laid_out(joint, plan, schedule, fin, variants), times_s, joint.heat.measure_at_mm)
    return between(curves.max(axis=1), spread.weights)


def band_said(band_s: tuple[float, float], say: Speech) -> str:
    """A band of waits in whole minutes; '' where hardly any draw waits."""
    low, high = (round(value / 60) if math.isfinite(value) else math.inf for value in band_s)
    if high < 1:
        return ""
    if math.isinf(high):
        return say("band.to_never", low=f"{low:.0f}") if math.isfinite(low) else say("time.never")
    return say("band.minutes", low=f"{low:.0f}", high=f"{high:.0f}")


def ends_said(ends_s: tuple[float, float], say: Speech) -> str:
    """When nine of ten draws end."""
    low, high = ends_s
    return say("window.both", low=Figure(low, "clock"), high=Figure(high, "clock"))
