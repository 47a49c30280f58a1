"""`banister plan`: the plan as a table, as JSON, or as files."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.drawing.convention import CONVENTIONS, ISO
from banister.core.heat.line import HeatLine
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.joint.working import ANSWERS, AT_ONCE, is_answer
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.front import answer_said, front_of
from banister.core.plan.identity import keyed
from banister.core.plan.inputs import inputs_of
from banister.core.plan.notes import notes_of
from banister.core.plan.plan import Plan
from banister.core.plan.sequence import between_said
from banister.core.plan.spending import Rates, Spent, job_said, spending_said, spent_on
from banister.core.remark import OUTSIDE as IS_OUTSIDE
from banister.core.remark import Figure
from banister.core.sheet import Sheet
from banister.core.standing import names_on_paper
from banister.core.units import minutes
from banister.core.words import Speech


def add_parser(commands: Any, say: Speech) -> None:
    """Add `plan` to the command line."""
    p = described(commands, "plan", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--answer", metavar="ANSWER", help=say("cli.plan.answer"))
    p.add_argument("--json", action="store_true", help=say("cli.plan.json"))
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.plan.pdf"))
    p.add_argument("--rates", metavar="HOUR,KG,KWH", help=say("cli.plan.rates"))
    p.add_argument("--paper", choices=("A4", "Letter"), default="A4")
    p.add_argument("--csv", type=Path, metavar="FILE", help=say("cli.plan.csv"))
    p.add_argument("--decimal", choices=("point", "comma"), default="point", help=say("cli.decimal"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.plan.svg"))
    p.add_argument("--dxf", type=Path, metavar="FILE", help=say("cli.plan.dxf"))
    p.add_argument("--symbol", type=Path, metavar="FILE", help=say("cli.plan.symbol"))
    p.add_argument("--convention", "--habit", dest="convention", choices=CONVENTIONS, default=ISO, help=say("cli.plan.convention"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print or write the plans."""
    job = desk.read(a.file)
    joints = desk.joints(job, a.joint)
    if a.answer is not None and not is_answer(a.answer):
        raise UsageFault("cli.fault.answer", text=a.answer, answers=", ".join(ANSWERS))
    if a.json:
        return _json(job, joints, desk)
    sheets = [desk.sheet(job, joint, a.answer, whole=bool(a.pdf)) for joint in joints]
    wrote = _written(a, job, sheets, desk)
    if not wrote:
        rates = job.rates if a.rates is None else spelling.rates("--rates", a.rates)
        print("\n\n".join([table(sheet, rates, desk.say) for sheet in sheets] + _whole(sheets, rates, desk.say)))
    for sheet in sheets if wrote else ():
        if not sheet.plan.feasible:
            print("\n".join(reasons(sheet.joint, sheet.plan, desk.say)))
    return INSIDE if all(sheet.plan.feasible for sheet in sheets) else OUTSIDE


def _json(job: Job, joints: tuple[Joint, ...], desk: Desk) -> int:
    from banister.export.documents import plans_document

    found, fronts = {}, {}
    for joint in joints:
        standing, before = job.standing_for(joint), job.issued_for(joint)
        study, answers = study_of(inputs_of(joint, job.rods)), {}
        fronts[joint.id] = () if isinstance(study, tuple) else front_of(study.sides)
        for answer in dict.fromkeys((*AT_ONCE, joint.working.chosen)):
            plan = job.plan_issued_for(joint, answer) or plan_answer(study, answer)
            plan = keyed(plan, before.plan, before.last_key) if before is not None else plan
            sheet = standing if standing is not None and standing.plan.answer == answer and standing.heat is not None else job.sheet_of(
                joint, plan, desk.heat(job, joint, plan), desk.library.rows, desk.today)  # fmt: skip
            answers[answer] = (sheet.plan, sheet.judgement)
        found[joint.id] = answers
    print(json.dumps(plans_document(job, found, fronts, desk.say), indent=1, allow_nan=False))
    return INSIDE if all(found[j.id][j.working.chosen][0].feasible for j in joints) else OUTSIDE


def _written(a: argparse.Namespace, job: Job, sheets: list[Sheet], desk: Desk) -> bool:
    outputs: list[tuple[Path, bytes]] = []
    if a.pdf:
        from banister.core.follow.facts import open_deviations
        from banister.export.paper import unprintable
        from banister.export.sheet import pass_sheets
        from banister.job.journal import records_of

        if lost := unprintable(names_on_paper(job, (sheet.joint for sheet in sheets))):
            print(f"banister: {desk.say('print.lost', characters=' '.join(lost))}", file=sys.stderr)
        outputs.append((a.pdf, pass_sheets(sheets, desk.say, a.paper, a.convention, desk.today.isoformat(), open_deviations(records_of(a.file)))))
    if a.csv:
        from banister.export.tables import HABITS, in_bytes, joined, pass_csv

        habit = HABITS[a.decimal]
        outputs.append((a.csv, in_bytes(joined([pass_csv(sheet.joint, sheet.plan, desk.say.units, habit) for sheet in sheets]), habit)))
    if a.svg or a.dxf or a.symbol:
        from banister.core.drawing.section import section_drawing
        from banister.core.drawing.symbol import symbol_drawing
        from banister.export.svg import svg, svg_to_scale

        if len(sheets) > 1:
            raise UsageFault("cli.fault.one_joint")
        joint, say = sheets[0].joint, desk.say
        drawing = section_drawing(joint, sheets[0].plan, say, sheets[0].judgement.passes_outside, a.convention)
        if a.svg:
            outputs.append((a.svg, svg_to_scale(drawing, joint.name).encode()))
        if a.dxf:
            from banister.export.dxf import section_dxf

            outputs.append((a.dxf, section_dxf(drawing, joint.name)))
        if a.symbol:
            title = say("svg.symbol", joint=joint.name)
            outputs.append((a.symbol, svg(symbol_drawing(joint, say, a.convention), title).encode()))
    for path, data in outputs:
        desk.write(path, data)
    return bool(outputs)


def table(sheet: Sheet, rates: Rates, say: Speech) -> str:
    """The plan of a joint as readable text."""
    joint, plan, u = sheet.joint, sheet.plan, say.units
    issued = f", {say('sheet.issued', on=sheet.issued_on)}" if sheet.is_issued else ""
    position = f"{joint.piece.position} ({joint.place.iso(joint.piece.progression)})"
    head = f"{joint.id}  {joint.name}: {position}, {answer_said(plan.answer, say)}{issued}"
    if not plan.feasible:
        return "\n".join([head, *reasons(joint, plan, say)])
    rows = [(
        *(say(f"column.{key}") for key in ("pass", "role", "layer", "rod")), u.unit("current"), u.unit("voltage"), u.unit("area"),
        f"{say('column.run_out')} {u.unit('long_length')}", u.unit("speed"), f"E {u.unit('energy')}", f"Q {u.unit('energy')}",
        say("column.rods"), say("column.arc_time"),
    )]  # fmt: skip
    for p in plan.passes:
        rows.append((
            str(p.number), say(joint.role_word(p.role, p.side)), str(p.layer), u.rod(p.rod.id), u.text("current", p.amps), u.text("voltage", p.volts),
            u.text("area", p.area_mm2), u.text("long_length", p.run_out_mm), u.text("speed", p.travel_mm_min), u.text("energy", p.arc_energy_kj_mm),
            u.text("energy", p.heat_input_kj_mm), str(p.rod_count), minutes(p.arc_time_s),
        ))  # fmt: skip
    lines, between = columns(rows, left=(1, 3)), between_said(joint, joint.working.choices, plan, say)
    shown = [lines[0], *(text for p, line in zip(plan.passes, lines[1:], strict=True) for text in (*(f"  {b}" for b in between.get(p.key, ())), line))]
    rods = ", ".join(f"{count} x {u.rod(rod)}" for rod, count in plan.rods_by_consumable().items())
    used = ", ".join(f"{process} {k:g}" for process, k in dict.fromkeys((p.process, p.efficiency) for p in plan.passes))
    return "\n".join([
        head, *shown,
        say("cli.plan.totals", n=len(plan.passes), layers=say("count.layers", n=plan.layers), metal=Figure(plan.weld_metal_kg, "mass"), rods=rods,
            stops=say("count.stops", n=plan.stops)),
        say("cli.plan.times", arc=Figure(plan.arc_time_s, "duration"), total=Figure(plan.total_time_s, "duration"), waits=_waits(sheet.heat, say)),
        *spending_said(_spent(sheet), rates, say),
        say("cli.plan.key", used=used),
        *(f"{say('cli.outside' if note.remark.verdict == IS_OUTSIDE else 'cli.note')}: {note.said(say)}"
          for note in notes_of(plan, sheet.judgement.to_watch)),
    ])  # fmt: skip


def _spent(sheet: Sheet) -> Spent:
    schedule = sheet.heat.schedule if sheet.heat is not None and sheet.heat.schedule.feasible else None
    return spent_on(sheet.plan, None if schedule is None else schedule.end_s)


def _whole(sheets: Sequence[Sheet], rates: Rates, say: Speech) -> list[str]:
    """What several joints take together."""
    spent = [_spent(sheet) for sheet in sheets if sheet.plan.feasible]
    return ["\n".join(job_said(spent, rates, say))] if len(spent) > 1 else []


def _waits(heat: HeatLine | None, say: Speech) -> str:
    if heat is None or not heat.schedule.feasible:
        return say("cli.plan.no_waits")
    return say("cli.plan.waits", waits=Figure(heat.schedule.waiting_s, "duration"))


def reasons(joint: Joint, plan: Plan, say: Speech) -> list[str]:
    """Why a joint cannot be planned, line by line."""
    return [say("cli.blocked", joint=joint.id, why=say.sentence(r)) for r in plan.reasons]
