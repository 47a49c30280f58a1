"""The rods of a recorded trace, each as the arc it was: cut apart where the arc was out for a rod change, not where it was lost for a moment."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from banister.core.arc.analysis import LEAST_A, ArcAnalysis, Setting
from banister.core.practice.book import ArcRead
from banister.core.practice.figures import arc_read

Sample = tuple[float, float, float, float | None]


def rods_of_trace(samples: Sequence[Sample], is_simulated: bool = False) -> tuple[ArcRead, ...]:
    """Every rod that burnt long enough to say something, in time."""
    if not samples:
        return ()
    setting = setting_of(samples)
    if setting is None:
        return ()
    analysis = ArcAnalysis(setting)
    for sample in samples:
        analysis.take(*sample)
    analysis.finish()
    found = (arc_read([(t, abs(volts)) for t, volts, _, _ in samples if rod.on_s <= t <= rod.off_s], is_simulated) for rod in analysis.all_rods)
    return tuple(arc for arc in found if arc is not None)


def setting_of(samples: Iterable[Sample]) -> Setting | None:
    """What it was welded with, as the trace itself shows: usual amps and volts, and the charge of its longest stretch as that of a rod."""
    live = [(t, abs(volts), abs(amps)) for t, volts, amps, _ in samples if abs(amps) > LEAST_A]
    if len(live) < 2:
        return None
    at, amps = np.array([t for t, _, _ in live]), float(np.median([a for _, _, a in live]))
    gaps = np.flatnonzero(np.diff(at) > 1.0)
    starts, ends = np.concatenate(([0], gaps + 1)), np.concatenate((gaps, [len(at) - 1]))
    longest = float((at[ends] - at[starts]).max())
    return Setting(amps=amps, volts=float(np.median([v for _, v, _ in live])), rod_amp_s=max(longest * amps, 1.0))
