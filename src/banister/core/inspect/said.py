"""An inspection in words: lines with their figures worked out, what was not looked for, the result on top."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from banister.core.fitup.places import Course
from banister.core.inspect.gauges import GAUGES, repeating_helps
from banister.core.inspect.judged import AGAIN, NOT_MEASURED, Judgement, Line, Unlooked, Weld
from banister.core.inspect.kinds import MEASURES
from banister.core.inspect.observed import Observation
from banister.core.inspect.sets import AT_LEAST, COUNT, LENGTH, AcceptanceSet, Formula, Item
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.remark import Figure
from banister.core.words import Speech, capital

SUM_KIND = {LENGTH: "long_length", "size": "fine_length", COUNT: "count"}
MOST_GAPS, WHOLE_SHARE = 3, 0.999


def set_name(one: AcceptanceSet, say: Speech) -> str:
    """What a set is called: one that ships in words, the user's own by its title."""
    return say(f"acceptance.{one.id}") if one.id in ACCEPTANCE else one.title


def result_said(found: Judgement, course: Course, say: Speech) -> str:
    """The result in one line: what decides it, with its figure and what is allowed."""
    first = next(iter(found.lines), None)
    if first is not None and first.verdict == found.result and first.value is not None and first.limit is not None:
        kind = SUM_KIND[first.sum.of] if first.sum is not None else MEASURES[first.measure]
        verdict = capital(say(f"inspect.verdict.{found.result}"))
        figures = {"value": Figure(first.value, kind), "limit": Figure(first.limit, kind), "at": course.figure(first.s_mm)}
        said = say("inspect.headline", verdict=verdict, kind=say(f"defect.{first.kind}"), **figures)
    else:
        said = say(f"inspect.result.{found.result}", set=set_name(found.set, say))
    return said


def but_for_said(found: Judgement, say: Speech) -> list[str]:
    """The sides that cannot be seen: the result holds but for them."""
    return [capital(say("inspect.but_for", side=say(f"inspect.side.{side}"), why=why)) for side, why in found.no_access.items()]


def line_said(line: Line, found: Judgement, weld: Weld, course: Course, say: Speech) -> str:
    """One line: what, where, its value against its limit, and where the figure comes from."""
    item = found.set.items[line.item] if line.item >= 0 else None
    head = say("inspect.line", kind=capital(say(f"defect.{line.kind}")), at=course.figure(line.s_mm), side=say(f"inspect.side.{line.side}"))
    parts = [part for part in (_asked(line, say), _held(line, item, weld, course, say), _near(line, say), _source(line, item, found, say)) if part]
    return f"{head}: {say(f'inspect.verdict.{line.verdict}')}" + "".join(f"; {part}" for part in parts)


def _asked(line: Line, say: Speech) -> str:
    if line.asks:
        return say(f"inspect.asks.{line.asks}")
    return say("inspect.measure_first", what=say(f"measured.{line.measure}")) if line.verdict == NOT_MEASURED else ""


def _held(line: Line, item: Item | None, weld: Weld, course: Course, say: Speech) -> str:
    if item is None:
        return say("inspect.no_item")
    if line.value is None or line.limit is None:
        return ""
    if line.sum is not None:
        kind = SUM_KIND[line.sum.of]
        at = course.figure(line.worst.from_mm) if line.worst is not None else Figure(0.0, "long_length")
        figures = {"value": Figure(line.value, kind), "most": Figure(line.limit, kind), "window": Figure(line.sum.window, "long_length"), "at": at}
        return say(f"inspect.sum.{line.sum.of}", **figures)
    kind = MEASURES[line.measure]
    word = "inspect.least" if item.rule == AT_LEAST else "inspect.most"
    said = say(word, what=say(f"measured.{line.measure}"), value=Figure(line.value, kind), limit=Figure(line.limit, kind))
    worked = "" if item.limit is None or (line.vouched is not None and line.vouched.value is not None) else worked_out(item.limit, weld, say)
    return said + (f" ({worked})" if worked else "")


def worked_out(formula: Formula, weld: Weld, say: Speech) -> str:
    """A formula as it is worked out: "1 + 0.15 b = 3.85, at most 7"; '' for one that is a figure."""
    if formula.constant is not None:
        return ""
    parts = []
    for one in formula.terms:
        if set(one) <= {"c"}:
            parts.append(f"{one.get('c', 0.0):g}")
            continue
        terms = [f"{factor:g}" if name == "c" else f"{factor:g} x {weld.given[name]:.4g}" if factor != 1 else f"{weld.given[name]:.4g}"
                 for name, factor in sorted(one.items(), key=lambda term: term[0] != "c")]  # fmt: skip
        parts.append(f"{' + '.join(terms)} = {Formula((one,)).value(weld.given):.4g}")
    joined = say("inspect.formula.least" if formula.is_least else "inspect.formula.greatest", of="; ".join(parts)) if len(parts) > 1 else parts[0]
    planned = [name for name in sorted(formula.names) if name in weld.planned]
    return joined + (f", {say('inspect.planned_width')}" if planned else "")


def _near(line: Line, say: Speech) -> str:
    if line.is_due:
        return say("inspect.gauge_due")
    if line.chance is None:
        return ""
    return say("inspect.chance", chance=Figure(round(100 * line.chance), "percent"))


def advice_said(line: Line, one: Observation, say: Speech) -> str:
    """What to do about a reading that is near its limit: again, or with a finer gauge."""
    gauge = GAUGES.get(one.gauge)
    if gauge is None or line.value is None or line.limit is None or (line.chance is None and line.verdict != AGAIN):
        return ""
    return say("inspect.again" if repeating_helps(line.value, line.limit, gauge) else "inspect.finer")


def _source(line: Line, item: Item | None, found: Judgement, say: Speech) -> str:
    if item is None:
        return ""
    if line.vouched is not None:
        return say("inspect.vouched", edition=line.vouched.edition, by=line.vouched.by, on=line.vouched.on)
    is_sure = item.sums_are_sure if line.sum is not None else item.is_sure
    return say("inspect.sure" if is_sure else "inspect.memory", clause=item.clause)


def _where(one: Unlooked, course: Course, say: Speech) -> str:
    """Where a line was not looked for."""
    if len(one.gaps) == 1 and one.gaps[0][1] - one.gaps[0][0] > WHOLE_SHARE * course.length_mm:
        return say("inspect.whole")
    return "; ".join(say("inspect.from_to", low=course.figure(a), high=course.figure(b)) for a, b in one.gaps[:MOST_GAPS])


def lines_said(found: Judgement, seen: Mapping[int, Observation], weld: Weld, course: Course, say: Speech) -> Iterator[str]:
    """Everything under the result: sides nobody can see, lines worst first, what was not looked for."""
    yield from but_for_said(found, say)
    for line in found.lines:
        advice = advice_said(line, seen[line.seen[0]], say) if len(line.seen) == 1 and line.seen[0] in seen else ""
        yield line_said(line, found, weld, course, say) + (f". {advice}" if advice else "")
    by_side: dict[tuple[str, str], list[str]] = {}
    for one in found.unlooked:
        by_side.setdefault((one.side, _where(one, course, say)), []).append(say(f"looked.{one.line}"))
    for (side, where), lines in by_side.items():
        yield say("inspect.unlooked", line=capital(", ".join(lines)), side=say(f"inspect.side.{side}"), where=where)
