"""`banister record`: the whole joint on one record: JSON, traveller as PDF, tables as CSV; a name put under it."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.canonical import canonical
from banister.core.journal import Chain
from banister.core.record.gathering import Gathered, gathered
from banister.core.record.record import SIGN, signing
from banister.core.record.said import record_said
from banister.core.value import asdict
from banister.core.words import Speech
from banister.job.acceptance import acceptance_sets
from banister.job.journal import Journal, journal_path, read_journal


def add_parser(commands: Any, say: Speech) -> None:
    """Add `record` to the command line."""
    p = described(commands, "record", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--json", type=Path, metavar="FILE", help=say("cli.record.json"))
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.record.pdf"))
    p.add_argument("--csv", type=Path, metavar="FOLDER", help=say("cli.record.csv"))
    p.add_argument("--sign", nargs=2, metavar=("NAME", "ROLE"), help=say("cli.record.sign"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Make the record, and write or print it."""
    job, say = desk.read(a.file), desk.say
    joint = desk.joint(job, a.joint)
    journal, plan, sets = journal_path(a.file), desk.plan(job, joint), acceptance_sets()
    chain = read_journal(journal) if journal.exists() else Chain()
    found = gathered(job, joint, plan, chain, sets, follow=a.pdf is not None)
    if a.sign:
        chain = _sign(a, journal, job.name, joint.id, found, chain)
        found = gathered(job, joint, plan, chain, sets, follow=a.pdf is not None)
    if a.json:
        desk.write(a.json, canonical({**found.record, "signatures": [asdict(s) for s in found.signed]}).encode())
    if a.pdf:
        from banister.export.record import traveller

        desk.write(a.pdf, traveller(found, chain, say))
    if a.csv:
        from banister.export.record_csv import tables_of

        a.csv.mkdir(parents=True, exist_ok=True)
        for name, text in tables_of(found.record).items():
            desk.write(a.csv / name, text.encode())
    print("\n".join([f"{joint.id}  {joint.name}", *record_said(found, say)]))
    return OUTSIDE if found.record["open_deviations"] else INSIDE


def _sign(a: argparse.Namespace, path: Path, job: str, joint: str, found: Gathered, chain: Chain) -> Chain:
    """Put a name under the record as it stands; the journal after it."""
    name, role = (part.strip() for part in a.sign)
    if not name or not role:
        raise UsageFault("cli.fault.record.sign")
    writer = Journal(path, job)
    try:
        writer.write(SIGN, joint, **signing(name, role, found.record, found.digest, chain.mark))
        return writer.chain
    finally:
        writer.close()
