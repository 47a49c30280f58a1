"""What happened at a joint, as records one after the other: bodies, marks, corrections, and the fold; no files here.

A record is a JSON body, a space and its mark: the first 32 hex digits of SHA-256 over the mark before it and the body.
Chaining shows alteration, removal and exchange; it cannot show that the end was cut off.
"""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from banister.core.canonical import MOST_WHOLE
from banister.core.remark import Figure, Remark, fault, watch
from banister.core.value import Struct, field, replace

FORMAT, VERSION = "banister-journal", 1
NO_MARK = "0" * 32
LONGEST_BYTES = 64 * 1024
CLOCK_SLACK_S = 2.0
KINDS = (
    "begun", "session", "lot", "care", "tack", "step", "note", "correct", "clock", "repaired",
    "pass-begun", "rod", "pass-ended", "temp", "clean", "measure", "flag", "deviation", "disposition", "hands",
    "observation", "looked", "no-access", "vouched", "asked", "found", "repair", "sign", "confirmed", "photo", "etched", "cue",
)  # fmt: skip
"""Kinds of records this program writes; a journal of a later one may hold others."""
NOT_CORRECTED = ("begun", "sign", "correct", "clock", "repaired")


class Record(Struct, frozen=True, kw_only=True):
    """One record: number, wall clock (UTC), boot clock and boot, kind, joint and pass, its data; `at` when it was entered later."""

    n: int
    t: str
    m: float
    b: str
    k: str
    j: str = ""
    p: str = ""
    at: str = ""
    d: Mapping[str, Any] = field(default_factory=dict)

    def number(self, name: str) -> float:
        """A figure it holds; nought for what is none."""
        value = self.d.get(name)
        return value if isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value) else 0.0

    def body(self) -> str:
        """The record as one line of JSON, its keys in the order they are written in; ValueError where a figure is none."""
        found: dict[str, Any] = {"n": self.n, "t": self.t, "m": round(self.m, 3), "b": self.b, "k": self.k}
        found |= {key: value for key, value in (("j", self.j), ("p", self.p), ("at", self.at)) if value}
        return json.dumps(found | {"d": dict(self.d)}, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def mark_of(before: str, body: str) -> str:
    """The mark of a body behind the mark before it."""
    return hashlib.sha256(f"{before}\n{body}".encode()).hexdigest()[:32]


def line_of(record: Record, before: str) -> tuple[bytes, str]:
    """A record as it is written, and its mark; ValueError for one that could not be read again."""
    body = record.body()
    _recorded(body)
    mark = mark_of(before, body)
    line = f"{body} {mark}\n".encode()
    if len(line) > LONGEST_BYTES:
        raise ValueError("a record of at most 64 kB")
    return line, mark


class Chain(Struct, frozen=True):
    """What was read: the records that hold, the mark of the last one, where the good part ends (bytes), and what is wrong behind it."""

    records: tuple[Record, ...] = ()
    mark: str = NO_MARK
    good_bytes: int = 0
    torn: bool = False
    fault: Remark | None = None

    @property
    def whole(self) -> bool:
        """True where nothing is wrong but perhaps a torn tail."""
        return self.fault is None

    def upto(self, n: int) -> Chain:
        """The chain as it was when it held so many records; ValueError where it never did."""
        if not 0 <= n <= len(self.records):
            raise ValueError(f"a journal of at least {n} records")
        mark = NO_MARK
        for record in self.records[:n]:
            mark = mark_of(mark, record.body())
        return Chain(self.records[:n], mark)

    @property
    def id(self) -> str:
        """The journal's own id: the mark of its first record."""
        return mark_of(NO_MARK, self.records[0].body()) if self.records else ""


class Known(Struct, frozen=True, kw_only=True):
    """What a job file knows of its journal: its id, and how many records it held with which mark when it was last seen."""

    id: str = ""
    n: int = 0
    mark: str = NO_MARK


def known_of(chain: Chain) -> Known | None:
    """What a job is to know of a journal; None of one that holds nothing."""
    return Known(id=chain.id, n=len(chain.records), mark=chain.mark) if chain.records else None


def differs_from_known(chain: Chain, known: Known | None) -> Remark | None:
    """That a journal is not the one a job knows, or lost its end since: what the chain by itself cannot show. None where it goes on from there."""
    if known is None:
        return None
    if not chain.records:
        return watch("journal.missing", n=Figure(known.n, "count"))
    if chain.id != known.id:
        return watch("journal.other", n=Figure(known.n, "count"))
    if len(chain.records) < known.n:
        return watch("journal.cut", n=Figure(len(chain.records), "count"), known=Figure(known.n, "count"))
    if chain.upto(known.n).mark != known.mark:
        return watch("journal.rewritten", n=Figure(known.n, "count"))
    return None


def chained(data: bytes) -> Chain:
    """Verify a journal from its start. A faulty last line without its end is a torn tail; a fault before the last line is damage."""
    records, mark, good = list[Record](), NO_MARK, 0
    lines = data.split(b"\n")
    for i, line in enumerate(lines):
        is_last = i == len(lines) - 1
        if is_last and not line:
            break
        record, own = _read(line, mark, len(records) + 1)
        if record is None:
            wrong = None if is_last else _damage(len(records) + 1, i == len(lines) - 2 and not lines[-1])
            return Chain(tuple(records), mark, good, is_last, wrong)
        records.append(record)
        mark, good = own, good + len(line) + (not is_last)
    return Chain(tuple(records), mark, good)


def _damage(number: int, is_last: bool) -> Remark:
    return fault("journal.last" if is_last else "journal.broken", "", n=Figure(number, "count"), before=Figure(number - 1, "count"))


def _read(line: bytes, before: str, number: int) -> tuple[Record | None, str]:
    """A line as a record that follows the chain; None where it does not."""
    body, _, mark = line.rpartition(b" ")
    try:
        text = body.decode()
        if mark.decode() != mark_of(before, text):
            return None, ""
        record = _recorded(text)
    except ValueError:
        return None, ""
    return (record, mark.decode()) if record.n == number else (None, "")


def _none(constant: str) -> float:
    raise ValueError(constant)


def _whole(digits: str) -> int:
    """A whole number as JSON can hold it (RFC 8785): a longer one is no figure of a record."""
    if abs(found := int(digits)) > MOST_WHOLE:
        raise ValueError(digits)
    return found


_BODY = json.JSONDecoder(parse_constant=_none, parse_int=_whole)


def _recorded(text: str) -> Record:
    """A body as the record it is; ValueError for what is none, whatever mark it bears."""
    try:
        raw = _BODY.decode(text)
        words = [raw["t"], raw["b"], raw["k"], *(raw.get(key, "") for key in ("j", "p", "at"))]
        if not all(isinstance(word, str) for word in words) or not isinstance(raw["d"], dict) or type(raw["n"]) is not int or not math.isfinite(raw["m"]):
            raise ValueError("a field of another form")
    except (KeyError, TypeError, AttributeError, RecursionError) as why:
        raise ValueError(f"no record: {why}") from why
    t, b, k, j, p, at = words
    for time in (t, at) if at else (t,):
        datetime.fromisoformat(time)
    return Record(n=raw["n"], t=t, m=raw["m"], b=b, k=k, j=j, p=p, at=at, d=raw["d"])


def clock_jump_s(last: Record | None, t_s: float, m: float, b: str, last_t_s: float) -> float | None:
    """By how much the wall clock was set since the last record of the same boot; None where it was not."""
    if last is None or last.b != b:
        return None
    jump = (t_s - last_t_s) - (m - last.m)
    return jump if abs(jump) > CLOCK_SLACK_S else None


class Corrected(Struct, frozen=True):
    """Records after corrections, and what of the corrections changes nothing."""

    records: tuple[Record, ...]
    remarks: tuple[Remark, ...] = ()


def corrected(records: Sequence[Record]) -> Corrected:
    """The records with what `correct` sets or voids; nothing is erased, the newest correction wins."""
    found, remarks = {r.n: r for r in records}, list[Remark]()
    for r in records:
        if r.k != "correct":
            continue
        of = r.d.get("of")
        target = found.get(of) if isinstance(of, int) else None
        original = records[of - 1] if isinstance(of, int) and 0 < of <= len(records) else None
        sets = r.d.get("set", {})
        if original is None or original.n >= r.n or original.k in NOT_CORRECTED or not isinstance(sets, Mapping):
            remarks.append(watch("journal.correct", n=Figure(r.n, "count"), of=Figure(str(of), "name")))
            continue
        if r.d.get("void"):
            found.pop(original.n, None)
            continue
        base = target or original
        changes = dict(sets)
        where = {key: str(changes.pop(key, value)) for key, value in (("j", base.j), ("p", base.p))}
        found[original.n] = replace(base, d={**base.d, **changes}, j=where["j"], p=where["p"])
    return Corrected(tuple(found[n] for n in sorted(found)), tuple(remarks))


class Folded(Struct, frozen=True):
    """A joint as its journal tells it: lots, events of care, tacks with the gap read, steps and notes, in their order."""

    lots: tuple[Record, ...] = ()
    care: tuple[Record, ...] = ()
    tacks: tuple[Record, ...] = ()
    steps: tuple[Record, ...] = ()
    notes: tuple[Record, ...] = ()
    remarks: tuple[Remark, ...] = ()


def folded(records: Iterable[Record], joint: str) -> Folded:
    """What the records come to for a joint; those of no joint belong to every one."""
    after = corrected(tuple(records))
    own = [r for r in after.records if r.j in ("", joint)]
    by = {kind: tuple(r for r in own if r.k == kind) for kind in ("lot", "care", "tack", "step", "note")}
    return Folded(by["lot"], by["care"], by["tack"], by["step"], by["note"], after.remarks)
