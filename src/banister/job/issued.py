"""Issued sheets as they stand in the file: each on a line of its own, figures once, what is as usual left out.

A remark is a list [code, verdict, figures, passes, rest]; an outline a flat list x, y, x, y; a rod its place in the
sheet's own list of rods.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from functools import cache
from itertools import chain
from typing import Any

from msgspec import NODEFAULT
from msgspec.structs import fields

from banister.core.plan.plan import Pass
from banister.core.remark import Place, Remark
from banister.core.rods.rod import Rod
from banister.core.sheet import Sheet


def packed(sheet: Sheet) -> dict[str, Any]:
    """A sheet as plain lists and dicts."""
    rods = list(dict.fromkeys((*(p.rod for p in sheet.plan.passes), *sheet.rods)))
    return {**_fields(sheet, rods), "rods": [_fields(rod, []) for rod in rods]}


def _plain(value: Any, rods: list[Rod]) -> Any:
    kind = type(value)
    if kind is float:
        return _shortest(value)
    if kind is str or kind is int or value is None or kind is bool:
        return value
    if isinstance(value, tuple):
        return [_shortest(one) if type(one) is float else _plain(one, rods) for one in value]
    if kind is Remark:
        return _remark(value, rods)
    if isinstance(value, Mapping):
        return {key: _plain(one, rods) for key, one in value.items()}
    return rods.index(value) if kind is Rod else _fields(value, rods)


def _shortest(value: float) -> float:
    """A whole number without its nought."""
    return int(value) if value.is_integer() and abs(value) < 1e15 else value


def _fields(value: Any, rods: list[Rod]) -> dict[str, Any]:
    """The fields of a value that are not as usual."""
    found = {name: v for name, usual in _usual(type(value)) if (v := getattr(value, name)) is not usual and v != usual}  # type: ignore[arg-type]
    if type(value) is Pass:
        found["outline_mm"] = tuple(chain.from_iterable(value.outline_mm))
    return {name: _plain(v, rods) for name, v in found.items()}


@cache
def _usual(kind: Hashable) -> tuple[tuple[str, Any], ...]:
    """Names of a class's fields with what each usually is; a field that must be given is never as usual."""
    return tuple((f.name, f.default if f.default_factory is NODEFAULT else f.default_factory()) for f in fields(kind))  # type: ignore[arg-type]


def _remark(remark: Remark, rods: list[Rod]) -> list[Any]:
    place = {} if remark.place == Place(remark.place.passes) else _fields(remark.place, rods)
    place.pop("passes", None)
    rest = {name: v for name, usual in _usual(Remark) if name in ("basis", "source", "certainty") and (v := getattr(remark, name)) != usual}
    if place:
        rest["place"] = place
    if remark.mends is not None:
        rest["mends"] = [_remark(one, rods) for one in remark.mends]
    row = [remark.code, remark.verdict, _plain(remark.figures, rods), list(remark.place.passes)]
    return [*row, rest] if rest else row


def unpacked(raw: Any) -> Any:
    """What `packed` made, as plain dicts that read as a Sheet; what has another form is left as it is, to be refused with its place."""
    if not isinstance(raw, dict):
        return raw
    rods = raw.get("rods")
    sheet = dict(raw)
    plan, judgement, heat = (sheet.get(key) for key in ("plan", "judgement", "heat"))
    if isinstance(plan, dict):
        passes = plan.get("passes")
        sheet["plan"] = {**plan, **_remarks_of(plan, "remarks", "reasons")}
        if isinstance(passes, list):
            sheet["plan"]["passes"] = [_pass(p, rods if isinstance(rods, list) else []) for p in passes]
    if isinstance(judgement, dict):
        sheet["judgement"] = {**judgement, **_remarks_of(judgement, "remarks")}
    if isinstance(heat, dict) and isinstance(heat.get("schedule"), dict):
        sheet["heat"] = {**heat, "schedule": {**heat["schedule"], **_remarks_of(heat["schedule"], "remarks")}}
    return sheet


def _pass(raw: Any, rods: list[Any]) -> Any:
    if not isinstance(raw, dict):
        return raw
    found = {**raw, **_remarks_of(raw, "remarks")}
    at, outline = raw.get("rod"), raw.get("outline_mm")
    if isinstance(at, int) and not isinstance(at, bool) and 0 <= at < len(rods):
        found["rod"] = rods[at]
    if isinstance(outline, list) and len(outline) % 2 == 0:
        found["outline_mm"] = list(zip(outline[::2], outline[1::2], strict=True))
    if "why" in raw:
        found["why"] = _unpacked_remark(raw["why"])
    return found


def _remarks_of(raw: dict[str, Any], *keys: str) -> dict[str, Any]:
    return {key: [_unpacked_remark(one) for one in raw[key]] for key in keys if isinstance(raw.get(key), list)}


def _unpacked_remark(raw: Any) -> Any:
    if not isinstance(raw, list) or not 4 <= len(raw) <= 5:
        return raw
    rest = raw[4] if len(raw) == 5 and isinstance(raw[4], dict) else {}
    place = rest.get("place")
    found = {**rest, "code": raw[0], "verdict": raw[1], "figures": raw[2],
             "place": {**(place if isinstance(place, dict) else {}), "passes": raw[3]}}  # fmt: skip
    if isinstance(rest.get("mends"), list):
        found["mends"] = [_unpacked_remark(one) for one in rest["mends"]]
    return found
