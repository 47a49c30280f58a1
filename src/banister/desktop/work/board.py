"""Boards a view asks for: of joints as they stand, better ones as they are found."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from banister.core.heat.board import Board
from banister.core.heat.board_search import sought
from banister.core.heat.shift import Shift
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod
from banister.core.sheet import Sheet
from banister.core.under_way import left_of, welded_of
from banister.core.value import Struct

Jobs = list[tuple[Joint, Plan]]
Found = tuple[Jobs, Board | None, str, int, int]
"""Joints with their plans, the best board so far, and what is being tried: the word of it, how far, of how many."""


class OnBoard(Struct, frozen=True):
    """A joint for the board: its issued plan while it holds, the sheet that was issued, what its journal tells (after corrections)."""

    joint: Joint
    plan: Plan | None
    sheet: Sheet | None
    records: tuple[Record, ...]

    def left(self, rods: Mapping[str, Rod]) -> Plan:
        """Its plan, or what is left of it where it was begun."""
        begun = None if self.sheet is None or not self.records else _left_of_begun(self.sheet, tuple(rods.values()), self.records)
        if begun is not None:
            return begun
        return self.plan if self.plan is not None else plan_joint(self.joint, rods, self.joint.working.chosen)


Asked = tuple[Sheet, tuple[Rod, ...], tuple[Record, ...]]
_known: dict[str, tuple[Asked, Plan | None]] = {}
"""The last that was left of each joint: a board is ordered anew with every edit of its shift, a joint followed only where something was welded."""


def _left_of_begun(sheet: Sheet, rods: tuple[Rod, ...], records: tuple[Record, ...]) -> Plan | None:
    """What is left of an issued joint; None where nothing was begun."""
    asked, known = (sheet, rods, records), _known.get(sheet.joint.id)
    if known is None or known[0] != asked:
        welded = welded_of(sheet, {rod.id: rod for rod in rods}, records)
        known = _known[sheet.joint.id] = (asked, None if welded is None else left_of(welded))
    return known[1]


def sought_board(jobs: list[OnBoard], rods: Mapping[str, Rod], shift: Shift) -> Iterator[Found]:
    """The best board of the fixed rules, then better ones as they are found; a joint that is welded is not on it."""
    left = [(one.joint, one.left(rods)) for one in jobs]
    found = [(joint, plan) for joint, plan in left if plan.passes or plan.reasons]
    none = True
    for one in sought(found, shift) if all(plan.feasible for _, plan in found) else ():
        none = False
        yield found, one.best, one.trying, one.done, one.most
    if none:
        yield found, None, "", 0, 0
