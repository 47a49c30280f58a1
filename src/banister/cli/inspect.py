"""`banister inspect`: what was seen along a weld, judged by the contract's set; observations taken in from a file, lines looked for."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, NOT_JUDGED, OUTSIDE, UsageFault
from banister.core.fitup.places import Course, course_of
from banister.core.inspect.counted import counted_lines
from banister.core.inspect.etched_kept import PHOTO, compared, etched_of, etched_said
from banister.core.inspect.judged import ACCEPT, AS_READ, GUARDED, OUTSIDE_MEMORY, REJECT, VERDICTS, Judgement, Line, Rules
from banister.core.inspect.kinds import LINES, SIDES
from banister.core.inspect.observed import LOOKED, NO_ACCESS, SEEN, Inspected, inspected
from banister.core.inspect.of_joint import judged_joint, thinner_mm, weld_of
from banister.core.inspect.said import line_said, lines_said, result_said
from banister.core.inspect.sets import AcceptanceSet
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.limits.acceptance import NONE_CHOSEN
from banister.core.record.inspected import inspected_welds
from banister.core.words import Speech
from banister.job.acceptance import acceptance_sets, kinds
from banister.job.journal import Journal, journal_path, records_of
from banister.job.photos import photo_state, photo_told
from banister.job.seen_csv import read_seen

STRIP_SIZE = 1100.0, 420.0


def add_parser(commands: Any, say: Speech) -> None:
    """Add `inspect` to the command line."""
    p = described(commands, "inspect", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--set", metavar="ID", help=say("cli.inspect.set"))
    p.add_argument("--add", type=Path, metavar="FILE", help=say("cli.inspect.add"))
    p.add_argument("--none-seen", choices=SIDES, action="append", default=[], help=say("cli.inspect.none_seen"))
    p.add_argument("--no-access", nargs=2, metavar=("SIDE", "WHY"), help=say("cli.inspect.no_access"))
    p.add_argument("--by", default="", metavar="MARK", help=say("cli.inspect.by"))
    p.add_argument("--guarded", action="store_true", help=say("cli.inspect.guarded"))
    p.add_argument("--etched", action="store_true", help=say("cli.inspect.etched"))
    p.add_argument("--photo", type=Path, metavar="FILE", help=say("cli.inspect.photo"))
    p.add_argument("--of", type=int, default=0, metavar="N", help=say("cli.inspect.of"))
    p.add_argument("--counts", action="store_true", help=say("cli.inspect.counts"))
    p.add_argument("--side", choices=SIDES, default=SIDES[0], help=say("cli.inspect.side"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.inspect.svg"))
    p.add_argument("--dxf", type=Path, metavar="FILE", help=say("cli.inspect.dxf"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Take in what is given, judge and print."""
    job = desk.read(a.file)
    if a.counts:
        print("\n".join(counted_lines(inspected_welds(job, records_of(a.file), acceptance_sets()), desk.say)))
        return INSIDE
    joint = desk.joint(job, a.joint)
    if a.etched:
        return _etched(a, job, joint, desk)
    by = _set(a.set or joint.working.choices.acceptance)
    _take_in(a, job, joint)
    found, plan = inspected(records_of(a.file), joint.id), desk.plan(job, joint)
    judgement = judged_joint(joint, plan, found, by, Rules(near=GUARDED if a.guarded else AS_READ, on=desk.today))
    weld, course, say = weld_of(joint, plan), course_of(joint), desk.say
    if a.svg or a.dxf:
        _draw(a, joint, found, judgement, course, desk)
    if a.json:
        print(json.dumps(_document(joint, found, judgement, say, lambda line: line_said(line, judgement, weld, course, say)), indent=1))
    else:
        head = [f"{joint.id}  {joint.name}", result_said(judgement, course, say)]
        print("\n".join([*head, *lines_said(judgement, {one.id: one for one in found.seen}, weld, course, say), say("inspect.caution")]))
    return INSIDE if judgement.result == ACCEPT and not judgement.is_but_for else OUTSIDE if judgement.result in (REJECT, OUTSIDE_MEMORY) else NOT_JUDGED


def _draw(a: argparse.Namespace, joint: Joint, found: Inspected, judgement: Judgement, course: Course, desk: Desk) -> None:
    """The strip of a side as pictures."""
    from banister.core.drawing.charts.inspect_strip import StripView, inspect_strip
    from banister.export.dxf import chart_dxf
    from banister.export.svg import svg

    title = f"{joint.id}  {joint.name}"
    strip = inspect_strip(found, judgement, kinds(), course, desk.say, StripView(*STRIP_SIZE, a.side))
    if a.svg:
        desk.write(a.svg, svg(strip.drawing, title).encode())
    if a.dxf:
        desk.write(a.dxf, chart_dxf(strip.drawing, title))


def _etched(a: argparse.Namespace, job: Job, joint: Joint, desk: Desk) -> int:
    """The etched section that was kept last, held against the plan."""
    kept, say = etched_of(records_of(a.file), joint.id), desk.say
    if not kept:
        raise UsageFault("cli.fault.inspect.etched", joint=joint.id)
    one, sheet = kept[-1], job.issued_for(joint)
    plan = sheet.plan if sheet is not None else desk.plan(job, joint)
    found = compared(one, joint, plan)
    if a.json:
        walls = [{"wall": wall.side, "least_mm": None if wall.least is None else round(wall.least[1], 3), "not_fused": [list(at) for at in wall.not_fused]}
                 for wall in found.walls]  # fmt: skip
        beads = [{"pass": key, "planned_mm2": round(planned, 2), "found_mm2": round(traced, 2)} for key, (planned, traced) in found.areas.items()]
        print(json.dumps({"format": "banister-etched", "version": 1, "joint": joint.id, "record": one.n, "photo": dict(one.photo),
                          "photo_state": photo_state(one.photo, a.file), "mm_per_px": one.overlay.mm_per_px, "turn_deg": one.overlay.turn_deg,
                          "beads": beads, "planned_left": list(found.matched.planned_left), "traced_left": list(found.matched.traced_left),
                          "walls": walls}, indent=1))  # fmt: skip
    else:
        state = say(f"photo.{photo_state(one.photo, a.file)}")
        print("\n".join([f"{joint.id}  {joint.name}", say("etched.photo", name=Path(str(one.photo.get("path"))).name, state=state),
                         *etched_said(one, found, plan, say)]))  # fmt: skip
    return INSIDE if not any(wall.not_fused for wall in found.walls) else OUTSIDE


def _set(name: str) -> AcceptanceSet:
    sets = acceptance_sets()
    if name == NONE_CHOSEN or name not in sets:
        raise UsageFault("cli.fault.inspect.set", sets=", ".join(sets))
    return sets[name]


def _take_in(a: argparse.Namespace, job: Job, joint: Joint) -> None:
    """Write what the command line brings into the journal: observations of a file, sides without any, sides nobody can see."""
    if a.no_access and a.no_access[0] not in SIDES:
        raise UsageFault("cli.fault.inspect.side", side=a.no_access[0], sides=", ".join(SIDES))
    course = course_of(joint)
    seen = read_seen(a.add, course, thinner_mm(joint), joint.prep.kind.fillet) if a.add else ()
    photo = photo_told(a.photo, a.file) if a.photo else None
    if not seen and not a.none_seen and not a.no_access and photo is None:
        return
    journal = Journal(journal_path(a.file), job.name)
    named = {"by": a.by} if a.by else {}
    try:
        for one in seen:
            journal.write(SEEN, joint.id, **(one.recorded() | named))
        for side in a.none_seen:
            stretch: dict[str, Any] = {"from": 0.0, "to": round(course.length_mm, 1)}
            journal.write(LOOKED, joint.id, side=side, lines=list(LINES[side]), **stretch, **named)
        if photo is not None:
            journal.write(PHOTO, joint.id, **photo, **({"of": a.of} if a.of else {}), **named)
        if a.no_access:
            journal.write(NO_ACCESS, joint.id, side=a.no_access[0], why=a.no_access[1], **named)
    finally:
        journal.close()


def _document(joint: Joint, found: Inspected, judgement: Judgement, say: Speech, said: Any) -> dict[str, Any]:
    return {
        "format": "banister-inspection", "version": 1, "joint": joint.id, "set": judgement.set.id, "set_digest": judgement.set.digest,
        "result": judgement.result, "verdicts": list(VERDICTS), "no_access": dict(judgement.no_access),
        "observations": [{"id": one.id, **one.recorded()} for one in found.seen],
        "lines": [_line(line, judgement) | {"said": said(line)} for line in judgement.lines],
        "not_looked_for": [{"side": one.side, "line": one.line, "gaps_mm": [list(gap) for gap in one.gaps]} for one in judgement.unlooked],
    }  # fmt: skip


def _line(line: Line, judgement: Judgement) -> dict[str, Any]:
    item = judgement.set.items[line.item] if line.item >= 0 else None
    return {
        "verdict": line.verdict, "kind": line.kind, "side": line.side, "s_mm": line.s_mm, "observations": list(line.seen), "measure": line.measure,
        "value": line.value, "limit": line.limit, "clause": item.clause if item is not None else None,
        "certainty": None if item is None else item.sum_certainty or item.certainty if line.sum is not None else item.certainty,
        "window_mm": line.sum.window if line.sum is not None else None, "window_from_mm": line.worst.from_mm if line.worst is not None else None,
        "chance_over": line.chance, "asks": line.asks or None,
    }  # fmt: skip
