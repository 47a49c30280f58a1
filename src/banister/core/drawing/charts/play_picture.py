"""A section to play with: what lies, the bead the hand would lay as a ghost with what is wrong where it is wrong, and what a sound plan would lay there."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.placed import placed
from banister.core.drawing.plates import below_mm, plate_shapes, reach_of
from banister.core.drawing.section import bead_shapes, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, Box, Clip, Dot, Drawing, Lines, Outline, Point, Polygon, Rect, Shape, Text
from banister.core.joint.groove import groove_of
from banister.core.plan.plan import Pass
from banister.core.play.hand import ByHand, Play, role_at
from banister.core.play.said import bead_said, hand_said, stands_said
from banister.core.remark import Figure, Remark
from banister.core.value import Struct, replace
from banister.core.words import Speech

EDGE, HEAD, FOOT, ABOVE_MM, NUMBER_SIZE = 18.0, 66.0, 48.0, 5.0, 13.0
LABEL_ROW, LABEL_SIZE, AIM_PX, AIM_LONG, BESIDE, SAMPLE = 20.0, 14.0, 9.0, 74.0, 32.0, 40.0
MARKED = ("bead.cold_lap", "bead.slot", "layer.slot", "bead.tail", "bead.hollow")
"""Remarks that have a place in the section and a figure worth reading there."""


class Stage(Struct, frozen=True):
    """A side as it lies on screen: upright; a fillet on its plate. `corner` (px, y up) lies at `corner_mm` of it, at `k` px a mm."""

    play: Play
    corner: Point
    corner_mm: Point
    k: float

    def px(self, point: Point) -> Point:
        """Where a point of the side is drawn."""
        return self.lying(_seen(self.play, point))

    def lying(self, point: Point) -> Point:
        """Where a point of what is seen is drawn."""
        return self.corner[0] + self.k * (point[0] - self.corner_mm[0]), self.corner[1] + self.k * (point[1] - self.corner_mm[1])

    def aim_mm(self, x: float, y: float) -> float:
        """The side's own x under a pixel, kept to where a bead may be aimed."""
        at = (self.corner_mm[0] + (x - self.corner[0]) / self.k, self.corner_mm[1] + (y - self.corner[1]) / self.k)
        across = self.play.side.from_section(at)[0] if self.play.side.tilt_deg else at[0]
        low, high = self.play.reach_mm
        return min(max(across, low), high)


class Staged(Struct, frozen=True):
    """A picture, and the stage it is drawn on."""

    drawing: Drawing
    stage: Stage


def staged(play: Play, room: Box) -> Stage:
    """A side in the room left for it."""
    left, low, right, high = _extent(play)
    k = min((room[2] - room[0]) / (right - left), (room[3] - room[1]) / (high - low))
    corner = ((room[0] + room[2]) / 2 - k * (right - left) / 2, (room[1] + room[3]) / 2 - k * (high - low) / 2)
    return Stage(play, corner, (left, low), k)


def play_picture(play: Play, ghost: ByHand | None, sound: Pass | None, say: Speech, size: Point) -> Staged:
    """The section for a size in pixels; `ghost` is the bead to come, `sound` the next bead of a sound plan, in the side's own coordinates."""
    width, height = size
    stage = staged(play, (BESIDE, FOOT, width - BESIDE, height - HEAD))
    shapes: list[Shape] = [Rect((0.0, 0.0, *size), "ground"), *metal_on(stage, (0.0, FOOT, width, height - HEAD))]
    if ghost is not None and ghost.bead is not None:
        shapes += outlined(stage, ghost.bead.outline, "way" if ghost.refusal is None else "outside", "ghost", ghost.refusal is None)
    if sound is not None:
        shapes += outlined(stage, sound.outline_mm, "predicted.3", "sound")
    if ghost is not None:
        shapes += aimed(stage, ghost.hand.aim_mm)
        shapes += _marks(stage, ghost, size, say)
    return Staged(Drawing((*shapes, *_words(play, ghost, sound, size, say)), (0.0, 0.0, *size)), stage)


def _seen(play: Play, point: Point) -> Point:
    return play.side.in_section(point) if play.side.tilt_deg else point


def _extent(play: Play) -> Box:
    """What is shown of the section, mm as it lies."""
    plates = _plates(play)
    xs = [x for s in plates if isinstance(s, Polygon) for x, _ in s.points]
    ys = [y for s in plates if isinstance(s, Polygon) for _, y in s.points] + [y for p in play.behind for _, y in p.outline_mm]
    return min(xs), min(ys) - max(play.joint.working.choices.root_reinforcement_mm, below_mm(play.joint) / 4), max(xs), max(ys) + ABOVE_MM


def _plates(play: Play) -> list[Outline]:
    groove = groove_of(play.joint.prep)
    shapes = plate_shapes(play.joint, groove, *reach_of(play.joint, groove))
    return shapes if play.side.tilt_deg else [shape for shape in placed(shapes, play.side.from_section) if isinstance(shape, Polygon | Lines | Text)]


def metal_on(stage: Stage, frame: Box) -> Iterator[Shape]:
    """Plates, the other side's beads, then those of this side in the order they were laid; nothing of it outside the frame."""
    play = stage.play
    left, _, right, _ = _extent(play)
    found = [*placed(_plates(play), stage.lying)]
    edge = [stage.px(point) for point in play.side.groove.edge()]
    for laid in (play.behind, play.passes):
        found += placed([shape for p in laid for shape in bead_shapes(p, False, right - left)], stage.px)
        if laid is play.behind and play.side.turned:
            found.append(Polygon(tuple(edge), "ground", "gouged"))
    found.append(Lines(tuple(itertools.pairwise(edge)), "groove.edge", "groove"))
    for p in (*play.behind, *play.passes):
        xs, ys = [x for x, _ in p.outline_mm], [y for _, y in p.outline_mm]
        found.append(Text(stage.px(((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)), pass_label(p), "number", NUMBER_SIZE, "middle", p.key))
    yield Clip(frame, tuple(found))


def outlined(stage: Stage, outline: tuple[Point, ...], style: str, name: str, is_filled: bool = False) -> Iterator[Shape]:
    """A bead that does not lie: its outline, over a pale ground where it is filled."""
    points = tuple(map(stage.px, outline))
    if is_filled:
        yield Polygon(points, "spread", name)
    yield Lines(tuple(itertools.pairwise((*points, points[0]))), style, f"{name}.edge")


def aimed(stage: Stage, aim_mm: float, style: str = "cursor", said: str = "") -> Iterator[Shape]:
    """Where the rod points: an upright down to the metal, with whose it is."""
    foot = stage.play.surface.at_x(aim_mm)
    x, y = stage.px((foot.x, foot.y))
    yield Lines((((x, y), (x, y + AIM_LONG)),), style, "aim")
    yield Polygon(((x - AIM_PX / 2, y + AIM_PX), (x + AIM_PX / 2, y + AIM_PX), (x, y)), style, "aim.tip")
    if said:
        yield Text((x, y + AIM_LONG + 10), said, style, 13.0, "middle", face=BOLD)


def _marks(stage: Stage, ghost: ByHand, size: Point, say: Speech) -> Iterator[Shape]:
    """What is wrong with the bead to come, each at its place with its figure; texts in rows under the head, so that none covers another."""
    rows = list[list[tuple[float, float]]]()
    for remark in ghost.remarks:
        if remark.code not in MARKED:
            continue
        x, y = stage.px(_where(ghost, remark))
        text = say(f"play.mark.{remark.code}", value=remark.figures["value"])
        half = advance(text, LABEL_SIZE, BOLD) / 2
        middle = min(max(x, half + 4), size[0] - half - 4)
        row = next((i for i, taken in enumerate(rows) if all(abs(m - middle) > h + half + 8 for m, h in taken)), len(rows))
        if row == len(rows):
            rows.append([])
        rows[row].append((middle, half))
        top = size[1] - HEAD - 12 - row * LABEL_ROW
        yield Lines((((x, y), (middle, top - 9)),), "warning")
        yield Dot((x, y), 4.5, "", "warning", f"mark:{remark.code}")
        yield Text((middle, top), text, "warning", LABEL_SIZE, "middle", f"said:{remark.code}", face=BOLD)


def _where(ghost: ByHand, remark: Remark) -> Point:
    """The steeper toe of a cold lap, else the place the remark names."""
    if remark.code == "bead.cold_lap" and ghost.bead is not None:
        return ghost.bead.left if ghost.bead.contact_left_deg >= ghost.bead.contact_right_deg else ghost.bead.right
    place = remark.place
    return place.x_mm or 0.0, place.y_mm or 0.0


def _words(play: Play, ghost: ByHand | None, sound: Pass | None, size: Point, say: Speech) -> Iterator[Shape]:
    width, height = size
    room = width - 2 * EDGE
    if ghost is not None:
        said = hand_said(play, ghost, role_at(play, ghost.hand.aim_mm), say)
        tone = "outside" if ghost.refusal is not None else "text"
        yield fitting((EDGE, height - 22), said, room, (20.0, 16.0, 13.0), Text((0.0, 0.0), "", "text", id="hand", face=BOLD))
        yield fitting((EDGE, height - 48), bead_said(ghost, say), room, (15.0, 12.5, 11.0), Text((0.0, 0.0), "", tone, id="bead", face=NARROW))
    if sound is not None:
        text = elided(say("play.sound", bead=pass_label(sound), rod=Figure(sound.rod.id, "rod")), 0.62 * room, 14, NARROW)
        sample = width - EDGE - advance(text, 14, NARROW) - 10
        yield Text((width - EDGE, 30), text, "text", 14, "end", "sound.label", face=NARROW)
        yield Lines((((sample - SAMPLE, 30.0), (sample, 30.0)),), "predicted.3")
        room = sample - SAMPLE - 2 * EDGE
    yield fitting((EDGE, 30), stands_said(play, say), room, (14.0, 12.0, 10.5), Text((0.0, 0.0), "", "text", id="stands", face=BOLD))
    yield Text((EDGE, 12), elided(say("play.note"), width - 2 * EDGE, 12, NARROW), "soft", 12, "start", "note", face=NARROW)


def fitting(at: Point, text: str, room: float, sizes: tuple[float, ...], like: Text) -> Text:
    """A line at the largest of the sizes that has room for it."""
    size = next((size for size in sizes if advance(text, size, like.face) <= room), sizes[-1])
    return replace(like, at=at, text=elided(text, room, size, like.face), size=size, anchor="start")
