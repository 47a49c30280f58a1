"""Planning on the uneven joint: what a wider gap or another bevel does to every layer, with the plan's levels held.

The layer levels are common to all stations, bead areas follow the groove there; run-out goes with the inverse of area.
Beads are added or dropped only where a window forces it, exactly, by dynamic programming along the weld.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from banister.core.fitup.judged import normal
from banister.core.fitup.line import Line
from banister.core.fitup.places import course_of
from banister.core.fitup.readings import QUANTITIES, drawn, line_along
from banister.core.joint.fitting import FitUp
from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import Joint, edited
from banister.core.plan.plan import Pass, Plan

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

LEAST_STRETCH_MM = 60.0
CHANGE_COST, OFF_MIDDLE_PER_M, OUTSIDE_PER_100_MM = 1.0, 1.0, 10.0
TIGHT_CORES, WIDE_CORES, FACE_CORES = 0.6, 1.4, 0.75
"""Bounds a root rod bridges, in core diameters: gap at least and most, face at most (typical)."""


def run_out_ratio(joint: Joint, here: Joint, low_mm: float, high_mm: float) -> float:
    """Run-out of a layer between two levels at a station over that of the plan: the inverse of its areas."""
    planned, found = (groove_of(one.prep) for one in (joint, here))
    levels = np.array([low_mm, high_mm])
    return float(np.diff(planned.area_below(levels))[0] / np.diff(found.area_below(levels))[0])


def at_station(joint: Joint, fitup: FitUp, s_mm: float) -> Joint:
    """The joint as it was fitted at a place; what was not measured is the drawing's."""
    course, place = course_of(joint), np.array([s_mm])
    found = {}
    for quantity, (figure, _) in QUANTITIES.items():
        line = line_along(fitup, quantity, course)
        if line is not None:
            found[figure] = max(float(line.mean(place)[0]), 0.0) if quantity in ("gap", "face") else float(line.mean(place)[0])
    return edited(joint, **found)


@dataclass(frozen=True, slots=True)
class LayerAlong:
    """One layer of the front: its beads, and its run-out over the plan's at each place."""

    layer: int
    passes: tuple[Pass, ...]
    ratios: tuple[float, ...]


def along(joint: Joint, plan: Plan, fitup: FitUp, places: Sequence[float]) -> tuple[LayerAlong, ...]:
    """Run-out by layer and station, the levels of the plan's mean faces held."""
    stations = [at_station(joint, fitup, s) for s in places]
    rows, level = list[LayerAlong](), 0.0
    groove = groove_of(joint.prep)
    for layer, group in itertools.groupby((p for p in plan.passes if p.side == "front"), key=lambda p: p.layer):
        passes = tuple(group)
        below = float(groove.area_below(np.array([level]))[0])
        top = level_of(groove, below + sum(p.area_mm2 for p in passes))
        top = min(max(top, level + 0.2), joint.prep.welded_thickness_mm)
        rows.append(LayerAlong(layer, passes, tuple(run_out_ratio(joint, here, level, top) if top > level + 1e-6 else rows[-1].ratios[i]
                                                    for i, here in enumerate(stations))))  # fmt: skip
        level = top
    return tuple(rows)


def level_of(groove: Groove, area_mm2: float) -> float:
    """The height up to which a groove holds an area."""
    low, high = 0.0, float(groove.thickness_mm)
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if float(groove.area_below(np.array([middle]))[0]) < area_mm2 else (low, middle)
    return (low + high) / 2


def beads_along(areas_mm2: Sequence[float], pitch_mm: float, counts: Sequence[int], window_mm2: tuple[float, float],
                least_stretch_mm: float = LEAST_STRETCH_MM) -> tuple[tuple[int, ...], float]:  # fmt: skip
    """How many beads a layer takes at each station, and the cost: changes, beads off the middle of their window, and outside it.

    Exact, by dynamic programming over (beads, stations since the last change).
    """
    least = max(1, math.ceil(least_stretch_mm / pitch_mm - 1e-9))
    low, high = window_mm2
    middle, half = (low + high) / 2, (high - low) / 2
    cost = np.empty((len(areas_mm2), len(counts)))
    for i, area in enumerate(areas_mm2):
        for j, n in enumerate(counts):
            a = area / n
            outside = max(low - a, a - high, 0.0) > 1e-12
            cost[i, j] = pitch_mm / 1000 * OFF_MIDDLE_PER_M * ((a - middle) / half) ** 2 + outside * OUTSIDE_PER_100_MM * pitch_mm / 100
    best: dict[tuple[int, int], tuple[float, tuple[int, ...]]] = {(j, 1): (float(cost[0, j]), (j,)) for j in range(len(counts))}
    for i in range(1, len(areas_mm2)):
        following: dict[tuple[int, int], tuple[float, tuple[int, ...]]] = {}
        for (j, run), (spent, way) in best.items():
            stays = (j, min(run + 1, least))
            moves = [(stays, 0.0)] + ([((k, 1), CHANGE_COST) for k in range(len(counts)) if k != j] if run >= least else [])
            for state, price in moves:
                total = spent + price + float(cost[i, state[0]])
                if state not in following or total < following[state][0] - 1e-15:
                    following[state] = (total, (*way, state[0]))
        best = following
    ends = [found for (_, run), found in best.items() if run >= least or len(areas_mm2) < least]
    total, way = min(ends, key=lambda found: found[0])
    return tuple(counts[j] for j in way), total


@dataclass(frozen=True, slots=True)
class RootRisk:
    """The chance that the gap is too tight, or too wide, for a root rod; whether the face is heavy for it."""

    too_tight: float
    too_wide: float
    heavy_face: bool


def root_risk(gap_mm: float, sd_mm: float, face_mm: float, core_mm: float) -> RootRisk:
    """How a root rod fares at a station."""
    tight = normal((TIGHT_CORES * core_mm - gap_mm) / sd_mm)
    wide = 0.5 * math.erfc((WIDE_CORES * core_mm - gap_mm) / sd_mm / math.sqrt(2.0))
    return RootRisk(tight, wide, face_mm > FACE_CORES * core_mm)


def root_risks(joint: Joint, line: Line, faces: Line | None, core_mm: float, places: Floats) -> list[RootRisk]:
    """The risk of a root rod along the weld."""
    gaps, sds = line.mean(places), line.sd(places)
    face = faces.mean(places) if faces is not None else np.full(len(places), drawn(joint, "face"))
    return [root_risk(float(g), float(s), float(f), core_mm) for g, s, f in zip(gaps, sds, face, strict=True)]
