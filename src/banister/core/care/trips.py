"""Trips to the oven: the fewest that serve every rod within its time out, then evened.

Go as late as can be for the first rod still unserved (earliest due); take those that may already be out, earliest due
first, up to what the quiver holds; repeat. Fewest by exchange: moving a trip later and swapping a later-due rod for an
earlier-due one never adds a trip (interval point cover, any textbook on greedy algorithms).
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections import deque
from collections.abc import Sequence
from heapq import heappop, heappush
from itertools import accumulate

from banister.core.remark import Figure, Refused, outside
from banister.core.value import Struct

HALVINGS = 20
SLACK_S = 1e-6


class Use(Struct, frozen=True, kw_only=True):
    """A rod as it is burnt: from when to when, how long it may be out, and of which pass."""

    start_s: float
    end_s: float
    open_s: float
    key: str = ""


class Trip(Struct, frozen=True):
    """When somebody fetches rods, and which (numbers of the uses)."""

    at_s: float
    uses: tuple[int, ...]


def trips(uses: Sequence[Use], allowed_s: Sequence[tuple[float, float]], capacity: int | None = None) -> tuple[Trip, ...]:
    """The fewest trips; Refused names the first rod that none can serve."""
    latest = _latest_s(uses, allowed_s)
    for use, at in zip(uses, latest, strict=True):
        if at < use.end_s - use.open_s - SLACK_S:
            raise Refused(outside("trips.none", key=Figure(use.key, "name"), start=Figure(use.start_s, "clock"), most=Figure(use.open_s, "duration")))
    return _fewest(uses, latest, [use.end_s - use.open_s for use in uses], capacity)


def _latest_s(uses: Sequence[Use], allowed_s: Sequence[tuple[float, float]]) -> list[float]:
    """The latest allowed moment before each rod is burnt; -inf where there is none."""
    begins = sorted(allowed_s)
    ends = list(accumulate((high for _, high in begins), max))
    found = []
    for use in uses:
        n = bisect_right(begins, (use.start_s + SLACK_S, math.inf))
        found.append(min(ends[n - 1], use.start_s) if n else -math.inf)
    return found


def _fewest(uses: Sequence[Use], latest_s: Sequence[float], earliest_s: Sequence[float], capacity: int | None) -> tuple[Trip, ...]:
    """The fewest trips for rods that can each be served between two moments."""
    coming = deque(sorted((at, i) for i, at in enumerate(earliest_s)))
    may, served, found = list[tuple[float, int]](), set[int](), list[Trip]()
    for first in sorted(range(len(uses)), key=lambda i: (latest_s[i], i)):
        if first in served:
            continue
        at, taken = latest_s[first], [first]
        served.add(first)
        while coming and coming[0][0] <= at + SLACK_S:
            _, i = coming.popleft()
            heappush(may, (latest_s[i], i))
        while may and (capacity is None or len(taken) < capacity):
            _, i = heappop(may)
            if i not in served:
                served.add(i)
                taken.append(i)
        found.append(Trip(at, tuple(sorted(taken, key=lambda i: uses[i].start_s))))
    return tuple(sorted(found, key=lambda trip: trip.at_s))


def evened(uses: Sequence[Use], allowed_s: Sequence[tuple[float, float]], capacity: int | None = None) -> tuple[tuple[Trip, ...], float]:
    """As few trips, with all times out scaled down together as far as that allows; the longest time out, s."""
    best, latest = trips(uses, allowed_s, capacity), _latest_s(uses, allowed_s)
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        earliest = [use.end_s - middle * use.open_s for use in uses]
        can_be = all(at >= begins - SLACK_S for at, begins in zip(latest, earliest, strict=True))
        tried = _fewest(uses, latest, earliest, capacity) if can_be else ()
        if not can_be or len(tried) > len(best):
            low = middle
        else:
            high, best = middle, tried
    return best, longest_out_s(uses, best)


def longest_out_s(uses: Sequence[Use], found: Sequence[Trip]) -> float:
    """The longest any rod is out."""
    return max((uses[i].end_s - trip.at_s for trip in found for i in trip.uses), default=0.0)
