"""The one judge: everything of a plan that is held against a limit, for every view, sheet and command alike."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from banister.core.heat.preheat import OwnCell
from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.judge.cap import judged_cap
from banister.core.judge.coverage import covered
from banister.core.judge.passes import judged_pass
from banister.core.judge.temperatures import asked_by_methods, judged_heat
from banister.core.limits.procedure import Procedure, Welder
from banister.core.limits.qualification import QualificationRows
from banister.core.plan.notes import plan_remarks
from banister.core.plan.plan import Plan
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, WATCH, Figure, Remark
from banister.core.value import Struct, field

ALL_SIDES = (INSIDE, OUTSIDE, NOT_JUDGED)


class Documents(Struct, frozen=True):
    """What a joint is held against beside its own windows: the procedure, the welder, rules of ranges, the user's own preheat cells, today."""

    procedure: Procedure | None = None
    welder: Welder | None = None
    rows: QualificationRows = field(default_factory=QualificationRows)
    own_cells: tuple[OwnCell, ...] = ()
    today: date | None = None


class Judgement(Struct, frozen=True):
    """All remarks of the judge, in a fixed order; `is_whole` is false while heat is not computed."""

    remarks: tuple[Remark, ...] = ()
    is_whole: bool = False

    def of(self, verdict: str) -> tuple[Remark, ...]:
        """The remarks that came to a verdict."""
        return tuple(r for r in self.remarks if r.verdict == verdict)

    def count(self, verdict: str) -> int:
        """How many remarks came to a verdict."""
        return sum(r.verdict == verdict for r in self.remarks)

    @property
    def counts(self) -> dict[str, int]:
        """How much is inside, outside and not judged."""
        return {verdict: self.count(verdict) for verdict in ALL_SIDES}

    @property
    def passes_outside(self) -> frozenset[str]:
        """Keys of the passes with something outside."""
        return frozenset(key for r in self.remarks if r.verdict == OUTSIDE for key in r.place.passes)

    @property
    def worst(self) -> str:
        """Outside if anything is, else not judged if anything is (or nothing was held), else inside."""
        if self.count(OUTSIDE):
            return OUTSIDE
        return NOT_JUDGED if self.count(NOT_JUDGED) or not self.count(INSIDE) else INSIDE

    @property
    def coverage(self) -> tuple[Remark, ...]:
        """What procedure and welder document say, line by line."""
        return tuple(r for r in self.remarks if r.code.startswith("cover."))

    @property
    def to_watch(self) -> tuple[Remark, ...]:
        """What is worth knowing, or outside, of the plan and its heat; no line of a document."""
        return tuple(r for r in self.remarks if r.verdict in (WATCH, OUTSIDE) and not r.code.startswith("cover."))


def judged(joint: Joint, plan: Plan, schedule: Schedule | None, documents: Documents) -> Judgement:
    """Everything that is held against a limit, and everything worth knowing beside it.

    Without a schedule preheat, interpass and t8/5 are not judged. A plan that is not possible is outside
    by its reasons.
    """
    return Judgement(tuple(_remarks(joint, plan, schedule, documents)), schedule is not None)


def _remarks(joint: Joint, plan: Plan, schedule: Schedule | None, documents: Documents) -> Iterator[Remark]:
    yield from plan.reasons
    if not plan.passes:
        return
    for p in plan.passes:
        yield from judged_pass(joint, p)
    yield from judged_heat(joint, plan, schedule)
    if plan.cap is not None:
        yield from judged_cap(joint, plan.cap)
    yield from covered(joint, plan, documents.procedure, documents.welder, documents.rows, documents.today)
    if joint.procedure and documents.procedure is None:
        yield Remark("cover.no_document", NOT_JUDGED, {"procedure": Figure(joint.procedure, "name")})
    yield from plan_remarks(plan)
    yield from asked_by_methods(joint, plan, documents.own_cells)
