"""Joints under way: what of an issued joint is welded by its journal, and what is left of it to do."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from banister.core.follow.between import stretches_left
from banister.core.follow.course import Course, Follower, Stand, as_taken
from banister.core.follow.facts import Learnt, Told, told
from banister.core.follow.rest import Followed
from banister.core.journal import Record
from banister.core.plan.answers import Study, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod
from banister.core.sheet import Sheet
from banister.core.value import Struct, replace


class Welded(Struct, frozen=True):
    """What was welded of an issued joint: its records under the names of the plan that follows, what they tell, that plan, what was learnt."""

    records: tuple[Record, ...]
    told: Told
    now: Followed
    known: Learnt


def as_issued(sheet: Sheet, rods: Iterable[Rod]) -> tuple[Rod, ...]:
    """The rods of a job, those of an issued sheet as they were then: what becomes of their figures later leaves the course of the joint as it is."""
    return tuple(({rod.id: rod for rod in rods} | {rod.id: rod for rod in sheet.rods}).values())


def follower_of(sheet: Sheet, rods: Iterable[Rod]) -> Follower | None:
    """What follows an issued plan, `rods` being those of the job; None where its joint cannot be planned any more."""
    study = study_of(inputs_of(sheet.joint, as_issued(sheet, rods)))
    return Follower(study, sheet.plan, sheet.last_key) if isinstance(study, Study) else None


def welded_of(sheet: Sheet, rods: Mapping[str, Rod], records: Iterable[Record]) -> Welded | None:
    """What was welded of an issued joint by its records (after corrections); None where nothing was begun."""
    own = tuple(records)
    facts = told(own, sheet.joint.id)
    follower = follower_of(sheet, rods.values()) if facts.passes else None
    return None if follower is None else welded_by(follower, own, sheet.joint.id, facts)


def welded_by(follower: Follower, records: Iterable[Record], joint: str, facts: Told) -> Welded:
    """What was welded by a follower that knows the plan after these facts, or works it out."""
    now, known = follower.after(facts)
    taken = as_taken(records, joint, now)
    return Welded(taken, told(taken, joint) if now.taken_as else facts, now, known)


def followed_to(sheet: Sheet, rods: Mapping[str, Rod], facts: Told, known: tuple[Course, Stand] | None) -> Stand:
    """Where the course of an issued plan has come to, on from the part of it that is known; ValueError where its joint cannot be planned any more."""
    follower = follower_of(sheet, rods.values())
    if follower is None:
        raise ValueError(f"the joint {sheet.joint.id} cannot be planned any more")
    if known is not None:
        follower.take(*known)
    return follower.stand(facts)


def left_of(welded: Welded) -> Plan:
    """The plan of what is left: passes not welded, and what is to be done to the work before them and is not told as done."""
    phases = [phase for before, stretch in stretches_left(welded.now.plan, welded.told) for phase in (*before, stretch)]
    return replace(welded.now.plan, passes=welded.now.rest, sequence=tuple(phases))
