"""The weld list in words and figures: a row a weld, totals, what to buy."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.listing.totals import Purchase, Total
from banister.core.listing.welds import BEGUN, Weld
from banister.core.remark import Figure
from banister.core.units import minutes
from banister.core.words import Speech

WELD_HEADS = ("id", "drawing", "preparation", "thickness", "position", "length", "procedure", "alike", "state", "beads", "rods", "metal", "time", "remarks")
TOTAL_HEADS = ("group", "welds", "length", "beads", "rods", "metal", "time")
PURCHASE_HEADS = ("rod", "needed", "with_spare", "weight", "packets")


def weld_row(weld: Weld, say: Speech) -> list[str]:
    """A weld by the columns of `WELD_HEADS`."""
    joint = weld.joint
    return [joint.id, joint.drawing, say(f"preparation_short.{joint.prep.key}"), say.units.text("length", joint.prep.thickness_mm), joint.piece.position,
            say.units.text("long_length", joint.weld_length_mm()), joint.procedure, str(joint.alike), state_said(weld, say), str(weld.beads),
            str(sum(weld.rods.values())), say.units.text("mass", weld.metal_kg), minutes(weld.seconds), str(len(weld.remarks) or "")]  # fmt: skip


def state_said(weld: Weld, say: Speech) -> str:
    """How far it is; of one that is begun how many passes."""
    return say("weld_state.begun.of", n=str(weld.passes_welded), of=str(weld.beads)) if weld.state == BEGUN else say(f"weld_state.{weld.state}")


def total_rows(found: Sequence[Total], by: str, say: Speech) -> list[list[str]]:
    """Totals by the columns of `TOTAL_HEADS`, their head first."""
    heads = [say(f"weld_list.{head}") for head in TOTAL_HEADS]
    heads[0] = say(f"weld_list.by.{by}")
    rows = [[group_said(t.name, by, say), str(t.welds), say.units.text("long_length", t.length_mm), str(t.beads), str(t.rods),
             say.units.text("mass", t.metal_kg), minutes(t.seconds)] for t in found]  # fmt: skip
    return [heads, *rows]


def group_said(name: str, by: str, say: Speech) -> str:
    """What a group is called."""
    if by == "none":
        return say("weld_list.all")
    if by == "preparation":
        return say(f"preparation_short.{name}")
    if by == "state":
        return say(f"weld_state.{name}")
    return name or say("weld_list.not_said")


def purchase_rows(found: Sequence[Purchase], say: Speech) -> list[list[str]]:
    """What to buy by the columns of `PURCHASE_HEADS`, their head first."""
    rows = [[say.figure(Figure(p.rod, "rod")), str(p.needed), str(p.with_spare), say.units.text("mass", p.kg), str(p.packets)] for p in found]
    return [[say(f"weld_list.{head}") for head in PURCHASE_HEADS], *rows]


def purchase_said(spare_percent: float, packet_kg: float, say: Speech) -> str:
    """What the purchase rests on."""
    return say("weld_list.purchase.said", spare=Figure(spare_percent, "percent"), packet=Figure(packet_kg, "mass"))
