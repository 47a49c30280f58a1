"""Tables as CSV: one row a pass, the unit in every heading, a comma and a point; figures metric, the k of heat input named."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from banister.core.heat.schedule import Schedule
from banister.core.joint.joint import Joint
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.timing import between_s

PASS_HEADINGS = (
    "joint", "pass", "role", "side", "layer", "consumable", "amps_A", "volts_V", "polarity", "technique",
    "bead_area_mm2", "run_out_mm", "travel_mm_min", "arc_energy_kJ_mm_k1", "heat_input_kJ_mm", "heat_input_k",
    "rods", "arc_time_s", "width_mm", "state", "between_s",
)  # fmt: skip
SCHEDULE_HEADINGS = ("joint", "pass", "role", "start_s", "wait_s", "reheat_s", "end_s", "temperature_c", "t85_s")


def pass_csv(joint: Joint, plan: Plan) -> str:
    """The pass table of a joint; turning and gouging are rows of their own, without a pass number."""
    between, rows = between_s(joint, joint.working.choices), list[tuple[object, ...]]()
    passes = {p.key: p for p in plan.passes}
    for phase in plan.sequence:
        if phase.action in between:
            rows.append((joint.id, "", phase.action, phase.side, *[""] * (len(PASS_HEADINGS) - 5), f"{between[phase.action]:.0f}"))
        rows += [(*_pass_row(joint, passes[key]), "") for key in phase.passes]
    return _written(PASS_HEADINGS, rows)


def _pass_row(joint: Joint, p: Pass) -> tuple[object, ...]:
    return (joint.id, p.number, p.role, p.side, p.layer, p.rod.id, f"{p.amps:g}", f"{p.volts:g}", p.rod.polarity, p.technique, f"{p.area_mm2:.2f}",
         f"{p.run_out_mm:.0f}", f"{p.travel_mm_min:.0f}", f"{p.arc_energy_kj_mm:.3f}", f"{p.heat_input_kj_mm:.3f}", f"{p.efficiency:g}",
         p.rod_count, f"{p.arc_time_s:.0f}", f"{p.width_mm:.1f}", p.state)  # fmt: skip


def schedule_csv(joint: Joint, plan: Plan, schedule: Schedule) -> str:
    """The schedule of a joint."""
    passes = {p.key: p for p in plan.passes}
    return _written(SCHEDULE_HEADINGS, (
        (joint.id, passes[s.key].number, passes[s.key].role, f"{s.start_s:.0f}", f"{s.wait_s:.0f}", f"{s.reheat_s:.0f}", f"{s.end_s:.0f}",
         f"{s.temp_c:.0f}", "" if s.t85 is None else f"{s.t85.seconds:.1f}") for s in schedule.passes
    ))  # fmt: skip


def joined(tables: Sequence[str]) -> str:
    """Several tables of one kind under one head."""
    return tables[0] + "".join(table.split("\n", 1)[1] for table in tables[1:])


def _written(headings: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(headings)
    writer.writerows([_plain(cell) for cell in row] for row in rows)
    return out.getvalue()


def _plain(cell: object) -> object:
    """A cell no spreadsheet takes for a formula: one that begins like one and is no number gets an apostrophe."""
    if not isinstance(cell, str) or not cell or cell[0] not in "=+-@\t\r":
        return cell
    try:
        float(cell)
    except ValueError:
        return f"'{cell}"
    return cell
