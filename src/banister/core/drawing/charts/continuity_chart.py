"""The continuity book: a row for every welder and process, months across, a disc for every counted day, a bar as far as it keeps the mark in force.

The end of the bar is the date; today is a line. A mark that lapsed has its end crossed.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from datetime import date

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.limits.continuity import LAPSED, RETEST, SOON, UNTESTED, Continuity, later
from banister.core.limits.procedure import WELDER_FAMILIES
from banister.core.value import Struct
from banister.core.words import Speech

LABELS, EDGE, HEAD, FOOT, ROW, MOST_ROW, DOT, BAR = 170.0, 96.0, 34.0, 14.0, 46.0, 64.0, 5.0, 13.0
BEYOND_MONTHS, MONTH_PX, GRIP_PX = 2, 34.0, 8.0
STYLES = {SOON: "warning", LAPSED: "outside", RETEST: "outside", UNTESTED: "soft"}


class BookRow(Struct, frozen=True):
    """A welder's mark with a process by a family, and its state."""

    mark: str
    process: str
    family: str
    state: Continuity


class BookView(Struct, frozen=True):
    """Size in pixels, the day it is looked at."""

    width: float
    height: float
    today: date


class BookChart(Struct, frozen=True):
    """The picture, and where the disc of each counted day stands, by the row's place."""

    drawing: Drawing
    discs: Sequence[tuple[Point, int, date]] = ()

    def at(self, point: Point) -> tuple[int, date] | None:
        """The row and the day of the disc under a point."""
        near = [(math.dist(at, point), row, on) for at, row, on in self.discs]
        found = min(near, default=None)
        return (found[1], found[2]) if found is not None and found[0] <= GRIP_PX else None


def continuity_chart(marks: Sequence[BookRow], say: Speech, view: BookView) -> BookChart:
    """The book for a size."""
    book = _Book(marks, say, view)
    shapes = (Rect((0.0, 0.0, view.width, view.height), "ground"), *book.months(), *book.rows())
    return BookChart(Drawing(shapes, (0.0, 0.0, view.width, view.height)), tuple(book.discs))


class _Book:
    """The parts of the book."""

    def __init__(self, marks: Sequence[BookRow], say: Speech, view: BookView) -> None:
        self.marks, self.say, self.view = marks, say, view
        days = [view.today, *(day for m in marks for day in m.state.counted), *(m.state.until for m in marks if m.state.until is not None)]
        first, last = min(days), later(max(days), BEYOND_MONTHS)
        self.first = date(first.year, first.month, 1)
        self.along = Axis(float(self.first.toordinal()), float(last.toordinal()), LABELS, view.width - EDGE)
        self.row = min(max((view.height - HEAD - FOOT) / max(len(marks), 1), ROW), MOST_ROW)
        self.discs: list[tuple[Point, int, date]] = []

    def x(self, day: date) -> float:
        return self.along.kept(float(day.toordinal()))

    def months(self) -> Iterator[Shape]:
        """A stroke for every month that has room, its number and the year; today across all rows."""
        high, foot = self.view.height, FOOT
        every = next(n for n in (1, 2, 3, 6, 12, 24, 60, 120) if n * 30.4 * self.along.scale >= MONTH_PX)
        for i in itertools.count(0, every):
            day = later(self.first, i)
            if day.toordinal() > self.along.high:
                break
            x = self.x(day)
            yield Lines((((x, foot), (x, high - HEAD)),), "rule")
            yield Text((x, high - HEAD + 10), f"{day:%Y-%m}" if i == 0 or day.month <= every else f"{day:%m}", "soft", 11, face=NARROW)
        x = self.x(self.view.today)
        yield Lines((((x, foot), (x, high - HEAD)),), "cursor", "today")
        yield Text((x, foot - 6), self.say("continuity.today", on=self.view.today.isoformat()), "cursor", 11, face=NARROW_BOLD)

    def rows(self) -> Iterator[Shape]:
        """A row for every mark, those that end soonest on top."""
        for i, mark in enumerate(self.marks):
            y = self.view.height - HEAD - (i + 0.5) * self.row
            yield from self._row(i, mark, y)

    def _row(self, i: int, mark: BookRow, y: float) -> Iterator[Shape]:
        say, state = self.say, mark.state
        style = STYLES.get(state.state, "limit")
        yield Text((12.0, y + 8), f"{mark.mark}  {mark.process}", "text", 15, "start", f"mark:{mark.mark}", face=BOLD)
        yield Text((12.0, y - 9), f"{WELDER_FAMILIES[mark.family]}: {say(f'continuity.{state.state}')}", style, 12, "start", face=NARROW)
        if state.counted and state.until is not None:
            x0, x1 = self.x(state.counted[0]), self.x(state.until)
            yield Rect((x0, y - BAR / 2, max(x1, x0 + 1), y + BAR / 2), "window", "", f"bar:{mark.mark}")
            yield Lines((((x1, y - BAR), (x1, y + BAR)),), style, f"until:{mark.mark}")
            if state.state in (LAPSED, RETEST):
                yield Lines((((x1 - 5, y - 5), (x1 + 5, y + 5)), ((x1 - 5, y + 5), (x1 + 5, y - 5))), "outside")
            said = state.until.isoformat()
            right = x1 + 8 + advance(said, 13, NARROW_BOLD) <= self.view.width
            yield Text((x1 + (8 if right else -8), y), said, style, 13, "start" if right else "end", face=NARROW_BOLD)
        for day in state.counted:
            at = (self.x(day), y)
            self.discs.append((at, i, day))
            yield Dot(at, DOT, "text", "ground", f"day:{mark.mark}:{day.isoformat()}")
        for day, _ in state.not_counted:
            yield Dot((self.x(day), y), DOT - 1, "ground", "soft", f"not:{mark.mark}:{day.isoformat()}")
