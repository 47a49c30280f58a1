"""The book that is open: every entry is written at once; what was entered can be taken back; what cannot be written is said and stays on screen."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from banister.core.practice.book import Book, RodRead, Session
from banister.core.practice.standing import Standing, Weeks, standings, weeks_of
from banister.core.value import replace
from banister.core.words import Speech
from banister.job.practice import SUFFIX, PracticeFile, practice_faults, shipped_drills
from banister.job.reading import FileFault


class PracticeDesk(QObject):
    """Holds a book, which session, rod and figure of it are looked at, and what was before."""

    changed = Signal()

    def __init__(self, say: Speech) -> None:
        super().__init__()
        self.say, self.drills = say, shipped_drills()
        self.file: PracticeFile | None = None
        self.book: Book | None = None
        self.index: int | None = None
        self.rod: int | None = None
        self.metric = ""
        self.fault = ""
        self.is_example = False
        """True while the book that ships is looked at: it is kept nowhere."""
        self._before: list[Book] = []
        self._read: tuple[tuple[Book, int], tuple[Standing, ...]] | None = None

    # --- files -------------------------------------------------------------------------------
    def open(self, path: Path) -> bool:
        """Open a book; where it cannot be read it is said, and what was open stays."""
        file = PracticeFile(path)
        try:
            book = file.open()
        except FileFault as broken:
            return self._tell("\n".join(self.say.faults(broken.remarks)))
        self._show(file, book, is_example=False)
        return True

    def begin(self, path: Path, trainee: str) -> bool:
        """An empty book in a new file; one that is there is not written over."""
        path = path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX)
        if path.exists():
            return self._tell(self.say("cli.fault.practice.exists", file=str(path)))
        file, book = PracticeFile(path), Book(trainee=trainee)
        if not self._written(file, book):
            return False
        self._show(file, book, is_example=False)
        return True

    def example(self, book: Book) -> None:
        """Look at the book that ships."""
        self._show(None, book, is_example=True)

    def _show(self, file: PracticeFile | None, book: Book, is_example: bool) -> None:
        self.file, self.book, self.is_example, self.fault = file, book, is_example, ""
        self._before.clear()
        self.index, self.rod, self.metric = len(book.sessions) - 1 if book.sessions else None, None, ""
        self.changed.emit()

    def close(self) -> None:
        """No book is open."""
        self.file, self.book, self.is_example, self.index, self.rod, self.fault = None, None, False, None, None, ""
        self._before.clear()
        self.changed.emit()

    def _written(self, file: PracticeFile, book: Book) -> bool:
        try:
            file.save(book)
        except FileFault as broken:
            return self._tell("\n".join(self.say.faults(broken.remarks)))
        except OSError as error:
            return self._tell(self.say("file.not_written", path=str(file.path), why=error.strerror or str(error)))
        return True

    def _tell(self, fault: str) -> bool:
        self.fault = fault
        self.changed.emit()
        return False

    # --- entries -----------------------------------------------------------------------------
    def put(self, book: Book, index: int | None = None) -> bool:
        """The book after an entry, and the session that is then looked at (None: the same): written, and to be taken back.

        What cannot be right, or be written, is said and not taken.
        """
        if self.book is None or book == self.book:
            return True
        if faults := tuple(practice_faults(book)):
            return self._tell("\n".join(self.say.faults(faults)))
        if self.file is not None and not self._written(self.file, book):
            return False
        self._before.append(self.book)
        self.book, self.fault = book, ""
        self.index = self.index if index is None else index
        self.index = None if not book.sessions else len(book.sessions) - 1 if self.index is None else min(self.index, len(book.sessions) - 1)
        self.rod = None if self.session is None or self.rod is None or self.rod >= len(self.session.rods) else self.rod
        self.changed.emit()
        return True

    def take_back(self) -> None:
        """The book as it was before the last entry."""
        if self._before:
            before = self._before.pop()
            if self.file is None or self._written(self.file, before):
                self.book, self.fault = before, ""
                self.index = None if not before.sessions else min(self.index or 0, len(before.sessions) - 1)
                self.rod = None
                self.changed.emit()

    @property
    def can_take_back(self) -> bool:
        """True where something was entered."""
        return bool(self._before)

    def begin_session(self, session: Session) -> bool:
        """One more session, which is looked at."""
        if self.book is None:
            return False
        made = self.book.with_session(len(self.book.sessions), session)
        if not self.put(made, max(i for i, one in enumerate(made.sessions) if one is session)):
            return False
        self.rod = None
        self.changed.emit()
        return True

    def drop_session(self) -> bool:
        """The session that is looked at, taken out."""
        return self.book is not None and self.index is not None and self.put(self.book.without_session(self.index))

    def put_session(self, session: Session) -> bool:
        """The session that is looked at, changed."""
        return self.book is not None and self.index is not None and self.put(self.book.with_session(self.index, session))

    def put_rod(self, rod: RodRead, number: int | None = None) -> bool:
        """A rod in the place of another, or one more."""
        session = self.session
        if session is None:
            return False
        rods = [*session.rods]
        rods[len(rods) if number is None else number : len(rods) if number is None else number + 1] = [rod]
        return self.put_session(replace(session, rods=tuple(rods)))

    def drop_rod(self, number: int) -> bool:
        """A rod taken out."""
        session = self.session
        return session is not None and self.put_session(replace(session, rods=session.rods[:number] + session.rods[number + 1 :]))

    # --- looking -----------------------------------------------------------------------------
    def look(self, index: int | None = None, rod: int | None = None, metric: str = "") -> None:
        """Another session, rod or figure."""
        if index is not None and index != self.index:
            self.index, self.rod = index, None
        self.rod = rod if rod is not None else self.rod
        self.metric = metric or self.metric
        self.changed.emit()

    @property
    def session(self) -> Session | None:
        """What is looked at."""
        return None if self.book is None or self.index is None else self.book.sessions[self.index]

    @property
    def standings(self) -> tuple[Standing, ...]:
        """Its figures, worked out once."""
        if self.book is None or self.index is None:
            return ()
        if self._read is None or self._read[0][0] is not self.book or self._read[0][1] != self.index:
            self._read = (self.book, self.index), standings(self.book, self.index, self.drills)
        return self._read[1]

    @property
    def chosen(self) -> Standing | None:
        """The figure whose weeks are shown: the one that was clicked, else the first that was read."""
        found = self.standings
        return next((s for s in found if s.metric.id == self.metric), next((s for s in found if s.read), found[0] if found else None))

    @property
    def weeks(self) -> Weeks | None:
        """Its weeks."""
        chosen = self.chosen
        return None if chosen is None or self.book is None or self.index is None else weeks_of(self.book, chosen.metric, self.index)
