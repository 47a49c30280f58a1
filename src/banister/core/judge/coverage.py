"""Joint and plan against the procedure document, and the welder against the joint: one remark a variable.

A rule that is unverified says so and leaves the variable "not judged": it never makes one "inside". The
words of a variable are `remark.cover.VARIABLE`, with its title and why it matters.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from datetime import date

from banister.core.joint.joint import Joint
from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.judge.limit import Limit, Measure, listed
from banister.core.limits.procedure import ARC_ENERGY_FAMILIES, Consumable, Procedure, Welder
from banister.core.limits.qualification import PLATE_FROM_OD_MM, WELDER, Derived, QualificationRows, derived, qualified
from banister.core.limits.windows import Bounds, tightest
from banister.core.material.steel import hydrogen_class_ml
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import NO_PLACE, NOT_JUDGED, OUTSIDE, SURE, Figure, Place, Remark
from banister.core.rods.rod import Rod, f_number

CONTINUITY_MONTHS = 6
"""ASME IX QW-322, AWS D1.1, ISO 9606-1: a process unused for longer has to be shown again."""
CONTINUITY_RULE = "ASME IX QW-322; AWS D1.1; ISO 9606-1"
PROGRESSION_RULE = "ASME IX QW-405.3; ISO 9606-1"
_LETTERS = {FLAT: "F", HORIZONTAL: "H", VERTICAL_UP: "V", VERTICAL_DOWN: "V", OVERHEAD: "O"}
_TYPICAL_HYDROGEN = {"cellulosic": 30.0, "rutile": 15.0}
"""Least diffusible hydrogen of families that are never low-hydrogen, ml/100 g (typical)."""
NOT_SET = Figure("window.none", "word")


def covered(
    joint: Joint, plan: Plan | None, procedure: Procedure | None, welder: Welder | None, rows: QualificationRows, today: date | None
) -> Iterator[Remark]:
    """Every essential variable, procedure first, then the welder; nothing where neither is given."""
    passes = plan.passes if plan is not None else ()
    if procedure is not None:
        yield from _procedure(joint, passes, procedure, rows)
    if welder is not None:
        yield from _welder(joint, passes, welder, rows, today)


def _procedure(joint: Joint, passes: Sequence[Pass], procedure: Procedure, rows: QualificationRows) -> Iterator[Remark]:
    spans = {d.item: d for d in qualified(procedure, rows)}
    yield _in_span("cover.thickness", joint.plate_thickness_mm, "length", spans.get("thickness"))
    if joint.piece.form == "pipe":
        yield _in_span("cover.diameter", joint.piece.pipe_od_mm, "length", spans.get("diameter"))
    yield _position(joint, procedure, spans.get("position"))
    if joint.place.has_progression:
        used = (joint.piece.progression, joint.piece.root_progression or joint.piece.progression)
        yield _in_list("cover.progression", tuple(dict.fromkeys(used)), procedure.progressions, "progression")
    metal = (joint.metal.group,) if joint.metal.group else ()
    yield _in_list("cover.base_metal", metal, (procedure.base_metal,) if procedure.base_metal else ())
    yield _in_list("cover.process", tuple(dict.fromkeys(p.process for p in passes)), procedure.processes)
    yield from _consumables(passes, procedure.consumables)
    yield _backing(joint, procedure)
    yield from _heat_input(passes, procedure.family, spans.get("heat_input"))
    yield from _temperatures(joint, spans)
    if procedure.hydrogen:
        yield _hydrogen(passes, procedure.hydrogen)
    yield from _bead_thickness(passes, procedure)


def _in_span(code: str, value: float, kind: str, span: Derived | None) -> Remark:
    if span is None:
        return Remark(code, NOT_JUDGED, {"value": Figure(value, kind), "allowed": NOT_SET})
    if math.isinf(span.low) and math.isinf(span.high):
        return listed(code, True, span.rule, {"value": Figure(value, kind), "allowed": span.figure}, NO_PLACE, span.certainty)
    limit = Limit(code, Bounds(span.low - 1e-9, span.high + 1e-9), "procedure", span.rule, span.certainty)
    return limit.held(Measure(value, kind), allowed=span.figure)


def _in_list(code: str, used: tuple[str, ...], allowed: Sequence[str], words: str = "") -> Remark:
    """What is used against what the procedure names; where either is not stated there is nothing to hold."""
    kind = "words" if words else "names"

    def figure(values: Sequence[str]) -> Figure:
        return Figure(tuple(f"{words}.{v}" if words else v for v in values), kind) if values else NOT_SET

    is_inside = set(used) <= set(allowed) if used and allowed else None
    return listed(code, is_inside, "stated" if allowed else "", {"value": figure(used), "allowed": figure(allowed)})


def _position(joint: Joint, procedure: Procedure, span: Derived | None) -> Remark:
    iso = joint.place.iso(joint.piece.progression)
    value = Figure(f"{joint.piece.position} ({iso})", "name")
    if procedure.positions:
        is_inside = joint.piece.position in procedure.positions or iso in procedure.positions
        return listed("cover.position", is_inside, "stated", {"value": value, "allowed": Figure(tuple(procedure.positions), "names")})
    if span is None:
        return Remark("cover.position", NOT_JUDGED, {"value": value, "allowed": NOT_SET})
    return listed("cover.position", letters_of(joint) <= set(span.covers), span.rule, {"value": value, "allowed": span.figure}, NO_PLACE, span.certainty)


def letters_of(joint: Joint) -> frozenset[str]:
    """The plain positions F, H, V, O that occur while this joint is welded."""
    return frozenset(_LETTERS[a] for role in ("root", "fill") for a in joint.attitudes(role))


def _consumables(passes: Sequence[Pass], allowed: Sequence[Consumable]) -> Iterator[Remark]:
    by_role: dict[str, list[Pass]] = {}
    for p in passes:
        by_role.setdefault(p.role, []).append(p)
    for role, found in by_role.items():
        figures = {"role": Figure(f"role.{role}", "word"), "value": Figure(tuple(dict.fromkeys(p.rod.type for p in found)), "names")}
        rows = [c for c in allowed if c.role in ("*", role)]
        bad = tuple(p.key for p in found if not any(_serves(c, p.rod) for c in rows))
        named = Figure(tuple(c.type or f"F{c.f_number}" for c in rows), "names") if rows else NOT_SET
        yield listed("cover.consumable", not bad if rows else None, "stated" if rows else "", figures | {"allowed": named}, Place(bad if rows else ()))


def _serves(consumable: Consumable, rod: Rod) -> bool:
    if consumable.type:
        return rod.type == consumable.type
    return consumable.f_number is not None and f_number(rod) == consumable.f_number


def _backing(joint: Joint, procedure: Procedure) -> Remark:
    has = joint.prep.backing != "open" or joint.prep.second_side != "none"
    value = Figure("backed.with" if has else "backed.without", "word")
    if not procedure.backing:
        return Remark("cover.backing", NOT_JUDGED, {"value": value, "allowed": NOT_SET})
    is_inside = procedure.backing == "either" or (procedure.backing == "with") == has
    return listed("cover.backing", is_inside, "stated", {"value": value, "allowed": Figure(f"backed.{procedure.backing}", "word")})


def _heat_input(passes: Sequence[Pass], family: str, span: Derived | None) -> Iterator[Remark]:
    """Heat input in the basis of the procedure's own family: k = 1, or the k of each pass's process."""
    if span is None or not passes:
        return
    arc = family in ARC_ENERGY_FAMILIES
    values = {p.key: p.arc_energy_kj_mm if arc else p.heat_input_kj_mm for p in passes}
    bad = tuple(key for key, value in values.items() if not span.low - 1e-9 <= value <= span.high + 1e-9)
    used = ["1"] if arc else sorted({f"{p.efficiency:g}" for p in passes})
    figures = {"value": Figure((min(values.values()), max(values.values())), "energy"), "allowed": span.figure, "k": Figure(tuple(used), "names")}
    yield listed("cover.heat_input", not bad, span.rule, figures, Place(bad if span.certainty == SURE else ()), span.certainty)


def _temperatures(joint: Joint, spans: dict[str, Derived]) -> Iterator[Remark]:
    """The job's own limits of heat against what the procedure qualifies."""
    for item in ("preheat", "interpass"):
        span = spans.get(item)
        if span is None:
            continue
        limit = tightest(joint.working.windows, item)
        value = limit.low if item == "preheat" else limit.high
        if math.isfinite(value):
            yield _in_span(f"cover.{item}", value, "set_temperature", span)
        else:
            yield Remark(f"cover.{item}.none", NOT_JUDGED, {"value": NOT_SET, "allowed": span.figure}, source=span.rule)


def _hydrogen(passes: Sequence[Pass], wanted: str) -> Remark:
    most, shown, bad, unknown = hydrogen_class_ml(wanted), [], [], False
    for p in passes:
        own = hydrogen_class_ml(p.rod.hydrogen)
        least = _TYPICAL_HYDROGEN.get(p.rod.family, 0.0) if own is None else own
        shown.append(f"{p.rod.type} {p.rod.hydrogen or '?'}")
        unknown |= own is None and p.rod.process != "GTAW" and p.rod.family not in _TYPICAL_HYDROGEN
        if most is not None and least > most:
            bad.append(p.key)
    figures = {"value": Figure(tuple(dict.fromkeys(shown)), "names"), "allowed": Figure(wanted, "name")}
    if not bad and (unknown or most is None):
        return Remark("cover.hydrogen.open", NOT_JUDGED, figures, source="stated")
    return listed("cover.hydrogen", not bad, "stated", figures, Place(tuple(bad)))


def _bead_thickness(passes: Sequence[Pass], procedure: Procedure) -> Iterator[Remark]:
    most = procedure.most_bead_thickness_mm
    if most is None or not passes:
        return
    bad = tuple(p.key for p in passes if p.thickness_mm > most + 1e-9)
    figures = {"value": Figure(max(p.thickness_mm for p in passes), "length"), "allowed": Figure((None, most), "length")}
    yield listed("cover.bead_thickness", not bad, "stated", figures, Place(bad))


# --- the welder -------------------------------------------------------------------------------
def _welder(joint: Joint, passes: Sequence[Pass], welder: Welder, rows: QualificationRows, today: date | None) -> Iterator[Remark]:
    spans = {d.item: d for d in derived(welder.family, WELDER, welder.test, rows)}
    found = [_in_span("cover.welder.thickness", joint.prep.welded_thickness_mm, "length", spans.get("thickness"))]
    if joint.piece.form == "pipe":
        found.append(_in_span("cover.welder.diameter", joint.piece.pipe_od_mm, "length", spans.get("diameter")))
    found.append(_welder_position(joint, spans))
    if joint.place.has_progression:
        progression, tested = (Figure(f"progression.{p}", "word") for p in (joint.piece.progression, welder.test.progression))
        same = welder.test.progression == joint.piece.progression
        found.append(listed("cover.welder.progression", same, PROGRESSION_RULE, {"value": progression, "allowed": tested}))
    found += [_welder_filler(joint, passes, spans.get("filler")), _continuity(welder, today)]
    mark = Figure(welder.mark, "name")
    for r in found:
        yield Remark(r.code, r.verdict, dict(r.figures) | {"mark": mark}, r.place, r.basis, r.source, r.certainty)


def _welder_position(joint: Joint, spans: dict[str, Derived]) -> Remark:
    small = joint.piece.form == "pipe" and joint.piece.pipe_od_mm <= PLATE_FROM_OD_MM
    span = (spans.get("position on pipe") if small else None) or spans.get("position")
    iso = joint.place.iso(joint.piece.progression)
    value = Figure(f"{joint.piece.position} ({iso})", "name")
    if span is None:
        return Remark("cover.welder.position", NOT_JUDGED, {"value": value, "allowed": NOT_SET})
    in_letters = span.covers and set(span.covers) <= set("FHVO")
    is_inside = letters_of(joint) <= set(span.covers) if in_letters else iso in span.covers
    return listed("cover.welder.position", is_inside, span.rule, {"value": value, "allowed": span.figure}, NO_PLACE, span.certainty)


def _welder_filler(joint: Joint, passes: Sequence[Pass], span: Derived | None) -> Remark:
    held = joint.prep.backing != "open"
    used = {p.key: (f_number(p.rod), held or p.role != "root") for p in passes}
    groups = {key: f"F{n} {'with' if backed else 'without'} backing" for key, (n, backed) in used.items() if n}
    value = filler_figure(sorted(set(groups.values())))
    if span is None or not passes:
        return Remark("cover.welder.filler", NOT_JUDGED, {"value": value, "allowed": NOT_SET})
    excluded = tuple(key for key, group in groups.items() if group in span.excludes)
    figures = {"value": value, "allowed": filler_figure(span.covers)}
    if excluded:
        return Remark("cover.welder.filler", OUTSIDE, figures, Place(excluded), "procedure", span.rule)
    is_inside = len(groups) == len(used) and set(groups.values()) <= set(span.covers)
    return listed("cover.welder.filler", is_inside, span.rule, figures, NO_PLACE, span.certainty)


def filler_figure(groups: Sequence[str]) -> Figure:
    """Groups of filler with and without backing, by their words."""
    return Figure(tuple("filler." + group.replace(" ", ".").removesuffix(".backing") for group in groups), "words") if groups else NOT_SET


def _continuity(welder: Welder, today: date | None) -> Remark:
    limit = Figure("continuity.limit", "word")
    try:
        last = date.fromisoformat(welder.last_used)
    except ValueError:
        return Remark("cover.welder.continuity.open", NOT_JUDGED, {"value": Figure("continuity.unknown", "word"), "allowed": limit}, source=CONTINUITY_RULE)
    until = months_after(last, CONTINUITY_MONTHS)
    figures = {"last": Figure(last.isoformat(), "name"), "until": Figure(until.isoformat(), "name"), "allowed": limit}
    if today is None:
        return Remark("cover.welder.continuity", NOT_JUDGED, figures, source=CONTINUITY_RULE)
    code = "cover.welder.continuity.future" if last > today else "cover.welder.continuity"
    return listed(code, last <= today <= until, CONTINUITY_RULE, figures)


def months_after(day: date, months: int) -> date:
    """The same day so many calendar months later, or that month's last.

    >>> months_after(date(2026, 8, 31), 6)
    datetime.date(2027, 2, 28)
    """
    month = day.month - 1 + months
    year, month = day.year + month // 12, month % 12 + 1
    return date(year, month, min(day.day, (date(year + month // 12, month % 12 + 1, 1) - date(year, month, 1)).days))
