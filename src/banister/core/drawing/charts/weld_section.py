"""The left half of the page at the joint: the section as the work lies, the pass in hand bright, the rod where it points."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping
from functools import lru_cache

from banister.core.drawing.advances import advance, fitting
from banister.core.drawing.charts.weld_page import NUMBER, SECOND, Page, PagePart
from banister.core.drawing.plates import extent_of, plate_shapes, reach_of
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import BOLD, Box, Clip, Dot, Lines, Point, Polygon, Shape, Text
from banister.core.guide.of_pass import Guide
from banister.core.guide.said import beat_said
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.passing import ARC
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import centroid
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

TIP_CORES = 1.1
LEAST_BEAT = 0.75
"""Beside the travel angle the beat of the hand stands as long as it need not be made smaller than that."""


class BeadShape(Struct, frozen=True, eq=False):
    """A bead as it lies on the page: its outline, its edge, where its number stands and how tall the bead is."""

    points: tuple[Point, ...]
    edges: tuple[tuple[Point, Point], ...]
    middle: Point
    tall: float


class Lie(Struct, frozen=True):
    """Where mm of the section stand on the page; `over_mm` is the thickness it is turned over by, None where it is not."""

    x: float
    y: float
    k: float
    over_mm: float | None

    def at(self, point: Point) -> Point:
        """A point of the section on the page."""
        return self.x + self.k * point[0], self.y + self.k * (point[1] if self.over_mm is None else self.over_mm - point[1])


class LaidOut(Struct, frozen=True, eq=False):
    """Plates and beads of a plan in a box of the page: they stay where they are from one picture to the next."""

    joint: Joint
    plan: Plan
    box: Box
    lie: Lie
    high: float
    plates: tuple[Polygon, ...]
    beads: Mapping[str, BeadShape]

    def holds(self, joint: Joint, plan: Plan, box: Box, is_turned: bool) -> bool:
        """True where it is what would be laid out."""
        return self.joint is joint and self.plan is plan and self.box == box and (self.lie.over_mm is not None) == is_turned


def laid_out(joint: Joint, plan: Plan, box: Box, is_turned: bool) -> LaidOut:
    """Plates and beads as the work lies, as large as the box holds them; `is_turned` where it is welded from the other side."""
    groove, (left, foot, right, top) = groove_of(joint.prep), box
    t, reach = groove.thickness_mm, reach_of(joint, groove)
    half = extent_of(joint, reach) * 0.62
    points = [point for p in plan.passes for point in p.outline_mm] or [(-half, 0.0), (half, t)]
    xs, ys = [x for x, _ in points], [t - y if is_turned else y for _, y in points]
    low, high = min(0.0, *ys) - 1.0, max(t, *ys) + 0.30 * t
    wide = max(max(xs) - min(xs) + 10.0, 0.9 * (high - low))
    k = min((right - left) / wide, (top - foot) / (high - low))
    middle, base = (left + right) / 2 - k * (max(xs) + min(xs)) / 2, foot + ((top - foot) - k * (high - low)) / 2 - k * low
    lie = Lie(middle, base, k, t if is_turned else None)
    plates = tuple(Polygon(tuple(map(lie.at, s.points)), s.style) for s in plate_shapes(joint, groove, *reach) if isinstance(s, Polygon))
    return LaidOut(joint, plan, box, lie, high, plates, {p.key: _bead_shape(p.outline_mm, lie) for p in plan.passes})


@lru_cache(maxsize=512)
def _bead_shape(outline: tuple[Point, ...], lie: Lie) -> BeadShape:
    """Remembered: after a pass the welded ones lie as they did, and between the states of a pass all of them change to and fro."""
    points = tuple(map(lie.at, outline))
    ups = [y for _, y in points]
    return BeadShape(points, tuple(itertools.pairwise((*points, points[0]))), lie.at(centroid(outline)), max(ups) - min(ups))


class WeldSection(PagePart):
    """The left half; what `before` has laid out of the same plan is taken as it is."""

    def __init__(self, joint: Joint, page: Page, say: Speech, before: LaidOut | None = None) -> None:
        super().__init__(joint, page, say)
        self.foot = self.temp_top + 100.0 * self.u
        box = (self.edge, self.foot, self.middle - 40.0 * self.u, self.body_top - 8 * self.u)
        found = (joint, page.plan, box, page.guide is not None and page.guide.from_below)
        self.laid = before if before is not None and before.holds(*found) else laid_out(*found)

    def shapes(self) -> Iterator[Shape]:
        """Plates and beads as the work lies, the side that is welded up; the lit bead bright, the rod where it points."""
        page, laid = self.page, self.laid
        inside: list[Shape] = [*laid.plates]
        for p in page.plan.passes:
            inside += self._bead(p)
        if page.lit is not None and page.guide is not None:
            inside += self._rod(page.lit, page.guide)
        for p in page.plan.passes:
            is_lit = self._is_lit(p)
            if is_lit or (p.key in page.welded and laid.beads[p.key].tall > NUMBER * self.u):
                inside.append(Text(laid.beads[p.key].middle, pass_label(p), "ground" if is_lit else "text", NUMBER * self.u, face=BOLD))
        yield Clip(laid.box, tuple(inside))
        yield from self._angles()

    def _is_lit(self, p: Pass) -> bool:
        return self.page.lit is not None and p.key == self.page.lit.key

    def _bead(self, p: Pass) -> Iterator[Shape]:
        bead = self.laid.beads[p.key]
        if self._is_lit(p):
            yield Polygon(bead.points, "bead.lit", f"lit:{p.key}")
            yield Lines(bead.edges, "mark")
        elif p.key in self.page.welded:
            yield Polygon(bead.points, f"bead.{p.role}", f"welded:{p.key}")
            yield Lines(bead.edges, "rule")
        else:
            yield Lines(bead.edges[::2], "rule", f"to-come:{p.key}")

    def _rod(self, p: Pass, guide: Guide) -> Iterator[Shape]:
        """The rod to scale, its coating about it, leaning; a short arc under it."""
        at = self.laid.lie.at
        sign = -1.0 if guide.from_below else 1.0
        lean = math.radians(guide.aim.lean_deg)
        along = (math.sin(lean), sign * math.cos(lean))
        tip = (guide.corner[0] + TIP_CORES * p.rod.diameter_mm * along[0], guide.corner[1] + TIP_CORES * p.rod.diameter_mm * along[1])
        length = 1.6 * self.laid.high
        for wide, fill, edge in ((guide.coated_mm, "pause", "soft"), (p.rod.diameter_mm, "plate", "plate.edge")):
            across = (along[1] * wide / 2, -along[0] * wide / 2)
            corners = ((tip[0] - across[0], tip[1] - across[1]), (tip[0] + across[0], tip[1] + across[1]),
                       (tip[0] + across[0] + length * along[0], tip[1] + across[1] + length * along[1]),
                       (tip[0] - across[0] + length * along[0], tip[1] - across[1] + length * along[1]))  # fmt: skip
            points = tuple(map(at, corners))
            yield Polygon(points, fill, "rod")
            yield Lines(tuple(itertools.pairwise((*points, points[0]))), edge)
        if self.page.passing.state == ARC:
            yield Dot(at(guide.corner), 22.0 * self.u, "bead.lit", "")
            yield Dot(at(guide.corner), 10.0 * self.u, "text", "", "arc")

    def _angles(self) -> Iterator[Shape]:
        """How the rod leans across, and along the weld."""
        guide, say, y = self.page.guide, self.say, self.foot - 42.0 * self.u
        if guide is None or self.page.lit is None:
            return
        lean = guide.lean_shown
        word = "weld.upright" if abs(lean) < 1 else "weld.tail.right" if lean > 0 else "weld.tail.left"
        leans = say(word, lean=Figure(abs(lean), "angle"))
        yield self.text((self.edge, y), leans, SECOND, "text", face=BOLD, name="lean")
        if guide.travel_deg is not None:
            middle = sum(guide.travel_deg) / 2
            travel = say("weld.drag" if middle >= 0 else "weld.push", angle=Figure(abs(middle), "angle"))
            beat = beat_said(guide, self.page.lit, say)
            room = self.middle - 60.0 * self.u - self.edge - advance(leans, SECOND * self.u, BOLD) - 30.0 * self.u
            both = f"{travel}, {beat}"
            said = both if beat and LEAST_BEAT * advance(both, SECOND * self.u) <= room else travel
            yield self.text((self.middle - 60.0 * self.u, y), said, fitting(said, SECOND, room / self.u), "soft", "end", name="travel")
