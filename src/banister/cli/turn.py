"""`banister turn`: how to turn one pipe end against the other for the least high-low."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE
from banister.core.fitup.turn import GOALS, LIMIT_MM, MAX, Turned, TurnRules, best_turn, signed
from banister.core.remark import Figure
from banister.core.value import replace
from banister.core.words import Speech
from banister.job.fitup_csv import read_pipe_end


def add_parser(commands: Any, say: Speech) -> None:
    """Add `turn` to the command line."""
    p = described(commands, "turn", say)
    p.add_argument("first", type=Path, metavar="A")
    p.add_argument("second", type=Path, metavar="B")
    p.add_argument("--seam-a", type=spelling.number, metavar="DEG", help=say("cli.turn.seam_a"))
    p.add_argument("--seam-b", type=spelling.number, metavar="DEG", help=say("cli.turn.seam_b"))
    p.add_argument("--apart", type=spelling.number, default=0.0, metavar="DEG", help=say("cli.turn.apart"))
    p.add_argument("--most", type=spelling.number, default=180.0, metavar="DEG", help=say("cli.turn.most"))
    p.add_argument("--goal", choices=GOALS, default=MAX, help=say("cli.turn.goal"))
    p.add_argument("--limit", type=spelling.number, default=LIMIT_MM, metavar="MM", help=say("cli.turn.limit"))
    p.add_argument("--least-max", action="store_true", help=say("cli.turn.least_max"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Try every turn and print the best."""
    first, second = (read_pipe_end(path) for path in (a.first, a.second))
    rules = TurnRules(seams_apart_deg=a.apart, most_deg=a.most, goal=a.goal, least_max_centring=a.least_max, limit_mm=a.limit)
    found = best_turn(replace(first, seam_deg=a.seam_a), replace(second, seam_deg=a.seam_b), rules)
    print(json.dumps(_document(found, desk.say), indent=1) if a.json else "\n".join(_lines(found, desk.say)))
    return INSIDE if found.best is not None else OUTSIDE


def _lines(found: Turned, say: Speech) -> list[str]:
    lines = []
    for i, turn in enumerate(found.valleys):
        figures = {"turn": Figure(signed(turn.turn_deg), "signed_angle"),
                   "most": Figure(turn.greatest_mm, "fine_length"), "rms": Figure(turn.rms_mm, "fine_length")}  # fmt: skip
        lines.append(say("cli.turn.best" if i == 0 else "cli.turn.next", **figures))
        if i == 0:
            lines.append(say("cli.turn.truly", truly=Figure(turn.greatest_mm + found.optimism_mm, "fine_length"),
                             was=Figure(found.as_laid.greatest_mm, "fine_length")))  # fmt: skip
    return [*lines, *(say.sentence(r) for r in found.remarks)]


def _document(found: Turned, say: Speech) -> dict[str, Any]:
    return {
        "format": "banister-turn", "version": 1,
        "valleys": [{"turn_deg": t.turn_deg, "max_high_low_mm": round(t.greatest_mm, 4), "rms_mm": round(t.rms_mm, 4)} for t in found.valleys],
        "as_laid": {"max_high_low_mm": round(found.as_laid.greatest_mm, 4), "rms_mm": round(found.as_laid.rms_mm, 4)},
        "optimism_mm": round(found.optimism_mm, 3),
        "curve": [{"turn_deg": t, "max_high_low_mm": round(h, 4), "allowed": ok} for t, h, ok in
                  zip(found.turns_deg.tolist(), found.greatest_mm.tolist(), found.allowed.tolist(), strict=True)],
        "remarks": [{"code": r.code, "text": say.sentence(r)} for r in found.remarks],
    }  # fmt: skip
