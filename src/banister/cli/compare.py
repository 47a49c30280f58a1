"""`banister compare`: every sensible preparation for a thickness, side by side."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.joint.figures import figures_of
from banister.core.joint.joint import Joint, edited, field_of
from banister.core.plan.compare import BOTH_SIDES, ONE_SIDE, Compared, Shop, candidates, compared
from banister.core.rods.usual import usual_rods
from banister.core.units import minutes
from banister.core.words import Speech

SORTS = {
    "metal": lambda c: c.plan.weld_metal_kg, "rods": lambda c: c.rods, "passes": lambda c: len(c.plan.passes),
    "arc": lambda c: c.plan.arc_time_s, "total": lambda c: c.plan.total_time_s, "pull": lambda c: abs(c.pull.final_deg),
    "shrinkage": lambda c: c.shrinkage_mm[1],
}  # fmt: skip
COLUMNS = ("preparation", "area", "metal", "rods", "passes", "arc_time", "total", "shrinks", "pull", "fusion", "edges")


def add_parser(commands: Any, say: Speech) -> None:
    """Add `compare` to the command line."""
    p = described(commands, "compare", say)
    p.add_argument("--thickness", metavar="LENGTH")
    p.add_argument("--access", choices=(ONE_SIDE, BOTH_SIDES), default=ONE_SIDE, help=say("cli.compare.access"))
    p.add_argument("--position", default="1G", metavar="CODE")
    p.add_argument("--progression", choices=("up", "down"))
    p.add_argument("--length", metavar="LENGTH", help=say("figure.length_mm.help"))
    p.add_argument("--pipe-od", metavar="LENGTH", help=say("figure.pipe_od_mm.help"))
    p.add_argument("--no-machining", action="store_true", help=say("cli.compare.no_machining"))
    p.add_argument("--job", type=Path, help=say("cli.compare.job"))
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--sort", choices=tuple(SORTS), default="total")
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the chooser."""
    base = _from_job(a, desk) if a.job else _from_words(a)
    shipped = desk.library.rods
    rods = desk.library.rods_by_id
    if a.job:
        rods |= desk.read(a.job).rods_by_id
    shop = Shop(access=a.access, machining=not a.no_machining)
    found = [compared(c, rods) for c in candidates(base, shop, usual_rods(shipped, base, "open"), usual_rods(shipped, base, "bar"))]
    planned = sorted((c for c in found if not c.refusal), key=SORTS[a.sort])
    refused = [c for c in found if c.refusal]
    print(json.dumps(_document(base, planned, refused, desk.say), indent=2) if a.json else _table(base, planned, refused, desk.say))
    return INSIDE if planned else OUTSIDE


def _from_job(a: argparse.Namespace, desk: Desk) -> Joint:
    job = desk.read(a.job)
    if a.thickness:
        raise UsageFault("cli.fault.compare.thickness")
    return desk.joints(job, a.joint)[0]


def _from_words(a: argparse.Namespace) -> Joint:
    if not a.thickness:
        raise UsageFault("cli.fault.compare.nothing")
    if a.length and a.pipe_od:
        raise UsageFault("cli.fault.length_or_od")
    form = "pipe" if a.pipe_od else "plate"
    position, progression = spelling.position_and_progression(a.position, form, a.progression)
    thickness = spelling.figure("--thickness", a.thickness, "length")
    joint = edited(Joint(id="J1", name="compare"), thickness_mm=thickness, form=form, position=position, progression=progression)
    if a.pipe_od:
        return spelling.checked(edited(joint, pipe_od_mm=spelling.figure("--pipe-od", a.pipe_od, "length")))
    return spelling.checked(edited(joint, length_mm=spelling.figure("--length", a.length or "500", "length")))


def _table(base: Joint, planned: list[Compared], refused: list[Compared], say: Speech) -> str:
    u = say.units
    units = {"area": u.unit("area"), "metal": u.unit("mass"), "shrinks": u.unit("length")}
    rows = [tuple(f"{say(f'column.{key}')} {units.get(key, '')}".strip() for key in COLUMNS)]
    for c in planned:
        plan = c.plan
        assert plan is not None
        low, high = (u.text("length", mm) for mm in c.shrinkage_mm)
        rows.append((
            say(c.candidate.word), u.text("area", c.area_mm2, None if u.inches else 0), u.text("mass", plan.weld_metal_kg), str(c.rods), str(len(plan.passes)),
            minutes(plan.arc_time_s), minutes(plan.total_time_s), say("window.both", low=low, high=high), u.text("signed_angle", c.pull.final_deg),
            say(f"risk.{c.fusion_risk}"), say(f"edges.{c.machining}"),
        ))  # fmt: skip
    weld = say("cli.compare.weld", length=u.shown("long_length", base.weld_length_mm()))
    head = f"{u.shown('length', base.prep.welded_thickness_mm)}, {base.piece.position}, {weld}"
    return "\n".join([
        head, *columns(rows, left=(0, 9, 10)),
        *(say("cli.compare.refused", title=say(c.candidate.word), why="; ".join(say.text(r) for r in c.refusal)) for c in refused), say("cli.compare.foot"),
    ])  # fmt: skip


def _document(base: Joint, planned: list[Compared], refused: list[Compared], say: Speech) -> dict[str, Any]:
    return {
        "thickness_mm": base.prep.welded_thickness_mm, "position": base.piece.position, "length_mm": base.weld_length_mm(),
        "preparations": [_entry(c, say) for c in planned],
        "not_offered": [{"key": c.candidate.key, "title": say(c.candidate.word), "reason": "; ".join(say.text(r) for r in c.refusal)} for c in refused],
    }  # fmt: skip


def _entry(c: Compared, say: Speech) -> dict[str, Any]:
    plan, joint = c.plan, c.candidate.joint
    assert plan is not None and joint is not None
    return {
        "key": c.candidate.key, "title": say(c.candidate.word),
        "joint": {"preparation": joint.prep.key, "backing": joint.prep.backing} | {f.key: field_of(joint, f.key) for f in figures_of(joint)},
        "area_mm2": c.area_mm2, "weld_metal_kg": plan.weld_metal_kg, "rods": c.rods, "passes": len(plan.passes), "turns": plan.turns,
        "arc_time_s": plan.arc_time_s, "total_time_s": plan.total_time_s, "shrinkage_mm": {"low": c.shrinkage_mm[0], "high": c.shrinkage_mm[1]},
        "pull_index_deg": c.pull.final_deg, "greatest_pull_deg": c.pull.greatest_deg, "static_pull_deg": c.static_pull_deg,
        "side_wall_risk": c.fusion_risk, "machining": say(f"edges.{c.machining}"),
    }  # fmt: skip
