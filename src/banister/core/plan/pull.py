"""Shrinkage and angular pull: ranges and rankings, not predictions.

Transverse shrinkage: Spraragen-Ettinger S = 0.2 A/t + 0.05 g and Blodgett S = 0.1 A/t (A metal area,
t thickness, g gap; all mm); the two schools differ by a factor of about two, so a range is shown.
Angular pull: index 12 e A (z - t/2) / t3 with e = 0.1 (own derivation); it ranks preparations and
orders, its degrees are uncertain by 100 %.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from banister.core.joint.piece import OnPiece
from banister.core.plan.plan import Pass
from banister.core.polygon import centroid
from banister.core.value import Struct
from banister.core.words import Speech

SHRINK_SHARE = 0.1
FIRST_WINS = 0.35
SET_WIDER_MM = (0.5, 1.0)
LEAST_JOINED_MM = 4.0
"""Ligament that a root bead makes (shop figure)."""


class Pull(Struct, frozen=True):
    """Angular pull in degrees, positive towards the front: where it ends, and the most it had on the way."""

    final_deg: float
    greatest_deg: float


def transverse_shrinkage_mm(area_mm2: float, thickness_mm: float, gap_mm: float) -> tuple[float, float]:
    """Transverse shrinkage from the lower to the higher school, mm."""
    return 0.1 * area_mm2 / thickness_mm, 0.2 * area_mm2 / thickness_mm + 0.05 * gap_mm


def gap_closing_said(joint: OnPiece, say: Speech) -> str:
    """How an open gap closes while its root goes in, and how much wider to set it; '' where no gap is open.

    Ranges of experience (shop figures, rounded in either unit): no formula is trusted here.
    """
    prep = joint.prep
    if prep.kind.fillet or not prep.open_root or prep.root_gap_mm <= 0:
        return ""
    low, high = (prep.root_gap_mm + more for more in SET_WIDER_MM)
    wider = say.window(low, high, "length")
    return say("gap.closing.pipe" if joint.piece.form == "pipe" else "gap.closing.plate", wider=wider)


def angular_index_deg(area_mm2: float, centroid_mm: float, thickness_mm: float) -> float:
    """Pull of the finished groove as if it shrank all at once, degrees, positive towards the front."""
    return math.degrees(12 * SHRINK_SHARE * area_mm2 * (centroid_mm - thickness_mm / 2) / thickness_mm**3)


def pull_of(passes: Sequence[Pass], thickness_mm: float) -> Pull:
    """Pull bead after bead: the static index of each bead, weighted by how little was joined before it.

    What is joined first resists what comes after, so the side welded first wins over an equal
    second one. The weight (t / joined height)^0.35 is chosen so that a double V whose first side is 40
    to 45 % of its depth stays straight, as shops find it.
    """
    low = high = None
    angle = greatest = 0.0
    for p in passes:
        heights = [y for _, y in p.outline_mm]
        joined = thickness_mm if low is None or high is None else min(max(high - low, LEAST_JOINED_MM), thickness_mm)
        weight = (thickness_mm / joined) ** FIRST_WINS
        angle += weight * angular_index_deg(p.area_mm2, centroid(p.outline_mm)[1], thickness_mm)
        low = min(heights) if low is None else min(low, min(heights))
        high = max(heights) if high is None else max(high, max(heights))
        greatest = angle if abs(angle) > abs(greatest) else greatest
    return Pull(angle, greatest)
