"""A planned repair in words: ways in, the shortest first; what goes through; preheat; what to prove before welding."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.fitup.places import Course
from banister.core.inspect.repair import Repair, Through, Way
from banister.core.inspect.repairs import along
from banister.core.remark import Figure
from banister.core.words import Speech, capital

HEADS = ("pass", "rod", "amps", "length", "chalk", "rods")


def head_said(found: Repair, kind: str, course: Course, say: Speech) -> str:
    """What is dug out, and where."""
    return say("repair.head", kind=capital(say(f"defect.{kind}")), at=course.figure(found.defect.from_mm))


def way_said(way: Way, course: Course, say: Speech) -> tuple[str, str]:
    """A way in with its time, and how its boat is dug."""
    boat = way.boat
    depth, width, length = Figure(boat.depth_mm, "fine_length"), Figure(boat.width_mm, "fine_length"), Figure(boat.length_mm, "long_length")
    dug = say("repair.boat", depth=depth, width=width, length=length, low=course.figure(along(way)[0]), run_out=f"{boat.dig.run_out:g}")
    counts = {"passes": say("count.passes", n=len(way.plan.passes)), "rods": say("count.rods", n=way.rods)}
    return say("repair.way", side=say(f"inspect.side.{way.side}"), lasts=Figure(way.total_s, "duration"), **counts), dug


def pass_rows(way: Way, say: Speech) -> list[list[str]]:
    """The passes of a way: number, rod, current, length of metal, length to chalk, rods; under their heads `HEADS`."""
    rows = []
    for p, chalk in zip(way.plan.passes, way.chalk_mm, strict=True):
        lengths = [say.sized("long_length", mm) for mm in (p.length_mm, chalk)]
        rows.append([str(p.number), say.units.rod(p.rod.id), say.sized("current", p.amps), *lengths, str(p.rod_count)])
    return rows


def through_said(one: Through, t_mm: float, say: Speech) -> Iterator[str]:
    """A side from which it goes through, and both ways of it."""
    side = say(f"inspect.side.{one.side}")
    yield say("repair.through", side=side, left=Figure(max(one.left_mm, 0.0), "fine_length"), t=Figure(t_mm, "fine_length"))
    yield say("repair.through.ligament")
    if one.opened.feasible:
        yield say("repair.through.open", passes=say("count.passes", n=len(one.opened.passes)), lasts=Figure(one.opened.total_time_s, "duration"))


def beside_said(found: Repair, say: Speech) -> list[str]:
    """Preheat, what to prove before welding, and the caution."""
    heated = Figure(found.heated_mm, "long_length")
    warm = say("repair.preheat.none", length=heated)
    if found.preheat_c is not None:
        warm = say("repair.preheat", temp=Figure(found.preheat_c, "set_temperature"), length=heated)
    return [warm, say("repair.prove"), say("repair.caution")]
