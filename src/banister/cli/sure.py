"""`banister sure`: ranges for beads, rods and time, and what matters most to each."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.drawing.charts.sure_beam import SureView, figure_of, range_said, sure_beam
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.sure.said import sure_said
from banister.core.sure.variants import ALL, Sure, planned_anew
from banister.core.words import Speech

FEWEST_DRAWS, MOST_DRAWS = 100, 20_000


def add_parser(commands: Any, say: Speech) -> None:
    """Add `sure` to the command line."""
    p = described(commands, "sure", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--draws", type=int, default=ALL, metavar="N", help=say("cli.sure.draws"))
    p.add_argument("--seed", type=int, default=1, metavar="N", help=say("cli.sure.seed"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.sure.svg"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Vary the plan and print what comes of it."""
    if not FEWEST_DRAWS <= a.draws <= MOST_DRAWS:
        raise UsageFault("cli.fault.draws", text=str(a.draws), low=str(FEWEST_DRAWS), high=str(MOST_DRAWS))
    if a.seed < 0:
        raise UsageFault("cli.fault.seed", text=str(a.seed))
    job, say = desk.read(a.file), desk.say
    joint = desk.joint(job, a.joint)
    plan = desk.plan(job, joint)
    if not plan.feasible:
        print("\n".join(say.sentence(r) for r in plan.reasons))
        return OUTSIDE
    (found,) = planned_anew(joint, plan, job.rods, a.draws, a.seed)
    if a.svg:
        from banister.export.svg import svg

        desk.write(a.svg, svg(sure_beam(found, say, SureView(760.0, 470.0)).drawing, f"{joint.id}  {joint.name}: {say('sure.window')}").encode())
    print(json.dumps(_document(joint, found), indent=1) if a.json else "\n".join(_lines(joint, found, say)))
    return INSIDE


def _lines(joint: Joint, found: Sure, say: Speech) -> list[str]:
    lines = [f"{joint.id}  {joint.name}"]
    for name, one in found.outcomes.items():
        also = say(f"sure.{name}", planned=figure_of(name, one.planned), sure=figure_of(name, one.at(0.95)))
        lines.append(f"{range_said(name, one, say)} {also}")
        ranked = sorted(zip(one.shares, found.inputs, strict=True), key=lambda pair: -pair[0])
        lines.append("  " + ", ".join(f"{say(f'sure.input.{i.name}')} {say.figure(Figure(round(100 * share), 'percent'))}" for share, i in ranked))
        if not one.is_linear:
            lines.append("  " + say("sure.rest", rest=Figure(round(100 * max(0.0, 1 - sum(one.shares))), "percent")))
    return [*lines, *sure_said(found, say)]


def _document(joint: Joint, found: Sure) -> dict[str, Any]:
    return {
        "format": "banister-sure", "version": 1, "joint": joint.id, "draws": found.draws, "seed": found.seed, "outside_a_window": found.broken,
        "planned_anew": found.anew, "without_a_plan": found.unplanned,
        "inputs": [{"name": i.name, "mean": round(i.mean, 4), "sd": round(i.sd, 4), "measured": i.measured} for i in found.inputs],
        "outcomes": {name: {"planned": round(o.planned, 1), "nine_in_ten": [round(v, 1) for v in o.nine_in_ten], "median": round(o.at(0.5), 1),
                            "at_95": round(o.at(0.95), 1), "shares": {i.name: round(s, 4) for i, s in zip(found.inputs, o.shares, strict=True)},
                            "by": "rank regression" if o.is_linear else "binned means"} for name, o in found.outcomes.items()},
    }  # fmt: skip
