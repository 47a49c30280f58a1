"""Fit-up readings as lines along the weld: what is measured, how sure a reading is, what cannot be right."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from banister.core.fitup.line import PRIOR_WANDER, ROUGH_MM, Line, line_of
from banister.core.fitup.places import Course
from banister.core.joint.figures import FIGURES
from banister.core.joint.fitting import INSTRUMENTS, SETS, FitUp
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, Remark, fault, unknown_word

QUANTITIES = {
    "gap": ("root_gap_mm", "fine_length"), "face": ("root_face_mm", "fine_length"), "high_low": ("high_low_mm", "fine_length"),
    "bevel_left": ("bevel_left_deg", "angle"), "bevel_right": ("bevel_right_deg", "angle"),
}  # fmt: skip
"""What is measured: the figure of the joint it stands for, and its kind."""
ERRORS = {"face": 0.15, "high_low": 0.10, "bevel_left": 1.0, "bevel_right": 1.0}
"""sd of the other readings, mm and degrees (typical)."""
READ_TO = {"gap": 0.1, "face": 0.1, "high_low": 0.1, "bevel_left": 0.5, "bevel_right": 0.5}
BEVEL_WANDER, BEVEL_ROUGH = 0.01, 0.5
"""deg2 a mm and deg: doubtful, to be learnt."""
POSSIBLE = {"gap": (-0.01, 25.0), "face": (0.0, 25.0), "high_low": (-25.0, 25.0), "bevel_left": (-5.0, 80.0), "bevel_right": (-5.0, 80.0)}
MOST_TOLERANCE_MM = 20.0
FEWEST = {True: 6, False: 4}
"""Fewer readings round a pipe, or along a plate, are too few to find the tightest place (shop trial)."""


def error_of(fitup: FitUp, quantity: str) -> float:
    """sd of one reading: that of the tool, and of the step it is read to."""
    tool = INSTRUMENTS[fitup.instrument] if quantity == "gap" else ERRORS[quantity]
    return math.hypot(tool, READ_TO[quantity] / math.sqrt(12.0))


def line_along(fitup: FitUp, quantity: str, course: Course) -> Line | None:
    """A quantity along the weld; None where it was nowhere measured."""
    found = [(r.s_mm, value) for r in fitup.readings if (value := getattr(r, quantity)) is not None]
    if not found:
        return None
    rough, prior = (BEVEL_ROUGH, BEVEL_WANDER) if quantity.startswith("bevel") else (ROUGH_MM, PRIOR_WANDER)
    places, values = zip(*found, strict=True)
    return line_of(places, values, course.length_mm, course.closed, error_of(fitup, quantity), rough, prior)


def means(fitup: FitUp, course: Course) -> dict[str, float]:
    """The mean along the weld of what was measured, by the figure of the joint it stands for: what a plan on the readings takes."""
    places = np.linspace(0.0, course.length_mm, 181)
    lines = {quantity: line_along(fitup, quantity, course) for quantity in QUANTITIES}
    return {QUANTITIES[q][0]: round(float(line.mean(places).mean()), 2) for q, line in lines.items() if line is not None}


def drawn(joint: Joint, quantity: str) -> float:
    """What the drawing says of a quantity."""
    return FIGURES[QUANTITIES[quantity][0]].of(joint)


def fitup_faults(fitup: FitUp, course: Course) -> Iterator[Remark]:
    """What cannot be right: two readings at one place, places off the weld, figures nobody can measure, words that are none."""
    seen: list[float] = []
    for i, reading in enumerate(fitup.readings):
        field = f"readings[{i}]"
        if not (math.isfinite(reading.s_mm) and -1e-6 <= reading.s_mm <= course.length_mm + 1e-6):
            yield fault("fitup.outside", f"{field}.s_mm", at=Figure(reading.s_mm, "length"), window=Figure((0.0, course.length_mm), "long_length"))
            continue
        if any(course.apart(reading.s_mm, s) < 1e-6 for s in seen):
            yield fault("fitup.twice", field, at=course.figure(reading.s_mm))
        seen.append(reading.s_mm)
        for quantity, (low, high) in POSSIBLE.items():
            value = getattr(reading, quantity)
            if value is not None and not (math.isfinite(value) and low <= value <= high):
                kind = QUANTITIES[quantity][1]
                yield fault("fitup.range", f"{field}.{quantity}", quantity=Figure(f"fitup.{quantity}", "word"), value=Figure(value, kind),
                            window=Figure((max(low, 0.0) if quantity == "gap" else low, high), kind))  # fmt: skip
    for field, word, known in (("instrument", fitup.instrument, tuple(INSTRUMENTS)), ("tolerances", fitup.tolerances, SETS)):
        if word not in known:
            yield unknown_word(field, word, known)
    for field in ("gap_under_mm", "gap_over_mm"):
        value = getattr(fitup, field)
        if value is not None and not (math.isfinite(value) and 0.0 <= value <= MOST_TOLERANCE_MM):
            yield fault("fitup.tolerance", field, value=Figure(value, "fine_length"), window=Figure((0.0, MOST_TOLERANCE_MM), "fine_length"))
