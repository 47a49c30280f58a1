"""A simulated gauge: reads a joint whose true gap is known to nobody else, with its own error and step; seeded, the same readings every time."""

from __future__ import annotations

import math

import numpy as np

from banister.core.fitup.places import Course, course_of
from banister.core.fitup.readings import ERRORS, READ_TO, drawn
from banister.core.joint.fitting import INSTRUMENTS, SIMULATED, GapReading
from banister.core.joint.joint import Joint
from banister.core.value import Struct

HARMONICS = 4
UNEVEN_MM, CUT_MM = 0.6, 0.1
"""How much a made joint's gap wanders along it, and the roughness of its cut (typical)."""


class SimulatedGauge(Struct, frozen=True, kw_only=True):
    """Reads a made joint of a mean gap; `seed` makes the joint and the hand."""

    course: Course
    gap_mm: float = 3.0
    face_mm: float = 1.5
    instrument: str = "taper gauge"
    seed: int = 1

    def true_gap_mm(self, s_mm: float) -> float:
        """The gap of the made joint: a slope or a tilt, waves, and the roughness of the cut."""
        draw = np.random.default_rng(self.seed)
        sizes, phases = draw.normal(0.0, UNEVEN_MM, HARMONICS) / np.arange(1, HARMONICS + 1), draw.uniform(0.0, 2 * math.pi, HARMONICS)
        turns = (1.0 if self.course.closed else 0.5) * 2 * math.pi * s_mm / self.course.length_mm
        waves = sum(float(a) * math.cos((k + 1) * turns + float(p)) for k, (a, p) in enumerate(zip(sizes, phases, strict=True)))
        rough = float(np.random.default_rng((self.seed, round(s_mm * 10))).normal(0.0, CUT_MM))
        return max(self.gap_mm + waves + rough, 0.0)

    def read(self, s_mm: float) -> GapReading:
        """One reading at a place, rounded to the step of the tool."""
        hand = np.random.default_rng((self.seed, 7, round(s_mm * 10)))
        gap = self.true_gap_mm(s_mm) + float(hand.normal(0.0, INSTRUMENTS[self.instrument]))
        face = self.face_mm + float(hand.normal(0.0, ERRORS["face"]))
        return GapReading(at=f"{s_mm / self.course.length_mm * 360:g} deg" if self.course.closed else f"{s_mm:g}", s_mm=s_mm,
                          gap=_stepped(gap, READ_TO["gap"]), face=_stepped(face, READ_TO["face"]), note=SIMULATED)  # fmt: skip

    def walked(self, count: int) -> tuple[GapReading, ...]:
        """Readings at so many places evenly along the weld, both ends of a plate among them."""
        step = self.course.length_mm / (count if self.course.closed else count - 1)
        return tuple(self.read(round(i * step, 1)) for i in range(count))


def gauge_for(joint: Joint, seed: int) -> SimulatedGauge:
    """A gauge that reads a made joint about as wide as this one is drawn."""
    return SimulatedGauge(course=course_of(joint), gap_mm=drawn(joint, "gap"), face_mm=drawn(joint, "face"), instrument=joint.fitup.instrument, seed=seed)


def _stepped(value: float, step: float) -> float:
    return round(max(round(value / step) * step, 0.0), 3)
