"""Practice: figures of a rod against cases and made traces, what a session and the weeks say, the pacer; nothing is said before there is enough."""

from __future__ import annotations

import itertools
import json
import math
import re
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from banister.core.drawing.charts.practice_picture import PracticeView, practice_picture
from banister.core.practice.book import ArcRead, Book, OwnTarget, RodRead, Session
from banister.core.practice.figures import arc_read, arc_wander, beat, edge_timing, overlap, straightness
from banister.core.practice.pacer import NONE, STRAIGHT, WEAVE, edge_s, own_pacer, pacer_for
from banister.core.practice.said import sentences, state_said, weeks_said
from banister.core.practice.standing import standings, weeks_of
from banister.core.practice.weeks import apart, t_975, trend
from banister.core.value import replace
from banister.job.practice import shipped_drills
from tests.conftest import SAY
from tests.sample.practised import SimulatedHand, simulated_book

CASES = json.loads((Path(__file__).parents[1] / "cases" / "inspection.json").read_text(encoding="utf-8"))
DRILLS = shipped_drills()


def cases(fn: str) -> list[Any]:
    return [pytest.param(case, id=case["id"]) for case in CASES if case["fn"] == fn]


def session(**fields: Any) -> Session:
    return Session(**({"on": "2026-11-20", "drill": "edges", "rod": "E7018-3.2x350", "position": "3G", "target_mm": 150.0, "edge_s": 0.8} | fields))


# --- figures of a rod ---------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("arc_wander"))
def test_wander_is_read_after_the_drift_of_the_rod_is_taken_off(case: Any) -> None:
    expected = case["expected"]
    assert arc_wander(case["inputs"]["second_medians_v"]) == pytest.approx((expected["slope_v_s"], expected["wander_v"], expected["drift_v_rod"]))


@pytest.mark.parametrize("case", cases("beat"))
def test_the_beat_is_heard_in_the_volts(case: Any) -> None:
    i, hz = case["inputs"], case["inputs"]["hz"]
    t = np.arange(0, i["seconds"], 1 / hz)
    formula = re.sub(r"(?<=\d) (?=[a-z])|(?<=pi) (?=t)", " * ", i["volts"])
    volts = eval(formula, {"cos": np.cos, "sin": np.sin, "pi": np.pi, "t": t})
    assert beat(volts, hz) == pytest.approx(case["expected"]["edge_s"], rel=case["tolerance"]["rel"])


def test_no_beat_is_heard_where_none_is_and_a_noisy_one_is_right_or_unheard() -> None:
    draw, t = np.random.default_rng(3), np.arange(0, 65, 0.05)

    def hand(deep: float, noise: float, uneven: float) -> float | None:
        edges = np.cumsum(0.8 * (1 + uneven * draw.standard_normal(200)))
        phase = np.interp(t, np.concatenate(([0.0], edges)), 2 * np.pi * np.arange(201))
        return beat(23.5 + deep * np.cos(phase) + noise * draw.standard_normal(len(t)), 20.0)

    false = sum(hand(0.0, 0.6, 0.0) is not None for _ in range(80))
    assert false <= 4, "99 % of rods without a weave stay unheard"
    heard = [hand(0.3, 0.4, 0.08) for _ in range(40)]
    right = [found for found in heard if found is not None and abs(found / 0.8 - 1) < 0.05]
    assert sum(found is not None for found in heard) >= 38 and len(right) >= 37
    assert beat([23.0] * 50, 20.0) is None, "too short to hear anything in"


def test_an_arc_that_is_held_drifts_or_sticks_is_told_apart() -> None:
    t = np.arange(0, 62, 0.02)
    draw = np.random.default_rng(5)
    steady, wild = 23.0 + 0.1 * draw.standard_normal(len(t)), 23.0 + 1.2 * np.sin(t / 1.7) + 0.1 * draw.standard_normal(len(t))
    held, wandering, drifting = (arc_read(list(zip(t, v, strict=True))) for v in (steady, wild, steady + t / 62 * 2.0))
    assert held.wander_v < 0.1 < 0.6 < wandering.wander_v and held.drift_v < 0.2 and drifting.drift_v == pytest.approx(2.0 * 59 / 62, abs=0.15)
    assert drifting.wander_v < 0.1 and held.seconds == pytest.approx(61.98) and held.lost == 0
    stuck = steady.copy()
    stuck[1000:1025] = 4.0
    stuck[2000:2008] = 60.0
    stuck[2500:2504] = 4.0
    assert arc_read(list(zip(t, stuck, strict=True))).lost == 2, "a touch of 0.08 s is none"
    assert arc_read([(0.0, 23.0), (5.0, 23.0)]) is None and arc_read([]) is None


def test_ruler_and_clock() -> None:
    assert overlap(6.0, 11.0) == pytest.approx(45.4545, abs=1e-3) and straightness([0.0, 1.0, 2.0, 3.0]) == pytest.approx(0.0, abs=1e-12)
    assert straightness([0.0, 1.0, 0.0, 1.0, 0.0]) == pytest.approx(math.sqrt(0.24)) and edge_timing([0.8] * 9) == 0.0
    rods = (RodRead(run_out_mm=165.0, widths_mm=(10.0, 11.5, 11.0), marks_s=(6.0, 6.0), edges_s=(0.9, 0.9, 0.9)), RodRead(run_out_mm=150.0, pitch_mm=6.0))
    found = {s.metric.id: s for s in standings(Book(trainee="T", sessions=(session(rods=rods),)), 0, DRILLS)}
    assert found["run_out_error"].values == pytest.approx((10.0, 0.0)) and found["width_spread"].values == (1.5, None)
    assert found["beat_error"].values == (pytest.approx(12.5), None) and "pace_spread" not in found and "overlap" not in found


@pytest.mark.parametrize("case", cases("icc"))
def test_how_many_rods_tell_hands_apart(case: Any) -> None:
    found, expected = apart(case["inputs"]["subjects_by_repeats"]), case["expected"]
    assert (found.icc, found.within_sd, found.least_change_of_six) == pytest.approx((expected["icc1"], expected["within_sd"], expected["mdc95_of_mean_of_6"]))
    assert found.rods_needed == expected["repeats_for_0_8"]
    assert apart([[1.0, 2.0], [2.0, 1.0], [1.5, 1.5]]).rods_needed is None


# --- weeks --------------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("trend"))
def test_a_trend_is_shown_only_where_its_interval_leaves_out_nought(case: Any) -> None:
    found, expected = trend(case["inputs"]["days"], case["inputs"]["session_medians"]), case["expected"]
    assert (found.slope, found.half) == pytest.approx((expected["slope"], expected["half_width_95"]), rel=1e-3) and found.shown == expected["shown"]


def test_students_t_is_that_of_the_tables() -> None:
    assert [t_975(df) for df in (1, 2, 3, 4, 7, 10, 30)] == pytest.approx([12.7062, 4.3027, 3.1824, 2.7764, 2.3646, 2.2281, 2.0423], abs=1e-4)


@pytest.mark.parametrize("a_day", [0.0, 0.04])
def test_the_interval_over_sessions_holds_the_truth_in_19_of_20(a_day: float) -> None:
    draw, inside, shown, n = np.random.default_rng(11), 0, 0, 1500
    days = 3.0 * np.arange(8)
    for _ in range(n):
        rods = draw.normal(0.0, 0.35, (len(days), 6)) + draw.normal(0.0, 0.15, (len(days), 1)) - a_day * days[:, None]
        found = trend(days, np.median(rods, axis=1))
        inside += abs(found.slope + a_day) <= found.half
        shown += found.shown
    assert 0.93 <= inside / n <= 0.97 and (shown / n <= 0.07 if a_day == 0.0 else shown / n > 0.6)


def test_four_sessions_draw_no_line_and_another_rod_begins_a_new_one() -> None:
    book = simulated_book(SimulatedHand(2), "T", date(2026, 10, 1), (0, 3, 7, 10, 15, 20))
    wander = DRILLS.metrics["arc_wander"]
    assert weeks_of(book, wander, 3).line is None and "from five on" in weeks_said(weeks_of(book, wander, 3), SAY)
    assert weeks_of(book, wander, 5).line is not None and len(weeks_of(book, wander, 5).series) == 1
    other = book.with_session(3, replace(book.sessions[3], rod="E7018-2.5x350"))
    broken = weeks_of(other, wander, 5)
    assert [len(one) for one in broken.series] == [3, 1, 2] and broken.line is None
    assert standings(other, 5, DRILLS)[0].earlier != standings(book, 5, DRILLS)[0].earlier


# --- what is said -------------------------------------------------------------------------------
def test_nothing_is_said_of_a_figure_before_its_rods_and_never_more_than_three_sentences() -> None:
    book = simulated_book(SimulatedHand(4), "T", date(2026, 10, 1), (0, 3, 7, 10, 15, 20))
    for n in (1, 3):
        short = book.with_session(5, replace(book.sessions[5], rods=book.sessions[5].rods[:n]))
        found = standings(short, 5, DRILLS)
        assert not any(s.says_something for s in found) and sentences(found, SAY) == [SAY("practice.all_silent")]
        assert state_said(found[0], SAY) == f"too few to say: {n} of 4 rods"
    said = sentences(standings(book, 5, DRILLS), SAY)
    assert 1 <= len(said) <= 3 and all(word not in " ".join(said).lower() for word in ("good", "well done", "score", "points", "level", "rank"))


def test_what_is_furthest_off_its_target_comes_first_and_the_instructors_target_counts() -> None:
    far = RodRead(edges_s=(0.6, 1.0, 0.7, 1.1, 0.5, 1.2), widths_mm=(10.0, 10.5, 11.6), arc=ArcRead(seconds=60, wander_v=0.52, drift_v=0.1))
    book = Book(trainee="T", sessions=(session(rods=(far,) * 5),))
    said = sentences(standings(book, 0, DRILLS), SAY)
    assert said[0].startswith("Edges held evenly") and "target at most 10 %" in said[0]
    wide = book.with_target(OwnTarget(metric="edge_timing", low=0.0, high=60.0, by="instructor"))
    assert not sentences(standings(wide, 0, DRILLS), SAY)[0].startswith("Edges held evenly")
    assert wide.with_target(OwnTarget(metric="edge_timing", low=0.0, high=10.0)).targets == (OwnTarget(metric="edge_timing", low=0.0, high=10.0),)


@settings(max_examples=60)
@given(st.lists(st.lists(st.floats(0.0, 400.0), min_size=0, max_size=7), min_size=1, max_size=7), st.integers(0, 2**16))
def test_no_readings_break_what_is_said(values: list[list[float]], seed: int) -> None:
    sessions = tuple(session(on=f"2026-10-{day + 1:02d}", rods=tuple(RodRead(run_out_mm=max(v, 1.0), restart_step_mm=v / 40 - 5, arc=ArcRead(
        seconds=10, wander_v=v / 10, drift_v=v / 5)) for v in rods)) for day, rods in enumerate(values))  # fmt: skip
    book, last = Book(trainee="T", sessions=sessions), len(sessions) - 1
    found = standings(book, last, DRILLS)
    assert len(sentences(found, SAY)) <= 3
    for s in found:
        assert state_said(s, SAY) and math.isfinite(s.weight) and weeks_said(weeks_of(book, s.metric, last), SAY)


def test_the_picture_has_a_dot_a_rod_and_says_what_has_no_room() -> None:
    book = simulated_book(SimulatedHand(4), "T", date(2026, 10, 1), (0, 3, 7, 10, 15, 20))
    found, weeks = standings(book, 5, DRILLS), weeks_of(book, DRILLS.metrics["edge_timing"], 5)
    whole = practice_picture(book, 5, found, weeks, PracticeView(760.0, 640.0, 2, "edge_timing"), SAY)
    ids = [getattr(s, "id", "") for s in whole.shapes]
    assert ids.count("rod:0") == ids.count("rod:5") == sum(s.values[0] is not None for s in found) and "shown:2" in ids and "chosen:edge_timing" in ids
    for s in found:
        target = next(one for one in whole.shapes if getattr(one, "id", "") == f"target:{s.metric.id}")
        dots = [one for one in whole.shapes if getattr(one, "id", "").startswith("rod:") and target.box[1] - 12 < one.at[1] < target.box[3] + 12]
        assert sum(target.box[0] <= d.at[0] <= target.box[2] for d in dots) == sum(s.target[0] <= v <= s.target[1] for v in s.read), s.metric.id
    low = practice_picture(book, 5, found, weeks, PracticeView(480.0, 400.0, None, found[-1].metric.id), SAY)
    texts = [getattr(s, "id", "") for s in low.shapes]
    assert f"metric:{found[-1].metric.id}" in texts and "more" in texts and f"metric:{found[0].metric.id}" not in texts
    other = book.with_session(3, replace(book.sessions[3], rod="E7018-2.5x350"))
    broken = practice_picture(other, 5, standings(other, 5, DRILLS), weeks_of(other, DRILLS.metrics["edge_timing"], 5), PracticeView(760.0, 640.0), SAY)
    assert sum(getattr(s, "id", "").startswith("break:") for s in broken.shapes) == 2 and not any(getattr(s, "id", "") == "line" for s in broken.shapes)


# --- pacer --------------------------------------------------------------------------------------
@pytest.mark.parametrize("case", cases("edge_s"))
def test_the_beat_of_a_weave(case: Any) -> None:
    assert edge_s(case["inputs"]["advance_mm"], case["inputs"]["travel_mm_min"]) == pytest.approx(case["expected"]["edge_s"])


def test_the_pacer_moves_rests_and_does_not_drift() -> None:
    pacer = pacer_for(3.2, 80.0, "uphill")
    assert pacer.kind == WEAVE and pacer.edge_s == pytest.approx(60 * 0.8 * 3.2 / 160)
    lights = [pacer.light(t) for t in np.arange(0, 40 * pacer.edge_s, 0.01)]
    assert min(lights) == 0.0 and max(lights) == 1.0 and max(abs(a - b) for a, b in itertools.pairwise(lights)) < 0.1, "it never jumps"
    assert pacer.beats(1000 * pacer.edge_s + 1e-6) == 1000
    assert pacer_for(3.2, 20.0).kind == NONE and pacer_for(3.2, 500.0).kind == NONE and pacer_for(3.2, 120.0, weave=False) == own_straight(120.0)
    assert own_pacer(0.3).kind == NONE and own_pacer(0.8).kind == WEAVE


def own_straight(travel: float) -> Any:
    found = pacer_for(3.2, travel, weave=False)
    assert found.kind == STRAIGHT and found.edge_s == pytest.approx(600 / travel)
    return found
