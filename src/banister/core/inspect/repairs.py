"""Repairs that were decided on: how often a place was repaired, who may let it be repaired again, and what is kept of each.

One repair of a place is free, a second needs the name of who allowed it, a third is refused unless it is overridden with a
reason (typical; contract and code govern).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from banister.core.fitup.places import Course
from banister.core.inspect.kinds import FACE
from banister.core.inspect.repair import Way
from banister.core.journal import Record
from banister.core.remark import Figure, Remark, fault, watch
from banister.core.value import Struct
from banister.core.words import Speech

REPAIR = "repair"
"""The kind of its records."""
FREE, NAMED, REFUSED = "free", "named", "refused"
REPAIRS_FREE, REPAIRS_NAMED = 1, 2
"""Repairs of one place that need nobody's name, and the last that can be with one; then only against a reason."""
ONE_MM = 50.0
"""Two repairs nearer than this are dug as one (typical)."""
TOUCH_MM = 1e-6
"""Ends this near each other are the same place: figures come from sums, and are rounded."""


class KeptRepair(Struct, frozen=True):
    """A repair that was decided on: its record, the observation, from which side, where it lies along the weld and how deep, mm; names."""

    n: int
    of: int
    side: str
    from_mm: float
    length_mm: float
    depth_mm: float
    passes: int
    by: str = ""
    allowed_by: str = ""
    reason: str = ""
    proved_by: str = ""
    """Who saw the hollow clear of it, by PT or MT."""
    joint: str = ""
    """The joint it is welded as, '' where it is none of the job's."""
    welded: int = 0
    """Its passes that are welded."""


def keeping(of: int, way: Way, by: str, allowed_by: str = "", reason: str = "", proved_by: str = "", joint: str = "") -> dict[str, Any]:
    """What the record of a repair holds; `joint` is the one it is welded as."""
    begins, length = along(way)
    figures = {"from": round(begins, 1), "length": round(length, 1), "depth": round(way.boat.depth_mm, 2), "passes": len(way.plan.passes)}
    names = {"by": by, "allowed_by": allowed_by, "reason": reason, "proved_by": proved_by, "joint": joint}
    return {"of": of, "side": way.side, **figures, **{key: value for key, value in names.items() if value}}


def along(way: Way) -> tuple[float, float]:
    """Where the boat begins along the weld at the surface, and how long it is there."""
    return way.boat.from_mm - way.boat.dig.run_out * way.boat.depth_mm, way.boat.length_mm


def repairs_kept(records: Iterable[Record], joint: str) -> tuple[KeptRepair, ...]:
    """The repairs of a joint (records after corrections); records that hold no figures are left out."""
    found = tuple(records)
    ended = Counter(r.j for r in found if r.k == "pass-ended")
    own = (r for r in found if r.k == REPAIR and r.j == joint)
    return tuple(_kept(r, ended[str(r.d.get("joint", ""))]) for r in own if all(isinstance(r.d.get(key), int | float) for key in ("from", "length", "depth")))


def _kept(r: Record, welded: int) -> KeptRepair:
    d = r.d
    told = {key: str(d.get(key, "")) for key in ("by", "allowed_by", "reason", "proved_by", "joint")}
    return KeptRepair(n=r.n, of=int(r.number("of")), side=str(d.get("side", FACE)), from_mm=float(d["from"]), length_mm=float(d["length"]),
                      depth_mm=float(d["depth"]), passes=int(r.number("passes")), welded=welded if told["joint"] else 0, **told)  # fmt: skip


def before(kept: Sequence[KeptRepair], way: Way, course: Course, t_mm: float) -> tuple[KeptRepair, ...]:
    """The repairs of the same place: those it overlaps along the weld, ends counted, and in the section."""
    begins, length = along(way)
    return tuple(one for one in kept if _apart(one, begins, length, course) <= TOUCH_MM and _in_one_depth(one, way, t_mm))


def _apart(one: KeptRepair, begins: float, length: float, course: Course) -> float:
    """How far apart two lengths lie, nought or less where they overlap; round a pipe the shorter way."""
    laps = (-course.length_mm, 0.0, course.length_mm) if course.closed else (0.0,)
    return min(max(begins + lap - one.from_mm - one.length_mm, one.from_mm - begins - lap - length) for lap in laps)


def _in_one_depth(one: KeptRepair, way: Way, t_mm: float) -> bool:
    return one.side == way.side or one.depth_mm + way.boat.depth_mm >= t_mm


def allowed(times: int) -> str:
    """Whether a place that was repaired so often may be repaired again: free, named (who allowed it), or refused (but for a reason)."""
    return FREE if times < REPAIRS_FREE else NAMED if times < REPAIRS_NAMED else REFUSED


def rule_remarks(kept: Sequence[KeptRepair], way: Way, course: Course, t_mm: float) -> Iterator[Remark]:
    """What stands beside a repair: how often this place was repaired, and one so near that both are dug as one."""
    same = before(kept, way, course, t_mm)
    if same:
        yield watch(f"repair.again.{allowed(len(same))}", n=Figure(len(same), "count"))
    begins, length = along(way)
    near = [one for one in kept if one not in same and one.side == way.side and _apart(one, begins, length, course) < ONE_MM]
    if near:
        yield watch("repair.near", at=course.figure(near[0].from_mm), least=Figure(ONE_MM, "long_length"))


def keeping_faults(times: int, by: str, allowed_by: str, reason: str) -> Iterator[Remark]:
    """What is missing before a repair can be kept, each at its field."""
    if not by.strip():
        yield fault("repair.by", "by")
    rule = allowed(times)
    if rule != FREE and not allowed_by.strip():
        yield fault("repair.allowed_by", "allowed_by")
    if rule == REFUSED and not reason.strip():
        yield fault("repair.reason", "reason")


def kept_said(one: KeptRepair, nth: int, course: Course, say: Speech) -> str:
    """A repair in one line."""
    depth, length = Figure(one.depth_mm, "fine_length"), Figure(one.length_mm, "long_length")
    text = say("repair.kept", nth=str(nth), side=say(f"inspect.side.{one.side}"), at=course.figure(one.from_mm), depth=depth, length=length, by=one.by or "-")
    more = [say(f"repair.kept.{key}", name=getattr(one, key)) for key in ("allowed_by", "reason", "proved_by") if getattr(one, key)]
    if one.joint:
        more.append(say("repair.kept.joint", joint=one.joint, welded=str(one.welded), of=str(one.passes)))
    return " ".join([text, *more])
