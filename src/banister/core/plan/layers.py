"""What layers a joint can be filled with, and what each costs: the tables its layer plan is the optimum of.

States are heights in steps of about 0.1 mm: a layer goes from one height to a higher one with a rod and a
number of beads. Only the cheapest count matters for a rod and a pair of heights, so the choices are reduced
first, in bulk. What does not hang on a cap on the energy is worked out once for all caps.
"""

from __future__ import annotations

import math
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.groove import Groove
from banister.core.joint.working import BALANCED, FEWEST
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.rules import Option
from banister.core.plan.timing import changes_s, cleaning_s
from banister.core.rods.rod import ROUNDING_RODS
from banister.core.value import Struct

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
    Bools = NDArray[np.bool_]

    from banister.core.plan.climb import Climb


class Layer(Struct, frozen=True):
    """A planned layer from `y0` to `y1` (mm): `count` beads of `area_mm2` each."""

    role: str
    option: Option
    count: int
    y0: float
    y1: float
    area_mm2: float
    cost: float
    dome_mm: float = 0.0


class Wish(Struct, frozen=True):
    """What is to be least: the answer's name, a cap on arc energy (kJ/mm) for the coolest, and another weight on reveal and dome than its own."""

    answer: str
    energy_cap: float = math.inf
    weight_s: float | None = None

    @property
    def counts(self) -> str:
        """What its seconds count: wishes that only differ in cap or weight count alike."""
        return self.answer if self.answer in (BALANCED, FEWEST) else ""

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


class LayerTable(Struct, frozen=True, eq=False):
    """Per option, state and thickness step (options, states, steps): least cost, infinite where a rule forbids, and how many beads."""

    first: int
    cost: Floats
    count: Ints


class CapTable(Struct, frozen=True, eq=False):
    """The cheapest cap per option and state (options, states): least cost, infinite where there is none, its beads, the area of each and its dome, mm."""

    cost: Floats
    count: Ints
    area_mm2: Floats
    dome_mm: Floats


class RootTable(Struct, frozen=True, eq=False):
    """Every root the options can lay (roots,): its option, the state it reaches, its beads, the area of each and its least cost."""

    option: Ints
    state: Ints
    count: Ints
    area_mm2: Floats
    cost: Floats


class _Reach(Struct, frozen=True):
    """What layers of a role fill from a range of states: area, width and middle height, (states, steps), and thickness, (1, steps)."""

    first: int
    area: Floats
    width: Floats
    thickness: Floats
    y: Floats
    beyond: Bools


class _Fits(Struct, frozen=True):
    """Where one bead of an option goes across, and where several go side by side (states, steps), energy left out; in the `cells` of
    these: at least and at most how many.
    """

    one: Bools
    cells: tuple[Ints, ...]
    least: Floats
    most: Floats


class LayerProgram:
    """What one joint's layers can be, by height, rod and beads; `climb.solve` finds the way through, from the bare groove or from a real level."""

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
        self.climbs: dict[Wish, Climb] = {}
        """What was solved already, by its wish."""
        self._roots: dict[Wish, RootTable] = {}
        self._reaches: dict[tuple[str, int, int], _Reach] = {}
        self._fitting: dict[tuple[str, int, int, int], _Fits] = {}
        self._alone: dict[tuple[str, int, int, int, str], Floats] = {}
        self._domed: dict[tuple[int, int, str, float, bool], tuple[Floats, Floats]] = {}

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
        end = len(self.y) if end is None else end
        reach = self._reach(role, start, end)
        best = np.full((len(self.options[role]), *reach.area.shape), np.inf)
        beads = np.zeros(best.shape, dtype=np.int64)
        for index, option in enumerate(self.options[role]):
            if option.is_open:
                self._cheapest(role, index, wish, (start, end), best[index], beads[index])
        best[:, reach.beyond] = np.inf
        return LayerTable(reach.first, best, beads)

    def _reach(self, role: str, start: int, end: int) -> _Reach:
        key = role, start, end
        if key not in self._reaches:
            diameters = [o.rod.diameter_mm for o in self.options[role]]
            first = max(1, math.ceil(rules.THICKNESS_CORES[0] * min(diameters) / self.step - 1e-9))
            thickest = min(rules.MOST_LAYER_MM, rules.WEAVE_THICKNESS_CORES * max(diameters))
            if role == "root" and self.in_nose:
                thickest = min(rules.NOSE_MOST_MM, rules.NOSE_THICKNESS_CORES * max(diameters))
            last = max(first, math.floor(thickest / self.step + 1e-9))
            k, m = np.arange(start, end)[:, None], np.arange(first, last + 1)[None, :]
            top = np.minimum(k + m, len(self.y) - 1)
            self._reaches[key] = _Reach(
                first, self.area[top] - self.area[start:end, None], self.width[top], np.asarray(m * self.step, dtype=np.float64),
                self.y[start:end, None] + m * self.step / 2, k + m > len(self.y) - 1,
            )  # fmt: skip
        return self._reaches[key]

    def _cheapest(self, role: str, index: int, wish: Wish, states: tuple[int, int], best: Floats, beads: Ints) -> None:
        """Fill in the least cost of an option's layers (infinite where a rule forbids) and how many beads it takes: one across, or several."""
        option, reach, fits = self.options[role][index], self._reach(role, *states), self._fits(role, index, *states)
        high = wish.energy_cap / option.energy_per_area
        best[...], beads[...] = self._alone_cost(role, index, wish, states), 1
        if high < rules.PLAN_ROOM[1] * option.high:
            best[reach.area > high] = np.inf
        cells, least, most = fits.cells, fits.least, fits.most
        if not cells[0].size:
            return
        area = reach.area[cells]
        if math.isfinite(high):
            least = np.maximum(least, np.ceil(area / high - 1e-9))
            some = np.flatnonzero(least <= most)
            cells, area, least, most = tuple(axis[some] for axis in cells), area[some], least[some], most[some]
        if not area.size:
            return
        cost, count = self._cheapest_count(option, wish, area, reach.y[cells], least, most)
        better = cost < best[cells]
        cells = tuple(axis[better] for axis in cells)
        best[cells], beads[cells] = cost[better], count[better]

    def _alone_cost(self, role: str, index: int, wish: Wish, states: tuple[int, int]) -> Floats:
        """What one bead across costs from every state, energy left out; the same for all wishes that count alike."""
        key = role, index, *states, wish.counts
        if key not in self._alone:
            reach = self._reach(role, *states)
            cost = self.beads_cost(self.options[role][index], wish, reach.area, np.asarray(1.0), reach.y)
            self._alone[key] = np.where(self._fits(role, index, *states).one, cost, np.inf)
        return self._alone[key]

    def _fits(self, role: str, index: int, start: int, end: int) -> _Fits:
        key = role, index, start, end
        if key not in self._fitting:
            option, reach = self.options[role][index], self._reach(role, start, end)
            self._fitting[key] = _Fits(self._across(role, option, reach), *self._side_by_side(role, option, reach))
        return self._fitting[key]

    def _across(self, role: str, o: Option, reach: _Reach) -> Bools:
        """Where one bead goes across."""
        d, area, width, thickness = o.rod.diameter_mm, reach.area, reach.width, reach.thickness
        weaving = width > rules.STRINGER_ACROSS_CORES * d
        most = np.where(weaving, rules.WEAVE_THICKNESS_CORES, rules.THICKNESS_CORES[1]) * d
        deepest, least_width = 1.0, rules.ROD_FITS_CORES * d
        if role == "root":
            most = np.full_like(width, rules.WEAVE_THICKNESS_CORES * d)
        if role == "root" and self.in_nose:
            most, least_width = np.full_like(width, rules.NOSE_THICKNESS_CORES * d), rules.NOSE_WIDTH_CORES * d
            deepest = rules.NOSE_THICKNESS_WIDTHS
        one = (
            (width <= o.across_mm) & (area >= rules.PLAN_ROOM[0] * o.low) & (area <= rules.PLAN_ROOM[1] * o.high) & (thickness <= deepest * width)
            & (thickness >= rules.THICKNESS_CORES[0] * d - 1e-9) & (thickness <= most + 1e-9)
            & (width >= least_width)
        )  # fmt: skip
        if role == "fill":
            one &= width <= rules.WIDEST_PER_THICKNESS * thickness
        return np.asarray(one)

    def _side_by_side(self, role: str, o: Option, reach: _Reach) -> tuple[tuple[Ints, ...], Floats, Floats]:
        """Where two beads or more go side by side, and at least and at most how many."""
        d, area, width, thickness = o.rod.diameter_mm, reach.area, reach.width, reach.thickness
        narrow, wide = rules.PITCH_SHARE[0] * o.stringer_mm, o.widest_pitch_mm
        least = np.maximum(2, np.ceil(np.maximum(width / wide, area / (rules.PLAN_ROOM[1] * o.high)) - 1e-9))
        most = np.floor(np.minimum(np.minimum(width / narrow, area / (rules.PLAN_ROOM[0] * o.low)),
                                   width / (rules.PITCH_PER_THICKNESS * thickness)) + 1e-9)  # fmt: skip
        if role == "root":
            most = np.minimum(most, rules.ROOT_BEADS_ON_BAR)
        if role == "hot":
            most = np.where(width > o.across_mm, most, 0)
        allowed = (
            (least <= most) & (thickness >= rules.THICKNESS_CORES[0] * d - 1e-9)
            & (thickness <= rules.SIDE_BY_SIDE_THICKNESS_CORES * d + 1e-9)
        )  # fmt: skip
        cells = np.nonzero(allowed)
        return cells, least[cells], most[cells]

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

    def caps(self, wish: Wish) -> CapTable:
        """For every option and state, the cheapest cap from it to the face."""
        best = self._no_caps(len(self.y))
        below, (low, high) = self.joint.prep.thickness_mm - self.y, rules.REVEAL_MM
        states = np.flatnonzero((below >= low - 1e-9) & (below <= high + 1e-9))
        if states.size:
            for index, option in enumerate(self.options["cap"]):
                for count in self.cap_counts(option):
                    self._better_caps(index, count, wish, states, best)
        return best

    def _no_caps(self, states: int) -> CapTable:
        shape = len(self.options["cap"]), states
        return CapTable(np.full(shape, np.inf), np.zeros(shape, dtype=np.int64), np.zeros(shape), np.zeros(shape))

    def cap(self, caps: CapTable, o: int, k: int) -> Layer:
        """The cap behind an entry of a table."""
        each, dome = float(caps.area_mm2[o, k]), float(caps.dome_mm[o, k])
        y0, y1 = float(self.y[k]), self.joint.prep.thickness_mm
        return Layer("cap", self.options["cap"][o], int(caps.count[o, k]), y0, y1, each, float(caps.cost[o, k]), dome)

    def at_once(self, wish: Wish) -> Layer | None:
        """The cheapest bead that is root and cap in one, where the joint is small enough for it."""
        if not self.on_metal or self.joint.prep.thickness_mm > rules.one_bead_up_to_mm(self.joint) + 1e-9:
            return None
        found = self._no_caps(1)
        for index in range(len(self.options["cap"])):
            self._better_caps(index, 1, wish, np.zeros(1, dtype=np.int64), found, at_once=True)
        o = int(found.cost[:, 0].argmin())
        return self.cap(found, o, 0) if math.isfinite(found.cost[o, 0]) else None

    @cached_property
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

    def _better_caps(self, index: int, count: int, wish: Wish, states: Ints, best: CapTable, at_once: bool = False) -> None:
        """Caps of one option and count, kept where they are cheaper; `at_once`: one bead is root and cap."""
        key = index, count, wish.counts, wish.reveal_s, at_once
        if key not in self._domed:
            self._domed[key] = self._dome_costs(self.options["cap"][index], count, wish, states, at_once)
        each, cost = self._domed[key]
        if math.isfinite(wish.energy_cap):
            cost = np.where(each <= wish.energy_cap / self.options["cap"][index].energy_per_area, cost, np.inf)
        rows, pick = np.arange(states.size), np.argmin(cost, axis=1)
        least = cost[rows, pick]
        better = least < best.cost[index, states]
        rows, pick, kept = rows[better], pick[better], states[better]
        best.cost[index, kept], best.count[index, kept] = least[better], count
        best.area_mm2[index, kept], best.dome_mm[index, kept] = each[rows, pick], self._domes[pick]

    def _dome_costs(self, o: Option, count: int, wish: Wish, states: Ints, at_once: bool) -> tuple[Floats, Floats]:
        """By state and height of the dome, energy left out: the area of each bead, and what the cap costs, infinite where a rule forbids."""
        domes, t = self._domes, self.joint.prep.thickness_mm
        total = self.groove.area_mm2 - self.area[states][:, None] + (domes * self.dome_width(o))[None, :]
        each, depth = total / count, (t - self.y[states])[:, None] + domes[None, :]
        in_one_run = at_once and self.joint.prep.kind.fillet
        allowed = (each >= rules.PLAN_ROOM[0] * o.low) & (each <= rules.PLAN_ROOM[1] * o.high)
        allowed &= depth <= (rules.ONE_RUN_CORES if in_one_run else rules.WEAVE_THICKNESS_CORES) * o.rod.diameter_mm
        reveal = np.where(at_once, 0.0, (t - self.y[states] - self.joint.choices.reveal_mm)[:, None])
        missed = (reveal / 0.5) ** 2 + ((domes[None, :] - rules.domes(self.joint)[2]) / 0.5) ** 2
        cost = self.beads_cost(o, wish, total, np.asarray(float(count)), t) + wish.reveal_s * missed
        return each, np.where(allowed, cost, np.inf)

    def nearest(self, y: float) -> int:
        """The state nearest to a height."""
        return int(min(max(round(y / self.step), 0), len(self.y) - 1))

    def roots(self, wish: Wish) -> RootTable:
        """Every root the options can lay, option by option, from low to high."""
        if wish not in self._roots:
            self._roots[wish] = self._laid_roots(wish)
        return self._roots[wish]

    def _laid_roots(self, wish: Wish) -> RootTable:
        if self.on_metal and self.options["root"]:
            choices = self.fill_choices("root", wish, 0, 1)
            o, m = np.nonzero(np.isfinite(choices.cost[:, 0, :]))
            return self._root_table(o, choices.first + m, choices.count[o, 0, m], choices.cost[o, 0, m])
        found = [self._open_roots(option, wish) for option in self.options["root"]]
        option = np.repeat(np.arange(len(found)), [states.size for states, _ in found])
        state, cost = (np.concatenate(column) for column in zip((np.zeros(0, dtype=np.int64), np.zeros(0)), *found, strict=True))
        return self._root_table(option, state, np.ones(state.size, dtype=np.int64), cost)

    def _root_table(self, option: Ints, state: Ints, count: Ints, cost: Floats) -> RootTable:
        return RootTable(option, state, count, (self.area[state] + rules.root_metal_below(self.joint)) / count, cost)

    def _open_roots(self, o: Option, wish: Wish) -> tuple[Ints, Floats]:
        """The states one bead of an option reaches over a gap or sound metal, short of the face, and what it costs."""
        if self.joint.prep.open_root and not rules.can_bridge(self.joint, o.rod):
            return np.zeros(0, dtype=np.int64), np.zeros(0)
        low, high = rules.PLAN_ROOM[0] * o.low, min(rules.PLAN_ROOM[1] * o.high, wish.energy_cap / o.energy_per_area)
        area = self.area + rules.root_metal_below(self.joint)
        states = np.flatnonzero((area >= low) & (area <= high) & (self.y >= rules.throat_mm(self.joint) - 1e-9))
        states = states[states < len(self.y) - 1]
        return states, self.beads_cost(o, wish, area[states], np.asarray(1.0), self.y[states] / 2)

    def root(self, roots: RootTable, i: int) -> Layer:
        """The root behind an entry of a table."""
        y1, each, cost = float(self.y[roots.state[i]]), float(roots.area_mm2[i]), float(roots.cost[i])
        return Layer("root", self.options["root"][roots.option[i]], int(roots.count[i]), 0.0, y1, each, cost)

    def layer(self, role: str, choices: LayerTable, o: int, k: int, row: int, m: int) -> Layer:
        """The layer behind an entry of a choice table."""
        top = k + choices.first + m
        count = int(choices.count[o, row, m])
        each = float(self.area[top] - self.area[k]) / count
        return Layer(role, self.options[role][o], count, float(self.y[k]), float(self.y[top]), each, float(choices.cost[o, row, m]))
