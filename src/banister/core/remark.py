"""A finding: something a check has to say, with its place, its figures and what would mend it."""

from __future__ import annotations

from dataclasses import dataclass, field

WARNING = "warning"
OUTSIDE = "outside"


@dataclass(frozen=True, slots=True)
class Place:
    """Where: the pass, the point in the section (mm) and the distance along the weld (mm)."""

    pass_id: str | None = None
    x_mm: float | None = None
    y_mm: float | None = None
    s_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Finding:
    """One statement of a check; `value` against `min`..`max` in `unit`, on the named `basis`."""

    code: str
    severity: str
    text: str
    remedy: str = ""
    place: Place = field(default_factory=Place)
    value: float | None = None
    unit: str = ""
    min: float | None = None
    max: float | None = None
    basis: str = ""
