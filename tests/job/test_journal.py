"""The journal: nothing acknowledged is lost, nothing altered goes unseen, nothing is erased."""

from __future__ import annotations

import hashlib
import json
import math
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from banister.cli.errors import OUTSIDE
from banister.cli.main import run
from banister.core.inspect.observed import inspected
from banister.core.journal import NO_MARK, Record, chained, clock_jump_s, corrected, differs_from_known, folded, known_of, line_of, mark_of
from banister.core.value import replace
from banister.job.files import JobFile
from banister.job.journal import Journal, journal_path, read_journal
from banister.job.library import demo_job
from banister.job.reading import FileFault


@pytest.fixture
def written(tmp_path: Path) -> Path:
    """A journal of a dozen records, closed."""
    path = tmp_path / "job.banister-journal"
    journal = Journal(path, "Ottermere Lock")
    journal.write("lot", rod="E7018-3.2x350", lot="OL-4471", packets=2)
    for i in range(4):
        journal.write("care", lot="OL-4471", count=10 + i, what="out", by="K7")
    journal.write("tack", "F2", number=1, gap=3.1)
    journal.write("step", "H1", what="turn", side="back", by="K7")
    journal.write("note", "F2", "p3", at="2026-11-20T09:00:00Z", text="wind \u00fcber \u2192 shelter")
    journal.close()
    return path


def test_every_record_follows_the_one_before(written: Path) -> None:
    chain = read_journal(written)
    assert chain.whole and [r.n for r in chain.records] == list(range(1, len(chain.records) + 1)) and chain.records[0].k == "begun"
    mark = before = NO_MARK
    for line in written.read_text(encoding="utf-8").splitlines():
        body, _, own = line.rpartition(" ")
        mark = hashlib.sha256(mark.encode() + b"\n" + body.encode()).hexdigest()[:32]
        assert own == mark == mark_of(NO_MARK if line == written.read_text(encoding="utf-8").splitlines()[0] else before, body)
        before = mark
    assert chain.mark == mark and chain.id == written.read_text().splitlines()[0].rpartition(" ")[2]


def test_cut_at_every_byte_exactly_the_whole_records_are_left(written: Path) -> None:
    data = written.read_bytes()
    whole = chained(data).records
    for cut in range(len(data)):
        chain = chained(data[:cut])
        ended = data[:cut].count(b"\n")
        assert chain.fault is None and len(chain.records) in (ended, ended + 1) and chain.records == whole[: len(chain.records)]
        assert len(chain.records) == ended or data[cut : cut + 1] == b"\n", "a last record whole but for its end is kept"


def test_a_job_knows_what_its_journal_held(written: Path) -> None:
    """A cut-off end, another journal, one written anew: what no chain shows by itself."""
    data = written.read_bytes()
    known = known_of(chained(data))
    assert known is not None and known.n == len(data.splitlines()) and differs_from_known(chained(data), known) is None
    with_more = Journal(written, "Ottermere Lock")
    with_more.write("note", text="later")
    with_more.close()
    assert differs_from_known(read_journal(written), known) is None, "it goes on from there"
    cut = b"".join(data.splitlines(keepends=True)[:-1])
    other = Journal(written.with_name("other.banister-journal"), "another job")
    other.close()
    anew, mark = b"", NO_MARK
    for r in chained(data).records:
        line, mark = line_of(replace(r, d={**r.d, "count": 99}) if r.k == "care" else r, mark)
        anew += line
    wrong = {b"": "journal.missing", cut: "journal.cut", other.path.read_bytes(): "journal.other", anew: "journal.rewritten"}
    assert chained(anew).whole and [differs_from_known(chained(d), known).code for d in wrong] == list(wrong.values())
    job = written.with_name("job.banister")
    file = JobFile(job)
    file.journal = known
    file.save(demo_job())
    again = JobFile(job)
    assert again.open() == demo_job() and again.journal == known
    written.write_bytes(cut)
    assert run(["journal", str(job)]) == OUTSIDE


def test_one_bit_anywhere_is_found(written: Path) -> None:
    data = written.read_bytes()
    for i in range(len(data)):
        altered = bytearray(data)
        altered[i] ^= 1
        chain = chained(bytes(altered))
        assert not chain.whole or chain.torn, i
    lines = data.split(b"\n")
    for i in range(len(lines) - 2):
        assert not chained(b"\n".join(lines[:i] + lines[i + 1 :])).whole
        assert not chained(b"\n".join([*lines[:i], lines[i + 1], lines[i], *lines[i + 2 :]])).whole


def test_a_torn_tail_is_set_aside_and_said_and_damage_is_left_alone(written: Path) -> None:
    data = written.read_bytes()
    count = len(chained(data).records)
    written.write_bytes(data[:-20])
    journal = Journal(written, "Ottermere Lock")
    assert [r.k for r in journal.chain.records[count - 1 :]] == ["repaired", "session"]
    assert (written.parent / f"{written.name}.torn-1").read_bytes() == data[:-20][data[:-20].rfind(b"\n") + 1 :]
    journal.close()
    damaged = data[:200] + b"X" + data[201:]
    written.write_bytes(damaged)
    with pytest.raises(FileFault) as told:
        Journal(written, "Ottermere Lock")
    assert told.value.remarks[0].code == "journal.broken" and written.read_bytes() == damaged
    written.write_bytes(data[:-3] + b"x" + data[-2:])
    assert chained(written.read_bytes()).fault.code == "journal.last"


def test_one_writer_at_a_time_and_a_reader_beside_it(written: Path) -> None:
    journal = Journal(written, "Ottermere Lock")
    with pytest.raises(FileFault) as told:
        Journal(written, "Ottermere Lock")
    assert told.value.remarks[0].code == "journal.locked"
    before = len(read_journal(written).records)
    journal.write("note", text="beside a reader")
    assert len(read_journal(written).records) == before + 1
    journal.close()
    Journal(written, "Ottermere Lock").close()


WRITER = """
import sys
from pathlib import Path
from banister.job.journal import Journal
journal = Journal(Path(sys.argv[1]), "Ottermere Lock")
n = 0
while True:
    n = journal.write("note", text=f"word {n}").n
    print(n, flush=True)
"""


def test_killed_it_loses_nothing_that_was_acknowledged(tmp_path: Path) -> None:
    path = tmp_path / "k.banister-journal"
    for round_ in range(6):
        writer = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True)
        assert writer.stdout is not None
        said = [int(writer.stdout.readline()) for _ in range(5 + 3 * round_)]
        time.sleep(0.002 * round_)
        os.kill(writer.pid, signal.SIGKILL)
        said += [int(line) for line in writer.stdout.read().split("\n") if line.isdecimal()]
        writer.wait()
        chain = chained(path.read_bytes())
        assert chain.whole and len(chain.records) >= max(said)
    journal = Journal(path, "Ottermere Lock")
    assert journal.chain.whole
    journal.close()


def test_a_failing_disk_leaves_the_journal_as_it_was(written: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    journal = Journal(written, "Ottermere Lock")
    before = written.read_bytes()
    real = os.write
    monkeypatch.setattr(os, "write", lambda handle, data: real(handle, data[:10]))
    with pytest.raises(OSError):
        journal.write("note", text="half of it")
    assert written.read_bytes() == before
    monkeypatch.setattr(os, "write", real)
    assert journal.write("note", text="again").n == before.count(b"\n") + 1 and read_journal(written).whole
    after = written.read_bytes()
    for odd in ({"value": math.nan}, {"text": "x" * 70_000}, {"value": 2**60}, {"at": "yesterday", "text": "late"}):
        with pytest.raises(ValueError):
            journal.write("note", **odd)
    assert read_journal(written).whole and written.read_bytes() == after, "what could not be read again is not written"
    journal.close()


def test_corrections_set_and_void_and_erase_nothing(written: Path) -> None:
    journal = Journal(written, "Ottermere Lock")
    tack = next(r for r in journal.chain.records if r.k == "tack")
    journal.correct(tack.n, "misread", gap=3.4)
    journal.correct(tack.n, "wrong joint", j="G1")
    journal.correct(4, "counted twice", void=True)
    for nonsense in (1, 999, journal.chain.records[-1].n):
        journal.write("correct", of=nonsense, why="no", void=True)
    journal.close()
    chain = read_journal(written)
    after = corrected(chain.records)
    now = next(r for r in after.records if r.k == "tack")
    assert (now.d["gap"], now.j) == (3.4, "G1") and chain.records[tack.n - 1].d["gap"] == 3.1
    assert len(after.remarks) == 3 and {r.code for r in after.remarks} == {"journal.correct"}
    assert [r.d["gap"] for r in folded(chain.records, "G1").tacks] == [3.4] and folded(chain.records, "F2").tacks == ()
    assert len(folded(chain.records, "F2").care) == 3 and len(folded(chain.records, "F2").lots) == 1 and folded(chain.records, "H1").steps


ODD = [
    ("t", 5),
    ("t", "yesterday"),
    ("at", "2026-13-45"),
    ("m", math.nan),
    ("m", "1"),
    ("n", True),
    ("k", None),
    ("d", [1]),
    ("d", {"c": math.inf}),
    ("d", {"c": 2**60}),
]


@pytest.mark.parametrize(("name", "odd"), ODD)
def test_what_is_no_record_ends_the_chain_however_right_its_mark(written: Path, name: str, odd: object) -> None:
    lines = written.read_text(encoding="utf-8").splitlines()
    before = lines[-2].rpartition(" ")[2]
    body = json.dumps(json.loads(lines[-1].rpartition(" ")[0]) | {name: odd}, separators=(",", ":"))
    found = chained("\n".join([*lines[:-1], f"{body} {mark_of(before, body)}", ""]).encode())
    assert len(found.records) == len(lines) - 1 and found.fault is not None and found.fault.code == "journal.last"


def test_records_of_odd_forms_correct_nothing_and_are_not_seen(written: Path) -> None:
    def record(n: int, k: str, **d: object) -> Record:
        return Record(n=n, t="2026-11-30T10:00:00Z", m=float(n), b="b", k=k, j="F2", d=d)

    seen = record(1, "observation", kind="5011", s_mm=120.0, depth=0.6)
    for odd in (5, "x", [1, 2], None):
        after = corrected((seen, record(2, "correct", of=1, set=odd)))
        assert after.records[0] == seen and [r.code for r in after.remarks] == ["journal.correct"]
    for name, odd in (("side", [1]), ("toe", 3), ("depth", "deep"), ("number", 1.5), ("gauge", {}), ("s_mm", None), ("readings", "two"), ("length", math.inf)):
        assert inspected((replace(seen, d={**seen.d, name: odd}),), "F2").seen == (), name
    assert inspected((seen,), "F2").seen[0].depth == 0.6


def test_a_clock_that_was_set_is_recorded(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    journal = Journal(tmp_path / "c.banister-journal", "Ottermere Lock")
    real = time.time
    monkeypatch.setattr(time, "time", lambda: real() + 3600.0)
    journal.write("note", text="an hour on")
    assert [r.k for r in journal.chain.records[-2:]] == ["clock", "note"] and journal.chain.records[-2].d["stepped_s"] == pytest.approx(3600.0, abs=2.0)
    journal.close()
    first = Record(n=1, t="2026-05-04T06:41:07.120Z", m=100.0, b="5f2c", k="note")
    assert clock_jump_s(first, 1e9 + 10, 110.0, "5f2c", 1e9) is None and clock_jump_s(first, 1e9 + 10, 110.0, "aaaa", 0.0) is None
    line, mark = line_of(first, NO_MARK)
    assert line.decode().endswith(f" {mark}\n") and '"b":"5f2c"' in line.decode()


def test_the_command_prints_and_verifies(written: Path, capsys: pytest.CaptureFixture) -> None:
    job = written.with_suffix(".banister")
    assert journal_path(job) == written and run(["journal", str(job)]) == 0
    out = capsys.readouterr().out
    assert "OL-4471" in out and "entered later" in out and chained(written.read_bytes()).mark in out
    written.write_bytes(written.read_bytes().replace(b"OL-4471", b"OL-4472", 1))
    assert run(["journal", str(job), "--json"]) == 1 and run(["journal", str(written.parent / "none.banister")]) == 4
