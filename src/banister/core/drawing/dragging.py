"""Dragging a handle: from where the pointer is to the figure that brings the handle there."""

from __future__ import annotations

import math

from banister.core.drawing.section import handles_of
from banister.core.joint.edits import set_figure
from banister.core.joint.figures import FIGURES, JointFigure
from banister.core.joint.joint import Joint
from banister.core.remark import Remark

TRIALS, ROUNDS = 12, 4


def dragged_value(joint: Joint, key: str, x_mm: float, y_mm: float) -> float:
    """The value of a figure that brings its handle under the pointer, looked for among all that leave a possible joint."""
    figure = FIGURES[key]
    low, high = figure.window
    best = figure.of(joint)
    for _ in range(ROUNDS):
        step = (high - low) / TRIALS
        tried = [low + i * step for i in range(TRIALS + 1)]
        best = min(tried, key=lambda value: _miss(joint, figure, value, x_mm, y_mm))
        low, high = max(low, best - step), min(high, best + step)
    rounded = figure.clamped(round(best / figure.drag) * figure.drag)
    return rounded if math.isfinite(_miss(joint, figure, rounded, x_mm, y_mm)) else best


def _miss(joint: Joint, figure: JointFigure, value: float, x: float, y: float) -> float:
    """How far a handle is from the pointer, along the way it moves, with this value."""
    tried = set_figure(joint, figure.key, value)
    if isinstance(tried, Remark):
        return math.inf
    at = next((h.at for h in handles_of(tried) if h.id == figure.key), None)
    if at is None:
        return math.inf
    return abs(at[1] - y) if figure.upright else abs(at[0] - x)
