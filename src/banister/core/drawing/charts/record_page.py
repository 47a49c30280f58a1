"""A joint's record to look at: as planned and as welded side by side, every pass with both, who signed, what names it.

Of a pass the planned figure stands over the welded one; what was entered later and what was simulated is marked so.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from banister.core.drawing.advances import elided
from banister.core.drawing.placed import frame_of, metal, placed
from banister.core.drawing.section import section_drawing, welded_section
from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN, Box, Clip, Drawing, Lines, Rect, Shape, Text
from banister.core.follow.rest import Followed
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.core.remark import Figure
from banister.core.value import Struct
from banister.core.words import Speech

PAD, HEAD, ROW, LEAST_ROW, GAP, FOOT = 16.0, 24.0, 36.0, 27.0, 12.0, 22.0
SECTIONS, LEAST_SECTIONS = 0.42, 120.0
"""Of the height the sections take so much, and never less than so many pixels."""
COLUMNS = (("pass", 0.00), ("rod", 0.07), ("amps", 0.30), ("energy", 0.42), ("rods", 0.605), ("temp", 0.69), ("when", 0.81))
"""Columns with where each begins, as a share of the width."""


class RecordView(Struct, frozen=True):
    """Size in pixels; the joint with the plan its record rests on; how it was welded (None while that is not known)."""

    width: float
    height: float
    joint: Joint
    plan: Plan
    welded: Followed | None = None


def record_page(record: Mapping[str, Any], say: Speech, view: RecordView) -> Drawing:
    """The page of a record (its plain value) for a size."""
    page = _Page(record, say, view)
    box = (0.0, 0.0, view.width, view.height)
    return Drawing((Rect(box, "ground"), *page.sections(), *page.passes(), *page.foot()), box)


class _Page:
    """The parts of the page, from the top down."""

    def __init__(self, record: Mapping[str, Any], say: Speech, view: RecordView) -> None:
        self.record, self.say, self.view = record, say, view
        self.left, self.right = PAD, view.width - PAD
        self.high = max(view.height * SECTIONS, LEAST_SECTIONS)
        self.table_top = view.height - self.high - GAP

    def sections(self) -> Iterator[Shape]:
        """As planned at the left, as welded at the right."""
        say, top, welded = self.say, self.view.height - 6.0, self.view.welded
        middle = (self.left + self.right) / 2
        low = self.table_top + GAP
        boxes = ((self.left, low, middle - GAP / 2, top - HEAD), (middle + GAP / 2, low, self.right, top - HEAD))
        planned = section_drawing(self.view.joint, self.view.plan, say)
        for box, key in zip(boxes, ("planned", "welded"), strict=True):
            yield Text((box[0], top - HEAD / 2), say(f"record.{key}"), "text", 14, "start", key, face=BOLD)
        yield _fitted(planned, boxes[0], planned)
        if welded is not None:
            drawing = welded_section(self.view.joint, self.view.plan, welded.plan, welded.welded, say)
            yield _fitted(drawing, boxes[1], planned)
        else:
            begun = any(one["welded"] is not None for one in self.record["passes"])
            said = say("record.welded.coming" if begun else "record.welded.none")
            yield Text((boxes[1][0], (low + top - HEAD) / 2), said, "soft", 13, "start", "nothing welded", face=NARROW)

    def passes(self) -> Iterator[Shape]:
        """Every pass: planned over welded. Those that have no room here are told by their number."""
        say, rows = self.say, self.record["passes"]
        y = self.table_top - HEAD / 2
        for key, x, end in self._columns():
            yield Text((x, y), elided(say(f"record.column.{key}"), end - x - 4, 12, NARROW), "soft", 12, "start", face=NARROW)
        y -= HEAD / 2
        yield Lines((((self.left, y), (self.right, y)),), "rule")
        row = min(max((y - FOOT) / max(len(rows), 1), LEAST_ROW), ROW)
        room = int((y - FOOT) / row + 1e-6)
        shown = rows if len(rows) <= room else rows[: max(room - 1, 0)]
        for one in shown:
            yield from self._pass(one, y, row)
            y -= row
            yield Lines((((self.left, y), (self.right, y)),), "rule")
        if len(shown) < len(rows):
            text = say("record.more", n=len(rows) - len(shown))
            yield Text((self.left, y - row / 2), text, "soft", 12, "start", "more", face=NARROW)

    def _columns(self) -> list[tuple[str, float, float]]:
        """Every column with where it begins and ends."""
        begins = [self.left + share * (self.right - self.left) for _, share in COLUMNS]
        return [(key, x, end) for (key, _), x, end in zip(COLUMNS, begins, (*begins[1:], self.right), strict=True)]

    def _pass(self, one: Mapping[str, Any], top: float, row: float) -> Iterator[Shape]:
        """One pass: its planned figures over its welded ones."""
        say, planned, welded = self.say, one["planned"], one["welded"]
        w: Mapping[str, Any] = welded or {}
        used = "" if welded is None else f"{w['rods_used']:.1f}".rstrip("0").rstrip(".")
        marks = "".join(say(f"record.mark.{key}") for key in ("entered_later", "simulated") if w.get(key))
        when = "" if not w.get("begun") else w["begun"][5:16].replace("T", " ")
        cells = {
            "pass": (str(one["number"]), ""), "rod": (say.figure(Figure(planned["rod"], "rod")), ""),
            "amps": (say.sized("current", planned["amps"]), self._sized("current", w.get("amps"))),
            "energy": (say.sized("energy", planned["arc_energy_kj_mm"]), self._sized("energy", w.get("arc_energy_kj_mm"))),
            "rods": (str(planned["rods"]), used), "temp": ("", self._sized("temperature", w.get("temperature_before_c"))),
            "when": (marks.strip(), when or say("record.not_welded")),
        }  # fmt: skip
        for key, x, end in self._columns():
            over, under = cells[key]
            if over:
                only = key in ("pass", "rod")
                style, face = ("text", NARROW_BOLD) if only else ("soft", NARROW)
                yield Text((x, top - (row / 2 if only else 0.29 * row)), elided(over, end - x - 4, 12.5, face), style, 12.5, "start", face=face)
            if under:
                y = top - (row / 2 if not over else 0.72 * row)
                is_blank = key == "when" and not when
                style, face = ("soft", NARROW) if is_blank else ("text", NARROW_BOLD)
                yield Text((x, y), elided(under, end - x - 4, 12.5, face), style, 12.5, "start", f"welded:{one['number']}:{key}", face=face)

    def _sized(self, kind: str, value: float | None) -> str:
        return "" if value is None else self.say.sized(kind, value)

    def foot(self) -> Iterator[Shape]:
        """What the two lines of a pass are."""
        text = elided(self.say("record.page.key"), self.right - self.left, 12, PLAIN)
        yield Text((self.left, 10.0), text, "soft", 12, "start", "key", face=NARROW)


def _fitted(section: Drawing, box: Box, of: Drawing) -> Clip:
    """A section's metal as large as a box lets another one be: both of a page are of one scale."""
    (x0, y0), (x1, y1) = frame_of(of)
    k = min((box[2] - box[0]) / (x1 - x0), (box[3] - box[1]) / (y1 - y0))
    dx, dy = (box[0] + box[2]) / 2 - k * (x0 + x1) / 2, (box[1] + box[3]) / 2 - k * (y0 + y1) / 2
    return Clip(box, tuple(placed(metal(section), lambda point: (k * point[0] + dx, k * point[1] + dy))))
