"""What a mark on the weld tells, and what it must keep to: heat by the welder's own gauge, and marks along a layer that lies uneven."""

from __future__ import annotations

from collections.abc import Sequence

GAIN, SHARES = 0.7, (0.7, 1.3)


def must_reach(energy_kj: float, burnt: float, low_kj_mm: float, high_kj_mm: float) -> tuple[float, float]:
    """The stretch one rod must end in to keep its heat inside a window, from what it has used so far; mm.

    >>> tuple(round(v, 2) for v in must_reach(92.0, 0.5, 0.9, 1.6))
    (115.0, 204.44)
    """
    whole = energy_kj / burnt
    return whole / high_kj_mm, whole / low_kj_mm


def from_mark(run_out_mm: float, arc_s: float, energy_kj: float) -> tuple[float, float]:
    """Travel (mm/min) and arc energy (kJ/mm, k = 1) of a rod from its mark, its arc time and its energy."""
    return run_out_mm / arc_s * 60.0, energy_kj / run_out_mm


def asked_along(area_mm2: float, depths_mm: Sequence[float], width_mm: float, window: tuple[float, float], gain: float = GAIN) -> tuple[float, ...]:
    """The area asked at every station of a layer that lies uneven: more where it is low, within the window and 0.7 to 1.3 of what was planned."""
    mean = sum(depths_mm) / len(depths_mm)
    low, high = max(SHARES[0] * area_mm2, window[0]), min(SHARES[1] * area_mm2, window[1])
    return tuple(min(max(area_mm2 + gain * width_mm * (depth - mean), low), high) for depth in depths_mm)


def infrared_reads(true_c: float, emissivity: float, set_: float, air_c: float) -> float:
    """What an infrared thermometer shows, set to another emissivity than the surface has (total radiation; for a narrow band roughly)."""
    air4 = (air_c + 273.15) ** 4
    return float((air4 + emissivity / set_ * ((true_c + 273.15) ** 4 - air4)) ** 0.25 - 273.15)


def emissivity_of(read_c: float, set_: float, contact_c: float, air_c: float) -> float:
    """The emissivity a surface has, from an infrared reading beside one by contact at the same place."""
    air4 = (air_c + 273.15) ** 4
    return float(set_ * ((read_c + 273.15) ** 4 - air4) / ((contact_c + 273.15) ** 4 - air4))
