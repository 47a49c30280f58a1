"""What the section tells: valleys, walls, tails, toes and depths, each against figures worked out apart."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.beads.bead import lay
from banister.core.beads.surface import Surface
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import edited
from banister.core.joint.working import Choices, RodUse
from banister.core.judge.cap import judged_cap
from banister.core.plan import rules
from banister.core.plan.answers import plan_joint
from banister.core.plan.inputs import inputs_of
from banister.core.plan.layers import Layer
from banister.core.plan.placing import Laid
from banister.core.plan.soundness import bead_remarks, slots, thin_tail_mm, valleys
from banister.core.remark import NOT_JUDGED, WATCH
from tests.conftest import SAY, make_joint, rods_by_id

RODS = rods_by_id()


def test_a_valley_is_measured_from_the_lower_crown() -> None:
    surface = Surface([-9.0, -5.0, -3.0, 0.0, 4.0, 5.0, 9.0], [9.0, 0.0, 4.0, 1.0, 3.0, 2.5, 9.0])
    first, between, last = valleys(surface, -9.0, 9.0)
    assert (between.x, between.y, between.depth) == (0.0, 1.0, 2.0)
    assert between.width == pytest.approx(4.0 - (-3.0), abs=1e-9)
    assert (first.x, first.depth) == (-5.0, 4.0)
    assert (last.x, last.depth) == (5.0, 0.5)


def test_a_hollow_layer_between_walls_is_no_valley() -> None:
    assert valleys(Surface([-6.0, -5.0, 0.0, 5.0, 6.0], [9.0, 3.0, 2.0, 3.0, 9.0]), -6.0, 6.0) == []


@pytest.mark.parametrize(("core", "expected"), [(2.5, 0), (5.0, 1)])
def test_a_notch_is_reported_if_the_next_coated_rod_does_not_fit(core: float, expected: int) -> None:
    groove = groove_of(make_joint(thickness_mm=20.0).prep)
    surface = Surface([-16.0, -8.0, -2.6, 0.0, 2.6, 8.0, 16.0], [20.0, 10.0, 12.0, 9.0, 12.0, 10.0, 20.0])
    found = [f for f in slots(surface, groove, core) if f.place.x_mm == 0.0]
    assert len(found) == expected
    assert all(SAY.remedy(f) and f.value == pytest.approx(5.2) and f.figures["coated"].value == 1.5 * core for f in found)


def test_a_flat_bead_on_plate_has_the_tail_its_parabola_gives() -> None:
    plate = Surface([-40.0, 40.0], [0.0, 0.0])
    width, crown = 30.0, 0.6
    bead, _ = lay(plate, plate.at_x(-15.0), plate.at_x(15.0), 2 / 3 * width * crown)
    where = width / 2 * (1 - math.sqrt(1 - 0.3 / crown))
    assert thin_tail_mm(bead) == pytest.approx(where, abs=width / 20)
    thin, _ = lay(plate, plate.at_x(-15.0), plate.at_x(15.0), 3.0)
    assert thin_tail_mm(thin) == thin.width_mm


@settings(max_examples=20, deadline=None)
@given(st.sampled_from([9.0, 14.0, 22.0, 40.0]), st.floats(2, 4), st.floats(20, 40), st.sampled_from(["open", "bar"]), st.sampled_from(["1G", "2G", "3G"]))
def test_walls_and_depths_add_up_to_the_groove(t: float, gap: float, angle: float, backing: str, position: str) -> None:
    joint = make_joint(backing, thickness_mm=t, root_gap_mm=gap, bevel_left_deg=angle, bevel_right_deg=angle, position=position)
    plan = plan_joint(joint, RODS)
    if not plan.feasible:
        return
    groove, figures = groove_of(joint.prep), plan.figures
    wall = joint.prep.root_face_mm + (t - joint.prep.root_face_mm) / math.cos(math.radians(angle))
    beads = sum(p.role != "root" for p in plan.passes) + 1
    for longest in (figures.wall_left, figures.wall_right):
        assert wall / beads <= longest <= wall
    low, mean, high = figures.left_before_cap
    assert low - 1e-9 <= mean <= high + 1e-9
    filled = sum(p.area_mm2 for p in plan.passes if p.role != "cap") - rules.root_metal_below(inputs_of(joint))
    left = groove.area_mm2 - filled
    beside = 2 * high * math.tan(math.radians(angle))
    assert mean * (groove.top_width_mm - beside) - 0.3 <= left <= mean * groove.top_width_mm + 0.3, "the fill, and a triangle beside each toe"


def test_a_thick_root_in_a_tight_gap_leaves_too_much_wall_to_one_bead() -> None:
    joint = make_joint(key="single-bevel", thickness_mm=12.0, root_gap_mm=1.0, bevel_right_deg=20.0, position="3G")
    thick = [RodUse(role="root", rod="E6010-4.0x350"), *(use for use in joint.working.rods if use.role != "root")]
    plan = plan_joint(edited(joint, rods=tuple(thick)), RODS)
    found = [f for f in plan.remarks if f.code.startswith("wall.stretch.")]
    assert {key for f in found for key in f.place.passes} == {plan.passes[0].key}
    assert all("wall" in SAY.text(f) and SAY.remedy(f) for f in found)
    assert max(f.value for f in found) == pytest.approx(max(plan.figures.wall_left, plan.figures.wall_right))


@pytest.mark.parametrize(("crown", "code"), [(2.6, "bead.peaked"), (1.5, ""), (-1.2, "bead.hollow")])
def test_peaked_and_hollow_faces_are_named(crown: float, code: str) -> None:
    valley = Surface([-30.0, -4.0, 0.0, 4.0, 30.0], [0.0, 0.0, -3.0, 0.0, 0.0])
    bead, _ = lay(valley, valley.at_x(-4.0), valley.at_x(4.0), 12.0 + 2 / 3 * 8.0 * crown)
    joint = make_joint(thickness_mm=20.0)
    option = rules.option_of(inputs_of(joint), RODS["E7018-3.2x350"], "fill", groove_of(joint.prep))
    laid = Laid(bead, Layer("fill", option, 1, 0.0, 3.0, bead.area_mm2, 0.0), 1, option)
    found = {f.code: f for f in bead_remarks(laid, "p1", (0.0, 0.0))}
    assert {c for c in found if c in ("bead.peaked", "bead.hollow")} == ({code} if code else set())
    if code:
        assert found[code].value == pytest.approx(crown / 8.0, rel=0.02)
        assert found[code].figures["height"] == (pytest.approx(abs(crown), rel=0.02), "length") and f"{abs(crown):.1f} mm" in SAY.text(found[code])


@pytest.mark.parametrize(("level", "least"), [("iso5817-b", 150.0), ("iso5817-d", 90.0)])
def test_the_toe_angle_is_that_of_the_outline_and_is_judged_by_the_set(level: str, least: float) -> None:
    joint = make_joint(thickness_mm=22.0, position="3G", choices=Choices(acceptance=level))
    plan = plan_joint(joint, RODS)
    (x0, y0), (x1, y1) = min((p for p in plan.passes if p.role == "cap"), key=lambda p: p.outline_mm[0]).outline_mm[:2]
    assert plan.cap.toe_left_deg == pytest.approx(180 - math.degrees(math.atan((y1 - y0) / (x1 - x0))), abs=1e-6)
    (toe,) = (r for r in judged_cap(joint, plan.cap) if r.code == "cap.toe")
    smallest = round(min(plan.cap.toe_left_deg, plan.cap.toe_right_deg))
    assert toe.verdict == NOT_JUDGED and (toe.value, toe.window[0]) == (smallest, least)
    steep = [r for r in judged_cap(joint, plan.cap) if r.verdict == WATCH]
    assert bool(steep) == (smallest < least) and all(SAY.remedy(r) for r in steep)
