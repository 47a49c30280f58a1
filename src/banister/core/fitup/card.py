"""The preparation and fit-up card: what to cut and grind, what it may be off, what was measured; nothing here is drawn."""

from __future__ import annotations

import math

import numpy as np

from banister.core.fitup.judged import ToleranceSet
from banister.core.fitup.places import course_of
from banister.core.fitup.readings import QUANTITIES, drawn, line_along
from banister.core.fitup.tacks import BARS
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech, capital

CLEAN_MM = 25.0
"""Bright metal beside the edge, both faces (typical: a finger's width and more)."""
CORES_MM = (1.6, 2.0, 2.4, 2.5, 3.2, 4.0, 5.0, 6.0)
"""Core wires that serve as spacers."""
NEAR_MM = 0.25


class CardRow(Struct, frozen=True):
    """One line to be ticked: what, how it is to be, what it may be, what was read ('' where nothing was)."""

    what: str
    wanted: str
    allowed: str = ""
    measured: str = ""


def spacer_of(gap_mm: float) -> tuple[float, ...]:
    """Core wires that set a gap: the nearest one, or two laid together, alike if they may be, where one comes nowhere near; none for no gap.

    >>> spacer_of(3.0), spacer_of(8.0), spacer_of(0.0)
    ((3.2,), (4.0, 4.0), ())
    """
    if gap_mm < CORES_MM[0] - NEAR_MM:
        return ()
    ways = [(core,) for core in CORES_MM] + [(a, b) for a in CORES_MM for b in CORES_MM if a <= b]
    return min(ways, key=lambda way: (max(abs(sum(way) - gap_mm) - NEAR_MM, 0.0), len(way), abs(sum(way) - gap_mm), max(way) - min(way)))


def card_rows(joint: Joint, tolerances: ToleranceSet, say: Speech) -> tuple[CardRow, ...]:
    """Every line of the card, in the order of the work: cut, grind, clean, set."""
    rows = [_measured_row(joint, tolerances, quantity, say) for quantity in _cut(joint)]
    rows.append(CardRow(say("card.burr"), say("card.burr.how")))
    rows.append(CardRow(say("card.clean"), say("card.clean.how", width=Figure(CLEAN_MM, "length"))))
    if joint.prep.backing in BARS:
        rows.append(CardRow(say("card.bar"), say("card.bar.how")))
    wires = spacer_of(joint.prep.root_gap_mm)
    if wires:
        off = sum(wires) - joint.prep.root_gap_mm
        named = " + ".join(say.units.text("length", wire) for wire in wires)
        word = "card.spacer.exact" if abs(off) < 0.05 else "card.spacer.wide" if off > 0 else "card.spacer.tight"
        rows.append(CardRow(say("card.spacer"), say(word, wires=named, unit=say.units.unit("length"), off=Figure(abs(off), "fine_length"))))
    rows += [_measured_row(joint, tolerances, quantity, say) for quantity in ("gap", "high_low")]
    if joint.piece.form == "plate":
        rows.append(CardRow(say("card.tabs"), say("card.tabs.how")))
    return tuple(rows)


def _cut(joint: Joint) -> list[str]:
    """What is cut: bevels where there are any, the root face where there is one."""
    found = [q for q in ("bevel_left", "bevel_right") if drawn(joint, q) > 0.0]
    return found + (["face"] if joint.prep.root_face_mm > 0.0 or joint.prep.open_root else [])


def _measured_row(joint: Joint, tolerances: ToleranceSet, quantity: str, say: Speech) -> CardRow:
    kind = QUANTITIES[quantity][1]
    bounds = tolerances.bounds(joint, quantity)
    allowed = "" if bounds is None else say.figure(Figure(tuple(b if math.isfinite(b) else None for b in bounds), kind))
    wanted = "" if quantity == "high_low" else say.sized(kind, drawn(joint, quantity))
    return CardRow(capital(say(f"fitup.{quantity}")), wanted, allowed, _measured(joint, quantity, kind, say))


def _measured(joint: Joint, quantity: str, kind: str, say: Speech) -> str:
    """The mean along the weld, and the least and greatest that was read."""
    line = line_along(joint.fitup, quantity, course_of(joint))
    if line is None:
        return ""
    mean = float(line.mean(np.linspace(0.0, course_of(joint).length_mm, 91)).mean())
    return say("card.read", mean=Figure(mean, kind), low=say.units.text(kind, min(line.values)), high=Figure(max(line.values), kind))
