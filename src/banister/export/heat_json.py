"""Schedules and boards as JSON documents and CSV tables."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Sequence
from typing import Any

from banister.core.heat.board import Board
from banister.core.heat.preheat import Preheat
from banister.core.heat.schedule import Schedule
from banister.core.heat.shift import Shift
from banister.core.heat.spread import Spread
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan
from banister.export.plan_json import finding_document


def heat_document(joint: Joint, plan: Plan, schedule: Schedule, spread: Spread | None, methods: Sequence[Preheat]) -> dict[str, Any]:
    """One joint's schedule with the bands of its waits and its end, totals, and preheat by method."""
    numbers = {p.id: p.number for p in plan.passes}
    ends = (0.0, 0.0) if spread is None else spread.ends_s
    waits = [(0.0, 0.0)] * len(schedule.passes) if spread is None else spread.wait_bands_s
    return {
        "id": joint.id, "feasible": schedule.feasible, "findings": [finding_document(f) for f in schedule.findings],
        "limits": {"preheat_c": schedule.limits.preheat_c if schedule.limits.preheat_c > -270 else None, "interpass_c": schedule.limits.interpass_c,
                   "interpass_set": schedule.limits.set_},
        "passes": [
            {"id": p.pass_id, "number": numbers[p.pass_id], "start_s": p.start_s, "end_s": p.end_s, "wait_s": p.wait_s,
             "wait_band_s": {"low": seconds(low), "high": seconds(high)}, "reheat_s": p.reheat_s, "temperature_c": p.temp_c,
             "preheat_point_c": p.preheat_point_c, "preheat_point_on_arrival_c": p.arrival_c, "station": p.hottest_station,
             "t85_s": None if p.t85 is None else p.t85.seconds, "t85_regime": None if p.t85 is None else p.t85.regime}
            for p, (low, high) in zip(schedule.passes, waits, strict=True)
        ],
        "totals": {"end_s": schedule.end_s, "waiting_s": schedule.waiting_s, "reheating_s": schedule.reheating_s,
                   "band_s": {"low": seconds(ends[0]), "high": seconds(ends[1])}},
        "preheat": [{"method": m.method, "least_c": m.least_c, "inputs": m.inputs, "notes": list(m.notes), "verified": m.verified} for m in methods],
    }  # fmt: skip


def seconds(value: float) -> float | None:
    """A time as JSON has it; null where a joint never cools."""
    return value if math.isfinite(value) else None


def board_document(board: Board, shift: Shift) -> dict[str, Any]:
    """A board: slots in the order they are begun (s from the shift's start), and what it is measured by."""
    return {
        "shift": {"begins_s": shift.begins_s, "lasts_s": seconds(shift.lasts_s), "welders": shift.welders, "breaks_s": [list(b) for b in shift.breaks_s]},
        "rule": board.rule, "end_s": board.end_s, "one_after_the_other_s": board.one_by_one_s, "lower_bound_s": board.bound_s, "saved": board.saved,
        "slots": [
            {"joint": s.joint_id, "welder": s.welder, "pass": s.started.pass_id, "start_s": s.started.start_s, "end_s": s.started.end_s, "until_s": s.until_s,
             "temperature_c": s.started.temp_c, "reheat_s": s.started.reheat_s} for s in board.slots
        ],
    }  # fmt: skip


def schedule_csv(joint: Joint, plan: Plan, schedule: Schedule) -> str:
    """The schedule as a table."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(("joint", "pass", "role", "start_s", "wait_s", "reheat_s", "end_s", "temperature_c", "t85_s"))
    passes = {p.id: p for p in plan.passes}
    for s in schedule.passes:
        p = passes[s.pass_id]
        t85 = "" if s.t85 is None else f"{s.t85.seconds:.1f}"
        rows.writerow((joint.id, p.number, p.role, f"{s.start_s:.0f}", f"{s.wait_s:.0f}", f"{s.reheat_s:.0f}", f"{s.end_s:.0f}", f"{s.temp_c:.0f}", t85))
    return out.getvalue()
