"""What is reckoned at the joint: the countdown, held to a truth that cools otherwise; the journal's passes in time; what a meter adds."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from banister.core.follow.facts import told
from banister.core.follow.marks import asked_along, laid_along
from banister.core.follow.metered import left_by_pass, left_by_rod, rod_end_mm
from banister.core.follow.warmth import warmth_of
from banister.core.heat.cooling import Cooling, Variants, Work
from banister.core.heat.countdown import Coolings, Read, Welded, countdown
from banister.core.heat.thermal import fin_of
from banister.core.joint.joint import edited
from banister.core.journal import Record
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.value import replace
from tests.conftest import make_joint, rods_by_id

JOINT = make_joint(thickness_mm=18.0, length_mm=600.0, position="3G", windows=(Window(quantity="interpass", high=110.0),))

HOT_PASS = Work("p", 500.0, 0.0, 1.3e6)
PLAN = plan_answer(study_of(inputs_of(JOINT, tuple(rods_by_id().values()))), "balanced")  # type: ignore[arg-type]


def hidden(loss: float, heat: float) -> tuple[Cooling, list[Read], tuple[Welded, ...]]:
    """A joint that cools otherwise than is believed: four passes, a reading after each, as a thermometer without error reads it."""
    fin = fin_of(JOINT, PLAN)
    truth = Cooling(JOINT, fin, Variants(np.array([loss]), np.array([heat]), np.ones(1)))
    readings, passes = [], []
    for i in range(4):
        start = i * 900.0
        truth.carry_to(start)
        truth.weld(HOT_PASS)
        passes.append(Welded(start, HOT_PASS))
        truth.carry_to(start + 700.0)
        readings.append(Read(start + 700.0, float(truth.temps(truth.reading).max())))
    return truth, readings, tuple(passes)


@pytest.mark.parametrize(("loss", "heat"), [(1.0, 1.0), (1.35, 0.95), (0.75, 1.08)])
def test_readings_narrow_the_countdown_about_the_truth(loss: float, heat: float) -> None:
    truth, readings, passes = hidden(loss, heat)
    joint, fin = truth.joint, truth.fin
    now = 3 * 900.0 + 700.0
    true_s = now + float(truth.ready_s()[0])
    blind, read = countdown(joint, fin, passes, (), now), countdown(joint, fin, passes, readings, now)
    assert blind is not None and read is not None and true_s > now + 60, "a wait worth counting"
    assert read.early_s <= read.likely_s <= read.late_s and read.early_s - 60 < true_s < read.late_s + 60 and not read.contradicted
    assert abs(read.likely_s - true_s) < max(45.0, 0.2 * (true_s - now)) and read.now_c == pytest.approx(readings[-1][1], abs=6.0)
    assert abs(read.likely_s - true_s) < 0.5 * abs(blind.likely_s - true_s) + 30.0, "better than unread"
    wild = countdown(joint, fin, passes, [*readings[:-1], Read(readings[-1].at_s, readings[-1].c - 90.0)], now)
    assert wild is not None and abs(wild.likely_s - true_s) < 0.5 * (true_s - now) + 60, "one wild reading does not decide"
    assert wild.contradicted, "and while it is the last one, nothing is predicted"
    last = readings[-1]
    infrared, contact = (countdown(joint, fin, passes, [*readings[:-1], Read(last.at_s, last.c - 15.0, kind)], now) for kind in (True, False))
    assert infrared is not None and contact is not None
    assert abs(infrared.now_c - truth_c(truth)) < abs(contact.now_c - truth_c(truth)), "an infrared reading that is low is believed less"


def test_nothing_welded_is_no_countdown_and_a_reading_under_the_arc_is_passed_over() -> None:
    truth, readings, passes = hidden(1.0, 1.0)
    assert countdown(truth.joint, truth.fin, (), readings, 0.0) is None
    under = [Read(passes[1].at_s + 100.0, 900.0)]
    assert countdown(truth.joint, truth.fin, passes, under, 3500.0) == countdown(truth.joint, truth.fin, passes, (), 3500.0)


def test_coolings_that_walk_along_tell_what_those_do_that_begin_anew() -> None:
    """Also where the clock is counted from another record each time, a reading comes late, or an earlier pass turns out otherwise."""
    truth, readings, passes = hidden(1.2, 0.95)
    joint, fin = truth.joint, truth.fin
    along = Coolings(joint, fin)
    hotter = (passes[0], replace(passes[1], work=replace(HOT_PASS, heat_j_m=1.5e6)), *passes[2:])
    as_it_grew = [(passes[:1], (), 650.0), (passes[:1], readings[:1], 800.0), (passes[:2], readings[:1], 1500.0), (passes, readings[:3], 3300.0),
                  (passes, readings, 3500.0), (passes, (*readings, Read(1_000.0, 90.0)), 3600.0), (hotter, readings, 3600.0)]  # fmt: skip
    walked = []
    for some, read, now in as_it_grew:
        shifted = [replace(one, at_s=one.at_s - now) for one in some], [one._replace(at_s=one.at_s - now) for one in read]
        found, anew = along.countdown(*shifted, 0.0), countdown(joint, fin, some, read, now)
        assert found is not None and anew is not None
        assert (found.likely_s, found.now_c, found.loss, found.contradicted) == pytest.approx((anew.likely_s - now, anew.now_c, anew.loss, anew.contradicted))
        walked.append(found.now_c)
    assert len(set(walked)) == len(walked)


def truth_c(truth: Cooling) -> float:
    return float(truth.temps(truth.reading).max())


def record(n: int, m: float, k: str, p: str = "", boot: str = "b", **d: object) -> Record:
    return Record(n=n, t=f"2026-11-27T06:{int(m // 60):02d}:{m % 60:06.3f}Z", m=m + (0.0 if boot == "b" else 5e6), b=boot, k=k, j="J1", p=p, d=d)


def test_the_journal_tells_the_heat_of_its_passes() -> None:
    one, two = PLAN.passes[0], PLAN.passes[1]
    records = [record(1, 10.0, "pass-begun", one.key), record(2, 110.0, "rod", one.key, arc_s=90.0), record(3, 130.0, "pass-ended", one.key),
               record(4, 300.0, "temp", "", c=150.0), record(5, 400.0, "pass-begun", two.key, boot="c"),
               record(6, 500.0, "rod", two.key, boot="c", arc_s=80.0, kj=260.0), record(7, 600.0, "clean", two.key, boot="c")]  # fmt: skip
    found = warmth_of(records, records[-1], "J1", told(records, "J1").passes, PLAN)
    assert [round(w.at_s) for w in found.passes] == [-590, -200] and found.readings == (Read(pytest.approx(-300.0), 150.0),)  # type: ignore[arg-type]
    first, second = (w.work for w in found.passes)
    assert first.duration_s == pytest.approx(120.0) and second.duration_s == pytest.approx(100.0)
    by_time = one.volts * one.amps * 90.0
    assert first.heat_j_m == pytest.approx(one.efficiency * by_time / one.length_mm * 1000)
    assert second.heat_j_m == pytest.approx(two.efficiency * 260e3 / two.length_mm * 1000), "a meter's energy comes before what is reckoned"
    assert warmth_of((), records[-1], "J1", {}, PLAN).passes == ()
    late = [replace(record(n, 7000.0, k, one.key, **d), at=f"2026-11-27T06:{at}:00Z")
            for n, k, at, d in ((1, "pass-begun", 10, {}), (2, "rod", 14, {}), (3, "pass-ended", 14, {"left": 0.5}),
                                (4, "temp", 20, {"c": 120.0, "emissivity": 0.9}))]  # fmt: skip
    written = record(5, 7200.0, "note")
    paper = warmth_of([*late, written], replace(written, t="2026-11-27T07:00:00.000Z"), "J1", told(late, "J1").passes, PLAN)
    assert [round(w.at_s) for w in paper.passes] == [-3000] and paper.readings == (Read(-2400.0, 120.0, True),), "from when it happened"
    assert paper.passes[0].work.heat_j_m == pytest.approx(one.efficiency * one.volts * one.amps * 0.5 * one.rod.burn_time_s(one.amps) / one.length_mm * 1000)


# --- what a meter adds -----------------------------------------------------------------------
def test_a_meter_tells_where_a_rod_must_end_and_what_has_left_a_rule() -> None:
    joint = edited(JOINT, windows=(Window(quantity="arc_energy", low=1.0, high=2.0), Window(quantity="amps", low=100.0, high=130.0)))
    p = PLAN.passes[2]
    assert rod_end_mm(JOINT, p, 100.0, 0.5) is None, "nothing allowed, nothing said"
    assert rod_end_mm(joint, p, 100.0, 0.5) == (pytest.approx(100.0), pytest.approx(200.0)), "200 kJ a rod over 2 and 1 kJ/mm"
    planned = p.volts * p.amps * p.rod.burn_time_s(p.amps) / 1000
    assert rod_end_mm(joint, p, 1.0, 0.05) == (pytest.approx(planned / 2), pytest.approx(planned)), "a rod just struck burns as planned"
    heat = edited(joint, windows=(Window(quantity="heat_input", high=2.0),))
    assert rod_end_mm(heat, p, 100.0, 0.5) == (pytest.approx(p.efficiency * 100.0), None)
    assert left_by_rod(joint, p, 131.0) is None and left_by_rod(joint, p, 98.5) is None, "within what the meter is sure of nothing is said"
    high, low = left_by_rod(joint, p, 140.0), left_by_rod(joint, p, 90.0)
    assert high is not None and low is not None and (high.limit, high.sd, low.limit) == (130.0, pytest.approx(2.8), 100.0)
    assert left_by_pass(joint, p, 1.5 * p.length_mm) is None and left_by_pass(joint, p, 2.05 * p.length_mm) is None
    hot = left_by_pass(joint, p, 2.5 * p.length_mm)
    assert hot is not None and (hot.rule, hot.value, hot.limit) == ("heat", pytest.approx(2.5), 2.0)


def test_rods_are_counted_by_their_charge_where_a_meter_saw_them_all() -> None:
    rods = [record(1, 0.0, "pass-begun", "p1"), record(2, 9.0, "rod", "p1", arc_s=60.0, burnt=1.04, kj=200.0),
            record(3, 19.0, "rod", "p1", arc_s=30.0, burnt=0.45, kj=90.0), record(4, 20.0, "pass-ended", "p1", left=0.5)]  # fmt: skip
    seen = told(rods, "J1").passes["p1"]
    assert (seen.rods_used, seen.energy_kj) == (pytest.approx(1.49), pytest.approx(290.0))
    by_key = told([*rods[:2], record(3, 19.0, "rod", "p1", arc_s=30.0), rods[3]], "J1").passes["p1"]
    assert (by_key.rods_used, by_key.energy_kj) == (pytest.approx(1.5), None), "one that no meter saw: all are counted"


@given(st.lists(st.floats(3.0, 9.0), min_size=3, max_size=9), st.floats(12.0, 30.0), st.floats(900.0, 4000.0))
def test_a_rod_ends_where_the_running_volume_has_filled_it(depths: list[float], area: float, deposit: float) -> None:
    length = 640.0
    at = [length * k / (len(depths) - 1) for k in range(len(depths))]
    window = (0.5 * area, 2.0 * area)
    found = laid_along(area, deposit, length, tuple(zip(at, depths, strict=True)), 14.0, window)
    areas = asked_along(area, depths, 14.0, window)
    fine = np.linspace(0.0, length, 20001)
    for k, mark in enumerate(found.marks_mm, 1):
        under = fine[fine <= mark]
        assert np.trapezoid(np.interp(under, at, areas), under) == pytest.approx(k * deposit, rel=0.01, abs=area)
    assert list(found.marks_mm) == sorted(found.marks_mm) and all(0 < mark < length for mark in found.marks_mm)
    highest = areas.index(max(areas))
    assert all(low < high for low, high in found.slow_mm)
    assert (max(areas) > 1.1 * area) == any(low <= at[highest] <= high for low, high in found.slow_mm)
