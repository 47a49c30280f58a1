"""Turning one pipe end against the other: the lying end inside, the new one outside, high-low between them as a ribbon.

Outermost the greatest high-low of every turn as a curve, its best places as rings to rest in; seams are notches, turns
that bring them too near are crossed.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from banister.core.drawing.advances import fitting
from banister.core.drawing.hatch import hatched
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Band, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.fitup.places import clock_said
from banister.core.fitup.turn import Turned, at_turn, signed, way_of
from banister.core.joint.fitting import PipeEnd
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

HEAD, LEGEND, BESIDE = 50.0, 62.0, 96.0
"""Room for the words over the rings, under them, and beside them."""
LYING, RIBBON, NEW, CURVE = (0.36, 0.46), 0.62, (0.76, 0.86), 0.92
"""Radii over the room there is: the lying ring, the ribbon's circle, the new ring, where the curve is nought."""
LOBE, RIBBON_ROOM, CURVE_ROOM = 0.025, 0.12, 0.13
DEGREES = np.arange(0.0, 361.0, 1.0)


class TurnView(Struct, frozen=True):
    """Size in pixels, the turn that is shown (degrees clockwise), the high-low that is let pass."""

    width: float
    height: float
    turn_deg: float
    limit_mm: float


class TurnRings(Struct, frozen=True):
    """The picture, its centre, and the radius outside which a hand takes hold of the new ring."""

    drawing: Drawing
    centre: Point
    grasp: float

    def angle_at(self, point: Point) -> float:
        """Where a point lies round the joint, degrees clockwise from 12."""
        return math.degrees(math.atan2(point[0] - self.centre[0], point[1] - self.centre[1])) % 360.0


def turn_rings(ends: tuple[PipeEnd, PipeEnd], turned: Turned, say: Speech, view: TurnView) -> TurnRings:
    """The picture for a size."""
    picture = _Picture(ends, turned, say, view)
    shapes = (Rect((0.0, 0.0, view.width, view.height), "ground"), *picture.crossed(), *picture.rings(), *picture.ribbon(), *picture.curve(),
              *picture.seams(), *picture.middle(), *picture.words())  # fmt: skip
    return TurnRings(Drawing(shapes, (0.0, 0.0, view.width, view.height)), picture.centre, LYING[1] * picture.room)


class _Picture:
    """The parts of the picture."""

    def __init__(self, ends: tuple[PipeEnd, PipeEnd], turned: Turned, say: Speech, view: TurnView) -> None:
        self.ends, self.turned, self.say, self.view = ends, turned, say, view
        self.centre = (view.width / 2, (view.height - HEAD + LEGEND) / 2)
        self.room = min(view.width - 2 * BESIDE, view.height - HEAD - LEGEND) / 2 / (CURVE + CURVE_ROOM) - 4.0
        self.h = at_turn(*ends, view.turn_deg)
        self.worst = int(np.argmax(np.abs(self.h)))
        self.scale = RIBBON_ROOM * self.room / max(float(np.abs(self.h).max()), view.limit_mm, 0.1)

    def at(self, degrees: float, radius: float) -> Point:
        angle = math.radians(degrees)
        return self.centre[0] + radius * math.sin(angle), self.centre[1] + radius * math.cos(angle)

    def circle(self, radii: Floats | float) -> tuple[Point, ...]:
        values = np.broadcast_to(np.asarray(radii, dtype=float), DEGREES.shape)
        return tuple(self.at(float(d), float(r)) for d, r in zip(DEGREES, values, strict=True))

    def line(self, points: Sequence[Point], style: str, name: str = "") -> Lines:
        return Lines(tuple(itertools.pairwise(points)), style, name)

    # --- the pipes ------------------------------------------------------------------------------
    def rings(self) -> Iterator[Shape]:
        """Both ends as they are out of round, the new one as it is turned; each its own lobes, much larger than they are."""
        for n, (low, high) in enumerate((LYING, NEW)):
            end, turn = self.ends[n], 0.0 if n == 0 else self.view.turn_deg
            own = np.interp((DEGREES - turn) % 360.0, *_around(end))
            lobes = (own - own.mean()) / max(float(np.abs(own - own.mean()).max()), 1e-6) * LOBE * self.room
            inner, outer = self.circle(low * self.room + lobes), self.circle(high * self.room)
            yield Band(inner, outer, "plate", "ring:lying" if n == 0 else "ring:new")
            yield self.line(inner, "plate.edge")
            yield self.line(outer, "plate.edge")

    def ribbon(self) -> Iterator[Shape]:
        """High-low between the rings, out where the new end's bore is larger; dark where it is over what is let pass."""
        h, base = np.append(self.h, self.h[0]), RIBBON * self.room
        for sign in (-1.0, 1.0):
            limit = self.circle(base + sign * self.view.limit_mm * self.scale)
            yield Lines(tuple(itertools.pairwise(limit))[::2], "limit", "limit")
        yield Band(self.circle(base), self.circle(base + h * self.scale), "bead.fill", "ribbon")
        yield self.line(self.circle(base), "soft")
        yield self.line(self.circle(base + h * self.scale), "mark")
        for start, end in _runs(np.abs(h) > self.view.limit_mm):
            part = slice(start, end + 1)
            points = [self.at(float(d), base + float(v) * self.scale) for d, v in zip(DEGREES[part], h[part], strict=True)]
            foot = [self.at(float(d), base) for d in DEGREES[part]]
            if len(points) > 1:
                yield Polygon((*points, *reversed(foot)), "outside", "over")

    # --- every turn -----------------------------------------------------------------------------
    def radius_of(self, greatest: float) -> float:
        top = max(float(self.turned.greatest_mm.max()), self.view.limit_mm)
        return self.room * (CURVE + CURVE_ROOM * greatest / top)

    def curve(self) -> Iterator[Shape]:
        """The greatest high-low of every turn, its best places, and the turn that is shown."""
        turns, greatest = self.turned.turns_deg, self.turned.greatest_mm
        points = [self.at(float(t), self.radius_of(float(g))) for t, g in zip(turns, greatest, strict=True)]
        yield self.line([*points, points[0]], "mark", "curve")
        limit = self.circle(self.radius_of(self.view.limit_mm))
        yield Lines(tuple(itertools.pairwise(limit))[::2], "limit", "limit:turns")
        for start, end in _runs(greatest > self.view.limit_mm):
            if end > start:
                yield self.line(points[start : end + 1], "outside", "turns:over")
        for valley in self.turned.valleys:
            yield Dot(self.at(valley.turn_deg, self.radius_of(valley.greatest_mm)), 6.0, "ground", "mark", f"valley:{valley.turn_deg:g}")
        shown = float(np.interp(self.view.turn_deg % 360.0, turns, greatest))
        yield Lines(((self.at(self.view.turn_deg, NEW[1] * self.room), self.at(self.view.turn_deg, self.radius_of(shown))),), "handle", "shown")
        yield Dot(self.at(self.view.turn_deg, self.radius_of(shown)), 5.0, "handle", "handle", "handle")

    def crossed(self) -> Iterator[Shape]:
        """Turns that are not allowed, crossed."""
        turns = self.turned.turns_deg
        for start, end in _runs(~self.turned.allowed):
            span = [float(t) for t in turns[start : end + 1 : 4]] + [float(turns[end])]
            outer = [self.at(t, self.room * (CURVE + CURVE_ROOM)) for t in span]
            inner = [self.at(t, self.room * (NEW[1] + 0.01)) for t in reversed(span)]
            for angle in (45.0, -45.0):
                yield Lines(hatched((*outer, *inner), angle, 7.0), "rule", "crossed")

    def seams(self) -> Iterator[Shape]:
        """The seams of both pipes as notches across their rings."""
        for n, (low, high) in enumerate((LYING, NEW)):
            seam = self.ends[n].seam_deg
            if seam is not None:
                at = seam + (0.0 if n == 0 else self.view.turn_deg)
                corners = [self.at(at + d, r * self.room) for d, r in ((-1.4, low), (1.4, low), (1.4, high), (-1.4, high))]
                yield Polygon(tuple(corners), "text", f"seam:{n}")

    # --- words ----------------------------------------------------------------------------------
    def middle(self) -> Iterator[Shape]:
        """The turn and what it leaves, largest."""
        say, (x, y) = self.say, self.centre
        turn, worst = signed(self.view.turn_deg), float(np.abs(self.h).max())
        bad = worst > self.view.limit_mm
        way = say(f"turn.{way_of(turn)}")
        yield Text((x, y + 40), say("turn.turned"), "soft", 12.5, face=NARROW)
        yield Text((x, y + 20), say.sized("angle", abs(turn)), "text", 24.0, face=BOLD, id="turn")
        yield Text((x, y), way, "soft", 12.5, face=NARROW)
        yield Text((x, y - 24), say.sized("fine_length", worst), "outside" if bad else "limit", 22.0, face=BOLD, id="greatest")
        yield Text((x, y - 44), say("turn.at", at=clock_said(float(self.worst))), "soft", 12.5, face=NARROW)

    def words(self) -> Iterator[Shape]:
        """What to do, at the top; what the picture means, at its corners."""
        say, best, high = self.say, self.turned.best, self.view.height
        head = say("turn.none_left") if best is None else say(f"turn.do.{way_of(best.turn_deg)}", turn=Figure(abs(signed(best.turn_deg)), "angle"),
                                                              most=Figure(best.greatest_mm, "fine_length"))  # fmt: skip
        room = self.view.width - 2 * 14.0
        yield Text((14.0, high - 17), head, "outside" if best is None else "text", fitting(head, 17.0, room, BOLD), "start", face=BOLD, id="head")
        if best is not None:
            was = say("turn.was", was=Figure(self.turned.as_laid.greatest_mm, "fine_length"), limit=Figure(self.view.limit_mm, "fine_length"),
                      truly=Figure(best.greatest_mm + self.turned.optimism_mm, "fine_length"))  # fmt: skip
            yield Text((14.0, high - 38), was, "soft", fitting(was, 12.0, room, NARROW), "start", face=NARROW)
        for i, key in enumerate(("outermost", "ribbon", "limit")):
            yield Text((14.0, 45.0 - 16.0 * i), say(f"turn.legend.{key}"), "limit" if key == "limit" else "soft", 12.0, "start", face=NARROW)
        for valley in self.turned.valleys:
            x, y = self.at(valley.turn_deg, self.room * (CURVE + CURVE_ROOM) + 4.0)
            anchor = "start" if x >= self.centre[0] else "end"
            text = f"{say.sized('angle', signed(valley.turn_deg))}: {say.sized('fine_length', valley.greatest_mm)}"
            yield Text((x + (4 if anchor == "start" else -4), y), text, "text", 12.0, anchor, face=NARROW_BOLD)


def _around(end: PipeEnd) -> tuple[list[float], list[float]]:
    """Radii by their angles, closed over 12."""
    pairs = sorted((angle % 360.0, radius) for angle, radius in zip(end.angles_deg, end.radii_mm, strict=True))
    (first, first_r), (last, last_r) = pairs[0], pairs[-1]
    closed = [(last - 360.0, last_r), *pairs, (first + 360.0, first_r)]
    return [a for a, _ in closed], [r for _, r in closed]


def _runs(flags: NDArray[np.bool_]) -> Iterator[tuple[int, int]]:
    """First and last index of every stretch of truths."""
    for is_set, group in itertools.groupby(range(len(flags)), key=lambda i: bool(flags[i])):
        found = list(group)
        if is_set:
            yield found[0], found[-1]
