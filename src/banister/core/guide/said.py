"""How the hand moves, in words: weave, whip, keyhole; restart and crater by coating. All typical shop figures."""

from __future__ import annotations

from banister.core.guide.of_pass import Guide
from banister.core.plan.plan import Pass
from banister.core.remark import Figure
from banister.core.words import Speech

KEYHOLE_COATED = 1.0, 1.3
"""A keyhole's width, in coated rods."""
AHEAD, BACK = Figure((10.0, 15.0), "length"), {"cellulosic": Figure((5.0, 10.0), "length"), "basic": Figure(10.0, "length")}
"""How far ahead a rod is struck, and how far back it goes to fill its crater."""


def hand_said(guide: Guide, p: Pass, is_open: bool, say: Speech) -> list[str]:
    """The whip of a root, the weave or the straight bead; over an open root the keyhole."""
    moved, whip = guide.beat, guide.whip if p.role == "root" else None
    if whip is not None:
        lines = [say("hand.whip", forward=_mm(whip.forward_mm), cycle=_s(whip.cycle_s), rest=_s(whip.rest_s))]
    elif moved.across_mm > 0:
        lines = [say("hand.weave", across=_mm(moved.across_mm), cycle=_s(moved.cycle_s), hold=_s(moved.hold_s))]
    else:
        lines = [say("hand.straight", step=_mm(moved.pitch_mm), cycle=_s(moved.cycle_s))]
    if p.role == "root" and is_open:
        low, high = (round(share * guide.coated_mm, 1) for share in KEYHOLE_COATED)
        lines.append(say("hand.keyhole", wide=Figure((low, high), "length")))
    return lines


def stop_said(family: str, say: Speech) -> list[str]:
    """The restart, and how a crater is filled, of a coating; nothing where it is not known."""
    if f"hand.restart.{family}" not in say.words:
        return []
    return [say(f"hand.restart.{family}", ahead=AHEAD), say(f"hand.crater.{family}", back=BACK.get(family, AHEAD))]


def worth_knowing(guide: Guide, p: Pass, is_open: bool, is_begun: bool, say: Speech) -> list[str]:
    """What is worth knowing of a pass, one thing after the other: what goes wrong, how the hand moves, restart, crater; once it is begun the restart first."""
    cues = [say(f"likely.{one.kind}.cue") for one in guide.likely]
    likely = " \N{MIDDLE DOT} ".join([*cues, say("blow.cue")] if guide.blow.is_told else cues)
    moves, stops = hand_said(guide, p, is_open, say), stop_said(p.rod.family, say)
    return [one for one in ([*stops, *moves, likely] if is_begun else [likely, *moves, *stops]) if one]


def beat_said(guide: Guide, p: Pass, say: Speech) -> str:
    """The one figure of the hand's beat, for two metres: how long an edge is held, or the whip; '' for a straight bead."""
    if guide.whip is not None and p.role == "root":
        return say("weld.whip", cycle=_s(guide.whip.cycle_s))
    return say("weld.hold", hold=_s(guide.beat.hold_s)) if guide.beat.across_mm > 0 else ""


def _mm(value: float) -> Figure:
    return Figure(round(value, 1), "length")


def _s(value: float) -> Figure:
    return Figure(round(value, 1), "seconds")
