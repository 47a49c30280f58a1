"""Files of every kind the program reads, mutated leaf by leaf and byte by byte, through reading, planning, checking, heat, SVG and PDF.

    python -m tests.faults.mutate [COUNT] [SEED]

Counts what was refused in words and what went through; anything uncaught, over 5 s, or a process grown over 500 MB ends it with 1.
"""

from __future__ import annotations

import json
import random
import resource
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from datetime import date
from pathlib import Path

from banister.core.canonical import canonical
from banister.core.drawing.section import section_drawing
from banister.core.fitup.places import Course
from banister.core.follow.cues import cue_of
from banister.core.follow.facts import told
from banister.core.follow.warmth import at_the_joint
from banister.core.journal import NO_MARK, chained, corrected, folded, mark_of
from banister.core.plan.answers import plan_joint
from banister.core.practice.said import weeks_said
from banister.core.practice.standing import standings, weeks_of
from banister.core.record.gathering import gathered
from banister.core.remark import Refused
from banister.core.standing import standing_plan, standing_sheet
from banister.devices.trace import read_trace
from banister.export.sheet import pass_sheets
from banister.export.svg import svg_to_scale
from banister.job.acceptance import acceptance_sets
from banister.job.causes import cause_table
from banister.job.codec import decoded, salvaged
from banister.job.documents import read_procedure, read_welder
from banister.job.fitup_csv import read_fitup
from banister.job.journal import read_journal
from banister.job.library import data_file, demo_job, rods_in, shipped_rows, techniques_in
from banister.job.practice import read_practice, shipped_drills
from banister.job.reading import FileFault
from banister.job.seen_csv import read_seen
from tests.conftest import SAY
from tests.job.test_blindly import WRONG, leaves

SLOW_S, LARGE_MB = 5.0, 500.0
ROWS = shipped_rows()
DEMO, SETS = demo_job(), acceptance_sets()
PLANS = {joint.id: standing_plan(DEMO, joint) for joint in DEMO.joints}
TRACE = "# banister-trace 1\nt_s,volts,amps\n" + "".join(f"{0.1 * i:.1f},{23 + i % 3},{118 + i % 5}\n" for i in range(200))
FITUP = "at_mm,gap_mm,face_mm\n0,3.0,1.5\n200,3.2,1.4\n400,2.9,1.6\n"
SEEN = "kind,station_mm,side,length_mm,depth_mm\n5011,120,face,12,0.4\n301,200,face,20,6\n"


def job(path: Path) -> None:
    """As the program would: read it, save it as far as it goes, plan, judge, schedule, draw and print one of its joints."""
    data = path.read_bytes()
    try:
        found = decoded(data).job
    except FileFault:
        salvaged(data)
        raise
    joint = found.joints[len(data) % len(found.joints)]
    plan = plan_joint(joint, found.rods_by_id, joint.working.chosen)
    svg_to_scale(section_drawing(joint, plan, SAY), joint.name)
    pass_sheets([standing_sheet(found, joint, ROWS, date(2026, 11, 27), whole=True)], SAY)


def journal(path: Path) -> None:
    """Read it, apply its corrections."""
    corrected(read_journal(path).records)


def records(path: Path) -> None:
    """Records under marks made anew, whatever they hold: folded every way, gathered into the record of every joint."""
    try:
        bodies = json.loads(path.read_bytes())
    except (ValueError, RecursionError):
        return
    mark, lines = NO_MARK, list[str]()
    for body in bodies if isinstance(bodies, list) else ():
        text = json.dumps(body, ensure_ascii=False, separators=(",", ":"))
        mark = mark_of(mark, text)
        lines.append(f"{text} {mark}")
    chain = chained("\n".join([*lines, ""]).encode("utf-8", "surrogatepass"))
    standing = corrected(chain.records).records
    for joint in DEMO.joints:
        facts, plan = told(standing, joint.id), PLANS[joint.id]
        folded(chain.records, joint.id)
        cue_of(standing, joint.id)
        at_the_joint(joint, plan, standing, facts.passes)
        canonical(gathered(DEMO, joint, plan, chain, SETS).record)


def recorded() -> bytes:
    """The bodies of the demo's records."""
    return json.dumps([json.loads(r.body()) for r in read_journal(data_file("demo.banister-journal")).records]).encode()


def practised(path: Path) -> None:
    """Read a trainee's book, and tell what its last session and the weeks say."""
    book = read_practice(path)
    last = len(book.sessions) - 1
    for standing in standings(book, last, shipped_drills()) if book.sessions else ():
        weeks_said(weeks_of(book, standing.metric, last), SAY)


def document(kind: str, value: dict[str, object]) -> bytes:
    """A document of a kind."""
    return json.dumps({"format": f"banister-{kind}", "version": 1, kind: value}).encode()


KINDS: dict[str, tuple[Callable[[], bytes], str, Callable[[Path], object]]] = {
    "job": (lambda: data_file("demo.banister").read_bytes(), "job.banister", job),
    "journal": (lambda: data_file("demo.banister-journal").read_bytes(), "job.banister-journal", journal),
    "records": (recorded, "records.json", records),
    "rods": (lambda: data_file("rods.json").read_bytes(), "rods.json", rods_in),
    "techniques": (lambda: data_file("techniques.json").read_bytes(), "techniques.json", techniques_in),
    "causes": (lambda: data_file("causes.json").read_bytes(), "causes.json", lambda path: cause_table(path.parent)),
    "sets": (lambda: data_file("acceptance-sets.json").read_bytes(), "acceptance-sets.json", lambda path: acceptance_sets(path.parent)),
    "procedure": (lambda: document("procedure", {"id": "P", "windows": []}), "p.json", read_procedure),
    "welder": (lambda: document("welder", {"mark": "K7"}), "w.json", read_welder),
    "trace": (TRACE.encode, "trace.csv", read_trace),
    "fit-up": (FITUP.encode, "fitup.csv", lambda path: read_fitup(path, Course(900.0))),
    "practice": (lambda: data_file("demo.banister-practice").read_bytes(), "k7.banister-practice", practised),
    "seen": (SEEN.encode, "seen.csv", lambda path: read_seen(path, Course(900.0), 20.0, False)),
}


def mutated(data: bytes, draw: random.Random) -> bytes:
    """A leaf of JSON replaced, or bytes flipped, cut out, doubled."""
    try:
        document = json.loads(data)
    except ValueError:
        document = None
    if document is not None and draw.random() < 0.7:
        path = draw.choice(list(leaves(document)))
        at = document
        for key in path[:-1]:
            at = at[key]
        at[path[-1]] = draw.choice(WRONG)
        return json.dumps(document).encode()
    found, at = bytearray(data), draw.randrange(len(data))
    way = draw.randrange(3)
    if way == 0:
        found[at] ^= 1 << draw.randrange(8)
    elif way == 1:
        del found[at : at + draw.choice((1, 20, 4000))]
    else:
        found[at:at] = found[max(at - draw.choice((1, 30, 500)), 0) : at]
    return bytes(found)


def main(count: int = 10_000, seed: int = 1) -> int:
    """Run the trial."""
    draw, found, slowest, failed = random.Random(seed), Counter[str](), (0.0, ""), 0
    with tempfile.TemporaryDirectory() as folder:
        for i in range(count):
            kind = draw.choice(("job", "job", "job", *KINDS))
            source, name, use = KINDS[kind]
            path = Path(folder) / name
            path.write_bytes(mutated(source(), draw))
            begun = time.process_time()  # of this process alone: what else the machine does is no fault of the file
            try:
                use(path)
                found[f"{kind}: went through"] += 1
            except (FileFault, Refused) as refused:
                assert all(SAY.sentence(remark) for remark in refused.remarks)
                found[f"{kind}: refused"] += 1
            except Exception:  # noqa: BLE001  what is looked for
                failed += 1
                kept = Path(tempfile.gettempdir()) / f"mutated-{kind}-{i}"
                kept.write_bytes(path.read_bytes())
                print(f"UNCAUGHT {kind}, kept as {kept}\n{traceback.format_exc(limit=-4)}")
            took = time.process_time() - begun
            if took > SLOW_S:
                kept = Path(tempfile.gettempdir()) / f"slow-{kind}-{i}"
                kept.write_bytes(path.read_bytes())
                print(f"SLOW {kind}: {took:.1f} s, kept as {kept}")
            slowest = max(slowest, (took, kind))
    large = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    for line, n in sorted(found.items()):
        print(f"{n:6} {line}")
    print(f"{count} files, {failed} uncaught, slowest {slowest[0]:.2f} s ({slowest[1]}), {large:.0f} MB at most")
    return int(failed > 0 or slowest[0] > SLOW_S or large > LARGE_MB)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
