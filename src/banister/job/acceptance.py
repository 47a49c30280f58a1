"""Acceptance sets and kinds of imperfections, as open JSON files: what ships, and the user's own beside or in place of it."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Any

import msgspec

from banister.core.inspect.kinds import Kind
from banister.core.inspect.sets import AcceptanceSet, Formula, Item, Sum, When, set_digest, set_faults
from banister.core.remark import Figure, Remark, at, fault
from banister.job.documents import read_document
from banister.job.library import data_file, own_folder
from banister.job.reading import FileFault, converted

SET_FORMAT, KIND_FORMAT = "banister-acceptance", "banister-kinds"
FILE = "acceptance-sets.json"
VERSION = 1


class _Formula(msgspec.Struct, forbid_unknown_fields=True):
    min: list[dict[str, float]] | None = None
    max: list[dict[str, float]] | None = None


class _Sum(msgspec.Struct, forbid_unknown_fields=True):
    of: str
    window: float
    at_most: float
    short_weld: str = "as it is"
    over: float | _Formula | None = None
    inclusive: bool = False
    also_at_most_share: float | None = None


class _When(msgspec.Struct, forbid_unknown_fields=True):
    t: list[float | str | None] | None = None
    flag: str = ""
    not_: str = msgspec.field(name="not", default="")


class _Item(msgspec.Struct, forbid_unknown_fields=True):
    kinds: list[str]
    rule: str
    certainty: str
    clause: str = ""
    measure: str = ""
    limit: _Formula | None = None
    sum: _Sum | None = None
    sums: list[_Sum] = []
    sum_certainty: str = ""
    when: _When | None = None


class _Set(msgspec.Struct, forbid_unknown_fields=True):
    id: str
    title: str
    items: list[_Item]
    overlap: str = "sum"


class _SetFile(msgspec.Struct):
    format: str
    version: int
    sets: list[Any]


class _KindFile(msgspec.Struct):
    format: str
    version: int
    kinds: list[Kind]


@lru_cache(maxsize=1)
def kinds() -> dict[str, Kind]:
    """The kinds that ship, by id."""
    path = data_file("kinds.json")
    return {kind.id: kind for kind in _read(path, _KindFile, KIND_FORMAT).kinds}


@lru_cache(maxsize=1)
def shipped_sets() -> dict[str, AcceptanceSet]:
    """The sets that ship, by id."""
    return {one.id: one for one in sets_in(data_file(FILE))}


def acceptance_sets(folder: Path | None = None) -> dict[str, AcceptanceSet]:
    """Every set: the user's own in the place of one that ships under its id; FileFault where theirs cannot be read."""
    own = (own_folder() if folder is None else folder) / FILE
    return shipped_sets() | ({one.id: one for one in sets_in(own)} if own.exists() else {})


def sets_in(path: Path) -> tuple[AcceptanceSet, ...]:
    """The sets of a file; FileFault with the place of every fault."""
    document = _read(path, _SetFile, SET_FORMAT)
    found, faults = list[AcceptanceSet](), list[Remark]()
    for i, raw in enumerate(document.sets):
        where = f"$.sets[{i}]"
        try:
            one = _made(converted(raw, _Set, where), set_digest(raw))
        except FileFault as fault_:
            faults += fault_.remarks
            continue
        except (ValueError, TypeError):
            faults.append(fault("set.head", where, id=Figure(str(raw.get("id") if isinstance(raw, dict) else "")[:40], "name")))
            continue
        faults += [at(remark, where) for remark in set_faults(one, kinds())]
        found.append(one)
    if faults:
        raise FileFault(*faults, file=str(path))
    return tuple(found)


def _made(raw: _Set, digest: str) -> AcceptanceSet:
    return AcceptanceSet(id=raw.id, title=raw.title, overlap=raw.overlap, digest=digest, items=tuple(map(_item, raw.items)))


def _item(raw: _Item) -> Item:
    sums = (*(() if raw.sum is None else (raw.sum,)), *raw.sums)
    return Item(kinds=tuple(raw.kinds), rule=raw.rule, certainty=raw.certainty, clause=raw.clause, measure=raw.measure, limit=_formula(raw.limit),
                sums=tuple(map(_sum, sums)), sum_certainty=raw.sum_certainty, when=_when(raw.when))  # fmt: skip


def _formula(raw: _Formula | float | None) -> Formula | None:
    if raw is None:
        return None
    if not isinstance(raw, _Formula):
        return Formula(({"c": float(raw)},))
    return Formula(tuple(raw.min), True) if raw.min is not None else Formula(tuple(raw.max or ()), False)


def _sum(raw: _Sum) -> Sum:
    return Sum(of=raw.of, window=raw.window, at_most=raw.at_most, short_weld=raw.short_weld, over=_formula(raw.over), inclusive=raw.inclusive,
               share=raw.also_at_most_share)  # fmt: skip


def _when(raw: _When | None) -> When:
    if raw is None:
        return When()
    low, high, *edge = raw.t if raw.t is not None else (0.0, None)
    if isinstance(low, str) or isinstance(high, str):
        raise ValueError("a band of two figures")
    return When(low=float(low or 0.0), high=float("inf") if high is None else float(high), edge=str(edge[0]) if edge else "", flag=raw.flag, without=raw.not_)


def _read(path: Path, kind: Any, wanted: str) -> Any:
    raw = read_document(path)
    if raw.get("format") != wanted or raw.get("version") != VERSION:
        raise FileFault(fault("file.format", "$.format", format=Figure(wanted, "name")), file=str(path))
    try:
        return converted(raw, kind, "$")
    except FileFault as found:
        raise found.of(path) from found
