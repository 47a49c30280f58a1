"""`banister repair`: how an observation is dug out and welded again, from either side, and what that takes."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.advise import observation_in, records_of
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE
from banister.cli import spelling
from banister.core.fitup.places import Course, course_of
from banister.core.inspect.of_joint import thinner_mm
from banister.core.inspect.repair import Repair, Way, defect_of, repair_of
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.typed import typed
from banister.core.words import Speech, capital


def add_parser(commands: Any, say: Speech) -> None:
    """Add `repair` to the command line."""
    p = described(commands, "repair", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("observation", type=int, metavar="N", help=say("cli.advise.observation"))
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    for name in ("top", "height", "dug"):
        p.add_argument(f"--{name}", metavar="MM", help=say(f"cli.repair.{name}"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Plan and print."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    one = observation_in(records_of(a.file), joint, a.observation)
    top, height, dug = (_length(a, name) for name in ("top", "height", "dug"))
    plan, course = desk.plan(job, joint), course_of(joint)
    cap = plan.cap.max if plan.cap is not None else 0.0
    found = repair_of(joint, defect_of(one, top, height), job.rods, course.length_mm, course.closed, cap, dug_mm=dug)
    if a.json:
        print(json.dumps(_document(joint, one.id, found), indent=1))
    else:
        print("\n".join(repair_said(found, one.kind, thinner_mm(joint), course, desk.say)))
    return OUTSIDE if found.reasons or not (found.ways or found.through) else INSIDE


def _length(a: argparse.Namespace, name: str) -> float | None:
    text = getattr(a, name)
    return None if text is None else spelling.asked(f"--{name}", lambda: typed(text, "fine_length", low=0.0, high=500.0))


def repair_said(found: Repair, kind: str, t_mm: float, course: Course, say: Speech) -> list[str]:
    """A repair in words: ways in, the shortest first, with their passes; what goes through; preheat."""
    lines = [say("repair.head", kind=capital(say(f"defect.{kind}")), at=course.figure(found.defect.from_mm))]
    lines += [say.sentence(remark) for remark in found.reasons]
    for way in found.ways:
        lines += ["", *_way_said(way, course, say)]
    for one in found.through:
        side = say(f"inspect.side.{one.side}")
        left, whole = Figure(max(one.left_mm, 0.0), "fine_length"), Figure(t_mm, "fine_length")
        lines += ["", say("repair.through", side=side, left=left, t=whole), say("repair.through.ligament")]
        if one.opened.feasible:
            lines.append(say("repair.through.open", n=len(one.opened.passes), lasts=Figure(one.opened.total_time_s, "duration")))
    if found.ways or found.through:
        heated = Figure(found.heated_mm, "long_length")
        lines += ["", say("repair.preheat", temp=Figure(found.preheat_c, "set_temperature"), length=heated) if found.preheat_c is not None
                  else say("repair.preheat.none", length=heated), say("repair.prove"), say("repair.caution")]  # fmt: skip
    return lines


def _way_said(way: Way, course: Course, say: Speech) -> list[str]:
    boat = way.boat
    begins = course.figure(boat.from_mm - boat.dig.run_out * boat.depth_mm)
    depth, width, length = Figure(boat.depth_mm, "fine_length"), Figure(boat.width_mm, "fine_length"), Figure(boat.length_mm, "long_length")
    dug = say("repair.boat", depth=depth, width=width, length=length, low=begins, run_out=f"{boat.dig.run_out:g}")
    head = say("repair.way", side=say(f"inspect.side.{way.side}"), lasts=Figure(way.total_s, "duration"), n=len(way.plan.passes), rods=str(way.rods))
    rows = [[say("repair.pass"), say("repair.rod"), say("repair.amps"), say("repair.length"), say("repair.chalk"), say("repair.rods")]]
    for p, chalk in zip(way.plan.passes, way.chalk_mm, strict=True):
        lengths = [say.sized("long_length", mm) for mm in (p.length_mm, chalk)]
        rows.append([str(p.number), say.units.rod(p.rod.id), say.sized("current", p.amps), *lengths, str(p.rod_count)])
    return [head, dug, *columns(rows, left=(1,))]


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
