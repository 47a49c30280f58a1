"""The shapes of a display list. x to the right, y up; `style` names a row of the palette.

A section is drawn in mm and scaled to fit. A chart is drawn in pixels of the place it is made for.
"""

from __future__ import annotations

from banister.core.value import Struct

Point = tuple[float, float]
Box = tuple[float, float, float, float]
"""x0, y0, x1, y1."""
PLAIN, BOLD, NARROW, NARROW_BOLD = "plain", "bold", "narrow", "narrow bold"
"""The faces a text may stand in."""


class Polygon(Struct, frozen=True):
    """A filled polygon; `id` ties it to what it stands for."""

    points: tuple[Point, ...]
    style: str
    id: str = ""


class Rect(Struct, frozen=True):
    """An upright rectangle: filled with `style` ('' for none), edged with `edge` ('' for none)."""

    box: Box
    style: str = ""
    edge: str = ""
    id: str = ""


class Lines(Struct, frozen=True):
    """Separate segments, or one connected run."""

    segments: tuple[tuple[Point, Point], ...]
    style: str
    id: str = ""


class Dot(Struct, frozen=True):
    """A disc of a size in pixels, whatever the scale: filled with `style` ('' for none), edged with `edge` ('' for none)."""

    at: Point
    radius: float
    style: str = ""
    edge: str = ""
    id: str = ""


class Band(Struct, frozen=True):
    """What lies between two runs of points over the same x."""

    lower: tuple[Point, ...]
    upper: tuple[Point, ...]
    style: str
    id: str = ""

    @property
    def points(self) -> tuple[Point, ...]:
        """Its outline."""
        return (*self.upper, *reversed(self.lower))


class Text(Struct, frozen=True):
    """A text at a point; `size` is in points on paper and pixels on screen, whatever the scale.

    `room` is the width and height a bead's number has in mm, None for all of the bead it names.
    """

    at: Point
    text: str
    style: str
    size: float = 11.0
    anchor: str = "middle"
    id: str = ""
    lift: float = 0.0
    room: Point | None = None
    face: str = ""


class Clip(Struct, frozen=True):
    """Shapes of which nothing shows outside a box."""

    box: Box
    shapes: tuple[Shape, ...]


Shape = Polygon | Rect | Lines | Dot | Band | Text | Clip
Outline = Polygon | Lines | Text
"""What sections and symbols are made of."""


class Handle(Struct, frozen=True):
    """A place to take hold of, and the figure of the joint that it sets."""

    at: Point
    id: str


class Drawing(Struct, frozen=True):
    """Shapes from back to front, the box that frames them, and the handles."""

    shapes: tuple[Shape, ...]
    box: Box
    handles: tuple[Handle, ...] = ()
