"""What the recorded arc of a rod says of one place along it: held long or short there, or unsteady; against the rod's own, no absolute mark."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from banister.core.journal import Record

Samples = np.ndarray[Any, np.dtype[np.float64]]
Traces = Callable[[Record], Samples | None]
"""Finds the recorded arc of a rod's record."""

LIVE_A, SHORTED_V = 15.0, 9.0
OFF_V, UNREST, UNREST_S = 1.5, 1.6, 2.0
"""Volts off the rod's median, spread over its usual one, and over how long that is taken (shop figures, never tried on a real arc)."""
LEAST_MM, LEAST_SHARE = 10.0, 0.08
"""A place is told to a rod no nearer: a hand is not even (10.3)."""
LEAST_SAMPLES = 40


def no_traces(record: Record) -> Samples | None:
    """Where nothing recorded the arcs."""
    return None


def stretch_at(share: float, run_out_mm: float) -> tuple[float, float]:
    """The part of a rod (shares of its arc time) that may have laid a place at a share of its run-out."""
    half = max(LEAST_MM / max(run_out_mm, LEAST_MM), LEAST_SHARE)
    return max(share - half, 0.0), min(share + half, 1.0)


def burnt_share(samples: Samples) -> tuple[np.ndarray[Any, np.dtype[np.bool_]], Samples]:
    """Where the arc burns, and how much of the rod's arc time is gone by at every sample; samples are (n, 3): s, V, A."""
    t, volts, amps = samples[:, 0], np.abs(samples[:, 1]), np.abs(samples[:, 2])
    live = (amps > LIVE_A) & (volts > SHORTED_V)
    steps = np.diff(t, prepend=t[:1]) * live
    total = float(steps.sum())
    return live, np.cumsum(steps) / total if total > 0 else np.zeros_like(t)


def arc_there(samples: Samples, share: float, run_out_mm: float) -> Iterator[tuple[str, str]]:
    """Evidence `volts` and `unrest` with their levels; nothing where too little of the arc was seen."""
    live, gone = burnt_share(samples)
    begin, end = stretch_at(share, run_out_mm)
    there = live & (gone >= begin) & (gone <= end)
    if live.sum() < LEAST_SAMPLES or there.sum() < LEAST_SAMPLES / 4:
        return
    volts = np.abs(samples[:, 1])
    off = float(np.median(volts[there]) - np.median(volts[live]))
    yield "volts", "long" if off > OFF_V else "short" if off < -OFF_V else "normal"
    spreads = _spreads(samples[live, 0], volts[live], gone[live])
    own = [sd for sd, at in spreads if begin <= at <= end]
    usual = float(np.median([sd for sd, _ in spreads])) if spreads else 0.0
    if own and usual > 0:
        yield "unrest", "high" if max(own) > UNREST * usual else "normal"


def _spreads(t: Samples, volts: Samples, gone: Samples) -> list[tuple[float, float]]:
    """Standard deviation of the volts in every two seconds of arc, with the middle of those in shares of the rod."""
    found = []
    begins = np.searchsorted(t, np.arange(t[0], t[-1], UNREST_S))
    for a, b in zip(begins, np.append(begins[1:], t.size), strict=True):
        if b - a >= LEAST_SAMPLES / 4:
            found.append((float(volts[a:b].std()), float(gone[(a + b) // 2])))
    return found
