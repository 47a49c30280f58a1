"""The window bar: a value, the window under it, the margin in figures, and words where it is outside."""

from __future__ import annotations

import math
from collections.abc import Iterator

from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.shapes import BOLD, NARROW, PLAIN, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.limits.windows import Bounds
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, Figure
from banister.core.value import Struct
from banister.core.words import Speech

HEIGHT, HEIGHT_UNSET = 50.0, 24.0
BAR_Y, FOOT_Y = 24.0, 8.0
BEYOND = 0.25
CELL_Y, CELL_EDGE = 6.0, 4.0


class Gauge(Struct, frozen=True):
    """One figure against its window: what it is called, its kind, and where the window comes from ('' for the procedure)."""

    title: str
    value: float
    kind: str
    window: Bounds
    origin: str = ""

    @property
    def verdict(self) -> str:
        """Inside, outside or not judged."""
        return self.window.verdict(self.value)

    def height(self) -> float:
        """How tall its bar is."""
        return HEIGHT if self.window.is_set else HEIGHT_UNSET

    def words(self, say: Speech) -> str:
        """The verdict with the margin."""
        if self.verdict == NOT_JUDGED:
            return say("verdict.not judged")
        near = min(abs(self.value - self.window.low), abs(self.window.high - self.value))
        margin = Figure(near, self.kind)
        if self.verdict == OUTSIDE:
            return say("gauge.under" if self.value < self.window.low else "gauge.over", margin=margin)
        return say("gauge.spare.of" if self.origin else "gauge.spare", margin=margin, origin=self.origin)


def window_bar(gauge: Gauge, width: float, say: Speech) -> Drawing:
    """The bar of a gauge, as tall as it needs to be."""
    height = gauge.height()
    return Drawing(tuple(_shapes(gauge, (width, height), say)), (0.0, 0.0, width, height))


def cell_bar(window: Bounds, seen: tuple[float, float] | None, size: Point) -> Drawing:
    """A window behind its cell: a bar from bound to bound, and over it, thicker, what the plan has; red where that lies outside."""
    return Drawing(tuple(_cell_shapes(window, seen, size)), (0.0, 0.0, *size))


def _cell_shapes(window: Bounds, seen: tuple[float, float] | None, size: Point) -> Iterator[Shape]:
    ends = [v for v in (window.low, window.high, *(seen or ())) if math.isfinite(v)]
    if not ends:
        return
    beyond = BEYOND * max(max(ends) - min(ends), 0.05 * abs(max(ends)), 1e-9)
    axis = Axis(min(ends) - beyond, max(ends) + beyond, CELL_EDGE, size[0] - CELL_EDGE)
    low, high = axis.kept(window.low), axis.kept(window.high)
    if window.is_set:
        yield Rect((low, CELL_Y - 3, high, CELL_Y + 3), "window", id="window")
        for bound, x in ((window.low, low), (window.high, high)):
            if math.isfinite(bound):
                yield Lines((((x, CELL_Y - 5), (x, CELL_Y + 5)),), "limit")
    if seen is not None:
        held = all(window.verdict(v) != OUTSIDE for v in seen)
        left, right = axis.at(seen[0]), axis.at(seen[1])
        yield Rect((left - 1.5, CELL_Y - 1.5, right + 1.5, CELL_Y + 1.5), "text" if held else "outside", id="seen")


def _shapes(gauge: Gauge, size: Point, say: Speech) -> Iterator[Shape]:
    width, height = size
    tone = "outside" if gauge.verdict == OUTSIDE else "text"
    shown = say.sized(gauge.kind, gauge.value)
    yield Text((0.0, height - 10), gauge.title, "soft", 13.0, "start", face=PLAIN)
    yield Text((width, height - 10), shown, tone, 15.0, "end", face=BOLD)
    if not gauge.window.is_set:
        return
    axis = _axis(gauge, width)
    low, high = (axis.kept(v) for v in (gauge.window.low, gauge.window.high))
    yield Rect((0.0, BAR_Y - 2, width, BAR_Y + 2), "rule")
    yield Rect((low, BAR_Y - 4, high, BAR_Y + 4), "window", id="window")
    for bound, x in ((gauge.window.low, low), (gauge.window.high, high)):
        if math.isfinite(bound):
            yield Lines((((x, BAR_Y - 5), (x, BAR_Y + 5)),), "limit")
    x = axis.kept(gauge.value)
    yield Polygon(((x - 5, BAR_Y + 7), (x + 5, BAR_Y + 7), (x, BAR_Y - 3)), tone, "value")
    yield Text((width / 2, FOOT_Y), gauge.words(say), "soft" if gauge.verdict == INSIDE else tone, 11.5, face=NARROW)
    ends = ((0.0, "start", gauge.window.low), (width, "end", gauge.window.high))
    for at, anchor, bound in ends:
        if math.isfinite(bound):
            yield Text((at, FOOT_Y), say.units.text(gauge.kind, bound), "soft", 11.5, anchor, face=NARROW)


def _axis(gauge: Gauge, width: float) -> Axis:
    """From a quarter of the window under it to a quarter over it; an open end is half as far again as the value."""
    window, value = gauge.window, gauge.value
    low = window.low if math.isfinite(window.low) else min(value, window.high) * 0.5
    high = window.high if math.isfinite(window.high) else max(value, window.low) * 1.5
    beyond = BEYOND * max(high - low, 1e-9)
    return Axis(low - beyond, high + beyond, 0.0, width)
