"""Paper from the window: which joints, which paper, which printer; a look at it first in the system's own viewer."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker, Qt, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout

from banister.desktop.app.beside import Beside
from banister.desktop.app.files import PAPER, PRINT
from banister.desktop.app.style import BAD, bordered, tint
from banister.desktop.errands import HEAT, SEARCH, Errand
from banister.desktop.fields import ChoiceField
from banister.desktop.notices import Notice
from banister.desktop.steps.sheet.actions import lost_on_paper, paper_now, plain_name
from banister.desktop.work.paper import LONGEST_S, SENT, printed, printers, sheet_pages

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow
    from banister.desktop.snapshot import Snapshot

PRINTERS, USUAL = "printers", ""
PAPERS = ("A4", "Letter")


class PrintDialog(Beside):
    """Chooses joints, paper and printer; prints, saves as PDF, or shows the pages first."""

    def __init__(self, window: MainWindow, store: object = None, theme: object = None) -> None:
        super().__init__(window, 520, 480)
        self.window_, say = window, window.store.say
        self.setWindowTitle(say("print.window"))
        self.joints, self.lost = QListWidget(), QLabel()
        bordered(self.joints)
        self.joints.setAccessibleName(say("print.joints"))
        tint(self.lost, BAD)
        self.lost.setWordWrap(True)
        self.paper = ChoiceField(say("print.paper"), {size: say(f"paper.{size}") for size in PAPERS})
        self.printer = ChoiceField(say("print.printer"), {USUAL: say("print.usual")})
        column = QVBoxLayout(self)
        heading = QHBoxLayout()
        heading.addWidget(QLabel(say("print.joints")), 1)
        self.every = QPushButton(say("print.all"))
        self.every.clicked.connect(lambda _checked=False: self.choose_all())
        heading.addWidget(self.every)
        column.addLayout(heading)
        column.addWidget(self.joints, 1)
        for widget in (self.lost, self.paper, self.printer):
            column.addWidget(widget)
        column.addLayout(self._buttons())
        self._show_joints((window.store.joint.id,) if window.store.joint is not None else ())
        self.joints.itemChanged.connect(lambda _: self._show_lost())
        window.store.changed.connect(self.show_job)
        self._show_lost()
        window.store.errands.run(Errand(SEARCH, PRINTERS, PRINT, printers, (), self._show_printers))

    def _buttons(self) -> QHBoxLayout:
        row, say = QHBoxLayout(), self.window_.store.say
        row.addStretch(1)
        self.buttons = {}
        for key, run in (("look", self.look), ("pdf", self.save), ("send", self.send), ("close", self.close)):
            self.buttons[key] = button = QPushButton(say(f"print.{key}"))
            button.clicked.connect(lambda _checked=False, run=run: run())
            row.addWidget(button)
        return row

    # --- what is chosen ------------------------------------------------------------------------
    @property
    def chosen(self) -> tuple[str, ...]:
        """The joints with a tick."""
        items = (self.joints.item(i) for i in range(self.joints.count()))
        return tuple(str(item.data(Qt.ItemDataRole.UserRole)) for item in items if item.checkState() == Qt.CheckState.Checked)

    def choose_all(self) -> None:
        """Every joint, or none where all are chosen."""
        state = Qt.CheckState.Unchecked if len(self.chosen) == self.joints.count() else Qt.CheckState.Checked
        for i in range(self.joints.count()):
            self.joints.item(i).setCheckState(state)

    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """The joints as they are in the job now; the ticks stay with theirs."""
        if new.differs(old, "job"):
            self._show_joints(self.chosen)
        self._show_lost()

    def _show_joints(self, chosen: tuple[str, ...]) -> None:
        job = self.window_.store.job
        with QSignalBlocker(self.joints):
            self.joints.clear()
            for joint in job.joints if job is not None else ():
                item = QListWidgetItem(joint.called)
                item.setData(Qt.ItemDataRole.UserRole, joint.id)
                item.setCheckState(Qt.CheckState.Checked if joint.id in chosen else Qt.CheckState.Unchecked)
                self.joints.addItem(item)

    def _show_lost(self) -> None:
        """Names that no font here can print are told before, not found on paper."""
        say, lost = self.window_.store.say, lost_on_paper(self.window_.store, self.chosen)
        self.lost.setText(say("print.lost", characters=" ".join(lost)) if lost else "")
        self.lost.setVisible(bool(lost))
        for key in ("look", "pdf", "send"):
            self.buttons[key].setEnabled(bool(self.chosen) and self.window_.store.now.plan is not None)

    def _show_printers(self, found: list[str]) -> None:
        self.printer.set_choices({USUAL: self.window_.store.say("print.usual")} | {name: name for name in found})

    # --- what is done --------------------------------------------------------------------------
    def look(self) -> None:
        """The pages in the viewer that the desktop opens PDF files with."""
        paper = paper_now(self.window_.store, self.paper.key, self.chosen)
        self.window_.store.errands.run(Errand(HEAT, PAPER, PAPER, sheet_pages, (paper,), self._opened))

    def _opened(self, data: bytes) -> None:
        path = Path(tempfile.mkdtemp(prefix="banister-")) / "sheet.pdf"
        path.write_bytes(data)
        if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(path))):
            self.window_.notices.add(Notice(self.window_.store.say("print.no_viewer", path=str(path))))

    def save(self) -> None:
        """The pages as a file."""
        window, chosen = self.window_, self.chosen
        name = f"{plain_name(chosen[0])}.pdf" if len(chosen) == 1 else "pass-sheets.pdf"
        path = window.dialogs.save_path(self, window.store.say("export.write"), name, "*.pdf")
        if path is not None:
            window.files.have_written(path, sheet_pages, paper_now(window.store, self.paper.key, chosen))
            self.close()

    def send(self) -> None:
        """The pages to the printer."""
        window, say = self.window_, self.window_.store.say

        def told(found: tuple[str, str]) -> None:
            word, why = found
            if word == SENT:
                window.tell(say("print.sent"))
            else:
                window.notices.add(Notice(say(f"print.{word}", why=why, seconds=str(LONGEST_S))))

        request = (paper_now(window.store, self.paper.key, self.chosen), self.printer.key)
        window.store.errands.run(Errand(HEAT, PRINT, PRINT, printed, request, told))
        self.close()
