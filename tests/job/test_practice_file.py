"""A trainee's book as a file: what was written reads back, what cannot be right is refused at its place, and nobody's writing is lost."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import pytest

from banister.core.practice.book import Book, Homework, OwnTarget, PracticeNote, RodRead
from banister.core.value import replace
from banister.job.library import data_file
from banister.job.practice import PracticeFile, practice_bytes, practice_in, read_practice
from banister.job.reading import FileFault
from tests.conftest import SAY
from tests.sample.practised import SimulatedHand, simulated_book

BOOK = simulated_book(SimulatedHand(3), "T 4", date(2026, 10, 1), (0, 4, 9))


def test_a_book_reads_back_as_it_was_written() -> None:
    full = replace(BOOK, targets=(OwnTarget(metric="overlap", low=40.0, high=50.0, by="i"),), homework=(Homework(drill="pad", rods=8),))
    full = full.with_session(1, replace(full.sessions[1], notes=(PracticeNote(text="Ü <b>", by="i", on="2026-10-05", rod=2),)))
    assert practice_in(practice_bytes(full)) == full and read_practice(data_file("demo.banister-practice")).trainee == "K7"
    unsorted = replace(BOOK, sessions=tuple(reversed(BOOK.sessions)))
    assert practice_in(practice_bytes(unsorted)) == BOOK


@pytest.mark.parametrize(("where", "value", "said"), [
    (("sessions", 0, "on"), "soon", "sessions[0].on: 'soon' is no day"), (("sessions", 1, "drill"), "juggling", "sessions[1].drill"),
    (("sessions", 0, "rods", 2, "run_out_mm"), -4.0, "sessions[0].rods[2].run_out_mm"), (("sessions", 0, "rods", 0, "edges_s", 1), 0.0, "rods[0].edges_s[1]"),
    (("sessions", 0, "rods", 0, "arc", "wander_v"), 1e9, "arc.wander_v"), (("sessions", 0, "rods", 0, "run_out_mm"), "150", "run_out_mm"),
    (("targets",), [{"metric": "luck", "low": 0, "high": 1}], "targets[0].metric"),
    (("targets",), [{"metric": "overlap", "low": 2, "high": 1}], "low one first"),
    (("homework",), [{"drill": "pad", "rods": 0}], "homework[0]"), (("sessions", 0, "edge_s"), 1e300, "sessions[0].edge_s"),
])  # fmt: skip
def test_what_cannot_be_right_is_refused_at_its_place(where: tuple[str | int, ...], value: object, said: str) -> None:
    document = json.loads(practice_bytes(BOOK))
    at = document["book"]
    for key in where[:-1]:
        at = at[key]
    at[where[-1]] = value
    with pytest.raises(FileFault) as fault:
        practice_in(json.dumps(document).encode())
    assert said in " ".join(SAY.faults(fault.value.remarks))


def test_other_formats_and_newer_versions_are_told() -> None:
    for change, said in (({"format": "banister-job"}, "banister-practice"), ({"version": 3}, "version"), ({"book": None}, "$.book")):
        with pytest.raises(FileFault) as fault:
            practice_in(json.dumps(json.loads(practice_bytes(BOOK)) | change).encode())
        assert said in " ".join(SAY.faults(fault.value.remarks))


def test_what_another_wrote_meanwhile_is_never_written_over(tmp_path: Path) -> None:
    path = tmp_path / "t.banister-practice"
    one = PracticeFile(path)
    one.save(BOOK)
    other = PracticeFile(path)
    more = other.open().with_session(3, replace(BOOK.sessions[0], on="2026-11-01"))
    other.save(more)
    with pytest.raises(FileFault, match="changed"):
        one.save(Book(trainee="T 4"))
    assert read_practice(path) == more and one.open() == more
    with pytest.raises(FileFault, match="range"):
        one.save(more.with_session(0, replace(more.sessions[0], rods=(RodRead(run_out_mm=1e9),))))
    with pytest.raises(FileFault, match="changed"):
        PracticeFile(path).save(BOOK)
    assert read_practice(path) == more
