"""The job file: JSON with a format name and a version, strictly read, every fault located."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import msgspec

from banister.core.remark import Finding
from banister.core.job import Job, job_faults
from banister.job.migrations import newest

FORMAT = "banister-job"
VERSION = 3
LARGEST_BYTES = 20_000_000
DEEPEST = 64


class FileFault(Exception):
    """A file that cannot be read, with one line per fault: where, what, and what would mend it."""

    def __init__(self, *lines: str) -> None:
        super().__init__("\n".join(lines))
        self.lines = lines


@dataclass(frozen=True, slots=True)
class Loaded:
    """A job read from a file; `newer` if a later version wrote it, so it must not be overwritten."""

    job: Job
    newer: bool = False


def encoded(job: Job) -> bytes:
    """The file's bytes: stable key order, two spaces of indent, a final newline."""
    document = {"format": FORMAT, "version": VERSION, "job": job}
    return msgspec.json.format(msgspec.json.encode(document), indent=2) + b"\n"


def decoded(data: bytes) -> Loaded:
    """Read a job; raises FileFault with every fault that can be told at once."""
    document = _document(data)
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileFault(f"$.version: expected a whole number from 1 to {VERSION}")
    raw = newest(document.get("job"), version)
    try:
        job = msgspec.convert(raw, Job, strict=True)
    except (msgspec.ValidationError, RecursionError, OverflowError) as error:
        raise FileFault(_located(error)) from error
    newer = version > VERSION
    faults = [_line(f) for f in job_faults(job)]
    if not newer:
        faults += _unknown_keys(raw, msgspec.to_builtins(job), "$.job")
    if faults:
        raise FileFault(*faults)
    return Loaded(job, newer)


def _document(data: bytes) -> dict[str, Any]:
    if len(data) > LARGEST_BYTES:
        raise FileFault(f"$: the file is larger than {LARGEST_BYTES // 1_000_000} MB and was not read")
    if _depth(data) > DEEPEST:
        raise FileFault(f"$: nested deeper than {DEEPEST} levels")
    try:
        document = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise FileFault(f"$: not valid JSON ({error}); restore the .bak file beside it") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise FileFault(f"$.format: not a Banister job (expected '{FORMAT}')")
    return document


def _depth(data: bytes) -> int:
    """Deepest bracket nesting; brackets inside strings can only make it larger."""
    depth = deepest = 0
    for byte in data.translate(None, _NOT_BRACKETS):
        depth += 1 if byte in b"[{" else -1
        deepest = max(deepest, depth)
    return deepest


_NOT_BRACKETS = bytes(b for b in range(256) if b not in b"[]{}")


def _located(error: Exception) -> str:
    text, _, path = str(error).partition(" - at `")
    where = path.rstrip("`").replace("$", "$.job", 1) if path else "$.job"
    return f"{where}: {text}"


def _line(finding: Finding) -> str:
    return f"$.job.{finding.code}: {finding.text}" + (f" {finding.remedy}" if finding.remedy else "")


def _unknown_keys(raw: Any, known: Any, path: str) -> list[str]:
    found: list[str] = []
    if isinstance(raw, dict) and isinstance(known, dict):
        for key, value in raw.items():
            if key in known:
                found += _unknown_keys(value, known[key], f"{path}.{key}")
            else:
                found.append(f"{path}.{key}: not a known field")
    elif isinstance(raw, list) and isinstance(known, (list, tuple)):
        for i, (a, b) in enumerate(zip(raw, known, strict=False)):
            found += _unknown_keys(a, b, f"{path}[{i}]")
    return found


def schema() -> dict[str, Any]:
    """JSON schema of the whole file."""
    definition = msgspec.json.schema(Job)
    defs = definition.pop("$defs")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Banister job file",
        "type": "object",
        "required": ["format", "version", "job"],
        "properties": {"format": {"const": FORMAT}, "version": {"const": VERSION}, "job": definition},
        "$defs": defs,
    }
