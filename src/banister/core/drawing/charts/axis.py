"""Axes of charts: where a value stands, round steps, marks."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from banister.core.value import Struct

TIME_STEPS_S = (60.0, 300.0, 600.0, 900.0, 1800.0, 3600.0, 7200.0, 14_400.0, 28_800.0, 43_200.0, 86_400.0)


class Axis(Struct, frozen=True):
    """Values from `low` to `high` between two places, in pixels."""

    low: float
    high: float
    start: float
    end: float

    @property
    def scale(self) -> float:
        """Pixels of one unit."""
        return (self.end - self.start) / (self.high - self.low)

    def at(self, value: float) -> float:
        """Where a value stands."""
        return self.start + (value - self.low) * self.scale

    def value(self, place: float) -> float:
        """The value at a place."""
        return self.low + (place - self.start) / self.scale

    def kept(self, value: float) -> float:
        """Where a value stands, no further than the ends."""
        return self.at(min(max(value, self.low), self.high))


def round_step(rough: float) -> float:
    """The next of 1, 2, 5 times a power of ten.

    >>> round_step(0.31), round_step(3.2), round_step(61.0)
    (0.5, 5, 100)
    """
    power: float = 10 ** math.floor(math.log10(rough))
    return next(m * power for m in (1, 2, 5, 10) if m * power >= rough * (1 - 1e-9))


def marks(axis: Axis, step: float) -> Iterator[float]:
    """Every multiple of a step on an axis."""
    low, high = sorted((axis.low, axis.high))
    for i in range(math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9) + 1):
        yield i * step


def step_for(axis: Axis, steps: Iterable[float], apart: float) -> float:
    """The first of some steps whose marks stand at least so many pixels apart, else the last."""
    found = 1.0
    for found in steps:
        if found * abs(axis.scale) >= apart:
            break
    return found
