"""The drills that ship, and the trainee's own book: an open JSON file of one's own, written whole at every entry, never over what another wrote."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

import msgspec

from banister import __version__
from banister.core.limits.procedure import is_day
from banister.core.practice.book import Book, Drill, Drills, Guess, Metric, Session
from banister.core.practice.reckon import ROD
from banister.core.remark import Figure, Remark, fault, unknown_word
from banister.core.value import replace
from banister.job.documents import read_document
from banister.job.files import read_bytes, write_atomically
from banister.job.library import data_file
from banister.job.reading import FileFault, converted, parsed

SUFFIX = ".banister-practice"
FORMAT, VERSION = "banister-practice", 2
"""Version 2 has guesses; a book of version 1 is one without."""
DRILLS_FORMAT, DRILLS_FILE = "banister-drills", "drills.json"
LARGEST_BYTES = 20_000_000
MOST_SESSIONS, MOST_RODS, MOST_READ, MOST_GUESSES, LONGEST_NAME = 5000, 200, 400, 20_000, 80
MOST_MM, MOST_S, MOST_V, MOST_A, MOST_RECKONED = 5000.0, 600.0, 150.0, 2000.0, 1e6


class _Metric(msgspec.Struct):
    unit: str
    target: tuple[float, float]
    certainty: str
    needs: list[str]
    signed: bool


class _DrillsFile(msgspec.Struct):
    format: str
    version: int
    metrics: dict[str, _Metric]
    drills: list[Drill]
    reckoning: dict[str, _Metric]


@lru_cache(maxsize=1)
def shipped_drills() -> Drills:
    """What ships."""
    path = data_file(DRILLS_FILE)
    raw = read_document(path)
    if raw.get("format") != DRILLS_FORMAT:
        raise FileFault(fault("file.format", "$.format", format=Figure(DRILLS_FORMAT, "name")), file=str(path))
    found = converted(raw, _DrillsFile, "$")
    metrics, reckoning = ({key: Metric(id=key, unit=m.unit, target=m.target, certainty=m.certainty, needs=tuple(m.needs), signed=m.signed)
                           for key, m in those.items()} for those in (found.metrics, found.reckoning))  # fmt: skip
    return Drills(metrics=metrics, drills={drill.id: drill for drill in found.drills}, reckoning=reckoning)


def read_practice(path: Path) -> Book:
    """A trainee's book; FileFault with the place of every fault."""
    try:
        return practice_in(read_bytes(path, LARGEST_BYTES))
    except FileFault as found:
        raise found.of(path) from found


def practice_in(data: bytes) -> Book:
    """A book from the bytes of its file."""
    document = parsed(data)
    if document.get("format") != FORMAT:
        raise FileFault(fault("file.format", "$.format", format=Figure(FORMAT, "name")))
    version = document.get("version")
    if not isinstance(version, int) or version > VERSION:
        raise FileFault(fault("file.version", "$.version", newest=Figure(VERSION, "count")))
    book = converted(document.get("book"), Book, "$.book")
    if faults := tuple(practice_faults(book)):
        raise FileFault(*faults)
    sessions, guesses = sorted(book.sessions, key=lambda session: session.on), sorted(book.guesses, key=lambda guess: guess.on)
    return replace(book, sessions=tuple(sessions), guesses=tuple(guesses))


def practice_bytes(book: Book) -> bytes:
    """The file of a book; what could not be read again is not written."""
    if faults := tuple(practice_faults(book)):
        raise FileFault(*faults)
    document = {"format": FORMAT, "version": VERSION, "program": __version__, "book": book}
    return msgspec.json.format(msgspec.json.encode(document), indent=1) + b"\n"


class PracticeFile:
    """A book's file, open in a window: written at once, refused where another program has written it meanwhile."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._as_read: bytes | None = None

    def open(self) -> Book:
        """What the file holds."""
        data = read_bytes(self.path, LARGEST_BYTES)
        try:
            book = practice_in(data)
        except FileFault as found:
            raise found.of(self.path) from found
        self._as_read = data
        return book

    def save(self, book: Book) -> None:
        """Write the book whole; FileFault where it cannot be so, or the file is not what was read. OSError where nothing could be written."""
        data = practice_bytes(book)
        if self.path.exists() and (self._as_read is None or read_bytes(self.path, LARGEST_BYTES) != self._as_read):
            raise FileFault(fault("practice.changed", ""), file=str(self.path))
        write_atomically(self.path, data)
        self._as_read = data


def practice_faults(book: Book) -> Iterator[Remark]:
    """What cannot be right in a book: days, drills, figures nobody can read, far too many of them."""
    drills = shipped_drills()
    if len(book.sessions) > MOST_SESSIONS:
        yield fault("practice.many", "$.book.sessions", most=Figure(MOST_SESSIONS, "count"))
        return
    for i, session in enumerate(book.sessions):
        yield from _session_faults(session, f"$.book.sessions[{i}]", drills)
    for i, target in enumerate(book.targets):
        where = f"$.book.targets[{i}]"
        if target.metric not in drills.figures:
            yield unknown_word(f"{where}.metric", target.metric, drills.figures)
        if not (math.isfinite(target.low) and math.isfinite(target.high) and -1e4 < target.low <= target.high < 1e4):
            yield fault("practice.target", where)
    for i, work in enumerate(book.homework):
        if work.drill not in drills.drills or not 1 <= work.rods <= MOST_RODS:
            yield fault("practice.homework", f"$.book.homework[{i}]", most=Figure(MOST_RODS, "count"))
    if len(book.guesses) > MOST_GUESSES:
        yield fault("practice.many", "$.book.guesses", most=Figure(MOST_GUESSES, "count"))
        return
    for i, guess in enumerate(book.guesses):
        yield from _guess_faults(guess, f"$.book.guesses[{i}]", drills)


def _guess_faults(guess: Guess, where: str, drills: Drills) -> Iterator[Remark]:
    if not is_day(guess.on):
        yield fault("practice.day", f"{where}.on", value=Figure(guess.on[:20], "name"))
    if guess.question not in drills.reckoning:
        yield unknown_word(f"{where}.question", guess.question, drills.reckoning)
    for name, value in (("guess", guess.guess), ("answer", guess.answer)):
        if isinstance(value, str):
            if len(value) > LONGEST_NAME or guess.question != ROD:
                yield fault("practice.guess", f"{where}.{name}")
        elif guess.question == ROD or not (math.isfinite(value) and abs(value) <= MOST_RECKONED):
            yield fault("practice.guess", f"{where}.{name}")


def _session_faults(session: Session, where: str, drills: Drills) -> Iterator[Remark]:
    days = [(f"{where}.on", session.on), *((f"{where}.notes[{k}].on", note.on) for k, note in enumerate(session.notes))]
    for field, day in days:
        if not is_day(day):
            yield fault("practice.day", field, value=Figure(day[:20], "name"))
    if session.drill not in drills.drills:
        yield unknown_word(f"{where}.drill", session.drill, drills.drills)
    yield from _range((f"{where}.amps", session.amps, 5.0, MOST_A, "current"), (f"{where}.target_mm", session.target_mm, 5.0, MOST_MM, "long_length"),
                      (f"{where}.edge_s", session.edge_s, 0.1, 60.0, "seconds"))  # fmt: skip
    if len(session.rods) > MOST_RODS:
        yield fault("practice.many", f"{where}.rods", most=Figure(MOST_RODS, "count"))
        return
    for k, rod in enumerate(session.rods):
        at = f"{where}.rods[{k}]"
        yield from _range((f"{at}.run_out_mm", rod.run_out_mm, 1.0, MOST_MM, "long_length"), (f"{at}.pitch_mm", rod.pitch_mm, 0.5, 100.0, "fine_length"),
                          (f"{at}.restart_step_mm", rod.restart_step_mm, -20.0, 20.0, "fine_length"),
                          (f"{at}.restart_gap_mm", rod.restart_gap_mm, 0.0, 100.0, "fine_length"))  # fmt: skip
        for name, low, high, kind in (("widths_mm", 0.5, 100.0, "fine_length"), ("marks_s", 0.05, MOST_S, "seconds"), ("edges_s", 0.05, MOST_S, "seconds"),
                                      ("line_mm", -50.0, 50.0, "fine_length")):  # fmt: skip
            values = getattr(rod, name)
            if len(values) > MOST_READ:
                yield fault("practice.many", f"{at}.{name}", most=Figure(MOST_READ, "count"))
                continue
            yield from _range(*((f"{at}.{name}[{n}]", value, low, high, kind) for n, value in enumerate(values)))
        if rod.arc is not None:
            yield from _range((f"{at}.arc.seconds", rod.arc.seconds, 0.0, MOST_S, "seconds"), (f"{at}.arc.wander_v", rod.arc.wander_v, 0.0, MOST_V, "voltage"),
                              (f"{at}.arc.drift_v", rod.arc.drift_v, 0.0, MOST_V, "voltage"), (f"{at}.arc.lost", rod.arc.lost, 0, 1000, "count"),
                              (f"{at}.arc.edge_s", rod.arc.edge_s, 0.05, 60.0, "seconds"))  # fmt: skip


def _range(*found: tuple[str, float | None, float, float, str]) -> Iterator[Remark]:
    for field, value, low, high, kind in found:
        if value is not None and not (math.isfinite(value) and low <= value <= high):
            yield fault("practice.range", field, value=Figure(value, kind), window=Figure((low, high), kind))
