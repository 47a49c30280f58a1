"""What lies over the photo of an etched section: the plan, the points that were marked, the beads that were traced, penetration as short strokes."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence

from banister.core.drawing.advances import advance
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.inspect.etched import Overlay
from banister.core.inspect.etched_kept import Compared
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.polygon import centroid
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

CROSS, EVERY = 9.0, 2
"""Half the size of a mark, px; every so many places along a wall get a stroke."""
EDGE = 10.0


class Laid(Struct, frozen=True):
    """What is shown: size, where a photo's pixel lies in the chart, the marks (pixels of the photo), what is being traced, what was traced (mm)."""

    width: float
    height: float
    scale: float
    left: float
    top: float
    marks: Mapping[str, Point]
    overlay: Overlay | None
    tracing: Sequence[Point] = ()
    traced: Sequence[Sequence[Point]] = ()
    selected: int = -1
    held: str = ""
    plan_shown: bool = True

    def of_pixel(self, pixel: Point) -> Point:
        """Where a pixel of the photo lies."""
        return self.left + self.scale * pixel[0], self.height - self.top - self.scale * pixel[1]

    def of_section(self, point: Point) -> Point:
        """Where a point of the section lies."""
        return self.of_pixel(self.overlay.pixel(point)) if self.overlay is not None else (0.0, 0.0)


def etched_overlay(laid: Laid, joint: Joint, plan: Plan, found: Compared | None, say: Speech) -> Drawing:
    """The shapes over the photo; without a photo the words that ask for one are the view's."""
    shapes: list[Shape] = []
    if laid.overlay is not None:
        if laid.plan_shown:
            shapes += _plan(laid, joint, plan)
        shapes += _traced(laid, found, plan)
        if found is not None:
            shapes += _penetration(laid, found, say)
    points = [laid.of_pixel(pixel) for pixel in laid.tracing]
    if len(points) > 1:
        shapes.append(Lines(tuple(itertools.pairwise(points)), "handle", "tracing"))
    shapes += [Rect((x - 2, y - 2, x + 2, y + 2), "handle") for x, y in points]
    for name, pixel in laid.marks.items():
        shapes += _mark(laid.of_pixel(pixel), say(f"etched.mark.{name}") if name == laid.held else "", name)
    return Drawing(tuple(shapes), (0.0, 0.0, laid.width, laid.height))


def _plan(laid: Laid, joint: Joint, plan: Plan) -> Iterator[Shape]:
    groove = groove_of(joint.prep)
    for edge in (groove.left_edge, groove.right_edge):
        yield Lines(tuple(itertools.pairwise(tuple(map(laid.of_section, edge)))), "handle", "edge")
    for p in plan.passes:
        points = tuple(map(laid.of_section, p.outline_mm))
        yield Lines(tuple(itertools.pairwise((*points, points[0]))), "handle", f"planned:{p.key}")


def _traced(laid: Laid, found: Compared | None, plan: Plan) -> Iterator[Shape]:
    """Traced beads in a double outline, with the number of the pass each is taken for, else a question mark."""
    by_trace = {} if found is None else {i: key for key, i in found.matched.pairs.items()}
    numbers = {p.key: str(p.number) for p in plan.passes}
    for i, outline in enumerate(laid.traced):
        points = tuple(map(laid.of_section, outline))
        edges = tuple(itertools.pairwise((*points, points[0])))
        yield Lines(edges, "ground")
        yield Lines(edges, "outside" if i == laid.selected else "text", f"traced:{i}")
        x, y = laid.of_section(centroid(outline))
        said = numbers.get(by_trace.get(i, ""), "?")
        yield Rect((x - 9, y - 9, x + 9, y + 9), "ground")
        yield Text((x, y), said, "text", 13, face=NARROW_BOLD, id=f"number:{i}")


def _penetration(laid: Laid, found: Compared, say: Speech) -> Iterator[Shape]:
    """How far traced metal reaches past the planned edge, and the least of each wall in figures."""
    for wall in found.walls:
        outward = -1.0 if wall.side == "left" else 1.0
        strokes = [(laid.of_section(at), laid.of_section((at[0] + outward * depth, at[1]))) for at, depth in wall.places[::EVERY] if depth]
        if strokes:
            yield Lines(tuple(strokes), "warning", f"reach:{wall.side}")
        bare = [laid.of_section(at) for at in wall.not_fused]
        yield from (Rect((x - 2.5, y - 2.5, x + 2.5, y + 2.5), "outside", "", f"bare:{wall.side}") for x, y in bare)
        if wall.least is not None:
            x, y = laid.of_section(wall.least[0])
            said = say.figure(Figure(wall.least[1], "fine_length"))
            centre, half = x + outward * 40, advance(said, 12, BOLD) / 2 + 4
            yield Rect((centre - half, y - 9, centre + half, y + 9), "ground")
            yield Text((centre, y), said, "text", 12, face=BOLD, id=f"least:{wall.side}")


def _mark(at: Point, said: str, name: str) -> Iterator[Shape]:
    x, y = at
    yield Lines((((x - CROSS, y), (x + CROSS, y)), ((x, y - CROSS), (x, y + CROSS))), "outside", f"mark:{name}")
    if said:
        yield Rect((x + CROSS, y + EDGE - 9, x + CROSS + advance(said, 12, NARROW) + 8, y + EDGE + 9), "ground")
        yield Text((x + CROSS + 4, y + EDGE), said, "outside", 12, "start", face=NARROW)
