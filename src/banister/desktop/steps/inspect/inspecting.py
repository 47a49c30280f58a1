"""The inspection of the shown joint in the window: what its journal tells, judged by the set that is looked through; read when it is first wanted."""

from __future__ import annotations

from typing import TYPE_CHECKING

from banister.core.value import Struct

if TYPE_CHECKING:
    from collections.abc import Mapping

    from banister.core.fitup.places import Course
    from banister.core.inspect.judged import Judgement, Weld
    from banister.core.inspect.kinds import Kind
    from banister.core.inspect.observed import Inspected, Observation
    from banister.core.inspect.sets import AcceptanceSet
    from banister.desktop.snapshot import Snapshot


class Inspection(Struct, frozen=True):
    """A joint's inspection as it is shown: what was found, the weld, its course, kinds and sets there are; and the judgement, None without a set."""

    found: Inspected
    weld: Weld
    course: Course
    kinds: Mapping[str, Kind]
    sets: Mapping[str, AcceptanceSet]
    judgement: Judgement

    def seen(self, number: int) -> Observation | None:
        """An observation by its number."""
        return next((one for one in self.found.seen if one.id == number), None)


def gone_said(now: Snapshot, number: int) -> str:
    """Why an observation is not of the shown joint: it is of another, or was taken back."""
    record = next((one for one in now.standing if one.n == number), None)
    if record is None or now.joint is None or record.j == now.joint.id:
        return now.say("inspect.gone")
    return now.say("inspect.elsewhere", n=str(number), joint=record.j)


class Inspecting:
    """Keeps the inspection that was last asked for."""

    def __init__(self) -> None:
        self._key: tuple[object, ...] = ()
        self._last: Inspection | None = None

    def of(self, now: Snapshot) -> Inspection | None:
        """The inspection of the shown joint; None without a joint."""
        if now.joint is None or now.job is None:
            return None
        key = (now.joint, now.plan, now.records, now.view.inspect_set, now.view.inspect_guarded)
        if len(self._key) != len(key) or any(a is not b for a, b in zip(key, self._key, strict=True)):
            self._key, self._last = key, self._made(now)
        return self._last

    def _made(self, now: Snapshot) -> Inspection:
        from banister.core.fitup.places import course_of
        from banister.core.inspect.judged import AS_READ, GUARDED, Rules
        from banister.core.inspect.observed import inspected
        from banister.core.inspect.of_joint import judged_joint, weld_of
        from banister.core.inspect.sets import AcceptanceSet
        from banister.job.acceptance import acceptance_sets, kinds

        joint = now.joint
        assert joint is not None
        plan = now.welded_plan
        found = inspected(now.standing, joint.id)
        sets = acceptance_sets()
        by = sets.get(now.view.inspect_set or joint.working.choices.acceptance) or AcceptanceSet(id="", title=now.say("inspect.no_set"))
        rules = Rules(near=GUARDED if now.view.inspect_guarded else AS_READ)
        return Inspection(found, weld_of(joint, plan), course_of(joint), kinds(), sets, judged_joint(joint, plan, found, by, rules))
