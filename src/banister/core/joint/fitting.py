"""What was measured and chosen at the fit-up of a joint, as it is kept: readings, tolerances, tacks, the two ends of a pipe and their turn."""

from __future__ import annotations

from banister.core.value import Struct, replace

INSTRUMENTS = {"taper gauge": 0.08, "caliper": 0.08, "wires": 0.15}
"""sd of a gap reading by what it is read with, mm (typical)."""
SETS = ("", "procedure", "structural-open", "structural-bar", "pipe-open")
"""Tolerance sets by their key; '' is the usual one for the joint."""
SAME_PLACE_MM = 1e-6
"""Readings nearer than this are of one place."""
SIMULATED = "simulated"
"""The note of a reading that nobody took: whoever shows it says so, and it judges nothing."""


class GapReading(Struct, frozen=True, kw_only=True):
    """One station: where, in words and in mm, and what was read there; None for what was not.

    High-low positive: the right part stands higher.
    """

    at: str
    s_mm: float
    gap: float | None = None
    face: float | None = None
    high_low: float | None = None
    bevel_left: float | None = None
    bevel_right: float | None = None
    note: str = ""


class Tack(Struct, frozen=True, kw_only=True):
    """From where to where (mm along the weld), which side, what kind, its place in the order; feathered at its ends, removed before the root.

    On a pipe a tack over 12 o'clock begins below nought.
    """

    from_s: float
    to_s: float
    order: int
    side: str = "front"
    kind: str = "tack"
    feathered: bool = True
    removed: bool = False

    @property
    def middle(self) -> float:
        """Where it sits."""
        return (self.from_s + self.to_s) / 2

    @property
    def length_mm(self) -> float:
        """How long it is."""
        return self.to_s - self.from_s


class TackRules(Struct, frozen=True, kw_only=True):
    """The user's own rules for tacks: most of them, the longest, clear of a pipe's seam, who may weld them; None and '' where there is no rule."""

    most: int | None = None
    longest_mm: float | None = None
    seam_clear_mm: float = 25.0
    by: str = ""


class PipeEnd(Struct, frozen=True, kw_only=True):
    """Inner radii (mm) read at angles (degrees clockwise from 12); diameters give even lobes only. A seam by its angle, None for none."""

    angles_deg: tuple[float, ...]
    radii_mm: tuple[float, ...]
    diameters: bool = False
    seam_deg: float | None = None


class Turning(Struct, frozen=True, kw_only=True):
    """Two measured pipe ends, the lying one first, how far their seams are kept apart (mm outside, None for the usual), and the turn that was chosen."""

    ends: tuple[PipeEnd, ...] = ()
    seams_apart_mm: float | None = None
    most_deg: float = 180.0
    turn_deg: float | None = None


class FitUp(Struct, frozen=True, kw_only=True):
    """The readings of a joint in the order of their places, with what they were taken by whom and when; its tacks, the turn of its pipe.

    `tolerances` names a set; `gap_under_mm` and `gap_over_mm` are the procedure's own on the root gap, None where not entered.
    `closes_mm` is what a tack closes its gap by, as was seen on this joint's first ones; None for the usual figure.
    """

    readings: tuple[GapReading, ...] = ()
    instrument: str = "taper gauge"
    by: str = ""
    on: str = ""
    tolerances: str = ""
    gap_under_mm: float | None = None
    gap_over_mm: float | None = None
    tacks: tuple[Tack, ...] = ()
    tack_rules: TackRules = TackRules()
    closes_mm: float | None = None
    turning: Turning = Turning()

    def reading_at(self, s_mm: float) -> GapReading | None:
        """The reading of a place."""
        return next((r for r in self.readings if abs(r.s_mm - s_mm) < SAME_PLACE_MM), None)

    def with_reading(self, reading: GapReading) -> FitUp:
        """The readings with one more, in the place of an earlier one there."""
        there = self.reading_at(reading.s_mm)
        kept = [r for r in self.readings if r is not there]
        return replace(self, readings=tuple(sorted([*kept, reading], key=lambda r: r.s_mm)))

    @property
    def in_order(self) -> tuple[Tack, ...]:
        """The tacks in the order they are welded in."""
        return tuple(sorted(self.tacks, key=lambda tack: tack.order))

    def with_tacks(self, tacks: tuple[Tack, ...]) -> FitUp:
        """These tacks, their order counted anew from 1."""
        ordered = sorted(tacks, key=lambda tack: tack.order)
        return replace(self, tacks=tuple(replace(tack, order=i + 1) for i, tack in enumerate(ordered)))
