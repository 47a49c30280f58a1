"""What was measured at the fit-up of a joint, as it is kept: readings by their place, and the tolerances they are held against."""

from __future__ import annotations

from dataclasses import dataclass, replace

INSTRUMENTS = {"taper gauge": 0.08, "caliper": 0.08, "wires": 0.15}
"""sd of a gap reading by what it is read with, mm (typical)."""
SETS = ("", "procedure", "structural-open", "structural-bar", "pipe-open")
"""Tolerance sets by their key; '' is the usual one for the joint."""


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
    """The readings of a joint in the order of their places, with what they were taken by whom and when.

    `tolerances` names a set; `gap_under_mm` and `gap_over_mm` are the procedure's own on the root gap, None where not entered.
    """

    readings: tuple[GapReading, ...] = ()
    instrument: str = "taper gauge"
    by: str = ""
    on: str = ""
    tolerances: str = ""
    gap_under_mm: float | None = None
    gap_over_mm: float | None = None

    def with_reading(self, reading: GapReading) -> FitUp:
        """The readings with one more, in the place of an earlier one there."""
        kept = [r for r in self.readings if abs(r.s_mm - reading.s_mm) > 1e-6]
        return replace(self, readings=tuple(sorted([*kept, reading], key=lambda r: r.s_mm)))
