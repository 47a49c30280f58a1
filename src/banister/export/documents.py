"""The JSON that commands print: contracts to which later versions only add keys. Figures metric, words as the speech has them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from banister import __version__
from banister.core.heat.board import Board
from banister.core.heat.line import HeatLine
from banister.core.heat.preheat import Preheat
from banister.core.heat.shift import Shift
from banister.core.job import Job
from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import figures_of
from banister.core.joint.groove import groove_of, groove_volume_mm3
from banister.core.joint.joint import Joint, field_of
from banister.core.joint.kinds import KINDS
from banister.core.judge.judgement import Judgement
from banister.core.plan.front import FrontPoint
from banister.core.plan.plan import Pass, Plan
from banister.core.plan.pull import gap_closing_said, pull_of, transverse_shrinkage_mm
from banister.core.plan.spending import spent_on
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE, Figure, Remark
from banister.core.words import Speech

PLAN_FORMAT = "banister-plan"
VERSION = 1
Answers = Mapping[str, tuple[Plan, Judgement]]


def plans_document(job: Job, joints: Mapping[str, Answers], fronts: Mapping[str, Sequence[FrontPoint]], say: Speech) -> dict[str, Any]:
    """Everything about the joints named: joint id -> answer -> plan and its judgement, and the front of each."""
    return {
        "format": PLAN_FORMAT, "version": VERSION, "program": __version__, "job": {"name": job.name, "site": job.site},
        "joints": [joint_document(job.joint(joint_id), found, fronts.get(joint_id, ()), say) for joint_id, found in joints.items()],
    }  # fmt: skip


def joint_document(joint: Joint, answers: Answers, front: Sequence[FrontPoint], say: Speech) -> dict[str, Any]:
    """One joint with its geometry and alternatives."""
    prep, piece = joint.prep, joint.piece
    geometry: dict[str, Any] = {
        "preparation": prep.key, "bevel_left_deg": 0.0, "bevel_right_deg": 0.0, "root_face_mm": 0.0,
        "backing": prep.backing, "second_side": prep.second_side, "sequence": joint.working.sequence,
        "form": piece.form, "length_mm": joint.weld_length_mm(), "pipe_od_mm": piece.pipe_od_mm if piece.form == "pipe" else None,
        "position": piece.position, "progression": piece.progression,
    }  # fmt: skip
    if prep.key in KINDS:
        geometry |= {figure.key: field_of(joint, figure.key) for figure in figures_of(joint)}
    if not joint_faults(joint):
        groove = groove_of(prep)
        geometry |= {"position_iso": joint.place.iso(piece.progression), "top_width_mm": groove.top_width_mm, "area_mm2": groove.area_mm2,
                     "volume_mm3": groove_volume_mm3(joint, groove)}  # fmt: skip
    return {
        "id": joint.id, "name": joint.name, "joint": geometry, "area_mm2": geometry.get("area_mm2"), "volume_mm3": geometry.get("volume_mm3"),
        "alternatives": {answer: plan_document(joint, plan, judgement, say) for answer, (plan, judgement) in answers.items()},
        "chosen": joint.working.chosen,
        "front": [{"time_s": p.time_s, "peak_arc_energy_kj_mm": p.peak_kj_mm, "passes": p.passes} for p in front],
    }  # fmt: skip


def plan_document(joint: Joint, plan: Plan, judgement: Judgement, say: Speech) -> dict[str, Any]:
    """One alternative."""
    return {
        "feasible": plan.feasible,
        "reasons": [remark_document(r, say) for r in plan.reasons],
        "findings": [remark_document(r, say) for r in plan.remarks],
        "cost_s": plan.cost_s if plan.passes else None,
        "cost_gap": plan.cost_gap if plan.passes else None,
        "totals": _totals(plan) | _movement(joint, plan, say) if plan.passes else None,
        "coverage": _coverage(judgement, say),
        "judgement": [remark_document(r, say) for r in judgement.remarks],
        "sequence": [{"action": phase.action, "side": phase.side, "passes": list(phase.passes)} for phase in plan.sequence],
        "passes": [pass_document(p, say) for p in plan.passes],
    }


def _totals(plan: Plan) -> dict[str, Any]:
    cap, figures, spent = plan.cap, plan.figures, spent_on(plan, None)
    return {
        "passes": len(plan.passes), "layers": plan.layers, "arc_time_s": plan.arc_time_s,
        "total_time_s": plan.total_time_s, "rods_by_consumable": plan.rods_by_consumable(),
        "electrodes_kg": spent.rods_kg, "energy_kwh": spent.energy_kwh,
        "weld_metal_kg": plan.weld_metal_kg, "stops": plan.stops, "turns": plan.turns,
        "peak_arc_energy_kj_mm": plan.peak_arc_energy_kj_mm,
        "cap_height_mm": None if cap is None else {"min": cap.min, "max": cap.max, "edge_min": cap.edge_min},
        "cap_overlap_mm": None if cap is None else {"left": cap.overlap_left, "right": cap.overlap_right},
        "cap_toe_angle_deg": None if cap is None else {"left": cap.toe_left_deg, "right": cap.toe_right_deg},
        "wall_stretch_mm": None if figures is None else {"left": figures.wall_left, "right": figures.wall_right},
        "left_before_cap_mm": None if figures is None else dict(zip(("min", "mean", "max"), figures.left_before_cap, strict=True)),
    }  # fmt: skip


def _movement(joint: Joint, plan: Plan, say: Speech) -> dict[str, Any]:
    """Shrinkage range and pull index: rough, they rank."""
    t = joint.prep.welded_thickness_mm
    low, high = transverse_shrinkage_mm(sum(p.area_mm2 for p in plan.passes), t, joint.prep.root_gap_mm)
    pull = pull_of(plan.passes, t)
    return {"shrinkage_mm": {"low": low, "high": high}, "pull_index_deg": {"final": pull.final_deg, "greatest": pull.greatest_deg},
            "gap": gap_closing_said(joint, say)}  # fmt: skip


def _coverage(judgement: Judgement, say: Speech) -> dict[str, Any]:
    """How much is inside, outside and not judged, windows, heat and documents together; the documents' lines."""
    counts = judgement.counts
    lines = [coverage_line(r, say) for r in judgement.coverage]
    return {"inside": counts[INSIDE], "outside": counts[OUTSIDE], "not_judged": counts[NOT_JUDGED], "lines": lines}


def coverage_line(remark: Remark, say: Speech) -> dict[str, Any]:
    """One variable of a document."""
    value, allowed = (remark.figures.get(name, Figure("", "name")) for name in ("value", "allowed"))
    return {
        "item": say.title(remark), "value": say.figure(value), "allowed": say.figure(allowed), "verdict": remark.verdict, "why": say.why(remark),
        "remedy": say.remedy(remark) if remark.verdict != INSIDE else "", "rule": say.source(remark), "certainty": remark.certainty,
        "passes": list(remark.place.passes),
    }  # fmt: skip


def pass_document(p: Pass, say: Speech) -> dict[str, Any]:
    """One pass."""
    return {
        "id": p.key, "number": p.number, "role": p.role, "side": p.side, "layer": p.layer,
        "process": p.process, "consumable": p.rod.id, "diameter_mm": p.rod.diameter_mm,
        "polarity": p.rod.polarity, "technique": p.technique, "progression": p.progression,
        "state": p.state, "amps": p.amps, "volts": p.volts, "efficiency": p.efficiency,
        "length_mm": p.length_mm, "area_mm2": p.area_mm2, "optimum_area_mm2": p.optimum_area_mm2,
        "simulated_area_mm2": p.simulated_area_mm2, "aim_mm": list(p.aim_mm), "width_mm": p.width_mm,
        "thickness_mm": p.thickness_mm, "run_out_mm": p.run_out_mm, "rod_count": p.rod_count,
        "travel_mm_min": p.travel_mm_min, "arc_energy_kj_mm": p.arc_energy_kj_mm,
        "run_out_rule_kj_mm": p.rod.run_out_rule_kj_mm(p.run_out_mm) if p.process == "SMAW" else None,
        "heat_input_kj_mm": p.heat_input_kj_mm, "arc_time_s": p.arc_time_s, "why": say.text(p.why),
        "area_window_mm2": list(p.area_window), "area_origin": say(f"origin.{p.area_origin}"),
        "outline_mm": [list(point) for point in p.outline_mm],
        "findings": [remark_document(r, say) for r in p.remarks],
    }  # fmt: skip


def remark_document(r: Remark, say: Speech) -> dict[str, Any]:
    """One remark; the same shape everywhere."""
    low, high = r.window
    kind = r.figures["value"].kind if r.value is not None else ""
    return {
        "code": r.code, "severity": r.verdict,
        "place": {"pass_id": r.place.passes[0] if r.place.passes else None, "x_mm": r.place.x_mm, "y_mm": r.place.y_mm, "s_mm": r.place.s_mm,
                  "passes": list(r.place.passes), "side": r.place.side, "field": r.place.field},
        "value": r.value, "unit": say.units.unit(kind) if kind else "", "min": low, "max": high, "basis": say.basis(r), "source": say.source(r),
        "certainty": r.certainty, "text": say.text(r), "remedy": say.remedy(r),
    }  # fmt: skip


# --- heat and board ------------------------------------------------------------------------------
def heat_document(joint: Joint, plan: Plan, line: HeatLine, judgement: Judgement, methods: Sequence[Preheat], say: Speech) -> dict[str, Any]:
    """One joint's schedule with the bands of its waits and its end, totals, preheat by method, and what the judge says of it."""
    schedule, numbers = line.schedule, plan.numbers
    waits = line.wait_bands_s or ((0.0, 0.0),) * len(schedule.passes)
    limits = schedule.limits
    return {
        "id": joint.id, "feasible": schedule.feasible, "findings": [remark_document(r, say) for r in schedule.remarks],
        "judgement": [remark_document(r, say) for r in judgement.remarks if r.code.startswith(("heat.", "preheat."))],
        "limits": {"preheat_c": limits.preheat_c, "interpass_c": limits.interpass_c, "interpass_set": limits.set_},
        "passes": [
            {"id": p.key, "number": numbers[p.key], "start_s": p.start_s, "end_s": p.end_s, "wait_s": p.wait_s,
             "wait_band_s": {"low": seconds(low), "high": seconds(high)}, "reheat_s": p.reheat_s, "temperature_c": p.temp_c,
             "preheat_point_c": p.preheat_point_c, "preheat_point_on_arrival_c": p.arrival_c, "station": say(f"station.{p.hottest_station}"),
             "t85_s": None if p.t85 is None else p.t85.seconds, "t85_regime": None if p.t85 is None else p.t85.regime}
            for p, (low, high) in zip(schedule.passes, waits, strict=True)
        ],
        "totals": {"end_s": schedule.end_s, "waiting_s": schedule.waiting_s, "reheating_s": schedule.reheating_s,
                   "band_s": {"low": seconds(line.ends_s[0]), "high": seconds(line.ends_s[1])}},
        "preheat": [
            {"method": say(f"method.{m.method}"), "least_c": m.least_c, "inputs": say.text(m.inputs), "notes": [say.text(n) for n in m.notes],
             "verified": m.verified} for m in methods
        ],
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
            {"joint": s.joint_id, "welder": s.welder, "pass": s.started.key, "number": s.number, "start_s": s.started.start_s, "end_s": s.started.end_s,
             "until_s": s.until_s, "temperature_c": s.started.temp_c, "reheat_s": s.started.reheat_s} for s in board.slots
        ],
    }  # fmt: skip
