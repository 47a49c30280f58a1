"""Test pieces on the weld: slips cut through the strip with their stamps; stops, tacks and what was seen show through them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.charts.place_axis import place_axis
from banister.core.drawing.hatch import hatched
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Lines, Point, Rect, Shape, Text
from banister.core.fitup.places import Course
from banister.core.inspect.cutting import piece_word, taken
from banister.core.inspect.pieces import Cut, Zone
from banister.core.value import Struct, replace
from banister.core.words import Speech

LEFT, RIGHT, FOOT, HEAD, WELD = 20.0, 20.0, 46.0, 44.0, 14.0
LEAST_LETTERS, NUMBER, LEVELS = 26.0, 15.0, (10.0, 26.0)


class PiecesView(Struct, frozen=True):
    """Size in pixels, and the number of the piece that is held (0: none)."""

    width: float
    height: float
    held: int = 0


class PiecesStrip(Struct, frozen=True):
    """The strip, its axis, and between which pixels each piece stands."""

    drawing: Drawing
    along: Axis
    slips: Mapping[int, tuple[float, float]]

    def piece_at(self, point: Point) -> int:
        """The number of the piece under a point, 0 for none; a few pixels beside it count."""
        return next((n for n, (a, b) in self.slips.items() if a - 4 <= point[0] <= b + 4), 0)


def pieces_strip(cuts: Sequence[Cut], zones: Sequence[Zone], course: Course, say: Speech, view: PiecesView) -> PiecesStrip:
    """The strip for a size."""
    along = Axis(0.0, course.length_mm, LEFT, view.width - RIGHT)
    top, middle = view.height - HEAD, (FOOT + view.height - HEAD) / 2
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, view.height), "ground"), Rect((LEFT, FOOT, view.width - RIGHT, top), "plate"),
                           Rect((LEFT, middle - WELD, view.width - RIGHT, middle + WELD), "bead.cap", "bead.edge", "weld")]  # fmt: skip
    slips: dict[int, tuple[float, float]] = {}
    numbers: list[tuple[float, float, float]] = []
    for cut in cuts:
        shapes += _slip(cut, along, course, zones, view, slips, numbers, say)
    shapes += _zones(zones, along, course, middle)
    shapes += place_axis(along, course, FOOT, say)
    return PiecesStrip(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), along, slips)


def _slip(
    cut: Cut, along: Axis, course: Course, zones: Sequence[Zone], view: PiecesView, slips: dict[int, tuple[float, float]],
    numbers: list[tuple[float, float, float]], say: Speech,
) -> Iterator[Shape]:  # fmt: skip
    """A piece: its two cuts, its number over it, its stamp within where there is room."""
    top = view.height - HEAD
    is_bad = bool(taken(cut, zones, course))
    laps = (0.0, -course.length_mm) if course.closed and cut.from_mm + cut.width_mm > course.length_mm else (0.0,)
    for lap in laps:
        x0, x1 = (min(max(along.at(s + lap), LEFT), view.width - RIGHT) for s in (cut.from_mm, cut.from_mm + cut.width_mm))
        slips.setdefault(cut.number, (x0, x1))
        yield Rect((x0, FOOT, x1, top), "ground", "handle" if cut.number == view.held else "text", f"piece:{cut.number}")
        middle, centre = (FOOT + top) / 2, (x0 + x1) / 2
        yield Rect((x0, middle - WELD, x1, middle + WELD), "bead.cap", "bead.edge")
        number = Text((centre, 0.0), str(cut.number), "warning" if is_bad else "text", NUMBER, face=BOLD, id=f"number:{cut.number}")
        yield replace(number, at=(centre, top + _clear(number, numbers)))
        said = piece_word(cut.piece, say)
        if x1 - x0 >= LEAST_LETTERS:
            yield Text((centre, middle + WELD + 22), elided(said, x1 - x0 - 4, 12, NARROW), "text", 12, face=NARROW)
    if is_bad:
        yield Text(((x0 + x1) / 2, top - 10), "!", "warning", 14, face=NARROW_BOLD, id=f"takes:{cut.number}")


def _clear(number: Text, numbers: list[tuple[float, float, float]]) -> float:
    """How high over its piece a number stands, so that it runs into no other: 1 and 2 of narrow pieces side by side are not 12."""
    half = advance(number.text, number.size, BOLD) / 2 + 2
    low, high = number.at[0] - half, number.at[0] + half
    level = next((one for one in LEVELS if not any(at == one and low < b and high > a for a, b, at in numbers)), LEVELS[-1])
    numbers.append((low, high, level))
    return level


def _zones(zones: Sequence[Zone], along: Axis, course: Course, middle: float) -> Iterator[Shape]:
    """What is to be kept clear of, hatched across the weld."""
    high = WELD + 12
    for zone in zones:
        laps = (-course.length_mm, 0.0, course.length_mm) if course.closed else (0.0,)
        for lap in laps:
            a, b = max(along.at(zone.from_mm + lap), along.start), min(along.at(zone.to_mm + lap), along.end)
            if b - a < 0.5:
                continue
            low = middle - high if zone.why != "tack" else middle - high - 8
            box = ((a, low), (b, low), (b, middle + high), (a, middle + high))
            yield Lines(hatched(box, 55.0 if zone.why == "tack" else -55.0, 5.0), "outside" if zone.why == "seen" else "contour", f"zone:{zone.why}")


def key_said(say: Speech, width: float) -> str:
    """What the hatches mean, as much of it as there is room for."""
    text = say("pieces.key")
    return text if advance(text, 12, NARROW) <= width else elided(text, width, 12, NARROW)
