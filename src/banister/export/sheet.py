"""The pass sheet as PDF: head, section, pass table flowing on, heat, windows, rods, cautions; all read off a `Sheet`."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, PageBreak, Paragraph, Table, TableStyle

from banister import __version__
from banister.core.drawing.charts.rail import RailView, rail
from banister.core.drawing.convention import ISO
from banister.core.drawing.section import pass_label, section_drawing
from banister.core.drawing.shapes import Lines
from banister.core.drawing.symbol import symbol_drawing
from banister.core.heat.line import HeatLine
from banister.core.heat.spread import band_said, ends_said
from banister.core.heat.thermal import assumed_said
from banister.core.joint.figures import figures_of
from banister.core.joint.joint import Joint
from banister.core.limits.windows import QUANTITIES, Window
from banister.core.plan.front import answer_said
from banister.core.plan.notes import notes_of
from banister.core.plan.pull import gap_closing_said
from banister.core.plan.sequence import between_said, sequence_said
from banister.core.plan.spending import Rates, spending_said, spent_on
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, WATCH, Figure
from banister.core.sheet import Sheet
from banister.core.units import clock, minutes
from banister.core.words import Speech, stopped
from banister.export.page import BODY, BOLD, FLUSH, PLEX, TITLE, Page, printed
from banister.export.paper import Bookmark, Drawn, escaped, scale_words

PROCESS_NUMBERS = {"SMAW": "111", "GTAW": "141"}
BLANK = "____________________"
RAIL_PX = (840.0, 260.0)
"""Size the rail is drawn for; it is then printed as wide as the page."""


def pass_sheets(
    sheets: Sequence[Sheet], say: Speech, paper: str = "A4", convention: str = ISO, on: str = "", deviations: Mapping[str, int] | None = None
) -> bytes:
    """One sheet per joint, as the bytes of one PDF; `on` is the day it is printed. Equal input gives equal bytes.

    `deviations` is how many of each joint's journal are open: they stand on its sheet.
    """
    title = say("sheet.title", job=sheets[0].heading.job) if sheets else ""
    versions = sorted({sheet.planner_version for sheet in sheets})
    foot = say("sheet.foot", program=__version__, planner=", ".join(versions)) + (f" {say('sheet.printed', on=on)}" if on else "")

    def story(width: float) -> list[Flowable]:
        found: list[Flowable] = []
        for i, sheet in enumerate(sheets):
            found += [*([PageBreak()] if i else []), *_Story(sheet, say, width, convention, (deviations or {}).get(sheet.joint.id, 0)).flowables()]
        return found

    return printed(story, title, foot, say, paper)


class _Story(Page):
    """The parts of one sheet, in their order."""

    def __init__(self, sheet: Sheet, say: Speech, width: float, convention: str, deviations: int) -> None:
        super().__init__(say, width)
        self.sheet, self.convention, self.deviations = sheet, convention, deviations
        self.joint, self.plan, self.judgement = sheet.joint, sheet.plan, sheet.judgement

    def flowables(self) -> list[Flowable]:
        """Everything that is printed of the joint."""
        title = f"{self.joint.id}  {self.joint.name}"
        story = [Bookmark(self.joint.id, title), self.line(title, TITLE), self._heading()]
        if self.deviations:
            story.append(self.line(self.say("sheet.deviations", n=self.deviations), BOLD))
        if not self.plan.feasible:
            return [*story, self.head("no_plan"), *(self.line(self.say.sentence(r)) for r in self.plan.reasons), *self._cautions()]
        story += [*self._drawings(), self._rail(), self._key(), self._totals(), *self._order()]
        if closing := gap_closing_said(self.joint, self.say):
            story.append(self.line(closing))
        story += [self.head("passes"), self._passes(), *self._heat(), *self._notes(), *self._limits(), *self._documents()]
        story += [KeepTogether([self.head("rods"), self._rods(), *(self.line(text) for text in self._spent())])]
        return [*story, *self._cautions()]

    # --- head and drawings --------------------------------------------------------------------
    def _heading(self) -> Table:
        say, joint, heading = self.say, self.joint, self.sheet.heading
        prep, piece, place, unset = joint.prep, joint.piece, joint.place, self.say("sheet.not_set")
        size = say("sheet.pipe", od=Figure(piece.pipe_od_mm, "length")) if piece.form == "pipe" else say(
            "sheet.length", length=Figure(piece.length_mm, "long_length"))  # fmt: skip
        progression = say(f"progression.{piece.progression}") if place.has_progression else say("progression.none")
        procedure = joint.procedure
        if joint.procedure_revision:
            procedure = say("sheet.revision", procedure=procedure or unset, revision=joint.procedure_revision)
        cells = (
            ("job", heading.job, "procedure", procedure or unset),
            ("site", heading.site or unset, "process", self._processes()),
            ("drawing", joint.drawing or unset, "base_metal", joint.metal.group or unset),
            ("joint", kind_said(joint, say), "position", f"{piece.position} ({place.iso(piece.progression)}), {say(place.word)}"),
            ("thickness", f"{say.sized('length', prep.thickness_mm)}, {size}", "progression", progression),
            ("preparation", figures_said(joint, say), "answer", self._answer()),
            ("prepared_by", heading.prepared_by or BLANK, "checked_by", heading.checked_by or BLANK),
        )
        rows = [[self.line(say(f"sheet.{c}") if i % 2 == 0 else c, BOLD if i % 2 == 0 else BODY) for i, c in enumerate(row)] for row in cells]
        table = Table(rows, colWidths=[s * self.width for s in (0.14, 0.38, 0.14, 0.34)])
        table.setStyle(TableStyle([PLEX, ("LINEBELOW", (0, 0), (-1, -1), 0.3, HexColor("#b9c0c5")), ("VALIGN", (0, 0), (-1, -1), "TOP"),
                                   ("TOPPADDING", (0, 0), (-1, -1), 1.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5), FLUSH]))  # fmt: skip
        return table

    def _answer(self) -> str:
        by = self.sheet.heading.prepared_by
        issued = self.say("sheet.issued.by" if by else "sheet.issued", on=self.sheet.issued_on, by=by) if self.sheet.is_issued else self.say("sheet.not_issued")
        return f"{answer_said(self.plan.answer, self.say)}, {issued}"

    def _processes(self) -> str:
        """The processes of the plan with their numbers (ISO 4063) and the k their heat input is reckoned with."""
        found = dict.fromkeys((p.process, p.efficiency) for p in self.plan.passes)
        return ", ".join(f"{name} ({PROCESS_NUMBERS.get(name, '')}), k = {k:g}" for name, k in found) or self.say("sheet.not_set")

    def _drawings(self) -> list[Flowable]:
        say = self.say
        symbol = Drawn(symbol_drawing(self.joint, say, self.convention), 62 * mm, 26 * mm, say("sheet.symbol", convention=say(f"symbol.{self.convention}")))
        section = Drawn(section_drawing(self.joint, self.plan, say, self.judgement.passes_outside, self.convention), self.width, 86 * mm, "")
        section.caption = say("sheet.scale", scale=scale_words(section.scale))
        if any(isinstance(shape, Lines) and shape.style == "melted" for shape in section.drawing.shapes):
            section.caption += " " + say("sheet.melted")
        return [symbol, section]

    def _rail(self) -> Drawn:
        """The handrail: on the clock where the heat is known, else in even steps."""
        on_clock = self.sheet.heat is not None and self.sheet.heat.schedule.feasible and bool(self.sheet.heat.times)
        view = RailView(RAIL_PX[0], RAIL_PX[1] if on_clock else 0.7 * RAIL_PX[1], on_clock)
        chart = rail(self.joint, self.plan, self.sheet.heat, self.judgement, self.say, view)
        return Drawn(chart.drawing, self.width, 70 * mm, "", is_chart=True)

    def _key(self) -> Paragraph:
        return self.line(self.say("sheet.letters"))

    def _totals(self) -> Paragraph:
        plan, say = self.plan, self.say
        cap = say("sheet.cap", heights=Figure((plan.cap.min, plan.cap.max), "length")) if plan.cap is not None else ""
        said = say("sheet.totals", n=len(plan.passes), layers=say("count.layers", n=plan.layers), metal=Figure(plan.weld_metal_kg, "mass"),
                   arc=Figure(plan.arc_time_s, "duration"), total=Figure(plan.total_time_s, "duration"), stops=say("count.stops", n=plan.stops),
                   peak=Figure(plan.peak_arc_energy_kj_mm, "energy"))  # fmt: skip
        return self.line(f"{said} {cap}".strip())

    def _order(self) -> list[Flowable]:
        """The work of several sides step by step."""
        if len(self.plan.sequence) < 2:
            return []
        return [self.head("order"), self.line("; ".join(sequence_said(self.plan, self.say)) + ".")]

    # --- passes, heat -------------------------------------------------------------------------
    def _passes(self) -> Table:
        say, plan = self.say, self.plan
        u = say.units
        heads = [say(f"column.{key}") for key in ("pass", "role", "rod", "amps", "volts", "polarity", "bead")]
        heads += [f"{say(f'column.{key}')} {u.unit(kind)}" for key, kind in
                  (("area", "area"), ("run_out", "long_length"), ("travel", "speed"), ("arc_energy", "energy"), ("heat_input", "energy"))]  # fmt: skip
        heads += [say("column.rods"), say("column.arc_time")]
        rows: list[tuple[str, ...]] = []
        between, spans, ends = between_said(self.joint, self.joint.working.choices, plan, say), list[int](), list[int]()
        layer = plan.passes[0].layer
        for p in plan.passes:
            if p.layer != layer:
                ends.append(len(rows))
            layer = p.layer
            for text in between.get(p.key, ()):
                spans.append(len(rows) + 1)
                rows.append(("", text, *[""] * 12))
            bead = say(f"technique_name.{p.technique}") + (f" {say(f'progression.{p.progression}')}" if p.progression else "")
            rows.append((
                pass_label(p), say(self.joint.role_word(p.role, p.side)), u.rod(p.rod.id), u.text("current", p.amps), u.text("voltage", p.volts),
                p.rod.polarity, bead,
                u.text("area", p.area_mm2), u.text("long_length", p.run_out_mm), u.text("speed", p.travel_mm_min), u.text("energy", p.arc_energy_kj_mm),
                u.text("energy", p.heat_input_kj_mm), str(p.rod_count), minutes(p.arc_time_s),
            ))  # fmt: skip
        styles = (
            ("LINEBELOW", (0, 0), (-1, 0), 1.0, HexColor("#11181c")), ("LINEBELOW", (0, 1), (-1, -1), 0.25, HexColor("#b9c0c5")),
            *(("LINEBELOW", (0, i), (-1, i), 0.9, HexColor("#59636b")) for i in ends), *(("SPAN", (1, i), (-1, i)) for i in spans),
            ("LEFTPADDING", (0, 0), (-1, -1), 1), ("RIGHTPADDING", (0, 0), (-1, -1), 1),
        )  # fmt: skip
        return self.table(rows, (5, 6, 14, 5, 5, 8, 10, 7, 8, 8, 7, 7, 5, 10), heads, styles)

    def _heat(self) -> list[Flowable]:
        """Preheat, interpass, and every pass in time with its wait and cooling time; where there is no schedule, why."""
        line, say, heat = self.sheet.heat, self.say, self.joint.heat
        if line is None:
            return [KeepTogether([self.head("heat"), self.line(say("sheet.heat.none"))])]
        schedule, limits = line.schedule, line.schedule.limits
        preheat = say("sheet.heat.preheat", limit=Figure(limits.preheat_c, "set_temperature")) if limits.preheat_c is not None else say("sheet.heat.no_preheat")
        interpass = say("sheet.heat.interpass" if limits.set_ else "sheet.heat.typical", limit=Figure(limits.interpass_c, "set_temperature"))
        said = [say("sheet.heat.limits", preheat=preheat, interpass=interpass, where=Figure(heat.measure_at_mm, "length"),
                    air=Figure(heat.air_c, "set_temperature"))]  # fmt: skip
        if schedule.feasible:
            said.append(say("sheet.heat.ends", ends=Figure(schedule.end_s, "clock"), band=ends_said(line.ends_s, say),
                            waits=Figure(schedule.waiting_s, "duration"), reheats=Figure(schedule.reheating_s, "duration")))  # fmt: skip
        said.append(assumed_said(self.joint, say))
        table = [self._schedule(line)] if schedule.feasible else []
        return [KeepTogether([self.head("heat"), *(self.line(text) for text in said)]), *table]

    def _schedule(self, line: HeatLine) -> Table:
        say, passes = self.say, {p.key: p for p in self.plan.passes}
        heads = [say(f"column.{key}") for key in ("pass", "starts", "wait", "wait_band", "reheat")]
        heads += [f"{say('column.joint_temp')} {say.degree}", say("column.station"), say("column.t85")]
        rows = []
        for s, band in itertools.zip_longest(line.schedule.passes, line.wait_bands_s):
            wait, reheat = (minutes(v) if v >= 1 else "" for v in (s.wait_s, s.reheat_s))
            t85 = "" if s.t85 is None else f"{s.t85.seconds:.1f} ({s.t85.regime})"
            likely = "" if band is None else band_said(band, say)
            rows.append((pass_label(passes[s.key]), clock(s.start_s), wait, likely, reheat, say.units.text("temperature", s.temp_c),
                         say(f"station.{s.hottest_station}"), t85))  # fmt: skip
        return self.table(rows, (0.08, 0.13, 0.14, 0.14, 0.11, 0.14, 0.14, 0.12), heads)

    # --- what the judge says ------------------------------------------------------------------
    def _notes(self) -> list[Flowable]:
        notes = notes_of(self.plan, (r for r in self.judgement.remarks if r.verdict == WATCH))
        return [self.head("watch"), *(self.line(note.said(self.say)) for note in notes)] if notes else []

    def _limits(self) -> list[Flowable]:
        counts, say = self.judgement.counts, self.say
        tally = say("sheet.tally", inside=str(counts[INSIDE]), outside=str(counts[OUTSIDE]), not_judged=str(counts[NOT_JUDGED]))
        bad = [r for r in self.judgement.of(OUTSIDE) if not r.code.startswith("cover.")]
        lines = [say("sheet.outside", line=note.said(say)) for note in notes_of(self.plan, bad)]
        return [self.head("limits"), self.line(tally), *(self.line(text, BOLD) for text in lines), self._windows()]

    def _windows(self) -> Table:
        say, windows = self.say, self.joint.working.windows
        rows = [window_cells(w, say) for w in windows]
        named = {w.quantity for w in windows}
        energies = {"arc_energy", "heat_input"}
        missing = [q for q in QUANTITIES if q not in named and not (q in energies and energies & named)]
        rows += [(stopped(say(f"quantity.{q}")).removesuffix("."), "", say("window.none")) for q in missing]
        return self.table(rows, (0.34, 0.3, 0.36))

    def _documents(self) -> list[Flowable]:
        """What the procedure document and the welder's qualification say of the joint, one line a variable."""
        say = self.say
        lines = []
        for r in self.judgement.coverage:
            source = f" ({say.source(r)})" if r.source else ""
            unsure = f" {say('certainty.unverified')}." if r.certainty != "sure" else ""
            remedy = f" {say.remedy(r)}" if r.verdict != INSIDE else ""
            lines.append(f"<b>{escaped(say(f'verdict.{r.verdict}'))}</b> {escaped(say.text(r) + source + '.' + unsure + remedy)}")
        return [self.head("documents"), *(Paragraph(text, BODY) for text in lines)] if lines else []

    def _rods(self) -> Table:
        say, spare = self.say, self.joint.working.spare_rods_percent
        kept = {p.rod.id: p.rod for p in self.plan.passes}
        heads = [say("column.rod"), say("column.planned"), say("column.with_spare", spare=Figure(spare, "percent")),
                 f"{say('column.electrode')} {say.units.unit('mass')}", say("column.polarity"), say("column.figures")]  # fmt: skip
        rows = []
        for rod_id, count in self.plan.rods_by_consumable().items():
            rod = kept[rod_id]
            taken = math.ceil(count * (1 + spare / 100) - 1e-9)
            mass = say.units.text("mass", count * rod.rod_g / 1000)
            rows.append((say.units.rod(rod_id), str(count), str(taken), mass, rod.polarity, origin_said(rod.origin, say)))
        return self.table(rows, (0.2, 0.11, 0.16, 0.15, 0.12, 0.26), heads)

    def _spent(self) -> list[str]:
        """Energy, electrodes and arc time; what it costs is for the office, not for the bench."""
        end_s = None if self.sheet.heat is None or not self.sheet.heat.schedule.feasible else self.sheet.heat.schedule.end_s
        return spending_said(spent_on(self.plan, end_s), Rates(), self.say)

    def _cautions(self) -> list[Flowable]:
        lines = [self.line(self.say(f"sheet.caution.{key}")) for key in ("arc", "hot", "strike")]
        return [KeepTogether([self.head("before"), self.line(self.say("sheet.lead"), BOLD), *lines])]


def kind_said(joint: Joint, say: Speech) -> str:
    """Preparation, what is behind the root and the second side, in words."""
    prep = joint.prep
    kind = say(f"preparation.{prep.key}")
    if prep.kind.fillet:
        return kind
    said = f"{kind}, {say(f'backing.{prep.backing}')}"
    if prep.second_side == "none":
        return said
    return f"{said}, {say('sheet.second', second=say(f'second.{prep.second_side}'))}, {say(f'sequence.{joint.working.sequence}')}"


def figures_said(joint: Joint, say: Speech) -> str:
    """The figures that shape a joint beside its thickness; those that are nought are left out."""
    found = [f for f in figures_of(joint) if f.key not in ("thickness_mm", "fillet_angle_deg") and f.of(joint)]
    return "; ".join(f"{say(f.label)} {say.sized(f.kind, f.of(joint), 1 if f.kind == 'fine_length' else None)}" for f in found) or say("sheet.none")


def window_cells(window: Window, say: Speech) -> tuple[str, str, str]:
    """A window as quantity, what it covers, and its bounds with their unit."""
    covers = " ".join(part for part in (say(f"role.{window.role}"), say.units.rod(window.rod) if window.rod != "*" else "") if part)
    return stopped(say(f"quantity.{window.quantity}")).removesuffix("."), covers, say.window(window.low, window.high, QUANTITIES[window.quantity])


def origin_said(origin: str, say: Speech) -> str:
    """Where a rod's figures come from; what a user wrote stands as it is."""
    return say(f"origin.{origin}") if f"origin.{origin}" in say.words else origin
