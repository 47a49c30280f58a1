"""`banister procedure`: derive ranges from a test, and import a procedure or a welder into a job."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from banister.cli.describe import described, described_action
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.job import Job, welded_to
from banister.core.judge.coverage import filler_figure
from banister.core.limits.procedure import FAMILIES, WELDER_FAMILIES
from banister.core.limits.qualification import Derived, derived
from banister.core.remark import SURE
from banister.core.value import replace
from banister.core.words import Speech
from banister.job.documents import read_procedure, read_test, read_welder
from banister.job.files import JobFile


def add_parser(commands: Any, say: Speech) -> None:
    """Add `procedure` to the command line."""
    p = described(commands, "procedure", say)
    actions = p.add_subparsers(dest="action", required=True, metavar=say("cli.action"))
    derive = described_action(actions, "procedure", "derive", say)
    derive.add_argument("test", type=Path, metavar="TEST")
    derive.add_argument("--json", action="store_true")
    described_action(actions, "procedure", "list", say)
    for name in ("attach", "welder"):
        action = described_action(actions, "procedure", name, say)
        action.add_argument("job", type=Path, metavar="JOB")
        action.add_argument("document", type=Path, metavar="FILE")
        action.add_argument("--joint", metavar="ID", help=say("cli.procedure.joint"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Derive, list, or import a document into a job."""
    if a.action == "derive":
        return _derive(a, desk)
    if a.action == "list":
        return _list(desk)
    file = JobFile(a.job)
    try:
        job = file.open()
        wanted = [a.joint] if a.joint else [joint.id for joint in job.joints]
        if missing := [j for j in wanted if j not in {joint.id for joint in job.joints}]:
            raise UsageFault("cli.fault.joint", joint=missing[0], joints=", ".join(j.id for j in job.joints))
        file.save(_with_procedure(job, a.document, wanted) if a.action == "attach" else _with_welder(job, a.document, wanted))
    finally:
        file.close()
    return INSIDE


def _with_procedure(job: Job, path: Path, wanted: list[str]) -> Job:
    procedure = read_procedure(path)
    for joint_id in wanted:
        job = job.with_joint(welded_to(job.joint(joint_id), procedure))
    return job.with_procedure(procedure)


def _with_welder(job: Job, path: Path, wanted: list[str]) -> Job:
    welder = read_welder(path)
    for joint_id in wanted:
        job = job.with_joint(replace(job.joint(joint_id), welder=welder.mark))
    return job.with_welder(welder)


def _list(desk: Desk) -> int:
    say, library = desk.say, desk.library
    for p in library.procedures:
        print(f"{p.id:12} {say('cli.procedure.revision', revision=p.revision or '-')} {FAMILIES[p.family]:12} {p.title}")
    for w in library.welders:
        print(say("cli.procedure.welder_row", mark=w.mark, family=WELDER_FAMILIES[w.family], last=w.last_used or say("continuity.unknown")))
    print(say("cli.procedure.folder", path=str(library.folder / "procedures")))
    return INSIDE


def _derive(a: argparse.Namespace, desk: Desk) -> int:
    say, record = desk.say, read_test(a.test)
    found = derived(record.family, record.kind, record.test, desk.library.rows)
    if a.json:
        print(json.dumps({"family": record.family, "kind": record.kind, "derived": [_document(d, say) for d in found]}, indent=2))
        return INSIDE
    for d in found:
        mark = "" if d.certainty == SURE else f"   [{say('certainty.unverified')}]"
        figure = filler_figure(d.covers) if d.item == "filler" else d.figure
        print(f"{say(f'item.{d.item}'):<17} {say.figure(figure):<28} {d.rule}{mark}")
    if not found:
        print(say("cli.procedure.no_rule"))
    print(say("cli.procedure.foot"))
    return INSIDE


def _document(d: Derived, say: Speech) -> dict[str, Any]:
    return {
        "item": d.item, "low": None if math.isinf(d.low) else d.low, "high": None if math.isinf(d.high) else d.high,
        "unit": say.units.unit(d.kind) if d.kind else "", "covers": list(d.covers), "rule": d.rule, "certainty": d.certainty,
    }  # fmt: skip
