"""What runs in the processes beside the window on paper's behalf; no Qt here."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from banister.core.heat.board import Board, Jobs
from banister.core.heat.line import heat_line
from banister.core.heat.shift import DAY_S, Shift
from banister.core.job import Job
from banister.core.limits.qualification import QualificationRows
from banister.core.sheet import Sheet
from banister.core.words import Speech

LONGEST_S = 20
"""A printing command that takes longer is given up."""
SENT, NO_PRINTER, SLOW, FAILED = "sent", "none", "slow", "failed"


@dataclass(frozen=True, slots=True)
class Paper:
    """A sheet to be put on paper: how, and what its heat is worked out from where that is not known yet."""

    sheet: Sheet
    job: Job
    rows: QualificationRows
    today: date
    say: Speech
    size: str
    convention: str

    @property
    def whole(self) -> Sheet:
        """The sheet with its heat, judged with it."""
        sheet, job = self.sheet, self.job
        if sheet.heat is not None or not sheet.plan.feasible or sheet.is_issued:
            return sheet
        heat = heat_line(sheet.joint, sheet.plan, min(job.shift.lasts_s, DAY_S))
        return job.sheet_of(sheet.joint, sheet.plan, heat, self.rows, self.today)


def sheet_pages(paper: Paper) -> bytes:
    """The pass sheet as a PDF."""
    from banister.export.sheet import pass_sheets

    return pass_sheets([paper.whole], paper.say, paper.size, paper.convention)


def board_pages(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> bytes:
    """The board as a PDF for the wall."""
    from banister.export.board import board_page

    return board_page(jobs, board, shift, say)


def printed(paper: Paper) -> tuple[str, str]:
    """Send the sheet to the default printer: what came of it (the word `print.KEY`), and what the printing command said."""
    command = shutil.which("lp")
    if command is None:
        return NO_PRINTER, ""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "sheet.pdf"
        path.write_bytes(sheet_pages(paper))
        try:
            done = subprocess.run([command, "-t", paper.sheet.joint.id, str(path)], capture_output=True, text=True, check=False, timeout=LONGEST_S)
        except subprocess.TimeoutExpired:
            return SLOW, ""
    return (SENT, "") if done.returncode == 0 else (FAILED, done.stderr.strip())
