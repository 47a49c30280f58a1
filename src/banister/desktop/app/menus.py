"""The menus: every action with its name and its key; names are the words `menu.KEY`."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from banister.core.joint.joint import edited
from banister.core.joint.working import ANSWERS
from banister.desktop.steps.registry import STEPS
from banister.desktop.steps.sheet.actions import EXPORTS, export
from banister.job.library import blank_joint, used_rods

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

EXPORT_KEYS = {"pdf": "Ctrl+P", "print": "Ctrl+Shift+P"}


class Menus:
    """The menu bar of a window; `actions` by their keys."""

    def __init__(self, window: MainWindow) -> None:
        self.window, self.actions = window, dict[str, QAction]()
        self._add_file()
        self._add_edit()
        self._add_joint()
        self._add_view()
        self._add_help()

    def _menu(self, key: str) -> QMenu:
        return self.window.menuBar().addMenu(self.window.store.say(f"menu.{key}"))

    def _add(self, menu: QMenu, key: str, keys: str, run: Callable[[], object], text: str = "") -> None:
        action = QAction(text or self.window.store.say(f"menu.{key}"), self.window)
        action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _checked=False: run())
        menu.addAction(action)
        self.actions[key] = action

    def _add_file(self) -> None:
        w, menu = self.window, self._menu("file")
        for key, keys, run in (("new", "Ctrl+N", w.close_job), ("open", "Ctrl+O", w.ask_open), ("demo", "", w.open_demo), ("save", "Ctrl+S", w.save),
                               ("save_as", "Ctrl+Shift+S", w.save_as)):  # fmt: skip
            self._add(menu, key, keys, run)
        for kind in (kind for kind in EXPORTS if kind != "copy"):
            self._add(menu, kind, EXPORT_KEYS.get(kind, ""), partial(export, w, kind), w.store.say(f"export.{kind}"))
        self._add(menu, "quit", "Ctrl+Q", w.close)

    def _add_edit(self) -> None:
        w, store, menu = self.window, self.window.store, self._menu("edit")
        for key, keys, run in (
            ("undo", "Ctrl+Z", store.undo), ("redo", "Ctrl+Shift+Z", store.redo), ("copy", "Ctrl+Shift+C", partial(export, w, "copy")),
            ("copy_table", "", partial(export, w, "copy-table")), ("more", "Ins", partial(self._change_count, 1)),
            ("fewer", "Ctrl+Del", partial(self._change_count, -1)), ("release", "Ctrl+R", store.release), ("issue", "Ctrl+Return", store.issue),
        ):  # fmt: skip
            self._add(menu, key, keys, run)
        menu.aboutToShow.connect(self._name_steps)

    def _add_joint(self) -> None:
        w, menu = self.window, self._menu("joint")
        for key, keys, run in (
            ("add_joint", "Ctrl+Shift+N", self._add_a_joint), ("copy_joint", "Ctrl+J", self._copy_joint), ("drop_joint", "", self._drop_joint),
            ("board", "Ctrl+B", partial(w.open_view, "board")), ("compare", "Ctrl+K", partial(w.open_view, "chooser")),
            ("next_joint", "Ctrl+PgDown", self._next_joint),
        ):  # fmt: skip
            self._add(menu, key, keys, run)
        for i, answer in enumerate(ANSWERS):
            self._add(menu, answer, f"Ctrl+{i + 1}", partial(w.answers.choose, answer), w.store.say("menu.answer", answer=w.store.say(f"answer.{answer}")))

    def _add_view(self) -> None:
        w, store, menu = self.window, self.window.store, self._menu("view")
        for key, keys, run in (
            ("units", "Ctrl+U", w.toggle_units), ("convention", "Ctrl+Shift+I", w.toggle_convention), ("theme", "Ctrl+D", w.toggle_theme),
            ("table", "Ctrl+T", w.work.show_table), ("next_pass", "F8", partial(store.select_step, 1)),
            ("last_pass", "Shift+F8", partial(store.select_step, -1)),
        ):  # fmt: skip
            self._add(menu, key, keys, run)
        for i, step in enumerate(STEPS):
            self._add(menu, step.title, f"Alt+{i + 1}", partial(w.go_to, step.key), store.say("menu.step", step=store.say(step.title)))

    def _add_help(self) -> None:
        menu = self._menu("help_menu")
        self._add(menu, "help", "F1", self.window.show_help)
        self._add(menu, "keys", "Shift+F1", self.window.show_keys)

    # --- what they do ------------------------------------------------------------------------
    def _name_steps(self) -> None:
        say = self.window.store.say
        past, future = self.window.store.session.undoable()
        for key, name in (("undo", past), ("redo", future)):
            self.actions[key].setText(say(f"menu.{key}.named", name=name) if name else say(f"menu.{key}"))

    def _change_count(self, step: int) -> None:
        from banister.desktop.steps.passes.panel import PassesPanel

        panel = self.window.work.panel("passes")
        assert isinstance(panel, PassesPanel)
        panel.change_count(step)

    def _add_a_joint(self) -> None:
        store = self.window.store
        job, say = store.job, store.say
        if job is not None:
            fresh = blank_joint(_free("J{}", 1, {j.id for j in job.joints}), say("joint.new"))
            rods = used_rods(fresh, store.library.rods)
            store.edit(job.with_rods(rods).adding(fresh), say("edit.joint.add", joint=fresh.id))
            store.look(joint_id=fresh.id)

    def _copy_joint(self) -> None:
        store = self.window.store
        job, joint = store.job, store.joint
        if job is not None and joint is not None:
            fresh = _free(joint.id + "-{}", 2, {j.id for j in job.joints})
            store.edit(job.adding(edited(joint, id=fresh)), store.say("edit.joint.copy", joint=joint.id))
            store.look(joint_id=fresh)

    def _drop_joint(self) -> None:
        store = self.window.store
        job, joint = store.job, store.joint
        if job is not None and joint is not None and len(job.joints) > 1:
            store.edit(job.without_joint(joint.id), store.say("edit.joint.drop", joint=joint.id))

    def _next_joint(self) -> None:
        store = self.window.store
        job, joint = store.job, store.joint
        if job is not None and joint is not None:
            ids = [j.id for j in job.joints]
            store.look(joint_id=ids[(ids.index(joint.id) + 1) % len(ids)])


def _free(pattern: str, first: int, taken: set[str]) -> str:
    """The first id of a pattern that is not taken."""
    number = first
    while pattern.format(number) in taken:
        number += 1
    return pattern.format(number)
