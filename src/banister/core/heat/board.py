"""Several joints and one welder: who is welded while the others cool.

Two rules at once (whoever is ready first, then most work left; whoever is about to fall below preheat
first), one joint after the other as the yardstick, and drawn variations in the background. A pass is
only started inside its limits, whatever the rule.
"""

from __future__ import annotations

import copy
import math
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from banister.core.finding import Finding
from banister.core.heat.fin import Fin
from banister.core.heat.schedule import Cooling, Started, Work, cooling_of, schedule_of, start, works_of
from banister.core.heat.thermal import fin_of, heat_faults
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.units import parsed_clock_s

TRIES = 60
WITHIN = 0.02
"""Drawn variations stop when they are within 2 % of the lower bound."""


@dataclass(frozen=True, slots=True)
class Slot:
    """One pass on the board."""

    joint_id: str
    started: Started
    until_s: float


@dataclass(frozen=True, slots=True)
class Pause:
    """A time in which nobody welds, seconds from the start of the shift."""

    from_s: float
    to_s: float


@dataclass(frozen=True, slots=True)
class Board:
    """All passes in the order one welder walks them, the rule that made it, and what it is measured by."""

    slots: tuple[Slot, ...]
    end_s: float
    rule: str
    one_by_one_s: float = math.inf
    bound_s: float = 0.0

    @property
    def saved(self) -> float:
        """Share of the time that interleaving saves against one joint after the other."""
        return 1 - self.end_s / self.one_by_one_s if math.isfinite(self.one_by_one_s) and self.one_by_one_s > 0 else 0.0


@dataclass
class _Lane:
    """One joint on the way: its cooling, the passes left, and when it was cleaned."""

    joint: Joint
    cooling: Cooling
    works: list[Work]
    passes: dict[str, Pass]
    free_s: float = 0.0
    left_s: float = field(init=False)

    def __post_init__(self) -> None:
        self.left_s = sum(w.duration_s + w.cleaning_s for w in self.works)

    def ready_at(self, now_s: float) -> float:
        """When the next pass may start, not before now."""
        earliest = max(now_s, self.free_s) + self.works[0].before_s
        self.cooling.carry_to(max(self.cooling.now_s, self.free_s))
        return max(earliest, self.cooling.now_s + self.cooling.ready_s())

    def margin_k(self, now_s: float) -> float:
        """How far it is above its preheat now."""
        probe = copy.copy(self.cooling)
        probe.pending = list(self.cooling.pending)
        probe.carry_to(max(probe.now_s, now_s))
        return float(probe.temps(probe.far_reading).min()) - self.cooling.limits.preheat_c


@dataclass(frozen=True, slots=True)
class Shift:
    """What the user lays down: pauses, joints kept together once begun, and the end of the shift (s from its start)."""

    pauses: tuple[Pause, ...] = ()
    locked: frozenset[str] = frozenset()
    until_s: float = math.inf

    def done(self, board: Board) -> tuple[tuple[Slot, ...], tuple[Slot, ...]]:
        """The passes that are finished and cleaned by the end of the shift, and those left for the next."""
        fit = next((i for i, slot in enumerate(board.slots) if slot.until_s > self.until_s + 1e-9), len(board.slots))
        return board.slots[:fit], board.slots[fit:]


FREE = Shift()
Rule = Callable[[list[tuple[float, _Lane]], float], _Lane]


def _ready_first(found: list[tuple[float, _Lane]], now_s: float) -> _Lane:
    soonest = min(at for at, _ in found)
    return max((lane for at, lane in found if at <= soonest + 1.0), key=lambda lane: lane.left_s)


def _coldest_first(found: list[tuple[float, _Lane]], now_s: float) -> _Lane:
    soonest = min(at for at, _ in found)
    return min((lane for at, lane in found if at <= soonest + 1.0), key=lambda lane: lane.margin_k(now_s))


def _stay(found: list[tuple[float, _Lane]], now_s: float) -> _Lane:
    """Stay with the joint in hand while it is ready in two minutes, then the warmest that is begun."""
    in_hand = max(found, key=lambda f: f[1].free_s)
    if in_hand[1].free_s > 0 and in_hand[0] <= now_s + 120.0:
        return in_hand[1]
    return _ready_first(found, now_s)


def _one_by_one(found: list[tuple[float, _Lane]], now_s: float) -> _Lane:
    return found[0][1]


def _drawn(draw: random.Random) -> Rule:
    def pick(found: list[tuple[float, _Lane]], now_s: float) -> _Lane:
        soonest = min(at for at, _ in found)
        near = [lane for at, lane in found if at <= soonest + draw.choice((1.0, 60.0, 240.0))]
        return draw.choice(near)

    return pick


RULES: dict[str, Rule] = {"ready first": _ready_first, "coldest first": _coldest_first, "stay while it is ready": _stay, "one after the other": _one_by_one}


def board_faults(joints: Sequence[Joint]) -> tuple[Finding, ...]:
    """What makes any of the joints impossible, each with its name."""
    return tuple(
        Finding(f.code, f.severity, f"{joint.id}: {f.text}", f.remedy, basis=f.basis) for joint in joints for f in heat_faults(joint)
    )  # fmt: skip


def first_boards(jobs: Sequence[tuple[Joint, Plan]], shift: Shift = FREE) -> tuple[Board, ...]:
    """The boards of the fixed rules, best first; empty if a joint never cools to its limit."""
    fins = {joint.id: fin_of(joint) for joint, _ in jobs}
    made = [board for name, rule in RULES.items() if (board := _walked(jobs, fins, rule, name, shift)) is not None]
    if not made:
        return ()
    alone = next((b.end_s for b in made if b.rule == "one after the other"), math.inf)
    bound = _bound(jobs, fins)
    rated = [Board(b.slots, b.end_s, b.rule, alone, bound) for b in made]
    return tuple(sorted(rated, key=lambda b: b.end_s))


def improved(jobs: Sequence[tuple[Joint, Plan]], best: Board, shift: Shift = FREE, seed: int = 1) -> Iterator[Board]:
    """The best board so far after every drawn variation, until nothing is left to gain or all are tried."""
    fins = {joint.id: fin_of(joint) for joint, _ in jobs}
    draw = random.Random(seed)
    for _ in range(TRIES):
        if best.end_s <= best.bound_s * (1 + WITHIN):
            return
        tried = _walked(jobs, fins, _drawn(draw), "drawn", shift)
        if tried is not None and tried.end_s < best.end_s - 1.0:
            best = Board(tried.slots, tried.end_s, tried.rule, best.one_by_one_s, best.bound_s)
        yield best


def _bound(jobs: Sequence[tuple[Joint, Plan]], fins: dict[str, Fin]) -> float:
    """No board ends sooner than all the work, nor than the longest joint by itself."""
    work = sum(w.duration_s + w.cleaning_s + w.before_s for joint, plan in jobs for w in works_of(joint, plan))
    alone = [schedule_of(joint, plan, fins[joint.id]) for joint, plan in jobs]
    return max(work, *(schedule.end_s - schedule.reheating_s for schedule in alone))


def _walked(jobs: Sequence[tuple[Joint, Plan]], fins: dict[str, Fin], rule: Rule, name: str, shift: Shift) -> Board | None:
    lanes = [_Lane(j, cooling_of(j, fins[j.id]), list(works_of(j, p)), {x.id: x for x in p.passes}) for j, p in jobs]
    now, slots = 0.0, list[Slot]()
    while live := [lane for lane in lanes if lane.works]:
        live = [lane for lane in live if lane.free_s > 0 and lane.joint.id in shift.locked] or live
        found = [(lane.ready_at(now), lane) for lane in live]
        if all(math.isinf(at) for at, _ in found):
            return None
        lane = rule([f for f in found if math.isfinite(f[0])], now)
        at = next(when for when, one in found if one is lane)
        work = lane.works.pop(0)
        at = _after_pauses(at, work.duration_s + work.cleaning_s, shift.pauses)
        lane.cooling.carry_to(max(at, lane.cooling.now_s))
        begun = start(lane.cooling, lane.passes[work.pass_id])
        if begun is None:
            return None
        lane.cooling.weld(work, begun.start_s)
        lane.free_s = now = lane.cooling.now_s + work.cleaning_s
        lane.left_s -= work.duration_s + work.cleaning_s
        slots.append(Slot(lane.joint.id, replace(begun, end_s=lane.cooling.now_s), now))
    return Board(tuple(slots), now, name)


def _after_pauses(at: float, seconds: float, pauses: Sequence[Pause]) -> float:
    """The first time from `at` on at which a stretch of work meets no pause."""
    for pause in sorted(pauses, key=lambda p: p.from_s):
        if at < pause.to_s and at + seconds > pause.from_s:
            at = pause.to_s
    return at


def walking_list(board: Board, names: dict[str, dict[str, str]], clock: Callable[[float], str]) -> list[str]:
    """Lines to walk by: when, which joint and pass, until when. `names` gives a pass's words by joint and id."""
    return [
        f"{clock(slot.started.start_s)} {slot.joint_id} {names[slot.joint_id][slot.started.pass_id]}, until {clock(slot.until_s)}"
        + (f" (reheat first, {slot.started.reheat_s / 60:.0f} min)" if slot.started.reheat_s else "") for slot in board.slots
    ]  # fmt: skip


def parsed_pause(text: str, start_s: float) -> Pause:
    """A break like 12:00..12:30 in a shift that begins at `start_s`; a ValueError says what is wrong."""
    begin, dots, end = text.partition("..")
    if not dots:
        raise ValueError(f"'{text}' should read like 12:00..12:30")
    pause = Pause(parsed_clock_s(begin) - start_s, parsed_clock_s(end) - start_s)
    if pause.to_s <= pause.from_s:
        raise ValueError(f"the break '{text}' ends before it begins")
    return pause


def left_in_words(board: Board, shift: Shift, clock: Callable[[float], str]) -> list[str]:
    """What the end of the shift leaves undone, by joint; nothing where all is finished."""
    done, left = shift.done(board)
    if not left:
        return []
    first = {slot.joint_id: slot.started.pass_id.removeprefix("p") for slot in reversed(left)}
    joints = ", ".join(f"{joint} from pass {number}" for joint, number in sorted(first.items()))
    return [f"by {clock(shift.until_s)}: {len(done)} of {len(board.slots)} passes; left for the next shift: {joints}. Cover a joint left part-welded, "
            "and preheat it again."]  # fmt: skip
