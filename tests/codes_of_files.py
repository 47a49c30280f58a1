"""Files that cannot be read or written, and what is told of them: cases for the test of all codes."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from banister.cli.main import run
from banister.core.fitup.places import Course
from banister.core.inspect.etched import (
    Overlay,
    by_faces,
    fit_remarks,
    fitted,
    mark_points,
    overlap_remarks,
    penetration,
    thickness_remark,
    trace_fault,
    wall_remarks,
)  # fmt: skip
from banister.core.journal import chained, corrected
from banister.core.practice.book import Book, Guess, Homework, OwnTarget, RodRead, Session
from banister.core.remark import Refused
from banister.job.acceptance import sets_in
from banister.job.causes import causes_in
from banister.job.codec import LARGEST_BYTES, MOST_JOINTS, encoded
from banister.job.columns import columns_in
from banister.job.documents import read_test
from banister.job.files import JobFile
from banister.job.fitup_csv import read_fitup, read_pipe_end
from banister.job.journal import Journal
from banister.job.library import data_file, demo_job, hands_in, shipped_rods
from banister.job.photos import photo_told
from banister.job.practice import PracticeFile, practice_bytes
from banister.job.reading import FileFault
from banister.job.seen_csv import read_seen
from banister.job.traces import keep_trace, kept_trace
from banister.job.weld_csv import read_welds
from tests.conftest import make_joint


def refused(do: Callable[..., object], *values: object, **named: object) -> None:
    with suppress(Refused, FileFault):
        do(*values, **named)


def files_that_cannot_be_read(folder: Path) -> None:
    demo_bytes = encoded(demo_job())
    document = json.loads(demo_bytes)
    broken = {
        "deep": b"[" * 200, "json": b"{", "shape": b"[]", "format": b"{}", "value": demo_bytes.replace(b'"root_gap_mm": 3.0', b'"root_gap_mm": "3"', 1),
        "unknown": demo_bytes.replace(b'"root_gap_mm": 3.0', b'"root_gap_mm": 3.0, "colour": 1', 1), "version": json.dumps(document | {"version": 0}).encode(),
        "joints": json.dumps(document | {"job": {"joints": [{}] * (MOST_JOINTS + 1)}}).encode(), "large": b" " * (LARGEST_BYTES + 1),
    }  # fmt: skip
    for name, data in broken.items():
        path = folder / name
        path.write_bytes(data)
        refused(JobFile(path).open)
        path.unlink()
    refused(JobFile(folder / "missing").open)
    refused(JobFile(Path("/proc/self/mem")).open)
    for record in ({"family": "none", "test": {"thickness_mm": 9.0}},):
        (folder / "test.json").write_text(json.dumps({"format": "banister-weld-test", "version": 1, "record": record}))
        refused(read_test, folder / "test.json")


def practice_that_cannot_be(folder: Path) -> None:
    rod, far = RodRead(run_out_mm=1e9), (Session(on="soon", drill="pad", rod="r", position="1G", rods=(RodRead(),) * 300),)
    wrong = Book(trainee="T", sessions=(*far, Session(on="2026-11-01", drill="pad", rod="r", position="1G", rods=(rod,))),
                 targets=(OwnTarget(metric="overlap", low=2.0, high=1.0),), homework=(Homework(drill="pad", rods=0),))  # fmt: skip
    refused(practice_bytes, wrong)
    refused(practice_bytes, Book(trainee="T", guesses=(Guess(on="2026-11-01", question="reckon_rod", joint="F2", guess=3.0, answer="E7018-4.0x450"),)))
    path = folder / "t.banister-practice"
    path.write_bytes(practice_bytes(Book(trainee="T")))
    refused(PracticeFile(path).save, Book(trainee="U"))


def files_that_cannot_be_written(folder: Path) -> None:
    path = folder / "job.banister"
    JobFile(path).save(demo_job())
    held, second = JobFile(path), JobFile(path)
    held.open()
    second.open()
    refused(second.save, demo_job())
    path.write_bytes(path.read_bytes() + b"\n")
    refused(held.save, demo_job())
    held.close()
    for why in ("newer", "protected"):
        held.read_only = why
        refused(held.save, demo_job())
    refused(JobFile(folder / "none" / "job.banister").save, demo_job())
    run(["plan", str(path), "--joint", "H1", "--csv", str(folder / "none" / "x.csv")])


def columns_that_cannot_be_read(folder: Path) -> None:
    for data in (b"", b"\xff", b"x" * 1_000_001, b"weight_mm\n1\n", b"gap_mm\nwide\n\n1,2\n0.1 in\n"):
        refused(columns_in, data, ("gap",))
    path = folder / "columns.csv"
    for text, course in (("station_mm,gap_mm\n1,3\n", Course(900.0, True)), ("clock,gap_mm\n1,3\n", Course(900.0))):
        path.write_text(text)
        refused(read_fitup, path, course)
    path.write_text("angle_deg,radius_mm\n0,\n")
    refused(read_pipe_end, path)


def lists_that_cannot_be(folder: Path) -> None:
    path = folder / "welds.csv"
    path.write_text("id,alike,week\n,1,\nX,0,soon\n", encoding="utf-8")
    with suppress(FileFault):
        read_welds(path, shipped_rods(), {})


def causes_that_are_none(folder: Path) -> None:
    document = json.loads(data_file("causes.json").read_text(encoding="utf-8"))
    document["kinds"]["pores"]["share"]["damp"] = 2.0
    path = folder / "causes.json"
    path.write_text(json.dumps(document), encoding="utf-8")
    refused(causes_in, path)


def sets_that_are_none(folder: Path) -> None:
    good = {"kinds": ["100"], "rule": "none", "certainty": "S", "clause": "1"}
    wrong = ({"kinds": ["9"]}, {"rule": "x"}, {"certainty": "x"}, {"rule": "limit"}, {"rule": "sum"}, {"when": {"t": [5, 3]}}, {"when": {"flag": "x"}})
    sets = [{"id": "", "title": "x", "items": []}, *({"id": "a", "title": "x", "items": [good | one]} for one in wrong)]
    path = folder / "acceptance-sets.json"
    path.write_text(json.dumps({"format": "banister-acceptance", "version": 1, "sets": sets}), encoding="utf-8")
    refused(sets_in, path)
    for text in ("kind,station_mm,length_in\n5011,3,1\n", "kind,station_mm,side\n5011,3,top\n"):
        (folder / "seen.csv").write_text(text, encoding="utf-8")
        refused(read_seen, folder / "seen.csv", Course(480.0), 14.0, False)


def hands_of_no_day(folder: Path) -> None:
    path = folder / "hands.json"
    hand = {"welder": "K7", "rod": "E7018-3.2x350", "position": "3G", "on": "soon", "own": {}}
    path.write_text(json.dumps({"format": "banister-hands", "version": 1, "hands": [hand]}), encoding="utf-8")
    refused(hands_in, path)


def journals_that_do_not_hold(folder: Path) -> None:
    path = folder / "j.banister-journal"
    journal = Journal(path, "Locks")
    journal.write("correct", of=99, why="no", void=True)
    corrected(journal.chain.records)
    refused(Journal, path, "Locks")
    journal.close()
    data = path.read_bytes()
    for altered in (data.replace(b"Locks", b"Lucks"), data[:-4] + b"x" + data[-3:]):
        chained(altered)


def etched_sections_that_do_not_fit(folder: Path) -> None:
    square = ((0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0))
    refused(fitted, [(1.0, 1.0)], [(0.0, 0.0)])
    refused(by_faces, [(0.0, 0.0)], [(0.0, 9.0)], 20.0, (0.0, 0.0), (0.0, 0.0))
    corners = mark_points(make_joint())
    fit_remarks(fitted([(40 * x + 80 * (i == 1), -30 * y) for i, (x, y) in enumerate(corners.values())], list(corners.values())), list(corners))
    thickness_remark(Overlay(1.1 + 0j, 0j), Overlay(1.0 + 0j, 0j))
    trace_fault(square[:2])
    trace_fault((square[0], square[2], square[1], square[3]))
    overlap_remarks([square, square])
    for wall in penetration(make_joint(), [square]):
        wall_remarks(wall)
    refused(photo_told, Path(__file__), None)
    told = keep_trace(folder / "job.banister", b"t_s,volts,amps\n")
    refused(kept_trace, folder / "job.banister", {"file": "none", "sha256": "00"})
    refused(kept_trace, folder / "job.banister", told | {"sha256": "00"})
