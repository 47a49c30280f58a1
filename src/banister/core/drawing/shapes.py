"""The shapes of a display list. x to the right, y up, mm; `style` names a row of the palette."""

from __future__ import annotations

from dataclasses import dataclass

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Polygon:
    """A filled polygon; `id` ties it to what it stands for."""

    points: tuple[Point, ...]
    style: str
    id: str = ""


@dataclass(frozen=True, slots=True)
class Lines:
    """Separate segments, or one connected run."""

    segments: tuple[tuple[Point, Point], ...]
    style: str
    id: str = ""


@dataclass(frozen=True, slots=True)
class Text:
    """A text at a point; `size` is in points on paper and pixels on screen, not in mm.

    `room` is the width and height in mm a number has, None for all of the bead it names.
    """

    at: Point
    text: str
    style: str
    size: float = 11.0
    anchor: str = "middle"
    id: str = ""
    lift: float = 0.0
    room: Point | None = None


Shape = Polygon | Lines | Text


@dataclass(frozen=True, slots=True)
class Handle:
    """A place to take hold of, and the figure of the joint that it sets."""

    at: Point
    id: str


@dataclass(frozen=True, slots=True)
class Drawing:
    """Shapes from back to front, the box that frames them (x0, y0, x1, y1), and the handles."""

    shapes: tuple[Shape, ...]
    box: tuple[float, float, float, float]
    handles: tuple[Handle, ...] = ()
