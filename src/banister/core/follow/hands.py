"""A welder's own figures, kept from job to job: how large the beads of a hand come out with a rod in a position, and the metal of that rod.

Offered where they rest on enough passes and are sure; taken only by asking. They grow old: half a year doubles their variance
(judgement).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any

from banister.core.follow.factor import Own
from banister.core.value import Struct, asdict

ENOUGH_LOOKS, SURE_SD = 6, 0.06
HALF_YEAR_DAYS = 182.5


class Hand(Struct, frozen=True, kw_only=True):
    """What is known of a welder (mark) with a rod (id) in a position, and when (ISO day) it was kept."""

    welder: str
    rod: str
    position: str
    own: Own
    on: str

    @property
    def key(self) -> tuple[str, str, str]:
        """Whose figure it is."""
        return self.welder, self.rod, self.position

    def aged(self, today: date) -> Own:
        """What is still known of it today: less surely the longer ago it was kept."""
        days = max((today - date.fromisoformat(self.on)).days, 0)
        grown = math.pow(2.0, days / HALF_YEAR_DAYS)
        own = self.own
        return Own(own.f, own.m, own.p_ff * grown, own.p_mm * grown, own.p_fm * grown, own.looks, own.depths)


def is_sure(own: Own) -> bool:
    """True for a figure that is worth keeping, and offering."""
    return own.looks >= ENOUGH_LOOKS and own.sd_f < SURE_SD


def hands_of(known: Mapping[str, Own], welder: str, position: str, today: date) -> tuple[Hand, ...]:
    """What of a joint's learnt figures is worth keeping; nothing of a welder who is not named."""
    return tuple(Hand(welder=welder, rod=rod, position=position, own=own, on=today.isoformat()) for rod, own in known.items() if welder and is_sure(own))


def kept_with(kept: Iterable[Hand], new: Iterable[Hand]) -> tuple[Hand, ...]:
    """Figures with newer ones in the place of older ones of the same hand, rod and position."""
    return tuple(({hand.key: hand for hand in kept} | {hand.key: hand for hand in new}).values())


def offered(kept: Iterable[Hand], welder: str, rods: Sequence[str], position: str, today: date) -> dict[str, Own]:
    """What may be gone by for a joint: sure figures of its welder with its rods in its position, as old as they are."""
    found = {hand.rod: hand.aged(today) for hand in kept if hand.welder == welder and hand.position == position and hand.rod in rods and welder}
    return {rod: own for rod, own in found.items() if is_sure(own)}


def recorded(known: Mapping[str, Own]) -> dict[str, Any]:
    """Figures that are gone by, as their record holds them."""
    return {rod: {name: round(value, 6) for name, value in asdict(own).items()} for rod, own in known.items()}


def read_back(found: object) -> dict[str, Own]:
    """Figures of a record; what is none is passed over."""
    known: dict[str, Own] = {}
    for rod, fields in found.items() if isinstance(found, Mapping) else ():
        if isinstance(fields, Mapping) and all(isinstance(value, int | float) and math.isfinite(value) for value in fields.values()):
            try:
                own = Own(**fields)
            except TypeError:
                continue
            if own.p_ff > 0 and own.p_mm > 0:
                known[str(rod)] = own
    return known
