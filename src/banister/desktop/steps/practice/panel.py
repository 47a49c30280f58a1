"""Practice: whose book, which session, what it says; rods typed from ruler and clock or read from a trace; targets, notes and homework of an instructor."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from banister.core.practice.reckoned import near_said
from banister.core.practice.said import rod_said, sentences
from banister.core.words import capital
from banister.desktop.app.theme import Theme
from banister.desktop.app.views import is_open
from banister.desktop.fields import NameField
from banister.desktop.panel import Panel, cleared, keeping_focus
from banister.desktop.snapshot import Snapshot
from banister.desktop.steps.practice.bench_opening import bench_page
from banister.desktop.steps.practice.desk import PracticeDesk
from banister.desktop.steps.practice.parts import InstructorPart, RodPart, SessionPart
from banister.desktop.store import Store
from banister.job.library import data_file
from banister.job.practice import SUFFIX, practice_bytes, practice_in

if TYPE_CHECKING:
    from banister.desktop.app.window import MainWindow

EXAMPLE = "demo.banister-practice"


class PracticePanel(Panel):
    """A trainee's book beside the picture of a session."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(store, theme)
        say = self.say
        self.desk = PracticeDesk(say)
        self._opened_for: object = None
        """The history of the job beside which it was last looked for a book to open."""
        self.heading(say("step.practice"))
        self.whose, self.fault = self.remark(kind="plain"), self.remark(kind="bad")
        with self.part() as self.nobody:
            self.mark = NameField(say("practice.mark"))
            self.column.addWidget(self.mark)
            self.button("practice.begin", self.begin, tip=True)
            self.button("practice.open", self.open)
            self.button("practice.example", self.look_at_example, tip=True)
            self.button("practice.reckon", self.reckon, tip=True)
        with self.part() as self.known:
            self.sessions = self.choice("practice.session", {}, lambda key: self.desk.look(index=int(key)))
            self.bench = self.button("practice.bench", self.go_to_bench, tip=True)
            self.button("practice.reckon", self.reckon, tip=True)
            self.heading(say("practice.says"), 14)
            self.says, self.set_work = self.remark(kind="plain"), self.remark()
            self.reckoned = self.remark()
            self.rod_head = self.heading("", 14)
            self.rod_figures = self.remark(kind="plain")
            self.notes = self.remark()
            self.rod_part = RodPart(store, theme, self.desk)
            self.column.addWidget(self.rod_part)
            self.heading(say("practice.rods_read"), 14)
            self.rows = QVBoxLayout()
            self.column.addLayout(self.rows)
            self.button("practice.trace", self.read_trace, tip=True)
            self.back = self.button("practice.back", self.desk.take_back)
            self.drop = self.button("practice.drop_session", self.desk.drop_session)
            self.session_part = SessionPart(store, theme, self.desk)
            self.column.addWidget(self.session_part)
            self.instructor = InstructorPart(store, theme, self.desk)
            self.column.addWidget(self.instructor)
            self.heading(say("practice.file"), 14)
            self.button("practice.give", self.give_on, tip=True)
            self.button("practice.csv", self.write_csv)
            self.button("practice.close", self.close_book)
        self.remark(say("practice.caution"))
        self.column.addStretch(1)
        self.desk.changed.connect(self.show_book)

    # --- files -------------------------------------------------------------------------------
    @property
    def frame(self) -> MainWindow:
        """The window it stands in."""
        return cast("MainWindow", self.window())

    def begin(self) -> None:
        """A new book for the mark that was typed."""
        mark = self.mark.edit.text().strip()
        if not mark:
            self.fault.setText(self.say("practice.mark.missing"))
            self.fault.show()
            return
        path = self.frame.dialogs.save_path(self.frame, self.say("practice.begin"), f"{mark}{SUFFIX}", f"*{SUFFIX}")
        if path is not None and self.desk.begin(path, mark):
            self._remember()

    def open(self) -> None:
        """A book that is there."""
        path = self.frame.dialogs.document_path(self.frame, self.say("practice.open"), Path.home(), self.say, SUFFIX.lstrip("."))
        if path is not None and self.desk.open(path):
            self._remember()

    def look_at_example(self) -> None:
        """The book that ships, made by a simulated hand."""
        self.desk.example(practice_in(data_file(EXAMPLE).read_bytes()))

    def open_remembered(self) -> None:
        """The book that was open last, where it is still there; the example beside the demo."""
        path = self.frame.preferences.practice
        if path is not None:
            self.desk.open(path)
        elif self.frame.files.is_demo:
            self.look_at_example()

    def close_book(self) -> None:
        """Nobody's book is open any more."""
        self.desk.close()
        self._remember()

    def _remember(self) -> None:
        self.frame.preferences.practice = None if self.desk.file is None else self.desk.file.path

    def give_on(self) -> None:
        """A copy for the instructor."""
        path = self._path(SUFFIX.lstrip("."))
        if path is not None and self.desk.book is not None:
            self.frame.files.write(path, practice_bytes(self.desk.book))

    def write_csv(self) -> None:
        """Every rod as a line."""
        path = self._path("csv")
        if path is not None and self.desk.book is not None:
            from banister.export.practice_csv import practice_csv

            self.frame.files.write(path, practice_csv(self.desk.book, self.desk.drills).encode())

    def _path(self, suffix: str) -> Path | None:
        trainee = self.desk.book.trainee if self.desk.book is not None else "book"
        safe = "".join(c if c.isalnum() or c in "-_" else "-" for c in trainee) or "book"
        return self.frame.dialogs.save_path(self.frame, self.say("export.write"), f"{safe}.{suffix}", f"*.{suffix}")

    # --- the session -------------------------------------------------------------------------
    def read_trace(self) -> None:
        """The rods of a recorded trace give the rods of the session their arc, one after the other."""
        path = self.frame.dialogs.document_path(self.frame, self.say("practice.trace"), Path.home(), self.say, "csv")
        if path is not None:
            self.rod_part.read_trace(path)

    def reckon(self) -> None:
        """Questions on the joints of the job, before their plans are seen."""
        self.frame.open_view("reckon")

    def go_to_bench(self) -> None:
        """The page at the bench, for the session that is looked at."""
        if is_open(self.frame.opened.get("practice bench")):
            self.frame.opened["practice bench"].close()
        if self.desk.session is not None:
            page = bench_page(self.frame, self.desk)
            self.frame.opened["practice bench"] = page
            page.show()

    # --- showing -----------------------------------------------------------------------------
    def show_job(self, old: Snapshot | None, new: Snapshot) -> None:
        """Units and words; nothing of it is the job's, but the rods there are to practise with."""
        if not new.differs(old, "say", "job"):
            return
        self.session_part.show_job(new)
        self.rod_part.show_units(new.say)
        beside, self._opened_for = self._opened_for, self.store.session.history
        if self.desk.book is None and beside is not self._opened_for:
            self.open_remembered()  # a book that opens is shown by that
            if self.desk.book is not None:
                return
        self.show_book()

    def show_book(self) -> None:
        """What the desk holds."""
        desk, say, book = self.desk, self.say, self.desk.book
        desk.say = say
        practised = ("", 0) if book is None else (book.trainee, len(book.sessions))
        if practised != self.store.view.practised:
            self.store.look(practised=practised)
        self.nobody.setVisible(book is None)
        self.known.setVisible(book is not None)
        self.fault.setText(desk.fault)
        self.fault.setVisible(bool(desk.fault))
        self.whose.setText(say("practice.nobody") if book is None else say("cli.practice.sessions", trainee=book.trainee, n=len(book.sessions)) +
                           (f"\n{say('practice.example.said')}" if desk.is_example else ""))  # fmt: skip
        if book is None:
            return
        self.sessions.set_choices({str(i): f"{s.on}  {say(f'practice.drill.{s.drill}.title')}" for i, s in reversed([*enumerate(book.sessions)])})
        self.sessions.show_choice(str(desk.index))
        self.sessions.setVisible(bool(book.sessions))
        self.says.setText("\n\n".join(sentences(desk.standings, say)) if desk.session is not None else say("practice.none"))
        self.set_work.setText("\n".join(say("cli.practice.homework", drill=say(f"practice.drill.{one.drill}.title"), rods=say("practice.rods", n=one.rods),
                                            by=one.by or "-", on=one.on or "-") for one in book.homework))  # fmt: skip
        self.set_work.setVisible(bool(book.homework))
        reckoned = [near_said(book, metric, say) for metric in desk.drills.reckoning.values() if any(g.question == metric.id for g in book.guesses)]
        self.reckoned.setText("\n".join([say("practice.reckoned"), *reckoned]))
        self.reckoned.setVisible(bool(reckoned))
        self._show_session()
        self.rod_part.show_desk()
        self.session_part.show_desk()
        self.instructor.show_desk()

    def _show_session(self) -> None:
        desk, say, session = self.desk, self.say, self.desk.session
        is_rod = session is not None and desk.rod is not None and desk.rod < len(session.rods)
        self.rod_head.setVisible(is_rod)
        self.rod_figures.setVisible(is_rod)
        if is_rod:
            assert desk.rod is not None
            self.rod_head.setText(say("practice.rod", number=str(desk.rod + 1)))
            self.rod_figures.setText("\n".join(f"{capital(name)}: {value}" for name, value in rod_said(desk.standings, desk.rod, say)))
        before = [] if desk.book is None or desk.index is None else [n for one in desk.book.sessions[: desk.index + 1] for n in one.notes]
        notes = [f"\u201c{n.text}\u201d {n.by}, {n.on}" for n in (session.notes if session is not None and session.notes else before[-1:])]
        self.notes.setText("\n".join(notes))
        self.notes.setVisible(bool(notes))
        self.bench.setEnabled(session is not None)
        self.back.setEnabled(desk.can_take_back)
        self.drop.setEnabled(session is not None)
        self.rod_part.setVisible(session is not None)
        with keeping_focus(self):
            cleared(self.rows)
            for number in range(0 if session is None else len(session.rods)):
                self.rows.addWidget(self._row(number))

    def _row(self, number: int) -> QWidget:
        say, box, row = self.say, QWidget(), QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        pick, drop = QPushButton(say("practice.rod", number=str(number + 1))), QPushButton(say("fitup_step.drop"))
        pick.setAccessibleName(pick.text())
        pick.clicked.connect(lambda _checked=False: self.rod_part.edit(number))
        drop.setAccessibleName(say("practice.drop", number=str(number + 1)))
        drop.setToolTip(drop.accessibleName())
        drop.clicked.connect(partial(self._drop, number))
        found = rod_said(self.desk.standings, number, say)
        said = QLabel(", ".join(value for _, value in found[:4]))
        said.setWordWrap(True)
        row.addWidget(pick)
        row.addWidget(said, 1)
        row.addWidget(drop)
        box.setLayout(row)
        return box

    def _drop(self, number: int) -> None:
        self.desk.drop_rod(number)
