"""The film as a strip of six frames on one page: how the joint grows and how warm it is, to be pinned up at the bench."""

from __future__ import annotations

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from banister.core.drawing.charts.film_picture import film_strip
from banister.core.drawing.palette import PAPER
from banister.core.heat.film import Film
from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.words import Speech
from banister.export.paper import paint, register_fonts

MARGIN, HEAD, FOOT = 12 * mm, 20 * mm, 16 * mm
STRIP_PX = 1080.0


def film_page(joint: Joint, plan: Plan, schedule: Schedule, film: Film, say: Speech) -> bytes:
    """The page's bytes."""
    register_fonts()
    out, (width, height) = io.BytesIO(), landscape(A4)
    canvas = Canvas(out, pagesize=(width, height), invariant=1)
    canvas.setTitle(say("film.strip.title", joint=joint.id))
    canvas.setFont("Plex-Bold", 15)
    canvas.drawString(MARGIN, height - 13 * mm, f"{joint.id}  {joint.name}"[:90])
    k = (width - 2 * MARGIN) / STRIP_PX
    drawing = film_strip(joint, plan, schedule, film, say, (STRIP_PX, (height - HEAD - FOOT) / k))
    paint(canvas, drawing, MARGIN, FOOT, k, k)
    canvas.setFillColor(HexColor(PAPER["text"]))
    canvas.setFont("Plex", 7.5)
    canvas.drawString(MARGIN, 8 * mm, say("film.strip.note"))
    canvas.save()
    return out.getvalue()
