"""`banister techniques`: schools of practice, listed or compared on a joint."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.errors import INSIDE
from banister.cli.plan import chosen_joints
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.technique import technique_plan
from banister.core.units import minutes
from banister.job.files import read
from banister.job.library import catalogue, own_catalogue_path, techniques

_EPILOG = """\
examples:
  banister techniques
  banister techniques bridge.banister --joint F2
  banister new --technique tig-basic --prep single-v --thickness 12 -o pipe.banister
"""


def add_parser(commands: Any) -> None:
    """Add `techniques` to the command line."""
    p = commands.add_parser(
        "techniques", help="schools of practice, listed or compared on a joint", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    p.add_argument("file", type=Path, nargs="?", metavar="JOB")
    p.add_argument("--joint", metavar="ID")
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """List or compare."""
    if a.file is None:
        print(json.dumps([{"id": t.id, "title": t.title, "buys": t.buys, "risks": t.risks} for t in techniques()], indent=2) if a.json
              else "\n".join(f"{t.id:18} {t.title}. {t.in_words}" for t in techniques()))  # fmt: skip
        if not a.json:
            print("Your own:", own_catalogue_path().with_name("techniques.json"))
        return INSIDE
    job = read(a.file).job
    found = {joint.id: _compared(job, joint) for joint in chosen_joints(job, a.joint)}
    if a.json:
        print(json.dumps(found, indent=2))
        return INSIDE
    for joint_id, rows in found.items():
        print(joint_id)
        for row in rows:
            figures = f"{row['passes']:3} beads, {minutes(row['total_time_s'])}, {row['rods']} rods, peak {row['peak_arc_energy_kj_mm']:.2f} kJ/mm"
            print(f"  {row['id']:18} {figures if row['feasible'] else 'cannot be planned: ' + row['reason']}")
            print(f"  {'':18} {row['buys']} {row['risks']}")
    return INSIDE


def _compared(job: Job, joint: Joint) -> list[dict[str, Any]]:
    rods = {rod.id: rod for rod in catalogue()} | dict(job.rods_by_id)
    rows = []
    for t in techniques():
        plan = technique_plan(joint, t, rods)
        rows.append({
            "id": t.id, "title": t.title, "buys": t.buys, "risks": t.risks, "feasible": plan.feasible,
            "reason": plan.reasons[0].text if plan.reasons else "", "passes": len(plan.passes), "total_time_s": plan.total_time_s,
            "rods": sum(plan.rods_by_consumable().values()), "peak_arc_energy_kj_mm": plan.peak_arc_energy_kj_mm,
        })  # fmt: skip
    return rows
