"""DXF of a display list: lines on a layer a style, millimetres; areas by their outlines, so that they can be snapped to and dimensioned."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Sequence
from typing import TYPE_CHECKING, Any

from banister.core.drawing.palette import PAPER
from banister.core.drawing.shapes import Band, Box, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text

if TYPE_CHECKING:
    from ezdxf.layouts import Modelspace
    from ezdxf.math import Vec2

PIXEL_MM = 25.4 / 96
"""A pixel of a chart on the drawing."""
WIDE = 900.0
"""The pixels a section is wide where its texts are of the size they name."""
CAPITALS = 0.7
"""The height of a capital, which DXF names, over the size of its font."""
PLAIN_LAYER = "drawing"


def section_dxf(drawing: Drawing, title: str) -> bytes:
    """A drawing in mm, 1 : 1."""
    return _written(drawing, title, 1.0, (drawing.box[2] - drawing.box[0]) / WIDE)


def chart_dxf(drawing: Drawing, title: str) -> bytes:
    """A chart as large as on paper: its own scale holds, not that of the drawing."""
    return _written(drawing, title, PIXEL_MM, 1.0)


def _written(drawing: Drawing, title: str, unit: float, pixel: float) -> bytes:
    import ezdxf
    from ezdxf import units

    ezdxf.options.write_fixed_meta_data_for_testing = True  # the same drawing gives the same bytes
    document = ezdxf.new("R2010", units=units.MM)
    document.header.custom_vars.append("Title", title)
    page = _Page(document.modelspace(), unit, pixel)
    for shape in drawing.shapes:
        page.put(shape, None)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")


class _Page:
    """The model space being drawn on; shapes in a clip are cut at its box."""

    def __init__(self, space: Modelspace, unit: float, pixel: float) -> None:
        self.space, self.unit, self.pixel = space, unit, pixel

    def put(self, shape: Shape, box: Box | None) -> None:
        if isinstance(shape, Clip):
            for inner in shape.shapes:
                self.put(inner, shape.box)
        elif isinstance(shape, Text):
            if box is None or _holds(box, shape.at):
                self._text(shape)
        elif isinstance(shape, Dot):
            if box is None or _holds(box, shape.at):
                self.space.add_circle(self._at(shape.at), shape.radius * self.pixel * self.unit, self._on(shape.edge or shape.style))
        elif isinstance(shape, Lines):
            self._runs(_runs(shape.segments), shape.style, box)
        elif isinstance(shape, Rect):
            x0, y0, x1, y1 = shape.box
            self._area(((x0, y0), (x1, y0), (x1, y1), (x0, y1)), shape.edge or shape.style, box)
        elif isinstance(shape, Polygon | Band):
            self._area(shape.points, shape.style, box)

    def _area(self, points: Sequence[Point], style: str, box: Box | None) -> None:
        parts = [points] if box is None else [[(v.x, v.y) for v in part] for part in _clipper(box).clip_polygon(_vectors(points))]
        for part in parts:
            if len(part) > 1:
                self.space.add_lwpolyline([self._at(p) for p in part], close=True, dxfattribs=self._on(style))

    def _runs(self, runs: Iterable[list[Point]], style: str, box: Box | None) -> None:
        for run in runs:
            parts = [run] if box is None else [[(v.x, v.y) for v in part] for part in _clipper(box).clip_polyline(_vectors(run))]
            for part in parts:
                if len(part) > 1:
                    self.space.add_lwpolyline([self._at(p) for p in part], dxfattribs=self._on(style))

    def _text(self, text: Text) -> None:
        from ezdxf.enums import TextEntityAlignment

        align = {"start": TextEntityAlignment.MIDDLE_LEFT, "end": TextEntityAlignment.MIDDLE_RIGHT}.get(text.anchor, TextEntityAlignment.MIDDLE_CENTER)
        x, y = text.at
        height = text.size * CAPITALS * self.pixel * self.unit
        at = self._at((x, y + text.lift * self.pixel))
        self.space.add_text(text.text, height=height, dxfattribs=self._on(text.style)).set_placement(at, align=align)

    def _at(self, point: Point) -> Point:
        return point[0] * self.unit, point[1] * self.unit

    def _on(self, style: str) -> dict[str, Any]:
        """The layer of a style, made where it is first drawn on."""
        name, layers = style or PLAIN_LAYER, self.space.doc.layers
        if name not in layers:
            layers.add(name, true_color=int(PAPER[style].removeprefix("#")[:6], 16) if style in PAPER else 0)
        return {"layer": name}


def _clipper(box: Box) -> Any:
    from ezdxf.math import Vec2
    from ezdxf.math.clipping import ClippingRect2d

    return ClippingRect2d(Vec2(box[0], box[1]), Vec2(box[2], box[3]))


def _vectors(points: Iterable[Point]) -> list[Vec2]:
    from ezdxf.math import Vec2

    return list(Vec2.generate(points))


def _holds(box: Box, at: Point) -> bool:
    return box[0] <= at[0] <= box[2] and box[1] <= at[1] <= box[3]


def _runs(segments: Iterable[tuple[Point, Point]]) -> Iterator[list[Point]]:
    """Segments that go on where the one before ended, as one line."""
    run: list[Point] = []
    for a, b in segments:
        if run and run[-1] == a:
            run.append(b)
            continue
        if run:
            yield run
        run = [a, b]
    if run:
        yield run
