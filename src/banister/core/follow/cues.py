"""A cue that was carried from a likely cause to the next pass: it stands on the page at the joint until a pass is ended after it."""

from __future__ import annotations

from collections.abc import Iterable

from banister.core.journal import Record

CUE = "cue"


def cue_of(records: Iterable[Record], joint: str) -> str:
    """The cause whose remedy is carried to the next pass of a joint; '' for none. Records with corrections applied."""
    found = ""
    for record in records:
        if record.j != joint:
            continue
        if record.k == CUE and isinstance(record.d.get("cause"), str):
            found = record.d["cause"]
        elif record.k == "pass-ended":
            found = ""
    return found
