"""`banister board`: one or two welders and several joints, welded while the others cool."""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.cli.plan import chosen_plan
from banister.core.heat.board import PREDICTED, Board, board_faults, board_in_words, first_boards, improved, walking_list
from banister.core.heat.shift import IN_ONE_GO, LEFT_OUT, Shift, parsed_pause, shift_faults
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.units import parsed_clock_s
from banister.job.codec import FileFault
from banister.job.files import read, write_atomically

_EPILOG = """\
examples:
  banister board bridge.banister
  banister board bridge.banister pump-house.banister --start 7:00 --break 12:00..12:30
  banister board bridge.banister --welders 2
  banister board bridge.banister --exclude P4 --json
  banister board bridge.banister --pdf board.pdf

The shift saved in the (first) job holds where no option says otherwise.
"""


def add_parser(commands: Any) -> None:
    """Add `board` to the command line."""
    p = commands.add_parser("board", help="order passes over joints so that waits are used", epilog=_EPILOG,
                            formatter_class=argparse.RawDescriptionHelpFormatter)  # fmt: skip
    p.add_argument("files", type=Path, nargs="+", metavar="JOB")
    p.add_argument("--exclude", action="append", default=[], metavar="ID", help="leave a joint out; repeat for more")
    p.add_argument("--start", metavar="H:MM", help="when the shift begins")
    p.add_argument("--break", dest="breaks", action="append", default=[], metavar="H:MM..H:MM", help="nobody welds then; repeat for more")
    p.add_argument("--until", metavar="H:MM", help="when the shift ends: what is not finished by then is left for the next")
    p.add_argument("--lock", action="append", default=[], metavar="ID", help="once begun, weld this joint to its end; repeat for more")
    p.add_argument("--welders", type=int, choices=(1, 2), help="how many weld at once, each at another joint")
    p.add_argument("--root-alone", action="store_true", help="a root may be left before the pass after it is welded")
    p.add_argument("--seconds", type=float, default=20.0, metavar="S", help="look for a better order at most this long (20)")
    p.add_argument("--quick", action="store_true", help="only the fixed rules, no search")
    p.add_argument("--json", action="store_true")
    p.add_argument("--pdf", type=Path, metavar="FILE", help="one page for the wall")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Print or write the board."""
    files = [(path, read(path).job) for path in a.files]
    jobs = _jobs(files)
    shift = _shift(a, files[0][1].shift, [joint.id for joint, _ in jobs])
    jobs = [(joint, plan) for joint, plan in jobs if shift.kept_as(joint.id) != LEFT_OUT]
    if not jobs:
        raise UsageFault("no joint is left for the board")
    if faults := board_faults([joint for joint, _ in jobs]):
        print("\n".join(f"{f.text}. {f.remedy}" for f in faults))
        return OUTSIDE
    blocked = [joint.id for joint, plan in jobs if not plan.feasible]
    boards = () if blocked else first_boards(jobs, shift)
    if not boards:
        print(f"no board: {', '.join(blocked)} cannot be planned" if blocked else "no board: a joint never cools to its limit")
        return OUTSIDE
    best = boards[0] if a.quick else _sought(jobs, boards[0], shift, a.seconds)
    if a.pdf:
        _write_pdf(a.pdf, jobs, best, shift)
    elif a.json:
        from banister.export.heat_json import board_document

        print(json.dumps({"format": "banister-board", "version": 1, "board": board_document(best, shift)}, indent=1))
    else:
        print("\n".join([*walking_list(jobs, best, shift), *board_in_words(best, shift), PREDICTED]))
    return INSIDE


def _sought(jobs: list[tuple[Joint, Plan]], first: Board, shift: Shift, seconds: float) -> Board:
    """The best board the search finds in its time; Ctrl+C takes the best so far. Progress goes to a terminal only."""
    shown, best, until = sys.stderr.isatty(), first, time.monotonic() + seconds
    try:
        for found in improved(jobs, first, shift):
            best = found
            if shown:
                print(f"\rlooking for a better order: ends {shift.clock(best.end_s)} so far; Ctrl+C takes it", end="", file=sys.stderr)
            if time.monotonic() > until:
                break
    except KeyboardInterrupt:
        pass
    if shown:
        print(file=sys.stderr)
    return best


def _jobs(files: list[tuple[Path, Job]]) -> list[tuple[Joint, Plan]]:
    """Joints of all files with their chosen plans; an id used twice is named with its file."""
    found: list[tuple[Joint, Plan]] = []
    for path, job in files:
        for joint in job.joints:
            plan = chosen_plan(job, joint)
            taken = {j.id for j, _ in found}
            found.append((replace(joint, id=joint.id if joint.id not in taken else f"{path.stem}/{joint.id}"), plan))
    return found


def _shift(a: argparse.Namespace, saved: Shift, ids: list[str]) -> Shift:
    """The saved shift with what the options change."""
    shift = saved
    for option, way, names in (("--lock", IN_ONE_GO, a.lock), ("--exclude", LEFT_OUT, a.exclude)):
        for name in names:
            if name not in ids:
                raise UsageFault(f"{option}: there is no joint '{name}' on the board; there are {', '.join(ids)}")
            shift = shift.keeping(name, way)
    if a.start is not None:
        shift = replace(shift, begins_s=_read_as("--start", lambda: parsed_clock_s(a.start)))
    if a.until is not None:
        shift = replace(shift, until_s=_read_as("--until", lambda: parsed_clock_s(a.until)))
    if a.breaks:
        shift = replace(shift, pauses=_read_as("--break", lambda: tuple(parsed_pause(text) for text in a.breaks)))
    if a.root_alone:
        shift = replace(shift, root_alone=True)
    if a.welders is not None:
        shift = replace(shift, welders=a.welders)
    if faults := shift_faults(shift):
        raise UsageFault("; ".join(text for _, text in faults))
    return shift


def _read_as(option: str, parse: Callable[[], Any]) -> Any:
    try:
        return parse()
    except ValueError as error:
        raise UsageFault(f"{option}: {error}") from error


def _write_pdf(path: Path, jobs: list[tuple[Joint, Plan]], board: Board, shift: Shift) -> None:
    from banister.export.board_pdf import board_page

    try:
        write_atomically(path, board_page(jobs, board, shift))
    except OSError as error:
        raise FileFault(f"{path}: not written ({error.strerror or error})") from error
