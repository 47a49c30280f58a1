"""The stop strip at its true size: a row per pass, tiled over pages with register marks, to be laid beside the weld and chalked from."""

from __future__ import annotations

import textwrap
from typing import Any

from reportlab.lib.units import mm

from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.stops.of_plan import JointStops, PassStops, apart_of, stops_said
from banister.core.words import Speech
from banister.export.tiles import FOOT, HEIGHT, LEFT, TOP, Span, frame, ink, pages, tiles

LOWEST, HIGHEST = 4.0 * mm, 11.0 * mm
LETTERS = 150


def stop_pages(joint: Joint, plan: Plan, stops: JointStops, say: Speech) -> bytes:
    """The strip of every half at 1:1, then the list by pass, as the bytes of a PDF."""

    def draw(canvas: Any) -> None:
        for half, found in zip(stops.halves, stops.maps, strict=True):
            own = [p for p in stops.passes if p.half == half]
            name = say(f"cli.stops.half.{half}") if half else say("cli.stops.whole")
            head = f"{joint.id}  {joint.name}: {name}, {say('strip.apart', apart=apart_of(found.distance_mm))}"
            for span, page_head in tiles(min(p.start_mm for p in own), max(p.end_mm for p in own), head, say):
                _tile(canvas, own, span, page_head, say)
            _list(canvas, own, head, say)

    return pages(say("strip.pages.title", joint=joint.id), say, draw)


def _tile(canvas: Any, own: list[PassStops], span: Span, head: str, say: Speech) -> None:
    """One page: `span` of the weld in mm from its datum, root lowest."""
    row = min(max((HEIGHT - TOP - FOOT) / len(own), LOWEST), HIGHEST)
    for i, p in enumerate(own):
        foot = FOOT + i * row
        _lath(canvas, p, span, foot, foot + 0.86 * row, say)
    frame(canvas, span, head, FOOT + len(own) * row, say)
    canvas.showPage()


def _lath(canvas: Any, p: PassStops, span: Span, foot: float, top: float, say: Speech) -> None:
    low, high = span
    ink(canvas, "text")
    canvas.setFont("Plex-Bold", 9)
    canvas.drawRightString(LEFT - 3 * mm, (foot + top) / 2 - 3, str(p.number))
    start, end = max(p.start_mm, low), min(p.end_mm, high)
    if start >= end:
        return
    ink(canvas, "note")
    canvas.setLineWidth(0.3)
    canvas.rect(LEFT + (start - low) * mm, foot, (end - start) * mm, top - foot, fill=0)
    ink(canvas, "text")
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
    lines, at = [stops_said(p, say) for p in own], HEIGHT - 22 * mm
    ink(canvas, "text")
    canvas.setFont("Plex-Bold", 11)
    canvas.drawString(10 * mm, HEIGHT - 11 * mm, head)
    canvas.setFont("Plex", 9)
    for line in lines:
        for part in textwrap.wrap(line, LETTERS, subsequent_indent="      "):
            if at < 14 * mm:
                canvas.showPage()
                canvas.setFont("Plex", 9)
                at = HEIGHT - 14 * mm
            canvas.drawString(10 * mm, at, part)
            at -= 5 * mm
    ink(canvas, "note")
    canvas.setFont("Plex", 8)
    canvas.drawString(10 * mm, 8 * mm, say("strip.note"))
    canvas.showPage()
