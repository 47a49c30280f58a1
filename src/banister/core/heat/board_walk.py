"""A board on its way: joints that cool, welders who take the next pass by a rule, and breaks nobody welds in.

A pass is only started inside its limits, whatever the rule.
"""

from __future__ import annotations

import copy
import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from banister.core.heat.board import BOTH, Board, Jobs, Slot
from banister.core.heat.cooling import Cooling, Work
from banister.core.heat.fin import Fin
from banister.core.heat.schedule import Schedule, as_started, begin, schedule_of, works_of
from banister.core.heat.shift import Shift
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import Joint
from banister.core.plan.layers import Setting
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import changed
from banister.core.value import Struct

NEAR_S = 240.0
"""A choice is worth trying if it is ready this soon after the first that is."""


class Piece(Struct, frozen=True):
    """A joint on the board with all that does not change on the way: its plan, its model, and when it ends by itself."""

    joint: Joint
    plan: Plan
    fin: Fin
    alone: Schedule
    is_shared: bool = False
    """True where both welders weld it at once, a half each."""

    @property
    def works(self) -> tuple[Work, ...]:
        """Its passes; changes of rod and current are the walk's."""
        return works_of(self.joint, self.plan, changes=False, together=self.is_shared)

    def begun(self) -> Underway:
        """The joint before its first pass."""
        passes = {p.key: p for p in self.plan.passes}
        return Underway(self.joint, Cooling(self.joint, self.fin), self.works, passes, self.alone.end_s, is_shared=self.is_shared)

    @property
    def least_s(self) -> float:
        """No board welds it sooner: its end by itself without reheats and changes of rod and current."""
        changes = self.joint.working.choices.setting_change_s * len(changed(self.plan.passes))
        return self.alone.end_s - self.alone.reheating_s - changes

    @property
    def work_s(self) -> float:
        """All that keeps a welder busy, of both where both are."""
        return (2 if self.is_shared else 1) * sum(w.duration_s + w.cleaning_s + w.before_s for w in self.works)


def pieces_of(jobs: Jobs, shift: Shift) -> tuple[Piece, ...]:
    """The joints that are on the board."""
    found = [(joint, plan, fin_of(joint, plan)) for joint, plan in jobs if joint.id not in shift.left_out]
    return tuple(_piece(joint, plan, fin, shift.shares(joint.id) and joint.runs > 1) for joint, plan, fin in found)


def _piece(joint: Joint, plan: Plan, fin: Fin, is_shared: bool) -> Piece:
    return Piece(joint, plan, fin, schedule_of(joint, plan, fin, together=is_shared), is_shared)


@dataclass(eq=False)
class Underway:
    """One joint on the way: its cooling, the passes left, when it was cleaned, and who welded it last."""

    joint: Joint
    cooling: Cooling
    works: tuple[Work, ...]
    passes: dict[str, Pass]
    alone_s: float
    free_s: float = 0.0
    welder: int | None = None
    is_shared: bool = False
    left_s: float = field(init=False)
    all_s: float = field(init=False)
    cooled_s: float | None = None
    root_alone: bool = False

    def __post_init__(self) -> None:
        self.left_s = self.all_s = sum(w.duration_s + w.cleaning_s for w in self.works)

    @property
    def chain_s(self) -> float:
        """How long the rest of the joint takes by itself, waits and reheats in proportion to the work left."""
        return self.alone_s * self.left_s / self.all_s

    @property
    def would_leave_a_root(self) -> bool:
        """True if the next pass is a root with another pass to come right after it."""
        return self.passes[self.works[0].key].role == "root" and len(self.works) > 1 and self.passes[self.works[1].key].role != "root"

    def change_s(self, held: Setting | None) -> float:
        """What the next pass costs a welder who holds another rod, or has set another current."""
        p = self.passes[self.works[0].key]
        return self.joint.working.choices.setting_change_s if held not in (None, (p.rod.id, p.amps)) else 0.0

    @property
    def is_begun(self) -> bool:
        """True once a pass of it is welded."""
        return self.welder is not None

    def is_in_hands_of(self, welder: int) -> bool:
        """True where a welder welded it last, or both do."""
        return self.is_begun and self.welder in (welder, BOTH)

    def ready_at(self, now_s: float, held: Setting | None) -> float:
        """When a welder may start the next pass, not before now."""
        if self.cooled_s is None:
            self.cooling.carry_to(self.free_s)
            self.cooled_s = self.start_from(self.free_s) if self.cooling.held else float(self.cooling.now_s[0] + self.cooling.ready_s()[0])
        return max(max(now_s, self.free_s) + self.works[0].before_s, now_s + self.change_s(held), self.cooled_s)

    def start_from(self, at_s: float) -> float:
        """When the next pass would really start, waits and reheat included; inf if never."""
        fork = copy.copy(self.cooling)
        begun = begin(fork, at_s)
        return math.inf if begun.never[0] else float(begun.start_s[0])

    def margin_k(self, now_s: float) -> float:
        """How far it is above its preheat now."""
        probe = copy.copy(self.cooling)
        probe.carry_to(now_s)
        return float(probe.temps(probe.far_reading).min()) - self.cooling.preheat_c

    def weld(self, welder: int, at_s: float) -> Slot | None:
        """Weld the next pass at a time; None if the joint never gets to its limit."""
        work, self.works = self.works[0], self.works[1:]
        begun = begin(self.cooling, at_s)
        if begun.never[0]:
            return None
        self.cooling.weld(work)
        started = as_started(self.cooling, self.passes[work.key], work, begun)
        self.free_s, self.welder, self.cooled_s = started.end_s + work.cleaning_s, welder, None
        self.left_s -= work.duration_s + work.cleaning_s
        after = self.passes[self.works[0].key].role if self.works else ""
        self.root_alone = self.passes[work.key].role == "root" and after not in ("", "root")
        p = self.passes[work.key]
        return Slot(self.joint.id, p.number, started, self.free_s, welder, work.before_s, p.role)


class Choice(Struct, frozen=True):
    """What a welder may take next, and who asks and when."""

    ready: tuple[tuple[float, Underway], ...]
    now_s: float
    welder: int

    def near(self, within_s: float) -> list[Underway]:
        """The joints that are ready about as soon as the first."""
        soonest = min(at for at, _ in self.ready)
        return [piece for at, piece in self.ready if at <= soonest + within_s]


Pick = Callable[[Choice], Underway]


def ready_first(choice: Choice) -> Underway:
    """Whoever is ready first; of several the longest chain."""
    return max(choice.near(1.0), key=lambda piece: piece.chain_s)


def longest_first(choice: Choice) -> Underway:
    """The longest chain of passes and waits among those ready soon: what is begun last ends last."""
    return max(choice.near(NEAR_S), key=lambda piece: piece.chain_s)


def coldest_first(choice: Choice) -> Underway:
    """Whoever is about to fall below preheat first."""
    return min(choice.near(1.0), key=lambda piece: piece.margin_k(choice.now_s))


def stay(choice: Choice) -> Underway:
    """Stay with the joint in hand while it is ready in two minutes, then the one that is ready first."""
    own = [(at, piece) for at, piece in choice.ready if piece.is_in_hands_of(choice.welder)]
    at, in_hand = max(own, key=lambda one: one[1].free_s, default=(math.inf, None))
    return in_hand if in_hand is not None and at <= choice.now_s + 120.0 else ready_first(choice)


def one_by_one(choice: Choice) -> Underway:
    """One joint after the other; of those not begun the longest."""
    own = [piece for _, piece in choice.ready if not piece.is_begun or piece.is_in_hands_of(choice.welder)]
    return max(own or [choice.ready[0][1]], key=lambda piece: (piece.is_begun, piece.chain_s))


def drawn(draw: random.Random) -> Pick:
    """A rule that draws among those ready soon."""
    return lambda choice: draw.choice(choice.near(draw.choice((1.0, 60.0, NEAR_S))))


class Walk:
    """A board on its way: joints, when each welder is free, and what has been welded."""

    def __init__(self, pieces: Sequence[Piece], shift: Shift) -> None:
        self.shift = shift
        self.underway = [one.begun() for one in pieces]
        self.order = tuple(joint_id for joint_id in shift.order if joint_id not in shift.left_out)
        self.free_s = [0.0] * shift.welders
        self.held: list[Setting | None] = [None] * shift.welders
        self.slots: list[Slot] = []

    def fork(self) -> Walk:
        """The same board, to be walked on another way."""
        other = copy.copy(self)
        other.underway, other.free_s, other.slots = [copy.copy(piece) for piece in self.underway], list(self.free_s), list(self.slots)
        other.held = list(self.held)
        for piece in other.underway:
            piece.cooling = copy.copy(piece.cooling)
        return other

    @property
    def goes_on(self) -> bool:
        """True while a pass is left."""
        return any(piece.works for piece in self.underway)

    def choice(self) -> Choice | None:
        """What the welder who is free first may take; None if no joint ever gets ready."""
        while True:
            now = min(self.free_s)
            who = self.free_s.index(now)
            live = self._open_to(who + 1)
            if live:
                break
            self.free_s[who] = math.inf
            if min(self.free_s) == math.inf:
                return None
        ready = tuple((at, piece) for piece in live if math.isfinite(at := self._ready_at(piece, now, who)))
        return Choice(ready, now, who + 1) if ready else None

    def _ready_at(self, piece: Underway, now_s: float, who: int) -> float:
        """When a welder may start a joint's next pass; one that both weld waits for the later of them."""
        hands = range(len(self.free_s)) if piece.is_shared else (who,)
        return max(piece.ready_at(max(now_s, self.free_s[i]), self.held[i]) for i in hands)

    def _open_to(self, welder: int) -> list[Underway]:
        """The joints a welder may take: first the own that goes in one go or whose root is bare, no other's; drawn places are kept."""
        shift = self.shift
        live = [piece for piece in self.underway if piece.works]
        one_go = (*shift.in_one_go, *shift.halves)
        tied = [piece for piece in live if piece.is_begun and (piece.joint.id in one_go or (piece.root_alone and not shift.root_alone))]
        if mine := [piece for piece in tied if piece.is_in_hands_of(welder)]:
            return mine
        live = [piece for piece in live if piece not in tied]
        step = len(self.slots)
        due = self.order[step] if step < len(self.order) else ""
        if due in shift.as_drawn:
            return [piece for piece in live if piece.joint.id == due] or live
        free = [piece for piece in live if piece.joint.id not in shift.as_drawn] or live
        if step + 1 < len(self.order) and self.order[step + 1] in shift.as_drawn and not shift.root_alone:
            return [piece for piece in free if not piece.would_leave_a_root] or free
        return free

    def take(self, choice: Choice, piece: Underway) -> bool:
        """Weld the next pass of a joint; False if it never gets ready."""
        at = next(when for when, one in choice.ready if one is piece)
        welded = piece.passes[piece.works[0].key]
        slot = piece.weld(BOTH if piece.is_shared else choice.welder, self._clear_of_breaks(piece, at))
        if slot is None:
            return False
        self.slots.append(slot)
        for i in range(len(self.free_s)):
            if slot.is_by(i + 1):
                self.held[i], self.free_s[i] = (welded.rod.id, welded.amps), slot.until_s
        return True

    def _clear_of_breaks(self, piece: Underway, at_s: float) -> float:
        """The first time from which turning, gouging, reheat, pass and cleaning meet no break."""
        work = piece.works[0]
        for _ in self.shift.pauses:
            start = piece.start_from(at_s)
            begins = at_s - work.before_s
            later = self.shift.after_pauses(begins, start - begins + work.duration_s + work.cleaning_s)
            if later == begins or math.isinf(start):
                break
            at_s = later + work.before_s
        return at_s

    def forced(self, joint_ids: Sequence[str]) -> bool:
        """Weld the next pass of each of these joints in turn; False where one cannot be taken."""
        for joint_id in joint_ids:
            choice = self.choice()
            piece = None if choice is None else next((one for _, one in choice.ready if one.joint.id == joint_id), None)
            if choice is None or piece is None or not self.take(choice, piece):
                return False
        return True

    def to_the_end(self, rule: Pick, name: str) -> Board | None:
        """Walk on by a rule until every pass is welded."""
        while self.goes_on:
            choice = self.choice()
            if choice is None or not self.take(choice, rule(choice)):
                return None
        return Board(tuple(self.slots), max(slot.until_s for slot in self.slots), name)
