"""The top of the inspected section at a place: the cap as it was planned in grey, what was measured as a line over it, both with their figures.

The root is turned up, as it is looked at from behind.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Clip, Lines, Point, Polygon, Shape, Text
from banister.core.inspect.kinds import ROOT
from banister.core.inspect.observed import LEFT, Observation
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.sides import BACK, FRONT
from banister.core.polygon import centroid
from banister.core.value import Struct
from banister.core.words import Speech

if TYPE_CHECKING:
    from numpy.typing import NDArray

ROOM_MM, UNDER_MM, OVER_MM, SAMPLES = 9.0, 7.0, 2.0, 241
FAR_BELOW = -1e9
NEAR_MM = 5.0
"""What was seen so near the cursor is drawn in the section there."""
HEIGHTS, LOWS, UNDERCUTS = ("502", "503", "504"), ("511", "509", "515"), ("5011", "5012", "5013")
NOTCH_SHARE = 1.2
"""An undercut is drawn so much wider to each side than it is deep."""


class Cap(Struct, frozen=True):
    """The picture's box, px, the side, the place as it is said, and what was seen there."""

    box: tuple[float, float, float, float]
    side: str
    place: str
    seen: tuple[Observation, ...]


def cap_picture(joint: Joint, plan: Plan | None, cap: Cap, say: Speech) -> Iterator[Shape]:
    """The section's top, or its root turned up."""
    picture = _Picture(joint, plan, cap, say)
    yield Clip(cap.box, tuple(picture.shapes()))
    yield from picture.words()


class _Picture:
    """The parts of the picture; heights are over the plate on the side that is looked at."""

    def __init__(self, joint: Joint, plan: Plan | None, cap: Cap, say: Speech) -> None:
        self.cap, self.say, self.is_root = cap, say, cap.side == ROOT
        self.t = joint.prep.thickness_mm
        side = BACK if self.is_root and joint.prep.two_sided else FRONT
        self.passes: tuple[Pass, ...] = () if plan is None else tuple(p for p in plan.passes if p.side == side)
        self.profile = self._profile()
        half = max((abs(x) for x, _ in self.profile), default=8.0) + ROOM_MM
        self.planned = max((y for _, y in self.profile), default=0.0)
        self.high = next((one for one in cap.seen if one.kind in HEIGHTS and one.height is not None), None)
        top = max(self.planned, self.high.height or 0.0 if self.high is not None else 0.0, 1.0) + OVER_MM
        x0, y0, x1, y1 = cap.box
        self.k = min((x1 - x0) / (2 * half), (y1 - y0) / (top + UNDER_MM))
        self.middle, self.base = (x0 + x1) / 2, y0 + self.k * UNDER_MM
        self.half = (x1 - x0) / 2 / self.k

    def up(self, point: Point) -> Point:
        """A point of the section as it is looked at: over the plate's surface, the root seen from behind."""
        return (-point[0], -point[1]) if self.is_root else (point[0], point[1] - self.t)

    def at(self, point: Point) -> Point:
        return self.middle + self.k * point[0], self.base + self.k * point[1]

    def _profile(self) -> list[Point]:
        """The surface as it was planned, toe to toe."""
        outlines = [[self.up(point) for point in p.outline_mm] for p in self.passes]
        over = [outline for outline in outlines if max((y for _, y in outline), default=-1.0) > 0.0]
        if not over:
            return []
        xs = np.linspace(min(x for o in over for x, y in o if y >= -0.2), max(x for o in over for x, y in o if y >= -0.2), SAMPLES)
        heights = np.max([_tops(outline, xs) for outline in over], axis=0)
        return [(float(x), float(y)) for x, y in zip(xs, heights, strict=True) if y > -1.0]

    # --- what is drawn --------------------------------------------------------------------------
    def shapes(self) -> Iterator[Shape]:
        """Plates, planned beads, what was measured."""
        wide = max((abs(x) for x, _ in self.profile), default=4.0)
        low = -UNDER_MM - 1
        yield Polygon(tuple(map(self.at, ((-self.half, 0.0), (self.half, 0.0), (self.half, low), (-self.half, low)))), "plate")
        for p in self.passes:
            points = tuple(self.at(self.up(point)) for point in p.outline_mm)
            yield Polygon(points, "pause", f"planned:{p.key}")
            yield Lines(tuple(itertools.pairwise((*points, points[0]))), "rule")
        yield Lines(((self.at((-self.half, 0.0)), self.at((-wide, 0.0))), (self.at((wide, 0.0)), self.at((self.half, 0.0)))), "plate.edge")
        for p in self.passes:
            x, y = self.at(self.up(centroid(p.outline_mm)))
            if y > self.cap.box[1] + 8:
                yield Text((x, y), pass_label(p), "soft", 11, face=NARROW)
        yield from self._measured()

    def _measured(self) -> Iterator[Shape]:
        if self.high is not None and self.high.height is not None and self.planned > 0 and self.profile:
            share = self.high.height / self.planned
            points = [self.at((x, y * share)) for x, y in self.profile]
            yield Lines(tuple(itertools.pairwise(points)), "rail", "measured")
        for one in self.cap.seen:
            if one.kind in UNDERCUTS and one.depth is not None and self.profile:
                toe = self.profile[0][0] if (one.toe == LEFT) != self.is_root else self.profile[-1][0]
                wide = NOTCH_SHARE * one.depth
                notch = [self.at(point) for point in ((toe - wide, 0.0), (toe, -one.depth), (toe + wide, 0.0))]
                yield Lines(tuple(itertools.pairwise(notch)), "outside", f"undercut:{one.id}")
            elif one.kind in LOWS and one.depth is not None and self.profile:
                ends = self.at((self.profile[0][0], -one.depth)), self.at((self.profile[-1][0], -one.depth))
                yield Lines((ends,), "outside", f"low:{one.id}")

    def words(self) -> Iterator[Shape]:
        """Measured beside planned, and the difference."""
        say, (x0, _, _, y1) = self.say, self.cap.box
        yield Text((x0 + 10, y1 - 12), say("inspect.section_at", at=self.cap.place), "text", 14, "start", "section at", face=BOLD)
        lines: list[tuple[str, str, str]] = []
        if self.high is not None and self.high.height is not None:
            lines.append((say("inspect.measured", figure=say.sized("fine_length", self.high.height)), "text", NARROW_BOLD))
        if self.planned > 0:
            lines.append((say("inspect.planned", figure=say.sized("fine_length", self.planned)), "soft", NARROW))
        if self.high is not None and self.high.height is not None and self.planned > 0:
            apart = self.high.height - self.planned
            word = "inspect.higher" if apart > 0 else "inspect.lower"
            lines.append((say(word, figure=say.sized("fine_length", abs(apart))), "soft", NARROW))
        for i, (text, style, face) in enumerate(lines):
            yield Text((x0 + 10, y1 - 32 - 17 * i), text, style, 13, "start", f"figure:{i}", face=face)


def _tops(outline: Sequence[Point], x: NDArray[np.float64]) -> NDArray[np.float64]:
    """The highest point of an outline over each place; far below where it does not reach there."""
    begins = np.array(outline)[:, :, None]
    ends = np.roll(begins, -1, axis=0)
    (xa, ya), (xb, yb) = begins.swapaxes(0, 1), ends.swapaxes(0, 1)
    is_upright = xa == xb
    along = ya + (yb - ya) * (x - xa) / np.where(is_upright, 1.0, xb - xa)
    heights = np.where(is_upright, np.maximum(ya, yb), along)
    reaches = (np.minimum(xa, xb) <= x) & (x <= np.maximum(xa, xb))
    return np.asarray(np.where(reaches, heights, FAR_BELOW).max(axis=0))
