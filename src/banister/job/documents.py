"""Procedure, welder and test documents, and the rule file, as open JSON files."""

from __future__ import annotations

from pathlib import Path
from typing import Any, TypeVar

import msgspec

from banister.core.limits.procedure import FAMILIES, WELDER_FAMILIES, Procedure, Welder, WeldTest, procedure_faults, test_faults, welder_faults
from banister.core.limits.qualification import QualificationRows
from banister.core.remark import Figure, Remark, at, fault
from banister.job.files import read_bytes, write_atomically
from banister.job.reading import FileFault, converted, parsed

PROCEDURE_FORMAT, WELDER_FORMAT, TEST_FORMAT, RULE_FORMAT = (
    "banister-procedure", "banister-welder", "banister-weld-test", "banister-qualification",
)  # fmt: skip
VERSION = 1
LARGEST_DOCUMENT = 2_000_000
Value = TypeVar("Value")


class TestFile(msgspec.Struct):
    """A test record with the family whose rules are to be applied, for a procedure or for a welder."""

    family: str
    test: WeldTest
    kind: str = "procedure"


def read_rows(path: Path) -> QualificationRows:
    """The rules of qualified ranges; FileFault with the place of every fault."""
    return _read(path, RULE_FORMAT, "rules", QualificationRows)


def read_procedure(path: Path) -> Procedure:
    """A procedure document; FileFault with the place of every fault."""
    found = _read(path, PROCEDURE_FORMAT, "procedure", Procedure)
    _refuse(path, "$.procedure", procedure_faults(found))
    return found


def read_welder(path: Path) -> Welder:
    """A welder's qualification; FileFault with the place of every fault."""
    found = _read(path, WELDER_FORMAT, "welder", Welder)
    _refuse(path, "$.welder", welder_faults(found))
    return found


def read_test(path: Path) -> TestFile:
    """A test record; FileFault with the place of every fault."""
    found = _read(path, TEST_FORMAT, "record", TestFile)
    known = FAMILIES if found.kind == "procedure" else WELDER_FAMILIES
    if found.kind not in ("procedure", "welder") or found.family not in known:
        raise FileFault(fault("file.test", "$.record", families=Figure(tuple(known), "names")), file=str(path))
    _refuse(path, "$.record.test", test_faults(found.test))
    return found


def write_procedure(path: Path, procedure: Procedure) -> None:
    """Write a procedure document atomically."""
    _write(path, PROCEDURE_FORMAT, "procedure", procedure)


def read_shelf(folder: Path) -> tuple[tuple[Procedure, ...], tuple[Welder, ...], tuple[FileFault, ...]]:
    """Procedures and welders of a folder, and what is wrong with every file that cannot be read."""
    procedures: list[Procedure] = []
    welders: list[Welder] = []
    faults: list[FileFault] = []
    try:
        paths = sorted(folder.glob("*.json"))
    except OSError:
        paths = []
    for path in paths:
        try:
            if read_document(path).get("format") == WELDER_FORMAT:
                welders.append(read_welder(path))
            else:
                procedures.append(read_procedure(path))
        except FileFault as found:
            faults.append(found)
    return tuple(procedures), tuple(welders), tuple(faults)


def read_document(path: Path) -> dict[str, Any]:
    """A small JSON document; FileFault where it is none."""
    data = read_bytes(path, LARGEST_DOCUMENT)
    try:
        return parsed(data)
    except FileFault as found:
        raise found.of(path) from found


def _read(path: Path, wanted: str, key: str, kind: type[Value]) -> Value:
    document = read_document(path)
    if document.get("format") != wanted:
        raise FileFault(fault("file.format", "$.format", format=Figure(wanted, "name")), file=str(path))
    version = document.get("version")
    if not isinstance(version, int) or version > VERSION:
        raise FileFault(fault("file.version", "$.version", newest=Figure(VERSION, "count")), file=str(path))
    try:
        return converted(document.get(key), kind, f"$.{key}")
    except FileFault as found:
        raise found.of(path) from found


def _refuse(path: Path, prefix: str, faults: tuple[Remark, ...]) -> None:
    if faults:
        raise FileFault(*(at(f, prefix) for f in faults), file=str(path))


def _write(path: Path, format_: str, key: str, value: object) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    document = {"format": format_, "version": VERSION, key: value}
    write_atomically(path, msgspec.json.format(msgspec.json.encode(document), indent=2) + b"\n")
