"""Files of older versions, brought to the newest.

Version 1 lacks procedures, welders and most preparations; its keys mean the same. Version 2 held one
preheat figure per joint and table from the user's copy; they became cells of the tables. It had no
shift.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from banister.core.heat.preheat import annex_cell, category_cell
from banister.core.job import Job
from banister.core.joint.joint import Joint, OwnCell

OLD_FIGURES = ("annex_own_c", "table_own_c")


def without_old_figures(raw: Any) -> list[tuple[float, float]]:
    """Take a version 2 job's single preheat figures out of it: by joint, annex and table, 0 where none was entered."""
    joints = raw.get("joints", []) if isinstance(raw, dict) else []
    heats = [j.get("heat") if isinstance(j, dict) else None for j in joints] if isinstance(joints, list) else []
    taken = raw.get("taken", []) if isinstance(raw, dict) else []
    stored = [t["joint"].get("heat") for t in taken if isinstance(t, dict) and isinstance(t.get("joint"), dict)] if isinstance(taken, list) else []
    for heat in stored:
        _popped(heat)
    return [_popped(heat) for heat in heats]


def _popped(heat: Any) -> tuple[float, float]:
    if not isinstance(heat, dict):
        return 0.0, 0.0
    found = [heat.pop(key, 0.0) for key in OLD_FIGURES]
    annex, table = (float(v) if isinstance(v, int | float) and not isinstance(v, bool) else 0.0 for v in found)
    return annex, table


def with_cells(job: Job, figures: list[tuple[float, float]]) -> Job:
    """The job with the old figures as cells; a joint without a known steel never used its annex figure."""
    joints = tuple(_celled(joint, *old) for joint, old in zip(job.joints, figures, strict=True))
    return replace(job, joints=joints)


def _celled(joint: Joint, annex: float, table: float) -> Joint:
    thick, heat = max(joint.thickness_mm, joint.right_thickness_mm), joint.heat
    cells = []
    if annex > 0 and joint.steel.is_known and (cell := annex_cell(joint.steel.pcm, heat.hydrogen_ml, thick, heat.restraint)):
        cells.append(OwnCell(cell=cell, least_c=annex))
    if table > 0:
        cells.append(OwnCell(cell=category_cell(heat.category, thick), least_c=table))
    return replace(joint, heat=replace(heat, own_cells=tuple(cells))) if cells else joint
