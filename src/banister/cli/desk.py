"""What every command works with: how it speaks, the user's library, and today."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from datetime import date
from functools import cached_property
from pathlib import Path

from banister.cli.errors import UsageFault
from banister.core.heat.line import HeatLine
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, fault
from banister.core.sheet import Sheet
from banister.core.standing import heat_of, standing_plan, standing_sheet
from banister.core.units import Units
from banister.core.words import Speech
from banister.job.files import read, write_atomically
from banister.job.journal import journal_path
from banister.job.library import Library, load, words
from banister.job.reading import FileFault


class Desk:
    """One call of the command line."""

    def __init__(self, inches: bool = False, today: date | None = None, wanted: Sequence[Path] = ()) -> None:
        self.say = Speech(words(), Units(inches))
        self.wanted = wanted
        """What is to be written: a name that cannot be is refused before any work."""
        self.today = today or date.today()
        self._jobs: list[Path] = []
        """Job files that were read: nothing else is written over them."""

    @cached_property
    def library(self) -> Library:
        """The user's library; what of it cannot be read is told once, and what ships serves meanwhile."""
        found = load()
        for broken in found.faults:
            self.complain(broken)
        return found

    def complain(self, broken: FileFault) -> None:
        """Every fault of a file, with its place, to the error output."""
        name = os.fsencode(broken.file).decode("utf-8", "replace")
        for line in self.say.faults(broken.remarks):
            print(f"banister: {name}: {line}" if name else f"banister: {line}", file=sys.stderr)

    # --- jobs ---------------------------------------------------------------------------------
    def read(self, path: Path) -> Job:
        """A job to work from; one of a newer version is told to be only half understood."""
        loaded = read(path)
        self._jobs.append(path)
        for wanted in self.wanted:
            self._refuse_own(wanted)
        if loaded.newer:
            print(f"banister: {path}: {self.say('cli.newer')}", file=sys.stderr)
        return loaded.job

    def joints(self, job: Job, joint_id: str | None) -> tuple[Joint, ...]:
        """All joints, or the one named."""
        if not job.joints:
            raise UsageFault("cli.fault.no_joints")
        if joint_id is None:
            return job.joints
        try:
            return (job.joint(joint_id),)
        except KeyError:
            raise UsageFault("cli.fault.joint", joint=joint_id, joints=", ".join(j.id for j in job.joints)) from None

    def joint(self, job: Job, joint_id: str | None) -> Joint:
        """The joint named, or the only one; where there are several and none is named, they are."""
        found = self.joints(job, joint_id)
        if len(found) > 1:
            raise UsageFault("cli.fault.which", joints=", ".join(j.id for j in found))
        return found[0]

    def plan(self, job: Job, joint: Joint, answer: str | None = None) -> Plan:
        """The plan of a joint as it stands."""
        return standing_plan(job, joint, answer)

    def sheet(self, job: Job, joint: Joint, answer: str | None = None, whole: bool = False) -> Sheet:
        """The sheet of a joint as it stands."""
        return standing_sheet(job, joint, self.library.rows, self.today, answer, whole)

    def judged_now(self, job: Job, joint: Joint) -> Sheet:
        """A joint as it is: what was issued speaks for it only while nothing at all has changed."""
        if not job.changed_since_issued(joint):
            return self.sheet(job, joint)
        plan = self.plan(job, joint)
        return job.sheet_of(joint, plan, heat_of(job, joint, plan), self.library.rows, self.today)

    def heat(self, job: Job, joint: Joint, plan: Plan, whole: bool = False) -> HeatLine:
        """The schedule of a plan within the job's shift."""
        return heat_of(job, joint, plan, whole)

    # --- output -------------------------------------------------------------------------------
    def write(self, path: Path, data: bytes) -> None:
        """Write an output file whole or not at all; never over a job that was read, nor over its journal."""
        self._refuse_own(path)
        try:
            write_atomically(path, data)
        except OSError as error:
            raise FileFault(fault("file.not_written", "", detail=Figure(error.strerror or str(error), "name")), file=str(path)) from error

    def _refuse_own(self, path: Path) -> None:
        for job in self._jobs:
            if path.exists() and any(own.exists() and path.samefile(own) for own in (job, journal_path(job))):
                raise UsageFault("cli.fault.own_file", path=str(path))


def columns(rows: Sequence[Sequence[str]], left: Sequence[int]) -> list[str]:
    """Rows as lines of even columns; those in `left` begin at their left edge, the others end at their right one."""
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    return ["  ".join(cell.ljust(w) if i in left else cell.rjust(w) for i, (cell, w) in enumerate(zip(row, widths, strict=True))).rstrip() for row in rows]
