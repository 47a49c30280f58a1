"""Joint and plan against the procedure document, and the welder against the joint: one line a variable.

A rule that is unverified says so and leaves the line "not judged": it never makes one "inside".
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from banister.core.joint.joint import Joint
from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.plan.plan import Pass, Plan
from banister.core.limits.procedure import Consumable, Procedure, Welder
from banister.core.limits.qualification import PLATE_FROM_OD_MM, SURE, WELDER, Derived, QualificationRows, derived, qualified
from banister.core.material.steel import hydrogen_class_ml
from banister.core.limits.windows import tightest
from banister.core.rods.rod import Rod, f_number

INSIDE, OUTSIDE, NOT_JUDGED = "inside", "outside", "not judged"
UNVERIFIED_WORDS = "unverified, enter from your copy"
CONTINUITY_MONTHS = 6
"""ASME IX QW-322, AWS D1.1, ISO 9606-1: a process unused for longer has to be shown again."""
_LETTERS = {FLAT: "F", HORIZONTAL: "H", VERTICAL_UP: "V", VERTICAL_DOWN: "V", OVERHEAD: "O"}
_TYPICAL_HYDROGEN = {"cellulosic": 30.0, "rutile": 15.0}
"""Least diffusible hydrogen of families that are never low-hydrogen, ml/100 g (typical)."""


@dataclass(frozen=True, slots=True)
class Covered:
    """One variable: what the joint or plan has, what is allowed, the verdict, why it matters, what mends it."""

    item: str
    value: str
    allowed: str
    verdict: str
    why: str
    remedy: str = ""
    rule: str = ""
    pass_ids: tuple[str, ...] = ()


def coverage(
    joint: Joint, plan: Plan | None, procedure: Procedure | None, welder: Welder | None, rules: QualificationRows, today: date
) -> tuple[Covered, ...]:
    """Every essential variable, procedure first, then the welder; empty where neither is given."""
    passes = plan.passes if plan is not None else ()
    lines: list[Covered] = []
    if procedure is not None:
        lines += _procedure_lines(joint, passes, procedure, rules)
    if welder is not None:
        lines += _welder_lines(joint, passes, welder, rules, today)
    return tuple(lines)


def _procedure_lines(joint: Joint, passes: Sequence[Pass], procedure: Procedure, rules: QualificationRows) -> Iterator[Covered]:
    spans = {d.item: d for d in qualified(procedure, rules)}
    t = joint.welded_thickness_mm
    yield _in_span("thickness", t, "mm", spans, "strength and cooling follow from it", "Qualify this thickness, or use another procedure.")
    if joint.form == "pipe":
        yield _in_span("diameter", joint.pipe_od_mm, "mm", spans, "curvature changes position and cooling", "Use a procedure for this diameter.")
    yield _position(joint, procedure, spans)
    if joint.place.has_progression:
        shown = joint.progression if not joint.root_progression else f"{joint.progression}, root {joint.root_progression}"
        used = {joint.progression, joint.root_progression or joint.progression}
        yield _in_list("progression", shown, used, procedure.progressions, "up and down differ in heat and fusion", "Weld as the procedure says.")
    metal = (joint.base_metal,) if joint.base_metal else ()
    yield _in_list("base metal", joint.base_metal or "not stated", set(metal), (procedure.base_metal,) if procedure.base_metal and metal else (),
                   "hardness and strength follow from it", "State the group the procedure names, or use another procedure.")  # fmt: skip
    yield _in_list("process", ", ".join(dict.fromkeys(p.process for p in passes)) or "none", {p.process for p in passes},
                   procedure.processes, "another process is another weld", "Use the process the procedure names.")  # fmt: skip
    yield from _consumables(passes, procedure.consumables)
    yield _backing(joint, procedure)
    yield from _heat(joint, passes, spans)
    if procedure.hydrogen:
        yield _hydrogen(passes, procedure.hydrogen)
    yield from _bead_thickness(passes, procedure, t)


def _in_span(item: str, value: float, unit: str, spans: dict[str, Derived], why: str, remedy: str) -> Covered:
    span, shown = spans.get(item), f"{value:g} {unit}"
    if span is None:
        return Covered(item, shown, "not set", NOT_JUDGED, why)
    outside = not span.low - 1e-9 <= value <= span.high + 1e-9
    return _verdict(item, shown, span, outside, why, remedy)


def _verdict(item: str, shown: str, span: Derived, outside: bool, why: str, remedy: str, passes: tuple[str, ...] = ()) -> Covered:
    """Unverified rules judge nothing, whichever way they point."""
    if span.certainty != SURE:
        return Covered(item, shown, f"{span.in_words}, {UNVERIFIED_WORDS}", NOT_JUDGED, why, "Enter the range from your copy of the standard.", span.rule)
    return Covered(item, shown, span.in_words, OUTSIDE if outside else INSIDE, why, remedy if outside else "", span.rule, passes if outside else ())


def _in_list(item: str, shown: str, used: set[str], allowed: Sequence[str], why: str, remedy: str) -> Covered:
    if not allowed or not used:
        return Covered(item, shown, "not set" if not allowed else ", ".join(allowed), NOT_JUDGED, why)
    outside = not used <= set(allowed)
    return Covered(item, shown, ", ".join(allowed), OUTSIDE if outside else INSIDE, why, remedy if outside else "", "procedure")


def _position(joint: Joint, procedure: Procedure, spans: dict[str, Derived]) -> Covered:
    iso = joint.place.iso(joint.progression)
    shown, why = f"{joint.position} ({iso})", "the pool lies otherwise, heat and fusion change"
    if procedure.positions:
        inside = joint.position in procedure.positions or iso in procedure.positions
        return Covered("position", shown, ", ".join(procedure.positions), INSIDE if inside else OUTSIDE, why,
                       "" if inside else "Bring the work into a qualified position, or use another procedure.", "procedure")  # fmt: skip
    span = spans.get("position")
    if span is None:
        return Covered("position", shown, "not set", NOT_JUDGED, why)
    return _verdict("position", shown, span, not letters_of(joint) <= set(span.covers), why, "Use a procedure for this position.")


def letters_of(joint: Joint) -> frozenset[str]:
    """The plain positions F, H, V, O that occur while this joint is welded."""
    return frozenset(_LETTERS[a] for role in ("root", "fill") for a in joint.attitudes(role))


def _consumables(passes: Sequence[Pass], allowed: Sequence[Consumable]) -> Iterator[Covered]:
    why = "strength, toughness and hydrogen come with it"
    by_role: dict[str, list[Pass]] = {}
    for p in passes:
        by_role.setdefault(p.role, []).append(p)
    for role, found in by_role.items():
        shown = ", ".join(dict.fromkeys(p.rod.type for p in found))
        rows = [c for c in allowed if c.role in ("*", role)]
        if not rows:
            yield Covered(f"consumable, {role}", shown, "not set", NOT_JUDGED, why)
            continue
        bad = tuple(p.id for p in found if not any(_serves(c, p.rod) for c in rows))
        words = ", ".join(c.type or f"F{c.f_number}" for c in rows)
        yield Covered(f"consumable, {role}", shown, words, OUTSIDE if bad else INSIDE, why,
                      "Choose a rod the procedure names for this role." if bad else "", "procedure", bad)  # fmt: skip


def _serves(consumable: Consumable, rod: Rod) -> bool:
    if consumable.type:
        return rod.type == consumable.type
    return consumable.f_number is not None and f_number(rod) == consumable.f_number


def _backing(joint: Joint, procedure: Procedure) -> Covered:
    has = joint.backing != "open" or joint.second_side != "none"
    shown = "with backing (or welded from both sides)" if has else "without backing"
    why = "an open root asks more of welder and procedure"
    if not procedure.backing:
        return Covered("backing", shown, "not set", NOT_JUDGED, why)
    inside = procedure.backing == "either" or (procedure.backing == "with") == has
    return Covered("backing", shown, procedure.backing, INSIDE if inside else OUTSIDE, why, "" if inside else "Use a procedure for this root.", "procedure")


def _heat(joint: Joint, passes: Sequence[Pass], spans: dict[str, Derived]) -> Iterator[Covered]:
    span = spans.get("heat_input")
    why = "too cold is hard and unfused, too hot loses toughness"
    if span is not None and passes:
        low, high = min(p.heat_input_kj_mm for p in passes), max(p.heat_input_kj_mm for p in passes)
        bad = tuple(p.id for p in passes if not span.low - 1e-9 <= p.heat_input_kj_mm <= span.high + 1e-9)
        yield _verdict("heat input", f"{low:.2f} to {high:.2f} kJ/mm", span, bool(bad), why, "Change the bead size of these passes.", bad)
    for item, title, least in (("preheat", "preheat", True), ("interpass", "interpass", False)):
        span = spans.get(item)
        if span is None:
            continue
        limit = tightest(joint.windows, item)
        value = limit.low if least else limit.high
        reason = "hydrogen must get out" if least else "too hot between passes loses toughness"
        if not math.isfinite(value):
            yield Covered(title, "not set in the job", span.in_words, NOT_JUDGED, reason, f"Set the {title} in the job's limits.", span.rule)
            continue
        outside = value < span.low if least else value > span.high
        yield _verdict(title, f"{value:g} \N{DEGREE SIGN}C", span, outside, reason, f"Set a {title} the procedure allows.")


def _hydrogen(passes: Sequence[Pass], wanted: str) -> Covered:
    why = "hydrogen cracks hard and restrained welds"
    most = hydrogen_class_ml(wanted)
    shown, bad, unknown = [], [], False
    for p in passes:
        own = hydrogen_class_ml(p.rod.hydrogen)
        least = _TYPICAL_HYDROGEN.get(p.rod.family, 0.0) if own is None else own
        shown.append(f"{p.rod.type} {p.rod.hydrogen or 'class not stated'}")
        unknown |= own is None and p.rod.process != "GTAW" and p.rod.family not in _TYPICAL_HYDROGEN
        if most is not None and least > most:
            bad.append(p.id)
    verdict = OUTSIDE if bad else NOT_JUDGED if unknown or most is None else INSIDE
    remedy = {OUTSIDE: "Use low-hydrogen rods of this class.", NOT_JUDGED: "State the rods' hydrogen class from their packet."}.get(verdict, "")
    return Covered("hydrogen class", ", ".join(dict.fromkeys(shown)) or "none", wanted, verdict, why, remedy, "procedure", tuple(bad))


def _bead_thickness(passes: Sequence[Pass], procedure: Procedure, t: float) -> Iterator[Covered]:
    most = procedure.most_bead_thickness_mm
    if most is None or not passes:
        return
    bad = tuple(p.id for p in passes if p.thickness_mm > most + 1e-9)
    thickest = max(p.thickness_mm for p in passes)
    yield Covered("bead thickness", f"at most {thickest:.1f} mm", f"up to {most:g} mm", OUTSIDE if bad else INSIDE,
                  "a thick bead hides a cold one", "Make these layers thinner." if bad else "", "procedure", bad)  # fmt: skip


def _welder_lines(joint: Joint, passes: Sequence[Pass], welder: Welder, rules: QualificationRows, today: date) -> Iterator[Covered]:
    spans = {d.item: d for d in derived(welder.family, WELDER, welder.test, rules)}
    name = f"welder {welder.mark}: "
    t = joint.welded_thickness_mm
    yield _in_span_of(name, "thickness", t, "mm", spans, "shown by test up to a limit", "Another welder, or a test on this thickness.")
    if joint.form == "pipe":
        yield _in_span_of(name, "diameter", joint.pipe_od_mm, "mm", spans, "small pipe is harder", "Another welder, or a test on this diameter.")
    yield _welder_position(joint, welder, spans, name)
    if joint.place.has_progression:
        same = welder.test.progression == joint.progression
        yield Covered(name + "progression", joint.progression, welder.test.progression, INSIDE if same else OUTSIDE, "up and down are different skills",
                      "" if same else "A welder tested this way.", "ASME IX QW-405.3; ISO 9606-1")  # fmt: skip
    yield _welder_filler(joint, passes, spans, name)
    yield _continuity(welder, today, name)


def _in_span_of(name: str, item: str, value: float, unit: str, spans: dict[str, Derived], why: str, remedy: str) -> Covered:
    line = _in_span(item, value, unit, spans, why, remedy)
    return Covered(name + item, line.value, line.allowed, line.verdict, line.why, line.remedy, line.rule)


def _welder_position(joint: Joint, welder: Welder, spans: dict[str, Derived], name: str) -> Covered:
    why = "a test in one position shows only some others"
    small = joint.form == "pipe" and joint.pipe_od_mm <= PLATE_FROM_OD_MM
    span = (spans.get("position on pipe") if small else None) or spans.get("position")
    iso = joint.place.iso(joint.progression)
    shown = f"{joint.position} ({iso})"
    if span is None:
        return Covered(name + "position", shown, "not set", NOT_JUDGED, why)
    in_letters = span.covers and set(span.covers) <= set("FHVO")
    outside = not letters_of(joint) <= set(span.covers) if in_letters else iso not in span.covers
    return _verdict(name + "position", shown, span, outside, why, "A welder tested for this position.")


def _welder_filler(joint: Joint, passes: Sequence[Pass], spans: dict[str, Derived], name: str) -> Covered:
    why = "each kind of coating is handled differently"
    span = spans.get("filler")
    held = joint.backing != "open"
    used = {(f_number(p.rod), held or p.role != "root") for p in passes}
    shown = ", ".join(sorted({f"F{n} {'with' if b else 'without'} backing" if n else "group not known" for n, b in used})) or "none"
    if span is None or not passes:
        return Covered(name + "filler", shown, "not set", NOT_JUDGED, why)
    covered = set(span.covers)
    outside = any(f"F{n} {'with' if b else 'without'} backing" not in covered for n, b in used)
    return _verdict(name + "filler", shown, span, outside, why, "A welder tested with this group, and without backing for an open root.")


def _continuity(welder: Welder, today: date, name: str) -> Covered:
    why = "the hand loses what it does not do"
    rule = "ASME IX QW-322; AWS D1.1; ISO 9606-1"
    limit = f"within {CONTINUITY_MONTHS} months"
    try:
        last = date.fromisoformat(welder.last_used)
    except ValueError:
        return Covered(name + "continuity", "last use not stated", limit, NOT_JUDGED, why, "Enter when the process was last used.", rule)
    month = last.month - 1 + CONTINUITY_MONTHS
    year, month = last.year + month // 12, month % 12 + 1
    until = date(year, month, min(last.day, _days_in(year, month)))
    inside = last <= today <= until
    remedy = "" if inside else "Show the process again, or correct the date." if last > today else "The welder has to show the process again."
    return Covered(name + "continuity", f"last used {last.isoformat()}, holds to {until.isoformat()}", limit, INSIDE if inside else OUTSIDE, why, remedy, rule)


def _days_in(year: int, month: int) -> int:
    return (date(year + month // 12, month % 12 + 1, 1) - date(year, month, 1)).days


def worst(lines: Sequence[Covered]) -> str:
    """Outside if any line is, else not judged if any is, else inside."""
    verdicts = {line.verdict for line in lines}
    return OUTSIDE if OUTSIDE in verdicts else NOT_JUDGED if NOT_JUDGED in verdicts or not lines else INSIDE
