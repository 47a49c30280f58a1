"""`banister heat`: temperatures, waits and cooling times of every pass, and preheat by three methods."""

from __future__ import annotations

import argparse
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.cli.plan import reasons
from banister.core.heat.advice import others
from banister.core.heat.line import HeatLine
from banister.core.heat.preheat import MAP_HEAT_INPUTS, MAP_THICKNESSES_MM, SHOP_C, OwnCell, disagreement_said, method_b_map, preheat_methods
from banister.core.heat.readings import fitted
from banister.core.heat.schedule import schedule_of
from banister.core.heat.shift import DAY_S
from banister.core.heat.spread import band_said, drawn, ends_said, spread_of
from banister.core.heat.thermal import assumed_said
from banister.core.job import Job
from banister.core.joint.figures import FIGURES
from banister.core.joint.joint import Joint, edited
from banister.core.plan.notes import notes_of
from banister.core.plan.plan import Plan
from banister.core.remark import OUTSIDE as IS_OUTSIDE
from banister.core.remark import Figure
from banister.core.rods.rod import Rod
from banister.core.sheet import Sheet
from banister.core.units import clock, minutes
from banister.core.value import replace
from banister.core.words import Speech

THOUSAND = 1000


def add_parser(commands: Any, say: Speech) -> None:
    """Add `heat` to the command line."""
    p = described(commands, "heat", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--json", action="store_true")
    p.add_argument("--csv", type=Path, metavar="FILE", help=say("cli.heat.csv"))
    p.add_argument("--strip", type=Path, metavar="FILE", help=say("cli.heat.strip"))
    p.add_argument("--decimal", choices=("point", "comma"), default="point", help=say("cli.decimal"))
    p.add_argument("--what-if", action="store_true", help=say("cli.heat.what_if"))
    p.add_argument("--map", action="store_true", help=say("cli.heat.map"))
    p.add_argument("--air", metavar="C", help=say("cli.heat.air"))
    p.add_argument("--width", metavar="LENGTH", help=say("cli.heat.width"))
    p.add_argument("--held", action="store_true", help=say("cli.heat.held"))
    p.add_argument("--margin", "--warm-over", dest="margin", metavar="C", help=say("cli.heat.margin"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print or write the schedules."""
    job, say = desk.read(a.file), desk.say
    sheets = [_sheet(a, job, joint, desk) for joint in desk.joints(job, a.joint)]
    if a.strip:
        _write_strip(a.strip, sheets, desk)
    if a.csv:
        from banister.export.tables import HABITS, in_bytes, joined, schedule_csv

        habit = HABITS[a.decimal]
        desk.write(a.csv, in_bytes(joined([schedule_csv(s.joint, s.plan, _line(s).schedule, say.units, habit) for s in sheets]), habit))
    elif a.json:
        from banister.export.documents import heat_document

        found = [heat_document(s.joint, s.plan, _line(s), s.judgement, preheat_methods(s.joint, s.plan, job.own_cells), say) for s in sheets]
        print(json.dumps({"format": "banister-heat", "version": 1, "joints": found}, indent=1))
    else:
        print("\n\n".join(_table(s, job.own_cells, say) for s in sheets))
        if a.what_if:
            print("\n".join(_others(job.rods_by_id, s, say) for s in sheets))
        if a.map:
            print("\n".join(_map(s.joint, s.plan, say) for s in sheets))
    heat = [r for s in sheets for r in s.judgement.of(IS_OUTSIDE) if r.code.startswith("heat.")]
    return OUTSIDE if heat or any(not s.plan.feasible for s in sheets) else INSIDE


def _write_strip(path: Path, sheets: list[Sheet], desk: Desk) -> None:
    """Six frames of one joint that can be welded."""
    from banister.core.heat.film import film_of
    from banister.export.film import film_page

    if len(sheets) != 1 or not sheets[0].plan.feasible or not _line(sheets[0]).schedule.feasible:
        raise UsageFault("cli.fault.heat.strip")
    sheet, schedule = sheets[0], _line(sheets[0]).schedule
    desk.write(path, film_page(sheet.joint, sheet.plan, schedule, film_of(sheet.joint, sheet.plan, schedule), desk.say))


def _sheet(a: argparse.Namespace, job: Job, joint: Joint, desk: Desk) -> Sheet:
    """A joint as it was issued, or scheduled now with a thousand draws; options about the piece always schedule anew."""
    asked = _asked(a, joint)
    standing = job.standing_for(joint)
    if asked == joint and standing is not None and standing.heat is not None:
        return standing
    plan = desk.plan(job, joint)
    schedule = schedule_of(asked, plan, within_s=min(job.shift.lasts_s, DAY_S))
    line = HeatLine(schedule)
    if schedule.feasible:
        spread = spread_of(asked, plan, schedule, drawn(THOUSAND))
        line = replace(line, ends_s=spread.ends_s, wait_bands_s=spread.wait_bands_s, contradicted=spread.contradicted)
    return job.sheet_of(asked, plan, line, desk.library.rows, desk.today)


def _line(sheet: Sheet) -> HeatLine:
    assert sheet.heat is not None
    return sheet.heat


def _asked(a: argparse.Namespace, joint: Joint) -> Joint:
    if a.held:
        joint = edited(joint, preheat_held=True)
    for option, text, key in (("--margin", a.margin, "margin_k"), ("--air", a.air, "air_c")):
        if text is not None:
            joint = edited(joint, **{key: spelling.figure(option, text, FIGURES[key].kind)})
    if a.width is not None:
        width = spelling.figure("--width", a.width, "length")
        joint = edited(joint, width_left_mm=width, width_right_mm=width)
    return spelling.checked(joint)


def _table(sheet: Sheet, own_cells: tuple[OwnCell, ...], say: Speech) -> str:
    joint, plan, line, u = sheet.joint, sheet.plan, _line(sheet), say.units
    schedule, limits = line.schedule, line.schedule.limits
    preheat = say("remark.heat.preheat.none.text")
    if limits.preheat_c is not None:
        preheat = say("cli.heat.preheat", limit=Figure(limits.preheat_c, "set_temperature"))
    interpass = say("cli.heat.interpass" if limits.set_ else "cli.heat.typical", limit=Figure(limits.interpass_c, "set_temperature"))
    head = f"{joint.id}  {joint.name}: {preheat}, {interpass}"
    if not schedule.feasible:
        why = [say("cli.heat.blocked", joint=joint.id, why=note.said(say)) for note in notes_of(plan, schedule.remarks)]
        return "\n".join([head, *why, *reasons(joint, plan, say)])
    passes = {p.key: p for p in plan.passes}
    rows = [(*(say(f"column.{key}") for key in ("pass", "role", "starts", "wait", "wait_band", "reheat")), f"{say('column.joint_temp')} {say.degree}",
             say("column.station"), say("column.t85"))]  # fmt: skip
    for s, band in zip(schedule.passes, line.wait_bands_s, strict=True):
        t85 = "-" if s.t85 is None else f"{s.t85.seconds:.1f} {s.t85.regime}"
        wait, reheat = (minutes(v) if v >= 1 else "-" for v in (s.wait_s, s.reheat_s))
        p = passes[s.key]
        rows.append((str(p.number), say(joint.role_word(p.role, p.side)), clock(s.start_s), wait, band_said(band, say) or "-", reheat,
                     u.text("temperature", s.temp_c), say(f"station.{s.hottest_station}"), t85))  # fmt: skip
    fit, methods = fitted(joint, plan), preheat_methods(joint, plan, own_cells)
    heat = [r for r in sheet.judgement.to_watch if r.code.startswith(("heat.", "preheat."))]
    return "\n".join([
        head, *columns(rows, left=(1, 7)),
        say("cli.heat.ends", ends=Figure(schedule.end_s, "clock"), band=ends_said(line.ends_s, say)),
        assumed_said(joint, say),
        say("cli.heat.waits", waits=Figure(schedule.waiting_s, "duration"), reheats=Figure(schedule.reheating_s, "duration")),
        *([say("cli.heat.contradicted")] if line.contradicted else []),
        *([say("cli.heat.fit", factor=Figure(fit.factor, "ratio"), now=Figure(joint.heat.loss_factor, "ratio"), left=_difference(fit.rms_k),
               before=_difference(fit.before_k))] if fit else []),
        *(f"{say('cli.outside' if note.remark.verdict == IS_OUTSIDE else 'cli.note')}: {note.said(say)}" for note in notes_of(plan, heat)),
        *(f"{say(f'method.{m.method}')}: {m.said(say)} ({say.text(m.inputs)})" + "".join(f"; {say.text(n)}" for n in m.notes) for m in methods),
        *filter(None, (disagreement_said(methods, say),)),
        say("cli.heat.foot"),
    ])  # fmt: skip


def _difference(kelvin: float) -> Figure:
    return Figure(kelvin, "temperature_difference")


def _map(joint: Joint, plan: Plan, say: Speech) -> str:
    """Method B over thickness and heat input, headed by the joint's own place."""
    methods, u = preheat_methods(joint, plan), say.units
    if not methods:
        return say("cli.heat.no_map", joint=joint.id)
    cet, hydrogen = joint.metal.steel.cet, joint.heat.hydrogen_ml
    head = say("cli.heat.map_head", joint=joint.id, unit=say.degree, inputs=say.text(methods[0].inputs), asks=methods[0].said(say))
    rows = [(u.unit("energy"), *(u.shown("length", d, 2) for d in MAP_THICKNESSES_MM))]
    for q, row in zip(MAP_HEAT_INPUTS, method_b_map(cet, hydrogen), strict=True):
        rows.append((u.text("energy", q), *(say("preheat_map.none") if c <= SHOP_C else u.text("temperature", c) for c in row)))
    return "\n".join([head, *columns(rows, left=())])


def _others(rods: Mapping[str, Rod], sheet: Sheet, say: Speech) -> str:
    schedule = _line(sheet).schedule
    ends = {"ends": Figure(schedule.end_s, "clock"), "waits": Figure(schedule.waiting_s, "duration")}
    rows = [f"{sheet.joint.id}  {say('cli.heat.as_planned', **ends)}"]
    for other in others(sheet.joint, sheet.plan, rods):
        if other.schedule.feasible:
            said = say("cli.heat.other", ends=Figure(other.schedule.end_s, "clock"), waits=Figure(other.schedule.waiting_s, "duration"), n=other.passes)
        else:
            said = say("heat.not_possible")
        rows.append(f"  {say.text(other.change)}: {said}")
    return "\n".join(rows)
