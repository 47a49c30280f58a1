"""Where a figure stands in a session, against its target and the sessions before: no score, no verdict before the drill's number of rods."""

from __future__ import annotations

import math
from datetime import date
from functools import lru_cache
from statistics import fmean, median

from banister.core.practice.book import Book, Drills, Metric, Session
from banister.core.practice.figures import FIGURES, MAD_TO_SD, mad
from banister.core.practice.weeks import DAY_SD, FEWEST_SESSIONS, ROD_SD, Trend, least_change, trend
from banister.core.value import Struct

EARLIER = 4
FLOOR = {"V": 0.02, "%": 0.5, "mm": 0.25, "": 0.5}
"""Half of what a figure is read to: what is nought on the ruler is not nought."""
SIGNED_ROD_SD = {"%": 8.0, "mm": 0.8}
"""sd of a signed figure from rod to rod until one's own is known (shop trial)."""
SIGNED_DAY_SHARE = 0.4


class Standing(Struct, frozen=True):
    """A figure in a session: a value per rod (None: not read); its target, the rods it takes to say something.

    `earlier` are the medians of the sessions before, oldest first. `least_change` is the least change of the median that is
    not chance: a share of it, or in its own unit where it is signed.
    """

    metric: Metric
    values: tuple[float | None, ...]
    target: tuple[float, float]
    wanted_rods: int
    earlier: tuple[float, ...]
    least_change: float

    @property
    def read(self) -> tuple[float, ...]:
        """The values that were read."""
        return tuple(v for v in self.values if v is not None)

    @property
    def median(self) -> float | None:
        """Their median."""
        return median(self.read) if self.read else None

    @property
    def spread(self) -> float | None:
        """How far they scatter: 1.4826 MAD."""
        return MAD_TO_SD * mad(self.read) if len(self.read) > 1 else None

    @property
    def says_something(self) -> bool:
        """True once there are as many rods as the drill asks for."""
        return len(self.read) >= self.wanted_rods

    @property
    def over(self) -> float:
        """How far the median lies outside its target, 0 inside."""
        median, (low, high) = self.median, self.target
        return 0.0 if median is None else max(median - high, low - median, 0.0)

    @property
    def weight(self) -> float:
        """How far outside, in least changes: what is worth most to work on."""
        median = self.median
        if median is None or self.over == 0.0:
            return 0.0
        if self.metric.signed:
            return self.over / self.least_change
        high = max(self.target[1], FLOOR[self.metric.unit])
        beyond = math.log(median / high) if median > high else math.log(max(self.target[0], 1e-9) / max(median, 1e-9))
        return beyond / math.log1p(self.least_change)


class Day(Struct, frozen=True):
    """A session of a series as weeks show it: its day, its median, its rods."""

    on: date
    median: float
    values: tuple[float, ...]


class Weeks(Struct, frozen=True):
    """A figure over the weeks: series of sessions, broken where rod, position or machine changed; the line of the last one where there are sessions enough.

    The line is through logarithms, through plain values where the figure is signed; `least_change` as in `Standing`.
    """

    metric: Metric
    series: tuple[tuple[Day, ...], ...]
    line: Trend | None
    least_change: float

    @property
    def last(self) -> tuple[Day, ...]:
        """The series that goes on."""
        return self.series[-1] if self.series else ()

    def a_week(self) -> tuple[float, float] | None:
        """Both ends of what a week changes, as a share (signed figures: in their unit); negative is less. None where no change is shown."""
        if self.line is None or not self.line.shown:
            return None
        ends = 7 * (self.line.slope - self.line.half), 7 * (self.line.slope + self.line.half)
        return ends if self.metric.signed else (math.expm1(ends[0]), math.expm1(ends[1]))


@lru_cache(maxsize=4096)
def values_of(session: Session, metric: str) -> tuple[float | None, ...]:
    """A figure of every rod of a session."""
    figure = FIGURES[metric]
    return tuple(figure(session, rod) for rod in session.rods)


def standings(book: Book, index: int, drills: Drills) -> tuple[Standing, ...]:
    """Every figure of a session's drill, and what else was read in it."""
    session = book.sessions[index]
    drill = drills.drills[session.drill]
    others = tuple(m for m in drills.metrics if m not in drill.measure and any(v is not None for v in values_of(session, m)))
    return tuple(_standing(book, index, drills.metrics[m], drill.rods_for_a_judgement) for m in (*drill.measure, *others))


def _standing(book: Book, index: int, metric: Metric, wanted: int) -> Standing:
    session = book.sessions[index]
    before = [found for one in book.sessions[:index] if one.series == session.series and (found := _median(one, metric.id)) is not None]
    values = values_of(session, metric.id)
    return Standing(metric, values, book.target_of(metric), wanted, tuple(before[-EARLIER:]), _least_change(book, session, metric, max(len(values), 1)))


def _median(session: Session, metric: str) -> float | None:
    read = [v for v in values_of(session, metric) if v is not None]
    return median(read) if read else None


def weeks_of(book: Book, metric: Metric, upto: int) -> Weeks:
    """A figure over all sessions up to one, those of its drill."""
    session = book.sessions[upto]
    series, key = list[list[Day]](), None
    for one in book.sessions[: upto + 1]:
        read = tuple(v for v in values_of(one, metric.id) if v is not None)
        if one.drill != session.drill or not read:
            continue
        if one.series != key:
            series.append([])
            key = one.series
        series[-1].append(Day(date.fromisoformat(one.on), median(read), read))
    last = series[-1] if series else []
    line = trend([float(d.on.toordinal()) for d in last], [scaled(metric, d.median) for d in last])
    rods = round(fmean(len(d.values) for d in last)) if last else 1
    return Weeks(metric, tuple(tuple(s) for s in series), line, _least_change(book, session, metric, rods))


def scaled(metric: Metric, value: float) -> float:
    """A value as trends take it: its logarithm, the plain value where it may be under nought."""
    return value if metric.signed else math.log(max(value, FLOOR[metric.unit]))


def _squares(values: list[float]) -> float:
    """The squared deviations from the mean, summed; the library's own sums fractions, and is looked through a hundred times for a page."""
    mean = fmean(values)
    return math.fsum((value - mean) ** 2 for value in values)


def _least_change(book: Book, session: Session, metric: Metric, rods: int) -> float:
    """Of one's own scatter from rod to rod and from day to day in this series, as far as it is known."""
    alike = [[scaled(metric, v) for v in values_of(one, metric.id) if v is not None] for one in book.sessions if one.series == session.series]
    alike = [one for one in alike if one]
    usual = SIGNED_ROD_SD.get(metric.unit, 1.0) if metric.signed else ROD_SD
    spare = sum(len(one) - 1 for one in alike)
    within = math.sqrt(sum(map(_squares, alike)) / spare) if spare >= 2 * FEWEST_SESSIONS else usual
    days = [fmean(one) for one in alike]
    line = trend(list(range(len(days))), days)
    between = usual * SIGNED_DAY_SHARE if metric.signed else DAY_SD
    if line is not None:
        each = fmean(len(one) for one in alike)
        between = math.sqrt(max(line.residual_sd**2 - within**2 / each, 0.0))
    found = max(least_change(within, rods, between), 1e-6)
    return found if metric.signed else math.expm1(found)
