"""The right half of the page at the joint: the figures that matter now."""

from __future__ import annotations

from collections.abc import Iterator

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.weld_page import LOOKS, PRIMARY, SECOND, UNDER_HOOD, Page, PagePart
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Rect, Shape
from banister.core.follow.between import TURN
from banister.core.joint.joint import Joint
from banister.core.passing import ARC, CLEAN, COLD, HOT, LOOK
from banister.core.remark import Figure
from banister.core.words import Speech


class WeldFigures(PagePart):
    """Before the arc what to set, under it where the rod must end, after it the look."""

    def __init__(self, joint: Joint, page: Page, say: Speech) -> None:
        super().__init__(joint, page, say)
        self.pitch = min(128.0 * self.u, (self.body_top - self.temp_top - 112.0 * self.u) / 3.6)
        """From row to row: closer where a notice takes room."""

    def shapes(self) -> Iterator[Shape]:
        """What matters as the pass stands."""
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

    def row_y(self, n: float) -> float:
        """Height of the n-th row."""
        return self.body_top - 76.0 * self.u - self.pitch * n

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
            wait = self.wait()
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
        n = self.rods_here() + 1
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
        high = (top - 70.0 * u - (self.temp_top + 14.0 * u)) / len(LOOKS)
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
