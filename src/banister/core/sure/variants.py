"""A thousand variants of a plan at once: beads, rods and time of each, and what matters most to them.

The layers are held, the number of beads in one follows the welder's own bead, one more or less where a window asks for it;
what a window holds back the next layer makes up. Variants with a bead outside its window are planned anew in a sample,
whose mean difference stands for the rest of them.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np

from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.inputs import inputs_of as plan_inputs
from banister.core.plan.plan import Plan
from banister.core.plan.timing import changes_s, cleaning_s
from banister.core.ranked import binned, ranked
from banister.core.rods.rod import ROUNDING_RODS, Rod
from banister.core.sure.inputs import BEAD, DEPOSIT, HAND, Input, drawn_from, geometry_of, inputs_of
from banister.core.sure.layers import areas_along, layers_of
from banister.core.value import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

FIRST, ALL, MOST_ANEW = 200, 1000, 60
OVER = 0.02
"""A bead so much outside its window breaks a rule."""
TELLING = 0.7
"""Below this R2 the outcome is a step function: conditional means tell more than a straight line."""
BEADS, RODS, TIME = "beads", "rods", "time"
OUTCOMES = (BEADS, RODS, TIME)


class Range(Struct, frozen=True):
    """An outcome over all variants, sorted; what the plan says of it, and the shares of the inputs, with whether they are of a straight line."""

    values: tuple[float, ...]
    planned: float
    shares: tuple[float, ...]
    is_linear: bool

    def at(self, share: float) -> float:
        """So large a share of the variants is not above it."""
        return self.values[min(int(np.ceil(share * len(self.values))) - 1, len(self.values) - 1)]

    @property
    def nine_in_ten(self) -> tuple[float, float]:
        """Nine variants in ten lie between."""
        return self.at(0.05), self.at(0.95)


class Sure(Struct, frozen=True):
    """What the variants come to: the inputs, a range for each outcome, how many break a rule, how many of those were planned anew and had no plan."""

    inputs: tuple[Input, ...]
    outcomes: dict[str, Range]
    draws: int
    broken: int
    anew: int
    unplanned: int
    seed: int


def how_sure(joint: Joint, plan: Plan, rods: tuple[Rod, ...], seed: int = 1) -> Iterator[Sure]:
    """A first answer from few variants, then the whole one: told as it comes."""
    yield variants(joint, plan, FIRST, seed)
    yield from planned_anew(joint, plan, rods, ALL, seed)


def variants(joint: Joint, plan: Plan, draws: int = ALL, seed: int = 1) -> Sure:
    """Variants with the layers held; nothing is planned anew."""
    inputs = inputs_of(joint)
    values = drawn_from(inputs, draws, seed)
    found, broken = _outcomes(joint, plan, inputs, values, seed)
    return _told(plan, inputs, values, found, broken, 0, 0, seed)


def planned_anew(joint: Joint, plan: Plan, rods: tuple[Rod, ...], draws: int = ALL, seed: int = 1) -> Iterator[Sure]:
    """Variants, those that break a rule corrected by what planning a sample of them anew comes to; one value at the end."""
    inputs = inputs_of(joint)
    values = drawn_from(inputs, draws, seed)
    found, broken = _outcomes(joint, plan, inputs, values, seed)
    sample = np.random.default_rng(seed).permutation(np.nonzero(broken)[0])[:MOST_ANEW]
    differences, unplanned = [], 0
    for i in sample.tolist():
        changed = edited(joint, **geometry_of(inputs, values[i]))
        anew = None if joint_faults(changed) else plan_answer(study_of(plan_inputs(changed, rods)), plan.answer)
        if anew is None or not anew.feasible:
            unplanned += 1
        else:
            differences.append([len(anew.passes), anew.rods, anew.total_time_s] - found[i])
    if differences:
        found = found + np.where(broken[:, None], np.mean(differences, axis=0), 0.0)
    yield _told(plan, inputs, values, found, broken, len(sample), unplanned, seed)


def _outcomes(joint: Joint, plan: Plan, inputs: tuple[Input, ...], values: Floats, seed: int) -> tuple[Floats, NDArray[np.bool_]]:
    """Beads, rods and seconds of every variant, shape (draws, 3), and which of them end outside a window."""
    column = {one.name: values[:, k] for k, one in enumerate(inputs)}
    by_side = layers_of(joint, plan)
    areas, layers = areas_along(joint, by_side, inputs, values), [row for _, rows in by_side for row in rows]
    scatter = np.random.default_rng(seed + 1).standard_normal(areas.shape)
    choices, runs, draws = joint.working.choices, joint.runs, len(values)
    beads, whole, arc, still = np.zeros(draws), np.zeros(draws), np.zeros(draws), np.zeros(draws)
    made_up, broken = np.zeros(draws), np.zeros(draws, dtype=bool)
    for k, row in enumerate(layers):
        first, n0 = row.passes[0], len(row.passes)
        if k and row.low_mm == 0.0:
            broken |= np.abs(made_up) > OVER * areas[:, k - 1]
            made_up = np.zeros(draws)
        wanted = areas[:, k] + made_up
        own = (sum(p.area_mm2 for p in row.passes) / n0) * column[HAND] * (1.0 + BEAD * scatter[:, k] / np.sqrt(n0))
        low, high = first.area_window
        n = _counts(wanted, np.maximum(own, 1.0), n0, low, high, is_single=first.role in ("root", "hot"))
        each = np.clip(wanted / n, low * (1 - OVER), high * (1 + OVER))
        broken |= np.abs(wanted / n - each) > 1e-9
        made_up = wanted - each * n
        volume = each * first.length_mm / runs
        rods = n * runs * np.maximum(1.0, np.ceil(volume / (first.rod.deposit_mm3 * column[DEPOSIT]) - ROUNDING_RODS))
        beads, whole = beads + n, whole + rods
        arc += n * runs * volume / (first.rod.deposit_mm3 * column[DEPOSIT]) * first.rod.burn_time_s(first.amps)
        still += changes_s(choices, rods) + n * cleaning_s(choices, first.length_mm)
    planned_still = sum(float(changes_s(choices, p.rod_count) + cleaning_s(choices, p.length_mm)) for p in plan.passes)
    rest = plan.total_time_s - plan.arc_time_s - planned_still
    return np.stack([beads, whole, arc + still + rest], axis=1), broken


def _counts(wanted: Floats, own: Floats, n0: int, low: float, high: float, is_single: bool) -> Floats:
    """Beads in a layer: by the welder's own bead, near the plan's number, one more or less where a window asks for it."""
    if is_single:
        return np.full(len(wanted), float(n0))
    n = np.clip(np.round(wanted / own), max(n0 - 1, 1), n0 + 1)
    n = np.where((wanted / n > high) & (n <= n0), n + 1, n)
    return np.asarray(np.where((wanted / n < low) & (n > max(n0 - 1, 1)), n - 1, n))


def _told(plan: Plan, inputs: tuple[Input, ...], values: Floats, found: Floats, broken: NDArray[np.bool_], anew: int, unplanned: int, seed: int) -> Sure:
    planned = (float(len(plan.passes)), float(plan.rods), plan.total_time_s)
    outcomes = {}
    for k, name in enumerate(OUTCOMES):
        shares, r2 = ranked(values, found[:, k])
        is_linear = r2 >= TELLING
        outcomes[name] = Range(tuple(np.sort(found[:, k]).tolist()), planned[k], shares if is_linear else binned(values, found[:, k]), is_linear)
    return Sure(inputs, outcomes, len(values), int(broken.sum()), anew, unplanned, seed)
