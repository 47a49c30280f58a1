"""The weld list as CSV: written with what each weld takes, read as joints to plan; every fault with line, column and remedy, all or nothing taken."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from pathlib import Path

from banister.core.job import Job
from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.faults import MOST_ALIKE, joint_faults
from banister.core.joint.joint import Joint, edited, field_of
from banister.core.joint.kinds import BACKINGS, FORMS, KINDS, PROGRESSIONS
from banister.core.joint.planning_week import typed_week
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.listing.welds import Weld
from banister.core.remark import Figure, Refused, Remark, fault, unknown_word
from banister.core.rods.rod import Rod
from banister.core.rods.usual import usual_rods
from banister.core.value import replace
from banister.job.columns import Row, read_columns
from banister.job.reading import FileFault

NAMES = ("id", "name", "drawing", "preparation", "backing", "form", "position", "progression", "procedure", "welder", "week", "acceptance")
FIGURES = {
    "thickness": "thickness_mm", "right_thickness": "right_thickness_mm", "bevel_left": "bevel_left_deg", "bevel_right": "bevel_right_deg",
    "root_gap": "root_gap_mm", "root_face": "root_face_mm", "leg": "leg_left_mm", "length": "length_mm", "pipe_od": "pipe_od_mm",
}  # fmt: skip
"""Columns by the joint's own field; their heads name the unit: thickness_mm, thickness_in, bevel_left_deg."""
TAKEN = ("state", "beads", "rods", "metal_kg", "hours", "remarks")
"""What is worked out; read back it is passed over."""
MOST_WELDS = 5000


def weld_csv(welds: Sequence[Weld]) -> str:
    """A line for every weld, in mm and degrees."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    units = {name: "deg" if field.endswith("_deg") else "mm" for name, field in FIGURES.items()}
    table.writerow([*NAMES, *(f"{name}_{unit}" for name, unit in units.items()), "alike", *TAKEN])
    for weld in welds:
        table.writerow([*(_plain(text) for text in _names(weld.joint)), *_figures(weld.joint), weld.joint.alike, weld.state, weld.beads,
                        sum(weld.rods.values()), f"{weld.metal_kg:.2f}", f"{weld.seconds / 3600:.2f}", len(weld.remarks)])  # fmt: skip
    return out.getvalue()


def _names(joint: Joint) -> tuple[str, ...]:
    w = joint.working
    return (joint.id, joint.name, joint.drawing, joint.prep.key, joint.prep.backing, joint.piece.form, joint.piece.position, joint.piece.progression,
            joint.procedure, joint.welder, joint.week, w.choices.acceptance)  # fmt: skip


def _figures(joint: Joint) -> list[str]:
    is_pipe = joint.piece.form == "pipe"
    not_its_own = "length" if is_pipe else "pipe_od"
    found: dict[str, float | None] = {name: None if name == not_its_own else field_of(joint, field) for name, field in FIGURES.items()}
    return ["" if value is None else f"{value:g}" for value in found.values()]


def _plain(text: str) -> str:
    """A cell no spreadsheet runs."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def read_welds(path: Path, rods: Sequence[Rod], known: Mapping[str, Joint]) -> tuple[Joint, ...]:
    """The joints of a list: new ones, and those of the job that are in it with what the list says; FileFault names every fault."""
    faults, found = list[Remark](), list[Joint]()
    for row in read_columns(path, (*NAMES, *FIGURES, "alike", *TAKEN), (*NAMES, "state"), ("alike", *TAKEN[1:])).rows:
        try:
            joint = _joint(row, rods, known)
        except Refused as refused:
            faults += [fault(r.code, f"line {row.line}, {r.place.field}".rstrip(", "), **r.figures) for r in refused.remarks]
            continue
        faults += [fault(r.code, f"line {row.line}, {_column(r.place.field)}", **r.figures) for r in joint_faults(joint)]
        if any(joint.id == one.id for one in found):
            faults.append(fault("joint.id", f"line {row.line}, id", id=Figure(joint.id[:40], "name")))
        found.append(joint)
    if len(found) > MOST_WELDS:
        faults.append(fault("file.joints", "", found=Figure(len(found), "count"), most=Figure(MOST_WELDS, "count")))
    if faults:
        raise FileFault(*faults, file=str(path))
    return tuple(found)


def taken_in(job: Job, joints: Sequence[Joint], rods: Sequence[Rod]) -> tuple[Job, int, int]:
    """A job with the joints of a list: how many are new, and how many changed."""
    known, added, changed = {joint.id: joint for joint in job.joints}, 0, 0
    for listed in joints:
        before = known.get(listed.id)
        is_other = listed.procedure != ("" if before is None else before.procedure)
        joint = job.welded_under(listed, listed.procedure) if is_other else listed
        wanted = {use.rod for use in joint.working.rods}
        job = job.with_rods(tuple(rod for rod in rods if rod.id in wanted))
        if before is None:
            job, added = job.adding(joint), added + 1
        elif joint != before:
            job, changed = job.with_joint(joint), changed + 1
    return job, added, changed


def _column(field: str) -> str:
    """The column a joint's field is written in."""
    name = field.rpartition(".")[2]
    return next((column for column, own in FIGURES.items() if own == name), "preparation" if name == "key" else name)


def _joint(row: Row, rods: Sequence[Rod], known: Mapping[str, Joint]) -> Joint:
    """A line as a joint: what is not said is as it was, or as usual."""
    text = {name: value for name in NAMES if (value := row.texts.get(name, "").strip().removeprefix("'"))}
    if not text.get("id"):
        raise Refused(fault("welds.id", "id"))
    words = (("preparation", KINDS), ("backing", BACKINGS), ("form", FORMS), ("progression", PROGRESSIONS), ("acceptance", ACCEPTANCE))
    wrong = [unknown_word(name, text[name], tuple(words_)) for name, words_ in words if name in text and text[name] not in words_]
    alike = row.values.get("alike")
    if alike is not None and (alike != int(alike) or not 1 <= alike <= MOST_ALIKE):
        wrong.append(fault("welds.alike", "alike", most=Figure(MOST_ALIKE, "count")))
    week = typed_week(text.get("week", ""))
    if wrong:
        raise Refused(*wrong)
    before = known.get(text["id"])
    joint = before or Joint(id=text["id"], name=text.get("name", text["id"]))
    if "form" in text or (before is None and row.values.get("pipe_od")):
        joint = edited(joint, form=text.get("form", "pipe"))
    if text.get("preparation", joint.prep.key) != joint.prep.key or before is None:
        joint = with_preparation(joint, text.get("preparation", joint.prep.key))
    if "backing" in text and text["backing"] != joint.prep.backing and not joint.prep.kind.fillet:
        joint = with_backing(joint, text["backing"])
    figures = {field: measured for name, field in FIGURES.items() if (measured := row.values.get(name)) is not None}
    if "leg_left_mm" in figures:
        figures["leg_right_mm"] = figures["leg_left_mm"]
    fields = {name: text[name] for name in ("name", "drawing", "position", "progression", "procedure", "welder", "acceptance") if name in text}
    joint = edited(joint, **figures, **fields)
    joint = replace(joint, alike=int(alike) if alike is not None else joint.alike, week=week or joint.week)
    faults = joint_faults(joint)
    return joint if joint.working.rods or faults else edited(joint, rods=usual_rods(rods, joint))
