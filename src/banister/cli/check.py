"""`banister check`: everything of the plan that is held against a limit."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE as DONE
from banister.cli.errors import NOT_JUDGED as OPEN
from banister.cli.errors import OUTSIDE as BAD
from banister.core.judge.judgement import Judgement
from banister.core.plan.notes import Note, note_on, notes_of
from banister.core.plan.plan import Plan
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, SURE, WATCH
from banister.core.words import Speech

EXIT_CODES = {INSIDE: DONE, OUTSIDE: BAD, NOT_JUDGED: OPEN}


def add_parser(commands: Any, say: Speech) -> None:
    """Add `check` to the command line."""
    p = described(commands, "check", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--all", action="store_true", help=say("cli.check.all"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the check and return the worst verdict as exit code."""
    job, say = desk.read(a.file), desk.say
    worst = []
    for joint in desk.joints(job, a.joint):
        sheet = desk.judged_now(job, joint)
        counts = sheet.judgement.counts
        tally = say("cli.check.tally", inside=str(counts[INSIDE]), outside=str(counts[OUTSIDE]), not_judged=str(counts[NOT_JUDGED]))
        print(f"{joint.id}  {joint.name}: {tally}")
        if changed := job.changed_since_issued(joint):
            print(f"  {say('cli.changed', what=', '.join(say(f'changed.{key}') for key in changed))}")
        for line in lines(sheet.plan, sheet.judgement, say, a.all):
            print(f"  {line}")
        worst.append(sheet.judgement.worst)
    return EXIT_CODES[OUTSIDE if OUTSIDE in worst else NOT_JUDGED if NOT_JUDGED in worst else INSIDE]


def lines(plan: Plan, judgement: Judgement, say: Speech, everything: bool = False) -> Iterator[str]:
    """What is outside line by line, what is not judged once for all its passes, what to watch; what is inside if asked for."""
    for remark in judgement.of(OUTSIDE):
        yield _line(note_on(plan, remark), say)
    for verdict in (NOT_JUDGED, WATCH):
        for note in notes_of(plan, judgement.of(verdict)):
            yield _line(note, say)
    if everything:
        for remark in judgement.of(INSIDE):
            yield _line(note_on(plan, remark), say)


def _line(note: Note, say: Speech) -> str:
    remark = note.remark
    text = _unset(note, say) if remark.verdict == NOT_JUDGED else note.said(say)
    source = f" [{say.source(remark)}]" if remark.source else ""
    unsure = f" ({say('certainty.unverified')})" if remark.certainty != SURE else ""
    return f"{say(f'verdict.{remark.verdict}')}: {text}{unsure}{source}"


def _unset(note: Note, say: Speech) -> str:
    """What is not judged, once for all its passes: a figure that no window speaks of is named without its value."""
    remark, more = note.remark, len(note.passes)
    text = say("cli.check.unset", title=say.title(remark)) if remark.code.startswith("window.") else say.text(remark)
    return f"{text}, {say('cli.passes', n=more)}" if more > 1 else text
