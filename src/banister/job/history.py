"""Undo and redo: a stack of whole job values, each with the name of the edit that made it."""

from __future__ import annotations

from dataclasses import dataclass, field

from banister.core.job import Job

MOST_STEPS = 500


@dataclass(slots=True)
class History:
    """Past and future of a job. Edits with the same merge key become one step, named by the last."""

    job: Job
    past: list[tuple[str, Job]] = field(default_factory=list)
    future: list[tuple[str, Job]] = field(default_factory=list)
    _merge: str = ""

    def commit(self, job: Job, name: str, merge: str = "") -> bool:
        """Take a new value; False if nothing changed."""
        if job == self.job:
            return False
        if merge and merge == self._merge and self.past:
            self.past[-1] = (name, self.past[-1][1])
        else:
            self.past.append((name, self.job))
            del self.past[:-MOST_STEPS]
        self._merge = merge
        self.job = job
        self.future.clear()
        return True

    def settle(self) -> None:
        """End a run of merged edits: the next one is a step of its own."""
        self._merge = ""

    def undo(self) -> str:
        """Step back; the name of what was undone, or ''."""
        if not self.past:
            return ""
        name, job = self.past.pop()
        self.future.append((name, self.job))
        self.job, self._merge = job, ""
        return name

    def redo(self) -> str:
        """Step forward; the name of what was done again, or ''."""
        if not self.future:
            return ""
        name, job = self.future.pop()
        self.past.append((name, self.job))
        self.job, self._merge = job, ""
        return name
