"""The handrail: every pass a baluster, its height heat between the limits, its width arc time; on the clock the temperature above."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import TIME_STEPS_S, Axis, marks, round_step, step_for
from banister.core.drawing.hatch import hatched
from banister.core.drawing.section import HATCHES, pass_label
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Band, Box, Clip, Dot, Drawing, Lines, Polygon, Rect, Shape, Text
from banister.core.heat.line import HeatLine
from banister.core.heat.schedule import Started
from banister.core.joint.joint import Joint
from banister.core.judge.judgement import Judgement
from banister.core.judge.passes import basis_k, energy_window, pass_value
from banister.core.limits.windows import Bounds
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import before_s, pause_s
from banister.core.remark import OUTSIDE, Figure
from banister.core.units import clock
from banister.core.value import Struct, field
from banister.core.words import Speech

LEFT, RIGHT, HEAD, FOOT = 64.0, 20.0, 44.0, 38.0
NARROWEST, WIDEST = 26.0, 160.0
LONG_WAIT_S, WORDS_INSIDE = 60.0, 23.0
HATCH_SPACING = 5.0
TEMPERATURE_SHARE = 0.42
COLDER_K, HOTTER_K = 10.0, 15.0
DOT, NOTCH_FROM = 3.4, 8.0
AT_START, FALLEN = ("heat.interpass", "heat.interpass.cold", "heat.preheat.over"), ("heat.preheat", "heat.preheat.warmer")
"""What is judged of a pass as it starts, and of how cold the joint gets before the arc has been there."""


class RailView(Struct, frozen=True):
    """What is looked at: the size in pixels, even steps or true time, how far zoomed and moved, and the pass selected."""

    width: float
    height: float
    on_clock: bool = False
    zoom: float = 1.0
    offset: float = 0.0
    selected: str = ""


class Post(Struct, frozen=True):
    """A baluster, or a folded layer, from x0 to x1."""

    x0: float
    x1: float
    passes: tuple[Pass, ...]

    @property
    def middle(self) -> float:
        """Where its name stands."""
        return (self.x0 + self.x1) / 2


class RailChart(Struct, frozen=True):
    """The rail as shapes, its posts for the hand, and the time along it (None with even steps)."""

    drawing: Drawing
    posts: tuple[Post, ...] = ()
    time: Axis | None = None
    temperature_box: Box = field(default=(0.0, 0.0, 0.0, 0.0))


def rail(joint: Joint, plan: Plan | None, heat: HeatLine | None, judgement: Judgement | None, say: Speech, view: RailView) -> RailChart:
    """The rail of a plan, with its heat where that is computed."""
    box = (0.0, 0.0, view.width, view.height)
    ground = Rect(box, "ground")
    if plan is None or not plan.feasible:
        words = Text((view.width / 2, view.height / 2), say("rail.none"), "soft", 13.0)
        return RailChart(Drawing((ground, _base_line(view), words), box))
    chart = _Chart(joint, plan, heat, judgement, say, view)
    return RailChart(Drawing((ground, *chart.shapes()), box), chart.posts, chart.time, chart.temperature_box)


def _base_line(view: RailView) -> Lines:
    return Lines((((LEFT - 8, FOOT), (view.width - RIGHT + 8, FOOT)),), "rail")


class _Chart:
    """One rail being drawn."""

    def __init__(self, joint: Joint, plan: Plan, heat: HeatLine | None, judgement: Judgement | None, say: Speech, view: RailView) -> None:
        self.joint, self.plan, self.say, self.view = joint, plan, say, view
        self.heat = heat if view.on_clock and heat is not None and heat.schedule.feasible else None
        self.why_even = "steps" if not view.on_clock else "uncomputed" if heat is None else "no_schedule"
        self.outside = judgement.passes_outside if judgement is not None else frozenset[str]()
        self.begun = {s.key: s for s in self.heat.schedule.passes} if self.heat is not None else dict[str, Started]()
        self.judged_outside = {(r.code, key) for r in (judgement.of(OUTSIDE) if judgement is not None else ())
                               if r.code.startswith("heat.") for key in r.place.passes}  # fmt: skip
        self.room = view.width - LEFT - RIGHT
        total = plan.total_time_s if self.heat is None else self.heat.schedule.end_s
        self.total_s = total
        start = LEFT - view.offset
        self.time = Axis(0.0, max(total, 1.0), start, start + self.room * view.zoom) if view.on_clock else None
        self.posts = self._posts()
        self.quantity = self._quantity()
        top = view.height - HEAD - (self._temperature_height if self.heat is not None else 0.0)
        self.energy = Axis(*self._span(), FOOT + 10.0, top)
        temp_top = view.height - HEAD + 12.0
        self.temperature_box = (LEFT - 2, temp_top - self._temperature_height, view.width, temp_top)

    @property
    def _temperature_height(self) -> float:
        return max(40.0, TEMPERATURE_SHARE * (self.view.height - HEAD - FOOT))

    def shapes(self) -> Iterator[Shape]:
        """Everything, back to front."""
        clip = (LEFT - 2, 0.0, self.view.width, self.view.height)
        inner: list[Shape] = [shape for post in self.posts for shape in self._limits(post)]
        inner += [shape for post in self.posts for shape in self._post(post)]
        inner += [*self._turns(), *self._gaps()]
        yield Clip(clip, tuple(inner))
        if self.heat is not None:
            yield Clip(clip, tuple(self._temperature(self.heat)))
            yield from self._temperature_axis(self.heat)
        yield from self._energy_axis()
        yield _base_line(self.view)
        yield from self._foot()
        if self.time is not None and self.view.zoom > 1.01:
            yield from self._overview()

    # --- posts --------------------------------------------------------------------------------
    def _posts(self) -> tuple[Post, ...]:
        if self.time is not None:
            return self._in_time(self.time)
        return self._in_steps()

    def _in_steps(self) -> tuple[Post, ...]:
        """Even pitch; where passes do not fit, all layers but the selected one fold to one post."""
        passes = self.plan.passes
        if self.room / len(passes) >= NARROWEST:
            groups: list[tuple[Pass, ...]] = [(p,) for p in passes]
        else:
            opened = next((p.layer for p in passes if p.key == self.view.selected), passes[-1].layer)
            layers = [tuple(beads) for _, beads in itertools.groupby(passes, key=lambda p: p.layer)]
            groups = []
            for beads in layers:
                groups += [(p,) for p in beads] if beads[0].layer == opened else [beads]
        pitch = min(self.room / len(groups), WIDEST)
        longest = max(p.arc_time_s for p in passes)
        found = []
        for i, group in enumerate(groups):
            share = max(p.arc_time_s for p in group) / longest
            half = pitch * (0.30 + 0.45 * share if len(group) == 1 else 0.9) / 2
            middle = LEFT + (i + 0.5) * pitch
            found.append(Post(middle - half, middle + half, group))
        return tuple(found)

    def _in_time(self, time: Axis) -> tuple[Post, ...]:
        """True time; gaps are rod changes inside a pass's end, cleaning, and waits where the schedule is known."""
        if self.begun:
            return tuple(Post(time.at(self.begun[p.key].start_s), time.at(self.begun[p.key].end_s), (p,)) for p in self.plan.passes)
        choices, at, found = self.joint.working.choices, 0.0, []
        first = before_s(self.joint, choices, self.plan)
        for p in self.plan.passes:
            at += first.get(p.key, 0.0)
            found.append(Post(time.at(at), time.at(at + p.arc_time_s), (p,)))
            at += p.arc_time_s + pause_s(choices, p)
        return tuple(found)

    def _post(self, post: Post) -> Iterator[Shape]:
        p = max(post.passes, key=lambda one: pass_value(one, self.quantity))
        top = self.energy.at(pass_value(p, self.quantity))
        x0, x1 = post.x0, max(post.x1, post.x0 + 2.0)
        box = (x0, FOOT, x1, top)
        yield Rect(box, f"bead.{p.role}", "bead.edge", post.passes[0].key)
        if p.role in HATCHES:
            corners = ((x0, FOOT), (x1, FOOT), (x1, top), (x0, top))
            yield Lines(hatched(corners, HATCHES[p.role], HATCH_SPACING), f"hatch.{p.role}")
        if any(one.key in self.outside for one in post.passes):
            m = x0 + NOTCH_FROM if x1 - x0 > 5 * NOTCH_FROM else post.middle  # beside the name, not in it
            yield Lines((((m - 5, top + 2), (m, top - 8)), ((m, top - 8), (m + 5, top + 2))), "outside", f"notch:{post.passes[0].key}")
        if any(one.key == self.view.selected for one in post.passes):
            yield Rect(box, "", "select.outer")
            yield Rect(box, "", "select.inner")
        yield from self._name(post, top)

    def _name(self, post: Post, top: float) -> Iterator[Shape]:
        """The pass's name over its post, inside it where a limit runs through the words."""
        _, window = energy_window(self.joint, post.passes[0])
        lines = [self.energy.at(v) for v in (window.low, window.high) if math.isfinite(v)]
        crossed = any(top + 2 < y < top + 20 for y in lines)
        inside = crossed and top - FOOT > WORDS_INSIDE
        text = self._named(post)
        if not text:
            return
        y, half = (top - 9 if inside else top + 10), advance(text, 12.0, NARROW_BOLD) / 2 + 2
        if crossed and not inside:
            yield Rect((post.middle - half, y - 7, post.middle + half, y + 7), "ground")
        yield Text((post.middle, y), text, "number" if inside else "text", 12.0, face=NARROW_BOLD)

    def _named(self, post: Post) -> str:
        first, room = post.passes[0], self._room(post)
        if len(post.passes) > 1:
            long = self.say("rail.layer", layer=str(first.layer), n=len(post.passes))
            return long if advance(long, 12.0, NARROW_BOLD) <= room else self.say("rail.layer.short", layer=str(first.layer))
        label = pass_label(first)
        return label if self.time is None or room > 24 else label[1:] if room > 14 else ""

    def _room(self, post: Post) -> float:
        i = self.posts.index(post)
        return (self.posts[i + 1].x0 if i + 1 < len(self.posts) else post.x1 + 30) - post.x0

    # --- energy -------------------------------------------------------------------------------
    def _quantity(self) -> str:
        """Heat input where only its windows are set, else arc energy."""
        held = {q for p in self.plan.passes for q, window in (energy_window(self.joint, p),) if window.is_set}
        return "heat_input" if held == {"heat_input"} else "arc_energy"

    def _windows(self) -> list[Bounds]:
        found = (energy_window(self.joint, p) for p in self.plan.passes)
        return [window for quantity, window in found if window.is_set and quantity == self.quantity]

    def _span(self) -> tuple[float, float]:
        """From 20 % under the lowest limit or pass to 20 % over the highest."""
        values = [pass_value(p, self.quantity) for p in self.plan.passes]
        values += [v for window in self._windows() for v in (window.low, window.high) if math.isfinite(v)]
        return 0.8 * min(values), 1.2 * max(values)

    def _limits(self, post: Post) -> Iterator[Shape]:
        quantity, window = energy_window(self.joint, post.passes[0])
        if not window.is_set or quantity != self.quantity:
            return
        top, bottom = self.energy.kept(window.high), self.energy.kept(window.low)
        i = self.posts.index(post)
        left = self.posts[i - 1].x1 if i else post.x0 - 8
        right = self.posts[i + 1].x0 if i + 1 < len(self.posts) else post.x1 + 8
        x0, x1 = round((post.x0 + left) / 2), round((post.x1 + right) / 2)  # on whole pixels, or a seam shows between two of them
        yield Rect((x0, bottom, x1, top), "window", id=f"window:{post.passes[0].key}")
        for value, y in ((window.high, top), (window.low, bottom)):
            if math.isfinite(value):
                yield Lines((((x0, y), (x1, y)),), "limit")

    def _energy_axis(self) -> Iterator[Shape]:
        u, say = self.say.units, self.say
        shown = 1.0 / u.metric("energy", 1.0)
        step = round_step((self.energy.high - self.energy.low) * shown / 3) / shown
        for value in marks(self.energy, step):
            y = self.energy.at(value)
            yield Text((LEFT - 11, y), u.text("energy", value), "soft", 11.0, "end", face=NARROW)
            yield Lines((((LEFT - 8, y), (LEFT - 4, y)),), "soft")
        yield Lines((((LEFT - 12, FOOT + 4), (LEFT, FOOT + 8)), ((LEFT - 12, FOOT + 8), (LEFT, FOOT + 12))), "soft", "foot")
        used = ", ".join(dict.fromkeys(f"{basis_k(p, self.quantity):g}" for p in self.plan.passes))
        title = say(f"rail.{self.quantity}", k=used, unit=u.unit("energy"))
        state = say("rail.window" if self._windows() else "rail.no_window")
        yield Text((10, self.view.height - 13), f"{title}; {state}", "soft", 12.0, "start")

    # --- time ---------------------------------------------------------------------------------
    def _turns(self) -> Iterator[Shape]:
        """A broken upright where the work is turned, named."""
        first = {phase.passes[0] for phase in self.plan.sequence[1:] if phase.passes}
        for before, post in itertools.pairwise(self.posts):
            if any(p.key in first for p in post.passes):
                x = (before.x1 + post.x0) / 2
                yield Lines((((x, FOOT), (x, self.view.height - HEAD + 14)),), "turn")
                yield Text((x - 4, self.view.height - HEAD + 9), self.say("rail.turn"), "soft", 11.0, "end", face=NARROW)

    def _gaps(self) -> Iterator[Shape]:
        """What a gap is for beside cleaning, where there is room to say it: reheating, or a wait of a minute or more."""
        for before, post in itertools.pairwise(self.posts):
            found = self.begun.get(post.passes[0].key)
            if found is None or not (found.reheat_s > 0 or found.wait_s >= LONG_WAIT_S):
                continue
            word = self.say("rail.reheat" if found.reheat_s > 0 else "rail.wait")
            if advance(word, 11.0, NARROW) <= post.x0 - before.x1 - 2:
                yield Text(((before.x1 + post.x0) / 2, FOOT + 10), word, "warning", 11.0, face=NARROW)

    def _foot(self) -> Iterator[Shape]:
        y, say = FOOT - 27, self.say
        total = say("rail.total", n=len(self.plan.passes), lasts=Figure(self.total_s, "duration"))
        yield Text((self.view.width - RIGHT + 8, y), total, "text", 13.0, "end", face=BOLD)
        room = self.room - advance(total, 13.0, BOLD) - 8
        said = next((text for text in self._foot_words() if advance(text, 12.0) <= room), "")
        yield Text((LEFT - 8, y), said, "soft", 12.0, "start")
        if self.time is not None:
            step = step_for(self.time, TIME_STEPS_S, 70.0)
            for seconds in marks(self.time, step):
                x = self.time.at(seconds)
                if LEFT - 1 <= x <= self.view.width - 30:
                    yield Lines((((x, FOOT), (x, FOOT - 5)),), "soft")
                    yield Text((x, FOOT - 12), clock(seconds), "soft", 11.0, face=NARROW)

    def _foot_words(self) -> Sequence[str]:
        say = self.say
        if self.heat is None:
            return (say(f"rail.foot.{self.why_even}"),)
        figures = {"where": Figure(self.joint.heat.measure_at_mm, "length"), "waits": Figure(self.heat.schedule.waiting_s, "duration")}
        return tuple(say(f"rail.foot.{key}", **figures) for key in ("long", "middle", "short"))

    def _overview(self) -> Iterator[Shape]:
        y, zoom = self.view.height - 30, self.view.zoom
        yield Rect((LEFT, y, LEFT + self.room, y + 4), "rule")
        start = LEFT + self.view.offset / zoom
        yield Rect((start, y - 1, start + self.room / zoom, y + 5), "handle")

    # --- temperature --------------------------------------------------------------------------
    def _temperatures(self, heat: HeatLine) -> Axis:
        limits, readings = heat.schedule.limits, [r.temp_c for r in self.joint.readings]
        lowest = min(self.joint.heat.air_c, *heat.low, *readings, limits.preheat_c if limits.preheat_c is not None else math.inf)
        highest = max(heat.hottest_c, limits.interpass_c, *readings, *(s.temp_c for s in heat.schedule.passes))
        return Axis(lowest - COLDER_K, highest + HOTTER_K, self.temperature_box[1], self.temperature_box[3])

    def _temperature(self, heat: HeatLine) -> Iterator[Shape]:
        """The predicted line at the measuring point with its band, the limits across, where each pass starts, and what was measured."""
        time, degrees = self.time, self._temperatures(heat)
        assert time is not None

        def run(values: Sequence[float]) -> tuple[tuple[float, float], ...]:
            return tuple((time.at(t), degrees.at(v)) for t, v in zip(heat.times, values, strict=True))

        yield Band(run(heat.low), run(heat.high), "spread", "spread")
        for name, value in (("preheat", heat.schedule.limits.preheat_c), ("interpass", heat.schedule.limits.interpass_c)):
            if value is not None:
                y = degrees.at(value)
                yield Lines((((LEFT, y), (self.view.width - RIGHT, y)),), "limit", f"limit:{name}")
        yield Lines(tuple(itertools.pairwise(run(heat.likely))), "predicted", "likely")
        for started in heat.schedule.passes:
            yield from self._start(started, time, degrees)
        for r in self.joint.readings:
            x, y = time.at(r.at_s), degrees.at(r.temp_c)
            yield Lines((((x - 4, y), (x + 4, y)), ((x, y - 4), (x, y + 4))), "mark", "reading")

    def _start(self, started: Started, time: Axis, degrees: Axis) -> Iterator[Shape]:
        """The reading that is judged: a disc where a pass starts at once, a ring where it waited, a square where the joint was reheated."""
        at = (time.at(started.start_s), degrees.at(started.temp_c))
        outside = any((code, started.key) in self.judged_outside for code in AT_START)
        style, name = "outside" if outside else "mark", f"start:{started.key}"
        if started.reheat_s > 0:
            yield Rect((at[0] - DOT, at[1] - DOT, at[0] + DOT, at[1] + DOT), style, "ground", name)
        elif started.wait_s >= 1:
            yield Dot(at, DOT, "ground", style, name)
        else:
            yield Dot(at, DOT, style, "ground", name)
        if any((code, started.key) in self.judged_outside for code in FALLEN):
            x, y = time.at(started.start_s), degrees.at(min(started.preheat_point_c, started.arrival_c))
            yield Polygon(((x - 4.5, y + 4), (x + 4.5, y + 4), (x, y - 4.5)), "outside", f"cold:{started.key}")

    def _temperature_axis(self, heat: HeatLine) -> Iterator[Shape]:
        """Preheat and interpass in figures beside their lines, kept apart."""
        degrees, limits = self._temperatures(heat), heat.schedule.limits
        under = math.inf
        for value, mark in ((limits.interpass_c, "" if limits.set_ else "?"), (limits.preheat_c, "")):
            if value is None:
                continue
            y = min(degrees.at(value), under - 13)
            under = y
            yield Text((LEFT - 8, y), self.say.sized("temperature", value) + mark, "soft", 11.0, "end", face=NARROW)
