"""Single figures of a joint set: every field, drag, arrow key and option goes through here, and is told why not."""

from __future__ import annotations

from banister.core.joint.faults import joint_faults, range_fault
from banister.core.joint.figures import FIGURES
from banister.core.joint.joint import Joint, edited
from banister.core.remark import Remark


def set_figure(joint: Joint, key: str, value: float) -> Joint | Remark:
    """The joint with one figure set, or the remark that says why it cannot be so and what would fit.

    Both bevels of an even groove are cut alike: setting the right one sets the left one. A joint that is
    already contradictory takes any value inside its own limits, so that it can be mended figure by figure.
    """
    refusal = range_fault(joint, key, value)
    if refusal is not None:
        return refusal
    changed = edited(joint, **_with_its_twin(joint, key, value))
    faults = () if joint_faults(joint) else joint_faults(changed)
    return faults[0] if faults else changed


def nudged(joint: Joint, key: str, steps: int, of_drag: bool = False) -> Joint | Remark:
    """The joint with one figure a number of steps further, as far as its limits; from there, the remark that says so."""
    figure, now = FIGURES[key], FIGURES[key].of(joint)
    wanted = now + steps * (2 * figure.drag if of_drag else figure.step)
    nearest = figure.clamped(wanted)
    return set_figure(joint, key, wanted if nearest == now else nearest)


def _with_its_twin(joint: Joint, key: str, value: float) -> dict[str, float]:
    prep = joint.prep
    alike = prep.kind.left == prep.kind.right and prep.bevel_left_deg == prep.bevel_right_deg
    return {key: value, "bevel_left_deg": value} if key == "bevel_right_deg" and alike else {key: value}
