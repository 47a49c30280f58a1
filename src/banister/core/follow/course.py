"""The course of a joint: its issued plan followed through every pass that was welded, in the order of the journal.

A pass that was planned on the way has its key from the plan before it; so the plan after so many passes is a function of
the issued plan and of what is known of those passes alone, and the journal read again gives the same.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from banister.core.follow.factor import Own
from banister.core.follow.facts import Learnt, PassFacts, Told, learnt
from banister.core.follow.rest import Followed, followed
from banister.core.plan.answers import Study
from banister.core.plan.plan import Plan
from banister.core.plan.sides import Side


@dataclass(slots=True)
class Follower:
    """Follows one issued plan; what was worked out for the same facts is kept."""

    study: Study
    plan: Plan
    last_key: int = 0
    _known: dict[tuple[tuple[tuple[str, Own], ...], tuple[PassFacts, ...]], tuple[Followed, Learnt]] = field(default_factory=dict)

    @property
    def sides(self) -> Mapping[str, Side]:
        """The sides of the joint by their name."""
        return {one.side.name: one.side for one in self.study.sides}

    def after(self, facts: Told) -> tuple[Followed, Learnt]:
        """The plan as it stands after every pass that is welded, and what was learnt."""
        now, known = Followed(self.plan, ()), Learnt({}, dict(facts.hands))
        hands = tuple(sorted(facts.hands.items(), key=lambda item: item[0]))
        done: tuple[PassFacts, ...] = ()
        for key in facts.ended:
            done = (*done, facts.passes[key])
            if (hands, done) not in self._known:
                told_so_far = Told({one.key: one for one in done}, hands=facts.hands)
                learnt_now = learnt(told_so_far, now.plan, self.sides)
                self._known[hands, done] = followed(self.study, now.plan, learnt_now.areas_mm2, self.last_key), learnt_now
            now, known = self._known[hands, done]
        return _against(now, self.plan), known


def _against(now: Followed, issued: Plan) -> Followed:
    """The differences told against the plan that was issued, not the one before."""
    ahead, planned = ([p for p in one.passes if p.key not in now.welded] for one in (now.plan, issued))
    left = len(issued.passes) - len(now.welded)
    rods = sum(p.rod_count for p in ahead) - sum(p.rod_count for p in planned[max(len(planned) - left, 0) :])
    return Followed(now.plan, now.welded, len(now.plan.passes) - len(issued.passes), rods, now.plan.total_time_s - issued.total_time_s)
