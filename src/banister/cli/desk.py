"""What every command works with: how it speaks, the user's library, and today."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from datetime import date
from functools import cached_property
from pathlib import Path

from banister.cli.errors import UsageFault
from banister.core.heat.line import HeatLine, heat_line
from banister.core.heat.schedule import schedule_of
from banister.core.heat.shift import DAY_S
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.answers import plan_joint
from banister.core.plan.identity import keyed
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, fault
from banister.core.sheet import Sheet
from banister.core.units import Units
from banister.core.words import Speech
from banister.job.reading import FileFault
from banister.job.files import read, write_atomically
from banister.job.library import Library, load, words


class Desk:
    """One call of the command line."""

    def __init__(self, inches: bool = False, today: date | None = None) -> None:
        self.say = Speech(words(), Units(inches))
        self.today = today or date.today()

    @cached_property
    def library(self) -> Library:
        """The user's library; what of it cannot be read is told once, and what ships serves meanwhile."""
        found = load()
        for broken in found.faults:
            self.complain(broken)
        return found

    def complain(self, broken: FileFault) -> None:
        """Every fault of a file, with its place, to the error output."""
        for line in self.say.faults(broken.remarks):
            print(f"banister: {broken.file}: {line}" if broken.file else f"banister: {line}", file=sys.stderr)

    # --- jobs ---------------------------------------------------------------------------------
    def read(self, path: Path) -> Job:
        """A job to work from; one of a newer version is told to be only half understood."""
        loaded = read(path)
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

    def plan(self, job: Job, joint: Joint, answer: str | None = None) -> Plan:
        """The issued plan of a joint that did not change since, else the chosen answer planned now."""
        standing = job.plan_issued_for(joint)
        if standing is not None and answer in (None, standing.answer):
            return standing
        before = job.issued_for(joint)
        plan = plan_joint(joint, job.rods_by_id, answer or joint.working.chosen)
        return keyed(plan, before.plan, before.last_key) if before is not None else plan

    def sheet(self, job: Job, joint: Joint, answer: str | None = None, whole: bool = False) -> Sheet:
        """What is known of a joint: as it was issued, or plan, heat and judgement as they are now; `whole` with the line for the rail."""
        standing = job.standing_for(joint)
        if standing is not None and standing.heat is not None and answer in (None, standing.plan.answer):
            return standing
        plan = self.plan(job, joint, answer)
        return job.sheet_of(joint, plan, self.heat(job, joint, plan, whole), self.library.rows, self.today)

    def judged_now(self, job: Job, joint: Joint) -> Sheet:
        """A joint as it is: what was issued speaks for it only while nothing at all has changed."""
        if not job.changed_since_issued(joint):
            return self.sheet(job, joint)
        plan = self.plan(job, joint)
        return job.sheet_of(joint, plan, self.heat(job, joint, plan), self.library.rows, self.today)

    def heat(self, job: Job, joint: Joint, plan: Plan, whole: bool = False) -> HeatLine:
        """The schedule of a plan, with its line and bands where the whole is asked for."""
        within = min(job.shift.lasts_s, DAY_S)
        return heat_line(joint, plan, within) if whole else HeatLine(schedule_of(joint, plan, within_s=within))

    # --- output -------------------------------------------------------------------------------
    def write(self, path: Path, data: bytes) -> None:
        """Write an output file whole or not at all."""
        try:
            write_atomically(path, data)
        except OSError as error:
            raise FileFault(fault("file.not_written", "", detail=Figure(error.strerror or str(error), "name")), file=str(path)) from error


def columns(rows: Sequence[Sequence[str]], left: Sequence[int]) -> list[str]:
    """Rows as lines of even columns; those in `left` begin at their left edge, the others end at their right one."""
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    return ["  ".join(cell.ljust(w) if i in left else cell.rjust(w) for i, (cell, w) in enumerate(zip(row, widths, strict=True))).rstrip() for row in rows]
