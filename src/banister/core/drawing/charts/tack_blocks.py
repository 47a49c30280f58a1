"""Tacks on the batten: short blocks with two ramps in the opening, their order as a figure; the gap after them as a ghost of the edges."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence

import numpy as np

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.shapes import NARROW, NARROW_BOLD, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.fitup.places import Course
from banister.core.fitup.tacks import closing, gap_change, tack_steps
from banister.core.joint.fitting import Tack
from banister.core.joint.joint import Joint
from banister.core.words import Speech

RAMP_PX, HALF_PX, LEAST_PX = 7.0, 11.0, 16.0
Edge = Callable[[float, bool], float]


def tack_blocks(joint: Joint, course: Course, along: Axis, middle: float, selected: int, say: Speech) -> Iterator[Shape]:
    """Every tack at its place; the one selected (by its order, 0 for none) framed, with what its gap is wedged to before it."""
    for step in tack_steps(joint, joint.fitup):
        tack = step.tack
        for x0, x1 in _spans(tack, along):
            ramp = min(RAMP_PX, (x1 - x0) / 3) if tack.feathered else 0.0
            points: tuple[Point, ...] = ((x0, middle - HALF_PX), (x1, middle - HALF_PX), (x1 - ramp, middle + HALF_PX), (x0 + ramp, middle + HALF_PX))
            yield Polygon(points, "later" if tack.removed else "bead.root", f"tack:{tack.order}")
            yield Lines(tuple(itertools.pairwise((*points, points[0]))), "bead.edge" if tack.side == "front" else "soft")
            yield Text(((x0 + x1) / 2, middle), str(tack.order), "number", 13.0, face=NARROW_BOLD)
            if tack.order == selected:
                box = (x0 - 3, middle - HALF_PX - 3, x1 + 3, middle + HALF_PX + 3)
                yield from (Rect(box, "", "select.outer", "tack:selected"), Rect(box, "", "select.inner"))
        if tack.order == selected:
            wedge = say("batten.tack.held") if step.wedge_mm is None else say("batten.tack.wedge", wedge=say.sized("fine_length", step.wedge_mm))
            yield from _label(say("batten.tack", number=str(tack.order), at=course.figure(tack.middle), wedge=wedge), along.kept(tack.middle), middle, along)


def ghost_edges(joint: Joint, course: Course, along: Axis, edge: Edge, places: Sequence[float], gaps: Sequence[float], up_to: int) -> Iterator[Shape]:
    """Where the edges are predicted to lie after the tacks up to one, if nothing is wedged between them."""
    done = [tack for tack in joint.fitup.in_order if tack.order <= up_to]
    if not done:
        return
    moved = gap_change(course, done, places, closing(joint.fitup))[-1]
    for up in (True, False):
        points = [(along.at(s), edge(max(gap + change, 0.0), up)) for s, gap, change in zip(places, gaps, moved, strict=True)]
        yield Lines(tuple(itertools.pairwise(points))[::2], "cursor", "ghost")


def _spans(tack: Tack, along: Axis) -> Iterator[tuple[float, float]]:
    """Where a tack shows, no narrower than can be grasped; over 12 o'clock it shows at both ends."""
    length = along.high - along.low
    for shift in (-length, 0.0, length):
        low, high = tack.from_s + shift, tack.to_s + shift
        if high > along.low and low < along.high:
            x0, x1 = along.kept(low), along.kept(high)
            wide = max(x1 - x0, LEAST_PX) if 0 <= (low + high) / 2 - along.low <= length else x1 - x0
            left = min(max((x0 + x1 - wide) / 2, along.start - 2), along.end - wide + 2)
            yield left, left + wide


def _label(text: str, x: float, middle: float, along: Axis) -> Iterator[Shape]:
    wide = advance(text, 12.0, NARROW) + 10
    left = float(np.clip(x - wide / 2, along.start, along.end - wide))
    yield Rect((left, middle + HALF_PX + 7, left + wide, middle + HALF_PX + 24), "ground", "handle", "tack:said")
    yield Text((left + wide / 2, middle + HALF_PX + 15.5), text, "text", 12.0, face=NARROW)
