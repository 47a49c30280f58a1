"""The front of what can be had: time along, peak arc energy upwards, the number of passes at every point; named answers ringed."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import TIME_STEPS_S, Axis, marks, round_step, step_for
from banister.core.drawing.shapes import NARROW, Box, Dot, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.plan.front import FrontPoint, answer_said
from banister.core.plan.plan import Plan
from banister.core.units import clock
from banister.core.value import Struct, replace
from banister.core.words import Speech

LEFT, RIGHT, TOP, FOOT = 40.0, 16.0, 24.0, 32.0
DOT, RING, NEAR_PX = 3.5, 7.0, 18.0


class FrontChart(Struct, frozen=True):
    """The picture, and where each named answer and each other point of the front (by its own answer, the quickest first) stands in it."""

    drawing: Drawing
    places: Mapping[str, Point]
    points: Mapping[str, Point]

    def answer_at(self, at: Point) -> str | None:
        """The named answer whose ring holds a place, else the nearest of all; None where none is near."""
        for places, within in ((self.places, RING), ({**self.points, **self.places}, NEAR_PX)):
            answer = min(places, key=lambda one: math.dist(places[one], at), default=None)
            if answer is not None and math.dist(places[answer], at) <= within:
                return answer
        return None

    def beside(self, answer: str, step: int) -> str:
        """The next answer along time from one; the first from none."""
        order = sorted({**self.points, **self.places}.items(), key=lambda item: item[1])
        names = [name for name, _ in order]
        return names[min(max(names.index(answer) + step, 0), len(names) - 1)] if answer in names else names[0]


def front_chart(front: Sequence[FrontPoint], named: Mapping[str, Plan], chosen: str, size: Point, say: Speech, pointed: str = "") -> FrontChart:
    """The points of a front, and the named answers as they were laid; what is pointed at has a ring."""
    times = [p.time_s for p in front] + [plan.total_time_s for plan in named.values()]
    peaks = [p.peak_kj_mm for p in front] + [plan.peak_arc_energy_kj_mm for plan in named.values()]
    along, up = _axis(times, LEFT, size[0] - RIGHT), _axis(peaks, FOOT, size[1] - TOP)
    shapes: list[Shape] = [*_frame(along, up, size, say)]
    points = [((along.at(p.time_s), up.at(p.peak_kj_mm)), str(p.passes)) for p in front]
    shapes += [Dot(at, DOT, "soft", "soft") for at, _ in points]
    places = {answer: (along.at(plan.total_time_s), up.at(plan.peak_arc_energy_kj_mm)) for answer, plan in named.items()}
    labels = _Labels(size, [at for at, _ in points])
    for answer in sorted(places, key=lambda answer: answer != chosen):
        at, style = places[answer], "handle" if answer == chosen else "mark"
        shapes += [Dot(at, RING, style, "ground", answer), Dot(at, DOT, style, "ground")]
        shapes += labels.beside(at, answer_said(answer, say), "text")
    for at, passes in points:
        shapes += labels.beside(at, passes, "soft")
    chart = FrontChart(Drawing((), (0.0, 0.0, *size)), places, {p.answer: at for p, (at, _) in zip(front, points, strict=True) if p.answer not in places})
    if (ringed := {**chart.points, **places}.get(pointed)) is not None:
        shapes += [Dot(ringed, RING, "handle", "ground", "pointed"), Dot(ringed, DOT, "soft", "soft")]
    return replace(chart, drawing=Drawing(tuple(shapes), (0.0, 0.0, *size)))


class _Labels:
    """Words beside points: right or left of them, above or below, where nothing stands yet; else none."""

    def __init__(self, size: Point, points: Sequence[Point]) -> None:
        self.size = size
        self.taken: list[Box] = [(x - DOT, y - DOT, x + DOT, y + DOT) for x, y in points]

    def beside(self, at: Point, text: str, style: str) -> Iterator[Shape]:
        """The word at the first place that is free."""
        wide, (x, y) = advance(text, 11.0, NARROW), at
        for left, low in ((x + 9, y - 6), (x - 9 - wide, y - 6), (x - wide / 2, y + 8), (x - wide / 2, y - 20)):
            box = left, low, left + wide, low + 12
            inside = box[0] > LEFT and box[2] < self.size[0] - RIGHT and box[1] > FOOT and box[3] < self.size[1] - TOP
            if inside and not any(box[0] < b[2] and b[0] < box[2] and box[1] < b[3] and b[1] < box[3] for b in self.taken):
                self.taken.append(box)
                yield Text((left, low + 6), text, style, 11.0, "start", face=NARROW)
                return


def _axis(values: Sequence[float], start: float, end: float) -> Axis:
    low, high = min(values), max(values)
    room = 0.12 * (high - low) or 0.05 * high or 1.0
    return Axis(low - room, high + room, start, end)


def _frame(along: Axis, up: Axis, size: Point, say: Speech) -> Iterator[Shape]:
    u = say.units
    yield Rect((LEFT, FOOT, size[0] - RIGHT, size[1] - TOP), "", "rule")
    for seconds in marks(along, step_for(along, TIME_STEPS_S, 48.0)):
        x = along.at(seconds)
        yield Lines((((x, FOOT), (x, FOOT - 4)),), "soft")
        yield Text((x, FOOT - 11), clock(seconds), "soft", 10.0, face=NARROW)
    shown = 1.0 / u.metric("energy", 1.0)
    for value in marks(up, round_step((up.high - up.low) * shown / 4) / shown):
        y = up.at(value)
        yield Lines((((LEFT - 4, y), (LEFT, y)),), "soft")
        yield Text((LEFT - 7, y), u.text("energy", value), "soft", 10.0, "end", face=NARROW)
    yield Text((LEFT, size[1] - 11), say("front.peak", unit=u.unit("energy")), "soft", 11.0, "start", face=NARROW)
    yield Text((size[0] - RIGHT, 7), say("front.time"), "soft", 11.0, "end", face=NARROW)
