"""A record as tables: passes, observations, rods, continuity; RFC 4180, UTF-8, decimal point, the unit in the head.

A cell that begins like a formula and is no number gets an apostrophe in front, so that no spreadsheet runs it.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from banister.core.record.book import Mark

PASS_HEADS = (
    "pass", "role", "side", "rod", "amps_planned_A", "amps_welded_A", "volts_planned_V", "volts_welded_V", "arc_energy_planned_kj_mm_k1",
    "arc_energy_welded_kj_mm_k1", "rods_planned", "rods_used", "temperature_before_c", "begun", "ended", "entered_later", "simulated",
)  # fmt: skip
SEEN_HEADS = ("id", "kind", "side", "s_mm", "length_mm", "depth_mm", "height_mm", "width_mm", "size_mm", "angle_deg", "total_thickness_mm", "number", "toe",
              "gauge", "readings", "by", "note")  # fmt: skip
MARK_HEADS = ("mark", "process", "family", "tested_on", "state", "until", "jobs", "days_counted")
STARTS = ("=", "+", "-", "@", "\t", "\r")


def tables_of(record: Mapping[str, Any]) -> dict[str, str]:
    """The tables of a record by the names of their files."""
    return {"passes.csv": passes_csv(record), "observations.csv": observations_csv(record), "rods.csv": rods_csv(record)}


def passes_csv(record: Mapping[str, Any]) -> str:
    """A row a pass, planned beside welded."""
    return written(PASS_HEADS, (_pass_row(one) for one in record["passes"]))


def _pass_row(one: Mapping[str, Any]) -> Sequence[object]:
    p, w = one["planned"], one["welded"] or {}
    return (one["number"], one["role"], one["side"], p["rod"], p["amps"], w.get("amps"), p["volts"], w.get("volts"), p["arc_energy_kj_mm"],
            w.get("arc_energy_kj_mm"), p["rods"], w.get("rods_used"), w.get("temperature_before_c"), w.get("begun"), w.get("ended"), w.get("entered_later"),
            w.get("simulated"))  # fmt: skip


def observations_csv(record: Mapping[str, Any]) -> str:
    """A row an observation."""
    names = [head.removesuffix("_mm").removesuffix("_deg") if head != "s_mm" else head for head in SEEN_HEADS]
    return written(SEEN_HEADS, ([one.get(name) for name in names] for one in record["inspection"]["observations"]))


def rods_csv(record: Mapping[str, Any]) -> str:
    """A row a lot or an event of care."""
    return written(("n", "t", "what", "rod", "lot", "count", "event", "by"), (
        (one["n"], one["t"], one["what"] if one["what"] in ("lot", "care") else "care", one.get("rod"), one.get("lot"), one.get("count", one.get("rods")),
         one["what"] if one["what"] not in ("lot", "care") else "", one.get("by")) for one in record["rods"]))  # fmt: skip


def continuity_csv(marks: Iterable[Mark]) -> str:
    """A row a mark."""
    return written(MARK_HEADS, (_mark_row(m) for m in marks))


def _mark_row(m: Mark) -> Sequence[object]:
    until = m.state.until.isoformat() if m.state.until is not None else ""
    return m.welder.mark, m.welder.process, m.welder.family, m.welder.tested_on, m.state.state, until, " ".join(m.jobs), len(m.state.counted)


def written(heads: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Rows under their heads."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(heads)
    writer.writerows([_cell(value) for value in row] for row in rows)
    return out.getvalue()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:.10g}"
    text = str(value)
    return f"'{text}" if text.startswith(STARTS) else text
