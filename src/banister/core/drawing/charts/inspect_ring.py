"""The inspected weld of a pipe as a ring seen along the flow, 12 on top: the same strip, bent; in its middle the section at the cursor."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from banister.core.drawing.charts.bending import Bend
from banister.core.drawing.charts.cap_picture import Cap, cap_picture
from banister.core.drawing.charts.inspect_strip import AXIS, EDGE, LABELS, PLATE, STRIP, TOP, InspectStrip, Strip, StripView
from banister.core.drawing.shapes import NARROW, NARROW_BOLD, Drawing, Point, Rect, Shape, Text
from banister.core.fitup.places import Course
from banister.core.inspect.judged import Judgement
from banister.core.inspect.kinds import LINES, ROOT, Kind
from banister.core.inspect.observed import Inspected
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.value import Struct, replace
from banister.core.words import Speech

ROOM_PX, CLOCK_PX, WORDS_PX = 26.0, 15.0, 150.0
"""Room round the ring, how far out the clock stands, and the room left of it for what was not looked for."""
WELD_SHARE = 0.78
SAID_BACK_PX, SAID_IN_PX = 14.0, 20.0


class InspectRing(Struct, frozen=True):
    """The ring, how it is bent, and the strip it was."""

    drawing: Drawing
    bend: Bend
    strip: InspectStrip

    def place_at(self, point: Point) -> float:
        """Where a point lies along the weld, mm."""
        return self.strip.along.value(self.bend.flat(point)[0])

    def near(self, point: Point) -> int:
        """The observation under a point, 0 for none."""
        return self.strip.near(self.bend.flat(point)[0])


def inspect_ring(
    found: Inspected, judgement: Judgement, kinds: Mapping[str, Kind], course: Course, joint: Joint, plan: Plan | None, cap: Cap, say: Speech, view: StripView,
) -> InspectRing:  # fmt: skip
    """The ring for a size; of the root it is seen from inside, its clock the same."""
    room = min(view.width - WORDS_PX, view.height) / 2 - ROOM_PX
    centre = (WORDS_PX + (view.width - WORDS_PX) / 2, view.height / 2)
    flat = replace(view, width=LABELS + EDGE + 2 * math.pi * room * WELD_SHARE)
    strip = Strip(found, judgement, kinds, course, say, flat)
    bend = Bend(centre, room, 1.0, strip.along.start, strip.along.end, flat.height - TOP)
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, view.height), "ground"), *bend.bent(strip.weld(), along=True), *bend.bent(_inward(strip.seen())),
                           *_clock(bend, course, strip, say), *bend.bent(strip.pointer())]  # fmt: skip
    inner = room - STRIP - 2 * PLATE - AXIS
    box = (centre[0] - 0.82 * inner, centre[1] - 0.5 * inner, centre[0] + 0.82 * inner, centre[1] + 0.52 * inner)
    shapes += cap_picture(joint, plan, replace(cap, box=box), say)
    shapes += _words(found, judgement, course, say, view)
    return InspectRing(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), bend, InspectStrip(Drawing((), (0, 0, 0, 0)), strip.along, strip.boxes, {}))


def _inward(shapes: Iterator[Shape]) -> Iterator[Shape]:
    """What is said of a mark stands nearer to the middle than the mark: beside it, it would lie over it once it is bent."""
    for shape in shapes:
        if isinstance(shape, Text) and shape.id.startswith("said:"):
            shape = replace(shape, at=(shape.at[0] - SAID_BACK_PX, shape.at[1] - SAID_IN_PX))
        yield shape


def _clock(bend: Bend, course: Course, strip: Strip, say: Speech) -> Iterator[Shape]:
    """The hours round the ring."""
    for hour in range(12):
        x = strip.x(hour / 12 * course.length_mm)
        yield Text(bend.at((x, bend.high + CLOCK_PX)), str(hour or 12), "soft", 12, face=NARROW, id=f"hour:{hour or 12}")


def _words(found: Inspected, judgement: Judgement, course: Course, say: Speech, view: StripView) -> Iterator[Shape]:
    """Beside the ring: which side it is, and what was not looked for all round."""
    y = view.height - 22.0
    yield Text((10.0, y), say(f"inspect.side.{view.side}"), "text", 14, "start", "side", face=NARROW_BOLD)
    if view.side == ROOT:
        y -= 17.0
        yield Text((10.0, y), say("inspect.from_inside"), "soft", 11.5, "start", face=NARROW)
    if view.side in found.no_access:
        yield Text((10.0, y - 18.0), say("inspect.no_access.short"), "warning", 12, "start", "no access", face=NARROW_BOLD)
        return
    left = [line for line in LINES[view.side] if found.unlooked(view.side, line, course.length_mm)]
    yield Text((10.0, y - 20.0), say("inspect.ring.looked" if not left else "inspect.ring.left"), "soft", 12, "start", face=NARROW)
    for i, line in enumerate(left):
        yield Text((10.0, y - 38.0 - 16.0 * i), say(f"looked.{line}"), "warning", 12, "start", f"left:{line}", face=NARROW_BOLD)
