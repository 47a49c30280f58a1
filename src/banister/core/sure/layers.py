"""The layers of a plan as they follow the groove: areas at the plan's levels for any draw of gap, face and bevels.

Areas are taken straight in each of them (exact for the gap, within a per cent for the rest over their spread), so that a
thousand variants are one product.
"""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited, field_of
from banister.core.plan.inputs import inputs_of as plan_inputs
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import Side, sides_of
from banister.core.sure.inputs import Input, geometry_of
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]


HEIGHTS = 801
Layers = tuple[tuple["Side", tuple["LayerLevels", ...]], ...]


class LayerLevels(Struct, frozen=True):
    """One layer of a side: its passes, the levels it lies between, the metal above the groove it carries."""

    passes: tuple[Pass, ...]
    low_mm: float
    high_mm: float
    crown_mm2: float


def layers_of(joint: Joint, plan: Plan) -> Layers:
    """The layers of every side, in the order they are welded on it."""
    found = []
    for side in sides_of(plan_inputs(joint)):
        rows, level, top = list[LayerLevels](), 0.0, float(side.groove.thickness_mm)
        heights = np.linspace(0.0, top, HEIGHTS)
        filled = side.groove.area_below(heights)
        groups = [tuple(g) for _, g in itertools.groupby((p for p in plan.passes if p.side == side.name), key=lambda p: p.layer)]
        for n, passes in enumerate(groups):
            area, below = sum(p.area_mm2 for p in passes), float(side.groove.area_below(np.array([level]))[0])
            high = top if n == len(groups) - 1 else max(float(np.interp(below + area, filled, heights)), level)
            inside = float(side.groove.area_below(np.array([high]))[0]) - below
            rows.append(LayerLevels(passes, level, high, area - inside))
            level = high
        found.append((side, tuple(rows)))
    return tuple(found)


def areas_along(joint: Joint, layers: Layers, inputs: tuple[Input, ...], draws: Floats) -> Floats:
    """Area of every layer (mm2) in every draw, shape (draws, layers), the layers of all sides one after the other."""
    drawn = np.array([_drawn_value(joint, one) for one in inputs])
    base = np.concatenate([[sum(p.area_mm2 for p in row.passes) for row in rows] for _, rows in layers])
    slopes = np.array([_slope(joint, layers, inputs, k, drawn) for k in range(len(inputs))])
    return np.asarray(np.maximum(base + (draws - drawn) @ slopes, 0.1 * base))


def _drawn_value(joint: Joint, one: Input) -> float:
    """What the plan was made for: the figure of the drawing, 1 for a factor."""
    names = geometry_of((one,), np.array([0.0]))
    return float(field_of(joint, next(iter(names)))) if names else 1.0


def _slope(joint: Joint, layers: Layers, inputs: tuple[Input, ...], k: int, drawn: Floats) -> Floats:
    """How much every layer grows with one input: the difference of a spread up and a spread down."""
    count = sum(len(rows) for _, rows in layers)
    if not geometry_of((inputs[k],), drawn[k : k + 1]):
        return np.zeros(count)
    ends = []
    for sign in (-1.0, 1.0):
        value = max(drawn[k] + sign * inputs[k].sd, 0.0)
        changed = edited(joint, **geometry_of((inputs[k],), np.array([value])))
        if not joint_faults(changed):
            ends.append((value, _areas(changed, layers)))
    if len(ends) < 2:
        ends.append((float(drawn[k]), _areas(joint, layers)))
    (a, low), (b, high) = ends[0], ends[-1]
    return np.zeros(count) if abs(b - a) < 1e-9 else np.asarray((high - low) / (b - a))


def _areas(joint: Joint, layers: Layers) -> Floats:
    """Areas at the plan's levels in the groove as it is now; what stands above the groove grows with its width."""
    sides = {side.name: side for side in sides_of(plan_inputs(joint))}
    found = []
    for planned, rows in layers:
        groove = sides[planned.name].groove
        top = float(groove.thickness_mm)
        wider = float(groove.top_width_mm) / max(float(planned.groove.top_width_mm), 0.1)
        below, to = (groove.area_below(np.minimum(np.array(ends), top)) for ends in ([r.low_mm for r in rows], [r.high_mm for r in rows]))
        found.append(to - below + wider * np.array([r.crown_mm2 for r in rows]))
    return np.concatenate(found)
