"""How high a cap may stand, by the acceptance set that was chosen: item 502 of every set, as the planner needs it.

The sets themselves are open data, read where they are judged by; a test holds both to one figure. What is from memory bounds a
plan and never makes it "inside".
"""

from __future__ import annotations

from collections.abc import Callable

from banister.core.value import Struct

TYPICAL_CAP_MM = 2.5
NONE_CHOSEN = "none"


class CapRule(Struct, frozen=True):
    """The greatest cap height for a thickness, a cap width (mm) and whether the weld runs round a pipe; whether it is more than remembered."""

    height: Callable[[float, float, bool], float]
    is_sure: bool


def _iso_5817(share: float, most: float) -> CapRule:
    return CapRule(lambda thickness, width, girth: min(1 + share * width, most), True)


def _bands(*bands: tuple[float, float], beyond: float, is_sure: bool) -> CapRule:
    """Heights by thickness: each holds up to and with its thickness."""
    return CapRule(lambda thickness, width, girth: next((height for upto, height in bands if thickness <= upto), beyond), is_sure)


def _asme_viii(thickness: float, width: float, girth: bool) -> float:
    bands = ((4.8, 3.0), (13.0, 4.0), (25.0, 5.0), (50.0, 6.0)) if girth else ((4.8, 1.5), (25.0, 2.4), (50.0, 3.0))
    return next((height for upto, height in bands if thickness <= upto), bands[-1][1])


ACCEPTANCE: dict[str, CapRule] = {
    NONE_CHOSEN: CapRule(lambda thickness, width, girth: TYPICAL_CAP_MM, False),
    "iso5817-b": _iso_5817(0.10, 5.0),
    "iso5817-c": _iso_5817(0.15, 7.0),
    "iso5817-d": _iso_5817(0.25, 10.0),
    "aws-d1.1-static": _bands((25.0, 3.0), (50.0, 5.0), beyond=6.0, is_sure=False),
    "aws-d1.1-cyclic": _bands((25.0, 3.0), (50.0, 5.0), beyond=6.0, is_sure=False),
    "b31.3-normal": _bands((6.0, 1.5), (13.0, 3.0), (25.0, 4.0), beyond=5.0, is_sure=True),
    "b31.3-d": _bands((6.0, 3.0), (13.0, 6.0), (25.0, 8.0), beyond=10.0, is_sure=True),
    "asme-viii-1": CapRule(_asme_viii, False),
    "api-1104": _bands(beyond=1.6, is_sure=False),
}
"""By set; its name is the word `acceptance.KEY`."""

TOE_ANGLE_DEG = {"iso5817-b": 150.0, "iso5817-c": 110.0, "iso5817-d": 90.0}
"""Least weld toe angle of a butt weld (ISO 5817, incorrect weld toe; enter from your copy if it differs)."""


def cap_limit_mm(acceptance: str, thickness_mm: float, cap_width_mm: float, girth: bool = False) -> float:
    """Greatest cap height by a set (ISO 5817 item 1.9 shape: 1 + share of the width, capped)."""
    return ACCEPTANCE[acceptance].height(thickness_mm, cap_width_mm, girth)
