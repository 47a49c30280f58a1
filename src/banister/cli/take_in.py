"""`banister import`: a list of welds becomes joints of a job, or changes those that are there."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.job import Job, job_faults
from banister.core.remark import Refused
from banister.core.words import Speech
from banister.job.files import JobFile
from banister.job.weld_csv import read_welds, taken_in


def add_parser(commands: Any, say: Speech) -> None:
    """Add `import` to the command line."""
    p = described(commands, "import", say)
    p.add_argument("list", type=Path, metavar="LIST")
    p.add_argument("-o", "--output", required=True, type=Path, metavar="JOB")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Take the whole list in, or nothing of it."""
    say, file = desk.say, JobFile(a.output)
    try:
        is_new = not a.output.exists()
        job = Job(name=a.output.stem) if is_new else file.open()
        if file.read_only:
            raise UsageFault("cli.fault.read_only", path=str(a.output))
        joints = read_welds(a.list, desk.library.rods, {joint.id: joint for joint in job.joints})
        now, added, changed = taken_in(job, joints, desk.library.rods)
        if faults := job_faults(now):
            raise Refused(*faults)
        file.save(now)
    finally:
        file.close()
    print(say("cli.import.done", added=str(added), changed=str(changed), path=str(a.output)))
    return INSIDE
