"""What was seen along a weld, and what was looked for: facts of the journal, never edited; a correction replaces, the old one stays."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from banister.core.inspect.gauges import GAUGES
from banister.core.inspect.kinds import MEASURES, SIDES, Kind
from banister.core.inspect.sets import FLAGS
from banister.core.inspect.windows import Interval, merged
from banister.core.journal import Record
from banister.core.remark import Figure, Remark, fault
from banister.core.value import Struct, asdict, field

SEEN, LOOKED, NO_ACCESS, VOUCHED, ASKED = RECORDS = ("observation", "looked", "no-access", "vouched", "asked")
"""Records of inspection: something was seen, a stretch was looked at, a side cannot be seen, a figure is vouched for, a question of the set answered."""
LEFT, RIGHT = "left", "right"
TOES = ("", LEFT, RIGHT)
EYE = "eye"
WHOLE_MM = 0.5
"""Gaps between looked-at stretches shorter than this are none."""


class Observation(Struct, frozen=True, kw_only=True):
    """One thing seen: its record's number, kind, side, where it begins (mm along the weld), its toe, and what was measured of it (None: not)."""

    id: int = 0
    kind: str
    side: str = SIDES[0]
    s_mm: float
    length: float | None = None
    toe: str = ""
    depth: float | None = None
    height: float | None = None
    width: float | None = None
    size: float | None = None
    angle: float | None = None
    total_thickness: float | None = None
    number: int | None = None
    gauge: str = ""
    readings: int = 1
    aid: str = EYE
    by: str = ""
    on: str = ""
    note: str = ""
    replaces: int | None = None

    def measured(self, what: str) -> float | None:
        """What was measured; None for what was not."""
        found = getattr(self, what)
        return None if found is None else float(found)

    @property
    def interval(self) -> Interval:
        """Where it lies along the weld; a point where no length was measured."""
        return self.s_mm, self.s_mm + (self.length or 0.0)

    def recorded(self) -> dict[str, Any]:
        """As its record holds it."""
        told = {name: value for name, value in asdict(self).items() if name != "id"}
        return {name: value for name, value in told.items() if value not in (None, "") and not (name == "readings" and value == 1)}


class Looked(Struct, frozen=True):
    """A stretch of a side was looked at for some lines."""

    side: str
    lines: tuple[str, ...]
    from_mm: float
    to_mm: float
    aid: str = EYE
    by: str = ""


class Vouched(Struct, frozen=True):
    """A figure vouched for from a user's own copy: of which set (id and digest), which item, the figure (None: the one remembered), edition, who, when."""

    set: str
    digest: str
    item: int
    value: float | None
    edition: str
    by: str
    on: str


class Inspected(Struct, frozen=True):
    """Everything an inspection is: what was seen and still counts, what was looked for, sides nobody can see (why), figures vouched for, flags."""

    seen: tuple[Observation, ...] = ()
    looked: tuple[Looked, ...] = ()
    no_access: Mapping[str, str] = field(default_factory=dict)
    vouched: tuple[Vouched, ...] = ()
    flags: Mapping[str, bool] = field(default_factory=dict)

    @property
    def is_begun(self) -> bool:
        """True once anything was looked for or seen."""
        return bool(self.seen or self.looked or self.no_access)

    def unlooked(self, side: str, line: str, weld_mm: float) -> list[Interval]:
        """Where a side was not looked at for a line."""
        held = merged([(max(one.from_mm, 0.0), min(one.to_mm, weld_mm)) for one in self.looked if one.side == side and line in one.lines])
        edges = [0.0, *(end for pair in held for end in pair), weld_mm]
        gaps = list(zip(edges[::2], edges[1::2], strict=True))
        return [(a, b) for a, b in gaps if b - a > WHOLE_MM]


def inspected(records: Iterable[Record], joint: str) -> Inspected:
    """What the records (after corrections) tell of a joint's inspection."""
    seen, looked, vouched = dict[int, Observation](), list[Looked](), dict[tuple[str, int], Vouched]()
    no_access, flags = dict[str, str](), dict[str, bool]()
    for r in records:
        if r.j != joint or r.k not in RECORDS:
            continue
        d = r.d
        if r.k == SEEN and (one := _observation(r)) is not None:
            if one.replaces is not None:
                seen.pop(one.replaces, None)
            seen[r.n] = one
        elif r.k == LOOKED:
            lines = tuple(map(str, told)) if isinstance(told := d.get("lines"), list | tuple) else ()
            looked.append(
                Looked(str(d.get("side")), lines, _number(d.get("from"), 0.0), _number(d.get("to"), 0.0), str(d.get("aid", EYE)), str(d.get("by", "")))
            )
        elif r.k == NO_ACCESS:
            no_access[str(d.get("side"))] = str(d.get("why", ""))
        elif r.k == VOUCHED:
            value = d.get("value")
            found = Vouched(str(d.get("set")), str(d.get("digest")), int(_number(d.get("item"), -1)), None if value is None else _number(value, math.nan),
                            str(d.get("edition", "")), str(d.get("by", "")), str(d.get("on", "")))  # fmt: skip
            vouched[found.set, found.item] = found
        elif r.k == ASKED and d.get("flag") in FLAGS:
            flags[str(d["flag"])] = bool(d.get("is"))
    return Inspected(tuple(seen.values()), tuple(looked), no_access, tuple(vouched.values()), flags)


def _number(value: object, otherwise: float) -> float:
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value) else otherwise


def _observation(r: Record) -> Observation | None:
    """The observation of a record; None for one that is none."""
    told = {name: value for name, value in r.d.items() if name in _FORMS and value is not None}
    if not {"kind", "s_mm"} <= told.keys() or not all(_has_form(value, _FORMS[name]) for name, value in told.items()):
        return None
    return Observation(**{**told, "id": r.n})


_FORMS = {name: str(kind).partition(" ")[0] for name, kind in Observation.__annotations__.items()}
"""What the fields of an observation are: `str`, `int` or `float`."""


def _has_form(value: object, form: str) -> bool:
    if form == "str":
        return isinstance(value, str)
    figure = _number(value, math.nan)
    return math.isfinite(figure) and (form == "float" or figure == round(figure))


def observation_faults(one: Observation, kinds: Mapping[str, Kind], weld_mm: float, t_mm: float, closed: bool, is_fillet: bool = False) -> Iterator[Remark]:
    """What of an observation cannot be, each at its field; a pipe's places wrap and are no fault."""
    kind = kinds.get(one.kind)
    if kind is None:
        yield fault("seen.kind", "kind", value=Figure(one.kind[:40], "name"))
        return
    if kind.fillet and not is_fillet:
        yield fault("seen.fillet", "kind", kind=Figure(f"defect.{kind.id}", "word"))
    if one.side not in kind.side:
        yield fault("seen.side", "side", kind=Figure(f"defect.{kind.id}", "word"))
    if not math.isfinite(one.s_mm) or (not closed and not 0.0 <= one.s_mm <= weld_mm):
        yield fault("seen.place", "s_mm", window=Figure((0.0, weld_mm), "long_length"))
    for name, figure_kind in MEASURES.items():
        value = one.measured(name)
        if value is not None and (not math.isfinite(value) or value < 0):
            yield fault("seen.negative", name, what=Figure(f"measured.{name}", "word"))
        elif value is not None and name == "number" and (value != round(value) or value < 1):
            yield fault("seen.whole", name)
        elif value is not None and name == "angle" and value > 180:
            yield fault("seen.angle", name, value=Figure(value, figure_kind))
    if one.length is not None and one.length > weld_mm:
        yield fault("seen.long", "length", most=Figure(weld_mm, "long_length"))
    if one.depth is not None and one.depth > t_mm and one.kind != "510":
        yield fault("seen.through", "depth", most=Figure(t_mm, "fine_length"))
    if one.gauge and one.gauge not in GAUGES:
        yield fault("seen.gauge", "gauge", value=Figure(one.gauge[:40], "name"))
    elif one.gauge and one.readings == 1:
        for name in ("depth", "height"):
            value = one.measured(name)
            if value is not None and math.isfinite(value) and value >= 0 and not GAUGES[one.gauge].can_read(value):
                step = Figure(GAUGES[one.gauge].resolution_mm, "fine_length")
                yield fault("seen.between", name, value=Figure(value, "fine_length"), gauge=Figure(f"gauge.{one.gauge}", "word"), step=step)
    if one.toe not in TOES:
        yield fault("seen.toe", "toe", value=Figure(one.toe[:40], "name"))
