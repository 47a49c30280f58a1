"""The countdown to the interpass limit: coolings weighed by readings, held to a truth that cools otherwise; the journal's passes in time."""

from __future__ import annotations

import numpy as np
import pytest

from banister.core.follow.facts import told
from banister.core.follow.warmth import warmth_of
from banister.core.heat.cooling import Cooling, Variants, Work
from banister.core.heat.countdown import Welded, countdown
from banister.core.heat.thermal import fin_of
from banister.core.journal import Record
from banister.core.limits.windows import Window
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from tests.conftest import make_joint, rods_by_id

JOINT = make_joint(thickness_mm=18.0, length_mm=600.0, position="3G", windows=(Window(quantity="interpass", high=110.0),))

HOT_PASS = Work("p", 500.0, 0.0, 1.3e6)
PLAN = plan_answer(study_of(inputs_of(JOINT, tuple(rods_by_id().values()))), "balanced")  # type: ignore[arg-type]


def hidden(loss: float, heat: float) -> tuple[Cooling, list[tuple[float, float]], tuple[Welded, ...]]:
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
        readings.append((start + 700.0, float(truth.temps(truth.reading).max())))
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
    wild = countdown(joint, fin, passes, [*readings[:-1], (readings[-1][0], readings[-1][1] - 90.0)], now)
    assert wild is not None and abs(wild.likely_s - true_s) < 0.5 * (true_s - now) + 60, "one wild reading does not decide"
    assert wild.contradicted, "and while it is the last one, nothing is predicted"


def test_nothing_welded_is_no_countdown_and_a_reading_under_the_arc_is_passed_over() -> None:
    truth, readings, passes = hidden(1.0, 1.0)
    assert countdown(truth.joint, truth.fin, (), readings, 0.0) is None
    under = [(passes[1].at_s + 100.0, 900.0)]
    assert countdown(truth.joint, truth.fin, passes, under, 3500.0) == countdown(truth.joint, truth.fin, passes, (), 3500.0)


def record(n: int, m: float, k: str, p: str = "", boot: str = "b", **d: object) -> Record:
    return Record(n=n, t=f"2026-11-27T06:{int(m // 60):02d}:{m % 60:06.3f}Z", m=m + (0.0 if boot == "b" else 5e6), b=boot, k=k, j="J1", p=p, d=d)


def test_the_journal_tells_the_heat_of_its_passes() -> None:
    one, two = PLAN.passes[0], PLAN.passes[1]
    records = [record(1, 10.0, "pass-begun", one.key), record(2, 110.0, "rod", one.key, arc_s=90.0), record(3, 130.0, "pass-ended", one.key),
               record(4, 300.0, "temp", "", c=150.0), record(5, 400.0, "pass-begun", two.key, boot="c"),
               record(6, 500.0, "rod", two.key, boot="c", arc_s=80.0, kj=260.0), record(7, 600.0, "clean", two.key, boot="c")]  # fmt: skip
    found = warmth_of(records, "J1", told(records, "J1").passes, PLAN)
    assert [round(w.at_s) for w in found.passes] == [-590, -200] and found.readings == ((pytest.approx(-300.0), 150.0),)
    first, second = (w.work for w in found.passes)
    assert first.duration_s == pytest.approx(120.0) and second.duration_s == pytest.approx(100.0)
    by_time = one.volts * one.amps * 90.0
    assert first.heat_j_m == pytest.approx(one.efficiency * by_time / one.length_mm * 1000)
    assert second.heat_j_m == pytest.approx(two.efficiency * 260e3 / two.length_mm * 1000), "a meter's energy comes before what is reckoned"
    assert warmth_of((), "J1", {}, PLAN).passes == ()
