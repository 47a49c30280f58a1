"""What a plan has to say, gathered: one note per kind of remark, with the passes it is about."""

from __future__ import annotations

from collections.abc import Iterable

from banister.core.plan.plan import Pass, Plan
from banister.core.remark import OUTSIDE, Figure, Remark
from banister.core.value import Struct
from banister.core.words import Speech, stopped


class Note(Struct, frozen=True):
    """Remarks of one kind: the worst speaks for all, `passes` are the numbers of the passes concerned, `worst` of that one."""

    remark: Remark
    passes: tuple[int, ...]
    worst: int | None

    def said(self, say: Speech) -> str:
        """The note in one sentence or two, with the passes it is about."""
        text = say.text(self.remark)
        if self.passes:
            listed = Figure(self.passes, "passes")
            if len(self.passes) > 1 and self.worst is not None:
                text = say("note.worst", passes=listed, text=text, worst=str(self.worst))
            else:
                text = say("note.passes", passes=listed, text=text)
        return f"{stopped(text)} {say.remedy(self.remark)}".strip()


def notes_of(plan: Plan, remarks: Iterable[Remark] | None = None) -> tuple[Note, ...]:
    """Remarks (default: all a plan has of itself) as notes, what is outside first, then in the order they were found.

    Remarks of one kind on several passes make one note; those that are about no pass stay apart.
    """
    kinds: dict[tuple[str, int], list[Remark]] = {}
    for i, remark in enumerate(plan_remarks(plan) if remarks is None else remarks):
        kinds.setdefault((remark.code, -1 if remark.place.passes else i), []).append(remark)
    numbers, notes = plan.numbers, []
    for found in kinds.values():
        worst = max(found, key=lambda remark: remark.badness)
        passes = sorted({numbers[key] for remark in found for key in remark.place.passes if key in numbers})
        at = next((numbers[key] for key in worst.place.passes if key in numbers), None)
        notes.append(Note(worst, tuple(passes), at))
    return tuple(sorted(notes, key=lambda note: note.remark.verdict != OUTSIDE))


def note_on(plan: Plan, remark: Remark) -> Note:
    """One remark by itself, with the passes it is about."""
    return notes_of(plan, (remark,))[0]


def plan_remarks(plan: Plan) -> tuple[Remark, ...]:
    """Everything the planner remarked: of the section, then pass by pass."""
    return (*plan.remarks, *(r for p in plan.passes for r in p.remarks))


def remarks_on(plan: Plan, p: Pass) -> tuple[Remark, ...]:
    """What is said about one pass: its own remarks, and those of the section that lie in it."""
    return (*(r for r in plan.remarks if p.key in r.place.passes), *p.remarks)
