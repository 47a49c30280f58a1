"""Planning on the uneven joint: what a wider gap or another bevel does to every layer, with the plan's levels held.

The layer levels are common to all stations, bead areas follow the groove there; run-out goes with the inverse of area.
Beads are added or dropped only where a window forces it, exactly, by dynamic programming along the weld.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
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
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

LEAST_STRETCH_MM = 60.0
LEVEL_PARTS, LEVEL_ROUNDS = 64, 5
CHANGE_COST, OFF_MIDDLE_PER_M, OUTSIDE_PER_100_MM = 1.0, 1.0, 10.0
TIGHT_CORES, WIDE_CORES, FACE_CORES = 0.6, 1.4, 0.75
"""Bounds a root rod bridges, in core diameters: gap at least and most, face at most (typical)."""


def run_out_ratios(joint: Joint, here: Joint, levels_mm: Sequence[float]) -> Floats:
    """Run-out of the layers between levels, from the lowest, at a station over that of the plan: the inverse of their areas; 1 where there is none."""
    return _ratios(_between(joint, levels_mm), _between(here, levels_mm))


def _between(joint: Joint, levels_mm: Sequence[float]) -> Floats:
    """Areas of a joint's groove between levels, mm2."""
    return np.diff(groove_of(joint.prep).area_below(np.array(levels_mm)))


def _ratios(planned: Floats, found: Floats) -> Floats:
    return np.divide(planned, found, out=np.ones_like(planned), where=found > 0)


def at_station(joint: Joint, fitup: FitUp, s_mm: float) -> Joint:
    """The joint as it was fitted at a place; what was not measured is the drawing's."""
    return at_stations(joint, fitup, (s_mm,))[0]


def at_stations(joint: Joint, fitup: FitUp, places: Sequence[float]) -> list[Joint]:
    """The joint as it was fitted at several places."""
    course, found = course_of(joint), dict[str, list[float]]()
    for quantity, (figure, _) in QUANTITIES.items():
        line = line_along(fitup, quantity, course)
        if line is not None:
            means = line.mean(np.array(places, dtype=np.float64))
            found[figure] = (np.maximum(means, 0.0) if quantity in ("gap", "face") else means).tolist()
    return [edited(joint, **{figure: values[i] for figure, values in found.items()}) for i in range(len(places))]


class LayerAlong(Struct, frozen=True):
    """One layer of the front: its beads, and its run-out over the plan's at each place."""

    layer: int
    passes: tuple[Pass, ...]
    ratios: tuple[float, ...]


def along(joint: Joint, plan: Plan, fitup: FitUp, places: Sequence[float]) -> tuple[LayerAlong, ...]:
    """Run-out by layer and station, the levels of the plan's mean faces held."""
    groove, levels, layers = groove_of(joint.prep), [0.0], list[tuple[int, tuple[Pass, ...]]]()
    for layer, group in itertools.groupby((p for p in plan.passes if p.side == "front"), key=lambda p: p.layer):
        layers.append((layer, tuple(group)))
        below = float(groove.area_below(np.array([levels[-1]]))[0])
        top = level_of(groove, below + sum(p.area_mm2 for p in layers[-1][1]))
        levels.append(min(max(top, levels[-1] + 0.2), joint.prep.welded_thickness_mm))
    planned = _between(joint, levels)
    ratios = np.array([_ratios(planned, _between(here, levels)) for here in at_stations(joint, fitup, places)]).reshape(len(places), len(layers))
    for i in range(1, len(layers)):
        if levels[i + 1] <= levels[i] + 1e-6:  # nothing is left above the layer before: it goes as that one
            ratios[:, i] = ratios[:, i - 1]
    return tuple(LayerAlong(layer, passes, tuple(ratios[:, i].tolist())) for i, (layer, passes) in enumerate(layers))


def level_of(groove: Groove, area_mm2: float) -> float:
    """The height up to which a groove holds an area."""
    low, high = 0.0, float(groove.thickness_mm)
    for _ in range(LEVEL_ROUNDS):
        heights = np.linspace(low, high, LEVEL_PARTS + 1)
        i = int(np.clip(np.searchsorted(groove.area_below(heights), area_mm2), 1, LEVEL_PARTS))
        low, high = float(heights[i - 1]), float(heights[i])
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


class RootRisk(Struct, frozen=True):
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
