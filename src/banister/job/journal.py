"""The journal beside a job file: append-only, on disk before the next key, one writer, torn tails set aside."""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from banister import __version__
from banister.core.journal import FORMAT, VERSION, Chain, Record, chained, clock_jump_s, corrected, line_of
from banister.core.remark import Figure, fault
from banister.job.files import read_bytes
from banister.job.reading import FileFault, kept_whole

SUFFIX = ".banister-journal"
LARGEST_BYTES = 200_000_000
BOOT = Path("/proc/sys/kernel/random/boot_id")


def journal_path(job: Path) -> Path:
    """Where the journal of a job file lies."""
    return job.with_suffix(SUFFIX)


def records_of(job: Path) -> tuple[Record, ...]:
    """What the journal beside a job file tells, after corrections; nothing where there is none. FileFault where it cannot be read."""
    path = journal_path(job)
    return corrected(read_journal(path).records).records if path.exists() else ()


@kept_whole()
def read_journal(path: Path) -> Chain:
    """The chain of a journal, up to its last whole line; a reader beside a writer sees no half record."""
    data = read_bytes(path, LARGEST_BYTES)
    return chained(data[: data.rfind(b"\n") + 1])


class Journal:
    """A journal open for writing; `FileFault` where another writer has it or it is damaged."""

    def __init__(self, path: Path, job: str, before: Chain | None = None) -> None:
        """`before` is the journal this one goes on from, after the job was saved under another name."""
        self.path = path
        is_new = not path.exists()
        try:
            self._file = os.open(path, os.O_RDWR | os.O_CREAT | os.O_APPEND, 0o666)
        except OSError as error:
            raise FileFault(fault("file.not_written", "", detail=Figure(error.strerror or str(error), "name")), file=str(path)) from error
        try:
            self.chain = self._opened()
        except FileFault:
            os.close(self._file)
            raise
        if is_new:
            _flush_folder(path.parent)
        if not self.chain.records:
            old = {} if before is None or not before.records else {"before": before.id, "before_mark": before.mark}
            self.write("begun", format=FORMAT, version=VERSION, job=job, **old)
        self.write("session", program=__version__)

    def _opened(self) -> Chain:
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise FileFault(fault("journal.locked", ""), file=str(self.path)) from None
        data = os.pread(self._file, os.fstat(self._file).st_size, 0)
        chain = chained(data)
        if chain.fault is not None:
            raise FileFault(chain.fault, file=str(self.path))
        self.chain = chain
        if chain.torn:
            self._set_aside(data[chain.good_bytes :])
        elif data and not data.endswith(b"\n"):
            self._raw(b"\n")
        return self.chain

    def _set_aside(self, tail: bytes) -> None:
        """A half record goes into a file of its own, and the journal says so."""
        aside = next(path for n in range(1, 10_000) if not (path := self.path.with_name(f"{self.path.name}.torn-{n}")).exists())
        aside.write_bytes(tail)
        os.ftruncate(self._file, self.chain.good_bytes)
        self.write("repaired", bytes=len(tail), aside=aside.name)

    # --- writing ------------------------------------------------------------------------------
    def write(self, kind: str, joint: str = "", key: str = "", /, at: str = "", **data: Any) -> Record:
        """One record, on disk when this returns; OSError leaves the journal as it was."""
        now, boot_s, boot = time.time(), _boot_s(), _boot()
        last = self.chain.records[-1] if self.chain.records else None
        jump = None if last is None else clock_jump_s(last, now, boot_s, boot, _seconds(last.t))
        if jump is not None and kind != "clock":
            self._append("clock", "", "", "", {"stepped_s": round(jump, 3)}, now, boot_s, boot)
        return self._append(kind, joint, key, at, data, now, boot_s, boot)

    def _append(self, kind: str, joint: str, key: str, at: str, data: Mapping[str, Any], now: float, boot_s: float, boot: str) -> Record:
        t = datetime.fromtimestamp(now, UTC).strftime("%Y-%m-%dT%H:%M:%S.") + f"{int(now * 1000) % 1000:03d}Z"
        record = Record(n=len(self.chain.records) + 1, t=t, m=round(boot_s, 3), b=boot, k=kind, j=joint, p=key, at=at, d=data)
        line, mark = line_of(record, self.chain.mark)
        self._raw(line)
        self.chain = Chain((*self.chain.records, record), mark, self.chain.good_bytes + len(line))
        return record

    def _raw(self, line: bytes) -> None:
        """The whole line and its flush, or nothing of it."""
        before = os.fstat(self._file).st_size
        try:
            written = os.write(self._file, line)
            if written != len(line):
                raise OSError(28, "short write")
            os.fdatasync(self._file)
        except OSError:
            os.ftruncate(self._file, before)
            raise

    def correct(self, number: int, why: str, void: bool = False, **changes: Any) -> Record:
        """Set fields of an earlier record, or void it; the record itself stays."""
        return self.write("correct", of=number, why=why, **({"void": True} if void else {"set": changes}))

    def close(self) -> None:
        """Let go of the file; its lock goes with it."""
        os.close(self._file)


def _boot() -> str:
    try:
        return BOOT.read_text(encoding="ascii")[:4]
    except OSError:
        return "none"


def _boot_s() -> float:
    return time.clock_gettime(time.CLOCK_BOOTTIME)


def _seconds(t: str) -> float:
    return datetime.fromisoformat(t).timestamp()


def _flush_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
