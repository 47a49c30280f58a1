"""The continuity book: marks over several jobs, each welder's days gathered from journals, states on a day."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, datetime

from banister.core.job import Job
from banister.core.journal import Record
from banister.core.limits.continuity import Continuity, Used, continuity
from banister.core.limits.procedure import Welder, is_day
from banister.core.value import Struct

CONFIRMED = "confirmed"


class Read(Struct, frozen=True):
    """A job with what its journal tells (after corrections); `name` is the file's."""

    name: str
    job: Job
    records: tuple[Record, ...] = ()


class Mark(Struct, frozen=True):
    """A welder's mark with a process by a family: its document, the days it was used, its state, and the jobs whose documents disagree."""

    welder: Welder
    used: tuple[Used, ...]
    state: Continuity
    jobs: tuple[str, ...]
    others: tuple[str, ...] = ()
    """Jobs that hold another document under the same mark."""


def book_of(read: Sequence[Read], today: date) -> tuple[Mark, ...]:
    """Every mark of every job, those that end soonest first; two documents under one mark are both shown."""
    found: dict[tuple[str, str, str, str, str], list[str]] = {}
    documents: dict[tuple[str, str, str, str, str], Welder] = {}
    for one in read:
        for welder in one.job.welders:
            key = (welder.mark, welder.process, welder.family, welder.tested_on, welder.retest)
            found.setdefault(key, []).append(one.name)
            documents[key] = welder
    marks = []
    for key, jobs in found.items():
        welder = documents[key]
        used = tuple(sorted(_used(read, welder), key=lambda u: (u.on, u.job, u.joint)))
        others = tuple(sorted({name for other, names in found.items() if other != key and other[:3] == key[:3] for name in names}))
        tested = date.fromisoformat(welder.tested_on) if is_day(welder.tested_on) else None
        days = (*used, *((Used(date.fromisoformat(welder.last_used)),) if is_day(welder.last_used) else ()))
        marks.append(Mark(welder, used, continuity(tested, days, today, welder.family, welder.retest), tuple(jobs), others))
    return tuple(sorted(marks, key=lambda mark: (mark.state.until or date.max, mark.welder.mark, mark.welder.process)))


def _used(read: Iterable[Read], welder: Welder) -> Iterable[Used]:
    """Days a mark welded by the journals, each day of a joint once, and days a coordinator confirmed it."""
    seen: dict[tuple[date, str, str], bool] = {}
    for one in read:
        by_joint = {joint.id: joint.welder for joint in one.job.joints}
        for r in one.records:
            on = datetime.fromisoformat(r.at or r.t).date()
            if r.k == "pass-ended" and not r.d.get("simulated") and (r.d.get("by") or by_joint.get(r.j)) == welder.mark:
                seen.setdefault((on, one.name, r.j), False)
            elif r.k == CONFIRMED and r.d.get("mark") == welder.mark and r.d.get("process", welder.process) == welder.process:
                seen[on, one.name, r.j] = True
    return [Used(on, job, joint, confirmed) for (on, job, joint), confirmed in seen.items()]
