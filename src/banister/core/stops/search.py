"""The stop map: patterns that keep a distance, found exactly, tightened, and trimmed of stops that buy nothing.

Arc consistency and depth-first search over evenly spaced patterns, with a limit of nodes, then the greatest distance there
is for each order of marks found: exact for that order, and no proof that no other order keeps more. Seeded: the same answer every time.
"""

from __future__ import annotations

import itertools
import math
import random
from collections import Counter
from collections.abc import Iterator, Sequence

import numpy as np

from banister.core.joint.stopping import WANTED_MM
from banister.core.stops.patterns import Pattern, is_kept, patterns_of
from banister.core.stops.runs import GOAL_MM, LEAST_PIECE_MM, Forbidden, Run, checked
from banister.core.stops.tighten import Marks, Tight, least_apart, tightened
from banister.core.value import Struct, replace

MOST_NODES, SEED_NODES, SEEDS, BISECT_MM, TIGHTENED = 1200, 150, 20, 1.0, 8
AT_A_TIME = 2_000_000
"""Distances held in memory at once."""
HABITS = ("same end", "alternate", "half", "third")
"""How stops are laid by feel: all from one end, each from the other, half or a third of a rod shifted."""


class StopMap(Struct, frozen=True):
    """Marks of every run and the least distance between those of touching ones.

    `extra` is how many stops more than need be there are, `habits` what the usual ways come to, `limits` the marks
    (run, number) that let no more in their order.
    """

    runs: tuple[Run, ...]
    marks: Marks
    distance_mm: float
    extra: int
    habits: tuple[float, ...]
    limits: tuple[tuple[int, int], ...] = ()
    dropped: tuple[tuple[int, Forbidden], ...] = ()

    @property
    def stops(self) -> int:
        """Stops inside runs."""
        return sum(map(len, self.marks))


class _Patterns:
    """The patterns of all runs, and which of touching runs go together at a distance."""

    def __init__(self, runs: Sequence[Run], touching: Sequence[tuple[int, int]], lists: Sequence[Sequence[Pattern]]) -> None:
        self.lists, self.touching, self.count = lists, touching, len(runs)
        self.near = [[] for _ in runs]  # type: list[list[int]]
        for i, j in touching:
            self.near[i].append(j)
            self.near[j].append(i)
        self.apart = {(i, j): _distances(lists[i], lists[j]) for i, j in touching}

    def together(self, d: float) -> dict[tuple[int, int], np.ndarray]:
        """For every touching pair, which patterns of the second (columns) go with each of the first (rows)."""
        found = {}
        for (i, j), apart in self.apart.items():
            ok = apart >= d - 1e-9
            found[i, j], found[j, i] = ok, ok.T
        return found

    def solved(self, d: float, draw: random.Random | None = None, most: int = MOST_NODES) -> list[int] | None:
        """A pattern for every run that keeps a distance; None where none was found."""
        together = self.together(d)
        domains = [np.ones(len(own), dtype=bool) for own in self.lists]
        if not self._consistent(domains, together, list(together)):
            return None
        packed = {pair: np.packbits(ok, axis=1, bitorder="little") for pair, ok in together.items()}
        nodes = itertools.count()
        try:
            return self._searched([_number(np.packbits(own, bitorder="little")) for own in domains], packed, {}, nodes, draw, most)
        except TimeoutError:
            return None

    def _consistent(self, domains: list[np.ndarray], together: dict[tuple[int, int], np.ndarray], queue: list[tuple[int, int]]) -> bool:
        """Drop patterns that go with nothing left in a neighbour (AC-3)."""
        while queue:
            i, j = queue.pop()
            lost = domains[i] & ~together[i, j][:, domains[j]].any(axis=1)
            if lost.any():
                domains[i] &= ~lost
                if not domains[i].any():
                    return False
                queue += [(k, i) for k in self.near[i] if k != j]
        return True

    def _searched(self, domains: list[int], packed: dict[tuple[int, int], np.ndarray], chosen: dict[int, int], nodes: Iterator[int],
                  draw: random.Random | None, most: int) -> list[int] | None:  # fmt: skip
        """A pattern for every run by depth-first search, fewest left first; what goes together is held as bits."""
        if len(chosen) == self.count:
            return [chosen[i] for i in range(self.count)]
        if next(nodes) > most:
            raise TimeoutError
        i = min((i for i in range(self.count) if i not in chosen), key=lambda i: (domains[i].bit_count(), -len(self.near[i]), i))
        values = list(_set(domains[i]))
        if draw is not None:
            draw.shuffle(values)
        for p in values:
            narrowed = list(domains)
            narrowed[i] = 1 << p
            alive = True
            for j in self.near[i]:
                if j not in chosen:
                    narrowed[j] &= _number(packed[i, j][p])
                    alive = alive and bool(narrowed[j])
            if alive:
                found = self._searched(narrowed, packed, chosen | {i: p}, nodes, draw, most)
                if found is not None:
                    return found
        return None


def _distances(first: Sequence[Pattern], second: Sequence[Pattern]) -> np.ndarray:
    """Least distance between the marks of every pattern of one run and every pattern of another; infinite where one has none."""
    a, b = _padded(first, math.inf), _padded(second, -math.inf)
    rows = max(AT_A_TIME // max(b.size * a.shape[1], 1), 1)
    parts = [np.abs(a[i : i + rows, None, :, None] - b[None, :, None, :]).min(axis=(2, 3), initial=math.inf) for i in range(0, len(a), rows)]
    return np.concatenate(parts) if parts else np.empty((0, len(b)))


def _padded(patterns: Sequence[Pattern], beyond: float) -> np.ndarray:
    """Patterns as rows, the shorter ones filled with a place beyond all others."""
    found = np.full((len(patterns), max(map(len, patterns), default=0)), beyond)
    for row, marks in zip(found, patterns, strict=True):
        row[: len(marks)] = marks
    return found


def _number(packed: np.ndarray) -> int:
    """Packed truths as a number, the first truth the lowest bit."""
    return int.from_bytes(packed.tobytes(), "little")


def _set(bits: int) -> Iterator[int]:
    while bits:
        low = bits & -bits
        yield low.bit_length() - 1
        bits ^= low


def stop_map(runs: Sequence[Run], touching: Sequence[tuple[int, int]], extra: Sequence[int] | int | None = None, wanted_mm: float = WANTED_MM,
             goal_mm: float = GOAL_MM, least_mm: float = LEAST_PIECE_MM, seed: int = 1) -> StopMap:  # fmt: skip
    """The map of some runs. `extra` stops each where it is given; else none, and more only where the wanted distance asks for them."""
    checked(runs, least_mm)
    if extra is not None:
        return _with_extra(runs, touching, [extra] * len(runs) if isinstance(extra, int) else list(extra), least_mm, seed)
    plain = _with_extra(runs, touching, [0] * len(runs), least_mm, seed)
    if plain.distance_mm >= min(wanted_mm, goal_mm):
        return plain
    more = _with_extra(runs, touching, [0 if run.pinned is not None or run.rods == 1 else 1 for run in runs], least_mm, seed)
    return plain if more.distance_mm <= plain.distance_mm + 1e-6 else _trimmed(more, touching, min(wanted_mm, more.distance_mm), least_mm)


def _with_extra(runs: Sequence[Run], touching: Sequence[tuple[int, int]], extra: Sequence[int], least_mm: float, seed: int) -> StopMap:
    """The best map with so many extra stops at most in each run."""
    lists, dropped, eased = list[tuple[Pattern, ...]](), list[tuple[int, Forbidden]](), list[Run]()
    for i, run in enumerate(runs):
        found: tuple[Pattern, ...] = ()
        for more in range(extra[i] + 1):
            own, gone = patterns_of(run, more, least_mm)
            found += own
            if more == 0:
                dropped += [(i, f) for f in gone]
                eased.append(replace(run, forbidden=tuple(f for f in run.forbidden if f not in gone)))
        lists.append(tuple(dict.fromkeys(found)))
    patterns = _Patterns(runs, touching, lists)
    draw = random.Random(seed)
    kept_mm, chosen = _bisected(patterns, max(run.length_mm for run in runs))
    picked = [chosen]
    if chosen is not None:
        picked += [patterns.solved(draw.uniform(0.75, 1.0) * kept_mm, draw, most=SEED_NODES) for _ in range(SEEDS)]
    seeds = [tuple(lists[i][p] for i, p in enumerate(one)) for one in picked if one is not None]
    naive = [_habit(eased, habit, least_mm) for habit in HABITS]
    room = [len(run.pinned) if run.pinned is not None else run.rods - 1 + extra[i] for i, run in enumerate(runs)]
    seeds += [marks for marks in naive if marks is not None and all(len(own) <= most for own, most in zip(marks, room, strict=True))]
    tight = [tightened(eased, touching, marks, least_mm) for marks in _unlike_first(seeds, touching)[:TIGHTENED]]
    top = max(tight, key=lambda t: t.distance_mm, default=Tight(tuple(own[0] if own else () for own in lists), 0.0))
    habits = tuple(least_apart(marks, touching) if marks is not None else 0.0 for marks in naive)
    need = sum(run.rods - 1 if run.pinned is None else len(run.pinned) for run in runs)
    return StopMap(tuple(eased), top.marks, top.distance_mm, sum(map(len, top.marks)) - need, habits, top.limits, tuple(dropped))


def _unlike_first(seeds: Sequence[Marks], touching: Sequence[tuple[int, int]]) -> list[Marks]:
    """The furthest apart first, one of each number of stops before a second: those that lie worse on the grid may have more room between it."""
    found, ranks = sorted(dict.fromkeys(seeds), key=lambda marks: -least_apart(marks, touching)), Counter[tuple[int, ...]]()
    ranked = []
    for marks in found:
        counts = tuple(map(len, marks))
        ranked.append((ranks[counts], marks))
        ranks[counts] += 1
    return [marks for _, marks in sorted(ranked, key=lambda one: one[0])]


def _bisected(patterns: _Patterns, most: float) -> tuple[float, list[int] | None]:
    """The greatest distance found that patterns keep, and those that keep it."""
    low, high, best = 0.0, most, patterns.solved(0.0)
    while best is not None and high - low > BISECT_MM:
        middle = (low + high) / 2
        found = patterns.solved(middle)
        low, high, best = (middle, high, found) if found is not None else (low, middle, best)
    return low, best


def _habit(runs: Sequence[Run], habit: str, least_mm: float) -> Marks | None:
    """Marks as they are laid by feel; None where a rule forbids them."""
    marks = list[Pattern]()
    for i, run in enumerate(runs):
        if run.pinned is not None:
            marks.append(run.pinned)
            continue
        first = {"same end": 1.0, "alternate": 1.0, "half": (1.0, 0.5)[i % 2], "third": (1.0, 2 / 3, 1 / 3)[i % 3]}[habit] * run.run_out_mm
        own = list(np.arange(first, run.length_mm - 1e-6, run.run_out_mm))
        if habit == "alternate" and i % 2:
            own = sorted(run.length_mm - t for t in own)
        marks.append(tuple(run.start_mm + float(t) for t in own if least_mm <= t <= run.length_mm - least_mm))
    return tuple(marks) if all(is_kept(run, own, least_mm) for run, own in zip(runs, marks, strict=True)) else None


def _trimmed(found: StopMap, touching: Sequence[tuple[int, int]], wanted_mm: float, least_mm: float) -> StopMap:
    """The same distance with fewer stops: one run after the other without its extra stop, dearest first."""
    runs, marks = found.runs, list(found.marks)
    best = Tight(found.marks, found.distance_mm, found.limits)
    for i in sorted(range(len(runs)), key=lambda i: (-runs[i].run_out_mm, i)):
        if runs[i].pinned is not None or len(marks[i]) < runs[i].rods:
            continue
        for own in _nearest(runs[i], marks, i, touching, least_mm):
            tried = tightened(runs, touching, (*marks[:i], own, *marks[i + 1 :]), least_mm, wanted_mm + 1.0)
            if tried.distance_mm >= wanted_mm - 1e-6:
                marks, best = list(tried.marks), tried
                break
    need = sum(run.rods - 1 if run.pinned is None else len(run.pinned) for run in runs)
    return replace(found, marks=best.marks, distance_mm=best.distance_mm, limits=best.limits, extra=sum(map(len, best.marks)) - need)


def _nearest(run: Run, marks: Sequence[Pattern], i: int, touching: Sequence[tuple[int, int]], least_mm: float, most: int = 6) -> list[Pattern]:
    """Patterns without an extra stop, those first that lie furthest from the marks of touching runs."""
    others = [t for a, b in touching if i in (a, b) for t in marks[b if a == i else a]]
    own, _ = patterns_of(run, 0, least_mm)
    return sorted(own, key=lambda p: -min((abs(t - o) for t in p for o in others), default=math.inf))[:most]
