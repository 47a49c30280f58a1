"""Plates coloured by temperature: bands between the levels, and a line with its figure where one is crossed."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from banister.core.drawing.shapes import NARROW, Lines, Outline, Polygon, Text
from banister.core.polygon import Point, strip
from banister.core.units import DEGREE
from banister.core.words import Speech

LEVELS_C, LEVELS_F = (50.0, 100.0, 150.0, 200.0, 300.0, 500.0), (150.0, 200.0, 300.0, 400.0, 600.0, 900.0)
"""Where the colour changes; metal below the first has that of a plate."""
LABEL_LIFT, LABEL_SIZE, INSIDE_AT, INSIDE_TO, LABEL_SHARE = 14.0, 13.0, 0.8, 0.87, 0.06
"""Of a figure: pixels over the line, size; in shares of the thickness how deep it stands, how deep its line goes, half of its height."""
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


def isotherms(
    found: Sequence[Band], top: float, thickness: float, apart_mm: float, say: Speech, beads: Sequence[Sequence[Point]] | None = None,
) -> Iterator[Outline]:  # fmt: skip
    """A line where a level is crossed, through the plate, and where there is room its figure over it.

    With the outlines of beads given the figure stands on the line, low in the plate and clear of them, and the line ends there: under it
    the figures of the root are read.
    """
    last, levels, is_inside = -math.inf, levels_of(say), beads is not None
    low, high = (top - (INSIDE_AT + share) * thickness for share in (LABEL_SHARE, -LABEL_SHARE))
    across = [x for outline in beads or () for x, y in outline if low <= y <= high]
    taken = (min(across) - apart_mm / 2, max(across) + apart_mm / 2) if across else (math.inf, -math.inf)
    for (_, x, one), (_, _, other) in itertools.pairwise(found):
        ends = (top - INSIDE_TO * thickness, top) if is_inside else (top - thickness, top + 0.1 * apart_mm)
        yield Lines((((x, ends[0]), (x, ends[1])),), "turn", "isotherm")
        if x - last >= apart_mm and not taken[0] < x < taken[1]:
            level = levels[min(one, other)]
            text = f"{say.units.text('temperature', level)}{DEGREE}"
            name = f"isotherm:{level:.0f}"
            if is_inside:
                yield Text((x, top - INSIDE_AT * thickness), text, "text", LABEL_SIZE, face=NARROW, id=name)
            else:
                yield Text((x, top), text, "warmth", LABEL_SIZE, face=NARROW, id=name, lift=LABEL_LIFT)
            last = x
