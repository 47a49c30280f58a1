"""The batten bent to a ring: the same laths seen along the flow, 12 on top; in its middle the section at the place pointed to.

Batten and ring are one display list under two transforms: what lies along the weld goes round, what stands across it goes out.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.batten import FOOT, HEAD, LEFT, RIGHT, BattenView, Laths
from banister.core.drawing.charts.bending import Bend
from banister.core.drawing.charts.place_axis import PLACE
from banister.core.drawing.placed import frame_of, metal, placed
from banister.core.drawing.shapes import BOLD, NARROW, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.fitup.judged import Fit, ToleranceSet
from banister.core.joint.joint import Joint
from banister.core.value import Struct, replace
from banister.core.words import Speech

TOP, EDGE, TALL = 48.0, 6.0, 256.0
"""Height of the words, room at the edge, and the height the laths are laid out at before they are bent."""
INNER_SHARE, MIDDLE_SHARE, FLATTER = 0.84, 0.75, 0.63


class Ring(Struct, frozen=True):
    """The picture, its centre, and the length of the weld round it."""

    drawing: Drawing
    centre: Point
    length_mm: float

    def place_at(self, point: Point) -> float:
        """Where a point lies along the weld, mm from 12."""
        return math.degrees(math.atan2(point[0] - self.centre[0], point[1] - self.centre[1])) % 360.0 / 360.0 * self.length_mm


def ring(joint: Joint, fit: Fit, tolerances: ToleranceSet, say: Speech, view: BattenView, section: Drawing | None) -> Ring:
    """The ring for a size; `section` is that of the place pointed to, or of the joint as drawn."""
    room = min(view.width, view.height - TOP) / 2 - EDGE
    centre = (view.width / 2, (view.height - TOP) / 2)
    flat = replace(view, width=LEFT + RIGHT + 2 * math.pi * room * MIDDLE_SHARE, height=TALL)
    laths, bend = Laths(joint, fit, tolerances, say, flat), _bend(centre, room, FLATTER * room / TALL, flat)
    inner = bend.radius(FOOT - 34.0)
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, view.height), "ground"),
                           *(_clear_of_its_line(one, centre) for one in bend.bent(laths.along_the_weld()))]  # fmt: skip
    if view.pointer_mm is not None:
        shapes += bend.bent(shape for shape in laths.pointer() if isinstance(shape, Lines))
    if section is not None:
        shapes += _in_the_middle(section, centre, inner * INNER_SHARE)
    if view.pointer_mm is not None:
        gap, half = laths.known_at(view.pointer_mm)
        said = say("batten.ring.at", at=fit.course.figure(view.pointer_mm), half=half) if laths.gap is not None else say("batten.ring.drawn")
        for text, size, face, down in ((say.figure(gap), 19.0, BOLD, 0.47), (said, 12.0, NARROW, 0.66)):
            shapes.append(Text((centre[0], centre[1] - down * inner), text, "text", size, face=face, id="pointer:said"))
    shapes += Laths(joint, fit, tolerances, say, view).words(laths.times * bend.k)
    return Ring(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), centre, fit.course.length_mm)


def _clear_of_its_line(shape: Shape, centre: Point) -> Shape:
    """A place said beside the ring, moved inwards by what it is wide towards the line; anything else as it is."""
    if not isinstance(shape, Text) or shape.id != PLACE:
        return shape
    dx, dy = shape.at[0] - centre[0], shape.at[1] - centre[1]
    radius = math.hypot(dx, dy)
    inwards = 1.0 - abs(dx) / radius * advance(shape.text, shape.size, shape.face) / 2 / radius
    return replace(shape, at=(centre[0] + dx * inwards, centre[1] + dy * inwards))


def _bend(centre: Point, room: float, k: float, flat: BattenView) -> Bend:
    """How the laths of a straight batten are taken round."""
    return Bend(centre, room, k, LEFT, flat.width - RIGHT, flat.height - HEAD + 20.0)


def _in_the_middle(section: Drawing, centre: Point, radius: float) -> Iterator[Shape]:
    """The section's metal, as large as fits in the ring; its dimensions are left to the words."""
    (x0, y0), (x1, y1) = frame_of(section)
    k = 2 * radius / math.hypot(x1 - x0, y1 - y0)
    left, foot = centre[0] - k * (x0 + x1) / 2, centre[1] - k * (y0 + y1) / 2 + 0.16 * radius

    def at(point: Point) -> Point:
        return left + k * point[0], foot + k * point[1]

    yield from placed(metal(section), at)
