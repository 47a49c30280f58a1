"""A repair's passes: each as long as the hollow is where its metal lies, so that they get longer upwards."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from banister.core.joint.boat import Boat, lengths_mm, level_mm
from banister.core.joint.working import Choices
from banister.core.plan.plan import Pass, Plan, pass_figures
from banister.core.plan.timing import welding_s
from banister.core.value import replace


def as_dug(plan: Plan, boat: Boat, choices: Choices) -> Plan:
    """The plan with the length of metal of every pass; areas times lengths are the hollow and its cap."""
    lengths = lengths_mm(boat, [p.area_mm2 for p in plan.passes])
    passes = tuple(_as_long(p, length) for p, length in zip(plan.passes, lengths, strict=True))
    return replace(plan, passes=passes, total_time_s=welding_s(choices, passes))


def _as_long(p: Pass, length: float) -> Pass:
    """A pass of its own length."""
    return replace(p, **pass_figures(p.rod, p.amps, p.volts, p.area_mm2, length))


def chalk_mm(boat: Boat, passes: Sequence[Pass]) -> Iterable[float]:
    """The length to chalk for each pass: what the hollow is long where the middle of its metal lies."""
    held = 0.0
    for p in passes:
        middle = level_mm(boat, held + p.area_mm2 / 2)
        yield boat.bottom_mm + 2 * boat.dig.run_out * middle
        held += p.area_mm2
