"""What the trade does: rods to start from, downhill, fillets, turns, stainless, and words that are true."""

from __future__ import annotations

import csv
import io

import pytest

from banister.cli.main import run
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import Choices, RodUse
from banister.core.judge.judgement import Documents, judged
from banister.core.plan import rules
from banister.core.plan.answers import plan_joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.sequence import between_said
from banister.core.plan.timing import turning_s
from banister.core.remark import OUTSIDE, WATCH
from banister.core.rods.ranges import usual_amps
from banister.core.rods.usual import usual_rods
from banister.export.tables import pass_csv
from banister.job.files import read
from banister.job.library import shipped_rods
from tests.conftest import SAY, make_joint, rods_by_id

RODS = rods_by_id()


def sizes(joint: Joint, role: str) -> set[str]:
    return {use.rod.split("x")[0] for use in usual_rods(shipped_rods(), joint) if use.role == role}


@pytest.mark.parametrize(
    ("fields", "role", "expected"),
    [
        ({"position": "1G"}, "fill", {"E7018-3.2", "E7018-4.0"}), ({"position": "4G"}, "fill", {"E7018-2.5", "E7018-3.2"}),
        ({"position": "3G", "thickness_mm": 12.0}, "cap", {"E7018-2.5", "E7018-3.2"}),
        ({"position": "3G", "thickness_mm": 22.0}, "cap", {"E7018-3.2", "E7018-4.0"}),
        ({"form": "pipe", "pipe_od_mm": 141.3, "position": "1G"}, "fill", {"E7018-2.5", "E7018-3.2"}), ({"thickness_mm": 6.0}, "root", {"E6010-2.5"}),
        ({"form": "pipe", "pipe_od_mm": 406.4, "position": "5G", "progression": "down"}, "root", {"E6010-4.0"}),
        ({"form": "pipe", "pipe_od_mm": 406.4, "position": "5G", "progression": "down"}, "fill", {"E6010-4.0", "E6010-5.0"}),
        ({"backing": "bar"}, "root", {"E7018-3.2", "E7018-4.0"}), ({"stainless": True}, "root", {"E308L-16-2.5", "E308L-16-3.2"}),
    ],
)  # fmt: skip
def test_rods_to_start_from_go_by_position_wall_and_bore(fields: dict, role: str, expected: set[str]) -> None:
    assert sizes(make_joint(**fields), role) == expected


def test_a_named_rod_wins_over_a_technique(tmp_path: object) -> None:
    path = str(tmp_path / "j.banister")
    assert run(["new", "--thickness", "22", "--rod", "fill=E7018:3.2", "--technique", "cellulosic-root", "-o", path]) == 0
    uses = read(tmp_path / "j.banister").job.joints[0].working.rods
    assert [u.rod for u in uses if u.role == "fill"] == ["E7018-3.2x350"] and {u.rod for u in uses if u.role == "cap"} == {"E7018-3.2x350", "E7018-4.0x450"}


def test_pipe_downhill_is_pipeline_practice() -> None:
    pipe = make_joint(form="pipe", pipe_od_mm=406.4, position="5G", progression="down", thickness_mm=12.7, root_gap_mm=1.6, root_face_mm=1.6)
    pipe = edited(pipe, rods=usual_rods(shipped_rods(), pipe))
    plan = plan_joint(pipe, RODS)
    assert plan.feasible and not any(r.code.startswith("root.") for r in plan.remarks), "gap and face as they are cut for it"
    assert all(200 <= p.travel_mm_min <= 400 for p in plan.passes if p.rod.diameter_mm == 4.0)
    rod = RODS["E6010-4.0x350"]
    assert usual_amps(rod, pipe.attitudes("root")) > usual_amps(rod, ("overhead",)), "no step down overhead"
    assert rules.bridged_cores(inputs_of(pipe), rod) == ((0.35, 1.0), 0.5)


def test_the_hot_pass_is_hotter_than_the_root() -> None:
    root, hot = plan_joint(make_joint(thickness_mm=16.0), RODS).passes[:2]
    assert (root.role, hot.role) == ("root", "hot") and root.rod == hot.rod and hot.amps > 1.05 * root.amps


def test_a_ground_gouge_is_never_begun_with_a_cellulosic_rod() -> None:
    plan = plan_joint(make_joint(key="double-v", thickness_mm=24.0, second_side="gouge"), RODS)
    assert plan.passes[0].rod.family == "cellulosic" and all(p.rod.family == "basic" for p in plan.passes if p.side == "back")


@pytest.mark.parametrize(
    ("position", "leg", "runs"), [("1F", 6.0, 1), ("2F", 6.0, 1), ("3F", 8.0, 1), ("4F", 6.0, 1), ("2F", 12.0, 4), ("3F", 12.0, 3)],
)  # fmt: skip
def test_fillets_are_one_run_where_the_position_and_the_rod_allow(position: str, leg: float, runs: int) -> None:
    joint = make_joint("closed", key="fillet-tee", thickness_mm=16.0, position=position, leg_left_mm=leg, leg_right_mm=leg, root_gap_mm=0.0, root_face_mm=0.0)
    plan = plan_joint(joint, RODS)
    assert plan.feasible and len(plan.passes) == runs
    assert {joint.role_word(p.role) for p in plan.passes} <= {"role.root", "role.fill", "role.face"}
    assert all(p.run_out_mm <= 2.0 * p.rod.burnt_mm + 1e-6 for p in plan.passes)
    if (position, leg) == ("3F", 12.0):
        assert all(60 <= p.travel_mm_min <= 140 for p in plan.passes)


def test_a_fillet_round_a_pipe_goes_round_it() -> None:
    joint = make_joint("closed", key="fillet-lap", thickness_mm=8.0, form="pipe", pipe_od_mm=60.3, position="5F", leg_left_mm=5.0, leg_right_mm=5.0,
                       root_gap_mm=0.0, root_face_mm=0.0)  # fmt: skip
    joint = edited(joint, rods=usual_rods(shipped_rods(), joint))
    plan = plan_joint(joint, RODS)
    assert plan.feasible and plan.passes[0].length_mm == pytest.approx(3.14159 * (60.3 + 2 * 5.0 / 3), rel=1e-3)
    assert "overhead" in joint.attitudes("cap") and joint.place.iso("up") == "PH"


@pytest.mark.parametrize(("position", "seconds", "said"), [("1G", 600.0, "turn the work"), ("3G", 120.0, "go round"), ("4G", 600.0, "turn the work")])
def test_turns_cost_what_they_cost_and_are_lines_of_their_own(position: str, seconds: float, said: str) -> None:
    joint = make_joint(key="double-v", thickness_mm=24.0, position=position, second_side="gouge")
    plan = plan_joint(joint, RODS)
    assert turning_s(joint, joint.working.choices) == seconds
    (lines,) = between_said(joint, joint.working.choices, plan, SAY).values()
    assert said in lines[0] and "gouge" in lines[1]
    rows = list(csv.DictReader(io.StringIO(pass_csv(joint, plan))))
    assert next((r["role"], r["side"], r["between_s"]) for r in rows if not r["pass"]) == ("turn", "back", f"{seconds:.0f}")
    assert [r["side"] for r in rows if r["pass"]] == [p.side for p in plan.passes]


def test_a_sealing_run_is_called_one() -> None:
    joint = make_joint("closed", root_gap_mm=0.0, root_face_mm=1.0, second_side="seal")
    words = {joint.role_word(p.role, p.side) for p in plan_joint(joint, RODS).passes if p.side == "back"}
    assert words == {"role.seal"} and SAY("role.seal") == "sealing run"


def test_carbon_rods_on_austenitic_plate_are_outside_and_the_other_way_round_worth_a_word() -> None:
    def codes(joint: Joint, verdict: str) -> set[str]:
        return {r.code for r in judged(joint, plan_joint(joint, RODS), None, Documents()).of(verdict)}

    stainless = make_joint(stainless=True, thickness_mm=12.0)
    assert "rod.metal" in codes(stainless, OUTSIDE)
    right = edited(stainless, rods=usual_rods(shipped_rods(), stainless))
    assert plan_joint(right, RODS).feasible and "rod.metal" not in codes(right, OUTSIDE)
    unlike = make_joint("bar", thickness_mm=12.0, rods=tuple(RodUse(role=role, rod="E309L-16-3.2x350") for role in ("root", "fill", "cap")))
    assert "rod.metal.stainless" in codes(unlike, WATCH)


def test_what_is_wide_is_called_a_weave_and_stringers_only_keeps_to_stringers() -> None:
    wide = plan_joint(make_joint("bar", thickness_mm=30.0), RODS)
    assert all((p.technique == "weave") == (p.width_mm > 3.3 * p.rod.diameter_mm) for p in wide.passes)
    narrow = plan_joint(make_joint("bar", thickness_mm=30.0, choices=Choices(stringers_only=True)), RODS)
    assert narrow.feasible and all(p.width_mm <= 3.0 * p.rod.diameter_mm + 0.35 for p in narrow.passes)
