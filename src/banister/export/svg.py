"""SVG of a display list in paper colours."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from html import escape

from banister.core.drawing.palette import DASHES, PAPER, WIDTHS
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Band, Box, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text

FACE_WORDS = {
    PLAIN: "", BOLD: ' font-weight="600"', NARROW: ' font-family="IBM Plex Sans Condensed, sans-serif"',
    NARROW_BOLD: ' font-family="IBM Plex Sans Condensed, sans-serif" font-weight="500"', "": "",
}  # fmt: skip


UNITS_PER_MM = 96 / 25.4
WIDE = 900.0


def svg(drawing: Drawing, title: str, width: float = WIDE) -> str:
    """The drawing as one SVG document `width` units wide."""
    x0, _, x1, _ = drawing.box
    return _Document(drawing.box, width / (x1 - x0)).written(drawing.shapes, title, width)


def svg_to_scale(drawing: Drawing, title: str) -> str:
    """A drawing in mm true to size: as many times larger as a page takes, a whole number, which its title names."""
    x0, y0, x1, y1 = drawing.box
    scale = max(1, round(WIDE / UNITS_PER_MM / (x1 - x0)))
    document = _Document(drawing.box, scale * UNITS_PER_MM)
    return document.written(drawing.shapes, f"{title}, {scale} : 1", scale * UNITS_PER_MM * (x1 - x0), (scale * (x1 - x0), scale * (y1 - y0)))


class _Document:
    """One document being written."""

    def __init__(self, box: Box, k: float) -> None:
        self.x0, _, _, self.y1 = box
        self.height, self.k, self.clips = k * (box[3] - box[1]), k, 0
        self.names: set[str] = set()

    def written(self, shapes: Iterable[Shape], title: str, width: float, size_mm: tuple[float, float] | None = None) -> str:
        wide, high = (f"{width:.0f}", f"{self.height:.0f}") if size_mm is None else (f"{v:.3f}mm" for v in size_mm)
        box = f"0 0 {width:.0f} {self.height:.0f}" if size_mm is None else f"0 0 {width:.3f} {self.height:.3f}"
        head = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}" width="{wide}" height="{high}" font-family="IBM Plex Sans, sans-serif">'
        return "\n".join([head, f"<title>{escape(title)}</title>", f'<rect width="100%" height="100%" fill="{PAPER["paper"]}"/>',
                          *self.rows(shapes), "</svg>", ""])  # fmt: skip

    def at(self, point: Point) -> str:
        return f"{(point[0] - self.x0) * self.k:.2f},{(self.y1 - point[1]) * self.k:.2f}"

    def rows(self, shapes: Iterable[Shape]) -> Iterator[str]:
        for shape in shapes:
            if isinstance(shape, Clip):
                yield from self._clipped(shape)
            elif isinstance(shape, Polygon | Band):
                yield f'<polygon{self._named(shape.id)} points="{" ".join(self.at(p) for p in shape.points)}" fill="{PAPER[shape.style]}"/>'
            elif isinstance(shape, Rect):
                yield f"<rect{self._named(shape.id)} {self._area(shape.box)}{_ink(shape.style, shape.edge)}/>"
            elif isinstance(shape, Lines):
                path = " ".join(f"M{self.at(a)} L{self.at(b)}" for a, b in shape.segments)
                yield f'<path{self._named(shape.id)} d="{path}" fill="none"{_pen(shape.style)} stroke-linecap="round"/>'
            elif isinstance(shape, Dot):
                x, y = self.at(shape.at).split(",")
                yield f'<circle{self._named(shape.id)} cx="{x}" cy="{y}" r="{shape.radius}"{_ink(shape.style, shape.edge)}/>'
            else:
                yield self._text(shape)

    def _named(self, key: str) -> str:
        """An id, which a document has only once: the first shape of a key takes it."""
        if not key or key in self.names:
            return ""
        self.names.add(key)
        return f' id="{escape(key)}"'

    def _area(self, box: Box) -> str:
        x, y = self.at((box[0], box[3])).split(",")
        return f'x="{x}" y="{y}" width="{(box[2] - box[0]) * self.k:.2f}" height="{(box[3] - box[1]) * self.k:.2f}"'

    def _clipped(self, clip: Clip) -> Iterator[str]:
        self.clips += 1
        name = f"clip{self.clips}"
        yield f'<clipPath id="{name}"><rect {self._area(clip.box)}/></clipPath><g clip-path="url(#{name})">'
        yield from self.rows(clip.shapes)
        yield "</g>"

    def _text(self, text: Text) -> str:
        x, y = self.at(text.at).split(",")
        return (f'<text x="{x}" y="{float(y) - text.lift:.2f}" font-size="{text.size}" dominant-baseline="central" '
                f'text-anchor="{text.anchor}" fill="{PAPER[text.style]}"{FACE_WORDS[text.face]}>{escape(text.text)}</text>')  # fmt: skip


def _ink(fill: str, edge: str) -> str:
    return f' fill="{PAPER[fill] if fill else "none"}"' + (_pen(edge) if edge else "")


def _pen(style: str) -> str:
    dash = f' stroke-dasharray="{" ".join(f"{length:g}" for length in DASHES[style])}"' if style in DASHES else ""
    return f' stroke="{PAPER[style]}" stroke-width="{WIDTHS[style]}"{dash}'
