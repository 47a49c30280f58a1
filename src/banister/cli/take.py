"""`banister take`: rods to take along at a chosen confidence, and trips to the oven along the schedule."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.care.classes import class_of
from banister.core.care.of_plan import needs_of, trips_of
from banister.core.care.take import Need
from banister.core.care.trips import Trip, Use
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure, Refused
from banister.core.words import Speech


def add_parser(commands: Any, say: Speech) -> None:
    """Add `take` to the command line."""
    p = described(commands, "take", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--confidence", type=spelling.number, default=0.95, metavar="SHARE", help=say("cli.take.confidence"))
    p.add_argument("--trips", action="store_true", help=say("cli.take.trips"))
    p.add_argument("--quiver", type=int, metavar="RODS", help=say("cli.take.quiver"))
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.take.pdf"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Count and print."""
    if not 0.5 <= a.confidence <= 0.999:
        raise UsageFault("cli.fault.confidence", text=f"{a.confidence:g}")
    if a.quiver is not None and a.quiver < 1:
        raise UsageFault("cli.fault.quiver", text=str(a.quiver))
    job, say = desk.read(a.file), desk.say
    joint = desk.joint(job, a.joint)
    sheet = desk.sheet(job, joint)
    if not sheet.plan.feasible:
        raise Refused(*sheet.plan.reasons)
    needs = needs_of(joint, sheet.plan)
    schedule = sheet.heat.schedule if sheet.heat is not None and sheet.heat.schedule.feasible else None
    trips: tuple[Trip, ...] = ()
    longest, uses = 0.0, tuple[Use, ...]()
    if a.trips and schedule is not None:
        trips, longest, uses = trips_of(sheet.plan, schedule, a.quiver)
    if a.pdf:
        from banister.export.rod_list import rod_list

        desk.write(a.pdf, rod_list(sheet, needs, a.confidence, trips, longest, uses, say))
    if a.json:
        print(json.dumps(_document(joint, needs, a.confidence, trips, longest, uses), indent=1))
    else:
        lines = [f"{joint.id}  {joint.name}", *_need_lines(sheet.plan, needs, a.confidence, say)]
        if a.trips:
            lines += ["", *(_trip_lines(trips, longest, say) if uses else [say("cli.take.no_clock")])]
        print("\n".join([*lines, "", say("cli.take.governs")]))
    return INSIDE


def _need_lines(plan: Plan, needs: dict[str, Need], confidence: float, say: Speech) -> list[str]:
    rods = {p.rod.id: p.rod for p in plan.passes}
    lines = []
    for rod, need in needs.items():
        low, high = need.range_of()
        lines.append(say("cli.take.need", rod=Figure(rod, "rod"), take=str(need.at(confidence)), share=Figure(round(100 * confidence, 1), "percent"),
                         planned=str(need.planned), low=str(low), high=str(high), kept=say(f"care_class.{class_of(rods[rod]).key}")))  # fmt: skip
    return lines


def _trip_lines(trips: tuple[Trip, ...], longest: float, say: Speech) -> list[str]:
    lines = [say("cli.take.trip", number=str(i + 1), at=Figure(trip.at_s, "clock"), n=len(trip.uses)) for i, trip in enumerate(trips)]
    return [say("cli.take.trips.all", n=len(trips), longest=Figure(longest, "duration")), *lines]


def _document(joint: Joint, needs: dict[str, Need], confidence: float, trips: tuple[Trip, ...], longest: float, uses: tuple[Use, ...]) -> dict[str, Any]:
    return {
        "format": "banister-take", "version": 1, "joint": joint.id, "confidence": confidence,
        "rods": [{"rod": rod, "take": need.at(confidence), "planned": need.planned, "nine_in_ten": list(need.range_of())} for rod, need in needs.items()],
        "trips": [{"at_s": round(trip.at_s, 1), "rods": len(trip.uses), "passes": sorted({int(uses[i].key) for i in trip.uses})} for trip in trips],
        "longest_out_s": round(longest, 1),
    }  # fmt: skip
