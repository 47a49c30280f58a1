"""Dragging a handle: from where the pointer is to the figure that brings the handle there."""

from __future__ import annotations

import math

from banister.core.drawing.section import handles_of
from banister.core.joint.edits import set_figure
from banister.core.joint.figures import FIGURES, JointFigure
from banister.core.joint.joint import Joint
from banister.core.remark import Remark

TRIALS, ROUNDS = 12, 4
STEPS, CLOSE_MM = 8, 0.01
"""A handle moves nearly in step with its figure: so many secants bring it this near, or the way is not that plain."""


def dragged_value(joint: Joint, key: str, x_mm: float, y_mm: float) -> float:
    """The value of a figure that brings its handle under the pointer, among all that leave a possible joint."""
    figure = FIGURES[key]
    best = _followed(joint, figure, x_mm, y_mm)
    if best is None:
        best = _sought(joint, figure, x_mm, y_mm)
    rounded = figure.clamped(round(best / figure.drag) * figure.drag)
    return best if _off(joint, figure, rounded, x_mm, y_mm) is None else rounded


def _followed(joint: Joint, figure: JointFigure, x: float, y: float) -> float | None:
    """By secants from the value of now; None where they lead to what cannot be."""
    low, high = figure.window
    before = figure.of(joint)
    value = before + figure.drag if before + figure.drag <= high else before - figure.drag
    was, off = (_off(joint, figure, v, x, y) for v in (before, value))
    for _ in range(STEPS):
        if off is None or was is None:
            return None
        if abs(off) <= CLOSE_MM:
            return value
        if off == was:
            return None
        before, was, value = value, off, min(max(value - off * (value - before) / (off - was), low), high)
        off = _off(joint, figure, value, x, y)
    return None


def _sought(joint: Joint, figure: JointFigure, x: float, y: float) -> float:
    """The nearest of all: where the pointer is beyond what can be."""
    low, high = figure.window
    best = figure.of(joint)

    def miss(value: float) -> float:
        off = _off(joint, figure, value, x, y)
        return math.inf if off is None else abs(off)

    for _ in range(ROUNDS):
        step = (high - low) / TRIALS
        best = min((low + i * step for i in range(TRIALS + 1)), key=miss)
        low, high = max(low, best - step), min(high, best + step)
    return best


def _off(joint: Joint, figure: JointFigure, value: float, x: float, y: float) -> float | None:
    """How far beyond the pointer a handle is, along the way it moves, with this value; None where it cannot be."""
    tried = set_figure(joint, figure.key, value)
    at = None if isinstance(tried, Remark) else next((h.at for h in handles_of(tried) if h.id == figure.key), None)
    if at is None:
        return None
    return at[1] - y if figure.upright else at[0] - x
