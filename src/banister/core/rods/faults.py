"""What of a rod cannot be right."""

from __future__ import annotations

import math
from functools import lru_cache

from banister.core.remark import Figure, Remark, fault, unknown_word
from banister.core.rods.rod import Rod

ROD_LIMITS = {
    "diameter_mm": ("length", 1.0, 10.0), "length_mm": ("length", 100.0, 1000.0), "stub_mm": ("length", 0.0, 200.0),
    "amps": ("current", 10.0, 600.0), "amps_low": ("current", 5.0, 600.0), "amps_high": ("current", 5.0, 600.0),
    "volts": ("voltage", 8.0, 60.0), "burn_off_g_ah": ("burn_off", 2.0, 30.0), "recovery": ("ratio", 0.3, 3.0),
}  # fmt: skip
PROCESSES = ("SMAW", "GTAW")


def rod_fault(field: str, value: float) -> Remark | None:
    """What is wrong with one figure of a rod."""
    kind, low, high = ROD_LIMITS[field]
    if math.isfinite(value) and low <= value <= high:
        return None
    return fault("rod.range", field, figure=Figure(f"rod.{field}", "word"), value=Figure(value, kind), window=Figure((low, high), kind))


@lru_cache(maxsize=256)
def rod_faults(rod: Rod) -> tuple[Remark, ...]:
    """Figures of a rod that cannot be right, or do not go together, each with its field; remembered, since every pass of a sheet brings its rod."""
    found = [one for field in ROD_LIMITS if (one := rod_fault(field, getattr(rod, field))) is not None]
    if rod.process not in PROCESSES:
        found.append(unknown_word("process", rod.process, PROCESSES))
    if not found and rod.stub_mm >= rod.length_mm:
        found.append(fault("rod.stub", "stub_mm", stub=Figure(rod.stub_mm, "length"), length=Figure(rod.length_mm, "length")))
    if not found and rod.amps_low > rod.amps_high:
        found.append(fault("rod.amps", "amps_low", low=Figure(rod.amps_low, "current"), high=Figure(rod.amps_high, "current")))
    return tuple(found)
