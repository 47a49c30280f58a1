"""Columns people measured and typed: CSV with units in its head, comma or semicolon, point or decimal comma; every fault with line and column.

Nothing is taken from a file with faults.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from pathlib import Path

from banister.core.remark import Figure, Refused, Remark, fault
from banister.core.typed import typed
from banister.core.units import MM_PER_INCH
from banister.core.value import Struct
from banister.job.files import read_bytes
from banister.job.reading import FileFault

LARGEST_BYTES = 1_000_000
UNITS = {"mm": ("length", 1.0), "in": ("length", MM_PER_INCH), "deg": ("angle", 1.0), "1": ("count", 1.0)}
WORDS = ("clock", "note")
TEXT, PLAIN = "text", "1"
_HEAD = re.compile(r"([a-z_]+?)_(mm|in|deg)", re.IGNORECASE)


class Row(Struct, frozen=True):
    """One line: its number in the file and its cells by column, as typed and as read (mm, degrees; None where empty)."""

    line: int
    texts: Mapping[str, str]
    values: Mapping[str, float | None]


class Columns(Struct, frozen=True):
    """The rows of a file."""

    rows: tuple[Row, ...]


def read_columns(path: Path, known: Sequence[str], words: Sequence[str] = WORDS, counts: Sequence[str] = ()) -> Columns:
    """The rows of a CSV file with these columns, some of them words or plain numbers; FileFault names every cell that is wrong."""
    data = read_bytes(path, LARGEST_BYTES)
    try:
        return columns_in(data, known, words, counts)
    except FileFault as broken:
        raise broken.of(path) from None


def columns_in(data: bytes, known: Sequence[str], words: Sequence[str] = WORDS, counts: Sequence[str] = ()) -> Columns:
    """The rows of a CSV document."""
    if len(data) > LARGEST_BYTES:
        raise FileFault(fault("columns.large", "", most=Figure(LARGEST_BYTES // 1000, "count")))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileFault(fault("columns.text", f"byte {error.start}")) from error
    lines = text.splitlines()
    separator = ";" if lines and ";" in lines[0] else ","
    table = list(csv.reader(io.StringIO(text), delimiter=separator))
    if not table:
        raise FileFault(fault("columns.empty", "line 1"))
    heads = [_head(cell, known, words, counts) for cell in table[0]]
    faults = [found for found in heads if isinstance(found, Remark)]
    if {"mm", "in"} <= {head[1] for head in heads if isinstance(head, tuple)}:
        faults.append(fault("columns.mixed", "line 1"))
    if faults:
        raise FileFault(*faults)
    columns = [head for head in heads if isinstance(head, tuple)]
    rows = list[Row]()
    for number, cells in enumerate(table[1:], start=2):
        row, wrong = _row(number, cells, columns)
        faults += wrong
        if row is not None:
            rows.append(row)
    if not rows and not faults:
        faults.append(fault("columns.empty", "line 2"))
    if faults:
        raise FileFault(*faults)
    return Columns(tuple(rows))


def _head(cell: str, known: Sequence[str], words: Sequence[str], counts: Sequence[str]) -> tuple[str, str] | Remark:
    """A heading as the column's name and its unit."""
    plain, found = cell.strip().lower(), _HEAD.fullmatch(cell.strip())
    if plain in known and plain in words:
        return plain, TEXT
    if plain in known and plain in counts:
        return plain, PLAIN
    if found is not None and found.group(1).lower() in known:
        return found.group(1).lower(), found.group(2).lower()
    return fault("columns.head", "line 1", name=Figure(cell.strip()[:40], "name"), known=Figure(tuple(known), "names"))


def _row(number: int, cells: Sequence[str], columns: Sequence[tuple[str, str]]) -> tuple[Row | None, list[Remark]]:
    if not any(cell.strip() for cell in cells):
        return None, [fault("columns.row", f"line {number}")]
    if len(cells) > len(columns):
        return None, [fault("columns.many", f"line {number}", n=Figure(len(columns), "count"))]
    texts, values, faults = dict[str, str](), dict[str, float | None](), list[Remark]()
    for (name, unit), cell in zip(columns, [*cells, *[""] * (len(columns) - len(cells))], strict=True):
        texts[name] = cell.strip()
        if unit == TEXT or not cell.strip():
            values[name] = None
            continue
        try:
            values[name] = _number(cell.strip(), unit)
        except Refused as refused:
            faults += [fault(r.code, f"line {number}, {name if unit == PLAIN else f'{name}_{unit}'}", **r.figures) for r in refused.remarks]
    return (None if faults else Row(number, texts, values)), faults


def _number(cell: str, unit: str) -> float:
    """A bare number in the unit of its column; a unit of its own there is asked about."""
    kind, factor = UNITS[unit]
    plain = cell.replace(",", ".", 1) if cell.count(",") == 1 and "." not in cell else cell
    if not re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)", plain):
        try:
            typed(cell, kind)
        except Refused:
            raise Refused(fault("columns.number", "", text=Figure(cell[:20], "name"))) from None
        raise Refused(fault("columns.unit", "", text=Figure(cell[:20], "name"), unit=Figure(unit, "name")))
    return float(plain) * factor
