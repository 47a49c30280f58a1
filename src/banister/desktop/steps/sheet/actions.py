"""What can be printed, written or copied of the shown joint."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, cast

from PySide6.QtGui import QFontMetrics, QGuiApplication

from banister.core.joint.joint import Joint
from banister.core.sheet import Sheet
from banister.core.standing import names_on_paper
from banister.desktop.app.theme import font
from banister.desktop.notices import Action, Notice
from banister.desktop.snapshot import Snapshot
from banister.desktop.store import Store
from banister.desktop.work.paper import Paper, chart_drawn, section_drawn, sheet_pages

if TYPE_CHECKING:
    from pathlib import Path

    from PySide6.QtWidgets import QWidget

    from banister.desktop.app.window import MainWindow

EXPORTS = ("pdf", "pdf-letter", "print", "csv", "schedule", "svg", "symbol", "rail", "dxf", "rail-dxf", "copy")
SUFFIXES = {
    "pdf": "pdf", "pdf-letter": "pdf", "csv": "csv", "schedule": "csv", "svg": "svg", "symbol": "svg", "rail": "svg", "dxf": "dxf", "rail-dxf": "dxf",
}  # fmt: skip
NAMES = {
    "pdf": "sheet", "pdf-letter": "sheet", "csv": "passes", "schedule": "schedule", "svg": "section", "symbol": "symbol", "rail": "rail",
    "dxf": "section", "rail-dxf": "rail",
}  # fmt: skip


def export(widget: QWidget, kind: str) -> None:
    """Write, print or copy something of the shown joint; where it cannot be yet, say why."""
    window = cast("MainWindow", widget)
    store = window.store
    now, say = store.now, store.say
    if now.joint is None or now.plan is None or window.section.drawing is None:
        return
    if kind == "copy":
        QGuiApplication.clipboard().setPixmap(window.section.grab())
        window.tell(say("export.copied"))
    elif kind == "copy-table":
        QGuiApplication.clipboard().setText(window.table.as_text())
        window.tell(say("export.copied.table"))
    elif kind == "print":
        window.open_view("print")
    else:
        suffix = SUFFIXES[kind]
        path = window.dialogs.save_path(window, say("export.write"), suggested_name(now, kind), f"*.{suffix}")
        if path is None:
            return
        if suffix == "pdf":
            put_on_paper(window, path, sheet_pages, paper_now(store, "Letter" if kind == "pdf-letter" else "A4"))
        elif suffix == "dxf":
            _draw(window, now.joint, path, kind)
        else:
            window.files.write(path, _written(window, now, kind))


def put_on_paper(widget: object, path: Path, work: Callable[..., bytes], *request: object, joints: tuple[str, ...] = ()) -> None:
    """Have pages made of some joints, of the shown one where none is named; characters that would be blank on them are told before."""
    window = cast("MainWindow", widget)
    store, say = window.store, window.store.say
    write = partial(window.files.have_written, path, work, *request)
    if lost := lost_on_paper(store, joints or (() if store.joint is None else (store.joint.id,))):
        window.notices.add(Notice(say("print.lost", characters=" ".join(lost)), actions=(Action(say("print.anyway"), write),)))
    else:
        write()


def lost_on_paper(store: Store, joints: tuple[str, ...]) -> str:
    """The characters of the user's own words that no font here has, each once."""
    job, known = store.job, QFontMetrics(font(12))
    names = [] if job is None else names_on_paper(job, (job.joint(one) for one in joints))
    return "".join(dict.fromkeys(c for name in names for c in name if not c.isspace() and not known.inFontUcs4(ord(c))))


def suggested_name(now: Snapshot, kind: str) -> str:
    """A name for a file of a kind: joint, what it is, suffix; of the joint's id only what a file's name may hold."""
    assert now.joint is not None
    return f"{plain_name(now.joint.id)}-{NAMES[kind]}.{SUFFIXES[kind]}"


def plain_name(joint_id: str) -> str:
    """What a file's name may hold of a joint's id.

    >>> plain_name("/P 4"), plain_name("..")
    ('P-4', 'joint')
    """
    return "".join(c if c.isalnum() or c in "-_" else "-" for c in joint_id).strip("-") or "joint"


def paper_now(store: Store, size: str = "A4", joints: tuple[str, ...] = ()) -> Paper:
    """The sheets of some joints, of the shown one where none is named, with what putting them on paper needs."""
    from banister.core.follow.facts import open_deviations

    assert store.job is not None and store.joint is not None
    return Paper(sheet_now(store), joints or (store.joint.id,), store.job, store.library.rows, store.today, store.say, size, store.view.convention,
                 open_deviations(store.standing))  # fmt: skip


def sheet_now(store: Store) -> Sheet:
    """The sheet that is printed: as it was issued while it stands, else of what is shown, marked as not issued."""
    now, job, joint = store.now, store.job, store.joint
    assert job is not None and joint is not None and now.plan is not None
    if now.stands and now.issued is not None and now.plan is now.issued.plan and now.issued.heat is not None:
        return now.issued
    return job.sheet_of(joint, now.plan, now.heat, store.library.rows, store.today)


def _written(window: MainWindow, now: Snapshot, kind: str) -> bytes:
    say, convention, joint, plan = now.say, now.view.convention, now.joint, now.plan
    assert joint is not None and plan is not None
    if kind in ("csv", "schedule"):
        from banister.core.heat.schedule import schedule_of
        from banister.export.tables import HABITS, in_bytes, pass_csv, schedule_csv

        habit = HABITS["comma" if window.preferences.decimal_comma else "point"]
        schedule = now.heat.schedule if now.heat is not None else schedule_of(joint, plan)
        table = pass_csv(joint, plan, say.units, habit) if kind == "csv" else schedule_csv(joint, plan, schedule, say.units, habit)
        return in_bytes(table, habit)
    from banister.core.drawing.symbol import symbol_drawing
    from banister.export.svg import svg, svg_to_scale

    section, rail = window.section.drawing, window.rail.drawing
    drawings: dict[str, Callable[[], bytes]] = {
        "svg": lambda: svg_to_scale(section, joint.name).encode() if section is not None else b"",
        "symbol": lambda: svg(symbol_drawing(joint, say, convention), say("svg.symbol", joint=joint.name)).encode(),
        "rail": lambda: svg(rail, say("svg.rail", joint=joint.name)).encode() if rail is not None else b"",
    }
    return drawings[kind]()


def _draw(window: MainWindow, joint: Joint, path: Path, kind: str) -> None:
    """Have the section or the rail drawn as DXF."""
    if kind == "dxf":
        window.files.have_written(path, section_drawn, window.section.drawing, joint.name)
    elif window.rail.drawing is not None:
        window.files.have_written(path, chart_drawn, window.rail.drawing, window.store.say("svg.rail", joint=joint.name))
