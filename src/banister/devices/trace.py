"""Recorded traces of an arc: CSV, gzip allowed, comments in front; faulty lines are told with their number and passed over."""

from __future__ import annotations

import gzip
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

from banister.core.remark import Figure, Refused, Remark, fault

COLUMNS = (["t_s", "volts", "amps"], ["t_s", "volts", "amps", "watts"])
MARK, MADE_UP = "# banister-trace 1", "# simulated"
MOST_FAULTY = 0.05
LARGEST_BYTES = 400_000_000
Sample = tuple[float, float, float, float | None]


@dataclass(slots=True)
class Trace:
    """The samples of a trace in time, and what was wrong with it line by line."""

    samples: list[Sample] = field(default_factory=list)
    faults: list[Remark] = field(default_factory=list)
    is_simulated: bool = False


def written(samples: Iterable[Sample], is_simulated: bool = False) -> bytes:
    """Samples as the lines of a trace, times from the first; one from a simulator says so in a comment of its own."""
    found = list(samples)
    begin, watts = found[0][0] if found else 0.0, any(s[3] is not None for s in found)
    lines = [MARK, *([MADE_UP] if is_simulated else []), ",".join(COLUMNS[1] if watts else COLUMNS[0])]
    for t, volts, amps, power in found:
        cells = [f"{t - begin:.3f}", f"{volts:.2f}", f"{amps:.1f}", *([f"{volts * amps if power is None else power:.0f}"] if watts else [])]
        lines.append(",".join(cells))
    return ("\n".join(lines) + "\n").encode()


def read_trace(path: Path, most_bytes: int = LARGEST_BYTES) -> Trace:
    """A trace; Refused where it is none, or over a twentieth of it is faulty. OSError where it cannot be read."""
    trace, has_head, lines = Trace(), False, 0
    for number, line in enumerate(_lines(path, most_bytes), 1):
        text = line.strip()
        if not text or text.startswith("#"):
            trace.is_simulated = trace.is_simulated or text == MADE_UP
            continue
        cells = [cell.strip() for cell in text.split(",")]
        if not has_head:
            if cells not in COLUMNS:
                raise Refused(fault("trace.head", f"line {number}", found=Figure(text[:40], "name")))
            has_head = True
            continue
        lines += 1
        sample = _sample(cells, trace.samples[-1][0] if trace.samples else -math.inf)
        if sample is None:
            trace.faults.append(fault("trace.line", f"line {number}", found=Figure(text[:40], "name")))
        else:
            trace.samples.append(sample)
    if not has_head or not lines:
        raise Refused(fault("trace.empty", ""))
    if len(trace.faults) > MOST_FAULTY * lines:
        raise Refused(fault("trace.faulty", "", n=Figure(len(trace.faults), "count"), of=Figure(lines, "count")), *trace.faults[:5])
    return trace


def _lines(path: Path, most_bytes: int) -> Iterator[str]:
    with path.open("rb") as head:
        is_packed = head.read(2) == b"\x1f\x8b"
    size = 0
    try:
        with gzip.open(path, "rt", encoding="utf-8", errors="replace") if is_packed else path.open(encoding="utf-8", errors="replace") as file:
            for line in file:
                size += len(line)
                if size > most_bytes:
                    raise Refused(fault("trace.large", "", most=Figure(f"{most_bytes // 1_000_000} MB", "name")))
                yield line
    except (EOFError, gzip.BadGzipFile):
        raise Refused(fault("trace.packed", "")) from None


def _sample(cells: list[str], after: float) -> Sample | None:
    """A sample that is one, later than the one before."""
    try:
        values = [float(cell) for cell in cells]
    except ValueError:
        return None
    if len(values) not in (3, 4) or not all(map(math.isfinite, values)) or values[0] <= after:
        return None
    return values[0], values[1], values[2], values[3] if len(values) == 4 else None
