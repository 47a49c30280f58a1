"""The foot of the page at the joint: the temperature against its limits, the weld along its length, a line of notice, the keys."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.weld_page import KEY_TEXT, RAIL_TEXT, SECOND, UNDER_HOOD, PagePart
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, Dot, Lines, Rect, Shape
from banister.core.passing import ARC, CHANGE, CLEAN, COLD, DONE, GAP, HOT, LOOK, READY, STOPPED, Passing


class WeldFoot(PagePart):
    """What stands over the whole width."""

    def shapes(self) -> Iterator[Shape]:
        """Temperature, rail, keys, notice."""
        yield from self._temperature()
        yield from self._rail()
        yield from self._keys()
        yield from self._notice()

    def _temperature(self) -> Iterator[Shape]:
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
            wait = "" if known else self.wait()
            said, face = (say("weld.gate.wait", band=wait), NARROW_BOLD) if wait else (say(f"weld.gate.{gate}"), BOLD)
            yield self.text((end, y), said, SECOND, style, "end", face, "gate")
            end -= advance(said, SECOND * u, face) + 30.0 * u
        if low is not None or high is not None:
            window = say.window(low, high, "temperature")
            yield self.fitted((x, y), say("weld.of", window=window), SECOND, end - x, "soft", NARROW, "window")

    def _rail(self) -> Iterator[Shape]:
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
        n = self.rods_here() if passing.state in UNDER_HOOD else 0
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

    def _keys(self) -> Iterator[Shape]:
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

    def _notice(self) -> Iterator[Shape]:
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
