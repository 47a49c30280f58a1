"""What sheets on paper share: sizes, the shipped fonts, a display list as a flowing part of a page."""

from __future__ import annotations

from importlib import resources
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable

from banister.core.drawing.palette import PAPER, WIDTHS
from banister.core.drawing.shapes import Drawing, Lines, Polygon, Text

PAPERS = {"A4": A4, "Letter": LETTER}
FACES = {"Plex": "IBMPlexSans-Regular", "Plex-Bold": "IBMPlexSans-SemiBold", "Plex-Cond": "IBMPlexSansCondensed-Regular"}
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


class Drawn(Flowable):  # type: ignore[misc]  # reportlab ships no types
    """A display list, as large as fits, with a caption beneath."""

    def __init__(self, drawing: Drawing, width: float, height: float, caption: str) -> None:
        super().__init__()
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
        paint(self.canv, self.drawing, (self.width - self.k * (x1 - x0)) / 2 - x0 * self.k, 12 - y0 * self.k, self.k)
        self.canv.setFont("Plex", 7.5)
        self.canv.setFillColor(HexColor(PAPER["note"]))
        self.canv.drawCentredString(self.width / 2, 2, self.caption)


def paint(canvas: Any, drawing: Drawing, left: float, foot: float, k: float) -> None:
    """Paint all shapes, back to front; a drawing's point (x, y) comes to (left + k x, foot + k y)."""

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return left + point[0] * k, foot + point[1] * k

    for shape in drawing.shapes:
        colour = HexColor(PAPER[shape.style])
        if isinstance(shape, Polygon):
            canvas.setFillColor(colour)
            path = canvas.beginPath()
            path.moveTo(*at(shape.points[0]))
            for point in shape.points[1:]:
                path.lineTo(*at(point))
            path.close()
            canvas.drawPath(path, stroke=0, fill=1)
        elif isinstance(shape, Lines):
            canvas.setStrokeColor(colour)
            canvas.setLineWidth(LINE_SHARE * WIDTHS[shape.style])
            canvas.setLineCap(1)
            canvas.lines([(*at(a), *at(b)) for a, b in shape.segments])
        elif isinstance(shape, Text):
            _text(canvas, shape, at(shape.at), colour)


def _text(canvas: Any, shape: Text, at: tuple[float, float], colour: Any) -> None:
    size = TEXT_SHARE * shape.size
    canvas.setFont("Plex-Bold" if shape.style == "number" else "Plex", size)
    canvas.setFillColor(colour)
    y = at[1] - 0.35 * size + 0.7 * shape.lift
    draw = {"middle": canvas.drawCentredString, "start": canvas.drawString, "end": canvas.drawRightString}
    draw[shape.anchor](at[0], y, shape.text)


def scale_words(ratio: float) -> str:
    """A scale as a draughtsman writes it.

    >>> scale_words(4.02), scale_words(0.5)
    ('4 : 1', '1 : 2')
    """
    if ratio >= 1:
        return f"{ratio:.1f}".rstrip("0").rstrip(".") + " : 1"
    return "1 : " + f"{1 / ratio:.1f}".rstrip("0").rstrip(".")
