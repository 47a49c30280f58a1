"""From an observation to its likely causes, in words: never "the cause is"."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from banister.core.fitup.places import Course
from banister.core.follow.facts import told
from banister.core.inspect.arc_there import Samples, Traces, no_traces, stretch_at
from banister.core.inspect.causes import ELSE, MOST_SAID, NAMED, Advice, CauseTable, Likely, Word, ranked
from banister.core.inspect.evidence import Welded, blamed, evidence_of, rod_there
from banister.core.inspect.observed import Observation
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.plan import Pass, Plan
from banister.core.remark import Figure
from banister.core.rods.rod import Rod
from banister.core.stops.of_plan import JointStops
from banister.core.value import Struct
from banister.core.words import Speech, capital

MOST_PASSES, MOST_WORDS = 3, 3


class RodArc(Struct, frozen=True, eq=False):
    """The recorded arc of the rod that was burnt there: its pass, its number from 1, samples (n, 3), and the stretch of it that may have laid the place."""

    of: Pass
    rod: int
    samples: Samples
    stretch: tuple[float, float]
    simulated: bool = False


class Advised(Struct, frozen=True):
    """Passes that may have made it with their shares, the evidence that is known, what that comes to, and the arc where it was recorded."""

    passes: tuple[tuple[Pass, float], ...]
    seen: Mapping[str, str]
    advice: Advice
    arc: RodArc | None = None

    @property
    def named(self) -> tuple[Likely, ...]:
        """The causes that are named, the likeliest first."""
        return tuple(likely for likely in self.advice.likely if likely.cause != ELSE)[:NAMED]


def advised(one: Observation, joint: Joint, plan: Plan, records: Sequence[Record], table: CauseTable,
            stops: JointStops | None = None, answered: Mapping[str, str] | None = None, traces: Traces = no_traces,
            rods: Mapping[str, Rod] | None = None) -> Advised | None:  # fmt: skip
    """The likely causes of an observation; None for a kind that has no causes in the table, or where no pass lies there.

    `stops` are those of its plan, where they are laid; `answered` is evidence somebody looked at and typed, by its name with its
    level: it counts before what the job tells. `traces` finds the recorded arc of a rod's record, `rods` are the job's by their id.
    """
    shares = table.shares.get(table.group_of(one.kind))
    by_key = {p.key: p for p in plan.passes}
    likely = sorted(((by_key[key], share) for key, share in blamed(one, joint, plan).items()), key=lambda pair: -pair[1])
    if shares is None or not likely:
        return None
    welded = Welded(told(records, joint.id).passes, records, stops, traces, rods or {})
    seen = {**evidence_of(one, likely[0][0], joint, plan, welded), **(answered or {})}
    return Advised(tuple(likely[:MOST_PASSES]), seen, ranked(table, shares, seen), _arc(one, likely[0][0], joint, welded))


def _arc(one: Observation, p: Pass, joint: Joint, welded: Welded) -> RodArc | None:
    there = rod_there(one, p, joint, welded)
    record = None if there is None else there[2]
    samples = None if record is None else welded.traces(record)
    if there is None or record is None or samples is None:
        return None
    return RodArc(p, there[0] + 1, samples, stretch_at(there[1], p.run_out_mm), bool(record.d.get("simulated")))


def advised_said(found: Advised, one: Observation, course: Course, say: Speech) -> list[str]:
    """What it comes to, in lines."""
    head = say("advise.head", kind=capital(say(f"defect.{one.kind}")), at=course.figure(one.s_mm))
    passes = ", ".join(say("advise.pass", number=str(p.number), share=Figure(round(100 * share), "percent")) for p, share in found.passes)
    lines = [head, say("advise.passes", passes=passes)]
    first = found.named
    for likely in first:
        lines += _cause_said(likely, say)
    if found.advice.alike:
        lines.append(say(f"advise.alike.{found.advice.alike}"))
    if not any(likely.speaks_for or likely.against for likely in first):
        lines.append(say("advise.bare"))
    if found.advice.unknown:
        lines.append(say("advise.unknown", what=", ".join(say(f"evidence.{one_}") for one_ in found.advice.unknown)))
    next_ = found.advice.next_look
    lines.append(say("advise.next", what=say(f"evidence.{next_}")) if next_ else say("advise.enough"))
    lines.append(say("advise.caution"))
    return lines


def chance_said(chance: float, say: Speech) -> str:
    """A chance in words: none over nine in ten is printed as a figure."""
    return say("advise.most") if chance > MOST_SAID else say("advise.chance", chance=Figure(round(100 * chance), "percent"))


def word_said(word: Word, say: Speech) -> str:
    """One piece of evidence and by what factor it speaks."""
    return say("advise.word", what=say(f"evidence.{word.evidence}"), level=say(f"level.{word.level}"), factor=f"{word.factor:.2g}")


def _cause_said(likely: Likely, say: Speech) -> Iterator[str]:
    parts = [part for part in (_words(likely.speaks_for, "advise.for", say), _words(likely.against, "advise.against", say)) if part]
    yield f"{chance_said(likely.chance, say)}: {say(f'cause.{likely.cause}')}" + "".join(f"; {part}" for part in parts)
    yield f"    {say(f'cause.{likely.cause}.next_pass')} {say(f'cause.{likely.cause}.next_joint')}"


def _words(words: Sequence[Word], key: str, say: Speech) -> str:
    said = [word_said(w, say) for w in words[:MOST_WORDS]]
    return say(key, words=", ".join(said)) if said else ""
