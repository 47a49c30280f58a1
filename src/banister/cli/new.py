"""`banister new`: a job file from a description in words."""

from __future__ import annotations

import argparse
import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from banister.cli import spelling
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE, UsageFault
from banister.core.job import Job, job_faults
from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.figures import CHOICE_FIGURES, FIGURES, GROOVE_FIGURES, PIECE_FIGURES
from banister.core.joint.heating import BORES, RESTRAINTS
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import BACKINGS, KINDS, PROGRESSIONS, SECOND_SIDES, SEQUENCES, SQUARE
from banister.core.joint.working import BALANCED, SPLITS
from banister.core.limits.acceptance import ACCEPTANCE, NONE_CHOSEN
from banister.core.material.steel import PRESETS
from banister.core.plan.technique import with_technique
from banister.core.remark import Refused
from banister.core.rods.rod import Rod
from banister.core.rods.usual import usual_rods
from banister.core.words import Speech
from banister.job.files import JobFile
from banister.job.journal import journal_path
from banister.job.library import Library

OPTIONS = {f.key: f for f in (*GROOVE_FIGURES, *PIECE_FIGURES, *CHOICE_FIGURES) if f.option}
METAVARS = {"angle": "DEG", "seconds": "S", "seconds_per_length": "S", "ratio": "N", "percent": "N"}
FLAGS = ("stringers_only", "walls_first", "start_right", "extra_cap_bead")
NAMES = ("joint_name", "drawing", "site", "prepared_by", "checked_by")


def add_parser(commands: Any, say: Speech) -> None:
    """Add `new` to the command line."""
    p = described(commands, "new", say)
    _add_groove(p.add_argument_group(say("cli.new.groove")), say)
    _add_weld(p.add_argument_group(say("cli.new.weld")), say)
    _add_heat(p.add_argument_group(say("cli.new.heat")), say)
    _add_rods(p.add_argument_group(say("cli.new.rods")), say)
    _add_planning(p.add_argument_group(say("cli.new.planning")), say)
    _add_job(p.add_argument_group(say("cli.new.job")), say)
    p.set_defaults(run=run)


def _add_groove(group: Any, say: Speech) -> None:
    group.add_argument("--prep", choices=tuple(KINDS), default="single-v")
    group.add_argument("--bevel-angle", metavar="DEG", help=say("cli.new.bevel_angle"))
    group.add_argument("--backing", choices=BACKINGS)
    group.add_argument("--second-side", choices=SECOND_SIDES)
    group.add_argument("--sequence", choices=SEQUENCES, default=SEQUENCES[0], help=say("cli.new.sequence"))
    _add_figures(group, GROOVE_FIGURES, say)


def _add_weld(group: Any, say: Speech) -> None:
    _add_figures(group, PIECE_FIGURES, say)
    group.add_argument("--position", metavar="CODE", help=say("cli.new.position"))
    group.add_argument("--progression", choices=PROGRESSIONS)
    group.add_argument("--root-progression", choices=PROGRESSIONS, help=say("cli.new.root_progression"))
    group.add_argument("--base-metal", default="")


def _add_heat(group: Any, say: Speech) -> None:
    group.add_argument("--width", metavar="LENGTH", help=say("cli.new.width"))
    group.add_argument("--air", metavar="TEMPERATURE", help=say("cli.new.air"))
    group.add_argument("--bore", choices=BORES, help=say("cli.new.bore"))
    group.add_argument("--steel", metavar="NAME|C=..,Mn=..", help=say("cli.new.steel", names=", ".join(s.name for s in PRESETS)))
    group.add_argument("--stainless", action="store_true", help=say("cli.new.stainless"))
    group.add_argument("--hydrogen", metavar="H5|ML", help=say("cli.new.hydrogen"))
    group.add_argument("--restraint", choices=RESTRAINTS)


def _add_rods(group: Any, say: Speech) -> None:
    group.add_argument("--rod", action="append", default=[], metavar="ROLE=TYPE:SIZE[xLENGTH]", help=say("cli.new.rod"))
    group.add_argument("--no-hot", action="store_true", help=say("cli.new.no_hot"))
    group.add_argument("--window", action="append", default=[], metavar="[ROLE.][ROD.]QUANTITY=LOW..HIGH")
    group.add_argument("--run-out", action="append", default=[], metavar="TYPE:SIZE=LENGTH", help=say("cli.new.run_out"))
    group.add_argument("--procedure", default="", metavar="NUMBER")
    group.add_argument("--revision", default="")
    group.add_argument("--acceptance", choices=tuple(ACCEPTANCE), default=NONE_CHOSEN)


def _add_planning(group: Any, say: Speech) -> None:
    group.add_argument("--choose", metavar="ANSWER", default=BALANCED, help=say("cli.new.choose"))
    group.add_argument("--technique", metavar="ID", help=say("cli.new.technique"))
    group.add_argument("--split", choices=SPLITS, default="usual", help=say("cli.new.split"))
    for flag in FLAGS:
        group.add_argument("--" + flag.replace("_", "-"), action="store_true", help=say(f"cli.new.{flag}"))
    _add_figures(group, CHOICE_FIGURES, say)


def _add_job(group: Any, say: Speech) -> None:
    group.add_argument("--name", default="", help=say("cli.new.name"))
    group.add_argument("--joint", default="J1", metavar="ID", help=say("cli.new.joint"))
    for name in NAMES:
        group.add_argument("--" + name.replace("_", "-"), default="")
    group.add_argument("-o", "--output", required=True, type=Path, metavar="FILE")
    group.add_argument("--force", action="store_true", help=say("cli.new.force"))
    group.add_argument("--add", action="store_true", help=say("cli.new.add"))


def _add_figures(group: Any, figures: Sequence[Any], say: Speech) -> None:
    for f in (f for f in figures if f.option):
        key = f"{f.label}.help"
        group.add_argument(f.option, dest=f.key, metavar=METAVARS.get(f.kind, "LENGTH"), required=f.key == "thickness_mm",
                           help=say(key if key in say.words else f.label).replace("%", "%%"))  # fmt: skip


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Write the job file."""
    if a.output.exists() and not (a.force or a.add):
        raise UsageFault("cli.fault.exists", path=str(a.output))
    if journal_path(a.output).exists() and not (a.add and a.output.exists()):
        raise UsageFault("cli.fault.journal_there", path=str(a.output))
    joint, named = joint_from(a, desk.library)
    wanted = {use.rod for use in joint.working.rods}
    rods = tuple(r for r in (*named, *desk.library.rods) if r.id in wanted)
    file = JobFile(a.output)
    try:
        job = Job(name=a.name or _stem(a.output), site=a.site, prepared_by=a.prepared_by, checked_by=a.checked_by)
        if a.add and a.output.exists():
            job = _opened(file)
            if any(j.id == joint.id for j in job.joints):
                raise UsageFault("cli.fault.joint_exists", joint=joint.id)
        job = job.adding(joint).with_rods(rods)
        if faults := job_faults(job):
            raise Refused(*faults)
        file.save(job)
    finally:
        file.close()
    return INSIDE


def _stem(path: Path) -> str:
    """A file's name without its suffix, as a name for what it holds; bytes that are no text are told as such."""
    return os.fsencode(path.stem).decode("utf-8", "replace")


def _opened(file: JobFile) -> Job:
    """The job to add to, held while it is changed; refused where it may not be written."""
    job = file.open()
    if file.read_only:
        raise UsageFault("cli.fault.read_only", path=str(file.path))
    return job


def joint_from(a: argparse.Namespace, library: Library) -> tuple[Joint, tuple[Rod, ...]]:
    """The joint a command line describes, and the rods it names."""
    if a.length_mm and a.pipe_od_mm:
        raise UsageFault("cli.fault.form")
    form = "pipe" if a.pipe_od_mm else "plate"
    is_fillet = KINDS[a.prep].fillet
    where = ("fillet-pipe" if form == "pipe" else "fillet") if is_fillet else form
    position, progression = spelling.position_and_progression(a.position or ("1F" if is_fillet else "1G"), where, a.progression)
    joint = edited(
        Joint(id=a.joint, name=a.joint_name or a.name or _stem(a.output), drawing=a.drawing, procedure=a.procedure, procedure_revision=a.revision),
        thickness_mm=_figure(a, "thickness_mm"), form=form, progression=progression, root_progression=a.root_progression or "", group=a.base_metal,
        windows=tuple(spelling.window(spec) for spec in a.window), sequence=a.sequence, chosen=a.choose, acceptance=a.acceptance, split=a.split,
        own_run_out=tuple(spelling.own_run_out(spec, position, library.rods) for spec in a.run_out), **{flag: getattr(a, flag) for flag in FLAGS},
    )  # fmt: skip
    joint = edited(joint, **_heat(a))
    joint = with_preparation(joint, a.prep)
    if a.backing and not joint.prep.kind.fillet:
        joint = with_backing(joint, a.backing)
    joint = edited(joint, position=position, **_given(a, joint))
    joint, named = _with_rods(a, joint, library)
    return spelling.checked(joint), named


def _given(a: argparse.Namespace, joint: Joint) -> dict[str, Any]:
    """What the command line says, over what the preparation starts from."""
    found: dict[str, Any] = {}
    if a.bevel_angle:
        left, right = spelling.angles("--bevel-angle", a.bevel_angle)
        kind = joint.prep.kind
        found |= {"bevel_left_deg": left if kind.left != SQUARE else 0.0, "bevel_right_deg": right if kind.right != SQUARE else 0.0}
        found["back_bevel_deg"] = right
    if a.second_side:
        found["second_side"] = a.second_side
    return found | {key: _figure(a, key) for key in OPTIONS if getattr(a, key) is not None}


def _heat(a: argparse.Namespace) -> dict[str, Any]:
    """What cooling and preheat depend on, as far as it is said."""
    found: dict[str, Any] = {"stainless": a.stainless}
    if a.width:
        width = spelling.figure("--width", a.width, "length")
        found |= {"width_left_mm": width, "width_right_mm": width}
    if a.air:
        found["air_c"] = spelling.figure("--air", a.air, "set_temperature")
    if a.steel:
        found["steel"] = spelling.steel(a.steel)
    if a.hydrogen:
        found["hydrogen_ml"] = spelling.hydrogen_ml(a.hydrogen)
    return found | {name: value for name in ("bore", "restraint") if (value := getattr(a, name))}


def _figure(a: argparse.Namespace, key: str) -> float:
    return spelling.joint_figure(FIGURES[key], getattr(a, key))


def _with_rods(a: argparse.Namespace, joint: Joint, library: Library) -> tuple[Joint, tuple[Rod, ...]]:
    """The joint with the rods named, whatever the technique; its rods, or usual ones, for the other roles."""
    own, named = spelling.rod_uses(a.rod, library.rods)
    given = {use.role for use in own}
    uses = (*own, *(u for u in usual_rods(library.rods, joint) if u.role not in given))
    joint = edited(joint, rods=tuple(u for u in uses if u.role != "hot") if a.no_hot else uses)
    if not a.technique:
        return joint, named
    technique = next((t for t in library.techniques if t.id == a.technique), None)
    if technique is None:
        raise UsageFault("cli.fault.technique", id=a.technique, known=", ".join(t.id for t in library.techniques))
    joint, more = with_technique(joint, technique, library.rods)
    others = tuple(use for use in joint.working.rods if use.role not in given)
    return edited(joint, rods=(*own, *others)), (*named, *more)
