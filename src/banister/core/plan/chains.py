"""The layers of an answer: which wish each of the four stands for."""

from __future__ import annotations

from collections.abc import Sequence

from banister.core.joint.working import BALANCED, COOLEST, FEWEST
from banister.core.plan import rules
from banister.core.plan.climb import solve
from banister.core.plan.layers import Layer, LayerProgram, Wish
from banister.core.plan.rules import Option
from banister.core.value import Struct, replace

COOLEST_BEADS = 1.5
HEAT_BISECTIONS = 5


def bead_count(layers: Sequence[Layer]) -> int:
    """Number of beads in a layer plan."""
    return sum(layer.count for layer in layers)


def peak_energy(layers: Sequence[Layer]) -> float:
    """Greatest arc energy of a layer plan, kJ/mm."""
    return max(layer.area_mm2 * layer.option.energy_per_area for layer in layers)


class Chain(Struct, frozen=True):
    """The layers of an answer from the bare groove, and the wish they are optimal for: the rest from any state follows from it."""

    layers: tuple[Layer, ...]
    wish: Wish


def coolest(program: LayerProgram, balanced: Sequence[Layer]) -> Chain:
    """Least peak energy, then least time, with at most 1.5 times the balanced beads and one more."""
    most = COOLEST_BEADS * bead_count(balanced) + 1
    best, wish = list(balanced), Wish(BALANCED)
    high = peak_energy(best)
    low = min(high, max(_least_energy(program.options[role]) for role in ("root", "cap")))
    for _ in range(HEAT_BISECTIONS):
        middle = (low + high) / 2
        asked = Wish(FEWEST, middle)
        tried = solve(program, asked)
        if tried is None or bead_count(tried) > most:
            low = middle
        else:
            best, wish = tried, asked
            high = min(middle, peak_energy(tried))
    quickest = Wish(COOLEST, high)
    quicker = solve(program, quickest)
    return Chain(tuple(quicker), quickest) if quicker is not None and bead_count(quicker) <= most else Chain(tuple(best), wish)


def _least_energy(options: Sequence[Option]) -> float:
    """No plan's peak is below the smallest bead of a role it cannot do without."""
    return min(rules.PLAN_ROOM[0] * o.low * o.energy_per_area for o in options)


def optimal(program: LayerProgram, answer: str, balanced: Sequence[Layer]) -> Chain | None:
    """The optimal layer plan for one of the four answers, or None where no plan is allowed."""
    if answer == COOLEST:
        return coolest(program, balanced)
    layers = balanced if answer == BALANCED else solve(program, Wish(answer))
    return None if layers is None else Chain(tuple(layers), Wish(answer))


def wished(program: LayerProgram, wish: Wish) -> Chain | None:
    """The optimal layers for a wish."""
    layers = solve(program, wish)
    return None if layers is None else Chain(tuple(layers), wish)


def rewished(program: LayerProgram, chain: Chain, weight_s: float) -> Chain | None:
    """A chain solved again with another weight on reveal and dome: where the one that saves seconds leaves a cap that misses."""
    return wished(program, replace(chain.wish, weight_s=weight_s))
