"""Why: the section with the beads that may have made it and their shares, and a card for every cause that is named.

What speaks for a cause is a filled bar to the right, what speaks against it an open one to the left, as long as its factor in decades.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.charts.arc_trace import arc_trace
from banister.core.drawing.placed import placed
from banister.core.drawing.section import bare_section, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Box, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.inspect.advising import MOST_WORDS, Advised, chance_said, word_said
from banister.core.inspect.causes import ELSE, Likely, Word
from banister.core.inspect.kinds import ROOT
from banister.core.inspect.observed import LEFT, RIGHT, Observation
from banister.core.inspect.repair import INSIDE
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import centroid
from banister.core.remark import Figure
from banister.core.value import Struct, replace
from banister.core.words import Speech

PAD, GAP, BEADS = 14.0, 10.0, 0.46
"""Edges, between cards, the share of the width that the section takes."""
HEAD, WORD, BAR, FOOT, DECADE = 40.0, 34.0, 9.0, 24.0, 90.0
"""Heights in a card and of a bar; a factor of ten is so long, px."""
LEAST_CARD, TRACE = 96.0, 150.0
EVEN, ASIDE = 0.5, 0.3
"""Where the bars begin: in the middle of a card, or further left where nothing speaks against anything."""
BEAD_ROOM, RING = 0.84, 9.0
"""The beads take so much of the room there is, so that plates show beside them; the radius of the ring, px."""


class CauseView(Struct, frozen=True):
    """Size in pixels, and the cause that is marked ('' for none)."""

    width: float
    height: float
    marked: str = ""


class CausePicture(Struct, frozen=True):
    """The picture, and where the card of each cause stands, from and up to which height."""

    drawing: Drawing
    cards: Mapping[str, Point]
    left: float
    """Where the cards begin."""

    def card_at(self, point: Point) -> str:
        """The cause whose card lies under a point; '' for none."""
        x, y = point
        return next((cause for cause, (low, high) in self.cards.items() if low <= y <= high), "") if x >= self.left else ""


def cause_picture(found: Advised, one: Observation, joint: Joint, plan: Plan, say: Speech, view: CauseView) -> CausePicture:
    """The picture for a size."""
    split = round(view.width * BEADS)
    cards = _Cards(found, say, (split, 0.0, view.width - PAD, view.height - PAD), view.marked)
    shapes = tuple(cards.shapes())
    box = (0.0, 0.0, view.width, view.height)
    room = 0.0 if found.arc is None else min(TRACE, view.height / 4)
    section, foot = _section(found, one, joint, plan, (PAD, room + 2 * FOOT, split - PAD, view.height - PAD))
    ground = Rect(box, "ground")
    under = max(foot - 2 * FOOT, PAD + room)
    trace = () if found.arc is None else tuple(arc_trace(found.arc, say, (PAD, under - room, split - PAD, under)))
    return CausePicture(Drawing((ground, section, *_shares(found, say, PAD, foot - FOOT), *trace, *shapes), box), cards.at, float(split))


# --- which pass -------------------------------------------------------------------------------
def _section(found: Advised, one: Observation, joint: Joint, plan: Plan, box: Box) -> tuple[Shape, float]:
    """The welded section, pale, the beads that may have made it in their own colour, a ring where it was seen; and the height of its foot."""
    x0, y0, x1, y1 = box
    bare = bare_section(joint, plan, 1.0)
    xs, ys = zip(*(point for p in plan.passes for point in p.outline_mm), strict=True)
    k = min((x1 - x0) / (max(xs) - min(xs)), (y1 - y0) / (max(ys) - min(ys))) * BEAD_ROOM
    middle = (min(xs) + max(xs)) / 2

    def at(point: Point) -> Point:
        return (x0 + x1) / 2 + k * (point[0] - middle), y1 - RING - k * (max(ys) - point[1])

    named = {p.key: share for p, share in found.passes}
    shapes = list[Shape]()
    for shape in placed(bare.shapes, at):
        if isinstance(shape, Polygon) and shape.style.startswith("bead.") and shape.id not in named:
            shape = replace(shape, style="later")
        if not (isinstance(shape, Lines) and shape.style.startswith("hatch")):
            shapes.append(shape)
    for p, share in found.passes:
        points = tuple(map(at, p.outline_mm))
        edges = tuple(itertools.pairwise((*points, points[0])))
        if p is found.passes[0][0] and share > 1 / len(found.passes) + 0.01:
            shapes += [Lines(edges, "select.outer", "likeliest"), Lines(edges, "select.inner")]
        shapes.append(Text(at(centroid(p.outline_mm)), pass_label(p), "number", 12, face=NARROW_BOLD))
    shapes.append(Dot(at(_seen_at(one, joint, plan.passes, found.passes[0][0])), RING, "", "outside", "seen"))
    return Clip(box, tuple(shapes)), at((0.0, min(ys)))[1]


def _seen_at(one: Observation, joint: Joint, passes: tuple[Pass, ...], blamed: Pass) -> Point:
    """Where it was seen in the section: at its depth, at its toe, else in the middle of the surface it was seen from."""
    points = [point for p in passes for point in p.outline_mm]
    t = joint.prep.thickness_mm
    if one.kind in INSIDE and one.depth is not None:
        return 0.0, t - one.depth - (one.height or 0.0) / 2
    if one.side == ROOT:
        return 0.0, min(y for _, y in points)
    over = [x for x, y in points if y >= t - 0.2] or [x for x, _ in blamed.outline_mm]
    if one.toe in (LEFT, RIGHT):
        return (min(over) if one.toe == LEFT else max(over)), t
    return centroid(blamed.outline_mm)[0], max(y for _, y in blamed.outline_mm)


def _shares(found: Advised, say: Speech, x: float, y: float) -> Iterator[Shape]:
    """The passes named with their shares, in one line."""
    head = say("advise.which")
    yield Text((x, y), head, "soft", 13, "start", face=NARROW)
    x += advance(head, 13, NARROW) + 10
    for i, (p, share) in enumerate(found.passes):
        text = f"{pass_label(p)} {say.figure(Figure(round(100 * share), 'percent'))}"
        face = NARROW if i else NARROW_BOLD
        yield Text((x, y), text, "soft" if i else "text", 13, "start", f"share:{p.key}", face=face)
        x += advance(text, 13, face) + 14


# --- causes -----------------------------------------------------------------------------------
class _Cards:
    """The cards, one under the other; `at` tells where each stands."""

    def __init__(self, found: Advised, say: Speech, box: Box, marked: str) -> None:
        self.found, self.say, self.marked = found, say, marked
        self.x0, _, self.x1, self.top = box
        self.axis = self.x0 + (self.x1 - self.x0) * (EVEN if any(one.against for one in found.named) else ASIDE)
        self.at: dict[str, Point] = {}
        room = self.top - FOOT - PAD
        rows = [max(min(len(one.speaks_for), MOST_WORDS), min(len(one.against), MOST_WORDS), 1) for one in found.named]
        wanted = [HEAD + 18 + WORD * n for n in rows]
        spare = room - GAP * (len(rows) - 1)
        self.heights = [max(h * min(1.0, spare / sum(wanted)), LEAST_CARD) for h in wanted]

    def shapes(self) -> Iterator[Shape]:
        """Every card, and what is left under them."""
        y = self.top
        for likely, height in zip(self.found.named, self.heights, strict=True):
            yield from self._card(likely, y - height, y)
            y -= height + GAP
        rest = [one for one in self.found.advice.likely if one not in self.found.named]
        share = Figure(round(100 * sum(one.chance for one in rest)), "percent")
        others = ", ".join(self.say(f"cause.{one.cause}") for one in rest if one.cause != ELSE)
        text = self.say("advise.rest", share=share, causes=others) if others else self.say("advise.rest.else", share=share)
        yield Text((self.x0 + 12, y - 6), elided(text, self.x1 - self.x0 - 12, 12, NARROW), "soft", 12, "start", "rest", face=NARROW)

    def _card(self, likely: Likely, low: float, high: float) -> Iterator[Shape]:
        self.at[likely.cause] = (low, high)
        is_marked = likely.cause == self.marked
        yield Rect((self.x0, low, self.x1, high), "spread" if is_marked else "ground", "handle" if is_marked else "rule", f"cause:{likely.cause}")
        chance = chance_said(likely.chance, self.say)
        yield Text((self.x0 + 12, high - 24), chance, "text", 21, "start", f"chance:{likely.cause}", face=BOLD)
        name, x = self.say(f"cause.{likely.cause}"), self.x0 + 12 + max(advance(chance, 21, BOLD) + 14, 66)
        size, face = (15.0, BOLD) if advance(name, 15, BOLD) <= self.x1 - x - 6 else (13.0, NARROW_BOLD)
        yield Text((x, high - 23), elided(name, self.x1 - x - 6, size, face), "text", size, "start", face=face)
        axis, top = self.axis, high - HEAD
        yield Lines((((axis, low + 8), (axis, top + 4)),), "soft")
        yield from self._side(likely.speaks_for, axis, top, low, 1.0)
        yield from self._side(likely.against, axis, top, low, -1.0)

    def _side(self, words: tuple[Word, ...], axis: float, top: float, low: float, sign: float) -> Iterator[Shape]:
        """Bars to one side of the axis, strongest first, each labelled with what was read."""
        say, anchor = self.say, "start" if sign > 0 else "end"
        x = axis + sign * 8
        yield Text((x, top - 6), say("advise.for.head" if sign > 0 else "advise.against.head"), "soft", 12, anchor, face=NARROW)
        if not words:
            yield Text((x, top - 24), say("advise.nothing"), "soft", 12, anchor, face=NARROW)
        for i, word in enumerate(words[:MOST_WORDS]):
            y = top - 18 - WORD * i
            if y - WORD < low - 12:
                return
            long = min(max(DECADE * abs(math.log10(word.factor)), 4.0), axis - self.x0 - 12)
            box = (axis, y - BAR, axis + long, y) if sign > 0 else (axis - long, y - BAR, axis, y)
            yield Rect(box, "rail" if sign > 0 else "ground", "rail", f"word:{word.evidence}")
            room = (self.x1 - x if sign > 0 else x - self.x0) - 4
            yield Text((x, y - BAR - 12), elided(word_said(word, say), room, 12, NARROW), "text", 12, anchor, face=NARROW)
