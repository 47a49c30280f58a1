"""What a list of welds comes to: by rod, by procedure, by week; and what to buy, in packets, with some to spare."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence

from banister.core.listing.welds import Weld
from banister.core.rods.rod import Rod
from banister.core.value import Struct

NONE, PROCEDURE, WEEK, PREPARATION, POSITION, STATE = "none", "procedure", "week", "preparation", "position", "state"
GROUPS: Mapping[str, Callable[[Weld], str]] = {
    PROCEDURE: lambda w: w.joint.procedure, WEEK: lambda w: w.joint.week, PREPARATION: lambda w: w.joint.prep.key, POSITION: lambda w: w.joint.piece.position,
    STATE: lambda w: w.state,
}  # fmt: skip
"""What welds are put together by, each the word `weld_list.by.KEY`."""
PACKET_KG, SPARE_PERCENT = 5.0, 10.0
"""Weight of a packet and what is bought to spare (typical; enter your maker's and your own)."""
LEAST_PACKET_KG, MOST_PACKET_KG, MOST_SPARE_PERCENT = 0.1, 100.0, 200.0


class Total(Struct, frozen=True):
    """What welds of a group come to: how many, metres, beads, rods, weld metal, time without waits."""

    name: str
    welds: int
    length_mm: float
    beads: int
    rods: int
    metal_kg: float
    seconds: float


class Purchase(Struct, frozen=True):
    """A rod to buy: rods to burn, with the spare, their weight, and packets."""

    rod: str
    needed: int
    with_spare: int
    kg: float
    packets: int


def totals(welds: Iterable[Weld], by: str) -> tuple[Total, ...]:
    """Welds by a group, the group's names in order; all of them together for NONE."""
    groups: dict[str, list[Weld]] = {}
    for weld in welds:
        groups.setdefault(GROUPS[by](weld) if by in GROUPS else "", []).append(weld)
    return tuple(_total(name, own) for name, own in sorted(groups.items()))


def _total(name: str, welds: Sequence[Weld]) -> Total:
    return Total(name, sum(w.joint.alike for w in welds), sum(w.length_mm for w in welds), sum(w.joint.alike * w.beads for w in welds),
                 sum(sum(w.rods.values()) for w in welds), sum(w.metal_kg for w in welds), sum(w.seconds for w in welds))  # fmt: skip


def purchases(welds: Iterable[Weld], rods: Mapping[str, Rod], spare_percent: float = SPARE_PERCENT, packet_kg: float = PACKET_KG) -> tuple[Purchase, ...]:
    """What to buy for welds that are not welded yet, by rod; what a begun one has burnt is not taken off."""
    needed: dict[str, int] = {}
    weight: dict[str, float] = {}
    for weld in welds:
        for rod, n in weld.rods.items():
            needed[rod] = needed.get(rod, 0) + n
            weight[rod] = weight.get(rod, 0.0) + weld.bought_kg[rod]
    return tuple(_purchase(rod, needed[rod], weight[rod], spare_percent, packet_kg) for rod in sorted(needed) if rod in rods)


def _purchase(rod: str, needed: int, kg: float, spare_percent: float, packet_kg: float) -> Purchase:
    with_spare = math.ceil(needed * (1 + spare_percent / 100) - 1e-9)
    heavy = kg * with_spare / needed
    return Purchase(rod, needed, with_spare, heavy, math.ceil(heavy / packet_kg - 1e-9))
