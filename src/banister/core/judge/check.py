"""Plan against procedure: every quantity of every pass is inside, outside, or not judged."""

from __future__ import annotations

import math
from dataclasses import dataclass

from banister.core.remark import OUTSIDE, Finding
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import CapShape, Pass, Plan
from banister.core.plan.rules import cap_limit
from banister.core.limits.acceptance import ACCEPTANCE, TOE_ANGLE_DEG
from banister.core.limits.windows import QUANTITIES, TITLES, Bounds, bounds, tightest

INSIDE_, OUTSIDE_, NOT_JUDGED = "inside", "outside", "not judged"
ONE_OF = ("arc_energy", "heat_input", "travel", "run_out")
PER_PASS = ("amps", "volts", "arc_energy", "heat_input", "travel", "run_out", "weave")
FIGURES = {
    "amps": "amps", "volts": "volts", "arc_energy": "arc_energy_kj_mm", "heat_input": "heat_input_kj_mm",
    "travel": "travel_mm_min", "run_out": "run_out_mm", "weave": "width_mm",
}  # fmt: skip
_REMEDIES = {
    "amps": "Set the current inside the window, or take another rod.",
    "volts": "Hold the arc to the window's voltage, or take another rod.",
    "arc_energy": "Change the bead size: energy goes with bead area.",
    "heat_input": "Change the bead size: heat input goes with bead area.",
    "travel": "Change the bead size or the current.",
    "run_out": "Change the bead size.",
    "weave": "Split the layer into more beads, or take a smaller rod.",
}


@dataclass(frozen=True, slots=True)
class Judged:
    """One line of the check: what it is about, the figure, its window and the verdict."""

    item: str
    value: float | None
    unit: str
    low: float
    high: float
    verdict: str
    remedy: str = ""
    pass_id: str | None = None

    @property
    def margin(self) -> float:
        """Distance to the nearer bound; negative outside, infinite where nothing is set."""
        if self.value is None:
            return math.inf
        return min(self.value - self.low, self.high - self.value)


def pass_value(p: Pass, quantity: str) -> float:
    """The figure of a pass that a quantity's window speaks about."""
    value: float = getattr(p, FIGURES[quantity])
    return value


def judged_pass(joint: Joint, p: Pass, quantity: str) -> Judged:
    """One quantity of one pass against the procedure."""
    window = bounds(joint.windows, quantity, p.role, p.rod.id)
    value = pass_value(p, quantity)
    verdict = window.verdict(value)
    remedy = _REMEDIES[quantity] if verdict == OUTSIDE_ else ""
    title = f"pass {p.number} {p.role}: {TITLES[quantity].lower()}"
    return Judged(title, value, QUANTITIES[quantity], window.low, window.high, verdict, remedy, p.id)


def checked(joint: Joint, plan: Plan) -> tuple[Judged, ...]:
    """Every line of the check, passes first; what nobody set is not judged, never fine.

    Energy, heat input, travel speed and run-out of a pass follow from one another: a procedure gives
    one of them, and the others are then no gap. A cap is judged where an acceptance set is chosen.
    """
    lines: list[Judged] = []
    for p in plan.passes:
        found = {quantity: judged_pass(joint, p, quantity) for quantity in PER_PASS}
        if any(found[quantity].verdict != NOT_JUDGED for quantity in ONE_OF):
            found = {q: line for q, line in found.items() if q not in ONE_OF or line.verdict != NOT_JUDGED}
        else:
            found = {q: line for q, line in found.items() if q not in ONE_OF[1:]}
        lines += found.values()
    lines += [_carried(joint, "preheat"), _carried(joint, "interpass")]
    if plan.cap is not None and joint.choices.acceptance != "none":
        lines += _cap(joint, plan.cap)
    lines += _planned(plan)
    return tuple(lines)


def _planned(plan: Plan) -> list[Judged]:
    """Reasons and warnings of the plan itself, as outside lines."""
    found: list[Finding] = [*plan.reasons, *plan.findings, *(f for p in plan.passes for f in p.findings)]
    return [
        Judged(f.text, f.value, f.unit, -math.inf if f.min is None else f.min,
               math.inf if f.max is None else f.max, OUTSIDE_, f.remedy, f.place.pass_id)
        for f in found if f.severity == OUTSIDE
    ]  # fmt: skip


def _carried(joint: Joint, quantity: str) -> Judged:
    """Preheat and interpass: the plan carries what is set to the sheet; the joint has to be measured."""
    window = tightest(joint.windows, quantity)
    text = TITLES[quantity].lower() + (": carried to the sheet, to be measured at the joint" if window.is_set else "")
    verdict = INSIDE_ if window.is_set else NOT_JUDGED
    return Judged(text, None, QUANTITIES[quantity], window.low, window.high, verdict)


def _cap(joint: Joint, cap: CapShape) -> list[Judged]:
    limit = cap_limit(joint, groove_of(joint))
    window = Bounds(0.0, limit)
    verdict = OUTSIDE_ if OUTSIDE_ in (window.verdict(cap.max), window.verdict(cap.edge_min)) else INSIDE_
    remedy = "Change the depth left before the cap, or the cap's rods." if verdict == OUTSIDE_ else ""
    title = "cap height, " + ACCEPTANCE[joint.choices.acceptance][0]
    found = [Judged(title, cap.max, "mm", 0.0, limit, verdict, remedy)]
    least = TOE_ANGLE_DEG.get(joint.choices.acceptance)
    if least is not None:
        toe = min(cap.toe_left_deg, cap.toe_right_deg)
        steep = Bounds(low=least).verdict(toe)
        remedy = "Let the cap run a little further past the edge, lay it flatter, or dress the toe." if steep == OUTSIDE_ else ""
        found.append(Judged("weld toe angle", toe, "\N{DEGREE SIGN}", least, math.inf, steep, remedy))
    return found


def tally(lines: tuple[Judged, ...]) -> dict[str, int]:
    """How many lines are inside, outside and not judged."""
    return {v: sum(line.verdict == v for line in lines) for v in (INSIDE_, OUTSIDE_, NOT_JUDGED)}
