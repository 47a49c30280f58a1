"""The layer plan: the true optimum of a stated, additive cost, by dynamic programming over height and rod.

States are heights in steps of about 0.1 mm and the rod and current last used: a layer goes from one
height to a higher one with a rod and a number of beads, and another rod or current than before costs the
time to change it. Only the cheapest count matters for a rod and a pair of heights, so the choices are
reduced first, in bulk, and the sweep over heights is left with one small sum for every rod.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.groove import Groove
from banister.core.joint.working import BALANCED, FEWEST
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.rules import Option
from banister.core.plan.timing import changes_s, cleaning_s
from banister.core.rods.rod import ROUNDING_RODS

STEP_MM = 0.1
PREFERENCE_S = 60.0
REVEAL_S, TIE_S = 60.0, 0.06
"""What half a millimetre off the wanted reveal or dome costs: a minute where the plan is to be easy, else it only decides between equals."""
FREEDOM_S, FREE_MM = 20.0, 25.0
"""What stops without any freedom cost a pass, and the freedom from which they cost nothing (shop figures: 25 mm apart is what is wanted)."""
PER_BEAD = 1e6
if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]
    Ints = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Layer:
    """A planned layer from `y0` to `y1` (mm): `count` beads of `area_mm2` each."""

    role: str
    option: Option
    count: int
    y0: float
    y1: float
    area_mm2: float
    cost: float
    dome_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Wish:
    """What is to be least: the answer's name, a cap on arc energy (kJ/mm) for the coolest, and another weight on reveal and dome than its own."""

    answer: str
    energy_cap: float = math.inf
    weight_s: float | None = None

    @property
    def reveal_s(self) -> float:
        """What half a millimetre off the wanted reveal or dome costs, seconds."""
        if self.weight_s is not None:
            return self.weight_s
        return REVEAL_S if self.answer == BALANCED else TIE_S


Setting = tuple[str, float]
"""A rod and its current: another one costs the time to change it."""


def setting_of(option: Option) -> Setting:
    """The rod and current an option is welded with."""
    return option.rod.id, option.amps


@dataclass(frozen=True, slots=True)
class LayerTable:
    """Per option, state and thickness step (options, states, steps): least cost, infinite where a rule forbids, and how many beads."""

    first: int
    cost: Floats
    count: Ints


class LayerProgram:
    """The dynamic program of one joint. `start` and `from_stage` re-plan from a real level."""

    def __init__(self, joint: PlanInputs, groove: Groove, options: dict[str, tuple[Option, ...]], step_mm: float = STEP_MM) -> None:
        self.joint, self.groove, self.options = joint, groove, options
        steps = max(4, round(joint.prep.thickness_mm / step_mm))
        self.step = joint.prep.thickness_mm / steps
        self.y = np.arange(steps + 1) * self.step
        self.area = groove.area_below(self.y)
        self.width = groove.width(self.y)
        self.runs = joint.runs
        self.on_metal = joint.prep.backing in ("bar", "closed")
        self.in_nose = joint.prep.backing == "closed"
        self._climbs: dict[Wish, Climb] = {}
        self._roots: dict[Wish, list[tuple[Layer, int]]] = {}

    def beads_cost(self, option: Option, wish: Wish, area: Floats, count: Floats, y: Floats | float) -> Floats:
        """The stated cost of `count` beads sharing `area` at height y, seconds: whole rods are changed."""
        rod, choices, length, runs = option.rod, self.joint.choices, self.joint.weld_length_mm(y), self.runs
        rods = area / count * (length / rod.deposit_mm3)
        changes = changes_s(choices, runs * np.ceil(rods / runs - ROUNDING_RODS))
        seconds = count * (cleaning_s(choices, length) + changes + rods * rod.burn_time_s(option.amps))
        if wish.answer == BALANCED:
            each = area / count
            seconds = seconds + count * (PREFERENCE_S * ((each - option.middle) / option.half) ** 2 + self._little_freedom_s(rods, length))
        if wish.answer == FEWEST:
            seconds = seconds + PER_BEAD * count
        return np.asarray(seconds)

    def _little_freedom_s(self, rods: Floats, length: Floats | float) -> Floats:
        """What a run-out costs that nearly divides the length: its stops have nowhere to go, and stops of touching passes meet.

        What whole rods reach over the run is all the freedom its stops have; a pass of one rod has no stops.
        """
        each = np.maximum(rods / self.runs, 1e-9)
        whole = np.ceil(each - ROUNDING_RODS)
        free = np.maximum(whole / each - 1.0, 0.0) * (length / self.runs)
        short = np.maximum(1.0 - free / FREE_MM, 0.0)
        return np.where(whole > 1, FREEDOM_S * short * short, 0.0)

    def fill_choices(self, role: str, wish: Wish, start: int = 0, end: int | None = None) -> LayerTable:
        """All layers of a role from the states `start` to `end`, each with its cheapest count, option by option."""
        options = self.options[role]
        end = len(self.y) if end is None else end
        smallest = min(o.rod.diameter_mm for o in options)
        largest = max(o.rod.diameter_mm for o in options)
        first = max(1, math.ceil(rules.THICKNESS_CORES[0] * smallest / self.step - 1e-9))
        thickest = min(rules.MOST_LAYER_MM, rules.WEAVE_THICKNESS_CORES * largest)
        if role == "root" and self.in_nose:
            thickest = min(rules.NOSE_MOST_MM, rules.NOSE_THICKNESS_CORES * largest)
        last = max(first, math.floor(thickest / self.step + 1e-9))
        k = np.arange(start, end)[:, None]
        m = np.arange(first, last + 1)[None, :]
        top = np.minimum(k + m, len(self.y) - 1)
        beyond = k + m > len(self.y) - 1
        area = self.area[top] - self.area[start:end, None]
        width = self.width[top]
        y = self.y[start:end, None] + m * self.step / 2
        thickness = np.asarray(m * self.step, dtype=np.float64)
        best = np.full((len(options), end - start, m.size), np.inf)
        beads = np.zeros(best.shape, dtype=np.int64)
        for index, option in enumerate(options):
            if not option.is_open:
                continue
            for cost, count in self._counted(role, option, wish, area, width, thickness, y):
                cost = np.where(beyond, np.inf, cost)
                better = cost < best[index]
                best[index][better] = cost[better]
                beads[index][better] = count[better] if isinstance(count, np.ndarray) else count
        return LayerTable(first, best, beads)

    def _counted(
        self, role: str, o: Option, wish: Wish, area: Floats, width: Floats,
        thickness: Floats, y: Floats,
    ) -> list[tuple[Floats, Ints | int]]:  # fmt: skip
        """Costs (infinite where a rule forbids) for one bead across, and for the best n >= 2."""
        d = o.rod.diameter_mm
        low, high = rules.PLAN_ROOM[0] * o.low, rules.PLAN_ROOM[1] * o.high
        high = min(high, wish.energy_cap / o.energy_per_area)
        weaving = width > rules.STRINGER_ACROSS_CORES * d
        most = np.where(weaving, rules.WEAVE_THICKNESS_CORES, rules.THICKNESS_CORES[1]) * d
        deepest, least_width = 1.0, rules.ROD_FITS_CORES * d
        if role == "root":
            most = np.full_like(width, rules.WEAVE_THICKNESS_CORES * d)
        if role == "root" and self.in_nose:
            most, least_width = np.full_like(width, rules.NOSE_THICKNESS_CORES * d), rules.NOSE_WIDTH_CORES * d
            deepest = rules.NOSE_THICKNESS_WIDTHS
        one = (
            (width <= o.across_mm) & (area >= low) & (area <= high) & (thickness <= deepest * width)
            & (thickness >= rules.THICKNESS_CORES[0] * d - 1e-9) & (thickness <= most + 1e-9)
            & (width >= least_width)
        )  # fmt: skip
        if role == "fill":
            one &= width <= rules.WIDEST_PER_THICKNESS * thickness
        cost = self.beads_cost(o, wish, area, np.asarray(1.0), y)
        return [(np.where(one, cost, np.inf), 1), self._side_by_side(role, o, wish, area, width, thickness, y, (low, high))]

    def _side_by_side(
        self, role: str, o: Option, wish: Wish, area: Floats, width: Floats,
        thickness: Floats, y: Floats, window: tuple[float, float],
    ) -> tuple[Floats, Ints]:  # fmt: skip
        d, (low, high) = o.rod.diameter_mm, window
        narrow, wide = rules.PITCH_SHARE[0] * o.stringer_mm, o.widest_pitch_mm
        least = np.maximum(2, np.ceil(np.maximum(width / wide, area / high) - 1e-9))
        most = np.floor(np.minimum(np.minimum(width / narrow, area / low),
                                   width / (rules.PITCH_PER_THICKNESS * thickness)) + 1e-9)  # fmt: skip
        if role == "root":
            most = np.minimum(most, rules.ROOT_BEADS_ON_BAR)
        if role == "hot":
            most = np.where(width > o.across_mm, most, 0)
        allowed = (
            (least <= most) & (thickness >= rules.THICKNESS_CORES[0] * d - 1e-9)
            & (thickness <= rules.SIDE_BY_SIDE_THICKNESS_CORES * d + 1e-9)
        )  # fmt: skip
        best = np.full(area.shape, np.inf)
        count = np.zeros(area.shape, dtype=np.int64)
        cells = np.nonzero(allowed)
        if cells[0].size:
            best[cells], count[cells] = self._cheapest_count(o, wish, area[cells], y[cells], least[cells], most[cells])
        return best, count

    def _cheapest_count(self, o: Option, wish: Wish, area: Floats, y: Floats, least: Floats, most: Floats) -> tuple[Floats, Ints]:
        """Least cost over all counts allowed: whole rods make it jump, so every count is tried."""
        if wish.answer == FEWEST:
            return self.beads_cost(o, wish, area, least, y), least.astype(np.int64)
        best = np.full(area.shape, np.inf)
        count = np.zeros(area.shape, dtype=np.int64)
        for n in range(int(least.min()), int(most.max()) + 1):
            some = np.flatnonzero((least <= n) & (n <= most))
            cost = self.beads_cost(o, wish, area[some], np.asarray(float(n)), y[some])
            better = cost < best[some]
            best[some[better]], count[some[better]] = cost[better], n
        return best, count

    def caps(self, wish: Wish) -> list[list[Layer | None]]:
        """For every option and state, the cheapest cap from it to the face, or None."""
        best: list[list[Layer | None]] = [[None] * len(self.y) for _ in self.options["cap"]]
        below = self.joint.prep.thickness_mm - self.y
        low, high = rules.REVEAL_MM
        states = np.flatnonzero((below >= low - 1e-9) & (below <= high + 1e-9))
        if states.size:
            for option, found in zip(self.options["cap"], best, strict=True):
                for count in self.cap_counts(option):
                    self._better_caps(option, count, wish, states, found)
        return best

    def at_once(self, wish: Wish) -> Layer | None:
        """The cheapest bead that is root and cap in one, where the joint is small enough for it."""
        if not self.on_metal or self.joint.prep.thickness_mm > rules.one_bead_up_to_mm(self.joint) + 1e-9:
            return None
        found: list[Layer | None] = [None] * len(self.y)
        for option in self.options["cap"]:
            self._better_caps(option, 1, wish, np.zeros(1, dtype=np.int64), found, at_once=True)
        return found[0]

    def _domes(self) -> Floats:
        """Heights of the cap over the chord of its edges that are tried."""
        limit = rules.cap_limit(self.joint, self.groove)
        flattest, highest, _ = rules.domes(self.joint)
        domes = np.arange(flattest, min(highest, limit - 0.4) + 1e-9, 0.1)
        return domes if domes.size else np.array([max(0.8, limit - 0.5)])

    def cap_counts(self, option: Option) -> tuple[int, ...]:
        """How many beads a cap takes with a rod: one across where it reaches, else 42 % overlap."""
        width = self.cap_width
        b = option.stringer_mm
        more = self.joint.choices.extra_cap_bead
        counts = {1} if width <= option.across_mm and not more else set()
        if width > rules.ROD_FITS_CORES * option.rod.diameter_mm:
            needed = 1 + math.ceil((width - b) / (rules.CAP_COVER * b) - 1e-9)
            needed = max(needed, math.ceil(width / option.widest_pitch_mm - 1e-9))
            if needed > 1 or more:
                counts |= {needed + 1} if more else {needed, needed + 1}
        return tuple(sorted(counts))

    @property
    def cap_width(self) -> float:
        """Cap width, toe to toe."""
        return self.groove.top_width_mm + 2 * self.joint.choices.cap_overlap_mm

    def dome_width(self, option: Option) -> float:
        """Area of a cap above flush per height: flat with parabolic shoulders half a stringer wide."""
        return self.cap_width - min(option.stringer_mm, self.cap_width) / 3

    def _better_caps(self, o: Option, count: int, wish: Wish, states: Ints, best: list[Layer | None], at_once: bool = False) -> None:
        """Caps of one option and count, kept where they are cheaper; `at_once`: one bead is root and cap."""
        domes = self._domes()
        total = self.groove.area_mm2 - self.area[states][:, None] + (domes * self.dome_width(o))[None, :]
        low, high = rules.PLAN_ROOM[0] * o.low, rules.PLAN_ROOM[1] * o.high
        high = min(high, wish.energy_cap / o.energy_per_area)
        t = self.joint.prep.thickness_mm
        depth = (t - self.y[states])[:, None] + domes[None, :]
        allowed = (total / count >= low) & (total / count <= high)
        in_one_run = at_once and self.joint.prep.kind.fillet
        allowed &= depth <= (rules.ONE_RUN_CORES if in_one_run else rules.WEAVE_THICKNESS_CORES) * o.rod.diameter_mm
        if not allowed.any():
            return
        cost = self.beads_cost(o, wish, total, np.asarray(float(count)), t)
        reveal = np.where(at_once, 0.0, (t - self.y[states] - self.joint.choices.reveal_mm)[:, None])
        cost = cost + wish.reveal_s * ((reveal / 0.5) ** 2 + ((domes[None, :] - rules.domes(self.joint)[2]) / 0.5) ** 2)
        cost = np.where(allowed, cost, np.inf)
        pick = np.argmin(cost, axis=1)
        for row, k in enumerate(states):
            value = float(cost[row, pick[row]])
            known = best[k]
            if value < math.inf and (known is None or value < known.cost):
                each = float(total[row, pick[row]]) / count
                best[k] = Layer("cap", o, count, float(self.y[k]), t, each, value, float(domes[pick[row]]))

    def solve(self, wish: Wish, start_y: float | None = None, stage: str = "root", last: Setting | None = None) -> list[Layer] | None:
        """The optimal layers from the bare groove, or from a level with the root (hot) pass done with the `last` rod and current."""
        if stage == "root" and not self.roots(wish) and self.at_once(wish) is None:
            return None  # nothing to begin with: the way up need not be looked for
        if wish not in self._climbs:
            self._climbs[wish] = climbed(self, wish)
        climb = self._climbs[wish]
        if stage == "root":
            return climb.from_root()
        k = self.nearest(self.joint.prep.thickness_mm if start_y is None else start_y)
        return climb.after_root(k, last) if stage == "hot" else climb.from_state(k, last)

    def nearest(self, y: float) -> int:
        """The state nearest to a height."""
        return int(min(max(round(y / self.step), 0), len(self.y) - 1))

    def roots(self, wish: Wish) -> list[tuple[Layer, int]]:
        """Every root the options can lay, with the state it reaches."""
        if wish not in self._roots:
            self._roots[wish] = self._laid_roots(wish)
        return self._roots[wish]

    def _laid_roots(self, wish: Wish) -> list[tuple[Layer, int]]:
        if not self.options["root"]:
            return []
        if self.on_metal:
            choices = self.fill_choices("root", wish, 0, 1)
            cells = zip(*np.nonzero(np.isfinite(choices.cost[:, 0, :])), strict=True)
            return [(self.layer("root", choices, int(o), 0, 0, int(m)), choices.first + int(m)) for o, m in cells]
        found = []
        below = rules.root_metal_below(self.joint)
        least = rules.throat_mm(self.joint)
        for option in self.options["root"]:
            if self.joint.prep.open_root and not rules.can_bridge(self.joint, option.rod):
                continue
            low, high = rules.PLAN_ROOM[0] * option.low, rules.PLAN_ROOM[1] * option.high
            high = min(high, wish.energy_cap / option.energy_per_area)
            area = self.area + below
            states = np.flatnonzero((area >= low) & (area <= high) & (self.y >= least - 1e-9))
            for k in states[:-1] if states.size and states[-1] == len(self.y) - 1 else states:
                each = np.asarray(area[k])
                cost = float(self.beads_cost(option, wish, each, np.asarray(1.0), float(self.y[k]) / 2))
                y1 = float(self.y[k])
                found.append((Layer("root", option, 1, 0.0, y1, float(each), cost), int(k)))
        return found

    def layer(self, role: str, choices: LayerTable, o: int, k: int, row: int, m: int) -> Layer:
        """The layer behind an entry of a choice table."""
        top = k + choices.first + m
        count = int(choices.count[o, row, m])
        each = float(self.area[top] - self.area[k]) / count
        return Layer(role, self.options[role][o], count, float(self.y[k]), float(self.y[top]), each, float(choices.cost[o, row, m]))


@dataclass(frozen=True, slots=True, eq=False)
class Climb:
    """The solved program for one wish. `onward[k, s]` is the least cost from state k whose next layer is welded with setting s,
    `value[k, r]` the least from state k after setting r: a change of rod or current costs `change_s`.

    `step_up[k, s]` is the fill layer behind `onward` (option, thickness step), (-1, -1) where it is the cap.
    """

    program: LayerProgram
    wish: Wish
    settings: tuple[Setting, ...]
    caps: list[list[Layer | None]]
    fill: LayerTable | None
    onward: Floats
    value: Floats
    step_up: Ints

    @property
    def change_s(self) -> float:
        """What another rod or current costs, seconds."""
        return self.program.joint.choices.setting_change_s

    def index(self, last: Setting | None) -> int | None:
        """The number of a setting; None where nothing was welded yet, or with one that is not offered any more."""
        return self.settings.index(last) if last in self.settings else None

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
            ahead = self.onward[k] + self.changes(at)
            s = int(ahead.argmin())
            if not math.isfinite(ahead[s]):
                return None
            o, m = (int(v) for v in self.step_up[k, s])
            if o < 0 or self.fill is None:
                caps = (row[k] for option, row in zip(self.program.options["cap"], self.caps, strict=True) if setting_of(option) == self.settings[s])
                return [*found, min((cap for cap in caps if cap is not None), key=lambda cap: cap.cost)]
            found.append(self.program.layer("fill", self.fill, o, k, k, m))
            k, at = k + self.fill.first + m, s

    def after_root(self, k: int, last: Setting | None) -> list[Layer] | None:
        """The rest of the plan over a root that reaches state k: a hot pass where one is offered and the groove is deep enough."""
        best, plan = self._skipping(k, last), None
        hot = self._hot(k, k + 1)
        if hot is not None:
            ahead = self._over(hot, k, self.index(last))
            o, m = np.unravel_index(int(ahead.argmin()), ahead.shape)
            if ahead[o, m] < best:
                best, plan = float(ahead[o, m]), self.program.layer("hot", hot, int(o), k, 0, int(m))
        if not math.isfinite(best):
            return None
        if plan is None:
            return self.from_state(k, last)
        rest = self.from_state(self.program.nearest(plan.y1), setting_of(plan.option))
        return None if rest is None else [plan, *rest]

    def _hot(self, start: int, end: int) -> LayerTable | None:
        program = self.program
        return program.fill_choices("hot", self.wish, start, end) if program.joint.prep.open_root and program.options["hot"] else None

    def _skipping(self, k: int, last: Setting | None) -> float:
        """Least cost from a state whose root gets no hot pass."""
        program = self.program
        is_deep = program.joint.prep.thickness_mm - program.y[k] > rules.HOT_SKIPPED_BELOW_MM + 1e-9
        if is_deep and program.joint.prep.open_root and program.options["hot"]:
            return math.inf
        return float((self.onward[k] + self.changes(self.index(last))).min())

    def _over(self, hot: LayerTable, k: int, last: int | None, row: int = 0) -> Floats:
        """Cost of a hot pass and all after it, by option and thickness step."""
        numbers = [self.settings.index(setting_of(option)) for option in self.program.options["hot"]]
        ahead = self.value[k + hot.first : k + hot.first + hot.cost.shape[2], numbers].T
        return np.asarray(hot.cost[:, row, :] + ahead + self.changes(last)[numbers][:, None])

    def from_root(self) -> list[Layer] | None:
        """The optimal layers from the bare groove."""
        layered, at_once = self._layered(), self.program.at_once(self.wish)
        if at_once is None:
            return layered
        return [at_once] if layered is None or at_once.cost < self.cost(layered) else layered

    def _layered(self) -> list[Layer] | None:
        roots = self.program.roots(self.wish)
        if not roots:
            return None
        start, end = min(k for _, k in roots), max(k for _, k in roots) + 1
        hot = self._hot(start, end)
        after: dict[tuple[int, Setting], float] = {}
        for root, k in roots:
            key = k, setting_of(root.option)
            if key not in after:
                least = self._skipping(k, key[1])
                after[key] = least if hot is None else min(least, float(self._over(hot, k, self.index(key[1]), k - start).min()))
        root, k = min(roots, key=lambda found: found[0].cost + after[found[1], setting_of(found[0].option)])
        rest = self.after_root(k, setting_of(root.option))
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
    onward = np.full((states, len(settings)), np.inf)
    for option, row in zip(options["cap"], caps, strict=True):
        s = settings.index(setting_of(option))
        onward[:, s] = np.minimum(onward[:, s], [math.inf if cap is None else cap.cost for cap in row])
    value = np.full((states + span, len(settings)), np.inf)
    step_up = np.full((states, len(settings), 2), -1, dtype=np.int64)
    numbers = [settings.index(setting_of(option)) for option in options["fill"]]
    change_s = program.joint.choices.setting_change_s
    block = states if fill is None else max(fill.first, 1)  # a layer is no thinner than `first`: so many states only need those above them
    for end in range(states, 0, -block):
        ks = np.arange(max(end - block, 0), end)
        if fill is not None:
            ahead = np.lib.stride_tricks.sliding_window_view(value[ks[0] + fill.first : end - 1 + span, numbers], fill.cost.shape[2], axis=0)
            reach = fill.cost[:, ks, :] + ahead.transpose(1, 0, 2)
            steps = reach.argmin(axis=2)
            least = np.take_along_axis(reach, steps[..., None], axis=2)[..., 0]
            for o, s in enumerate(numbers):
                better = least[o] < onward[ks, s]
                onward[ks[better], s] = least[o, better]
                step_up[ks[better], s, 0], step_up[ks[better], s, 1] = o, steps[o, better]
        value[ks] = np.minimum(onward[ks], onward[ks].min(axis=1, keepdims=True) + change_s)
    return Climb(program, wish, settings, caps, fill, onward, value, step_up)
