"""Sections a practitioner would sign: level layers, full grooves, the quickest answer quickest, and refusals with remedies that work."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest

from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import groove_of
from banister.core.joint.joint import edited
from banister.core.joint.kinds import KINDS
from banister.core.joint.working import ANSWERS, Choices
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_answer, plan_joint, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.plan.plan import Plan
from banister.job.library import blank_joint
from tests.conftest import SAY, bench_rods, make_joint, rods_by_id
from tests.sample.run import measured, samples

RODS = rods_by_id()
GRID_MM = 0.3
ON_BACKINGS = [(key, backing) for key, kind in KINDS.items() for backing in ("open", "bar", "ceramic", "closed")
               if not (kind.fillet and backing != "closed") and not (kind.double and backing in ("bar", "ceramic")) and key != "square"]  # fmt: skip


def usual(key: str, backing: str, **fields: object) -> object:
    joint = with_preparation(edited(blank_joint("S"), thickness_mm=fields.pop("thickness_mm", 20.0)), key)
    joint = joint if joint.prep.kind.fillet else with_backing(joint, backing)
    return edited(joint, rods=bench_rods(joint.prep.backing), **fields)


def empty_mm2(joint: object, plan: Plan) -> float:
    """Area of the groove that no bead covers, on a grid."""
    edge = groove_of(joint.prep).edge()
    (left, *_, right), (low, *_, high) = sorted(x for x, _ in edge), sorted(y for _, y in edge)
    at = np.meshgrid(np.arange(left + 0.151, right, GRID_MM), np.arange(low + 0.137, high, GRID_MM))  # off every edge of a bead
    covered = np.any([held(p.outline_mm, *at) for p in plan.passes], axis=0)
    return float((held(edge, *at) & ~covered).sum()) * GRID_MM**2


def held(outline: Sequence[tuple[float, float]], x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Which points an outline holds: those with an odd number of its edges to their right."""
    inside = np.zeros(x.shape, dtype=bool)
    for (ax, ay), (bx, by) in zip(outline, (*outline[1:], outline[0]), strict=True):
        if ay != by:
            inside ^= ((ay > y) != (by > y)) & (x < ax + (bx - ax) * (y - ay) / (by - ay))
    return inside


@pytest.mark.parametrize("kind", ["shop", "half grooves", "2G"])
def test_layers_of_random_joints_are_level_and_full(kind: str) -> None:
    found = [m for m in map(measured, samples(200)[kind][:16]) if m.planned]
    assert len(found) >= 14
    assert max(m.tilt for m in found) < 1.0 and max(m.valley for m in found) < 1.6 and min(m.hollow for m in found) > -0.12
    assert sum(m.slim for m in found) < 0.022 * sum(m.beads for m in found)
    assert sum(m.valley > 1.0 for m in found) <= (0.35 if kind == "2G" else 0.1) * len(found)


@pytest.mark.parametrize("high_low", [-2.0, 1.0, 2.0])
@pytest.mark.parametrize(
    ("key", "backing"), [("double-v", "open"), ("double-bevel", "open"), ("double-bevel", "closed"), ("double-u", "closed"), ("single-bevel", "closed")]
)
def test_high_low_leaves_nothing_of_the_groove_empty(key: str, backing: str, high_low: float) -> None:
    joint = usual(key, backing, high_low_mm=high_low)
    plan = plan_joint(joint, RODS)
    assert plan.feasible and empty_mm2(joint, plan) < 0.3


def test_a_bead_into_a_corner_lies_in_it() -> None:
    joint = usual("single-j", "closed", thickness_mm=28.0)
    root = plan_joint(joint, RODS).passes[0]
    heights = [y for _, y in root.outline_mm]
    assert max(heights) - min(heights) < 7.0 and abs(root.outline_mm[0][1] - root.outline_mm[root.face_points - 1][1]) < 0.6


@pytest.mark.parametrize(("key", "backing"), ON_BACKINGS)
def test_with_all_defaults_every_preparation_is_planned(key: str, backing: str) -> None:
    for thickness in (6.0, 10.0, 24.0, 40.0):
        joint = usual(key, backing, thickness_mm=thickness)
        plan = plan_joint(joint, RODS)
        is_slight = (key, backing, thickness) == ("double-bevel", "closed", 6.0)
        assert not joint_faults(joint) and plan.feasible != is_slight, (thickness, [SAY.text(r) for r in plan.reasons])


def test_the_quickest_answer_is_no_slower_than_another() -> None:
    for joint in samples(200)["shop"][:6]:
        study = study_of(inputs_of(joint, RODS.values()))
        seconds = {answer: plan.total_time_s for answer in ANSWERS if (plan := plan_answer(study, answer)).feasible}
        assert not seconds or seconds["quickest"] <= min(seconds.values()) * 1.002


@pytest.mark.parametrize(
    ("fields", "code", "remedies"),
    [
        ({"root_face_mm": 6.0}, "root.face.thick", ("root face 2.4 mm",)), ({"root_gap_mm": 0.0}, "root.gap.none", ("root gap 2 mm", "bar")),
        ({"root_gap_mm": 0.1}, "root.gap.none", ("root gap",)), ({"root_gap_mm": 9.0}, "root.gap.open", ("root gap 4 mm", "bar")),
        ({"backing": "closed", "root_gap_mm": 0.0, "bevel_left_deg": 12.0, "bevel_right_deg": 12.0, "second_side": "gouge"}, "root.closed", ("bevel",)),
        ({"backing": "closed", "key": "square", "root_gap_mm": 0.0, "root_face_mm": 0.0}, "root.square", ()),
        ({"backing": "closed", "key": "square", "root_gap_mm": 0.0, "thickness_mm": 5.0, "root_face_mm": 6.0}, "root.square", ()),
        ({"windows": (Window(quantity="weave", high=4.0),)}, "cap.blocked", ("without the window on finished bead width",)),
        ({"key": "fillet-lap", "backing": "closed", "position": "2F", "thickness_mm": 8.0, "leg_right_mm": 10.0, "root_gap_mm": 0.0, "root_face_mm": 0.0},
         "joint.lap", ()),
        ({"key": "fillet-tee", "backing": "closed", "position": "2F", "fillet_angle_deg": 60.0, "leg_left_mm": 6.0, "leg_right_mm": 12.0, "root_gap_mm": 0.0},
         "joint.legs", ()),
        ({"key": "double-bevel", "thickness_mm": 40.0, "right_thickness_mm": 12.0, "taper": 0.0, "front_share": 0.5}, "joint.thinner", ("taper",)),
        ({"thickness_mm": 20.0, "right_thickness_mm": 3.0, "taper": 0.0, "root_face_mm": 3.0}, "joint.thinner", ("at least 3.1 mm",)),
        ({"form": "pipe", "pipe_od_mm": 400.0, "second_side": "gouge"}, "joint.inside", ()),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_with_what_would_mend_it(fields: dict, code: str, remedies: tuple[str, ...]) -> None:
    plan = plan_joint(make_joint(**fields), RODS)
    assert [r.code for r in plan.reasons] == [code] and not plan.passes
    said = SAY.sentence(plan.reasons[0])
    assert all(remedy in said for remedy in remedies) and "pin" not in said
    assert plan.reasons[0].mends is None or fields.get("backing") != "closed" or not any(r.code == "freed.gap" for r in plan.reasons[0].mends)


def test_a_bore_that_is_welded_here_is_planned_from_inside() -> None:
    joint = make_joint(form="pipe", pipe_od_mm=400.0, second_side="gouge", least_bore_mm=300.0)
    plan = plan_joint(joint, RODS)
    assert plan.feasible
    back = [p for p in plan.passes if p.side == "back"]
    middle = [sum(y for _, y in p.outline_mm) / len(p.outline_mm) for p in back]
    for p, y in zip(back, middle, strict=True):
        assert p.length_mm == pytest.approx(2 * 3.14159265 * (200.0 - 20.0 + y), rel=2e-3), "round the circle its metal lies on"


@pytest.mark.parametrize(("second", "left"), [("none", 3.0), ("seal", 2.0), ("gouge", None)])
def test_root_face_that_stays_unfused_is_said(second: str, left: float | None) -> None:
    plan = plan_joint(make_joint("closed", root_gap_mm=0.0, root_face_mm=3.0, second_side=second), RODS)
    found = [r.value for r in plan.remarks if r.code == "root.unfused"]
    assert plan.feasible and found == ([] if left is None else [left])


def test_a_leg_between_two_that_go_goes_too() -> None:
    for leg in (7.2, 7.3, 7.4):
        joint = make_joint("closed", key="fillet-tee", thickness_mm=15.0, position="2F", leg_left_mm=leg, leg_right_mm=leg, root_face_mm=0.0, root_gap_mm=0.0)
        assert plan_joint(joint, RODS).feasible


def test_walls_first_still_fills_the_groove() -> None:
    joint = make_joint("bar", thickness_mm=26.0, position="2G", choices=Choices(walls_first=True))
    plan = plan_joint(joint, RODS)
    assert plan.feasible and empty_mm2(joint, plan) < 0.3


def crosses_itself(outline: tuple[tuple[float, float], ...]) -> bool:
    """True where two sides of an outline that are not neighbours cut through each other."""
    a = np.array(outline)
    b = np.roll(a, -1, axis=0)
    long = np.hypot(*(b - a).T) > 1e-9
    a, d = a[long], (b - a)[long]
    n = len(a)

    def cross(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        return u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]

    between, level = a[None] - a[:, None], cross(d[:, None], d[None])
    with np.errstate(all="ignore"):
        along, other = cross(between, d[None]) / level, cross(between, d[:, None]) / level
    apart = np.abs(np.subtract.outer(np.arange(n), np.arange(n)))
    cut = (np.minimum(along, other) > 1e-6) & (np.maximum(along, other) < 1 - 1e-6) & (np.abs(level) > 1e-9)
    return bool((cut & (apart > 1) & (apart < n - 1)).any())


def test_in_horizontal_the_upper_wall_waits_for_its_shelf_walls_first_or_not() -> None:
    wide = 0
    for joint in samples(25)["2G"]:
        layers: dict[tuple[str, int], list[float]] = {}
        for p in plan_joint(edited(joint, walls_first=True), RODS).passes:
            layers.setdefault((p.side, p.layer), []).append(p.aim_mm[0])
        wide += sum(len(xs) > 2 for xs in layers.values())
        assert all(xs == sorted(xs) for xs in layers.values()), joint.prep
    assert wide > 30
    flat = plan_joint(make_joint(thickness_mm=30.0, walls_first=True), RODS)
    cap = [p.aim_mm[0] for p in flat.passes if p.role == "cap"]
    assert len(cap) > 2 and {cap[0], cap[1]} == {min(cap), max(cap)}


def test_no_outline_crosses_itself() -> None:
    assert crosses_itself(((0, 0), (2, 2), (2, 0), (0, 2))) and not crosses_itself(((0, 0), (2, 0), (2, 2), (0, 2)))
    drawn = [joint for joints in samples(6).values() for joint in joints]
    changed = [edited(joint, high_low_mm=1.5) if i % 2 else edited(joint, walls_first=True) for i, joint in enumerate(drawn)]
    for joint in (*drawn, *(joint for joint in changed if not joint_faults(joint))):
        assert [p.key for p in plan_joint(joint, RODS).passes if crosses_itself(p.outline_mm)] == [], joint.prep
