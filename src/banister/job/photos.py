"""Photos beside a job: taken in by path, size and digest; moved or changed since is said, never fatal."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from banister.core.remark import fault
from banister.job.files import read_bytes
from banister.job.reading import FileFault

LARGEST_BYTES = 80_000_000
PICTURES = {b"\x89PNG": "png", b"\xff\xd8\xff": "jpg"}
THERE, MOVED, CHANGED = "there", "moved", "changed"
"""How a photo is found again; each is the word `photo.KEY`."""


def photo_told(path: Path, job: Path | None) -> dict[str, Any]:
    """What a record tells of a photo; its path goes from the job's folder where it lies under it. FileFault for what is no picture."""
    data = read_bytes(path, LARGEST_BYTES)
    if not any(data.startswith(head) for head in PICTURES):
        raise FileFault(fault("photo.kind", ""), file=str(path))
    whole = path.resolve()
    folder = None if job is None else job.resolve().parent
    name = whole.relative_to(folder) if folder is not None and whole.is_relative_to(folder) else whole
    return {"path": str(name), "size": len(data), "sha256": hashlib.sha256(data).hexdigest()}


def photo_path(told: Mapping[str, Any], job: Path | None) -> Path:
    """Where a photo should lie now."""
    path = Path(str(told.get("path", "")))
    return path if path.is_absolute() or job is None else job.resolve().parent / path


def photo_state(told: Mapping[str, Any], job: Path | None) -> str:
    """THERE, MOVED where it is not found, CHANGED where it is another than was taken in."""
    try:
        data = read_bytes(photo_path(told, job), LARGEST_BYTES)
    except FileFault:
        return MOVED
    return THERE if hashlib.sha256(data).hexdigest() == told.get("sha256") else CHANGED
