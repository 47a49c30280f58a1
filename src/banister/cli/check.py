"""`banister check`: every figure of the plan against the procedure's windows."""

from __future__ import annotations

import argparse
import math
from pathlib import Path
from typing import Any

from banister.cli.errors import INSIDE, NOT_JUDGED, OUTSIDE
from banister.cli.plan import chosen_joints, chosen_plan
from banister.core.judge.check import INSIDE_, NOT_JUDGED as UNJUDGED, OUTSIDE_, Judged, checked, tally
from banister.core.judge.coverage import Covered
from banister.job.files import read
from banister.job.procedures import covered_today

_EPILOG = """\
examples:
  banister check flange.banister
  banister check bridge.banister --joint F2 --all

Every line is inside, outside or not judged. What the procedure does not set is not judged;
it is never called fine. A procedure document and a welder in the job are checked as well:
one line for every essential variable. Exit code 1 if anything is outside, else 3 if anything is not judged.
"""


def add_parser(commands: Any) -> None:
    """Add `check` to the command line."""
    p = commands.add_parser(
        "check", help="check the plan against the procedure", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help="one joint of several")
    p.add_argument("--all", action="store_true", help="print the lines that are inside as well")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Print the check and return the worst verdict as exit code."""
    job = read(a.file).job
    worst = INSIDE
    for joint in chosen_joints(job, a.joint):
        plan = chosen_plan(job, joint)
        lines = checked(joint, plan)
        counts = tally(lines)
        print(f"{joint.id}  {joint.name}: {counts[INSIDE_]} inside, {counts[OUTSIDE_]} outside, {counts[UNJUDGED]} not judged")
        for line in _grouped(lines, a.all):
            print("  " + line)
        covered = covered_today(job, joint, plan)
        for one in covered:
            if a.all or one.verdict != INSIDE_:
                print("  " + covered_sentence(one))
        if joint.procedure and job.procedure_of(joint) is None:
            print(f"  not judged: procedure {joint.procedure} is named, but the job does not hold its document")
        if counts[OUTSIDE_] or not plan.feasible or any(c.verdict == OUTSIDE_ for c in covered):
            worst = OUTSIDE
        elif (counts[UNJUDGED] or any(c.verdict == UNJUDGED for c in covered)) and worst != OUTSIDE:
            worst = NOT_JUDGED
    return worst


def _grouped(lines: tuple[Judged, ...], everything: bool) -> list[str]:
    """Outside lines one by one, what is not judged once per quantity, inside ones if asked for."""
    found = [sentence(line) for line in lines if line.verdict == OUTSIDE_]
    unjudged = [line.item.rpartition(": ")[2] if line.pass_id else line.item for line in lines if line.verdict == UNJUDGED]
    for item in dict.fromkeys(unjudged):
        count = unjudged.count(item)
        found.append(f"not judged: {item}" + (f", {count} passes" if count > 1 else ""))
    if everything:
        found += [sentence(line) for line in lines if line.verdict == INSIDE_]
    return found


def covered_sentence(line: Covered) -> str:
    """One line of coverage in words."""
    rule = f" [{line.rule}]" if line.rule else ""
    return f"{line.verdict}: {line.item} {line.value} (allowed: {line.allowed}){rule}" + (f". {line.remedy}" if line.remedy else "")


def sentence(line: Judged) -> str:
    """One judged line in words."""
    value = "" if line.value is None else f" {line.value:.4g} {line.unit}"
    low = "" if math.isinf(line.low) else f"{line.low:g}"
    high = "" if math.isinf(line.high) else f"{line.high:g}"
    window = f" (window {low}..{high} {line.unit})" if low or high else ""
    return f"{line.verdict}: {line.item}{value}{window}" + (f". {line.remedy}" if line.remedy else "")
