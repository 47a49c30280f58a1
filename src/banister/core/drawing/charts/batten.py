"""The batten: the weld unrolled as two laths, the opening between them the root gap, far wider than it is.

Its band grows between readings; tolerances are lines inside; what is outside is hatched, with the remedy in words at the
worst place; stations carry their verdict as a shape, and a dotted ring stands where a reading would tell most.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

import numpy as np

from banister.core.drawing.advances import advance, fitting
from banister.core.drawing.charts.axis import Axis, marks, step_for
from banister.core.drawing.charts.tack_blocks import ghost_edges, tack_blocks
from banister.core.drawing.hatch import hatched
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.fitup.judged import ADJUST, GO, REWORK, UNSURE, Fit, ToleranceSet
from banister.core.fitup.line import NINE_IN_TEN
from banister.core.fitup.places import clock_said
from banister.core.fitup.readings import line_along
from banister.core.fitup.tack_edits import tack_near
from banister.core.fitup.tacks import tack_steps
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.value import Struct, replace
from banister.core.words import Speech

LEFT, RIGHT, HEAD, FOOT = 64.0, 24.0, 68.0, 56.0
LATH, LATH_SHARE, ABOUT = 20.0, 0.16, 8.0
"""How thick a lath is, as a share of the room at most, and what is left free beside both: a low batten still has a gap to show."""
ROWS, UNDER, GAP = (17.0, 37.0), 9.0, 16.0
"""How far under the top the rows of words stand, where over the foot those go that have no room there (unless a place is pointed at,
which is said there), and how far words keep off one another."""
MM_STEPS, INCH_STEPS, DEGREE_STEPS = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0), (12.7, 25.4, 50.8, 127.0, 254.0), (30.0,)
SAMPLES = 181
MARK_PX, RING_PX, MARK_ROW = 5.0, 7.0, 10.0


class BattenView(Struct, frozen=True):
    """Size in pixels, the place pointed at (None for none), whether tacks are at hand, and which (0 for none)."""

    width: float
    height: float
    pointer_mm: float | None = None
    tacking: bool = False
    tack: int = 0


class Batten(Struct, frozen=True):
    """The picture, and the axis along for the hand."""

    drawing: Drawing
    along: Axis


def batten(joint: Joint, fit: Fit, tolerances: ToleranceSet, say: Speech, view: BattenView) -> Batten:
    """The fit-up of a joint; without readings the bare laths at the drawing's gap."""
    laths = Laths(joint, fit, tolerances, say, view)
    shapes = (Rect((0.0, 0.0, view.width, view.height), "ground"), *laths.along_the_weld(), *laths.words(laths.times), *laths.pointer())
    return Batten(Drawing(shapes, (0.0, 0.0, view.width, view.height)), laths.along)


class Laths:
    """The parts of the batten: the laths with all that lies along the weld, the words over them."""

    def __init__(self, joint: Joint, fit: Fit, tolerances: ToleranceSet, say: Speech, view: BattenView) -> None:
        self.joint, self.fit, self.say, self.view = joint, fit, say, view
        self.along = Axis(0.0, fit.course.length_mm, LEFT, view.width - RIGHT)
        self.gap, self.bounds = line_along(joint.fitup, "gap", fit.course), tolerances.bounds(joint, "gap")
        self.s = np.linspace(0.0, fit.course.length_mm, SAMPLES)
        self.mean = np.full(SAMPLES, joint.prep.root_gap_mm) if self.gap is None else self.gap.mean(self.s)
        self.half = np.zeros(SAMPLES) if self.gap is None else NINE_IN_TEN * self.gap.sd(self.s)
        self.middle = (FOOT + view.height - HEAD) / 2
        widest = max(float((self.mean + self.half).max()), self.bounds[1] if self.bounds is not None and np.isfinite(self.bounds[1]) else 0.0, 1.0)
        room = max(view.height - HEAD - FOOT - ABOUT, 1.0)
        self.lath = min(LATH, LATH_SHARE * room)
        self.scale = (room - 2 * self.lath) / widest

    def along_the_weld(self) -> Iterator[Shape]:
        """Everything whose place along the weld counts."""
        for part in (self.laths, self.tolerance, self.tacks, self.stations, self.next, self.ruler):
            yield from part()

    def edge(self, gap_mm: np.ndarray | float, up: bool) -> np.ndarray:
        """Where an edge lies for a gap."""
        half = np.asarray(gap_mm) * self.scale / 2
        return self.middle + half if up else self.middle - half

    # --- laths ----------------------------------------------------------------------------------
    def laths(self) -> Iterator[Shape]:
        """Two laths with the opening between them, dotted where the band's edges lie, hatched where outside."""
        x = [self.along.at(float(s)) for s in self.s]
        for up in (True, False):
            inner = self.edge(self.mean, up)
            outer = float(self.edge(float(self.mean.max()), up)) + (self.lath if up else -self.lath)
            points = (*zip(x, inner.tolist(), strict=True), (x[-1], outer), (x[0], outer))
            yield Polygon(points, "plate", f"lath:{'upper' if up else 'lower'}")
            yield Lines(tuple(itertools.pairwise(zip(x, inner.tolist(), strict=True))), "plate.edge")
            for start, end in self._outside():
                strip = ((self.along.at(start), float(self.edge(self._at(start), up))), (self.along.at(end), float(self.edge(self._at(end), up))),
                         (self.along.at(end), outer), (self.along.at(start), outer))  # fmt: skip
                yield Lines(hatched(strip, 50.0 if up else -50.0, 6.0), "hatch.outside", f"outside:{start:.0f}")
        if self.gap is not None:
            for up in (True, False):
                for edge in (self.mean + self.half, np.maximum(self.mean - self.half, 0.0)):
                    ys = self.edge(edge, up).tolist()
                    yield Lines(tuple(itertools.pairwise(zip(x, ys, strict=True)))[::2], "soft", "band")

    def _at(self, s: float) -> float:
        return float(np.interp(s, self.s, self.mean))

    def _outside(self) -> Iterator[tuple[float, float]]:
        own = [s for s in self.fit.stations if s.quantity == "gap"]
        for is_bad, group in itertools.groupby(own, key=lambda s: s.verdict in (ADJUST, REWORK)):
            found = list(group)
            if is_bad:
                yield max(found[0].s_mm - 5.0, 0.0), min(found[-1].s_mm + 5.0, self.fit.course.length_mm)

    def tolerance(self) -> Iterator[Shape]:
        """Lines the edges are to lie between."""
        for bound, key in zip(self.bounds or (), ("low", "high"), strict=False):
            if np.isfinite(bound):
                for up in (True, False):
                    y = float(self.edge(bound, up))
                    yield Lines((((LEFT, y), (self.view.width - RIGHT, y)),), "limit", f"tolerance:{key}")
                y = float(self.edge(bound, True))
                yield Text((LEFT - 6, y), self.say.units.text("fine_length", bound), "limit", 11.5, "end", face=NARROW)

    # --- tacks ----------------------------------------------------------------------------------
    def tacks(self) -> Iterator[Shape]:
        """Tacks as blocks in the opening; while they are at hand, the gap after them as ghost edges."""
        view, course = self.view, self.fit.course
        if view.tacking:
            up_to = view.tack or len(self.joint.fitup.tacks)
            yield from ghost_edges(self.joint, course, self.along, lambda gap, up: float(self.edge(gap, up)), self.s.tolist(), self.mean.tolist(), up_to)
        yield from tack_blocks(self.joint, course, self.along, self.middle, view.tack if view.tacking else 0, self.say)

    # --- stations -------------------------------------------------------------------------------
    def stations(self) -> Iterator[Shape]:
        """What was read, at its place, with its verdict as a shape; figures that would overlap, or lie on a tack, are left to the table."""
        verdicts, taken = self.fit.at_readings(), -1e9
        for r in self.joint.fitup.readings:
            x, foot = self.along.at(r.s_mm), self.edge(self._at(r.s_mm), False)
            yield Lines((((x, float(foot)), (x, float(self.edge(self._at(r.s_mm), True)))),), "dimension", f"reading:{r.s_mm:g}")
            text = "" if r.gap is None else self.say.units.text("fine_length", r.gap)
            wide = advance(text, 13.0, NARROW_BOLD)
            is_on_tack = tack_near(self.joint.fitup.tacks, self.fit.course, r.s_mm, 14.0 / self.along.scale) is not None
            if text and x - wide / 2 > taken and not is_on_tack and not self.view.tacking:
                yield Rect((x - wide / 2 - 3, self.middle - 9, x + wide / 2 + 3, self.middle + 9), "ground")
                yield Text((x, self.middle), text, "text", 13.0, face=NARROW_BOLD)
                taken = x + wide / 2 + 4
            yield from _verdict(verdicts[r.s_mm], (x, self.view.height - HEAD + MARK_ROW))

    def next(self) -> Iterator[Shape]:
        """A dotted ring where a reading would tell most."""
        if self.fit.next_mm is not None:
            x = self.along.at(self.fit.next_mm)
            y = self.view.height - HEAD + MARK_ROW
            ring = [(x + RING_PX * np.cos(a), y + RING_PX * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 17)]
            yield Lines(tuple(itertools.pairwise((float(px), float(py)) for px, py in ring))[::2], "handle", "next")

    def ruler(self) -> Iterator[Shape]:
        """A tape under the lower lath: mm or inches along a plate, the clock of a pipe."""
        y, inches, closed = FOOT - 12, self.say.units.inches, self.fit.course.closed
        step = self.fit.course.length_mm / 12 if closed else step_for(self.along, INCH_STEPS if inches else MM_STEPS, 46.0)
        yield Lines((((LEFT, y), (self.view.width - RIGHT, y)),), "soft")
        for at in marks(self.along, step):
            x = self.along.at(at)
            yield Lines((((x, y), (x, y - 5)),), "soft")
            said = clock_said(at / self.fit.course.length_mm * 360.0) if closed else self.say.units.text("long_length", at)
            yield Text((x, y - 13), said, "soft", 11.5, face=NARROW)

    @property
    def times(self) -> float:
        """How much larger the gap is drawn than the weld is long."""
        return self.scale / self.along.scale

    def words(self, times: float) -> Iterator[Shape]:
        """What to do, largest; under it how many stations stand how; how much larger the gap is drawn."""
        say, verdicts = self.say, list(self.fit.at_readings().values())
        tilt = [r for r in self.fit.remarks if r.code == "fitup.tilt"]
        bad = tilt + [r for r in self.fit.remarks if r.place.s_mm is not None and r.code.count(".") == 2]
        head = say("batten.none") if not verdicts else say(f"batten.do.{bad[0].code.removeprefix('fitup.')}", **bad[0].figures) if bad else say("batten.go")
        if self.view.tacking and not bad:
            head = self._tack_head()
        size = fitting(head, 17.0, self.view.width - 28.0, BOLD)
        yield Text((14.0, self.view.height - ROWS[0]), head, "outside" if bad else "text", size, "start", face=BOLD)
        taken = [advance(head, size, BOLD), 0.0]
        if verdicts:
            counted = ", ".join(f"{verdicts.count(v)} {say(f'fit.{v}')}" for v in dict.fromkeys(verdicts))
            also = f". {say('cli.fitup.next', at=self.fit.course.figure(self.fit.next_mm))}" if self.fit.next_mm is not None else ""
            line = say("cli.fitup.count", n=len(verdicts), verdicts=counted) + also
            yield Text((14.0, self.view.height - ROWS[1]), line, "soft", 12.0, "start", face=NARROW)
            taken[1] = advance(line, 12.0, NARROW)
        rows = [*(self.view.height - row for row in ROWS), UNDER]
        room = [self.view.width - RIGHT - 14.0 - GAP - wide for wide in (*taken, 0.0 if self.view.pointer_mm is None else self.view.width)]
        scale = say("batten.scale.tacks" if self.view.tacking else "batten.scale", k=f"{times:.0f}")
        made_up = [
            Text((0.0, 0.0), say.text(r), "warning", 12.0, "end", "simulated", face=NARROW_BOLD) for r in self.fit.remarks if r.code == "fitup.simulated"
        ]
        for note in (*made_up, Text((0.0, 0.0), scale, "soft", 11.5, "end", "scale", face=NARROW)):
            wide = advance(note.text, note.size, note.face)
            for i, free in enumerate(room):
                if wide <= free:
                    yield replace(note, at=(self.view.width - RIGHT, rows[i]))
                    room[i] = 0.0
                    break

    def _tack_head(self) -> str:
        """Of the tacks what to do first."""
        steps, say = tack_steps(self.joint, self.joint.fitup), self.say
        if not steps:
            return say("batten.tack.none")
        first = steps[0]
        return say("batten.tack.first", n=len(steps), at=self.fit.course.figure(first.tack.middle),
                   wedge=Figure(first.reads_mm if first.wedge_mm is None else first.wedge_mm, "fine_length"))  # fmt: skip

    def said_at(self, s_mm: float) -> str:
        """What is known at a place: firm where it was measured, else with its doubt."""
        gap, half = self.known_at(s_mm)
        return self.say("batten.at" if self.gap is not None else "batten.at.drawn", at=self.fit.course.figure(s_mm), gap=gap, half=half)

    def known_at(self, s_mm: float) -> tuple[Figure, Figure]:
        """The gap at a place, and half the band nine in ten lie in."""
        return Figure(self._at(s_mm), "fine_length"), Figure(float(np.interp(s_mm, self.s, self.half)), "fine_length")

    def pointer(self) -> Iterator[Shape]:
        """The place pointed at, with what is known there."""
        at = self.view.pointer_mm
        if at is None:
            return
        x, text = self.along.kept(at), self.said_at(at)
        yield Lines((((x, FOOT - 16), (x, self.view.height - HEAD + 2)),), "handle", "pointer")
        wide = advance(text, 12.0, NARROW_BOLD) + 12
        left = min(max(x - wide / 2, 4.0), self.view.width - wide - 4)
        yield Rect((left, 1.0, left + wide, 18.0), "ground", "handle", "pointer:said")
        yield Text((left + wide / 2, 9.5), text, "text", 12.0, face=NARROW_BOLD)


def _verdict(verdict: str, at: Point) -> Iterator[Shape]:
    """A shape for each verdict: disc, ring, triangle, cross, and a small ring where nothing is set."""
    x, y = at
    r = MARK_PX
    if verdict == GO:
        yield Dot(at, r, "limit", "limit", "go")
    elif verdict == UNSURE:
        yield Dot(at, r, "ground", "soft", "unsure")
    elif verdict == ADJUST:
        yield Polygon(((x - r - 1, y - r), (x + r + 1, y - r), (x, y + r + 1)), "outside", "adjust")
    elif verdict == REWORK:
        yield Lines((((x - r, y - r), (x + r, y + r)), ((x - r, y + r), (x + r, y - r))), "outside", "rework")
    else:
        yield Dot(at, r / 2, "ground", "soft", "unset")


def nearest_station(places: Sequence[float], at: float, within: float) -> float | None:
    """The measured place nearest to one, None where none is near."""
    best = min(places, key=lambda s: abs(s - at), default=None)
    return best if best is not None and abs(best - at) <= within else None
