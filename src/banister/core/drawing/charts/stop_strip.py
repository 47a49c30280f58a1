"""The stop map as laths: one a pass from root to cap, as thick as the bead, its rods told by joints like courses of brick.

A cut corner is a piece shorter than its rod; the two stops of touching passes that lie nearest are joined by a dimension;
of a lit pass the touching ones stay firm, the rest pale.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from banister.core.drawing.charts.axis import Axis, marks, step_for
from banister.core.drawing.hatch import hatched
from banister.core.drawing.section import HATCHES, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.plan.plan import Pass
from banister.core.remark import Figure
from banister.core.stops.of_plan import JointStops, PassStops, touching_passes
from banister.core.words import Speech

LEFT, RIGHT, HEAD, FOOT, GAP = 52.0, 20.0, 46.0, 34.0, 3.0
THINNEST, THICKEST = 11.0, 26.0
MM_STEPS, INCH_STEPS = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0), (25.4, 50.8, 127.0, 254.0)
FULL, CUT_PX, HATCH_PX = 0.97, 6.0, 5.0


@dataclass(frozen=True, slots=True)
class StopStrip:
    """The picture, and where each pass lies in it (foot and top, px)."""

    drawing: Drawing
    rows: Mapping[str, tuple[float, float]]
    along: Axis

    def key_at(self, point: Point) -> str | None:
        """The pass at a height."""
        return next((key for key, (low, high) in self.rows.items() if low <= point[1] <= high), None)


@dataclass(frozen=True, slots=True)
class StripView:
    """Size in pixels, the half that is shown ('' for a weld in one run), the pass lit up."""

    width: float
    height: float
    half: str = ""
    lit: str = ""


def stop_strip(passes: Sequence[Pass], stops: JointStops, say: Speech, view: StripView) -> StopStrip:
    """The laths of one run or one half."""
    own = {p.key: p for p in stops.passes if p.half == view.half}
    shown = [p for p in passes if p.key in own]
    halves = list(dict.fromkeys(p.half for p in stops.passes))
    found = stops.maps[halves.index(view.half)]
    length = found.runs[0].length_mm
    along = Axis(0.0, length, LEFT, view.width - RIGHT)
    rows = _rows(shown, view)
    near = _touching(passes, view.lit)
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, view.height), "ground")]
    for p in shown:
        shapes += _lath(p, own[p.key], rows[p.key], along, not view.lit or p.key in near)
        if p.key == view.lit:
            low, high = rows[p.key]
            shapes += [Rect((LEFT, low, view.width - RIGHT, high), "", "select.outer"), Rect((LEFT, low, view.width - RIGHT, high), "", "select.inner")]
    shapes += [*_tightest(passes, own, rows, along, say), *_ruler(along, view, say), *_words(found.distance_mm, found.stops, found.extra, view, say)]
    return StopStrip(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), rows, along)


def _rows(passes: Sequence[Pass], view: StripView) -> dict[str, tuple[float, float]]:
    """Foot and top of every lath, root lowest, thick as the beads are."""
    room = view.height - HEAD - FOOT - GAP * len(passes)
    whole = sum(p.thickness_mm for p in passes)
    scale = min(room / whole, THICKEST / max(p.thickness_mm for p in passes)) if passes else 1.0
    at, found = FOOT, dict[str, tuple[float, float]]()
    for p in passes:
        high = at + max(p.thickness_mm * scale, min(THINNEST, room / len(passes)))
        found[p.key] = at, high
        at = high + GAP
    return found


def _touching(passes: Sequence[Pass], lit: str) -> set[str]:
    pairs = [(passes[i].key, passes[j].key) for i, j in touching_passes(passes)] if lit else []
    return {lit, *(b if a == lit else a for a, b in pairs if lit in (a, b))}


def _lath(p: Pass, own: PassStops, row: tuple[float, float], along: Axis, firm: bool) -> Iterator[Shape]:
    low, high = row
    yield Text((LEFT - 8, (low + high) / 2), pass_label(p), "text" if firm else "soft", 12.0, "end", face=NARROW_BOLD)
    for n, piece in enumerate(own.pieces):
        x0, x1 = along.at(piece.from_s) + 1, along.at(piece.to_s) - 1
        cut = CUT_PX if piece.share < FULL and not piece.last else 0.0
        corners = ((x0, low), (x1, low), (x1, high - cut), (x1 - cut, high), (x0, high)) if cut else ((x0, low), (x1, low), (x1, high), (x0, high))
        yield Polygon(corners, f"bead.{p.role}" if firm else "later", f"{p.key}:{n + 1}")
        if firm and p.role in HATCHES:
            yield Lines(hatched(corners, HATCHES[p.role], HATCH_PX), f"hatch.{p.role}")
        yield Lines(tuple(itertools.pairwise((*corners, corners[0]))), "bead.edge" if firm else "rule")


def _tightest(passes: Sequence[Pass], own: Mapping[str, PassStops], rows: Mapping[str, tuple[float, float]], along: Axis, say: Speech) -> Iterator[Shape]:
    """The two stops of touching passes that lie nearest, with their distance."""
    found = [(abs(a - b), a, b, passes[i].key, passes[j].key) for i, j in touching_passes(passes) if passes[i].key in own and passes[j].key in own
             for a in own[passes[i].key].marks for b in own[passes[j].key].marks]  # fmt: skip
    if not found:
        return
    apart, a, b, first, second = min(found)
    ya, yb = (sum(rows[key]) / 2 for key in (first, second))
    xa, xb = along.at(a), along.at(b)
    yield Lines((((xa, ya), (xb, yb)), ((xa, ya - 6), (xa, ya + 6)), ((xb, yb - 6), (xb, yb + 6))), "cursor", "tightest")
    text, x = say.sized("fine_length", apart), max(xa, xb) + 8
    yield Rect((x - 3, (ya + yb) / 2 - 9, x + 7.5 * len(text) + 3, (ya + yb) / 2 + 9), "ground")
    yield Text((x, (ya + yb) / 2), text, "cursor", 13.0, "start", face=NARROW_BOLD)


def _ruler(along: Axis, view: StripView, say: Speech) -> Iterator[Shape]:
    y = FOOT - 6
    yield Lines((((LEFT, y), (view.width - RIGHT, y)),), "soft")
    for at in marks(along, step_for(along, INCH_STEPS if say.units.inches else MM_STEPS, 46.0)):
        yield Lines((((along.at(at), y), (along.at(at), y - 5)),), "soft")
        yield Text((along.at(at), y - 13), say.units.text("long_length", at), "soft", 11.5, face=NARROW)
    yield Text((8.0, y - 13), say.units.unit("long_length"), "soft", 11.5, "start", face=NARROW)


def _words(distance: float, stops: int, extra: int, view: StripView, say: Speech) -> Iterator[Shape]:
    yield Text((14.0, view.height - 16), say("strip.apart", apart=Figure(distance, "fine_length")), "text", 17.0, "start", face=BOLD)
    yield Text((14.0, view.height - 35), say("strip.counted", n=stops, extra=str(extra)), "soft", 12.0, "start", face=NARROW)

