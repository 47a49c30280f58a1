"""`banister stops`: where every rod of a joint ends, clear of the stops in touching passes."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.follow.facts import told
from banister.core.follow.stopped import as_welded
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.stops.of_plan import JointStops, apart_of, dropped_said, joint_stops, limits_said, stops_said
from banister.core.stops.runs import MOST_WANTED_MM
from banister.core.stops.search import HABITS
from banister.core.words import Speech
from banister.job.journal import records_of


def add_parser(commands: Any, say: Speech) -> None:
    """Add `stops` to the command line."""
    p = described(commands, "stops", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--wanted", metavar="LENGTH", help=say("cli.stops.wanted"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.stops.svg"))
    p.add_argument("--dxf", type=Path, metavar="FILE", help=say("cli.stops.dxf"))
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.stops.pdf"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Lay the stops and print them pass by pass."""
    job, say = desk.read(a.file), desk.say
    joint = desk.joint(job, a.joint)
    wanted = joint.stops.wanted_mm if a.wanted is None else spelling.figure("--wanted", a.wanted, "length")
    if not 0.0 <= wanted <= MOST_WANTED_MM:
        raise UsageFault("cli.fault.wanted", text=a.wanted)
    plan = desk.plan(job, joint)
    if not plan.feasible:
        print("\n".join(say.sentence(r) for r in plan.reasons))
        return OUTSIDE
    found = joint_stops(as_welded(joint, told(records_of(a.file), joint.id)), plan, wanted)
    if a.svg or a.dxf:
        _draw(a, joint, plan, found, desk)
    if a.pdf:
        from banister.export.stops import stop_pages

        desk.write(a.pdf, stop_pages(joint, plan, found, say))
    print(json.dumps(_document(joint, found), indent=1) if a.json else "\n".join(_lines(joint, found, wanted, say)))
    return INSIDE if found.distance_mm >= wanted - 1e-6 else OUTSIDE


def _draw(a: argparse.Namespace, joint: Joint, plan: Plan, found: JointStops, desk: Desk) -> None:
    """The laths as pictures; of a pipe in halves the first one."""
    from banister.core.drawing.charts.stop_strip import StripView, stop_strip
    from banister.export.dxf import chart_dxf
    from banister.export.svg import svg

    title = f"{joint.id}  {joint.name}: {desk.say('strip.window')}"
    strip = stop_strip(plan.passes, found, desk.say, StripView(1000.0, 90.0 + 24.0 * len(plan.passes), found.passes[0].half))
    if a.svg:
        desk.write(a.svg, svg(strip.drawing, title).encode())
    if a.dxf:
        desk.write(a.dxf, chart_dxf(strip.drawing, title))


def _lines(joint: Joint, found: JointStops, wanted: float, say: Speech) -> list[str]:
    lines = [f"{joint.id}  {joint.name}"]
    if found.tie_ins_apart_mm is not None:
        lines.append(say("cli.stops.tie_ins", apart=Figure(found.tie_ins_apart_mm, "length")))
    for half, one in zip(dict.fromkeys(p.half for p in found.passes), found.maps, strict=True):
        name = say(f"cli.stops.half.{half}") if half else say("cli.stops.whole")
        lines.append(say("cli.stops.map", name=name, n=one.stops, apart=apart_of(one.distance_mm), extra=str(one.extra),
                         habits=", ".join(say("cli.stops.habit", name=say(f"habit.{key}"), apart=apart_of(d))
                                          for key, d in zip(HABITS, one.habits, strict=True))))  # fmt: skip
        if one.distance_mm < wanted - 1e-6:
            lines.append(say("cli.stops.less", wanted=Figure(wanted, "length")))
        own = [p for p in found.passes if p.half == half]
        if limits := limits_said(one, [p.number for p in own], say):
            lines.append(say("cli.stops.limited", limits=limits))
        lines += [f"  {stops_said(p, say)}" for p in own]
    return [*lines, *dropped_said(found, say)]


def _document(joint: Joint, found: JointStops) -> dict[str, Any]:
    return {
        "format": "banister-stops", "version": 1, "joint": joint.id, "length_mm": round(found.course.length_mm, 2),
        "least_distance_mm": _mm(found.distance_mm), "tie_ins_apart_mm": found.tie_ins_apart_mm,
        "maps": [{"least_distance_mm": _mm(m.distance_mm), "stops": m.stops, "extra": m.extra,
                  "habits_mm": {key: _mm(d) for key, d in zip(HABITS, m.habits, strict=True)},
                  "limited_by": [{"pass": m.runs[run].key, "stop": number} for run, number in m.limits]} for m in found.maps],
        "passes": [{"key": p.key, "number": p.number, "half": p.half, "from_mm": round(p.start_mm, 2), "to_mm": round(p.end_mm, 2),
                    "pinned": p.is_pinned, "marks_mm": [round(t, 2) for t in p.marks],
                    "pieces": [{"from_mm": round(q.from_s, 2), "to_mm": round(q.to_s, 2), "rods": round(q.share, 3)} for q in p.pieces]} for p in found.passes],
    }  # fmt: skip


def _mm(value: float) -> float | None:
    """A distance as JSON has it; null where nothing bounds it."""
    return round(value, 2) if math.isfinite(value) else None
