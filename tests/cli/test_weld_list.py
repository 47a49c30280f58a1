"""The weld list: alike welds planned once, totals that add up, a list written and read again the same, every fault with line and column."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from banister.cli.errors import OUTSIDE, UNREADABLE
from banister.cli.main import run
from banister.core.joint.joint import edited
from banister.core.limits.windows import Window
from banister.core.listing.totals import GROUPS, NONE, purchases, totals
from banister.core.listing.welds import BEGUN, BLOCKED, PLANNED, WELDED, listed
from banister.core.plan.answers import plan_joint
from banister.core.value import replace
from banister.job.codec import encoded
from banister.job.files import read
from banister.job.journal import journal_path, records_of
from banister.job.library import data_file, demo_job, shipped_rods
from banister.job.reading import FileFault
from banister.job.weld_csv import read_welds, taken_in, weld_csv
from tests.conftest import SAY

LIST = """id,name,drawing,preparation,thickness_mm,root_gap_mm,backing,length_mm,pipe_od_mm,position,procedure,welder,alike,week
S1,Sill seam,OL-301,single-v,14,3,open,800,,3G,OL-12,K7,4,2026-W50
S2,Sill bevel,OL-301,single-bevel,18,8,bar,650,,2G,,,1,
P9,Vent pipe,OL-302,single-v,9.5,2.5,open,,273.1,5G,OLP-12,,2,2026-w51
T1,Stiffener,OL-303,fillet-tee,10,,,300,,2F,,,12,
"""


@pytest.fixture
def listing(tmp_path: Path) -> Path:
    path = tmp_path / "welds.csv"
    path.write_text(LIST, encoding="utf-8")
    return path


def whole(job: Any, records: Any = ()) -> Any:
    *_, last = listed(job, records)
    return last


def test_what_is_alike_is_planned_once_and_adds_up() -> None:
    job = demo_job()
    base = job.joint("F2")
    alike = tuple(replace(base, id=f"N{i}", name=f"seam {i}", drawing=f"OL-{i}", welder="", alike=i + 1, week="2026-W50") for i in range(5))
    job = replace(job, joints=(*alike, edited(base, id="other", thickness_mm=19.0), edited(base, id="none", root_gap_mm=14.0)), issued=())
    found = whole(job)
    assert (found.kinds, found.of) == (3, 7) and [w.state for w in found.welds[-2:]] == [PLANNED, BLOCKED]
    plan = plan_joint(base, job.rods_by_id, base.working.chosen)
    rods = sum(p.rod_count for p in plan.passes)
    assert [sum(w.rods.values()) for w in found.welds[:5]] == [rods * n for n in range(1, 6)]
    assert found.welds[2].seconds == pytest.approx(3 * plan.total_time_s) and found.welds[2].length_mm == 3 * 900.0
    (all_of_it,) = totals(found.welds, NONE)
    for by in GROUPS:
        parts = totals(found.welds, by)
        for name in ("welds", "length_mm", "beads", "rods", "metal_kg", "seconds"):
            assert sum(getattr(t, name) for t in parts) == pytest.approx(getattr(all_of_it, name)), (by, name)
    buy = purchases(found.welds, job.rods_by_id, 10.0, 5.0)
    assert sum(p.needed for p in buy) == all_of_it.rods
    for p in buy:
        assert 1.1 * p.needed <= p.with_spare < 1.1 * p.needed + 1 and p.packets * 5.0 >= p.kg > (p.packets - 1) * 5.0
    growing = [len(part.welds) for part in listed(job)]
    assert growing == sorted(growing) and growing[-1] == 7


def test_a_list_says_how_far_each_weld_is() -> None:
    job, records = demo_job(), records_of(data_file("demo.banister"))
    states = {w.joint.id: w.state for w in whole(job, records).welds}
    assert states == {"F2": PLANNED, "G1": BEGUN, "P4": WELDED, "H1": PLANNED}


def test_a_list_is_read_planned_and_written_the_same(listing: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = tmp_path / "sill.banister"
    assert run(["import", str(listing), "-o", str(job)]) == 0 and "4 added, 0 changed" in capsys.readouterr().out
    found = read(job).job
    assert [(j.id, j.alike, j.week, j.piece.form) for j in found.joints] == [
        ("S1", 4, "2026-W50", "plate"), ("S2", 1, "", "plate"), ("P9", 2, "2026-W51", "pipe"), ("T1", 12, "", "plate")]  # fmt: skip
    assert all(plan_joint(j, found.rods_by_id).feasible for j in found.joints), "with the rods that are usual for each"
    assert run(["list", str(job), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [w["state"] for w in told["welds"]] == [PLANNED] * 4 and told["totals"][0]["welds"] == 19
    written = tmp_path / "again.csv"
    assert run(["list", str(job), "--csv", str(written)]) == 0
    again = read_welds(written, shipped_rods(), {j.id: j for j in found.joints})
    assert again == found.joints, "what is written reads back as it was"
    now, added, changed = taken_in(found, again, shipped_rods())
    assert (now, added, changed) == (found, 0, 0)
    written.write_text(written.read_text().replace(",800,", ",1000,"), encoding="utf-8")
    assert run(["import", str(written), "-o", str(job)]) == 0 and "0 added, 1 changed" in capsys.readouterr().out
    assert read(job).job.joint("S1").piece.length_mm == 1000.0 and read(job).job.joint("S1").working.rods == found.joint("S1").working.rods


def test_a_weld_taken_in_under_a_procedure_takes_its_limits() -> None:
    amps = Window(quantity="amps", low=80.0, high=140.0)
    job = demo_job().with_procedure(replace(demo_job().procedures[0], windows=(amps,)))
    now, _, changed = taken_in(job, (replace(job.joint("H1"), procedure="OL-12"),), shipped_rods())
    assert changed == 1 and [(w.quantity, w.low, w.high) for w in now.joint("H1").working.windows] == [("amps", 80.0, 140.0)]


def test_every_fault_is_told_at_once_and_nothing_is_taken(listing: Path, tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = tmp_path / "job.banister"
    job.write_bytes(encoded(demo_job()))
    before = job.read_bytes()
    bad = LIST.replace("single-bevel", "star").replace(",14,", ",1400,").replace("2026-w51", "week 51").replace("T1,", ",").replace(",650,", ",six,")
    listing.write_text(bad, encoding="utf-8")
    assert run(["import", str(listing), "-o", str(job)]) == UNREADABLE and job.read_bytes() == before
    said = capsys.readouterr().err
    assert "line 3, length_mm" in said, "cells first"
    listing.write_text(bad.replace(",six,", ",650,"), encoding="utf-8")
    with pytest.raises(FileFault) as broken:
        read_welds(listing, shipped_rods(), {})
    said = " | ".join(SAY.faults(broken.value.remarks))
    assert all(word in said for word in ("line 2, thickness", "line 3, preparation: 'star'", "line 4, week", "line 5, id")) and "2026-W48" in said
    listing.write_text(LIST.replace("S2,", "S1,").replace(",12,", ",0,"), encoding="utf-8")
    with pytest.raises(FileFault) as broken:
        read_welds(listing, shipped_rods(), {})
    assert {r.code for r in broken.value.remarks} == {"joint.id", "welds.alike"}


def test_no_cell_of_the_list_is_run_by_a_spreadsheet(tmp_path: Path) -> None:
    job = demo_job()
    nasty = replace(job, joints=(replace(job.joint("F2"), id="=1+1", name="@SUM(A1)", drawing="-5"),), issued=())
    text = weld_csv(whole(nasty).welds)
    assert "'=1+1,'@SUM(A1),'-5" in text
    path = tmp_path / "n.csv"
    path.write_text(text, encoding="utf-8")
    assert read_welds(path, shipped_rods(), {"=1+1": nasty.joints[0]}) == nasty.joints


def test_the_list_is_printed_with_what_to_buy(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    job = tmp_path / "job.banister"
    job.write_bytes(encoded(replace(demo_job(), joints=(*demo_job().joints, edited(demo_job().joint("F2"), id="X", root_gap_mm=14.0)))))
    journal_path(job).write_bytes(data_file("demo.banister-journal").read_bytes())
    assert run(["list", str(job), "--by", "procedure", "--spare", "20"]) == OUTSIDE, "one cannot be planned"
    said = capsys.readouterr().out
    assert run(["list", str(job), "--by", "procedure", "--inches"]) == OUTSIDE
    by_pound = capsys.readouterr().out
    assert " kg " in said and "kg to buy" in said and " lb " not in said
    assert " lb " in by_pound and "lb to buy" in by_pound and "kg" not in by_pound, "a column of pounds is headed so"
    assert "5 of 11 welded" in said and "OLP-12" in said and "With 20 % to spare" in said and "cannot be planned" in said
