"""A week of the year, as a list of welds has it."""

from __future__ import annotations

import re

from banister.core.remark import Figure, Refused, fault

_WEEK = re.compile(r"(\d{4})-?[wW](\d{1,2})")


def typed_week(text: str) -> str:
    """A week as it is kept: 2026-W48; '' for none. Refused says how it should read.

    >>> typed_week("2026-w5"), typed_week(" ")
    ('2026-W05', '')
    """
    plain = text.strip()
    if not plain:
        return ""
    found = _WEEK.fullmatch(plain)
    if found is None or not 1 <= int(found.group(2)) <= 53:
        raise Refused(fault("joint.week", "week", text=Figure(plain[:20], "name")))
    return f"{found.group(1)}-W{int(found.group(2)):02d}"
