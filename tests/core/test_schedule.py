"""Schedules against the 2-D reference, waits and limits as properties, several joints on one board."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from banister.core.heat.advice import faster, next_size, others
from banister.core.heat.board import BOTH, board_faults, board_said, work_list
from banister.core.heat.board_search import first_boards, sought
from banister.core.heat.board_walk import Walk, pieces_of, ready_first
from banister.core.heat.cooling import BACK, ON, TOGETHER, Cooling, Work
from banister.core.heat.fin import STEEL, Across, Fin, Stretch, loss
from banister.core.heat.history import at_readings_c, curve_c
from banister.core.heat.readings import fitted
from banister.core.heat.schedule import schedule_of, works_of
from banister.core.heat.shift import AS_DRAWN, FREE, Pause, Shift, shift_faults
from banister.core.heat.thermal import HOTTER_THAN_LIMIT_K, edge_mm, fin_of, heat_faults, mean_over_limit_k, preheat_point_mm, stations_of
from banister.core.joint.heating import HeatSettings, Reading
from banister.core.joint.joint import Joint, edited
from banister.core.judge.temperatures import judged_heat
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.plan.pull import gap_closing_said
from banister.core.remark import INSIDE, NOT_JUDGED, OUTSIDE
from banister.core.value import replace
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id
from tests.core.heat_reference import COUPONS, PLATES, Run

RODS = rods_by_id()


def limited(preheat: float | None = None, interpass: float | None = 200.0, **fields: object) -> Joint:
    windows = [Window(quantity="preheat", low=preheat)] if preheat is not None else []
    windows += [Window(quantity="interpass", high=interpass)] if interpass is not None else []
    return make_joint(**({"thickness_mm": 16.0, "windows": tuple(windows)} | fields))


def fin_passes(run: Run, hotter_k: float) -> tuple[float, list[float]]:
    """The same passes by the program's own model, its losses taken so much over the limit."""
    side = (Stretch(width=run.half_width, thickness=run.thickness),)
    model = Fin(Across(left=side, right=side), STEEL, loss(run.limit_c + hotter_k), run.strip_half)
    at, also = model.reading(run.at), model.reading(run.also)
    state, now, before = model.uniform(run.start_c - 20.0), 0.0, []
    for _ in range(run.count):
        before.append(20 + float(also @ state))
        state = model.heated(state, run.joules)
        wait = max(run.least_s, model.last_fall_s(at, state, run.limit_c - 20.0))
        state, now = model.after(state, wait), now + wait
    return now, before


@pytest.mark.parametrize("run", PLATES, ids=str)
def test_totals_and_the_interpass_point_agree_with_the_2d_reference(run: Run) -> None:
    total, before = fin_passes(run, 30.0)
    after, read = run.kept()
    assert total == pytest.approx(after[-1], rel=0.05)
    assert max(abs(a - b) for a, b in zip(before, read, strict=True)) < 3.0
    if run.thickness == 0.020:
        assert total == pytest.approx(3456, rel=0.10)


@pytest.mark.parametrize("run", COUPONS, ids=str)
def test_small_coupons_cool_as_the_2d_reference_does(run: Run) -> None:
    warms_k = run.joules / (STEEL.density * STEEL.capacity * 2 * run.half_width * run.thickness)
    total, _ = fin_passes(run, max(HOTTER_THAN_LIMIT_K, mean_over_limit_k(warms_k, run.limit_c - 20.0)))
    assert total == pytest.approx(run.kept()[0][-1], rel=0.03)


def test_the_2d_reference_that_is_kept_is_what_it_comes_to() -> None:
    after, before = PLATES[0].walked(2)
    assert (after, before) == (pytest.approx(PLATES[0].kept()[0][:2]), pytest.approx(PLATES[0].kept()[1][:2])), "python -m tests.core.heat_reference"


@pytest.mark.parametrize("width", [20.0, 30.0, 200.0])
@pytest.mark.parametrize("backing", ["open", "bar"])
def test_a_piece_is_modelled_as_wide_as_it_is(width: float, backing: str) -> None:
    joint = make_joint(backing, thickness_mm=10.0, heat=HeatSettings(width_left_mm=width, width_right_mm=2 * width))
    model = fin_of(joint, plan_joint(joint, RODS))
    assert (1000 * model.faces[0], 1000 * model.faces[-1]) == pytest.approx((-width, 2 * width))
    bar = min(20.0, width) + 20.0 if backing == "bar" else 0.0
    assert model.capacities.sum() == pytest.approx(STEEL.density * STEEL.capacity * (0.01 * 3 * width / 1000 + 0.006 * bar / 1000), rel=0.03)


def test_a_closed_bore_about_doubles_the_waits_and_an_open_one_is_a_plate() -> None:
    pipe = limited(interpass=150.0, thickness_mm=12.7, form="pipe", pipe_od_mm=323.9, position="5G")
    plan = plan_joint(pipe, RODS)
    waits = {bore: schedule_of(edited(pipe, bore=bore), plan).waiting_s for bore in ("open", "closed", "filled")}
    assert waits["open"] < waits["closed"] < waits["filled"] and 1.5 < waits["closed"] / waits["open"] < 3.0


def test_a_pipe_welded_downhill_starts_at_twelve() -> None:
    names = [[s.name for s in stations_of(limited(form="pipe", pipe_od_mm=323.9, position="5G", progression=p))] for p in ("up", "down")]
    assert names == [["six", "three", "twelve", "nine"], ["twelve", "three", "six", "nine"]]


joints = st.builds(
    lambda t, width, interpass, preheat, length, position, held, over, form: limited(
        preheat, interpass, thickness_mm=t, length_mm=length, position=position, form=form, pipe_od_mm=323.9,
        heat=HeatSettings(width_left_mm=width, width_right_mm=width, preheat_held=held, margin_k=over)),
    st.sampled_from([10.0, 16.0, 24.0]), st.sampled_from([60.0, 150.0, 400.0]), st.sampled_from([130.0, 180.0, 250.0]),
    st.sampled_from([None, 60.0, 100.0]), st.sampled_from([120.0, 400.0, 1000.0]), st.sampled_from(["1G", "2G"]),
    st.booleans(), st.sampled_from([0.0, 20.0]), st.sampled_from(["plate", "pipe"]),
)  # fmt: skip


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(joints)
def test_no_pass_starts_outside_its_limits_and_time_runs_forwards(joint: Joint) -> None:
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    assert schedule.feasible and len(schedule.passes) == len(plan.passes)
    works = {w.key: w for w in works_of(joint, plan)}
    for p in schedule.passes:
        assert p.temp_c <= schedule.limits.interpass_c + 0.5
        assert p.preheat_point_c >= (schedule.limits.preheat_c or -99.0) - 1.0
        assert p.wait_s >= 0 and p.end_s - p.start_s == pytest.approx(works[p.key].duration_s)
    for a, b in itertools.pairwise(schedule.passes):
        gap = works[a.key].cleaning_s + works[b.key].before_s + b.wait_s + b.reheat_s
        assert b.start_s - a.end_s == pytest.approx(gap, abs=0.1)


def test_less_room_for_heat_means_longer_waits() -> None:
    plan = plan_joint(limited(), RODS)

    def waiting(width: float = 200.0, factor: float = 1.0) -> float:
        return schedule_of(limited(interpass=150.0, heat=HeatSettings(width_left_mm=width, width_right_mm=width, loss_factor=factor)), plan).waiting_s

    assert waiting(60.0) > waiting(120.0) > waiting(400.0)
    assert waiting(factor=0.6) > waiting(factor=2.0)
    small = schedule_of(limited(interpass=110.0, length_mm=150.0, heat=HeatSettings(width_left_mm=60.0, width_right_mm=60.0)), plan)
    assert any(f.code == "heat.small" and "smaller beads do not" in SAY.remedy(f) for f in small.remarks)


@pytest.mark.parametrize(
    ("fields", "word"), [({"interpass": 15.0}, "never cools"), ({"preheat": 220.0, "interpass": 200.0}, "no pass may start"),
     ({"preheat": 100.0, "interpass": 150.0, "heat": HeatSettings(margin_k=60.0)}, "warming to 160"),
     ({"preheat": 100.0, "heat": HeatSettings(preheat_band_mm=30.0)}, "does not reach")],
)  # fmt: skip
def test_what_can_never_be_is_said_and_never_hangs(fields: dict, word: str) -> None:
    joint = limited(**fields)
    schedule = schedule_of(joint, plan_joint(joint, RODS))
    assert not schedule.feasible and word in SAY.text(schedule.remarks[0]) and SAY.remedy(schedule.remarks[0])
    assert (heat_faults(joint) == schedule.remarks and first_boards([(joint, plan_joint(joint, RODS))]) == ()) or board_faults([joint])


def test_the_band_reaches_where_preheat_is_read_even_beside_a_wide_groove() -> None:
    joint = limited(100.0, interpass=200.0, thickness_mm=55.0, bevel_left_deg=30.0, bevel_right_deg=30.0, length_mm=180.0)
    cooling = Cooling(joint, fin_of(joint, Plan("balanced")))
    assert edge_mm(joint) + preheat_point_mm(joint) > 75.0 + 25.0
    assert cooling.temps(cooling.far_reading)[0] == pytest.approx([100.0], abs=1.0)
    plan = plan_joint(joint, RODS)
    started = schedule_of(joint, replace(plan, passes=plan.passes[:6], sequence=())).passes
    assert all(p.preheat_point_c >= 99.0 for p in started) and sum(p.reheat_s > 0 for p in started) < 6


def test_limits_set_for_one_role_or_rod_hold_for_the_whole_joint_and_are_not_called_unset() -> None:
    joint = limited(interpass=None)
    plan = plan_joint(joint, RODS)
    windows = (Window(quantity="interpass", role="cap", high=180.0), Window(quantity="interpass", role="fill", rod="E7018", high=140.0),
               Window(quantity="preheat", role="root", low=70.0), Window(quantity="preheat", low=50.0))  # fmt: skip
    told = edited(joint, windows=windows)
    schedule = schedule_of(told, plan)
    assert (schedule.limits.preheat_c, schedule.limits.interpass_c, schedule.limits.set_) == (70.0, 140.0, True)
    assert all(p.temp_c <= 140.5 and p.preheat_point_c >= 69.0 for p in schedule.passes)
    open_ = {r.code for r in judged_heat(told, plan, None)}
    assert open_ == {"heat.preheat.open", "heat.interpass.open"} and all(r.verdict == NOT_JUDGED for r in judged_heat(told, plan, None))


def test_every_bound_that_is_set_is_judged_a_most_of_preheat_and_a_least_of_interpass_too() -> None:
    plain = limited()
    plan = plan_joint(plain, RODS)

    def judged(preheat: tuple[float | None, float | None], interpass: tuple[float | None, float | None], **heat: float) -> dict[str, list[str]]:
        both = (Window(quantity=q, low=low, high=high) for q, (low, high) in (("preheat", preheat), ("interpass", interpass)) if (low, high) != (None, None))
        joint = edited(plain, windows=tuple(both), **heat)
        schedule = schedule_of(joint, plan)
        first, found = schedule.passes[0], dict[str, list[str]]()
        for r in judged_heat(joint, plan, schedule):
            found.setdefault(r.code, []).append(r.verdict)
            assert r.code != "heat.preheat.over" or (r.place.passes == (first.key,) and r.figures["value"].value == first.temp_c)
            assert all(math.isfinite(v) for f in r.figures.values() for v in (f.value if isinstance(f.value, tuple) else (f.value,)) if isinstance(v, float))
        return found

    n = len(plan.passes)
    cold = judged((None, 120.0), (None, None))
    assert cold["heat.preheat.over"] == [INSIDE] and "heat.preheat" not in cold and cold["heat.interpass.none"] == [NOT_JUDGED]
    warmed = judged((100.0, 120.0), (None, 250.0), margin_k=40.0)
    assert warmed["heat.preheat.over"] == [OUTSIDE] and len(warmed["heat.interpass"]) == n, "warmed to more, by the margin"
    kept = judged((100.0, None), (60.0, None))
    assert kept["heat.interpass.cold"] == [INSIDE] * (n - 1) and "heat.interpass" not in kept, "nothing lies before the first pass"
    assert OUTSIDE in judged((None, None), (400.0, None))["heat.interpass.cold"]


def test_stations_follow_the_piece_and_a_long_seam_is_hottest_where_it_ended() -> None:
    assert [s.name for s in stations_of(limited(length_mm=150.0))] == ["coupon"]
    pipe = limited(form="pipe", pipe_od_mm=273.1, thickness_mm=12.0, position="5G")
    assert len(stations_of(pipe)) == 4 and all(sum(q for _, q in s.events) == 1.0 for s in stations_of(pipe))
    assert len(stations_of(edited(pipe, pipe_od_mm=60.3, thickness_mm=5.0))) == 1
    long = limited(length_mm=1000.0, interpass=600.0)
    schedule = schedule_of(long, plan_joint(long, RODS))
    assert all(p.hottest_station == "end" for p in schedule.passes[2:])


def test_a_pass_run_the_other_way_is_the_mirror_and_to_and_fro_starts_where_it_is_hot() -> None:
    joint = limited(length_mm=1000.0, interpass=600.0)
    read = []
    for course in (ON, BACK):
        cooling = Cooling(joint, fin_of(joint, Plan("balanced")))
        cooling.weld(Work("p1", 300.0, 0.0, 1e6, course=course))
        cooling.carry_to(400.0)
        read.append(cooling.temps(cooling.reading)[0])
    assert read[0] == pytest.approx(read[1][::-1]) and read[0][2] > read[0][0] + 5
    plan = plan_joint(joint, RODS)
    fro = edited(joint, heat=replace(joint.heat, to_and_fro=True))
    assert [w.course == BACK for w in works_of(fro, plan)] == [i % 2 == 1 for i in range(len(plan.passes))]
    stations = [p.hottest_station for p in schedule_of(fro, plan).passes[3:]]
    assert all(a != b for a, b in itertools.pairwise(stations)) and set(stations) == {"start", "end"}
    assert not any(w.course == BACK for w in works_of(edited(fro, form="pipe", pipe_od_mm=323.9), plan))


def test_austenitic_steel_has_its_own_usual_limits_and_no_cooling_time() -> None:
    plain = limited(interpass=None)
    joint = edited(plain, stainless=True)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    assert (schedule_of(plain, plan).limits.interpass_c, schedule.limits.interpass_c, schedule.limits.set_) == (250.0, 150.0, False)
    assert all(p.t85 is None for p in schedule.passes) and schedule.waiting_s > schedule_of(plain, plan).waiting_s
    hot = replace(plan, passes=tuple(replace(p, volts=2 * p.volts, arc_energy_kj_mm=2 * p.arc_energy_kj_mm) for p in plan.passes))
    found = [f for f in schedule_of(joint, hot).remarks if f.code == "heat.stainless.energy"]
    assert found and found[0].value == max(p.arc_energy_kj_mm for p in hot.passes) > 2.0
    held = edited(joint, windows=(Window(quantity="arc_energy", high=9.0),))
    assert not [f for f in schedule_of(held, hot).remarks if f.code == "heat.stainless.energy"]


def test_measured_temperatures_correct_the_loss() -> None:
    joint = limited(length_mm=180.0)
    plan = plan_joint(joint, RODS)
    windy = edited(joint, heat=replace(joint.heat, loss_factor=1.8))
    schedule = schedule_of(joint, plan)
    at = [p.start_s - 5.0 for p in schedule.passes[2:7]]
    blank = tuple(Reading(at_s=t, x_mm=30.0, temp_c=0.0) for t in at)
    read = at_readings_c(edited(windy, readings=blank), plan, schedule)[0]
    readings = tuple(replace(r, temp_c=float(t)) for r, t in zip(blank, read, strict=True))
    found = fitted(edited(joint, readings=readings), plan)
    assert found.factor == pytest.approx(1.8, rel=0.05) and found.rms_k < 1.0 < found.before_k
    assert fitted(joint, plan) is None
    curve = curve_c(joint, plan, schedule, np.array(at), 30.0)
    assert curve.max(axis=0) == pytest.approx(at_readings_c(edited(joint, readings=blank), plan, schedule)[0], abs=0.01)


def alike(count: int, **fields: object) -> list[tuple[Joint, Plan]]:
    joint = limited(thickness_mm=20.0, length_mm=300.0, heat=HeatSettings(width_left_mm=100.0, width_right_mm=100.0), **fields)
    plan = plan_joint(joint, RODS)
    return [(edited(joint, id=f"J{i}"), plan) for i in range(count)]


def test_identical_joints_without_preheat_reach_the_lower_bound() -> None:
    best = first_boards(alike(4, interpass=220.0))[0]
    passes = {p.number: p for p in alike(1, interpass=220.0)[0][1].passes}
    held = [(passes[slot.number].rod.id, passes[slot.number].amps) for slot in best.in_time]
    changes = sum(a != b for a, b in itertools.pairwise(held))
    assert best.end_s == pytest.approx(best.bound_s + 60.0 * changes, rel=1e-3)
    assert best.saved > 0.3 and changes < 11, "fewer than each joint by itself: the rod stays in the holder from joint to joint"


@settings(max_examples=4, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(joints, min_size=2, max_size=3), st.booleans(), st.sampled_from([1, 2]))
def test_a_board_keeps_every_limit_and_is_never_worse_than_one_by_one(many: list[Joint], paused: bool, welders: int) -> None:
    jobs = [(replace(j, id=f"J{i}"), plan_joint(j, RODS)) for i, j in enumerate(many)]
    shift = Shift(begins_s=0.0, pauses=(Pause(from_s=3600.0, to_s=5400.0),) if paused else (), welders=welders)
    boards = first_boards(jobs, shift)
    best = boards[0]
    for found in itertools.islice(sought(jobs, shift), 2):
        assert found.best.cost_s(shift) <= best.cost_s(shift)
        best = found.best
    assert best.end_s <= best.one_by_one_s + 1e-6 and best.end_s >= best.bound_s * 0.98
    limits = {j.id: schedule_of(j, p).limits for j, p in jobs}
    for board in (*boards, best):
        assert sorted((s.joint_id, s.started.key) for s in board.slots) == sorted((j.id, p.key) for j, plan in jobs for p in plan.passes)
        for slot in board.slots:
            assert slot.started.temp_c <= limits[slot.joint_id].interpass_c + 0.5
            assert slot.started.preheat_point_c >= (limits[slot.joint_id].preheat_c or -99.0) - 1.0
            if paused:
                assert slot.until_s <= 3600.1 or slot.started.start_s >= 5399.9
        for own in [[s for s in board.slots if s.welder == w] for w in (1, 2)] + [[s for s in board.slots if s.joint_id == j.id] for j, _ in jobs]:
            assert all(b.started.start_s >= a.until_s - 0.1 for a, b in itertools.pairwise(own))
        for joint, plan in jobs:
            own = [s.started.key for s in board.slots if s.joint_id == joint.id]
            assert own == [p.key for p in plan.passes]


def test_the_work_list_says_when_what_and_until_when() -> None:
    jobs = alike(2, interpass=140.0)
    board = first_boards(jobs)[0]
    lines = work_list(jobs, board, Shift(begins_s=6 * 3600.0), SAY)
    assert [slot for _, slot in lines] == list(board.in_time) and len(lines) == 2 * len(jobs[0][1].passes)
    assert lines[0][0].startswith("6:00 J") and "pass 1, E" in lines[0][0] and ", until 6:" in lines[0][0]
    assert math.isfinite(board.end_s)


def test_a_locked_joint_is_welded_to_its_end_once_begun_and_the_shift_leaves_the_rest() -> None:
    jobs = alike(3, interpass=180.0)
    free = first_boards(jobs)[0]
    wanted = jobs[1][0].id
    held = first_boards(jobs, Shift(in_one_go=(wanted,)))[0]
    ids = [slot.joint_id for slot in held.slots]
    first, last = ids.index(wanted), len(ids) - 1 - ids[::-1].index(wanted)
    assert set(ids[first : last + 1]) == {wanted} and held.end_s >= free.end_s - 1.0
    at = [slot.joint_id for slot in free.slots]
    assert any(a != b for a, b in itertools.pairwise(at)), "the free board must mix, or the lock proves nothing"
    shift = Shift(begins_s=3600.0, until_s=3600.0 + free.end_s / 2)
    done, left = free.done_by(shift.lasts_s)
    assert done and left and done + left == free.slots and max(s.until_s for s in done) <= shift.lasts_s < left[0].until_s
    words = board_said(free, shift, SAY)[1]
    assert f"{len(done)} of {len(free.slots)} passes" in words and all(slot.joint_id in words for slot in left)
    assert len(board_said(free, Shift(), SAY)) == 1


def test_two_welders_share_the_joints_and_never_weld_the_same_one_at_once() -> None:
    jobs = alike(4, interpass=320.0)
    alone, both = first_boards(jobs, Shift(leaving_s=0.0))[0], first_boards(jobs, Shift(welders=2, leaving_s=0.0))[0]
    assert 0.5 * alone.end_s - 1 <= both.end_s < 0.75 * alone.end_s and both.bound_s <= both.end_s
    for key in ("welder", "joint_id"):
        for value in {getattr(s, key) for s in both.slots}:
            own = sorted((s for s in both.slots if getattr(s, key) == value), key=lambda s: s.started.start_s)
            assert all(b.started.start_s >= a.until_s - 0.1 for a, b in itertools.pairwise(own))
    assert {s.welder for s in both.slots} == {1, 2} and sorted(s.started.key for s in both.slots) == sorted(s.started.key for s in alone.slots)
    one_by_one = next(b for b in first_boards(jobs, Shift(welders=2)) if b.rule == "one after the other")
    hands = {j.id: {s.welder for s in one_by_one.slots if s.joint_id == j.id} for j, _ in jobs}
    assert all(len(found) == 1 for found in hands.values())


def test_two_welders_take_a_half_of_a_pipe_each() -> None:
    pipe = limited(form="pipe", pipe_od_mm=323.9, thickness_mm=12.5, position="5G", interpass=250.0)
    plan, (other,) = plan_joint(pipe, RODS), alike(1, interpass=320.0)
    alone, together = works_of(pipe, plan), works_of(pipe, plan, together=True)
    assert [2 * w.duration_s for w in together] == pytest.approx([w.duration_s for w in alone]) and {w.course for w in together} == {TOGETHER}
    jobs = [(edited(pipe, id="P1"), plan), other]
    board = first_boards(jobs, Shift(welders=2, halves=("P1",)))[0]
    pipes, plates = ([s for s in board.slots if (s.joint_id == "P1") == is_pipe] for is_pipe in (True, False))
    assert {s.welder for s in pipes} == {BOTH} and {s.welder for s in plates} <= {1, 2}
    assert all(a.until_s <= b.started.start_s + 0.1 or b.until_s <= a.started.start_s + 0.1 for a in pipes for b in plates)  # both are at the pipe
    assert all(s.started.temp_c <= 250.0 + 0.1 for s in pipes) and board.end_s >= board.bound_s
    with_one = first_boards(jobs, Shift(halves=("P1",)))[0]
    assert {s.welder for s in with_one.slots} == {1}


def test_both_halves_at_once_bring_the_same_heat_and_meet_at_the_top() -> None:
    pipe = limited(form="pipe", pipe_od_mm=323.9, thickness_mm=12.5, position="5G", interpass=600.0)
    read = {}
    for course, lasts_s in ((ON, 600.0), (TOGETHER, 300.0)):
        cooling = Cooling(pipe, fin_of(pipe, Plan("balanced")))
        cooling.weld(Work("p1", lasts_s, 0.0, 1e6, course=course))
        cooling.carry_to(lasts_s + 120.0)
        read[course] = dict(zip([s.name for s in cooling.stations], cooling.temps(cooling.reading)[0], strict=True))
    both = read[TOGETHER]
    assert both["three"] == pytest.approx(both["nine"]) and both["twelve"] > both["three"] > both["six"]
    assert sum(both.values()) > sum(read[ON].values())  # as much heat in half the time


def test_a_welder_leaves_a_joint_only_where_that_saves_enough() -> None:
    jobs = alike(3, interpass=150.0)
    loose, tight = Shift(leaving_s=0.0), Shift(leaving_s=900.0)
    free, held = first_boards(jobs, loose)[0], first_boards(jobs, tight)[0]
    assert free.leaves > held.leaves and free.end_s < held.end_s <= free.end_s + 900.0 * (free.leaves - held.leaves)
    one_by_one = next(board for board in first_boards(jobs, tight) if board.rule == "one after the other")
    assert one_by_one.leaves == 0 and held.cost_s(tight) <= one_by_one.cost_s(tight)


def test_with_two_welders_the_longest_chain_is_begun_first() -> None:
    """Three short joints and one as long as all of them: begun last it would end half as late again."""
    jobs = [(edited(limited(interpass=250.0, thickness_mm=14.0, length_mm=900.0 if i == 3 else 300.0), id=f"J{i}"), None) for i in range(4)]
    jobs = [(joint, plan_joint(joint, RODS)) for joint, _ in jobs]
    best = first_boards(jobs, Shift(welders=2))[0]
    assert "J3" in {slot.joint_id for slot in best.in_time[:2]}
    assert best.end_s == pytest.approx(best.bound_s, rel=0.1)


def test_the_work_is_not_turned_or_gouged_in_a_break() -> None:
    joint = edited(limited(key="double-v", thickness_mm=30.0, length_mm=300.0), id="J0")
    jobs = [(joint, plan_joint(joint, RODS))]
    (turned,) = [slot for slot in first_boards(jobs)[0].slots if slot.before_s]
    pause = Pause(from_s=7 * 3600.0 + turned.prepared_s + 60.0, to_s=7 * 3600.0 + turned.prepared_s + 660.0)
    shift = Shift(pauses=(pause,))
    (after,) = [slot for slot in first_boards(jobs, shift)[0].slots if slot.before_s]
    assert turned.before_s > 600.0 and after.prepared_s >= shift.breaks_s[0][1] - 0.1 and after.started.start_s >= after.prepared_s + turned.before_s - 0.1


def test_the_search_takes_the_same_steps_and_never_claims_that_nothing_is_left() -> None:
    jobs = alike(2, interpass=170.0)
    boards = [[found.best for found in itertools.islice(sought(jobs), 4)] for _ in range(2)]
    assert boards[0] == boards[1]
    lone = replace(first_boards(jobs)[0], one_by_one_s=first_boards(jobs)[0].end_s)
    assert "nothing" not in board_said(lone, Shift(), SAY)[0] and "no shorter order found" in board_said(lone, Shift(), SAY)[0]


@pytest.mark.parametrize("welders", [1, 2])
def test_no_root_is_left_alone_unless_the_shift_allows_it(welders: int) -> None:
    jobs = alike(3, preheat=60.0, interpass=150.0)
    roots = {(j.id, p.key) for j, plan in jobs for p, q in itertools.pairwise(plan.passes) if p.role == "root" and q.role != "root"}
    assert len(roots) == 3

    def left(shift: Shift) -> int:
        boards = first_boards(jobs, shift)
        found = 0
        for board in (*boards, *(found.best for found in itertools.islice(sought(jobs, shift), 2))):
            for who in range(1, shift.welders + 1):
                own = [s for s in board.slots if s.welder == who]
                found += sum((a.joint_id, a.started.key) in roots and a.joint_id != b.joint_id for a, b in itertools.pairwise(own))
        return found

    assert left(Shift(welders=welders)) == 0 < left(Shift(welders=welders, root_alone=True))


def test_a_joint_as_drawn_keeps_its_places_while_the_others_change() -> None:
    jobs = alike(3, interpass=180.0)
    drawn = first_boards(jobs)[0]
    wanted = jobs[0][0].id
    shift = replace(Shift(order=drawn.order).keeping(wanted, AS_DRAWN), pauses=(Pause(from_s=8 * 3600.0, to_s=9 * 3600.0),))
    assert shift.kept_as(wanted) == AS_DRAWN and shift.keeping(wanted, FREE).as_drawn == ()
    places = [i for i, id_ in enumerate(drawn.order) if id_ == wanted]
    boards = first_boards(jobs, shift)
    for board in (*boards, *(found.best for found in itertools.islice(sought(jobs, shift), 5))):
        assert [i for i, id_ in enumerate(board.order) if id_ == wanted] == places
    assert any(board.order != drawn.order for board in boards)


def test_every_choice_tried_comes_close_to_the_best_there_is(monkeypatch: pytest.MonkeyPatch) -> None:
    """Small cases with a tight window, against every order there is."""
    monkeypatch.setattr("banister.core.heat.board_search.ROUNDS", 2)
    for width, preheat in ((60.0, 100.0), (90.0, 110.0)):
        heat = HeatSettings(width_left_mm=width, width_right_mm=width, reheat_s=900.0)
        jobs = []
        for i, (t, length) in enumerate(((10.0, 150.0), (14.0, 400.0))):
            joint = limited(preheat, interpass=150.0, thickness_mm=t, length_mm=length, heat=heat)
            plan = plan_joint(joint, RODS)
            jobs.append((edited(joint, id=f"J{i}"), replace(plan, passes=plan.passes[:3], sequence=())))
        ids = [j.id for j, p in jobs for _ in p.passes]
        everything = []
        for order in set(itertools.permutations(ids)):
            shift = Shift(order=order, as_drawn=tuple(j.id for j, _ in jobs))
            everything.append(Walk(pieces_of(jobs, shift), shift).to_the_end(ready_first, "drawn").end_s)
        *_, last = sought(jobs, Shift(leaving_s=0.0))
        best = last.best
        assert len(everything) == 20 and min(everything) - 1.0 <= best.end_s <= 1.015 * min(everything)
        assert max(everything) > 1.05 * min(everything), "the order must matter, or nothing is shown"


def test_a_board_of_one_joint_or_none_or_a_stale_order_is_no_trouble() -> None:
    jobs = alike(1, interpass=180.0)
    alone = schedule_of(*jobs[0]).end_s
    for shift in (Shift(), Shift(welders=2, in_one_go=("J0",)), Shift(order=("gone", "J0", "gone"), as_drawn=("gone", "J0"))):
        assert all(board.end_s == pytest.approx(alone, abs=1.0) for board in first_boards(jobs, shift))
    assert first_boards(jobs, Shift(left_out=("J0",))) == first_boards([]) == ()


def test_a_night_shift_counts_past_midnight_and_nonsense_is_said() -> None:
    night = Shift(begins_s=22 * 3600.0, until_s=6 * 3600.0, pauses=(Pause(from_s=2 * 3600.0, to_s=2.5 * 3600.0), Pause(from_s=23.75 * 3600.0, to_s=900.0)))
    assert night.lasts_s == 8 * 3600.0 and shift_faults(night) == ()
    assert night.breaks_s == ((1.75 * 3600.0, 2.25 * 3600.0), (4 * 3600.0, 4.5 * 3600.0))
    assert night.after_pauses(3.9 * 3600.0, 600.0) == 4.5 * 3600.0 and night.after_pauses(3.8 * 3600.0, 600.0) == 3.8 * 3600.0
    assert SAY.time_of_day(22 * 3600.0 + 4 * 3600.0) == "2:00 +1 day"
    for wrong, word in ((Shift(until_s=6 * 3600.0), "23 h"), (replace(night, pauses=(Pause(from_s=9e3, to_s=5e3),)), "8 h"),
                        (Shift(begins_s=-5.0), "0:00 to 23:59"), (Shift(welders=3), "1 to 2 welders")):  # fmt: skip
        assert any(word in text for text in SAY.faults(shift_faults(wrong)))


def test_other_ways_of_working_change_what_they_name() -> None:
    joint = limited(60.0, interpass=140.0, thickness_mm=20.0)
    plan = plan_joint(joint, RODS)
    now = schedule_of(joint, plan)
    found = {o.change.code: o for o in others(joint, plan, RODS)}
    assert found["other.hotter"].schedule.waiting_s < now.waiting_s and found["other.wider"].schedule.waiting_s < now.waiting_s
    quicker = plan_joint(faster(joint, plan), RODS)
    mean = {p.rod.id: [q.run_out_mm for q in plan.passes if q.role == "fill" and q.rod.id == p.rod.id] for p in plan.passes if p.role == "fill"}
    assert found["other.faster"].passes == len(quicker.passes) >= len(plan.passes)
    for p in quicker.passes:
        if p.role == "fill":
            assert p.run_out_mm >= 1.149 * sum(mean[p.rod.id]) / len(mean[p.rod.id])
    smaller = next_size(plan, RODS, -1)
    larger = next_size(plan, RODS, 1)
    assert smaller.diameter_mm < larger.diameter_mm and smaller.type == larger.type
    assert found["other.smaller"].change.figures["rod"].value == smaller.id and found["other.smaller"].passes > len(plan.passes)
    assert found["other.held"].schedule.reheating_s == 0


def test_cooling_times_are_held_against_the_procedures_window_and_only_where_it_speaks() -> None:
    joint = limited(60.0)
    plan = plan_joint(joint, RODS)
    schedule = schedule_of(joint, plan)
    times = {p.key: s.t85.seconds for p, s in zip(plan.passes, schedule.passes, strict=True)}
    assert not [r for r in judged_heat(joint, plan, schedule) if r.code.startswith("heat.t85")]
    middle = sorted(times.values())[len(times) // 2]
    fill = {p.key for p in plan.passes if p.role == "fill"}
    held = edited(joint, windows=(*joint.working.windows, Window(quantity="t85", role="fill", high=middle)))
    judged = {r.place.passes[0]: r for r in judged_heat(held, plan, schedule_of(held, plan)) if r.code.startswith("heat.t85")}
    assert set(judged) == fill and all((r.verdict == OUTSIDE) == (times[key] > 1.001 * middle) and r.value == times[key] for key, r in judged.items())
    assert any(r.verdict == OUTSIDE and SAY.remedy(r) for r in judged.values())
    assert {r.verdict for r in judged_heat(held, plan, None) if "t85" in r.code} == {NOT_JUDGED}, "what is not computed is never inside"


def test_the_gap_is_set_wider_by_experience_only_where_it_is_open() -> None:
    words = gap_closing_said(make_joint(root_gap_mm=3.0), SAY)
    assert "3.5 to 4 mm" in words and "rough" in words and "welded last" in words
    assert gap_closing_said(make_joint(backing="bar", root_gap_mm=8.0), SAY) == ""
    assert "per " not in gap_closing_said(make_joint(form="pipe", pipe_od_mm=273.1, root_gap_mm=3.0), SAY_INCH)


def test_four_alike_plates_of_twelve_passes_reach_the_lower_bound(monkeypatch: pytest.MonkeyPatch) -> None:
    works = tuple(Work(f"p{i}", 120.0, 90.0, 0.96e6) for i in range(1, 13))
    for module in ("board_walk", "schedule"):
        monkeypatch.setattr(f"banister.core.heat.{module}.works_of", lambda joint, plan, changes=True, together=False: works)
    joint = limited(interpass=200.0, thickness_mm=20.0, length_mm=900.0)
    plan = plan_joint(joint, RODS)
    plan = replace(plan, passes=tuple(replace(plan.passes[0], key=w.key, number=i) for i, w in enumerate(works, 1)))
    board = first_boards([(edited(joint, id=f"N{i}"), plan) for i in range(4)])[0]
    assert board.bound_s == pytest.approx(4 * 12 * (120 + 90)) and board.end_s == pytest.approx(10_080, abs=5.0)
    assert board.one_by_one_s > 1.1 * board.end_s
    assert all(slot.started.temp_c <= 200.5 for slot in board.slots)
