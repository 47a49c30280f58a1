"""Version 3 to 4: a joint is made of parts, own cells belong to the job, and taken plans become issued sheets.

A plan of version 3 kept neither its schedule nor its judgement, and its figures followed from its rods: they are
worked out here by the formulas of the program that wrote it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

PREP = (
    "thickness_mm", "bevel_left_deg", "bevel_right_deg", "root_face_mm", "root_gap_mm", "knee_mm", "upper_bevel_deg", "root_radius_mm", "root_level_mm",
    "front_share", "back_bevel_deg", "leg_left_mm", "leg_right_mm", "fillet_angle_deg", "right_thickness_mm", "taper", "high_low_mm", "backing",
    "bar_thickness_mm", "bar_width_mm", "bar_gap_mm", "ceramic_width_mm", "ceramic_depth_mm", "second_side", "gouge_into_mm", "gouge_radius_mm",
    "gouge_angle_deg",
)  # fmt: skip
PIECE = ("form", "length_mm", "pipe_od_mm", "position", "progression", "root_progression")
WORKING = ("rods", "windows", "own_run_out", "choices", "pins", "sequence", "chosen")
STEELS = {
    "mild structural, about 275 MPa": "mild-275", "structural, about 355 MPa": "structural-355",
    "pressure vessel carbon steel, about 260 MPa": "vessel-260", "fine grain, about 460 MPa": "fine-grain-460",
    "quenched and tempered, about 690 MPa": "quenched-690", "line pipe, low carbon, about 450 MPa": "line-pipe-450",
    "chrome-molybdenum, 1 Cr": "chrome-moly-1",
}  # fmt: skip
ROD_ORIGINS = {"typical; the maker's data sheet governs": "typical", "your own figure": "own"}
AREA_ORIGINS = {
    "typical": "typical", "estimated from the nearest size": "nearest_size", "estimated from flat": "from_flat", "estimated from basic": "from_basic",
    "intersection round the clock, widened to 20 % either side": "round_the_clock", "your own run-out": "own_run_out",
    "raised to what the throat over the root face needs": "throat", "procedure": "procedure",
}  # fmt: skip
ARC_ENERGY_FAMILIES = ("asme-ix", "aws-d1.1")
STEEL_G_MM3, FACE_POINTS, NEARLY_WHOLE = 7.85e-3, 17, 1e-6
EFFICIENCY = {"SMAW": 0.8, "GTAW": 0.6}


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """The document as version 4 holds it."""
    raw = document.get("job")
    if not isinstance(raw, dict):
        return document
    arc = {p.get("id") for p in _dicts(raw.get("procedures")) if p.get("family") in ARC_ENERGY_FAMILIES}
    job = {key: value for key, value in raw.items() if key not in ("joints", "taken")}
    if isinstance(raw.get("joints"), list):
        job["joints"] = [_joint(joint, arc) for joint in raw["joints"]]
        cells: dict[Any, Any] = {}
        for heat in (joint.get("heat") for joint in _dicts(raw["joints"])):
            for own in _dicts(heat.get("own_cells") if isinstance(heat, dict) else None):
                cells.setdefault(own.get("cell"), own)
        job["own_cells"] = list(cells.values())
    if isinstance(raw.get("rods"), list):
        job["rods"] = [_rod(rod) for rod in raw["rods"]]
    heading = {"job": job.get("name", "")} | {key: job[key] for key in ("site", "prepared_by", "checked_by") if key in job}
    return {**document, "job": job, "issued": [_sheet(taken, heading, arc) for taken in _dicts(raw.get("taken"))]}


def _dicts(values: Any) -> list[dict[str, Any]]:
    return [v for v in values if isinstance(v, dict)] if isinstance(values, list) else []


def _joint(raw: Any, arc: set[Any]) -> Any:
    if not isinstance(raw, dict):
        return raw
    heat = raw.get("heat", {})
    known = {*PREP, *PIECE, *WORKING, "preparation", "steel", "base_metal", "heat"}
    joint: dict[str, Any] = {key: value for key, value in raw.items() if key not in known}
    joint["prep"] = {key: raw[key] for key in PREP if key in raw} | ({"key": raw["preparation"]} if "preparation" in raw else {})
    joint["piece"] = {key: raw[key] for key in PIECE if key in raw}
    joint["metal"] = _metal(raw, heat)
    joint["working"] = _working({key: raw[key] for key in WORKING if key in raw}, arc)
    if isinstance(heat, dict):
        kept = {key: value for key, value in heat.items() if key not in ("own_cells", "stainless", "warm_over_k")}
        joint["heat"] = kept | ({"margin_k": heat["warm_over_k"]} if "warm_over_k" in heat else {})
    return joint


def _metal(raw: dict[str, Any], heat: Any) -> dict[str, Any]:
    found: dict[str, Any] = {"group": raw["base_metal"]} if "base_metal" in raw else {}
    steel = raw.get("steel")
    if isinstance(steel, dict):
        found["steel"] = {**steel, "name": STEELS.get(steel["name"], steel["name"])} if isinstance(steel.get("name"), str) else steel
    if isinstance(heat, dict) and "stainless" in heat:
        found["stainless"] = heat["stainless"]
    return found


def _working(working: dict[str, Any], arc: set[Any]) -> dict[str, Any]:
    choices = working.get("choices")
    if isinstance(choices, dict) and "spare_rods_percent" in choices:
        working["spare_rods_percent"] = choices["spare_rods_percent"]
        working["choices"] = {key: value for key, value in choices.items() if key != "spare_rods_percent"}
    if isinstance(working.get("windows"), list):
        working["windows"] = [
            {**w, "quantity": "arc_energy"} if isinstance(w, dict) and w.get("quantity") == "heat_input" and w.get("origin") in arc else w
            for w in working["windows"]
        ]
    return working


def _rod(raw: Any) -> Any:
    if not isinstance(raw, dict) or raw.get("origin") not in ROD_ORIGINS:
        return raw
    return {**raw, "origin": ROD_ORIGINS[raw["origin"]]}


# --- taken plans --------------------------------------------------------------------------------
def _sheet(taken: dict[str, Any], heading: dict[str, Any], arc: set[Any]) -> dict[str, Any]:
    """A taken plan as an issued sheet: without heat, and with a judgement of what it itself remarked."""
    plan = taken.get("plan")
    rods: list[Any] = []
    made: dict[str, Any] = {
        "heading": heading, "joint": _joint(taken.get("joint"), arc), "heat": None, "issued_on": "version 3",
        "planner_version": taken.get("planner_version", "1"),
    }  # fmt: skip
    if isinstance(plan, dict):
        passes = [_pass(p, rods) for p in _dicts(plan.get("passes"))]
        made["last_key"] = len(passes)
        made["plan"] = {
            **{key: plan[key] for key in ("answer", "cost_s", "cost_gap", "total_time_s", "cap", "figures", "sequence") if key in plan},
            "passes": passes, "remarks": _remarks(plan.get("findings")), "reasons": _remarks(plan.get("reasons")),
        }  # fmt: skip
        every = (*_dicts(plan.get("findings")), *(f for p in _dicts(plan.get("passes")) for f in _dicts(p.get("findings"))))
        made["judgement"] = {"remarks": _remarks(every)}
    return {"rods": [_rod(rod) for rod in rods], **made}


def _remarks(findings: Iterable[Any] | None) -> list[Any]:
    return [_remark(f) for f in findings or () if isinstance(f, dict)]


def _remark(finding: dict[str, Any]) -> list[Any]:
    """An old finding keeps its sentence: the words it was made of are no longer there."""
    text = f"{finding.get('text', '')}. {finding.get('remedy', '')}".strip()
    place = finding.get("place")
    key = place.get("pass_id") if isinstance(place, dict) else None
    return ["older", finding.get("severity", "warning"), {"text": [text, "name"]}, [key] if key else []]


def _pass(raw: dict[str, Any], rods: list[Any]) -> dict[str, Any]:
    kept = ("number", "role", "layer", "amps", "volts", "length_mm", "area_mm2", "optimum_area_mm2", "aim_mm", "width_mm", "thickness_mm",
            "technique", "progression", "state", "area_window", "side")  # fmt: skip
    made: dict[str, Any] = {key: raw[key] for key in kept if key in raw}
    made |= {"key": raw.get("id"), "process": raw.get("process", "SMAW"), "efficiency": raw.get("efficiency", EFFICIENCY["SMAW"]),
             "why": ["older", "inside", {"text": [str(raw.get("why", "")), "name"]}, []], "remarks": _remarks(raw.get("findings")),
             "area_origin": AREA_ORIGINS.get(str(raw.get("area_origin", "")).partition(", stretched")[0], "typical")}  # fmt: skip
    outline = raw.get("outline_mm")
    if isinstance(outline, list):
        made["outline_mm"] = [number for point in outline if isinstance(point, list) for number in point]
        made["face_points"] = min(FACE_POINTS, len(outline))
    rod = raw.get("rod")
    if isinstance(rod, dict):
        if rod not in rods:
            rods.append(rod)
        made["rod"] = rods.index(rod)
        made |= _figures(rod, raw, made["efficiency"])
    return made


def _figures(rod: dict[str, Any], raw: dict[str, Any], efficiency: Any) -> dict[str, Any]:
    """Run-out, rods, speed, energies and arc time as the rod of version 3 had them; nothing where a figure is missing."""
    try:
        used_mm3 = math.pi / 4 * rod["diameter_mm"] ** 2 * (rod["length_mm"] - rod.get("stub_mm", 50.0))
        burns_s = STEEL_G_MM3 * used_mm3 * 3600 / (rod["burn_off_g_ah"] * raw["amps"])
        deposit = used_mm3 * rod["recovery"]
        run_out, share = deposit / raw["area_mm2"], raw["area_mm2"] * raw["length_mm"] / deposit
        energy = raw["volts"] * raw["amps"] * burns_s / run_out / 1000
        return {
            "run_out_mm": run_out, "rod_count": max(1, math.ceil(share - NEARLY_WHOLE)), "travel_mm_min": run_out / burns_s * 60,
            "arc_energy_kj_mm": energy, "heat_input_kj_mm": efficiency * energy, "arc_time_s": share * burns_s,
        }  # fmt: skip
    except (KeyError, TypeError, ZeroDivisionError, OverflowError, ValueError):
        return {}
