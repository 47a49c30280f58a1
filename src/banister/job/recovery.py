"""Recovery after a crash: a copy of the unsaved job in the state folder."""

from __future__ import annotations

import contextlib
import hashlib
from pathlib import Path

from banister.core.job import Job
from banister.job.codec import encoded
from banister.job.reading import FileFault
from banister.job.files import read, write_atomically


class Recovery:
    """The recovery copy of one document; `path` is None for a job never saved."""

    def __init__(self, folder: Path, path: Path | None) -> None:
        name = "unnamed" if path is None else hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]
        self.file = folder / f"{name}.banister"

    def keep(self, job: Job) -> None:
        """Write the copy; a folder that cannot be written is no reason to stop work."""
        try:
            self.file.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self.file, encoded(job))
        except OSError:
            return

    def found(self) -> Job | None:
        """The copy a crashed session left, or None."""
        try:
            return read(self.file).job if self.file.exists() else None
        except FileFault:
            with contextlib.suppress(OSError):
                self.file.rename(self.file.with_suffix(".unreadable"))
        except OSError:
            pass
        return None

    def clear(self) -> None:
        """The work is saved or given up."""
        with contextlib.suppress(OSError):
            self.file.unlink(missing_ok=True)
