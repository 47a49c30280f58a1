"""Trips to the oven: the fewest that serve every rod within its time out, then evened.

Go as late as can be for the first rod still unserved (earliest due); take those that may already be out, earliest due
first, up to what the quiver holds; repeat. Fewest by exchange: moving a trip later and swapping a later-due rod for an
earlier-due one never adds a trip (interval point cover, any textbook on greedy algorithms).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from banister.core.remark import Figure, Refused, outside

HALVINGS = 20
SLACK_S = 1e-6


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """A rod as it is burnt: from when to when, how long it may be out, and of which pass."""

    start_s: float
    end_s: float
    open_s: float
    key: str = ""


@dataclass(frozen=True, slots=True)
class Trip:
    """When somebody fetches rods, and which (numbers of the uses)."""

    at_s: float
    uses: tuple[int, ...]


def trips(uses: Sequence[Use], allowed_s: Sequence[tuple[float, float]], capacity: int | None = None) -> tuple[Trip, ...]:
    """The fewest trips; Refused names the first rod that none can serve."""
    due = [_due(use, allowed_s) for use in uses]
    for use, latest in zip(uses, due, strict=True):
        if latest is None:
            raise Refused(outside("trips.none", key=Figure(use.key, "name"), start=Figure(use.start_s, "clock"), most=Figure(use.open_s, "duration")))
    left = sorted(range(len(uses)), key=lambda i: (due[i], i))
    found = []
    while left:
        at = due[left[0]]
        assert at is not None
        may = [i for i in left if uses[i].end_s - uses[i].open_s <= at + SLACK_S]
        taken = may[: capacity or len(may)]
        found.append(Trip(at, tuple(sorted(taken, key=lambda i: uses[i].start_s))))
        left = [i for i in left if i not in taken]
    return tuple(sorted(found, key=lambda trip: trip.at_s))


def _due(use: Use, allowed_s: Sequence[tuple[float, float]]) -> float | None:
    """The latest allowed moment to fetch a rod; None where there is none."""
    earliest, found = use.end_s - use.open_s, None
    for low, high in allowed_s:
        at = min(high, use.start_s)
        if at >= max(low, earliest) - SLACK_S and low <= use.start_s + SLACK_S:
            found = at if found is None else max(found, at)
    return found


def evened(uses: Sequence[Use], allowed_s: Sequence[tuple[float, float]], capacity: int | None = None) -> tuple[tuple[Trip, ...], float]:
    """As few trips, with all times out scaled down together as far as that allows; the longest time out, s."""
    best = trips(uses, allowed_s, capacity)
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        try:
            tried = trips([replace(use, open_s=middle * use.open_s) for use in uses], allowed_s, capacity)
        except Refused:
            low = middle
            continue
        if len(tried) > len(best):
            low = middle
        else:
            high, best = middle, tried
    return best, longest_out_s(uses, best)


def longest_out_s(uses: Sequence[Use], found: Sequence[Trip]) -> float:
    """The longest any rod is out."""
    return max((uses[i].end_s - trip.at_s for trip in found for i in trip.uses), default=0.0)
