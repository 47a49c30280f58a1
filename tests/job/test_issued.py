"""Issued sheets: frozen as they were, however the program's formulas change; passes keep their keys; the file stays small."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import pytest

from banister.cli.desk import Desk
from banister.cli.main import run
from banister.core.heat import fin
from banister.core.heat.line import heat_line
from banister.core.heat.preheat import OwnCell
from banister.core.job import Job
from banister.core.joint.heating import Reading
from banister.core.joint.joint import edited
from banister.core.joint.working import QUICKEST, Pin
from banister.core.journal import Record
from banister.core.plan.answers import answered, plan_joint
from banister.core.plan.identity import keyed, last_key
from banister.core.plan.plan import Plan
from banister.core.polygon import overlap
from banister.core.rods import ranges
from banister.core.rods.rod import Rod
from banister.core.sheet import changed_since, issued
from banister.core.standing import standing_plan
from banister.core.under_way import welded_of
from banister.core.value import replace
from banister.export.sheet import pass_sheets
from banister.job.codec import LARGEST_BYTES, decoded, encoded
from banister.job.files import JobFile, read
from banister.job.library import demo_job, shipped_rods, shipped_rows
from tests.conftest import SAY, make_joint, rods_by_id

RODS, DAY = rods_by_id(), date(2026, 11, 25)


def issuing_all(job: Job, day: str = "2026-11-25") -> Job:
    for joint in job.joints:
        plan = plan_joint(joint, job.rods_by_id, joint.working.chosen)
        job = job.issuing(issued(job.sheet_of(joint, plan, heat_line(joint, plan), shipped_rows(), DAY), day))
    return job


@pytest.fixture(scope="module")
def demo() -> Job:
    return issuing_all(demo_job())


@pytest.fixture(scope="module")
def deep() -> Job:
    joint = make_joint("bar", thickness_mm=26.0)
    return issuing_all(Job(name="deep", joints=(joint,), rods=shipped_rods()))


def with_other_formulas(monkeypatch: pytest.MonkeyPatch) -> None:
    """Another burn-off, another loss to the air, other comfortable sizes, as a later program might have."""
    burn_time, loss, comfort = Rod.burn_time_s, fin.loss, ranges.comfortable_area
    monkeypatch.setattr(Rod, "burn_time_s", lambda rod, amps: 1.2 * burn_time(rod, amps))
    monkeypatch.setattr("banister.core.heat.thermal.loss", lambda *at_c: 1.4 * loss(*at_c))

    def wider(*args: object) -> ranges.AreaRange:
        found = comfort(*args)
        return replace(found, low=0.8 * found.low, high=0.8 * found.high)

    monkeypatch.setattr("banister.core.plan.rules.comfortable_area", wider)
    monkeypatch.setattr("banister.core.plan.answers.answered", answered.__wrapped__)  # nothing is remembered of either


def test_a_sheet_reads_back_from_the_file_as_it_was_issued(demo: Job) -> None:
    assert decoded(encoded(demo)).job == demo


def test_what_was_issued_is_printed_cell_by_cell_as_it_was_whatever_the_program_has_learnt_since(
    demo: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture
) -> None:
    path, pdf = tmp_path / "demo.banister", tmp_path / "sheet.pdf"
    JobFile(path).save(demo)

    def on_screen() -> list[str]:
        printed = []
        for command in ("plan", "check --all", "heat"):
            run([*command.split(), str(path)])
            printed.append(capsys.readouterr().out)
        return printed

    def on_paper() -> bytes:
        run(["plan", str(path), "--pdf", str(pdf)])
        return pdf.read_bytes()

    before, paper = on_screen(), on_paper()
    with_other_formulas(monkeypatch)
    assert on_screen() == before and on_paper() == paper
    again = issuing_all(read(path).job, "2026-11-26")
    for sheet, old in zip(again.issued, demo.issued, strict=True):
        assert changed_since(old, sheet.joint, demo.rods) == ()
        assert sheet.plan.arc_time_s != old.plan.arc_time_s and sheet.heat.schedule != old.heat.schedule and sheet.issued_on != old.issued_on
    JobFile(path).save(again)
    assert all(now != was for now, was in zip(on_screen(), before, strict=True)), "the formulas must weigh, or nothing is shown"


def test_names_readings_and_papers_neither_plan_anew_nor_take_back_what_was_issued(demo: Job) -> None:
    joint = demo.joint("F2")
    sheet = demo.standing_for(joint)
    harmless = (
        {"procedure_revision": "9"}, {"spare_rods_percent": 30.0}, {"name": "another"}, {"drawing": "D-9"}, {"welder": ""}, {"group": "group 9"},
        {"readings": (Reading(at_s=60.0, x_mm=20.0, temp_c=90.0),)}, {"air_c": 5.0},
    )  # fmt: skip
    for fields in harmless:
        assert demo.with_joint(edited(joint, **fields)).standing_for(edited(joint, **fields)) == sheet, fields
    assert replace(demo, own_cells=(OwnCell(cell="table B 1", least_c=30.0),)).standing_for(joint) == sheet
    assert changed_since(sheet, edited(joint, procedure_revision="9", air_c=5.0), demo.rods) == ("heat", "names")
    for fields in ({"root_gap_mm": 3.5}, {"chosen": "fewest"}, {"rod_change_s": 30.0}, {"position": "1G"}):
        assert demo.standing_for(edited(joint, **fields)) is None and "plan" in changed_since(sheet, edited(joint, **fields), demo.rods)
    rod = replace(demo.rods_by_id["E7018-4.0x450"], burn_off_g_ah=7.0)
    assert demo.with_rod(rod).standing_for(joint) is None and demo.with_rod(rod).issued_for(joint) == sheet


def test_an_issued_answer_is_what_was_issued_while_another_is_chosen(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture) -> None:
    job = demo_job()
    sheet = job.issued_for(job.joint("G1"))
    with_other_formulas(monkeypatch)
    other = job.with_joint(edited(job.joint("G1"), chosen=QUICKEST))
    joint = other.joint("G1")
    assert standing_plan(other, joint, sheet.plan.answer) is sheet.plan and standing_plan(other, joint).answer == QUICKEST
    assert other.standing_for(joint) is None and changed_since(sheet, joint, other.rods) == ("plan",)
    JobFile(tmp_path / "demo.banister").save(other)
    assert run(["plan", str(tmp_path / "demo.banister"), "--joint", "G1", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)["joints"][0]["alternatives"][sheet.plan.answer]
    assert len(told["passes"]) == len(sheet.plan.passes) and told["cost_s"] == pytest.approx(sheet.plan.cost_s, rel=1e-4)


def test_a_joint_printed_before_it_is_issued_is_judged_with_its_heat_and_says_it_is_not_issued(tmp_path: Path) -> None:
    job, desk = demo_job(), Desk(today=DAY)
    sheet = desk.sheet(job, job.joint("H1"), whole=True)
    assert not sheet.is_issued and sheet.judgement.is_whole and len(pass_sheets([sheet], SAY)) > 10_000


# --- identity -----------------------------------------------------------------------------------
def by_place(plan: Plan) -> dict[str, str]:
    return {p.key: f"{p.side} {p.role} {p.layer} {p.aim_mm}" for p in plan.passes}


@pytest.mark.parametrize("fields", [{"key": "double-v", "thickness_mm": 35.0, "root_face_mm": 2.0, "second_side": "gouge"}, {"thickness_mm": 22.0}])
def test_a_pass_keeps_its_key_when_its_joint_is_planned_anew(fields: dict) -> None:
    joint = make_joint(**fields)
    before = plan_joint(joint, RODS)
    again = keyed(plan_joint(edited(joint, name="other"), RODS), before)
    assert by_place(again) == by_place(before) and [p.key for p in again.passes] == [p.key for p in before.passes]
    for changed in (edited(joint, root_gap_mm=3.2), edited(joint, sequence="turn-back"), edited(joint, extra_cap_bead=True)):
        plan = keyed(plan_joint(changed, RODS), before, last_key(before))
        keys = [p.key for p in plan.passes]
        assert len(set(keys)) == len(keys)
        old = {p.key: p for p in before.passes}
        for p in plan.passes:
            if p.key in old:
                was = old[p.key]
                assert (was.role, was.side) == (p.role, p.side) and overlap(was.outline_mm, p.outline_mm) > 0.4 * min(was.area_mm2, p.area_mm2)
            else:
                assert int(p.key[1:]) > last_key(before), "a new pass takes a number never used"
        assert {p.key for p in plan.passes if p.role == "root"} == {p.key for p in before.passes if p.role == "root"}
    turned = keyed(plan_joint(edited(joint, sequence="turn-back"), RODS), before)
    assert {p.key for p in turned.passes} == set(old)


def test_an_inserted_pass_takes_a_new_key_and_the_last_number_is_remembered() -> None:
    joint = make_joint("bar", thickness_mm=30.0)
    before = plan_joint(joint, RODS)
    target = next(p for p in before.passes if p.layer == 6)
    beads = sum(p.layer == 6 for p in before.passes)
    wider = edited(joint, pins=(Pin(x_mm=target.aim_mm[0], y_mm=target.aim_mm[1] - 1.0, role="fill", beads=beads + 1),))
    plan = keyed(plan_joint(wider, RODS), before)
    fresh = [p.key for p in plan.passes if p.key not in {q.key for q in before.passes}]
    assert fresh and min(int(key[1:]) for key in fresh) == last_key(before) + 1
    kept = [p.key for p in plan.passes if p.layer < 6]
    assert kept == [p.key for p in before.passes if p.layer < 6]
    shorter = keyed(before, plan, last_key(plan))
    again = keyed(plan, shorter, max(last_key(plan), last_key(shorter)))
    assert not set(fresh) & {p.key for p in again.passes if p.key not in {q.key for q in shorter.passes}}, "no number is used twice"


# --- size ---------------------------------------------------------------------------------------
def test_what_is_left_of_a_joint_is_the_same_whatever_became_of_its_rods_since(demo: Job, tmp_path: Path) -> None:
    JobFile(tmp_path / "j.banister").save(demo)
    job = read(tmp_path / "j.banister").job
    sheet = next(s for s in job.issued if len(s.rods) > len({p.rod.id for p in s.plan.passes}) and len(s.plan.passes) > 6)
    told = [(p.key, kind, data) for p in sheet.plan.passes[:3] for kind, data in (
        ("pass-begun", {"rod": p.rod.id, "amps": p.amps}), *[("rod", {"arc_s": p.rod.burn_time_s(p.amps), "run_out_mm": 0.7 * p.run_out_mm})] * p.rod_count,
        ("pass-ended", {"left": 0.0}))]  # fmt: skip
    records = [Record(n=n, t="2026-11-27T06:00:00.000Z", m=60.0 * n, b="b", k=kind, j=sheet.joint.id, p=key, d=data)
               for n, (key, kind, data) in enumerate(told, 1)]  # fmt: skip
    left = welded_of(sheet, job.rods_by_id, records)
    others = {rod.id: replace(rod, recovery=0.8 * rod.recovery, burn_off_g_ah=1.2 * rod.burn_off_g_ah) for rod in job.rods}
    assert len(left.now.welded) == 3 and welded_of(sheet, others, records) == left
    assert left.now != welded_of(replace(sheet, rods=()), others, records).now, "it would not be, had the sheet not kept them"


def test_an_issued_joint_of_22_passes_and_so_a_job_of_300_stay_small(deep: Job) -> None:
    (sheet,) = deep.issued
    passes = len(sheet.plan.passes)
    assert passes >= 20
    alone = len(encoded(deep)) - len(encoded(replace(deep, issued=())))
    assert alone <= 60_000 * passes / 22
    ids = [f"J{i}" for i in range(50)]
    joints = tuple(edited(sheet.joint, id=i) for i in ids)
    many = replace(deep, joints=joints, issued=tuple(replace(sheet, joint=joint) for joint in joints))
    data = encoded(many)
    assert len(data) <= 25_000_000 * len(ids) / 300 and encoded(many) == data
    assert decoded(data).job == many


def test_ten_issued_joints_as_thick_as_can_be_are_saved_and_opened_again(tmp_path: Path) -> None:
    joint = make_joint("bar", thickness_mm=150.0, bevel_left_deg=20.0, bevel_right_deg=20.0)
    job = issuing_all(Job(name="thick", joints=(joint,), rods=shipped_rods()))
    joints = tuple(edited(joint, id=f"J{i}") for i in range(10))
    thick = replace(job, joints=joints, issued=tuple(replace(job.issued[0], joint=one) for one in joints))
    path = tmp_path / "thick.banister"
    JobFile(path).save(thick)
    assert read(path).job == thick and path.stat().st_size < LARGEST_BYTES / 4 and len(thick.issued[0].plan.passes) > 100


def test_outlines_are_kept_to_a_hundredth_and_never_off_by_more_than_two(deep: Job) -> None:
    joint = deep.joints[0]
    plan = plan_joint(joint, deep.rods_by_id)
    for kept, full in zip(deep.issued[0].plan.passes, plan.passes, strict=True):
        assert len(kept.outline_mm) < len(full.outline_mm)
        assert overlap(kept.outline_mm, full.outline_mm) == pytest.approx(full.area_mm2, rel=0.02)
        assert kept.area_mm2 == pytest.approx(full.area_mm2, rel=1e-5)
