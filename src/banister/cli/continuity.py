"""`banister continuity`: whose marks are in force, over all jobs of a folder; jobs are read, never written."""

from __future__ import annotations

import argparse
import json
from datetime import date
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.limits.continuity import LAPSED, RETEST, UNTESTED
from banister.core.limits.procedure import WELDER_FAMILIES
from banister.core.record.book import Mark, book_of
from banister.core.words import Speech
from banister.job.folder import jobs_in


def add_parser(commands: Any, say: Speech) -> None:
    """Add `continuity` to the command line."""
    p = described(commands, "continuity", say)
    p.add_argument("folder", type=Path, metavar="FOLDER")
    p.add_argument("--on", metavar="DATE", help=say("cli.continuity.on"))
    p.add_argument("--csv", type=Path, metavar="FILE", help=say("cli.continuity.csv"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the book."""
    say, today = desk.say, _day(a.on) if a.on else desk.today
    if not a.folder.is_dir():
        raise UsageFault("cli.fault.continuity.folder", folder=str(a.folder))
    read, broken = jobs_in(a.folder)
    unread = [(name, say.sentence(fault.remarks[0])) for name, fault in broken]
    marks = book_of(read, today)
    if a.csv:
        from banister.export.record_csv import continuity_csv

        desk.write(a.csv, continuity_csv(marks).encode())
    if a.json:
        print(json.dumps({"format": "banister-continuity", "version": 1, "on": today.isoformat(), "marks": [_document(m) for m in marks],
                          "not_read": [name for name, _ in unread]}, indent=1))  # fmt: skip
    else:
        print("\n".join([*book_said(marks, say), *(f"{name}: {why}" for name, why in unread), say("continuity.caution")]))
    return OUTSIDE if any(m.state.state in (LAPSED, RETEST, UNTESTED) for m in marks) else INSIDE


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise UsageFault("cli.fault.continuity.day", text=text) from None


def book_said(marks: tuple[Mark, ...], say: Speech) -> list[str]:
    """One line a mark, those that end soonest first."""
    if not marks:
        return [say("continuity.nobody")]
    rows = [[say(f"continuity.column.{key}") for key in ("mark", "process", "family", "state", "until", "days", "jobs")]]
    for m in marks:
        until = m.state.until.isoformat() if m.state.until is not None else "-"
        state, days = say(f"continuity.{m.state.state}"), str(len(m.state.counted))
        rows.append([m.welder.mark, m.welder.process, WELDER_FAMILIES[m.welder.family], state, until, days, ", ".join(m.jobs)])
    lines = columns(rows, left=(0, 1, 2, 3, 4, 6))
    lines += [say("continuity.others", mark=m.welder.mark, jobs=", ".join(m.others)) for m in marks if m.others]
    return lines + [say(f"continuity.not_counted.{why}", mark=m.welder.mark, on=on.isoformat()) for m in marks for on, why in m.state.not_counted]


def _document(m: Mark) -> dict[str, Any]:
    return {"mark": m.welder.mark, "process": m.welder.process, "family": m.welder.family, "tested_on": m.welder.tested_on or None, "state": m.state.state,
            "until": m.state.until.isoformat() if m.state.until is not None else None, "counted": [day.isoformat() for day in m.state.counted],
            "not_counted": [[day.isoformat(), why] for day, why in m.state.not_counted], "jobs": list(m.jobs), "other_documents": list(m.others),
            "used": [{"on": u.on.isoformat(), "job": u.job, "joint": u.joint, "confirmed": u.is_confirmed} for u in m.used]}  # fmt: skip
