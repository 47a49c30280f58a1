"""How large a drawing can stand in a room with its words whole: metal grows with the scale, words do not."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.drawing.advances import advance
from banister.core.drawing.shapes import PLAIN, Drawing, Text

WIDER = 1.04
"""A medium face is so much wider than the plain one."""
LEAST = 0.01


def framing(drawing: Drawing, width: float, height: float) -> tuple[float, float]:
    """Pixels for a millimetre, and how many from the left of the room the left of the drawing's box lies: as large as may be, in the middle."""
    x0, y0, x1, y1 = drawing.box
    k = max(LEAST, min(width / (x1 - x0), height / (y1 - y0)))
    ends = [(x0, 0.0, 0.0), (x1, 0.0, 0.0), *_words(drawing)]
    while True:
        low_x, before, _ = min(ends, key=lambda end: k * end[0] - end[1])
        high_x, _, behind = max(ends, key=lambda end: k * end[0] + end[2])
        low, high = k * low_x - before, k * high_x + behind
        if high - low <= width + 1e-6 or k <= LEAST or high_x - low_x < 1e-9:
            return k, (width - (high - low)) / 2 + k * x0 - low
        k = max(LEAST, (width - before - behind) / (high_x - low_x))


def _words(drawing: Drawing) -> Iterator[tuple[float, float, float]]:
    """Where each of its words stands, and how far it reaches to the left and right of there; a bead's number stands in its bead."""
    for shape in drawing.shapes:
        if isinstance(shape, Text) and not shape.id:
            wide = WIDER * advance(shape.text, shape.size, shape.face or PLAIN)
            yield shape.at[0], *{"start": (0.0, wide), "end": (wide, 0.0)}.get(shape.anchor, (wide / 2, wide / 2))
