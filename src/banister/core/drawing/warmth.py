"""Plates coloured by temperature: bands between the levels, and a line with its figure where one is crossed."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from banister.core.drawing.advances import advance
from banister.core.drawing.shapes import NARROW, PLAIN, Box, Drawing, Lines, Outline, Polygon, Text
from banister.core.polygon import strip
from banister.core.units import DEGREE
from banister.core.value import replace
from banister.core.words import Speech

LEVELS_C, LEVELS_F = (50.0, 100.0, 150.0, 200.0, 300.0, 500.0), (150.0, 200.0, 300.0, 400.0, 600.0, 900.0)
"""Where the colour changes; metal below the first has that of a plate."""
LABEL_LIFT, LABEL_SIZE, INSIDE_AT, INSIDE_TO = 14.0, 13.0, 0.8, 0.87
ISOTHERM, CLEAR_PX = "isotherm:", 3.0
"""What the id of a figure on an isotherm begins with; how far it keeps off other words and the beads."""
BEADS = ("bead.", "later")
"""What the style of a bead begins with, welded or not yet."""
Band = tuple[float, float, int]
"""From and to (mm across the weld), and above how many levels."""


def levels_of(say: Speech) -> tuple[float, ...]:
    """The levels in degC, round in the unit that is worked in."""
    return tuple(say.units.metric("temperature", f) for f in LEVELS_F) if say.units.inches else LEVELS_C


def bands(x_mm: Sequence[float], across_c: Sequence[float], left: float, right: float, levels: Sequence[float]) -> list[Band]:
    """Stretches between places where a level is crossed, of temperatures at places across the weld."""
    xs = np.linspace(left, right, 400)
    shades = np.searchsorted(levels, np.interp(xs, x_mm, across_c))
    cuts = [left, *(float(xs[i] + xs[i + 1]) / 2 for i in np.flatnonzero(np.diff(shades))), right]
    return [(a, b, int(np.searchsorted(levels, np.interp((a + b) / 2, x_mm, across_c)))) for a, b in itertools.pairwise(cuts)]


def shaded(plates: Iterable[Outline], found: Sequence[Band]) -> Iterator[Polygon]:
    """The parts of plates that are above a level, in its colour."""
    for shape in plates:
        if isinstance(shape, Polygon):
            for x0, x1, shade in found:
                part = strip(shape.points, x0, x1)
                if shade and len(part) > 2:
                    yield Polygon(tuple(part), f"warm.{shade}", f"warm:{shade}")


def isotherms(found: Sequence[Band], top: float, thickness: float, apart_mm: float, say: Speech, is_inside: bool = False) -> Iterator[Outline]:
    """A line where a level is crossed, through the plate, and where there is room its figure over it.

    `is_inside`: the figure stands on it, low in the plate, and the line ends there: under it the figures of the root are read.
    """
    last, levels = -math.inf, levels_of(say)
    for (_, x, one), (_, _, other) in itertools.pairwise(found):
        ends = (top - INSIDE_TO * thickness, top) if is_inside else (top - thickness, top + 0.1 * apart_mm)
        yield Lines((((x, ends[0]), (x, ends[1])),), "turn", "isotherm")
        if x - last >= apart_mm:
            level = levels[min(one, other)]
            text = f"{say.units.text('temperature', level)}{DEGREE}"
            name = f"{ISOTHERM}{level:.0f}"
            if is_inside:
                yield Text((x, top - INSIDE_AT * thickness), text, "text", LABEL_SIZE, face=NARROW, id=name)
            else:
                yield Text((x, top), text, "warmth", LABEL_SIZE, face=NARROW, id=name, lift=LABEL_LIFT)
            last = x


def spaced(drawing: Drawing, k: float) -> Drawing:
    """A section without the figures of isotherms that would run into other words, or lie under beads, at `k` pixels a millimetre; the hottest come first.

    Figures have a size in pixels: only who paints a section knows for which of them there is room.
    """
    texts = [s for s in drawing.shapes if isinstance(s, Text)]
    figures = [s for s in texts if s.id.startswith(ISOTHERM)]
    if not figures:
        return drawing
    words = [_box(s, k) for s in texts if s.style != "number" and not s.id.startswith(ISOTHERM)]
    beads = [point for s in drawing.shapes if isinstance(s, Polygon) and s.style.startswith(BEADS) for point in s.points]
    left_out = set[int]()
    for figure in sorted(figures, key=lambda s: (-float(s.id.removeprefix(ISOTHERM)), s.at[0])):
        box = _box(figure, k)
        across = [x for x, y in beads if box[1] <= y <= box[3]]
        is_under = bool(across) and min(across) < box[2] and max(across) > box[0]
        if is_under or any(_meet(box, other) for other in words):
            left_out.add(id(figure))
        else:
            words.append(box)
    return replace(drawing, shapes=tuple(s for s in drawing.shapes if id(s) not in left_out))


def _box(text: Text, k: float) -> Box:
    """The room a text takes, with what keeps others off it, mm."""
    wide, high = advance(text.text, text.size, text.face or PLAIN) / k, text.size / k
    x, y = text.at[0] - {"start": 0.0, "end": wide}.get(text.anchor, wide / 2), text.at[1] + text.lift / k
    clear = CLEAR_PX / k
    return x - clear, y - high / 2 - clear / 2, x + wide + clear, y + high / 2 + clear / 2


def _meet(a: Box, b: Box) -> bool:
    return min(a[2], b[2]) > max(a[0], b[0]) and min(a[3], b[3]) > max(a[1], b[1])
