"""`banister plan`: the plan as a table, as JSON, or as files."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.layers import ANSWERS
from banister.core.plan.notes import notes_of
from banister.core.plan.plan import Plan
from banister.core.drawing.habit import HABITS, ISO
from banister.core.units import minutes
from banister.job.codec import FileFault
from banister.job.files import read, write_atomically

_EPILOG = """\
examples:
  banister plan flange.banister
  banister plan flange.banister --json > plan.json
  banister plan bridge.banister --joint F2 --answer coolest --pdf F2.pdf --csv F2.csv --svg F2.svg
"""


def add_parser(commands: Any) -> None:
    """Add `plan` to the command line."""
    p = commands.add_parser(
        "plan", help="plan a job: table, JSON, PDF, CSV, SVG", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help="one joint of several")
    p.add_argument("--answer", choices=ANSWERS, help="instead of the one chosen in the job")
    p.add_argument("--json", action="store_true", help="all four answers as JSON")
    p.add_argument("--pdf", type=Path, metavar="FILE", help="pass sheets")
    p.add_argument("--paper", choices=("A4", "Letter"), default="A4")
    p.add_argument("--csv", type=Path, metavar="FILE", help="pass table")
    p.add_argument("--svg", type=Path, metavar="FILE", help="section")
    p.add_argument("--symbol", type=Path, metavar="FILE", help="welding symbol as SVG")
    p.add_argument("--habit", choices=tuple(HABITS), default=ISO, help="manner of dimensions and symbol")
    p.add_argument("--inches", action="store_true", help="inches in PDF and SVG")
    p.set_defaults(run=run)


def chosen_joints(job: Job, joint_id: str | None) -> tuple[Joint, ...]:
    """All joints, or the one named."""
    if joint_id is None:
        if not job.joints:
            raise UsageFault("the job has no joints yet")
        return job.joints
    try:
        return (job.joint(joint_id),)
    except KeyError:
        raise UsageFault(f"--joint: no '{joint_id}'; the job has {', '.join(j.id for j in job.joints)}") from None


def chosen_plan(job: Job, joint: Joint, answer: str | None = None) -> Plan:
    """The plan taken for an unchanged joint, else the chosen answer planned now."""
    taken = job.taken_for(joint)
    if taken is not None and answer in (None, taken.plan.answer):
        return taken.plan
    return plan_answer(study_of(joint, job.rods_by_id), answer or joint.chosen)


def run(a: argparse.Namespace) -> int:
    """Print or write the plans."""
    job = read(a.file).job
    joints = chosen_joints(job, a.joint)
    if a.json:
        return _json(job, joints)
    plans = [(joint, chosen_plan(job, joint, a.answer)) for joint in joints]
    wrote = _written(a, job, plans)
    if not wrote:
        print("\n\n".join(table(joint, plan) for joint, plan in plans))
    for joint, plan in plans if wrote else ():
        if not plan.feasible:
            print("\n".join(_reasons(joint, plan)))
    return INSIDE if all(plan.feasible for _, plan in plans) else OUTSIDE


def _json(job: Job, joints: tuple[Joint, ...]) -> int:
    from banister.export.plan_json import plans_document

    plans = {}
    for joint in joints:
        study = study_of(joint, job.rods_by_id)
        plans[joint.id] = {answer: plan_answer(study, answer) for answer in ANSWERS}
        taken = job.taken_for(joint)
        if taken is not None:
            plans[joint.id][taken.plan.answer] = taken.plan
    from banister.job.procedures import covered_today

    covered = {joint.id: {answer: covered_today(job, joint, plan) for answer, plan in plans[joint.id].items()} for joint in joints}
    print(json.dumps(plans_document(job, plans, covered), indent=1, allow_nan=False))
    return INSIDE if all(plans[j.id][j.chosen].feasible for j in joints) else OUTSIDE


def _written(a: argparse.Namespace, job: Job, plans: list[tuple[Joint, Plan]]) -> bool:
    from banister.core.units import Units

    units = Units(a.inches)
    outputs: list[tuple[Path, bytes]] = []
    if a.pdf:
        from banister.export.pdf import pass_sheets
        from banister.job.procedures import covered_today

        covered = {joint.id: covered_today(job, joint, plan) for joint, plan in plans}
        outputs.append((a.pdf, pass_sheets(job, plans, units, a.paper, a.habit, covered)))
    if a.csv:
        from banister.export.pass_csv import pass_csv

        tables = [pass_csv(joint, plan) for joint, plan in plans]
        joined = tables[0] + "".join(t.split("\n", 1)[1] for t in tables[1:])
        outputs.append((a.csv, joined.encode()))
    if a.svg or a.symbol:
        from banister.core.drawing.section import section_drawing
        from banister.core.drawing.symbol import symbol_drawing
        from banister.export.svg import svg

        if len(plans) > 1:
            raise UsageFault("--svg and --symbol draw one joint: name it with --joint")
        joint, plan = plans[0]
        if a.svg:
            outputs.append((a.svg, svg(section_drawing(joint, plan, units, habit=a.habit), joint.name).encode()))
        if a.symbol:
            outputs.append((a.symbol, svg(symbol_drawing(joint, units, a.habit), f"{joint.name}, welding symbol").encode()))
    for path, data in outputs:
        try:
            write_atomically(path, data)
        except OSError as error:
            raise FileFault(f"{path}: not written ({error.strerror or error})") from error
    return bool(outputs)


def table(joint: Joint, plan: Plan) -> str:
    """The plan of a joint as readable text."""
    place = joint.place
    head = f"{joint.id}  {joint.name}: {joint.position} ({place.iso(joint.progression)}), {plan.answer}"
    if not plan.feasible:
        return "\n".join([head, *_reasons(joint, plan)])
    rows = [("pass", "role", "layer", "rod", "A", "V", "mm2", "run-out", "mm/min", "E kJ/mm", "Q kJ/mm", "rods", "arc")]
    for p in plan.passes:
        rows.append((
            str(p.number), p.role, str(p.layer), p.rod.id, f"{p.amps:.0f}", f"{p.volts:.1f}", f"{p.area_mm2:.1f}",
            f"{p.run_out_mm:.0f} mm", f"{p.travel_mm_min:.0f}", f"{p.arc_energy_kj_mm:.2f}",
            f"{p.heat_input_kj_mm:.2f}", str(p.rod_count), minutes(p.arc_time_s),
        ))  # fmt: skip
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    lines = ["  ".join(cell.rjust(w) if i not in (1, 3) else cell.ljust(w)
                       for i, (cell, w) in enumerate(zip(row, widths, strict=True))) for row in rows]  # fmt: skip
    rods = ", ".join(f"{count} x {rod}" for rod, count in plan.rods_by_consumable().items())
    return "\n".join([
        head, *lines,
        f"{len(plan.passes)} passes in {plan.layers} layers; weld metal {plan.weld_metal_kg:.2f} kg; {rods}; {plan.stops} stops",
        f"arc time {minutes(plan.arc_time_s)}, with cleaning and rod changes {minutes(plan.total_time_s)}; waits for cooling: banister heat",
        "E arc energy (k = 1), Q heat input (k = 0.8). Typical figures: check against your qualified procedure.",
        *(f"note: {note.text}" for note in notes_of(plan)),
    ])  # fmt: skip


def _reasons(joint: Joint, plan: Plan) -> list[str]:
    return [f"{joint.id} cannot be planned: {f.text}. {f.remedy}" for f in plan.reasons]
