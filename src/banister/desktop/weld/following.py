"""Following in the window: the issued sheet of the shown joint, and its plan as it stands after what was welded.

What follows is read when a joint is first issued: the first window does without.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from banister.core.follow.course import Follower
    from banister.core.sheet import Sheet
    from banister.core.under_way import Welded
    from banister.desktop.snapshot import Snapshot

MOST_KEPT = 4


class Following:
    """Keeps the followers of the sheets that were asked for last: going to and fro between joints works nothing out again."""

    def __init__(self) -> None:
        self._of: dict[str, tuple[Sheet, Follower]] = {}
        """By joint, the one that was asked for last at the end."""
        self._last: tuple[object, object, Welded] | None = None

    def follower(self, now: Snapshot) -> Follower | None:
        """The follower of the joint's issued sheet; None where nothing is issued, or it cannot be planned any more."""
        from banister.core.under_way import follower_of

        sheet, job = now.issued, now.job
        if sheet is None or job is None:
            return None
        known = self._of.pop(sheet.joint.id, None)
        if known is None or known[0] is not sheet:
            found = follower_of(sheet, job.rods)
            if found is None:
                return None
            known = sheet, found
            if len(self._of) >= MOST_KEPT:
                del self._of[next(iter(self._of))]
        self._of[sheet.joint.id] = known
        return known[1]

    def welded(self, now: Snapshot) -> Welded | None:
        """What was welded of the shown joint; None where nothing is issued or nothing was begun."""
        if now.joint is None or now.issued is None:
            return None
        if self._last is not None and self._last[0] is now.records and self._last[1] is now.issued:
            return self._last[2]
        from banister.core.follow.facts import told
        from banister.core.journal import corrected
        from banister.core.under_way import Welded

        facts = told(corrected(now.records).records, now.joint.id)
        follower = self.follower(now) if facts.passes else None
        if follower is None:
            return None
        found = Welded(facts, *follower.after(facts))
        self._last = (now.records, now.issued, found)
        return found
