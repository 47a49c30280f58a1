"""Painting a display list with Qt: world millimetres to pixels, opaque fills, cosmetic pens."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cache, lru_cache

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QPainter, QPen, QPolygonF, QTransform

from banister.core.drawing.framing import framing
from banister.core.drawing.palette import DASHES, WIDTHS
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Band, Box, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.value import Struct
from banister.desktop.app.theme import CONDENSED, FAMILY, Theme, font, width_px

ALIGN = {
    "start": Qt.AlignmentFlag.AlignLeft, "middle": Qt.AlignmentFlag.AlignHCenter, "end": Qt.AlignmentFlag.AlignRight,
}  # fmt: skip
LEFT_OF = {"start": 0.0, "middle": 0.5, "end": 1.0}
LONGEST_PX = 4000.0
"""No text is longer: it has this room to the right of where it starts, about its middle, or to the left of its end."""
SMALLEST_NUMBER = 8.5
REMEMBERED = 2048
"""So many shapes of a kind are kept as Qt takes them: those of a few sections with their charts."""
FACES = {
    "": (QFont.Weight.Medium, FAMILY), PLAIN: (QFont.Weight.Normal, FAMILY), BOLD: (QFont.Weight.DemiBold, FAMILY),
    NARROW: (QFont.Weight.Normal, CONDENSED), NARROW_BOLD: (QFont.Weight.Medium, CONDENSED),
}  # fmt: skip


class Frame(Struct, frozen=True):
    """How millimetres of a drawing lie in a rectangle of pixels."""

    x0: float
    y1: float
    k: float
    left: float
    top: float

    def px(self, x: float, y: float) -> QPointF:
        """Pixel of a point in mm."""
        return QPointF(self.left + (x - self.x0) * self.k, self.top + (self.y1 - y) * self.k)

    def mm(self, point: QPointF) -> tuple[float, float]:
        """Point in mm of a pixel."""
        return self.x0 + (point.x() - self.left) / self.k, self.y1 - (point.y() - self.top) / self.k

    def rect(self, box: Box) -> QRectF:
        """Pixels of an upright box in mm."""
        return QRectF(self.px(box[0], box[3]), self.px(box[2], box[1]))

    def polygon(self, points: tuple[Point, ...]) -> QPolygonF:
        """Pixels of a polygon in mm."""
        return self.placed(_in_mm(points))

    def placed(self, polygon: QPolygonF) -> QPolygonF:
        """Pixels of a polygon whose points are mm."""
        k = self.k
        return QTransform(k, 0.0, 0.0, -k, self.left - self.x0 * k, self.top + self.y1 * k).map(polygon)

    def strokes(self, runs: Sequence[tuple[Point, Point]]) -> list[QLineF]:
        """Pixels of single strokes in mm; written out, since hundreds are painted an edit."""
        x0, y1, k, left, top = self.x0, self.y1, self.k, self.left, self.top
        return [QLineF(left + (ax - x0) * k, top + (y1 - ay) * k, left + (bx - x0) * k, top + (y1 - by) * k) for (ax, ay), (bx, by) in runs]


@lru_cache(maxsize=REMEMBERED)
def _in_mm(points: tuple[Point, ...]) -> QPolygonF:
    """A polygon with its points in mm; remembered, since most of what is painted was painted before."""
    return QPolygonF([QPointF(x, y) for x, y in points])


@lru_cache(maxsize=REMEMBERED)
def _runs(segments: tuple[tuple[Point, Point], ...]) -> tuple[tuple[QPolygonF, ...], tuple[tuple[Point, Point], ...]]:
    """Runs of connected segments, as polylines in mm, and single strokes; remembered as polygons are."""
    runs: list[list[Point]] = []
    for a, b in segments:
        if runs and a == runs[-1][-1]:
            runs[-1].append(b)
        else:
            runs.append([a, b])
    lines = tuple(QPolygonF([QPointF(x, y) for x, y in run]) for run in runs if len(run) > 2)
    return lines, tuple((run[0], run[1]) for run in runs if len(run) == 2)


def framed(drawing: Drawing, area: QRectF) -> Frame:
    """The largest true-scale frame of a drawing and its words in an area, centred."""
    x0, y0, _, y1 = drawing.box
    k, left = framing(drawing, area.width(), area.height())
    top = area.top() + (area.height() - k * (y1 - y0)) / 2
    return Frame(x0, y1, k, area.left() + left, top)


def of_chart(drawing: Drawing) -> Frame:
    """The frame of a chart: its pixels are the widget's."""
    return Frame(drawing.box[0], drawing.box[3], 1.0, 0.0, 0.0)


def paint(painter: QPainter, drawing: Drawing, frame: Frame, theme: Theme) -> None:
    """Paint all shapes, back to front."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _paint_shapes(painter, drawing.shapes, frame, theme.drawing, _number_rooms(drawing.shapes, frame, theme.drawing))


Rooms = Mapping[str, tuple[QRectF, QColor | None]]


def _number_rooms(shapes: Sequence[Shape], frame: Frame, palette: Mapping[str, str]) -> Rooms:
    """For every bead its box, and the ground its number needs where the bead is hatched."""
    crossed = {s.id for s in shapes if isinstance(s, Lines) and s.style == "hatch.outside"}
    return {
        s.id: (frame.polygon(s.points).boundingRect(), QColor(palette[s.style]) if s.style != "bead.fill" or s.id in crossed else None)
        for s in shapes if isinstance(s, Polygon) and s.id
    }  # fmt: skip


def _paint_shapes(painter: QPainter, shapes: Iterable[Shape], frame: Frame, palette: Mapping[str, str], rooms: Rooms) -> None:
    for shape in shapes:
        if isinstance(shape, Clip):
            painter.save()
            painter.setClipRect(frame.rect(shape.box))
            _paint_shapes(painter, shape.shapes, frame, palette, _number_rooms(shape.shapes, frame, palette))
            painter.restore()
        elif isinstance(shape, Polygon | Band):
            _ink(painter, palette, shape.style, "")
            painter.drawPolygon(frame.polygon(shape.points))
        elif isinstance(shape, Rect):
            _ink(painter, palette, shape.style, shape.edge)
            painter.drawRect(frame.rect(shape.box))
        elif isinstance(shape, Dot):
            _ink(painter, palette, shape.style, shape.edge)
            painter.drawEllipse(frame.px(*shape.at), shape.radius, shape.radius)
        elif isinstance(shape, Lines):
            painter.setPen(_pen(palette[shape.style], shape.style))
            _paint_lines(painter, shape, frame)
        elif shape.style == "number" and shape.id:
            _paint_number(painter, shape, frame, QColor(palette[shape.style]), rooms.get(shape.id))
        else:
            _paint_text(painter, shape, frame, QColor(palette[shape.style]))


def _ink(painter: QPainter, palette: Mapping[str, str], fill: str, edge: str) -> None:
    painter.setPen(_pen(palette[edge], edge) if edge else QPen(Qt.PenStyle.NoPen))
    painter.setBrush(QColor(palette[fill]) if fill else QBrush(Qt.BrushStyle.NoBrush))


@cache
def _pen(colour: str, style: str) -> QPen:
    """The pen of a style; made once, for hundreds of shapes are painted with it."""
    width = WIDTHS[style]
    pen = QPen(QColor(colour), width)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    dashes = DASHES.get(style)
    if dashes:
        pen.setDashPattern([length / width for length in dashes])
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    else:
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    return pen


def _paint_lines(painter: QPainter, shape: Lines, frame: Frame) -> None:
    """Runs of connected segments as one polyline each (joints of separate strokes would show as beads),
    single strokes, of which hatching has hundreds, in one call."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    lines, strokes = _runs(shape.segments)
    for line in lines:
        painter.drawPolyline(frame.placed(line))
    painter.drawLines(frame.strokes(strokes))


def face_font(text: Text) -> QFont:
    """The font a text is set in."""
    weight, family = FACES[text.face]
    return font(text.size, weight, family)


def _paint_text(painter: QPainter, shape: Text, frame: Frame, colour: QColor) -> None:
    painter.setFont(face_font(shape))
    painter.setPen(colour)
    at, high = frame.px(*shape.at), max(20.0, 1.5 * shape.size)
    rect = QRectF(at.x() - LEFT_OF[shape.anchor] * LONGEST_PX, at.y() - shape.lift - high / 2, LONGEST_PX, high)
    painter.drawText(rect, ALIGN[shape.anchor] | Qt.AlignmentFlag.AlignVCenter, shape.text)


def _paint_number(painter: QPainter, shape: Text, frame: Frame, colour: QColor, bead: tuple[QRectF, QColor | None] | None) -> None:
    """A bead's name, on its bare colour where it is hatched, as large as the bead allows; the letter goes before the number does."""
    if bead is None:
        return
    box, ground = bead
    wide, high = (box.width(), box.height()) if shape.room is None else (shape.room[0] * frame.k, shape.room[1] * frame.k)
    size = min(15.0, 0.7 * high)
    for text in (shape.text, shape.text[1:]):
        if size < SMALLEST_NUMBER:
            return
        painter.setFont(font(size, QFont.Weight.DemiBold, CONDENSED))
        width = width_px(text, size, QFont.Weight.DemiBold, CONDENSED)
        if width <= 0.72 * wide:
            at = frame.px(*shape.at)
            if ground is not None:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(ground)
                painter.drawRoundedRect(QRectF(at.x() - width / 2 - 2, at.y() - 0.48 * size, width + 4, 0.96 * size), 3, 3)
            painter.setPen(colour)
            painter.drawText(QRectF(at.x() - 30, at.y() - 12, 60, 24), Qt.AlignmentFlag.AlignCenter, text)
            return
