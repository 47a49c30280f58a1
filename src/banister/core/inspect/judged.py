"""The judgement of an inspection by a set: line by line, each with its figure, and one result, which never accepts on a figure from memory.

Words, worst first: reject, outside a figure from memory, measure again, refer, not measured, not complete, not judged, accept.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date

from banister.core.inspect.gauges import GAUGES, SURE_IN, SURE_OUT, Gauge, chance_over
from banister.core.inspect.kinds import LINES, ROOT, SIDES
from banister.core.inspect.observed import Inspected, Observation, Vouched
from banister.core.inspect.sets import AT_LEAST, COUNT, LENGTH, LIMIT, NONE, REFER, AcceptanceSet, Item, Sum
from banister.core.inspect.windows import Interval, Worst, worst_length, worst_points
from banister.core.value import Struct

REJECT, OUTSIDE_MEMORY, AGAIN, REFERRED, NOT_MEASURED, NOT_COMPLETE, NOT_JUDGED, ACCEPT = VERDICTS = (
    "reject", "outside_memory", "again", "refer", "not_measured", "not_complete", "not_judged", "accept",
)  # fmt: skip
"""Worst first; each is the word `verdict.KEY`."""
AS_READ, GUARDED = "as_read", "guarded"
CLOSE_MM = 1e-9


class Weld(Struct, frozen=True, kw_only=True):
    """What of a joint an item may ask for: thickness, nominal weld thickness, widths of cap and root bead, length along the weld (mm); closed for a pipe.

    `planned` names the widths that are the plan's, not measured.
    """

    t: float
    s: float
    b: float
    br: float
    length_mm: float
    closed: bool = False
    has_root: bool = True
    """False where the back is welded too: its roots are nobody's to see."""
    planned: tuple[str, ...] = ("b", "br")

    @property
    def given(self) -> dict[str, float]:
        """By the names of the sets."""
        return {"t": self.t, "s": self.s, "b": self.b, "br": self.br, "L": self.length_mm}


class Line(Struct, frozen=True, kw_only=True):
    """One line: verdict, what it is about, the value against its limit; for a sum the window where it is worst.

    `item` is the item's place in its set (-1: none speaks of it); `chance` that the value is really over, where it lies near;
    `asks` the flag that is missing; `is_due` where the gauge's calibration is past.
    """

    verdict: str
    kind: str
    side: str
    seen: tuple[int, ...]
    item: int = -1
    measure: str = ""
    value: float | None = None
    limit: float | None = None
    sum: Sum | None = None
    worst: Worst | None = None
    chance: float | None = None
    asks: str = ""
    is_due: bool = False
    vouched: Vouched | None = None
    s_mm: float = 0.0


class Unlooked(Struct, frozen=True):
    """A line that was not looked for over the whole of a side: where not."""

    side: str
    line: str
    gaps: tuple[Interval, ...]


class Judgement(Struct, frozen=True):
    """What a set says of an inspection: lines, worst first, what was not looked for, sides nobody can see; and one result."""

    set: AcceptanceSet
    lines: tuple[Line, ...]
    unlooked: tuple[Unlooked, ...]
    no_access: Mapping[str, str]
    result: str

    @property
    def is_but_for(self) -> bool:
        """True where the result holds but for a side that cannot be seen: it is never a plain accept."""
        return bool(self.no_access)


class Rules(Struct, frozen=True):
    """How readings near a limit are taken, and on which day gauges are asked for their calibration."""

    near: str = AS_READ
    on: date = date(2026, 1, 1)
    gauges: Mapping[str, Gauge] | None = None

    def gauge(self, one: Observation) -> Gauge | None:
        """The gauge an observation was read with."""
        return (GAUGES if self.gauges is None else self.gauges).get(one.gauge)


def judged(found: Inspected, weld: Weld, by: AcceptanceSet, rules: Rules | None = None) -> Judgement:
    """An inspection held against a set."""
    rules = rules or Rules()
    lines: list[Line] = []
    for one in found.seen:
        lines += _lines_of(one, found, weld, by, rules)
    lines += _sums(found, weld, by)
    unlooked = tuple(_unlooked(found, weld))
    order = {verdict: i for i, verdict in enumerate(VERDICTS)}
    lines.sort(key=lambda line: (order[line.verdict], line.side, line.s_mm))
    verdicts = [line.verdict for line in lines] + ([NOT_COMPLETE] if unlooked else [])
    result = min(verdicts, key=lambda verdict: order[verdict], default=ACCEPT)
    return Judgement(by, tuple(lines), unlooked, dict(found.no_access), result)


def _unlooked(found: Inspected, weld: Weld) -> Iterator[Unlooked]:
    for side in SIDES:
        if side in found.no_access or (side == ROOT and not weld.has_root):
            continue
        for line in LINES[side]:
            if gaps := found.unlooked(side, line, weld.length_mm):
                yield Unlooked(side, line, tuple(gaps))


# --- one observation --------------------------------------------------------------------------
def _items(kind: str, by: AcceptanceSet, weld: Weld, flags: Mapping[str, bool]) -> Iterator[tuple[int, Item, str]]:
    """The items that speak of a kind here, each with the flag that is missing ('' for none)."""
    for i, item in enumerate(by.items):
        if kind not in item.kinds or not item.when.holds_thickness(weld.t):
            continue
        wanted = item.when.flag or item.when.without
        if not wanted:
            yield i, item, ""
        elif wanted not in flags:
            yield i, item, wanted
        elif flags[wanted] == bool(item.when.flag):
            yield i, item, ""


def _lines_of(one: Observation, found: Inspected, weld: Weld, by: AcceptanceSet, rules: Rules) -> Iterator[Line]:
    about = {"kind": one.kind, "side": one.side, "seen": (one.id,), "s_mm": one.s_mm}
    items = list(_items(one.kind, by, weld, found.flags))
    if not items:
        yield Line(verdict=NOT_JUDGED, **about)  # type: ignore[arg-type]
        return
    if asked := next((asks for _, _, asks in items if asks), ""):
        yield Line(verdict=NOT_MEASURED, asks=asked, item=items[0][0], **about)  # type: ignore[arg-type]
        return
    for i, item, _ in items:
        line = _line(one, i, item, found, weld, by, rules)
        if line is not None:
            yield line


def _line(one: Observation, i: int, item: Item, found: Inspected, weld: Weld, by: AcceptanceSet, rules: Rules) -> Line | None:
    vouched = next((v for v in found.vouched if v.set == by.id and v.item == i and v.digest == by.digest), None)
    is_sure = item.is_sure or vouched is not None
    about = {"kind": one.kind, "side": one.side, "seen": (one.id,), "s_mm": one.s_mm, "item": i, "vouched": vouched}
    if item.rule == NONE:
        return Line(verdict=REJECT if is_sure else OUTSIDE_MEMORY, **about)  # type: ignore[arg-type]
    if item.rule == REFER:
        return Line(verdict=REFERRED, **about)  # type: ignore[arg-type]
    if item.rule not in (LIMIT, AT_LEAST) or item.limit is None:
        return None
    limit = vouched.value if vouched is not None and vouched.value is not None else item.limit.value(weld.given)
    value = one.measured(item.measure)
    if value is None:
        return Line(verdict=NOT_MEASURED, measure=item.measure, limit=limit, **about)  # type: ignore[arg-type]
    is_over = value < limit - CLOSE_MM if item.rule == AT_LEAST else value > limit + CLOSE_MM
    verdict = (REJECT if is_over else ACCEPT) if is_sure else (OUTSIDE_MEMORY if is_over else NOT_JUDGED)
    gauge = rules.gauge(one) if item.measure in ("depth", "height") else None
    chance = None
    if gauge is not None:
        over = chance_over(value, limit, gauge, one.readings)
        over = 1.0 - over if item.rule == AT_LEAST else over
        chance = over if SURE_IN < over < SURE_OUT else None
        if chance is not None and rules.near == GUARDED and verdict in (ACCEPT, REJECT):
            verdict = AGAIN
    is_due = gauge is not None and gauge.is_due(rules.on)
    if is_due and verdict == ACCEPT:
        verdict = AGAIN
    return Line(verdict=verdict, measure=item.measure, value=value, limit=limit, chance=chance, is_due=is_due, **about)  # type: ignore[arg-type]


# --- sums -------------------------------------------------------------------------------------
def _sums(found: Inspected, weld: Weld, by: AcceptanceSet) -> Iterator[Line]:
    """What is added up along a side."""
    for side in SIDES:
        for i, item in enumerate(by.items):
            own = [one for one in found.seen if one.side == side and one.kind in item.kinds]
            if not own or not any(j == i and not asks for j, _, asks in _items(own[0].kind, by, weld, found.flags)):
                continue
            for one in item.sums:
                yield from _summed(own, i, item, one, side, found, weld, by)


def _summed(own: list[Observation], i: int, item: Item, one: Sum, side: str, found: Inspected, weld: Weld, by: AcceptanceSet) -> Iterator[Line]:
    vouched = next((v for v in found.vouched if v.set == by.id and v.item == i and v.digest == by.digest), None)
    counted, unmeasured = _counted(own, item, one, weld)
    about = {"kind": own[0].kind, "side": side, "item": i, "measure": one.of, "sum": one, "vouched": vouched}
    if unmeasured:
        yield Line(verdict=NOT_MEASURED, seen=tuple(o.id for o in unmeasured), s_mm=unmeasured[0].s_mm, limit=one.allowed(weld.length_mm), **about)  # type: ignore[arg-type]
        return
    for window_mm, allowed in _limits(one, weld):
        worst = _worst(counted, one, window_mm, weld, by.overlap == "union")
        is_over = worst.value > allowed + CLOSE_MM
        is_sure = item.sums_are_sure or (vouched is not None and vouched.value is None)
        verdict = (REJECT if is_over else ACCEPT) if is_sure else (OUTSIDE_MEMORY if is_over else NOT_JUDGED)
        yield Line(verdict=verdict, seen=tuple(o.id for o in counted), value=worst.value, limit=allowed, worst=worst, s_mm=worst.from_mm, **about)  # type: ignore[arg-type]


def _limits(one: Sum, weld: Weld) -> Iterator[tuple[float, float]]:
    """The window and the most in it; and the whole weld where a share of it is limited besides."""
    yield one.window, one.allowed(weld.length_mm)
    if one.share is not None:
        yield weld.length_mm, one.share * weld.length_mm


def _counted(own: list[Observation], item: Item, one: Sum, weld: Weld) -> tuple[list[Observation], list[Observation]]:
    """What counts into a sum, and what lacks the measure that would tell."""
    counted, unmeasured = list[Observation](), list[Observation]()
    for seen in own:
        needed = [one.of] if one.of in (LENGTH, "size") else []
        by = item.measure or ("size" if one.of != LENGTH else "depth")
        if one.over is not None:
            needed.append(by)
        if any(seen.measured(what) is None for what in needed):
            unmeasured.append(seen)
            continue
        if one.over is not None:
            over, value = one.over.value(weld.given), seen.measured(by) or 0.0
            if value < over - CLOSE_MM or (abs(value - over) <= CLOSE_MM and not one.inclusive):
                continue
        counted.append(seen)
    return counted, unmeasured


def _worst(counted: list[Observation], one: Sum, window_mm: float, weld: Weld, union: bool) -> Worst:
    if one.of == LENGTH:
        return worst_length([seen.interval for seen in counted], window_mm, weld.length_mm, weld.closed, union)
    sizes = [(seen.s_mm, (1.0 if one.of == COUNT else seen.measured("size") or 0.0) * (seen.number or 1)) for seen in counted]
    return worst_points(sizes, window_mm, weld.length_mm, weld.closed)
