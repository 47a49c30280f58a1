"""Jumps worth knowing: a tenth or two more of leg or reveal, and a larger rod fits a layer in fewer beads; and what a window costs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from banister.core.joint.faults import geometry_faults
from banister.core.joint.joint import edited
from banister.core.limits.windows import QUANTITIES
from banister.core.plan.chains import bead_count
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.layers import Layer
from banister.core.plan.one_side import SideStudy, side_study
from banister.core.plan.sides import sides_of
from banister.core.remark import INSIDE, Figure, Remark
from banister.core.value import replace

TRIALS_MM = (0.1, 0.2, 0.3)
WORTH = 0.05
"""A fall in time smaller than this is whole rods and the grid, not a jump."""
MOST_REVEAL_MM = 1.5
LEAST_COST_S = 60.0
Figures = tuple[float, int, float]
"""Seconds, beads and the largest core of the easiest plan's layers."""


def hints_of(joint: PlanInputs, sides: Sequence[SideStudy]) -> tuple[Remark, ...]:
    """What a little more would save, the least that does; none where nothing jumps or the joint cannot be planned."""
    now = _figures(sides)
    if now is None:
        return ()
    for more, changed in _changes(joint):
        then = _figures([study for side in sides_of(changed) if isinstance(study := side_study(side), SideStudy)])
        if then is not None and (then[1] < now[1] or then[2] > now[2]) and then[0] < (1 - WORTH) * now[0]:
            code = "hint.leg" if joint.prep.kind.fillet else "hint.reveal"
            return (Remark(code, INSIDE, {
                "more": Figure(more, "length"), "core": Figure(then[2], "length"),
                "less": Figure(round(100 * (1 - then[0] / now[0])), "percent"),
            }),)  # fmt: skip
    return ()


def window_costs(joint: PlanInputs, sides: Sequence[SideStudy]) -> tuple[Remark, ...]:
    """How much time each window costs by itself, the dearest first; what costs less than a minute is left out."""
    now = _figures(sides)
    if now is None:
        return ()
    found = []
    for window in joint.windows:
        without = replace(joint, windows=tuple(other for other in joint.windows if other is not window))
        then = _figures([study for side in sides_of(without) if isinstance(study := side_study(side), SideStudy)])
        if then is not None and now[0] - then[0] >= LEAST_COST_S:
            found.append((now[0] - then[0], window))
    found.sort(key=lambda one: -one[0])
    return tuple(Remark("hint.window", INSIDE, {
        "quantity": Figure(f"quantity.{window.quantity}", "word"), "role": Figure(f"role.{window.role}", "word"), "less": Figure(cost, "duration"),
        "window": Figure((window.low, window.high), QUANTITIES[window.quantity]),
    }) for cost, window in found)  # fmt: skip


def _changes(joint: PlanInputs) -> Iterator[tuple[float, PlanInputs]]:
    for more in TRIALS_MM:
        if joint.prep.kind.fillet:
            changed = edited(joint, leg_left_mm=joint.prep.leg_left_mm + more, leg_right_mm=joint.prep.leg_right_mm + more)
        elif joint.choices.reveal_mm + more <= MOST_REVEAL_MM + 1e-9:
            changed = edited(joint, reveal_mm=joint.choices.reveal_mm + more)
        else:
            return
        if not geometry_faults(changed):
            yield more, changed


def _figures(sides: Sequence[SideStudy]) -> Figures | None:
    layers: list[Layer] = []
    for side in sides:
        if side.balanced is None:
            return None
        layers += side.balanced
    if not layers:
        return None
    return sum(_seconds(side) for side in sides), bead_count(layers), max(layer.option.rod.diameter_mm for layer in layers)


def _seconds(side: SideStudy) -> float:
    """Arc, rods and cleaning of the easiest layers, without what ease itself weighs."""
    joint, choices = side.joint, side.joint.choices
    total = 0.0
    for layer in side.balanced or ():
        length = float(joint.weld_length_mm((layer.y0 + layer.y1) / 2))
        rods = layer.area_mm2 * length / layer.option.rod.deposit_mm3
        total += layer.count * (rods * layer.option.rod.burn_time_s(layer.option.amps) + choices.rod_change_s * rods + choices.clean_bead_s
                                + choices.clean_per_m_s * length / 1000)  # fmt: skip
    return total
