"""`banister repair`: how an observation is dug out and welded again, from either side, and what that takes."""

from __future__ import annotations

import argparse
import itertools
import json
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.advise import observation_in
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.fitup.places import Course, course_of
from banister.core.inspect.kinds import SIDES
from banister.core.inspect.observed import Observation
from banister.core.inspect.of_joint import thinner_mm
from banister.core.inspect.repair import Repair, defect_of, dug_stations, reach_remarks, repair_of
from banister.core.inspect.repair_joint import joint_of_repair, repair_id
from banister.core.inspect.repair_said import HEADS, beside_said, head_said, pass_rows, through_said, way_said
from banister.core.inspect.repairs import REPAIR, KeptRepair, before, keeping, keeping_faults, kept_said, repairs_kept, rule_remarks
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import known_of
from banister.core.typed import typed
from banister.core.words import Speech
from banister.job.files import JobFile
from banister.job.journal import Journal, journal_path, records_of


def add_parser(commands: Any, say: Speech) -> None:
    """Add `repair` to the command line."""
    p = described(commands, "repair", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("observation", type=int, metavar="N", help=say("cli.advise.observation"))
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    for name in ("top", "height"):
        p.add_argument(f"--{name}", metavar="MM", help=say(f"cli.repair.{name}"))
    p.add_argument("--dug", metavar="MM | PLACE=MM;PLACE=MM", default="", help=say("cli.repair.dug"))
    p.add_argument("--keep", choices=SIDES, help=say("cli.repair.keep"))
    for name in ("by", "allowed-by", "reason", "proved-by"):
        p.add_argument(f"--{name}", default="", metavar=name.split("-")[0].upper(), help=say(f"cli.repair.{name.replace('-', '_')}"))
    p.add_argument("--as-joint", action="store_true", help=say("cli.repair.as_joint"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Plan and print."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    one = observation_in(records_of(a.file), joint, a.observation)
    top, height = (_length(a, name) for name in ("top", "height"))
    plan, course = desk.plan(job, joint), course_of(joint)
    dug = spelling.asked("--dug", lambda: dug_stations(a.dug, course, desk.say.units))
    cap = plan.cap.max if plan.cap is not None else 0.0
    found = repair_of(joint, defect_of(one, top, height), job.rods, course.length_mm, course.closed, cap, dug=dug)
    if a.keep is not None:
        _keep(a, job, joint, one, found, course, desk.say)
    if a.json:
        print(json.dumps(_document(joint, one.id, found), indent=1))
    else:
        print("\n".join(_lines(found, one.kind, thinner_mm(joint), course, repairs_kept(records_of(a.file), joint.id), desk.say)))
    return OUTSIDE if found.reasons or not (found.ways or found.through) else INSIDE


def _keep(a: argparse.Namespace, job: Job, joint: Joint, one: Observation, found: Repair, course: Course, say: Speech) -> None:
    """Write into the journal that it is repaired from a side, and where asked among the job's joints; UsageFault where that cannot be."""
    way = next((each for each in found.ways if each.side == a.keep), None)
    if way is None:
        raise UsageFault("cli.fault.repair.side", sides=", ".join(each.side for each in found.ways) or "-")
    kept = repairs_kept(records_of(a.file), joint.id)
    times = len(before(kept, way, course, thinner_mm(joint)))
    missing = next(keeping_faults(times, a.by, a.allowed_by, a.reason), None)
    if missing is not None:
        raise UsageFault("cli.fault.repair.missing", n=str(times), option=missing.place.field.replace("_", "-"))
    taken = {other.id for other in job.joints}
    nth = next(n for n in itertools.count(len(kept) + 1) if repair_id(joint.id, n) not in taken)
    file = JobFile(a.file)
    if a.as_joint:
        file.open()
    journal = Journal(journal_path(a.file), job.name)
    try:
        as_joint = repair_id(joint.id, nth) if a.as_joint else ""
        record = journal.write(REPAIR, joint.id, **keeping(one.id, way, a.by, a.allowed_by, a.reason, a.proved_by, as_joint))
        if a.as_joint:
            file.journal = known_of(journal.chain)
            file.save(job.adding(joint_of_repair(joint, way, one, nth, record.n, job.rods, found.preheat_c, say)))
    finally:
        journal.close()
        file.close()


def _length(a: argparse.Namespace, name: str) -> float | None:
    text = getattr(a, name)
    return None if text is None else spelling.asked(f"--{name}", lambda: typed(text, "fine_length", low=0.0, high=500.0))


def _lines(found: Repair, kind: str, t_mm: float, course: Course, kept: Sequence[KeptRepair], say: Speech) -> Iterator[str]:
    """A repair in lines: ways in, the shortest first, with their passes and what stands beside them; what goes through; preheat."""
    yield head_said(found, kind, course, say)
    yield from (say.sentence(remark) for remark in found.reasons)
    for way in found.ways:
        yield from ("", *way_said(way, course, say))
        yield from columns([[say(f"repair.{head}") for head in HEADS], *pass_rows(way, say)], left=(1,))
        yield from (say.sentence(remark) for remark in (*reach_remarks(found.defect, way, course), *rule_remarks(kept, way, course, t_mm)))
    for one in found.through:
        yield from ("", *through_said(one, t_mm, say))
    if found.ways or found.through:
        yield from ("", *beside_said(found, say))
    if kept:
        yield from ("", say("repair.so_far"), *(kept_said(one, i, course, say) for i, one in enumerate(kept, 1)))


def _document(joint: Joint, number: int, found: Repair) -> dict[str, Any]:
    return {
        "format": "banister-repair", "version": 1, "joint": joint.id, "observation": number,
        "defect": {"top_mm": found.defect.top_mm, "height_mm": found.defect.height_mm, "from_mm": found.defect.from_mm, "length_mm": found.defect.length_mm},
        "ways": [{"side": w.side, "depth_mm": w.boat.depth_mm, "width_mm": w.boat.width_mm, "length_mm": w.boat.length_mm, "volume_mm3": w.boat.volume_mm3,
                  "metal_mm3": w.metal_mm3, "total_s": w.total_s, "rods": w.rods,
                  "passes": [{"number": p.number, "rod": p.rod.id, "amps": p.amps, "area_mm2": p.area_mm2, "length_mm": p.length_mm, "chalk_mm": chalk,
                              "rods": p.rod_count} for p, chalk in zip(w.plan.passes, w.chalk_mm, strict=True)]} for w in found.ways],
        "through": [{"side": one.side, "left_mm": one.left_mm, "opened_passes": len(one.opened.passes)} for one in found.through],
        "preheat_c": found.preheat_c, "heated_mm": found.heated_mm, "reasons": [r.code for r in found.reasons],
    }  # fmt: skip
