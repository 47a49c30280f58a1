"""Planning goes on from any state: the first passes laid, in the middle of layers too, the rest comes out the same."""

from __future__ import annotations

import pytest

from banister.core.joint.joint import edited
from banister.core.joint.working import ANSWERS, Pin
from banister.core.plan.chains import optimal
from banister.core.plan.inputs import inputs_of
from banister.core.plan.one_side import laying, side_plan, side_study
from banister.core.plan.placing import Course
from banister.core.plan.plan import Plan
from banister.core.plan.sides import sides_of
from banister.core.plan.state import DONE, SectionState, bare
from tests.conftest import make_joint, rods_by_id

RODS = tuple(rods_by_id().values())
JOINTS = {
    "open V": make_joint(thickness_mm=22.0, position="3G"),
    "bar": make_joint("bar", thickness_mm=26.0),
    "horizontal, walls first": make_joint("bar", thickness_mm=24.0, position="2G", walls_first=True),
    "gouged": make_joint(key="double-v", thickness_mm=30.0, root_face_mm=2.0, second_side="gouge"),
    "tilted": make_joint(thickness_mm=16.0, high_low_mm=1.5),
    "pinned": edited(make_joint("bar", thickness_mm=26.0), pins=(Pin(x_mm=3.0, y_mm=14.0, role="fill", area_mm2=30.0),)),
}


EVERYWHERE = [*((name, ANSWERS[0]) for name in JOINTS), *(("open V", answer) for answer in ANSWERS[1:]), ("gouged", ANSWERS[-1])]


@pytest.mark.parametrize(("name", "answer"), EVERYWHERE)
def test_the_rest_from_every_state_is_the_rest_of_the_plan(name: str, answer: str) -> None:
    for side in sides_of(inputs_of(JOINTS[name], RODS)):
        study = side_study(side)
        chain = optimal(study.program, answer, study.balanced)
        states = [bare(side), *(state for _, state in laying(study, Course(side.joint, side.groove), chain, bare(side)))]
        whole = side_plan(study, answer)
        assert len(states) == len(whole.passes) + 1 and states[-1].stage == DONE
        assert any(state.begun is not None for state in states), "some states must lie inside a layer"
        for k, state in list(enumerate(states[:-1]))[:: 1 if answer == ANSWERS[0] else 3]:
            rest = side_plan(study, answer, state)
            assert_same_rest(whole, rest, k)


def assert_same_rest(whole: Plan, rest: Plan, k: int) -> None:
    assert [p.number for p in rest.passes] == [p.number for p in whole.passes[k:]]
    for p, q in zip(whole.passes[k:], rest.passes, strict=True):
        assert (p.role, p.layer, p.rod.id, p.amps, p.state) == (q.role, q.layer, q.rod.id, q.amps, q.state)
        assert q.area_mm2 == pytest.approx(p.area_mm2, abs=1e-6)
        assert all(a == pytest.approx(b, abs=1e-6) for a, b in zip(p.outline_mm, q.outline_mm, strict=True))


def test_a_state_is_a_plain_value_and_what_was_really_welded_changes_the_rest() -> None:
    side = sides_of(inputs_of(JOINTS["bar"], RODS))[0]
    study = side_study(side)
    chain = optimal(study.program, "balanced", study.balanced)
    states = [state for _, state in laying(study, Course(side.joint, side.groove), chain, bare(side))]
    middle = next(s for s in states if s.begun is None and s.layers == 3)
    assert middle == SectionState(**{name: getattr(middle, name) for name in middle.__slots__}) and hash(middle.x)
    plain = side_plan(study, "balanced", middle)
    low = side_plan(study, "balanced", SectionState(middle.side, middle.x, tuple(y - 0.8 if 2 < y < 20 else y for y in middle.y), middle.level - 0.8,
                                                    middle.stage, middle.layers, middle.passes))  # fmt: skip
    assert sum(p.area_mm2 for p in low.passes) > sum(p.area_mm2 for p in plain.passes) + 5.0
