"""The groove as the unknown: nothing tried inside the bounds is better, rules are kept, costs are those of plans, the picture says so."""

from __future__ import annotations

import itertools
import math

import pytest

from banister.core.drawing.charts.landscape_picture import landscape_picture
from banister.core.drawing.shapes import Dot, Lines
from banister.core.joint.joint import Joint, edited
from banister.core.plan.answers import plan_joint
from banister.core.plan.improve import (
    BEVEL,
    FACE,
    GAP,
    METAL,
    PULL,
    SHARE,
    TIME,
    WEIGHTS,
    Bound,
    Improving,
    Weights,
    improved,
    unknowns_of,
    value_of,
    with_values,
)  # fmt: skip
from banister.core.plan.improve_said import gain_said, step_said, takes_said
from banister.core.remark import Refused
from banister.core.value import replace
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, texts_of

RODS = rods_by_id()


@pytest.fixture(autouse=True)
def coarse(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """A coarser grid and fewer rounds, but where a search by hand is held against it."""
    if "by_hand" not in request.node.name:
        for name, most in (("ACROSS", 6), ("UP", 4), ("MOST_ROUNDS", 3)):
            monkeypatch.setattr(f"banister.core.plan.improve.{name}", most)


def searched(joint: Joint, goal: str = TIME, bounds: tuple[Bound, ...] | None = None) -> Improving:
    *_, last = improved(joint, RODS, unknowns_of(joint) if bounds is None else bounds, WEIGHTS[goal])
    return last


@pytest.mark.parametrize("fields", [
    {"backing": "bar", "thickness_mm": 12.0}, {"key": "single-u", "thickness_mm": 14.0}, {"key": "single-bevel", "thickness_mm": 12.0},
])  # fmt: skip
def test_the_best_is_no_worse_than_anything_tried_and_keeps_its_bounds_and_rules(fields: dict[str, object]) -> None:
    joint = make_joint(**fields)
    state = searched(joint)
    assert state.best.is_one and state.done == state.most
    for bound in state.bounds:
        assert bound.low - 1e-9 <= state.best.of(bound.key) <= bound.high + 1e-9
    tried = [t for t in (state.present, *state.grid) if t is not None]
    assert all(state.cost(state.best) <= state.cost(t) for t in tried)
    plan = plan_joint(state.best.joint, RODS, joint.working.chosen)
    assert plan.total_time_s / state.best.joint.weld_length_mm() * 1000 == pytest.approx(state.best.time_s_m)
    assert not {r.code for r in plan.remarks} & {"root.gap.wide", "root.gap.tight", "root.face"}
    if state.present.is_one:
        assert state.best.time_s_m <= state.present.time_s_m


def test_a_finer_search_by_hand_finds_nothing_much_better() -> None:
    joint = make_joint(thickness_mm=16.0)
    bounds = (Bound(BEVEL, 25.0, 35.0), Bound(GAP, 2.0, 4.0))
    state = searched(joint, METAL, bounds)
    by_hand = math.inf
    for bevel, gap in itertools.product((25.0, 27.5, 30.0, 32.5, 35.0), (2.0, 2.25, 2.5, 3.0, 3.5, 4.0)):
        plan = plan_joint(with_values(joint, {BEVEL: bevel, GAP: gap}), RODS)
        if plan.feasible and not any(r.code.startswith("root.") for r in plan.remarks):
            by_hand = min(by_hand, plan.weld_metal_kg / joint.weld_length_mm() * 1000)
    assert state.best.metal_kg_m <= by_hand * 1.01


def test_goals_differ_and_weights_lie_between() -> None:
    joint = make_joint(key="double-v", thickness_mm=18.0, second_side="gouge")
    bounds = (Bound(BEVEL, 25.0, 35.0), Bound(SHARE, 0.4, 0.6))
    by = {goal: searched(joint, goal, bounds).best for goal in (TIME, METAL, PULL)}
    assert by[METAL].metal_kg_m == min(t.metal_kg_m for t in by.values()) and by[PULL].pull_deg == min(t.pull_deg for t in by.values())
    *_, mixed = improved(joint, RODS, bounds, Weights(1.0, 1.0, 0.0))
    assert mixed.cost(mixed.best) <= min(mixed.cost(t) for t in by.values()) + 1e-9 and {b.key for b in unknowns_of(joint)} >= {SHARE, BEVEL}


def test_a_figure_of_one_value_is_set_and_steps_are_those_of_the_present_joint() -> None:
    joint = make_joint(thickness_mm=16.0)
    state = searched(joint, TIME, (Bound(BEVEL, 25.0, 40.0), Bound(GAP, 2.5, 2.5), Bound(FACE, 1.5, 1.5)))
    assert value_of(state.best.joint, GAP) == 2.5 and state.ys == () and [b.key for b in state.bounds] == [BEVEL]
    assert state.present.joint == edited(joint, pins=())
    less = next(step for step in state.steps if step.change < 0)
    plan = plan_joint(edited(joint, bevel_left_deg=joint.prep.bevel_left_deg - 2.5, bevel_right_deg=joint.prep.bevel_right_deg - 2.5), RODS)
    assert less.tried.time_s_m == pytest.approx(plan.total_time_s / joint.weld_length_mm() * 1000)
    assert "Bevel 2.5° less: " in step_said(state, less, SAY) and "a metre" in step_said(state, less, SAY)


def test_what_cannot_be_chosen_is_refused_and_walls_out_of_reach_are_none() -> None:
    joint = make_joint(thickness_mm=20.0)
    for bounds, code in (((Bound(BEVEL, 30.0, 30.0),), "improve.nothing"), ((Bound("luck", 1.0, 2.0),), "improve.unknown"),
                         ((Bound(BEVEL, 40.0, 20.0),), "improve.bounds"),
                         ((Bound(BEVEL, 20.0, 99.0),), "improve.bounds"), ((), "improve.nothing")):  # fmt: skip
        with pytest.raises(Refused) as refused:
            list(improved(joint, RODS, bounds, WEIGHTS[TIME]))
        assert refused.value.remarks[0].code == code
    assert unknowns_of(make_joint(key="fillet-tee", thickness_mm=12.0)) == ()
    steep = searched(joint, TIME, (Bound(BEVEL, 2.0, 30.0), Bound(GAP, 2.0, 4.0)))
    assert steep.best.of(BEVEL) >= 10.0 and any(t is not None and t.reasons and t.reasons[0].code == "improve.access" for t in steep.grid)


def test_the_landscape_has_contours_the_points_and_stays_empty_where_nothing_is() -> None:
    joint = make_joint(thickness_mm=18.0)
    state = searched(joint)
    for say in (SAY, SAY_INCH):
        drawing = landscape_picture(state, (700.0, 500.0), say)
        assert {"present", "best"} <= {s.id for s in drawing.shapes if isinstance(s, Dot)} and {"Root gap", "Bevel"} <= set(texts_of(drawing))
    assert sum(isinstance(s, Lines) and s.id.startswith("contour:") for s in drawing.shapes) >= 3
    assert "now" in texts_of(drawing) and any(text.startswith("best") for text in texts_of(drawing)) and "a metre less" in gain_said(state, SAY)
    first = next(improved(joint, RODS, unknowns_of(joint), WEIGHTS[TIME]))
    assert first.done == 1 and not any(isinstance(s, Lines) and s.id.startswith("contour:") for s in landscape_picture(first, (700.0, 500.0), SAY).shapes)
    single = searched(joint, TIME, (Bound(BEVEL, 25.0, 40.0),))
    assert any(isinstance(s, Lines) and s.id == "curve" for s in landscape_picture(single, (700.0, 500.0), SAY).shapes)
    none = replace(state.present, reasons=next(t.reasons for t in state.grid if t is not None and t.reasons))
    assert takes_said(none, SAY) and gain_said(replace(state, present=none), SAY) == SAY("improve.mended") and gain_said(
        replace(state, present=none, best=none), SAY) == SAY("improve.none")  # fmt: skip
