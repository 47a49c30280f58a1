"""The JSON that `banister plan --json` prints: a contract to which later versions only add keys."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from banister import __version__
from banister.core.remark import Finding
from banister.core.job import Job
from banister.core.joint.figures import figures_of
from banister.core.joint.groove import groove_of, groove_volume_mm3
from banister.core.joint.joint import Joint, joint_faults
from banister.core.joint.kinds import KINDS
from banister.core.judge.check import checked, tally
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.pull import gap_closing_in_words, pull_of, transverse_shrinkage_mm
from banister.core.judge.coverage import Covered
from banister.core.units import Units

FORMAT = "banister-plan"
VERSION = 1


Coverage = Mapping[str, Sequence[Covered]]


def plans_document(job: Job, plans: Mapping[str, Mapping[str, Plan]], covered: Mapping[str, Coverage] | None = None) -> dict[str, Any]:
    """Everything about the joints named in `plans`: joint id -> answer -> plan; `covered` likewise."""
    covered = covered or {}
    joints = [joint_document(job.joint(joint_id), found, covered.get(joint_id, {})) for joint_id, found in plans.items()]
    return {
        "format": FORMAT, "version": VERSION, "program": __version__,
        "job": {"name": job.name, "site": job.site}, "joints": joints,
    }  # fmt: skip


def joint_document(joint: Joint, plans: Mapping[str, Plan], covered: Coverage) -> dict[str, Any]:
    """One joint with its geometry and alternatives."""
    geometry: dict[str, Any] = {
        "preparation": joint.preparation, "bevel_left_deg": 0.0, "bevel_right_deg": 0.0, "root_face_mm": 0.0,
        "backing": joint.backing, "second_side": joint.second_side, "sequence": joint.sequence,
        "form": joint.form, "length_mm": joint.weld_length_mm(),
        "pipe_od_mm": joint.pipe_od_mm if joint.form == "pipe" else None,
        "position": joint.position, "progression": joint.progression,
    }  # fmt: skip
    if joint.preparation in KINDS:
        geometry |= {field: getattr(joint, field) for field in figures_of(joint)}
    if not joint_faults(joint):
        groove = groove_of(joint)
        geometry["position_iso"] = joint.place.iso(joint.progression)
        geometry["top_width_mm"] = groove.top_width_mm
        geometry["area_mm2"] = groove.area_mm2
        geometry["volume_mm3"] = groove_volume_mm3(joint, groove)
    return {
        "id": joint.id, "name": joint.name, "joint": geometry,
        "area_mm2": geometry.get("area_mm2"), "volume_mm3": geometry.get("volume_mm3"),
        "alternatives": {answer: plan_document(joint, plan, covered.get(answer, ())) for answer, plan in plans.items()},
        "chosen": joint.chosen,
    }  # fmt: skip


def plan_document(joint: Joint, plan: Plan, covered: Sequence[Covered] = ()) -> dict[str, Any]:
    """One alternative."""
    return {
        "feasible": plan.feasible,
        "reasons": [finding_document(f) for f in plan.reasons],
        "findings": [finding_document(f) for f in plan.findings],
        "cost_s": plan.cost_s if plan.passes else None,
        "cost_gap": plan.cost_gap if plan.passes else None,
        "totals": _totals(plan) | _movement(joint, plan) if plan.passes else None,
        "coverage": _coverage(joint, plan, covered),
        "sequence": [{"action": step.action, "side": step.side, "passes": list(step.passes)} for step in plan.sequence],
        "passes": [pass_document(p) for p in plan.passes],
    }


def _totals(plan: Plan) -> dict[str, Any]:
    cap, figures = plan.cap, plan.figures
    return {
        "passes": len(plan.passes), "layers": plan.layers, "arc_time_s": plan.arc_time_s,
        "total_time_s": plan.total_time_s, "rods_by_consumable": plan.rods_by_consumable(),
        "weld_metal_kg": plan.weld_metal_kg, "stops": plan.stops, "turns": plan.turns,
        "peak_arc_energy_kj_mm": plan.peak_arc_energy_kj_mm,
        "cap_height_mm": None if cap is None else {"min": cap.min, "max": cap.max, "edge_min": cap.edge_min},
        "cap_overlap_mm": None if cap is None else {"left": cap.overlap_left, "right": cap.overlap_right},
        "cap_toe_angle_deg": None if cap is None else {"left": cap.toe_left_deg, "right": cap.toe_right_deg},
        "wall_stretch_mm": None if figures is None else {"left": figures.wall_left, "right": figures.wall_right},
        "left_before_cap_mm": None if figures is None else dict(zip(("min", "mean", "max"), figures.left_before_cap, strict=True)),
    }  # fmt: skip


def _movement(joint: Joint, plan: Plan) -> dict[str, Any]:
    """Shrinkage range and pull index: rough, they rank."""
    t = joint.welded_thickness_mm
    low, high = transverse_shrinkage_mm(sum(p.area_mm2 for p in plan.passes), t, joint.root_gap_mm)
    pull = pull_of(plan.passes, t)
    return {"shrinkage_mm": {"low": low, "high": high}, "pull_index_deg": {"final": pull.final_deg, "greatest": pull.greatest_deg},
            "gap": gap_closing_in_words(joint, Units())}  # fmt: skip


def _coverage(joint: Joint, plan: Plan, covered: Sequence[Covered]) -> dict[str, Any]:
    """How many lines are inside, outside and not judged, windows and documents together; the documents' lines."""
    counts = tally(checked(joint, plan))
    for line in covered:
        counts[line.verdict] += 1
    lines = [
        {"item": c.item, "value": c.value, "allowed": c.allowed, "verdict": c.verdict, "why": c.why, "remedy": c.remedy, "rule": c.rule,
         "passes": list(c.pass_ids)} for c in covered
    ]  # fmt: skip
    return {"inside": counts["inside"], "outside": counts["outside"], "not_judged": counts["not judged"], "lines": lines}


def pass_document(p: Pass) -> dict[str, Any]:
    """One pass."""
    return {
        "id": p.id, "number": p.number, "role": p.role, "side": p.side, "layer": p.layer,
        "process": p.process, "consumable": p.rod.id, "diameter_mm": p.rod.diameter_mm,
        "polarity": p.rod.polarity, "technique": p.technique, "progression": p.progression,
        "state": p.state, "amps": p.amps, "volts": p.volts, "efficiency": p.efficiency,
        "length_mm": p.length_mm, "area_mm2": p.area_mm2, "optimum_area_mm2": p.optimum_area_mm2,
        "simulated_area_mm2": p.simulated_area_mm2, "aim_mm": list(p.aim_mm), "width_mm": p.width_mm,
        "thickness_mm": p.thickness_mm, "run_out_mm": p.run_out_mm, "rod_count": p.rod_count,
        "travel_mm_min": p.travel_mm_min, "arc_energy_kj_mm": p.arc_energy_kj_mm,
        "heat_input_kj_mm": p.heat_input_kj_mm, "arc_time_s": p.arc_time_s, "why": p.why,
        "area_window_mm2": list(p.area_window), "area_origin": p.area_origin,
        "outline_mm": [list(point) for point in p.outline_mm],
        "findings": [finding_document(f) for f in p.findings],
    }  # fmt: skip


def finding_document(f: Finding) -> dict[str, Any]:
    """One finding; the same shape everywhere."""
    return {
        "code": f.code, "severity": f.severity,
        "place": {"pass_id": f.place.pass_id, "x_mm": f.place.x_mm, "y_mm": f.place.y_mm, "s_mm": f.place.s_mm},
        "value": f.value, "unit": f.unit, "min": f.min, "max": f.max, "basis": f.basis,
        "text": f.text, "remedy": f.remedy,
    }  # fmt: skip
