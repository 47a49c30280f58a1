"""What a meter adds to a pass: where a rod must end for its heat input to be allowed, and rules that were left.

A figure is outside where it lies beyond its limit by more than it is sure; within that it is not decided, and nothing is said.
"""

from __future__ import annotations

import math

from banister.core.follow.marks import must_reach
from banister.core.joint.joint import Joint
from banister.core.judge.passes import basis_k, energy_window, window_on
from banister.core.limits.windows import Bounds
from banister.core.plan.plan import Pass
from banister.core.value import Struct

AMPS, HEAT = "amps", "heat"
KIND_OF_RULE = {"preheat": "temperature", "interpass": "temperature", AMPS: "current", HEAT: "energy"}
"""The kind of figure a rule's value and limit are of."""
SURE_OF_AMPS, SURE_OF_HEAT = 0.02, 0.04
"""How sure the mean of a meter is, and energy over a length paced at the joint (shop figures, never tried on a real meter)."""
LEAST_BURNT = 0.15
"""Before so much of a rod is burnt its energy is taken as planned."""


class Left(Struct, frozen=True):
    """A rule that was left: its value, how sure it is, the limit it lies beyond."""

    rule: str
    value: float
    sd: float
    limit: float


def rod_end_mm(joint: Joint, p: Pass, kj: float, burnt: float) -> tuple[float | None, float | None] | None:
    """The lengths between which a rod must be laid out for its heat input to be allowed (None: no end), by its energy so far.

    Needs no length: the energy of a whole rod over the energy allowed a millimetre. None where no window holds energy.
    """
    quantity, allowed = energy_window(joint, p)
    if not allowed.is_set:
        return None
    planned = p.volts * p.amps * p.rod.burn_time_s(p.amps) / 1000.0
    whole = (kj / burnt if burnt >= LEAST_BURNT else planned) * basis_k(p, quantity)
    least, most = must_reach(whole, 1.0, allowed.low, allowed.high)
    return (least if math.isfinite(allowed.high) else None, most if math.isfinite(allowed.low) else None)


def left_by_rod(joint: Joint, p: Pass, amps: float) -> Left | None:
    """The mean current of a rod outside what is allowed."""
    return _left(AMPS, amps, SURE_OF_AMPS * amps, window_on(joint, p, "amps"))


def left_by_pass(joint: Joint, p: Pass, kj: float) -> Left | None:
    """The energy of a whole pass over its length outside what is allowed, in the limit's own basis."""
    quantity, allowed = energy_window(joint, p)
    value = kj * basis_k(p, quantity) / p.length_mm
    return _left(HEAT, value, SURE_OF_HEAT * value, allowed)


def _left(rule: str, value: float, sd: float, allowed: Bounds) -> Left | None:
    if value > allowed.high + sd:
        return Left(rule, value, sd, allowed.high)
    if value < allowed.low - sd:
        return Left(rule, value, sd, allowed.low)
    return None
