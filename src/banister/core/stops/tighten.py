"""For the order of marks found, the greatest distance there is: a system of difference constraints.

t_v - t_u <= w for the pieces of each run, and t_v - t_u >= d between neighbouring marks of touching runs; Bellman-Ford
tells whether a d can be kept (Cormen et al., single-source shortest paths). Where it cannot, a negative cycle says what d
it lets at most, which is tried next: the first d that can be kept is the greatest (Newton's way to the least ratio of a
cycle), and the last cycle names what limits it.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence

import numpy as np

from banister.core.stops.runs import Run
from banister.core.value import Struct

CLOSE_MM = 0.02
SLACK = 1e-7
Marks = tuple[tuple[float, ...], ...]
"""Marks of every run, from its start."""


class Tight(Struct, frozen=True):
    """Marks with the distance they keep, and the marks (run, number from 1) of the cycle that lets no more."""

    marks: Marks
    distance_mm: float
    limits: tuple[tuple[int, int], ...] = ()


class _System:
    """t_v <= t_u + w over all marks, node 0 the datum of every run."""

    def __init__(self, count: int) -> None:
        self.count = count
        self.u, self.v, self.w, self.by_d = list[int](), list[int](), list[float](), list[float]()

    def most(self, u: int, v: int, w: float, by_d: float = 0.0) -> None:
        """t_v - t_u <= w + by_d * d."""
        self.u.append(u)
        self.v.append(v)
        self.w.append(w)
        self.by_d.append(by_d)

    def frozen(self) -> None:
        """All constraints are there: sort them by where they lead."""
        order = np.argsort(self.v, kind="stable")
        self._u, self._v = np.array(self.u)[order], np.array(self.v)[order]
        self._w, self._d = np.array(self.w)[order], np.array(self.by_d)[order]
        self._heads, self._starts, self._each = np.unique(self._v, return_index=True, return_counts=True)

    def solved(self, d: float) -> tuple[np.ndarray | None, list[int]]:
        """Latest places, or None with the constraints of a negative cycle."""
        w = self._w + self._d * d
        at, before = np.full(self.count, np.inf), np.full(self.count, -1)
        at[0] = 0.0
        for _ in range(self.count + 1):
            reach = at[self._u] + w
            best = np.minimum.reduceat(reach, self._starts)
            moved = best < at[self._heads] - SLACK
            if not moved.any():
                return at, []
            at[self._heads[moved]] = best[moved]
            hit = np.nonzero((reach <= at[self._v] + 1e-12) & np.repeat(moved, self._each))[0]
            before[self._v[hit]] = hit
            if at[0] < -SLACK:
                break
        return None, self._cycle(before, int(self._heads[np.nonzero(moved)[0][0]]))

    def _cycle(self, before: np.ndarray, node: int) -> list[int]:
        """The constraints of the cycle that is reached from a node by going back; none where the way ends."""
        found, seen = list[int](), dict[int, int]()
        while node not in seen:
            if before[node] < 0:
                return []
            seen[node] = len(found)
            found.append(int(before[node]))
            node = int(self._u[found[-1]])
        return found[seen[node] :]

    def lets(self, cycle: Sequence[int]) -> float:
        """The greatest d a cycle lets; -inf where it lets none, or there is no cycle."""
        by_d = float(self._d[cycle].sum()) if cycle else 0.0
        return float(self._w[cycle].sum()) / -by_d if by_d < 0 else -float("inf")

    def nodes(self, cycle: Sequence[int]) -> list[int]:
        """The nodes of a cycle, the datum left out."""
        return [int(self._v[c]) for c in cycle if self._v[c]]


def tightened(runs: Sequence[Run], touching: Sequence[tuple[int, int]], marks: Marks, least_mm: float, most_mm: float = float("inf")) -> Tight:
    """The same order of marks, as far apart as they can be; no more than `most_mm` is sought."""
    names, start = [(-1, 0)], dict[tuple[int, int], int]()
    for i, own in enumerate(marks):
        for n in range(len(own)):
            start[i, n] = len(names)
            names.append((i, n + 1))
    if len(names) == 1:
        return Tight(marks, float("inf"))
    system = _System(len(names))
    for i, run in enumerate(runs):
        _pieces(system, run, marks[i], [start[i, n] for n in range(len(marks[i]))], least_mm)
    for i, j in touching:
        _apart(system, marks, start, i, j)
    system.frozen()
    low, high = least_apart(marks, touching), min(most_mm, max((run.length_mm for run in runs), default=0.0))
    low = 0.0 if low > high else low
    if not any(system.by_d):
        found, _ = system.solved(0.0)
        return Tight(_middle(system, 0.0, marks, start) if found is not None else marks, high)
    d, cycle = _greatest(system, low, high)
    placed = _middle(system, d, marks, start)
    return Tight(placed, least_apart(placed, touching), tuple(names[node] for node in system.nodes(cycle)))


def _greatest(system: _System, low: float, high: float) -> tuple[float, list[int]]:
    """The greatest d that can be kept, and the cycle that lets no more; where no cycle is told, halving comes within CLOSE_MM of it."""
    tried, cycle = high, list[int]()
    while high - low > CLOSE_MM:
        found, loop = system.solved(tried)
        if found is None:
            high, cycle, lets = tried, loop or cycle, system.lets(loop)
            tried = lets if low <= lets < high else (low + high) / 2
        elif tried in (high, system.lets(cycle)):
            return tried, cycle
        else:
            low, tried = tried, (tried + high) / 2
    return low, cycle


def _pieces(system: _System, run: Run, own: Sequence[float], nodes: Sequence[int], least_mm: float) -> None:
    """Every piece at least so long and no longer than a rod; each mark in the free interval it lies in."""
    pinned = set() if run.pinned is None else set(range(len(own)))
    chain = [0, *nodes]
    for k, (a, b) in enumerate(itertools.pairwise(chain)):
        if k in pinned:
            system.most(0, b, own[k])
            system.most(b, 0, -own[k])
            continue
        begins = 0.0 if k else run.start_mm
        system.most(a, b, begins + run.run_out_mm)
        system.most(b, a, -begins - least_mm)
    if nodes and run.pinned is None:
        last = chain[-1]
        system.most(0, last, run.end_mm - least_mm)
        system.most(last, 0, -(run.end_mm - run.run_out_mm))
        for t, node in zip(own, nodes, strict=True):
            low = max((f.to_s for f in run.forbidden if f.to_s <= t + 1e-6), default=None)
            high = min((f.from_s for f in run.forbidden if f.from_s >= t - 1e-6), default=None)
            if low is not None:
                system.most(node, 0, -low)
            if high is not None:
                system.most(0, node, high)


def _apart(system: _System, marks: Marks, start: Mapping[tuple[int, int], int], i: int, j: int) -> None:
    """Neighbouring marks of two touching runs lie at least d apart, in the order they have."""
    both = sorted([(t, (i, n)) for n, t in enumerate(marks[i])] + [(t, (j, n)) for n, t in enumerate(marks[j])])
    for (_, a), (_, b) in itertools.pairwise(both):
        if a[0] != b[0]:
            system.most(start[b], start[a], 0.0, -1.0)


def _middle(system: _System, d: float, marks: Marks, start: Mapping[tuple[int, int], int]) -> Marks:
    """The mean of the latest and the earliest places that keep d."""
    latest, _ = system.solved(d)
    turned = _System(system.count)
    turned.u, turned.v, turned.w, turned.by_d = system.v, system.u, system.w, system.by_d
    turned.frozen()
    earliest, _ = turned.solved(d)
    if latest is None or earliest is None:
        return marks
    return tuple(tuple(float(latest[start[i, n]] - earliest[start[i, n]]) / 2 for n in range(len(own))) for i, own in enumerate(marks))


def least_apart(marks: Marks, touching: Sequence[tuple[int, int]]) -> float:
    """The least distance between marks of touching runs; infinite where none face one another."""
    found = [abs(a - b) for i, j in touching for a in marks[i] for b in marks[j]]
    return min(found, default=float("inf"))
