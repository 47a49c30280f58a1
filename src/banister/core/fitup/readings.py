"""Fit-up readings: what was measured, where and with what; each a plain value."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from banister.core.fitup.line import Line, line_of
from banister.core.fitup.places import Course
from banister.core.joint.figures import FIGURES
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, Remark, fault

QUANTITIES = {
    "gap": ("root_gap_mm", "fine_length"), "face": ("root_face_mm", "fine_length"), "high_low": ("high_low_mm", "fine_length"),
    "bevel_left": ("bevel_left_deg", "angle"), "bevel_right": ("bevel_right_deg", "angle"),
}  # fmt: skip
"""What is measured: the figure of the joint it stands for, and its kind."""
INSTRUMENTS = {"taper gauge": 0.08, "caliper": 0.08, "wires": 0.15}
"""sd of a gap reading by what it is read with, mm (typical)."""
ERRORS = {"face": 0.15, "high_low": 0.10, "bevel_left": 1.0, "bevel_right": 1.0}
"""sd of the other readings, mm and degrees (typical)."""
READ_TO = {"gap": 0.1, "face": 0.1, "high_low": 0.1, "bevel_left": 0.5, "bevel_right": 0.5}
BEVEL_WANDER, BEVEL_ROUGH = 0.01, 0.5
"""deg2 a mm and deg: doubtful, to be learnt."""
POSSIBLE = {"gap": (-0.01, 25.0), "face": (0.0, 25.0), "high_low": (-25.0, 25.0), "bevel_left": (-5.0, 80.0), "bevel_right": (-5.0, 80.0)}
FEWEST = {True: 6, False: 4}
"""Fewer readings round a pipe, or along a plate, are too few to find the tightest place (shop trial)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class GapReading:
    """One station: where, as typed and in mm, and what was read there; None for what was not. High-low positive: the right part stands higher."""

    at: str
    s_mm: float
    gap: float | None = None
    face: float | None = None
    high_low: float | None = None
    bevel_left: float | None = None
    bevel_right: float | None = None
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FitUp:
    """The readings of a joint in the order of their places, with what they were taken by whom and when."""

    readings: tuple[GapReading, ...] = ()
    instrument: str = "taper gauge"
    by: str = ""
    on: str = ""

    def error(self, quantity: str) -> float:
        """sd of one reading: that of the tool, and of the step it is read to."""
        tool = INSTRUMENTS.get(self.instrument, 0.15) if quantity == "gap" else ERRORS[quantity]
        return math.hypot(tool, READ_TO[quantity] / math.sqrt(12.0))

    def line(self, quantity: str, course: Course) -> Line | None:
        """A quantity along the weld; None where it was nowhere measured."""
        found = [(r.s_mm, value) for r in self.readings if (value := getattr(r, quantity)) is not None]
        if not found:
            return None
        rough, prior = (BEVEL_ROUGH, BEVEL_WANDER) if quantity.startswith("bevel") else (0.10, 0.001)
        places, values = zip(*found, strict=True)
        return line_of(places, values, course.length_mm, course.closed, self.error(quantity), rough, prior)

    def means(self, course: Course) -> dict[str, float]:
        """The mean along the weld of what was measured, by the figure of the joint it stands for: what a plan on the readings takes."""
        places = np.linspace(0.0, course.length_mm, 181)
        lines = {quantity: self.line(quantity, course) for quantity in QUANTITIES}
        return {QUANTITIES[q][0]: float(line.mean(places).mean()) for q, line in lines.items() if line is not None}

    @property
    def too_few(self) -> bool:
        """True where nothing of it would find the tightest place: said beside every band."""
        return len(self.readings) < min(FEWEST.values())


def drawn(joint: Joint, quantity: str) -> float:
    """What the drawing says of a quantity."""
    return FIGURES[QUANTITIES[quantity][0]].of(joint)


def fitup_faults(readings: Sequence[GapReading], course: Course) -> Iterator[Remark]:
    """What cannot be right: two readings at one place, figures nobody can measure."""
    seen: list[float] = []
    for i, reading in enumerate(readings):
        field = f"readings[{i}]"
        if any(course.apart(reading.s_mm, s) < 1e-6 for s in seen):
            yield fault("fitup.twice", field, at=course.figure(reading.s_mm))
        seen.append(reading.s_mm)
        for quantity, (low, high) in POSSIBLE.items():
            value = getattr(reading, quantity)
            if value is not None and not (math.isfinite(value) and low <= value <= high):
                kind = QUANTITIES[quantity][1]
                yield fault("fitup.range", f"{field}.{quantity}", quantity=Figure(f"fitup.{quantity}", "word"), value=Figure(value, kind),
                            window=Figure((max(low, 0.0) if quantity == "gap" else low, high), kind))  # fmt: skip
