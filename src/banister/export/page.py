"""What printed sheets share: their styles, lines, heads and tables, and the foot of every page."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

from banister import __version__
from banister.core.drawing.palette import PAPER
from banister.core.words import Speech
from banister.export.paper import PAPERS, Counted, escaped, register_fonts

THIN = ("LINEBELOW", (0, 0), (-1, -1), 0.25, HexColor("#b9c0c5"))
FLUSH = ("LEFTPADDING", (0, 0), (-1, -1), 0)
PLEX = ("FONTNAME", (0, 0), (-1, -1), "Plex")
_CLOSE = (("TOPPADDING", (0, 0), (-1, -1), 1), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5))
BODY = ParagraphStyle("body", fontName="Plex", bulletFontName="Plex", fontSize=8.5, leading=11)
BOLD = ParagraphStyle("bold", parent=BODY, fontName="Plex-Bold")
HEAD = ParagraphStyle("head", parent=BODY, fontName="Plex-Bold", fontSize=11, leading=14, spaceBefore=8, spaceAfter=3)
TITLE = ParagraphStyle("title", parent=BODY, fontName="Plex-Bold", fontSize=15, leading=19)
CELL = ParagraphStyle("cell", parent=BODY, fontName="Plex-Cond", fontSize=8, leading=9.5)


class Page:
    """The parts of a page of some width, in some words."""

    def __init__(self, say: Speech, width: float) -> None:
        self.say, self.width = say, width

    def line(self, text: str, style: ParagraphStyle = BODY) -> Paragraph:
        """A paragraph; nothing in it is markup."""
        return Paragraph(escaped(text), style)

    def head(self, key: str) -> Paragraph:
        """A heading, by the word `sheet.head.KEY`."""
        return self.line(self.say(f"sheet.head.{key}"), HEAD)

    def table(self, rows: Sequence[Sequence[str]], shares: Sequence[float], heads: Sequence[str] = (), styles: Sequence[Any] = (THIN, FLUSH)) -> Table:
        """A table over the whole width; its heads stand on every page it runs over."""
        cells = [[Paragraph(f"<b>{escaped(h)}</b>", CELL) for h in heads]] if heads else []
        cells += [[self.line(c, CELL) for c in row] for row in rows]
        table = Table(cells, colWidths=[self.width * s / sum(shares) for s in shares], repeatRows=1 if heads else 0)
        table.setStyle(TableStyle([PLEX, *styles, *_CLOSE]))
        return table


def printed(story: Callable[[float], list[Flowable]], title: str, foot: str, say: Speech, paper: str = "A4", subject: str = "") -> bytes:
    """A document as the bytes of a PDF: what `story` tells for a width, with a foot and "page x of y" on every page. Equal input gives equal bytes."""
    register_fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=PAPERS[paper], leftMargin=14 * mm, rightMargin=14 * mm, topMargin=13 * mm, bottomMargin=15 * mm,
        title=title, author="Banister " + __version__, subject=subject or None, invariant=1, lang=say("language.code"),
    )  # fmt: skip
    document.initialFontName = "Plex"

    def footed(canvas: Any, page: Any) -> None:
        canvas.saveState()
        canvas.setFont("Plex", 7.5)
        canvas.setFillColor(HexColor(PAPER["note"]))
        canvas.drawString(14 * mm, 8 * mm, foot)
        canvas.draw_page_of(page.pagesize[0] - 14 * mm, 8 * mm, say("sheet.page", page=str(canvas.getPageNumber()), pages="{}"))
        canvas.restoreState()

    document.build(story(document.width - 12), onFirstPage=footed, onLaterPages=footed, canvasmaker=Counted)
    return out.getvalue()
