"""Procedure, welder and test documents, and the rule file, as open JSON files in the user's library."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from banister.core.remark import Finding
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.judge.coverage import Covered, coverage
from banister.core.limits.procedure import FAMILIES, WELDER_FAMILIES, Procedure, Welder, WeldTest, procedure_faults, test_faults, welder_faults
from banister.core.limits.qualification import QualificationRows
from banister.job.codec import FileFault
from banister.job.files import write_atomically
from banister.job.library import data_file

PROCEDURE_FORMAT, WELDER_FORMAT, TEST_FORMAT, RULE_FORMAT = (
    "banister-procedure", "banister-welder", "banister-weld-test", "banister-qualification",
)  # fmt: skip
VERSION = 1
LARGEST_BYTES = 2_000_000
Value = TypeVar("Value")


class TestFile(msgspec.Struct):
    """A test record with the family whose rules are to be applied, for a procedure or for a welder."""

    family: str
    test: WeldTest
    kind: str = "procedure"


def covered_today(job: Job, joint: Joint, plan: Plan | None) -> tuple[Covered, ...]:
    """Joint and plan against the procedure and the welder the job names for it, as of today."""
    procedure, welder = job.procedure_of(joint), job.welder_of(joint)
    if procedure is None and welder is None:
        return ()
    return coverage(joint, plan, procedure, welder, rules(), date.today())


def library_folder() -> Path:
    """Where the user's procedures and welders are kept (XDG data folder)."""
    import platformdirs

    return Path(platformdirs.user_data_dir("banister")) / "procedures"


def rules(own: Path | None = None) -> QualificationRows:
    """The rules of qualified ranges: the user's own file where there is one, else the shipped one."""
    path = library_folder().parent / "qualification.json" if own is None else own
    path = path if path.exists() else data_file("qualification.json")
    return _rules_as_of(path, path.stat().st_mtime_ns)


@lru_cache(maxsize=2)
def _rules_as_of(path: Path, written_ns: int) -> QualificationRows:
    """Read once for as long as the file is as it was: every edit asks for them."""
    return _read(path, RULE_FORMAT, "rules", QualificationRows)


def read_procedure(path: Path) -> Procedure:
    """A procedure document; FileFault with the place of every fault."""
    found = _read(path, PROCEDURE_FORMAT, "procedure", Procedure)
    _refuse(path, "procedure", procedure_faults(found))
    return found


def read_welder(path: Path) -> Welder:
    """A welder's qualification; FileFault with the place of every fault."""
    found = _read(path, WELDER_FORMAT, "welder", Welder)
    _refuse(path, "welder", welder_faults(found))
    return found


def read_test(path: Path) -> TestFile:
    """A test record; FileFault with the place of every fault."""
    found = _read(path, TEST_FORMAT, "record", TestFile)
    known = FAMILIES if found.kind == "procedure" else WELDER_FAMILIES
    if found.kind not in ("procedure", "welder") or found.family not in known:
        raise FileFault(f"{path}: $.record: kind is procedure or welder, family one of {', '.join(known)}")
    _refuse(path, "record", test_faults(found.test, "test"))
    return found


def write_procedure(path: Path, procedure: Procedure) -> None:
    """Write a procedure document atomically."""
    _write(path, PROCEDURE_FORMAT, "procedure", procedure)


def write_welder(path: Path, welder: Welder) -> None:
    """Write a welder's qualification atomically."""
    _write(path, WELDER_FORMAT, "welder", welder)


def library() -> tuple[tuple[Procedure, ...], tuple[Welder, ...], tuple[str, ...]]:
    """Procedures and welders of the user's folder, and a line for every file that cannot be read."""
    procedures: list[Procedure] = []
    welders: list[Welder] = []
    faults: list[str] = []
    folder = library_folder()
    for path in sorted(folder.glob("*.json")) if folder.is_dir() else ():
        try:
            document = _document(path)
            if document.get("format") == WELDER_FORMAT:
                welders.append(read_welder(path))
            else:
                procedures.append(read_procedure(path))
        except FileFault as fault:
            faults += fault.lines
    return tuple(procedures), tuple(welders), tuple(faults)


def _document(path: Path) -> dict[str, Any]:
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise FileFault(f"{path}: larger than {LARGEST_BYTES // 1_000_000} MB and was not read")
        document = msgspec.json.decode(path.read_bytes())
    except OSError as error:
        raise FileFault(f"{path}: {error.strerror}") from error
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise FileFault(f"{path}: not valid JSON ({error})") from error
    if not isinstance(document, dict):
        raise FileFault(f"{path}: $: expected an object")
    return document


def _read(path: Path, wanted: str, key: str, kind: type[Value]) -> Value:
    document = _document(path)
    if document.get("format") != wanted:
        raise FileFault(f"{path}: $.format: expected '{wanted}'")
    version = document.get("version")
    if not isinstance(version, int) or version > VERSION:
        raise FileFault(f"{path}: $.version: this program reads version {VERSION}")
    try:
        return msgspec.convert(document.get(key), kind, strict=True)
    except (msgspec.ValidationError, OverflowError) as error:
        text, _, place = str(error).partition(" - at `")
        raise FileFault(f"{path}: {place.rstrip('`').replace('$', '$.' + key, 1) or '$.' + key}: {text}") from error


def _refuse(path: Path, key: str, faults: tuple[Finding, ...]) -> None:
    if faults:
        raise FileFault(*(f"{path}: $.{key}.{f.code}: {f.text}. {f.remedy}" for f in faults))


def _write(path: Path, format_: str, key: str, value: object) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    document = {"format": format_, "version": VERSION, key: value}
    write_atomically(path, msgspec.json.format(msgspec.json.encode(document), indent=2) + b"\n")
