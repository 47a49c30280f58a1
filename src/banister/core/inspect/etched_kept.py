"""Photos and etched sections as the journal keeps them: what was photographed, how it lies over the section, the beads that were traced; and in words."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Any

from banister.core.inspect.etched import Matched, Overlay, Wall, matched, overlap_remarks, penetration, wall_remarks
from banister.core.joint.joint import Joint
from banister.core.journal import Record
from banister.core.plan.plan import Plan
from banister.core.polygon import Point, area
from banister.core.remark import Figure
from banister.core.value import Struct, field
from banister.core.words import Speech

PHOTO, ETCHED = "photo", "etched"
"""Kinds of records."""


class Photo(Struct, frozen=True):
    """A photo by its record: of which observation (0: of the joint), where the file was, and its size and digest when it was taken in."""

    n: int
    of: int
    path: str
    size: int
    sha256: str
    by: str = ""


class Etched(Struct, frozen=True):
    """An etched section: its photo, how that lies over the section, the marks by name (pixels), and the traced beads in mm of the section.

    `named` holds what was named by hand: the number of a traced bead, from 0, with its pass's key.
    """

    photo: Mapping[str, Any]
    overlay: Overlay
    marks: Mapping[str, Point] = field(default_factory=dict)
    traced: tuple[tuple[Point, ...], ...] = ()
    named: Mapping[int, str] = field(default_factory=dict)
    s_mm: float | None = None
    by: str = ""
    n: int = 0

    def recorded(self) -> dict[str, Any]:
        """As its record holds it."""
        found: dict[str, Any] = {
            "photo": dict(self.photo), "a": [self.overlay.a.real, self.overlay.a.imag], "b": [self.overlay.b.real, self.overlay.b.imag],
            "marks": {name: [round(x, 1), round(y, 1)] for name, (x, y) in self.marks.items()},
            "traced": [[[round(x, 2), round(y, 2)] for x, y in outline] for outline in self.traced],
            "named": {str(i): key for i, key in self.named.items()},
        }  # fmt: skip
        return found | ({} if self.s_mm is None else {"s_mm": round(self.s_mm, 1)}) | ({"by": self.by} if self.by else {})


def photos_of(records: Iterable[Record], joint: str) -> tuple[Photo, ...]:
    """The photos of a joint (records after corrections)."""
    own = (r for r in records if r.k == PHOTO and r.j == joint)
    return tuple(Photo(r.n, int(r.number("of")), str(r.d.get("path", "")), int(r.number("size")), str(r.d.get("sha256", "")), str(r.d.get("by", "")))
                 for r in own)  # fmt: skip


def etched_of(records: Iterable[Record], joint: str) -> tuple[Etched, ...]:
    """The etched sections of a joint (records after corrections), oldest first; records that hold none are passed over."""
    found = (_read(r) for r in records if r.k == ETCHED and r.j == joint)
    return tuple(one for one in found if one is not None)


def _read(r: Record) -> Etched | None:
    d = r.d
    try:
        overlay = Overlay(complex(*d["a"]), complex(*d["b"]))
        traced = tuple(tuple((float(x), float(y)) for x, y in outline) for outline in d["traced"])
        marks = {str(name): (float(x), float(y)) for name, (x, y) in d["marks"].items()}
        named = {int(i): str(key) for i, key in d.get("named", {}).items()}
        s_mm = None if d.get("s_mm") is None else float(d["s_mm"])
        figures = [overlay.a.real, overlay.a.imag, overlay.b.real, overlay.b.imag, *(v for outline in traced for point in outline for v in point)]
        if not all(map(math.isfinite, figures)) or overlay.a == 0 or not isinstance(d["photo"], dict):
            return None
    except (KeyError, TypeError, ValueError, AttributeError):
        return None
    return Etched(d["photo"], overlay, marks, traced, named, s_mm, str(d.get("by", "")), r.n)


class Compared(Struct, frozen=True):
    """A traced section held against the plan: which bead is which, areas in mm2 (planned and found, by pass key), and both walls."""

    matched: Matched
    areas: Mapping[str, tuple[float, float]]
    walls: tuple[Wall, Wall]


def compared(one: Etched, joint: Joint, plan: Plan) -> Compared:
    """Hold it against the planned beads and the planned edges."""
    outlines = {p.key: p.outline_mm for p in plan.passes}
    pairs = matched(outlines, one.traced, one.named)
    areas = {p.key: (abs(area(p.outline_mm)), abs(area(one.traced[pairs.pairs[p.key]]))) for p in plan.passes if p.key in pairs.pairs}
    return Compared(pairs, areas, penetration(joint, one.traced))


def etched_said(one: Etched, found: Compared, plan: Plan, say: Speech) -> list[str]:
    """What it comes to, in lines."""
    by_key = {p.key: p for p in plan.passes}
    lines = [say("etched.scale", pixel=say.units.shown("length", one.overlay.mm_per_px, 4), turn=Figure(one.overlay.turn_deg, "angle"))]
    for key, (planned, traced) in found.areas.items():
        share = round(100 * (traced / planned - 1))
        off = say("etched.off.more" if share >= 0 else "etched.off.less", share=Figure(abs(share), "percent"))
        lines.append(say("etched.bead", number=str(by_key[key].number), planned=Figure(planned, "area"), found=Figure(traced, "area"), off=off))
    lines += left_said(found.matched, plan, say)
    if one.traced:
        lines += [wall_said(wall, say) for wall in found.walls]
        lines += [say.sentence(r) for wall in found.walls for r in wall_remarks(wall)]
    return [*lines, *(say.sentence(r) for r in overlap_remarks(one.traced)), say("etched.caution")]


def left_said(pairs: Matched, plan: Plan, say: Speech) -> list[str]:
    """Beads that were planned and not traced, and traced ones that fit none."""
    lines = []
    if pairs.traced_left:
        lines.append(say("etched.more", n=len(pairs.traced_left)))
    if pairs.planned_left and pairs.pairs:
        numbers = [str(p.number) for p in plan.passes if p.key in pairs.planned_left]
        lines.append(say("etched.fewer", numbers=", ".join(numbers)))
    return lines


def wall_said(wall: Wall, say: Speech) -> str:
    """Penetration along a wall: least, mean, greatest, and at what height the least is."""
    depths, word = wall.depths, say(f"etched.wall.{wall.side}")
    if wall.least is None:
        return say("etched.wall.none", wall=word)
    (_, y), least = wall.least
    figures = {"least": least, "at": y, "mean": sum(depths) / len(depths), "most": max(depths)}
    return say("etched.wall.said", wall=word, **{name: Figure(value, "fine_length") for name, value in figures.items()})
