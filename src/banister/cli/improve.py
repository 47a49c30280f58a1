"""`banister improve`: the best preparation of a joint inside bounds, what it saves, and what each step of the present one costs."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.drawing.charts.landscape_picture import landscape_picture
from banister.core.plan.improve import GOALS, TIME, WEIGHTS, Bound, Improving, Tried, Weights, improved, unknowns_of
from banister.core.plan.improve_said import gain_said, risk_said, step_said, takes_said, values_said
from banister.core.words import Speech
from banister.export.svg import svg

SVG_SIZE = 900.0, 560.0


def add_parser(commands: Any, say: Speech) -> None:
    """Add `improve` to the command line."""
    p = described(commands, "improve", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--goal", choices=GOALS, default=TIME, help=say("cli.improve.goal"))
    p.add_argument("--weights", metavar="T,M,P", help=say("cli.improve.weights"))
    p.add_argument("--bound", metavar="FIGURE=LOW..HIGH", action="append", default=[], help=say("cli.improve.bound"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.improve.svg"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Search and print."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    weights = WEIGHTS[a.goal] if a.weights is None else _weights(a.weights)
    asked = dict(_bound(text) for text in a.bound)
    bounds = tuple(asked.pop(bound.key, bound) for bound in unknowns_of(joint))
    *_, state = improved(joint, job.rods_by_id, (*bounds, *asked.values()), weights)
    if a.svg:
        desk.write(a.svg, svg(landscape_picture(state, SVG_SIZE, desk.say), joint.name).encode())
    print(json.dumps(_document(state, joint.id, desk.say), indent=1) if a.json else "\n".join(_lines(state, f"{joint.id}  {joint.name}", desk.say)))
    return INSIDE if state.best.is_one else OUTSIDE


def _bound(text: str) -> tuple[str, Bound]:
    key, equals, window = text.partition("=")
    low, dots, high = window.partition("..")
    try:
        found = Bound(key, float(low), float(high if dots else low))
    except ValueError:
        raise UsageFault("cli.fault.improve.bound", text=text) from None
    if not equals or not (math.isfinite(found.low) and math.isfinite(found.high)):
        raise UsageFault("cli.fault.improve.bound", text=text)
    return key, found


def _weights(text: str) -> Weights:
    try:
        parts = [float(part) for part in text.split(",")]
    except ValueError:
        parts = []
    if len(parts) != 3 or not all(math.isfinite(part) and part >= 0 for part in parts) or not any(parts):
        raise UsageFault("cli.fault.improve.weights", text=text)
    return Weights(*parts)


def _lines(state: Improving, title: str, say: Speech) -> list[str]:
    now, best = (say(f"cli.improve.{name}", values=values_said(state, tried, say), takes=takes_said(tried, say))
                 for name, tried in (("now", state.present), ("best", state.best)))  # fmt: skip
    risk = risk_said(state, say)
    return [title, now, *([best] if state.best.is_one else []), gain_said(state, say), *([risk] if risk else []), "",
            *(step_said(state, step, say) for step in state.steps), "", say("improve.note")]  # fmt: skip


def _document(state: Improving, joint: str, say: Speech) -> dict[str, Any]:
    return {
        "format": "banister-improve", "version": 1, "joint": joint, "tried": state.done,
        "weights": {"time": state.weights.time, "metal": state.weights.metal, "pull": state.weights.pull},
        "bounds": [{"figure": b.key, "low": b.low, "high": b.high} for b in state.bounds],
        "present": _tried(state.present, say), "best": _tried(state.best, say),
        "steps": [{"figure": step.key, "change": round(step.change, 4), **_tried(step.tried, say)} for step in state.steps],
        "landscape": {"x": state.bounds[0].key, "xs": list(state.xs), "y": state.bounds[1].key if state.ys else None, "ys": list(state.ys),
                      "time_s_m": [None if t is None or not t.is_one else round(t.time_s_m, 1) for t in state.grid]},
    }  # fmt: skip


def _tried(tried: Tried, say: Speech) -> dict[str, Any]:
    figures: dict[str, Any] = {"values": dict(tried.values), "reasons": [say.sentence(r) for r in tried.reasons]}
    if tried.is_one:
        figures |= {"time_s_m": round(tried.time_s_m, 1), "metal_kg_m": round(tried.metal_kg_m, 4), "rods_m": round(tried.rods_m, 2),
                    "pull_deg": round(tried.pull_deg, 3), "side_wall_risk": tried.risk}  # fmt: skip
    return figures
