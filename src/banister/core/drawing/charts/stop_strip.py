"""The stop map as laths: one a pass from root to cap, as thick as the bead, its rods told by joints like courses of brick.

A cut corner is a piece shorter than its rod, a nail's head a mark put by hand; the two stops of touching passes that lie
nearest are joined by a dimension; of a lit pass the touching ones stay firm, the rest pale. Where no stop may lie is hatched.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence

from banister.core.drawing.charts.axis import Axis, marks, step_for
from banister.core.drawing.hatch import hatched
from banister.core.drawing.section import HATCHES, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.plan.plan import Pass
from banister.core.stops.of_plan import CENTRE, TACK, JointStops, PassStops, apart_of, limits_said
from banister.core.stops.search import StopMap
from banister.core.value import Struct
from banister.core.words import Speech

LEFT, RIGHT, HEAD, FOOT, GAP = 52.0, 20.0, 46.0, 34.0, 3.0
THINNEST, THICKEST, LABEL = 11.0, 26.0, 12.0
MM_STEPS, INCH_STEPS = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0), (25.4, 50.8, 127.0, 254.0)
FULL, CUT_PX, HATCH_PX, NAIL_PX, GRIP_PX = 0.97, 6.0, 5.0, 3.5, 12.0


class StopStrip(Struct, frozen=True):
    """The picture, and where each pass lies in it (foot and top, px)."""

    drawing: Drawing
    rows: Mapping[str, tuple[float, float]]
    along: Axis
    marks: Mapping[str, tuple[float, ...]]

    def mark_at(self, point: Point) -> tuple[str, int] | None:
        """The stop under a point: its pass and its number from nought."""
        key = self.key_at(point)
        near = [(abs(self.along.at(t) - point[0]), n) for n, t in enumerate(self.marks.get(key, ()))] if key is not None else []
        apart, n = min(near, default=(GRIP_PX + 1, 0))
        return (key, n) if key is not None and apart <= GRIP_PX else None

    def key_at(self, point: Point) -> str | None:
        """The pass at a height."""
        return next((key for key, (low, high) in self.rows.items() if low <= point[1] <= high), None)


class StripView(Struct, frozen=True):
    """Size in pixels, the half that is shown ('' for a weld in one run), the pass lit up."""

    width: float
    height: float
    half: str = ""
    lit: str = ""


def stop_strip(passes: Sequence[Pass], stops: JointStops, say: Speech, view: StripView) -> StopStrip:
    """The laths of one run or one half."""
    own = {p.key: p for p in stops.passes if p.half == view.half}
    shown = [p for p in passes if p.key in own]
    found = stops.maps[stops.halves.index(view.half)]
    along = Axis(min(p.start_mm for p in own.values()), max(p.end_mm for p in own.values()), LEFT, view.width - RIGHT)
    rows, pairs = _rows(shown, view), [(passes[i].key, passes[j].key) for i, j in stops.touching]
    near = {view.lit, *(b if a == view.lit else a for a, b in pairs if view.lit in (a, b))}
    shapes: list[Shape] = [Rect((0.0, 0.0, view.width, view.height), "ground")]
    for p in shown:
        shapes += _lath(p, own[p.key], rows[p.key], along, not view.lit or p.key in near)
    shapes += _labels(shown, rows, view.lit, near)
    shapes += _kept_off(found, rows, along, view.lit)
    for p in shown:
        shapes += _nails(own[p.key], rows[p.key], along)
        if p.key == view.lit:
            low, high = rows[p.key]
            shapes += [Rect((LEFT, low, view.width - RIGHT, high), "", "select.outer"), Rect((LEFT, low, view.width - RIGHT, high), "", "select.inner")]
    shapes += [*_tightest(pairs, own, rows, along, say), *_ruler(along, stops, view, say), *_words(found, [own[p.key].number for p in shown], view, say)]
    return StopStrip(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), rows, along, {key: p.marks for key, p in own.items()})


def _rows(passes: Sequence[Pass], view: StripView) -> dict[str, tuple[float, float]]:
    """Foot and top of every lath, root lowest, thick as the beads are."""
    room = view.height - HEAD - FOOT - GAP * len(passes)
    at, found = FOOT, dict[str, tuple[float, float]]()
    for p, thick in zip(passes, _thick([p.thickness_mm for p in passes], room), strict=True):
        found[p.key] = at, at + thick
        at += thick + GAP
    return found


def _thick(beads_mm: Sequence[float], room: float) -> list[float]:
    """How thick each lath is drawn: in proportion, but none thinner than can be worked; what those take more is taken from the others."""
    if not beads_mm:
        return []
    least = min(THINNEST, room / len(beads_mm))
    thin: set[int] = set()
    while True:
        whole = sum(mm for i, mm in enumerate(beads_mm) if i not in thin)
        scale = min((room - least * len(thin)) / whole, THICKEST / max(beads_mm)) if whole > 0 else 0.0
        more = {i for i, mm in enumerate(beads_mm) if i not in thin and mm * scale < least - 1e-9}
        if not more:
            return [least if i in thin else mm * scale for i, mm in enumerate(beads_mm)]
        thin |= more


def _lath(p: Pass, own: PassStops, row: tuple[float, float], along: Axis, firm: bool) -> Iterator[Shape]:
    low, high = row
    for n, piece in enumerate(own.pieces):
        x0, x1 = sorted((along.at(piece.from_s), along.at(piece.to_s)))
        x0, x1 = x0 + 1, x1 - 1
        cut = CUT_PX if piece.share < FULL and not piece.last else 0.0
        corners = ((x0, low), (x1, low), (x1, high - cut), (x1 - cut, high), (x0, high)) if cut else ((x0, low), (x1, low), (x1, high), (x0, high))
        yield Polygon(corners, f"bead.{p.role}" if firm else "later", f"{p.key}:{n + 1}")
        if firm and p.role in HATCHES:
            yield Lines(hatched(corners, HATCHES[p.role], HATCH_PX), f"hatch.{p.role}")
        yield Lines(tuple(itertools.pairwise((*corners, corners[0]))), "bead.edge" if firm else "rule")


def _labels(shown: Sequence[Pass], rows: Mapping[str, tuple[float, float]], lit: str, near: set[str]) -> Iterator[Shape]:
    """What each lath is called; where they lie closer than that can be read, so many as can, and the lit one."""
    middle = {p.key: sum(rows[p.key]) / 2 for p in shown}
    taken = [middle[lit]] if lit in middle else []
    for p in shown:
        if p.key != lit and any(abs(middle[p.key] - at) < LABEL for at in taken):
            continue
        taken.append(middle[p.key])
        yield Text((LEFT - 8, middle[p.key]), pass_label(p), "text" if not lit or p.key in near else "soft", LABEL, "end", face=NARROW_BOLD)


def _kept_off(found: StopMap, rows: Mapping[str, tuple[float, float]], along: Axis, lit: str) -> Iterator[Shape]:
    """Where no stop may lie for a tack or a centre, hatched; of the lit pass for a tie-in as well."""
    for run in found.runs:
        low, high = rows[run.key]
        for f in run.forbidden:
            if f.why in (CENTRE, TACK) or run.key == lit:
                x0, x1 = along.kept(max(f.from_s, run.start_mm)), along.kept(min(f.to_s, run.end_mm))
                if x1 > x0:
                    yield Lines(hatched(((x0, low), (x1, low), (x1, high), (x0, high)), 60.0, HATCH_PX), "soft", f"kept-off:{f.why}")


def _nails(own: PassStops, row: tuple[float, float], along: Axis) -> Iterator[Shape]:
    if own.is_pinned:
        for t in own.marks:
            yield Dot((along.at(t), sum(row) / 2), NAIL_PX, "text", "ground", f"{own.key}:nail")


def _tightest(pairs: Sequence[tuple[str, str]], own: Mapping[str, PassStops], rows: Mapping[str, tuple[float, float]], along: Axis,
              say: Speech) -> Iterator[Shape]:  # fmt: skip
    """The two stops of touching passes that lie nearest, with their distance."""
    found = [(abs(a - b), a, b, first, second) for first, second in pairs if first in own and second in own
             for a in own[first].marks for b in own[second].marks]  # fmt: skip
    if not found:
        return
    apart, a, b, first, second = min(found)
    ya, yb = (sum(rows[key]) / 2 for key in (first, second))
    xa, xb = along.at(a), along.at(b)
    yield Lines((((xa, ya), (xb, yb)), ((xa, ya - 6), (xa, ya + 6)), ((xb, yb - 6), (xb, yb + 6))), "cursor", "tightest")
    text, x = say.sized("fine_length", apart), max(xa, xb) + 8
    yield Rect((x - 3, (ya + yb) / 2 - 9, x + 7.5 * len(text) + 3, (ya + yb) / 2 + 9), "ground")
    yield Text((x, (ya + yb) / 2), text, "cursor", 13.0, "start", face=NARROW_BOLD)


def _ruler(along: Axis, stops: JointStops, view: StripView, say: Speech) -> Iterator[Shape]:
    """Along the weld; of a half the clock where it begins and ends as well."""
    y = FOOT - 6
    yield Lines((((LEFT, y), (view.width - RIGHT, y)),), "soft")
    centres = dict(zip((0.0, stops.course.length_mm / 2), stops.centres, strict=False))
    for at, clock in centres.items():
        yield Lines((((along.at(at), FOOT - 10), (along.at(at), view.height - HEAD)),), "rule", "centre")
        yield Text((along.at(at), y - 13), clock, "text", 12.5, face=NARROW_BOLD)
    for at in marks(along, step_for(along, INCH_STEPS if say.units.inches else MM_STEPS, 46.0)):
        yield Lines((((along.at(at), y), (along.at(at), y - 5)),), "soft")
        if all(abs(along.at(at) - along.at(other)) > 36.0 for other in centres):
            yield Text((along.at(at), y - 13), say.units.text("long_length", at), "soft", 11.5, face=NARROW)
    yield Text((8.0, y - 13), say.units.unit("long_length"), "soft", 11.5, "start", face=NARROW)


def _words(found: StopMap, numbers: Sequence[int], view: StripView, say: Speech) -> Iterator[Shape]:
    """How far apart, largest; how many stops, and what lets no more."""
    yield Text((14.0, view.height - 16), say("strip.apart", apart=apart_of(found.distance_mm)), "text", 17.0, "start", face=BOLD)
    limits = limits_said(found, numbers, say)
    also = f" {say('cli.stops.limited', limits=limits)}" if limits else ""
    yield Text((14.0, view.height - 35), say("strip.counted", n=found.stops, extra=str(found.extra)) + "." + also, "soft", 12.0, "start", face=NARROW)
