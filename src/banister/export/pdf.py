"""The pass sheet as PDF: head, section, pass table flowing on, windows, rods, cautions."""

from __future__ import annotations

import io
import math
from collections.abc import Mapping, Sequence
from importlib import resources
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import (
    Flowable, KeepTogether, PageBreak, Paragraph, SimpleDocTemplate, Table, TableStyle,
)  # fmt: skip

from banister import __version__
from banister.core.heat.advice import preheat_findings
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.spread import band_in_words, drawn, ends_in_words, spread_of
from banister.core.drawing.palette import PAPER, ROLE_LETTERS, WIDTHS
from banister.core.drawing.habit import ISO
from banister.core.drawing.section import section_drawing
from banister.core.drawing.symbol import manner_of, symbol_drawing
from banister.core.drawing.shapes import Drawing, Lines, Polygon, Text
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.joint.figures import figures_in_words, kind_in_words
from banister.core.plan.plan import PLANNER_VERSION, Plan
from banister.core.judge.check import OUTSIDE_, checked, tally
from banister.core.plan.notes import notes_of
from banister.core.plan.pull import gap_closing_in_words
from banister.core.plan.sequence import sequence_in_words
from banister.core.limits.windows import TITLES, Window
from banister.core.judge.coverage import Covered
from banister.core.rods.rod import EFFICIENCY
from banister.core.units import Units, clock, minutes

PAPERS = {"A4": A4, "Letter": LETTER}
FACES = {"Plex": "IBMPlexSans-Regular", "Plex-Bold": "IBMPlexSans-SemiBold", "Plex-Cond": "IBMPlexSansCondensed-Regular"}
PROCESS_NUMBERS = {"SMAW": "111", "GTAW": "141"}
CAUTIONS = (
    "Arc rays burn eyes and skin. Hot work: clear the place, keep a fire watch. Draw the fume away; in a confined space "
    "only with a permit and air.",
    "Preheated steel looks like cold steel. Grinding: glasses and face shield, disc rated for the speed.",
    "Strike the arc inside the groove only: a strike on the plate can fail the piece.",
)
LEAD = (
    "Planned with typical shop figures. Check against your qualified procedure: the procedure, the governing code and the "
    "inspector come first. This sheet qualifies nothing. Temperatures and waits are predicted: measure."
)
_THIN = ("LINEBELOW", (0, 0), (-1, -1), 0.25, HexColor("#b9c0c5"))
_PLEX = ("FONTNAME", (0, 0), (-1, -1), "Plex")
_FLUSH = ("LEFTPADDING", (0, 0), (-1, -1), 0)
_BODY = ParagraphStyle("body", fontName="Plex", bulletFontName="Plex", fontSize=8.5, leading=11)
_BOLD = ParagraphStyle("bold", parent=_BODY, fontName="Plex-Bold")
_HEAD = ParagraphStyle("head", parent=_BODY, fontName="Plex-Bold", fontSize=11, leading=14, spaceBefore=8, spaceAfter=3)
_TITLE = ParagraphStyle("title", parent=_BODY, fontName="Plex-Bold", fontSize=15, leading=19)
_CELL = ParagraphStyle("cell", parent=_BODY, fontName="Plex-Cond", fontSize=8, leading=9.5)


def pass_sheets(
    job: Job, plans: Sequence[tuple[Joint, Plan]], units: Units, paper: str = "A4", habit: str = ISO,
    covered: Mapping[str, Sequence[Covered]] | None = None,
) -> bytes:
    """One sheet per joint, as the bytes of one PDF; equal input gives equal bytes.

    `covered` holds the lines of procedure and welder by joint id; `habit` is the drawing's.
    """  # fmt: skip
    register_fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=PAPERS[paper], leftMargin=14 * mm, rightMargin=14 * mm, topMargin=13 * mm, bottomMargin=15 * mm,
        title=f"Pass sheet: {job.name}", author="Banister " + __version__, invariant=1,
    )  # fmt: skip
    story: list[Flowable] = []
    for i, (joint, plan) in enumerate(plans):
        if i:
            story.append(PageBreak())
        story += _sheet(job, joint, plan, units, document.width - 12, habit, (covered or {}).get(joint.id, ()))
    document.initialFontName = "Plex"
    document.build(story, onFirstPage=_foot, onLaterPages=_foot)
    return out.getvalue()


def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer, once."""
    fonts = resources.files("banister") / "data" / "fonts"
    for name, file in FACES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(fonts / f"{file}.ttf")))


def _foot(canvas: Any, document: Any) -> None:
    canvas.saveState()
    canvas.setFont("Plex", 7.5)
    canvas.setFillColor(HexColor(PAPER["note"]))
    canvas.drawString(14 * mm, 8 * mm, f"Banister {__version__}, planner {PLANNER_VERSION}. Check against your qualified procedure.")
    canvas.drawRightString(document.pagesize[0] - 14 * mm, 8 * mm, f"page {canvas.getPageNumber()}")
    canvas.restoreState()


def _sheet(
    job: Job, joint: Joint, plan: Plan, units: Units, width: float, habit: str, covered: Sequence[Covered]
) -> list[Flowable]:
    story: list[Flowable] = [Paragraph(_text(f"{joint.id}  {joint.name}"), _TITLE), _head(job, joint, plan, units, width)]
    if not plan.feasible:
        story.append(Paragraph("No plan", _HEAD))
        story += [Paragraph(_text(units.sentence(f"{f.text}. {f.remedy}")), _BODY) for f in plan.reasons]
        return [*story, *_cautions()]
    judged = checked(joint, plan)
    outside = frozenset(line.pass_id for line in judged if line.verdict == OUTSIDE_ and line.pass_id)
    symbol = _Section(symbol_drawing(joint, units, habit), 62 * mm, 26 * mm, f"Welding symbol, {manner_of(habit)}")
    section = section_drawing(joint, plan, units, outside, habit)
    story += [symbol, _Section(section, width, 86 * mm), _key(), _totals(plan, units)]
    story += _order(plan)
    if closing := gap_closing_in_words(joint, units):
        story.append(Paragraph(_text(closing), _BODY))
    story += [Paragraph("Passes, in the order of welding", _HEAD), _passes(joint, plan, units, width)]
    story += _heat(joint, plan, units, width)
    notes = notes_of(plan)
    if notes:
        story.append(Paragraph("What to watch", _HEAD))
        story += [Paragraph(_text(units.sentence(note.text)), _BODY) for note in notes]
    counts = tally(judged)
    story.append(Paragraph("Limits of the procedure", _HEAD))
    story.append(Paragraph(f"{counts['inside']} figures inside, {counts['outside']} outside, {counts['not judged']} not judged "
                           "(no window set).", _BODY))  # fmt: skip
    story += [Paragraph(_text(f"Outside: {line.item}. {line.remedy}"), _BOLD) for line in judged if line.verdict == OUTSIDE_]
    story.append(_windows(joint, units, width))
    story += _coverage(covered, units)
    story += [KeepTogether([Paragraph("Rods to take along", _HEAD), _rods(joint, plan, width)])]
    return [*story, *_cautions()]


def _text(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _processes(plan: Plan) -> str:
    """The processes of the plan with their numbers (ISO 4063) and efficiencies."""
    found = dict.fromkeys(p.process for p in plan.passes) or {"SMAW": None}
    return ", ".join(f"{name} ({PROCESS_NUMBERS[name]}), k = {EFFICIENCY[name]:g}" for name in found)


def _head(job: Job, joint: Joint, plan: Plan, units: Units, width: float) -> Table:
    place = joint.place
    size = (f"pipe {units.with_unit(joint.pipe_od_mm)} OD" if joint.form == "pipe" else f"length {units.with_unit(joint.length_mm, 0)}")
    progression = {"up": "upward", "down": "downward"}[joint.progression] if place.has_progression else "none"
    revision = f", revision {joint.procedure_revision}" if joint.procedure_revision else ""
    cells = [
        ("Job", job.name, "Procedure", (joint.procedure or "not set") + revision),
        ("Site", job.site or "not set", "Process", _processes(plan)),
        ("Drawing", joint.drawing or "not set", "Base metal", joint.base_metal or "not set"),
        ("Joint", kind_in_words(joint), "Position",
         f"{joint.position} ({place.iso(joint.progression)}), {place.title}"),
        ("Thickness", f"{units.with_unit(joint.thickness_mm)}, {size}", "Progression", progression),
        ("Preparation", figures_in_words(joint, units), "Answer", plan.answer + (", taken" if job.taken_for(joint) is not None else ", not taken yet")),
        ("Prepared by", job.prepared_by or "____________________", "Checked by", job.checked_by or "____________________"),
    ]  # fmt: skip
    rows = [[Paragraph(_text(c), _BOLD if i % 2 == 0 else _BODY) for i, c in enumerate(row)] for row in cells]
    table = Table(rows, colWidths=[0.14 * width, 0.38 * width, 0.14 * width, 0.34 * width])
    table.setStyle(TableStyle([_PLEX,
        ("LINEBELOW", (0, 0), (-1, -1), 0.3, HexColor("#b9c0c5")), ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
    ]))  # fmt: skip
    return table


class _Section(Flowable):  # type: ignore[misc]  # reportlab ships no types
    """The section drawing, as large as fits, with its scale beneath."""

    def __init__(self, drawing: Drawing, width: float, height: float, caption: str = "") -> None:
        super().__init__()
        self.caption = caption
        x0, y0, x1, y1 = drawing.box
        self.drawing, self.k = drawing, min(width / (x1 - x0), height / (y1 - y0))
        self.width, self.height = width, self.k * (y1 - y0) + 12

    def _scale(self) -> str:
        melted = any(shape.style == "melted" for shape in self.drawing.shapes)
        return f"Scale {scale_words(self.k / mm)}." + (" Broken line: typical melted margin, not computed." if melted else "")

    def draw(self) -> None:
        """Paint the display list."""
        canvas, (x0, y0, x1, _) = self.canv, self.drawing.box
        left = (self.width - self.k * (x1 - x0)) / 2

        def at(point: tuple[float, float]) -> tuple[float, float]:
            return left + (point[0] - x0) * self.k, 12 + (point[1] - y0) * self.k

        for shape in self.drawing.shapes:
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
                canvas.setLineWidth(0.6 * WIDTHS[shape.style])
                canvas.setLineCap(1)
                canvas.lines([(*at(a), *at(b)) for a, b in shape.segments])
            elif isinstance(shape, Text):
                _draw_text(canvas, shape, at(shape.at))
        canvas.setFont("Plex", 7.5)
        canvas.setFillColor(HexColor(PAPER["note"]))
        canvas.drawCentredString(self.width / 2, 2, self.caption or self._scale())


def scale_words(ratio: float) -> str:
    """A scale as a draughtsman writes it.

    >>> scale_words(4.02), scale_words(0.5)
    ('4 : 1', '1 : 2')
    """
    if ratio >= 1:
        return f"{ratio:.1f}".rstrip("0").rstrip(".") + " : 1"
    return "1 : " + f"{1 / ratio:.1f}".rstrip("0").rstrip(".")


def _draw_text(canvas: Any, shape: Text, at: tuple[float, float]) -> None:
    size = 0.68 * shape.size
    canvas.setFont("Plex-Bold" if shape.style == "number" else "Plex", size)
    canvas.setFillColor(HexColor(PAPER[shape.style]))
    y = at[1] - 0.35 * size + 0.7 * shape.lift
    draw = {"middle": canvas.drawCentredString, "start": canvas.drawString, "end": canvas.drawRightString}
    draw[shape.anchor](at[0], y, shape.text)


def _key() -> Paragraph:
    names = {"R": "root", "H": "hot pass", "F": "fill", "C": "cap"}
    return Paragraph("Letters: " + ", ".join(f"{letter} {names[letter]}" for letter in ROLE_LETTERS.values() if letter in names)
                     + ". Heavy line: end of a layer.", _BODY)  # fmt: skip


def _totals(plan: Plan, units: Units) -> Paragraph:
    cap = plan.cap
    height = "" if cap is None else f" Cap {units.length(cap.min)} to {units.with_unit(cap.max)} over flush."
    return Paragraph(
        f"<b>{len(plan.passes)} passes</b> in {plan.layers} layers, weld metal {plan.weld_metal_kg:.2f} kg, arc time "
        f"{minutes(plan.arc_time_s)}, with cleaning and rod changes {minutes(plan.total_time_s)}, {plan.stops} stops inside "
        f"passes, greatest arc energy {units.energy(plan.peak_arc_energy_kj_mm)} {units.energy_unit}.{height}", _BODY)  # fmt: skip


def _coverage(covered: Sequence[Covered], units: Units) -> list[Flowable]:
    """What the procedure document and the welder's qualification say of the joint, one line a variable."""
    if not covered:
        return []
    lines = [
        f"<b>{line.verdict}</b> {_text(line.item)}: {_text(units.sentence(line.value))}; allowed {_text(units.sentence(line.allowed))}"
        + (f" ({_text(line.rule)})" if line.rule else "") + (f". {_text(line.remedy)}" if line.remedy else "") for line in covered
    ]  # fmt: skip
    return [Paragraph("Procedure and welder", _HEAD), *(Paragraph(line, _BODY) for line in lines)]


def _order(plan: Plan) -> list[Flowable]:
    """The work of several sides step by step."""
    if len(plan.sequence) < 2:
        return []
    return [Paragraph("Order of the sides", _HEAD), Paragraph(_text("; ".join(sequence_in_words(plan)) + "."), _BODY)]


def _passes(joint: Joint, plan: Plan, units: Units, width: float) -> Table:
    place = joint.place
    arrow = " " + joint.progression if place.has_progression else ""
    heads = ("Pass", "Role", "Rod", "A", "V", "Polarity", "Bead", f"Area {units.area_unit}", f"Run-out {units.length_unit}",
             f"Travel {units.speed_unit}", f"E {units.energy_unit}", f"Q {units.energy_unit}", "Rods", "Arc time")  # fmt: skip
    rows: list[list[Any]] = [[Paragraph(f"<b>{h}</b>", _CELL) for h in heads]]
    for p in plan.passes:
        cells = (
            f"{ROLE_LETTERS[p.role]}{p.number}", p.role, p.rod.id, f"{p.amps:.0f}", f"{p.volts:.1f}", p.rod.polarity,
            p.technique + arrow, units.area(p.area_mm2), units.long_length(p.run_out_mm), units.speed(p.travel_mm_min),
            units.energy(p.arc_energy_kj_mm), units.energy(p.heat_input_kj_mm), str(p.rod_count), minutes(p.arc_time_s),
        )  # fmt: skip
        rows.append([Paragraph(c, _CELL) for c in cells])
    shares = (5, 5, 14, 5, 5, 8, 10, 7, 8, 8, 6, 6, 5, 10)
    table = Table(rows, colWidths=[width * s / sum(shares) for s in shares], repeatRows=1)
    layer_ends = [i + 1 for i, p in enumerate(plan.passes[:-1]) if plan.passes[i + 1].layer != p.layer]
    table.setStyle(TableStyle([_PLEX,
        ("LINEBELOW", (0, 0), (-1, 0), 1.0, HexColor("#11181c")),
        ("LINEBELOW", (0, 1), (-1, -1), 0.25, HexColor("#b9c0c5")),
        *(("LINEBELOW", (0, i), (-1, i), 0.9, HexColor("#59636b")) for i in layer_ends),
        ("TOPPADDING", (0, 0), (-1, -1), 1), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
        ("LEFTPADDING", (0, 0), (-1, -1), 1), ("RIGHTPADDING", (0, 0), (-1, -1), 1),
    ]))  # fmt: skip
    return table


def _heat(joint: Joint, plan: Plan, units: Units, width: float) -> list[Flowable]:
    """Preheat, interpass, and every pass in time with its wait and cooling time; where there is no schedule, why."""
    schedule = schedule_of(joint, plan)
    limits = schedule.limits
    preheat = f"preheat at least {limits.preheat_c:g} \N{DEGREE SIGN}C" if limits.preheat_c > -270 else "preheat <b>not set</b>"
    interpass = f"interpass at most {limits.interpass_c:g} \N{DEGREE SIGN}C" + ("" if limits.set_ else " (typical, <b>not set</b> in the procedure)")
    heat = joint.heat
    said = [f"Limits: {preheat}, {interpass}; read {units.with_unit(heat.measure_at_mm)} from the groove's edge. Air {heat.air_c:g} \N{DEGREE SIGN}C."]
    if schedule.feasible:
        spread = spread_of(joint, plan, schedule, drawn())
        said.append(f"Ends {clock(schedule.end_s)} after the first arc (nine of ten: {ends_in_words(spread)}); waits "
                    f"{minutes(schedule.waiting_s)}, reheats {minutes(schedule.reheating_s)}. Predicted: measure before every pass.")  # fmt: skip
    found = [Paragraph(text, _BODY) for text in said]
    remarks = (*schedule.findings, *preheat_findings(joint, plan))
    found += [Paragraph(_text(units.sentence(f"{f.text[:1].upper()}{f.text[1:]}. {f.remedy}")), _BODY) for f in remarks]
    table = [_schedule(schedule, plan, spread.wait_bands_s, width)] if schedule.feasible else []
    return [KeepTogether([Paragraph("Heat", _HEAD), *found]), *table]


def _schedule(schedule: Schedule, plan: Plan, bands: Sequence[tuple[float, float]], width: float) -> Table:
    passes = {p.id: p for p in plan.passes}
    heads = ("Pass", "Starts after", "Wait first", "Nine of ten", "Reheat", "Joint then \N{DEGREE SIGN}C", "Read at", "t8/5 s")
    rows = [[Paragraph(f"<b>{h}</b>", _CELL) for h in heads]]
    for s, band in zip(schedule.passes, bands, strict=True):
        p = passes[s.pass_id]
        wait, reheat = (minutes(v) if v >= 1 else "" for v in (s.wait_s, s.reheat_s))
        t85 = "" if s.t85 is None else f"{s.t85.seconds:.1f} ({s.t85.regime})"
        cells = (f"{ROLE_LETTERS[p.role]}{p.number}", clock(s.start_s), wait, band_in_words(band), reheat, f"{s.temp_c:.0f}",
                 s.hottest_station, t85)  # fmt: skip
        rows.append([Paragraph(_text(c), _CELL) for c in cells])
    table = Table(rows, colWidths=[width * s for s in (0.08, 0.13, 0.14, 0.14, 0.11, 0.14, 0.14, 0.12)], repeatRows=1)
    table.setStyle(TableStyle([_PLEX, _THIN, _FLUSH, ("TOPPADDING", (0, 0), (-1, -1), 1), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5)]))
    return table


def window_words(window: Window, units: Units) -> tuple[str, str, str, str]:
    """A window as quantity, what it covers, bounds and unit."""
    covers = " ".join(w for w in (window.role if window.role != "*" else "all passes", window.rod if window.rod != "*" else "") if w)
    low = "" if window.low is None else units.quantity(window.quantity, window.low)
    high = "" if window.high is None else units.quantity(window.quantity, window.high)
    bounds = f"{low} to {high}" if low and high else (f"at least {low}" if low else f"at most {high}")
    return TITLES[window.quantity], covers, bounds, units.quantity_unit(window.quantity)


def _windows(joint: Joint, units: Units, width: float) -> Flowable:
    rows = [list(window_words(w, units)) for w in joint.windows]
    named = {w.quantity for w in joint.windows}
    missing = [title for quantity, title in TITLES.items() if quantity not in named]
    if {"arc_energy", "heat_input"} & named:
        missing = [m for m in missing if m not in (TITLES["arc_energy"], TITLES["heat_input"])]
    rows += [[title, "", "not set", ""] for title in missing]
    table = Table([[Paragraph(_text(c), _CELL) for c in row] for row in rows], colWidths=[0.3 * width, 0.3 * width, 0.28 * width, 0.12 * width])
    table.setStyle(TableStyle([_PLEX, _THIN, ("TOPPADDING", (0, 0), (-1, -1), 1),
                               ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))  # fmt: skip
    return table


def _rods(joint: Joint, plan: Plan, width: float) -> Table:
    spare = joint.choices.spare_rods_percent
    kept = {p.rod.id: p.rod for p in plan.passes}
    rows = [[Paragraph(f"<b>{h}</b>", _CELL) for h in ("Rod", "Planned", f"With {spare:g} % spare", "Core mass kg", "Polarity", "Figures")]]
    for rod_id, count in plan.rods_by_consumable().items():
        rod = kept[rod_id]
        cells = (rod_id, str(count), str(math.ceil(count * (1 + spare / 100) - 1e-9)), f"{count * rod.rod_g / 1000:.2f}", rod.polarity, rod.origin)
        rows.append([Paragraph(_text(c), _CELL) for c in cells])
    table = Table(rows, colWidths=[width * s for s in (0.2, 0.11, 0.16, 0.13, 0.12, 0.28)])
    table.setStyle(TableStyle([_PLEX, _THIN, _FLUSH]))
    return table


def _cautions() -> list[Flowable]:
    lines = [Paragraph(text, _BODY) for text in CAUTIONS]
    return [KeepTogether([Paragraph("Before the first arc", _HEAD), Paragraph(LEAD, _BOLD), *lines])]
