"""Fit-up, turn, stops and rods to take from the command line, and their files: what is read, refused and written back."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest

from banister.cli.main import run
from banister.core.fitup.places import Course
from banister.core.joint.fitting import FitUp, GapReading
from banister.core.journal import KINDS
from banister.job.columns import columns_in
from banister.job.fitup_csv import fitup_csv, read_fitup
from banister.job.library import data_file, demo_job
from banister.job.reading import FileFault
from tests.conftest import SAY
from tests.core.test_fitup import case
from tests.export.test_exports import tool

DEMO, PRACTICE = str(data_file("demo.banister")), str(data_file("demo.banister-practice"))
TRACE = str(Path(__file__).parents[1] / "cases" / "traces" / "clean-basic-50.csv.gz")
READINGS = """station_mm,gap_mm,root_face_mm,high_low_mm,note
20,3.0,1.5,0.2,
610,5.6,1.5,0.4,gap opens
240,3.6,1.4,0,
480,3.1,1.5,0.5,
880,3.0,1.5,0,
"""


@pytest.fixture
def readings(tmp_path: Path) -> str:
    path = tmp_path / "readings.csv"
    path.write_text(READINGS)
    return str(path)


def document(capsys: pytest.CaptureFixture, *arguments: str) -> tuple[dict[str, Any], int]:
    code = run([*arguments, "--json"])
    return json.loads(capsys.readouterr().out), code


def test_fitup_is_judged_and_told(readings: str, capsys: pytest.CaptureFixture) -> None:
    assert run(["fitup", DEMO, readings, "--joint", "F2"]) == 3, "remembered tolerances never judge alone"
    out = capsys.readouterr().out
    assert "Close it by 2.6 mm" in out and "Measure next at" in out and "unverified" in out and "layer" in out
    found, code = document(capsys, "fitup", DEMO, readings, "--joint", "F2", "--gap", "0.5,1.0")
    assert code == 1 and [r["s_mm"] for r in found["readings"]] == [20.0, 240.0, 480.0, 610.0, 880.0]
    assert found["readings"][3]["verdict"] == "adjust" and 610.0 in found["adjust_mm"] and found["measure_next_mm"] is not None
    assert all(row["run_out_ratio"][3] < row["run_out_ratio"][0] + 1e-9 for row in found["layers"])
    assert run(["fitup", DEMO, readings]) == 2 and "F2, G1, P4, H1" in capsys.readouterr().err
    made, code = document(capsys, "fitup", DEMO, "--joint", "F2", "--simulated", "4", "--gap", "3,9")
    assert code == 3 and {r["note"] for r in made["readings"]} == {"simulated"} and len(made["readings"]) == 9 and made["readings"][-1]["s_mm"] == 900.0
    assert run(["fitup", DEMO, "--joint", "F2", "--simulated", "4"]) == 3 and "SIMULATED" in capsys.readouterr().out
    for arguments in (["--simulated", "-1"], ["--simulated", "1", "--card"]):
        assert run(["fitup", DEMO, "--joint", "F2", *arguments]) == 2 and "--simulated" in capsys.readouterr().err
    for wrong in ("some", "nan", "-1", "0.5,900"):
        assert run(["fitup", DEMO, readings, "--joint", "F2", "--gap", wrong]) == 2 and "--gap" in capsys.readouterr().err


@pytest.mark.parametrize("name", ["bad-nan", "bad-outside", "bad-duplicate", "bad-unit"])
def test_a_bad_file_is_told_line_by_line_and_nothing_is_taken(name: str, tmp_path: Path) -> None:
    given, wanted, _ = case(name)
    path = tmp_path / "bad.csv"
    rows = given["row"].partition(" (")[0].split(" / ")
    path.write_text("\n".join([given["columns"], "10,3.0,1.5,0", *rows]) + "\n")
    with pytest.raises(FileFault) as told:
        read_fitup(path, Course(float(given["length_mm"])))
    (line,) = SAY.faults(told.value.remarks)
    assert (line.startswith("line ") and "_mm" in line.split(":")[0]) or "station" in line.split(":")[0]
    assert all(word.rstrip(")") in line.lower().replace(" mm", "") for word in wanted["message_contains"].split(" ("))


def test_every_fault_of_a_file_is_told_at_once(tmp_path: Path) -> None:
    path = tmp_path / "bad.csv"
    path.write_text("station_mm;gap_mm;note\n10;2,8;ok\n20;wide;\n\n30;3,0;a;b\n950;99;\n")
    with pytest.raises(FileFault) as told:
        read_fitup(path, Course(900.0))
    assert [r.place.field for r in told.value.remarks] == ["line 3, gap_mm", "line 4", "line 5"]
    for text in (b"", b"\xff\xfe", b"gap\n1\n", b"station_mm,gap_mm\n", b"station_mm,weight_mm\n1,2\n"):
        with pytest.raises(FileFault):
            columns_in(text, ("station", "gap"))
    path.write_text("clock,gap_mm\n4:30,3.0\n")
    with pytest.raises(FileFault):
        read_fitup(path, Course(900.0))
    assert read_fitup(path, Course(1000.0, True)).readings[0].s_mm == pytest.approx(375.0)


def test_what_is_written_reads_back_the_same(tmp_path: Path) -> None:
    course, path = Course(900.0), tmp_path / "r.csv"
    fitup = FitUp(readings=tuple(GapReading(at=f"{s:g}", s_mm=s, gap=g, bevel_left=31.5, note="a, b") for s, g in ((0.0, 2.8), (450.5, 3.25), (900.0, 3.1))))
    path.write_text(fitup_csv(fitup, course))
    again = read_fitup(path, course)
    assert [(r.s_mm, r.gap, r.bevel_left, r.note, r.face) for r in again.readings] == [(r.s_mm, r.gap, r.bevel_left, r.note, None) for r in fitup.readings]
    path.write_text("station_in,gap_in\n10,0.125\n")
    inch = read_fitup(path, course).readings[0]
    assert (inch.s_mm, inch.gap) == (pytest.approx(254.0), pytest.approx(3.175))


def test_turn_from_two_files(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    given, wanted, tol = case("turn-seams")
    for which in "ab":
        rows = zip(given["angle_deg"], given[f"inner_{which}_mm"], strict=True)
        (tmp_path / f"{which}.csv").write_text("angle_deg,radius_mm\n" + "".join(f"{a},{r}\n" for a, r in rows))
    files = [str(tmp_path / "a.csv"), str(tmp_path / "b.csv")]
    found, code = document(capsys, "turn", *files, "--seam-a", "0", "--seam-b", "230", "--apart", "60")
    assert code == 0 and found["valleys"][0]["turn_deg"] == pytest.approx(wanted["turn_deg"], abs=0.5)
    assert found["valleys"][0]["max_high_low_mm"] == pytest.approx(wanted["max_high_low_mm"], **tol) and len(found["curve"]) == 720
    assert run(["turn", *files]) == 0 and "flatters" in capsys.readouterr().out
    assert run(["turn", *files, "--seam-a", "0", "--seam-b", "0", "--apart", "170", "--most", "20"]) == 1
    (tmp_path / "a.csv").write_text("angle_deg,radius_mm\n0,100\n90,\n")
    assert run(["turn", *files]) == 4 and "line 3" in capsys.readouterr().err


def test_sheets_for_the_bench_are_printed(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    card, strip, rods = (tmp_path / f"{name}.pdf" for name in ("card", "strip", "rods"))
    assert run(["fitup", DEMO, "--joint", "F2", "--card", str(card)]) == 3
    assert run(["stops", DEMO, "--joint", "F2", "--pdf", str(strip)]) == 0
    assert run(["take", DEMO, "--joint", "F2", "--trips", "--quiver", "40", "--pdf", str(rods)]) == 0
    text = {path.stem: tool("pdftotext", path.read_bytes(), tmp_path, "-layout") for path in (card, strip, rods)}
    assert all(word in text["card"] for word in ("Bright metal", "Spacer", "3.2 mm", "610", "5.6", "glasses", "page 1 of")) and "________" in text["card"]
    assert text["strip"].count("true size") == 4 and "100 mm: measure it" in text["strip"] and "pass 17" in text["strip"]
    assert "Open at most" in text["rods"] and "Trip" in text["rods"] and "quiver" in text["rods"]
    sizes = tool("pdfinfo", strip.read_bytes(), tmp_path, "-l", "9")
    assert "841.89 x 595.276" in sizes, "landscape, so that 250 mm lie on a page at their true size"


def test_stops_of_the_demo(capsys: pytest.CaptureFixture) -> None:
    found, code = document(capsys, "stops", DEMO, "--joint", "P4")
    assert code == 0 and found["least_distance_mm"] >= 25.0 and len(found["maps"]) == 2
    passes = {(p["key"], p["half"]): p for p in found["passes"]}
    assert {half for _, half in passes} == {"first", "second"}
    for p in found["passes"]:
        assert all(piece["rods"] <= 1.0 + 1e-6 for piece in p["pieces"])
        assert math.isclose(sum(q["to_mm"] - q["from_mm"] for q in p["pieces"]), p["to_mm"] - p["from_mm"], abs_tol=0.1)
        assert all(25.0 - 1e-6 <= t <= found["length_mm"] / 2 - 25.0 + 1e-6 for t in p["marks_mm"]), "off 6 and 12"
    for key in {key for key, _ in passes}:
        spans = [passes[key, half]["to_mm"] - passes[key, half]["from_mm"] for half in ("first", "second")]
        assert math.isclose(sum(spans), found["length_mm"], abs_tol=0.1) and 20.0 <= abs(spans[0] - spans[1]) / 2 <= 80.0, "one half runs past both centres"
    assert found["tie_ins_apart_mm"] >= 30.0
    assert run(["stops", DEMO, "--joint", "P4", "--wanted=-5"]) == 2
    assert run(["stops", DEMO, "--joint", "P4", "--wanted", "200"]) == 1 and "wanted" in capsys.readouterr().out


def test_rods_to_take_and_trips(capsys: pytest.CaptureFixture) -> None:
    found, code = document(capsys, "take", DEMO, "--joint", "F2", "--trips", "--quiver", "40")
    burnt = {use["rod"]: use for use in found["rods"]}
    assert code == 0 and all(use["take"] >= use["planned"] for use in burnt.values()) and found["longest_out_s"] <= 4 * 3600
    assert sum(trip["rods"] for trip in found["trips"]) > 60 and all(trip["rods"] <= 40 for trip in found["trips"])
    more, _ = document(capsys, "take", DEMO, "--joint", "F2", "--confidence", "0.99")
    assert all(a["take"] <= b["take"] for a, b in zip(found["rods"], more["rods"], strict=True)) and more["trips"] == []
    assert run(["take", DEMO, "--joint", "F2", "--confidence", "2"]) == 2 and run(["take", DEMO, "--joint", "F2", "--quiver", "0"]) == 2
    assert demo_job().joint("F2").id in run_text(capsys, "take", DEMO, "--joint", "F2", "--trips")


def test_the_examples_in_the_docs_have_the_keys_the_commands_print(readings: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    text = (Path(__file__).parents[2] / "docs" / "file-format.md").read_text(encoding="utf-8")
    shown = [json.loads(block) for block in text.split("\n\n") if block.startswith('    {"format"')]
    radii = tmp_path / "r.csv"
    radii.write_text("angle_deg,radius_mm\n" + "".join(f"{a},{100 + a % 7}\n" for a in range(0, 360, 40)))
    printed = [document(capsys, *arguments)[0] for arguments in (
        ("fitup", DEMO, readings, "--joint", "F2"), ("turn", str(radii), str(radii)), ("stops", DEMO, "--joint", "P4"),
        ("take", DEMO, "--joint", "F2", "--trips"), ("inspect", DEMO, "--joint", "P4"), ("advise", DEMO, "139", "--joint", "P4"),
        ("repair", DEMO, "142", "--joint", "P4"), ("list", DEMO), ("improve", DEMO, "--joint", "G1"), ("practice", PRACTICE),
        ("play", DEMO, "--joint", "F2", "--bead", "E6010-3.2x350,90,120"), ("reckon", DEMO, "--joint", "F2", "--ask", "beads", "--guess", "14"))]  # fmt: skip
    for real in printed:
        (example,) = (one for one in shown if one["format"] == real["format"])
        assert set(example) == set(real)
        for key, value in example.items():
            if isinstance(value, list) and value and isinstance(value[0], dict):
                assert set(value[0]) == set(real[key][0]), key


def run_text(capsys: pytest.CaptureFixture, *arguments: str) -> str:
    capsys.readouterr()
    assert run(list(arguments)) == 0
    return str(capsys.readouterr().out)


def test_how_sure_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "sure.svg"
    assert run(["sure", DEMO, "--joint", "G1", "--draws", "300", "--svg", str(path)]) == 0
    out = capsys.readouterr().out
    assert "nine in ten" in out and "300 variants" in out and "Spreads are typical" in out and "weight:gap" in path.read_text()
    found, _ = document(capsys, "sure", DEMO, "--joint", "G1", "--draws", "300", "--seed", "2")
    assert set(found["outcomes"]) == {"beads", "rods", "time"} and found["seed"] == 2
    for wrong in (("--draws", "5"), ("--seed", "-1")):
        assert run(["sure", DEMO, "--joint", "G1", *wrong]) == 2


def test_a_trace_from_the_command_line(capsys: pytest.CaptureFixture) -> None:
    assert run(["arc", TRACE, "--amps", "118"]) == 0
    out = capsys.readouterr().out
    assert "2 rods: 142 s of arc, 398 kJ" in out and "never yet on a real arc" in out
    drifting = TRACE.replace("clean-basic-50", "current-steps-down-basic-10")
    assert run(["arc", drifting, "--amps", "118"]) == 1 and "the machine drifts, current -6 %" in capsys.readouterr().out
    for wrong in (("--rod", "none"), ("--amps", "5"), ("--window", "90-130")):
        assert run(["arc", TRACE, *wrong]) == 2
    assert run(["arc", "nowhere.csv"]) == 4


def test_the_journal_of_a_welded_job_is_printed(capsys: pytest.CaptureFixture) -> None:
    out = run_text(capsys, "journal", DEMO)
    assert "pass begun" in out and "rod burnt" in out and "pass ended" in out and "temperature" in out
    found, _ = document(capsys, "journal", DEMO)
    assert found["whole"] and {r["k"] for r in found["records"]} <= set(KINDS)


def test_only_a_meter_is_simulated_with_a_fault() -> None:
    assert run(["simulate", "oven", "--fault", "drift"]) == 2
