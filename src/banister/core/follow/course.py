"""The course of a joint: its issued plan followed through every pass that was welded, in the order of the journal.

A pass that was planned on the way has its key from the plan before it; so the plan after so many passes is a function of
the issued plan and of what is known of those passes alone, and the journal read again gives the same.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from banister.core.follow.factor import Own
from banister.core.follow.facts import Learnt, PassFacts, Told, learnt
from banister.core.follow.rest import Followed, followed
from banister.core.journal import Record
from banister.core.plan.answers import Study
from banister.core.plan.one_side import Lying
from banister.core.plan.plan import Plan
from banister.core.plan.sides import Side
from banister.core.value import replace

Course = tuple[tuple[tuple[str, Own], ...], tuple[PassFacts, ...]]
"""What a followed plan hangs on beside the issued one: figures of the welder gone by, and the passes welded, in order."""
Stand = tuple[Followed, Learnt]
"""Where a course has come to: the plan as it stands, what was learnt."""


def course_of(facts: Told) -> Course:
    """The course of a joint by what is told of it."""
    return tuple(sorted(facts.hands.items(), key=lambda item: item[0])), tuple(facts.passes[key] for key in facts.ended)


@dataclass(slots=True)
class Follower:
    """Follows one issued plan; what was worked out for the same facts is kept."""

    study: Study
    plan: Plan
    last_key: int = 0
    _known: dict[Course, Stand] = field(default_factory=dict)
    _lying: Lying = field(default_factory=dict)
    _last: tuple[Plan, Mapping[str, float], Followed] | None = None
    """The plan, areas and what follows of them that was worked out last: a flag makes another course of the same metal."""

    @property
    def sides(self) -> Mapping[str, Side]:
        """The sides of the joint by their name."""
        return {one.side.name: one.side for one in self.study.sides}

    def known(self, facts: Told) -> tuple[Course, Stand] | None:
        """The longest part of a course that was followed already; None where none was."""
        hands, done = course_of(facts)
        courses = ((hands, done[:n]) for n in range(len(done), 0, -1))
        return next(((course, self._known[course]) for course in courses if course in self._known), None)

    def take(self, course: Course, stand: Stand) -> None:
        """What another follower of the same plan came to."""
        self._known[course] = stand

    def stand(self, facts: Told) -> Stand:
        """The plan after every pass that is welded, its differences against the plan before the last of them; and what was learnt."""
        hands, done = course_of(facts)
        found = self.known(facts)
        now, known = (Followed(self.plan, ()), Learnt({}, dict(facts.hands))) if found is None else found[1]
        for n in range(0 if found is None else len(found[0][1]), len(done)):
            taken = _taken(done[n].key, now)
            names = dict(taken)
            told_so_far = Told({(key := names.get(one.key, one.key)): replace(one, key=key) for one in done[: n + 1]}, hands=facts.hands)
            known = learnt(told_so_far, now.plan, self.sides)
            now = replace(self._followed(now.plan, known.areas_mm2), taken_as=taken)
            self._known[hands, done[: n + 1]] = now, known
        return now, known

    def _followed(self, plan: Plan, areas_mm2: Mapping[str, float]) -> Followed:
        if self._last is None or self._last[0] is not plan or self._last[1] != areas_mm2:
            self._last = plan, areas_mm2, followed(self.study, plan, areas_mm2, self.last_key, self._lying)
        return self._last[2]

    def after(self, facts: Told) -> Stand:
        """The plan as it stands after every pass that is welded, against the one that was issued; and what was learnt."""
        now, known = self.stand(facts)
        return _against(now, self.plan), known


def _taken(key: str, now: Followed) -> tuple[tuple[str, str], ...]:
    """What is taken as what once a pass is welded: one that the plan does not know, as when another version planned it, is the next in order.

    Metal that lies there must never be welded once more because its name is lost.
    """
    is_known = any(p.key == key for p in now.plan.passes) and key not in now.welded
    return now.taken_as if is_known or not now.rest else (*now.taken_as, (key, now.rest[0].key))


def as_taken(records: Iterable[Record], joint: str, now: Followed) -> tuple[Record, ...]:
    """Records of a joint under the names of the plan as it follows: those it does not know under what they are taken as."""
    names = dict(now.taken_as)
    return tuple(replace(r, p=names[r.p]) if r.j == joint and r.p in names else r for r in records)


def _against(now: Followed, issued: Plan) -> Followed:
    """The differences told against the plan that was issued, not the one before."""
    ahead, planned = ([p for p in one.passes if p.key not in now.welded] for one in (now.plan, issued))
    left = len(issued.passes) - len(now.welded)
    rods = sum(p.rod_count for p in ahead) - sum(p.rod_count for p in planned[max(len(planned) - left, 0) :])
    more_s = now.plan.total_time_s - issued.total_time_s
    return Followed(now.plan, now.welded, len(now.plan.passes) - len(issued.passes), rods, more_s, now.taken_as)
