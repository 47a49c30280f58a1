"""Bytes to values: JSON parsed and converted, every fault with its place."""

from __future__ import annotations

import gc
import json
import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

import msgspec
import numpy as np

from banister.core.remark import Figure, Remark, fault

DEEPEST = 64
TWICE_UP_TO_BYTES = 8_000_000
NEWLINE = b"\n"
Value = TypeVar("Value")


class FileFault(Exception):
    """A file that cannot be read or written: a remark per fault, with its place in the file, and the file's name if it has one."""

    def __init__(self, *remarks: Remark, file: str = "") -> None:
        super().__init__(*(f"{r.place.field}: {r.code}" for r in remarks))
        self.remarks, self.file = remarks, file

    def of(self, file: object) -> FileFault:
        """The same faults with the file's name."""
        return FileFault(*self.remarks, file=str(file))


@contextmanager
def kept_whole() -> Iterator[None]:
    """What is read is kept: to look through it for garbage meanwhile takes more than half of the time of a large file."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def parsed(data: bytes) -> dict[str, Any]:
    """A JSON object; FileFault with line and column where it is none."""
    if depth(data) > DEEPEST:
        raise FileFault(fault("file.deep", "$", most=Figure(DEEPEST, "count")))
    try:
        document = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise FileFault(fault("file.json", _broken_at(data, error), detail=Figure(str(error), "name"))) from error
    if not isinstance(document, dict):
        raise FileFault(fault("file.shape", "$", detail=Figure("object", "name")))
    if (twice := _key_twice(data)) is not None:
        raise FileFault(fault("file.twice", "$", key=Figure(twice[:60], "name")))
    return document


def _key_twice(data: bytes) -> str | None:
    """A key that an object has twice: which of both counts is nobody's to say. The parser that tells is slower, and only asked of files of a usual size."""
    if len(data) > TWICE_UP_TO_BYTES:
        return None
    found = list[str]()

    def pairs(own: list[tuple[str, Any]]) -> None:
        if not found and len({key for key, _ in own}) < len(own):
            seen = set[str]()
            found.append(next(key for key, _ in own if key in seen or seen.add(key)))  # type: ignore[func-returns-value]

    json.loads(data, object_pairs_hook=pairs)
    return found[0] if found else None


def converted(raw: Any, kind: type[Value], where: str) -> Value:
    """A parsed value as what it stands for; FileFault with its path from `where` where it does not fit."""
    try:
        return msgspec.convert(raw, kind, strict=True)
    except (msgspec.ValidationError, RecursionError, OverflowError) as error:
        text, _, path = str(error).partition(" - at `")
        field = path.rstrip("`").replace("$", where, 1) if path else where
        raise FileFault(fault("file.value", field, detail=Figure(text, "name"))) from error


def depth(data: bytes) -> int:
    """Deepest bracket nesting; brackets inside strings can only make it larger."""
    brackets = np.frombuffer(data.translate(_STEPS, _NOT_BRACKETS), dtype=np.int8)
    return int(brackets.cumsum(dtype=np.int64).max(initial=0))


_NOT_BRACKETS = bytes(b for b in range(256) if b not in b"[]{}")
_STEPS = bytes(1 if b in b"[{" else 255 for b in range(256))


def _broken_at(data: bytes, error: Exception) -> str:
    """Line and column where the text stops being JSON: where the parser says, else at its end."""
    told = re.search(r"byte (\d+)", str(error))
    at = int(told[1]) if told is not None else error.start if isinstance(error, UnicodeDecodeError) else len(data)
    line, start = data.count(NEWLINE, 0, at) + 1, data.rfind(NEWLINE, 0, at)
    return f"line {line}, column {at - start}"
