"""The layer plan: the true optimum of a stated, additive cost, by dynamic programming over height.

States are heights in steps of about 0.1 mm. A layer goes from one state to a higher one with a rod
and a number of beads; only the cheapest of all rods and counts matters for a pair of states, so the
choices are reduced first, in bulk, and the sweep over states is left with one small sum each.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.groove import Groove
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.rules import Option
from banister.core.plan.timing import changes_s, cleaning_s
from banister.core.rods.rod import ROUNDING_RODS

STEP_MM = 0.1
BALANCED, QUICKEST, COOLEST, FEWEST = "balanced", "quickest", "coolest", "fewest"
ANSWERS = (BALANCED, QUICKEST, COOLEST, FEWEST)
PREFERENCE_S = 60.0
REVEAL_S, TIE_S = 60.0, 0.06
"""What half a millimetre off the wanted reveal or dome costs: a minute where the plan is to be easy, else it only decides between equals."""
PER_BEAD = 1e6
COOLEST_BEADS = 1.5
HEAT_BISECTIONS = 5
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


@dataclass(frozen=True, slots=True)
class LayerTable:
    """Per pair (state, thickness step): least cost, which option and how many beads."""

    first: int
    cost: Floats
    option: Ints
    count: Ints


class LayerProgram:
    """The dynamic program of one joint. `start` and `from_stage` re-plan from a real level."""

    def __init__(
        self, joint: PlanInputs, groove: Groove, options: dict[str, tuple[Option, ...]], step_mm: float = STEP_MM
    ) -> None:
        self.joint, self.groove, self.options = joint, groove, options
        steps = max(4, round(joint.prep.thickness_mm / step_mm))
        self.step = joint.prep.thickness_mm / steps
        self.y = np.arange(steps + 1) * self.step
        self.area = groove.area_below(self.y)
        self.width = groove.width(self.y)
        self.on_metal = joint.prep.backing in ("bar", "closed")
        self.in_nose = joint.prep.backing == "closed"
        self._climbs: dict[Wish, _Climb] = {}

    def beads_cost(
        self, option: Option, wish: Wish, area: Floats, count: Floats, y: Floats | float
    ) -> Floats:
        """The stated cost of `count` beads sharing `area` at height y, seconds: whole rods are changed."""
        rod, choices, length = option.rod, self.joint.choices, self.joint.weld_length_mm(y)
        rods = area / count * (length / rod.deposit_mm3)
        changes = changes_s(choices, np.ceil(rods - ROUNDING_RODS))
        seconds = count * (cleaning_s(choices, length) + changes + rods * rod.burn_time_s(option.amps))
        if wish.answer == BALANCED:
            each = area / count
            seconds = seconds + count * PREFERENCE_S * ((each - option.middle) / option.half) ** 2
        if wish.answer == FEWEST:
            seconds = seconds + PER_BEAD * count
        return np.asarray(seconds)

    def fill_choices(
        self, role: str, wish: Wish, start: int = 0, end: int | None = None, only: int | None = None
    ) -> LayerTable:
        """All layers of a role between any two states, reduced to the cheapest option and count."""
        options = self.options[role]
        end = len(self.y) if end is None else end
        smallest = min(o.rod.diameter_mm for o in options)
        largest = max(o.rod.diameter_mm for o in options)
        first = max(1, math.ceil(rules.THICKNESS_CORES[0] * smallest / self.step - 1e-9))
        thickest = min(rules.MOST_LAYER_MM, rules.WEAVE_THICKNESS_CORES * largest)
        if role == "root" and self.in_nose:
            thickest = min(rules.NOSE_MOST_MM, rules.NOSE_THICKNESS_CORES * largest)
        last = max(first, math.floor(thickest / self.step + 1e-9))
        rows = end - start
        k = np.arange(start, end)[:, None]
        m = np.arange(first, last + 1)[None, :]
        top = np.minimum(k + m, len(self.y) - 1)
        beyond = k + m > len(self.y) - 1
        area = self.area[top] - self.area[start:end, None]
        width = self.width[top]
        y = self.y[start:end, None] + m * self.step / 2
        thickness = np.asarray(m * self.step, dtype=np.float64)
        best = np.full((rows, m.size), np.inf)
        which = np.zeros((rows, m.size), dtype=np.int64)
        beads = np.zeros((rows, m.size), dtype=np.int64)
        for index, option in enumerate(options):
            if not option.is_open:
                continue
            for cost, count in self._counted(role, option, wish, area, width, thickness, y, only):
                cost = np.where(beyond, np.inf, cost)
                better = cost < best
                best[better] = cost[better]
                which[better] = index
                beads[better] = count[better] if isinstance(count, np.ndarray) else count
        return LayerTable(first, best, which, beads)

    def _counted(
        self, role: str, o: Option, wish: Wish, area: Floats, width: Floats,
        thickness: Floats, y: Floats, only: int | None,
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
        found: list[tuple[Floats, Ints | int]] = []
        if only in (None, 1):
            one = (
                (width <= o.across_mm) & (area >= low) & (area <= high) & (thickness <= deepest * width)
                & (thickness >= rules.THICKNESS_CORES[0] * d - 1e-9) & (thickness <= most + 1e-9)
                & (width >= least_width)
            )  # fmt: skip
            if role == "fill":
                one &= width <= rules.WIDEST_PER_THICKNESS * thickness
            cost = self.beads_cost(o, wish, area, np.asarray(1.0), y)
            found.append((np.where(one, cost, np.inf), 1))
        if only != 1:
            found.append(self._side_by_side(role, o, wish, area, width, thickness, y, (low, high), only))
        return found

    def _side_by_side(
        self, role: str, o: Option, wish: Wish, area: Floats, width: Floats,
        thickness: Floats, y: Floats, window: tuple[float, float], only: int | None,
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
        if only is not None:
            least, most = np.maximum(least, only), np.minimum(most, only)
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

    def _cheapest_count(
        self, o: Option, wish: Wish, area: Floats, y: Floats, least: Floats, most: Floats
    ) -> tuple[Floats, Ints]:
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

    def caps(self, wish: Wish, only: int | None = None) -> list[Layer | None]:
        """For every state, the cheapest cap from it to the face, or None."""
        best: list[Layer | None] = [None] * len(self.y)
        below = self.joint.prep.thickness_mm - self.y
        low, high = rules.REVEAL_MM
        states = np.flatnonzero((below >= low - 1e-9) & (below <= high + 1e-9))
        limit = rules.cap_limit(self.joint, self.groove)
        flattest, highest, _ = rules.domes(self.joint)
        domes = np.arange(flattest, min(highest, limit - 0.4) + 1e-9, 0.1)
        if not states.size:
            return best
        if not domes.size:
            domes = np.array([max(0.8, limit - 0.5)])
        for option in self.options["cap"]:
            for count in self.cap_counts(option) if only is None else (only,):
                self._better_caps(option, count, wish, states, domes, best)
        if self.on_metal and self.joint.prep.thickness_mm <= rules.one_bead_up_to_mm(self.joint) + 1e-9:
            for option in self.options["cap"]:
                self._better_caps(option, 1, wish, np.zeros(1, dtype=np.int64), domes, best, at_once=True)
        return best

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

    def _better_caps(
        self, o: Option, count: int, wish: Wish, states: Ints, domes: Floats, best: list[Layer | None], at_once: bool = False
    ) -> None:
        """Caps of one option and count, kept where they are cheaper; `at_once`: one bead is root and cap."""
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

    def solve(self, wish: Wish, start_y: float | None = None, stage: str = "root") -> list[Layer] | None:
        """The optimal layers from the bare groove, or from a level with the root (hot) pass done."""
        climb = self._climb(wish)
        if stage == "root":
            return self._from_root(wish, climb)
        k = self.nearest(self.joint.prep.thickness_mm if start_y is None else start_y)
        return self._after_root(k, wish, climb) if stage == "hot" else climb.from_state(k)

    def _climb(self, wish: Wish) -> _Climb:
        """The solved fill for a wish; solved once, for planning goes on from many states."""
        if wish not in self._climbs:
            self._climbs[wish] = self._solved(wish)
        return self._climbs[wish]

    def _solved(self, wish: Wish) -> _Climb:
        caps = self.caps(wish)
        value = np.array([math.inf if cap is None else cap.cost for cap in caps])
        fill = self.fill_choices("fill", wish) if self.options["fill"] else None
        step_up = np.full(len(self.y), -1, dtype=np.int64)
        if fill is not None:
            span = fill.cost.shape[1]
            padded = np.concatenate((value, np.full(fill.first + span, math.inf)))
            for k in range(len(self.y) - 1, -1, -1):
                reach = fill.cost[k] + padded[k + fill.first : k + fill.first + span]
                m = int(reach.argmin())
                if reach[m] < padded[k]:
                    padded[k], step_up[k] = reach[m], m
            value = padded[: len(self.y)]
        return _Climb(self, caps, value, fill, step_up)

    def nearest(self, y: float) -> int:
        """The state nearest to a height."""
        return int(min(max(round(y / self.step), 0), len(self.y) - 1))

    def _hot(self, wish: Wish, climb: _Climb, start: int, end: int) -> tuple[Floats, LayerTable | None]:
        """Least cost from each state start..end with the root done, and the hot passes behind it."""
        bare = climb.value[start:end].copy()
        if not self.joint.prep.open_root or not self.options["hot"]:
            return bare, None
        bare[self.joint.prep.thickness_mm - self.y[start:end] > rules.HOT_SKIPPED_BELOW_MM + 1e-9] = math.inf
        hot = self.fill_choices("hot", wish, start, end)
        return bare, hot

    def _after_root(self, k: int, wish: Wish, climb: _Climb) -> list[Layer] | None:
        """The rest of the plan over a root that reaches state k."""
        bare, hot = self._hot(wish, climb, k, k + 1)
        return self._over(k, 0, bare, hot, climb)

    def _over(
        self, k: int, row: int, bare: Floats, hot: LayerTable | None, climb: _Climb
    ) -> list[Layer] | None:
        best, pick = float(bare[row]), -1
        if hot is not None:
            ahead = self._ahead(hot, climb, k, k + 1)[0] + hot.cost[row]
            m = int(ahead.argmin())
            if ahead[m] < best:
                best, pick = float(ahead[m]), m
        if not math.isfinite(best):
            return None
        if pick < 0 or hot is None:
            return climb.from_state(k)
        rest = climb.from_state(k + hot.first + pick)
        return None if rest is None else [self.layer("hot", hot, k, row, pick), *rest]

    def _ahead(self, choices: LayerTable, climb: _Climb, start: int, end: int) -> Floats:
        """Values of the states reached from start..end by each thickness of a choice table."""
        span = choices.cost.shape[1]
        padded = np.concatenate((climb.value, np.full(choices.first + span, math.inf)))
        return np.lib.stride_tricks.sliding_window_view(padded[choices.first :], span)[start:end]

    def _from_root(self, wish: Wish, climb: _Climb) -> list[Layer] | None:
        layered, at_once = self._layered(wish, climb), climb.caps[0]
        if at_once is None or not self.on_metal:
            return layered
        cheaper = layered is None or at_once.cost < sum(layer.cost for layer in layered)
        return [at_once] if cheaper else layered

    def _layered(self, wish: Wish, climb: _Climb) -> list[Layer] | None:
        roots = self.roots(wish)
        if not roots:
            return None
        start, end = min(k for _, k in roots), max(k for _, k in roots) + 1
        bare, hot = self._hot(wish, climb, start, end)
        after = bare
        if hot is not None:
            after = np.minimum(bare, (hot.cost + self._ahead(hot, climb, start, end)).min(axis=1))
        root, k = min(roots, key=lambda found: found[0].cost + after[found[1] - start])
        rest = self._over(k, k - start, bare, hot, climb)
        return None if rest is None else [root, *rest]

    def roots(self, wish: Wish) -> list[tuple[Layer, int]]:
        """Every root the options can lay, with the state it reaches."""
        if not self.options["root"]:
            return []
        if self.on_metal:
            choices = self.fill_choices("root", wish, 0, 1)
            return [
                (self.layer("root", choices, 0, 0, m), choices.first + m)
                for m in range(choices.cost.shape[1])
                if math.isfinite(choices.cost[0, m])
            ]
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

    def layer(self, role: str, choices: LayerTable, k: int, row: int, m: int) -> Layer:
        """The layer behind an entry of a choice table."""
        top = k + choices.first + m
        count = int(choices.count[row, m])
        each = float(self.area[top] - self.area[k]) / count
        option = self.options[role][int(choices.option[row, m])]
        cost = float(choices.cost[row, m])
        return Layer(role, option, count, float(self.y[k]), float(self.y[top]), each, cost)


@dataclass(frozen=True, slots=True)
class _Climb:
    """The solved fill: value of every state and the way up from it."""

    program: LayerProgram
    caps: list[Layer | None]
    value: Floats
    fill: LayerTable | None
    step_up: Ints

    def from_state(self, k: int) -> list[Layer] | None:
        """The fill layers and the cap from a state."""
        if not math.isfinite(self.value[k]):
            return None
        found: list[Layer] = []
        while self.fill is not None and self.step_up[k] >= 0:
            m = int(self.step_up[k])
            found.append(self.program.layer("fill", self.fill, k, k, m))
            k += self.fill.first + m
        cap = self.caps[k]
        return None if cap is None else [*found, cap]


def bead_count(layers: Sequence[Layer]) -> int:
    """Number of beads in a layer plan."""
    return sum(layer.count for layer in layers)


def peak_energy(layers: Sequence[Layer]) -> float:
    """Greatest arc energy of a layer plan, kJ/mm."""
    return max(layer.area_mm2 * layer.option.energy_per_area for layer in layers)


@dataclass(frozen=True, slots=True)
class Chain:
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
        tried = program.solve(asked)
        if tried is None or bead_count(tried) > most:
            low = middle
        else:
            best, wish = tried, asked
            high = min(middle, peak_energy(tried))
    quickest = Wish(COOLEST, high)
    quicker = program.solve(quickest)
    return Chain(tuple(quicker), quickest) if quicker is not None and bead_count(quicker) <= most else Chain(tuple(best), wish)


def _least_energy(options: Sequence[Option]) -> float:
    """No plan's peak is below the smallest bead of a role it cannot do without."""
    return min(rules.PLAN_ROOM[0] * o.low * o.energy_per_area for o in options)


def optimal(program: LayerProgram, answer: str, balanced: Sequence[Layer]) -> Chain | None:
    """The optimal layer plan for one of the four answers, or None where no plan is allowed."""
    if answer == COOLEST:
        return coolest(program, balanced)
    layers = balanced if answer == BALANCED else program.solve(Wish(answer))
    return None if layers is None else Chain(tuple(layers), Wish(answer))


def rewished(program: LayerProgram, chain: Chain, weight_s: float) -> Chain | None:
    """A chain solved again with another weight on reveal and dome: where the one that saves seconds leaves a cap that misses."""
    wish = replace(chain.wish, weight_s=weight_s)
    layers = program.solve(wish)
    return None if layers is None else Chain(tuple(layers), wish)
