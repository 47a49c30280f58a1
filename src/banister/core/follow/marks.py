"""What a mark on the weld tells, and what it must keep to: heat by the welder's own gauge, and marks along a layer that lies uneven."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from banister.core.value import Struct

GAIN, SHARES = 0.7, (0.7, 1.3)
STEP_MM = 1.0
SLOWER = 1.1
"""Where so much more than planned is asked the hand is told to go slower."""


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


class Along(Struct, frozen=True):
    """How a pass is laid over a layer that lies uneven: the marks where whole rods end, and where the hand goes slower (mm from its start)."""

    marks_mm: tuple[float, ...]
    slow_mm: tuple[tuple[float, float], ...]


def laid_along(area_mm2: float, deposit_mm3: float, length_mm: float, places: Sequence[tuple[float, float]], width_mm: float,
               window: tuple[float, float]) -> Along:  # fmt: skip
    """Marks over depths read at places along the weld (mm, mm; in order): a rod ends where the running volume has filled it.

    >>> even = laid_along(20.0, 2000.0, 400.0, ((0.0, 6.0), (200.0, 6.0), (400.0, 6.0)), 12.0, (10.0, 30.0))
    >>> even.slow_mm, [round(mark) for mark in even.marks_mm]
    ((), [100, 200, 300])
    """
    at = [s for s, _ in places]
    areas = asked_along(area_mm2, [depth for _, depth in places], width_mm, window)
    s = np.linspace(0.0, length_mm, max(round(length_mm / STEP_MM), 1) + 1)
    a = np.interp(s, at, areas)
    volume = np.concatenate(([0.0], np.cumsum((a[1:] + a[:-1]) / 2 * np.diff(s))))
    ends = np.arange(1, int(volume[-1] / deposit_mm3) + 1) * deposit_mm3
    marks = tuple(float(mark) for mark in np.interp(ends, volume, s) if mark < length_mm - STEP_MM)
    slow: list[tuple[float, float]] = []
    for i, asked in enumerate(areas):
        if asked > SLOWER * area_mm2:
            begin, end = at[max(i - 1, 0)], at[min(i + 1, len(at) - 1)]
            slow = [*slow[:-1], (slow[-1][0], end)] if slow and begin <= slow[-1][1] else [*slow, (begin, end)]
    return Along(marks, tuple(slow))
