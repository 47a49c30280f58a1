"""`banister journal`: what happened at a job's joints, printed and verified."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE
from banister.core.journal import KINDS, Record, corrected, differs_from_known
from banister.core.words import Speech
from banister.job.files import read
from banister.job.journal import journal_path, read_journal


def add_parser(commands: Any, say: Speech) -> None:
    """Add `journal` to the command line."""
    p = described(commands, "journal", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the records, newest corrections applied, and whether the chain holds."""
    say, chain = desk.say, read_journal(journal_path(a.file))
    after, lost = corrected(chain.records), differs_from_known(chain, read(a.file).journal if a.file.exists() else None)
    if a.json:
        print(json.dumps({"format": "banister-journal-said", "version": 1, "id": chain.id, "mark": chain.mark, "whole": chain.whole, "as_known": lost is None,
                          "records": [json.loads(r.body()) for r in chain.records], "after": [r.n for r in after.records]}, indent=1))  # fmt: skip
    else:
        kept = {r.n: r for r in after.records}
        lines = [_line(r, kept.get(r.n), say) for r in chain.records]
        print("\n".join([*lines, *(say.sentence(r) for r in after.remarks), say("cli.journal.mark", n=len(chain.records), mark=chain.mark)]))
        if chain.fault is not None:
            print(say.sentence(chain.fault))
        if lost is not None:
            print(say.sentence(lost))
    return INSIDE if chain.whole and lost is None else OUTSIDE


def _line(record: Record, now: Record | None, say: Speech) -> str:
    """One record as a line; one that was corrected shows what holds now."""
    shown = now or record
    what = ", ".join(f"{key} {value}" for key, value in shown.d.items())
    where = " ".join(part for part in (shown.j, shown.p) if part)
    state = say("cli.journal.void") if now is None else say("cli.journal.corrected") if now is not record else ""
    late = say("cli.journal.late", at=shown.at) if shown.at else ""
    kind = say(f"journal.{record.k}") if record.k in KINDS else record.k
    return "  ".join(part for part in (f"{record.n:5}", record.t, kind, where, what, late, state) if part)
