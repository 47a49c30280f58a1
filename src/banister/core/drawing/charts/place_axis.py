"""Places along a weld under a chart: mm or inches of a plate, the clock of a pipe."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.drawing.charts.axis import Axis, marks, step_for
from banister.core.drawing.shapes import NARROW, Lines, Shape, Text
from banister.core.fitup.places import Course, clock_said
from banister.core.words import Speech

MM_STEPS, INCH_STEPS, DEGREE_STEPS = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0), (12.7, 25.4, 50.8, 127.0, 254.0), (30.0,)
APART_PX, MARK_PX, SAID_PX = 46.0, 5.0, 12.0
PLACE = "place"
"""What the texts of an axis are known by."""


def place_axis(along: Axis, course: Course, y: float, say: Speech) -> Iterator[Shape]:
    """Marks and what they say under a height; an axis may run either way."""
    u, turn = say.units, course.length_mm / 360.0
    steps = tuple(step * turn for step in DEGREE_STEPS) if course.closed else INCH_STEPS if u.inches else MM_STEPS
    for s in marks(along, step_for(along, steps, APART_PX)):
        x = along.at(s)
        yield Lines((((x, y), (x, y - MARK_PX)),), "rule")
        said = clock_said(s / turn) if course.closed else u.text("long_length", s)
        yield Text((x, y - SAID_PX), said, "soft", 11, id=PLACE, face=NARROW)
