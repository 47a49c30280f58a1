"""What cannot be known: draws against single schedules, the band, what readings leave of it; preheat along the pass."""

from __future__ import annotations

import numpy as np
import pytest

from banister.core.heat.cooling import LIKELY, Cooling, Variants
from banister.core.heat.history import at_readings_c, curves_c, laid_out
from banister.core.heat.line import heat_line
from banister.core.heat.schedule import schedule_of, walked, works_of
from banister.core.heat.spread import WITHIN, between, drawn, spread_of, temperature_band_c
from banister.core.heat.thermal import fin_of
from banister.core.joint.heating import HeatSettings, Reading
from banister.core.joint.joint import Joint, edited
from banister.core.judge.temperatures import judged_heat
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.remark import OUTSIDE, Remark
from banister.core.value import replace
from tests.conftest import SAY, rods_by_id
from tests.core.test_schedule import limited

RODS = rods_by_id()
JOINTS = {
    "coupon": {"interpass": 150.0, "length_mm": 180.0},
    "long, uneven": {"interpass": 130.0, "length_mm": 900.0, "right_thickness_mm": 25.0},
    "pipe": {"interpass": 120.0, "form": "pipe", "pipe_od_mm": 273.1, "thickness_mm": 12.0, "position": "5G"},
}


def behind_in(joint: Joint, plan: Plan) -> list[Remark]:
    return [r for r in judged_heat(joint, plan, schedule_of(joint, plan)) if r.code.startswith("heat.preheat") and r.verdict == OUTSIDE]


def one(loss: float = 1.0, heat: float = 1.0, speed: float = 1.0) -> Variants:
    return Variants(np.array([loss]), np.array([heat]), np.array([speed]))


@pytest.mark.parametrize("fields", JOINTS.values(), ids=JOINTS)
def test_a_draw_is_the_schedule_it_would_be_alone(fields: dict) -> None:
    joint = limited(**fields)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    alone = spread_of(joint, plan, schedule, LIKELY)
    assert alone.end_s[0] == pytest.approx(schedule.end_s, abs=0.1)
    assert alone.waits_s[0] == pytest.approx([p.wait_s for p in schedule.passes], abs=0.1)
    many = drawn(40)
    together = spread_of(joint, plan, schedule, many)
    for i in (0, 17, 39):
        single = Variants(many.loss[i : i + 1], many.heat[i : i + 1], many.speed[i : i + 1])
        assert spread_of(joint, plan, schedule, single).end_s[0] == pytest.approx(together.end_s[i], abs=0.1)
    for factor in (0.7, 1.3):
        rebuilt = schedule_of(edited(joint, heat=replace(joint.heat, loss_factor=factor)), plan)
        assert spread_of(joint, plan, schedule, one(loss=factor)).end_s[0] == pytest.approx(rebuilt.end_s, rel=0.01)


def test_each_unknown_moves_the_end_the_way_it_must() -> None:
    joint = limited(interpass=140.0, length_mm=180.0)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)

    def end(**factor: float) -> float:
        return float(spread_of(joint, plan, schedule, one(**factor)).end_s[0])

    assert schedule.waiting_s > 0.3 * schedule.end_s, "the waits must weigh"
    assert end(loss=0.7) > end() > end(loss=1.3)
    assert end(heat=1.1) > end() > end(heat=0.9)
    assert end(loss=0.7) / end() == pytest.approx(1.31, abs=0.15)
    less_arc = sum(w.duration_s for w in works_of(joint, plan)) * (1 - 1 / 1.1)
    assert end() - end(speed=1.1) > less_arc, "faster brings less heat as well, so it also waits less"


def test_the_band_holds_nine_of_ten_draws_and_the_draws_fill_their_limits() -> None:
    draws = drawn(1000)
    for name, within in WITHIN.items():
        found = getattr(draws, name)
        assert found.min() >= 1 - within and found.max() <= 1 + within
        assert np.histogram(found, 10, (1 - within, 1 + within))[0] == pytest.approx([100] * 10, abs=1)
    assert np.abs(np.corrcoef([draws.loss, draws.heat, draws.speed]) - np.eye(3)).max() < 0.1
    joint = limited(interpass=150.0)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    spread = spread_of(joint, plan, schedule, draws)
    low, high = spread.ends_s
    assert low < schedule.end_s < high and ((spread.end_s >= low) & (spread.end_s <= high)).mean() == pytest.approx(0.9, abs=0.01)
    assert all(a <= b for a, b in spread.wait_bands_s)
    values = np.arange(10.0)[:, None]
    assert between(values, np.full(10, 0.1)) == (pytest.approx([0.0]), pytest.approx([9.0]))
    assert between(values, np.eye(10)[3]) == (pytest.approx([3.0]), pytest.approx([3.0]))


def test_measured_temperatures_narrow_the_band_round_what_they_say() -> None:
    joint = limited(interpass=140.0, length_mm=180.0)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    draws, fin = drawn(400), fin_of(joint, plan)

    def read(loss: float, more: float = 0.0) -> Joint:
        blank = tuple(Reading(at_s=p.start_s - 5.0, x_mm=20.0, temp_c=0.0) for p in schedule.passes[2:])
        temps = at_readings_c(edited(joint, readings=blank), plan, schedule, fin, one(loss=loss))[0]
        return edited(joint, readings=tuple(replace(r, temp_c=float(t) + more) for r, t in zip(blank, temps, strict=True)))

    wide = spread_of(joint, plan, schedule, draws)
    times = np.array([schedule.end_s * 0.9])

    def band(measured: Joint) -> tuple[float, float]:
        spread = spread_of(measured, plan, schedule, draws)
        assert not spread.contradicted and spread.weights.sum() == pytest.approx(1.0)
        low, high = temperature_band_c(measured, plan, schedule, times, draws, spread, fin)
        return float(low[0]), float(high[0])

    low, high = temperature_band_c(joint, plan, schedule, times, draws, wide, fin)
    for loss in (0.8, 1.0, 1.2):
        truth = float(curves_c(laid_out(joint, plan, schedule, fin, one(loss=loss)), times, joint.heat.measure_at_mm).max())
        below, above = band(read(loss))
        assert above - below < 0.7 * float(high[0] - low[0]) and below - 3 < truth < above + 3
    away = spread_of(read(1.0, more=150.0), plan, schedule, draws)
    assert away.contradicted and away.ends_s == wide.ends_s, "readings that fit no draw leave the band as it was, and say so"


def test_the_lines_band_encloses_the_likely_line_and_starts_where_all_start() -> None:
    joint = limited(60.0, interpass=150.0)
    line = heat_line(joint, plan_joint(joint, RODS))
    low, likely, high = (np.array(values) for values in (line.low, line.likely, line.high))
    assert (low <= likely).all() and (likely <= high).all()
    assert high[0] - low[0] < 0.5 < (high - low).max()
    likely, low, high = line.at(line.schedule.end_s / 2)
    assert low < likely < high


def test_a_long_weld_that_falls_below_preheat_before_the_arc_comes_is_said_and_kept_on_heat_mends_it() -> None:
    joint = limited(90.0, interpass=220.0, length_mm=900.0, thickness_mm=20.0)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    behind = behind_in(joint, plan)[0]
    first = schedule.passes[0]
    assert first.preheat_point_c > 85 and first.arrival_c < 85 and behind.value == first.arrival_c and behind.place.passes == (first.key,)
    enough = behind.figures["enough"].value
    assert enough > 90 and f"{enough:g}" in SAY.remedy(behind)
    for warmed, told in ((enough, False), (enough - 12.0, True)):
        warmer = edited(joint, heat=replace(joint.heat, margin_k=warmed - 90.0))
        assert any(r.place.passes == (first.key,) for r in behind_in(warmer, plan)) == told
    held = edited(joint, heat=replace(joint.heat, preheat_held=True))
    kept = schedule_of(held, plan)
    assert kept.feasible and kept.reheating_s == 0 and not behind_in(held, plan)
    assert all(p.arrival_c >= 89.5 and p.preheat_point_c >= 89.5 and p.temp_c <= 220.5 for p in kept.passes)
    assert kept.waiting_s >= schedule.waiting_s - 1.0


def test_heat_kept_on_still_cools_to_a_limit_close_above_preheat() -> None:
    joint = limited(100.0, interpass=115.0, length_mm=180.0, heat=HeatSettings(preheat_held=True))
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    assert schedule.feasible and all(p.temp_c <= 115.5 for p in schedule.passes)
    cooling = Cooling(joint, fin_of(joint, Plan("balanced")))
    for work, begun in walked(cooling, works_of(joint, plan)):
        assert work.heat_j_m > 0 and cooling.temps(cooling.far_reading, begun.state).min() >= 99.5
