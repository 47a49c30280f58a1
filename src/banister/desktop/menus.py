"""The menus: every action with its name and its key."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence

from banister.core.joint.joint import edited
from banister.core.joint.working import ANSWERS
from banister.job.library import blank_joint, catalogue, used_rods

if TYPE_CHECKING:
    from banister.desktop.window import MainWindow

STEP_TITLES = ("Joint", "Limits", "Procedure", "Rods", "Passes", "Heat", "Sheet")


def add_menus(window: MainWindow) -> dict[str, QAction]:
    """Fill the menu bar; returns the actions by name."""
    store, made = window.store, {}
    file_, edit, joint, view, help_ = (window.menuBar().addMenu(t) for t in ("&File", "&Edit", "&Joint", "&View", "&Help"))

    def add(menu: object, name: str, text: str, keys: str, run: Callable[[], object]) -> None:
        action = QAction(text, window)
        action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _checked=False: run())
        menu.addAction(action)  # type: ignore[attr-defined]
        made[name] = action

    add(file_, "new", "&New from a pattern", "Ctrl+N", window.close_job)
    add(file_, "open", "&Open", "Ctrl+O", window.ask_open)
    add(file_, "demo", "Open the &demo", "", window.open_demo)
    add(file_, "save", "&Save", "Ctrl+S", window.save)
    add(file_, "save_as", "Save &as", "Ctrl+Shift+S", window.save_as)
    for kind, text, keys in (("pdf", "Pass sheet as &PDF, A4", "Ctrl+P"), ("pdf-letter", "Pass sheet as PDF, &Letter", ""),
                             ("print", "P&rint", "Ctrl+Shift+P"), ("csv", "Pass table as &CSV", ""), ("schedule", "Sch&edule as CSV", ""),
                             ("svg", "Section as S&VG", ""),
                             ("symbol", "Welding s&ymbol as SVG", "")):  # fmt: skip
        add(file_, kind, text, keys, partial(window.export, kind))
    add(file_, "quit", "&Quit", "Ctrl+Q", window.close)
    add(edit, "undo", "&Undo", "Ctrl+Z", store.undo)
    add(edit, "redo", "&Redo", "Ctrl+Shift+Z", store.redo)
    add(edit, "copy", "&Copy the section", "Ctrl+Shift+C", partial(window.export, "copy"))
    add(edit, "copy_table", "Copy the &table", "", partial(window.export, "copy-table"))
    add(edit, "more", "&Insert a bead in the layer", "Ins", lambda: window.panels["passes"].change_count(1))
    add(edit, "fewer", "Re&move a bead from the layer", "Ctrl+Del", lambda: window.panels["passes"].change_count(-1))
    add(edit, "release", "Re&lease the pin", "Ctrl+R", store.release)
    add(edit, "take", "&Take this plan", "Ctrl+Return", store.take)
    add(joint, "add_joint", "&Add a joint", "Ctrl+Shift+N", partial(_add_joint, window))
    add(joint, "copy_joint", "&Copy this joint", "Ctrl+J", partial(_copy_joint, window))
    add(joint, "drop_joint", "&Remove this joint", "", partial(_drop_joint, window))
    add(joint, "board", "&Board of all joints", "Ctrl+B", window.show_board)
    add(joint, "compare", "Compare &preparations", "Ctrl+K", window.show_chooser)
    add(joint, "next_joint", "&Next joint", "Ctrl+PgDown", partial(_next_joint, window))
    for i, answer in enumerate(ANSWERS):
        add(joint, answer, f"Answer: {answer}", f"Ctrl+{i + 1}", partial(window.answers.choose, answer))
    add(view, "units", "Millimetres or &inches", "Ctrl+U", window.toggle_units)
    add(view, "habit", "Drawing in the &ISO or the AWS manner", "Ctrl+Shift+I", window.toggle_habit)
    add(view, "theme", "Light or &dark", "Ctrl+D", window.toggle_theme)
    add(view, "table", "&Table of passes", "Ctrl+T", window.show_table)
    add(view, "next_bead", "Ne&xt bead", "F8", partial(store.select_step, 1))
    add(view, "last_bead", "Pre&vious bead", "Shift+F8", partial(store.select_step, -1))
    for i, title in enumerate(STEP_TITLES):
        add(view, title.lower() + "_step", f"Step: {title}", f"Alt+{i + 1}", partial(window.go_to, title.lower()))
    add(help_, "help", "&Help for this step", "F1", window.show_help)
    add(help_, "keys", "&Keys", "Shift+F1", window.show_keys)
    edit.aboutToShow.connect(lambda: _name_steps(window, made))
    return made


def _name_steps(window: MainWindow, made: dict[str, QAction]) -> None:
    history = window.store.history
    past = history.past[-1][0] if history is not None and history.past else ""
    future = history.future[-1][0] if history is not None and history.future else ""
    made["undo"].setText(f"&Undo: {past}" if past else "&Undo")
    made["redo"].setText(f"&Redo: {future}" if future else "&Redo")


def _add_joint(window: MainWindow) -> None:
    job = window.store.job
    if job is not None:
        taken = {j.id for j in job.joints}
        fresh = blank_joint(next(f"J{i}" for i in range(1, 1000) if f"J{i}" not in taken))
        rods = used_rods(fresh, catalogue())
        window.store.edit(job.with_rods(rods).adding(fresh), f"Add joint {fresh.id}")
        window.store.show_joint(fresh.id)


def _copy_joint(window: MainWindow) -> None:
    job, joint = window.store.job, window.store.joint
    if job is None or joint is None:
        return
    taken = {j.id for j in job.joints}
    fresh = next(f"{joint.id}-{i}" for i in range(2, 1000) if f"{joint.id}-{i}" not in taken)
    window.store.edit(job.adding(edited(joint, id=fresh)), f"Copy joint {joint.id}")
    window.store.show_joint(fresh)


def _drop_joint(window: MainWindow) -> None:
    job, joint = window.store.job, window.store.joint
    if job is not None and joint is not None and len(job.joints) > 1:
        window.store.joint_id = next(j.id for j in job.joints if j.id != joint.id)
        kept = tuple(j for j in job.joints if j.id != joint.id)
        window.store.edit(replace(job, joints=kept), f"Remove joint {joint.id}")


def _next_joint(window: MainWindow) -> None:
    job, joint = window.store.job, window.store.joint
    if job is not None and joint is not None:
        ids = [j.id for j in job.joints]
        window.store.show_joint(ids[(ids.index(joint.id) + 1) % len(ids)])
