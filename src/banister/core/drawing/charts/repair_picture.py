"""A repair drawn: the boat on the weld seen from above, along the weld with what it holds, and across with its planned beads.

The side it is dug from is always up.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator

from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.charts.place_axis import place_axis
from banister.core.drawing.hatch import hatched
from banister.core.drawing.placed import placed
from banister.core.drawing.section import bare_section, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Box, Clip, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.fitup.places import Course
from banister.core.inspect.kinds import FACE
from banister.core.inspect.observed import LEFT, RIGHT
from banister.core.inspect.repair import Way
from banister.core.inspect.repairs import along
from banister.core.joint.boat import RANGES, Defect, from_the_other_side, level_mm
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.polygon import centroid
from banister.core.value import Struct, replace
from banister.core.words import Speech

LABELS, EDGE, HEAD = 92.0, 20.0, 24.0
STRIP, PLATE, AXIS, SPACE = 34.0, 9.0, 22.0, 12.0
ALONG, BESIDE, BOTTOM = 0.30, 0.18, 24.0
"""Of the height the long section takes so much; beside the boat so much of its length is shown; under it the bottom's dimension."""
ROOM, DIAMOND = 0.90, 6.0
_At = Callable[[float, float], Point]


class RepairPicture(Struct, frozen=True):
    """What a repair's picture is made of: the way shown, the defect as it lies under the face and at which toe, the joint and its plan, where it lies; px."""

    way: Way
    defect: Defect
    toe: str
    joint: Joint
    plan: Plan
    course: Course
    t_mm: float
    width: float
    height: float
    is_dug: bool = False
    """True once depths were measured: they are no choice any more."""


class Hold(Struct, frozen=True):
    """A diamond to take hold of: which figure it sets, the figure as it is, and how much of it a pixel right and a pixel up are."""

    at: Point
    name: str
    value: float
    right: float
    up: float

    def moved(self, dx: float, dy: float) -> float:
        """The figure once it is dragged so far (px, y up), kept to what may be chosen."""
        low, high = RANGES[self.name]
        return min(max(self.value + self.right * dx + self.up * dy, low), high)


class RepairChart(Struct, frozen=True):
    """The picture, and what can be taken hold of in it."""

    drawing: Drawing
    holds: tuple[Hold, ...]

    def near(self, at: Point, within: float = 12.0) -> Hold | None:
        """The diamond within reach of a pixel."""
        found = min(self.holds, key=lambda hold: math.dist(hold.at, at), default=None)
        return found if found is not None and math.dist(found.at, at) <= within else None


def repair_picture(of: RepairPicture, say: Speech) -> RepairChart:
    """The picture for a size."""
    picture = _Picture(of, say)
    box = (0.0, 0.0, of.width, of.height)
    shapes = [Rect(box, "ground"), *picture.above(), *picture.along(), *picture.across()]
    return RepairChart(Drawing((*shapes, *picture.diamonds()), box), tuple(picture.holds))


class _Picture:
    """The three views, one under the other."""

    def __init__(self, of: RepairPicture, say: Speech) -> None:
        self.of, self.say, self.boat = of, say, of.way.boat
        self.own = of.defect if of.way.side == FACE else from_the_other_side(of.defect, of.t_mm)
        """The defect as it lies under the side it is dug from."""
        self.begins, self.long = along(of.way)
        self.left, self.right = LABELS, of.width - EDGE
        self.top = of.height - 6.0
        self.holds = list[Hold]()

    def diamonds(self) -> Iterator[Shape]:
        """What can be taken hold of."""
        for hold in self.holds:
            x, y = hold.at
            corners = (x, y - DIAMOND), (x + DIAMOND, y), (x, y + DIAMOND), (x - DIAMOND, y)
            yield Polygon(corners, "ground", f"hold:{hold.name}")
            yield Lines(tuple(itertools.pairwise((*corners, corners[0]))), "handle")

    # --- from above -----------------------------------------------------------------------------
    def above(self) -> Iterator[Shape]:
        """The whole weld, the boat pointed at both ends, what is dug out in it; round a pipe it may run over 12 o'clock."""
        say, course = self.say, self.of.course
        along_ = Axis(0.0, course.length_mm, self.left, self.right)
        low, high = self.top - STRIP - 2 * PLATE, self.top
        yield Rect((self.left, low, self.right, high), "plate", "plate.edge")
        yield Rect((self.left, low + PLATE, self.right, high - PLATE), "bead.cap" if self.of.way.side == FACE else "bead.root", "", "weld")
        yield Text((10.0, (low + high) / 2 + 8), say(f"inspect.side.{self.of.way.side}"), "text", 14, "start", face=BOLD)
        yield Text((10.0, (low + high) / 2 - 9), say("repair.from_above"), "soft", 11, "start", face=NARROW)
        parts = list[Shape]()
        for lap in (-course.length_mm, 0.0, course.length_mm) if course.closed else (0.0,):
            parts += self._boat_above(along_, lap, (low + PLATE + 1, high - PLATE - 1))
        yield Clip((self.left, low, self.right, high), tuple(parts))
        yield from place_axis(along_, course, low, say)

    def _boat_above(self, axis: Axis, lap: float, span: Point) -> Iterator[Shape]:
        low, high = span
        middle, ends = (low + high) / 2, (self.begins + lap, self.begins + self.long + lap)
        bottom = (self.boat.from_mm + lap, self.boat.from_mm + self.boat.bottom_mm + lap)
        x = [axis.at(s) for s in (ends[0], bottom[0], bottom[1], ends[1])]
        points = ((x[0], middle), (x[1], high), (x[2], high), (x[3], middle), (x[2], low), (x[1], low))
        yield Polygon(points, "ground", "boat")
        yield Lines(tuple(itertools.pairwise((*points, points[0]))), "mark")
        defect = [axis.at(self.own.from_mm + lap), axis.at(self.own.from_mm + self.own.length_mm + lap)]
        box = (defect[0], middle - 5, max(defect[1], defect[0] + 3), middle + 5)
        yield Rect(box, "", "outside", "defect:above")
        yield Lines(hatched(((box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])), 50.0, 4.0), "hatch.outside")

    # --- along ----------------------------------------------------------------------------------
    def along(self) -> Iterator[Shape]:
        """The part along the weld: the boat, filled as it is welded, what is dug out, the metal left under it."""
        say, boat, t = self.say, self.boat, self.of.t_mm
        high = self.top - STRIP - 2 * PLATE - AXIS - SPACE - HEAD
        room = self.of.height * ALONG
        axis = Axis(self.begins - BESIDE * self.long, self.begins + (1 + BESIDE) * self.long, self.left, self.right)
        cap = max((max(y for _, y in p.outline_mm) for p in self.of.way.plan.passes), default=boat.depth_mm) - boat.depth_mm
        up = room / (t + max(cap, 0.0))
        surface = high - max(cap, 0.0) * up

        def at(s: float, y: float) -> Point:
            """A place along, and a height over the bottom of the boat."""
            return axis.at(s), surface - (boat.depth_mm - y) * up

        times = up / axis.scale
        yield Text((10.0, high + HEAD / 2), say("repair.along"), "text", 14, "start", face=BOLD)
        yield Text((self.right, high + HEAD / 2), say("repair.taller", times=f"{times:.1f}"), "soft", 12, "end", face=NARROW)
        yield Rect((self.left, surface - t * up, self.right, surface), "plate", "plate.edge")
        yield from self._layers(at, cap)
        ends = [at(self.begins, boat.depth_mm), at(boat.from_mm, 0.0), at(boat.from_mm + boat.bottom_mm, 0.0), at(self.begins + self.long, boat.depth_mm)]
        yield Lines(tuple(itertools.pairwise(ends)), "layer.edge", "boat:along")
        under = boat.depth_mm - self.own.top_mm
        x0, y1 = at(self.own.from_mm, under)
        x1, y0 = at(self.own.from_mm + self.own.length_mm, under - self.own.height_mm)
        box = (x0, y0, max(x1, x0 + 4), y1)
        corners = ((box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3]))
        yield Rect(box, "ground", "outside", "defect")
        yield Lines(hatched(corners, 50.0, 4.0), "hatch.outside")
        yield from self._sizes(at, surface, up)
        self._hold_along(at, 1.0 / axis.scale, 1.0 / up)
        self.foot = surface - t * up - BOTTOM - AXIS

    def _hold_along(self, at: _At, mm_right: float, mm_up: float) -> None:
        """The bottom's ends and depth while nothing is measured, the run-out always."""
        boat, dig = self.boat, self.boat.dig
        begin, end = boat.from_mm, boat.from_mm + boat.bottom_mm
        if not self.of.is_dug:
            beyond = self.own.from_mm - begin
            self.holds += [Hold(at(begin, 0.0), "beyond_mm", beyond, -mm_right, 0.0), Hold(at(end, 0.0), "beyond_mm", beyond, mm_right, 0.0),
                           Hold(at((begin + end) / 2, 0.0), "into_sound_mm", dig.into_sound_mm, 0.0, -mm_up)]  # fmt: skip
        per = mm_right / max(boat.depth_mm, 1.0)
        self.holds += [Hold(at(self.begins, boat.depth_mm), "run_out", dig.run_out, -per, 0.0),
                       Hold(at(self.begins + self.long, boat.depth_mm), "run_out", dig.run_out, per, 0.0)]  # fmt: skip

    def _layers(self, at: _At, cap: float) -> Iterator[Shape]:
        """What is welded, layer by layer: longer the higher it lies."""
        boat, held = self.boat, 0.0
        for _, group in itertools.groupby(self.of.way.plan.passes, key=lambda p: p.layer):
            passes = list(group)
            y0 = level_mm(boat, held)
            held += sum(p.area_mm2 for p in passes)
            y1 = level_mm(boat, held)
            under, over, end = boat.dig.run_out * y0, boat.dig.run_out * y1, boat.from_mm + boat.bottom_mm
            outline = [at(end + over, y1), at(boat.from_mm - over, y1)]
            if passes[-1].role == "cap" and cap > 0:
                outline[1:1] = [at(end + over, boat.depth_mm + cap), at(boat.from_mm - over, boat.depth_mm + cap)]
            points = (at(boat.from_mm - under, y0), at(end + under, y0), *outline)
            yield Polygon(points, f"bead.{passes[0].role}", f"layer:{passes[0].layer}")
            right, left = outline[len(outline) // 2 - 1 : len(outline) // 2 + 1]
            yield Lines(((left, right),), "bead.edge")
            low, high = at(0.0, y0)[1], max(y for _, y in points)
            if high - low >= 12:
                names = pass_label(passes[0]) if len(passes) == 1 else f"{pass_label(passes[0])}-{pass_label(passes[-1])}"
                yield Text((at(boat.from_mm, 0.0)[0] + 6, (low + high) / 2), names, "number", 11.5, "start", face=NARROW_BOLD)

    def _sizes(self, at: _At, surface: float, up: float) -> Iterator[Shape]:
        """Depth and what is left under it at the left, the bottom's length under it."""
        say, boat, t = self.say, self.boat, self.of.t_mm
        x, foot = self.left - 12, surface - t * up
        bottom = surface - boat.depth_mm * up
        yield Lines((((x, surface), (x, foot)), *(((x - 4, y), (x + 4, y)) for y in (surface, bottom, foot))), "dimension")
        yield Text((x - 8, (surface + bottom) / 2), say.units.text("fine_length", boat.depth_mm), "text", 14, "end", "deep", face=BOLD)
        left_at = max((bottom + foot) / 2, foot + 6) if bottom - foot > 14 else foot - 8
        yield Text((x - 8, left_at), say.units.text("fine_length", t - boat.depth_mm), "text", 14, "end", "left", face=BOLD)
        a, b = at(boat.from_mm, 0.0)[0], at(boat.from_mm + boat.bottom_mm, 0.0)[0]
        y = foot - 12
        yield Lines((((a, y), (b, y)), ((a, y - 4), (a, y + 4)), ((b, y - 4), (b, y + 4))), "dimension")
        yield Text((b + 8, y), say("repair.bottom", length=say.sized("long_length", boat.bottom_mm)), "text", 12, "start", "bottom", face=NARROW_BOLD)
        yield Text((at(self.begins + self.long, 0.0)[0], bottom), say("repair.one_in", n=f"{boat.dig.run_out:g}"), "text", 12, "middle", face=NARROW_BOLD)

    # --- across ---------------------------------------------------------------------------------
    def across(self) -> Iterator[Shape]:
        """The section in the middle: the weld as it is, pale, the hollow and the beads planned in it."""
        say, of = self.say, self.of
        box: Box = (self.left, 24.0, self.right, self.foot - 4)
        yield Text((10.0, self.foot - 10), say("repair.across"), "text", 14, "start", face=BOLD)
        yield Text((10.0, 12.0), say("repair.pale"), "soft", 12, "start", face=NARROW)
        points = [point for p in of.plan.passes for point in p.outline_mm]
        xs, ys = [x for x, _ in points], [y for _, y in points]
        is_face = of.way.side == FACE
        toes = _span(xs, ys, of.t_mm if is_face else 0.0)
        middle, dug_at = sum(toes) / 2, {LEFT: toes[0], RIGHT: toes[1]}.get(of.toe, sum(toes) / 2)
        k = min((box[2] - box[0]) / (max(xs) - min(xs) + of.t_mm), (box[3] - box[1]) / (max(ys) - min(ys))) * ROOM
        centre = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
        half = (max(ys) + min(ys)) / 2
        turn = 1.0 if is_face else -1.0

        def at(point: Point) -> Point:
            """A point of the section, turned so that the side it is dug from is up."""
            return centre[0] + turn * k * (point[0] - middle), centre[1] + turn * k * (point[1] - half)

        def laid(point: Point) -> Point:
            """A point of the repair: y from the bottom of the hollow."""
            return (dug_at + point[0], of.t_mm - self.boat.depth_mm + point[1]) if is_face else (dug_at - point[0], self.boat.depth_mm - point[1])

        half_mm, depth = self.boat.width_mm / 2, self.boat.depth_mm
        over = max(depth - self.boat.dig.radius_mm, 1.0)
        per = math.degrees(1.0 / (k * over))  # a degree of the side moves its upper edge by about its height
        self.holds += [Hold(at(laid((sign * half_mm, depth))), "side_deg", self.boat.dig.side_deg, sign * turn * per * (1 if is_face else -1), 0.0)
                       for sign in (-1, 1)]  # fmt: skip
        shapes = list[Shape]()
        for shape in placed(bare_section(of.joint, of.plan, 1.0).shapes, at):
            if isinstance(shape, Polygon):
                shapes.append(replace(shape, style="later") if shape.style.startswith("bead.") else shape)
            elif isinstance(shape, Lines) and not shape.style.startswith("hatch"):
                shapes.append(replace(shape, style="contour"))
        yield Clip(box, tuple(shapes))
        for p in of.way.plan.passes:
            outline = tuple(at(laid(point)) for point in p.outline_mm)
            yield Polygon(outline, f"bead.{p.role}", p.key)
            yield Lines(tuple(itertools.pairwise((*outline, outline[0]))), "bead.edge")
            yield Text(at(laid(centroid(p.outline_mm))), pass_label(p), "number", 11.5, face=NARROW_BOLD)


def _span(xs: list[float], ys: list[float], y: float) -> Point:
    """From where to where the weld reaches at the surface."""
    found = [x for x, at in zip(xs, ys, strict=True) if abs(at - y) < 1.0] or xs
    return min(found), max(found)
