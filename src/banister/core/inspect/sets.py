"""Acceptance sets as data: what a contract allows of each kind, with how surely the figure is remembered.

A limit is the least, or the greatest, of sums of a constant and multiples of what the joint is: no language to run, and
everything can be printed. Certainty S is judged as it stands; F, T and ? are from memory and never accept.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping

from banister.core.canonical import digest
from banister.core.inspect.kinds import MEASURES
from banister.core.remark import Figure, Remark, fault
from banister.core.value import Struct

SURE = "S"
CERTAINTIES = ("S", "F", "T", "?")
NONE, LIMIT, AT_LEAST, REFER, SUM = RULES = ("none", "limit", "at_least", "refer", "sum")
VARIABLES = ("t", "s", "b", "br", "L")
"""Thickness (the thinner), nominal weld thickness, cap width, width of the root bead, weld length; mm."""
LENGTH, SIZE, COUNT = SUMMED = ("length", "size", "count")
SHARE, AS_IS = "share", "as it is"
CIRCUMFERENTIAL = "circumferential"
FLAGS = ("across_tension", CIRCUMFERENTIAL)
BELOW, FROM = "below", "from"
Terms = Mapping[str, float]


class Formula(Struct, frozen=True):
    """The least (`is_least`) or greatest of several sums of terms: c is the constant, others multiply what they name."""

    terms: tuple[Terms, ...]
    is_least: bool = True

    def value(self, given: Mapping[str, float]) -> float:
        """Its value, mm (or degrees)."""
        found = [sum(factor * (1.0 if name == "c" else given[name]) for name, factor in one.items()) for one in self.terms]
        return min(found) if self.is_least else max(found)

    @property
    def constant(self) -> float | None:
        """Its value where that depends on nothing; else None."""
        return self.value({}) if all(set(one) <= {"c"} for one in self.terms) else None

    @property
    def names(self) -> frozenset[str]:
        """What it depends on."""
        return frozenset(name for one in self.terms for name in one if name != "c")


class When(Struct, frozen=True, kw_only=True):
    """Where an item holds: a band of thickness (low < t <= high, or as `edge` says), a flag that is set, or one that is not."""

    low: float = 0.0
    high: float = math.inf
    edge: str = ""
    flag: str = ""
    without: str = ""

    def holds_thickness(self, t: float) -> bool:
        """Whether a thickness lies in the band."""
        above = t >= self.low if self.edge == FROM else t > self.low
        return above and (t < self.high if self.edge == BELOW else t <= self.high)


class Sum(Struct, frozen=True, kw_only=True):
    """Lengths, sizes or numbers added up in any window: at most so much; only what exceeds `over` counts (`inclusive`: what equals it too).

    `share` is the share of the whole weld that may be reached besides. A weld shorter than the window keeps the figure, or its share of it.
    """

    of: str
    window: float
    at_most: float
    short_weld: str = AS_IS
    over: Formula | None = None
    inclusive: bool = False
    share: float | None = None

    def allowed(self, weld_mm: float) -> float:
        """The most in a window on a weld of a length."""
        return self.at_most * weld_mm / self.window if self.short_weld == SHARE and weld_mm < self.window else self.at_most


class Item(Struct, frozen=True, kw_only=True):
    """One item of a set."""

    kinds: tuple[str, ...]
    rule: str
    certainty: str
    clause: str
    measure: str = ""
    limit: Formula | None = None
    sums: tuple[Sum, ...] = ()
    sum_certainty: str = ""
    when: When = When()

    @property
    def is_sure(self) -> bool:
        """True for a figure that is no memory."""
        return self.certainty == SURE

    @property
    def sums_are_sure(self) -> bool:
        """The same of its sums."""
        return (self.sum_certainty or self.certainty) == SURE


class AcceptanceSet(Struct, frozen=True, kw_only=True):
    """A set: id, title (the standard's own), how both toes at one place count, its items; `digest` names exactly this text of it."""

    id: str
    title: str
    overlap: str = "sum"
    items: tuple[Item, ...] = ()
    digest: str = ""

    @property
    def kinds(self) -> frozenset[str]:
        """The kinds it says something of."""
        return frozenset(kind for item in self.items for kind in item.kinds)


def set_digest(raw: object) -> str:
    """What names a set as it was read."""
    return digest(raw)


def set_faults(one: AcceptanceSet, known: Collection[str]) -> Iterator[Remark]:
    """What is wrong with a set, by the path of each fault in it; `known` are the kinds there are."""
    if not one.id or one.overlap not in ("sum", "union"):
        yield fault("set.head", "id", id=Figure(one.id[:40], "name"))
    for i, item in enumerate(one.items):
        for found in _item_faults(item, known):
            yield fault(found[0], f"items[{i}].{found[1]}", value=Figure(str(found[2])[:40], "name"))


def _item_faults(item: Item, known: Collection[str]) -> Iterator[tuple[str, str, object]]:
    for kind in item.kinds:
        if kind not in known:
            yield "set.kind", "kinds", kind
    if not item.kinds:
        yield "set.kind", "kinds", ""
    if item.rule not in RULES:
        yield "set.rule", "rule", item.rule
    if item.certainty not in CERTAINTIES or item.sum_certainty not in ("", *CERTAINTIES):
        yield "set.certainty", "certainty", item.certainty
    if item.rule in (LIMIT, AT_LEAST) and (item.measure not in MEASURES or item.limit is None or not item.limit.terms):
        yield "set.limit", "limit", item.measure
    for formula in (item.limit, *(one.over for one in item.sums)):
        for one in () if formula is None else formula.terms:
            for name, factor in one.items():
                if name not in (*VARIABLES, "c") or not math.isfinite(factor):
                    yield "set.limit", "limit", name
    if item.rule == SUM and not item.sums:
        yield "set.sum", "sums", ""
    for total in item.sums:
        if total.of not in SUMMED or total.window <= 0 or total.at_most < 0 or total.short_weld not in (SHARE, AS_IS):
            yield "set.sum", "sum", total.of
    if item.when.low >= item.when.high or item.when.edge not in ("", BELOW, FROM):
        yield "set.band", "when", item.when.low
    for flag in (item.when.flag, item.when.without):
        if flag and flag not in FLAGS:
            yield "set.flag", "when", flag
