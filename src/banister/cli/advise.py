"""`banister advise`: likely causes of an observation, by the job's own data; what to look at next, and what to do about it."""

from __future__ import annotations

import argparse
import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.drawing.section import pass_label
from banister.core.fitup.places import course_of
from banister.core.follow.facts import told
from banister.core.follow.stopped import stops_as_welded
from banister.core.inspect.advising import Advised, advised, advised_said
from banister.core.inspect.causes import ELSE, CauseTable, Word
from banister.core.inspect.found import FOUND, causes_found, counted_said, finding
from banister.core.inspect.observed import Observation, inspected
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.words import Speech
from banister.job.causes import cause_table
from banister.job.journal import Journal, journal_path, records_of
from banister.job.traces import traces_of


def add_parser(commands: Any, say: Speech) -> None:
    """Add `advise` to the command line."""
    p = described(commands, "advise", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("observation", type=int, metavar="N", help=say("cli.advise.observation"))
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--known", action="append", default=[], metavar="WHAT=LEVEL", help=say("cli.advise.known"))
    p.add_argument("--found", metavar="CAUSE", help=say("cli.advise.found"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Rank and print."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    records = records_of(a.file)
    one = observation_in(records, joint, a.observation)
    table = cause_table()
    plan = _plan(job, joint, desk)
    stops = stops_as_welded(joint, plan, told(records, joint.id))
    found = advised(one, joint, plan, records, table, stops, _known(a.known, table), traces_of(a.file), job.rods_by_id)
    if found is None:
        raise UsageFault("cli.fault.advise.kind", kind=desk.say(f"defect.{one.kind}"))
    if a.found is not None:
        _keep(a, job, joint, one, found, table)
        records = records_of(a.file)
    if a.json:
        print(json.dumps(_document(joint, one, found), indent=1))
    else:
        print("\n".join([*advised_said(found, one, course_of(joint), desk.say), counted_said(causes_found(records), desk.say)]))
    return INSIDE


def _known(given: Sequence[str], table: CauseTable) -> dict[str, str]:
    """Evidence that was looked at, by its name with its level."""
    found = dict[str, str]()
    for text in given:
        name, _, level = text.partition("=")
        if name not in table.levels:
            raise UsageFault("cli.fault.advise.evidence", text=text, known=", ".join(table.levels))
        if level not in table.levels[name]:
            raise UsageFault("cli.fault.advise.level", text=text, known=", ".join(table.levels[name]))
        found[name] = level
    return found


def _keep(a: argparse.Namespace, job: Job, joint: Joint, one: Observation, found: Advised, table: CauseTable) -> None:
    """Write what was found in the end into the journal."""
    causes = (*table.shares[table.group_of(one.kind)], ELSE)
    if a.found not in causes:
        raise UsageFault("cli.fault.advise.cause", text=a.found, known=", ".join(causes))
    journal = Journal(journal_path(a.file), job.name)
    try:
        journal.write(FOUND, joint.id, **finding(one.id, a.found, found))
    finally:
        journal.close()


def observation_in(records: tuple[Record, ...], joint: Joint, number: int) -> Observation:
    """The observation of a number; UsageFault names those there are."""
    seen = inspected(records, joint.id).seen
    found = next((one for one in seen if one.id == number), None)
    if found is None:
        raise UsageFault("cli.fault.observation", n=str(number), known=", ".join(str(one.id) for one in seen) or "-")
    return found


def _plan(job: Job, joint: Joint, desk: Desk) -> Any:
    sheet = job.issued_for(joint)
    return sheet.plan if sheet is not None else desk.plan(job, joint)


def _document(joint: Joint, one: Observation, found: Advised) -> dict[str, Any]:
    return {
        "format": "banister-advice", "version": 1, "joint": joint.id, "observation": one.id, "kind": one.kind,
        "passes": [{"number": p.number, "label": pass_label(p), "share": share} for p, share in found.passes],
        "causes": [{"cause": one_.cause, "chance": one_.chance, "for": [_word(w) for w in one_.speaks_for], "against": [_word(w) for w in one_.against]}
                   for one_ in found.advice.likely],
        "known": dict(found.seen), "not_known": list(found.advice.unknown), "next_look": found.advice.next_look or None,
    }  # fmt: skip


def _word(word: Word) -> list[Any]:
    return [word.evidence, word.level, word.factor]
