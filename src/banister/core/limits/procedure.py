"""A welding procedure and a welder's qualification, as documents of their own."""

from __future__ import annotations

import math
from dataclasses import dataclass

from banister.core.remark import OUTSIDE, Finding
from banister.core.limits.windows import QUANTITIES, Window

FAMILIES = {"iso15614-1": "ISO 15614-1", "asme-ix": "ASME IX", "aws-d1.1": "AWS D1.1"}
WELDER_FAMILIES = {"iso9606-1": "ISO 9606-1", "asme-ix": "ASME IX", "aws-d1.1": "AWS D1.1"}


@dataclass(frozen=True, slots=True, kw_only=True)
class WeldTest:
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A qualified range of one variable; None leaves an end open."""

    item: str
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Override:
    """A range the user vouches for against the derived one, and why."""

    item: str
    low: float | None = None
    high: float | None = None
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Consumable:
    """What a role may be welded with: a type (E7018), or everything of an F-number; '*' is every role."""

    role: str = "*"
    type: str = ""
    f_number: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Procedure:
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Welder:
    """A welder's own qualification: mark, family, the test, and when the process was last used (ISO date)."""

    mark: str
    family: str = "iso9606-1"
    process: str = "SMAW"
    test: WeldTest
    last_used: str = ""


def procedure_faults(procedure: Procedure) -> tuple[Finding, ...]:
    """Everything in a procedure that cannot be right, each with its field."""
    found = []
    if not procedure.id:
        found.append(_fault("id", "a procedure needs a number", "Enter the number of your procedure."))
    if procedure.family not in FAMILIES:
        found.append(_fault("family", f"'{procedure.family}' is not known", "Use one of: " + ", ".join(FAMILIES) + "."))
    if procedure.backing not in ("", "with", "without", "either"):
        found.append(_fault("backing", f"'{procedure.backing}' is not known", "Use with, without or either."))
    ranges: list[Span | Override] = [*procedure.spans, *procedure.overrides]
    for i, span in enumerate(ranges):
        ends = [e for e in (span.low, span.high) if e is not None]
        if ends != sorted(ends) or any(not math.isfinite(e) for e in ends):
            found.append(_fault(f"ranges[{i}]", f"{span.item}: the bounds are not a range", "Put the lower one first."))
    found += [
        _fault(f"overrides[{i}].reason", "an override needs its reason", "Say why you vouch for it.")
        for i, o in enumerate(procedure.overrides) if not o.reason.strip()
    ]  # fmt: skip
    found += [
        _fault(f"windows[{i}].quantity", f"'{w.quantity}' is not known", "Use one of: " + ", ".join(QUANTITIES) + ".")
        for i, w in enumerate(procedure.windows) if w.quantity not in QUANTITIES
    ]  # fmt: skip
    return (*found, *(test_faults(procedure.qualified_by, "qualified_by") if procedure.qualified_by is not None else ()))


def welder_faults(welder: Welder) -> tuple[Finding, ...]:
    """Everything in a welder's qualification that cannot be right."""
    found = list(test_faults(welder.test, "test"))
    if welder.family not in WELDER_FAMILIES:
        found.append(_fault("family", f"'{welder.family}' is not known", "Use one of: " + ", ".join(WELDER_FAMILIES) + "."))
    return tuple(found)


def test_faults(test: WeldTest, where: str) -> tuple[Finding, ...]:
    """Figures of a test record that cannot be right."""
    limits = {"thickness_mm": (0.5, 500.0), "diameter_mm": (0.0, 10_000.0), "heat_input_kj_mm": (0.05, 20.0),
              "preheat_c": (-60.0, 500.0), "interpass_c": (-60.0, 600.0), "layers": (1, 500)}  # fmt: skip
    found = []
    for field, (low, high) in limits.items():
        value = getattr(test, field)
        if value is not None and not (math.isfinite(value) and low <= value <= high):
            found.append(_fault(f"{where}.{field}", f"{value:g} is outside {low:g} to {high:g}", f"Enter {low:g} to {high:g}."))
    return tuple(found)


def _fault(path: str, text: str, remedy: str) -> Finding:
    return Finding(path, OUTSIDE, text, remedy)
