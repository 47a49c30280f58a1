"""`banister testpieces`: where test pieces are cut from a weld, clear of stops and tacks."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk, columns
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.fitup.places import Course, course_of
from banister.core.inspect.cutting import SURE, Asked, cut_as_asked, cuts_asked, notes_said, piece_word, zones_of
from banister.core.inspect.pieces import CutPlan, Short
from banister.core.joint.joint import Joint
from banister.core.remark import Figure
from banister.core.words import Speech
from banister.job.journal import records_of
from banister.job.test_pieces import PieceRule, PieceTable, piece_table


def add_parser(commands: Any, say: Speech) -> None:
    """Add `testpieces` to the command line."""
    p = described(commands, "testpieces", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--rule", type=int, metavar="N", help=say("cli.testpieces.rule"))
    p.add_argument("--pieces", metavar="LIST", help=say("cli.testpieces.pieces"))
    p.add_argument("--pdf", type=Path, metavar="FILE", help=say("cli.testpieces.pdf"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """List the rules there are, or cut by one."""
    job, say, table = desk.read(a.file), desk.say, piece_table()
    joint = desk.joint(job, a.joint)
    if a.rule is None and a.pieces is None:
        print("\n".join([say("testpieces.offered"), *(_rule_said(rule, say) for rule in table.offered(joint)), say("testpieces.caution")]))
        return INSIDE
    rule = _rule(a, joint, table)
    asked = table.asked(rule.pieces if rule is not None else _own_pieces(a.pieces, table), rule)
    course = course_of(joint)
    zones = zones_of(joint, desk.plan(job, joint), records_of(a.file))
    found = cut_as_asked(asked, course, zones)
    if a.pdf and isinstance(found, CutPlan):
        from banister.export.test_pieces import piece_pages

        desk.write(a.pdf, piece_pages(joint, cuts_asked(asked, found), zones, course, say))
    if a.json:
        print(json.dumps(_document(joint, asked, found, rule), indent=1))
    else:
        print("\n".join(_said(asked, found, course, say)))
    return OUTSIDE if isinstance(found, Short) else INSIDE


def _rule(a: argparse.Namespace, joint: Joint, table: PieceTable) -> PieceRule | None:
    if a.rule is None:
        return None
    found = next((rule for rule in table.offered(joint) if rule.number == a.rule), None)
    if found is None:
        raise UsageFault("cli.fault.testpieces.rule", n=str(a.rule), known=", ".join(str(rule.number) for rule in table.offered(joint)) or "-")
    return found


def _own_pieces(text: str, table: PieceTable) -> tuple[str, ...]:
    pieces = tuple(piece.strip() for piece in text.split(",") if piece.strip())
    wrong = [piece for piece in pieces if piece not in table.widths_mm]
    if wrong or not pieces:
        raise UsageFault("cli.fault.testpieces.piece", piece=", ".join(wrong) or "-", known=", ".join(table.widths_mm))
    return pieces


def _rule_said(rule: PieceRule, say: Speech) -> str:
    pieces = ", ".join(piece_word(piece, say) for piece in rule.pieces)
    sure = "" if rule.certainty == SURE else f" ({say('certainty.unverified')})"
    return say("testpieces.rule", n=str(rule.number), family=rule.family, purpose=say(f"testpieces.{rule.purpose}"), pieces=pieces) + sure


def _said(asked: Asked, found: CutPlan | Short, course: Course, say: Speech) -> list[str]:
    if isinstance(found, Short):
        return [say("testpieces.short", by=Figure(found.by_mm, "long_length"))]
    rows = [[say("testpieces.n"), say("testpieces.piece"), say("testpieces.from"), say("testpieces.to")]]
    for cut in cuts_asked(asked, found):
        ends = [say.figure(course.figure(s % course.length_mm if course.closed else s)) for s in (cut.from_mm, cut.from_mm + cut.width_mm)]
        rows.append([str(cut.number), piece_word(cut.piece, say), *ends])
    clear = say("testpieces.clear") if found.cost <= 0 else say("testpieces.takes", cost=Figure(found.cost, "long_length"))
    return [*columns(rows, left=(1,)), clear, *notes_said(asked, say)]


def _document(joint: Joint, asked: Asked, found: CutPlan | Short, rule: PieceRule | None) -> dict[str, Any]:
    head = {"format": "banister-cut-plan", "version": 1, "joint": joint.id, "rule": rule.number if rule is not None else None,
            "certainty": rule.certainty if rule is not None else None}  # fmt: skip
    if isinstance(found, Short):
        return {**head, "pieces": [], "weighted_overlap_mm": None, "short_by_mm": found.by_mm}
    cuts = [{"piece": cut.piece, "from_mm": cut.from_mm, "width_mm": cut.width_mm} for cut in cuts_asked(asked, found)]
    return {**head, "pieces": cuts, "weighted_overlap_mm": found.cost, "short_by_mm": None}
