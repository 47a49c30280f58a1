"""Several joints and one or two welders in time: the passes in the order they are begun, and the list to walk by."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from banister.core.heat.schedule import Started
from banister.core.heat.shift import Shift
from banister.core.heat.thermal import heat_faults
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.plan.sequence import between_said
from banister.core.remark import Figure, Remark
from banister.core.value import Struct
from banister.core.words import Speech

LEAST_SAVED = 0.005
BOTH = 0
"""The welder of a pass that both weld at once."""
Jobs = Sequence[tuple[Joint, Plan]]


class Slot(Struct, frozen=True):
    """One pass on the board by its joint and number, with its cleaning until `until_s`; the welder is 1 or 2, BOTH for a half each.

    `before_s` is what turning or gouging takes before it; whatever there is of it ends where its preheat or arc begins.
    """

    joint_id: str
    number: int
    started: Started
    until_s: float
    welder: int = 1
    before_s: float = 0.0
    role: str = "fill"

    def is_by(self, welder: int) -> bool:
        """True where a welder has a hand in it."""
        return self.welder in (welder, BOTH)

    @property
    def prepared_s(self) -> float:
        """When turning or gouging before it begins at the latest."""
        return self.started.start_s - self.started.reheat_s - self.before_s


class Board(Struct, frozen=True):
    """All passes in the order they are begun, the rule that made it, and what it is measured by."""

    slots: tuple[Slot, ...]
    end_s: float
    rule: str
    one_by_one_s: float = math.inf
    bound_s: float = 0.0

    @property
    def saved(self) -> float:
        """Share of the time that interleaving saves against one joint after the other."""
        return 1 - self.end_s / self.one_by_one_s if math.isfinite(self.one_by_one_s) and self.one_by_one_s > 0 else 0.0

    @property
    def leaves(self) -> int:
        """How often a welder goes to another joint before the one in hand is done."""
        last = {slot.joint_id: slot.started.key for slot in self.slots}
        ways = ([slot for slot in self.in_time if slot.is_by(welder)] for welder in {slot.welder for slot in self.slots} - {BOTH} or {1})
        return sum(a.joint_id != b.joint_id and last[a.joint_id] != a.started.key for way in ways for a, b in itertools.pairwise(way))

    def cost_s(self, shift: Shift) -> float:
        """What boards are compared by: the end, and what leaving a joint has to save each time."""
        return self.end_s + shift.leaving_s * self.leaves

    @property
    def order(self) -> tuple[str, ...]:
        """The joints' ids, pass by pass."""
        return tuple(slot.joint_id for slot in self.slots)

    @property
    def in_time(self) -> tuple[Slot, ...]:
        """The passes in the order of their start."""
        return tuple(sorted(self.slots, key=lambda slot: slot.started.start_s))

    def done_by(self, until_s: float) -> tuple[tuple[Slot, ...], tuple[Slot, ...]]:
        """The passes that are finished and cleaned by a time, and those left."""
        late = {i for i, slot in enumerate(self.slots) if slot.until_s > until_s + 1e-9}
        return tuple(s for i, s in enumerate(self.slots) if i not in late), tuple(s for i, s in enumerate(self.slots) if i in late)


def board_faults(joints: Sequence[Joint]) -> tuple[tuple[Joint, Remark], ...]:
    """What makes any of the joints impossible, each with its joint."""
    return tuple((joint, remark) for joint in joints for remark in heat_faults(joint))


def work_list(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> list[tuple[str, Slot]]:
    """Lines to walk by, in time, each with its pass: when, which joint and pass with what, until when; turning and gouging before it."""
    plans = {joint.id: (joint, {p.key: p for p in plan.passes}, between_said(joint, joint.working.choices, plan, say)) for joint, plan in jobs}
    lines = []
    for slot in board.in_time:
        joint, passes, between = plans[slot.joint_id]
        p = passes[slot.started.key]
        number = say("board.number.side", number=str(p.number), side=say(f"side.{p.side}")) if joint.prep.two_sided else str(p.number)
        who = {"welder": str(slot.welder), "joint": slot.joint_id, "number": number}
        end = ".both" if slot.welder == BOTH else ".welder" if shift.welders > 1 else ""
        if what := between.get(p.key):
            lines.append((say(f"board.between{end}", begins=shift.clock(slot.prepared_s, say), what=", ".join(what), **who), slot))
        line = say(f"board.line{end}", begins=shift.clock(slot.started.start_s, say), rod=Figure(p.rod.id, "rod"), amps=Figure(p.amps, "current"),
                   ends=shift.clock(slot.until_s, say), **who)  # fmt: skip
        if slot.started.reheat_s:
            first = "board.line.preheat" if p.number == 1 else "board.line.reheat"
            line = f"{line} {say(first, lasts=Figure(60 * round(slot.started.reheat_s / 60), 'duration'))}"
        lines.append((line, slot))
    return lines


def board_said(board: Board, shift: Shift, say: Speech) -> list[str]:
    """When it ends and what it saves, and what the end of the shift leaves undone."""
    ends: dict[str, Figure | str] = {"ends": shift.clock(board.end_s, say), "lasts": Figure(board.end_s, "duration"), "bound": shift.clock(board.bound_s, say)}
    saves = board.saved > LEAST_SAVED
    said = [say("board.saves", saved=Figure(round(100 * board.saved), "percent"), **ends) if saves else say("board.no_gain", **ends)]
    done, left = board.done_by(shift.lasts_s)
    if left:
        first = {slot.joint_id: slot.number for slot in reversed(left)}
        joints = ", ".join(say("board.from_pass", joint=joint, number=str(number)) for joint, number in sorted(first.items()))
        said.append(say("board.left", until=shift.clock(shift.lasts_s, say), done=str(len(done)), all=str(len(board.slots)), joints=joints))
    return said
