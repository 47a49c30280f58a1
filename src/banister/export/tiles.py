"""Pages at their true size: a length along the weld tiled over them, with register marks to lay them edge to edge and a line to measure."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterator
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from banister import __version__
from banister.core.drawing.palette import PAPER
from banister.core.remark import Figure
from banister.core.words import Speech
from banister.export.paper import register_fonts

TILE_MM = 250.0
LEFT, TOP, FOOT = 28 * mm, 24 * mm, 20 * mm
CHECK_MM = 100.0
HEIGHT = landscape(A4)[1]
Span = tuple[float, float]


def pages(title: str, say: Speech, draw: Callable[[Any], None]) -> bytes:
    """What is drawn on a canvas, as the bytes of a PDF. Equal input gives equal bytes."""
    register_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=landscape(A4), invariant=1, lang=say("language.code"))
    canvas.setTitle(title)
    canvas.setAuthor("Banister " + __version__)
    draw(canvas)
    canvas.save()
    return out.getvalue()


def tiles(start: float, end: float, head: str, say: Speech) -> Iterator[tuple[Span, str]]:
    """The part of a length that each page shows, with its head."""
    count = max(1, math.ceil((end - start) / TILE_MM - 1e-6))
    for tile in range(count):
        low = start + tile * TILE_MM
        yield (low, min(low + TILE_MM, end)), f"{head} ({say('sheet.page', page=str(tile + 1), pages=str(count))})"


def frame(canvas: Any, span: Span, head: str, top: float, say: Speech) -> None:
    """Head, register marks at both edges up to `top`, and the line to measure."""
    low, high = span
    ink(canvas, "text")
    canvas.setFont("Plex-Bold", 11)
    canvas.drawString(10 * mm, HEIGHT - 11 * mm, head)
    canvas.setFont("Plex", 8)
    canvas.drawString(10 * mm, HEIGHT - 16 * mm, say("strip.pages.how", start=Figure(low, "long_length"), end=Figure(high, "long_length")))
    for at in (low, high):
        x = LEFT + (at - low) * mm
        ink(canvas, "outside")
        canvas.setLineWidth(0.8)
        canvas.line(x, FOOT - 6 * mm, x, top + 3 * mm)
        canvas.line(x - 3 * mm, FOOT - 3 * mm, x + 3 * mm, FOOT - 3 * mm)
    ink(canvas, "note")
    canvas.setLineWidth(0.6)
    canvas.line(LEFT, 9 * mm, LEFT + CHECK_MM * mm, 9 * mm)
    for x in (LEFT, LEFT + CHECK_MM * mm):
        canvas.line(x, 7.5 * mm, x, 10.5 * mm)
    canvas.drawString(LEFT + CHECK_MM * mm + 4 * mm, 8 * mm, say("strip.pages.check", length=Figure(CHECK_MM, "length")))


def ink(canvas: Any, style: str) -> None:
    """Draw in a colour of the palette on paper."""
    canvas.setFillColor(HexColor(PAPER[style]))
    canvas.setStrokeColor(HexColor(PAPER[style]))
