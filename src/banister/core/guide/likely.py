"""What goes wrong in this pass: the likeliest faults by where the bead lies, how it is welded and what was seen before; and arc blow.

Scores are judgement: a base times the terms that hold, doubled where the same kind was flagged in this joint before.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator

from banister.core.value import Struct

SHOWN, RAISED, FLAGGED = 3, 1.6, 2.0
BLOW_TOLD = 4.0


class Bead(Struct, frozen=True, kw_only=True):
    """What the faults of a pass depend on. Lengths mm; `thickness_share` of the amps is where they lie in the rod's range, 0 to 1."""

    role: str
    backing: str = "open"
    family: str = "basic"
    attitude: str = "flat"
    gap_cores: float = 1.0
    width_cores: float = 2.0
    beads_in_layer: int = 1
    at_wall: bool = False
    slot_coated: float = 9.0
    lean_deg: float = 0.0
    valley_share: float = 0.0
    amps_share: float = 0.5
    hold_s: float = 1.0
    last_of_cap: bool = False
    overlap: float = 0.5
    used_rod: bool = False
    last_rod: bool = False
    weave: bool = False


class Likely(Struct, frozen=True):
    """A fault that may come (the words `likely.KIND`, cue `likely.KIND.cue`), and how likely it is held to be."""

    kind: str
    score: float


def likely_faults(bead: Bead, flagged: Collection[str] = ()) -> tuple[Likely, ...]:
    """The three likeliest, worst first."""
    found: dict[str, float] = {}
    for kind, score in _scored(bead):
        found[kind] = max(found.get(kind, 0.0), score * (FLAGGED if kind in flagged else 1.0))
    ranked = sorted(found.items(), key=lambda item: (-item[1], item[0]))
    return tuple(Likely(kind, score) for kind, score in ranked[:SHOWN])


def _raised(base: float, *terms: bool) -> float:
    return base * RAISED ** sum(terms)


def _scored(b: Bead) -> Iterator[tuple[str, float]]:
    if b.role == "root" and b.backing == "open":
        kind = "blow_through" if b.gap_cores > 1.0 else "no_root"
        yield kind, _raised(3.0, b.gap_cores < 0.8 or b.gap_cores > 1.2)
    elif b.role == "root":
        yield "edge_missed", _raised(3.0, b.beads_in_layer == 1, b.width_cores > 3.0)
    if b.role == "hot":
        yield "slag_tracks", _raised(3.0, b.family == "cellulosic")
    if b.role == "fill" and b.at_wall:
        yield "side_wall", _raised(2.0, b.slot_coated < 1.5, abs(b.lean_deg) > 30.0)
    if b.role == "fill" and not b.at_wall:
        yield "slag_in_valley", _raised(2.0, b.valley_share > 0.4)
    if b.family == "basic":
        yield "porous_start", _raised(2.0 if b.used_rod else 1.2, b.used_rod)
    if b.weave and b.attitude in ("vertical up", "overhead"):
        yield "undercut_sag", _raised(2.0, b.amps_share > 2 / 3, b.hold_s < 0.4)
    if b.role == "cap" and b.last_of_cap:
        yield "cap_edge", _raised(3.0)
    elif b.role == "cap":
        yield "cap_valley", _raised(2.0, b.overlap < 0.4)
    yield "crater", _raised(1.0, b.last_rod)


class Blow(Struct, frozen=True):
    """How strongly the arc is blown, and its terms (the words `blow.KEY`), largest first."""

    score: float
    terms: tuple[tuple[str, float], ...]

    @property
    def is_told(self) -> bool:
        """True from where it is worth a word."""
        return self.score >= BLOW_TOLD


NO_BLOW = Blow(0.0, ())


def arc_blow(to_end_mm: float, to_clamp_mm: float, amps: float, depth_mm: float, width_mm: float, magnetised: bool = False) -> Blow:
    """Arc blow of direct current from the distance to the end and to the clamp, the current and the shape of the groove (judgement)."""
    terms = {
        "end": 3.0 * math.exp(-to_end_mm / 60.0), "clamp": 2.0 * math.exp(-to_clamp_mm / 80.0),
        "amps": 2.5 * min(1.0, max((amps - 120.0) / 180.0, 0.0)), "deep": 1.5 * min(1.0, max(depth_mm / max(width_mm, 1e-9) - 0.8, 0.0)),
        "magnetised": 4.0 if magnetised else 0.0,
    }  # fmt: skip
    ranked = sorted(((key, value) for key, value in terms.items() if value > 0.05), key=lambda item: -item[1])
    return Blow(sum(terms.values()), tuple(ranked))
