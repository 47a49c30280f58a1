"""`banister verify`: whether a record is what its digest says, and a printed traveller the record's."""

from __future__ import annotations

import argparse
import re
from pathlib import Path
from typing import Any

from banister import __version__
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, NOT_JUDGED, OUTSIDE, UNREADABLE
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Chain
from banister.core.record.gathering import Gathered, gathered
from banister.core.record.record import FORMAT, differences, record_digest
from banister.core.record.said import grouped
from banister.core.units import Units
from banister.core.words import Speech
from banister.job.acceptance import acceptance_sets
from banister.job.files import read_bytes
from banister.job.journal import journal_path, read_journal
from banister.job.reading import FileFault, parsed

LARGEST_BYTES = 50_000_000
PRINTED = re.compile(rb"banister-record sha256:[0-9a-f]{64} journal:(\d+)")
SUBJECT = re.compile(rb"banister-record sha256:([0-9a-f]{64})")


def add_parser(commands: Any, say: Speech) -> None:
    """Add `verify` to the command line."""
    p = described(commands, "verify", say)
    p.add_argument("file", type=Path, metavar="FILE", help=say("cli.verify.file"))
    p.add_argument("against", type=Path, nargs="?", metavar="RECORD", help=say("cli.verify.against"))
    p.add_argument("--job", type=Path, metavar="JOB", help=say("cli.verify.job"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Compare, and say what differs: 0 the same, 1 it differs, 3 it cannot be checked, 4 it cannot be read."""
    say = desk.say
    try:
        own, record = _digest_of(a.file)
        other, against = _digest_of(a.against) if a.against is not None else ("", None)
    except FileFault as broken:
        print("\n".join(say.sentence(remark) for remark in broken.remarks))
        return UNREADABLE
    if not own:
        print(say("verify.none"))
        return NOT_JUDGED
    print(say("record.digest", digest=grouped(own)))
    signed = record.get("signatures", []) if record is not None else []
    for one in signed if isinstance(signed, list) else []:
        state = say("record.signed" if one.get("digest") == own else "record.signed.other")
        print(say("record.signed_by", name=str(one.get("name")), role=str(one.get("role")), on=str(one.get("on"))[:16].replace("T", " "), state=state))
    if a.job is not None:
        return _page(read_bytes(a.file, LARGEST_BYTES), own, desk, a.job)
    if a.against is None:
        is_other = any(one.get("digest") != own for one in signed) if isinstance(signed, list) else False
        print(say("verify.alone"))
        return OUTSIDE if is_other else NOT_JUDGED if not signed else INSIDE
    if own == other:
        print(say("verify.same"))
        if record is None or against is None:
            print(say("verify.page"))
        return INSIDE
    print(say("verify.differs"))
    if record is not None and against is not None:
        bare, other_bare = ({k: v for k, v in one.items() if k != "signatures"} for one in (record, against))
        print("\n".join(differences(bare, other_bare)))
    return OUTSIDE


def _page(data: bytes, own: str, desk: Desk, file: Path) -> int:
    """Make the traveller again from its job, as the journal stood when it was printed, and hold it against the page byte by byte."""
    from banister.export.paper import PAPERS
    from banister.export.record import traveller

    say, printed = desk.say, PRINTED.search(data)
    if printed is None:
        print(say("verify.page.no_traveller"))
        return NOT_JUDGED
    if f"(Banister {__version__})".encode() not in data:
        print(say("verify.page.version"))
        return NOT_JUDGED
    job, journal = desk.read(file), journal_path(file)
    try:
        chain = (read_journal(journal) if journal.exists() else Chain()).upto(int(printed.group(1)))
    except ValueError:
        print(say("verify.page.journal"))
        return OUTSIDE
    joint = next((one for one in job.joints if _gathered(job, one, desk, chain).digest == own), None)
    if joint is None:
        print(say("verify.page.other_job"))
        return OUTSIDE
    found = _gathered(job, joint, desk, chain, follow=True)
    is_same = any(traveller(found, chain, Speech(say.words, Units(inches)), paper) == data for inches in (False, True) for paper in PAPERS)
    print(say("verify.page.same" if is_same else "verify.page.changed"))
    return INSIDE if is_same else OUTSIDE


def _gathered(job: Job, joint: Joint, desk: Desk, chain: Chain, follow: bool = False) -> Gathered:
    """A joint's record as it then was."""
    sheet = job.issued_for(joint)
    return gathered(job, joint, desk.plan(job, joint) if sheet is None else sheet.plan, chain, acceptance_sets(), follow)


def _digest_of(path: Path) -> tuple[str, dict[str, Any] | None]:
    """The digest a file has: of a record's own content, or as a traveller names it; '' for neither."""
    data = read_bytes(path, LARGEST_BYTES)
    if data.startswith(b"%PDF"):
        found = SUBJECT.search(data)
        return (found.group(1).decode() if found is not None else ""), None
    try:
        record = parsed(data)
    except FileFault as broken:
        raise broken.of(path) from broken
    try:
        return (record_digest(record), record) if record.get("format") == FORMAT else ("", None)
    except ValueError:
        return "", None
