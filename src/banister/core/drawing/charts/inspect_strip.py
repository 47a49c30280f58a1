"""The inspected weld seen from above, drawn wider than it is: what was seen at its place and toe, and under it what was looked for.

A verdict is a shape, never a colour alone: outside is hatched with a double edge, from memory has a question mark, near its
limit is broken; the worst window of a sum is a bracket. The root is mirrored: it is seen from behind.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.charts.place_axis import place_axis
from banister.core.drawing.hatch import hatched
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Drawing, Lines, Rect, Shape, Text
from banister.core.fitup.places import Course
from banister.core.inspect.judged import AGAIN, NOT_JUDGED, OUTSIDE_MEMORY, REFERRED, REJECT, Judgement, Line
from banister.core.inspect.kinds import LINES, ROOT, Kind, letter_of
from banister.core.inspect.observed import LEFT, RIGHT, Inspected, Observation
from banister.core.inspect.repairs import KeptRepair
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

LABELS, EDGE, TOP, ROW, STRIP, PLATE = 132.0, 22.0, 20.0, 12.5, 50.0, 13.0
AXIS, BRACKET = 20.0, 20.0
MARK_PX, LEAST_PX, NEAR_PX, NOTCH = 9.0, 10.0, 12.0, 7.0
BAD, DOUBTFUL = (REJECT,), (OUTSIDE_MEMORY, AGAIN, REFERRED)


class StripView(Struct, frozen=True):
    """Size in pixels, the side shown, the cursor (mm), the observation selected (0 for none), the stops of the rods (mm), the repairs."""

    width: float
    height: float
    side: str
    cursor_mm: float = 0.0
    selected: int = 0
    stops: tuple[float, ...] = ()
    repairs: tuple[KeptRepair, ...] = ()

    @property
    def section_top(self) -> float:
        """Height of the room left under the lines for the section."""
        return self.height - TOP - STRIP - 2 * PLATE - AXIS - BRACKET - ROW * (len(LINES[self.side]) + 1.2)


class InspectStrip(Struct, frozen=True):
    """The picture, its axis along, where the marks of observations lie (x0, x1 by their number) and the rows of the lines (y by line)."""

    drawing: Drawing
    along: Axis
    boxes: Mapping[int, tuple[float, float]]
    rows: Mapping[str, float]

    def near(self, x: float) -> int:
        """The observation near a pixel; 0 for none."""
        found = [(max(x0 - x, x - x1, 0.0), number) for number, (x0, x1) in self.boxes.items()]
        return min((pair for pair in found if pair[0] <= NEAR_PX), default=(0.0, 0))[1]

    def row_at(self, y: float) -> str:
        """The line whose row lies at a height; '' for none."""
        return next((line for line, at in self.rows.items() if abs(at - y) <= ROW / 2), "")


def inspect_strip(found: Inspected, judgement: Judgement, kinds: Mapping[str, Kind], course: Course, say: Speech, view: StripView) -> InspectStrip:
    """The strip of a side."""
    strip = Strip(found, judgement, kinds, course, say, view)
    ground = Rect((0.0, 0.0, view.width, view.height), "ground")
    shapes = (ground, *strip.weld(), *strip.axis(), *strip.seen(), *strip.bracket(), *strip.looked(), *strip.cursor())
    return InspectStrip(Drawing(shapes, (0.0, 0.0, view.width, view.height)), strip.along, strip.boxes, strip.rows)


@dataclass
class Strip:
    """The parts of the strip."""

    found: Inspected
    judgement: Judgement
    kinds: Mapping[str, Kind]
    course: Course
    say: Speech
    view: StripView
    boxes: dict[int, tuple[float, float]] = field(default_factory=dict)
    rows: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        length = self.course.length_mm
        ends = (self.view.width - EDGE, LABELS) if self.view.side == ROOT else (LABELS, self.view.width - EDGE)
        self.along = Axis(0.0, length, *ends)
        self.top = self.view.height - TOP
        self.foot = self.top - STRIP - 2 * PLATE
        self.middle = (self.top + self.foot) / 2
        self.worst = self._worst_of_each()

    def _worst_of_each(self) -> dict[int, Line]:
        """The worst line of every observation; lines come worst first."""
        found: dict[int, Line] = {}
        for line in self.judgement.lines:
            for number in line.seen:
                found.setdefault(number, line)
        return found

    def x(self, s_mm: float) -> float:
        """A place along, in pixels."""
        return self.along.at(min(max(s_mm, 0.0), self.course.length_mm))

    # --- the weld -------------------------------------------------------------------------------
    def weld(self) -> Iterator[Shape]:
        """Plates, the weld between them, the ends of rods as notches, what side it is."""
        x0, x1 = sorted((self.along.start, self.along.end))
        yield Rect((x0, self.foot, x1, self.top), "plate", "plate.edge")
        style = "bead.root" if self.view.side == ROOT else "bead.cap"
        yield Rect((x0, self.foot + PLATE, x1, self.top - PLATE), style, "bead.edge", "weld")
        yield from self._repairs()
        for s in self.view.stops:
            x, low, high = self.x(s), self.foot + PLATE, self.top - PLATE
            yield Lines((((x, low), (x, low + NOTCH)), ((x, high - NOTCH), (x, high))), "soft", "stop")
        yield Text((10.0, self.middle + 8), self.say(f"inspect.side.{self.view.side}"), "text", 14, "start", "side", face=BOLD)
        if self.view.side == ROOT:
            yield Text((10.0, self.middle - 9), self.say("inspect.from_behind"), "soft", 11, "start", face=NARROW)

    def _repairs(self) -> Iterator[Shape]:
        """The hollows that were decided on, as a layer over the weld, each with its number."""
        laps = (-self.course.length_mm, 0.0, self.course.length_mm) if self.course.closed else (0.0,)
        for nth, one in enumerate(self.view.repairs, 1):
            for lap in laps if one.side == self.view.side else ():
                begin, end = one.from_mm + lap, one.from_mm + one.length_mm + lap
                if end <= 0.0 or begin >= self.course.length_mm:
                    continue
                a, b = sorted((self.x(begin), self.x(end)))
                low, high = self.foot + PLATE, self.top - PLATE
                yield Rect((a, low, b, high), "bead.fill", "bead.edge", f"repair:{nth}")
                said = self.say("inspect.repair_nth", nth=str(nth))
                yield Text(((a + b) / 2, self.top + 9), said, "text", 11.5, id=f"repair:{nth}:said", face=NARROW_BOLD)

    def axis(self) -> Iterator[Shape]:
        """Marks along: mm, inches, or the clock."""
        yield from place_axis(self.along, self.course, self.foot, self.say)

    # --- what was seen --------------------------------------------------------------------------
    def seen(self) -> Iterator[Shape]:
        """Every observation of the side at its place: as long as it is, at its toe."""
        taken: list[tuple[float, float, float]] = []
        for one in sorted((o for o in self.found.seen if o.side == self.view.side), key=lambda o: o.s_mm):
            yield from self._one(one, taken)

    def _one(self, one: Observation, taken: list[tuple[float, float, float]]) -> Iterator[Shape]:
        a, b = sorted((self.x(one.interval[0]), self.x(one.interval[1])))
        middle = (a + b) / 2
        half = max((b - a) / 2, LEAST_PX / 2)
        y = {LEFT: self.top - PLATE, RIGHT: self.foot + PLATE}.get(one.toe, self.middle)
        line = self.worst.get(one.id)
        verdict = NOT_JUDGED if line is None else line.verdict
        style = "outside" if verdict in BAD else "warning" if verdict in DOUBTFUL else "text"
        box = (middle - half, y - MARK_PX, middle + half, y + MARK_PX)
        self.boxes[one.id] = (box[0], box[2])
        letter = letter_of(self.kinds[one.kind], tuple(self.kinds.values())) if one.kind in self.kinds else "x"
        if one.length is None:
            yield Dot((middle, y), MARK_PX, "ground", style, f"seen:{one.id}")
        else:
            yield Rect(box, "ground", style, f"seen:{one.id}")
        if verdict in BAD:
            corners = ((box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3]))
            yield Lines(hatched(corners, 50.0, 4.0), "hatch.outside", f"outside:{one.id}")
            yield Rect((box[0] - 2.5, box[1] - 2.5, box[2] + 2.5, box[3] + 2.5), "", "outside")
            yield Dot((middle, y), MARK_PX - 2.5, "ground")
        yield Text((middle, y), letter, style, 11.5, face=BOLD)
        if one.id == self.view.selected:
            yield Rect((box[0] - 4, box[1] - 4, box[2] + 4, box[3] + 4), "", "handle", f"selected:{one.id}")
        said = self._figure(one, line) + ("?" if verdict in (OUTSIDE_MEMORY, NOT_JUDGED) else "")
        wide = advance(said, 11.5, NARROW_BOLD) + 6
        x = box[2] + 5
        if not any(abs(at - y) < 12 and x < end and x + wide > begin for begin, end, at in taken) and x + wide < self.view.width:
            yield Text((x, y), said, style, 11.5, "start", f"said:{one.id}", face=NARROW_BOLD)
            taken.append((box[0], x + wide, y))

    def _figure(self, one: Observation, line: Line | None) -> str:
        """The figure that was measured of it."""
        u = self.say.units
        if line is not None and line.value is not None and line.sum is None and line.measure:
            return u.text("angle" if line.measure == "angle" else "fine_length", line.value)
        for what in ("depth", "height", "size", "width"):
            if (value := one.measured(what)) is not None:
                return u.text("fine_length", value)
        return "" if one.length is None else u.text("long_length", one.length)

    def bracket(self) -> Iterator[Shape]:
        """The worst window of the worst sum that is not inside."""
        sums = [line for line in self.judgement.lines if line.sum is not None and line.side == self.view.side and line.worst is not None]
        worst = next((line for line in sums if line.verdict in (*BAD, *DOUBTFUL)), None)
        if worst is None or worst.sum is None or worst.worst is None or worst.value is None or worst.limit is None:
            return
        a = worst.worst.from_mm
        begin, end = sorted((self.x(a), self.x(a + worst.sum.window)))
        y = self.foot - AXIS - 6
        style = "outside" if worst.verdict in BAD else "warning"
        yield Lines((((begin, y + 6), (begin, y)), ((begin, y), (end, y)), ((end, y), (end, y + 6))), style, "bracket")
        kind = {"length": "long_length", "size": "fine_length"}.get(worst.sum.of, "count")
        said = self.say("inspect.bracket", value=Figure(worst.value, kind), most=Figure(worst.limit, kind), window=Figure(worst.sum.window, "long_length"))
        x = min(end + 6, self.view.width - advance(said, 11.5, NARROW_BOLD) - 4)
        yield Text((x, y), said, style, 11.5, "start", "bracket.said", face=NARROW_BOLD)

    # --- what was looked for --------------------------------------------------------------------
    def looked(self) -> Iterator[Shape]:
        """A thin line for each kind that is looked for, thick where it was; gaps are stretches nobody looked at."""
        y = self.foot - AXIS - BRACKET - ROW
        side = self.view.side
        if side in self.found.no_access:
            yield Text((10.0, y), self.say("inspect.no_access", why=self.found.no_access[side]), "warning", 12, "start", "no access", face=NARROW_BOLD)
            return
        for line in LINES[side]:
            gaps = self.found.unlooked(side, line, self.course.length_mm)
            yield Text((LABELS - 10, y), self.say(f"looked.{line}"), "warning" if gaps else "text", 11.5, "end", f"looked:{line}", face=NARROW)
            x0, x1 = sorted((self.along.start, self.along.end))
            yield Lines((((x0, y), (x1, y)),), "mark", f"line:{line}")
            for a, b in gaps:
                begin, end = sorted((self.x(a), self.x(b)))
                yield Rect((begin, y - 3, end, y + 3), "ground")
                yield Lines((((begin, y), (end, y)),), "rule", f"gap:{line}")
            self.rows[line] = y
            y -= ROW

    def pointer(self) -> Iterator[Shape]:
        """The stroke of the cursor."""
        x = self.x(self.view.cursor_mm)
        yield Lines((((x, self.foot - 4), (x, self.top + 8)),), "handle", "cursor")

    def cursor(self) -> Iterator[Shape]:
        """Where the next observation goes."""
        x = self.x(self.view.cursor_mm)
        yield from self.pointer()
        at = self.course.figure(self.view.cursor_mm)
        said = self.say.figure(at)
        left = x + advance(said, 11.5, NARROW_BOLD) + 12 > self.view.width
        yield Text((x - 5 if left else x + 5, self.top + 10), said, "handle", 11.5, "end" if left else "start", "cursor.said", face=NARROW_BOLD)
