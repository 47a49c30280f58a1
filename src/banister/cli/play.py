"""`banister play`: beads laid by hand on a joint's section, one after the other, with what comes of each."""

from __future__ import annotations

import argparse
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, OUTSIDE, UsageFault
from banister.core.drawing.charts.play_picture import play_picture
from banister.core.joint.faults import joint_faults
from banister.core.plan.answers import plan_joint
from banister.core.play.hand import MOST_BEADS, ByHand, Hand, Play, begun, by_hand, role_at
from banister.core.play.said import bead_said, hand_said, stands_said
from banister.core.play.sound import sound_next
from banister.core.remark import Figure, Refused
from banister.core.rods.rod import Rod
from banister.core.typed import typed
from banister.core.words import Speech
from banister.export.svg import svg

SVG_SIZE = 1000.0, 640.0
KINDS = ("current", "speed", "length", "length")
LOWEST, HIGHEST = (1.0, 1.0, -500.0, 0.0), (2000.0, 5000.0, 500.0, 60.0)


def add_parser(commands: Any, say: Speech) -> None:
    """Add `play` to the command line."""
    p = described(commands, "play", say)
    p.add_argument("file", type=Path, metavar="JOB")
    p.add_argument("--joint", metavar="ID", help=say("cli.joint"))
    p.add_argument("--after", type=int, default=0, metavar="N", help=say("cli.play.after"))
    p.add_argument("--bead", metavar="ROD,A,SPEED[,AIM[,WIDTH]]", action="append", default=[], help=say("cli.play.bead"))
    p.add_argument("--svg", type=Path, metavar="FILE", help=say("cli.play.svg"))
    p.add_argument("--json", action="store_true")
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Lay them and print."""
    job = desk.read(a.file)
    joint = desk.joint(job, a.joint)
    if faults := joint_faults(joint):
        raise Refused(*faults)
    if len(a.bead) > MOST_BEADS:
        raise UsageFault("cli.fault.play.many", most=str(MOST_BEADS))
    plan = plan_joint(joint, job.rods_by_id, joint.working.chosen)
    if not 0 <= a.after <= len(plan.passes):
        raise UsageFault("cli.fault.play.after", n=str(a.after), most=str(len(plan.passes)))
    play = begun(joint, job.rods_by_id, plan.passes, a.after)
    done, refused = list[tuple[ByHand, str, str]](), None
    for text in a.bead:
        one = by_hand(play, _hand(text, job.rods_by_id, desk.say))
        done.append((one, hand_said(play, one, role_at(play, one.hand.aim_mm), desk.say), bead_said(one, desk.say)))
        if one.refusal is not None:
            refused = one
            break
        play = play.with_bead(one)
    sound = sound_next(play).next
    if a.svg:
        desk.write(a.svg, svg(play_picture(play, refused, sound, desk.say, SVG_SIZE).drawing, joint.name).encode())
    if a.json:
        print(json.dumps(_document(play, done, sound.rod.id if sound is not None else None, desk.say), indent=1))
    else:
        for one, hand, bead in done:
            print(hand, bead, *(f"  {desk.say.sentence(remark)}" for remark in one.remarks if one.refusal is None), sep="\n")
        print(stands_said(play, desk.say))
        if sound is not None:
            print(desk.say("cli.play.sound", rod=sound.rod.id, area=desk.say.sized("area", sound.area_mm2)))
        print(desk.say("play.note"))
    return OUTSIDE if refused is not None else INSIDE


def _hand(text: str, rods: Mapping[str, Rod], say: Speech) -> Hand:
    """A bead from its words: rod, amps, speed, aim, width; figures with or without a unit."""
    parts = [part.strip() for part in text.split(",")]
    if not 3 <= len(parts) <= 5:
        raise UsageFault("cli.fault.play.bead", text=text)
    if parts[0] not in rods:
        raise UsageFault("cli.fault.play.rod", rod=parts[0], rods=", ".join(rods))
    figures = [typed(part, kind, say.units) for part, kind in zip(parts[1:], KINDS, strict=False)]
    if not all(low <= value <= high for value, low, high in zip(figures, LOWEST, HIGHEST, strict=False)):
        (amps, speed, aim, width) = (Figure(ends, kind) for ends, kind in zip(zip(LOWEST, HIGHEST, strict=True), KINDS, strict=True))
        raise UsageFault("cli.fault.play.range", text=text, current=amps, speed=speed, aim=aim, width=width)
    return Hand(rods[parts[0]], *figures)


def _document(play: Play, done: list[tuple[ByHand, str, str]], sound: str | None, say: Speech) -> dict[str, Any]:
    shape = play.shape
    return {
        "format": "banister-play", "version": 1, "joint": play.joint.id, "side": play.side.name, "begun_with": len(play.begun_with),
        "beads": [_bead(one, say) for one, _, _ in done], "next_of_a_sound_plan": sound,
        "full": None if shape is None else {"least_mm": round(shape.edge_min, 2), "most_mm": round(shape.max, 2)}, "note": say("play.note"),
    }  # fmt: skip


def _bead(one: ByHand, say: Speech) -> dict[str, Any]:
    hand, bead, found = one.hand, one.bead, one.found
    figures: dict[str, Any] = {"rod": hand.rod.id, "amps": hand.amps, "travel_mm_min": hand.travel_mm_min, "aim_mm": hand.aim_mm,
                               "width_held_mm": hand.width_mm or None, "refused": None if one.refusal is None else one.refusal.code}  # fmt: skip
    if bead is not None and found is not None:
        remarks = [{"code": r.code, "verdict": r.verdict, "words": say.sentence(r)} for r in one.remarks]
        figures |= {"role": found.role, "area_mm2": round(bead.area_mm2, 3), "width_mm": round(bead.width_mm, 3), "crown_mm": round(one.crown_mm, 3),
                    "toe_angles_deg": [round(bead.contact_left_deg, 1), round(bead.contact_right_deg, 1)], "run_out_mm": round(found.run_out_mm, 1),
                    "arc_energy_kj_mm": round(found.arc_energy_kj_mm, 3), "remarks": remarks}  # fmt: skip
    return figures
