"""What sheets on paper share: sizes, the shipped fonts, a display list as a flowing part of a page."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from importlib import resources
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from banister.core.drawing.palette import DASHES, PAPER, WIDTHS
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Band, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text

PAPERS = {"A4": A4, "Letter": LETTER}
FACES = {
    "Plex": "IBMPlexSans-Regular", "Plex-Bold": "IBMPlexSans-SemiBold", "Plex-Cond": "IBMPlexSansCondensed-Regular",
    "Plex-Cond-Medium": "IBMPlexSansCondensed-Medium",
}  # fmt: skip
FACE_FONTS = {PLAIN: "Plex", BOLD: "Plex-Bold", NARROW: "Plex-Cond", NARROW_BOLD: "Plex-Cond-Medium"}
TEXT_SHARE, LINE_SHARE = 0.68, 0.6
"""Points on paper for a pixel of text, and of a line, on screen."""


def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer, once."""
    fonts = resources.files("banister") / "data" / "fonts"
    for name, file in FACES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(fonts / f"{file}.ttf")))


def escaped(text: str) -> str:
    """Text as a paragraph takes it: nothing in it is markup."""
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def unprintable(texts: Iterable[str]) -> str:
    """The characters of some texts that the shipped fonts lack, each once, in order: they would be blank on paper."""
    register_fonts()
    known = pdfmetrics.getFont("Plex").face.charToGlyph
    return "".join(dict.fromkeys(c for text in texts for c in text if ord(c) not in known and not c.isspace()))


class Bookmark(Flowable):  # type: ignore[misc]
    """A place that the reader's list of contents leads to."""

    def __init__(self, key: str, title: str) -> None:
        super().__init__()
        self.key, self.title, self.width, self.height = key, title, 0.0, 0.0

    def draw(self) -> None:
        """Mark the place."""
        self.canv.bookmarkHorizontal(self.key, 0, 20)
        self.canv.addOutlineEntry(self.title, self.key, 0)


class Counted(Canvas):  # type: ignore[misc]
    """A canvas whose pages say of how many they are: the number is drawn once, when all are counted."""

    TOTAL, FONT, SIZE = "total", "Plex", 7.5

    def draw_page_of(self, right: float, y: float, text: str) -> None:
        """Words with {} where the number of pages comes, ending at the right."""
        before, _, after = text.partition("{}")
        digits = pdfmetrics.stringWidth("000", self.FONT, self.SIZE)
        left = right - digits - pdfmetrics.stringWidth(before + after, self.FONT, self.SIZE)
        self.setFont(self.FONT, self.SIZE)
        self.drawString(left, y, before)
        self.saveState()
        self.translate(left + pdfmetrics.stringWidth(before, self.FONT, self.SIZE), y)
        self.doForm(self.TOTAL)
        self.restoreState()
        self.drawRightString(right, y, after)

    def save(self) -> None:
        """Draw the number of pages, then write."""
        self.beginForm(self.TOTAL, 0, -3, 40, 12)
        self.setFont(self.FONT, self.SIZE)
        self.setFillColor(HexColor(PAPER["note"]))
        self.drawString(0, 0, str(self.getPageNumber() - 1))
        self.endForm()
        super().save()


class Drawn(Flowable):  # type: ignore[misc]  # reportlab ships no types
    """A display list, as large as fits, with a caption beneath."""

    def __init__(self, drawing: Drawing, width: float, height: float, caption: str, is_chart: bool = False) -> None:
        """A chart's words grow with it; those of a section have one size."""
        super().__init__()
        self.is_chart = is_chart
        x0, y0, x1, y1 = drawing.box
        self.drawing, self.caption, self.k = drawing, caption, min(width / (x1 - x0), height / (y1 - y0))
        self.width, self.height = width, self.k * (y1 - y0) + 12

    @property
    def scale(self) -> float:
        """Size on paper over size in the drawing."""
        return float(self.k / mm)

    def draw(self) -> None:
        """Paint the display list and its caption."""
        x0, y0, x1, _ = self.drawing.box
        paint(self.canv, self.drawing, (self.width - self.k * (x1 - x0)) / 2 - x0 * self.k, 12 - y0 * self.k, self.k,
              self.k if self.is_chart else TEXT_SHARE)  # fmt: skip
        self.canv.setFont("Plex", 7.5)
        self.canv.setFillColor(HexColor(PAPER["note"]))
        self.canv.drawCentredString(self.width / 2, 2, self.caption)


def paint(canvas: Any, drawing: Drawing, left: float, foot: float, k: float, word_share: float = TEXT_SHARE) -> None:
    """Paint all shapes, back to front; a drawing's point (x, y) comes to (left + k x, foot + k y), its words to `word_share` of their size."""
    _Painter(canvas, left, foot, k, word_share).paint(drawing.shapes)


class _Painter:
    """Puts shapes on a page."""

    def __init__(self, canvas: Any, left: float, foot: float, k: float, word_share: float) -> None:
        self.canvas, self.left, self.foot, self.k, self.word_share = canvas, left, foot, k, word_share

    def at(self, point: Point) -> Point:
        return self.left + point[0] * self.k, self.foot + point[1] * self.k

    def paint(self, shapes: Iterable[Shape]) -> None:
        for shape in shapes:
            if isinstance(shape, Clip):
                self._clipped(shape)
            elif isinstance(shape, Polygon | Band):
                self._polygon(shape.points, shape.style)
            elif isinstance(shape, Rect):
                self._rect(shape)
            elif isinstance(shape, Lines):
                self._lines(shape)
            elif isinstance(shape, Dot):
                self._dot(shape)
            else:
                self._text(shape)

    def _clipped(self, clip: Clip) -> None:
        self.canvas.saveState()
        path = self.canvas.beginPath()
        (x0, y0), (x1, y1) = self.at(clip.box[:2]), self.at(clip.box[2:])
        path.rect(x0, y0, x1 - x0, y1 - y0)
        self.canvas.clipPath(path, stroke=0, fill=0)
        self.paint(clip.shapes)
        self.canvas.restoreState()

    def _inked(self, fill: str, edge: str) -> dict[str, int]:
        if fill:
            self.canvas.setFillColor(HexColor(PAPER[fill]))
        if edge:
            self._pen(edge)
        return {"stroke": int(bool(edge)), "fill": int(bool(fill))}

    def _pen(self, style: str) -> None:
        self.canvas.setStrokeColor(HexColor(PAPER[style]))
        self.canvas.setLineWidth(LINE_SHARE * WIDTHS[style])
        self.canvas.setDash([LINE_SHARE * length for length in DASHES.get(style, ())])
        self.canvas.setLineCap(0 if style in DASHES else 1)

    def _polygon(self, points: Sequence[Point], style: str) -> None:
        path = self.canvas.beginPath()
        path.moveTo(*self.at(points[0]))
        for point in points[1:]:
            path.lineTo(*self.at(point))
        path.close()
        self.canvas.drawPath(path, **self._inked(style, ""))

    def _rect(self, rect: Rect) -> None:
        (x0, y0), (x1, y1) = self.at(rect.box[:2]), self.at(rect.box[2:])
        self.canvas.rect(x0, y0, x1 - x0, y1 - y0, **self._inked(rect.style, rect.edge))

    def _lines(self, lines: Lines) -> None:
        self._pen(lines.style)
        self.canvas.lines([(*self.at(a), *self.at(b)) for a, b in lines.segments])

    def _dot(self, dot: Dot) -> None:
        self.canvas.circle(*self.at(dot.at), self.word_share * dot.radius, **self._inked(dot.style, dot.edge))

    def _text(self, text: Text) -> None:
        size = self.word_share * text.size
        self.canvas.setFont(FACE_FONTS[text.face or (BOLD if text.style == "number" else PLAIN)], size)
        self.canvas.setFillColor(HexColor(PAPER[text.style]))
        x, y = self.at(text.at)
        draw = {"middle": self.canvas.drawCentredString, "start": self.canvas.drawString, "end": self.canvas.drawRightString}
        draw[text.anchor](x, y - 0.35 * size + 0.7 * text.lift, text.text)


def scale_words(ratio: float) -> str:
    """A scale as a draughtsman writes it.

    >>> scale_words(4.02), scale_words(0.5)
    ('4 : 1', '1 : 2')
    """
    if ratio >= 1:
        return f"{ratio:.1f}".rstrip("0").rstrip(".") + " : 1"
    return "1 : " + f"{1 / ratio:.1f}".rstrip("0").rstrip(".")
