"""The arc of one rod: its volts from strike to stub, and the stretch of it that may have laid a place, hatched."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np

from banister.core.drawing.advances import elided
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.hatch import hatched
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import NARROW, NARROW_BOLD, Box, Lines, Rect, Shape, Text
from banister.core.inspect.advising import RodArc
from banister.core.inspect.arc_there import burnt_share
from banister.core.remark import Figure
from banister.core.words import Speech

HEAD, SIDE = 20.0, 44.0
STEPS = 160
"""Points of the line: the mean volts of as many even parts of the arc."""
ROUND_V = 5.0


def arc_trace(arc: RodArc, say: Speech, box: Box) -> Iterator[Shape]:
    """The trace within a box."""
    x0, y0, x1, y1 = box
    live, gone = burnt_share(arc.samples)
    volts = np.abs(arc.samples[live, 1])
    part = np.minimum((gone[live] * STEPS).astype(int), STEPS - 1)
    count = np.bincount(part, minlength=STEPS)
    mean = np.bincount(part, volts, STEPS) / np.maximum(count, 1)
    low, high = np.floor(mean[count > 0].min() / ROUND_V) * ROUND_V, np.ceil(mean[count > 0].max() / ROUND_V) * ROUND_V
    along, up = Axis(0.0, 1.0, x0 + SIDE, x1), Axis(float(low), float(max(high, low + ROUND_V)), y0 + 4, y1 - HEAD)
    said = say("advise.arc.simulated" if arc.simulated else "advise.arc", label=pass_label(arc.of), rod=str(arc.rod))
    yield Text((x0, y1 - 8), elided(said, x1 - x0, 12.5, NARROW_BOLD), "text", 12.5, "start", "arc", face=NARROW_BOLD)
    for value in (up.low, up.high):
        yield Lines((((x0 + SIDE, up.at(value)), (x1, up.at(value))),), "rule")
        yield Text((x0 + SIDE - 6, up.at(value)), say.figure(Figure(value, "voltage")), "soft", 11, "end", face=NARROW)
    begin, end = (along.at(share) for share in arc.stretch)
    there = ((begin, up.start), (end, up.start), (end, up.end), (begin, up.end))
    yield Rect((begin, up.start, end, up.end), "spread", "", "arc there")
    yield Lines(hatched(there, 50.0, 7.0), "rule")
    points = [(along.at((i + 0.5) / STEPS), up.at(float(mean[i]))) for i in range(STEPS) if count[i]]
    yield Lines(tuple(itertools.pairwise(points)), "text", "volts")
