"""A rod of the user's own: made like another one, or from nothing by shop rules."""

from __future__ import annotations

from banister.core.rods.rod import Rod
from banister.core.value import replace

OWN = "own"
AMPS_PER_MM = (30.0, 40.0, 55.0)
"""Least, usual and greatest current per mm of core (shop rule)."""
MELTING_G_AH = {"cellulosic": 9.0, "rutile": 8.5, "basic": 8.2}
"""Core melted per ampere and hour (typical)."""
POLARITY = {"cellulosic": "DCEP", "rutile": "AC", "basic": "DCEP"}


def rod_from_nothing(name: str, family: str, diameter_mm: float, length_mm: float) -> Rod:
    """A rod with nothing known but its size and coating: currents by the core, voltage 20 + 0.04 I (ISO 2560 idiom), recovery 1.

    Every figure is a shop rule and wants its maker's.
    """
    low, usual, high = (round(a * diameter_mm) for a in AMPS_PER_MM)
    return Rod(
        type=name, family=family, diameter_mm=diameter_mm, length_mm=length_mm, amps=usual, amps_low=low, amps_high=high,
        volts=round(20 + 0.04 * usual, 1), burn_off_g_ah=MELTING_G_AH[family], recovery=1.0, polarity=POLARITY[family], origin=OWN,
    )  # fmt: skip


def rod_like(rod: Rod, name: str, diameter_mm: float, length_mm: float) -> Rod:
    """A rod with another's figures under a name and size of its own; its currents go with the core (shop rule)."""
    share = diameter_mm / rod.diameter_mm
    amps, low, high = (a if share == 1 else round(a * share) for a in (rod.amps, rod.amps_low, rod.amps_high))
    label = rod.size_label if share == 1 else ""
    return replace(rod, type=name, diameter_mm=diameter_mm, length_mm=length_mm, amps=amps, amps_low=low, amps_high=high, size_label=label, origin=OWN)
