"""Test pieces at their true size: a strip to lay beside the weld and chalk from, each piece with its stamp, stops and tacks shown through."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from reportlab.lib.units import mm

from banister.core.fitup.places import Course
from banister.core.inspect.pieces import Cut, Zone
from banister.core.joint.joint import Joint
from banister.core.words import Speech
from banister.export.tiles import FOOT, LEFT, Span, frame, ink, pages, tiles

ROW, MARK, HATCH = 60 * mm, 6 * mm, 2.5 * mm


def piece_pages(joint: Joint, cuts: Sequence[Cut], zones: Sequence[Zone], course: Course, say: Speech) -> bytes:
    """The strip at 1:1 as the bytes of a PDF; round a pipe it is the outside unrolled from 12 o'clock, and a piece may run over its end."""
    head = say("testpieces.pages.head", joint=joint.id, name=joint.name)

    def draw(canvas: Any) -> None:
        laps = (-course.length_mm, 0.0, course.length_mm) if course.closed else (0.0,)
        for span, page_head in tiles(0.0, course.length_mm, head, say):
            ink(canvas, "note")
            canvas.setLineWidth(0.3)
            canvas.rect(LEFT, FOOT, (span[1] - span[0]) * mm, ROW, fill=0)
            for lap in laps:
                for zone in zones:
                    _zone(canvas, zone.from_mm + lap, zone.to_mm + lap, span)
                for cut in cuts:
                    _piece(canvas, joint, cut, cut.from_mm + lap, span, course, say)
            frame(canvas, span, page_head, FOOT + ROW, say)
            canvas.showPage()

    return pages(say("testpieces.pages.title", joint=joint.id), say, draw)


def _within(start: float, end: float, span: Span) -> tuple[float, float] | None:
    """The part of a stretch on a page, in points; None where there is none."""
    low, high = max(start, span[0]), min(end, span[1])
    return (LEFT + (low - span[0]) * mm, LEFT + (high - span[0]) * mm) if low < high else None


def _zone(canvas: Any, start: float, end: float, span: Span) -> None:
    """A stop, a tack or something seen, hatched along both edges of the strip."""
    found = _within(start, end, span)
    if found is None:
        return
    x0, x1 = found
    ink(canvas, "warning")
    canvas.setLineWidth(0.5)
    for foot in (FOOT, FOOT + ROW - MARK):
        canvas.rect(x0, foot, x1 - x0, MARK, fill=0)
        x = x0
        while x < x1:
            canvas.line(x, foot, min(x + MARK, x1), foot + min(MARK, x1 - x))
            x += HATCH


def _piece(canvas: Any, joint: Joint, cut: Cut, start: float, span: Span, course: Course, say: Speech) -> None:
    """A piece with its stamp upright, and where both cuts are."""
    found = _within(start, start + cut.width_mm, span)
    if found is None:
        return
    x0, x1 = found
    ink(canvas, "text")
    canvas.setLineWidth(1.2)
    for at, x in ((start, x0), (start + cut.width_mm, x1)):
        if span[0] - 1e-6 <= at <= span[1] + 1e-6:
            canvas.line(x, FOOT, x, FOOT + ROW)
            canvas.setFont("Plex-Cond-Medium", 8)
            canvas.drawCentredString(x, FOOT + ROW + 1.5 * mm, say.figure(course.figure(at % course.length_mm if course.closed else at)))
    canvas.saveState()
    canvas.translate((x0 + x1) / 2, FOOT + MARK + 3 * mm)
    canvas.rotate(90)
    canvas.setFont("Plex-Bold", min(11.0, max(0.6 * (x1 - x0), 5.0)))
    canvas.drawString(0, -3, say("testpieces.stamp", joint=joint.id, n=str(cut.number), piece=say(f"piece.{cut.piece.replace(' ', '_')}")))
    canvas.restoreState()
