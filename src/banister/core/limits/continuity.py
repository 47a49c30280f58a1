"""Whether a welder's mark is still in force: days that count, none over six calendar months apart, the retest its certificate asks for.

A gap that was too large ends it on the last day it held; later use does not heal it. The day itself counts.
"""

from __future__ import annotations

import calendar
from collections.abc import Iterable
from datetime import date

from banister.core.limits.procedure import EVERY_2_YEARS, EVERY_3_YEARS
from banister.core.value import Struct

MONTHS = 6
SOON_DAYS = 30
IN_FORCE, SOON, LAPSED, RETEST, UNTESTED = "in_force", "soon", "lapsed", "retest", "untested"
"""States; each is the word `continuity.KEY`."""
CONFIRMED_FAMILIES = ("iso9606-1",)
"""Families that count a confirmation signed by the coordinator, not the use itself."""


class Used(Struct, frozen=True):
    """A day a welder used a process: in which job and joint, whether the coordinator confirmed it."""

    on: date
    job: str = ""
    joint: str = ""
    is_confirmed: bool = False


class Continuity(Struct, frozen=True):
    """The state of a mark on a day: in force until (or lapsed on), the days that counted, what was named and not counted."""

    state: str
    until: date | None
    counted: tuple[date, ...] = ()
    not_counted: tuple[tuple[date, str], ...] = ()
    """Days with why: `future`, `before_test`, `unconfirmed`."""


def later(day: date, months: int) -> date:
    """So many calendar months on, the last day of a month that is shorter.

    >>> later(date(2025, 8, 31), 6).isoformat()
    '2026-02-28'
    """
    at = day.year * 12 + day.month - 1 + months
    year, month = divmod(at, 12)
    return date(year, month + 1, min(day.day, calendar.monthrange(year, month + 1)[1]))


def continuity(tested_on: date | None, used: Iterable[Used], today: date, family: str = "", retest: str = "", months: int = MONTHS) -> Continuity:
    """The state of a mark: from the test on, every counted day keeps it for so many months."""
    if tested_on is None:
        return Continuity(UNTESTED, None)
    counted, left = [tested_on], list[tuple[date, str]]()
    for one in sorted(used, key=lambda u: u.on):
        why = _why_not(one, tested_on, today, family)
        if why:
            left.append((one.on, why))
        else:
            counted.append(one.on)
    until = tested_on
    held = list[date]()
    for day in counted:
        if held and day > until:
            break
        held.append(day)
        until = later(day, months)
    ends = _retest_by(tested_on, retest)
    if ends is not None and ends < until:
        state = RETEST if today > ends else SOON if (ends - today).days < SOON_DAYS else IN_FORCE
        return Continuity(state, ends, tuple(held), tuple(left))
    state = LAPSED if today > until else SOON if (until - today).days < SOON_DAYS else IN_FORCE
    return Continuity(state, until, tuple(held), tuple(left))


def _why_not(one: Used, tested_on: date, today: date, family: str) -> str:
    """Why a day does not count; '' for one that does."""
    if one.on > today:
        return "future"
    if one.on < tested_on:
        return "before_test"
    return "unconfirmed" if family in CONFIRMED_FAMILIES and not one.is_confirmed else ""


def _retest_by(tested_on: date, retest: str) -> date | None:
    """The last day before a new test is due; None where none is."""
    years = {EVERY_3_YEARS: 3, EVERY_2_YEARS: 2}.get(retest)
    return None if years is None else later(tested_on, 12 * years)
