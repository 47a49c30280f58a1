"""The course of a joint: its issued plan followed through every pass that was welded, in the order of the journal.

A pass that was planned on the way has its key from the plan before it; so the plan after so many passes is a function of
the issued plan and of what is known of those passes alone, and the journal read again gives the same.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from banister.core.follow.factor import Own
from banister.core.follow.facts import Learnt, PassFacts, Told, learnt
from banister.core.follow.rest import Followed, followed
from banister.core.journal import Record
from banister.core.plan.answers import Study
from banister.core.plan.identity import highest
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
    _last: tuple[Plan, Mapping[str, float], int, Followed] | None = None
    """The plan, areas, the highest number ever used and what follows of them that was worked out last: a flag makes another course of the same metal."""

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
            now, known = self._known[hands, done[: n + 1]] = self._next(now, done[: n + 1], facts.hands)
        return now, known

    def _next(self, now: Followed, done: tuple[PassFacts, ...], hands: Mapping[str, Own]) -> Stand:
        """The plan after one more pass; worked out once more where that leaves a welded one without a name in it."""
        keys = [one.key for one in done]
        used = max(self.last_key, highest(keys))
        for _ in keys:
            taken = _taken(keys, now)
            names = dict(taken)
            told_so_far = Told({(key := names.get(one.key, one.key)): replace(one, key=key) for one in done}, hands=hands)
            known = learnt(told_so_far, now.plan, self.sides)
            now = self._up_to(now.plan, known.areas_mm2, taken, used)
            if _taken(keys, now) == taken:
                break
        return now, known

    def _up_to(self, plan: Plan, areas_mm2: Mapping[str, float], taken: tuple[tuple[str, str], ...], used: int) -> Followed:
        """What follows of a plan. What was welded ahead of its turn comes next as soon as nothing is left before it: then it lies, and is not lit again."""
        now = self._followed(plan, areas_mm2, used)
        while now.rest and now.rest[0].key in areas_mm2:
            further = self._followed(now.plan, areas_mm2, used)
            if len(further.welded) <= len(now.welded):
                break
            now = further
        return replace(now, taken_as=taken)

    def _followed(self, plan: Plan, areas_mm2: Mapping[str, float], used: int) -> Followed:
        if self._last is None or self._last[0] is not plan or self._last[1:3] != (areas_mm2, used):
            self._last = plan, areas_mm2, used, followed(self.study, plan, areas_mm2, used, self._lying)
        return self._last[3]

    def after(self, facts: Told) -> Stand:
        """The plan as it stands after every pass that is welded, those ahead of their turn too, against the one that was issued; and what was learnt."""
        now, known = self.stand(facts)
        names, here = dict(now.taken_as), {p.key for p in now.plan.passes}
        ended = [names.get(key, key) for key in facts.ended]
        return _against(replace(now, welded=(*now.welded, *(key for key in ended if key in here and key not in now.welded))), self.plan), known


def _taken(done: Sequence[str], now: Followed) -> tuple[tuple[str, str], ...]:
    """What is taken as what once these passes are welded: one that the plan does not know is the next in order that is not.

    So with one that another version planned, and with one that was welded ahead of its turn and is in no plan since. Metal that lies
    there must never be welded once more because its name is lost.
    """
    taken, known, given = dict(now.taken_as), {p.key for p in now.plan.passes}, set[str]()
    for n, key in enumerate(done):
        name = taken.get(key, key)
        if name not in known or name in given:
            later = {taken.get(other, other) for other in done[n + 1 :]}
            name = next((p.key for p in now.rest if p.key not in given | later), name)
        if name != key:
            taken[key] = name
        given.add(name)
    return tuple(taken.items())


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
