"""Lines over a shared axis: temperatures over time, and across the weld at one time."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import TIME_STEPS_S, Axis, marks, step_for
from banister.core.drawing.shapes import NARROW, Clip, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.remark import Figure
from banister.core.units import MM_PER_INCH, clock
from banister.core.value import Struct
from banister.core.words import Speech

LEFT, RIGHT, TOP, FOOT = 58.0, 18.0, 28.0, 36.0
STYLES = ("predicted", "predicted.2", "predicted.3", "mark")
HEADROOM, LEAST_TOP_C = 1.06, 20.0
DEGREE_STEPS = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
MM_STEPS, INCH_STEPS = (5.0, 10.0, 20.0, 50.0, 100.0), tuple(MM_PER_INCH * inch for inch in (0.25, 0.5, 1.0, 2.0, 4.0))


class Series(Struct, frozen=True):
    """A named line: y over x."""

    name: str
    x: tuple[float, ...]
    y: tuple[float, ...]


class Level(Struct, frozen=True):
    """A named value across the whole plot."""

    name: str
    value: float


class Plot(Struct, frozen=True):
    """A plot as shapes, with its axis along, for the hand."""

    drawing: Drawing
    along: Axis


def over_time(series: Sequence[Series], levels: Sequence[Level], read: Sequence[Point], cursor_s: float, size: Point, say: Speech) -> Plot:
    """Temperatures over the time after the first arc; what was measured as crosses, the chosen time as an upright."""
    along = Axis(series[0].x[0], series[0].x[-1], LEFT, size[0] - RIGHT)
    steps = step_for(along, TIME_STEPS_S, 60.0)
    return _plot(series, levels, read, cursor_s, along, steps, clock, say("plot.time"), size, say)


def across(series: Sequence[Series], size: Point, say: Speech, groove: Sequence[Point] = ()) -> Plot:
    """Temperatures across the weld, over the distance from its middle; `groove` is its outline in mm, drawn at the foot on the same scale along."""
    u = say.units
    along = Axis(series[0].x[0], series[0].x[-1], LEFT, size[0] - RIGHT)
    step = step_for(along, INCH_STEPS if u.inches else MM_STEPS, 44.0)
    title = say("plot.across", unit=u.unit("length"))
    plot = _plot(series, (), (), None, along, step, lambda mm: f"{mm / u.metric('length', 1.0):g}", title, size, say)
    return Plot(Drawing((plot.drawing.shapes[0], *_groove(groove, along), *plot.drawing.shapes[1:]), plot.drawing.box), plot.along)


def _groove(outline: Sequence[Point], along: Axis) -> Iterator[Shape]:
    """The groove in the plates, true to scale, on the axis."""
    if not outline:
        return
    foot, top = min(y for _, y in outline), max(y for _, y in outline)
    yield Rect((along.start, FOOT, along.end, FOOT + (top - foot) * along.scale), "later", id="plates")
    yield Polygon(tuple((along.at(x), FOOT + (y - foot) * along.scale) for x, y in outline), "bead.fill", "groove")


def _plot(
    series: Sequence[Series],
    levels: Sequence[Level],
    read: Sequence[Point],
    cursor: float | None,
    along: Axis,
    step: float,
    worded: Callable[[float], str],
    title: str,
    size: Point,
    say: Speech,
) -> Plot:
    """Nothing is ever cut off: the axis up holds every line, level and reading."""
    values = [v for s in series for v in s.y] + [level.value for level in levels] + [c for _, c in read]
    up = Axis(min(0.0, *values), HEADROOM * max(LEAST_TOP_C, *values), FOOT, size[1] - TOP)
    frame = (LEFT, FOOT, size[0] - RIGHT, size[1] - TOP)
    lines = [shape for i, one in enumerate(series) for shape in _line(one, STYLES[i % len(STYLES)], along, up)]
    shapes = [
        Rect((0.0, 0.0, *size), "ground"), *_degrees(up, frame[0], say), *_along(along, step, worded),
        Text(((frame[0] + frame[2]) / 2, 10), title, "soft", 12.0), *_levels(levels, up, frame[0], frame[2]),
        Clip(frame, tuple(lines)), *_level_names(levels, up, frame[0]), *_readings(read, along, up),
        *_cursor(cursor, along, frame[1], frame[3]), *_key(series, frame[0], size[1] - 12),
    ]  # fmt: skip
    return Plot(Drawing(tuple(shapes), (0.0, 0.0, *size)), along)


def _line(one: Series, style: str, along: Axis, up: Axis) -> Iterator[Shape]:
    points = [(along.at(x), up.at(y)) for x, y in zip(one.x, one.y, strict=True)]
    yield Lines(tuple(itertools.pairwise(points)), style, one.name)


def _degrees(up: Axis, left: float, say: Speech) -> Iterator[Shape]:
    u = say.units
    steps = [u.metric("temperature_difference", step) for step in DEGREE_STEPS]
    step = step_for(up, steps, 26.0)
    zero = u.metric("temperature", 0.0)
    for value in marks(Axis(up.low - zero, up.high - zero, up.start, up.end), step):
        y = up.at(value + zero)
        yield Text((left - 8, y), say.sized("temperature", value + zero), "soft", 12.0, "end", face=NARROW)
        yield Lines((((left - 4, y), (left, y)),), "soft")


def _along(along: Axis, step: float, worded: Callable[[float], str]) -> Iterator[Shape]:
    yield Lines((((along.start, FOOT), (along.end, FOOT)),), "soft")
    for value in marks(along, step):
        x = along.at(value)
        yield Lines((((x, FOOT), (x, FOOT - 4)),), "soft")
        yield Text((x, FOOT - 11), worded(value), "soft", 12.0, face=NARROW)


def _levels(levels: Sequence[Level], up: Axis, left: float, right: float) -> Iterator[Shape]:
    for level in levels:
        y = up.at(level.value)
        yield Lines((((left, y), (right, y)),), "limit", level.name)


def _level_names(levels: Sequence[Level], up: Axis, left: float) -> Iterator[Shape]:
    """At the left, where a joint is still cold: the highest over its line, the others under theirs, for what was heated stays over them."""
    highest = max((level.value for level in levels), default=0.0)
    for level in levels:
        y, wide = up.at(level.value) + (9 if level.value == highest else -9), advance(level.name, 12.0, NARROW)
        yield Rect((left + 2, y - 7, left + wide + 10, y + 7), "ground")
        yield Text((left + 6, y), level.name, "limit", 12.0, "start", face=NARROW)


def _readings(read: Sequence[Point], along: Axis, up: Axis) -> Iterator[Shape]:
    for seconds, degrees in read:
        x, y = along.at(seconds), up.at(degrees)
        yield Lines((((x - 5, y), (x + 5, y)), ((x, y - 5), (x, y + 5))), "mark", "reading")


def _cursor(cursor: float | None, along: Axis, foot: float, top: float) -> Iterator[Shape]:
    if cursor is not None and math.isfinite(cursor):
        x = along.kept(cursor)
        yield Lines((((x, foot), (x, top)),), "cursor", "cursor")


def _key(series: Sequence[Series], left: float, y: float) -> Iterator[Shape]:
    x = left + 8
    for i, one in enumerate(series):
        yield Lines((((x, y), (x + 28, y)),), STYLES[i % len(STYLES)])
        yield Text((x + 34, y), one.name, "text", 12.0, "start", face=NARROW)
        x += 34 + advance(one.name, 12.0, NARROW) + 22


def levels_of(preheat_c: float | None, interpass_c: float, say: Speech) -> tuple[Level, ...]:
    """The limits of heat as levels."""
    found = [Level(say("plot.interpass", limit=Figure(interpass_c, "set_temperature")), interpass_c)]
    if preheat_c is not None:
        found.append(Level(say("plot.preheat", limit=Figure(preheat_c, "set_temperature")), preheat_c))
    return tuple(found)
