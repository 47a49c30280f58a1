"""The page at the joint, to be read from two metres: one lit bead, the figures that matter now, the rail of the rod.

Sizes go by the height of the page, so that the largest figures stand twelve millimetres tall on a notebook's screen.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from banister.core.drawing.advances import advance
from banister.core.drawing.plates import extent_of, plate_shapes, reach_of
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Clip, Dot, Drawing, Lines, Point, Polygon, Rect, Shape, Text
from banister.core.follow.between import TURN
from banister.core.follow.halves import HalfNow
from banister.core.guide.of_pass import Guide
from banister.core.guide.said import beat_said
from banister.core.heat.countdown import Countdown
from banister.core.heat.spread import band_said
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint
from banister.core.passing import ARC, CHANGE, CLEAN, COLD, DONE, GAP, HOT, LOOK, READY, STOPPED, Passing
from banister.core.plan.plan import Pass, Plan
from banister.core.polygon import centroid
from banister.core.remark import Figure
from banister.core.words import Speech

PRIMARY, SECOND, RAIL_TEXT, KEY_TEXT, NUMBER, HEAD_TEXT = 112.0, 63.0, 54.0, 46.0, 34.0, 54.0
"""Sizes of type on a page of 1080 lines."""
LOOKS = ("slag", "brushed", "undercut", "pores", "low")
TIP_CORES = 1.1
LEAST_BEAT = 0.75
"""Beside the travel angle the beat of the hand stands as long as it need not be made smaller than that."""
UNDER_HOOD = (ARC, GAP, CHANGE, STOPPED)


@dataclass(frozen=True, slots=True, kw_only=True)
class Page:
    """What is shown: size, how the pass stands, the plan as it follows, the pass lit, its guidance, marks, and what the hand has set.

    `marks_mm` are the stops of the pass from its start; `left` the part left of the last rod, `depth_mm` the depth as it is set;
    `looked` the tiles that were tapped, `notice` the line over the keys. `simulated` where a simulator welds. `volts` and
    `amps` are what a meter sees, `rod_end_mm` the lengths between which this rod must end for its heat input; `ready_in`
    is when the joint is predicted to be down to its interpass limit, in seconds from now. `place_mm` is the place whose depth
    is set (None: the whole weld), `slow_mm` where the layer under the pass lies low. `due` is what is to be done to the work first.
    """

    width: float
    height: float
    passing: Passing
    now_s: float
    plan: Plan
    lit: Pass | None
    welded: tuple[str, ...] = ()
    guide: Guide | None = None
    marks_mm: tuple[float, ...] = ()
    asked_mm: float = 0.0
    left: float = 0.0
    depth_mm: float = 0.0
    looked: tuple[str, ...] = ()
    at_look: int = 0
    cue: str = ""
    """The remedy that was carried to this pass; it stands in the place of the likeliest fault."""
    deviations: int = 0
    notice: str = ""
    notice_bad: bool = False
    simulated: bool = False
    volts: float | None = None
    amps: float | None = None
    rod_end_mm: tuple[float | None, float | None] | None = None
    place_mm: float | None = None
    slow_mm: tuple[tuple[float, float], ...] = ()
    ready_in: Countdown | None = None
    temp_age_s: float | None = None
    holding: float = 0.0
    due: tuple[str, ...] = ()
    half: HalfNow | None = None
    """Of a fixed pipe: the half that is welded; marks count from its start."""


@dataclass(frozen=True, slots=True)
class WeldPicture:
    """The picture, and where its keys lie (x0, y0, x1, y1), by the key they stand for."""

    drawing: Drawing
    keys: Mapping[str, tuple[float, float, float, float]]


def weld_picture(joint: Joint, page: Page, say: Speech) -> WeldPicture:
    """The page for a size."""
    picture = _Picture(joint, page, say)
    shapes = [Rect((0.0, 0.0, page.width, page.height), "ground"), *picture.head(), *picture.section(), *picture.right(), *picture.temperature(),
              *picture.rail(), *picture.keys(), *picture.notice()]  # fmt: skip
    return WeldPicture(Drawing(tuple(shapes), (0.0, 0.0, page.width, page.height)), picture.boxes)


class _Picture:
    """The parts of the page."""

    def __init__(self, joint: Joint, page: Page, say: Speech) -> None:
        self.joint, self.page, self.say = joint, page, say
        self.u = min(page.height / 1080.0, page.width / 1640.0)
        self.edge = 24.0 * self.u
        self.boxes: dict[str, tuple[float, float, float, float]] = {}
        self.keys_top = 150.0 * self.u
        self.rail_top = self.keys_top + 160.0 * self.u
        self.temp_top = self.rail_top + (168.0 if page.notice else 100.0) * self.u
        self.body_top = page.height - 92.0 * self.u
        self.middle = page.width * 0.5
        self.pitch = min(128.0 * self.u, (self.body_top - self.temp_top - 112.0 * self.u) / 3.6)
        """From row to row in the right half: closer where a notice takes room."""

    def row_y(self, n: float) -> float:
        """Height of the n-th row of the right half."""
        return self.body_top - 76.0 * self.u - self.pitch * n

    def text(self, at: Point, text: str, size: float, style: str = "text", anchor: str = "start", face: str = PLAIN, name: str = "") -> Text:
        return Text(at, text, style, size * self.u, anchor, name, face=face)

    def fitted(self, at: Point, text: str, size: float, room: float, style: str = "text", face: str = PLAIN, name: str = "") -> Text:
        """A text that begins at a place, smaller where it would not have room."""
        return self.text(at, text, size * min(1.0, room / max(advance(text, size * self.u, face), 1.0)), style, face=face, name=name)

    # --- head -----------------------------------------------------------------------------------
    def head(self) -> Iterator[Shape]:
        """Which joint, which pass; how many deviations wait."""
        page, say, y = self.page, self.say, self.page.height - 46.0 * self.u
        yield self.text((self.edge, y), self.joint.id, HEAD_TEXT, "soft", face=BOLD)
        x = self.edge + advance(self.joint.id, HEAD_TEXT * self.u, BOLD) + 34.0 * self.u
        if page.lit is None:
            yield self.text((x, y), say("weld.all_done"), HEAD_TEXT, face=BOLD, name="head")
        else:
            which = say("weld.pass", number=str(page.lit.number), of=str(len(page.plan.passes)))
            yield self.text((x, y), which, HEAD_TEXT, face=BOLD, name="head")
            layer = [p for p in page.plan.passes if p.side == page.lit.side and p.layer == page.lit.layer]
            n = layer.index(page.lit) + 1 if page.lit in layer else 1
            role = say(self.joint.role_word(page.lit.role, page.lit.side))
            also = say("weld.layer", role=role, layer=str(page.lit.layer), n=str(n), of=str(len(layer)))
            begins = x + advance(which, HEAD_TEXT * self.u, BOLD) + 30.0 * self.u
            if page.half is not None:
                half = say(f"weld.half.{page.half.half}")
                centres = page.half.centres
                said = say("weld.half.from", half=half, begins=centres[0], ends=centres[1]) if centres else half
                yield self.text((begins, y), said, 44.0, "text", face=NARROW_BOLD, name="half")
                begins += advance(said, 44.0 * self.u, NARROW_BOLD) + 30.0 * self.u
            yield self.text((begins, y), also, 44.0, "soft", face=NARROW)
        right = say("weld.simulated") if page.simulated else say("weld.deviations", n=page.deviations)
        yield self.text((page.width - self.edge, y), right, 46.0, "outside" if page.simulated or page.deviations else "soft", "end", NARROW_BOLD, "right")

    # --- the section ----------------------------------------------------------------------------
    def section(self) -> Iterator[Shape]:
        """Plates and beads as the work lies, the side that is welded up; the lit bead bright, the rod where it points."""
        page, groove = self.page, groove_of(self.joint.prep)
        is_turned = page.guide is not None and page.guide.from_below

        def lying(point: Point) -> Point:
            return (point[0], groove.thickness_mm - point[1]) if is_turned else point

        reach = reach_of(self.joint, groove)
        plates = plate_shapes(self.joint, groove, *reach)
        top, foot, left, right = self.body_top - 8 * self.u, self.temp_top + 100.0 * self.u, self.edge, self.middle - 40.0 * self.u
        half = extent_of(self.joint, reach) * 0.62
        ys = [lying(point)[1] for p in page.plan.passes for point in p.outline_mm] or [0.0, groove.thickness_mm]
        low, high = min(0.0, *ys) - 1.0, max(groove.thickness_mm, *ys) + 0.30 * groove.thickness_mm
        xs = [x for p in page.plan.passes for x, _ in p.outline_mm] or [-half, half]
        wide = max(max(xs) - min(xs) + 10.0, 0.9 * (high - low))
        k = min((right - left) / wide, (top - foot) / (high - low))
        middle, base = (left + right) / 2 - k * (max(xs) + min(xs)) / 2, foot + ((top - foot) - k * (high - low)) / 2 - k * low

        def at(point: Point) -> Point:
            x, y = lying(point)
            return middle + k * x, base + k * y

        box = (left, foot, right, top)
        inside: list[Shape] = []
        for shape in plates:
            if isinstance(shape, Polygon):
                inside.append(Polygon(tuple(map(at, shape.points)), shape.style))
        for p in page.plan.passes:
            inside += self._bead(p, at)
        if page.lit is not None and page.guide is not None:
            inside += self._rod(page.lit, page.guide, at, k, high)
        for p in page.plan.passes:
            lit = page.lit is not None and p.key == page.lit.key
            ups = [at(point)[1] for point in p.outline_mm]
            if lit or (p.key in page.welded and max(ups) - min(ups) > NUMBER * self.u):
                x, y = at(centroid(p.outline_mm))
                inside.append(Text((x, y), pass_label(p), "ground" if lit else "text", NUMBER * self.u, face=BOLD))
        yield Clip(box, tuple(inside))
        yield from self._angles(foot)

    def _bead(self, p: Pass, at: Callable[[Point], Point]) -> Iterator[Shape]:
        points = tuple(map(at, p.outline_mm))
        edges = tuple(itertools.pairwise((*points, points[0])))
        if self.page.lit is not None and p.key == self.page.lit.key:
            yield Polygon(points, "bead.lit", f"lit:{p.key}")
            yield Lines(edges, "mark")
        elif p.key in self.page.welded:
            yield Polygon(points, f"bead.{p.role}", f"welded:{p.key}")
            yield Lines(edges, "rule")
        else:
            yield Lines(edges[::2], "rule", f"to-come:{p.key}")

    def _rod(self, p: Pass, guide: Guide, at: Callable[[Point], Point], k: float, high: float) -> Iterator[Shape]:
        """The rod to scale, its coating about it, leaning; a short arc under it."""
        sign = -1.0 if guide.from_below else 1.0
        lean = math.radians(guide.aim.lean_deg)
        along = (math.sin(lean), sign * math.cos(lean))
        tip = (guide.corner[0] + TIP_CORES * p.rod.diameter_mm * along[0], guide.corner[1] + TIP_CORES * p.rod.diameter_mm * along[1])
        length = 1.6 * high
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

    def _angles(self, foot: float) -> Iterator[Shape]:
        """How the rod leans across, and along the weld."""
        guide, say, y = self.page.guide, self.say, foot - 42.0 * self.u
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
            yield self.text((self.middle - 60.0 * self.u, y), said, SECOND * min(1.0, room / advance(said, SECOND * self.u)), "soft", "end", name="travel")

    # --- the right half -------------------------------------------------------------------------
    def right(self) -> Iterator[Shape]:
        """What matters now: before the arc what to set, under it where the rod must end, after it the look."""
        state = self.page.passing.state
        if self.page.lit is None:
            return
        if state == CLEAN:
            yield from self._looks()
        elif state == LOOK:
            yield from self._depth()
        elif state in UNDER_HOOD:
            yield from self._under()
        else:
            yield from self._before()

    def _row(self, n: float, label: str, value: str, unit: str = "", primary: bool = True) -> Iterator[Shape]:
        x0, x1, u = self.middle + 20.0 * self.u, self.page.width - self.edge, self.u
        y = self.row_y(n)
        size = PRIMARY if primary else SECOND
        gap = advance(unit, SECOND * u, NARROW) + (16.0 * u if unit else 0.0)
        room = x1 - x0 - gap - advance(value, size * u, BOLD) - 24.0 * u
        yield self.fitted((x0, y), label, SECOND, room, "soft", NARROW, f"label:{label}")
        yield self.text((x1 - gap, y), value, size, "text", "end", BOLD, name=f"figure:{label}")
        if unit:
            yield self.text((x1, y - 0.16 * size * u), unit, SECOND, "soft", "end", NARROW)

    def _before(self) -> Iterator[Shape]:
        page, say, p = self.page, self.say, self.page.lit
        assert p is not None
        size = say.units.rod(p.rod.id).rpartition("-")[2].replace("x", " x ")
        if page.due:
            yield from self._due(page.due[0])
            return
        yield from self._row(-0.25, p.rod.type, size, primary=False)
        if page.passing.state in (HOT, COLD):
            limit = page.passing.high_c if page.passing.state == HOT else page.passing.low_c
            yield from self._row(1.0, say("weld.now"), say.units.text("temperature", page.passing.temp_c or 0.0), say.units.unit("temperature"))
            wait = self._wait()
            if page.passing.state == HOT and wait and page.ready_in is not None:
                yield from self._row(2.0, say("weld.ready_in"), f"{max(page.ready_in.likely_s / 60, 1.0):.0f}", say("weld.minutes"))
                do = say("weld.wait_band", band=wait)
                x0 = self.middle + 20 * self.u
                yield self.fitted((x0, self.row_y(3.0)), do, 50.0, page.width - self.edge - x0, "outside", NARROW, "wait")
                return
            yield from self._row(2.0, say("weld.most" if page.passing.state == HOT else "weld.least"), say.units.text("temperature", limit or 0.0),
                                 say.units.unit("temperature"))  # fmt: skip
            yield self.text((self.middle + 20 * self.u, self.row_y(3.0)), say(f"weld.{page.passing.state}.do"), 50.0, "outside", face=NARROW)
            return
        mark = page.marks_mm[0] if page.marks_mm else page.asked_mm
        word = "weld.first_mark" if page.marks_mm else "weld.mark_every"
        rod_s = p.rod.burn_time_s(p.amps)
        yield from self._row(0.75, say("weld.set"), say.units.text("current", p.amps), say.units.unit("current"))
        yield from self._row(1.75, say(word), say.units.text("long_length", mark), say.units.unit("long_length"))
        yield from self._row(2.75, say("weld.one_rod"), f"{rod_s:.0f}", say("weld.seconds"))
        yield from self._cue(3.55)

    def _due(self, step: str) -> Iterator[Shape]:
        """What is to be done to the work before this pass: told when it is done, so that the next bead is not laid on the wrong side."""
        x0, room = self.middle + 20.0 * self.u, self.page.width - self.edge - self.middle - 20.0 * self.u
        word = "walk" if step == TURN and self.joint.stands else step
        yield self.fitted((x0, self.row_y(0.0)), self.say("weld.first"), SECOND, room, "soft", NARROW, "first")
        yield self.fitted((x0, self.row_y(1.0)), self.say(f"weld.due.{word}"), PRIMARY, room, "text", BOLD, "due")
        yield self.fitted((x0, self.row_y(2.0)), self.say(f"weld.due.{word}.how"), 50.0, room, "soft", NARROW)

    def _rods_here(self) -> int:
        """Rods burnt in the run that is welded: of a fixed pipe those of its half."""
        half = self.page.half
        return self.page.passing.rods - (0 if half is None else half.rods_before)

    def _wait(self) -> str:
        """The band of minutes it is still too hot, as the coolings predict; '' where it is not, or nothing is predicted."""
        found = self.page.ready_in
        return "" if found is None or found.contradicted or found.late_s <= 0 else band_said((max(found.early_s, 0.0), found.late_s), self.say)

    def _cue(self, n: float) -> Iterator[Shape]:
        guide = self.page.guide
        if self.page.cue:
            x, room = self.middle + 20.0 * self.u, self.page.width - self.edge - self.middle - 20.0 * self.u
            yield self.fitted((x, self.row_y(n)), self.page.cue, SECOND, room, face=NARROW_BOLD, name="cue")
        elif guide is not None and guide.likely:
            kind = guide.likely[0].kind
            y = self.row_y(n)
            yield self.text((self.middle + 20.0 * self.u, y), self.say(f"likely.{kind}.cue"), SECOND, "text", face=NARROW_BOLD, name="cue")

    def _under(self) -> Iterator[Shape]:
        """Where this rod must end, and how far it should be: nothing here is pressed."""
        page, say, p, u = self.page, self.say, self.page.lit, self.u
        assert p is not None
        passing = page.passing
        n = self._rods_here() + 1
        state, rods = say(f"weld.state.{passing.state}"), p.rod_count if page.half is None else page.half.rods
        yield from self._row(-0.25, say("weld.rod_of", n=str(n), of=str(max(rods, n))), state, primary=False)
        end = page.marks_mm[n - 1] if n - 1 < len(page.marks_mm) else None
        if end is not None:
            yield from self._row(0.9, say("weld.end_at"), say.units.text("long_length", end), say.units.unit("long_length"))
        elif page.marks_mm:
            yield from self._row(0.9, say("weld.end_at"), say("weld.the_end"))
        else:
            yield from self._row(0.9, say("weld.mark"), say.units.text("long_length", page.asked_mm), say.units.unit("long_length"))
        rod_s, gone = p.rod.burn_time_s(p.amps), passing.arc_now_s(page.now_s)
        x0, x1, y = self.middle + 20.0 * u, page.width - self.edge, self.row_y(1.98)
        yield Rect((x0, y - 46.0 * u, x1, y + 46.0 * u), "pause", "rule")
        share = min(gone / max(rod_s, 1e-6), 1.0)
        yield Rect((x0, y - 46.0 * u, x0 + share * (x1 - x0), y + 46.0 * u), "bead.lit", "", "pacer")
        seconds = say("weld.seconds_of", now=f"{gone:.0f}", whole=f"{rod_s:.0f}")
        yield self.text((x0, self.row_y(2.7)), seconds, SECOND, "text", face=NARROW_BOLD, name="seconds")
        if passing.state != ARC:
            left = say("weld.left", left=Figure(round(100 * page.left), "percent"))
            yield self.text((x0, self.row_y(3.3)), left, SECOND, "soft", face=NARROW, name="left")
        elif page.volts is None or page.amps is None:
            yield self.text((x1, self.row_y(2.7)), f"{say.sized('current', p.amps)}", SECOND, "soft", "end", NARROW_BOLD)
        else:
            seen = f"{say.sized('voltage', page.volts)}   {say.sized('current', page.amps)}"
            yield self.text((x1, self.row_y(2.7)), seen, SECOND, "text", "end", NARROW_BOLD, "seen")
            if page.rod_end_mm is not None:
                low, high = page.rod_end_mm
                must = say("weld.rod_end", window=say.window(low, high, "long_length"))
                yield self.fitted((x0, self.row_y(3.3)), must, SECOND, x1 - x0, "soft", NARROW, "rod end")

    def _looks(self) -> Iterator[Shape]:
        """Five tiles, each tapped no, yes or where."""
        page, u = self.page, self.u
        x0, x1, top = self.middle + 20.0 * u, page.width - self.edge, self.body_top - 30.0 * u
        yield self.text((x0, top - 26.0 * u), self.say("weld.look_at_it"), SECOND, "soft", face=NARROW)
        high = (top - 76.0 * u - (self.temp_top + 100.0 * u)) / len(LOOKS)
        for i, key in enumerate(LOOKS):
            y1 = top - 70.0 * u - i * high
            box = (x0, y1 - high + 10.0 * u, x1, y1)
            self.boxes[f"look:{key}"] = box
            lit, on = i == page.at_look, key in page.looked
            yield Rect(box, "pause", "handle" if lit else "rule", f"look:{key}")
            middle = (box[1] + box[3]) / 2
            yield self.text((x0 + 24.0 * u, middle), self.say(f"weld.look.{key}"), SECOND, "text", face=BOLD)
            said = self.say("weld.yes" if on else "weld.no")
            bad = on and key in ("undercut", "pores", "low")
            yield self.text((x1 - 24.0 * u, middle), said, SECOND, "outside" if bad else "limit" if on else "soft", "end", BOLD)

    def _depth(self) -> Iterator[Shape]:
        """How deep it still is: set by the arrows from what is expected."""
        say, page = self.say, self.page
        at = say("weld.depth") if page.place_mm is None else say("weld.depth.at", place=Figure(page.place_mm, "long_length"))
        yield from self._row(0.6, at, say.units.text("fine_length", page.depth_mm), say.units.unit("fine_length"))
        y = self.row_y(1.75)
        yield self.text((self.middle + 20.0 * self.u, y), say("weld.depth.how"), 50.0, "soft", face=NARROW)

    # --- strips ---------------------------------------------------------------------------------
    def temperature(self) -> Iterator[Shape]:
        """The last temperature against its limits; that none is known is said."""
        page, say, u, y = self.page, self.say, self.u, self.temp_top - 48.0 * self.u
        yield Lines((((self.edge, self.temp_top), (page.width - self.edge, self.temp_top)),), "rule")
        passing = page.passing
        yield self.text((self.edge, y), say("weld.temperature"), SECOND, "soft", face=NARROW)
        x = self.edge + advance(say("weld.temperature"), SECOND * u, NARROW) + 30.0 * u
        known = passing.temp_c is not None
        said = say.sized("temperature", passing.temp_c) if passing.temp_c is not None else say("weld.unknown")
        yield self.text((x, y), said, SECOND, "text" if known else "outside", face=BOLD, name="temperature")
        x += advance(said, SECOND * u, BOLD) + 30.0 * u
        low, high = passing.low_c, passing.high_c
        end = page.width - self.edge
        if passing.state in (READY, COLD, HOT):
            gate = passing.state if known else "unknown"
            style = "limit" if gate == READY else "outside"
            wait = "" if known else self._wait()
            said, face = (say("weld.gate.wait", band=wait), NARROW_BOLD) if wait else (say(f"weld.gate.{gate}"), BOLD)
            yield self.text((end, y), said, SECOND, style, "end", face, "gate")
            end -= advance(said, SECOND * u, face) + 30.0 * u
        if low is not None or high is not None:
            window = say.window(low, high, "temperature")
            yield self.fitted((x, y), say("weld.of", window=window), SECOND, end - x, "soft", NARROW, "window")

    def rail(self) -> Iterator[Shape]:
        """The weld along its length with the mark of every rod; welded as far as it is."""
        page, say, u, p = self.page, self.say, self.u, self.page.lit
        y0, y1 = self.keys_top + 28.0 * u, self.keys_top + 62.0 * u
        x0, x1 = self.edge + 10.0 * u, page.width - self.edge - 10.0 * u
        yield Rect((x0, y0, x1, y1), "pause")
        yield Lines((((self.edge, y0), (page.width - self.edge, y0)),), "rail")
        if p is None:
            return
        length = p.length_mm if page.half is None else page.half.length_mm
        passing = page.passing
        marks = (*(page.marks_mm or _even(length, page.asked_mm)), length)
        n = self._rods_here() if passing.state in UNDER_HOOD else 0
        begun = marks[n - 1] if 0 < n <= len(marks) else 0.0
        ahead = marks[min(n, len(marks) - 1)] - begun
        share = min(passing.arc_now_s(page.now_s) / max(p.rod.burn_time_s(p.amps), 1e-6), 1.0) if passing.state in UNDER_HOOD else 0.0
        done = length if passing.state in (CLEAN, LOOK, DONE) else begun + share * ahead
        yield Rect((x0, y0, x0 + (x1 - x0) * min(done / length, 1.0), y1), "bead.lit", "", "done")
        for low, high in page.slow_mm:
            yield Rect((x0 + (x1 - x0) * low / length, y1, x0 + (x1 - x0) * high / length, y1 + 10.0 * u), "bead.lit", "", "slow")
        if passing.state == LOOK and page.place_mm is not None:
            yield Dot((x0 + (x1 - x0) * page.place_mm / length, (y0 + y1) / 2), 20.0 * u, "text", "", "place")
        if passing.state == ARC and page.rod_end_mm is not None:
            low, high = (begun + (0.0 if end is None and i == 0 else length if end is None else end) for i, end in enumerate(page.rod_end_mm))
            at = [x0 + (x1 - x0) * min(end / length, 1.0) for end in (low, high)]
            yield Rect((at[0], y0 - 20.0 * u, at[1], y0), "limit", "", "rod end")
        last = -1e9
        for i, t in enumerate(marks):
            x = x0 + (x1 - x0) * t / length
            yield Lines((((x, y0), (x, y1 + 12.0 * u)),), "mark", f"mark:{i}")
            if x - last > 140.0 * u:
                lit = passing.state in UNDER_HOOD and i == n
                said, face = say.units.text("long_length", t), BOLD if lit else NARROW
                inside = page.width - advance(said, RAIL_TEXT * u, face) / 2 - 0.5 * self.edge
                yield self.text((min(x, inside), y1 + 44.0 * u), said, RAIL_TEXT, "text" if lit else "soft", "middle", face)
                last = x

    def keys(self) -> Iterator[Shape]:
        """The tiles of the keys; one that means nothing now is dark."""
        page, say, u = self.page, self.say, self.u
        names = ("enter", "space", "arrows", "hold")
        wide = (page.width - 2 * self.edge - 3 * 24.0 * u) / 4
        for i, name in enumerate(names):
            x0 = self.edge + i * (wide + 24.0 * u)
            box = (x0, 14.0 * u, x0 + wide, self.keys_top - 14.0 * u)
            self.boxes[name] = box
            word = key_word(name, page.passing, bool(page.due))
            yield Rect(box, "pause" if word else "ground", "handle" if word else "rule", f"key:{name}")
            if name == "hold" and page.holding > 0:
                yield Rect((box[0], box[1], box[0] + (box[2] - box[0]) * min(page.holding, 1.0), box[3]), "bead.lit")
            middle = (box[1] + box[3]) / 2
            yield self.text((x0 + 22.0 * u, middle), say(f"weld.key.{name}"), 38.0, "soft", face=NARROW)
            if word:
                yield self.text((box[2] - 22.0 * u, middle), say(f"weld.act.{word}"), KEY_TEXT, "text", "end", BOLD, name=f"act:{name}")

    def notice(self) -> Iterator[Shape]:
        """One line over the keys, until it is seen."""
        if self.page.notice:
            style = "outside" if self.page.notice_bad else "text"
            at = (self.edge, self.rail_top + 34.0 * self.u)
            yield self.fitted(at, self.page.notice, 46.0, self.page.width - 2 * self.edge, style, NARROW_BOLD, "notice")


def key_word(key: str, passing: Passing, is_due: bool = False) -> str:
    """What a key does now (the word `weld.act.WORD`); '' for nothing. `is_due` where the work is to be turned or gouged first."""
    state = passing.state
    if key == "enter":
        if is_due and state in (READY, COLD, HOT):
            return "step_done"
        return {GAP: "done", CHANGE: "done", STOPPED: "done", CLEAN: "next", LOOK: "take", DONE: "next"}.get(state, "")
    if key == "space":
        if passing.has_meter and state not in (CLEAN, LOOK):
            return ""
        return {ARC: "arc_off", CLEAN: "tap", LOOK: "place"}.get(state, "arc" if state in (READY, COLD, HOT, *UNDER_HOOD) else "")
    if key == "arrows":
        return {GAP: "left", CHANGE: "left", STOPPED: "left", CLEAN: "choose", LOOK: "depth", READY: "other", COLD: "other", HOT: "other"}.get(state, "")
    return "undo"


def _even(length: float, each: float) -> Sequence[float]:
    """Marks at one run-out where no stops were laid."""
    if each <= 0:
        return ()
    return [each * k for k in range(1, int(length / each) + 1) if each * k < length - 1e-6]
