"""What the journal says of a joint's heat: its passes in time with the energy of their arcs, and the temperatures that were read."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from banister.core.follow.facts import PassFacts
from banister.core.heat.cooling import Work
from banister.core.heat.countdown import Read, Welded
from banister.core.journal import Record
from banister.core.plan.plan import Pass, Plan

SHORTEST_S = 10.0


@dataclass(frozen=True, slots=True)
class Warmth:
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
