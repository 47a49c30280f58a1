"""Version 2 to 3: a joint's single figures from the user's own preheat tables become cells of those tables.

The formulas and the edges of the tables are those of the program that wrote version 2.
"""

from __future__ import annotations

import math
from typing import Any

ANNEX, TABLE = "annex_own_c", "table_own_c"
GROUPS = ((3.0, "A"), (3.5, "B"), (4.0, "C"), (4.5, "D"), (5.0, "E"), (5.5, "F"), (7.0, "G"))
ANNEX_ROWS_MM = (10.0, 20.0, 38.0, 75.0)
TABLE_ROWS_MM = (20.0, 38.0, 65.0)
PCM = {"c": 1.0, "si": 1 / 30, "mn": 1 / 20, "cu": 1 / 20, "cr": 1 / 20, "ni": 1 / 60, "mo": 1 / 15, "v": 1 / 10, "b": 5.0}


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """The document as version 3 holds it."""
    raw = document.get("job")
    if not isinstance(raw, dict):
        return document
    job = dict(raw)
    if isinstance(raw.get("joints"), list):
        job["joints"] = [_with_cells(joint) for joint in raw["joints"]]
    if isinstance(raw.get("taken"), list):
        job["taken"] = [{**t, "joint": _with_cells(t["joint"])} if isinstance(t, dict) and "joint" in t else t for t in raw["taken"]]
    return {**document, "job": job}


def _with_cells(joint: Any) -> Any:
    heat = joint.get("heat") if isinstance(joint, dict) else None
    if not isinstance(heat, dict) or not (_is_number(heat.get(ANNEX, 0.0)) and _is_number(heat.get(TABLE, 0.0))):
        return joint
    kept = {key: value for key, value in heat.items() if key not in (ANNEX, TABLE)}
    return {**joint, "heat": {**kept, "own_cells": list(_cells(joint, heat))}}


def _cells(joint: dict[str, Any], heat: dict[str, Any]) -> list[dict[str, Any]]:
    """The cells the figures stood for; a joint whose steel was not known never used the annex."""
    annex, table = heat.get(ANNEX, 0.0), heat.get(TABLE, 0.0)
    thick = max(_number(joint, "thickness_mm", 20.0), _number(joint, "right_thickness_mm", 0.0))
    found = []
    steel = joint.get("steel")
    if annex > 0 and isinstance(steel, dict) and _number(steel, "c", 0.0) > 0:
        pcm = sum(share * _number(steel, element, 0.0) for element, share in PCM.items())
        index = 12 * pcm + math.log10(max(_number(heat, "hydrogen_ml", 5.0), 1e-9))
        group = next((name for most, name in GROUPS if round(index, 1) <= most), "")
        row = 1 + sum(thick >= upto for upto in ANNEX_ROWS_MM)
        if group:
            found.append({"cell": f"annex {heat.get('restraint', 'medium')} {row} {group}", "least_c": float(annex)})
    if table > 0:
        row = 1 + sum(thick > upto for upto in TABLE_ROWS_MM)
        found.append({"cell": f"table {heat.get('category', 'B')} {row}", "least_c": float(table)})
    return found


def _number(values: dict[str, Any], key: str, default: float) -> float:
    value = values.get(key, default)
    return float(value) if _is_number(value) else default


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e12
