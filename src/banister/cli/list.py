"""`banister list`: every weld of a job in a line, totals, and what to buy."""

from __future__ import annotations

import argparse
import collections
import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.listing.said import WELD_HEADS, purchase_rows, purchase_said, total_rows, weld_row
from banister.core.listing.totals import (
    GROUPS,
    LEAST_PACKET_KG,
    MOST_PACKET_KG,
    MOST_SPARE_PERCENT,
    NONE,
    PACKET_KG,
    SPARE_PERCENT,
    purchases,
    totals,
)  # fmt: skip
from banister.core.listing.welds import BLOCKED, WELDED, Weld, listed
from banister.core.words import Speech
from banister.job.journal import records_of
from banister.job.weld_csv import weld_csv

LEFT = (0, 1, 2, 4, 6)
"""Columns of words."""


def add_parser(commands: Any, say: Speech) -> None:
    """Add `list` to the command line."""
    p = described(commands, "list", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--by", choices=(NONE, *GROUPS), default=NONE, help=say("cli.list.by"))
    p.add_argument("--spare", type=spelling.number, default=SPARE_PERCENT, metavar="%", help=say("cli.list.spare").replace("%", "%%"))
    p.add_argument("--packet", type=spelling.number, default=PACKET_KG, metavar="KG", help=say("cli.list.packet"))
    p.add_argument("--csv", type=Path, metavar="FILE", help=say("cli.list.csv"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Plan what is not planned, and print or write the list."""
    say, job = desk.say, desk.read(a.file)
    if not 0.0 <= a.spare <= MOST_SPARE_PERCENT or not LEAST_PACKET_KG <= a.packet <= MOST_PACKET_KG:
        raise UsageFault("cli.fault.list", spare=f"{MOST_SPARE_PERCENT:g}", least=f"{LEAST_PACKET_KG:g}", most=f"{MOST_PACKET_KG:g}")
    (whole,) = collections.deque(listed(job, records_of(a.file)), maxlen=1)
    welds = whole.welds
    if a.csv:
        desk.write(a.csv, weld_csv(welds).encode())
    elif a.json:
        print(json.dumps(_document(a, welds, job.rods_by_id), indent=1))
    else:
        print("\n".join(_lines(a, welds, job.rods_by_id, say)))
    return OUTSIDE if any(w.state == BLOCKED for w in welds) else INSIDE


def _lines(a: argparse.Namespace, welds: Sequence[Weld], rods: Any, say: Speech) -> list[str]:
    rows = [[say(f"weld_list.{head}") for head in WELD_HEADS], *(weld_row(w, say) for w in welds)]
    lines = [*columns(rows, left=LEFT), "", *columns(total_rows(totals(welds, a.by), a.by, say), left=(0,))]
    buy = purchases([w for w in welds if w.state != WELDED], rods, a.spare, a.packet)
    return [*lines, "", *columns(purchase_rows(buy, say), left=(0,)), purchase_said(a.spare, a.packet, say)]


def _document(a: argparse.Namespace, welds: Sequence[Weld], rods: Any) -> dict[str, Any]:
    buy = purchases([w for w in welds if w.state != WELDED], rods, a.spare, a.packet)
    return {
        "format": "banister-weld-list", "version": 1,
        "welds": [{"joint": w.joint.id, "name": w.joint.name, "alike": w.joint.alike, "week": w.joint.week, "procedure": w.joint.procedure,
                   "welder": w.joint.welder, "state": w.state, "beads": w.beads, "passes_welded": w.passes_welded, "rods": dict(w.rods),
                   "metal_kg": round(w.metal_kg, 3), "length_mm": round(w.length_mm, 1), "total_s": round(w.seconds, 1),
                   "remarks": [r.code for r in w.remarks]} for w in welds],
        "by": a.by,
        "totals": [{"name": t.name, "welds": t.welds, "length_mm": round(t.length_mm, 1), "beads": t.beads, "rods": t.rods,
                    "metal_kg": round(t.metal_kg, 3), "total_s": round(t.seconds, 1)} for t in totals(welds, a.by)],
        "purchase": [{"rod": p.rod, "needed": p.needed, "with_spare": p.with_spare, "kg": round(p.kg, 3), "packets": p.packets} for p in buy],
    }  # fmt: skip
