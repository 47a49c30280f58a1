"""`banister fitup`: readings of a joint judged at every station, with remedies, where to measure next, and run-out along the weld."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

import numpy as np

from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, NOT_JUDGED, OUTSIDE, UsageFault
from banister.core.fitup.gauge import gauge_for
from banister.core.fitup.judged import ADJUST, REWORK, Fit, Tolerance, judged_fit
from banister.core.fitup.places import course_of
from banister.core.fitup.readings import MOST_TOLERANCE_MM, QUANTITIES, line_along
from banister.core.fitup.stretches import stretch_said, stretches
from banister.core.fitup.tolerances import PROCEDURE, set_of, tolerance_set, usual_set
from banister.core.fitup.uneven import LayerAlong, along, root_risks
from banister.core.joint.fitting import SETS, FitUp
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import INSIDE as IS_INSIDE
from banister.core.remark import OUTSIDE as IS_OUTSIDE
from banister.core.remark import Figure
from banister.core.value import replace
from banister.core.words import Speech
from banister.job.fitup_csv import read_fitup

SIMULATED_PLACES = 9


def add_parser(commands: Any, say: Speech) -> None:
    """Add `fitup` to the command line."""
    p = described(commands, "fitup", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("readings", type=Path, nargs="?", metavar="READINGS", help=say("cli.fitup.readings"))
    p.add_argument("--simulated", metavar="SEED", type=int, help=say("cli.fitup.simulated"))
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--set", choices=SETS[1:], help=say("cli.fitup.set"))
    p.add_argument("--gap", metavar="UNDER,OVER", help=say("cli.fitup.gap"))
    p.add_argument("--card", type=Path, metavar="FILE", help=say("cli.fitup.card"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Judge and print."""
    own = {} if a.gap is None else {"gap": _own(a.gap)}
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    course = course_of(joint)
    if a.simulated is not None:
        if a.readings is not None or a.simulated < 0:
            raise UsageFault("cli.fault.fitup.simulated")
        fitup = FitUp(readings=gauge_for(joint, a.simulated).walked(SIMULATED_PLACES), instrument=joint.fitup.instrument)
    else:
        fitup = joint.fitup if a.readings is None else read_fitup(a.readings, course)
    asked = a.readings is not None or a.simulated is not None or a.set or own
    fit = judged_fit(joint, fitup, tolerance_set(a.set or (PROCEDURE if own else usual_set(joint)), joint, own) if asked else set_of(joint))
    if a.card:
        from banister.export.card import preparation_card

        held = replace(joint, fitup=replace(joint.fitup, readings=fitup.readings))
        desk.write(a.card, preparation_card(held, job.name, desk.say, on=desk.today.isoformat()))
    plan = desk.plan(job, joint)
    places = [r.s_mm for r in fitup.readings]
    layers = along(joint, plan, fitup, places) if plan.feasible else ()
    if a.json:
        print(json.dumps(_document(joint, fitup, fit, layers, plan, desk.say), indent=1))
    else:
        print("\n".join(_lines(joint, fitup, fit, layers, plan, desk.say)))
    if any(r.verdict == IS_OUTSIDE for r in fit.remarks):
        return OUTSIDE
    return INSIDE if all(r.verdict == IS_INSIDE for r in fit.remarks) else NOT_JUDGED


def _own(text: str) -> Tolerance:
    under, _, over = text.partition(",")
    try:
        ends = float(under), float(over or under)
    except ValueError:
        ends = -1.0, -1.0
    if not all(0.0 <= end <= MOST_TOLERANCE_MM for end in ends):
        raise UsageFault("cli.fault.fitup.gap", text=text)
    return Tolerance(under=ends[0], over=ends[1], sure=True)


def _lines(joint: Joint, fitup: FitUp, fit: Fit, layers: tuple[LayerAlong, ...], plan: Plan, say: Speech) -> list[str]:
    verdicts = fit.at_readings()
    rows = [[say("cli.fitup.station"), *(say(f"fitup.{q}") for q in QUANTITIES), say("cli.fitup.verdict")]]
    for r in fitup.readings:
        figures = [say.sized(kind, value) if (value := getattr(r, q)) is not None else "-" for q, (_, kind) in QUANTITIES.items()]
        rows.append([say.figure(fit.course.figure(r.s_mm)), *figures, say(f"fit.{verdicts[r.s_mm]}")])
    counts = [(verdict, list(verdicts.values()).count(verdict)) for verdict in dict.fromkeys(verdicts.values())]
    lines = [f"{joint.id}  {joint.name}", *columns(rows, left=(0, 6)), "", say("cli.fitup.count", n=len(verdicts), verdicts=", ".join(
        f"{count} {say(f'fit.{verdict}')}" for verdict, count in counts))]  # fmt: skip
    lines += [say.sentence(r) + (f" ({say('certainty.unverified')})" if r.certainty != "sure" else "") for r in fit.remarks]
    if fit.next_mm is not None:
        lines.append(say("cli.fitup.next", at=fit.course.figure(fit.next_mm)))
    if layers:
        lines += ["", say("cli.fitup.run_out"), *_table(fitup, fit, layers, say), *_risk(joint, fitup, fit, plan, say)]
        lines += [stretch_said(one, joint, say) for one in stretches(joint, plan, fitup)]
    return lines


def _table(fitup: FitUp, fit: Fit, layers: tuple[LayerAlong, ...], say: Speech) -> list[str]:
    """Layer by station: the run-out of the layer's first bead there."""
    head = [say("cli.fitup.layer"), *(say.figure(fit.course.figure(r.s_mm)) for r in fitup.readings)]
    rows = ([str(row.layer), *(say.sized("long_length", row.passes[0].run_out_mm * ratio) for ratio in row.ratios)] for row in layers)
    return columns([head, *rows], left=(0,))


def _risk(joint: Joint, fitup: FitUp, fit: Fit, plan: Plan, say: Speech) -> list[str]:
    """Where the root rod is most at risk."""
    gap = line_along(fitup, "gap", fit.course)
    if gap is None or not joint.prep.open_root:
        return []
    places = np.arange(0.0, fit.course.length_mm, 10.0)
    risks = root_risks(joint, gap, line_along(fitup, "face", fit.course), plan.passes[0].rod.diameter_mm, places)
    worst = max(range(len(risks)), key=lambda i: max(risks[i].too_tight, risks[i].too_wide))
    chance = Figure(round(100 * max(risks[worst].too_tight, risks[worst].too_wide)), "percent")
    return [say("cli.fitup.risk", chance=chance, at=fit.course.figure(float(places[worst])), rod=Figure(plan.passes[0].rod.id, "rod"))]


def _document(joint: Joint, fitup: FitUp, fit: Fit, layers: tuple[LayerAlong, ...], plan: Plan, say: Speech) -> dict[str, Any]:
    return {
        "format": "banister-fitup", "version": 1, "joint": joint.id,
        "readings": [{"at": r.at, "s_mm": r.s_mm, **{q: getattr(r, q) for q in QUANTITIES}, "note": r.note, "verdict": fit.at_readings()[r.s_mm]}
                     for r in fitup.readings],
        "stations": [{"quantity": s.quantity, "s_mm": s.s_mm, "value": round(s.value, 3), "half_band": round(s.half, 3), "verdict": s.verdict}
                     for s in fit.stations],
        "remarks": [{"code": r.code, "verdict": r.verdict, "certainty": r.certainty, "text": say.sentence(r), "s_mm": r.place.s_mm} for r in fit.remarks],
        "measure_next_mm": fit.next_mm,
        "adjust_mm": sorted({s.s_mm for s in fit.stations if s.verdict in (ADJUST, REWORK)}),
        "stretches": [{"layer": s.layer, "from_mm": s.from_s, "to_mm": s.to_s, "beads": s.beads, "planned_beads": s.planned_beads,
                       "run_out_mm": round(s.run_out_mm, 1), "planned_run_out_mm": round(s.planned_run_out_mm, 1)} for s in stretches(joint, plan, fitup)],
        "layers": [{"layer": row.layer, "passes": [p.key for p in row.passes], "run_out_ratio": [round(v, 4) for v in row.ratios]} for row in layers],
    }  # fmt: skip
