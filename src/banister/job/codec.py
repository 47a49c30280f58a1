"""The job file: JSON with a format name and a version, strictly read, every fault located.

What can be edited by hand is indented; sheets that were issued follow, one to a line.
"""

from __future__ import annotations

import weakref
from collections.abc import Iterator
from typing import Any

import msgspec

from banister.core.job import Job, job_faults
from banister.core.journal import Known
from banister.core.remark import Figure, Remark, fault
from banister.core.sheet import Sheet
from banister.core.sheet_faults import sheet_faults
from banister.core.value import Struct, replace
from banister.core.words import Speech
from banister.job.issued import packed, unpacked
from banister.job.migrations import newest
from banister.job.reading import FileFault, converted, kept_whole, parsed

FORMAT = "banister-job"
VERSION = 9
LARGEST_BYTES = 100_000_000
MOST_JOINTS = 5000


class Loaded(Struct, frozen=True):
    """A job read from a file; `newer` if a later version wrote it, so it must not be overwritten; what it knows of its journal."""

    job: Job
    newer: bool = False
    journal: Known | None = None


def encoded(job: Job, journal: Known | None = None) -> bytes:
    """The file's bytes: stable key order, two spaces of indent, a final newline. `journal` is what the file is to know of its journal."""
    plain = msgspec.to_builtins(replace(job, issued=()))
    del plain["issued"]
    known = {} if journal is None else {"journal": msgspec.to_builtins(journal)}
    head = msgspec.json.format(msgspec.json.encode({"format": FORMAT, "version": VERSION, **known, "job": plain}), indent=2)
    rows = b",".join(b"\n    " + row for row in _rows(job.issued))
    return head[: head.rindex(b"\n")] + b',\n  "issued": [' + rows + (b"\n  ]\n}\n" if rows else b"]\n}\n")


_written: dict[int, tuple[Sheet, bytes]] = {}
"""Lines of the sheets last written: a sheet never changes, and saving or keeping a copy for recovery writes all of them again."""


def _rows(sheets: tuple[Sheet, ...]) -> list[bytes]:
    found = {id(sheet): known if (known := _written.get(id(sheet))) and known[0] is sheet else (sheet, _row(sheet)) for sheet in sheets}
    _written.clear()
    _written.update(found)
    return [row for _, row in found.values()]


def _row(sheet: Sheet) -> bytes:
    return msgspec.json.encode(packed(sheet))


@kept_whole()
def decoded(data: bytes) -> Loaded:
    """Read a job; raises FileFault with every fault that can be told at once."""
    document = _document(data)
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileFault(fault("file.version", "$.version", newest=Figure(VERSION, "count")))
    if version < VERSION:
        document = newest(document, version)
    raw, rows = document.get("job"), document.get("issued", [])
    _refuse_too_many(raw)
    job = replace(converted(raw, Job, "$.job"), issued=_sheets(rows))
    journal = converted(document["journal"], Known, "$.journal") if document.get("journal") is not None else None
    newer = version > VERSION
    faults = [replace(f, place=replace(f.place, field=f"$.job.{f.place.field}")) for f in job_faults(job)]
    if not newer:
        faults += _unknown_keys(raw, msgspec.to_builtins(replace(job, issued=())), "$.job")
    faults += issued_faults(job)
    if faults:
        raise FileFault(*faults)
    return Loaded(job, newer, journal)


_right: weakref.WeakValueDictionary[int, Sheet] = weakref.WeakValueDictionary()
"""Sheets that were found right: one never changes, and a job with many is saved often."""


def issued_faults(job: Job) -> list[Remark]:
    """Everything that cannot stand in the sheets a job has issued, each with its path in the file; a sheet that was found right stays so."""
    from banister.job.library import words  # reads jobs itself: the demo

    say, found = Speech(words()), list[Remark]()
    for i, sheet in enumerate(job.issued):
        if _right.get(id(sheet)) is sheet:
            continue
        wrong = [replace(f, place=replace(f.place, field=f"$.issued[{i}].{f.place.field}")) for f in sheet_faults(sheet, say)]
        if not wrong:
            _right[id(sheet)] = sheet
        found += wrong
    return found


LISTS = ("joints", "rods", "procedures", "welders", "own_cells")
"""Lists of a job whose members can be read one by one."""


def salvaged(data: bytes) -> tuple[Job | None, tuple[Remark, ...]]:
    """A job as far as it can be read, and what is wrong with what was left out; None where nothing can. For work that would else be lost."""
    try:
        return decoded(data).job, ()
    except FileFault as fault:
        wrong = fault.remarks
    try:
        document = _document(data)
        version = document.get("version")
        raw = dict((newest(document, version) if isinstance(version, int) and 1 <= version < VERSION else document).get("job") or {})
    except (FileFault, AttributeError, TypeError, ValueError):
        return None, wrong
    kept = {key: raw[key] for key in ("name", "site", "prepared_by", "checked_by", "notes") if isinstance(raw.get(key), str)}
    whole = {"name": "", **kept}
    for key in LISTS:
        own = raw.get(key)
        whole[key] = [one for one in own if _is_readable({**whole, key: [one]})] if isinstance(own, list) else []
    job = converted(whole, Job, "$.job")
    return (job, wrong) if job.joints else (None, wrong)


def _is_readable(raw: dict[str, Any]) -> bool:
    """True where a job of so much can be read and holds no fault."""
    try:
        return not job_faults(converted(raw, Job, "$.job"))
    except FileFault:
        return False


def _sheets(rows: Any) -> tuple[Sheet, ...]:
    if not isinstance(rows, list):
        raise FileFault(fault("file.shape", "$.issued", detail=Figure("array", "name")))
    return tuple(converted(unpacked(row), Sheet, f"$.issued[{i}]") for i, row in enumerate(rows))


def _document(data: bytes) -> dict[str, Any]:
    if len(data) > LARGEST_BYTES:
        raise too_large()
    document = parsed(data)
    if document.get("format") != FORMAT:
        raise FileFault(fault("file.format", "$.format", format=Figure(FORMAT, "name")))
    return document


def too_large(most: int = LARGEST_BYTES) -> FileFault:
    """A file that is refused by its size."""
    return FileFault(fault("file.large", "$", most=Figure(f"{most // 1_000_000} MB", "name")))


def _refuse_too_many(raw: Any) -> None:
    joints = raw.get("joints") if isinstance(raw, dict) else None
    if isinstance(joints, list) and len(joints) > MOST_JOINTS:
        raise FileFault(fault("file.joints", "$.job.joints", found=Figure(len(joints), "count"), most=Figure(MOST_JOINTS, "count")))


def different_fields(mine: Job, theirs: Job) -> Iterator[str]:
    """Where two jobs differ, by the path of each field with both values; issued sheets by their joint alone."""
    a, b = (msgspec.to_builtins(replace(job, issued=())) for job in (mine, theirs))
    yield from _different(a, b, "job")
    for one in (*mine.issued, *theirs.issued):
        if (one in mine.issued) != (one in theirs.issued):
            yield f"issued {one.joint.id}"


def _different(a: Any, b: Any, path: str) -> Iterator[str]:
    if isinstance(a, dict) and isinstance(b, dict):
        for key in sorted(a.keys() | b.keys()):
            yield from _different(a.get(key), b.get(key), f"{path}.{key}")
    elif isinstance(a, list | tuple) and isinstance(b, list | tuple) and len(a) == len(b):
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            yield from _different(x, y, f"{path}[{i}]")
    elif a != b:
        plain = [f"{len(x)}" if isinstance(x, list | tuple | dict) else f"{x}"[:40] for x in (a, b)]
        yield f"{path}: {plain[0]} / {plain[1]}"


def _unknown_keys(raw: Any, known: Any, path: str) -> list[Remark]:
    found: list[Remark] = []
    if isinstance(raw, dict) and isinstance(known, dict):
        for key, value in raw.items():
            if key in known:
                found += _unknown_keys(value, known[key], f"{path}.{key}")
            else:
                found.append(fault("file.unknown", f"{path}.{key}"))
    elif isinstance(raw, list) and isinstance(known, (list, tuple)):
        for i, (a, b) in enumerate(zip(raw, known, strict=False)):
            found += _unknown_keys(a, b, f"{path}[{i}]")
    return found


def schema() -> dict[str, Any]:
    """JSON schema of the whole file; issued sheets are given as they read once unpacked."""
    definition = msgspec.json.schema(Job)
    defs = definition.pop("$defs")
    defs["Job"]["properties"].pop("issued")
    for figure in (one for kind in defs.values() for one in kind.get("properties", {}).values()):
        if figure.get("default") != figure.get("default"):
            del figure["default"]  # no JSON says "not a number"
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Banister job file",
        "type": "object",
        "required": ["format", "version", "job"],
        "properties": {
            "format": {"const": FORMAT}, "version": {"const": VERSION}, "job": definition, "journal": msgspec.json.schema(Known)["$defs"]["Known"],
            "issued": {"type": "array", "items": {"type": "object"}},
        },
        "$defs": defs,
    }  # fmt: skip
