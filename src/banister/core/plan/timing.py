"""What a pass takes beside its arc: rods to change, a bead to clean, the work to turn or gouge before it."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

from banister.core.joint.piece import OnPiece
from banister.core.joint.working import Choices
from banister.core.plan.plan import Pass, Plan

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]


def cleaning_s(choices: Choices, length_mm: Floats | float) -> Floats | float:
    """Slag off and brushed: so much a bead and so much a metre of it."""
    return choices.clean_bead_s + choices.clean_per_m_s * length_mm / 1000


def changes_s(choices: Choices, rods: Floats | float) -> Floats | float:
    """All rods of a pass, the first one taken up included."""
    return choices.rod_change_s * rods


def pause_s(choices: Choices, p: Pass) -> float:
    """Rods changed in a pass, and the bead cleaned after it."""
    return float(changes_s(choices, p.rod_count) + cleaning_s(choices, p.length_mm))


def welding_s(choices: Choices, passes: Iterable[Pass]) -> float:
    """Arc time, rods, cleaning and changes of rod size or current of passes on one side, nothing waited for."""
    found = tuple(passes)
    return sum(p.arc_time_s + pause_s(choices, p) for p in found) + choices.setting_change_s * len(changed(found))


def changed(passes: Sequence[Pass]) -> tuple[str, ...]:
    """Keys of the passes that are welded with another rod size or current than the one before."""
    return tuple(b.key for a, b in itertools.pairwise(passes) if (a.rod.id, a.amps) != (b.rod.id, b.amps))


def gouging_s(joint: OnPiece, choices: Choices) -> float:
    """The root gouged to sound metal and ground, along the whole weld."""
    return choices.gouge_per_m_s * joint.weld_length_mm(0.0) / 1000


def turning_s(joint: OnPiece, choices: Choices) -> float:
    """From one side to the other: the work turned over, or walked round where it stands."""
    return choices.walk_round_s if joint.stands else choices.turn_s


def between_s(joint: OnPiece, choices: Choices) -> dict[str, float]:
    """Seconds of what is done between the passes, by the action of its phase."""
    return {"turn": turning_s(joint, choices), "gouge": gouging_s(joint, choices)}


def before_s(joint: OnPiece, choices: Choices, plan: Plan, changes: bool = True) -> dict[str, float]:
    """Seconds of turning, gouging and (with `changes`) another rod or current before the passes that follow on them, by their keys."""
    spent = between_s(joint, choices)
    found: dict[str, float] = {}
    waiting = 0.0
    for phase in plan.sequence:
        waiting += spent.get(phase.action, 0.0)
        if phase.passes:
            found[phase.passes[0]], waiting = waiting, 0.0
    for _, passes in itertools.groupby(plan.passes if changes else (), key=lambda p: p.side):
        for key in changed(tuple(passes)):
            found[key] = found.get(key, 0.0) + choices.setting_change_s
    return found
