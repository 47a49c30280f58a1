"""Reading and writing job files: atomic, backed up once per session, locked against a second writer."""

from __future__ import annotations

import os
from pathlib import Path

from banister.core.job import Job
from banister.job.codec import LARGEST_BYTES, FileFault, Loaded, decoded, encoded

SUFFIX = ".banister"


def read(path: Path) -> Loaded:
    """Read a job file; FileFault for anything that is not one."""
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise FileFault(f"{path}: larger than {LARGEST_BYTES // 1_000_000} MB, not read")
        data = path.read_bytes()
    except OSError as error:
        raise FileFault(f"{path}: {error.strerror or error}") from error
    try:
        return decoded(data)
    except FileFault as fault:
        raise FileFault(*(f"{path}: {line}" for line in fault.lines)) from fault


def write_atomically(path: Path, data: bytes) -> None:
    """Write whole or not at all: temporary file beside it, flush to disk, rename, flush the folder."""
    import tempfile

    folder = path.parent
    descriptor, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=folder)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(name, path.stat().st_mode & 0o777 if path.exists() else 0o644)
        os.replace(name, path)
    except OSError:
        Path(name).unlink(missing_ok=True)
        raise
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


class JobFile:
    """A job file opened for a session: its lock, its one backup, and whether it may be written."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.read_only = ""
        self._backed_up = False
        self._lock: object | None = None

    def open(self) -> Job:
        """Read the job; a newer file or one another window holds is opened read-only, with the reason."""
        loaded = read(self.path)
        if loaded.newer:
            self.read_only = "written by a newer Banister: open read-only, save it under another name"
        elif not self.lock():
            self.read_only = "open in another window: read-only here"
        return loaded.job

    def lock(self) -> bool:
        """Take the lock; False if another session holds it."""
        from filelock import FileLock, Timeout

        lock = FileLock(self.path.with_name(f".{self.path.name}.lock"), thread_local=False)
        try:
            lock.acquire(timeout=0)
        except (Timeout, OSError):
            return False
        self._lock = lock
        return True

    def save(self, job: Job) -> None:
        """Save, keeping the session's first version as .bak; FileFault with the reason on failure."""
        if self.read_only:
            raise FileFault(f"{self.path}: {self.read_only}")
        try:
            if self.path.exists() and not self._backed_up:
                write_atomically(self.path.with_name(self.path.name + ".bak"), self.path.read_bytes())
            self._backed_up = True
            write_atomically(self.path, encoded(job))
        except OSError as error:
            raise FileFault(f"{self.path}: not saved ({error.strerror or error}); the old file is untouched") from error

    def close(self) -> None:
        """Release the lock."""
        release = getattr(self._lock, "release", None)
        if release is not None:
            release()
            self.path.with_name(f".{self.path.name}.lock").unlink(missing_ok=True)
        self._lock = None
