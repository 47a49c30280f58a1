"""`banister board`: one or two welders and several joints, welded while the others cool."""

from __future__ import annotations

import argparse
import itertools
import json
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.heat.board import Board, board_faults, board_said, work_list
from banister.core.heat.board_search import sought
from banister.core.heat.shift import HALVES, IN_ONE_GO, LEFT_OUT, Shift, shift_faults, typed_pause
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Refused
from banister.core.typed import typed, typed_clock_s
from banister.core.under_way import left_of, welded_of
from banister.core.value import replace
from banister.core.words import Speech
from banister.job.journal import records_of

Named = tuple[Path, Job, Joint, Joint]
"""A joint in its file, as it stands there, and by the name it has on the board."""


def add_parser(commands: Any, say: Speech) -> None:
    """Add `board` to the command line."""
    p = described(commands, "board", say)
    p.add_argument("files", type=Path, nargs="+", metavar="JOB")
    p.add_argument("--exclude", action="append", default=[], metavar="ID", help=say("cli.board.exclude"))
    p.add_argument("--start", metavar="H:MM", help=say("cli.board.start"))
    p.add_argument("--break", dest="breaks", action="append", default=[], metavar="H:MM..H:MM", help=say("cli.board.break"))
    p.add_argument("--until", metavar="H:MM", help=say("cli.board.until"))
    p.add_argument("--lock", action="append", default=[], metavar="ID", help=say("cli.board.lock"))
    p.add_argument("--halves", action="append", default=[], metavar="ID", help=say("cli.board.halves"))
    p.add_argument("--welders", type=int, choices=(1, 2), help=say("cli.board.welders"))
    p.add_argument("--root-alone", action="store_true", help=say("cli.board.root_alone"))
    p.add_argument("--leaving", metavar="S", help=say("cli.board.leaving"))
    p.add_argument("--steps", type=int, metavar="N", help=say("cli.board.steps"))
    p.add_argument("--quick", action="store_true", help=say("cli.board.quick"))
    p.add_argument("--json", action="store_true")
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.board.pdf"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print or write the board."""
    say = desk.say
    files = [(path, desk.read(path)) for path in a.files]
    named = list(_named(files))
    shift = _shift(a, files[0][1].shift, [joint.id for *_, joint in named])
    for *_, joint in named:
        if joint.id in a.halves and (joint.runs == 1 or shift.welders == 1):
            raise UsageFault("cli.fault.board.halves", joint=joint.id)
    jobs = _jobs([one for one in named if shift.kept_as(one[2].id) != LEFT_OUT], desk)
    if not jobs:
        raise UsageFault("cli.fault.board.empty")
    if faults := board_faults([joint for joint, _ in jobs]):
        print("\n".join(f"{joint.id}: {say.sentence(remark)}" for joint, remark in faults))
        return OUTSIDE
    blocked = [joint.id for joint, plan in jobs if not plan.feasible]
    best = None if blocked else _sought(jobs, shift, 0 if a.quick else a.steps, say)
    if best is None:
        print(say("board.blocked", joints=", ".join(blocked)) if blocked else say("board.never"))
        return OUTSIDE
    if a.pdf:
        from banister.export.board import board_page

        desk.write(a.pdf, board_page(jobs, best, shift, say))
    elif a.json:
        from banister.export.documents import board_document

        print(json.dumps({"format": "banister-board", "version": 1, "board": board_document(best, shift)}, indent=1))
    else:
        print("\n".join([*(line for line, _ in work_list(jobs, best, shift, say)), *board_said(best, shift, say), say("board.predicted")]))
    return INSIDE


def _sought(jobs: list[tuple[Joint, Plan]], shift: Shift, steps: int | None, say: Speech) -> Board | None:
    """The best board after so many steps of the search (None: all); Ctrl+C takes the best so far. Progress goes to a terminal only."""
    shown, best = sys.stderr.isatty(), None
    try:
        for found in itertools.islice(sought(jobs, shift), None if steps is None else max(steps, 0) + 1):
            best = found.best
            if shown:
                print(f"\r{say('cli.board.looking', ends=shift.clock(best.end_s, say))}", end="", file=sys.stderr)
    except KeyboardInterrupt:
        pass
    if shown:
        print(file=sys.stderr)
    return best


def _named(files: list[tuple[Path, Job]]) -> Iterator[Named]:
    """Joints of all files; an id used twice is named with its file."""
    taken = set[str]()
    for path, job in files:
        for joint in job.joints:
            name = joint.id if joint.id not in taken else f"{path.stem}/{joint.id}"
            taken.add(name)
            yield path, job, joint, replace(joint, id=name)


def _jobs(named: Iterable[Named], desk: Desk) -> list[tuple[Joint, Plan]]:
    """Joints by the names they have on the board, with what is left to weld of their chosen plans; those that are welded have none."""
    found = [(joint, _left(path, job, own, desk)) for path, job, own, joint in named]
    return [(joint, plan) for joint, plan in found if plan.passes or plan.reasons]


def _left(path: Path, job: Job, joint: Joint, desk: Desk) -> Plan:
    """The plan of a joint, or what is left of it where its journal tells that it was begun."""
    sheet = job.issued_for(joint)
    begun = None if sheet is None else welded_of(sheet, job.rods_by_id, records_of(path))
    if begun is not None:
        return left_of(begun)
    return desk.plan(job, joint)


def _shift(a: argparse.Namespace, saved: Shift, ids: list[str]) -> Shift:
    """The saved shift with what the options change."""
    shift = saved
    for option, way, names in (("--lock", IN_ONE_GO, a.lock), ("--exclude", LEFT_OUT, a.exclude), ("--halves", HALVES, a.halves)):
        for name in names:
            if name not in ids:
                raise UsageFault("cli.fault.board.joint", option=option, joint=name, joints=", ".join(ids))
            shift = shift.keeping(name, way)
    if a.start is not None:
        shift = replace(shift, begins_s=spelling.asked("--start", lambda: typed_clock_s(a.start)))
    if a.until is not None:
        shift = replace(shift, until_s=spelling.asked("--until", lambda: typed_clock_s(a.until)))
    if a.breaks:
        shift = replace(shift, pauses=spelling.asked("--break", lambda: tuple(typed_pause(text) for text in a.breaks)))
    if a.leaving is not None:
        shift = replace(shift, leaving_s=spelling.asked("--leaving", lambda: typed(a.leaving, "seconds")))
    if a.root_alone:
        shift = replace(shift, root_alone=True)
    if a.welders is not None:
        shift = replace(shift, welders=a.welders)
    if faults := shift_faults(shift):
        raise Refused(*faults)
    return shift
