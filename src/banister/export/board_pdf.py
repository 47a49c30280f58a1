"""The board for the wall: one page, a row per joint in time, and the list to walk by."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from banister.core.drawing.palette import PAPER
from banister.core.heat.board import Board
from banister.core.joint.joint import Joint
from banister.export.pdf import register_fonts

LEFT, RIGHT, TOP = 34 * mm, 12 * mm, 22 * mm
ROW = 11 * mm
MOST_COLUMNS = 4


def board_page(joints: Sequence[Joint], board: Board, lines: Sequence[str], summary: Sequence[str], start_s: float) -> bytes:
    """The page's bytes; a long walking list gets smaller print, and what does not fit is said."""
    register_fonts()
    out = io.BytesIO()
    width, height = landscape(A4)
    canvas = Canvas(out, pagesize=(width, height), invariant=1)
    canvas.setTitle("Board")
    canvas.setFont("Plex-Bold", 15)
    canvas.drawString(12 * mm, height - 13 * mm, "Board: " + ", ".join(j.id for j in joints))
    k = (width - LEFT - RIGHT) / max(board.end_s, 1.0)
    rows = {joint.id: height - TOP - (i + 1) * ROW for i, joint in enumerate(joints)}
    _rows(canvas, joints, rows, width)
    _path(canvas, board, rows, k)
    foot = min(rows.values()) - 6 * mm
    _hours(canvas, board, k, height - TOP, foot, start_s)
    _list(canvas, lines, foot - 8 * mm, width)
    canvas.setFont("Plex", 8)
    for i, line in enumerate(summary):
        canvas.drawString(12 * mm, 8 * mm - i * 3.6 * mm + 3 * mm, line)
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
        canvas.setFont("Plex", 6.5)
        canvas.drawRightString(LEFT - 3 * mm, y, joint.name[:24])


def _path(canvas: Canvas, board: Board, rows: dict[str, float], k: float) -> None:
    """Balusters in time, and the welder's way from one to the next."""
    before: tuple[float, float] | None = None
    for slot in board.slots:
        y, x0, x1 = rows[slot.joint_id], LEFT + slot.started.start_s * k, LEFT + slot.started.end_s * k
        canvas.setFillColor(HexColor(PAPER["bead.fill"]))
        canvas.setStrokeColor(HexColor(PAPER["bead.edge"]))
        canvas.setLineWidth(0.6)
        canvas.rect(x0, y, max(x1 - x0, 0.8), 7 * mm, stroke=1, fill=1)
        if x1 - x0 > 9:
            canvas.setFillColor(HexColor(PAPER["number"]))
            canvas.setFont("Plex-Bold", 7)
            canvas.drawCentredString((x0 + x1) / 2, y + 2.6 * mm, slot.started.pass_id.removeprefix("p"))
        if before is not None and before[1] != y:
            canvas.setStrokeColor(HexColor(PAPER["handle"]))
            canvas.setLineWidth(0.8)
            canvas.line(before[0], before[1] + 3.5 * mm, x0, y + 3.5 * mm)
        before = (x1, y)


def _hours(canvas: Canvas, board: Board, k: float, top: float, foot: float, start_s: float) -> None:
    canvas.setStrokeColor(HexColor("#b9c0c5"))
    canvas.setLineWidth(0.3)
    canvas.setFont("Plex", 7)
    canvas.setFillColor(HexColor(PAPER["note"]))
    step = 3600.0 if board.end_s < 12 * 3600 else 4 * 3600.0
    at = (-start_s) % step
    while at <= board.end_s:
        x = LEFT + at * k
        canvas.line(x, top, x, foot)
        canvas.drawCentredString(x, foot - 3.5 * mm, f"{int((at + start_s) // 3600)}:{int((at + start_s) % 3600 // 60):02d}")
        at += step


def _list(canvas: Canvas, lines: Sequence[str], top: float, width: float) -> None:
    canvas.setFillColor(HexColor(PAPER["number"]))
    size, pitch = 7.5, 3.5 * mm
    per_column = max(1, int((top - 16 * mm) / pitch))
    shown = lines[: per_column * MOST_COLUMNS]
    column = (width - 24 * mm) / MOST_COLUMNS
    canvas.setFont("Plex", size)
    for i, line in enumerate(shown):
        canvas.drawString(12 * mm + (i // per_column) * column, top - (i % per_column) * pitch, line[:52])
    if len(lines) > len(shown):
        canvas.drawString(12 * mm, 13 * mm, f"and {len(lines) - len(shown)} more: banister board prints them all")
