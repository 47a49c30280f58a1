"""How the hand moves: travel angle, arc length, weave, whip, keyhole, restart and crater; all typical shop figures."""

from __future__ import annotations

from banister.core.joint.positions import FLAT, HORIZONTAL, OVERHEAD, VERTICAL_DOWN, VERTICAL_UP
from banister.core.value import Struct

TRAVEL_DEG: dict[str, dict[str, tuple[float, float]]] = {
    "cellulosic": {FLAT: (5, 15), HORIZONTAL: (5, 15), OVERHEAD: (5, 15), VERTICAL_UP: (-10, 0), VERTICAL_DOWN: (15, 30)},
    "rutile": {FLAT: (5, 15), HORIZONTAL: (5, 15), OVERHEAD: (5, 15), VERTICAL_UP: (-10, 0), VERTICAL_DOWN: (10, 20)},
    "basic": {FLAT: (5, 15), HORIZONTAL: (5, 15), OVERHEAD: (5, 15), VERTICAL_UP: (-15, -5)},
}
"""From square to the weld, positive dragged; a way that is missing is not welded with that coating."""
ARC_CORES = {"cellulosic": 1.0, "rutile": 1.0, "basic": 0.6}
HELD = {FLAT: 0.28, HORIZONTAL: 0.28, VERTICAL_UP: 0.34, OVERHEAD: 0.30, VERTICAL_DOWN: 0.20}
"""Share of a weave's cycle that is held at each edge."""
REACH_CORES, STRAIGHT_CORES, PITCH_CORES = 2.2, 0.8, 0.8
CYCLE_S, WHIP_S = (0.8, 3.0), (0.8, 1.8)
STRAIGHT_BEAT_MM = 10.0


class Beat(Struct, frozen=True):
    """A weave: travel of the hand across (0 for a straight bead), step along, seconds of a cycle, held at each edge and crossing, cycles a minute."""

    across_mm: float
    pitch_mm: float
    cycle_s: float
    hold_s: float = 0.0
    cross_s: float = 0.0


class Whip(Struct, frozen=True):
    """A whip: forward out of the pool, the step that is gained, seconds of a cycle, rest of it in the pool."""

    forward_mm: float
    step_mm: float
    cycle_s: float
    rest_s: float


def travel_deg(family: str, attitude: str) -> tuple[float, float] | None:
    """The travel angle of a coating in an attitude; None where it is not welded that way, or nothing is known of it."""
    return TRAVEL_DEG.get(family, {}).get(attitude)


def beat(width_mm: float, core_mm: float, travel_mm_s: float, attitude: str) -> Beat:
    """The weave of a bead of a finished width; a straight bead beats every 10 mm."""
    across = width_mm - REACH_CORES * core_mm
    if across < STRAIGHT_CORES * core_mm or travel_mm_s <= 0:
        return Beat(0.0, STRAIGHT_BEAT_MM, STRAIGHT_BEAT_MM / max(travel_mm_s, 1e-9))
    cycle = min(max(PITCH_CORES * core_mm / travel_mm_s, CYCLE_S[0]), CYCLE_S[1])
    held = HELD.get(attitude, HELD[FLAT])
    return Beat(across, cycle * travel_mm_s, cycle, held * cycle, (0.5 - held) * cycle)


def whip(core_mm: float, travel_mm_s: float) -> Whip:
    """The whip of a cellulosic rod, not downhill."""
    cycle = min(max(0.9 * core_mm / max(travel_mm_s, 1e-9), WHIP_S[0]), WHIP_S[1])
    return Whip(2.0 * core_mm, cycle * travel_mm_s, cycle, 0.6 * cycle)
