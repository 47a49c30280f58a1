"""The command line: every setting reachable, the JSON contract, exit codes, plain faults."""

from __future__ import annotations

import csv
import io
import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

from banister.cli.main import run
from banister.core.joint.joint import edited
from banister.core.joint.working import Pin
from banister.job.files import JobFile, read
from banister.job.library import data_file

NEW = ["new", "--prep", "single-v", "--thickness", "22", "--bevel-angle", "30", "--root-gap", "3", "--root-face", "1.5",
       "--backing", "open", "--position", "3G", "--length", "900"]  # fmt: skip
PASS_KEYS = {
    "id", "number", "role", "side", "layer", "process", "consumable", "diameter_mm", "polarity", "technique", "progression", "state",
    "amps", "volts", "efficiency", "length_mm", "area_mm2", "optimum_area_mm2", "simulated_area_mm2", "aim_mm", "width_mm",
    "thickness_mm", "run_out_mm", "rod_count", "travel_mm_min", "arc_energy_kj_mm", "heat_input_kj_mm", "arc_time_s", "outline_mm", "findings",
}  # fmt: skip
TOTAL_KEYS = {"passes", "layers", "arc_time_s", "total_time_s", "rods_by_consumable", "weld_metal_kg", "peak_arc_energy_kj_mm",
              "cap_height_mm", "cap_overlap_mm"}  # fmt: skip


@pytest.fixture
def job(tmp_path: Path) -> str:
    path = str(tmp_path / "j.banister")
    assert run([*NEW, "-o", path]) == 0
    return path


def test_the_json_contract(job: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["plan", job, "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    assert {"format", "version", "job", "joints"} <= set(document)
    joint = document["joints"][0]
    assert {"id", "name", "joint", "alternatives", "chosen"} <= set(joint)
    assert joint["joint"]["area_mm2"] == pytest.approx(308.631, abs=0.01)
    assert joint["joint"]["volume_mm3"] == pytest.approx(308.631 * 900, rel=1e-4)
    assert set(joint["alternatives"]) == {"balanced", "quickest", "coolest", "fewest"}
    for plan in joint["alternatives"].values():
        assert {"feasible", "reasons", "cost_s", "cost_gap", "totals", "passes"} <= set(plan)
        assert set(plan["totals"]) >= TOTAL_KEYS
        assert [p["number"] for p in plan["passes"]] == list(range(1, len(plan["passes"]) + 1))
        for p in plan["passes"]:
            assert set(p) >= PASS_KEYS
            assert p["heat_input_kj_mm"] == pytest.approx(p["efficiency"] * p["arc_energy_kj_mm"])
            points = p["outline_mm"]
            area = abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True))) / 2
            assert area == pytest.approx(p["area_mm2"], abs=1e-6)


def test_every_setting_is_reachable(tmp_path: Path) -> None:
    path = tmp_path / "g.banister"
    words = ["new", "--prep", "single-bevel", "--thickness", "5/8 in", "--bevel-angle", "35", "--root-gap", "8", "--backing", "bar",
             "--bar-thickness", "8", "--bar-width", "40", "--position", "PC", "--length", "1.2 m", "--rod", "root=E7018:4.0",
             "--rod", "fill=E7018:3.2", "--rod", "fill=E7018:4.0x450", "--rod", "cap=E7018:1/8", "--window", "fill.E7018:4.0.amps=120..160",
             "--window", "weave=..14", "--window", "heat_input=0.6..1.9", "--window", "preheat=80..", "--run-out", "E7018:3.2=160",
             "--acceptance", "iso5817-c", "--reveal", "0.8", "--rod-change", "20", "--walls-first", "--choose", "coolest", "--name", "Girder",
             "--joint", "G1", "--procedure", "OLP-09", "--revision", "A", "-o", str(path)]  # fmt: skip
    assert run(words) == 0
    joint = read(path).job.joints[0]
    assert (joint.id, joint.piece.position, joint.working.chosen, joint.prep.thickness_mm) == ("G1", "2G", "coolest", 15.875)
    assert joint.piece.length_mm == 1200 and joint.working.choices.walls_first and joint.working.choices.rod_change_s == 20
    amps = next(w for w in joint.working.windows if w.quantity == "amps")
    assert (amps.role, amps.rod, amps.low, amps.high) == ("fill", "E7018-4.0", 120, 160)
    assert joint.working.rods_for("cap") == ("E7018-1/8x356",)
    assert joint.working.rods_for("fill") == ("E7018-3.2x350", "E7018-4.0x450")
    assert joint.working.own_run_out[0].run_out_mm == 160


def test_pipe_unlike_sides_and_both_position_codes(tmp_path: Path) -> None:
    path = tmp_path / "p.banister"
    common = ["new", "--thickness", "12.7", "--bevel-angle", "30,35", "--pipe-od", "323.9", "-o", str(path), "--force"]
    for code, progression, expected in (("6G", [], ("6G", "up")), ("J-L045", [], ("6G", "down")), ("5G", ["--progression", "down"], ("5G", "down"))):
        assert run([*common, "--position", code, *progression]) == 0
        joint = read(path).job.joints[0]
        assert (joint.piece.position, joint.piece.progression) == expected
        assert (joint.prep.bevel_left_deg, joint.prep.bevel_right_deg, joint.piece.form) == (30, 35, "pipe")


@pytest.mark.parametrize(
    ("change", "word"),
    [
        (["--thickness", "3x"], "3x"), (["--root-face", "40"], "--root-face: "), (["--position", "9G"], "9G"), (["--bevel-angle", "-5"], "left -5°"),
        (["--rod", "fill=E9999:4.0"], "E9999"), (["--rod", "fill=E7018:9"], "no E7018 of size"), (["--rod", "E7018:4.0"], "should read"),
        (["--window", "amps=5"], "should read"), (["--window", "colour=1..2"], "quantities"), (["--window", "amps=9..2"], "above"),
        (["--pipe-od", "300"], "give one"), (["--position", "PG", "--progression", "up"], "downhill"), (["--root-gap", "1/0"], "zero"),
    ],
)  # fmt: skip
def test_wrong_words_name_the_option(change: list[str], word: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "x.banister"
    assert run([*NEW, *change, "-o", str(path)]) == 2
    assert word in capsys.readouterr().err
    assert not path.exists()


def test_nothing_is_overwritten_without_force(job: str, capsys: pytest.CaptureFixture[str]) -> None:
    before = Path(job).read_bytes()
    assert run([*NEW, "--name", "other", "-o", job]) == 2
    assert "--force" in capsys.readouterr().err
    assert Path(job).read_bytes() == before
    assert run([*NEW, "--joint", "J2", "--add", "-o", job]) == 0
    assert [j.id for j in read(Path(job)).job.joints] == ["J1", "J2"]


def test_check_says_inside_outside_or_not_judged(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = str(tmp_path / "c.banister")
    assert run([*NEW, "-o", path]) == 0
    assert run(["check", path]) == 3
    assert "not judged: current" in capsys.readouterr().out
    full = ["amps=60..200", "volts=20..30", "heat_input=0.3..3", "weave=..20", "preheat=15..", "interpass=..250"]
    kept_warm = ["--length", "200"]
    assert run([*NEW, *kept_warm, *(w for spec in full for w in ("--window", spec)), "-o", path, "--force"]) == 0
    assert run(["check", path]) == 0
    job = read(Path(path)).job
    hot = edited(job.joints[0], pins=(Pin(x_mm=0.0, y_mm=8.0, role="fill", amps=215.0),))
    JobFile(Path(path)).save(job.with_joint(hot))
    capsys.readouterr()
    assert run(["check", path]) == 1
    said = capsys.readouterr().out
    assert "outside: Pass " in said and "current 215 A" in said and "Set the current inside the window" in said


def test_files_that_cannot_be_read_exit_with_four(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "bad.banister"
    path.write_text("{")
    for words in (["plan", str(path)], ["check", str(path)], ["plan", str(tmp_path / "none.banister")], ["plan", str(tmp_path)]):
        assert run(words) == 4
        said = capsys.readouterr().err
        assert "Traceback" not in said and str(tmp_path) in said
    assert path.read_text() == "{"


def test_a_joint_that_cannot_be_planned_exits_with_one_and_says_why(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = str(tmp_path / "s.banister")
    assert run(["new", "--prep", "square", "--thickness", "12", "-o", path]) == 0
    assert run(["plan", path]) == 1
    assert "square butt" in capsys.readouterr().out
    assert run(["plan", path, "--json"]) == 1
    reasons = json.loads(capsys.readouterr().out)["joints"][0]["alternatives"]["balanced"]["reasons"]
    assert set(reasons[0]) >= {"code", "severity", "place", "value", "unit", "min", "max", "basis", "text", "remedy", "certainty", "source"}


def test_exports_agree_with_the_plan(job: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = [str(tmp_path / f"o.{kind}") for kind in ("pdf", "csv", "svg")]
    assert run(["plan", job, "--pdf", out[0], "--csv", out[1], "--svg", out[2], "--paper", "Letter"]) == 0
    assert run(["plan", job, "--json"]) == 0
    passes = json.loads(capsys.readouterr().out)["joints"][0]["alternatives"]["balanced"]["passes"]
    rows = list(csv.DictReader(io.StringIO(Path(out[1]).read_text())))
    assert [float(r["bead_area_mm2"]) for r in rows] == pytest.approx([p["area_mm2"] for p in passes], abs=0.006)
    assert len(re.findall(r'<polygon id="p\d', Path(out[2]).read_text())) == len(passes)
    assert Path(out[0]).read_bytes().startswith(b"%PDF")


def test_energy_share_of_arc_and_cost_are_told_of_a_joint_and_of_all(capsys: pytest.CaptureFixture[str]) -> None:
    demo = str(data_file("demo.banister"))

    def told(*options: str) -> tuple[list[float], list[float]]:
        assert run(["plan", demo, *options]) == 0
        lines = capsys.readouterr().out.splitlines()
        return [float(line.split()[1]) for line in lines if line.startswith("Energy")], [float(line.split()[1]) for line in lines if line.startswith("Costs")]

    energy, none = told()
    assert len(energy) == 5 and energy[-1] == pytest.approx(sum(energy[:-1]), abs=0.3) and none == []
    for rates in ("40,0,0", "0,8,0", "0,0,0.5"):
        _, cost = told("--rates", rates)
        assert len(cost) == 5 and cost[-1] == pytest.approx(sum(cost[:-1]), abs=0.05)
        assert rates != "0,0,0.5" or cost[0] == pytest.approx(energy[0] / 2, abs=0.03)
    for wrong in ("45", "45,x,1", "-4,1,1"):
        assert run(["plan", demo, "--rates", wrong]) == 2
        assert "--rates" in capsys.readouterr().err


def test_no_such_joint_and_help(job: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["plan", job, "--joint", "Q"]) == 2
    assert "J1" in capsys.readouterr().err
    for words in (["--help"], ["new", "--help"], ["plan", "--help"], ["check", "--help"]):
        assert run(words) == 0
        assert "example" in capsys.readouterr().out


def test_the_installed_command_runs_without_qt(job: str) -> None:
    code = (f"import sys; from banister.launch import main; main(['plan', {job!r}]); "
            "sys.exit(any(m.startswith(('PySide6', 'scipy', 'reportlab')) for m in sys.modules))")  # fmt: skip
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
    assert done.returncode == 0, done.stderr
    assert "passes in" in done.stdout
