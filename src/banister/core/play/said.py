"""What a bead by hand is like, in words."""

from __future__ import annotations

from banister.core.play.hand import ByHand, Play
from banister.core.remark import Figure
from banister.core.words import Speech, capital


def hand_said(play: Play, one: ByHand, role: str, say: Speech) -> str:
    """Which bead it is, and with what."""
    hand = one.hand
    key = "play.weave" if hand.width_mm > 0 else "play.straight"
    return say(key, role=capital(say(f"role.{role}")), n=str(play.number), rod=Figure(hand.rod.id, "rod"), amps=Figure(hand.amps, "current"),
               speed=Figure(hand.travel_mm_min, "speed"), width=Figure(hand.width_mm, "length"))  # fmt: skip


def bead_said(one: ByHand, say: Speech) -> str:
    """Its figures; why it cannot be laid so."""
    if one.refusal is not None or one.bead is None or one.found is None:
        return say.sentence(one.refusal) if one.refusal is not None else ""
    bead, found = one.bead, one.found
    face = "play.crown" if one.crown_mm >= 0 else "play.hollow"
    shape = say(face, high=Figure(abs(one.crown_mm), "fine_length"))
    return say("play.bead", area=Figure(bead.area_mm2, "area"), width=Figure(bead.width_mm, "length"), face=shape,
               left=Figure(round(bead.contact_left_deg), "angle"), right=Figure(round(bead.contact_right_deg), "angle"),
               run_out=Figure(found.run_out_mm, "long_length"), energy=Figure(found.arc_energy_kj_mm, "energy"))  # fmt: skip


def stands_said(play: Play, say: Speech) -> str:
    """How the side stands: beads, rods and arc time laid by hand, and the cap once it is full."""
    by_hand = [one.found for one in play.laid if one.found is not None]
    parts = [say("play.count", beads=Figure(len(by_hand), "count"), begun=Figure(play.number - 1 - len(by_hand), "count"))]
    if by_hand:
        parts.append(say("play.spent", rods=Figure(sum(p.rod_count for p in by_hand), "count"), time=Figure(sum(p.arc_time_s for p in by_hand), "duration")))
    shape = play.shape
    if shape is not None:
        parts.append(say("play.full", heights=Figure((shape.edge_min, shape.max), "length")))
    return " ".join(parts)
