"""A welding procedure and a welder's qualification, as documents of their own."""

from __future__ import annotations

import math
from datetime import date

from banister.core.limits.windows import EVERY, ROLES, Window, window_faults
from banister.core.remark import Figure, Remark, at, fault, unknown_word
from banister.core.value import Struct, replace

FAMILIES = {"iso15614-1": "ISO 15614-1", "asme-ix": "ASME IX", "aws-d1.1": "AWS D1.1"}
WELDER_FAMILIES = {"iso9606-1": "ISO 9606-1", "asme-ix": "ASME IX", "aws-d1.1": "AWS D1.1"}


ARC_ENERGY_FAMILIES = ("asme-ix", "aws-d1.1")
"""Families whose heat input is V I 60 / v with k = 1 (ASME IX QW-409.1, AWS D1.1); the others' has the process's own k."""


class WeldTest(Struct, frozen=True, kw_only=True):
    """What was welded and tested. `diameter_mm` 0 is plate; None was not recorded."""

    thickness_mm: float
    diameter_mm: float = 0.0
    position: str = ""
    progression: str = "up"
    heat_input_kj_mm: float | None = None
    preheat_c: float | None = None
    interpass_c: float | None = None
    impact: bool = False
    hardness: bool = False
    layers: int = 3
    f_number: int | None = None
    backing: bool = False


class Span(Struct, frozen=True, kw_only=True):
    """A qualified range of one variable; None leaves an end open."""

    item: str
    low: float | None = None
    high: float | None = None


class Override(Struct, frozen=True, kw_only=True):
    """A range the user vouches for against the derived one, and why."""

    item: str
    low: float | None = None
    high: float | None = None
    reason: str


class Consumable(Struct, frozen=True, kw_only=True):
    """What a role may be welded with: a type (E7018), or everything of an F-number; '*' is every role."""

    role: str = EVERY
    type: str = ""
    f_number: int | None = None


class Procedure(Struct, frozen=True, kw_only=True):
    """A qualified procedure. What is empty or None was not stated, and is not judged.

    `spans` state ranges of thickness, diameter (mm) outright; `qualified_by` lets them be derived.
    """

    id: str
    revision: str = ""
    title: str = ""
    family: str = "iso15614-1"
    processes: tuple[str, ...] = ()
    base_metal: str = ""
    spans: tuple[Span, ...] = ()
    positions: tuple[str, ...] = ()
    progressions: tuple[str, ...] = ()
    consumables: tuple[Consumable, ...] = ()
    windows: tuple[Window, ...] = ()
    backing: str = ""
    most_bead_thickness_mm: float | None = None
    cleaning: str = ""
    hydrogen: str = ""
    qualified_by: WeldTest | None = None
    overrides: tuple[Override, ...] = ()


class Welder(Struct, frozen=True, kw_only=True):
    """A welder's own qualification: mark, family, the test, and when the process was last used (ISO date).

    `tested_on` is the day of the test ('' where it is not known), `retest` the scheme its certificate says it is kept up by.
    """

    mark: str
    family: str = "iso9606-1"
    process: str = "SMAW"
    test: WeldTest
    last_used: str = ""
    tested_on: str = ""
    retest: str = ""


EVERY_3_YEARS, EVERY_2_YEARS, OPEN = "3-years", "2-years-two-welds", "open"
RETESTS = ("", EVERY_3_YEARS, EVERY_2_YEARS, OPEN)
"""How a certificate is kept up: a new test every three years; two welds of the last six months tested every two; open with a quality system."""


def is_day(text: str) -> bool:
    """True for a day as documents hold it.

    >>> is_day("2026-11-27"), is_day("soon")
    (True, False)
    """
    try:
        date.fromisoformat(text)
    except ValueError:
        return False
    return True


BACKED = ("", "with", "without", "either")
TEST_LIMITS = {
    "thickness_mm": ("length", 0.5, 500.0), "diameter_mm": ("length", 0.0, 10_000.0), "heat_input_kj_mm": ("energy", 0.05, 20.0),
    "preheat_c": ("set_temperature", -60.0, 500.0), "interpass_c": ("set_temperature", -60.0, 600.0), "layers": ("count", 1, 500),
}  # fmt: skip


def windows_of(procedure: Procedure) -> tuple[Window, ...]:
    """A procedure's windows as a joint takes them over: each in its own basis, with the procedure's number as its origin."""
    arc = procedure.family in ARC_ENERGY_FAMILIES
    return tuple(
        replace(w, origin=procedure.id, quantity="arc_energy" if arc and w.quantity == "heat_input" else w.quantity) for w in procedure.windows
    )  # fmt: skip


def procedure_faults(procedure: Procedure) -> tuple[Remark, ...]:
    """Everything in a procedure that cannot be right, each with its field."""
    found = []
    if not procedure.id:
        found.append(fault("procedure.id", "id"))
    if procedure.family not in FAMILIES:
        found.append(unknown_word("family", procedure.family, tuple(FAMILIES)))
    if procedure.backing not in BACKED:
        found.append(unknown_word("backing", procedure.backing, BACKED[1:]))
    ranges: list[Span | Override] = [*procedure.spans, *procedure.overrides]
    for i, span in enumerate(ranges):
        ends = [e for e in (span.low, span.high) if e is not None]
        if ends != sorted(ends) or any(not math.isfinite(e) for e in ends):
            found.append(fault("procedure.range", f"ranges[{i}]", item=Figure(span.item, "name")))
    found += [fault("procedure.reason", f"overrides[{i}].reason") for i, o in enumerate(procedure.overrides) if not o.reason.strip()]
    for i, window in enumerate(procedure.windows):
        found += [at(f, f"windows[{i}]") for f in window_faults(window)]
    for i, consumable in enumerate(procedure.consumables):
        if consumable.role not in (EVERY, *ROLES):
            found.append(unknown_word(f"consumables[{i}].role", consumable.role, (EVERY, *ROLES)))
    if procedure.qualified_by is not None:
        found += [at(f, "qualified_by") for f in test_faults(procedure.qualified_by)]
    return tuple(found)


def welder_faults(welder: Welder) -> tuple[Remark, ...]:
    """Everything in a welder's qualification that cannot be right."""
    found = [at(f, "test") for f in test_faults(welder.test)]
    if welder.family not in WELDER_FAMILIES:
        found.append(unknown_word("family", welder.family, tuple(WELDER_FAMILIES)))
    if welder.retest not in RETESTS:
        found.append(unknown_word("retest", welder.retest, RETESTS))
    if welder.tested_on and not is_day(welder.tested_on):
        found.append(fault("welder.day", "tested_on", value=Figure(welder.tested_on[:20], "name")))
    return tuple(found)


def test_faults(test: WeldTest) -> tuple[Remark, ...]:
    """Figures of a test record that cannot be right."""
    return tuple(
        fault("test.range", field, value=Figure(value, kind), window=Figure((low, high), kind))
        for field, (kind, low, high) in TEST_LIMITS.items()
        if (value := getattr(test, field)) is not None and not (math.isfinite(value) and low <= value <= high)
    )
