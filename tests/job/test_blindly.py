"""Nothing is believed blindly: issued sheets, rods and jobs mutated leaf by leaf are refused in words or hold; nothing crashes, hangs or grows."""

from __future__ import annotations

import copy
import json
import os
import random
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest

from banister.cli.errors import UNREADABLE, USAGE
from banister.cli.main import run
from banister.core.drawing.section import section_drawing
from banister.core.plan.answers import plan_joint
from banister.job.codec import decoded, salvaged
from banister.job.files import read
from banister.job.journal import journal_path
from banister.job.library import data_file
from banister.job.reading import FileFault
from tests.conftest import SAY

DEMO = json.loads(data_file("demo.banister").read_bytes())
WRONG: tuple[Any, ...] = (None, True, -1, 0, 9999, -5.0, 1e18, 1e300, float("nan"), "", "xx", "/etc/passwd", [], {}, [[]], [1, 2, 3], {"a": 1}, "9" * 500)


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Paths to every leaf of a document."""
    if isinstance(value, dict | list) and value:
        for key, one in value.items() if isinstance(value, dict) else enumerate(value):
            yield from leaves(one, (*path, key))
    elif path:
        yield path


def changed(path: tuple[Any, ...], value: Any) -> dict[str, Any]:
    """The demo with one leaf replaced."""
    document = copy.copy(DEMO)
    at: Any = document
    for key in path[:-1]:
        at[key] = copy.copy(at[key])
        at = at[key]
    at[path[-1]] = value
    return document


def refused(document: Any) -> str:
    with pytest.raises(FileFault) as fault:
        decoded(json.dumps(document).encode())
    return " ".join(SAY.faults(fault.value.remarks))


PASS = ("issued", 0, "plan", "passes", 0)


@pytest.mark.parametrize(("path", "value", "said"), [
    ((*PASS, "amps"), 9999, "passes[0].amps"), ((*PASS, "area_mm2"), -5, "passes[0].area_mm2"), ((*PASS, "role"), "xx", "root, hot, fill, cap"),
    ((*PASS, "side"), "xx", "front, back"), ((*PASS, "outline_mm"), [0, 0, 1e18, 0, 1e18, 1e18], "outline"), ((*PASS, "rod_count"), -3, "rod_count"),
    ((*PASS, "arc_energy_kj_mm"), 7.7, "does not follow"), ((*PASS, "arc_time_s"), 1.0, "come to"), ((*PASS, "number"), 4, "number 1"),
    ((*PASS, "key"), "p2", "twice"), (("issued", 0, "heat", "schedule", "passes", 0, "start_s"), 1e300, "time that cannot be"),
    (("issued", 0, "heat", "schedule", "passes", 0, "temp_c"), 1e9, "temperature"), (("issued", 0, "plan", "sequence", 0, "passes", 0), "zz", "no pass 'zz'"),
    (("issued", 0, "heat", "schedule", "passes", 0, "hottest_station"), "", "start, middle, end"),
    (("issued", 0, "heat", "wait_bands_s"), [[0, 1]], "does not go with its schedule"), (("issued", 0, "heat", "times", 3), 1e300, "does not go"),
    (("issued", 0, "judgement", "remarks", 0, 1), "not(judged", "cannot be said"),
    (("issued", 0, "judgement", "remarks", 0, 0), "none.such", "cannot be said"),
    (("issued", 0, "rods"), [*(own := DEMO["issued"][0]["rods"]), own[0] | {"type": "E7016", "diameter_mm": -4}], "issued[0].rods[1].diameter_mm"),
    (("job", "rods", 0, "process"), "xx", "SMAW, GTAW"), (("job", "rods", 0, "amps_low"), 190, "above the upper"), (("job", "rods", 0, "stub_mm"), 150, "stub"),
])  # fmt: skip
def test_what_cannot_stand_is_refused_at_its_place(path: tuple[Any, ...], value: Any, said: str) -> None:
    document = changed(path, value)
    if path[-1] == "stub_mm":
        document["job"]["rods"][0] = document["job"]["rods"][0] | {"length_mm": 120.0}
    assert said in refused(document)


def test_a_key_that_stands_twice_is_refused() -> None:
    data = data_file("demo.banister").read_bytes().replace(b'"root_gap_mm": 3.0', b'"root_gap_mm": 3.0, "root_gap_mm": 4.0', 1)
    with pytest.raises(FileFault, match="twice"):
        decoded(data)


def test_every_leaf_replaced_is_refused_in_words_or_plans(seed: int = 7, rounds: int = 30) -> None:
    """A sample of leaves, each with something else in its place: read, saved as far as it goes, planned, drawn; the whole trial is `tests.faults.mutate`."""
    draw = random.Random(seed)
    paths = list(leaves(DEMO))
    for _ in range(rounds):
        path, value = draw.choice(paths), draw.choice(WRONG)
        data = json.dumps(changed(path, value)).encode()
        begun = time.monotonic()
        try:
            job = decoded(data).job
        except FileFault as broken:
            assert all(line for line in SAY.faults(broken.remarks)), (path, value)
            salvaged(data)
            continue
        if path[0] == "job" and "joints" in path:
            joint = job.joints[path[2]]
            plan = plan_joint(joint, job.rods_by_id, joint.working.chosen)
            section_drawing(joint, plan, SAY)
        assert time.monotonic() - begun < 5.0, (path, value)


# --- the command line -----------------------------------------------------------------------------
def banister(*arguments: str | bytes, **options: Any) -> subprocess.CompletedProcess[bytes]:
    return subprocess.run([sys.executable, "-m", "banister", *arguments], capture_output="stdout" not in options, timeout=60, check=False,
                          **({"stderr": subprocess.PIPE} if "stdout" in options else {}), **options)  # fmt: skip


def test_no_command_shows_a_traceback_or_writes_over_the_job(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = tmp_path / "job.banister"
    job.write_bytes(data_file("demo.banister").read_bytes())
    journal_path(job).write_bytes(data_file("demo.banister-journal").read_bytes())
    before, told = job.read_bytes(), journal_path(job).read_bytes()
    (tmp_path / "same.csv").hardlink_to(job)
    (tmp_path / "link.csv").symlink_to(journal_path(job))
    for option in ("--pdf", "--csv", "--svg"):
        for path in (job, journal_path(job), tmp_path / "same.csv", tmp_path / "link.csv"):
            assert run(["plan", str(job), "--joint", "F2", option, str(path)]) == USAGE and "choose another name" in capsys.readouterr().err
    assert (job.read_bytes(), journal_path(job).read_bytes()) == (before, told)
    os.mkfifo(tmp_path / "fifo")
    for name in ("fifo", "/dev/zero", "none", ".", ""):
        assert run(["plan", str(tmp_path / name) if name == "fifo" else name]) == UNREADABLE
    assert run(["new", "--thickness", "12", "-o", str(tmp_path / ("x" * 300))]) == UNREADABLE
    assert run(["new", "--thickness", "9" * 400, "-o", str(tmp_path / "a.banister")]) == USAGE
    deep = tmp_path / "deep.banister"
    deep.write_bytes(b"[" * 20_000_000)
    begun = time.monotonic()
    assert run(["plan", str(deep)]) == UNREADABLE and time.monotonic() - begun < 2.0
    capsys.readouterr()


def test_a_full_disk_and_a_name_that_is_no_text_are_said(tmp_path: Path) -> None:
    job = str(data_file("demo.banister"))
    with open("/dev/full", "w", encoding="utf-8") as full:
        done = banister("plan", job, "--joint", "F2", stdout=full)
    assert done.returncode == UNREADABLE and b"No space left" in done.stderr and b"Traceback" not in done.stderr
    name = os.fsencode(tmp_path) + b"/\xff\xfe.banister"
    assert banister("new", "--thickness", "14", "-o", name).returncode == 0 and os.path.exists(name)
    assert read(Path(os.fsdecode(name))).job.name == "\N{REPLACEMENT CHARACTER}" * 2


def test_two_writers_lose_no_joint(tmp_path: Path) -> None:
    """Two at once: both are added, or one is told that the file is held; what is told as added is there."""
    path = tmp_path / "job.banister"
    assert banister("new", "--thickness", "14", "--joint", "A", "-o", str(path)).returncode == 0
    with ThreadPoolExecutor(3) as pool:
        done = list(pool.map(lambda i: (i, banister("new", "--thickness", "14", "--joint", f"N{i}", "--add", "-o", str(path)).returncode), range(5)))
    added = {f"N{i}" for i, code in done if code == 0}
    assert {j.id for j in read(path).job.joints} == {"A"} | added and added and all(code in (0, USAGE, UNREADABLE) for _, code in done)
