"""`banister record`: the whole joint on one record: JSON, traveller as PDF, tables as CSV; a name put under it."""

from __future__ import annotations

import argparse
from dataclasses import asdict
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.canonical import canonical
from banister.core.fitup.places import course_of
from banister.core.inspect.observed import inspected
from banister.core.inspect.of_joint import judged_joint, weld_of
from banister.core.inspect.said import lines_said, result_said
from banister.core.journal import Chain, corrected
from banister.core.record.record import SIGN, empty_fields, record_digest, record_of, signatures
from banister.core.under_way import welded_of
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
    journal = journal_path(a.file)
    chain = read_journal(journal) if journal.exists() else Chain()
    standing = corrected(chain.records).records
    found = inspected(standing, joint.id)
    sheet = job.issued_for(joint)
    plan = sheet.plan if sheet is not None else desk.plan(job, joint)
    by = acceptance_sets().get(joint.working.choices.acceptance)
    judgement = judged_joint(joint, plan, found, by) if by is not None else None
    record = record_of(job, joint, plan, chain, found, judgement)
    own = record_digest(record)
    if a.sign:
        if not all(part.strip() for part in a.sign):
            raise UsageFault("cli.fault.record.sign")
        writer = Journal(journal, job.name)
        try:
            writer.write(SIGN, joint.id, name=a.sign[0].strip(), role=a.sign[1].strip(), digest=own, open=record["open_deviations"], head=chain.mark)
        finally:
            writer.close()
        chain = read_journal(journal)
        standing = corrected(chain.records).records
    signed = signatures(standing, joint.id)
    weld, course = weld_of(joint, plan), course_of(joint)
    lines = [] if judgement is None or not found.is_begun else [result_said(judgement, course, say), *lines_said(
        judgement, {one.id: one for one in found.seen}, weld, course, say)]  # fmt: skip
    if a.json:
        desk.write(a.json, canonical({**record, "signatures": [asdict(s) for s in signed]}).encode())
    if a.pdf:
        from banister.export.record import traveller

        welded = None if sheet is None else welded_of(sheet, job.rods_by_id, standing)

        last = say("cli.journal.mark", n=len(chain.records), mark=chain.mark)
        desk.write(a.pdf, traveller(record, joint, plan, None if welded is None else welded.now, signed, lines, last, say))
    if a.csv:
        from banister.export.record_csv import observations_csv, passes_csv, rods_csv

        a.csv.mkdir(parents=True, exist_ok=True)
        for name, text in (("passes", passes_csv(record)), ("observations", observations_csv(record)), ("rods", rods_csv(record))):
            desk.write(a.csv / f"{name}.csv", text.encode())
    ended = sum(one["welded"] is not None and one["welded"]["ended"] is not None for one in record["passes"])
    told = [f"{joint.id}  {joint.name}", say("record.said", welded=str(ended), of=str(len(record["passes"])), n=record["open_deviations"])]
    told += [say("record.missing", what=", ".join(say(f"record.empty.{key}") for key in missing))] if (missing := empty_fields(record)) else []
    told += [say("record.signed_by", name=s.name, role=s.role, state=say("record.signed" if s.digest == own else "record.signed.other")) for s in signed]
    print("\n".join([*told, say("record.digest", digest=own), say("record.caution")]))
    return OUTSIDE if record["open_deviations"] else INSIDE
