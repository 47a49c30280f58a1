"""`banister new`: a job file from a description in words."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from banister.cli import words
from banister.cli.errors import UsageFault
from banister.core.job import Job, job_faults
from banister.core.joint.joint import SPLITS, Choices, Joint
from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.kinds import BACKINGS, KINDS, PREPARATIONS, SECOND_SIDES, SEQUENCES, SQUARE
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.rods.rod import Rod
from banister.job.files import JobFile, read
from banister.core.plan.technique import with_technique
from banister.job.library import catalogue, techniques, usual_rods

_EPILOG = """\
examples:
  banister new --prep single-v --thickness 22 --bevel-angle 30 --root-gap 3 --root-face 1.5 \\
      --backing open --position 3G --length 900 -o flange.banister
  banister new --prep single-bevel --thickness 16 --bevel-angle 35 --root-gap 8 --backing bar \\
      --position PC --length 1200 --rod root=E7018:4.0 --rod fill=E7018:4.0 --rod cap=E7018:3.2 \\
      --window fill.E7018:4.0.amps=140..180 --window arc_energy=0.8..2.2 -o girder.banister
  banister new --prep double-v --thickness 35 --front-share 0.45 --sequence turn-back --position 2G -o hinge.banister
  banister new --prep single-u --thickness 40 --bevel-angle 12 --root-radius 6 --root-face 2 -o ring.banister
  banister new --prep fillet-tee --thickness 12 --leg-left 8 --leg-right 8 --position PB -o bracket.banister
  banister new --prep single-v --thickness 12.7 --bevel-angle 35 --root-gap 1/8 --root-face 1/16 \\
      --pipe-od 323.9 --position 6G --progression up -o pipe.banister

Lengths are mm unless a unit is given; a bare fraction is inches (1/8, 3/32 in).
"""
_FIGURES = {
    "right_thickness_mm": "thickness of the right plate where it differs",
    "taper": "thicker plate thinned at 1 in N down to the thinner one (4); 0: a step",
    "high_low_mm": "right plate stands this much higher",
    "knee_mm": "compound V: height where the upper angle begins",
    "upper_bevel_deg": "compound V: angle above the knee (10)",
    "root_radius_mm": "U, J: radius (6, J 8)",
    "root_level_mm": "U, J: level stretch before the arc (0)",
    "front_share": "double: the front's share of the depth (0.5)",
    "back_bevel_deg": "double: angle per side at the back (as the front)",
    "leg_left_mm": "fillet: leg on the level plate",
    "leg_right_mm": "fillet: leg on the standing plate",
    "fillet_angle_deg": "fillet: angle between the plates (90)",
    "bar_thickness_mm": "bar: thickness (6)",
    "bar_width_mm": "bar: width (40)",
    "bar_gap_mm": "bar: gap between it and the plates (0)",
    "ceramic_width_mm": "ceramic: width of its groove (12)",
    "ceramic_depth_mm": "ceramic: depth of its groove (1.5)",
    "gouge_into_mm": "gouged this far into sound metal (1.5)",
    "gouge_radius_mm": "radius of the gouge (5)",
    "gouge_angle_deg": "angle of the gouge's ground sides (20)",
}
_CHOICES = {
    "reveal_mm": ("--reveal", "depth left below flush before the cap (0.5 to 1.5)"),
    "cap_overlap_mm": ("--cap-overlap", "how far the cap's toes go past the edges (0.5 to 2)"),
    "root_reinforcement_mm": ("--root-reinforcement", "root height below the plate, open root"),
}
_SECONDS = {
    "rod_change_s": ("--rod-change", "seconds for a rod change (15)"),
    "clean_bead_s": ("--clean-bead", "seconds of cleaning a bead (20)"),
    "clean_per_m_s": ("--clean-per-m", "seconds of cleaning a metre of bead (60)"),
    "turn_s": ("--turn", "seconds to turn the work (600)"),
    "gouge_per_m_s": ("--gouge-per-m", "seconds to gouge and grind a metre (240)"),
    "spare_rods_percent": ("--spare-rods", "rods to take along on top, per cent (10)"),
}


def add_parser(commands: Any) -> None:
    """Add `new` to the command line."""
    p = commands.add_parser(
        "new", help="make a job file from a description", epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    groove = p.add_argument_group("groove")
    groove.add_argument("--prep", choices=tuple(PREPARATIONS), default="single-v")
    groove.add_argument("--thickness", required=True, metavar="LENGTH")
    groove.add_argument("--bevel-angle", metavar="DEG", help="per side, from the vertical (30; U 12, J 20); 30,35 for unlike sides")
    groove.add_argument("--root-gap", metavar="LENGTH", help="3 mm; 8 on a bar, 5 on ceramic, 0 closed")
    groove.add_argument("--root-face", metavar="LENGTH", help="1.5 mm; 0 on a bar or ceramic, 3 closed")
    groove.add_argument("--backing", choices=tuple(BACKINGS))
    groove.add_argument("--second-side", choices=tuple(SECOND_SIDES))
    groove.add_argument("--sequence", choices=tuple(SEQUENCES), default="one-side", help="order of the two sides")
    for field, text in _FIGURES.items():
        groove.add_argument(_option(field), metavar=_unit(field), help=text)
    weld = p.add_argument_group("weld")
    weld.add_argument("--length", metavar="LENGTH", help="plate: length of the weld (500)")
    weld.add_argument("--pipe-od", metavar="LENGTH", help="pipe: outside diameter, instead of --length")
    weld.add_argument("--position", metavar="CODE", help="1G..6G, 1F..4F or PA PB PC PD PE PF PG PH PJ H-L045 J-L045")
    weld.add_argument("--progression", choices=("up", "down"))
    weld.add_argument("--root-progression", choices=("up", "down"), help="where the root goes the other way")
    procedure = p.add_argument_group("rods and procedure")
    procedure.add_argument("--rod", action="append", default=[], metavar="ROLE=TYPE:SIZE[xLENGTH]", help="repeat for candidates; roles root hot fill cap")
    procedure.add_argument("--no-hot", action="store_true", help="no hot pass")
    procedure.add_argument("--window", action="append", default=[], metavar="[ROLE.][ROD.]QUANTITY=LOW..HIGH")
    procedure.add_argument("--run-out", action="append", default=[], metavar="TYPE:SIZE=LENGTH", help="what one rod really gave you in this position")
    procedure.add_argument("--procedure", default="", metavar="NUMBER")
    procedure.add_argument("--revision", default="")
    procedure.add_argument("--base-metal", default="")
    procedure.add_argument("--acceptance", choices=tuple(ACCEPTANCE), default="none")
    planning = p.add_argument_group("planning")
    planning.add_argument("--choose", choices=("balanced", "quickest", "coolest", "fewest"), default="balanced")
    planning.add_argument("--technique", metavar="ID", help="a school of practice: see banister techniques")
    planning.add_argument("--split", choices=tuple(SPLITS), default="usual", help="when a layer is split into more beads")
    planning.add_argument("--extra-cap-bead", action="store_true", help="one cap bead more than needed")
    planning.add_argument("--stringers-only", action="store_true")
    planning.add_argument("--walls-first", action="store_true", help="both walls first, the middle last")
    planning.add_argument("--start-right", action="store_true", help="first layer begins at the right")
    for option, text in (*_CHOICES.values(), *_SECONDS.values()):
        planning.add_argument(option, metavar="VALUE", help=text)
    job = p.add_argument_group("job")
    job.add_argument("--name", default="", help="name of the job")
    job.add_argument("--joint", default="J1", metavar="ID", help="id of the joint")
    job.add_argument("--joint-name", default="")
    job.add_argument("--drawing", default="")
    job.add_argument("--site", default="")
    job.add_argument("--prepared-by", default="")
    job.add_argument("--checked-by", default="")
    job.add_argument("-o", "--output", required=True, type=Path, metavar="FILE")
    job.add_argument("--force", action="store_true", help="overwrite an existing file")
    job.add_argument("--add", action="store_true", help="add the joint to an existing job file")
    p.set_defaults(run=run)


def run(a: argparse.Namespace) -> int:
    """Write the job file."""
    if a.output.exists() and not (a.force or a.add):
        raise UsageFault(f"{a.output} exists; use --force to overwrite it or --add to add the joint to it")
    rods = catalogue()
    joint, named = joint_from(a, rods)
    job = Job(name=a.name or a.output.stem, site=a.site, prepared_by=a.prepared_by, checked_by=a.checked_by)
    if a.add and a.output.exists():
        job = read(a.output).job
        if any(j.id == joint.id for j in job.joints):
            raise UsageFault(f"--joint: the job already has a joint '{joint.id}'")
    wanted = {use.rod for use in joint.rods}
    job = job.adding(joint).with_rods(tuple(r for r in (*named, *rods) if r.id in wanted))
    faults = job_faults(job)
    if faults:
        raise UsageFault("; ".join(f"{f.code}: {f.text}. {f.remedy}".strip() for f in faults))
    JobFile(a.output).save(job)
    return 0


def joint_from(a: argparse.Namespace, rods: Sequence[Rod]) -> tuple[Joint, tuple[Rod, ...]]:
    """The joint a command line describes, and the rods it names."""
    if a.length and a.pipe_od:
        raise UsageFault("--length is for plate, --pipe-od for pipe: give one")
    form = "pipe" if a.pipe_od else "plate"
    where = "fillet" if KINDS[a.prep].fillet else form
    position, progression = words.position_and_progression(a.position or ("1F" if where == "fillet" else "1G"), where, a.progression)
    joint = Joint(
        id=a.joint, name=a.joint_name or a.name or a.output.stem, drawing=a.drawing, base_metal=a.base_metal,
        thickness_mm=words.length("--thickness", a.thickness), form=form, length_mm=words.length("--length", a.length or "500"),
        pipe_od_mm=words.length("--pipe-od", a.pipe_od or "273.1"), progression=progression, root_progression=a.root_progression or "",
        procedure=a.procedure, procedure_revision=a.revision, choices=_choices(a), chosen=a.choose, sequence=a.sequence,
        windows=tuple(words.window(spec) for spec in a.window),
        own_run_out=tuple(words.own_run_out(spec, position, rods) for spec in a.run_out),
    )  # fmt: skip
    joint = with_preparation(joint, a.prep)
    if a.backing and not joint.kind.fillet:
        joint = with_backing(joint, a.backing)
    joint = replace(joint, position=position, **_given_figures(a, joint))
    uses, named = words.rod_uses(a.rod, rods)
    given = {use.role for use in uses}
    uses += tuple(u for u in usual_rods(tuple(rods), joint.backing) if u.role not in given)
    joint = replace(joint, rods=tuple(u for u in uses if u.role != "hot") if a.no_hot else uses)
    if a.technique:
        school = next((t for t in techniques() if t.id == a.technique), None)
        if school is None:
            raise UsageFault(f"--technique: no '{a.technique}'; there is {', '.join(t.id for t in techniques())}")
        joint, more = with_technique(joint, school, tuple(rods))
        named += more
    return joint, named


def _given_figures(a: argparse.Namespace, joint: Joint) -> dict[str, Any]:
    """What the command line says of the groove, over what the preparation starts from."""
    found: dict[str, Any] = {}
    if a.bevel_angle:
        left, right = words.angles("--bevel-angle", a.bevel_angle)
        kind = joint.kind
        found |= {"bevel_left_deg": left if kind.left != SQUARE else 0.0, "bevel_right_deg": right if kind.right != SQUARE else 0.0}
        found["back_bevel_deg"] = right
    for option, field in (("--root-gap", "root_gap_mm"), ("--root-face", "root_face_mm")):
        text = getattr(a, field.removesuffix("_mm"))
        if text:
            found[field] = words.length(option, text)
    if a.second_side:
        found["second_side"] = a.second_side
    for field in _FIGURES:
        text = getattr(a, _option(field)[2:].replace("-", "_"))
        if text is not None:
            found[field] = words.length(_option(field), text) if field.endswith("_mm") else words.number(_option(field), text)
    return found


def _option(field: str) -> str:
    return "--" + field.removesuffix("_mm").removesuffix("_deg").replace("_", "-")


def _unit(field: str) -> str:
    return "LENGTH" if field.endswith("_mm") else "DEG" if field.endswith("_deg") else "N"


def _choices(a: argparse.Namespace) -> Choices:
    found: dict[str, Any] = {}
    for field, (option, _) in (_CHOICES | _SECONDS).items():
        text = getattr(a, option.removeprefix("--").replace("-", "_"))
        if text is not None:
            found[field] = words.length(option, text) if field in _CHOICES else words.number(option, text)
    return Choices(acceptance=a.acceptance, stringers_only=a.stringers_only, walls_first=a.walls_first,
                   start_right=a.start_right, split=a.split, extra_cap_bead=a.extra_cap_bead, **found)
