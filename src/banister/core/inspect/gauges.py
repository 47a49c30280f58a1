"""A reading near its limit: the chance that what was read is really over, by the gauge it was read with (shop figures, to be edited)."""

from __future__ import annotations

import math
from datetime import date
from statistics import NormalDist

from banister.core.value import Struct

NORMAL = NormalDist()
SURE_IN, SURE_OUT = 0.05, 0.95
TWO_SIDED = 1.64


class Gauge(Struct, frozen=True, kw_only=True):
    """A gauge: what it reads to, mm, how far all its readings may be off together and each by itself (one sd), until when it is calibrated (ISO day)."""

    id: str
    resolution_mm: float
    u_systematic_mm: float
    u_repeat_mm: float
    calibrated_until: str = ""

    def is_due(self, on: date) -> bool:
        """True once its calibration is past."""
        return bool(self.calibrated_until) and date.fromisoformat(self.calibrated_until) < on

    def can_read(self, value: float) -> bool:
        """False for a figure that lies between its marks."""
        steps = value / self.resolution_mm
        return abs(steps - round(steps)) < 1e-6


GAUGES = {
    gauge.id: gauge
    for gauge in (
        Gauge(id="cap", resolution_mm=0.5, u_systematic_mm=0.15, u_repeat_mm=0.20),
        Gauge(id="slide", resolution_mm=0.1, u_systematic_mm=0.05, u_repeat_mm=0.10),
        Gauge(id="dial", resolution_mm=0.05, u_systematic_mm=0.03, u_repeat_mm=0.06),
    )
}
"""Typical gauges by id; their names are the words `gauge.ID`."""


def chance_over(reading: float, limit: float, gauge: Gauge, readings: int = 1) -> float:
    """The chance that the true value lies over a limit, from the mean of so many readings, each rounded to what the gauge reads to.

    Flat prior; psi(z) = z Phi(z) + phi(z) integrates the rounding (any textbook on measurement).
    """
    s = math.hypot(gauge.u_systematic_mm, gauge.u_repeat_mm / math.sqrt(readings))
    r = gauge.resolution_mm
    return s / r * (_psi((reading + r / 2 - limit) / s) - _psi((reading - r / 2 - limit) / s))


def _psi(z: float) -> float:
    return z * NORMAL.cdf(z) + NORMAL.pdf(z)


def repeating_helps(reading: float, limit: float, gauge: Gauge) -> bool:
    """False where what all readings are off by together keeps it open: then a finer gauge is wanted, not another reading."""
    return abs(reading - limit) >= TWO_SIDED * gauge.u_systematic_mm
