"""Who is welded while the others cool: fixed rules at once, then a search that always takes the same steps.

The rules: whoever is ready first, the longest chain first, whoever is about to fall below preheat first, stay with
the joint in hand; one joint after the other is the yardstick. The search tries every order where they are few, else
every choice to its end, then drawn variations from fixed seeds: its effort is counted in steps, so that a busy
machine finds the same board later. Boards are compared by their end and by how often a joint is left.
"""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Iterator

from banister.core.heat.board import Board, Jobs
from banister.core.heat.board_walk import Pick, Piece, Walk, coldest_first, drawn, longest_first, one_by_one, pieces_of, ready_first, stay
from banister.core.heat.shift import Shift
from banister.core.value import Struct, replace

WITHIN = 0.02
"""The search stops within 2 % of the lower bound."""
MOST_TRIED = 5
MOST_ORDERS = 100
"""So few orders of all passes are all tried."""
MOST_CHOICES = 400
ROUNDS, TRIES = 12, 10
"""Drawn variations come in rounds, so that something better is shown as soon as it is found."""
ONE_BY_ONE = "one after the other"
RULES: dict[str, Pick] = {
    "longest chain first": longest_first, "ready first": ready_first, "coldest first": coldest_first, "stay while it is ready": stay, ONE_BY_ONE: one_by_one,
}  # fmt: skip
BASES = (longest_first, ready_first, coldest_first, stay)


class Sought(Struct, frozen=True):
    """The best board so far, and what is being tried: `choices` or `variations` (empty before), how far, of how many."""

    best: Board
    trying: str = ""
    done: int = 0
    most: int = 0


def first_boards(jobs: Jobs, shift: Shift | None = None) -> tuple[Board, ...]:
    """The boards of the fixed rules, best first; empty if there is no joint or one never cools to its limit."""
    shift = shift or Shift()
    return _first(pieces_of(jobs, shift), shift)


def sought(jobs: Jobs, shift: Shift | None = None) -> Iterator[Sought]:
    """The best board of the fixed rules, then the best so far after each step; nothing where `first_boards` is empty."""
    shift = shift or Shift()
    pieces = pieces_of(jobs, shift)
    if not (boards := _first(pieces, shift)):
        return
    best = boards[0]
    yield Sought(best)
    best = _every_order(pieces, best, shift)
    yield Sought(best)
    taken: tuple[str, ...] = ()
    while not _good_enough(best, shift) and len(taken) < (most := min(len(best.slots), MOST_CHOICES)):
        best, taken = _rolled_out(pieces, best, shift, taken)
        yield Sought(best, "choices", len(taken), most)
    for seed in range(ROUNDS):
        if _good_enough(best, shift):
            return
        best = _varied(pieces, best, shift, seed)
        yield Sought(best, "variations", seed + 1, ROUNDS)


def _first(pieces: tuple[Piece, ...], shift: Shift) -> tuple[Board, ...]:
    if not pieces:
        return ()
    made = [board for name, rule in RULES.items() if (board := Walk(pieces, shift).to_the_end(rule, name)) is not None]
    alone = next((b.end_s for b in made if b.rule == ONE_BY_ONE), math.inf)
    bound = max(sum(one.work_s for one in pieces) / shift.welders, *(one.least_s for one in pieces))
    return tuple(sorted((replace(b, one_by_one_s=alone, bound_s=bound) for b in made), key=lambda b: b.cost_s(shift)))


def _every_order(pieces: tuple[Piece, ...], best: Board, shift: Shift) -> Board:
    """The best board there is, where the orders are few enough to walk them all; else the best so far."""
    counts = [len(one.plan.passes) for one in pieces]
    if math.factorial(sum(counts)) > MOST_ORDERS * math.prod(math.factorial(n) for n in counts):
        return best
    left = [Walk(pieces, shift)]
    while left:
        walk = left.pop()
        choice = walk.choice()
        for _, piece in choice.ready if choice is not None else ():
            tried = walk.fork()
            if tried.forced((piece.joint.id,)):
                if tried.goes_on:
                    left.append(tried)
                else:
                    best = _better(best, Board(tuple(tried.slots), max(slot.until_s for slot in tried.slots), "every order tried"), shift)
    return best


def _good_enough(board: Board, shift: Shift) -> bool:
    """True where nothing worth the search is left to gain."""
    return board.cost_s(shift) <= board.bound_s * (1 + WITHIN)


def _rolled_out(pieces: tuple[Piece, ...], best: Board, shift: Shift, taken: tuple[str, ...]) -> tuple[Board, tuple[str, ...]]:
    """One choice further: after the joints taken so far each of the soonest ready is tried next, and the rest walked on by each rule.

    Returns the best board so far, and the joints taken with the choice that came to the best end; all
    passes taken means that nothing is left to try.
    """
    walk = Walk(pieces, shift)
    choice = walk.choice() if walk.forced(taken) and walk.goes_on else None
    ends: list[tuple[float, str]] = []
    soonest = sorted(choice.ready, key=lambda one: one[0])[:MOST_TRIED] if choice is not None else ()
    for (_, piece), rule in itertools.product(soonest, BASES):
        tried = walk.fork()
        board = tried.to_the_end(rule, "every choice tried") if tried.forced((piece.joint.id,)) else None
        if board is not None:
            best = _better(best, board, shift)
            ends.append((board.cost_s(shift), piece.joint.id))
    return best, (*taken, min(ends)[1]) if ends else best.order


def _varied(pieces: tuple[Piece, ...], best: Board, shift: Shift, seed: int) -> Board:
    """The best board so far after some drawn variations."""
    draw = random.Random(seed)
    for _ in range(TRIES):
        best = _better(best, Walk(pieces, shift).to_the_end(drawn(draw), "drawn"), shift)
    return best


def _better(best: Board, tried: Board | None, shift: Shift) -> Board:
    if tried is None or tried.cost_s(shift) > best.cost_s(shift) - 1.0:
        return best
    return replace(tried, one_by_one_s=best.one_by_one_s, bound_s=best.bound_s)
