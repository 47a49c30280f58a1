"""The menus: every action with its name and its key; names are the words `menu.KEY`."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence, QShortcut
from PySide6.QtWidgets import QApplication, QMenu

from banister.core.drawing.convention import AWS
from banister.core.joint.fitting import FitUp
from banister.core.joint.joint import edited
from banister.core.joint.stopping import StopChoices
from banister.core.joint.working import ANSWERS
from banister.desktop.app.preferences import TEXT_SIZES
from banister.desktop.fields import take_typed
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.registry import STEPS
from banister.desktop.steps.sheet.actions import EXPORTS, export
from banister.job.library import blank_joint, used_rods

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

EXPORT_KEYS = {"print": "Ctrl+P", "pdf": "Ctrl+Shift+P"}
CHECKED = ("units", "convention", "theme", "theme_system", "table", "full_screen")
ALWAYS = (
    "new", "open", "demo", "quit", "units", "theme", "theme_system", "full_screen", "decimal", "help", "keys", "about",
    *(f"size.{percent}" for percent in TEXT_SIZES),
)  # fmt: skip
NEEDS_A_PLAN = (*(kind for kind in EXPORTS if kind != "symbol"), "copy_table", "issue", "next_pass", "last_pass")
LEAVING = ("new", "open", "demo", "close", "add_joint", "copy_joint", "drop_joint", "next_joint")
"""Other joints are shown after these."""
STEP_KEYS = "1234567890-"
"""With Alt: a step each, as they lie on the keyboard."""


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

    def _add(self, menu: QMenu, key: str, keys: str | tuple[str, ...], run: Callable[[], object], text: str = "", checkable: bool = False) -> None:
        action = QAction(text or self.window.store.say(f"menu.{key}"), self.window)
        action.setShortcuts([QKeySequence(one) for one in ((keys,) if isinstance(keys, str) else keys) if one])
        action.setCheckable(checkable)
        action.triggered.connect(lambda _checked=False: self._do(key, run))
        menu.addAction(action)
        self.actions[key] = action

    def _do(self, key: str, run: Callable[[], object]) -> None:
        """Nothing while something is dragged. What is being typed is taken first; where it is refused, the joint is not left for another."""
        if QApplication.mouseButtons() != Qt.MouseButton.NoButton:
            return
        if take_typed(QApplication.focusWidget()) or key not in LEAVING:
            run()

    def _add_all(self, menu: QMenu, groups: Sequence[Sequence[tuple[str, str | tuple[str, ...], Callable[[], object]]]]) -> None:
        """Groups of actions with a line between them."""
        for i, group in enumerate(groups):
            if i:
                menu.addSeparator()
            for key, keys, run in group:
                self._add(menu, key, keys, run, checkable=key in CHECKED)

    # --- state -------------------------------------------------------------------------------
    def show_state(self, now: Snapshot) -> None:
        """What can be done now, and what is on."""
        past, future = self.window.store.session.undoable()
        several = now.job is not None and len(now.job.joints) > 1
        can = {"undo": bool(past), "redo": bool(future), "more": now.selected is not None, "fewer": now.selected is not None,
               "release": now.selected is not None, "drop_joint": several, "next_joint": several}  # fmt: skip
        for key, action in self.actions.items():
            possible = can.get(key, now.feasible if key in NEEDS_A_PLAN else key in ALWAYS or now.job is not None)
            if action.isEnabled() != possible:
                action.setEnabled(possible)
        w = self.window
        on = {"units": now.view.inches, "convention": now.view.convention == AWS, "theme": now.view.dark,
              "theme_system": w.preferences.follows_system, "decimal": w.preferences.decimal_comma,
              "table": w.work.table_wanted, "full_screen": w.isFullScreen()}  # fmt: skip
        on |= {f"step.{step.key}": now.view.step == step.key for step in STEPS}
        on |= {answer: now.joint is not None and now.joint.working.chosen == answer for answer in ANSWERS}
        on |= {f"size.{percent}": percent == w.preferences.text_size for percent in TEXT_SIZES}
        for key, checked in on.items():
            self.actions[key].setChecked(checked)

    def _add_file(self) -> None:
        w, menu = self.window, self._menu("file")
        self._add_all(menu, ((("new", "Ctrl+N", w.close_job), ("open", "Ctrl+O", w.ask_open), ("demo", "", w.open_demo)),))
        self.recent = menu.addMenu(w.store.say("menu.recent"))
        self.recent.aboutToShow.connect(self._list_recent)
        menu.addSeparator()
        self._add_all(menu, ((("save", "Ctrl+S", w.save), ("save_as", "Ctrl+Shift+S", w.save_as)), ()))
        for kind in (kind for kind in EXPORTS if kind != "copy"):
            self._add(menu, kind, EXPORT_KEYS.get(kind, ""), partial(export, w, kind), w.store.say(f"export.{kind}"))
        self._add(menu, "decimal", "", w.toggle_decimal, checkable=True)
        menu.addSeparator()
        self._add_all(menu, ((("close", "Ctrl+W", w.close_job), ("quit", "Ctrl+Q", w.close)),))

    def _list_recent(self) -> None:
        """Files that were open before and are still there."""
        self.recent.clear()
        for path in self.window.preferences.recent:
            self.recent.addAction(str(path)).triggered.connect(partial(self.window.open_recent, path))

    def _add_edit(self) -> None:
        w, store, menu = self.window, self.window.store, self._menu("edit")
        self._add_all(menu, (
            (("undo", "Ctrl+Z", store.undo), ("redo", ("Ctrl+Shift+Z", "Ctrl+Y"), store.redo)),
            (("copy", "Ctrl+Shift+C", partial(export, w, "copy")), ("copy_table", "", partial(export, w, "copy-table"))),
            (("more", "Ins", partial(self._change_count, 1)), ("fewer", "Ctrl+Del", partial(self._change_count, -1)), ("release", "Ctrl+R", store.release)),
            (("issue", "Ctrl+Return", store.issue),),
        ))  # fmt: skip
        menu.aboutToShow.connect(self._name_steps)

    def _add_joint(self) -> None:
        w, menu = self.window, self._menu("joint")
        self._add_all(menu, (
            (("add_joint", "Ctrl+Shift+N", self._add_a_joint), ("copy_joint", "Ctrl+J", self._copy_joint), ("drop_joint", "", self._drop_joint),
             ("next_joint", "Ctrl+PgDown", self._next_joint)),
            (("turn", "Ctrl+Shift+T", partial(w.open_view, "turn")), ("stops", "Ctrl+E", partial(w.open_view, "stops")),
             ("sure", "Ctrl+Shift+E", partial(w.open_view, "sure")), ("weld", "Ctrl+G", w.weld),
             ("board", "Ctrl+B", partial(w.open_view, "board")), ("list", "Ctrl+L", partial(w.open_view, "list")),
             ("film", "Ctrl+Shift+W", partial(w.open_view, "film")),
             ("compare", "Ctrl+K", partial(w.open_view, "chooser")), ("improve", "Ctrl+Shift+K", partial(w.open_view, "improve")),
             ("play", "Ctrl+Shift+Y", partial(w.open_view, "play")), ("reckon", "Ctrl+Shift+R", partial(w.open_view, "reckon"))), (),
        ))  # fmt: skip
        for i, answer in enumerate(ANSWERS):
            name = w.store.say("menu.answer", answer=w.store.say(f"answer.{answer}"))
            self._add(menu, answer, f"Ctrl+{i + 1}", partial(w.answers.choose, answer), name, True)

    def _add_view(self) -> None:
        w, store, menu = self.window, self.window.store, self._menu("view")
        self._add_all(menu, (
            (("units", "Ctrl+U", w.toggle_units), ("convention", "Ctrl+Shift+I", w.toggle_convention), ("theme", "Ctrl+D", w.toggle_theme),
             ("theme_system", "", w.follow_system), ("full_screen", "F11", w.toggle_full_screen)),
            (("table", "Ctrl+T", w.work.show_table), ("next_pass", "F8", partial(store.select_step, 1)),
             ("last_pass", "Shift+F8", partial(store.select_step, -1))), (),
        ))  # fmt: skip
        for i, step in enumerate(STEPS):
            self._add(menu, step.title, f"Alt+{STEP_KEYS[i]}", partial(w.enter_step, step.key), store.say("menu.step", step=store.say(step.title)), True)
        sizes = menu.addMenu(store.say("menu.text_size"))
        for percent in TEXT_SIZES:
            self._add(sizes, f"size.{percent}", "", partial(w.set_text_size, percent), store.say("menu.size", percent=str(percent)), True)
        menu.aboutToShow.connect(lambda: self.show_state(store.now))

    def _add_help(self) -> None:
        w, menu = self.window, self._menu("help_menu")
        self._add_all(menu, ((("help", "F1", w.show_help), ("keys", "Shift+F1", w.show_keys)), (("about", "", w.show_about),)))
        first = QShortcut(QKeySequence("F10"), w)
        first.activated.connect(lambda: w.menuBar().setActiveAction(w.menuBar().actions()[0]))

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
            fresh = blank_joint(_free("J{}", 1, store.ids_taken), say("joint.new"))
            rods = used_rods(fresh, store.library.rods)
            store.edit(job.with_rods(rods).adding(fresh), say("edit.joint.add", joint=fresh.id))
            store.look(joint_id=fresh.id)

    def _copy_joint(self) -> None:
        store = self.window.store
        job, joint = store.job, store.joint
        if job is not None and joint is not None:
            fresh = _free(joint.id + "-{}", 2, store.ids_taken)
            bare = edited(joint, id=fresh, fitup=FitUp(), stops=StopChoices(wanted_mm=joint.stops.wanted_mm), readings=())
            store.edit(job.adding(bare), store.say("edit.joint.copy", joint=joint.id))
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
