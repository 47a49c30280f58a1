"""A session as rows of dots, a row a figure, a dot a rod, with its target; under them the weeks of the figure that is looked at."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from datetime import date

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.charts.axis import Axis, marks, round_step
from banister.core.drawing.shapes import BOLD, NARROW, Dot, Drawing, Lines, Rect, Shape, Text
from banister.core.practice.book import Book, Session
from banister.core.practice.said import KINDS, name_of, shown, state_said, target_said, weeks_said
from banister.core.practice.standing import FLOOR, Day, Standing, Weeks, scaled
from banister.core.value import Struct
from banister.core.words import Speech, capital

EDGE, HEAD, NAMES, VALUES, ROW, LEAST_ROW, DOT = 16.0, 58.0, 196.0, 158.0, 66.0, 38.0, 4.5
WEEKS_SHARE, LEAST_WEEKS, MOST_WEEKS = 0.32, 130.0, 220.0
LEFT, RIGHT, FOOT, TOP = 74.0, 92.0, 30.0, 56.0
PILE_PX, LEAST_FIGURES, MORE = 10.0, 44.0, 18.0


class PracticeView(Struct, frozen=True):
    """What is looked at: the rod (from 0, None for none) and the figure whose weeks are shown."""

    width: float
    height: float
    rod: int | None = None
    metric: str = ""


def practice_picture(book: Book, index: int, found: Sequence[Standing], weeks: Weeks | None, view: PracticeView, say: Speech) -> Drawing:
    """The session in rows, and the weeks of one figure at the foot where there is room for both."""
    session, box = book.sessions[index], (0.0, 0.0, view.width, view.height)
    low = min(max(WEEKS_SHARE * view.height, LEAST_WEEKS), MOST_WEEKS) if weeks is not None and weeks.last else 0.0
    room = view.height - HEAD - low
    row = min(room / max(len(found), 1), ROW)
    shapes: list[Shape] = [Rect(box, "ground"), *_head(session, view, say)]
    height = max(row, LEAST_ROW)
    fitting = found if row >= LEAST_ROW else _chosen_in(found, max(int((room - MORE) / LEAST_ROW), 1), view.metric)
    for i, standing in enumerate(fitting):
        shapes += _row(standing, view.height - HEAD - (i + 1) * height, height, view, say)
    if len(fitting) < len(found):
        more = say("practice.more", n=len(found) - len(fitting))
        shapes.append(Text((EDGE, view.height - HEAD - len(fitting) * height - MORE / 2), more, "soft", 12, "start", "more", face=NARROW))
    if weeks is not None and low:
        flags = [note.on for one in book.sessions[: index + 1] for note in one.notes]
        shapes += _weeks(weeks, book.target_of(weeks.metric), flags, (0.0, 0.0, view.width, low), say)
    return Drawing(tuple(shapes), box)


def weeks_picture(weeks: Weeks, target: tuple[float, float], say: Speech, size: tuple[float, float]) -> Drawing:
    """The weeks of a figure by themselves."""
    box = (0.0, 0.0, *size)
    return Drawing((Rect(box, "ground"), *_weeks(weeks, target, (), box, say)), box)


def _chosen_in(found: Sequence[Standing], room: int, metric: str) -> Sequence[Standing]:
    """As many figures as there is room for, the one that is looked at among them."""
    at = next((i for i, s in enumerate(found) if s.metric.id == metric), 0)
    first = min(max(at - room + 1, 0), len(found) - room)
    return found[first : first + room]


def _head(session: Session, view: PracticeView, say: Speech) -> Iterator[Shape]:
    title = say("practice.title", drill=say(f"practice.drill.{session.drill}.title"), position=session.position, rod=session.rod,
                rods=say("practice.rods", n=len(session.rods)))  # fmt: skip
    right = view.width - EDGE
    if session.is_simulated:
        word = say("practice.simulated")
        yield Text((right, view.height - 22), word, "warning", 15, "end", "simulated", face=BOLD)
        right -= advance(word, 15, BOLD) + 16
    yield Text((EDGE, view.height - 22), elided(title, right - EDGE, 18, BOLD), "text", 18, "start", "title", face=BOLD)
    yield Text((EDGE, view.height - 44), elided(say("practice.how"), view.width - 2 * EDGE, 12, NARROW), "soft", 12, "start", face=NARROW)


# --- a figure -------------------------------------------------------------------------------------
def _row(s: Standing, low: float, height: float, view: PracticeView, say: Speech) -> Iterator[Shape]:
    middle, unit = low + height / 2 + 5, s.metric.unit
    along, step = _scale(s, NAMES + EDGE, view.width - VALUES - EDGE, say)
    has_figures = height >= LEAST_FIGURES
    if s.metric.id == view.metric:
        yield Rect((4.0, low + 2, view.width - 4.0, low + height - 1), "spread", id=f"chosen:{s.metric.id}")
    yield Text((EDGE, middle + 8), elided(capital(name_of(s.metric, say)), NAMES - 8, 14, BOLD), "text", 14, "start", f"metric:{s.metric.id}", face=BOLD)
    yield Text((EDGE, middle - 10), elided(target_said(s, say), NAMES - 8, 12, NARROW), "soft", 12, "start", face=NARROW)
    band = (along.kept(s.target[0] if s.metric.signed or s.target[0] > 0 else along.low), along.kept(s.target[1]))
    foot, top = middle - 11, middle + 13
    yield Rect((band[0], foot, max(band[1], band[0] + 2), top), "rule", id=f"target:{s.metric.id}")
    yield Lines((((along.start, foot), (along.end, foot)),), "text")
    for value in marks(along, step):
        x = along.at(value)
        yield Lines((((x, foot), (x, foot - 4)),), "soft")
        if has_figures:
            yield Text((x, foot - 10), say.units.text(KINDS[unit], value), "soft", 11, face=NARROW)
    for i, earlier in enumerate(s.earlier):
        x, half = along.kept(earlier), 5 + 2 * i
        yield Lines((((x, middle - half), (x, middle + half)),), "predicted.3", f"earlier:{i}")
    yield from _dots(s, along, middle, view)
    if s.says_something and s.median is not None:
        x = along.kept(s.median)
        yield Lines((((x, foot - 1), (x, top + 2)),), "rail", f"median:{s.metric.id}")
    yield from _value(s, middle, view, say)


def _scale(s: Standing, start: float, end: float, say: Speech) -> tuple[Axis, float]:
    """Round ends that hold every rod, the target and the sessions before, and the step of the marks: round in the unit worked in."""
    values = [*s.read, *s.earlier, *s.target]
    high = max(max(values) * 1.08, 2 * FLOOR[s.metric.unit])
    low = min(0.0, min(values) * 1.08)
    one = say.units.metric(KINDS[s.metric.unit], 1.0)
    step = max(round_step((high - low) / one / 4), 1.0 if s.metric.unit == "" else 0.0) * one
    return Axis(math.floor(low / step + 1e-9) * step, math.ceil(high / step - 1e-9) * step, start, end), step


def _dots(s: Standing, along: Axis, middle: float, view: PracticeView) -> Iterator[Shape]:
    """A dot a rod; those at one place stand over one another, within the row."""
    read = sorted((along.kept(value), number) for number, value in enumerate(s.values) if value is not None)
    while read:
        pile = [one for one in read if one[0] - read[0][0] < 2 * DOT]
        apart = min(2 * DOT, 2 * PILE_PX / max(len(pile) - 1, 1))
        for i, (x, number) in enumerate(pile):
            at = (x, middle + 1 + (i - (len(pile) - 1) / 2) * apart)
            yield Dot(at, DOT, "text", "ground", f"rod:{number}")
            if number == view.rod:
                yield Dot(at, DOT + 3.5, "", "handle", f"shown:{number}")
        read = read[len(pile) :]


def _value(s: Standing, middle: float, view: PracticeView, say: Speech) -> Iterator[Shape]:
    right = view.width - EDGE
    median = s.median
    if median is not None:
        size, style = (19.0, "text") if s.says_something else (14.0, "soft")
        yield Text((right, middle + 8), shown(s.metric, median, say), style, size, "end", f"value:{s.metric.id}", face=BOLD)
    style = "soft" if not s.says_something else "limit" if s.over == 0.0 else "outside"
    yield Text((right, middle - 10), state_said(s, say), style, 12, "end", f"state:{s.metric.id}", face=NARROW)


# --- the weeks ------------------------------------------------------------------------------------
def _weeks(weeks: Weeks, target: tuple[float, float], flags: Sequence[str], box: tuple[float, float, float, float], say: Speech) -> Iterator[Shape]:
    """Session medians over the days, their rods behind them; the line only where it is shown, its doubt dashed; breaks where something changed."""
    x0, y0, x1, y1 = box
    metric = weeks.metric
    yield Lines((((x0, y1), (x1, y1)),), "rule")
    yield Text((EDGE, y1 - 17), capital(say("practice.weeks", figure=name_of(metric, say))), "soft", 12, "start", face=NARROW)
    yield Text((EDGE, y1 - 37), elided(weeks_said(weeks, say), x1 - 2 * EDGE, 16, BOLD), "text", 16, "start", "weeks", face=BOLD)
    days = [day for series in weeks.series for day in series]
    first, last = days[0].on.toordinal(), days[-1].on.toordinal()
    along = Axis(float(first), float(max(last, first + 1)), x0 + LEFT, x1 - RIGHT)
    values = [scaled(metric, v) for day in days for v in (*day.values, day.median)]
    ends = [scaled(metric, end) for end in target if metric.signed or end > 0]
    reach = max(max([*values, *ends]) - min([*values, *ends]), 1e-3)
    up = Axis(min([*values, *ends]) - 0.08 * reach, max([*values, *ends]) + 0.08 * reach, y0 + FOOT, y1 - TOP)
    if up.end - up.start < 20:
        return
    low = up.kept(scaled(metric, target[0])) if metric.signed or target[0] > 0 else up.start
    high = up.kept(scaled(metric, target[1]))
    yield Rect((along.start - 10, min(low, high - 2), along.end + 10, high), "rule", id="weeks target")
    yield Text((along.end + 16, (low + high) / 2), say("practice.weeks.target"), "soft", 12, "start", face=NARROW)
    yield Lines((((along.start - 10, up.start), (along.end + 10, up.start)),), "text")
    yield from _ticks(weeks, up, along.start - 10, say)
    yield from _days(days, along, up)
    yield from _series(weeks, along, up)
    for on in flags:
        yield from _flag(on, along, up, say)


def _ticks(weeks: Weeks, up: Axis, left: float, say: Speech) -> Iterator[Shape]:
    """A few round values; their places are those of the logarithm where the figure is not signed."""
    metric = weeks.metric
    if metric.signed:
        values = [*marks(up, round_step((up.high - up.low) / 4))]
    else:
        tens = range(math.floor(up.low / math.log(10)), math.ceil(up.high / math.log(10)) + 1)
        values = [m * 10.0**k for k in tens for m in (1, 2, 3, 5, 7) if up.low <= math.log(m * 10.0**k) <= up.high]
    last = -math.inf
    for value in values:
        y = up.at(value if metric.signed else math.log(value))
        if y - last >= 13.0:
            last = y
            yield Text((left - 8, y), shown(metric, value, say), "soft", 11, "end", face=NARROW)
            yield Lines((((left - 4, y), (left, y)),), "soft")


def _days(days: Sequence[Day], along: Axis, up: Axis) -> Iterator[Shape]:
    last = -math.inf
    for day in days:
        x, text = along.at(float(day.on.toordinal())), day.on.isoformat()[5:]
        if x - last >= 44.0:
            last = x
            yield Text((x, up.start - 13), text, "soft", 11, face=NARROW)


def _series(weeks: Weeks, along: Axis, up: Axis) -> Iterator[Shape]:
    metric = weeks.metric
    for number, series in enumerate(weeks.series):
        for day in series:
            x, y = along.at(float(day.on.toordinal())), up.at(scaled(metric, day.median))
            for value in day.values:
                yield Dot((x, up.at(scaled(metric, value))), 2.2, "soft")
            yield Lines((((x - 9, y), (x + 9, y)),), "rail", f"session:{day.on.isoformat()}")
        if number:
            x = (along.at(float(weeks.series[number - 1][-1].on.toordinal())) + along.at(float(series[0].on.toordinal()))) / 2
            yield Lines((((x, up.start), (x, up.end)),), "turn", f"break:{number}")
    line = weeks.line
    if line is None or not line.shown:
        return
    days = [float(day.on.toordinal()) for day in weeks.last]
    yield Lines((((along.at(days[0]), up.at(line.at(days[0]))), (along.at(days[-1]), up.at(line.at(days[-1])))),), "way", "line")
    grid = [days[0] + i * (days[-1] - days[0]) / 12 for i in range(13)]
    for sign in (-1, 1):
        edge = [(along.at(d), up.kept(line.at(d) + sign * line.doubt_at(d, len(days)))) for d in grid]
        yield Lines(tuple(itertools.pairwise(edge)), "way.2", "doubt")


def _flag(on: str, along: Axis, up: Axis, say: Speech) -> Iterator[Shape]:
    day = float(date.fromisoformat(on).toordinal())
    if along.low <= day <= along.high:
        x = along.at(day)
        yield Lines((((x, up.start), (x, up.end + 8)),), "warning", f"flag:{on}")
        yield Text((x + 5, up.end + 6), say("practice.note", on=on), "warning", 11, "start", face=NARROW)
