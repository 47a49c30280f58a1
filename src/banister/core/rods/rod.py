"""One covered electrode and its arithmetic.

Metal and time: core mass consumed x recovery = deposit; burning time by a melting rate linear in
current (good to about +-10 % over the normal range, shop figure). All figures are typical: the
maker's data sheet and the qualified procedure govern.
"""

from __future__ import annotations

import math
import re
from functools import cached_property

from banister.core.value import Struct

STEEL_G_MM3 = 7.85e-3
STAINLESS = re.compile(r"E3\d\d")
"""Types of austenitic stainless electrodes (AWS A5.4, ISO 3581-B)."""
F_NUMBERS = {
    "20": 1, "24": 1, "27": 1, "28": 1, "12": 2, "13": 2, "14": 2, "19": 2, "10": 3, "11": 3, "15": 4, "16": 4, "18": 4, "48": 4,
}  # fmt: skip
EFFICIENCY = {"SMAW": 0.8, "GTAW": 0.6}
"""k by process (EN 1011-1, ISO/TR 17671-1); arc energy is k = 1 (ASME IX QW-409.1)."""
ROUNDING_RODS = 1e-6
"""An exact multiple of rods takes no extra rod."""
RUN_OUT_FACTORS = ((0.95, 0.0368), (1.10, 0.0408), (1.30, 0.0472), (math.inf, 0.0608))
"""F of the run-out rule in kJ/mm3, up to each recovery (EN 1011-2, from memory: check with your copy)."""


class Rod(Struct, frozen=True, kw_only=True, dict=True):
    """A covered electrode. `recovery` is metal deposited per core metal melted (nominal, ISO 2401)."""

    type: str
    family: str
    diameter_mm: float
    length_mm: float
    amps: float
    amps_low: float
    amps_high: float
    volts: float
    burn_off_g_ah: float
    recovery: float
    polarity: str
    stub_mm: float = 50.0
    size_label: str = ""
    process: str = "SMAW"
    hydrogen: str = ""
    origin: str = "typical"

    @cached_property
    def id(self) -> str:
        """Type, core diameter and length, e.g. E7018-4.0x450."""
        size = f"{self.diameter_mm:.1f}" if not self.size_label else self.size_label
        return f"{self.type}-{size}x{self.length_mm:g}"

    @property
    def is_stainless(self) -> bool:
        """True for an austenitic electrode."""
        return STAINLESS.match(self.type) is not None

    @property
    def efficiency(self) -> float:
        """Share of the arc's energy that reaches the joint."""
        return EFFICIENCY[self.process]

    @property
    def core_area_mm2(self) -> float:
        """Section of the core wire."""
        return math.pi / 4 * self.diameter_mm**2

    @property
    def burnt_mm(self) -> float:
        """Length of a rod that is burnt, stub left over."""
        return self.length_mm - self.stub_mm

    @property
    def core_used_g(self) -> float:
        """Core metal melted from one rod, stub left over."""
        return STEEL_G_MM3 * self.core_area_mm2 * (self.length_mm - self.stub_mm)

    @property
    def deposit_g(self) -> float:
        """Weld metal one rod leaves in the joint."""
        return self.core_used_g * self.recovery

    @property
    def deposit_mm3(self) -> float:
        """Volume of weld metal one rod leaves."""
        return self.deposit_g / STEEL_G_MM3

    @property
    def rod_g(self) -> float:
        """Mass of the whole core, for buying; the coating comes on top."""
        return STEEL_G_MM3 * self.core_area_mm2 * self.length_mm

    def burn_time_s(self, amps: float) -> float:
        """How long one rod burns down to its stub."""
        return self.core_used_g * 3600 / (self.burn_off_g_ah * amps)

    def run_out_mm(self, area_mm2: float) -> float:
        """Length of bead of this area that one rod makes."""
        return self.deposit_mm3 / area_mm2

    def area_mm2(self, run_out_mm: float) -> float:
        """Bead area that follows from a run-out."""
        return self.deposit_mm3 / run_out_mm

    def travel_mm_min(self, area_mm2: float, amps: float) -> float:
        """Travel speed of a bead of this area."""
        return self.run_out_mm(area_mm2) / self.burn_time_s(amps) * 60

    def run_out_rule_kj_mm(self, run_out_mm: float) -> float:
        """Heat input by the run-out rule Q = d2 L F / run-out, a cross-check apart from volts, amps and melting rate (EN 1011-2)."""
        factor = next(factor for most, factor in RUN_OUT_FACTORS if self.recovery <= most)
        return self.diameter_mm**2 * self.burnt_mm * factor / run_out_mm

    def arc_energy_kj_mm(self, area_mm2: float, amps: float, volts: float) -> float:
        """Arc energy V I / v (k = 1, as ASME IX QW-409.1 has it)."""
        return volts * amps * self.burn_time_s(amps) / self.run_out_mm(area_mm2) / 1000

    def arc_time_s(self, volume_mm3: float, amps: float) -> float:
        """Arc time to deposit a volume."""
        return volume_mm3 / self.deposit_mm3 * self.burn_time_s(amps)


def f_number(rod: Rod) -> int | None:
    """F-number by the last two digits of an AWS classification (ASME IX QW-432), None where it has none.

    >>> from types import SimpleNamespace
    >>> [f_number(SimpleNamespace(type=name, process="SMAW", is_stainless=False)) for name in ("E6010", "E7018-1")]
    [3, 4]
    """
    if rod.process == "GTAW":
        return 6
    if rod.is_stainless:
        return 5
    digits = rod.type.split("-")[0].lstrip("E")
    return F_NUMBERS.get(digits[-2:]) if digits.isdigit() and len(digits) >= 4 else None


def rods_needed(volume_mm3: float, rod: Rod, runs: int = 1) -> int:
    """Whole rods for a volume laid in so many equal runs; an exact multiple takes no extra rod."""
    return runs * max(1, math.ceil(volume_mm3 / runs / rod.deposit_mm3 - ROUNDING_RODS))


def arc_energy_kj_mm(volts: float, amps: float, travel_mm_min: float) -> float:
    """Arc energy from meter readings and travel speed (k = 1)."""
    return volts * amps * 60 / (1000 * travel_mm_min)
