"""The rack: a slot for every rod of the plan in order of use, a row a kind; under it the trips to the oven on the clock.

A stub is burnt; an outline that fills from below is out, with its clock; grey is held; a dotted outline is not there yet.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence

from banister.core.care.classes import class_of
from banister.core.care.life import BAKING, HELD, MUST_BAKE, OUT, SCRAP, SEALED, USED
from banister.core.care.rack import Rack
from banister.core.care.trips import Trip, Use
from banister.core.drawing.charts.axis import TIME_STEPS_S, Axis, marks, step_for
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Drawing, Lines, Rect, Shape, Text
from banister.core.plan.plan import Pass
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

LEFT, RIGHT, HEAD, TRIP, TRIPS_HEAD, FOOT = 16.0, 16.0, 54.0, 21.0, 44.0, 8.0
TALLEST, SHORTEST, WIDEST, GAP, STUB_SHARE = 66.0, 18.0, 10.0, 0.3, 0.14
TITLE, LABELS = 20.0, 17.0


class RackView(Struct, frozen=True):
    """Size in pixels, the hour it is told for, the kind of rod that is lit up."""

    width: float
    height: float
    now_h: float
    lit: str = ""


class RackPicture(Struct, frozen=True):
    """The picture, and where the row of each kind lies (foot, top)."""

    drawing: Drawing
    rows: Mapping[str, tuple[float, float]]

    def rod_at(self, y: float) -> str | None:
        """The kind of rod at a height."""
        return next((rod for rod, (low, high) in self.rows.items() if low <= y <= high), None)


def rack_picture(passes: Sequence[Pass], rack: Rack, trips: Sequence[Trip], uses: Sequence[Use], say: Speech, view: RackView) -> RackPicture:
    """The rack for a size."""
    kinds = list(dict.fromkeys(p.rod.id for p in passes))
    under = TRIPS_HEAD + TRIP * len(trips) if trips else 0.0
    least = len(kinds) * (TITLE + SHORTEST + LABELS + 8.0)
    if view.height - HEAD - FOOT - under < least:
        trips, under = (), 0.0
    room = (view.height - HEAD - FOOT - under) / max(len(kinds), 1)
    tall = min(max(room - TITLE - LABELS - 10.0, SHORTEST), TALLEST)
    rows, shapes = dict[str, tuple[float, float]](), list[Shape]([Rect((0.0, 0.0, view.width, view.height), "ground"), *_words(rack, kinds, say, view)])
    for n, rod in enumerate(kinds):
        top = view.height - HEAD - n * room
        rows[rod] = (top - room, top)
        shapes += _row([p for p in passes if p.rod.id == rod], rack, top, tall, say, view)
    if trips:
        shapes += _trips(trips, uses, say, view, under)
    return RackPicture(Drawing(tuple(shapes), (0.0, 0.0, view.width, view.height)), rows)


def slot_states(rack: Rack, rod: str, planned: int) -> tuple[str, ...]:
    """The state of every slot of a rod in order of use: burnt ones first, then those out, held, to be baked, sealed; '' where none is there."""
    row = [state for state in (USED, OUT, HELD, BAKING, MUST_BAKE, SEALED) for _ in range(rack.count(rod, state))]
    return tuple(row[:planned]) + ("",) * max(planned - len(row), 0)


def _row(passes: Sequence[Pass], rack: Rack, top: float, tall: float, say: Speech, view: RackView) -> Iterator[Shape]:
    rod, planned = passes[0].rod, sum(p.rod_count for p in passes)
    name = say.figure(Figure(rod.id, "rod"))
    if rod.id == view.lit:
        yield Rect((6.0, top - TITLE - tall - LABELS - 4, view.width - 6.0, top + 1), "", "handle", f"lit:{rod.id}")
    yield Text((LEFT, top - 10), name, "text", 14.0, "start", face=BOLD)
    spare = rack.count(rod.id, HELD, OUT, SEALED, MUST_BAKE, BAKING) + rack.count(rod.id, USED) - planned
    also = [say(f"care_class.{class_of(rod).key}"), *([say("rack.spare", n=spare)] if spare > 0 else [say("rack.short", n=-spare)] if spare < 0 else [])]
    if scrap := rack.count(rod.id, SCRAP):
        also.append(say("rack.scrap", n=scrap))
    yield Text((view.width - RIGHT, top - 10), ", ".join(also), "outside" if spare < 0 and rack.stocks else "soft", 12.0, "end", face=NARROW)
    shelf = top - TITLE - tall
    slot = min((view.width - LEFT - RIGHT - GAP * WIDEST * len(passes)) / planned, WIDEST * (1 + GAP))
    states, x, i = slot_states(rack, rod.id, planned), LEFT, 0
    out = sorted((life.clock_h(view.now_h) for stock in rack.of(rod.id) for life in stock.lives if life.state == OUT), reverse=True)
    open_h = class_of(rod).open_h
    for p in passes:
        first = x
        for _ in range(p.rod_count):
            clock = out[states[:i].count(OUT)] / open_h if states[i] == OUT else 0.0
            yield from _slot(states[i], (x, shelf, x + slot * (1 - GAP), shelf + tall), clock, f"{rod.id}:{i + 1}")
            x, i = x + slot, i + 1
        yield Text(((first + x - slot * GAP) / 2, shelf - 10), pass_label(p), "soft", 11.5, face=NARROW)
        x += GAP * WIDEST
    yield Lines((((LEFT - 4, shelf), (x, shelf)),), "rail", f"shelf:{rod.id}")


def _slot(state: str, box: tuple[float, float, float, float], clock: float, name: str) -> Iterator[Shape]:
    """One rod: its length stands for what is left of it, its filling for the clock."""
    x0, y0, x1, y1 = box
    if state == USED:
        yield Rect((x0, y0, x1, y0 + STUB_SHARE * (y1 - y0)), "pause", "soft", f"{name}:used")
    elif state == OUT:
        late = clock > 1.0
        yield Rect((x0, y0, x1, y0 + min(clock, 1.0) * (y1 - y0)), "late" if late else "warm.5", "", f"{name}:clock")
        yield Rect(box, "", "late" if late else "mark", f"{name}:out")
    elif state in (HELD, SEALED):
        yield Rect(box, "plate" if state == HELD else "later", "plate.edge", f"{name}:{state}")
    elif state in (MUST_BAKE, BAKING):
        yield Rect(box, "later", "outside", f"{name}:{state}")
        yield Lines((((x0, y0), (x1, y1)),), "outside")
    else:
        edges = list(itertools.pairwise(((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0))))
        yield Lines(tuple(edges), "rule", f"{name}:missing")


def _words(rack: Rack, kinds: Sequence[str], say: Speech, view: RackView) -> Iterator[Shape]:
    """How many are out and for how long, largest."""
    out = [(stock.longest_h(view.now_h), stock) for stock in rack.stocks if stock.count(OUT)]
    clocked = [(hours, stock) for hours, stock in out if stock.care.clocked]
    n = sum(rack.count(rod, OUT) for rod in kinds)
    late = rack.remarks(view.now_h)
    if late:
        head = say.sentence(late[0])
    elif not rack.stocks:
        head = say("rack.none")
    elif not n:
        head = say("rack.in")
    elif clocked:
        hours, stock = max(clocked, key=lambda pair: pair[0] / pair[1].care.open_h)
        head = say("rack.out.clock", n=n, clock=Figure(3600.0 * hours, "duration"), most=Figure(3600.0 * stock.care.open_h, "duration"))
    else:
        head = say("rack.out", n=n)
    yield Text((LEFT, view.height - 17), head, "outside" if late else "text", 17.0, "start", face=BOLD, id="head")
    yield Text((LEFT, view.height - 38), say("rack.key"), "soft", 12.0, "start", face=NARROW)


def _trips(trips: Sequence[Trip], uses: Sequence[Use], say: Speech, view: RackView, top: float) -> Iterator[Shape]:
    """A bar a trip: from when it is fetched to when its last rod is burnt, on the clock of the schedule."""
    end = max(use.end_s for use in uses)
    along = Axis(0.0, end, LEFT + 120.0, view.width - RIGHT - 10.0)
    longest = max(max(uses[i].end_s for i in trip.uses) - trip.at_s for trip in trips)
    yield Text((LEFT, top - 12), say("rack.trips", n=len(trips), longest=Figure(longest, "duration")), "text", 13.0, "start", face=NARROW_BOLD)
    for n, trip in enumerate(trips):
        y, last = top - 22.0 - TRIP * (n + 1), max(uses[i].end_s for i in trip.uses)
        yield Text((LEFT, y + 7), say("rack.trip", number=str(n + 1), n=len(trip.uses)), "text", 12.0, "start", face=NARROW)
        yield Rect((along.at(trip.at_s), y, along.at(last), y + 13), "warm.4", "soft", f"trip:{n + 1}")
        yield Lines((((along.at(trip.at_s), y - 3), (along.at(trip.at_s), y + 16)),), "mark")
    foot = FOOT + 12.0
    yield Lines((((along.start, foot), (along.end, foot)),), "soft")
    for at in marks(along, step_for(along, TIME_STEPS_S, 60.0)):
        yield Text((along.at(at), foot - 9), say.figure(Figure(at, "clock")), "soft", 11.0, face=NARROW)
