"""The plan as it is welded: the section at a moment, plates coloured by the predicted temperature, isotherms with their figures, the film's clock."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from banister.core.drawing.advances import advance, elided
from banister.core.drawing.placed import placed
from banister.core.drawing.plates import below_mm, plate_shapes, reach_of
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import BOLD, NARROW, Box, Clip, Drawing, Lines, Outline, Point, Polygon, Rect, Shape, Text
from banister.core.drawing.visible import visible_middle
from banister.core.drawing.warmth import LABEL_LIFT, bands, isotherms, levels_of, shaded
from banister.core.heat.film import Film, Moment, moment_of
from banister.core.heat.schedule import Schedule
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import area, centroid
from banister.core.units import clock, minutes
from banister.core.value import Struct
from banister.core.words import Speech

EDGE, HEAD, FOOT, RAIL, BLOCK = 22.0, 92.0, 76.0, 34.0, 20.0
FRAMES, COLUMNS, STRIP_HEAD, JUST_AFTER_S = 6, 3, 46.0, 0.5
LABEL_APART = 40.0
NUMBER_SHARE, SMALLEST_NUMBER, LARGEST_NUMBER = 0.5, 9.0, 15.0
BEYOND_MM, BEYOND_SHARE, ABOVE_MM = 15.0, 0.8, 4.0


class FilmPicture(Struct, frozen=True):
    """The picture, and where its clock runs: from, to (px)."""

    drawing: Drawing
    clock: tuple[float, float]

    def own_s(self, x: float, film: Film) -> float:
        """The film's time at a pixel of its clock, kept inside."""
        low, high = self.clock
        return min(max((x - low) / (high - low), 0.0), 1.0) * film.length_s


class _Scale(Struct, frozen=True):
    """Millimetres of the section in the pixels left for it."""

    x: float
    y: float
    k: float

    def at(self, point: Point) -> Point:
        return self.x + self.k * point[0], self.y + self.k * point[1]

    def of(self, shape: Outline) -> Shape:
        if isinstance(shape, Polygon):
            return Polygon(tuple(self.at(p) for p in shape.points), shape.style, shape.id)
        assert isinstance(shape, Lines)
        return Lines(tuple((self.at(a), self.at(b)) for a, b in shape.segments), shape.style, shape.id)


def film_picture(joint: Joint, plan: Plan, schedule: Schedule, film: Film, own_s: float, say: Speech, size: Point) -> FilmPicture:
    """The picture at a time of the film, made for a size in pixels."""
    width, height = size
    at_s = film.clock(own_s)
    moment = moment_of(schedule, at_s)
    across, read_c = film.temps(at_s)
    frame = (EDGE, FOOT, width - EDGE, height - HEAD)
    shapes = [
        Rect((0.0, 0.0, *size), "ground"), Clip(frame, tuple(_section(joint, plan, moment, film.x_mm, across, say, frame))),
        *_head(joint, plan, schedule, moment, at_s, read_c, say, size), *_clock(plan, schedule, film, own_s, say, width),
    ]  # fmt: skip
    return FilmPicture(Drawing(tuple(shapes), (0.0, 0.0, *size)), (EDGE, width - EDGE))


def film_strip(joint: Joint, plan: Plan, schedule: Schedule, film: Film, say: Speech, size: Point) -> Drawing:
    """Six frames of the film, from left to right and down: after the passes that divide the work evenly, the last one when all is welded."""
    width, height = size
    across, down = (width - (COLUMNS + 1) * EDGE) / COLUMNS, (height - 3 * EDGE) / (FRAMES // COLUMNS)
    shapes: list[Shape] = [Rect((0.0, 0.0, *size), "ground")]
    for i, at_s in enumerate(frame_times(schedule)):
        column, row = i % COLUMNS, i // COLUMNS
        left, top = EDGE + column * (across + EDGE), height - EDGE - row * (down + EDGE)
        frame = (left, top - down, left + across, top)
        moment = moment_of(schedule, at_s)
        temps, read_c = film.temps(at_s)
        by_key = {p.key: p for p in plan.passes}
        doing = say("film.strip.done", bead=pass_label(by_key[moment.laid[-1]]), of=str(len(plan.passes)))
        shapes.append(Rect(frame, "", "rule", f"frame:{i + 1}"))
        inside = (frame[0] + 4, frame[1] + 4, frame[2] - 4, frame[3] - STRIP_HEAD)
        shapes.append(Clip(inside, tuple(_section(joint, plan, moment, film.x_mm, temps, say, inside))))
        shapes.append(Text((frame[0] + 8, top - 14), elided(f"{i + 1}  {doing}", across - 84, 15, BOLD), "text", 15, "start", f"doing:{i + 1}", face=BOLD))
        shapes.append(Text((frame[0] + 8, top - 34), clock(at_s), "soft", 12, "start", f"clock:{i + 1}", face=NARROW))
        shapes.append(Text((frame[2] - 8, top - 14), say.sized("temperature", read_c), "warmth", 15, "end", f"reads:{i + 1}", face=BOLD))
    return Drawing(tuple(shapes), (0.0, 0.0, *size))


def frame_times(schedule: Schedule) -> tuple[float, ...]:
    """When the frames of the strip are taken: at the ends of passes that divide the schedule evenly, each once."""
    ends = [p.end_s for p in schedule.passes]
    picked = dict.fromkeys(round((i + 1) * len(ends) / FRAMES) - 1 for i in range(FRAMES))
    return tuple(ends[i] + JUST_AFTER_S for i in picked if i >= 0)


def _section(joint: Joint, plan: Plan, moment: Moment, x_mm: Sequence[float], across: Sequence[float], say: Speech, frame: Box) -> Iterator[Shape]:
    """Plates with their bands of colour, then what is laid and what burns."""
    groove = groove_of(joint.prep)
    xs = [x for x, _ in (*groove.edge(), *itertools.chain.from_iterable(p.outline_mm for p in plan.passes))]
    ys = [y for p in plan.passes for _, y in p.outline_mm]
    beyond = BEYOND_MM + BEYOND_SHARE * joint.prep.thickness_mm
    left, right = reach_of(joint, groove) if joint.prep.kind.fillet else (min(xs) - beyond, max(xs) + beyond)
    plates = plate_shapes(joint, groove, left, right)
    ys += [y for s in plates if isinstance(s, Polygon) for _, y in s.points]
    low, high = min(ys) - below_mm(joint), max(ys) + ABOVE_MM
    k = min((frame[2] - frame[0]) / (right - left), (frame[3] - frame[1] - LABEL_LIFT) / (high - low))
    scale = _Scale((frame[0] + frame[2]) / 2 - k * (left + right) / 2, (frame[1] + frame[3] - LABEL_LIFT) / 2 - k * (low + high) / 2, k)
    found = [] if joint.prep.kind.fillet else bands(x_mm, across, left, right, levels_of(say))
    top = max(y for s in plates if isinstance(s, Polygon) for _, y in s.points)
    metal, edges = ([s for s in plates if isinstance(s, kind)] for kind in (Polygon, Lines))
    yield from placed((*metal, *shaded(plates, found), *edges, *isotherms(found, top, joint.prep.thickness_mm, LABEL_APART / k, say)), scale.at)
    by_key = {p.key: p for p in plan.passes}
    laid, lit = [by_key[key] for key in moment.laid], [by_key[moment.burning.key]] if moment.burning is not None else []
    for p in (*laid, *lit):
        yield scale.of(Polygon(p.outline_mm, f"bead.{p.role}" if p not in lit else "bead.lit", p.key))
        yield scale.of(Lines(tuple(itertools.pairwise((*p.outline_mm, p.outline_mm[0]))), "bead.edge"))
    for i, p in enumerate(laid):
        yield from _number(p, (*laid[i + 1 :], *lit), scale)


def _number(p: Pass, later: Sequence[Pass], scale: _Scale) -> Iterator[Shape]:
    """The bead's name where it has room, on what the other side's beads leave of it."""
    seen = visible_middle(p, later)
    at, across = (centroid(p.outline_mm), math.sqrt(area(p.outline_mm))) if seen is None else (seen[0], min(seen[1]))
    size = min(NUMBER_SHARE * scale.k * across, LARGEST_NUMBER)
    if size >= SMALLEST_NUMBER:
        yield Text(scale.at(at), pass_label(p), "number", size, id=p.key)


def _head(joint: Joint, plan: Plan, schedule: Schedule, moment: Moment, at_s: float, read_c: float, say: Speech, size: Point) -> Iterator[Shape]:
    """What happens, as large as it matters; how hot, and when."""
    width, height = size
    by_key = {p.key: p for p in plan.passes}
    if moment.burning is not None:
        p = by_key[moment.burning.key]
        doing = say("film.welding", bead=pass_label(p), of=str(len(plan.passes)))
        more = say("film.burning", rod=say.units.rod(p.rod.id), amps=say.sized("current", p.amps), left=minutes(moment.burning.end_s - at_s))
    elif moment.next is not None:
        p = by_key[moment.next.key]
        waits = moment.next.wait_s > 0.0
        doing = say("film.waiting" if waits else "film.between", bead=pass_label(p), time=minutes(moment.until_s))
        limit = say.sized("temperature", schedule.limits.interpass_c)
        more = say("film.cools", limit=limit) if waits else say("film.cleaning")
    else:
        doing, more = say("film.done"), say("film.done.more", passes=str(len(plan.passes)))
    reads = say.sized("temperature", read_c)
    room = width - 3 * EDGE - advance(reads, 30.0, BOLD)
    yield Text((EDGE, height - 30), elided(doing, room, 26.0, BOLD), "text", 26.0, "start", "doing", face=BOLD)
    yield Text((EDGE, height - 62), elided(more, room, 15.0), "soft", 15.0, "start", "more")
    yield Text((width - EDGE, height - 30), reads, "warmth", 30.0, "end", "reads", face=BOLD)
    yield Text((width - EDGE, height - 62), say("film.reads", mm=say.sized("length", joint.heat.measure_at_mm)), "soft", 13.0, "end", face=NARROW)


def _clock(plan: Plan, schedule: Schedule, film: Film, own_s: float, say: Speech, width: float) -> Iterator[Shape]:
    """Arcs as blocks on the film's clock, waits thin between them, the cursor."""
    roles = {p.key: p for p in plan.passes}

    def x(at_s: float) -> float:
        return EDGE + (width - 2 * EDGE) * film.own(at_s) / film.length_s

    yield Rect((EDGE, RAIL + BLOCK / 2 - 2, width - EDGE, RAIL + BLOCK / 2 + 2), "pause")
    for p in schedule.passes:
        yield Rect((x(p.start_s), RAIL, x(p.end_s), RAIL + BLOCK), f"bead.{roles[p.key].role}", "rule", p.key)
        name = pass_label(roles[p.key])
        if x(p.end_s) - x(p.start_s) > advance(name, 12.0, NARROW) + 4:
            yield Text(((x(p.start_s) + x(p.end_s)) / 2, RAIL + BLOCK / 2), name, "number", 12.0, face=NARROW)
    at = EDGE + (width - 2 * EDGE) * own_s / film.length_s
    yield Lines((((at, RAIL - 6), (at, RAIL + BLOCK + 6)),), "cursor", "cursor")
    gone = say("film.clock", at=clock(film.clock(own_s)), end=clock(schedule.end_s))
    anchor = "start" if at < width / 3 else "end" if at > width * 2 / 3 else "middle"
    yield Text((at, RAIL + BLOCK + 16), gone, "text", 13.0, anchor, "clock")
    yield Text((EDGE, RAIL / 2), elided(say("film.note"), width - 2 * EDGE, 12.0, NARROW), "soft", 12.0, "start", face=NARROW)
