"""`banister techniques`: ways of working, listed or compared on a joint."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.compare import technique_plan
from banister.core.plan.technique import Technique
from banister.core.remark import Figure
from banister.core.words import Speech


def add_parser(commands: Any, say: Speech) -> None:
    """Add `techniques` to the command line."""
    p = described(commands, "techniques", say)
    p.add_argument("file", type=Path, nargs="?", metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """List or compare."""
    say, known = desk.say, desk.library.techniques
    if a.file is None:
        if a.json:
            print(json.dumps([_said(t, say) for t in known], indent=2))
            return INSIDE
        print("\n".join(f"{t.id:18} {t.named(say)}. {t.bought(say)} {t.risked(say)}" for t in known))
        print(say("cli.techniques.own", path=str(desk.library.folder / "techniques.json")))
        return INSIDE
    job = desk.read(a.file)
    found = {joint.id: _compared(job, joint, desk) for joint in desk.joints(job, a.joint)}
    if a.json:
        print(json.dumps(found, indent=2))
        return INSIDE
    for joint_id, rows in found.items():
        print(joint_id)
        for row in rows:
            figures = say("cli.techniques.row", n=row["passes"], total=Figure(row["total_time_s"], "duration"), rods=str(row["rods"]),
                          peak=Figure(row["peak_arc_energy_kj_mm"], "energy"))  # fmt: skip
            print(f"  {row['id']:18} {figures if row['feasible'] else say('cli.not_planned', why=row['reason'])}")
            print(f"  {'':18} {row['buys']} {row['risks']}")
    return INSIDE


def _said(t: Technique, say: Speech) -> dict[str, Any]:
    return {"id": t.id, "title": t.named(say), "buys": t.bought(say), "risks": t.risked(say)}


def _compared(job: Job, joint: Joint, desk: Desk) -> list[dict[str, Any]]:
    rods = desk.library.rods_by_id | dict(job.rods_by_id)
    rows = []
    for t in desk.library.techniques:
        plan = technique_plan(joint, t, rods)
        rows.append(_said(t, desk.say) | {
            "feasible": plan.feasible, "reason": desk.say.text(plan.reasons[0]) if plan.reasons else "", "passes": len(plan.passes),
            "total_time_s": plan.total_time_s, "rods": plan.rods, "peak_arc_energy_kj_mm": plan.peak_arc_energy_kj_mm,
        })  # fmt: skip
    return rows
