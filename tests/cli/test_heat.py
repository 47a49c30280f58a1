"""`banister heat` and `banister board`."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import pytest

from banister.cli.main import run
from banister.core.heat.shift import LEFT_OUT, Pause, Shift
from banister.core.job import Job
from banister.core.value import replace
from banister.job.codec import encoded
from banister.job.files import read
from banister.job.library import data_file, shipped_rods
from tests.conftest import make_joint

DEMO = str(data_file("demo.banister"))


@pytest.fixture
def thin(tmp_path: Path) -> str:
    """A job of two plates that are soon planned."""
    joints = tuple(replace(make_joint(thickness_mm=6.0, length_mm=length), id=name) for name, length in (("A1", 300.0), ("B2", 500.0)))
    path = tmp_path / "thin.banister"
    path.write_bytes(encoded(Job(name="Thin", joints=joints, rods=shipped_rods())))
    return str(path)


def test_heat_as_table_json_and_csv(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    assert run(["heat", DEMO, "--joint", "F2", "--what-if"]) == 0
    table = capsys.readouterr().out
    assert "t8/5" in table and "EN 1011-2 method B" in table and "unverified, enter from your copy" in table
    assert "a piece twice as wide" in table and "90 % range" in table
    assert run(["heat", DEMO, "--json"]) == 1, "the girder falls below its preheat"
    joints = {j["id"]: j for j in json.loads(capsys.readouterr().out)["joints"]}
    found = joints["F2"]
    assert found["feasible"] and found["totals"]["band_s"]["low"] <= found["totals"]["end_s"] <= found["totals"]["band_s"]["high"]
    assert [p["number"] for p in found["passes"]] == list(range(1, len(found["passes"]) + 1))
    for p in found["passes"]:
        assert p["temperature_c"] <= found["limits"]["interpass_c"] + 0.5 and p["t85_s"] > 0 and p["wait_s"] >= 0
    assert {m["method"]: m["verified"] for m in found["preheat"]} == {"EN 1011-2 method B": True, "AWS D1.1 annex": False, "AWS D1.1 prequalified table": True}
    assert joints["P4"]["preheat"] == []
    for p in found["passes"]:
        assert p["wait_band_s"]["low"] <= p["wait_band_s"]["high"]
    path = tmp_path / "s.csv"
    assert run(["heat", DEMO, "--csv", str(path)]) == 1
    rows = path.read_text().splitlines()
    assert rows[0].startswith("joint,pass,role,start_s,wait_s") and len(rows) == 1 + sum(len(j["passes"]) for j in joints.values())


def test_a_smaller_colder_piece_is_told_on_the_command_line(capsys: pytest.CaptureFixture) -> None:
    ends = []
    for width in ("60", "400"):
        assert run(["heat", DEMO, "--joint", "P4", "--width", width, "--air", "5", "--json"]) in (0, 1)
        ends.append(json.loads(capsys.readouterr().out)["joints"][0]["totals"]["waiting_s"])
    assert ends[0] > ends[1]
    assert run(["heat", DEMO, "--air", "70"]) == 2
    assert "-40 to 60" in capsys.readouterr().err
    assert run(["heat", DEMO, "--width", "narrow"]) == 2


def test_heat_kept_on_warmed_over_and_the_map(capsys: pytest.CaptureFixture) -> None:
    assert run(["heat", DEMO, "--joint", "F2", "--map"]) == 0
    said = capsys.readouterr().out
    assert "the joint falls to" not in said, "the demo keeps its heat on"
    row = next(line for line in said.splitlines() if line.startswith(" 4.00")).split()
    assert len(row) == 10 and row[1] == "none" and float(row[-1]) > float(row[-4])
    assert run(["heat", DEMO, "--joint", "G1"]) == 1
    assert "the joint falls to" in capsys.readouterr().out
    for option in (["--held"], ["--margin", "120"]):
        assert run(["heat", DEMO, "--joint", "G1", *option]) == 0
        assert "the joint falls to" not in capsys.readouterr().out
    assert run(["heat", DEMO, "--joint", "G1", "--margin", "200"]) == 1
    assert "Warming to 280" in capsys.readouterr().out
    assert run(["heat", DEMO, "--joint", "P4", "--map"]) == 0
    assert "no preheat map" in capsys.readouterr().out


@pytest.mark.parametrize(("window", "word"), [("interpass=..15", "never cools"), ("preheat=300..", "no pass may start")])
def test_impossible_limits_get_a_plain_word(window: str, word: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = str(tmp_path / "j.banister")
    assert run(["new", "--thickness", "16", "--window", window, "--window", "interpass=..250", "-o", job]) == 0
    assert run(["heat", job]) == 1
    assert word in capsys.readouterr().out
    assert run(["board", job]) == 1
    assert word in capsys.readouterr().out


def test_the_board_is_listed_and_begins_with_what_the_journal_leaves(capsys: pytest.CaptureFixture) -> None:
    assert run(["board", DEMO, "--exclude", "F2", "--quick", "--json"]) == 0
    board = json.loads(capsys.readouterr().out)["board"]
    assert board["lower_bound_s"] * 0.98 <= board["end_s"] <= board["one_after_the_other_s"]
    assert board["shift"] == {"begins_s": 25200.0, "lasts_s": None, "welders": 1, "breaks_s": []}
    starts = [s["start_s"] for s in board["slots"]]
    assert starts == sorted(starts) and all(s["end_s"] > s["start_s"] for s in board["slots"])
    assert {s["number"] for s in board["slots"] if s["joint"] == "G1"} == set(range(6, 12)), "what its journal tells as welded is not on the board"
    assert run(["board", DEMO, "--quick", "--start", "22:00", "--welders", "2"]) == 0
    said = capsys.readouterr().out
    assert "gouge to sound metal and grind: 1 min 41 s, before pass 11 (back)" in said
    assert "22:00 welder 1: " in said and "22:00 welder 2: " in said and "+1 day" in said


def test_the_board_is_written_and_limited(thin: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    assert run(["board", thin, "--quick", "--start", "7:00", "--break", "7:10..7:20"]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert lines[0].startswith("7:") and "until" in lines[0] and any("not possible before" in line for line in lines)
    assert not any("7:10" < line.split()[0] < "7:20" for line in lines if " pass " in line), "nothing begins in the break"
    assert run(["board", thin, "--exclude", "B2", "--quick"]) == 0 and "B2" not in capsys.readouterr().out
    assert run(["board", thin, "--quick", "--start", "7:00", "--until", "7:15", "--lock", "A1"]) == 0
    assert "By 7:15" in (said := capsys.readouterr().out) and "left for the next shift" in said
    assert run(["board", thin, "--lock", "Z9"]) == 2 and "there is no joint 'Z9'" in capsys.readouterr().err
    assert run(["board", thin, "--start", "7:00", "--until", "6:00"]) == 2
    assert run(["board", thin, thin, "--quick", "--pdf", str(tmp_path / "b.pdf")]) == 0
    assert (tmp_path / "b.pdf").read_bytes().startswith(b"%PDF")
    capsys.readouterr()
    assert run(["board", thin, "--steps", "2"]) == 0 and "not possible before" in capsys.readouterr().out
    assert run(["board", thin, "--quick", "--leaving", "2 h"]) == 2 and "3600 s" in capsys.readouterr().err


def test_the_board_of_the_job_is_found_again_and_its_page_holds_the_whole_list(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = read(Path(DEMO)).job
    shift = replace(Shift(begins_s=6 * 3600.0, welders=2, until_s=14 * 3600.0).keeping("G1", LEFT_OUT), pauses=(Pause(from_s=9 * 3600.0, to_s=9.5 * 3600.0),))
    path = tmp_path / "shift.banister"
    path.write_bytes(encoded(replace(job, shift=shift)))
    assert run(["board", str(path), "--quick", "--pdf", str(tmp_path / "b.pdf")]) == 0
    page = subprocess.run(["pdftotext", "-raw", str(tmp_path / "b.pdf"), "-"], capture_output=True, text=True, check=True).stdout
    assert run(["board", str(path), "--quick"]) == 0
    lines = [line for line in capsys.readouterr().out.splitlines() if " pass " in line and "until" in line]
    assert lines[0].startswith("6:00 welder 1") and not any("G1" in line for line in lines)
    assert len(lines) > 40 and all(line in page for line in lines)


def test_six_frames_are_written_of_one_joint(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    assert run(["heat", DEMO, "--joint", "G1", "--strip", str(tmp_path / "s.pdf")]) in (0, 1) and (tmp_path / "s.pdf").read_bytes().startswith(b"%PDF")
    capsys.readouterr()
    assert run(["heat", DEMO, "--strip", str(tmp_path / "t.pdf")]) == 2 and "--joint" in capsys.readouterr().err and not (tmp_path / "t.pdf").exists()


def test_wrong_shifts_are_said_before_anything_is_planned(thin: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("banister.cli.desk.Desk.plan", lambda *_: pytest.fail("planned for nothing"))
    for wrong in (["--start", "soon"], ["--break", "9"], ["--break", "9:00..8:00"], ["--lock", "Z9"], ["--exclude", "A1", "--exclude", "B2"]):
        assert run(["board", thin, *wrong]) == 2


def test_a_window_on_cooling_time_is_set_kept_and_told(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = str(tmp_path / "t.banister")
    made = ["new", "--prep", "single-v", "--thickness", "16", "--length", "600", "-o", job]
    assert run([*made, "--window", "interpass=..200", "--window", "cap.t85=60.."]) == 0
    assert run(["heat", job]) == 1
    said = capsys.readouterr().out
    assert "outside: Passes 8 to 10: t8/5" in said and "allowed at least 60 s" in said and "preheat more" in said
    for command in ("check", "plan"):
        assert run([command, job]) == (1 if command == "check" else 0) and "allowed at least 60 s" in capsys.readouterr().out
    assert run(["plan", job, "--json"]) == 0
    plan = json.loads(capsys.readouterr().out)
    assert "gap closes" in json.dumps(plan)
    assert run(["new", "--thickness", "16", "--window", "t85=20..8", "-o", str(tmp_path / "u.banister")]) == 2
    assert "lower bound 20 s is above" in capsys.readouterr().err
