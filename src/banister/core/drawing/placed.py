"""A section as part of a chart: its metal alone, moved to where the chart wants it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from banister.core.drawing.shapes import Drawing, Lines, Point, Polygon, Shape, Text
from banister.core.value import replace

NUMBER_SIZE = 10.0


def metal(section: Drawing) -> Iterator[Shape]:
    """Plates, beads and their numbers; dimensions are left to the chart's own words."""
    for shape in section.shapes:
        if isinstance(shape, Polygon) or (isinstance(shape, Lines) and shape.style != "dimension"):
            yield shape
        elif isinstance(shape, Text) and shape.style == "number":
            yield replace(shape, size=NUMBER_SIZE)


def placed(shapes: Iterable[Shape], at: Callable[[Point], Point]) -> Iterator[Shape]:
    """Polygons, lines and texts with every point where `at` takes it; a number's room is its bead's."""
    for shape in shapes:
        if isinstance(shape, Polygon):
            yield replace(shape, points=tuple(map(at, shape.points)))
        elif isinstance(shape, Lines):
            yield replace(shape, segments=tuple((at(a), at(b)) for a, b in shape.segments))
        elif isinstance(shape, Text):
            yield replace(shape, at=at(shape.at), room=None)


def frame_of(section: Drawing) -> tuple[Point, Point]:
    """The lower left and the upper right corner of what is filled."""
    points = [point for shape in section.shapes if isinstance(shape, Polygon) for point in shape.points]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return (min(xs), min(ys)), (max(xs), max(ys))
