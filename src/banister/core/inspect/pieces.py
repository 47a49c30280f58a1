"""Test pieces cut from a welded plate or pipe: clear of stops and tacks where that can be, exactly the best on its grid.

A zone has a weight for what a strip would take of it; one that a rule wants examined lies whole in a piece.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

STEP_MM, KERF_MM, DISCARD_MM, SHIFT_DEG = 0.5, 3.0, 25.0, 10.0
"""Grid, width of a cut, what is thrown away at both ends, and how far a piece of a pipe may be moved (typical)."""
STOP_MM, TACK_MM = 10.0, 10.0
STOP_WEIGHT, TACK_WEIGHT, SEEN_WEIGHT = 1.0, 2.0, 3.0
"""So far about a stop or a tack no strip should be taken, and how much each and something seen counts (typical)."""
STOP, TACK, SEEN = "stop", "tack", "seen"
AS_LISTED, ANY = "as listed", "any"
MOST_ORDERS = 24
NEVER = math.inf


class Zone(Struct, frozen=True):
    """A stretch (mm) with its weight; `wanted`: it is to lie whole in a piece; `why` is what it is, one of STOP, TACK, SEEN."""

    from_mm: float
    to_mm: float
    weight: float = 0.0
    wanted: bool = False
    why: str = ""


class CutPlan(Struct, frozen=True):
    """Where the pieces begin (mm, in the order they are cut), which of the asked pieces each is, and the weighted overlap."""

    starts_mm: tuple[float, ...]
    order: tuple[int, ...]
    cost: float


class Short(Struct, frozen=True):
    """They do not fit: what is short, mm (nought where only a zone that is wanted fits no piece)."""

    by_mm: float


class Cut(Struct, frozen=True):
    """A piece as it is cut: its number from the datum on, what it is, from where and how wide, mm."""

    number: int
    piece: str
    from_mm: float
    width_mm: float


def cuts_of(found: CutPlan, pieces: Sequence[str], widths_mm: Sequence[float]) -> tuple[Cut, ...]:
    """The pieces of a cut plan in the order they are cut."""
    return tuple(Cut(n, pieces[i], start, widths_mm[i]) for n, (start, i) in enumerate(zip(found.starts_mm, found.order, strict=True), 1))


def kept_clear(marks_mm: Iterable[float], tacks_mm: Iterable[tuple[float, float]], seen_mm: Iterable[tuple[float, float]]) -> tuple[Zone, ...]:
    """What no strip should be taken of: the stops of every pass, the tacks, each with some room about it, and what was seen."""
    stops = (Zone(mark - STOP_MM, mark + STOP_MM, STOP_WEIGHT, why=STOP) for mark in marks_mm)
    tacks = (Zone(a - TACK_MM, b + TACK_MM, TACK_WEIGHT, why=TACK) for a, b in tacks_mm)
    return (*tacks, *stops, *(Zone(a, b, SEEN_WEIGHT, why=SEEN) for a, b in seen_mm if b > a))


def cut_plan(widths_mm: Sequence[float], length_mm: float, zones: Sequence[Zone] = (), discard_mm: float = DISCARD_MM, kerf_mm: float = KERF_MM,
             order: str = AS_LISTED, step_mm: float = STEP_MM) -> CutPlan | Short:  # fmt: skip
    """The pieces of a plate with the least weighted overlap, then the smallest starts; in any order where that is free."""
    needed = sum(widths_mm) + kerf_mm * (len(widths_mm) - 1) + 2 * discard_mm
    if needed > length_mm + 1e-9:
        return Short(needed - length_mm)
    orders = dict.fromkeys(itertools.permutations(range(len(widths_mm)))) if order == ANY else {tuple(range(len(widths_mm))): None}
    distinct = {tuple(widths_mm[i] for i in one): one for one in orders}
    tried = list(distinct.values()) if len(distinct) <= MOST_ORDERS else [tuple(range(len(widths_mm)))]
    found = [CutPlan(laid[0], one, laid[1]) for one in tried if (laid := _laid([widths_mm[i] for i in one], length_mm, zones, discard_mm, kerf_mm, step_mm))]
    return min(found, key=lambda plan: (round(plan.cost, 9), plan.starts_mm)) if found else Short(0.0)


def _laid(widths: Sequence[float], length: float, zones: Sequence[Zone], discard: float, kerf: float, step: float) -> tuple[tuple[float, ...], float] | None:
    """Places of pieces in this order: by a dynamic programme over where each ends and which wanted zones are held."""
    n = math.floor((length - 2 * discard) / step + 1e-9)
    ends: Floats = discard + step * np.arange(n + 1, dtype=np.float64)
    cost_to = _weights(ends, zones)
    wanted = [zone for zone in zones if zone.wanted]
    masks = 1 << len(wanted)
    best = np.full((masks, n + 1), NEVER)
    best[0, 0] = 0.0
    came: list[NDArray[np.int64]] = []
    for i, width in enumerate(widths):
        gap = 0.0 if i == 0 else kerf
        reach = np.minimum.accumulate(best, axis=1) if i else np.repeat(best[:, :1], n + 1, axis=1)
        place = _where_least(reach) if i else np.zeros((masks, n + 1), dtype=np.int64)
        cells, back = math.ceil(width / step - 1e-9), math.ceil((width + gap) / step - 1e-9)
        now, source = np.full((masks, n + 1), NEVER), np.zeros((masks, n + 1), dtype=np.int64)
        end = np.arange(max(cells, back), n + 1)
        own = cost_to[end] - cost_to[end - cells]
        held = np.zeros_like(end)
        for j, zone in enumerate(wanted):
            held |= ((ends[end] - width <= zone.from_mm + 1e-9) & (zone.to_mm <= ends[end] + 1e-9)).astype(np.int64) << j
        for mask in range(masks):
            value = reach[mask, end - back] + own
            better = value < now[mask | held, end] - 1e-12
            to = (mask | held)[better], end[better]
            now[to], source[to] = value[better], mask * (n + 1) + place[mask, end - back][better]
        best = now
        came.append(source)
    full = masks - 1
    if not np.isfinite(best[full]).any():
        return None
    at, mask = int(np.argmin(np.round(best[full], 9))), full
    cost, found = float(best[full, at]), list[float]()
    for i in reversed(range(len(widths))):
        found.append(float(ends[at]) - widths[i])
        mask, at = divmod(int(came[i][mask, at]), n + 1)
    return tuple(reversed(found)), cost


def _where_least(least: Floats) -> NDArray[np.int64]:
    """Where each least so far, along the rows, was met first."""
    found = np.zeros(least.shape, dtype=np.int64)
    found[:, 1:] = np.where(least[:, 1:] < least[:, :-1], np.arange(1, least.shape[1]), 0)
    return np.maximum.accumulate(found, axis=1)


def _weights(ends: Floats, zones: Sequence[Zone]) -> Floats:
    """The weight of all zones left of places."""
    total = np.zeros_like(ends)
    for zone in zones:
        total += zone.weight * np.clip(ends - zone.from_mm, 0.0, zone.to_mm - zone.from_mm)
    return total


def round_pipe(
    widths_mm: Sequence[float], angles_deg: Sequence[float], circumference_mm: float, zones: Sequence[Zone] = (), kerf_mm: float = KERF_MM,
) -> CutPlan | Short:  # fmt: skip
    """Pieces about the rule's angles, each moved at most ten degrees to the least overlap, the nearest first; pieces may not meet."""
    starts, cost, taken = list[float](), 0.0, list[tuple[float, float]]()
    for width, angle in zip(widths_mm, angles_deg, strict=True):
        tried: list[tuple[float, float, float]] = []
        for shift in np.arange(-SHIFT_DEG, SHIFT_DEG + 0.5, 0.5):
            begin = (angle + shift) / 360.0 * circumference_mm - width / 2
            if all(_apart(begin, width, a, b, circumference_mm) >= kerf_mm - 1e-9 for a, b in taken):
                tried.append((round(_overlap(begin, width, zones, circumference_mm), 6), abs(float(shift)), begin))
        if not tried:
            return Short(sum(widths_mm) + kerf_mm * len(widths_mm) - circumference_mm if sum(widths_mm) > circumference_mm else 0.0)
        overlap, _, begin = min(tried)
        cost += overlap
        taken.append((begin, width))
        starts.append(begin % circumference_mm)
    return CutPlan(tuple(starts), tuple(range(len(starts))), cost)


def _apart(a: float, width_a: float, b: float, width_b: float, around: float) -> float:
    ahead, behind = (b - a) % around - width_a, (a - b) % around - width_b
    return min(ahead, behind)


def _overlap(begin: float, width: float, zones: Sequence[Zone], around: float) -> float:
    turns = (-around, 0.0, around)
    return sum(zone.weight * max(min(begin + width, zone.to_mm + k) - max(begin, zone.from_mm + k), 0.0) for zone in zones for k in turns)
