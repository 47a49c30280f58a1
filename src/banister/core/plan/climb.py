"""The layer plan: the true optimum of a stated, additive cost, by dynamic programming over height and rod.

States are the heights of the tables and the rod and current last used: another rod or current than before
costs the time to change it. The sweep over heights is left with one small sum for every rod.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.plan import rules
from banister.core.plan.layers import CapTable, Layer, LayerProgram, LayerTable, Setting, Wish, setting_of
from banister.core.value import Struct

if TYPE_CHECKING:
    from banister.core.plan.layers import Floats, Ints


def solve(program: LayerProgram, wish: Wish, start_y: float | None = None, stage: str = "root", last: Setting | None = None) -> list[Layer] | None:
    """The optimal layers from the bare groove, or from a level with the root (hot) pass done with the `last` rod and current."""
    if stage == "root" and not program.roots(wish).state.size and program.at_once(wish) is None:
        return None  # nothing to begin with: the way up need not be looked for
    if wish not in program.climbs:
        program.climbs[wish] = climbed(program, wish)
    climb = program.climbs[wish]
    if stage == "root":
        return climb.from_root()
    k = program.nearest(program.joint.prep.thickness_mm if start_y is None else start_y)
    return climb.after_root(k, last) if stage == "hot" else climb.from_state(k, last)


class Climb(Struct, frozen=True, eq=False):
    """The solved program for one wish. `onward[s, k]` is the least cost from state k whose next layer is welded with setting s,
    `value[r, k]` the least from state k after setting r: a change of rod or current costs `change_s`.

    `by_fill[s, k]` is the option of the fill layer behind `onward`, -1 where it is the cap.
    """

    program: LayerProgram
    wish: Wish
    settings: tuple[Setting, ...]
    caps: CapTable
    fill: LayerTable | None
    onward: Floats
    value: Floats
    by_fill: Ints

    @property
    def change_s(self) -> float:
        """What another rod or current costs, seconds."""
        return self.program.joint.choices.setting_change_s

    def index(self, last: Setting | None) -> int | None:
        """The number of a setting; None where nothing was welded yet, or with one that is not offered any more."""
        return self.settings.index(last) if last in self.settings else None

    def numbers(self, role: str) -> list[int]:
        """The setting of every option of a role."""
        return [self.settings.index(setting_of(option)) for option in self.program.options[role]]

    def changes(self, last: int | None) -> Floats:
        """What it costs to go on with each setting."""
        cost = np.full(len(self.settings), self.change_s if last is not None else 0.0)
        if last is not None:
            cost[last] = 0.0
        return cost

    def from_state(self, k: int, last: Setting | None) -> list[Layer] | None:
        """The fill layers and the cap from a state."""
        found: list[Layer] = []
        at = self.index(last)
        while True:
            ahead = self.onward[:, k] + self.changes(at)
            s = int(ahead.argmin())
            if not math.isfinite(ahead[s]):
                return None
            o = int(self.by_fill[s, k])
            if o < 0 or self.fill is None:
                offered = [o for o, number in enumerate(self.numbers("cap")) if number == s]
                return [*found, self.program.cap(self.caps, min(offered, key=lambda o: float(self.caps.cost[o, k])), k)]
            first = k + self.fill.first
            m = int((self.fill.cost[o, k] + self.value[s, first : first + self.fill.cost.shape[2]]).argmin())
            found.append(self.program.layer("fill", self.fill, o, k, k, m))
            k, at = first + m, s

    def after_root(self, k: int, last: Setting | None) -> list[Layer] | None:
        """The rest of the plan over a root that reaches state k: a hot pass where one is offered and the groove is deep enough."""
        number, plan = self.index(last), None
        best = float(self._skipping(np.array([k]), number)[0])
        hot = self._hot(k, k + 1)
        if hot is not None:
            ahead = self._with_hot(hot, np.array([k]), k, number)[:, 0]
            o = int(ahead.argmin())
            if ahead[o] < best:
                m = int(self._over(hot, o, np.array([k]), k)[0].argmin())
                best, plan = float(ahead[o]), self.program.layer("hot", hot, o, k, 0, m)
        if not math.isfinite(best):
            return None
        if plan is None:
            return self.from_state(k, last)
        rest = self.from_state(self.program.nearest(plan.y1), setting_of(plan.option))
        return None if rest is None else [plan, *rest]

    def _hot(self, start: int, end: int) -> LayerTable | None:
        program = self.program
        return program.fill_choices("hot", self.wish, start, end) if program.joint.prep.open_root and program.options["hot"] else None

    def _skipping(self, states: Ints, last: int | None) -> Floats:
        """Least cost from each state whose root gets no hot pass."""
        program = self.program
        least = (self.onward[:, states] + self.changes(last)[:, None]).min(axis=0)
        if program.joint.prep.open_root and program.options["hot"]:
            least[program.joint.prep.thickness_mm - program.y[states] > rules.HOT_SKIPPED_BELOW_MM + 1e-9] = math.inf
        return np.asarray(least)

    def _over(self, hot: LayerTable, o: int, states: Ints, start: int) -> Floats:
        """Cost of a hot pass of an option and of all after it, by state and thickness step; `start` is the state the table begins with."""
        number, tops = self.numbers("hot")[o], states[:, None] + hot.first + np.arange(hot.cost.shape[2])
        inside = np.minimum(tops, self.value.shape[1] - 1)  # above the face there is none, and the table says so
        return np.asarray(hot.cost[o, states - start] + self.value[number, inside])

    def _with_hot(self, hot: LayerTable, states: Ints, start: int, last: int | None) -> Floats:
        """Least cost from each state after a setting with a hot pass next, by option and state."""
        changes = self.changes(last)
        return np.array([self._over(hot, o, states, start).min(axis=1) + changes[number] for o, number in enumerate(self.numbers("hot"))])

    def from_root(self) -> list[Layer] | None:
        """The optimal layers from the bare groove."""
        layered, at_once = self._layered(), self.program.at_once(self.wish)
        if at_once is None:
            return layered
        return [at_once] if layered is None or at_once.cost < self.cost(layered) else layered

    def _layered(self) -> list[Layer] | None:
        roots = self.program.roots(self.wish)
        if not roots.state.size:
            return None
        start = int(roots.state.min())
        hot = self._hot(start, int(roots.state.max()) + 1)
        after = np.empty(roots.state.size)
        for o, number in enumerate(self.numbers("root")):
            mine = roots.option == o
            states = roots.state[mine]
            after[mine] = self._skipping(states, number)
            if hot is not None:
                after[mine] = np.minimum(after[mine], self._with_hot(hot, states, start, number).min(axis=0))
        root = self.program.root(roots, int((roots.cost + after).argmin()))
        rest = self.after_root(self.program.nearest(root.y1), setting_of(root.option))
        return None if rest is None else [root, *rest]

    def cost(self, layers: Sequence[Layer]) -> float:
        """What layers cost with the changes between them."""
        changes = sum(setting_of(a.option) != setting_of(b.option) for a, b in itertools.pairwise(layers))
        return sum(layer.cost for layer in layers) + self.change_s * changes


def climbed(program: LayerProgram, wish: Wish) -> Climb:
    """The sweep over states from the face down: solved once for a wish, for planning goes on from many states."""
    options = program.options
    settings = tuple(dict.fromkeys(setting_of(option) for role in ("root", "hot", "fill", "cap") for option in options[role]))
    caps, fill = program.caps(wish), program.fill_choices("fill", wish) if options["fill"] else None
    states, span = len(program.y), 0 if fill is None else fill.first + fill.cost.shape[2]
    onward = np.full((len(settings), states), np.inf)
    for option, cost in zip(options["cap"], caps.cost, strict=True):
        s = settings.index(setting_of(option))
        onward[s] = np.minimum(onward[s], cost)
    climb = Climb(program, wish, settings, caps, fill, onward, np.full((len(settings), states + span), np.inf), np.full(onward.shape, -1, dtype=np.int64))
    _sweep(climb)
    return climb


def _sweep(climb: Climb) -> None:
    """Fill in the least costs from the highest states down, a block at a time: a layer is no thinner than `first`, so many states need only those above."""
    fill, onward, value, change_s = climb.fill, climb.onward, climb.value, climb.change_s
    states = onward.shape[1]
    if fill is None:
        value[:, :states] = np.minimum(onward, onward.min(axis=0) + change_s)
        return
    numbers, which = climb.numbers("fill"), np.arange(fill.cost.shape[0])[:, None]
    over = np.full((len(numbers), value.shape[1]), np.inf)
    ahead = np.lib.stride_tricks.sliding_window_view(over, fill.cost.shape[2], axis=1)
    for end in range(states, 0, -fill.first):
        block = slice(max(end - fill.first, 0), end)
        above = slice(block.start + fill.first, end + fill.first)
        least = (fill.cost[:, block] + ahead[:, above]).min(axis=2)
        better = least < onward[numbers, block]
        onward[numbers, block] = np.where(better, least, onward[numbers, block])
        climb.by_fill[numbers, block] = np.where(better, which, -1)
        value[:, block] = np.minimum(onward[:, block], onward[:, block].min(axis=0) + change_s)
        over[:, block] = value[numbers, block]
