"""The front: exact, none beats another, its ends are the answers' own, and cards that are one plan share a card."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest

from banister.cli.main import run
from banister.core.drawing.charts.front import front_chart
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import ANSWERS, AT_ONCE, BETWEEN, QUICKEST, cap_of
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_answer, plan_joint, study_of
from banister.core.plan.front import cards, front_of, in_between
from banister.core.plan.hints import hints_of, window_costs
from banister.core.plan.inputs import inputs_of
from banister.core.value import replace
from banister.job.library import demo_job
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, texts_of

RODS = rods_by_id()
JOINTS = [
    make_joint(thickness_mm=20.0), make_joint("bar", thickness_mm=30.0, position="2G"), make_joint(key="double-v", thickness_mm=30.0, second_side="gouge"),
]  # fmt: skip


def study(joint: Joint) -> object:
    return study_of(inputs_of(joint, RODS.values()))


@pytest.mark.parametrize("joint", JOINTS, ids=["V", "horizontal", "double V"])
def test_no_point_of_the_front_beats_another_and_its_first_is_the_quickest(joint: Joint) -> None:
    found = study(joint)
    front = front_of(found.sides)
    assert len(front) > 1 and [p.time_s for p in front] == sorted(p.time_s for p in front)
    for a in front:
        assert not any(b is not a and b.time_s <= a.time_s and b.peak_kj_mm <= a.peak_kj_mm and b.passes <= a.passes for b in front)
    quickest = plan_answer(found, QUICKEST)
    assert front[0].passes == len(quickest.passes) and front[0].peak_kj_mm == pytest.approx(quickest.peak_arc_energy_kj_mm, rel=0.1)
    assert all(p.peak_kj_mm <= p.wish.energy_cap + 1e-9 for p in front)


def test_in_between_is_nobodys_worst() -> None:
    front = front_of(study(JOINTS[1]).sides)
    middle = in_between(front)

    def worst(point: object) -> float:
        axes = [[getattr(p, name) for p in front] for name in ("time_s", "peak_kj_mm", "passes")]
        return max((getattr(point, name) - min(axis)) / (max(axis) - min(axis)) for name, axis in zip(("time_s", "peak_kj_mm", "passes"), axes, strict=True))

    assert worst(middle) == min(worst(p) for p in front) < 1.0
    plan = plan_joint(JOINTS[1], RODS, BETWEEN)
    assert plan.feasible and plan.answer == BETWEEN and plan.peak_arc_energy_kj_mm <= 1.1 * middle.peak_kj_mm


def test_answers_that_are_one_plan_share_a_card_and_fewest_is_shown_where_it_saves_or_is_chosen() -> None:
    joint = make_joint(thickness_mm=20.0)
    plans = {answer: plan_joint(joint, RODS, answer) for answer in AT_ONCE}
    alike = plans | {answer: replace(plans["balanced"], answer=answer) for answer in AT_ONCE}
    (only,) = cards(alike, "balanced")
    assert only.answers == tuple(a for a in ANSWERS if a in AT_ONCE and a != "fewest"), "it saves none"
    (only,) = cards(alike, "fewest")
    assert only.answers == tuple(a for a in ANSWERS if a in AT_ONCE)
    longer = replace(plans["coolest"], passes=(*plans["coolest"].passes, plans["balanced"].passes[0]))
    assert cards(alike | {"coolest": longer}, "balanced")[0].answers == ("balanced", "quickest", "fewest")
    slower = plans | {"fewest": replace(plans["coolest"], answer="fewest", passes=(*plans["coolest"].passes[:-1], plans["balanced"].passes[0]))}
    shown = [card.answers[0] for card in cards(slower, "balanced")]
    assert "fewest" not in shown and "fewest" in [card.answers[0] for card in cards(slower, "fewest")]


def test_the_json_keeps_its_four_answers_and_adds_the_front(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = str(tmp_path / "j.banister")
    assert run(["new", "--thickness", "22", "--choose", "between", "-o", path]) == 0
    capsys.readouterr()
    assert run(["plan", path, "--json"]) == 0
    (joint,) = json.loads(capsys.readouterr().out)["joints"]
    assert set(joint["alternatives"]) == {*AT_ONCE, BETWEEN} and joint["chosen"] == BETWEEN
    assert len(joint["front"]) > 1 and set(joint["front"][0]) == {"time_s", "peak_arc_energy_kj_mm", "passes"}


@pytest.mark.parametrize("joint", JOINTS, ids=["V", "horizontal", "double V"])
def test_every_point_can_be_chosen_and_no_pass_of_its_plan_is_over_its_peak(joint: Joint) -> None:
    front = front_of(study(joint).sides)
    assert len({p.answer for p in front}) == len(front)
    for point in front[:: max(len(front) // 5, 1)]:
        name, cap = cap_of(point.answer)
        plan = plan_joint(edited(joint, chosen=point.answer), RODS, point.answer)
        assert plan.feasible and plan.answer == point.answer and name == point.wish.answer and point.peak_kj_mm <= cap <= point.peak_kj_mm + 0.001
        assert all(p.arc_energy_kj_mm <= cap * 1.0005 for p in plan.passes) and abs(len(plan.passes) - point.passes) <= 2
    coolest, cap = plan_joint(joint, RODS, "coolest"), 0.5 * front[-1].peak_kj_mm
    refused = plan_joint(joint, RODS, f"quickest:{cap:.3f}")
    assert {r.code for r in refused.reasons} == {"answer.over_cap"} and refused.reasons[0].figures["value"].value <= coolest.peak_arc_energy_kj_mm * 1.1
    cooler = plan_joint(edited(joint, thickness_mm=joint.prep.thickness_mm + 2.0), RODS, front[1].answer)
    assert cooler.peak_arc_energy_kj_mm <= cap_of(front[1].answer)[1] * 1.0005, "it stays what was asked for when the joint changes"


def test_an_answer_with_a_cap_is_kept_printed_and_held_against_nonsense(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    path = str(tmp_path / "j.banister")
    assert run(["new", "--thickness", "22", "--choose", "quickest:1.5", "-o", path]) == 0
    assert run(["plan", path, "--json"]) == 0
    (joint,) = json.loads(capsys.readouterr().out)["joints"]
    assert joint["chosen"] == "quickest:1.5" and max(p["arc_energy_kj_mm"] for p in joint["alternatives"]["quickest:1.5"]["passes"]) <= 1.501
    assert run(["plan", path, "--answer", "fewest:1.5"]) == 0 and "fewest passes up to 1.50 kJ/mm" in capsys.readouterr().out
    assert run(["plan", path, "--answer", "fewest:0.2"]) == 1 and "with every pass up to 0.20 kJ/mm" in capsys.readouterr().out
    for odd in ("quickest:", "quickest:-1", "coolest:1.5", "quickest:1e3", "quickest:nan", "quickest:1,5", "slowest", "quickest:500"):
        assert run(["plan", path, "--answer", odd]) == 2 and odd in capsys.readouterr().err
        assert run(["new", "--thickness", "22", "--choose", odd, "-o", str(tmp_path / "no.banister")]) == 2 and not (tmp_path / "no.banister").exists()


def test_windows_that_leave_little_leave_a_small_front() -> None:
    windows = (Window(quantity="arc_energy", role="fill", low=1.5, high=1.9), Window(quantity="arc_energy", role="cap", low=1.2, high=1.6))
    free, tight = (front_of(study(edited(JOINTS[0], windows=w)).sides) for w in ((), windows))
    assert 1 <= len(tight) < len(free)


@pytest.mark.parametrize("say", [SAY, SAY_INCH], ids=["mm", "inch"])
def test_the_picture_has_a_dot_for_every_point_and_is_picked_from(say: object) -> None:
    found = study(JOINTS[1])
    front, named = front_of(found.sides), {answer: plan_answer(found, answer) for answer in AT_ONCE}
    chart = front_chart(front, named, "balanced", (300.0, 190.0), say)
    assert set(chart.places) == set(named) and say("answer.balanced") in texts_of(chart.drawing)
    by_time = sorted(named, key=lambda answer: named[answer].total_time_s)
    assert chart.places[by_time[0]][0] <= chart.places[by_time[-1]][0]
    hottest, coolest = (pick(named, key=lambda answer: named[answer].peak_arc_energy_kj_mm) for pick in (max, min))
    assert chart.places[hottest][1] > chart.places[coolest][1]
    x, y = chart.places["quickest"]
    assert chart.answer_at((x + 2, y - 2)) == "quickest" and chart.answer_at((-50.0, -50.0)) is None
    assert set(chart.points) == {p.answer for p in front} and len(front) > 3
    lone = max(chart.points, key=lambda a: min(math.dist(chart.points[a], at) for b, at in {**chart.places, **chart.points}.items() if b != a))
    assert chart.answer_at(chart.points[lone]) == lone
    walked = ["quickest"]
    while (after := chart.beside(walked[-1], 1)) != walked[-1]:
        walked.append(after)
    assert set(walked) <= {*chart.points, *chart.places} and len(walked) > len(front) and chart.beside("", 1) == chart.beside(walked[0], -len(walked))
    ring = next(s for s in front_chart(front, named, "balanced", (300.0, 190.0), say, lone).drawing.shapes if getattr(s, "id", "") == "pointed")
    assert ring.at == chart.points[lone]


def test_a_tenth_more_of_leg_that_lets_a_larger_rod_in_is_a_hint_and_holds() -> None:
    def fillet(leg: float) -> Joint:
        return make_joint("closed", key="fillet-tee", thickness_mm=15.0, position="2F", leg_left_mm=leg, leg_right_mm=leg, root_gap_mm=0.0, root_face_mm=0.0)

    (hint,) = hints_of(study(fillet(5.3)).joint, study(fillet(5.3)).sides)
    less, more = plan_joint(fillet(5.3), RODS), plan_joint(fillet(5.3 + hint.figures["more"].value), RODS)
    assert more.arc_time_s < 0.9 * less.arc_time_s and more.passes[0].rod.diameter_mm == hint.figures["core"].value > less.passes[0].rod.diameter_mm
    assert hints_of(study(fillet(8.0)).joint, study(fillet(8.0)).sides) == ()


def test_what_each_window_costs_is_what_the_plan_without_it_saves() -> None:
    tight = Window(quantity="amps", role="fill", high=120.0)
    joint = make_joint(thickness_mm=20.0, windows=(Window(quantity="amps", low=60.0, high=300.0), tight))
    found = study(joint)
    (cost,) = window_costs(found.joint, found.sides)
    assert cost.figures["window"].value == (None, 120.0) and SAY.text(cost).startswith("the window on current at most 120 A (fill) costs 1")
    free = plan_joint(edited(joint, windows=joint.working.windows[:1]), RODS)
    assert cost.figures["less"].value == pytest.approx(plan_joint(joint, RODS).total_time_s - free.total_time_s, rel=0.1), "whole rods aside"


def test_why_says_what_the_rod_below_would_have_needed() -> None:
    job = demo_job()
    plan = plan_joint(job.joints[0], job.rods_by_id)
    for p in (p for p in plan.passes if p.why.code == "why.fill.rod"):
        layer = [q for q in plan.passes if q.layer == p.layer]
        assert p.why.figures["before"].value != p.rod.id and p.why.figures["needed"].value > p.why.figures["total"].value
        assert p.why.figures["total"].value == pytest.approx(sum(q.optimum_area_mm2 for q in layer))
    assert any(p.why.code == "why.fill.rod" for p in plan.passes)
