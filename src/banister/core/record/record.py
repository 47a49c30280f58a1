"""The record of a joint as one plain value: planned and welded pass by pass, deviations, fit-up, rods, inspection, who signed what.

The digest is of everything but the signatures; a change after signing shows as "signed for another state", never as an error.
A digest shows change, not who: a typed name is a name.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from banister.core.canonical import digest
from banister.core.follow.facts import PassFacts, told
from banister.core.inspect.etched_kept import Etched, compared, etched_of, photos_of
from banister.core.inspect.found import causes_found
from banister.core.inspect.judged import Judgement
from banister.core.inspect.observed import Inspected
from banister.core.inspect.repairs import KeptRepair, repairs_kept
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Chain, Record, corrected
from banister.core.plan.plan import Pass, Plan
from banister.core.value import Struct, asdict

FORMAT, VERSION = "banister-record", 1
SIGN = "sign"
DIGITS = 4
"""Decimals a figure is recorded with."""


class Signature(Struct, frozen=True):
    """A name that stands under a record: name, role, when (UTC), the digest it was given for, how many deviations were open then."""

    name: str
    role: str
    on: str
    digest: str
    open: int
    n: int = 0
    """The number of its record in the journal."""


def record_of(job: Job, joint: Joint, plan: Plan, chain: Chain, found: Inspected, judgement: Judgement | None) -> dict[str, Any]:
    """Everything that is known of a joint, as plain values. Photos and etched sections are named only where there are any."""
    standing = corrected(chain.records).records
    records = tuple(r for r in standing if r.j in ("", joint.id))
    facts = told(records, joint.id)
    sheet = job.issued_for(joint)
    whole = {
        "format": FORMAT, "version": VERSION,
        "job": {"name": job.name, "site": job.site, "prepared_by": job.prepared_by, "checked_by": job.checked_by},
        "joint": {"id": joint.id, "name": joint.name, "drawing": joint.drawing, "procedure": joint.procedure, "revision": joint.procedure_revision,
                  "welder": joint.welder, "preparation": asdict(joint.prep), "piece": asdict(joint.piece)},
        "issued": None if sheet is None else {"on": sheet.issued_on, "planner": sheet.planner_version},
        "passes": [_pass(p, facts.passes.get(p.key), records) for p in plan.passes],
        "deviations": [{"n": d.n, "pass": _number(plan, d.key), "rule": d.rule, "value": d.value, "limit": d.limit, "as": d.as_, "why": d.why}
                       for d in facts.deviations],
        "open_deviations": len(facts.open),
        "fit_up": {"readings": [asdict(r) for r in joint.fitup.readings], "tacks": len(joint.fitup.tacks)},
        "rods": [{"n": r.n, "t": r.t, "what": r.k, **r.d} for r in records if r.k in ("lot", "care")],
        "inspection": _inspection(found, judgement),
        "causes": [{"observation": one.of, "cause": one.cause, "named": list(one.named)} for one in causes_found(records)],
        "repairs": [_repair(one) for one in repairs_kept(standing, joint.id)],
        "simulated": any(one.simulated for one in facts.passes.values()),
        "journal": {"id": chain.id, "whole": chain.whole},
    }  # fmt: skip
    more = {"photos": [asdict(one) for one in photos_of(records, joint.id)], "etched": [_etched(one, joint, plan) for one in etched_of(records, joint.id)]}
    return {key: _rounded(value) for key, value in (whole | {key: value for key, value in more.items() if value}).items()}


def _repair(one: KeptRepair) -> dict[str, Any]:
    """A repair; the joint it is welded as, and how far that is, only where there is one."""
    return {key: value for key, value in asdict(one).items() if one.joint or key not in ("joint", "welded")}


def _etched(one: Etched, joint: Joint, plan: Plan) -> dict[str, Any]:
    """An etched section with what it came to against the plan."""
    found = compared(one, joint, plan)
    walls = {wall.side: {"least_mm": None if wall.least is None else wall.least[1], "places_not_fused": len(wall.not_fused)} for wall in found.walls}
    return {"n": one.n, "photo": dict(one.photo), "mm_per_px": one.overlay.mm_per_px, "by": one.by, "walls": walls,
            "beads": [{"pass": _number(plan, key), "planned_mm2": a, "found_mm2": b} for key, (a, b) in found.areas.items()]}  # fmt: skip


def _pass(p: Pass, facts: PassFacts | None, records: Sequence[Record]) -> dict[str, Any]:
    planned = {"rod": p.rod.id, "amps": p.amps, "volts": p.volts, "area_mm2": p.area_mm2, "run_out_mm": p.run_out_mm, "rods": p.rod_count,
               "arc_energy_kj_mm": p.arc_energy_kj_mm, "k": 1.0, "heat_input_kj_mm": p.heat_input_kj_mm, "heat_k": p.efficiency}  # fmt: skip
    return {"number": p.number, "role": p.role, "side": p.side, "layer": p.layer, "planned": planned,
            "welded": None if facts is None else _welded(p, facts, records)}  # fmt: skip


def _welded(p: Pass, facts: PassFacts, records: Sequence[Record]) -> dict[str, Any]:
    own = [r for r in records if r.p == p.key]
    rods = [r for r in own if r.k == "rod"]
    amps = [float(r.d["a"]) for r in rods if isinstance(r.d.get("a"), int | float)]
    volts = [float(r.d["v"]) for r in rods if isinstance(r.d.get("v"), int | float)]
    times = [r.at or r.t for r in own if r.k in ("pass-begun", "rod", "pass-ended")]
    length = facts.length_mm or p.length_mm
    energy = facts.energy_kj
    return {
        "begun": times[0] if times else None, "ended": times[-1] if facts.is_ended and times else None, "entered_later": any(r.at for r in own),
        "rods_used": facts.rods_used, "run_outs_mm": list(facts.run_outs), "arc_s": sum(facts.arc_s),
        "amps": sum(amps) / len(amps) if amps else None, "volts": sum(volts) / len(volts) if volts else None,
        "arc_energy_kj_mm": None if energy is None else energy / length, "temperature_before_c": facts.temps[0][1] if facts.temps else None,
        "depth_left_mm": facts.depth_mm, "flags": list(facts.flags), "simulated": facts.simulated,
    }  # fmt: skip


def _inspection(found: Inspected, judgement: Judgement | None) -> dict[str, Any]:
    told_ = {"observations": [{"id": one.id, **one.recorded()} for one in found.seen], "no_access": dict(found.no_access),
             "looked": [{"side": one.side, "lines": list(one.lines), "from": one.from_mm, "to": one.to_mm, "by": one.by} for one in found.looked],
             "vouched": [asdict(one) for one in found.vouched], "flags": dict(found.flags)}  # fmt: skip
    if judgement is None:
        return {**told_, "result": None}
    lines = [
        {"verdict": line.verdict, "kind": line.kind, "observations": list(line.seen), "value": line.value, "limit": line.limit, "item": line.item}
        for line in judgement.lines
    ]
    return {**told_, "set": judgement.set.id, "set_digest": judgement.set.digest, "result": judgement.result, "lines": lines,
            "not_looked_for": [{"side": one.side, "line": one.line, "gaps": [list(gap) for gap in one.gaps]} for one in judgement.unlooked]}  # fmt: skip


def _number(plan: Plan, key: str) -> int | None:
    return next((p.number for p in plan.passes if p.key == key), None)


def _rounded(value: Any) -> Any:
    """Figures to a ten-thousandth: what is under that is arithmetic, and may differ from machine to machine."""
    if isinstance(value, float):
        return round(value, DIGITS)
    if isinstance(value, Mapping):
        return {str(key): _rounded(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_rounded(one) for one in value]
    return value


def record_digest(record: Mapping[str, Any]) -> str:
    """What names exactly this record, its signatures apart."""
    return digest({key: value for key, value in record.items() if key != "signatures"})


def signatures(records: Sequence[Record], joint: str) -> tuple[Signature, ...]:
    """Who signed a joint's record (records after corrections)."""
    return tuple(Signature(str(r.d.get("name", "")), str(r.d.get("role", "")), r.t, str(r.d.get("digest", "")), int(r.number("open")), r.n)
                 for r in records if r.k == SIGN and r.j == joint)  # fmt: skip


def signing(name: str, role: str, record: Mapping[str, Any], own: str, mark: str) -> dict[str, Any]:
    """What a signature's record holds: the digest signed, the journal's mark so far, how many deviations were open."""
    return {"name": name, "role": role, "digest": own, "head": mark, "open": record["open_deviations"]}


def empty_fields(record: Mapping[str, Any]) -> tuple[str, ...]:
    """What a traveller should have and this one has not: the words `record.empty.KEY`."""
    found = [key for key in ("drawing", "procedure", "welder") if not record["joint"][key]]
    if record["issued"] is None:
        found.append("issued")
    if any(one["welded"] is None or one["welded"]["ended"] is None for one in record["passes"]):
        found.append("welded")
    if record["inspection"]["result"] is None:
        found.append("inspection")
    return tuple(found)


def differences(a: Any, b: Any, path: str = "$") -> Iterator[str]:
    """Where two records differ, by the path of each field."""
    if isinstance(a, Mapping) and isinstance(b, Mapping):
        for key in sorted({*a, *b}):
            yield from differences(a.get(key), b.get(key), f"{path}.{key}")
    elif isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            yield from differences(x, y, f"{path}[{i}]")
    elif a != b:
        yield path
