"""`banister compare`: every sensible preparation for a thickness, side by side."""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from banister.cli import words
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.joint.figures import figures_of
from banister.core.joint.joint import Joint
from banister.core.plan.compare import BOTH_SIDES, ONE_SIDE, Compared, Shop, candidates, compared
from banister.core.units import minutes
from banister.job.files import read
from banister.job.library import catalogue, usual_rods

_EPILOG = """\
examples:
  banister compare --thickness 35 --access both --position 2G
  banister compare --thickness 35 --access both --position 2G --json
  banister compare --thickness 12.7 --pipe-od 323.9 --position 6G --no-machining --sort total
  banister compare --job bridge.banister --joint H1 --access both

Pull is an index: it ranks preparations and is uncertain by 100 %. Shrinkage is the range of two schools.
"""
_SORTS = {
    "metal": lambda c: c.plan.weld_metal_kg, "rods": lambda c: c.rods, "passes": lambda c: len(c.plan.passes),
    "arc": lambda c: c.plan.arc_time_s, "total": lambda c: c.plan.total_time_s, "pull": lambda c: abs(c.pull.final_deg),
    "shrinkage": lambda c: c.shrinkage_mm[1],
}  # fmt: skip


def add_parser(commands: Any) -> None:
    """Add `compare` to the command line."""
    p = commands.add_parser(
        "compare", help="compare preparations for a thickness", epilog=_EPILOG, formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    p.add_argument("--thickness", metavar="LENGTH")
    p.add_argument("--access", choices=(ONE_SIDE, BOTH_SIDES), default=ONE_SIDE, help="sides that can be reached (one)")
    p.add_argument("--position", default="1G", metavar="CODE")
    p.add_argument("--progression", choices=("up", "down"))
    p.add_argument("--length", metavar="LENGTH", help="plate: length of the weld (500)")
    p.add_argument("--pipe-od", metavar="LENGTH", help="pipe: outside diameter")
    p.add_argument("--no-machining", action="store_true", help="edges can be cut and ground, not machined")
    p.add_argument("--job", type=Path, help="take thickness, rods and windows from a joint of this job")
    p.add_argument("--joint", metavar="ID")
    p.add_argument("--sort", choices=tuple(_SORTS), default="total")
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Print the chooser."""
    base = _from_job(a) if a.job else _from_words(a)
    shipped = catalogue()
    rods = {rod.id: rod for rod in shipped}
    if a.job:
        rods |= read(a.job).job.rods_by_id
    shop = Shop(access=a.access, machining=not a.no_machining)
    found = [compared(c, rods) for c in candidates(base, shop, usual_rods(shipped, "open"), usual_rods(shipped, "bar"))]
    planned = sorted((c for c in found if not c.refusal), key=_SORTS[a.sort])
    refused = [c for c in found if c.refusal]
    print(json.dumps(_document(base, planned, refused), indent=2) if a.json else _table(base, planned, refused))
    return INSIDE if planned else OUTSIDE


def _from_job(a: argparse.Namespace) -> Joint:
    job = read(a.job).job
    if a.thickness or not job.joints:
        raise UsageFault("--job gives the thickness; leave --thickness out" if job.joints else f"{a.job} has no joint")
    if a.joint is None:
        return job.joints[0]
    if a.joint not in {j.id for j in job.joints}:
        raise UsageFault(f"--joint: the job has no joint '{a.joint}'")
    return job.joint(a.joint)


def _from_words(a: argparse.Namespace) -> Joint:
    if not a.thickness:
        raise UsageFault("--thickness or --job is needed")
    if a.length and a.pipe_od:
        raise UsageFault("--length is for plate, --pipe-od for pipe: give one")
    form = "pipe" if a.pipe_od else "plate"
    position, progression = words.position_and_progression(a.position, form, a.progression)
    joint = Joint(id="J1", name="compare", thickness_mm=words.length("--thickness", a.thickness), form=form, position=position, progression=progression)
    if a.pipe_od:
        return replace(joint, pipe_od_mm=words.length("--pipe-od", a.pipe_od))
    return replace(joint, length_mm=words.length("--length", a.length or "500"))


def _table(base: Joint, planned: list[Compared], refused: list[Compared]) -> str:
    rows = [("preparation", "area mm2", "kg", "rods", "passes", "arc", "total", "shrinks mm", "pull", "cold wall", "edges")]
    for c in planned:
        plan = c.plan
        assert plan is not None
        rows.append((
            c.candidate.title, f"{c.area_mm2:.0f}", f"{plan.weld_metal_kg:.2f}", str(c.rods), str(len(plan.passes)), minutes(plan.arc_time_s),
            minutes(plan.total_time_s), f"{c.shrinkage_mm[0]:.1f} to {c.shrinkage_mm[1]:.1f}", f"{c.pull.final_deg:+.1f}", c.fusion_risk, c.machining,
        ))  # fmt: skip
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    left = (0, 9, 10)
    lines = ["  ".join(cell.ljust(w) if i in left else cell.rjust(w) for i, (cell, w) in enumerate(zip(row, widths, strict=True))) for row in rows]
    head = f"{base.welded_thickness_mm:g} mm, {base.position}, {base.weld_length_mm():.0f} mm of weld"
    return "\n".join([
        head, *lines, *(f"not offered: {c.candidate.title}: {c.refusal}" for c in refused),
        "Pull index in degrees: ranks preparations, uncertain by 100 %. Shrinkage: range of two schools. Times without waits for cooling.",
    ])  # fmt: skip


def _document(base: Joint, planned: list[Compared], refused: list[Compared]) -> dict[str, Any]:
    return {
        "thickness_mm": base.welded_thickness_mm, "position": base.position, "length_mm": base.weld_length_mm(),
        "preparations": [_entry(c) for c in planned],
        "not_offered": [{"key": c.candidate.key, "title": c.candidate.title, "reason": c.refusal} for c in refused],
    }  # fmt: skip


def _entry(c: Compared) -> dict[str, Any]:
    plan, joint = c.plan, c.candidate.joint
    assert plan is not None and joint is not None
    return {
        "key": c.candidate.key, "title": c.candidate.title, "joint": {field: getattr(joint, field) for field in ("preparation", "backing", *figures_of(joint))},
        "area_mm2": c.area_mm2, "weld_metal_kg": plan.weld_metal_kg, "rods": c.rods, "passes": len(plan.passes), "turns": plan.turns,
        "arc_time_s": plan.arc_time_s, "total_time_s": plan.total_time_s, "shrinkage_mm": {"low": c.shrinkage_mm[0], "high": c.shrinkage_mm[1]},
        "pull_index_deg": c.pull.final_deg, "greatest_pull_deg": c.pull.greatest_deg, "static_pull_deg": c.static_pull_deg,
        "side_wall_risk": c.fusion_risk, "machining": c.machining,
    }  # fmt: skip
