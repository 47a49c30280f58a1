"""CSV of the pass table: one row a pass, units in the heading, a comma and a point."""

from __future__ import annotations

import csv
import io

from banister.core.joint.joint import Joint
from banister.core.plan.plan import Plan

HEADINGS = (
    "joint", "pass", "role", "layer", "consumable", "amps_A", "volts_V", "polarity", "technique",
    "bead_area_mm2", "run_out_mm", "travel_mm_min", "arc_energy_kJ_mm", "heat_input_kJ_mm_k0.8",
    "rods", "arc_time_s", "width_mm", "state",
)  # fmt: skip


def pass_csv(joint: Joint, plan: Plan) -> str:
    """The pass table of a joint."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADINGS)
    for p in plan.passes:
        writer.writerow([
            joint.id, p.number, p.role, p.layer, p.rod.id, f"{p.amps:g}", f"{p.volts:g}", p.rod.polarity,
            p.technique, f"{p.area_mm2:.2f}", f"{p.run_out_mm:.0f}", f"{p.travel_mm_min:.0f}",
            f"{p.arc_energy_kj_mm:.3f}", f"{p.heat_input_kj_mm:.3f}", p.rod_count, f"{p.arc_time_s:.0f}",
            f"{p.width_mm:.1f}", p.state,
        ])  # fmt: skip
    return out.getvalue()
