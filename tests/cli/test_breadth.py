"""The command line over every preparation, the chooser, procedures and schools."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from banister.cli.errors import USAGE
from banister.cli.main import run
from banister.core.joint.kinds import KINDS
from banister.job.files import read
from banister.job.library import data_file

PROCEDURE = {
    "format": "banister-procedure", "version": 1,
    "procedure": {"id": "OL-12", "revision": "2", "family": "asme-ix", "positions": ["3G"], "progressions": ["up"], "processes": ["SMAW"],
                  "windows": [{"quantity": "interpass", "high": 220.0}, {"quantity": "heat_input", "high": 2.4, "low": 0.3}],
                  "qualified_by": {"thickness_mm": 16.0, "position": "3G", "preheat_c": 60.0}},
}  # fmt: skip
WELDER = {"format": "banister-welder", "version": 1, "welder": {"mark": "K7", "family": "asme-ix", "test": {"thickness_mm": 14.0, "position": "6G",
          "diameter_mm": 141.3, "layers": 4}, "last_used": "2020-01-01"}}  # fmt: skip


def written(path: Path, document: dict) -> str:
    path.write_text(json.dumps(document))
    return str(path)


@pytest.mark.parametrize("prep", list(KINDS))
def test_every_preparation_from_words_to_a_plan(prep: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = str(tmp_path / "j.banister")
    thickness = "6" if prep == "square" else "16"
    assert run(["new", "--prep", prep, "--thickness", thickness, "-o", path]) == 0
    assert run(["plan", path, "--json"]) == 0
    joint = json.loads(capsys.readouterr().out)["joints"][0]
    chosen = joint["alternatives"]["balanced"]
    assert chosen["feasible"] and joint["joint"]["preparation"] == prep and joint["area_mm2"] > 0
    assert {s["action"] for s in chosen["sequence"]} == ({"weld", "turn", "gouge"} if KINDS[prep].double else {"weld"})
    assert [p for s in chosen["sequence"] for p in s["passes"]] == [p["id"] for p in chosen["passes"]]
    counts = chosen["coverage"]
    assert counts["not_judged"] > 0 and counts["outside"] == 0 and counts["lines"] == []


def test_every_figure_of_the_groove_is_reachable(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = str(tmp_path / "j.banister")
    assert run(["new", "--prep", "double-u", "--thickness", "2 in", "--back-angle", "15", "-o", path]) == 2
    assert run(["new", "--prep", "double-u", "--thickness", "50", "--root-radius", "1/4", "--root-level", "1", "--front-share", "0.45", "--back-bevel", "15",
                "--gouge-into", "2", "--gouge-radius", "6", "--gouge-angle", "15", "--sequence", "alternate", "-o", path]) == 0  # fmt: skip
    assert run(["new", "--prep", "single-v", "--thickness", "16", "--right-thickness", "20", "--taper", "0", "--high-low", "1", "--backing", "ceramic",
                "--ceramic-width", "14", "--ceramic-depth", "1", "--joint", "J2", "--add", "-o", path]) == 0  # fmt: skip
    assert run(["new", "--prep", "fillet-lap", "--thickness", "12", "--leg-left", "9", "--leg-right", "7", "--fillet-angle", "95", "--position", "PB",
                "--joint", "J3", "--add", "-o", path]) == 0  # fmt: skip
    assert run(["new", "--prep", "single-v", "--thickness", "12", "--technique", "tig-basic", "--root-progression", "up", "--split", "late",
                "--second-side", "seal", "--joint", "J4", "--add", "-o", path]) == 0  # fmt: skip
    one, two, three, four = read(Path(path)).job.joints
    assert (one.prep.root_radius_mm, one.prep.back_bevel_deg, one.working.sequence) == (6.35, 15, "alternate")
    assert (two.prep.high_low_mm, two.prep.taper, two.prep.ceramic_width_mm) == (1, 0, 14)
    assert (three.prep.leg_left_mm, three.prep.leg_right_mm, three.piece.position) == (9, 7, "2F")
    assert any(u.rod.startswith("ER70S") for u in four.working.rods) and four.prep.second_side == "seal"
    capsys.readouterr()
    assert run(["plan", path]) in (0, 1)
    assert "GTAW" not in capsys.readouterr().err


@pytest.mark.parametrize(
    ("words", "said"),
    [(["--prep", "double-v", "--backing", "bar"], "open or closed"), (["--prep", "single-v", "--root-face", "21"], "Root face 21 mm"),
     (["--prep", "double-v", "--front-share", "1.4"], "0.1 to 0.9"), (["--prep", "single-v", "--bevel-angle", "-3"], "0° to 60°"),
     (["--prep", "single-u", "--root-radius", "28"], "at most"), (["--prep", "fillet-tee", "--root-gap", "8"], "5 mm or less"),
     (["--prep", "fillet-tee", "--position", "6G"], "2F"), (["--prep", "single-v", "--technique", "magic"], "tig-basic")],
)  # fmt: skip
def test_contradictions_are_usage_faults_that_say_what_fits(words: list, said: str, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "j.banister"
    assert run(["new", "--thickness", "20", *words, "-o", str(path)]) == 2
    assert said in capsys.readouterr().err and not path.exists()


def test_compare_ranks_plans_and_says_why_the_rest_is_not_offered(capsys: pytest.CaptureFixture) -> None:
    assert run(["compare", "--thickness", "35", "--access", "both", "--position", "2G", "--json", "--sort", "metal"]) == 0
    found = json.loads(capsys.readouterr().out)
    metal = [p["weld_metal_kg"] for p in found["preparations"]]
    assert metal == sorted(metal) and len(metal) >= 9
    by_key = {p["key"]: p for p in found["preparations"]}
    assert by_key["double-v"]["weld_metal_kg"] < by_key["single-v"]["weld_metal_kg"]
    assert abs(by_key["double-v"]["pull_index_deg"]) < abs(by_key["single-v"]["pull_index_deg"])
    assert all(p["shrinkage_mm"]["low"] < p["shrinkage_mm"]["high"] for p in found["preparations"])
    assert {n["key"] for n in found["not_offered"]} == {"square"}
    assert run(["compare", "--thickness", "35", "--no-machining"]) == 0
    out = capsys.readouterr().out
    assert "needs access from both sides" in out and "needs edges machined" in out and "double V" in out
    assert run(["compare", "--access", "both"]) == 2


def test_a_test_record_is_derived_with_its_rules(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    test = {"thickness_mm": 20.0, "position": "1G", "preheat_c": 100.0}
    record = {"format": "banister-weld-test", "version": 1, "record": {"family": "iso15614-1", "test": test}}
    path = written(tmp_path / "test.json", record)
    assert run(["procedure", "derive", path]) == 0
    out = capsys.readouterr().out
    assert "10 to 40 mm" in out and "unverified, enter from your copy" in out and "at least 100 °C" in out
    assert run(["procedure", "derive", path, "--json"]) == 0
    rows = {d["item"]: d for d in json.loads(capsys.readouterr().out)["derived"]}
    assert rows["thickness"]["certainty"] == "unverified" and rows["preheat"]["low"] == 100.0


def test_check_covers_procedure_and_welder(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = str(tmp_path / "j.banister")
    assert run(["new", "--prep", "single-v", "--thickness", "22", "--position", "3G", "-o", job]) == 0
    assert run(["procedure", "attach", job, written(tmp_path / "p.json", PROCEDURE)]) == 0
    capsys.readouterr()
    assert run(["check", job, "--all"]) == 3
    out = capsys.readouterr().out
    assert "inside: Thickness 22 mm; allowed: 5 to 32 mm. [ASME IX QW-451.1]" in out and "not judged: backing" in out
    assert run(["procedure", "welder", job, written(tmp_path / "w.json", WELDER)]) == 0
    capsys.readouterr()
    assert run(["check", job]) == 1
    assert "outside: Welder K7: last used 2020-01-01" in capsys.readouterr().out
    windows = json.loads(Path(job).read_text())["job"]["joints"][0]["working"]["windows"]
    assert {w["origin"] for w in windows} == {"OL-12"} and len(windows) == 2
    assert run(["procedure", "attach", job, written(tmp_path / "p.json", PROCEDURE)]) == 0
    assert len(json.loads(Path(job).read_text())["job"]["joints"][0]["working"]["windows"]) == 2


@pytest.mark.parametrize(
    ("change", "words"),
    [(lambda d: d.update(format="other"), ("format",)), (lambda d: d.update(version=9), ("version",)),
     (lambda d: d["procedure"].update(family="wrong"), ("$.procedure.family", "asme-ix")), (lambda d: d["procedure"].update(id=""), ("$.procedure.id",)),
     (lambda d: d["procedure"].update(windows=[{"quantity": "spin"}]), ("windows[0].quantity", "amps")),
     (lambda d: d["procedure"]["qualified_by"].update(thickness_mm="thick"), ("qualified_by.thickness_mm",)),
     (lambda d: d["procedure"]["qualified_by"].update(thickness_mm=-4.0), ("qualified_by.thickness_mm", "0.5"))],
)  # fmt: skip
def test_a_broken_procedure_file_is_located_and_changes_nothing(change: object, words: tuple, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = tmp_path / "j.banister"
    assert run(["new", "--thickness", "22", "-o", str(job)]) == 0
    before = job.read_bytes()
    document = json.loads(json.dumps(PROCEDURE))
    change(document)
    assert run(["procedure", "attach", str(job), written(tmp_path / "p.json", document)]) == 4
    said = capsys.readouterr().err
    assert all(word in said for word in words) and job.read_bytes() == before


def test_techniques_are_listed_and_compared(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = str(tmp_path / "j.banister")
    assert run(["new", "--thickness", "14", "--pipe-od", "141.3", "--position", "6G", "--technique", "cellulosic-basic", "-o", job]) == 0
    assert run(["techniques"]) == 0
    listed = capsys.readouterr().out
    assert listed.count("\n") >= 12 and "burns through" in listed
    assert run(["techniques", job, "--json"]) == 0
    rows = {r["id"]: r for r in json.loads(capsys.readouterr().out)["J1"]}
    assert all(r["buys"] and r["risks"] for r in rows.values())
    assert rows["tig-basic"]["feasible"] and rows["cap-one-more"]["passes"] == rows["cellulosic-basic"]["passes"] + 1


def test_drawings_follow_the_convention_asked_for(tmp_path: Path) -> None:
    job = str(tmp_path / "j.banister")
    run(["new", "--prep", "double-v", "--thickness", "30", "-o", job])
    for convention, word in (("iso", "root gap b"), ("aws", "root opening R")):
        outputs = ["--svg", str(tmp_path / "s.svg"), "--symbol", str(tmp_path / "y.svg"), "--pdf", str(tmp_path / "s.pdf")]
        assert run(["plan", job, "--convention", convention, *outputs]) == 0
        assert word in (tmp_path / "s.svg").read_text() and ("SMAW" in (tmp_path / "y.svg").read_text()) == (convention == "aws")
        assert (tmp_path / "s.pdf").read_bytes().startswith(b"%PDF")


def test_a_better_preparation_is_searched_told_and_drawn(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    demo, drawn = str(data_file("demo.banister")), tmp_path / "l.svg"
    assert run(["improve", demo, "--joint", "G1", "--svg", str(drawn)]) == 0
    out = capsys.readouterr().out
    assert "now:" in out and "best:" in out and "Bevel 2.5° less: " in out and "fusion is not proved" in out and drawn.read_text().startswith("<svg")
    assert run(["improve", demo, "--joint", "G1", "--goal", "metal", "--bound", "bevel=32..40", "--bound", "root_gap_mm=6", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert 32.0 <= found["best"]["values"]["bevel"] <= 40.0 and found["best"]["metal_kg_m"] < found["present"]["metal_kg_m"] and found["landscape"]["ys"] == []
    for wrong, word in ((["--bound", "bevel"], "bevel=20..35"), (["--bound", "luck=1..2"], "luck"), (["--weights", "1,x,0"], "1,0.5,0.5"),
                        (["--weights", "0,0,0"], "over 0")):  # fmt: skip
        assert run(["improve", demo, "--joint", "G1", *wrong]) == 2 and word in capsys.readouterr().err.lower()


def test_beads_are_laid_by_hand_and_told(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    demo, drawn = str(data_file("demo.banister")), tmp_path / "p.svg"
    beads = ["--bead", "E6010-3.2x350,90,120", "--bead", "E7018-3.2x350,110,130,-1,7"]
    assert run(["play", demo, "--joint", "F2", *beads, "--svg", str(drawn)]) == 0
    out = capsys.readouterr().out
    assert "Root 1: " in out and "carried to 7 mm" in out and "2 by hand on 0 of the plan." in out and "not of fusion" in out
    assert drawn.read_text().startswith("<svg")
    assert run(["play", demo, "--joint", "F2", "--after", "3", *beads[2:], "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["begun_with"] == 3 and found["beads"][0]["width_mm"] == pytest.approx(7.0, abs=0.3) and found["next_of_a_sound_plan"].startswith("E7018")
    assert run(["play", demo, "--joint", "F2", "--bead", "E6010-3.2x350,90,900"]) == 1 and "falls through" in capsys.readouterr().out
    for wrong, word in ((["--bead", "E6010"], "ROD,AMPS,SPEED"), (["--bead", "E1,90,120"], "no rod E1"), (["--bead", "E6010-3.2x350,90,-1"], "1 to 5000"),
                        (["--bead", "E6010-3.2x350,90,999", "--inches"], "196.9 in/min"), (["--after", "99"], "the plan has"),
                        (["--bead", "E6010-3.2x350,x,120"], "x")):  # fmt: skip
        assert run(["play", demo, "--joint", "F2", *wrong]) == 2 and word in capsys.readouterr().err


def test_a_new_job_never_comes_under_a_journal_that_stands_there(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = tmp_path / "j.banister"
    new = ["new", "--prep", "single-v", "--thickness", "16", "-o", str(path)]
    assert run(new) == 0
    run(["inspect", str(path), "--set", "iso5817-c", "--none-seen", "face", "--by", "K7"])
    before = path.read_bytes()
    assert run([*new, "--force"]) == USAGE and "a journal stands already" in capsys.readouterr().err and path.read_bytes() == before
    assert run([*new, "--add", "--joint", "J2"]) == 0
    path.unlink()
    assert run(new) == USAGE and not path.exists()
