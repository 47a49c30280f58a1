"""`banister practice`: a session in words and JSON, several books, a new book, CSV; what cannot be is said."""

from __future__ import annotations

import csv
import json
from datetime import date
from pathlib import Path

import pytest

from banister.cli.main import run
from banister.job.library import data_file
from banister.job.practice import practice_bytes, read_practice
from tests.sample.practised import SimulatedHand, simulated_book

DEMO = str(data_file("demo.banister-practice"))


def test_a_session_is_told_and_its_json_says_the_same(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    assert run(["practice", DEMO]) == 0
    out = capsys.readouterr().out
    assert "SIMULATED" in out and "Edges held" in out and "no qualification" in out and "a week" in out
    table = tmp_path / "rods.csv"
    assert run(["practice", DEMO, "--json", "--csv", str(table)]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["format"] == "banister-practice-report" and found["session"]["number"] == found["sessions"] == 9 and len(found["says"]) <= 3
    figures = {one["id"]: one for one in found["figures"]}
    assert all(sentence in out for sentence in found["says"]) and len(figures["edge_timing"]["values"]) == 6
    rows = [*csv.DictReader(table.open(encoding="utf-8-sig"))]
    assert len(rows) == 54 and [float(r["edge_timing_percent"]) for r in rows[-6:]] == pytest.approx(figures["edge_timing"]["values"], rel=1e-3)
    assert run(["practice", DEMO, "--session", "2", "--json"]) == 0
    early = json.loads(capsys.readouterr().out)
    assert early["session"]["number"] == 2 and not any(one["weeks"]["shown"] for one in early["figures"])
    assert run(["practice", DEMO, "--session", "10"]) == 2 and "there are 9" in capsys.readouterr().err


def test_several_books_tell_how_many_rods_tell_hands_apart_and_rank_nobody(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    paths = []
    for i, wander in enumerate((0.3, 0.7, 1.4)):
        paths.append(str(tmp_path / f"{i}.banister-practice"))
        Path(paths[-1]).write_bytes(practice_bytes(simulated_book(SimulatedHand(20 + i, wander_v=wander, a_day=0.0), f"T{i}", date(2026, 10, 7), (0, 3))))
    assert run(["practice", *paths, "--json"]) == 0
    figures = json.loads(capsys.readouterr().out)["figures"]
    assert figures["arc_wander"]["rods_needed"] <= 4 < (figures["run_out_error"]["rods_needed"] or 99) and figures["restart_step"] is None
    assert run(["practice", *paths]) == 0 and "T1" not in capsys.readouterr().out
    assert run(["practice", *paths[:2]]) == 2


def test_a_book_is_begun_and_never_over_another(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "own.banister-practice"
    assert run(["practice", str(path), "--new", "T 4"]) == 0 and read_practice(path).trainee == "T 4"
    assert run(["practice", str(path)]) == 0 and "no session yet" in capsys.readouterr().out
    assert run(["practice", str(path), "--json"]) == 0 and json.loads(capsys.readouterr().out)["session"] is None
    assert run(["practice", str(path), "--new", "other"]) == 2 and read_practice(path).trainee == "T 4"
    path.write_text("{")
    assert run(["practice", str(path)]) == 4 and "line 1" in capsys.readouterr().err


def test_reckon_asks_answers_and_keeps(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    demo, book = str(data_file("demo.banister")), tmp_path / "T1.banister-practice"
    assert run(["practice", str(book), "--new", "T1"]) == 0
    assert run(["reckon", demo, "--joint", "F2", "--ask", "beads"]) == 0
    assert "how many beads" in (out := capsys.readouterr().out) and "The plan:" not in out
    assert run(["reckon", demo, "--joint", "F2", "--ask", "beads", "--guess", "14", "--book", str(book)]) == 0
    assert "You: 14 beads" in capsys.readouterr().out and [g.guess for g in read_practice(book).guesses] == [14.0]
    assert run(["reckon", demo, "--joint", "F2", "--ask", "rod", "--guess", "E7018-3.2x350", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["off"] in (0.0, 100.0) and found["answer"] in found["choices"]
    assert run(["practice", str(book)]) == 0 and "Reckoned beads: " in capsys.readouterr().out
    for wrong, word in ((["--ask", "rod", "--guess", "E1"], "no rod of this plan"), (["--ask", "beads", "--guess", "many"], "many"),
                        (["--ask", "beads", "--guess", "1", "--book", str(tmp_path / "none")], "none")):  # fmt: skip
        assert run(["reckon", demo, "--joint", "F2", *wrong]) in (2, 3, 4) and word in capsys.readouterr().err
    assert len(read_practice(book).guesses) == 1
