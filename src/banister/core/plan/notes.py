"""What a plan has to say, gathered: one note per kind of finding, with the passes it is about."""

from __future__ import annotations

from dataclasses import dataclass

from banister.core.remark import OUTSIDE, Finding
from banister.core.plan.plan import Pass, Plan


@dataclass(frozen=True, slots=True)
class Note:
    """A remark: its worst finding speaks for all, `passes` are the pass numbers concerned."""

    finding: Finding
    passes: tuple[int, ...]

    @property
    def text(self) -> str:
        """The remark in one sentence or two, with the passes it is about."""
        f = self.finding
        if not self.passes:
            return f"{f.text}. {f.remedy}"
        worst = f", worst in {f.place.pass_id.removeprefix('p')}" if len(self.passes) > 1 and f.place.pass_id else ""
        return f"{listed(self.passes)}: {f.text}{worst}. {f.remedy}"


def notes_of(plan: Plan) -> tuple[Note, ...]:
    """All findings of a plan as notes, what is outside first, then in the order they were found."""
    numbers = {p.id: p.number for p in plan.passes}
    kinds: dict[str, list[Finding]] = {}
    for f in (*plan.findings, *(f for p in plan.passes for f in p.findings)):
        kinds.setdefault(f.code, []).append(f)
    notes = []
    for found in kinds.values():
        passes = sorted({numbers[f.place.pass_id] for f in found if f.place.pass_id in numbers})
        notes.append(Note(max(found, key=_badness), tuple(passes)))
    return tuple(sorted(notes, key=lambda note: note.finding.severity != OUTSIDE))


def findings_on(plan: Plan, p: Pass) -> tuple[Finding, ...]:
    """What is said about one pass: its own findings, and those of the section that lie in it."""
    return (*(f for f in plan.findings if f.place.pass_id == p.id), *p.findings)


def listed(numbers: tuple[int, ...]) -> str:
    """Pass numbers in words.

    >>> listed((3,)), listed((3, 4, 5, 9))
    ('pass 3', 'passes 3 to 5, 9')
    """
    runs: list[list[int]] = []
    for n in numbers:
        if runs and n == runs[-1][-1] + 1:
            runs[-1].append(n)
        else:
            runs.append([n])
    said = [_run(run) for run in runs]
    return ("pass " if len(numbers) == 1 else "passes ") + ", ".join(said)


def _run(run: list[int]) -> str:
    if len(run) < 3:
        return ", ".join(map(str, run))
    return f"{run[0]} to {run[-1]}"


def _badness(f: Finding) -> float:
    """How far a figure is from its bound, as a share of it."""
    value = f.value or 0.0
    over = 0.0 if f.max is None else (value - f.max) / max(abs(f.max), 1e-9)
    under = 0.0 if f.min is None else (f.min - value) / max(abs(f.min), 1e-9)
    return max(over, under, 0.0)
