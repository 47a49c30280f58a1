"""The stop strip at its true size: a row per pass, tiled over pages with register marks, to be laid beside the weld and chalked from."""

from __future__ import annotations

import io
import math
import textwrap
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from banister import __version__
from banister.core.drawing.palette import PAPER
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.stops.of_plan import JointStops, PassStops, apart_of, stops_said
from banister.core.words import Speech
from banister.export.paper import register_fonts

TILE_MM = 250.0
LEFT, TOP, FOOT = 28 * mm, 24 * mm, 20 * mm
LOWEST, HIGHEST = 4.0 * mm, 11.0 * mm
CHECK_MM, LETTERS = 100.0, 150


def stop_pages(joint: Joint, plan: Plan, stops: JointStops, say: Speech) -> bytes:
    """The strip of every half at 1:1, then the list by pass, as the bytes of a PDF."""
    register_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=landscape(A4), invariant=1, lang=say("language.code"))
    canvas.setTitle(say("strip.pages.title", joint=joint.id))
    canvas.setAuthor("Banister " + __version__)
    for half, found in zip(stops.halves, stops.maps, strict=True):
        own = [p for p in stops.passes if p.half == half]
        name = say(f"cli.stops.half.{half}") if half else say("cli.stops.whole")
        head = f"{joint.id}  {joint.name}: {name}, {say('strip.apart', apart=apart_of(found.distance_mm))}"
        start, end = min(p.start_mm for p in own), max(p.end_mm for p in own)
        tiles = max(1, math.ceil((end - start) / TILE_MM - 1e-6))
        for tile in range(tiles):
            low = start + tile * TILE_MM
            _tile(canvas, own, (low, min(low + TILE_MM, end)), f"{head} ({say('sheet.page', page=str(tile + 1), pages=str(tiles))})", say)
        _list(canvas, own, head, say)
    canvas.save()
    return out.getvalue()


def _tile(canvas: Any, own: list[PassStops], span: tuple[float, float], head: str, say: Speech) -> None:
    """One page: `span` of the weld in mm from its datum, root lowest."""
    height = landscape(A4)[1]
    low, high = span
    row = min(max((height - TOP - FOOT) / len(own), LOWEST), HIGHEST)
    _ink(canvas, "text")
    canvas.setFont("Plex-Bold", 11)
    canvas.drawString(10 * mm, height - 11 * mm, head)
    canvas.setFont("Plex", 8)
    canvas.drawString(10 * mm, height - 16 * mm, say("strip.pages.how", start=Figure(low, "long_length"), end=Figure(high, "long_length")))
    for i, p in enumerate(own):
        foot = FOOT + i * row
        _lath(canvas, p, span, foot, foot + 0.86 * row, say)
    top = FOOT + len(own) * row
    for at in (low, high):
        x = LEFT + (at - low) * mm
        _ink(canvas, "outside")
        canvas.setLineWidth(0.8)
        canvas.line(x, FOOT - 6 * mm, x, top + 3 * mm)
        canvas.line(x - 3 * mm, FOOT - 3 * mm, x + 3 * mm, FOOT - 3 * mm)
    _ink(canvas, "note")
    canvas.setLineWidth(0.6)
    canvas.line(LEFT, 9 * mm, LEFT + CHECK_MM * mm, 9 * mm)
    for x in (LEFT, LEFT + CHECK_MM * mm):
        canvas.line(x, 7.5 * mm, x, 10.5 * mm)
    canvas.drawString(LEFT + CHECK_MM * mm + 4 * mm, 8 * mm, say("strip.pages.check", length=Figure(CHECK_MM, "length")))
    canvas.showPage()


def _lath(canvas: Any, p: PassStops, span: tuple[float, float], foot: float, top: float, say: Speech) -> None:
    low, high = span
    _ink(canvas, "text")
    canvas.setFont("Plex-Bold", 9)
    canvas.drawRightString(LEFT - 3 * mm, (foot + top) / 2 - 3, str(p.number))
    start, end = max(p.start_mm, low), min(p.end_mm, high)
    if start >= end:
        return
    _ink(canvas, "note")
    canvas.setLineWidth(0.3)
    canvas.rect(LEFT + (start - low) * mm, foot, (end - start) * mm, top - foot, fill=0)
    _ink(canvas, "text")
    canvas.setLineWidth(1.2)
    for t in p.marks:
        if low - 1e-6 <= t <= high + 1e-6:
            x = LEFT + (t - low) * mm
            canvas.line(x, foot, x, top)
            canvas.setFont("Plex-Cond-Medium", 8)
            is_at_edge = t > high - 8.0
            draw = canvas.drawRightString if is_at_edge else canvas.drawString
            draw(x + (-1.2 if is_at_edge else 1.2) * mm, (foot + top) / 2 - 2.5, say.units.text("long_length", t))


def _list(canvas: Any, own: list[PassStops], head: str, say: Speech) -> None:
    """By pass: marks, part rods, what is left."""
    height = landscape(A4)[1]
    lines, at = [stops_said(p, say) for p in own], height - 22 * mm
    _ink(canvas, "text")
    canvas.setFont("Plex-Bold", 11)
    canvas.drawString(10 * mm, height - 11 * mm, head)
    canvas.setFont("Plex", 9)
    for line in lines:
        for part in textwrap.wrap(line, LETTERS, subsequent_indent="      "):
            if at < 14 * mm:
                canvas.showPage()
                canvas.setFont("Plex", 9)
                at = height - 14 * mm
            canvas.drawString(10 * mm, at, part)
            at -= 5 * mm
    _ink(canvas, "note")
    canvas.setFont("Plex", 8)
    canvas.drawString(10 * mm, 8 * mm, say("strip.note"))
    canvas.showPage()


def _ink(canvas: Any, style: str) -> None:
    canvas.setFillColor(HexColor(PAPER[style]))
    canvas.setStrokeColor(HexColor(PAPER[style]))
