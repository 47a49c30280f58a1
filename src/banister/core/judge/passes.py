"""Every pass held against the windows on its figures, and its current against what its rod can take."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.joint.joint import Joint
from banister.core.judge.limit import Limit, Measure
from banister.core.limits.windows import QUANTITIES, Bounds, bounds
from banister.core.plan.plan import Pass
from banister.core.remark import NOT_JUDGED, Figure, Place, Remark, outside, watch

ONE_OF = ("arc_energy", "heat_input", "travel", "run_out")
"""They follow from one another: a procedure gives one of them, and the others are then no gap."""
PER_PASS = ("amps", "volts", *ONE_OF, "weave")
FIELDS = {
    "amps": "amps", "volts": "volts", "arc_energy": "arc_energy_kj_mm", "heat_input": "heat_input_kj_mm",
    "travel": "travel_mm_min", "run_out": "run_out_mm", "weave": "width_mm",
}  # fmt: skip


def pass_value(p: Pass, quantity: str) -> float:
    """The figure of a pass that a quantity's window speaks about."""
    value: float = getattr(p, FIELDS[quantity])
    return value


def window_on(joint: Joint, p: Pass, quantity: str) -> Bounds:
    """What the joint's windows allow a quantity of a pass."""
    return bounds(joint.working.windows, quantity, p.role, p.rod.id)


def energy_window(joint: Joint, p: Pass) -> tuple[str, Bounds]:
    """The quantity whose window holds a pass's energy, arc energy where none does, and that window."""
    for quantity in ("arc_energy", "heat_input"):
        found = window_on(joint, p, quantity)
        if found.is_set:
            return quantity, found
    return "arc_energy", Bounds()


def basis_k(p: Pass, quantity: str) -> float:
    """The k a quantity of energy is reckoned with."""
    return p.efficiency if quantity == "heat_input" else 1.0


def judged_pass(joint: Joint, p: Pass) -> Iterator[Remark]:
    """A pass against every window that speaks of it; of quantities that follow from one another one gap is enough."""
    found = {quantity: _held(joint, p, quantity) for quantity in PER_PASS}
    is_held = any(found[quantity].verdict != NOT_JUDGED for quantity in ONE_OF)
    for quantity, remark in found.items():
        if quantity not in ONE_OF or (remark.verdict != NOT_JUDGED if is_held else quantity == ONE_OF[0]):
            yield remark
    yield from _rod_range(p)
    yield from _metal(joint, p)


def _held(joint: Joint, p: Pass, quantity: str) -> Remark:
    limit = Limit(f"window.{quantity}", window_on(joint, p, quantity), "windows")
    measure = Measure(pass_value(p, quantity), QUANTITIES[quantity], Place((p.key,), *p.aim_mm))
    return limit.held(measure, **who(p), k=Figure(basis_k(p, quantity), "ratio"))


def who(p: Pass) -> dict[str, Figure]:
    """Number and role of a pass, as figures of a remark."""
    return {"n": Figure(float(p.number), "count"), "role": Figure(f"role.{p.role}", "word")}


def _metal(joint: Joint, p: Pass) -> Iterator[Remark]:
    """Carbon steel weld metal in austenitic steel cracks; the other way round it is only dear, or wanted for unlike steels."""
    figures = who(p) | {"rod": Figure(p.rod.type, "name")}
    if joint.metal.stainless and not p.rod.is_stainless:
        yield outside("rod.metal", Place((p.key,)), "metallurgy", **figures)
    elif p.rod.is_stainless and not joint.metal.stainless:
        yield watch("rod.metal.stainless", Place((p.key,)), "metallurgy", **figures)


def _rod_range(p: Pass) -> Iterator[Remark]:
    """A current its rod does not want is worth knowing even inside the procedure's window."""
    rod = p.rod
    if rod.amps_low <= p.amps <= rod.amps_high:
        return
    code = "rod.amps.low" if p.amps < rod.amps_low else "rod.amps.high"
    yield watch(code, Place((p.key,)), "typical", **who(p), rod=Figure(rod.id, "rod"), core=Figure(rod.diameter_mm, "length"),
                value=Figure(p.amps, "current"), window=Figure((rod.amps_low, rod.amps_high), "current"))  # fmt: skip
