"""The pacer: a beat from edge to edge that a light and a click keep; timed from its start, never from the last beat, so that it does not drift."""

from __future__ import annotations

from banister.core.guide.hand import HELD, PITCH_CORES, STRAIGHT_BEAT_MM
from banister.core.joint.positions import FLAT
from banister.core.value import Struct

EDGE_S = 0.4, 2.5
"""Faster than that no hand follows, slower than that it is no beat."""
WEAVE, STRAIGHT, NONE = "weave", "straight", "none"


class Pacer(Struct, frozen=True):
    """A beat: its kind, seconds from edge to edge (or from tick to tick of a straight bead), the share of it that rests at the edge."""

    kind: str
    edge_s: float
    hold_share: float = 0.0

    def light(self, t: float) -> float:
        """Where the bar stands, 0 at one edge and 1 at the other: it moves and rests, and never flashes."""
        edges, into = divmod(max(t, 0.0), self.edge_s)
        crossed = min(max((into / self.edge_s - self.hold_share) / max(1.0 - self.hold_share, 1e-9), 0.0), 1.0)
        return crossed if int(edges) % 2 == 0 else 1.0 - crossed

    def beats(self, t: float) -> int:
        """How many beats there were until then."""
        return int(max(t, 0.0) / self.edge_s)


def edge_s(advance_mm: float, travel_mm_min: float) -> float:
    """Seconds from edge to edge: half a cycle of a weave that gains so much."""
    return 60.0 * advance_mm / (2.0 * travel_mm_min)


def pacer_for(core_mm: float, travel_mm_min: float, attitude: str = FLAT, weave: bool = True) -> Pacer:
    """The pacer of a weave (pitch 0.8 core, held at the edges by position) or of a straight bead (a tick every 10 mm); kind none where no hand keeps it."""
    if travel_mm_min <= 0:
        return Pacer(NONE, 1.0)
    if not weave:
        return Pacer(STRAIGHT, 60.0 * STRAIGHT_BEAT_MM / travel_mm_min)
    edge = edge_s(PITCH_CORES * core_mm, travel_mm_min)
    return Pacer(WEAVE if EDGE_S[0] <= edge <= EDGE_S[1] else NONE, edge, 2 * HELD.get(attitude, HELD[FLAT]))


def own_pacer(seconds: float, attitude: str = FLAT) -> Pacer:
    """The pacer of a beat that was typed."""
    return Pacer(WEAVE if EDGE_S[0] <= seconds <= EDGE_S[1] else NONE, seconds, 2 * HELD.get(attitude, HELD[FLAT]))
