"""Reading and writing job files: atomic, backed up once per session, locked against a second writer."""

from __future__ import annotations

import contextlib
import os
import re
from pathlib import Path

from banister.core.job import Job, job_faults
from banister.core.journal import Known
from banister.core.remark import Figure, fault
from banister.job.codec import LARGEST_BYTES, Loaded, decoded, encoded, issued_faults, too_large
from banister.job.reading import FileFault

SUFFIX = ".banister"
NEWER, HELD, WRITE_PROTECTED = "newer", "held", "protected"
"""Why an open file may only be read; each is the word `readonly.KEY`."""


def read(path: Path) -> Loaded:
    """Read a job file; FileFault for anything that is not one."""
    return _decoded(path, read_bytes(path))


def _decoded(path: Path, data: bytes) -> Loaded:
    try:
        return decoded(data)
    except FileFault as found:
        raise found.of(path) from found


def read_bytes(path: Path, most: int = LARGEST_BYTES) -> bytes:
    """A file's bytes, never more than it may have: what only pretends to be a file is given up on."""
    try:
        if not path.is_file():
            raise FileFault(fault("file.none", ""), file=str(path))
        with path.open("rb") as file:
            data = file.read(most + 1)
    except OSError as error:
        raise FileFault(fault("file.unreadable", "", detail=Figure(error.strerror or str(error), "name")), file=str(path)) from error
    if len(data) > most:
        raise too_large(most).of(path)
    return data


def write_atomically(path: Path, data: bytes) -> bool:
    """Write whole or not at all: temporary file beside it, flush to disk, rename, flush the folder.

    A link keeps pointing where it did. OSError where nothing was written; False where all is written but the
    disk may not have kept the folder's entry yet.
    """
    import tempfile

    path = path.resolve()
    folder = path.parent
    if path.exists() and not os.access(path, os.W_OK):
        raise PermissionError(13, "write-protected", str(path))
    _clear_left_behind(path)
    descriptor, name = tempfile.mkstemp(prefix=f".{path.name}.{os.getpid()}-", suffix=".part", dir=folder)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(name, path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
        os.replace(name, path)
    except OSError:
        Path(name).unlink(missing_ok=True)
        raise
    return _flushed(folder)


def _flushed(folder: Path) -> bool:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return False
    try:
        os.fsync(handle)
    except OSError:
        return False
    finally:
        os.close(handle)
    return True


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _clear_left_behind(path: Path) -> None:
    """Remove temporary files of this file whose writer was killed; never those of one that lives."""
    made = re.compile(re.escape(f".{path.name}.") + r"(\d+)-.*\.part$")
    for left in path.parent.glob(f".{path.name}.*.part"):
        found = made.fullmatch(left.name)
        if found is not None and not Path(f"/proc/{found.group(1)}").exists():
            left.unlink(missing_ok=True)


class JobFile:
    """A job file opened for a session: its lock, its one backup, why it may not be written, if so, and what it knows of its journal."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.read_only = ""
        self.journal: Known | None = None
        self._backed_up = False
        self._lock: object | None = None
        self._as_read: bytes | None = None
        self._on_disk: tuple[Job, Known | None] | None = None
        """What the file holds."""

    def open(self) -> Job:
        """Read the job; a newer file, or one another session holds, is opened read-only."""
        data = read_bytes(self.path)
        loaded = _decoded(self.path, data)
        self._as_read, self.journal, self._on_disk = _digest(data), loaded.journal, (loaded.job, loaded.journal)
        if loaded.newer:
            self.read_only = NEWER
        elif not os.access(self.path, os.W_OK):
            self.read_only = WRITE_PROTECTED
        elif not self.lock():
            self.read_only = HELD
        return loaded.job

    def open_again(self) -> Job:
        """What is on disk now; what is saved next may take its place."""
        data = read_bytes(self.path)
        loaded = _decoded(self.path, data)
        self._as_read, self._on_disk = _digest(data), (loaded.job, loaded.journal)
        return loaded.job

    def lock(self) -> bool:
        """Take the lock; False if another session holds it. Where no lock file can be made there is none to hold."""
        from filelock import FileLock, Timeout

        path = self.path.resolve()
        lock = FileLock(path.with_name(f".{path.name}.lock"), thread_local=False)
        try:
            lock.acquire(timeout=0)
        except Timeout:
            return False
        except OSError:
            return True
        self._lock = lock
        return True

    def save(self, job: Job) -> bool:
        """Save, keeping the session's first version as .bak; FileFault with the reason on failure.

        False where it is saved but the disk may not have kept it yet. What could not be opened again, and what
        another program changed meanwhile, is not written.
        """
        if self.read_only:
            raise FileFault(fault(f"file.readonly.{self.read_only}", ""), file=str(self.path))
        if faults := (*job_faults(job), *issued_faults(job)):
            raise FileFault(*faults, file=str(self.path))
        data = encoded(job, self.journal)
        if len(data) > LARGEST_BYTES:
            raise too_large().of(self.path)
        try:
            on_disk = self.path.read_bytes() if self.path.exists() else None
            if self._as_read is not None and on_disk is not None and _digest(on_disk) != self._as_read:
                raise FileFault(fault("file.changed", ""), file=str(self.path))
            if on_disk is not None and not self._backed_up:
                write_atomically(self.path.with_name(self.path.name + ".bak"), on_disk)
            self._backed_up = True
            is_kept = write_atomically(self.path, data)
        except OSError as error:
            raise FileFault(fault("file.not_saved", "", detail=Figure(error.strerror or str(error), "name")), file=str(self.path)) from error
        self._as_read, self._on_disk = _digest(data), (job, self.journal)
        return is_kept

    def close(self) -> None:
        """Release the lock; its file stays, or a second session could lock another one of the same name.

        A journal that grew since the job was saved is made known to the file, which else stays as it was saved.
        """
        if self._on_disk is not None and not self.read_only and self._on_disk[1] != self.journal:
            with contextlib.suppress(FileFault):
                self.save(self._on_disk[0])
        release = getattr(self._lock, "release", None)
        if release is not None:
            release()
        self._lock = None


def _digest(data: bytes) -> bytes:
    import hashlib

    return hashlib.sha256(data).digest()
