"""Inspection, cause, repair, record and continuity from the command line: taken in whole or not at all, said in words, checked again."""

from __future__ import annotations

import csv
import io
import json
import re
import shutil
from pathlib import Path
from typing import Any

import pytest

from banister.cli.main import run
from banister.core.canonical import canonical
from banister.core.inspect.etched import Overlay
from banister.core.inspect.etched_kept import Etched
from banister.core.record.record import record_digest
from banister.core.record.said import grouped
from banister.export.record_csv import written
from banister.job.codec import decoded
from banister.job.journal import Journal, journal_path, records_of
from banister.job.library import data_file
from banister.job.photos import photo_state
from tests.export.test_exports import tool

SEEN = """kind,station_mm,side,length_mm,depth_mm,height_mm,size_mm,toe,gauge,note
5011,620,face,22,0.6,,,right,dial,at the toe
502,300,face,,,3.5,,,cap,
2017,410,face,,,,2.2,,,
301,400,face,35,9,3,,,,found by UT
"""


@pytest.fixture
def job(tmp_path: Path) -> Path:
    path = tmp_path / "bridge.banister"
    shutil.copyfile(data_file("demo.banister"), path)
    shutil.copyfile(data_file("demo.banister-journal"), journal_path(path))
    return path


@pytest.fixture
def seen(tmp_path: Path) -> Path:
    path = tmp_path / "seen.csv"
    path.write_text(SEEN, encoding="utf-8")
    return path


def said(capsys: pytest.CaptureFixture, *arguments: object, code: int = 0) -> str:
    capsys.readouterr()
    assert run([str(a) for a in arguments]) == code, capsys.readouterr()
    return str(capsys.readouterr().out)


def document(capsys: pytest.CaptureFixture, *arguments: object, code: int = 0) -> Any:
    return json.loads(said(capsys, *arguments, "--json", code=code))


def numbers(capsys: pytest.CaptureFixture, job: Path) -> dict[str, int]:
    found = document(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", code=1)
    return {one["kind"]: one["id"] for one in found["observations"]}


def test_observations_are_taken_in_judged_and_said(job: Path, seen: Path, capsys: pytest.CaptureFixture) -> None:
    assert "not looked for anywhere" in said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", code=3)
    out = said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", seen, "--none-seen", "face", "--by", "K7", code=1)
    assert "Reject: undercut, continuous, 0.6 mm at 620 mm, 0.5 mm allowed." in out and "the least of 0.1 x 22 = 2.2; 0.5" in out
    assert "1 + 0.15 x 28.67 = 5.301" in out and "width as planned" in out and "from memory: enter from your copy" in out
    assert "(root): not looked for anywhere" in out and "(face)" not in out
    inches = said(capsys, "inspect", job, "--inches", "--joint", "F2", "--set", "iso5817-c", code=1)
    assert " mm" not in inches and " in " in inches
    hidden = said(capsys, "inspect", job, "--joint", "F2", "--set", "b31.3-normal", "--no-access", "root", "bar left", code=3)
    assert "no access (bar left)" in hidden
    found = document(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", code=1)
    assert found["result"] == "reject" and found["lines"][0]["verdict"] == "reject" and len(found["set_digest"]) == 64 and found["not_looked_for"] == []
    assert [one["by"] for one in found["observations"]] == ["K7"] * 4


def test_the_strip_of_a_side_is_drawn(tmp_path: Path) -> None:
    drawn = {kind: tmp_path / f"s.{kind}" for kind in ("svg", "dxf")}
    assert run(["inspect", str(data_file("demo.banister")), "--joint", "P4", "--svg", str(drawn["svg"]), "--dxf", str(drawn["dxf"])]) == 1
    assert ">face<" in drawn["svg"].read_text() and ">12:00<" in drawn["svg"].read_text()
    import ezdxf  # takes half a second: only where it is used

    document = ezdxf.readfile(drawn["dxf"])
    assert not document.audit().errors and "outside" in {entity.dxf.layer for entity in document.modelspace()}


def test_what_was_seen_is_counted_over_the_job(job: Path, seen: Path, capsys: pytest.CaptureFixture) -> None:
    said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", seen, code=1)
    out = said(capsys, "inspect", job, "--counts")
    assert "2 welds inspected" in out and "Undercut, continuous: 2, 36 mm long in all, 1.1 per m (" in out and "2 rejected" in out
    assert "Cap: 1 reading, " in out and "over the plan" in out, "only an issued plan has a cap to be held against"


def test_a_file_with_a_fault_is_not_taken_in(job: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    before = journal_path(job).read_bytes()
    for text, place in (("kind,station_mm,depth_mm\n5011,620,-1\n", "line 2, depth"), ("kind,station_mm,length_in\n5011,620,1\n", "line 1"),
                        ("kind,station_mm\n77,620\n5011,999\n", "line 3"), ("kind,station_mm,side\n5011,620,top\n", "line 2"),
                        ("kind,clock\n5011,3:00\n", "line 2")):  # fmt: skip
        path = tmp_path / "wrong.csv"
        path.write_text(text, encoding="utf-8")
        assert run(["inspect", str(job), "--joint", "F2", "--set", "iso5817-c", "--add", str(path)]) == 4
        assert place in capsys.readouterr().err, text
    assert run(["inspect", str(job), "--joint", "F2", "--set", "none-such"]) == 2 and "iso5817-c" in capsys.readouterr().err
    assert run(["inspect", str(job), "--joint", "F2", "--set", "iso5817-c", "--no-access", "top", "dark"]) == 2
    assert journal_path(job).read_bytes() == before, "nothing of it was written"
    with_lock = Journal(journal_path(job), "Ottermere Lock lift bridge")
    seen = tmp_path / "seen.csv"
    seen.write_text(SEEN, encoding="utf-8")
    assert run(["inspect", str(job), "--joint", "F2", "--set", "iso5817-c", "--add", str(seen)]) == 4, "a window that writes it is not written over"
    with_lock.close()


def test_causes_and_repair_of_an_observation(job: Path, seen: Path, capsys: pytest.CaptureFixture) -> None:
    said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", seen, code=1)
    ids = numbers(capsys, job)
    out = said(capsys, "advise", job, ids["5011"], "--joint", "F2")
    assert "pass 13 (100 %)" in out and "edges not held" in out and "Look first at" in out and "proves none" in out and "cause is" not in out
    slag = document(capsys, "advise", job, ids["301"], "--joint", "F2")
    assert len(slag["passes"]) == 3 and sum(c["chance"] for c in slag["causes"]) == pytest.approx(1.0) and slag["not_known"]
    assert run(["advise", str(job), "999", "--joint", "F2"]) == 2 and str(ids["301"]) in capsys.readouterr().err
    assert run(["advise", str(job), str(ids["502"]), "--joint", "F2"]) == 2
    out = said(capsys, "repair", job, ids["301"], "--joint", "F2")
    assert "Dig 14.5 mm deep" in out and "142 mm long" in out and "ends run out 1 in 3" in out and "Preheat 105" in out and "PT or MT" in out
    assert out.index("From the face") < out.index("From the root"), "the shorter way first"
    way = document(capsys, "repair", job, ids["301"], "--joint", "F2")["ways"][0]
    assert way["metal_mm3"] == pytest.approx(sum(p["area_mm2"] * p["length_mm"] for p in way["passes"])) and way["metal_mm3"] > way["volume_mm3"]
    lengths = [p["length_mm"] for p in way["passes"]]
    assert lengths == sorted(lengths) and lengths[-1] == pytest.approx(142.0, abs=0.5), "passes get longer upwards"
    deep = said(capsys, "repair", job, ids["301"], "--joint", "F2", "--top", "15", "--height", "4")
    assert "only 0.5 mm of 22 mm would be left" in deep and "open it through" in deep
    assert "Dig 16 mm deep" in said(capsys, "repair", job, ids["301"], "--joint", "F2", "--dug", "16")
    bare = job.parent / "bare.csv"
    bare.write_text("kind,station_mm,length_mm\n301,700,10\n", encoding="utf-8")
    said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", bare, code=1)
    unknown = max(one["id"] for one in document(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", code=1)["observations"])
    assert run(["repair", str(job), str(unknown), "--joint", "F2"]) == 2 and "Enter the depth of its upper end and its height" in capsys.readouterr().err
    assert "deeper than the part" in said(capsys, "repair", job, ids["301"], "--joint", "F2", "--top", "21", "--height", "4", code=1)


def test_what_was_looked_at_narrows_it_and_what_it_was_is_kept_and_counted(job: Path, capsys: pytest.CaptureFixture) -> None:
    n = next(r["id"] for r in document(capsys, "inspect", job, "--joint", "P4", code=1)["observations"] if r["kind"] == "5011")
    bare = {c["cause"]: c["chance"] for c in document(capsys, "advise", job, n, "--joint", "P4")["causes"]}
    told = document(capsys, "advise", job, n, "--joint", "P4", "--known", "amps=high", "--known", "pace=normal")
    now = {c["cause"]: c["chance"] for c in told["causes"]}
    assert now["amps_high"] > 2 * bare["amps_high"] and told["causes"][0]["for"][0][:2] == ["amps", "high"] and "amps" not in told["not_known"]
    for wrong, word in (("amperes=high", "no such evidence"), ("amps=huge", "no such level")):
        assert run(["advise", str(job), str(n), "--joint", "P4", "--known", wrong]) == 2 and word in capsys.readouterr().err
    assert run(["advise", str(job), str(n), "--joint", "P4", "--found", "ghosts"]) == 2 and "amps_high" in capsys.readouterr().err
    assert "No cause was entered yet" in said(capsys, "advise", job, n, "--joint", "P4")
    out = said(capsys, "advise", job, n, "--joint", "P4", "--known", "amps=high", "--found", "amps_high")
    assert "1 cause was found and entered: the first of the list 1 times" in out and "Too few" in out
    said(capsys, "advise", job, n, "--joint", "P4", "--found", "else")
    assert "1 cause was found and entered: the first of the list 0 times" in said(capsys, "advise", job, n, "--joint", "P4"), "the last word counts"


def test_a_place_is_repaired_once_freely_then_by_name_then_only_for_a_reason(job: Path, seen: Path, capsys: pytest.CaptureFixture) -> None:
    said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", seen, code=1)
    repair = ["repair", job, numbers(capsys, job)["301"], "--joint", "F2"]
    first = said(capsys, *repair, "--keep", "face", "--by", "Q2", "--proved-by", "Q3")
    assert "Repair 1: from the face" in first and "14.5 mm deep" in first and "Hollow seen clear by Q3." in first
    assert "was repaired before (1)" in said(capsys, *repair)
    for more, word in (((), "--allowed-by"), (("--allowed-by", "Q9"), "")):
        assert run([*map(str, repair), "--keep", "face", "--by", "Q2", *more]) == (2 if word else 0) and word in capsys.readouterr().err
    assert "repaired 2 times before" in said(capsys, *repair)
    again = [*map(str, repair), "--keep", "face", "--by", "Q2", "--allowed-by", "Q9"]
    assert run(again) == 2 and "--reason" in capsys.readouterr().err
    assert run([*again, "--reason", "owner agreed"]) == 0
    assert "Repair 3" in capsys.readouterr().out and said(capsys, "record", job, "--joint", "F2").count("14.5 mm deep") == 3
    assert run([*map(str, repair), "--keep", "root"]) == 2 and "--by" in capsys.readouterr().err
    assert run([*again, "--reason", "owner agreed", "--as-joint"]) == 0
    own = decoded(job.read_bytes()).job.joint("F2-R4")
    assert own.repair.joint == "F2" and "Welded as F2-R4: 0 of" in said(capsys, "record", job, "--joint", "F2")
    assert "F2-R4" in said(capsys, "plan", job, "--joint", "F2-R4")


def test_the_record_is_made_signed_and_checked(job: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    files = [tmp_path / name for name in ("g1.json", "g1.pdf", "again.pdf")]
    out = said(capsys, "record", job, "--joint", "G1", "--sign", "K7", "welder", "--json", files[0], "--pdf", files[1], "--csv", tmp_path / "csv")
    assert "5 of 11 passes welded; 0 deviations open." in out and "for this state." in out and "Empty: " in out
    record = json.loads(files[0].read_text(encoding="utf-8"))
    assert files[0].read_text(encoding="utf-8") == canonical(record) and grouped(record_digest(record)) in out
    said(capsys, "record", job, "--joint", "G1", "--pdf", files[2])
    assert files[2].read_bytes() == files[1].read_bytes(), "equal input gives equal bytes"
    assert "The same record." in said(capsys, "verify", files[1], files[0])
    assert "for this state" in said(capsys, "verify", files[0])
    assert "same byte for byte" in said(capsys, "verify", files[1], "--job", job)
    said(capsys, "record", job, "--joint", "G1", "--sign", "Q2", "inspector")
    assert "same byte for byte" in said(capsys, "verify", files[1], "--job", job), "made again as the journal stood then"
    page = tmp_path / "page.pdf"
    page.write_bytes(files[1].read_bytes().replace(b"ASCII85Decode", b"ASCII85Decodd", 1))
    assert "something printed on it was changed" in said(capsys, "verify", page, "--job", job, code=1)
    page.write_bytes(files[1].read_bytes().replace(b"(Banister ", b"(Banister 9."))
    assert "Another version" in said(capsys, "verify", page, "--job", job, code=3)
    page.write_bytes(re.sub(rb"journal:\d+", b"journal:9999", files[1].read_bytes()))
    assert "cut off" in said(capsys, "verify", page, "--job", job, code=1)
    page.write_bytes(re.sub(rb"sha256:[0-9a-f]{64}", b"sha256:" + b"0" * 64, files[1].read_bytes()))
    assert "No joint of the job" in said(capsys, "verify", page, "--job", job, code=1)
    assert "Only a traveller" in said(capsys, "verify", files[0], "--job", job, code=3)
    record["passes"][0]["planned"]["amps"] += 1
    changed = tmp_path / "changed.json"
    changed.write_text(json.dumps(record), encoding="utf-8")
    out = said(capsys, "verify", files[0], changed, code=1)
    assert "They differ." in out and "$.passes[0].planned.amps" in out
    assert "for another state" in said(capsys, "verify", changed, code=1)
    other = tmp_path / "other.json"
    other.write_text("{}", encoding="utf-8")
    assert "cannot be checked" in said(capsys, "verify", other, code=3)
    assert run(["verify", str(tmp_path / "nowhere")]) == 4
    text = tool("pdftotext", files[1].read_bytes(), tmp_path, "-layout")
    assert "as planned" in text and "as welded" in text and record_digest(json.loads(files[0].read_text(encoding="utf-8")))[:4] in text
    rows = list(csv.reader((tmp_path / "csv" / "passes.csv").read_text(encoding="utf-8").splitlines()))
    assert len(rows) == 12 and rows[1][rows[0].index("temperature_before_c")] == "96"
    assert run(["record", str(job), "--joint", "G1", "--sign", " ", "welder"]) == 2


def test_a_later_change_leaves_a_signature_for_another_state(job: Path, seen: Path, capsys: pytest.CaptureFixture) -> None:
    said(capsys, "record", job, "--joint", "F2", "--sign", "K7", "inspector")
    said(capsys, "inspect", job, "--joint", "F2", "--set", "iso5817-c", "--add", seen, code=1)
    out = said(capsys, "record", job, "--joint", "F2")
    assert "for another state, " in out and "fields since: " in out and "inspection." in out, "what changed since is named"


def test_a_photo_is_taken_in_and_an_etched_section_is_printed(job: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    photo = tmp_path / "cap.png"
    photo.write_bytes(b"\x89PNG made up")
    said(capsys, "inspect", job, "--joint", "P4", "--photo", photo, "--of", "139", "--by", "Q2", code=1)
    kept = records_of(job)[-1]
    assert kept.k == "photo" and kept.d["path"] == "cap.png" and kept.d["of"] == 139 and photo_state(kept.d, job) == "there"
    assert "1 photo is named" in said(capsys, "record", job, "--joint", "P4")
    assert run(["inspect", str(job), "--joint", "P4", "--photo", str(job)]) == 4 and "no picture" in capsys.readouterr().err
    assert run(["inspect", str(job), "--joint", "P4", "--etched"]) == 2 and "no etched section of P4" in capsys.readouterr().err
    outlines = [p.outline_mm for p in decoded(job.read_bytes()).job.issued[-1].plan.passes]
    one = Etched(dict(kept.d), Overlay(0.04 + 0j, 0j), traced=tuple(outlines))
    with_lock = Journal(journal_path(job), "Ottermere Lock lift bridge")
    with_lock.write("etched", "P4", **one.recorded())
    with_lock.close()
    assert f"pass {len(outlines)}: " in said(capsys, "inspect", job, "--joint", "P4", "--etched")
    found = json.loads(said(capsys, "inspect", job, "--joint", "P4", "--etched", "--json"))
    assert found["photo_state"] == "there" and len(found["beads"]) == len(outlines) and found["walls"][0]["least_mm"] == 0.0


def test_no_cell_is_run_by_a_spreadsheet() -> None:
    text = written(("a", "b"), (("=1+1", "-5"), ("@x", -5.25), ("plain", True)))
    assert list(csv.reader(io.StringIO(text)))[1:] == [["'=1+1", "'-5"], ["'@x", "-5.25"], ["plain", "yes"]] and "\r\n" in text


def test_the_book_over_a_folder(job: Path, capsys: pytest.CaptureFixture, tmp_path: Path) -> None:
    (job.parent / "broken.banister").write_text("{", encoding="utf-8")
    found = document(capsys, "continuity", job.parent, "--on", "2026-11-28")
    (mark,) = [m for m in found["marks"] if m["mark"] == "K7"]
    assert mark["state"] == "in_force" and mark["until"] == "2027-05-27" and found["not_read"] == ["broken.banister"]
    (other,) = [m for m in found["marks"] if m["mark"] == "B3"]
    assert other["state"] == "soon" and other["until"] == "2026-12-17", "the demo's own today is 20 days before"
    out = said(capsys, "continuity", job.parent, "--on", "2027-05-28", "--csv", tmp_path / "book.csv", code=1)
    assert "lapsed" in out and "2027-05-27" in out and "broken.banister" in out and (tmp_path / "book.csv").read_text(encoding="utf-8").startswith("mark,")
    assert run(["continuity", str(job.parent), "--on", "soon"]) == 2 and run(["continuity", str(tmp_path / "none")]) == 2


def test_test_pieces_are_offered_cut_and_printed(job: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    out = said(capsys, "testpieces", job, "--joint", "F2")
    assert "none chosen by itself" in out and "unverified" in out
    page = tmp_path / "pieces.pdf"
    cut = document(capsys, "testpieces", job, "--joint", "F2", "--rule", "9", "--pdf", page)
    text = tool("pdftotext", page.read_bytes(), tmp_path)
    assert "F2-1 side bend, face up" in " ".join(text.split()) and text.count("measure it before") == 4, "900 mm over four pages at their true size"
    assert [one["piece"] for one in cut["pieces"]] == ["side bend"] * 2 and cut["weighted_overlap_mm"] == 0.0
    assert "o'clock" not in (ring := said(capsys, "testpieces", job, "--joint", "P4", "--rule", "10")) and "root bend   1:" in ring
    assert "short" in said(capsys, "testpieces", job, "--joint", "F2", "--pieces", ",".join(["impact set"] * 15), code=1)
    assert run(["testpieces", str(job), "--joint", "F2", "--rule", "3"]) == 2 and run(["testpieces", str(job), "--joint", "F2", "--pieces", "cake"]) == 2
