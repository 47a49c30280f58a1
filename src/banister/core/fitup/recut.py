"""The section cut anew at a place of an uneven joint: the plan's layers and counts held, widths following the groove there.

Planned anew for every gap the count would jump under the pointer; held, the picture shows what the same beads come to.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.groove import Groove, groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.value import replace

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

LEVELS = 61
"""Heights at which the walls are taken; straight between them."""


def recut(joint: Joint, plan: Plan, here: Joint) -> Plan:
    """The plan's passes with their outlines stretched from wall to wall of the groove as it is at a place."""
    planned, found = groove_of(joint.prep), groove_of(here.prep)
    levels = np.linspace(0.0, min(planned.thickness_mm, found.thickness_mm), LEVELS)
    walls = (*_walls(planned, levels), *_walls(found, levels))
    return replace(plan, passes=tuple(_stretched(p, levels, walls) for p in plan.passes))


def _stretched(p: Pass, levels: Floats, walls: tuple[Floats, Floats, Floats, Floats]) -> Pass:
    points = np.asarray(p.outline_mm, dtype=float)
    left, right, new_left, new_right = (np.interp(points[:, 1], levels, wall) for wall in walls)
    share = (points[:, 0] - left) / np.maximum(right - left, 1e-9)
    x = new_left + share * (new_right - new_left)
    return replace(p, outline_mm=tuple(zip(x.tolist(), points[:, 1].tolist(), strict=True)))


def _walls(groove: Groove, levels: Floats) -> tuple[Floats, Floats]:
    return (np.array([groove.x_left(float(v)) for v in levels]), np.array([groove.x_right(float(v)) for v in levels]))
