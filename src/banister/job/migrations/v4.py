"""Version 4 to 5: figures were added, each with what the program of version 4 went by.

It took a pipe's bore for a face in free air.
"""

from __future__ import annotations

from typing import Any

BORE = "open"


def next_version(document: dict[str, Any]) -> dict[str, Any]:
    """Joints and issued sheets with the bore they were reckoned with."""
    job, rows = document.get("job"), document.get("issued", [])
    if isinstance(job, dict) and isinstance(job.get("joints"), list):
        job = {**job, "joints": [_joint(one) for one in job["joints"]]}
    if isinstance(rows, list):
        rows = [{**row, "joint": _joint(row.get("joint"))} if isinstance(row, dict) else row for row in rows]
    return {**document, "version": 5, "job": job, "issued": rows}


def _joint(raw: Any) -> Any:
    if not isinstance(raw, dict):
        return raw
    heat = raw.get("heat", {})
    return {**raw, "heat": {"bore": BORE, **heat}} if isinstance(heat, dict) else raw
