"""From a test record to what it qualifies, by the rules of the chosen standard family.

The rules are data, not code: rows read from a file that users may edit from their own copy of the
standard. A row marked unverified is shown as such and never makes a check say "inside" by itself.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from banister.core.limits.procedure import Override, Procedure, Span, WeldTest
from banister.core.remark import SURE, UNVERIFIED, Figure
from banister.core.value import Struct

PROCEDURE, WELDER = "procedure", "welder"
FREEZING_C = 0.0
"""A least preheat below it, as a clause's arithmetic gives it, asks for nothing and is not shown as a figure."""
ITEM_KINDS = {"thickness": "length", "diameter": "length", "heat_input": "energy", "preheat": "set_temperature", "interpass": "set_temperature"}
"""Variables with a range, and the kind of their figures; each is the word `item.KEY`."""
STATED, OVERRIDDEN = "stated", "overridden"
"""Rules that are no clause: a range the procedure states outright, and one the user puts in its place."""
PLATE_FROM_OD_MM = 610.0
"""A pipe this large is welded like plate (ASME IX QW-461.9; AWS D1.1 24 in)."""


class Bound(Struct, frozen=True, kw_only=True):
    """A bound as a multiple of the test's value plus a constant, kept within two limits."""

    times: float = 0.0
    plus: float = 0.0
    at_least: float | None = None
    at_most: float | None = None

    def value(self, tested: float) -> float:
        """The bound for a tested value."""
        found = self.times * tested + self.plus
        found = found if self.at_least is None else max(found, self.at_least)
        return found if self.at_most is None else min(found, self.at_most)


class RangeRow(Struct, frozen=True, kw_only=True):
    """One row: for tested values from ... below (or above ... upto) the range low to high.

    None as a bound is unlimited; a condition that is None does not matter.
    """

    family: str
    kind: str
    item: str
    low: Bound | None = None
    high: Bound | None = None
    from_: float | None = None
    above: float | None = None
    upto: float | None = None
    below: float | None = None
    impact: bool | None = None
    hardness: bool | None = None
    least_layers: int = 0
    most_layers: int | None = None
    plate: bool | None = None
    clause: str = ""
    certainty: str = UNVERIFIED

    def holds(self, tested: float, test: WeldTest) -> bool:
        """True if the row speaks of this test."""
        inside = (
            (self.from_ is None or tested >= self.from_) and (self.above is None or tested > self.above)
            and (self.upto is None or tested <= self.upto) and (self.below is None or tested < self.below)
        )  # fmt: skip
        layers = self.least_layers <= test.layers and (self.most_layers is None or test.layers <= self.most_layers)
        facts = ((self.impact, test.impact), (self.hardness, test.hardness), (self.plate, test.diameter_mm == 0.0))
        return inside and layers and all(wanted is None or wanted == is_so for wanted, is_so in facts)


class ListRow(Struct, frozen=True, kw_only=True):
    """One row: a test of this kind (position, or F-number) covers these; `form` plate or pipe.

    `excludes` are those it surely does not cover, even where the rest of the row is unverified.
    """

    family: str
    kind: str
    item: str
    tested: str
    covers: tuple[str, ...]
    excludes: tuple[str, ...] = ()
    form: str = ""
    clause: str = ""
    certainty: str = UNVERIFIED


class QualificationRows(Struct, frozen=True, kw_only=True):
    """All rows of a rule file."""

    ranges: tuple[RangeRow, ...] = ()
    lists: tuple[ListRow, ...] = ()


class Derived(Struct, frozen=True):
    """What a test qualifies of one variable, by which rule, and how sure that rule is; `kind` is that of its figures."""

    item: str
    low: float
    high: float
    kind: str
    covers: tuple[str, ...]
    rule: str
    certainty: str
    excludes: tuple[str, ...] = ()

    @property
    def figure(self) -> Figure:
        """The range or the list, as a check shows it."""
        if self.covers:
            return Figure(self.covers, "names")
        low, high = (None if math.isinf(end) else end for end in (self.low, self.high))
        if self.item == "preheat" and low is not None and low < FREEZING_C:
            low = None
        return Figure("range.any", "word") if low is None and high is None else Figure((low, high), self.kind)


def _tested(test: WeldTest) -> dict[str, float | None]:
    return {"thickness": test.thickness_mm, "diameter": test.diameter_mm, "heat_input": test.heat_input_kj_mm,
            "preheat": test.preheat_c, "interpass": test.interpass_c}  # fmt: skip


def derived(family: str, kind: str, test: WeldTest, rules: QualificationRows) -> tuple[Derived, ...]:
    """Everything a test record qualifies for a procedure or a welder, in a fixed order."""
    found = []
    for item, tested in _tested(test).items():
        rows = [r for r in rules.ranges if (r.family, r.kind, r.item) == (family, kind, item)]
        row = next((r for r in rows if tested is not None and r.holds(tested, test)), None)
        if row is not None and tested is not None:
            low = -math.inf if row.low is None else row.low.value(tested)
            high = math.inf if row.high is None else row.high.value(tested)
            found.append(Derived(item, low, high, ITEM_KINDS[item], (), row.clause, row.certainty))
    return (*found, *_lists(family, kind, test, rules.lists))


def _lists(family: str, kind: str, test: WeldTest, rows: Sequence[ListRow]) -> list[Derived]:
    form = "plate" if test.diameter_mm == 0.0 else "pipe"
    wanted = {"position": test.position, "position on pipe": test.position}
    if test.f_number is not None:
        wanted["filler"] = f"F{test.f_number}" + (" with backing" if test.backing else " without backing")
    found = []
    for item, tested in wanted.items():
        for row in rows:
            if (row.family, row.kind, row.item, row.tested) == (family, kind, item, tested) and row.form in ("", form):
                found.append(Derived(item, -math.inf, math.inf, "", row.covers, row.clause, row.certainty, row.excludes))
    return found


def qualified(procedure: Procedure, rules: QualificationRows) -> tuple[Derived, ...]:
    """What the procedure qualifies: stated outright, then overridden, then derived from its test."""
    found = [_stated(s, STATED) for s in procedure.spans]
    from_test = derived(procedure.family, PROCEDURE, procedure.qualified_by, rules) if procedure.qualified_by is not None else ()
    known = {d.item for d in found}
    found += [_stated(o, f"{OVERRIDDEN}: {o.reason}") for o in procedure.overrides if o.item not in known]
    stated = {d.item for d in found}
    return (*found, *(d for d in from_test if d.item not in stated))


def _stated(span: Span | Override, rule: str) -> Derived:
    """A range that was written down, not derived."""
    low, high = -math.inf if span.low is None else span.low, math.inf if span.high is None else span.high
    return Derived(span.item, low, high, ITEM_KINDS.get(span.item, "length"), (), rule, SURE)
