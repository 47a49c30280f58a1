"""A place along the weld, as steps ask for it."""

from __future__ import annotations

from banister.core.fitup.places import Course
from banister.core.typed import written
from banister.core.units import Units
from banister.core.words import Speech
from banister.desktop.fields import FigureField


class PlaceField(FigureField):
    """A place along the weld: a length, or on a pipe the clock."""

    def __init__(self, title: str) -> None:
        super().__init__(title, "long_length", lambda _: None)
        self.course: Course | None = None

    def parse(self, text: str) -> float:
        """The place in mm; Refused says why it is none."""
        return self.course.place(text) if self.course is not None and self.course.closed else super().parse(text)

    def turn(self, before: Units, now: Units) -> None:
        """A clock is the same in all units."""
        if self.course is None or not self.course.closed:
            super().turn(before, now)

    def show_place(self, s_mm: float, say: Speech) -> None:
        """Show a place."""
        closed = self.course is not None and self.course.closed
        self.put(s_mm, str(self.course.figure(s_mm).value) if closed and self.course is not None else written(s_mm, "long_length", say.units))

    def show_course(self, course: Course, say: Speech) -> None:
        """Another weld."""
        self.course = course
        self.show_unit(say)
        if course.closed:
            self.unit.setText(say("inspect.clock"))
