"""Places along a weld: mm from the left end of a plate, the clock of a pipe seen along its flow arrow.

A pipe's outside is s = pi OD theta / 360, theta in degrees clockwise from 12. The section is always seen towards
smaller s.
"""

from __future__ import annotations

import math
import re

from banister.core.joint.piece import OnPiece
from banister.core.remark import Figure, Refused, fault
from banister.core.typed import METRIC, turned, typed
from banister.core.units import Units
from banister.core.value import Struct

_CLOCK = re.compile(r"(\d{1,2})(?::(\d{2})|[.,](\d+))?\s*(?:h|o'clock)?")
_DEGREES = re.compile(r"([+-]?\d+(?:[.,]\d+)?)\s*(?:deg|\N{DEGREE SIGN})")
END_SLACK_MM = 1.0
"""A station so little outside is taken as the end."""


class Course(Struct, frozen=True):
    """A weld from its start to its end: `length_mm` along its outside, closed where it is a pipe's."""

    length_mm: float
    closed: bool = False

    def place(self, text: str, units: Units = METRIC) -> float:
        """A place as it was typed, in mm; Refused says what is wrong with it."""
        if self.closed:
            return clock_degrees(text) / 360.0 * self.length_mm
        return self.within(typed(text, "length", units, low=-END_SLACK_MM, high=self.length_mm + END_SLACK_MM))

    def within(self, s_mm: float) -> float:
        """A place on the weld, one a little outside at its end; Refused where it is off it."""
        if not -END_SLACK_MM <= s_mm <= self.length_mm + END_SLACK_MM:
            raise Refused(fault("fitup.outside", "", at=Figure(s_mm, "length"), window=Figure((0.0, self.length_mm), "long_length")))
        return min(max(s_mm, 0.0), self.length_mm)

    def turned(self, text: str, before: Units, now: Units) -> str:
        """A place as it was typed, in other units; a clock is the same in all."""
        return text if self.closed else turned(text, "long_length", before, now)

    def apart(self, a: float, b: float) -> float:
        """How far two places lie from one another."""
        gap = abs(a - b)
        return min(gap, self.length_mm - gap) if self.closed else gap

    def sayable(self, s_mm: float) -> float:
        """The place that is said of one: on a pipe where the clock's minutes are."""
        return self.place(str(self.figure(s_mm).value)) if self.closed else s_mm

    def figure(self, s_mm: float) -> Figure:
        """A place as a figure: mm along a plate, the clock of a pipe."""
        return Figure(clock_said(s_mm / self.length_mm * 360.0), "name") if self.closed else Figure(s_mm, "long_length")


def course_of(joint: OnPiece) -> Course:
    """The course of a joint's weld, on its outside."""
    piece = joint.piece
    return Course(math.pi * piece.pipe_od_mm, True) if piece.form == "pipe" else Course(piece.length_mm)


def clock_degrees(text: str) -> float:
    """A place on a pipe in degrees clockwise from 12: by the clock, or in degrees.

    >>> clock_degrees("4:30"), clock_degrees("4.5"), clock_degrees("135 deg"), clock_degrees("12")
    (135.0, 135.0, 135.0, 0.0)
    """
    plain = text.strip()
    if (found := _DEGREES.fullmatch(plain)) is not None:
        return float(found.group(1).replace(",", ".")) % 360.0
    found = _CLOCK.fullmatch(plain)
    if found is not None:
        hours, minutes = int(found.group(1)), int(found.group(2) or 0)
        if hours <= 12 and minutes < 60:
            part = minutes / 60 if found.group(2) else float(f"0.{found.group(3) or 0}")
            return (hours + part) * 30.0 % 360.0
    raise Refused(fault("fitup.clock", "", text=Figure(plain[:20], "name")))


def clock_said(degrees: float) -> str:
    """A place on a pipe by the clock, to the nearest minute.

    >>> clock_said(135.0), clock_said(0.0), clock_said(359.9)
    ('4:30', '12:00', '12:00')
    """
    minutes = round(degrees % 360.0 * 2) % 720
    return f"{minutes // 60 or 12}:{minutes % 60:02d}"
