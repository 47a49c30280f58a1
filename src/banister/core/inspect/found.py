"""What was found in the end to have made a fault: kept and counted, never fed back into the table by itself."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from banister.core.inspect.advising import Advised
from banister.core.inspect.causes import ELSE
from banister.core.inspect.rates import FEWEST, share_interval
from banister.core.journal import Record
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

FOUND = "found"
"""The kind of its records."""


class FoundCause(Struct, frozen=True):
    """What was found for an observation: the record's number, the observation, the cause, and what had been named, the likeliest first."""

    n: int
    of: int
    cause: str
    named: tuple[str, ...]

    @property
    def was_first(self) -> bool:
        """True where it was the likeliest."""
        return self.named[:1] == (self.cause,)

    @property
    def was_named(self) -> bool:
        """True where it was among those named."""
        return self.cause in self.named


def finding(of: int, cause: str, advice: Advised) -> dict[str, Any]:
    """What the record of a cause that was found holds."""
    return {"of": of, "cause": cause, "named": [one.cause for one in advice.named], "known": dict(advice.seen)}


def causes_found(records: Iterable[Record], joint: str | None = None) -> tuple[FoundCause, ...]:
    """The causes found (records after corrections), of a joint or of all: the last word for each observation."""
    found = dict[int, FoundCause]()
    for r in records:
        if r.k == FOUND and joint in (None, r.j) and isinstance(r.d.get("of"), int):
            named = tuple(str(one) for one in r.d.get("named", ()))
            found[r.d["of"]] = FoundCause(r.n, r.d["of"], str(r.d.get("cause", ELSE)), named)
    return tuple(found.values())


def counted_said(found: Sequence[FoundCause], say: Speech) -> str:
    """How often the first of the list was found, and one of those named; with so few the doubt is said instead of a share."""
    if not found:
        return say("advise.counted.none")
    first, among = sum(one.was_first for one in found), sum(one.was_named for one in found)
    told = say("advise.counted", n=len(found), first=str(first), among=str(among))
    if len(found) < FEWEST:
        return f"{told} {say('advise.counted.few')}"
    low, high = share_interval(first, len(found))
    return f"{told} {say('advise.counted.share', window=Figure((round(100 * low), round(100 * high)), 'percent'))}"
