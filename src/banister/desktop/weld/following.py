"""Following in the window: the issued sheet of the shown joint, and its plan as it stands after what was welded.

What was welded is followed beside the window, pass by pass: of a joint of a hundred passes that takes seconds. What follows is read
when a joint is first issued: the first window does without.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from banister.desktop.errands import HEAT, Errand, Runs

if TYPE_CHECKING:
    from banister.core.follow.course import Follower, Stand
    from banister.core.follow.facts import Told
    from banister.core.rods.rod import Rod
    from banister.core.sheet import Sheet
    from banister.core.under_way import Welded
    from banister.desktop.snapshot import Snapshot

FOLLOW = "follow"
MOST_KEPT = 4


class Following:
    """Keeps the followers of the sheets that were asked for last: going to and fro between joints works nothing out again."""

    def __init__(self, errands: Runs, arrived: Callable[[], None]) -> None:
        self._errands, self._arrived = errands, arrived
        self._of: dict[str, tuple[Sheet, tuple[Rod, ...], Follower]] = {}
        """By joint, the one that was asked for last at the end."""
        self._last: tuple[tuple[object, ...], Welded] | None = None
        self._asked: tuple[object, object] | None = None
        """Records and sheet that are being followed, or were when it was stopped or failed."""
        self._is_under_way = False
        self._wish: Callable[[], object] | None = None
        self.arrival: Stand | None = None
        """What came last from beside the window."""

    def follower(self, now: Snapshot) -> Follower | None:
        """The follower of the joint's issued sheet; None where nothing is issued, or it cannot be planned any more."""
        from banister.core.under_way import as_issued, follower_of

        sheet, job = now.issued, now.job
        if sheet is None or job is None:
            return None
        known, rods = self._of.pop(sheet.joint.id, None), as_issued(sheet, job.rods)
        if known is None or known[0] is not sheet or known[1] != rods:
            found = follower_of(sheet, rods)
            if found is None:
                return None
            known = sheet, rods, found
            if len(self._of) >= MOST_KEPT:
                del self._of[next(iter(self._of))]
        self._of[sheet.joint.id] = known
        return known[2]

    def welded(self, now: Snapshot) -> Welded | None:
        """What was welded of the shown joint; None where nothing is issued, nothing was begun, or it is still being followed."""
        if now.job is None or now.joint is None or now.issued is None:
            return None
        of = now.records, now.issued, now.job.rods
        if self._last is not None and all(a is b for a, b in zip(self._last[0], of, strict=True)):
            return self._last[1]
        if self.is_behind(now):
            return None
        facts = now.told
        follower = None if facts is None else self.follower(now)
        if facts is None or follower is None:
            self._asked = None
        elif self._is_followed(follower, facts) or self._ask(now, follower, facts):
            from banister.core.under_way import welded_by

            found = welded_by(follower, now.standing, now.joint.id, facts)
            self._last, self._asked = (of, found), None
            return found
        return None

    def is_behind(self, now: Snapshot) -> bool:
        """True while what was welded of the shown joint is being followed; and where that was stopped, or failed."""
        return self._asked is not None and self._asked[0] is now.records and self._asked[1] is now.issued

    def is_stopped(self, now: Snapshot) -> bool:
        """True where it is behind and nothing more comes: it was stopped, or failed."""
        return self.is_behind(now) and not self._is_under_way

    def when_followed(self, now: Snapshot, then: Callable[[], object]) -> None:
        """Do something as soon as what was welded is known, asked for once more where that was stopped; a later wish or another entry takes its place."""
        self._wish = None
        self.ask_again(now)
        if self.welded(now) is None and self.is_behind(now):
            self._wish = then
        else:
            then()

    def ask_again(self, now: Snapshot) -> None:
        """Ask once more for what was stopped or failed."""
        if self.is_stopped(now):
            self._asked = None
            self.welded(now)

    def stopped(self) -> None:
        """Nothing more comes of what was asked for."""
        self._is_under_way = False

    # --- beside the window --------------------------------------------------------------------
    def _is_followed(self, follower: Follower, facts: Told) -> bool:
        known = follower.known(facts)
        return len(facts.ended) == (0 if known is None else len(known[0][1]))

    def _ask(self, now: Snapshot, follower: Follower, facts: Told) -> bool:
        """Have it followed beside the window; True where it is there at once."""
        from banister.core.follow.course import course_of
        from banister.core.under_way import followed_to

        sheet, job = now.issued, now.job
        if sheet is None or job is None:
            return False
        asked = self._asked = (now.records, sheet)
        self._is_under_way, self._wish = True, None

        def arrived(stand: Stand) -> None:
            follower.take(course_of(facts), stand)
            if self._asked is asked:
                self._asked, self.arrival, wish = None, stand, self._wish
                self._arrived()
                if wish is not None:
                    wish()

        def failed(_: str) -> None:
            self.stopped()
            self._arrived()

        request = (sheet, job.rods_by_id, facts, follower.known(facts))
        self._errands.run(Errand(HEAT, FOLLOW, FOLLOW, followed_to, request, arrived, failed=failed))
        return self._is_followed(follower, facts)
