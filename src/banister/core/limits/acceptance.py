"""How high a cap may stand, by the acceptance set that was chosen."""

from __future__ import annotations

from collections.abc import Callable

TYPICAL_CAP_MM = 2.5


def _iso_5817(share: float, most: float) -> Callable[[float, float], float]:
    return lambda thickness, width: min(1 + share * width, most)


def _b31_3(thickness: float, width: float) -> float:
    for limit, height in ((6.0, 1.5), (13.0, 3.0), (25.0, 4.0)):
        if thickness <= limit:
            return height
    return 5.0


NONE_CHOSEN = "none"
ACCEPTANCE: dict[str, Callable[[float, float], float]] = {
    NONE_CHOSEN: lambda thickness, width: TYPICAL_CAP_MM,
    "iso5817-b": _iso_5817(0.10, 5.0),
    "iso5817-c": _iso_5817(0.15, 7.0),
    "iso5817-d": _iso_5817(0.25, 10.0),
    "b31.3": _b31_3,
}
"""By set: the greatest cap height for a thickness and a cap width, mm. The name of a set is the word `acceptance.KEY`."""

TOE_ANGLE_DEG = {"iso5817-b": 150.0, "iso5817-c": 110.0, "iso5817-d": 90.0}
"""Least weld toe angle of a butt weld (ISO 5817, incorrect weld toe; enter from your copy if it differs)."""


def cap_limit_mm(acceptance: str, thickness_mm: float, cap_width_mm: float) -> float:
    """Greatest cap height for a set (ISO 5817 item 1.9 shape: 1 + share of the width, capped)."""
    return ACCEPTANCE[acceptance](thickness_mm, cap_width_mm)
