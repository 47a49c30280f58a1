"""`banister procedure`: derive ranges from a test, and take a procedure or a welder into a job."""

from __future__ import annotations

import argparse
import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

from banister.cli.errors import INSIDE, UsageFault
from banister.core.job import Job, welded_to
from banister.core.limits.procedure import FAMILIES, WELDER_FAMILIES
from banister.core.limits.qualification import SURE, Derived, derived
from banister.job.files import JobFile, read
from banister.job.procedures import library, library_folder, read_procedure, read_test, read_welder, rules

_EPILOG = """\
examples:
  banister procedure derive test.json
  banister procedure derive test.json --json
  banister procedure attach bridge.banister WPS-12.json --joint F2
  banister procedure welder bridge.banister welder-A.json --joint F2

A test file: {"format": "banister-weld-test", "version": 1, "record": {"kind": "procedure",
"family": "asme-ix", "test": {"thickness_mm": 16, "position": "3G", "preheat_c": 20}}}

Ranges marked unverified were written from memory: enter them from your copy of the standard, in
qualification.json in your data folder. They never make a check say "inside".
"""


def add_parser(commands: Any) -> None:
    """Add `procedure` to the command line."""
    p = commands.add_parser(
        "procedure", help="qualified ranges from a test; procedures and welders of a job", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    actions = p.add_subparsers(dest="action", required=True, metavar="action")
    derive = actions.add_parser("derive", help="what a test record qualifies, with the rule of every range")
    derive.add_argument("test", type=Path, metavar="TEST")
    derive.add_argument("--json", action="store_true")
    actions.add_parser("list", help="procedures and welders of your library folder")
    for name, text in (("attach", "take a procedure document into a job"), ("welder", "take a welder's qualification into a job")):
        action = actions.add_parser(name, help=text)
        action.add_argument("job", type=Path, metavar="JOB")
        action.add_argument("document", type=Path, metavar="FILE")
        action.add_argument("--joint", metavar="ID", help="only this joint (default: all)")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Derive, or take a document into a job."""
    if a.action == "derive":
        return _derive(a)
    if a.action == "list":
        return _list()
    job = read(a.job).job
    wanted = [a.joint] if a.joint else [joint.id for joint in job.joints]
    if missing := [j for j in wanted if j not in {joint.id for joint in job.joints}]:
        raise UsageFault(f"--joint: the job has no joint '{missing[0]}'; it has {', '.join(j.id for j in job.joints)}")
    JobFile(a.job).save(_with_procedure(job, a.document, wanted) if a.action == "attach" else _with_welder(job, a.document, wanted))
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


def _list() -> int:
    procedures, welders, faults = library()
    for p in procedures:
        print(f"{p.id:12} revision {p.revision or '-':6} {FAMILIES[p.family]:12} {p.title}")
    for w in welders:
        print(f"welder {w.mark:5} {WELDER_FAMILIES[w.family]:19} last used {w.last_used or 'not stated'}")
    for line in faults:
        print("not readable:", line)
    print("Folder:", library_folder())
    return INSIDE


def _derive(a: argparse.Namespace) -> int:
    record = read_test(a.test)
    found = derived(record.family, record.kind, record.test, rules())
    if a.json:
        print(json.dumps({"family": record.family, "kind": record.kind, "derived": [_document(d) for d in found]}, indent=2))
        return INSIDE
    for d in found:
        mark = "" if d.certainty == SURE else "   [unverified, enter from your copy]"
        print(f"{d.item:<17} {d.in_words:<28} {d.rule}{mark}")
    if not found:
        print("no rule speaks of this test")
    print("The standard governs: check every range against your copy.")
    return INSIDE


def _document(d: Derived) -> dict[str, Any]:
    return {
        "item": d.item, "low": None if math.isinf(d.low) else d.low, "high": None if math.isinf(d.high) else d.high, "unit": d.unit,
        "covers": list(d.covers), "rule": d.rule, "certainty": d.certainty,
    }  # fmt: skip
