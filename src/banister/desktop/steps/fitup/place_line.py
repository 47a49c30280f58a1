"""Where a reading is of, as it is typed or was aimed at."""

from __future__ import annotations

from banister.core.fitup.places import Course
from banister.core.joint.fitting import SAME_PLACE_MM, GapReading
from banister.core.remark import Refused
from banister.core.typed import METRIC, written
from banister.core.units import Units
from banister.core.words import Speech
from banister.desktop.fields import UnitsField


class PlaceLine(UnitsField):
    """A place along the weld: a length, or on a pipe the clock. One that was aimed at is that very place, however it is written.

    On a pipe that holds of a place that was read before; another one is what its clock says.
    """

    def __init__(self, title: str) -> None:
        super().__init__(title)
        self.course = Course(0.0)
        self._aimed_mm: float | None = None
        self._known_as = ""

    def show_course(self, course: Course, say: Speech) -> None:
        """The weld it lies on."""
        self.course = course
        self.show_units(say, "" if course.closed else "long_length")

    def turned(self, text: str, before: Units, now: Units) -> str:
        """The place, written in other units."""
        return self.course.turned(text, before, now)

    def aim(self, s_mm: float, known: GapReading | None, units: Units) -> None:
        """A place, by the words it was read under where these units say the same by them."""
        text = str(self.course.figure(s_mm).value) if self.course.closed else written(s_mm, "long_length", units)
        if known is not None and self._is(known.at, s_mm, units):
            text = known.at
        self._aimed_mm, self._known_as = None if known is None and self.course.closed else s_mm, "" if known is None else known.at
        self.edit.setModified(False)
        self.show_text(text)

    def value(self, units: Units) -> float:
        """The place in mm; Refused says why it is none."""
        text = self.edit.text().strip()
        return self._aimed_mm if self._aimed_mm is not None and text and not self.edit.is_new else self.course.place(text, units)

    def said(self, s_mm: float) -> str:
        """The words a place is kept under: those it has, or those typed if they say the same to somebody who works in millimetres."""
        text = self.edit.text().strip() if self.edit.is_new or not self._known_as else self._known_as
        return text if self.course.closed or self._is(text, s_mm, METRIC) else f"{s_mm:g} mm"

    def _is(self, text: str, s_mm: float, units: Units) -> bool:
        try:
            return self.course.apart(self.course.place(text, units), s_mm) < SAME_PLACE_MM
        except Refused:
            return False
