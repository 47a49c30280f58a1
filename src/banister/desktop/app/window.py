"""The main window: the pages, and what the user asks for."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QGuiApplication
from PySide6.QtWidgets import QApplication, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from banister import __version__
from banister.core.drawing.convention import AWS, ISO
from banister.core.heat.board import Board, Jobs
from banister.core.heat.shift import Shift
from banister.core.job import Job
from banister.desktop.app.dialogs import DISCARD, SAVE, Dialogs
from banister.desktop.app.files import Files
from banister.desktop.app.frame import MessageBar, WorkPage
from banister.desktop.app.help import HelpDialog, help_text, keys_text
from banister.desktop.app.menus import Menus
from banister.desktop.app.preferences import Preferences
from banister.desktop.app.start_page import StartPage
from banister.desktop.app.style import dress
from banister.desktop.app.theme import DARK_THEME, LIGHT_THEME
from banister.desktop.app.views import dress_views, is_open, open_view
from banister.desktop.errands import Runs
from banister.desktop.fields import take_typed
from banister.desktop.logbook import Logbook
from banister.desktop.notices import Action, Notice, Notices
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.sheet.actions import put_on_paper
from banister.desktop.store import Store
from banister.desktop.work.paper import board_pages
from banister.job.library import load, words
from banister.job.recovery import LeftWork

LEAST = (940, 520)
"""The smallest window in which nothing is cut."""
MOST_SAID, MOST_NAMED = 4, 6
"""Faults of a copy that are told, and joints of it that are named."""
SELECTING_LEADS_FROM = ("joint",)
"""On these steps a selected pass leads to the passes; on the others it stays where it is."""


class MainWindow(QMainWindow):
    """Puts the pages together and does what is asked for."""

    def __init__(self, errands: Runs, dialogs: Dialogs, preferences: Preferences, recovery: Path) -> None:
        super().__init__()
        self.errands, self.dialogs, self.preferences = errands, dialogs, preferences
        self.notices = Notices()
        self.store = Store(errands, load(), words(), preferences.view(system_is_dark()))
        self.theme = DARK_THEME if self.store.view.dark else LIGHT_THEME
        self.files = Files(self.store, preferences, self.notices, recovery)
        self.logbook = Logbook(self.store, self.files, self.notices, self.save)
        self.opened: dict[str, QWidget] = {}
        """Views in windows of their own, by key."""
        self.help_dialog: HelpDialog | None = None
        self._drawn: Snapshot | None = None
        """What was drawn last, while the page at the joint stands over the window."""
        self._is_leaving = False
        """True once the window was left while an export was being made."""
        self.start = StartPage(self.store.say, self.theme)
        self.start_bar = MessageBar(self.notices, self.store)
        self.work = WorkPage(self.store, self.theme, self.notices)
        self.section, self.rail, self.table, self.answers = self.work.section, self.work.rail, self.work.table, self.work.answers
        self.pages = QStackedWidget()
        self.pages.addWidget(self._start_page())
        self.pages.addWidget(self.work)
        self.setCentralWidget(self.pages)
        self.menus = Menus(self)
        self._wire()
        self.setAcceptDrops(True)
        self._take_its_place()
        self._show(None, self.store.now)
        self._tell_broken_files()

    def _start_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.start_bar)
        column.addWidget(self.start, 1)
        return page

    def _take_its_place(self) -> None:
        """As it was left, else as large as the screen has room for; always inside the screen."""
        kept, room = self.preferences, self.screen().availableGeometry()
        self.setMinimumSize(*LEAST)
        self.resize(min(1280, room.width()), min(800, room.height()))
        if kept.geometry is not None:
            self.restoreGeometry(kept.geometry)
        if kept.split is not None:
            self.work.split.restoreState(kept.split)
        if kept.shows_table:
            self.work.show_table()

    def _wire(self) -> None:
        self.store.changed.connect(self._show)
        self.store.noticed.connect(lambda text, bad: self.notices.add(Notice(text, bad)))
        self.files.said.connect(self.tell)
        self.files.recent_changed.connect(self._show_recent)
        self.errands.failed.connect(self._failed)
        self.errands.busy_changed.connect(self._leave_at_last, Qt.ConnectionType.QueuedConnection)
        QGuiApplication.styleHints().colorSchemeChanged.connect(self._system_changed)
        intents = {"demo": self.open_demo, "open": self.ask_open, "nothing": self.files.start_from_nothing, "practice": self.practise}
        self.start.pattern_chosen.connect(self.files.start_from)
        self.start.wanted.connect(lambda key: intents[key]())
        self.start.recent_chosen.connect(self.open_path)
        self.work.stair.chosen.connect(self.go_to)
        self.work.header.units.clicked.connect(self.toggle_units)
        self.work.header.theme.clicked.connect(self.toggle_theme)
        self._show_recent()

    def _show_recent(self) -> None:
        self.start.show_recent(self.preferences.recent)

    def _tell_broken_files(self) -> None:
        """What of the user's own files cannot be read; what ships serves meanwhile."""
        for fault in self.store.library.faults:
            self.files.tell(fault)
        if self.preferences.is_broken:
            self.notices.add(Notice(self.store.say("settings.broken", path=str(self.preferences.file))))

    # --- showing -----------------------------------------------------------------------------
    def _show(self, old: Snapshot | None, new: Snapshot) -> None:
        job = new.job
        self.pages.setCurrentIndex(0 if job is None else 1)
        name = new.say("window.title")
        self.setWindowTitle(name if job is None else new.say("window.named", job=job.name.replace("[*]", "[*][*]"), program=name))
        self.setWindowModified(new.dirty)
        self.setWindowFilePath(str(self.files.file.path) if self.files.file is not None else "")
        self.menus.show_state(new)
        if old is not None and new.view.dark != old.view.dark:
            self._dress(new.view.dark)
        if old is not None and new.view != old.view:
            self.preferences.keep_view(new.view)
        if new.differs(old, "say"):
            self.start.show_words(new.say)
        if job is None or new.joint is None:
            return
        is_away = new.view.step in SELECTING_LEADS_FROM or (new.view.step == "passes" and new.view.checking)
        if old is not None and new.selected is not None and new.view.anchor != old.view.anchor and is_away:
            self.store.look(step="passes", checking=False)
        self._show_work(old, new)

    def _show_work(self, old: Snapshot | None, new: Snapshot) -> None:
        if self._is_covered():
            self._drawn = self._drawn or old
            return
        drawn, self._drawn = self._drawn or old, None
        self.work.show_job(drawn, new, self.files.title)

    def _is_covered(self) -> bool:
        """True while the page at the joint fills the screen this window is on, and the keys go to it."""
        page = self.opened.get("weld")
        return is_open(page) and page.isFullScreen() and page.screen() is self.screen() and not self.isActiveWindow()  # type: ignore[union-attr]

    def changeEvent(self, event: QEvent) -> None:  # noqa: N802
        """Gone to with the page at the joint still open: what changed under it is drawn. Left: what is being typed is taken."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow():
            take_typed(self.focusWidget())
        elif event.type() == QEvent.Type.ActivationChange and self.isActiveWindow() and self._drawn is not None:
            self._show_work(self._drawn, self.store.now)

    def _dress(self, dark: bool) -> None:
        self.theme = DARK_THEME if dark else LIGHT_THEME
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        dress(app, self.theme)
        self.start.set_theme(self.theme)
        self.work.set_theme(self.theme)
        dress_views(self)

    def tell(self, text: str) -> None:
        """A small good word where it is seen."""
        if self.store.job is None:
            self.notices.add(Notice(text, bad=False))
        else:
            self.work.note.tell(text)

    def _failed(self, word: str, report: str) -> None:
        """Something computed beside the window went wrong: said, with what can be copied."""
        self._is_leaving, say = False, self.store.say
        copy = Action(say("notice.copy"), lambda: QGuiApplication.clipboard().setText(report))
        self.notices.add(Notice(say("notice.failed", what=say(f"busy.{word}.word")), actions=(copy,), report=report))

    def told_fault(self, report: str) -> None:
        """A fault nobody expected: the work is kept, and the report can be copied."""
        say = self.store.say
        self.files.keep_recovery()
        copy = Action(say("notice.copy"), lambda: QGuiApplication.clipboard().setText(report))
        self.notices.add(Notice(say("notice.fault", why=report.strip().rsplit("\n", 1)[-1]), actions=(copy,), report=report))

    # --- looking -----------------------------------------------------------------------------
    def go_to(self, step: str) -> None:
        """Work on another step."""
        self.store.look(step=step)

    def enter_step(self, step: str) -> None:
        """Work on another step with the keys in its panel."""
        self.go_to(step)
        self.work.enter_panel()

    def toggle_units(self) -> None:
        """Millimetres or inches."""
        self.store.look(inches=not self.store.view.inches)

    def toggle_convention(self) -> None:
        """The ISO or the AWS convention of dimensions and symbol."""
        self.store.look(convention=AWS if self.store.view.convention == ISO else ISO)

    def toggle_theme(self) -> None:
        """Light or dark, whatever the system says."""
        self.preferences.follows_system = False
        self.store.look(dark=not self.store.view.dark)

    def follow_system(self) -> None:
        """Light or dark as the system is, or as it is now."""
        self.preferences.follows_system = not self.preferences.follows_system
        self._system_changed()
        self.preferences.keep_view(self.store.view)
        self.menus.show_state(self.store.now)

    def _system_changed(self) -> None:
        if self.preferences.follows_system:
            self.store.look(dark=system_is_dark())

    def toggle_decimal(self) -> None:
        """Tables with a decimal comma and semicolons, or with a point and commas."""
        self.preferences.decimal_comma = not self.preferences.decimal_comma
        self.menus.show_state(self.store.now)

    def toggle_full_screen(self) -> None:
        """The whole screen, or a window again."""
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def set_text_size(self, percent: int) -> None:
        """Text and everything with it larger, from the next start on."""
        self.preferences.text_size = percent
        self.menus.show_state(self.store.now)
        self.tell(self.store.say("settings.text_size", percent=str(percent)))

    def open_view(self, key: str) -> None:
        """Open one of the views that have windows of their own."""
        open_view(self, key)

    def weld(self, simulate: tuple[float, float, str] | None = None) -> None:
        """The page at the joint; a plan that is not issued is issued first, and where that cannot be, nothing is welded to an older one.

        `simulate`: how fast, how large a hand, what is amiss, in a trial.
        """
        if not self.store.now.stands:
            self.store.issue()
        if not self.store.now.stands:
            return
        self.store.when_followed(partial(self._to_the_joint, simulate))

    def _to_the_joint(self, simulate: tuple[float, float, str] | None) -> None:
        from banister.desktop.weld.opening import weld_page

        if is_open(self.opened.get("devices")):
            self.opened["devices"].close()
        page = weld_page(self, simulate)
        if page is not None:
            self.opened["weld"] = page
            page.show() if simulate is not None else page.showFullScreen()

    def show_help(self) -> None:
        """Help for the step in hand."""
        self._help(help_text(self.store.view.step, self.store.say))

    def show_keys(self) -> None:
        """The overview of keys."""
        self._help(keys_text(list(self.menus.actions.values()), self.store.say))

    def show_about(self) -> None:
        """What the program is and what it is not."""
        self._help(self.store.say("about.text", version=__version__))

    def _help(self, text: str) -> None:
        if is_open(self.help_dialog):
            self.help_dialog.close()  # type: ignore[union-attr]
        self.help_dialog = HelpDialog(self, text, self.store.say)
        self.help_dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.help_dialog.show()

    # --- files -------------------------------------------------------------------------------
    def offer_recovery(self) -> None:
        """Offer the work that sessions left behind; it stays until it is answered."""
        for left in self.files.left_work():
            self._offer(left)

    def _offer(self, left: LeftWork) -> None:
        say = self.store.say
        job, wrong = left.read()
        name = left.of.name if left.of is not None else say("recovery.unnamed")
        discard = Action(say("recovery.discard"), left.discard)
        if job is None or wrong:
            lines = "\n".join(say.faults(wrong[:MOST_SAID]))
            text = say("recovery.broken", name=name, what=lines, path=str(left.file))
        else:
            text = say("recovery.offer", name=name, joints=", ".join(joint.id for joint in job.joints[:MOST_NAMED]))
        restore = () if job is None else (Action(say("recovery.partly" if wrong else "recovery.restore"), partial(self._restore, left, job)),)
        self.notices.add(Notice(text, bad=bool(wrong), actions=(*restore, discard)))

    def _restore(self, left: LeftWork, job: Job) -> None:
        self.files.restore(left, job)
        self.tell(self.store.say("recovery.restored"))

    def practise(self) -> None:
        """To the step of practice, with no job at hand but a blank one."""
        self.files.start_from_nothing()
        if self.store.job is not None:
            self.store.session.mark_saved()  # nothing was entered: nobody is asked to keep it
            self.go_to("practice")

    def open_demo(self) -> None:
        """Open the demo."""
        if self._may_leave():
            self.files.open_demo()

    def ask_open(self) -> None:
        """Ask for a job and open it."""
        if self._may_leave():
            path = self.dialogs.open_path(self, self.store.say)
            if path is not None:
                self.open_path(path)

    def open_recent(self, path: Path) -> None:
        """Open a file that was open before, in the place of this one."""
        if self._may_leave():
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a job file."""
        self.notices.clear()
        if self.files.open_path(path):
            self.offer_recovery()

    def save(self) -> bool:
        """Save."""
        return self.files.save(self._ask_save)

    def save_as(self) -> bool:
        """Save under another name."""
        if is_open(self.opened.get("weld")):  # its records would begin anew under the arc
            self.notices.add(Notice(self.store.say("file.at_the_joint")))
            return False
        return self.files.save_as(self._ask_save)

    def _ask_save(self) -> Path | None:
        job, say = self.store.job, self.store.say
        name = "" if job is None else job.name.lower().replace(" ", "-") + ".banister"
        return self.dialogs.save_path(self, say("dialog.save_job"), name, f"{say('dialog.jobs')} (*.banister)")

    def write_board(self, jobs: Jobs, board: Board, shift: Shift) -> None:
        """The board as one page for the wall."""
        path = self.dialogs.save_path(self, self.store.say("board.write"), "board.pdf", "*.pdf")
        if path is not None:
            put_on_paper(self, path, board_pages, jobs, board, shift, self.store.say, joints=tuple(joint.id for joint, _ in jobs))

    def close_job(self) -> None:
        """Back to the start page."""
        if self._may_leave():
            self.files.close_job()

    def _leave_at_last(self) -> None:
        if self._is_leaving and not self.files.is_writing:
            self.close()

    def _may_leave(self) -> bool:
        take_typed(self.focusWidget())
        job = self.store.job
        if job is None or not self.store.session.dirty:
            return True
        answer = self.dialogs.keep_changes(self, job.name, self.store.say)
        return self.save() if answer == SAVE else answer == DISCARD

    # --- Qt ----------------------------------------------------------------------------------
    def dragEnterEvent(self, event: QDragEnterEvent) -> None:  # noqa: N802
        """Files may be dropped in."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:  # noqa: N802
        """Open what was dropped."""
        if self._may_leave():
            self.open_path(Path(event.mimeData().urls()[0].toLocalFile()))

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802
        """Leave only when nothing is lost: what is being written is waited for."""
        self._is_leaving = self.files.is_writing
        if self._is_leaving or not self._may_leave():
            event.ignore()
            return
        for view in self.opened.values():
            if is_open(view) and view.parent() is None:  # a page of its own does not go with the window by itself
                view.close()
        self.preferences.geometry, self.preferences.split = self.saveGeometry(), self.work.split.saveState()
        self.preferences.shows_table = self.work.table_wanted
        self.logbook.close()
        self.files.leave()
        self.errands.close()
        event.accept()


def system_is_dark() -> bool:
    """True where the desktop asks for dark windows."""
    return QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark
