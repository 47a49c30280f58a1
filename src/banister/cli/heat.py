"""`banister heat`: temperatures, waits and cooling times of every pass, and preheat by three methods."""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from banister.cli import words
from banister.cli.errors import INSIDE, OUTSIDE
from banister.cli.plan import chosen_joints, chosen_plan
from banister.core.heat.advice import disagreement, others, preheat_findings, preheat_methods
from banister.core.heat.preheat import MAP_HEAT_INPUTS, MAP_THICKNESSES_MM, SHOP_C, method_b_map
from banister.core.heat.readings import fitted
from banister.core.heat.schedule import Schedule, schedule_of
from banister.core.heat.spread import Spread, band_in_words, drawn, ends_in_words, spread_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.units import clock, minutes
from banister.job.codec import FileFault
from banister.job.files import read, write_atomically

THOUSAND = 1000
_EPILOG = """\
examples:
  banister heat bridge.banister --joint F2
  banister heat bridge.banister --joint F2 --air 5 --width 150 --json
  banister heat bridge.banister --joint F2 --what-if --map
  banister heat bridge.banister --joint F2 --held
  banister heat bridge.banister --csv schedule.csv

Temperatures are read beside the groove (10 mm from its edge unless set) at the hottest place along the
weld. Bands hold nine of ten draws of what cannot be known: loss to the air within 30 %, heat and pace of
a pass within 10 %. Measure.
"""


def add_parser(commands: Any) -> None:
    """Add `heat` to the command line."""
    p = commands.add_parser("heat", help="schedule with waits, t8/5, preheat", epilog=_EPILOG, formatter_class=argparse.RawDescriptionHelpFormatter)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID")
    p.add_argument("--json", action="store_true")
    p.add_argument("--csv", type=Path, metavar="FILE", help="schedule as CSV")
    p.add_argument("--what-if", action="store_true", help="what a change of the way of working would give")
    p.add_argument("--map", action="store_true", help="what method B asks for over thickness and heat input, for the joint's steel")
    p.add_argument("--held", action="store_true", help="heat is kept on while welding")
    p.add_argument("--warm-over", metavar="K", help="warmed this much over preheat, instead of the job's")
    p.add_argument("--air", metavar="C", help="air temperature, instead of the job's")
    p.add_argument("--width", metavar="LENGTH", help="plate (or pipe length) either side, instead of the job's")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Print or write the schedules."""
    job = read(a.file).job
    found = []
    for joint in chosen_joints(job, a.joint):
        joint = _asked(a, joint)
        plan = chosen_plan(job, joint)
        found.append((joint, plan, schedule_of(joint, plan)))
    if a.csv:
        _write_csv(a.csv, found)
    elif a.json:
        from banister.export.heat_json import heat_document

        print(json.dumps({"format": "banister-heat", "version": 1, "joints": [
            heat_document(j, p, s, _spread(j, p, s), preheat_methods(j, p)) for j, p, s in found]}, indent=1))  # fmt: skip
    else:
        print("\n\n".join(_table(j, p, s) for j, p, s in found))
        if a.what_if:
            print("\n".join(_others(job.rods_by_id, j, p, s) for j, p, s in found))
        if a.map:
            print("\n".join(_map(j, p) for j, p, _ in found))
    return INSIDE if all(s.feasible for _, _, s in found) else OUTSIDE


def _asked(a: argparse.Namespace, joint: Joint) -> Joint:
    heat = joint.heat
    if a.held:
        heat = replace(heat, preheat_held=True)
    if a.warm_over is not None:
        heat = replace(heat, warm_over_k=words.number("--warm-over", a.warm_over))
    if a.air is not None:
        heat = replace(heat, air_c=words.number("--air", a.air))
    if a.width is not None:
        width = words.length("--width", a.width)
        heat = replace(heat, width_left_mm=width, width_right_mm=width)
    return words.checked(replace(joint, heat=heat))


def _spread(joint: Joint, plan: Plan, schedule: Schedule) -> Spread | None:
    return spread_of(joint, plan, schedule, drawn(THOUSAND)) if schedule.feasible else None


def _write_csv(path: Path, found: list[tuple[Joint, Plan, Schedule]]) -> None:
    from banister.export.heat_json import schedule_csv

    tables = [schedule_csv(j, p, s) for j, p, s in found]
    try:
        write_atomically(path, (tables[0] + "".join(t.split("\n", 1)[1] for t in tables[1:])).encode())
    except OSError as error:
        raise FileFault(f"{path}: not written ({error.strerror or error})") from error


def _table(joint: Joint, plan: Plan, schedule: Schedule) -> str:
    limits = schedule.limits
    preheat = f"preheat {limits.preheat_c:g}" if limits.preheat_c > -270 else "preheat not set"
    head = f"{joint.id}  {joint.name}: {preheat}, interpass {limits.interpass_c:g} C" + ("" if limits.set_ else " (typical, not set)")
    if not schedule.feasible:
        return "\n".join([head, *(f"{joint.id} cannot be scheduled: {f.text}. {f.remedy}" for f in schedule.findings), *_reasons(plan)])
    passes = {p.id: p for p in plan.passes}
    spread = spread_of(joint, plan, schedule, drawn(THOUSAND))
    rows = [("pass", "role", "start", "wait", "nine of ten", "reheat", "at C", "where", "t8/5 s")]
    for s, band in zip(schedule.passes, spread.wait_bands_s, strict=True):
        t85 = "-" if s.t85 is None else f"{s.t85.seconds:.1f} {s.t85.regime}"
        wait, reheat = (minutes(v) if v >= 1 else "-" for v in (s.wait_s, s.reheat_s))
        p = passes[s.pass_id]
        rows.append((str(p.number), p.role, clock(s.start_s), wait, band_in_words(band) or "-", reheat, f"{s.temp_c:.0f}", s.hottest_station, t85))
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    lines = ["  ".join(cell.ljust(w) if i in (1, 7) else cell.rjust(w) for i, (cell, w) in enumerate(zip(row, widths, strict=True))) for row in rows]
    fit, methods = fitted(joint, plan), preheat_methods(joint, plan)
    return "\n".join([
        head, *lines,
        f"ends after {clock(schedule.end_s)} (nine of ten: {ends_in_words(spread)})",
        f"waits {minutes(schedule.waiting_s)}, reheats {minutes(schedule.reheating_s)}",
        *(["the readings fit none of what was tried: use the loss that fits"] if spread.contradicted else []),
        *([f"readings fit a loss factor of {fit.factor:.2f} (now {joint.heat.loss_factor:g}): {fit.rms_k:.0f} K left of {fit.before_k:.0f}"] if fit else []),
        *(f"note: {f.text}. {f.remedy}" for f in (*schedule.findings, *preheat_findings(joint, plan))),
        *(f"{m.method}: {m.in_words} ({m.inputs})" + (f"; {'; '.join(m.notes)}" if m.notes else "") for m in methods),
        *filter(None, (disagreement(methods),)),
        "Predicted, to be measured at the joint. The procedure and the code set preheat and interpass.",
    ])  # fmt: skip


def _map(joint: Joint, plan: Plan) -> str:
    """Method B over thickness and heat input, headed by the joint's own place."""
    methods = preheat_methods(joint, plan)
    if not methods:
        return f"{joint.id}: no preheat map (state the steel; stainless takes no preheat)"
    thick, heat = max(joint.thickness_mm, joint.right_thickness_mm), min(p.heat_input_kj_mm for p in plan.passes)
    rows = [f"{joint.id}: EN 1011-2 method B, C; CET {joint.steel.cet:.3f}, hydrogen {joint.heat.hydrogen_ml:g} ml/100 g; this joint: {thick:g} mm, "
            f"{heat:.2f} kJ/mm, {methods[0].in_words}", "kJ/mm" + "".join(f"{d:>7g} mm" for d in MAP_THICKNESSES_MM)]  # fmt: skip
    for q, row in zip(MAP_HEAT_INPUTS, method_b_map(joint.steel.cet, joint.heat.hydrogen_ml), strict=True):
        rows.append(f"{q:5.2f}" + "".join(f"{'none' if c <= SHOP_C else f'{c:.0f}':>10}" for c in row))
    return "\n".join(rows)


def _reasons(plan: Plan) -> list[str]:
    return [f"{f.text}. {f.remedy}" for f in plan.reasons]


def _others(rods: Any, joint: Joint, plan: Plan, schedule: Schedule) -> str:
    rows = [f"{joint.id}  as planned: ends {clock(schedule.end_s)}, waits {minutes(schedule.waiting_s)}"]
    for other in others(joint, plan, rods):
        ends = f"ends {clock(other.schedule.end_s)}, waits {minutes(other.schedule.waiting_s)}" if other.schedule.feasible else "cannot be"
        rows.append(f"  {other.title}: {ends}, {other.passes} passes")
    return "\n".join(rows)
