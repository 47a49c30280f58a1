"""Documents taken in and written: procedures and welders' qualifications."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, cast

from banister.core.job import welded_to
from banister.core.joint.joint import Joint, edited
from banister.core.limits.procedure import FAMILIES, Consumable, Procedure
from banister.core.words import Speech
from banister.desktop.notices import Notice
from banister.job.documents import read_procedure, read_welder, write_procedure
from banister.job.reading import FileFault

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from banister.desktop.app.window import MainWindow

PROCEDURE, WELDER = "procedure", "welder"


def import_document(widget: QWidget, kind: str) -> None:
    """Take a procedure (its windows are laid over the joint's own) or a welder's qualification into the job."""
    window = cast("MainWindow", widget)
    store, say = window.store, window.store.say
    job, joint = store.job, store.joint
    path = window.dialogs.document_path(window, say(f"dialog.{kind}"), store.library.folder / "procedures", say)
    if path is None or job is None or joint is None:
        return
    try:
        if kind == PROCEDURE:
            procedure = read_procedure(path)
            changed = job.with_procedure(procedure).with_joint(welded_to(joint, procedure))
            name = say("edit.procedure", procedure=procedure.id)
        else:
            welder = read_welder(path)
            changed = job.with_welder(welder).with_joint(edited(joint, welder=welder.mark))
            name = say("edit.welder", mark=welder.mark)
    except FileFault as fault:
        window.files.tell(fault)
        return
    store.edit(changed, name)


def write_document(widget: QWidget) -> None:
    """Write a procedure document begun from the shown joint."""
    window = cast("MainWindow", widget)
    store, say = window.store, window.store.say
    job, joint = store.job, store.joint
    if job is None or joint is None:
        return
    path = window.dialogs.save_path(window, say("dialog.write_procedure"), f"{joint.procedure or 'procedure'}.json", "*.json")
    if path is None:
        return
    try:
        write_procedure(path, begun_from(joint, {rod.id: rod.type for rod in job.rods}, say))
    except OSError as error:
        window.notices.add(Notice(say("file.not_written", path=str(path), why=error.strerror or str(error))))
        return
    window.tell(say("file.written", path=str(path)))


def begun_from(joint: Joint, rod_types: Mapping[str, str], say: Speech) -> Procedure:
    """A procedure document begun from a joint: what it states has to be replaced from the qualified one."""
    uses = dict.fromkeys((use.role, rod_types.get(use.rod, "")) for use in joint.working.rods)
    return Procedure(
        id=joint.procedure or say("procedure.number"), revision=joint.procedure_revision, title=say("procedure.begun"),
        family=next(iter(FAMILIES)), base_metal=joint.metal.group, positions=(joint.piece.position,), progressions=(joint.piece.progression,),
        consumables=tuple(Consumable(role=role, type=kind) for role, kind in uses if kind), windows=joint.working.windows,
    )  # fmt: skip
