"""What the user lays down for the board: when the shift begins and ends, breaks, who is kept how, how many welders."""

from __future__ import annotations

import math

from banister.core.remark import Figure, Refused, Remark, fault, outside
from banister.core.typed import typed_clock_s
from banister.core.value import Struct, replace
from banister.core.words import Speech

DAY_S = 86400.0
LONGEST_SHIFT_S, LONGEST_PAUSE_S = 16 * 3600.0, 8 * 3600.0
FREE, IN_ONE_GO, AS_DRAWN, LEFT_OUT, HALVES = "free", "one_go", "drawn", "out", "halves"
WAYS = (FREE, IN_ONE_GO, HALVES, AS_DRAWN, LEFT_OUT)
"""How a joint is kept on the board; each is the word `way.KEY`."""
MOST_WELDERS = 2
LONGEST_LEAVING_S = 3600.0


class Pause(Struct, frozen=True, kw_only=True):
    """A time of day in which nobody welds, s from midnight."""

    from_s: float
    to_s: float


class Shift(Struct, frozen=True, kw_only=True):
    """A shift and its rules. Times of day in s from midnight, past midnight where they read less than its start; joints by id.

    A joint in `in_one_go` is, once begun, welded to its end before its welder takes another; a fixed pipe in `halves` likewise,
    by both welders at once, a half each. `order` is
    a drawn board, a joint per pass in the order they are begun; a joint `as_drawn` keeps its places in it.
    Unless `root_alone`, no root is left before the pass after it is welded (a usual shop rule: an open root
    is thin, and cracks if it is left to cool or is moved). A welder leaves a joint that is not done only where each
    leaving saves at least `leaving_s` (shop figure: the way over and the leads).
    """

    begins_s: float = 7 * 3600.0
    until_s: float | None = None
    pauses: tuple[Pause, ...] = ()
    welders: int = 1
    root_alone: bool = False
    leaving_s: float = 20.0
    left_out: tuple[str, ...] = ()
    in_one_go: tuple[str, ...] = ()
    halves: tuple[str, ...] = ()
    as_drawn: tuple[str, ...] = ()
    order: tuple[str, ...] = ()

    @property
    def lasts_s(self) -> float:
        """Seconds from the start of the shift to its end, inf where it has none."""
        return math.inf if self.until_s is None else _later(self.begins_s, self.until_s) - self.begins_s

    @property
    def breaks_s(self) -> tuple[tuple[float, float], ...]:
        """The breaks in seconds from the start of the shift, in order."""
        found = []
        for pause in self.pauses:
            end = _later(self.begins_s, pause.to_s) - self.begins_s
            found.append((end - (_later(pause.from_s, pause.to_s) - pause.from_s), end))
        return tuple(sorted(found))

    def clock(self, seconds: float, say: Speech) -> str:
        """The time of day, s after the start of the shift."""
        return say.time_of_day(self.begins_s + seconds) if math.isfinite(seconds) else say("time.never")

    def kept_as(self, joint_id: str) -> str:
        """How a joint is kept."""
        ways = ((LEFT_OUT, self.left_out), (IN_ONE_GO, self.in_one_go), (HALVES, self.halves), (AS_DRAWN, self.as_drawn))
        return next((word for word, ids in ways if joint_id in ids), FREE)

    def shares(self, joint_id: str) -> bool:
        """True where two welders weld a half of a joint each."""
        return self.welders > 1 and joint_id in self.halves

    def keeping(self, joint_id: str, way: str) -> Shift:
        """The shift with a joint kept another way."""

        def ids(word: str, before: tuple[str, ...]) -> tuple[str, ...]:
            others = tuple(i for i in before if i != joint_id)
            return (*others, joint_id) if way == word else others

        return replace(self, left_out=ids(LEFT_OUT, self.left_out), in_one_go=ids(IN_ONE_GO, self.in_one_go), halves=ids(HALVES, self.halves),
                       as_drawn=ids(AS_DRAWN, self.as_drawn))  # fmt: skip

    def after_pauses(self, at_s: float, seconds: float) -> float:
        """The first time from `at_s` on (s from the shift's start) at which a stretch of work meets no break."""
        for begin, end in self.breaks_s:
            if at_s < end and at_s + seconds > begin:
                at_s = end
        return at_s


def _later(before_s: float, time_s: float) -> float:
    """A time of day that follows another: the next day's where it reads no more."""
    return time_s if time_s > before_s else time_s + DAY_S


def shift_faults(shift: Shift) -> tuple[Remark, ...]:
    """What cannot be, each with its field."""
    found = []
    times = [t for t in (shift.begins_s, shift.until_s, *(t for p in shift.pauses for t in (p.from_s, p.to_s))) if t is not None]
    if any(not math.isfinite(t) or not 0 <= t < DAY_S for t in times):
        return (fault("shift.time", "begins_s"),)
    if shift.until_s is not None and shift.lasts_s > LONGEST_SHIFT_S:
        found.append(fault("shift.long", "until_s", lasts=Figure(shift.lasts_s, "duration")))
    if any(end - begin > LONGEST_PAUSE_S for begin, end in shift.breaks_s):
        found.append(fault("shift.break", "pauses", most=Figure(LONGEST_PAUSE_S, "duration")))
    if not 1 <= shift.welders <= MOST_WELDERS:
        found.append(fault("shift.welders", "welders", most=Figure(MOST_WELDERS, "count")))
    if not 0 <= shift.leaving_s <= LONGEST_LEAVING_S:
        found.append(fault("shift.leaving", "leaving_s", most=Figure(LONGEST_LEAVING_S, "seconds")))
    return tuple(found)


def typed_pause(text: str) -> Pause:
    """A break like 12:00..12:30; Refused says how it should read."""
    begin, dots, end = text.partition("..")
    if not dots:
        raise Refused(outside("typed.pause", text=Figure(text[:40], "name")))
    return Pause(from_s=typed_clock_s(begin), to_s=typed_clock_s(end))


def typed_pauses(text: str) -> tuple[Pause, ...]:
    """Breaks one after the other, parted by commas or spaces."""
    return tuple(typed_pause(part) for part in text.replace(",", " ").split())
