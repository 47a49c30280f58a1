"""Likely causes of what was seen, ranked by the job's own data: what speaks for and against each, and what is worth looking at next.

The shares and ratios are from trade experience, coarse on purpose, not fitted to data. It ranks causes and proves none: never
"the cause is". What is not known adds nothing.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence

from banister.core.plan.plan import Pass
from banister.core.value import Struct, field

ELSE = "else"
LEAST_BITS = 0.02
"""What would be expected to narrow it by less is not worth a look."""
TOLD_APART = 0.10
MOST_SAID = 0.90
"""No chance over this is printed as a figure."""
NAMED = 3


class CauseTable(Struct, frozen=True):
    """Evidence by its levels with how often each is seen at any place; ratios by cause, evidence and level; groups of kinds with the shares of their causes."""

    levels: Mapping[str, Mapping[str, float]]
    ratios: Mapping[str, Mapping[str, Mapping[str, float]]]
    shares: Mapping[str, Mapping[str, float]]
    kinds: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    """The kinds of each group."""
    cap: float = 10.0
    temper: float = 0.8

    def group_of(self, kind: str) -> str:
        """The group a kind belongs to; '' for none."""
        return next((group for group, kinds in self.kinds.items() if kind in kinds), "")


class Word(Struct, frozen=True):
    """One piece of evidence for or against a cause: what, at which level, by what factor."""

    evidence: str
    level: str
    factor: float


class Likely(Struct, frozen=True):
    """A cause with its chance, and what speaks for it and against it, strongest first."""

    cause: str
    chance: float
    speaks_for: tuple[Word, ...] = ()
    against: tuple[Word, ...] = ()


class Advice(Struct, frozen=True):
    """Causes with their chances, the likeliest first (`else` is something else); what is not known; the next thing worth looking at, '' for none."""

    likely: tuple[Likely, ...]
    unknown: tuple[str, ...]
    next_look: str = ""

    @property
    def alike(self) -> str:
        """Which of those named are nearly alike: `first` for the first and the second, `rest` where only later ones are, '' for none."""
        first = [one.chance for one in self.likely if one.cause != ELSE][:NAMED]
        near = [a - b < TOLD_APART for a, b in itertools.pairwise(first)]
        return "first" if near[:1] == [True] else "rest" if any(near) else ""


def ranked(table: CauseTable, shares: Mapping[str, float], seen: Mapping[str, str]) -> Advice:
    """The causes of a group by what is known: log odds are shares and tempered, capped ratios added up, over "something else"."""
    chances = _chances(table, shares, seen)
    unknown = tuple(one for one in table.levels if one not in seen and any(one in table.ratios.get(cause, {}) for cause in shares))
    likely = tuple(sorted((_likely(table, cause, chance, seen) for cause, chance in chances.items()), key=lambda one: -one.chance))
    return Advice(likely, unknown, _next_look(table, shares, seen, unknown))


def _chances(table: CauseTable, shares: Mapping[str, float], seen: Mapping[str, str]) -> dict[str, float]:
    odds = {cause: math.log(share) + sum(math.log(_factor(table, cause, one, level)) for one, level in seen.items()) for cause, share in shares.items()}
    rest = 1.0 - sum(shares.values())
    if rest > 0:
        odds[ELSE] = math.log(rest)
    top = max(odds.values())
    weights = {cause: math.exp(value - top) for cause, value in odds.items()}
    whole = sum(weights.values())
    return {cause: weight / whole for cause, weight in weights.items()}


def _factor(table: CauseTable, cause: str, evidence: str, level: str) -> float:
    """By what factor a level speaks for a cause, capped and tempered."""
    ratio = table.ratios.get(cause, {}).get(evidence, {}).get(level, 1.0)
    return float(min(max(ratio, 1.0 / table.cap), table.cap) ** table.temper)


def _likely(table: CauseTable, cause: str, chance: float, seen: Mapping[str, str]) -> Likely:
    words = [Word(one, level, _factor(table, cause, one, level)) for one, level in seen.items()]
    told = sorted((word for word in words if abs(word.factor - 1.0) > 1e-9), key=lambda word: -abs(math.log(word.factor)))
    return Likely(cause, chance, tuple(w for w in told if w.factor > 1), tuple(w for w in told if w.factor < 1))


def _next_look(table: CauseTable, shares: Mapping[str, float], seen: Mapping[str, str], unknown: Sequence[str]) -> str:
    """The unknown evidence with the largest expected fall of entropy, if that is worth a look."""
    now = _chances(table, shares, seen)
    falls = {one: _bits(now) - _expected_bits(table, shares, seen, one, now) for one in unknown}
    best = max(falls, key=lambda one: falls[one], default="")
    return best if best and falls[best] >= LEAST_BITS else ""


def _expected_bits(table: CauseTable, shares: Mapping[str, float], seen: Mapping[str, str], one: str, now: Mapping[str, float]) -> float:
    """The entropy that is expected once it is known: levels weighed by how often they are seen under what is believed now."""
    weights = {level: often * sum(chance * _factor(table, cause, one, level) for cause, chance in now.items()) for level, often in table.levels[one].items()}
    whole = sum(weights.values())
    return sum(weight / whole * _bits(_chances(table, shares, {**seen, one: level})) for level, weight in weights.items())


def _bits(chances: Mapping[str, float]) -> float:
    return -sum(p * math.log2(p) for p in chances.values() if p > 0)


# --- which pass -------------------------------------------------------------------------------
UT_SIGMA_MM = (2.0, 1.5)
"""How far off a place in the section may be by ultrasonics, across and through (typical)."""


def pass_shares(passes: Sequence[Pass], at_mm: tuple[float, float], sigma_mm: tuple[float, float] = UT_SIGMA_MM) -> dict[str, float]:
    """How likely a place in the section lies on the outline of each pass, by key: a normal doubt integrated along the outlines."""
    weights = {p.key: _along(p, at_mm, sigma_mm) for p in passes}
    whole = sum(weights.values())
    return {key: weight / whole for key, weight in weights.items()} if whole > 0 else {}


def _along(p: Pass, at: tuple[float, float], sigma: tuple[float, float]) -> float:
    total = 0.0
    for (xa, ya), (xb, yb) in zip(p.outline_mm, (*p.outline_mm[1:], p.outline_mm[0]), strict=True):
        length = math.hypot(xb - xa, yb - ya)
        pieces = max(math.ceil(length / (0.25 * min(sigma))), 1)
        for k in range(pieces):
            share = (k + 0.5) / pieces
            z = ((xa + share * (xb - xa) - at[0]) / sigma[0]) ** 2 + ((ya + share * (yb - ya) - at[1]) / sigma[1]) ** 2
            total += math.exp(-z / 2) * length / pieces
    return total
