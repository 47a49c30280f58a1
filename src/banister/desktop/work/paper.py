"""What is put on paper or drawn for other programs, and sent to a printer: what makes PDF and DXF takes long to load, and is loaded here only."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Mapping, Sequence
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from banister.core.heat.board import Board, Jobs
from banister.core.heat.shift import Shift
from banister.core.job import Job
from banister.core.limits.qualification import QualificationRows
from banister.core.sheet import Sheet
from banister.core.standing import heat_of, standing_sheet
from banister.core.value import Struct
from banister.core.words import Speech

if TYPE_CHECKING:
    from banister.core.care.take import Need
    from banister.core.care.trips import Trip, Use
    from banister.core.drawing.shapes import Drawing
    from banister.core.heat.film import Film
    from banister.core.heat.schedule import Schedule
    from banister.core.inspect.pieces import Cut, Zone
    from banister.core.joint.joint import Joint
    from banister.core.journal import Chain
    from banister.core.plan.plan import Plan
    from banister.core.record.gathering import Gathered
    from banister.core.stops.of_plan import JointStops

LONGEST_S = 20
"""A printing command that takes longer is given up."""
SENT, NO_PRINTER, SLOW, FAILED = "sent", "none", "slow", "failed"


class Paper(Struct, frozen=True):
    """Sheets to be put on paper: of which joints, how, the one that is known already, and what the others are worked out from."""

    shown: Sheet
    joints: tuple[str, ...]
    job: Job
    rows: QualificationRows
    today: date
    say: Speech
    size: str
    convention: str
    deviations: Mapping[str, int]
    """How many deviations are open, by joint."""

    def sheets(self) -> list[Sheet]:
        """The sheets with their heat, in the order of the joints."""
        return [self._sheet(joint_id) for joint_id in self.joints]

    def _sheet(self, joint_id: str) -> Sheet:
        sheet, job = self.shown, self.job
        if joint_id != sheet.joint.id:
            return standing_sheet(job, job.joint(joint_id), self.rows, self.today, whole=True)
        if sheet.heat is not None or not sheet.plan.feasible or sheet.is_issued:
            return sheet
        return job.sheet_of(sheet.joint, sheet.plan, heat_of(job, sheet.joint, sheet.plan, whole=True), self.rows, self.today)


def sheet_pages(paper: Paper) -> bytes:
    """The pass sheets as a PDF."""
    from banister.export.sheet import pass_sheets

    return pass_sheets(paper.sheets(), paper.say, paper.size, paper.convention, paper.today.isoformat(), paper.deviations)


def printers() -> list[str]:
    """The printers of this machine, the usual one first; none where there is no printing system."""
    command = shutil.which("lpstat")
    if command is None:
        return []
    try:
        named = subprocess.run([command, "-e"], capture_output=True, text=True, check=False, timeout=LONGEST_S).stdout.split()
        usual = subprocess.run([command, "-d"], capture_output=True, text=True, check=False, timeout=LONGEST_S).stdout.rpartition(":")[2].strip()
    except (subprocess.TimeoutExpired, OSError):
        return []
    return sorted(named, key=lambda name: name != usual)


def board_pages(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> bytes:
    """The board as a PDF for the wall."""
    from banister.export.board import board_page

    return board_page(jobs, board, shift, say)


def card_pages(joint: Joint, job: str, say: Speech, on: str) -> bytes:
    """The preparation and fit-up card as a PDF."""
    from banister.export.card import preparation_card

    return preparation_card(joint, job, say, on=on)


def rod_pages(
    sheet: Sheet, needs: Mapping[str, Need], confidence: float, trips: Sequence[Trip], longest_s: float, uses: Sequence[Use], say: Speech,
) -> bytes:  # fmt: skip
    """What to take along, and the trips to the oven, as a PDF."""
    from banister.export.rod_list import rod_list

    return rod_list(sheet, needs, confidence, trips, longest_s, uses, say)


def chalk_pages(joint: Joint, plan: Plan, stops: JointStops, say: Speech) -> bytes:
    """The chalk strip at its true size as a PDF."""
    from banister.export.stops import stop_pages

    return stop_pages(joint, plan, stops, say)


def frame_pages(joint: Joint, plan: Plan, schedule: Schedule, film: Film, say: Speech) -> bytes:
    """Frames of the film as a PDF."""
    from banister.export.film import film_page

    return film_page(joint, plan, schedule, film, say)


def cut_pages(joint: Joint, cuts: Sequence[Cut], zones: Sequence[Zone], say: Speech) -> bytes:
    """Test pieces as they lie, at their true size over tiled pages, as a PDF."""
    from banister.core.fitup.places import course_of
    from banister.export.test_pieces import piece_pages

    return piece_pages(joint, cuts, zones, course_of(joint), say)


def record_pages(found: Gathered, chain: Chain, say: Speech) -> bytes:
    """The traveller as a PDF."""
    from banister.export.record import traveller

    return traveller(found, chain, say)


def section_drawn(drawing: Drawing, title: str) -> bytes:
    """The section as DXF, 1 : 1."""
    from banister.export.dxf import section_dxf

    return section_dxf(drawing, title)


def chart_drawn(drawing: Drawing, title: str) -> bytes:
    """A chart as DXF, as large as on paper."""
    from banister.export.dxf import chart_dxf

    return chart_dxf(drawing, title)


def printed(paper: Paper, printer: str = "") -> tuple[str, str]:
    """Send the sheets to a printer ('' for the usual one): what came of it (the word `print.KEY`), and what the printing command said."""
    command = shutil.which("lp")
    if command is None:
        return NO_PRINTER, ""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "sheet.pdf"
        path.write_bytes(sheet_pages(paper))
        to = ["-d", printer] if printer else []
        try:
            done = subprocess.run([command, *to, "-t", ", ".join(paper.joints), str(path)], capture_output=True, text=True, check=False, timeout=LONGEST_S)
        except subprocess.TimeoutExpired:
            return SLOW, ""
    return (SENT, "") if done.returncode == 0 else (FAILED, done.stderr.strip())
