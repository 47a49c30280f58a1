"""All jobs of a folder with what their journals tell; they are read, never written."""

from __future__ import annotations

from pathlib import Path

from banister.core.record.book import Read
from banister.job.files import SUFFIX, read
from banister.job.journal import records_of
from banister.job.reading import FileFault


def jobs_in(folder: Path) -> tuple[tuple[Read, ...], tuple[tuple[str, FileFault], ...]]:
    """Every job of a folder by its file's name, and those that cannot be read with why."""
    found, unread = list[Read](), list[tuple[str, FileFault]]()
    for path in sorted(folder.glob(f"*{SUFFIX}")):
        try:
            found.append(Read(path.name, read(path).job, records_of(path)))
        except FileFault as broken:
            unread.append((path.name, broken))
    return tuple(found), tuple(unread)
