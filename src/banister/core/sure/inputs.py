"""What makes a plan uncertain, and draws of it: gap, face and bevels as far as they are known, the hand, the bead, the deposit."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from banister.core.fitup.places import course_of
from banister.core.fitup.readings import QUANTITIES, drawn, line_along
from banister.core.joint.joint import Joint
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

GAP, FACE, BEVEL_LEFT, BEVEL_RIGHT, BEVELS = "gap", "face", "bevel_left", "bevel_right", "bevels"
HAND, DEPOSIT = "hand", "deposit"
UNKNOWN = {GAP: 0.4, FACE: 0.3, BEVEL_LEFT: 1.5, BEVEL_RIGHT: 1.5}
"""Spread (sd) of what was not measured, mm and degrees (typical)."""
SPREADS = {HAND: 0.08, DEPOSIT: 0.05}
"""Spread of all beads of a welder, and of what a rod leaves (typical)."""
BEAD = 0.12
"""Spread of a single bead: chance, no input of its own (typical)."""
LEAST = {GAP: 0.0, FACE: 0.0, HAND: 0.5, DEPOSIT: 0.5}
LEAST_BEVEL_DEG = 1.0


class Input(Struct, frozen=True):
    """One thing that is not sure: its mean, its sd, and whether it was measured; factors have the mean 1."""

    name: str
    mean: float
    sd: float
    measured: bool = False


def inputs_of(joint: Joint) -> tuple[Input, ...]:
    """The inputs of a joint: from the band of its readings, else from the drawing with a typical spread; bevels cut alike are one."""
    found = [_geometry(joint, name) for name in (GAP, FACE) if _has(joint, name)]
    bevels = [_geometry(joint, name) for name in (BEVEL_LEFT, BEVEL_RIGHT) if _has(joint, name)]
    alike = len(bevels) == 2 and not any(b.measured for b in bevels) and bevels[0].mean == bevels[1].mean
    found += [Input(BEVELS, bevels[0].mean, bevels[0].sd)] if alike else bevels
    return (*found, *(Input(name, 1.0, sd) for name, sd in SPREADS.items()))


def _has(joint: Joint, name: str) -> bool:
    """True for what the preparation has: a closed joint has no gap, a square edge no bevel, a fillet neither."""
    prep = joint.prep
    if prep.kind.fillet:
        return False
    if name in (GAP, FACE):
        return prep.open_root if name == FACE else prep.backing != "closed"
    return drawn(joint, name) > 0.0


def _geometry(joint: Joint, name: str) -> Input:
    line, course = line_along(joint.fitup, name, course_of(joint)), course_of(joint)
    if line is None:
        return Input(name, drawn(joint, name), UNKNOWN[name])
    places = np.linspace(0.0, course.length_mm, 91)
    return Input(name, float(line.mean(places).mean()), float(np.sqrt((line.sd(places) ** 2).mean())), True)


def drawn_from(inputs: tuple[Input, ...], draws: int, seed: int) -> Floats:
    """Draws of all inputs, shape (draws, inputs); a gap and a face are never under nought. The first row is every mean."""
    found = np.random.default_rng(seed).standard_normal((draws, len(inputs)))
    values = np.array([i.mean for i in inputs]) + found * np.array([i.sd for i in inputs])
    for k, one in enumerate(inputs):
        values[:, k] = np.maximum(values[:, k], LEAST.get(one.name, LEAST_BEVEL_DEG))
    values[0] = [i.mean for i in inputs]
    return np.asarray(values)


def geometry_of(inputs: tuple[Input, ...], row: Floats) -> dict[str, float]:
    """A draw as figures of the joint, by their names."""
    found: dict[str, float] = {}
    for one, value in zip(inputs, row, strict=True):
        for name in (BEVEL_LEFT, BEVEL_RIGHT) if one.name == BEVELS else (one.name,):
            if name in QUANTITIES:
                found[QUANTITIES[name][0]] = float(value)
    return found
