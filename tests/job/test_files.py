"""Job files: faults located, nothing lost, atomic writing, locks, newer versions, recovery."""

from __future__ import annotations

import json
import math
import subprocess
import sys
import tempfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.heat.preheat import preheat_methods
from banister.core.job import Job
from banister.core.joint.joint import field_of
from banister.core.plan.answers import plan_joint
from banister.core.value import replace
from banister.job import files
from banister.job.codec import VERSION, decoded, encoded, schema
from banister.job.documents import read_procedure, read_test, read_welder
from banister.job.files import JobFile, read, write_atomically
from banister.job.library import demo_job, load, patterns, rods_in, shipped_rods, shipped_rows, techniques_in
from banister.job.reading import FileFault
from banister.job.recovery import left_work
from tests.conftest import SAY, make_joint

DEMO = encoded(demo_job())


def broken(old: bytes, new: bytes) -> str:
    assert old in DEMO
    with pytest.raises(FileFault) as fault:
        decoded(DEMO.replace(old, new, 1))
    return "; ".join(SAY.faults(fault.value.remarks)).lower()


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": "3"', ("joints[0].prep.root_gap_mm", "str")),
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": 99.0', ("joints[0].prep.root_gap_mm", "0 to 25 mm")),
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": NaN', ("not valid JSON", "line 24, column 26")),
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": 1e999', ("out of range",)),
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": ' + b"9" * 400, ("root_gap_mm", "out of range")),
        (b'"root_gap_mm": 3.0', b'"root_gap_mm": 3.0, "colour": 1', ("joints[0].prep.colour", "not a known field")),
        (b'"position": "3G"', b'"position": "9G"', ("joints[0].piece.position", "9G")),
        (b'"version": 9', b'"version": "one"', ("$.version",)),
        (b'"banister-job"', b'"other"', ("$.format",)),
        (b'"id": "G1"', b'"id": "F2"', ("joints[1].id", "twice")),
        (b'"diameter_mm": 3.2', b'"diameter_mm": -3.2', ("rods[", "diameter_mm")),
    ],
)
def test_every_fault_has_its_place(old: bytes, new: bytes, words: tuple[str, ...]) -> None:
    said = broken(old, new)
    assert all(word.lower() in said for word in words), said


def test_all_faults_are_told_at_once() -> None:
    data = DEMO.replace(b'"root_gap_mm": 3.0', b'"root_gap_mm": 77.0', 1).replace(b'"position": "3G"', b'"position": "8G"', 1)
    with pytest.raises(FileFault) as fault:
        decoded(data)
    assert len(fault.value.remarks) == 2


@pytest.mark.parametrize(
    "data",
    [b"", b"{", b"null", b"[1, 2]", b"\xff\xfe", b"[" * 200_000, b'{"a":' * 5000, DEMO[: len(DEMO) // 2], b" " * 100_000_001],
    ids=["empty", "open", "null", "list", "bytes", "deep", "deep objects", "truncated", "too large"],
)
def test_hostile_input_is_a_plain_word(data: bytes, tmp_path: Path) -> None:
    path = tmp_path / "bad.banister"
    path.write_bytes(data)
    with pytest.raises(FileFault) as fault:
        JobFile(path).open()
    assert fault.value.file == str(path) and SAY.faults(fault.value.remarks)
    assert path.read_bytes() == data


@settings(max_examples=60, deadline=None)
@given(st.floats(2, 150), st.floats(0, 25), st.text(max_size=40), st.sampled_from(["plate", "pipe"]))
def test_a_job_reads_back_as_it_was_written(t: float, gap: float, name: str, form: str) -> None:
    job = Job(name=name, joints=(make_joint(thickness_mm=t, root_gap_mm=gap, form=form, pipe_od_mm=900.0, root_face_mm=1.0),), rods=shipped_rods())
    assert decoded(encoded(job)).job == job


def test_saving_keeps_the_sessions_first_version(tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    first = demo_job()
    JobFile(path).save(first)
    file = JobFile(path)
    file.open()
    file.save(replace(first, name="second"))
    file.save(replace(first, name="third"))
    file.close()
    assert read(path).job.name == "third"
    assert read(path.with_name("a.banister.bak")).job == first
    assert sorted(p.name for p in tmp_path.iterdir()) == [".a.banister.lock", "a.banister", "a.banister.bak"]


@pytest.mark.parametrize("call", ["mkstemp", "fdopen", "fsync", "replace"])
def test_a_failed_save_leaves_the_old_file_and_no_litter(call: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "a.banister"
    path.write_bytes(b"old")

    def fail(*args: object, **kwargs: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(tempfile if call == "mkstemp" else files.os, call, fail)
    with pytest.raises(OSError):
        write_atomically(path, b"new")
    monkeypatch.undo()
    assert path.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["a.banister"]


def test_a_second_session_reads_only(tmp_path: Path) -> None:
    path = tmp_path / "a.banister"
    JobFile(path).save(demo_job())
    one, two = JobFile(path), JobFile(path)
    one.open()
    two.open()
    assert two.read_only == files.HELD
    with pytest.raises(FileFault):
        two.save(demo_job())
    one.close()
    three = JobFile(path)
    three.open()
    assert not three.read_only
    three.close()


def test_a_newer_file_opens_read_only_and_is_not_overwritten(tmp_path: Path) -> None:
    path = tmp_path / "new.banister"
    document = json.loads(DEMO) | {"version": VERSION + 1}
    document["job"]["joints"][0]["later"] = 1
    path.write_text(json.dumps(document))
    before = path.read_bytes()
    file = JobFile(path)
    assert file.open().name == demo_job().name
    with pytest.raises(FileFault, match="newer"):
        file.save(demo_job())
    assert path.read_bytes() == before


def test_recovery_is_found_once_its_process_is_gone(tmp_path: Path) -> None:
    job = tmp_path / "job.banister"
    code = f"""
import sys, time
from pathlib import Path
from banister.job.library import demo_job
from banister.job.recovery import Recovery
Recovery(Path({str(tmp_path)!r}) / "r", Path({str(job)!r})).keep(demo_job())
print("kept", flush=True)
time.sleep(60)
"""
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE) as process:
        assert process.stdout is not None and process.stdout.readline() == b"kept\n"
        assert left_work(tmp_path / "r") == (), "its process lives"
        process.kill()
        process.wait()
    orphan = tmp_path / "r" / ".none-00000000.banister.of"
    orphan.write_text(str(job), encoding="utf-8")
    (left,) = left_work(tmp_path / "r", job)
    assert left.of == job and left.read() == (demo_job(), ()) and left_work(tmp_path / "r", tmp_path / "other.banister") == ()
    assert not orphan.exists(), "what no lock stands beside was left by a window killed in between"
    left.file.write_bytes(b"{")
    found, wrong = left.read()
    assert found is None and wrong and left.file.exists(), "what cannot be read stays where it is"
    left.discard()
    assert list((tmp_path / "r").iterdir()) == []


def test_the_schema_in_the_docs_is_the_programs() -> None:
    shown = json.loads((Path(__file__).parents[2] / "docs" / "job-schema.json").read_text(encoding="utf-8"))
    assert shown == json.loads(json.dumps(schema(), allow_nan=False))


def test_the_users_own_rods_stand_beside_the_shipped_ones(tmp_path: Path) -> None:
    mine = replace(shipped_rods()[0], type="E8018", family="basic")
    load(tmp_path).keeping_rod(mine)
    found = load(tmp_path)
    assert found.rods == (*shipped_rods(), mine) and not found.faults


@pytest.mark.parametrize(
    ("name", "text", "place"),
    [("rods.json", '{"format": "banister-rods", "version": 1, "rods": [{"type": 3}]}', "$.rods[0].type"), ("rods.json", '{"format": ', "line 1, column 12"),
     ("techniques.json", "[]", "$"), ("qualification.json", '{"format": "banister-qualification"', "line 1, column 36"),
     ("qualification.json", "{}", "$.format"), ("procedures/w.json", "\x00", "line 1, column 1")],
)  # fmt: skip
def test_a_broken_user_file_is_told_with_its_place_and_what_ships_serves(name: str, text: str, place: str, tmp_path: Path) -> None:
    path = tmp_path / name
    path.parent.mkdir(exist_ok=True)
    path.write_text(text)
    found = load(tmp_path)
    (told,) = found.faults
    assert told.file == str(path) and told.remarks[0].place.field == place and SAY.faults(told.remarks)
    assert found.rods == shipped_rods() and found.techniques and found.rows == shipped_rows() and path.read_text() == text
    if name == "rods.json":
        with pytest.raises(FileFault):
            found.keeping_rod(shipped_rods()[0])
        assert path.read_text() == text, "a broken file is never overwritten"


def test_a_data_folder_that_is_no_folder_is_no_trouble_until_something_is_kept(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("")
    found = load(blocked / "banister")
    assert found.rods == shipped_rods() and not found.faults
    with pytest.raises(OSError):
        found.keeping_rod(shipped_rods()[0])


def test_shipped_jobs_use_none_of_the_sizes_kept_out_of_examples() -> None:
    for joint in (*demo_job().joints, *patterns().joints):
        assert all(abs(joint.prep.thickness_mm - size) > 0.5 for size in (9.525, 25.4))
        if joint.prep.backing == "bar":
            assert abs(joint.prep.root_gap_mm - 6.35) > 0.5
        if joint.piece.form == "pipe":
            assert all(abs(joint.piece.pipe_od_mm - od) > 0.5 for od in (114.3, 168.3, 219.1))


OLD = Path(__file__).parent / "old"


def stored(version: int) -> tuple[bytes, dict]:
    data = (OLD / f"v{version}.banister").read_bytes()
    document = json.loads(data)
    assert document["version"] == version
    return data, document["job"]


def test_a_file_of_the_first_version_is_read_as_it_was_meant_and_saved_as_the_newest() -> None:
    data, old = stored(1)
    job = decoded(data).job
    for joint, before in zip(job.joints, old["joints"], strict=True):
        assert (joint.id, joint.prep.key, joint.prep.backing) == (before["id"], before["preparation"], before["backing"])
        for name in ("thickness_mm", "bevel_left_deg", "bevel_right_deg", "root_face_mm", "root_gap_mm"):
            assert field_of(joint, name) == before[name]
        assert plan_joint(joint, job.rods_by_id, joint.working.chosen).feasible
    assert json.loads(encoded(job))["version"] == VERSION and decoded(encoded(job)).job == job


@pytest.mark.parametrize("version", range(1, VERSION))
def test_a_file_of_every_older_version_is_read_and_saved_as_the_newest(version: int) -> None:
    job = decoded(stored(version)[0]).job
    assert job.joints and decoded(encoded(job)).job == job and json.loads(encoded(job))["version"] == VERSION


def test_a_second_versions_preheat_figures_become_cells_of_the_tables() -> None:
    data, old = stored(2)
    job = decoded(data).job
    assert [old["joints"][0]["heat"][key] for key in ("annex_own_c", "table_own_c")] == [110.0, 25.0]
    joint = job.joints[0]
    assert {c.cell: c.least_c for c in job.own_cells} == {"annex medium 1 C": 110.0, "table B 1": 25.0}
    _, annex, table = preheat_methods(joint, plan_joint(joint, job.rods_by_id, joint.working.chosen), job.own_cells)
    assert (annex.least_c, table.least_c) == (110.0, 25.0) and annex.verified and table.verified
    assert decoded(encoded(job)).job == job


def test_a_seventh_versions_set_has_its_new_name_and_its_sheet_still_stands() -> None:
    data, _ = stored(7)
    assert b'"b31.3"' in data and b'"b31.3-normal"' not in data
    job = decoded(data).job
    (joint,) = job.joints
    assert joint.working.choices.acceptance == "b31.3-normal" and job.standing_for(joint) is not None
    assert decoded(encoded(job)).job == job


def test_an_old_figure_that_could_not_be_saved_again_is_refused_on_reading() -> None:
    document = json.loads(stored(2)[0])
    document["job"]["joints"][0]["heat"]["table_own_c"] = 4000.0
    with pytest.raises(FileFault, match=r"own_cells\[1\]"):
        decoded(json.dumps(document).encode())


@pytest.mark.parametrize(("version", "on"), [(4, "2026-11-20"), (5, "2026-11-28")])
def test_a_sheet_of_a_later_version_reads_as_it_was_issued(version: int, on: str) -> None:
    data, old = stored(version)
    job = decoded(data).job
    assert [j.id for j in job.joints] == [j["id"] for j in old["joints"]] and job.joints[0].piece.least_bore_mm == 600.0
    (sheet,), (row,) = job.issued, json.loads(data)["issued"]
    assert sheet.issued_on == on and sheet.planner_version == row.get("planner_version", "2") and job.standing_for(job.joint(sheet.joint.id)) is sheet
    assert [(p.area_mm2, p.run_out_mm, p.arc_energy_kj_mm) for p in sheet.plan.passes] == [
        (p["area_mm2"], p["run_out_mm"], p["arc_energy_kj_mm"]) for p in row["plan"]["passes"]
    ]
    assert decoded(encoded(job)).job == job


@pytest.mark.parametrize("version", [2, 3])
def test_a_plan_taken_by_an_old_version_is_an_issued_sheet_with_its_figures(version: int) -> None:
    data, old = stored(version)
    job, before = decoded(data).job, old["taken"][0]
    (sheet,) = job.issued
    assert sheet.joint == job.joint(before["joint"]["id"]) and sheet.heat is None and job.standing_for(sheet.joint) == sheet
    for p, was in zip(sheet.plan.passes, before["plan"]["passes"], strict=True):
        rod = was["rod"]
        core = math.pi / 4 * rod["diameter_mm"] ** 2 * (rod["length_mm"] - rod["stub_mm"])
        assert (p.area_mm2, p.amps, p.volts, p.outline_mm) == (was["area_mm2"], was["amps"], was["volts"], tuple(map(tuple, was["outline_mm"])))
        assert p.run_out_mm == pytest.approx(rod["recovery"] * core / was["area_mm2"], rel=1e-6)
        assert p.arc_energy_kj_mm == pytest.approx(p.volts * p.amps * 60 / (1000 * p.travel_mm_min), rel=1e-6)
    assert decoded(encoded(job)).job == job


PRINTED = ("banister-fitup", "banister-turn", "banister-stops", "banister-take", "banister-sure", "banister-arc",
           "banister-inspection", "banister-advice", "banister-repair", "banister-weld-list", "banister-improve",
           "banister-practice-report", "banister-play", "banister-reckon")  # fmt: skip
"""What the program only prints: held against what it prints where the commands are tested."""


def test_every_example_in_the_docs_is_read(tmp_path: Path) -> None:
    """Each indented block of docs/file-format.md that is a document."""
    text = (Path(__file__).parents[2] / "docs" / "file-format.md").read_text(encoding="utf-8")
    blocks = ["\n".join(line.strip() for line in block.splitlines()) for block in text.split("\n\n") if block.startswith('    {"format"')]
    readers = {"banister-procedure": read_procedure, "banister-welder": read_welder, "banister-weld-test": read_test, "banister-techniques": techniques_in,
               "banister-rods": rods_in}  # fmt: skip
    read_kinds = set()
    for block in blocks:
        path = tmp_path / "d.json"
        path.write_text(block)
        kind = json.loads(block)["format"]
        if kind in PRINTED:
            continue
        assert readers[kind](path)
        read_kinds.add(kind)
    assert read_kinds == set(readers)
