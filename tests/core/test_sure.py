"""How sure: variants against planning anew, properties of the ranges, and what matters most."""

from __future__ import annotations

import numpy as np
import pytest

from banister.core.joint.fitting import FitUp, GapReading
from banister.core.joint.joint import edited
from banister.core.plan.answers import plan_joint
from banister.core.ranked import binned
from banister.core.sure.inputs import BEVELS, DEPOSIT, GAP, drawn_from, geometry_of, inputs_of
from banister.core.sure.layers import areas_along, layers_of
from banister.core.sure.variants import OUTCOMES, how_sure, planned_anew, variants
from banister.core.value import replace
from tests.conftest import make_joint, rods_by_id

JOINT = make_joint(thickness_mm=20.0, length_mm=600.0)
PLAN = plan_joint(JOINT, rods_by_id())
RODS = tuple(rods_by_id().values())


def test_the_plan_itself_is_one_of_its_variants() -> None:
    inputs = inputs_of(JOINT)
    means = drawn_from(inputs, 3, seed=1)[:1]
    areas = areas_along(JOINT, layers_of(JOINT, PLAN), inputs, means)[0]
    assert sum(areas) == pytest.approx(sum(p.area_mm2 for p in PLAN.passes))
    found = variants(JOINT, PLAN)
    for name, planned in zip(OUTCOMES, (len(PLAN.passes), PLAN.rods, PLAN.total_time_s), strict=True):
        low, high = found.outcomes[name].nine_in_ten
        assert low <= planned <= high and found.outcomes[name].planned == planned


def test_layers_follow_the_groove_as_it_is_computed_anew() -> None:
    inputs = inputs_of(JOINT)
    changed = edited(JOINT, root_gap_mm=JOINT.prep.root_gap_mm + 0.5)
    row = np.array([[JOINT.prep.root_gap_mm + 0.5 if i.name == GAP else i.mean for i in inputs]])
    grown = areas_along(JOINT, layers_of(JOINT, PLAN), inputs, row)[0].sum() - sum(p.area_mm2 for p in PLAN.passes)
    assert grown == pytest.approx(0.5 * JOINT.prep.thickness_mm, rel=0.15), "the gap through the whole thickness, the cap's dome with it"
    assert set(geometry_of(inputs, row[0])) == {"root_gap_mm", "root_face_mm", "bevel_left_deg", "bevel_right_deg"} and changed.prep.root_gap_mm == row[0][0]
    assert [i.name for i in inputs].count(BEVELS) == 1, "bevels cut alike are one input"


def test_held_layers_come_near_planning_anew() -> None:
    inputs, off = inputs_of(JOINT), []
    values = drawn_from(inputs, 13, seed=5)
    for row in values[1:]:
        row[-2:] = 1.0
        anew = plan_joint(edited(JOINT, **geometry_of(inputs, row)), rods_by_id())
        held = areas_along(JOINT, layers_of(JOINT, PLAN), inputs, row[None, :])[0].sum()
        off.append(held / sum(p.area_mm2 for p in anew.passes) - 1)
    assert abs(float(np.mean(off))) < 0.03 and max(map(abs, off)) < 0.08, "metal within a few per cent of a plan made for the variant"


def test_the_same_seed_tells_the_same_and_readings_narrow_it() -> None:
    first, again, other = variants(JOINT, PLAN, seed=3), variants(JOINT, PLAN, seed=3), variants(JOINT, PLAN, seed=4)
    assert first == again and first != other
    read = FitUp(readings=tuple(GapReading(at=str(s), s_mm=s, gap=3.0, face=1.5) for s in range(0, 601, 100)))
    known = variants(replace(JOINT, fitup=read), PLAN)
    spread = [o.nine_in_ten[1] - o.nine_in_ten[0] for o in (first.outcomes["time"], known.outcomes["time"])]
    assert spread[1] < spread[0] and {i.name for i in known.inputs if i.measured} == {"gap", "face"}
    assert known.outcomes["time"].shares[0] < first.outcomes["time"].shares[0], "a gap that is known matters less"


def test_few_come_first_and_those_outside_a_window_are_planned_anew() -> None:
    parts = list(how_sure(JOINT, PLAN, RODS))
    assert [p.draws for p in parts] == [200, 1000] and parts[0].anew == 0 and 0 < parts[1].anew <= 60
    (bare,) = planned_anew(JOINT, PLAN, RODS, 200)
    assert bare.broken >= bare.anew >= bare.unplanned
    deposit = [i.name for i in bare.inputs].index(DEPOSIT)
    assert parts[1].outcomes["rods"].shares[deposit] > 0.1


def test_binned_means_tell_what_a_step_hides() -> None:
    x = np.random.default_rng(2).standard_normal((4000, 2))
    shares = binned(x, np.round(x[:, 0] ** 2))
    assert shares[0] > 0.7 and shares[1] < 0.03 and binned(x, np.ones(4000)) == (0.0, 0.0)
