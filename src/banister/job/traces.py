"""Raw samples of the arcs, beside the job: one packed file a rod in NAME.traces, named by what is in it; its record tells its digest."""

from __future__ import annotations

import gzip
import hashlib
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from banister.core.inspect.arc_there import Traces
from banister.core.journal import Record
from banister.core.remark import Figure, fault
from banister.job.files import read_bytes, write_atomically
from banister.job.reading import FileFault

if TYPE_CHECKING:
    from numpy.typing import NDArray

SUFFIX, NAMED_BY, COMMENT = ".traces", 16, "#"
LARGEST_BYTES = 8_000_000


def traces_folder(job: Path) -> Path:
    """Where the traces of a job lie."""
    return job.with_suffix(SUFFIX)


def keep_trace(job: Path, raw: bytes) -> dict[str, str]:
    """Keep the samples of a rod (bytes as they are read back); what its record tells of them. OSError where they cannot be kept."""
    digest = hashlib.sha256(raw).hexdigest()
    folder = traces_folder(job)
    folder.mkdir(exist_ok=True)
    name = f"{digest[:NAMED_BY]}.csv.gz"
    write_atomically(folder / name, gzip.compress(raw, mtime=0))
    return {"file": name, "sha256": digest}


def kept_trace(job: Path, told: Mapping[str, Any]) -> bytes:
    """The samples a record tells of, as they were kept; FileFault where they are gone, or are not what was recorded."""
    name, digest = told.get("file"), told.get("sha256")
    path = traces_folder(job) / Path(str(name)).name
    if not isinstance(name, str) or not isinstance(digest, str) or not path.is_file():
        raise FileFault(fault("trace.gone", "", name=Figure(str(name)[:40], "name")), file=str(path))
    packed = read_bytes(path, LARGEST_BYTES)
    try:
        raw = gzip.decompress(packed)
    except (OSError, EOFError) as broken:
        raise FileFault(fault("trace.packed", ""), file=str(path)) from broken
    if hashlib.sha256(raw).hexdigest() != digest:
        raise FileFault(fault("trace.altered", "", name=Figure(name[:40], "name")), file=str(path))
    return raw


def traces_of(job: Path) -> Traces:
    """Finds the recorded arc of a rod's record beside a job: (n, 3) s, V, A; None where none was kept, or it is not what was recorded."""

    def samples(record: Record) -> NDArray[np.float64] | None:
        told = record.d.get("trace")
        if not isinstance(told, dict):
            return None
        try:
            _, *lines = (line for line in kept_trace(job, told).decode().splitlines() if not line.startswith(COMMENT))
            found = np.array([[float(cell) for cell in line.split(",")[:3]] for line in lines])
        except (FileFault, ValueError):
            return None
        return found if found.ndim == 2 and len(found) and np.isfinite(found).all() else None

    return samples
