"""Recovery after a crash: every window keeps a copy of its own of the unsaved job in the state folder, locked while the window lives.

A copy whose lock is free is work that a session left behind. It stays until somebody answers what is to become of it.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import uuid
from pathlib import Path

from banister.core.job import Job
from banister.core.remark import Remark
from banister.core.value import Struct
from banister.job.codec import encoded, salvaged
from banister.job.files import SUFFIX, read_bytes, write_atomically
from banister.job.reading import FileFault

UNNAMED = "unnamed"
NAME_BYTES = 4096


class LeftWork(Struct, frozen=True):
    """A copy that a session left: its file, and the path of the job it is of (None for one that was never saved)."""

    file: Path
    of: Path | None

    def read(self) -> tuple[Job | None, tuple[Remark, ...]]:
        """The job as far as it can be read (None where nothing of it can), and what is wrong with the rest."""
        try:
            return salvaged(read_bytes(self.file))
        except FileFault as fault:
            return None, fault.remarks

    def discard(self) -> None:
        """It was answered: restored, or given up."""
        with contextlib.suppress(OSError):
            self.file.unlink(missing_ok=True)
            _beside(self.file, "of").unlink(missing_ok=True)
            _beside(self.file, "lock").unlink(missing_ok=True)


class Recovery:
    """The copy of one window's job; `path` is None for a job never saved."""

    def __init__(self, folder: Path, path: Path | None) -> None:
        self.folder, self.path = folder, path
        self.file = folder / f"{_key(path)}-{uuid.uuid4().hex[:8]}{SUFFIX}"
        self._lock: int | None = None

    def keep(self, job: Job) -> None:
        """Write the copy; a folder that cannot be written is no reason to stop work."""
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            self._hold()
            write_atomically(self.file, encoded(job))
        except OSError:
            return

    def _hold(self) -> None:
        """Take the copy's lock, then tell beside it which job it is of: what has no lock is nobody's."""
        if self._lock is not None:
            return
        path = _beside(self.file, "lock")
        while self._lock is None:
            lock = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            if path.exists():
                self._lock = lock
            else:  # swept out by another window before it was held
                os.close(lock)
        if self.path is not None:
            _beside(self.file, "of").write_text(str(self.path.resolve()), encoding="utf-8")

    def clear(self) -> None:
        """The work is saved or given up: nothing of it stays."""
        LeftWork(self.file, self.path).discard()
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None


def left_work(folder: Path, path: Path | None = None) -> tuple[LeftWork, ...]:
    """Copies that no living window holds, the oldest first: all of them, or those of one job. Halves of copies never finished are swept out."""
    _sweep(folder)
    try:
        files = sorted(folder.glob(f"*{SUFFIX}"), key=lambda file: file.stat().st_mtime)
    except OSError:
        return ()
    found = [LeftWork(file, _of(file)) for file in files if _is_free(file)]
    return tuple(one for one in found if path is None or one.of == path.resolve() or one.file.name.startswith(_key(path)))


def _sweep(folder: Path) -> None:
    """Remove what a session that was killed in the middle of writing left beside its copy, or without one."""
    with contextlib.suppress(OSError):
        for lock in folder.glob(f".*{SUFFIX}.lock"):
            file = lock.with_name(lock.name.removeprefix(".").removesuffix(".lock"))
            if not _is_free(file):
                continue
            for half in folder.glob(f".{file.name}.*.part"):
                half.unlink(missing_ok=True)
            if not file.exists():
                LeftWork(file, None).discard()
        for told in folder.glob(f".*{SUFFIX}.of"):
            file = told.with_name(told.name.removeprefix(".").removesuffix(".of"))
            if not file.exists() and not _beside(file, "lock").exists():
                told.unlink(missing_ok=True)


def _key(path: Path | None) -> str:
    return UNNAMED if path is None else hashlib.sha256(str(path.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:16]


def _beside(file: Path, what: str) -> Path:
    return file.with_name(f".{file.name}.{what}")


def _of(file: Path) -> Path | None:
    try:
        text = _beside(file, "of").read_text(encoding="utf-8")[:NAME_BYTES]
    except (OSError, ValueError):
        return None
    return Path(text) if text else None


def _is_free(file: Path) -> bool:
    """True where no living window holds a copy; the lock is only asked for, never kept."""
    try:
        lock = os.open(_beside(file, "lock"), os.O_RDWR)
    except FileNotFoundError:
        return True
    except OSError:
        return False
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    finally:
        os.close(lock)
    return True
