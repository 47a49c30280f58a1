"""A remark: something a check has to say, as a code with its figures; the words come from a table (`core/words.py`)."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import NamedTuple

from banister.core.value import Struct, field, replace

INSIDE, OUTSIDE, NOT_JUDGED, WATCH = "inside", "outside", "not judged", "warning"
"""What a remark comes to: held and kept, held and left, nothing to hold it against, or only worth knowing."""
SURE, UNVERIFIED = "sure", "unverified"


class Figure(NamedTuple):
    """A value and the kind it is of: a kind of `core/units.py`, or one of those below.

    A pair of bounds (either may be None) of a measured kind is a window. `passes` are pass numbers,
    `word` is a key of the table of words, `name` the user's own words, `rod` the id of a rod,
    `duration` and `clock` seconds, `words` several keys, `names` several names, `list` nothing but their order.
    """

    value: float | str | tuple[float | str | None, ...]
    kind: str


class Place(Struct, frozen=True):
    """Where: the passes by their keys, the side, the point in the section (mm), the distance along the weld (mm), a file's field."""

    passes: tuple[str, ...] = ()
    x_mm: float | None = None
    y_mm: float | None = None
    s_mm: float | None = None
    side: str = ""
    field: str = ""


NO_PLACE = Place()


class Remark(Struct, frozen=True):
    """One statement of a check: `code` names its words, `verdict` what it comes to.

    Of the figures, `value` is what was found and `window` what it is held against. `basis` says where
    the window comes from, `source` names a rule or clause, `certainty` how sure that is. `mends` are single
    changes that were tried and free a plan that is blocked.
    """

    code: str
    verdict: str
    figures: Mapping[str, Figure] = field(default_factory=dict)
    place: Place = NO_PLACE
    basis: str = ""
    source: str = ""
    certainty: str = SURE
    mends: tuple[Remark, ...] | None = None

    def renamed(self, keys: Mapping[str, str]) -> Remark:
        """The remark with its passes called by new keys; a key that has none stays."""
        passes = self.place.passes
        return replace(self, place=replace(self.place, passes=tuple(keys.get(key, key) for key in passes))) if passes else self

    @property
    def value(self) -> float | None:
        """What was found, where it is one number."""
        found = self.figures.get("value")
        return found.value if found is not None and isinstance(found.value, float | int) else None

    @property
    def window(self) -> tuple[float | None, float | None]:
        """The bounds it is held against; None where an end is open or nothing is set."""
        found = self.figures.get("window")
        ends = found.value if found is not None and isinstance(found.value, tuple) else (None, None)
        low, high = (end if isinstance(end, float | int) else None for end in ends)
        return low, high

    @property
    def badness(self) -> float:
        """How far the value is from its nearer bound, as a share of it; 0 inside."""
        value, (low, high) = self.value or 0.0, self.window
        over = 0.0 if high is None else (value - high) / max(abs(high), 1e-9)
        under = 0.0 if low is None else (low - value) / max(abs(low), 1e-9)
        return max(over, under, 0.0)


def outside(code: str, place: Place = NO_PLACE, basis: str = "", /, **figures: Figure) -> Remark:
    """A remark about something that is outside, impossible or refused."""
    return Remark(code, OUTSIDE, figures, place, basis)


def watch(code: str, place: Place = NO_PLACE, basis: str = "", /, **figures: Figure) -> Remark:
    """A remark about something to watch."""
    return Remark(code, WATCH, figures, place, basis)


def fault(code: str, field: str, /, **figures: Figure) -> Remark:
    """A remark about a value that cannot be right, with the field that holds it."""
    return Remark(code, OUTSIDE, figures, Place(field=field))


def unknown_word(field: str, value: str, known: Collection[str]) -> Remark:
    """A fault of a word that is none of those there are."""
    return fault("word.unknown", field, value=Figure(value[:40], "name"), known=Figure(tuple(w for w in known if w), "names"))


def at(remark: Remark, prefix: str) -> Remark:
    """A fault of a part, with the path of the part before its own field."""
    path = f"{prefix}.{remark.place.field}" if remark.place.field else prefix
    return replace(remark, place=replace(remark.place, field=path))


class Refused(Exception):
    """Something that cannot be done, with the remarks that say why."""

    def __init__(self, *remarks: Remark) -> None:
        super().__init__(*(r.code for r in remarks))
        self.remarks = remarks
