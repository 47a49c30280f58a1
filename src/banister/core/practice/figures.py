"""Figures of a rod: how the arc was held, the beat of the hand, and what ruler and clock tell (medians, so that one slip is no figure)."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import combinations
from statistics import median

import numpy as np
from numpy.typing import NDArray

from banister.core.practice.book import ArcRead, RodRead, Session

Floats = NDArray[np.float64]
MAD_TO_SD = 1.4826
LEFT_OUT_S = 2, 1
"""Seconds at the start and the end of a rod that are no steady arc."""
LEAST_SECONDS = 4
STUCK_V, STUCK_S, LOST_V, LOST_S = 10.0, 0.3, 45.0, 0.1
BEAT_WINDOW_S, BEAT_HZ, BEAT_RATIO, FLOOR_HZ = 8.0, (0.55, 2.9), 2.2, 0.5
"""A beat is believed where its peak stands so far over the spectrum round it (99 % of rods without a weave stay under)."""
LEAST_MARKS, LEAST_WIDTHS, LEAST_LINE = 3, 3, 4


def mad(values: Sequence[float]) -> float:
    """Median distance from the median."""
    middle = median(values)
    return median([abs(v - middle) for v in values])


def theil_sen(values: Sequence[float]) -> float:
    """The median of all slopes from one value to a later one, per step (Theil-Sen)."""
    return median([(b - a) / (j - i) for (i, a), (j, b) in combinations(enumerate(values), 2)])


def arc_wander(second_medians_v: Sequence[float]) -> tuple[float, float, float]:
    """Slope V/s, wander V and drift V a rod of the one-second medians of an arc: the drift of the rod is taken off before the wander is read."""
    slope = theil_sen(second_medians_v)
    left = [v - slope * i for i, v in enumerate(second_medians_v)]
    return slope, MAD_TO_SD * mad(left), abs(slope) * len(second_medians_v)


def beat(volts: Sequence[float] | Floats, hz: float) -> float | None:
    """Seconds from edge to edge as the volts show them; None where no beat stands out (shop trial: 300 rods without weave).

    Clipped at 3 MAD, 8 s Hann windows three quarters overlapped, their line taken off, the averaged spectrum over its running median.
    """
    found = np.asarray(volts, dtype=np.float64)
    size = round(BEAT_WINDOW_S * hz)
    if len(found) < size or hz < 2 * BEAT_HZ[1]:
        return None
    middle = float(np.median(found))
    reach = 3 * max(MAD_TO_SD * float(np.median(np.abs(found - middle))), 1e-9)
    found = np.clip(found, middle - reach, middle + reach)
    at, window = np.arange(size, dtype=np.float64), np.hanning(size)
    power = np.zeros(size // 2 + 1)
    for start in range(0, len(found) - size + 1, size // 4):
        piece = found[start : start + size]
        power += np.abs(np.fft.rfft(window * (piece - np.polyval(np.polyfit(at, piece, 1), at)))) ** 2
    frequency = np.fft.rfftfreq(size, 1.0 / hz)
    half = round(FLOOR_HZ * size / hz)
    floor = np.array([np.median(power[max(i - half, 1) : i + half + 1]) for i in range(len(power))])
    ratio = np.sqrt(power / np.maximum(floor, 1e-30))
    inside = np.flatnonzero((frequency >= BEAT_HZ[0]) & (frequency <= BEAT_HZ[1]))
    peak = int(inside[np.argmax(ratio[inside])])
    if ratio[peak] < BEAT_RATIO:
        return None
    before, here, after = np.log(np.maximum(power[peak - 1 : peak + 2], 1e-30))
    bend = before - 2 * here + after
    shift = 0.5 * (before - after) / bend if bend < 0 else 0.0
    return float(1.0 / ((peak + shift) * hz / size))


def arc_read(samples: Sequence[tuple[float, float]], is_simulated: bool = False) -> ArcRead | None:
    """What the volts of one rod tell, from (seconds, volts) of its arc; None where it was too short to say anything."""
    if len(samples) < 2:
        return None
    at, volts = np.array([s[0] for s in samples]), np.array([s[1] for s in samples])
    begun, ended = float(at[0]), float(at[-1])
    whole = int(ended - begun) - LEFT_OUT_S[0] - LEFT_OUT_S[1]
    if whole < LEAST_SECONDS:
        return None
    first = begun + LEFT_OUT_S[0]
    seconds = [volts[(at >= first + i) & (at < first + i + 1)] for i in range(whole)]
    medians = [float(np.median(one)) for one in seconds if len(one)]
    if len(medians) < LEAST_SECONDS:
        return None
    _, wander, drift = arc_wander(medians)
    steady = volts[(at >= first) & (at < first + whole)]
    return ArcRead(seconds=ended - begun, wander_v=wander, drift_v=drift, lost=_lost(at, volts), edge_s=beat(steady, len(steady) / whole),
                   is_simulated=is_simulated)  # fmt: skip


def _lost(at: Floats, volts: Floats) -> int:
    """How often the rod stuck, or the arc went out, inside a rod."""
    return _held(at, volts < STUCK_V, STUCK_S) + _held(at, volts > LOST_V, LOST_S)


def _held(at: Floats, on: NDArray[np.bool_], least_s: float) -> int:
    edges = np.flatnonzero(np.diff(np.concatenate(([0], on.astype(np.int8), [0]))))
    return sum(float(at[min(end, len(at) - 1)] - at[start]) > least_s for start, end in zip(edges[::2], edges[1::2], strict=True))


# --- ruler and clock ----------------------------------------------------------------------------
def run_out_error(measured_mm: float, target_mm: float) -> float:
    """Per cent long (+) or short of the mark."""
    return 100.0 * (measured_mm - target_mm) / target_mm


def pace_spread(marks_s: Sequence[float]) -> float:
    """sd of the logarithm of the travel from mark to mark, per cent."""
    return 100.0 * float(np.std(np.log(marks_s), ddof=1))


def edge_timing(edges_s: Sequence[float]) -> float:
    """How uneven the times from edge to edge are, per cent of their median."""
    return 100.0 * MAD_TO_SD * mad(edges_s) / median(edges_s)


def straightness(line_mm: Sequence[float]) -> float:
    """rms of the bead's edge off its own best line, mm."""
    at = np.arange(len(line_mm), dtype=np.float64)
    return float(np.sqrt(np.mean((np.asarray(line_mm) - np.polyval(np.polyfit(at, line_mm, 1), at)) ** 2)))


def overlap(pitch_mm: float, width_mm: float) -> float:
    """How far a bead lies over the one before, per cent of its width."""
    return 100.0 * (1.0 - pitch_mm / width_mm)


def _beat_error(session: Session, rod: RodRead) -> float | None:
    edge = median(rod.edges_s) if len(rod.edges_s) >= LEAST_MARKS else rod.arc.edge_s if rod.arc is not None else None
    return None if edge is None or not session.edge_s else 100.0 * (edge - session.edge_s) / session.edge_s


FIGURES: dict[str, Callable[[Session, RodRead], float | None]] = {
    "arc_wander": lambda _, rod: None if rod.arc is None else rod.arc.wander_v,
    "arc_drift": lambda _, rod: None if rod.arc is None else rod.arc.drift_v,
    "arc_share": lambda _, rod: None if rod.arc is None else float(rod.arc.lost),
    "run_out_error": lambda session, rod: None if rod.run_out_mm is None or not session.target_mm else run_out_error(rod.run_out_mm, session.target_mm),
    "pace_spread": lambda _, rod: pace_spread(rod.marks_s) if len(rod.marks_s) >= LEAST_MARKS else None,
    "width_spread": lambda _, rod: max(rod.widths_mm) - min(rod.widths_mm) if len(rod.widths_mm) >= LEAST_WIDTHS else None,
    "edge_timing": lambda _, rod: edge_timing(rod.edges_s) if len(rod.edges_s) >= LEAST_MARKS else None,
    "beat_error": _beat_error,
    "restart_step": lambda _, rod: rod.restart_step_mm,
    "restart_gap": lambda _, rod: rod.restart_gap_mm,
    "overlap": lambda _, rod: None if rod.pitch_mm is None or not rod.widths_mm else overlap(rod.pitch_mm, math.fsum(rod.widths_mm) / len(rod.widths_mm)),
    "straightness": lambda _, rod: straightness(rod.line_mm) if len(rod.line_mm) >= LEAST_LINE else None,
}
"""Every figure by its id: its value for a rod of a session, None where it was not read."""
