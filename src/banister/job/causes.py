"""The table of causes, as an open JSON file: what ships, or the user's own in its place."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import msgspec

from banister.core.inspect.causes import CauseTable
from banister.core.remark import Figure, fault
from banister.job.documents import read_document
from banister.job.library import data_file, own_folder
from banister.job.reading import FileFault, converted

FORMAT, FILE = "banister-causes", "causes.json"


class _Levels(msgspec.Struct):
    levels: dict[str, float]


class _Cause(msgspec.Struct):
    ratio: dict[str, dict[str, float]]


class _Group(msgspec.Struct):
    iso6520: list[str]
    share: dict[str, float]


class _CauseFile(msgspec.Struct):
    format: str
    version: int
    cap: float
    temper: float
    evidence: dict[str, _Levels]
    causes: dict[str, _Cause]
    kinds: dict[str, _Group]


@lru_cache(maxsize=1)
def shipped_causes() -> CauseTable:
    """The table that ships."""
    return causes_in(data_file(FILE))


def cause_table(folder: Path | None = None) -> CauseTable:
    """The user's own table where there is one, else the one that ships; FileFault where theirs cannot be read."""
    own = (own_folder() if folder is None else folder) / FILE
    return causes_in(own) if own.exists() else shipped_causes()


def causes_in(path: Path) -> CauseTable:
    """The table of a file; FileFault with the place of every fault."""
    raw = read_document(path)
    if raw.get("format") != FORMAT:
        raise FileFault(fault("file.format", "$.format", format=Figure(FORMAT, "name")), file=str(path))
    try:
        document = converted(raw, _CauseFile, "$")
    except FileFault as found:
        raise found.of(path) from found
    wrong = list(_faults(document))
    if wrong:
        raise FileFault(*(fault("causes.figure", where, value=Figure(value, "name")) for where, value in wrong), file=str(path))
    return CauseTable(
        levels={name: one.levels for name, one in document.evidence.items()}, ratios={name: one.ratio for name, one in document.causes.items()},
        shares={name: one.share for name, one in document.kinds.items()}, kinds={name: tuple(one.iso6520) for name, one in document.kinds.items()},
        cap=document.cap, temper=document.temper,
    )  # fmt: skip


def _faults(document: _CauseFile) -> list[tuple[str, str]]:
    """Figures that cannot be: shares that come to over one, ratios under nought, names that are nowhere."""
    found = [("$.cap", f"{document.cap:g}")] if document.cap < 1 or not 0 < document.temper <= 1 else []
    for name, one in document.kinds.items():
        if sum(one.share.values()) > 1 or min(one.share.values(), default=0.1) <= 0:
            found.append((f"$.kinds.{name}.share", f"{sum(one.share.values()):g}"))
        found += [(f"$.kinds.{name}.share.{cause}", cause) for cause in one.share if cause not in document.causes]
    for name, cause in document.causes.items():
        for evidence, levels in cause.ratio.items():
            if evidence not in document.evidence:
                found.append((f"$.causes.{name}.ratio.{evidence}", evidence))
                continue
            found += [(f"$.causes.{name}.ratio.{evidence}.{level}", f"{ratio:g}") for level, ratio in levels.items()
                      if level not in document.evidence[evidence].levels or ratio <= 0]  # fmt: skip
    return found
