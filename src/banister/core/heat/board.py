"""Several joints and one or two welders: who is welded while the others cool.

Fixed rules at once (whoever is ready first, then most work left; whoever is about to fall below
preheat first; stay with the joint in hand), one joint after the other as the yardstick, and a search
beside the window: every choice tried to its end, then drawn variations. A pass is only started inside
its limits, whatever the rule.
"""

from __future__ import annotations

import copy
import itertools
import math
import random
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from banister.core.heat.cooling import Cooling, Work
from banister.core.heat.fin import Fin
from banister.core.heat.schedule import Started, as_started, begin, schedule_of, works_of
from banister.core.heat.shift import Shift
from banister.core.heat.thermal import fin_of, heat_faults
from banister.core.joint.joint import Joint, edited
from banister.core.plan.layers import Setting
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import changed
from banister.core.remark import Figure, Remark
from banister.core.words import Speech

TRIES = 60
WITHIN = 0.02
"""The search stops within 2 % of the lower bound."""
MOST_TRIED = 5
MOST_ORDERS = 100
"""So few orders of all passes are all tried."""
LEAST_SAVED = 0.005
NEAR_S = 240.0
"""A choice is worth trying if it is ready this soon after the first that is."""
Jobs = Sequence[tuple[Joint, Plan]]


@dataclass(frozen=True, slots=True)
class Slot:
    """One pass on the board by its joint and number, with its cleaning until `until_s`; the welder is 1 or 2."""

    joint_id: str
    number: int
    started: Started
    until_s: float
    welder: int = 1


@dataclass(frozen=True, slots=True)
class Board:
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


@dataclass(eq=False)
class _Underway:
    """One joint on the way: its cooling, the passes left, when it was cleaned, and who welded it last."""

    joint: Joint
    cooling: Cooling
    works: tuple[Work, ...]
    passes: dict[str, Pass]
    free_s: float = 0.0
    welder: int = 0
    left_s: float = field(init=False)
    cooled_s: float | None = None
    root_alone: bool = False

    def __post_init__(self) -> None:
        self.left_s = sum(w.duration_s + w.cleaning_s for w in self.works)

    @property
    def would_leave_a_root(self) -> bool:
        """True if the next pass is a root with another pass to come right after it."""
        return self.passes[self.works[0].key].role == "root" and len(self.works) > 1 and self.passes[self.works[1].key].role != "root"

    def change_s(self, held: Setting | None) -> float:
        """What the next pass costs a welder who holds another rod, or has set another current."""
        p = self.passes[self.works[0].key]
        return self.joint.working.choices.setting_change_s if held not in (None, (p.rod.id, p.amps)) else 0.0

    def ready_at(self, now_s: float, held: Setting | None) -> float:
        """When a welder may start the next pass, not before now."""
        if self.cooled_s is None:
            self.cooling.carry_to(self.free_s)
            self.cooled_s = self.start_from(self.free_s) if self.cooling.held else float(self.cooling.now_s[0] + self.cooling.ready_s()[0])
        return max(max(now_s, self.free_s) + self.works[0].before_s, now_s + self.change_s(held), self.cooled_s)

    def start_from(self, at_s: float) -> float:
        """When the next pass would really start, waits and reheat included; inf if never."""
        fork = copy.copy(self.cooling)
        fork.carry_to(at_s)
        begun = begin(fork)
        return math.inf if begun.never[0] else float(begun.start_s[0])

    def margin_k(self, now_s: float) -> float:
        """How far it is above its preheat now."""
        probe = copy.copy(self.cooling)
        probe.carry_to(now_s)
        return float(probe.temps(probe.far_reading).min()) - self.cooling.preheat_c

    def weld(self, welder: int, at_s: float) -> Slot | None:
        """Weld the next pass at a time; None if the joint never gets to its limit."""
        work, self.works = self.works[0], self.works[1:]
        self.cooling.carry_to(at_s)
        begun = begin(self.cooling)
        if begun.never[0]:
            return None
        self.cooling.weld(work)
        started = as_started(self.cooling, self.passes[work.key], work, begun)
        self.free_s, self.welder, self.cooled_s = started.end_s + work.cleaning_s, welder, None
        self.left_s -= work.duration_s + work.cleaning_s
        after = self.passes[self.works[0].key].role if self.works else ""
        self.root_alone = self.passes[work.key].role == "root" and after not in ("", "root")
        return Slot(self.joint.id, self.passes[work.key].number, started, self.free_s, welder)


@dataclass(frozen=True, slots=True)
class _Choice:
    """What a welder may take next, and who asks and when."""

    ready: tuple[tuple[float, _Underway], ...]
    now_s: float
    welder: int

    def near(self, within_s: float) -> list[_Underway]:
        """The joints that are ready about as soon as the first."""
        soonest = min(at for at, _ in self.ready)
        return [piece for at, piece in self.ready if at <= soonest + within_s]


Pick = Callable[[_Choice], _Underway]


def _ready_first(choice: _Choice) -> _Underway:
    return max(choice.near(1.0), key=lambda piece: piece.left_s)


def _coldest_first(choice: _Choice) -> _Underway:
    return min(choice.near(1.0), key=lambda piece: piece.margin_k(choice.now_s))


def _stay(choice: _Choice) -> _Underway:
    """Stay with the joint in hand while it is ready in two minutes, then the one that is ready first."""
    own = [(at, piece) for at, piece in choice.ready if piece.welder == choice.welder]
    at, in_hand = max(own, key=lambda one: one[1].free_s, default=(math.inf, None))
    return in_hand if in_hand is not None and at <= choice.now_s + 120.0 else _ready_first(choice)


def _one_by_one(choice: _Choice) -> _Underway:
    own = [piece for _, piece in choice.ready if piece.welder in (0, choice.welder)]
    return max(own or [choice.ready[0][1]], key=lambda piece: piece.welder)


def _drawn(draw: random.Random) -> Pick:
    return lambda choice: draw.choice(choice.near(draw.choice((1.0, 60.0, NEAR_S))))


RULES: dict[str, Pick] = {"ready first": _ready_first, "coldest first": _coldest_first, "stay while it is ready": _stay, "one after the other": _one_by_one}
BASES = (_ready_first, _coldest_first, _stay)


class _Walk:
    """A board on its way: joints, when each welder is free, and what has been welded."""

    def __init__(self, jobs: Jobs, fins: Mapping[str, Fin], shift: Shift) -> None:
        self.shift = shift
        self.underway = [_Underway(j, Cooling(j, fins[j.id]), works_of(j, p, changes=False), {x.key: x for x in p.passes}) for j, p in jobs]
        self.order = tuple(joint_id for joint_id in shift.order if joint_id not in shift.left_out)
        self.free_s = [0.0] * shift.welders
        self.held: list[Setting | None] = [None] * shift.welders
        self.slots: list[Slot] = []

    def fork(self) -> _Walk:
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

    def choice(self) -> _Choice | None:
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
        ready = tuple((at, piece) for piece in live if math.isfinite(at := piece.ready_at(now, self.held[who])))
        return _Choice(ready, now, who + 1) if ready else None

    def _open_to(self, welder: int) -> list[_Underway]:
        """The joints a welder may take: first the own that goes in one go or whose root is bare, no other's; drawn places are kept."""
        shift = self.shift
        live = [piece for piece in self.underway if piece.works]
        tied = [piece for piece in live if piece.welder and (piece.joint.id in shift.in_one_go or (piece.root_alone and not shift.root_alone))]
        if mine := [piece for piece in tied if piece.welder == welder]:
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

    def take(self, choice: _Choice, piece: _Underway) -> bool:
        """Weld the next pass of a joint; False if it never gets ready."""
        at = next(when for when, one in choice.ready if one is piece)
        welded = piece.passes[piece.works[0].key]
        slot = piece.weld(choice.welder, self._clear_of_breaks(piece, at))
        if slot is None:
            return False
        self.held[choice.welder - 1] = welded.rod.id, welded.amps
        self.slots.append(slot)
        self.free_s[choice.welder - 1] = slot.until_s
        return True

    def _clear_of_breaks(self, piece: _Underway, at_s: float) -> float:
        """The first time from which reheat, pass and cleaning meet no break."""
        work = piece.works[0]
        for _ in self.shift.pauses:
            start = piece.start_from(at_s)
            later = self.shift.after_pauses(at_s, start - at_s + work.duration_s + work.cleaning_s)
            if later == at_s or math.isinf(start):
                break
            at_s = later
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


def board_faults(joints: Sequence[Joint]) -> tuple[tuple[Joint, Remark], ...]:
    """What makes any of the joints impossible, each with its joint."""
    return tuple((joint, remark) for joint in joints for remark in heat_faults(joint))


def first_boards(jobs: Jobs, shift: Shift | None = None) -> tuple[Board, ...]:
    """The boards of the fixed rules, best first; empty if there is no joint or one never cools to its limit."""
    shift = shift or Shift()
    jobs, fins = _prepared(jobs, shift)
    if not jobs:
        return ()
    made = [board for name, rule in RULES.items() if (board := _Walk(jobs, fins, shift).to_the_end(rule, name)) is not None]
    if not made:
        return ()
    alone = next((b.end_s for b in made if b.rule == "one after the other"), math.inf)
    bound = _bound(jobs, fins, shift.welders)
    return tuple(sorted((replace(b, one_by_one_s=alone, bound_s=bound) for b in made), key=lambda b: b.end_s))


def improved(jobs: Jobs, best: Board, shift: Shift | None = None) -> Iterator[Board]:
    """The best board so far, again and again while it is sought: every choice tried to its end, then drawn variations."""
    shift = shift or Shift()
    best = every_order(jobs, best, shift)
    yield best
    taken: tuple[str, ...] = ()
    while len(taken) < len(best.slots) and not good_enough(best):
        best, taken = rolled_out(jobs, best, shift, taken)
        yield best
    for seed in range(TRIES):
        if good_enough(best):
            return
        best = varied(jobs, best, shift, seed, 1)
        yield best


def every_order(jobs: Jobs, best: Board, shift: Shift) -> Board:
    """The best board there is, where the orders are few enough to walk them all; else the best so far."""
    jobs, fins = _prepared(jobs, shift)
    counts = [len(plan.passes) for _, plan in jobs]
    if math.factorial(sum(counts)) > MOST_ORDERS * math.prod(math.factorial(n) for n in counts):
        return best
    left = [_Walk(jobs, fins, shift)]
    while left:
        walk = left.pop()
        choice = walk.choice()
        for _, piece in choice.ready if choice is not None else ():
            tried = walk.fork()
            if tried.forced((piece.joint.id,)):
                if tried.goes_on:
                    left.append(tried)
                else:
                    best = _better(best, Board(tuple(tried.slots), max(slot.until_s for slot in tried.slots), "every order tried"))
    return best


def good_enough(board: Board) -> bool:
    """True where the search has nothing left to gain."""
    return board.end_s <= board.bound_s * (1 + WITHIN)


def rolled_out(jobs: Jobs, best: Board, shift: Shift, taken: tuple[str, ...]) -> tuple[Board, tuple[str, ...]]:
    """One choice further: after the joints taken so far each of the soonest ready is tried next, and the rest walked on by each rule.

    Returns the best board so far, and the joints taken with the choice that came to the best end; all
    passes taken means that nothing is left to try.
    """
    jobs, fins = _prepared(jobs, shift)
    walk = _Walk(jobs, fins, shift)
    choice = walk.choice() if walk.forced(taken) and walk.goes_on else None
    ends: list[tuple[float, str]] = []
    soonest = sorted(choice.ready, key=lambda one: one[0])[:MOST_TRIED] if choice is not None else ()
    for (_, piece), rule in itertools.product(soonest, BASES):
        tried = walk.fork()
        board = tried.to_the_end(rule, "every choice tried") if tried.forced((piece.joint.id,)) else None
        if board is not None:
            best = _better(best, board)
            ends.append((board.end_s, piece.joint.id))
    return best, (*taken, min(ends)[1]) if ends else best.order


def varied(jobs: Jobs, best: Board, shift: Shift, seed: int, tries: int) -> Board:
    """The best board so far after some drawn variations."""
    jobs, fins = _prepared(jobs, shift)
    draw = random.Random(seed)
    for _ in range(tries):
        best = _better(best, _Walk(jobs, fins, shift).to_the_end(_drawn(draw), "drawn"))
    return best


def _better(best: Board, tried: Board | None) -> Board:
    if tried is None or tried.end_s > best.end_s - 1.0:
        return best
    return edited(tried, one_by_one_s=best.one_by_one_s, bound_s=best.bound_s)


def _prepared(jobs: Jobs, shift: Shift) -> tuple[Jobs, dict[str, Fin]]:
    """The joints that are on the board, and their models."""
    jobs = [job for job in jobs if job[0].id not in shift.left_out]
    return jobs, {joint.id: fin_of(joint, plan) for joint, plan in jobs}


def _bound(jobs: Jobs, fins: Mapping[str, Fin], welders: int) -> float:
    """No board ends sooner than all the work shared out, nor than the longest joint by itself."""
    work = sum(w.duration_s + w.cleaning_s + w.before_s for joint, plan in jobs for w in works_of(joint, plan, changes=False))
    alone = [(schedule_of(joint, plan, fins[joint.id]), _changes_s(joint, plan)) for joint, plan in jobs]
    return max(work / welders, *(schedule.end_s - schedule.reheating_s - changes for schedule, changes in alone))


def _changes_s(joint: Joint, plan: Plan) -> float:
    """What a joint's own changes of rod and current take at most."""
    return joint.working.choices.setting_change_s * len(changed(plan.passes))


def work_list(jobs: Jobs, board: Board, shift: Shift, say: Speech) -> list[str]:
    """Lines to walk by, in time: when, which joint and pass with what, until when."""
    passes = {(joint.id, p.key): p for joint, plan in jobs for p in plan.passes}
    lines = []
    for slot in board.in_time:
        p = passes[slot.joint_id, slot.started.key]
        line = say("board.line.welder" if shift.welders > 1 else "board.line", begins=shift.clock(slot.started.start_s, say), welder=str(slot.welder),
                   joint=slot.joint_id, number=str(p.number), rod=Figure(p.rod.id, "rod"), amps=Figure(p.amps, "current"),
                   ends=shift.clock(slot.until_s, say))  # fmt: skip
        if slot.started.reheat_s:
            first = "board.line.preheat" if p.number == 1 else "board.line.reheat"
            line = f"{line} {say(first, lasts=Figure(60 * round(slot.started.reheat_s / 60), 'duration'))}"
        lines.append(line)
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
