"""Which pieces are cut from a test weld, by family, thickness and position: open data, from memory but for what is marked sure."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import msgspec

from banister.core.inspect.cutting import Asked
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, fault
from banister.core.value import Struct, replace
from banister.job.documents import read_document
from banister.job.library import data_file
from banister.job.reading import FileFault, converted

FORMAT = "banister-test-pieces"
FIXED = ("5G", "6G")
_WHEN = re.compile(r"t (<|<=|>|>=) ([0-9.]+)")


class _Rule(msgspec.Struct):
    family: str
    purpose: str
    form: str
    pieces: list[str]
    order: str
    certainty: str
    when: str = ""
    discard_mm: float = 25.0
    include: list[str] = []
    note: str = ""
    angles_deg: list[float] = []
    shift_deg: float = 0.0


class _File(msgspec.Struct):
    format: str
    version: int
    widths_mm: dict[str, tuple[float, str]]
    kerf_mm: float
    rules: list[_Rule]


class PieceRule(Struct, frozen=True):
    """A rule: its place in the file, family, purpose, the pieces in their order, where they are cut round a pipe, how surely it is remembered."""

    number: int
    family: str
    purpose: str
    pieces: tuple[str, ...]
    order: str
    certainty: str
    discard_mm: float
    angles_deg: tuple[float, ...]
    note: str
    wants_restart: bool


class PieceTable(Struct, frozen=True):
    """Widths of pieces (mm, with their certainty), the kerf, and the rules."""

    widths_mm: dict[str, tuple[float, str]]
    kerf_mm: float
    rules: tuple[tuple[PieceRule, _Rule], ...]

    def offered(self, joint: Joint) -> tuple[PieceRule, ...]:
        """The rules that speak of such a joint."""
        return tuple(rule for rule, raw in self.rules if _form_holds(raw.form, joint) and _thickness_holds(raw.when, joint.prep.thickness_mm))

    def asked(self, pieces: Sequence[str], rule: PieceRule | None = None) -> Asked:
        """A list of pieces, or a rule's, as they are cut here."""
        known = [self.widths_mm[piece] for piece in pieces]
        found = Asked(tuple(pieces), tuple(width for width, _ in known), tuple(sure for _, sure in known), kerf_mm=self.kerf_mm)
        if rule is None:
            return found
        return replace(found, angles_deg=rule.angles_deg, order=rule.order, discard_mm=rule.discard_mm, certainty=rule.certainty,
                       wants_restart=rule.wants_restart, by_rule=True)  # fmt: skip


@lru_cache(maxsize=1)
def piece_table() -> PieceTable:
    """What ships."""
    path = data_file("test-pieces.json")
    raw = read_document(path)
    if raw.get("format") != FORMAT:
        raise FileFault(fault("file.format", "$.format", format=Figure(FORMAT, "name")), file=str(path))
    found: Any = converted(raw, _File, "$")
    return PieceTable(found.widths_mm, found.kerf_mm, tuple((_rule(i, raw_), raw_) for i, raw_ in enumerate(found.rules, 1)))


def _rule(number: int, raw: _Rule) -> PieceRule:
    angles = tuple((angle + raw.shift_deg) % 360.0 for angle in raw.angles_deg)
    return PieceRule(number, raw.family, raw.purpose, tuple(raw.pieces), raw.order, raw.certainty, raw.discard_mm, angles, raw.note, bool(raw.include))


def _form_holds(form: str, joint: Joint) -> bool:
    kind, _, places = form.partition(" ")
    if kind != joint.piece.form:
        return False
    if places == "fixed":
        return joint.piece.position in FIXED
    return not places or joint.piece.position in places.split()


def _thickness_holds(when: str, t: float) -> bool:
    found = _WHEN.fullmatch(when)
    if found is None:
        return True
    limit = float(found.group(2))
    return {"<": t < limit, "<=": t <= limit, ">": t > limit, ">=": t >= limit}[found.group(1)]
