"""Every preparation and root: geometry against integration, plans that conserve metal, orders and pull."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from banister.core.drawing.convention import CONVENTIONS
from banister.core.drawing.section import handles_of, section_drawing
from banister.core.drawing.shapes import Lines, Polygon
from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import KINDS, SEQUENCES
from banister.core.joint.wall import bevelled, rounded, two_angled
from banister.core.plan import rules
from banister.core.plan.answers import plan_joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.one_side import side_plan, side_study
from banister.core.plan.pull import angular_index_deg, pull_of
from banister.core.plan.sequence import sequence_said
from banister.core.plan.sides import sides_of
from banister.core.plan.straightest import straightest
from tests.conftest import SAY, SAY_INCH, bench_rods, make_joint, metal_over, rods_by_id

RODS = rods_by_id()
GROOVES = [key for key, kind in KINDS.items() if not kind.fillet]
HEALTH = [HealthCheck.too_slow, HealthCheck.filter_too_much]


def prepared(key: str, backing: str = "open", **fields: object) -> Joint:
    joint = with_preparation(make_joint(thickness_mm=fields.pop("thickness_mm", 30.0)), key)
    if backing != joint.prep.backing and not joint.prep.kind.fillet:
        joint = with_backing(joint, backing)
    return edited(joint, rods=bench_rods(joint.prep.backing), **fields)


def joints() -> st.SearchStrategy[Joint]:
    roots = {"square": ["open", "bar", "closed"], "single": ["open", "bar", "ceramic", "closed"], "double": ["open", "closed"]}

    def of(key: str) -> st.SearchStrategy[Joint]:
        held = roots["double" if KINDS[key].double else "square" if key == "square" else "single"]
        thick = st.sampled_from([5.0, 6.0]) if key == "square" else st.sampled_from([24.0, 30.0, 38.0, 52.0])
        return st.builds(
            lambda t, b, p, share, m, seq: prepared(key, b, thickness_mm=t, position=p, front_share=share, high_low_mm=m, sequence=seq),
            thick, st.sampled_from(held), st.sampled_from(["1G", "2G", "3G"]), st.sampled_from([0.4, 0.5, 0.6]),
            st.sampled_from([0.0, 0.0, 1.0]) if not KINDS[key].double and key != "square" else st.just(0.0), st.sampled_from(list(SEQUENCES)),
        )  # fmt: skip

    return st.sampled_from(GROOVES).flatmap(of).filter(lambda j: not joint_faults(j))


@pytest.mark.parametrize("wall", [bevelled(20, 2, 30), two_angled(30, 2, 37.5, 18, 10), rounded(40, 2, 6, 12, 1.5), rounded(18, 0, 8, 20)])
def test_closed_forms_agree_with_integration_and_with_the_polyline(wall: object) -> None:
    y = np.linspace(wall.foot, wall.height, 200_001)
    reach = wall.reaches(y)
    below = np.concatenate(([0.0], np.cumsum((reach[1:] + reach[:-1]) / 2 * np.diff(y))))
    assert wall.area_below(y[::1000]) == pytest.approx(below[::1000], abs=2e-3)
    assert wall.moment == pytest.approx(float(np.trapezoid(reach * y, y)), rel=1e-4)
    points = wall.points()
    polyline = sum((b[1] - a[1]) * (a[0] + b[0]) / 2 for a, b in itertools.pairwise(points))
    assert polyline == pytest.approx(float(wall.area_below(np.asarray(wall.height))), rel=1e-12)
    cut = 0.4 * wall.height
    lower, upper = wall.below(cut), wall.above(cut)
    assert float(lower.area_below(np.asarray(cut)) + upper.area_below(np.asarray(wall.height))) == pytest.approx(polyline)
    turned = wall.upside_down(wall.height)
    assert turned.reach(3.0) == pytest.approx(wall.reach(wall.height - 3.0), abs=1e-9)
    assert float(turned.area_below(np.asarray(wall.height))) == pytest.approx(polyline)


@settings(max_examples=30, deadline=None, suppress_health_check=HEALTH)
@given(joints())
def test_every_side_conserves_its_metal_and_keeps_the_cap_rules(joint: Joint) -> None:
    whole = inputs_of(joint, tuple(RODS.values()))
    for side in sides_of(whole):
        study = side_study(side)
        if isinstance(study, tuple):
            assert all(SAY.text(f) and SAY.remedy(f) for f in study)
            continue
        plan = side_plan(study, "balanced")
        if not plan.feasible:
            assert plan.reasons and all(SAY.text(f) for f in plan.reasons)
            continue
        bare = side.surface()
        laid = metal_over(plan.passes, list(zip(bare.x, bare.y, strict=True))) + rules.root_metal_below(side.joint)
        assert sum(p.area_mm2 for p in plan.passes) == pytest.approx(laid, rel=1e-6)
        assert all(p.simulated_area_mm2 == pytest.approx(p.area_mm2, abs=1e-6) for p in plan.passes)
        assert plan.cap.edge_min >= -1e-9 and plan.cap.min >= 0.5 - 1e-9 and plan.cap.max <= 2.5 + 1e-9


@settings(max_examples=15, deadline=None, suppress_health_check=HEALTH)
@given(joints())
def test_a_plan_of_both_sides_holds_every_bead_once_and_in_order(joint: Joint) -> None:
    plan = plan_joint(joint, RODS)
    if not plan.feasible:
        return
    assert [p.number for p in plan.passes] == list(range(1, len(plan.passes) + 1))
    welded = [i for step in plan.sequence for i in step.passes]
    assert welded == [p.key for p in plan.passes]
    sides = [next(p.side for p in plan.passes if p.key == i) for i in welded]
    changes = sum(a != b for a, b in itertools.pairwise(sides))
    assert plan.turns == changes
    for layer in {(p.side, p.layer) for p in plan.passes}:
        numbers = [p.number for p in plan.passes if (p.side, p.layer) == layer]
        assert numbers == list(range(min(numbers), min(numbers) + len(numbers)))
    if "back" in sides:
        said = sequence_said(plan, SAY)
        assert any("gouge" in s for s in said) == (joint.prep.second_side != "seal") and sum("turn" in s for s in said) == plan.turns


@pytest.mark.parametrize("key", ["single-v", "compound-v", "single-u", "double-v", "double-u"])
def test_symmetric_preparations_give_symmetric_grooves_and_mirrored_plans(key: str) -> None:
    joint = prepared(key, position="1G", thickness_mm=36.0)
    groove = groove_of(joint.prep)
    assert np.allclose([(-x, y) for x, y in groove.left_edge], groove.right_edge)
    right = edited(joint, start_right=True)
    left_plan, right_plan = plan_joint(joint, RODS), plan_joint(right, RODS)
    for a, b in zip(left_plan.passes, right_plan.passes, strict=True):
        assert a.area_mm2 == pytest.approx(b.area_mm2, rel=1e-6)
        assert a.aim_mm[0] == pytest.approx(-b.aim_mm[0], abs=1e-6)


@settings(max_examples=25, deadline=None, suppress_health_check=HEALTH)
@given(joints(), st.floats(0.2, 2.0))
def test_more_gap_takes_more_metal_in_every_preparation(joint: Joint, more: float) -> None:
    wider = edited(joint, root_gap_mm=joint.prep.root_gap_mm + more)
    assert groove_of(wider.prep).area_mm2 == pytest.approx(groove_of(joint.prep).area_mm2 + more * joint.prep.welded_thickness_mm, rel=1e-9)


@pytest.mark.parametrize(
    ("fields", "field", "fits"),
    [({"thickness_mm": 18.0, "root_face_mm": 17.0}, "root_face_mm", "16"), ({"front_share": 1.2}, "front_share", "0.9"),
     ({"bevel_left_deg": -5.0}, "bevel_left_deg", "0"),
     ({"key": "double-u", "root_radius_mm": 29.0}, "root_radius_mm", "at most"), ({"backing": "bar"}, "backing", "open or closed"),
     ({"form": "pipe", "position": "5G", "pipe_od_mm": 273.0}, "key", "600"),
     ({"key": "compound-v", "knee_mm": 60.0}, "knee_mm", "30"), ({"split": "sometimes"}, "working.choices.split", "early")],
)  # fmt: skip
def test_contradictory_geometry_is_refused_at_its_field_with_what_would_fit(fields: dict, field: str, fits: str) -> None:
    joint = prepared("double-v")
    (told,) = joint_faults(edited(joint, **fields))
    assert told.place.field.rpartition(".")[2] == field.rpartition(".")[2] and fits in SAY.sentence(told)


@pytest.mark.parametrize(("legs", "position", "most"), [((6.0, 6.0), "1F", 1), ((8.0, 8.0), "2F", 3), ((14.0, 14.0), "2F", 9)])
def test_fillets_reach_their_throat_with_a_welders_number_of_beads(legs: tuple, position: str, most: int) -> None:
    joint = prepared("fillet-tee", thickness_mm=15.0, leg_left_mm=legs[0], leg_right_mm=legs[1], position=position)
    plan = plan_joint(joint, RODS)
    assert plan.feasible and 1 <= len(plan.passes) <= most
    throat_area = legs[0] * legs[1] / 2
    assert throat_area <= sum(p.area_mm2 for p in plan.passes) <= 1.45 * throat_area
    assert plan.cap.edge_min >= -1e-6
    for p in plan.passes:
        assert all(x <= 1e-6 and y >= -1e-6 for x, y in p.outline_mm), "a bead runs into a plate"
    assert {f.code for f in plan_joint(edited(joint, root_gap_mm=3.0), RODS).remarks} >= {"fillet.gap"}


def test_the_gouge_reaches_sound_metal_and_shapes_the_second_side() -> None:
    joint = prepared("double-v", thickness_mm=35.0, root_face_mm=2.0)
    front, back = sides_of(inputs_of(joint))
    bottom = min(front.in_section((0.0, 0.0))[1] + joint.prep.gouge_into_mm, 35.0)
    assert back.in_section((0.0, 0.0))[1] == pytest.approx(bottom)
    plan = plan_joint(joint, RODS)
    deepest = max(y for p in plan.passes if p.side == "back" for _, y in p.outline_mm)
    assert deepest == pytest.approx(bottom, abs=0.02)
    closed = prepared("single-v", "closed", thickness_mm=20.0, root_face_mm=3.0)
    assert sides_of(inputs_of(closed))[1].groove.thickness_mm == pytest.approx(3.0 + closed.prep.gouge_into_mm)


def test_the_first_side_wins_and_the_straightest_share_is_under_a_half() -> None:
    joint = prepared("double-v", thickness_mm=35.0, root_face_mm=2.0)
    even = pull_of(plan_joint(edited(joint, front_share=0.5), RODS).passes, 35.0).final_deg
    small = pull_of(plan_joint(edited(joint, front_share=0.3), RODS).passes, 35.0).final_deg
    single = pull_of(plan_joint(prepared("single-v", thickness_mm=35.0), RODS).passes, 35.0).final_deg
    assert single > even > 0 > small
    orders = straightest(joint, RODS)
    assert [o.merit for o in orders] == sorted(o.merit for o in orders) and {o.sequence for o in orders} == set(SEQUENCES)
    best = min((o for o in orders if o.sequence == "one-side"), key=lambda o: abs(o.pull.final_deg))
    assert 0.35 <= best.share <= 0.5
    assert straightest(prepared("single-v"), RODS) == ()


def test_a_symmetric_double_groove_has_no_static_pull() -> None:
    groove = groove_of(prepared("double-v", front_share=0.5, bevel_left_deg=30.0, bevel_right_deg=30.0, back_bevel_deg=30.0).prep)
    assert angular_index_deg(groove.area_mm2, groove.centroid_height_mm, 30.0) == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize("key", list(KINDS))
@pytest.mark.parametrize("convention", CONVENTIONS)
def test_every_preparation_is_drawn_inside_its_frame_with_handles_on_it(key: str, convention: str) -> None:
    joint = prepared(key, thickness_mm=6.0 if key == "square" else 32.0)
    plan = plan_joint(joint, RODS)
    assert plan.feasible, plan.reasons
    drawing = section_drawing(joint, plan, SAY_INCH if convention == "aws" else SAY, convention=convention)
    x0, y0, x1, y1 = drawing.box
    for s in drawing.shapes:
        points = s.points if isinstance(s, Polygon) else [p for seg in s.segments for p in seg] if isinstance(s, Lines) else [s.at]
        assert all(math.isfinite(x + y) and x0 <= x <= x1 and y0 <= y <= y1 for x, y in points), s
    assert {h.id for h in handles_of(joint)} == {h.id for h in drawing.handles}


def test_high_low_and_a_step_tilt_the_cap_from_edge_to_edge() -> None:
    for fields in ({"high_low_mm": 2.0}, {"right_thickness_mm": 18.0, "taper": 0.0}):
        joint = prepared("single-v", thickness_mm=16.0, **fields)
        plan = plan_joint(joint, RODS)
        assert plan.feasible
        caps = [p for p in plan.passes if p.role == "cap"]
        left = min(caps, key=lambda p: p.aim_mm[0]).outline_mm[0]
        right = max((p.outline_mm[16] for p in caps), key=lambda point: point[0])
        assert left[1] == pytest.approx(16.0, abs=0.1) and right[1] == pytest.approx(18.0, abs=0.1)
    tapered = prepared("single-v", thickness_mm=16.0, right_thickness_mm=24.0, taper=4.0)
    assert groove_of(tapered.prep).area_mm2 == pytest.approx(groove_of(prepared("single-v", thickness_mm=16.0).prep).area_mm2)


def test_ceramic_shapes_the_back_of_the_root() -> None:
    joint = prepared("single-v", "ceramic", thickness_mm=16.0, ceramic_width_mm=13.0, ceramic_depth_mm=1.5)
    root = plan_joint(joint, RODS).passes[0]
    low = min(y for _, y in root.outline_mm)
    assert low == pytest.approx(-1.5, abs=0.02)
    assert max(x for x, y in root.outline_mm if y < 0) <= 6.5
