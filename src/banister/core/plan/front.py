"""The front of what can be had: plans that no other beats in time, peak arc energy and passes together, and what lies between its ends.

For caps on the peak, each 5 % under the last plan's, the quickest plan and the one of fewest passes are solved
exactly. Each point is optimal; plans between two caps are not looked for. Times are the layer program's: arc, rods,
cleaning, changes; no waits and no turns.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from banister.core.joint.working import ANSWERS, FEWEST, QUICKEST, cap_of, capped
from banister.core.plan.chains import bead_count, peak_energy
from banister.core.plan.climb import climbed
from banister.core.plan.layers import PER_BEAD, Layer, Wish
from banister.core.plan.one_side import SideStudy
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

CAP_STEP, MOST_CAPS = 0.95, 24
ALIKE_TIME, ALIKE_PEAK = 1.01, 1.03
"""A plan this little quicker, or cooler, than another is not told apart from it."""


class FrontPoint(Struct, frozen=True):
    """A plan of the front: its time, greatest arc energy (k = 1) and passes, and the wish it answers on every side."""

    time_s: float
    peak_kj_mm: float
    passes: int
    wish: Wish

    @property
    def answer(self) -> str:
        """The answer that is this point and stays it when the joint changes: its kind, with no pass over its peak."""
        return capped(self.wish.answer, self.peak_kj_mm)


def front_of(sides: Sequence[SideStudy]) -> tuple[FrontPoint, ...]:
    """The front of a joint, the quickest first; empty where a side cannot be planned."""
    found: list[FrontPoint] = []
    cap = math.inf
    for _ in range(MOST_CAPS):
        quick = _point(sides, Wish(QUICKEST, cap))
        if quick is None:
            break
        few = _point(sides, Wish(FEWEST, cap))
        found += [point for point in (quick, few) if point is not None]
        cap = CAP_STEP * quick.peak_kj_mm
    kept: list[FrontPoint] = []
    for point in sorted(found, key=lambda p: (p.time_s, p.peak_kj_mm, p.passes)):
        if not any(_beats(other, point) for other in kept):
            kept.append(point)
    return tuple(kept)


def _point(sides: Sequence[SideStudy], wish: Wish) -> FrontPoint | None:
    """One wish on every side: times and passes add, peaks do not."""
    seconds, passes, peak = 0.0, 0, 0.0
    for side in sides:
        climb = climbed(side.program, wish)
        layers: Sequence[Layer] | None = climb.from_root()
        if layers is None:
            return None
        seconds += climb.cost(layers) - (PER_BEAD * bead_count(layers) if wish.answer == FEWEST else 0.0)
        passes, peak = passes + bead_count(layers), max(peak, peak_energy(layers))
    return FrontPoint(seconds, peak, passes, wish)


def _beats(a: FrontPoint, b: FrontPoint) -> bool:
    """True where a point is as good in all three, within what is told apart."""
    return a.time_s <= ALIKE_TIME * b.time_s and a.peak_kj_mm <= ALIKE_PEAK * b.peak_kj_mm and a.passes <= b.passes


def in_between(front: Sequence[FrontPoint]) -> FrontPoint:
    """The point whose worst share of the way from best to worst, in time, peak and passes, is least."""
    axes = [[getattr(point, name) for point in front] for name in ("time_s", "peak_kj_mm", "passes")]

    def worst(i: int) -> float:
        return max((axis[i] - min(axis)) / (max(axis) - min(axis)) if max(axis) > min(axis) else 0.0 for axis in axes)

    return front[min(range(len(front)), key=worst)]


def answer_said(answer: str, say: Speech) -> str:
    """What an answer is called: easiest to hold; quickest up to 1.86 kJ/mm."""
    cap = cap_of(answer)
    return say(f"answer.{answer}") if cap is None else say("answer.capped", answer=say(f"answer.{cap[0]}"), peak=Figure(cap[1], "energy"))


class Card(Struct, frozen=True):
    """One plan and the answers it is, the one it is called by first."""

    answers: tuple[str, ...]
    plan: Plan


def cards(plans: Mapping[str, Plan], chosen: str) -> tuple[Card, ...]:
    """Plans told apart: answers that are one plan share a card; fewest passes is only shown where it saves one, or is chosen; with a cap only the chosen."""
    found: list[Card] = []
    for answer in dict.fromkeys((*ANSWERS, chosen)):
        plan = plans.get(answer)
        if plan is None:
            continue
        alike = next((i for i, card in enumerate(found) if is_alike(card.plan, plan)), None)
        if alike is not None and answer == FEWEST != chosen and not _fewer(plan, plans):
            continue
        if alike is not None:
            found[alike] = Card((*found[alike].answers, answer), found[alike].plan)
        elif answer != FEWEST or answer == chosen or _saves(plan, plans.get(QUICKEST)):
            found.append(Card((answer,), plan))
    return tuple(found)


def _fewer(plan: Plan, plans: Mapping[str, Plan]) -> bool:
    """True where another answer takes more passes."""
    return not plan.feasible or any(len(plan.passes) < len(other.passes) for other in plans.values())


def _saves(plan: Plan, quickest: Plan | None) -> bool:
    return quickest is None or not plan.feasible or len(plan.passes) < len(quickest.passes)


def is_alike(a: Plan, b: Plan) -> bool:
    """True where two plans lay the same beads with the same rods and settings."""

    def beads(plan: Plan) -> list[tuple[object, ...]]:
        return [(p.side, p.role, p.rod.id, p.amps, round(p.area_mm2, 1)) for p in plan.passes]

    return a.feasible == b.feasible and beads(a) == beads(b) and (a.feasible or a.reasons == b.reasons)
