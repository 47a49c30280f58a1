"""The layer plan against brute force: every chain of layers, costed by separate scalar code."""

from __future__ import annotations

import itertools
import math
from functools import cache

import pytest

from banister.core.joint.faults import joint_faults
from banister.core.joint.groove import groove_of
from banister.core.joint.working import ANSWERS, BALANCED, FEWEST, QUICKEST, Choices, RodUse
from banister.core.limits.windows import ROLES
from banister.core.plan import rules
from banister.core.plan.answers import plan_joint
from banister.core.plan.chains import bead_count, optimal, peak_energy
from banister.core.plan.climb import solve
from banister.core.plan.inputs import inputs_of
from banister.core.plan.layers import PER_BEAD, LayerProgram, Wish, setting_of
from banister.core.plan.options import options_for
from banister.core.plan.timing import changed, welding_s
from tests.conftest import make_joint, rods_by_id

ROD_SETS = {"bar": (("root", "E7018-3.2x350"), ("fill", "E7018-3.2x350"), ("fill", "E7018-4.0x450"), ("cap", "E7018-3.2x350"))}
JOINTS = {
    "bevel on bar": {"backing": "bar", "key": "single-bevel", "thickness_mm": 12.0, "bevel_left_deg": 0.0, "root_gap_mm": 7.0},
    "V on bar": {"backing": "bar", "thickness_mm": 14.0, "root_gap_mm": 7.0, "bevel_left_deg": 25.0, "bevel_right_deg": 25.0},
    "V on bar, vertical": {"backing": "bar", "thickness_mm": 16.0, "root_gap_mm": 8.0, "position": "3G"},
}  # fmt: skip


def program(name: str, change_s: float = 60.0) -> LayerProgram:
    joint = make_joint(**JOINTS[name], choices=Choices(setting_change_s=change_s), rods=tuple(RodUse(role=r, rod=d) for r, d in ROD_SETS["bar"]))
    groove, inputs = groove_of(joint.prep), inputs_of(joint, tuple(rods_by_id().values()))
    return LayerProgram(inputs, groove, options_for(inputs, groove)[0])


def seconds(p: LayerProgram, o: rules.Option, answer: str, area: float, n: int) -> float:
    c, length = p.joint.choices, p.joint.piece.length_mm
    burn = o.rod.burn_time_s(o.amps)
    total = n * (c.clean_bead_s + c.clean_per_m_s * length / 1000) + area * length / o.rod.deposit_mm3 * burn
    total += n * c.rod_change_s * math.ceil(area / n * length / o.rod.deposit_mm3 - 1e-6)
    if answer == BALANCED:
        total += n * 60 * ((area / n - o.middle) / o.half) ** 2
        run_out = o.rod.deposit_mm3 / (area / n)
        whole = math.ceil(length / run_out - 1e-6)
        total += n * 20 * max(1 - max(whole * run_out - length, 0.0) / 25, 0.0) ** 2 if whole > 1 else 0.0
    return total + (PER_BEAD * n if answer == FEWEST else 0)


def allowed(o: rules.Option, role: str, area: float, w: float, d: float, n: int) -> bool:
    core = o.rod.diameter_mm
    if not 1.02 * o.low <= area / n <= 0.97 * o.high or d < 0.45 * core - 1e-9:
        return False
    if n == 1:
        most = 1.4 * core if role == "root" or w > 3.3 * core else 1.15 * core
        film = role == "fill" and w > 5.8 * d
        return w <= o.across_mm and d <= w and d <= most + 1e-9 and w >= 1.5 * core and not film
    wide = min(0.8 * 3 * core, 0.7 * o.weave_limit_mm)
    pitch_ok = 0.4 * 3 * core - 1e-9 <= w / n <= wide + 1e-9 and w / n >= 0.85 * d - 1e-9
    return pitch_ok and d <= 0.95 * core + 1e-9 and (role != "root" or n <= 3)


def brute(p: LayerProgram, answer: str) -> float:
    """Least cost over every chain of root, fill layers and cap, by plain recursion over states and the rod last used."""
    caps, change_s = p.caps(Wish(answer)), p.joint.choices.setting_change_s

    def steps(role: str, k: int) -> list:
        found = []
        for m in range(1, min(60, len(p.y) - 1 - k) + 1):
            d = m * p.step
            if d > min(5.0, 1.4 * 4.0) + 1e-9:
                break
            area, w = float(p.area[k + m] - p.area[k]), float(p.width[k + m])
            for o in p.options[role]:
                costs = [seconds(p, o, answer, area, n) for n in range(1, 16) if allowed(o, role, area, w, d, n)]
                if costs:
                    found.append((k + m, setting_of(o), min(costs)))
        return found

    fill_steps = cache(lambda k: steps("fill", k))

    @cache
    def best(k: int, last: tuple) -> float:
        here = [float(cost[k]) + change_s * (setting_of(option) != last) for option, cost in zip(p.options["cap"], caps.cost, strict=True)]
        return min([math.inf, *here, *(cost + change_s * (rod != last) + best(top, rod) for top, rod, cost in fill_steps(k))])

    return min((cost + best(top, rod) for top, rod, cost in steps("root", 0)), default=math.inf)


@pytest.mark.parametrize("change_s", [0.0, 60.0, 600.0])
@pytest.mark.parametrize("answer", [BALANCED, QUICKEST, FEWEST])
@pytest.mark.parametrize("name", list(JOINTS))
def test_the_plan_is_the_true_optimum_with_the_changes_of_rod_in_it(name: str, answer: str, change_s: float) -> None:
    p = program(name, change_s)
    layers = solve(p, Wish(answer))
    assert layers is not None
    changes = sum(setting_of(a.option) != setting_of(b.option) for a, b in itertools.pairwise(layers))
    assert sum(layer.cost for layer in layers) + change_s * changes == pytest.approx(brute(p, answer), rel=1e-9)


def test_on_a_short_weld_a_dear_change_keeps_the_rod() -> None:
    def changes(change_s: float) -> int:
        joint = make_joint("bar", thickness_mm=30.0, length_mm=100.0, choices=Choices(setting_change_s=change_s))
        passes = plan_joint(joint, rods_by_id()).passes
        assert welding_s(joint.working.choices, passes) - welding_s(Choices(setting_change_s=0.0), passes) == change_s * len(changed(passes))
        return len(changed(passes))

    assert changes(600.0) <= changes(0.0) and changes(600.0) <= 1


def test_layers_join_up_and_fill_the_groove() -> None:
    p = program("V on bar")
    layers = solve(p, Wish(BALANCED))
    for below, above in itertools.pairwise(layers):
        assert above.y0 == pytest.approx(below.y1)
    filled = sum(layer.area_mm2 * layer.count for layer in layers[:-1])
    assert filled == pytest.approx(float(p.groove.area_below(layers[-1].y0)))


@pytest.mark.parametrize("name", list(JOINTS))
def test_each_answer_is_best_at_what_it_is_named_for(name: str) -> None:
    p = program(name)
    found = {answer: optimal(p, answer, solve(p, Wish(BALANCED))).layers for answer in ANSWERS}
    assert all(found.values())
    assert bead_count(found["fewest"]) == min(bead_count(v) for v in found.values())
    assert peak_energy(found["coolest"]) <= min(peak_energy(v) for v in found.values()) + 1e-9
    assert bead_count(found["coolest"]) <= 1.5 * bead_count(found["balanced"]) + 1
    assert set(ROLES) == set(p.options)


@pytest.mark.parametrize("thickness", [3.0, 4.0, 6.0])
@pytest.mark.parametrize(("hot", "fill"), [("E6010-3.2x350", "E7018-2.5x350"), ("E6010-4.0x350", "E7018-3.2x350")])
def test_a_hot_pass_with_a_larger_rod_than_the_fill_ends_under_the_face(thickness: float, hot: str, fill: str) -> None:
    uses = tuple(RodUse(role=role, rod=rod) for role, rod in (("root", "E6010-2.5x300"), ("hot", hot), ("fill", fill), ("cap", fill)))
    for answer in ANSWERS:
        plan = plan_joint(make_joint(thickness_mm=thickness, root_face_mm=1.0, root_gap_mm=2.4, rods=uses), rods_by_id(), answer)
        assert plan.reasons or all(y <= thickness + 1e-6 for p in plan.passes if p.role == "hot" for _, y in p.outline_mm)


def test_a_closed_nose_as_thick_as_the_plate_is_refused_in_words() -> None:
    for face, codes in ((2.0, ["joint.face"]), (1.0, [])):
        joint = make_joint("closed", thickness_mm=2.0, root_face_mm=face, root_gap_mm=0.0)
        assert [r.code for r in joint_faults(joint)] == codes
        assert (plan_joint(joint, rods_by_id()).reasons[0].code == "joint.face") == bool(codes)
