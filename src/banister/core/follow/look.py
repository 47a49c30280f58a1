"""The look after a pass: whether a depth is worth a gauge, how deep it should be, and what an uneven layer asks of the next pass."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.follow.facts import Learnt, PassFacts
from banister.core.follow.marks import Along, laid_along
from banister.core.follow.rest import Followed
from banister.core.plan.plan import Pass
from banister.core.plan.rules import root_metal_below
from banister.core.plan.sides import FRONT, Side

ASK_OFF = 0.08
"""Where rods tell so much else than was asked a depth is asked for."""


def asks_depth(now: Followed, p: Pass, known: Learnt, lies_low: bool) -> bool:
    """True before the cap, before the last fill layer, where rods tell much else than was asked, or it lies low somewhere."""
    rest = [q for q in now.rest if q.key != p.key]
    if lies_low and p.role != "cap":
        return True
    if not rest or p.role == "cap" or rest[0].side != p.side or rest[0].layer == p.layer:
        return False
    fills = {q.layer for q in rest if q.role == "fill" and q.side == p.side}
    return len(fills) <= 1 or abs(known.of(p.rod.id).ratio - 1) > ASK_OFF


def expected_depth_mm(now: Followed, p: Pass, known: Learnt, side: Side) -> float:
    """How deep it should still be on the side of a pass, by the metal that is believed to lie there."""
    own = {q.key for q in now.plan.passes if q.side == p.side}
    metal = sum(area for key, area in known.areas_mm2.items() if key in own)
    hanging = root_metal_below(side.joint) if side.name == FRONT else 0.0
    return side.groove.thickness_mm - side.groove.filled_to(metal - hanging)


def over_uneven(now: Followed, p: Pass, facts: Mapping[str, PassFacts], asked_mm2: float) -> Along | None:
    """How a pass is laid over the layer under it where that was found uneven; None where it was not."""
    under = [q.key for q in now.plan.passes if (q.side, q.layer) == (p.side, p.layer - 1)]
    places = next((facts[key].depths for key in reversed(under) if key in facts and facts[key].depths), ())
    return laid_along(asked_mm2, p.rod.deposit_mm3, p.length_mm, places, p.width_mm, p.area_window) if places else None
