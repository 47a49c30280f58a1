"""A recorded trace read: a session of twenty rods takes half a second."""

from __future__ import annotations

from pathlib import Path

from banister.core.practice.arcs import rods_of_trace
from banister.core.practice.book import ArcRead
from banister.core.remark import Refused, Remark
from banister.devices.trace import read_trace


def arcs_of(path: Path) -> tuple[ArcRead, ...] | Remark | OSError:
    """The arc of every rod in a trace that burnt long enough; or why it is no trace, or cannot be read."""
    try:
        trace = read_trace(path)
        return rods_of_trace(trace.samples, trace.is_simulated)
    except Refused as refused:
        return refused.remarks[0]
    except OSError as error:
        return error
