"""The board for the wall: one page, a row per joint in time, and the work list."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from banister.core.drawing.charts.board import BoardView, board_chart
from banister.core.drawing.palette import PAPER
from banister.core.heat.board import Board, Jobs, board_said, work_list
from banister.core.heat.shift import Shift
from banister.core.words import Speech
from banister.export.paper import paint, register_fonts

MARGIN, TOP = 12 * mm, 20 * mm
CHART_PX, ROW_PX, NAMES_PX = 1080.0, 50.0, 150.0
SIZES = (10.0, 9.0, 8.0, 7.5, 7.0, 6.5, 6.0, 5.5)
PITCH, GAP = 1.32, 14.0
FOOT, SAID_PITCH, MORE_PITCH = 7 * mm, 3.8 * mm, 5 * mm


def board_page(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> bytes:
    """The page's bytes; a long list gets smaller print, and what does not fit is said."""
    joints, lines = [joint for joint, _ in jobs], [line for line, _ in work_list(jobs, board, shift, say)]
    said = [*board_said(board, shift, say), say("board.predicted")]
    register_fonts()
    out = io.BytesIO()
    width, height = landscape(A4)
    canvas = Canvas(out, pagesize=(width, height), invariant=1)
    canvas.setTitle(say("board.title"))
    canvas.setFont("Plex-Bold", 15)
    canvas.drawString(MARGIN, height - 13 * mm, say("board.of", joints=", ".join(j.id for j in joints)))
    drawing = board_chart(joints, board, shift, say, BoardView(CHART_PX, ROW_PX, NAMES_PX)).drawing
    k = (width - 2 * MARGIN) / CHART_PX
    top = height - TOP - k * drawing.box[3]
    paint(canvas, drawing, MARGIN, top, k, k)
    _list(canvas, lines, top - 4 * mm, width, floor=FOOT + len(said) * SAID_PITCH, say=say)
    for i, line in enumerate(reversed(said)):
        canvas.setFillColor(HexColor(PAPER["text"]))
        canvas.setFont("Plex", min(8.0, 8.0 * (width - 2 * MARGIN) / stringWidth(line, "Plex", 8.0)))
        canvas.drawString(MARGIN, FOOT + i * SAID_PITCH, line)
    canvas.save()
    return out.getvalue()


def _list(canvas: Canvas, lines: Sequence[str], top: float, width: float, floor: float, say: Speech) -> None:
    """The list in as many columns as its longest line leaves, in the largest print that holds all of it."""
    high, wide = top - floor - MORE_PITCH, width - 2 * MARGIN
    for size in SIZES:
        column = max(stringWidth(line, "Plex", size) for line in lines) + GAP
        columns, per_column = max(1, int((wide + GAP) / column)), max(1, int(high / (PITCH * size)))
        if columns * per_column >= len(lines):
            break
    canvas.setFillColor(HexColor(PAPER["number"]))
    canvas.setFont("Plex", size)
    shown = lines[: per_column * columns]
    for i, line in enumerate(shown):
        canvas.drawString(MARGIN + (i // per_column) * column, top - (i % per_column) * PITCH * size, line)
    if len(lines) > len(shown):
        canvas.drawString(MARGIN, floor + 1 * mm, say("board.more", n=len(lines) - len(shown)))
