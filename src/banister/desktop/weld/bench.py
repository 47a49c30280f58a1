"""What stands behind the page at the joint: events become states and records, records become facts, facts the plan that is left."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import datetime
from typing import Any, Protocol

from banister.core.arc.amiss import DRIFT
from banister.core.follow.between import due
from banister.core.follow.course import Follower
from banister.core.follow.cues import cue_of
from banister.core.follow.facts import DEEPER_MM, NOTHING_TOLD, Deviation, Learnt, Telling, is_possible_depth
from banister.core.follow.look import asks_depth, expected_depth_mm, over_uneven
from banister.core.follow.marks import Along
from banister.core.follow.metered import Left, left_by_pass, left_by_rod
from banister.core.follow.rest import Followed, followed_said
from banister.core.follow.stopped import marks_recorded
from banister.core.guide.of_pass import Guide, guide_of
from banister.core.guide.said import worth_knowing
from banister.core.heat.countdown import Countdown
from banister.core.heat.thermal import Limits
from banister.core.joint.joint import Joint
from banister.core.journal import Record, corrected
from banister.core.passing import (
    ARC,
    BEFORE,
    BEGIN,
    CHANGE,
    CLEAN,
    DONE,
    ENTER,
    GAP,
    IDLE,
    LOOK,
    OTHER,
    STEP,
    STOPPED,
    TEMP,
    TICK,
    UNDER,
    Entry,
    Event,
    Passing,
    after,
)  # fmt: skip
from banister.core.plan.plan import PLANNER_VERSION, Pass
from banister.core.remark import Figure
from banister.core.stops.of_plan import JointStops
from banister.core.under_way import welded_by
from banister.core.value import replace
from banister.core.words import Speech
from banister.desktop.weld.look import Look, place_mm
from banister.desktop.weld.warm import Warm

LEFT_STEP, LEAST_LEFT = 0.1, 0.05
SHIFT_S = 8 * 3600.0
"""Without an arc for so long it is another shift."""


def _age_s(record: Record) -> float:
    """How long ago a record was written, by the wall's clock."""
    return datetime.now().timestamp() - datetime.fromisoformat(record.t).timestamp()


class Writer(Protocol):
    """Keeps records; None where one could not be kept."""

    def write(self, kind: str, joint: str = "", key: str = "", /, **data: Any) -> Record | None:
        """One record, on disk when this returns."""

    def void(self, number: int, why: str) -> Record | None:
        """An entry counts no more."""


class Bench:
    """Welds one joint: takes events, writes records, knows what is left."""

    def __init__(self, joint: Joint, follower: Follower, limits: Limits | None, writer: Writer, records: Callable[[], tuple[Record, ...]],
                 clock: Callable[[], float], say: Speech, simulated: bool = False) -> None:  # fmt: skip
        self.joint, self.follower, self.limits, self.writer, self._records, self.clock, self.say = joint, follower, limits, writer, records, clock, say
        self.simulated = simulated
        """True from when a simulator welds or tells: every record says so from then on."""
        self.passing = Passing()
        self.stops: JointStops | None = None
        """Where the rods of the plan end; None until they are laid."""
        self.rod_figures: Callable[[], dict[str, Any]] = dict
        """What a meter knows of the rod that is kept next."""
        self.notice, self.notice_bad, self.left, self.look = "", False, 0.0, Look()
        self._past: list[tuple[Passing, int]] = []
        """States before each event that wrote something, with how many records there were."""
        self._seen: tuple[Record, ...] | None = None
        self._standing: tuple[Record, ...] = ()
        """The records as they stand after corrections."""
        self._told_at = 0.0
        """When the last record was written, by this clock."""
        self._telling, self._warm = Telling(joint.id), Warm(joint, follower.plan, limits)
        self.facts, self.now, self.known = NOTHING_TOLD, Followed(follower.plan, ()), Learnt({}, {})
        self.read()
        self.resume()

    # --- what is known -----------------------------------------------------------------------
    def read(self) -> None:
        """Fold the journal where it has grown."""
        records = self._records()
        if records is not self._seen:
            self._told_at = self.clock() - (_age_s(records[-1]) if self._seen is None and records else 0.0)
            standing = corrected(records).records
            welded = welded_by(self.follower, standing, self.joint.id, self._telling.of(standing))
            self._seen, self._standing, self.facts, self.now, self.known = records, welded.records, welded.told, welded.now, welded.known
            if self.passing.state in BEFORE and all(p.key != self.passing.key for p in self.now.rest):
                self.begin_next()  # an entry that was taken back elsewhere made another plan

    @property
    def _last(self) -> Record | None:
        return self._seen[-1] if self._seen else None

    @property
    def lit(self) -> Pass | None:
        """The pass in hand; None when all are welded."""
        return next((p for p in self.now.plan.passes if p.key == self.passing.key), None)

    @property
    def due(self) -> tuple[str, ...]:
        """What is to be done to the work before the pass in hand: turn it, gouge."""
        return due(self.now.plan, self.facts, self.passing.key) if self.passing.state in BEFORE else ()

    @property
    def open_deviations(self) -> tuple[Deviation, ...]:
        """Deviations nobody disposed of yet."""
        return self.facts.open

    def asked_mm2(self, p: Pass) -> float:
        """The area that is asked of a pass: its own, or what makes up for the welder's hand once that is sure."""
        low, high = p.area_window
        return min(max(self.known.of(p.rod.id).asked(p.area_mm2), min(low, p.area_mm2)), max(high, p.area_mm2))

    def stops_for(self, p: Pass) -> JointStops | None:
        """The stops of the plan while they hold for a pass: it is as it was planned, and its hand is asked for nothing else."""
        planned = next((q for q in self.follower.plan.passes if q.key == p.key), None)
        as_planned = planned is not None and math.isclose(planned.area_mm2, p.area_mm2, rel_tol=0.03)
        return self.stops if as_planned and math.isclose(self.asked_mark_mm(p), p.run_out_mm, rel_tol=0.02) else None

    def asked_mark_mm(self, p: Pass) -> float:
        """The run-out that makes the area asked."""
        return p.rod.run_out_mm(self.asked_mm2(p))

    def guide(self) -> Guide | None:
        """The guidance of the pass in hand."""
        p = self.lit
        flags = [flag for facts in self.facts.passes.values() for flag in facts.flags]
        return None if p is None else guide_of(self.joint, self.now.plan, p, flags)

    def temperature(self) -> tuple[float, float] | None:
        """The last temperature that was read and its age, s; None where it is too old or none was."""
        return self._warm.temperature(self._standing, self._last, self.clock() - self._told_at)

    def ready_in(self) -> Countdown | None:
        """When the joint is down to its interpass limit, its times as seconds from now; None where no limit is set, or nothing is welded."""
        return self._warm.ready_in(self._standing, self._last, self.clock() - self._told_at, self.facts.passes, self.now.plan)

    # --- what happens ------------------------------------------------------------------------
    def resume(self) -> None:
        """Where the journal left off: a pass that was begun and not ended is stopped, else the next one waits."""
        begun = [key for key, facts in self.facts.passes.items() if facts.arc_s and not facts.is_ended]
        opened = begun or [key for key, facts in self.facts.passes.items() if facts.rod and not facts.is_ended]
        if opened and any(p.key == opened[-1] for p in self.now.plan.passes):
            facts = self.facts.passes[opened[-1]]
            now = self.clock()
            self._begin(opened[-1])
            arc_s, arcs = facts.in_hand or (0.0, 0)
            self.passing = replace(self.passing, state=STOPPED, rods=len(facts.arc_s), off_since=now, arc_s=arc_s, arcs=arcs)
        else:
            self.begin_next()

    def begin_next(self) -> None:
        """The next pass that is not welded."""
        rest = self.now.rest
        if rest:
            self._begin(rest[0].key)
        else:
            self.passing = Passing(has_meter=self.passing.has_meter, state=IDLE)

    def _begin(self, key: str) -> None:
        limits, read = self.limits, self.temperature()
        data = {"id": key, "low": None if limits is None else limits.preheat_c, "high": None if limits is None else limits.interpass_c,
                "temp": None if read is None else read[0]}  # fmt: skip
        self.passing, _ = after(replace(self.passing, state=IDLE), Event(name=BEGIN, t=self.clock(), data=data))
        self.left, self.look = 0.0, Look()

    def happens(self, name: str, data: Any = None, at: float | None = None) -> bool:
        """An event, now or at a time of the clock: False where something was to be kept and could not be, which leaves all as it was."""
        before, count = self.passing, len(self._records())
        if name == TICK and before.state in (GAP, CHANGE):
            self.passing, _ = after(before, Event(name=TICK, t=self.clock()))
            if before.state == GAP and self.passing.state == CHANGE:
                self._tell_restart()
            return True
        state, entries = after(before, Event(name=name, t=self.clock() if at is None else at, data=data))
        for entry in entries:
            if not self._kept(entry, state):
                self.tell(self.say("weld.not_kept"), bad=True)
                return False
        self.passing = state
        if entries:
            self._past.append((before, count))
        self.read()
        if entries and self.notice_bad:
            self.tell("")
        if before.state == ARC and state.state != ARC:
            self._arc_went_out()
        return True

    def tell(self, text: str, bad: bool = False) -> None:
        """One line over the keys."""
        self.notice, self.notice_bad = text, bad

    def tell_likely(self) -> None:
        """What is worth knowing of this pass, one thing after the other.

        It stands until the next thing is told; under the arc nobody reads.
        """
        worth = self._worth_knowing()
        if worth and self.passing.state != ARC:
            self.tell(worth[(worth.index(self.notice) + 1) % len(worth)] if self.notice in worth else worth[0])

    def _worth_knowing(self) -> list[str]:
        guide, p = self.guide(), self.lit
        return [] if guide is None or p is None else worth_knowing(guide, p, self.joint.prep.open_root, self.passing.state in UNDER, self.say)

    def _tell_restart(self) -> None:
        """A rod is changed: how the next one is struck, unless something else waits to be read."""
        worth = self._worth_knowing()
        if worth and (not self.notice or self.notice in (*worth, self.say("weld.caution"))):
            self.tell(worth[0])

    @property
    def cue(self) -> str:
        """The remedy that was carried to this pass from a likely cause; '' for none."""
        cause = cue_of(corrected(self._records()).records, self.joint.id)
        return self.say(f"cause.{cause}.next_pass") if f"cause.{cause}.next_pass" in self.say.words else ""

    def tell_caution(self) -> None:
        """At the start of a shift, once: what can hurt before the first arc."""
        if not any(r.k in ("rod", "pass-begun") and 0 <= _age_s(r) < SHIFT_S for r in self._records()):
            self.tell(self.say("weld.caution"))

    def noticed(self, kind: str, value: float) -> None:
        """The meter saw something amiss: it is said, with what to do, and kept."""
        self.writer.write("note", self.joint.id, self.passing.key, text=f"arc {kind}", value=round(value, 3), **self._mark())
        word = "drift_up" if kind == DRIFT and value > 0 else kind
        share = Figure(round(100 * abs(value)), "percent")
        self.tell(self.say(f"weld.arc.{word}", share=share, amps=Figure(value, "current")), bad=True)

    def _mark(self) -> dict[str, Any]:
        return {"simulated": True} if self.simulated else {}

    def _kept(self, entry: Entry, state: Passing) -> bool:
        data = dict(entry.data) | self._mark()
        if entry.kind == "correct":
            begun = next((r.n for r in reversed(self._records()) if r.k == "pass-begun" and r.j == self.joint.id), None)
            return begun is None or self.writer.write("correct", of=begun, why="other pass", set={"p": entry.of_pass}) is not None
        if entry.kind == "pass-begun":
            p = next((q for q in self.now.plan.passes if q.key == entry.of_pass), None)
            if p is not None:
                data |= {"rod": p.rod.id, "amps": p.amps, "area": round(self.asked_mm2(p), 2), "planner": PLANNER_VERSION}
                data |= {"stops": marks} if (marks := marks_recorded(self.stops_for(p), p.key)) else {}
        if entry.kind == "rod":
            data |= self.rod_figures()
        if self.writer.write(entry.kind, self.joint.id, entry.of_pass, **data) is None:
            return False
        left = self._rule_left(entry, data)
        return left is None or self._deviation(entry.of_pass, left)

    def _rule_left(self, entry: Entry, data: dict[str, Any]) -> Left | None:
        """A rule that what was just kept has left: the current of a rod, the energy of a pass."""
        p = next((q for q in self.now.plan.passes if q.key == entry.of_pass), None)
        if p is not None and entry.kind == "rod" and "a" in data:
            return left_by_rod(self.joint, p, data["a"])
        if p is not None and entry.kind == "pass-ended":
            kj = self._telling.of(corrected(self._records()).records).passes[entry.of_pass].energy_kj
            return None if kj is None else left_by_pass(self.joint, p, kj)
        return None

    def _deviation(self, key: str, left: Left) -> bool:
        figures = {"rule": left.rule, "value": round(left.value, 3), "sd": round(left.sd, 3), "limit": left.limit}
        return self.writer.write("deviation", self.joint.id, key, **figures, **self._mark()) is not None

    # --- keys --------------------------------------------------------------------------------
    def enter(self) -> None:
        """Pass done, clean, look, next: whatever Enter means now."""
        state = self.passing.state
        if state in (GAP, CHANGE, STOPPED):
            if self.happens(ENTER, round(self.left, 2)):
                self.look = Look({"slag"})
        elif state == CLEAN:
            if self.happens(ENTER, dict.fromkeys(sorted(self.look.tapped), True)):
                self._flag_what_was_seen()
                self.look.expect(self._expected_depth_mm())
                p = self.lit
                if p is None or not asks_depth(self.now, p, self.known, "low" in self.look.tapped):
                    self.happens(ENTER, None)
                    self._told_and_next()
        elif state == LOOK:
            expected = self._expected_depth_mm()
            if any(not is_possible_depth(depth, expected) for depth in self.look.all_mm):
                self.tell(self.say("weld.depth.refused", most=Figure(expected + DEEPER_MM, "fine_length")), bad=True)
            elif self.happens(ENTER, self.look.measured(0.0 if self.lit is None else self.lit.length_mm)):
                self._told_and_next()
        elif state == DONE:
            self._told_and_next()
        elif self.due:
            self.happens(STEP, self.due[0])

    def _flag_what_was_seen(self) -> None:
        for kind in ("undercut", "pores", "low"):
            if kind in self.look.tapped:
                self.happens("flag", {"kind": kind})

    def _told_and_next(self) -> None:
        """One line of what the pass changed, and the next one lights up."""
        p = self.lit
        ratio = 1.0 if p is None else self.known.of(p.rod.id).ratio
        self.tell(followed_said(self.now, ratio, len(self.now.welded), self.say))
        if self.known.suspect:
            self.tell(self.say("weld.suspect"), bad=True)
        self.begin_next()
        along = self.along()
        if along is not None and along.slow_mm and not self.notice_bad:
            low, high = along.slow_mm[0]
            self.tell(self.say("weld.slow", low=Figure(low, "long_length"), high=Figure(high, "long_length")))

    def _expected_depth_mm(self) -> float:
        """How deep it should still be; nought where all is welded."""
        p = self.lit
        return 0.0 if p is None else expected_depth_mm(self.now, p, self.known, self.follower.sides[p.side])

    def arrow(self, way: int) -> None:
        """Left and right: another pass, the part left of the rod, the tile, the depth."""
        state = self.passing.state
        if state in (GAP, CHANGE, STOPPED):
            self.left = min(max(round(self.left + way * LEFT_STEP, 2), 0.0), 0.9)
        elif state == CLEAN:
            self.look.next_tile(way)
        elif state == LOOK:
            self.look.deeper(way)
        elif state in ("ready", "cold", "hot"):
            keys = [p.key for p in self.now.rest]
            if self.passing.key in keys:
                at = keys.index(self.passing.key) + way
                if 0 <= at < len(keys):
                    self.happens(OTHER, keys[at])

    # --- along the weld ----------------------------------------------------------------------
    @property
    def place_mm(self) -> float | None:
        """Where the place is whose own depth is set, from the start of the weld; None for the whole of it."""
        return place_mm(self.look.place, self.lit.length_mm) if self.lit is not None and self.look.place else None

    def next_place(self) -> None:
        """Another place along the weld; round a pipe in halves there is but the whole."""
        if self.joint.runs == 1:
            self.look.next_place()

    def along(self) -> Along | None:
        """How the lit pass is laid over the layer under it where that was found uneven."""
        p = self.lit
        return None if p is None else over_uneven(self.now, p, self.facts.passes, self.asked_mm2(p))

    def _arc_went_out(self) -> None:
        """The part left of the rod as its time tells it, to be mended by the arrows."""
        p = self.lit
        if p is not None:
            left = 1.0 - self.passing.arc_s / max(p.rod.burn_time_s(p.amps), 1e-6)
            self.left = round(min(max(left, 0.0), 0.9), 1) if left > LEAST_LEFT else 0.0

    def undo(self) -> None:
        """The last thing that was kept counts no more, and all is as it was before it."""
        if not self._past:
            return
        before, count = self._past.pop()
        for record in reversed(self._records()[count:]):
            if record.k not in ("correct", "session", "clock", "begun"):
                self.writer.void(record.n, self.say("rack.void.why"))
        self.passing = before
        self.read()
        self.tell(self.say("weld.undone"))

    def temp(self, read: float | dict[str, Any]) -> None:
        """A temperature was read: degC, or with its probe and what an infrared one is set to."""
        self.happens(TEMP, read)
