"""Records and continuity: the reference cases, a walk day by day, one digest for one record, what a later change does to a signature."""

from __future__ import annotations

import json
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from banister.core.limits.continuity import IN_FORCE, LAPSED, RETEST, SOON, UNTESTED, Used, continuity, later

CASES = json.loads((Path(__file__).parents[1] / "cases" / "inspection.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", [pytest.param(c, id=c["id"]) for c in CASES if c["fn"] == "continuity"])
def test_continuity_of_a_mark(case: Any) -> None:
    i, wanted = case["inputs"], case["expected"]
    used = [Used(date.fromisoformat(day)) for day in i["used_on"]]
    found = continuity(date.fromisoformat(i["test_on"]), used, date.fromisoformat(i["today"]), months=i["months"])
    held = found.state in (IN_FORCE, SOON)
    assert (("in force" if held else found.state), found.until.isoformat()) == (wanted["state"], wanted["until"])


DAYS = st.dates(date(2024, 1, 1), date(2027, 12, 31))


@given(DAYS, st.lists(DAYS, max_size=8), DAYS)
def test_it_is_that_of_a_walk_day_by_day(tested: date, used: list[date], today: date) -> None:
    found = continuity(tested, [Used(day) for day in used], today)
    days = {day for day in used if tested <= day <= today}
    held_until, day = later(tested, 6), tested
    while day <= held_until:
        if day in days:
            held_until = later(day, 6)
        day += timedelta(days=1)
    assert found.until == held_until and (found.state == LAPSED) == (today > held_until)
    assert all(why == ("future" if day > today else "before_test") for day, why in found.not_counted)
    assert len(found.not_counted) == sum(not tested <= day <= today for day in used)


def test_confirmations_retests_and_what_is_not_known() -> None:
    test, today = date(2025, 1, 15), date(2025, 6, 30)
    used = [Used(date(2025, 3, 1)), Used(date(2025, 5, 1), is_confirmed=True)]
    signed = continuity(test, used, today, "iso9606-1")
    assert signed.counted == (test, date(2025, 5, 1)) and signed.not_counted == ((date(2025, 3, 1), "unconfirmed"),) and signed.until == date(2025, 11, 1)
    assert continuity(test, used, today, "asme-ix").counted == (test, date(2025, 3, 1), date(2025, 5, 1))
    assert continuity(test, used, date(2025, 10, 10), "asme-ix").state == SOON and continuity(None, used, today).state == UNTESTED
    often = [Used(later(test, 5 * k)) for k in range(1, 9)]
    assert continuity(test, often, date(2028, 1, 16), retest="3-years").state == RETEST
    assert continuity(test, often, date(2028, 1, 15), retest="3-years").state in (SOON, IN_FORCE)
    assert continuity(test, often, date(2027, 1, 16), retest="2-years-two-welds").state == RETEST
    assert continuity(test, often, date(2028, 5, 16), retest="open").state == IN_FORCE
