"""The board for the wall: one page, a row per joint in time, and the list to walk by."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from banister.core.drawing.palette import PAPER
from banister.core.heat.board import Board, Jobs, board_said, work_list
from banister.core.heat.shift import Shift
from banister.core.joint.joint import Joint
from banister.core.words import Speech
from banister.export.paper import register_fonts

LEFT, RIGHT, TOP = 34 * mm, 12 * mm, 22 * mm
ROW = 11 * mm
SIZES = (10.0, 9.0, 8.0, 7.5, 7.0, 6.5, 6.0, 5.5)
PITCH, GAP = 1.32, 14.0
FOOT, SAID_PITCH, MORE_PITCH = 7 * mm, 3.8 * mm, 5 * mm


def board_page(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> bytes:
    """The page's bytes; a long walking list gets smaller print, and what does not fit is said."""
    joints, lines = [joint for joint, _ in jobs], work_list(jobs, board, shift, say)
    said = [*board_said(board, shift, say), *([say("board.key.paper")] if shift.welders > 1 else []), say("board.predicted")]
    register_fonts()
    out = io.BytesIO()
    width, height = landscape(A4)
    canvas = Canvas(out, pagesize=(width, height), invariant=1)
    canvas.setTitle(say("board.title"))
    canvas.setFont("Plex-Bold", 15)
    canvas.drawString(12 * mm, height - 13 * mm, say("board.of", joints=", ".join(j.id for j in joints)))
    k = (width - LEFT - RIGHT) / max(board.end_s, 1.0)
    rows = {joint.id: height - TOP - (i + 1) * ROW for i, joint in enumerate(joints)}
    foot = min(rows.values()) - 6 * mm
    _hours(canvas, board, k, height - TOP, foot, shift, say)
    _rows(canvas, joints, rows, width)
    _path(canvas, board, rows, k)
    if shift.lasts_s < board.end_s:
        _end_of_shift(canvas, LEFT + shift.lasts_s * k, height - TOP, foot, say)
    _list(canvas, lines, foot - 9 * mm, width, floor=FOOT + len(said) * SAID_PITCH, say=say)
    for i, line in enumerate(reversed(said)):
        canvas.setFont("Plex", min(8.0, 8.0 * (width - 24 * mm) / stringWidth(line, "Plex", 8.0)))
        canvas.drawString(12 * mm, FOOT + i * SAID_PITCH, line)
    canvas.save()
    return out.getvalue()


def _rows(canvas: Canvas, joints: Sequence[Joint], rows: dict[str, float], width: float) -> None:
    canvas.setStrokeColor(HexColor("#11181c"))
    canvas.setLineWidth(1.2)
    for joint in joints:
        y = rows[joint.id]
        canvas.line(LEFT, y, width - RIGHT, y)
        canvas.setFont("Plex-Bold", 9)
        canvas.drawRightString(LEFT - 3 * mm, y + 3 * mm, joint.id)
        room = LEFT - 8 * mm
        canvas.setFont("Plex", min(7.0, 7.0 * room / max(stringWidth(joint.name, "Plex", 7.0), 1.0)))
        canvas.drawRightString(LEFT - 3 * mm, y, joint.name)


def _path(canvas: Canvas, board: Board, rows: dict[str, float], k: float) -> None:
    """Balusters in time, and each welder's way from one to the next; the second welder's are white, the line broken."""
    before: dict[int, tuple[float, float]] = {}
    taken: dict[float, float] = {}
    for slot in board.in_time:
        y, x0, x1 = rows[slot.joint_id], LEFT + slot.started.start_s * k, LEFT + slot.started.end_s * k
        canvas.setFillColor(HexColor(PAPER["bead.fill"] if slot.welder == 1 else "#ffffff"))
        canvas.setStrokeColor(HexColor(PAPER["bead.edge"]))
        canvas.setLineWidth(0.6)
        canvas.rect(x0, y, max(x1 - x0, 0.8), 7 * mm, stroke=1, fill=1)
        number, middle = str(slot.number), (x0 + x1) / 2
        inside = x1 - x0 > 9
        size = 7.0 if inside else 5.5
        half = stringWidth(number, "Plex-Bold", size) / 2
        if inside or middle - half > taken.get(y, 0.0):
            canvas.setFillColor(HexColor(PAPER["number"]))
            canvas.setFont("Plex-Bold", size)
            canvas.drawCentredString(middle, y + (2.6 if inside else 7.6) * mm, number)
            taken[y] = taken.get(y, 0.0) if inside else middle + half + 1.5
        if slot.welder in before and before[slot.welder][1] != y:
            left, at = before[slot.welder]
            canvas.setStrokeColor(HexColor(PAPER["handle"]))
            canvas.setLineWidth(0.8)
            canvas.setDash(() if slot.welder == 1 else (3, 2))
            canvas.line(left, at + 3.5 * mm, x0, y + 3.5 * mm)
            canvas.setDash()
        before[slot.welder] = (x1, y)


def _hours(canvas: Canvas, board: Board, k: float, top: float, foot: float, shift: Shift, say: Speech) -> None:
    canvas.setStrokeColor(HexColor("#b9c0c5"))
    canvas.setLineWidth(0.3)
    canvas.setFont("Plex", 7)
    canvas.setFillColor(HexColor(PAPER["note"]))
    step = 3600.0 if board.end_s < 12 * 3600 else 4 * 3600.0
    at = (-shift.begins_s) % step
    while at <= board.end_s:
        x = LEFT + at * k
        canvas.line(x, top, x, foot)
        canvas.drawCentredString(x, foot - 3.5 * mm, shift.clock(at, say))
        at += step


def _end_of_shift(canvas: Canvas, x: float, top: float, foot: float, say: Speech) -> None:
    canvas.setStrokeColor(HexColor(PAPER["number"]))
    canvas.setLineWidth(1.6)
    canvas.line(x, top + 4 * mm, x, foot)
    canvas.setFont("Plex-Bold", 8)
    canvas.setFillColor(HexColor(PAPER["number"]))
    canvas.drawRightString(x - 1.5 * mm, top + 2 * mm, say("board.end_of_shift"))


def _list(canvas: Canvas, lines: Sequence[str], top: float, width: float, floor: float, say: Speech) -> None:
    """The list in as many columns as its longest line leaves, in the largest print that holds all of it."""
    high, wide = top - floor - MORE_PITCH, width - 24 * mm
    for size in SIZES:
        column = max(stringWidth(line, "Plex", size) for line in lines) + GAP
        columns, per_column = max(1, int((wide + GAP) / column)), max(1, int(high / (PITCH * size)))
        if columns * per_column >= len(lines):
            break
    canvas.setFillColor(HexColor(PAPER["number"]))
    canvas.setFont("Plex", size)
    shown = lines[: per_column * columns]
    for i, line in enumerate(shown):
        canvas.drawString(12 * mm + (i // per_column) * column, top - (i % per_column) * PITCH * size, line)
    if len(lines) > len(shown):
        canvas.drawString(12 * mm, floor + 1 * mm, say("board.more", n=len(lines) - len(shown)))
