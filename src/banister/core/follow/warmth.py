"""What the journal says of a joint's heat: its passes in time with the energy of their arcs, and the temperatures that were read."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime

from banister.core.follow.facts import PassFacts
from banister.core.heat.cooling import Work
from banister.core.heat.countdown import Read, Welded, countdown
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.plan import Pass, Plan
from banister.core.value import Struct

SHORTEST_S = 10.0


class Warmth(Struct, frozen=True):
    """Passes and readings, their seconds counted from the last record of the journal (so none is positive)."""

    passes: tuple[Welded, ...]
    readings: tuple[Read, ...]


def warmth_of(records: Iterable[Record], last: Record, joint: str, facts: Mapping[str, PassFacts], plan: Plan) -> Warmth:
    """A joint's heat by its records (after corrections), `last` the journal's last one.

    The energy of a pass is that of its meter; without one, the planned volts and amps over the time of its arcs.
    """
    begun, ended, readings = dict[str, float](), dict[str, float](), list[Read]()
    for r in records:
        if r.j != joint:
            continue
        at = seconds_after(last, r)
        if r.k == "pass-begun":
            begun.setdefault(r.p, at)
        elif r.k in ("rod", "pass-ended"):
            ended[r.p] = at
        elif r.k == "temp" and isinstance(r.d.get("c"), int | float):
            readings.append(Read(at, float(r.d["c"]), r.d.get("emissivity") is not None))
    planned = {p.key: p for p in plan.passes}
    passes: list[Welded] = []
    for key, at in begun.items():
        one, p = facts.get(key), planned.get(key)
        if one is None or p is None or key not in ended:
            continue
        kj = one.energy_kj if one.energy_kj is not None else p.volts * p.amps * _arc_s(one, p) / 1000.0
        joules_a_metre = p.efficiency * kj * 1000.0 / (p.length_mm / 1000.0)
        passes.append(Welded(at, Work(key, max(ended[key] - at, SHORTEST_S), 0.0, joules_a_metre)))
    return Warmth(tuple(sorted(passes, key=lambda one: one.at_s)), tuple(readings))


class AtTheJoint(Struct, frozen=True):
    """What was read while it was welded, s after the first arc, and the loss factor those readings speak for (None: they say nothing of it)."""

    readings: tuple[Read, ...]
    factor: float | None


def at_the_joint(joint: Joint, plan: Plan, records: Sequence[Record], facts: Mapping[str, PassFacts]) -> AtTheJoint | None:
    """The readings of a joint's journal (after corrections) on the clock of its heat; None where nothing was welded or read."""
    if not records:
        return None
    warmth = warmth_of(records, records[-1], joint.id, facts, plan)
    readings = _after_first_arc(warmth)
    if not readings:
        return None
    after = [r for r in warmth.readings if r.at_s > warmth.passes[0].at_s + warmth.passes[0].work.duration_s]
    found = countdown(joint, fin_of(joint, plan), warmth.passes, warmth.readings, 0.0) if after else None
    told = found is not None and not found.contradicted
    return AtTheJoint(readings, joint.heat.loss_factor * found.loss if told and found is not None else None)


def read_there(records: Sequence[Record], joint: str, facts: Mapping[str, PassFacts], plan: Plan) -> tuple[Read, ...]:
    """What was read while a joint was welded, its seconds counted from the first arc."""
    return _after_first_arc(warmth_of(records, records[-1], joint, facts, plan)) if records else ()


def _after_first_arc(warmth: Warmth) -> tuple[Read, ...]:
    if not warmth.passes:
        return ()
    begun = warmth.passes[0].at_s
    return tuple(r._replace(at_s=r.at_s - begun) for r in sorted(warmth.readings))


def _arc_s(facts: PassFacts, p: Pass) -> float:
    """How long its arcs burnt; where that was told from paper, as long as so many rods burn."""
    return sum(facts.arc_s) or facts.rods_used * p.rod.burn_time_s(p.amps)


def seconds_after(last: Record, r: Record) -> float:
    """Seconds of a record after the last one was written: by the boot's clock where both are of one boot, else by the wall's.

    What was entered later counts from when it happened.
    """
    if r.b == last.b and not r.at:
        return r.m - last.m
    return datetime.fromisoformat(r.at or r.t).timestamp() - datetime.fromisoformat(last.t).timestamp()
