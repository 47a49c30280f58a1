"""The rod list as PDF: what to take along at a confidence, how each class is kept, trips to the oven with the rods of each."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from reportlab.platypus import Flowable

from banister import __version__
from banister.core.care.classes import class_of
from banister.core.care.take import Need
from banister.core.care.trips import Trip, Use
from banister.core.remark import Figure
from banister.core.sheet import Sheet
from banister.core.words import Speech
from banister.export.page import HEAD, TITLE, Page, printed
from banister.export.paper import Bookmark

BLANK = "________"


def rod_list(sheet: Sheet, needs: Mapping[str, Need], confidence: float, trips: Sequence[Trip], longest_s: float, uses: Sequence[Use], say: Speech,
             paper: str = "A4") -> bytes:  # fmt: skip
    """The list of a joint's rods as the bytes of a PDF."""
    title = say("rod_list.title", joint=sheet.joint.id)

    def story(width: float) -> list[Flowable]:
        return list(_List(sheet, say, width).flowables(needs, confidence, trips, longest_s, uses))

    return printed(story, title, say("rod_list.foot", program=__version__), say, paper)


class _List(Page):
    """The parts of the list."""

    def __init__(self, sheet: Sheet, say: Speech, width: float) -> None:
        super().__init__(say, width)
        self.sheet = sheet

    def flowables(self, needs: Mapping[str, Need], confidence: float, trips: Sequence[Trip], longest_s: float, uses: Sequence[Use]) -> Iterator[Flowable]:
        """What to take, how it is kept, when to fetch it."""
        say, joint = self.say, self.sheet.joint
        rods = {p.rod.id: p.rod for p in self.sheet.plan.passes}
        yield Bookmark(joint.id, joint.id)
        yield self.line(f"{joint.id}  {joint.name}", TITLE)
        yield self.line(say("rod_list.take", share=Figure(round(100 * confidence, 1), "percent")), HEAD)
        rows = [[say.figure(Figure(rod, "rod")), str(need.at(confidence)), str(need.planned), "{}-{}".format(*need.range_of()),
                 say(f"care_class.{class_of(rods[rod]).key}"), self._open(rod), BLANK] for rod, need in needs.items()]  # fmt: skip
        yield self.table(rows, (22, 9, 9, 11, 18, 16, 14), [say(f"rod_list.{key}") for key in ("rod", "n", "planned", "range", "kept", "open", "lot")])
        if uses:
            yield self.line(say("cli.take.trips.all", n=len(trips), longest=Figure(longest_s, "duration")), HEAD)
            yield self.table([self._trip(i, trip, uses) for i, trip in enumerate(trips)], (8, 14, 10, 40, 28), [
                say(f"rod_list.{key}") for key in ("trip", "at", "n", "passes", "tick")])  # fmt: skip
        yield self.line(say("cli.take.governs"))
        yield self.line(say("rod_list.caution"))

    def _open(self, rod: str) -> str:
        care = class_of(next(p.rod for p in self.sheet.plan.passes if p.rod.id == rod))
        return self.say.figure(Figure(3600.0 * care.open_h, "duration")) if care.clocked else self.say("rod_list.no_clock")

    def _trip(self, i: int, trip: Trip, uses: Sequence[Use]) -> list[str]:
        numbers = sorted({int(uses[k].key) for k in trip.uses})
        return [str(i + 1), self.say.figure(Figure(trip.at_s, "clock")), str(len(trip.uses)), self.say.passes(numbers), f"{BLANK}  {BLANK}"]
