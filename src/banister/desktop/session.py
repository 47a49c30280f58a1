"""The job that is worked on, with its history and what of it is on disk."""

from __future__ import annotations

from dataclasses import dataclass

from banister.core.job import Job
from banister.job.history import History


@dataclass(slots=True)
class Session:
    """One open job, or none."""

    history: History | None = None
    saved: Job | None = None

    @property
    def job(self) -> Job | None:
        """The job as it is now."""
        return None if self.history is None else self.history.job

    @property
    def dirty(self) -> bool:
        """True if something would be lost by closing."""
        return self.job is not None and self.job != self.saved

    def open(self, job: Job | None, saved: Job | None) -> None:
        """Work on another job; `saved` is what of it is on disk."""
        self.history = None if job is None else History(job)
        self.saved = saved

    def mark_saved(self) -> None:
        """What is shown is on disk."""
        self.saved = self.job

    def undoable(self) -> tuple[str, str]:
        """Names of what would be undone and done again, '' where there is nothing."""
        history = self.history
        past = history.past[-1][0] if history is not None and history.past else ""
        future = history.future[-1][0] if history is not None and history.future else ""
        return past, future
