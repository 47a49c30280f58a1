"""Hours as bars, a group a bar, with what it takes in words behind it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Rect, Shape, Text
from banister.core.value import Struct
from banister.core.words import Speech

NAMES, HEAD, ROW, MOST_ROW, BAR, EDGE = 150.0, 26.0, 18.0, 34.0, 0.62, 12.0


class Bar(Struct, frozen=True):
    """A group: its name, its seconds, and what is said behind its bar."""

    name: str
    seconds: float
    said: str


def totals_bars(bars: Sequence[Bar], say: Speech, width: float, height: float) -> Drawing:
    """Bars as long as their hours; groups that have no room are told by their number."""
    box = (0.0, 0.0, width, height)
    shapes: list[Shape] = [Rect(box, "ground"), Text((EDGE, height - HEAD / 2), say("weld_list.bars"), "soft", 12, "start", face=NARROW)]
    room = max(int((height - HEAD) / ROW), 1)
    shown = bars if len(bars) <= room else bars[: room - 1]
    row = min((height - HEAD) / max(len(shown), 1), MOST_ROW)
    most = max((bar.seconds for bar in bars), default=0.0)
    y = height - HEAD
    for bar in shown:
        shapes += _bar(bar, width, y - row, row, most)
        y -= row
    if len(shown) < len(bars):
        shapes.append(Text((EDGE, y - ROW / 2), say("file.more", n=len(bars) - len(shown)), "soft", 12, "start", "more", face=NARROW))
    return Drawing(tuple(shapes), box)


def _bar(bar: Bar, width: float, low: float, row: float, most: float) -> Iterator[Shape]:
    middle = low + row / 2
    yield Text((EDGE, middle), elided(bar.name, NAMES - EDGE - 6, 13, NARROW_BOLD), "text", 13, "start", f"group:{bar.name}", face=NARROW_BOLD)
    room = width - NAMES - EDGE - advance(bar.said, 12, BOLD) - 10
    end = NAMES + max(room * (bar.seconds / most if most > 0 else 0.0), 1.0)
    yield Rect((NAMES, middle - BAR * row / 2, end, middle + BAR * row / 2), "bead.fill", "bead.edge", f"bar:{bar.name}")
    yield Text((end + 8, middle), bar.said, "text", 12, "start", face=NARROW)
