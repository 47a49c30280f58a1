"""Charts looked at as text: where every mark, line and word of rail, window bar, plot, preheat map and board stands."""

from __future__ import annotations

import itertools
from datetime import date

import pytest

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.axis import Axis
from banister.core.drawing.charts.board import BoardView, board_chart
from banister.core.drawing.charts.plot import Series, across, levels_of, over_time
from banister.core.drawing.charts.preheat_map import contour_kj_mm, preheat_map
from banister.core.drawing.charts.rail import FOOT, RailChart, RailView, rail
from banister.core.drawing.charts.window_bar import Gauge, window_bar
from banister.core.drawing.section import pass_label
from banister.core.drawing.shapes import PLAIN, Drawing, Text
from banister.core.heat.board_search import first_boards
from banister.core.heat.line import HeatLine, heat_line
from banister.core.heat.preheat import method_b_c
from banister.core.heat.shift import LEFT_OUT, Pause, Shift
from banister.core.joint.heating import Reading
from banister.core.joint.joint import Joint, edited
from banister.core.judge.judgement import Documents, Judgement, judged
from banister.core.limits.windows import Bounds, Window
from banister.core.plan.answers import plan_joint
from banister.core.plan.plan import Plan
from banister.core.value import replace
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, shapes_of, texts_of

RODS = rods_by_id()
WINDOWS = (Window(quantity="arc_energy", low=0.4, high=1.6), Window(quantity="interpass", high=180.0), Window(quantity="preheat", low=80.0))
CLOCK, STEPS = RailView(1200.0, 220.0, on_clock=True), RailView(1200.0, 180.0)


@pytest.fixture(scope="module")
def welded() -> tuple[Joint, Plan, HeatLine, Judgement]:
    joint = make_joint(thickness_mm=20.0, windows=WINDOWS, readings=(Reading(at_s=1200.0, x_mm=10.0, temp_c=150.0),))
    plan = plan_joint(joint, RODS)
    line = heat_line(joint, plan, 24 * 3600.0)
    return joint, plan, line, judged(joint, plan, line.schedule, Documents(today=date(2031, 1, 1)))


@pytest.fixture(scope="module")
def on_clock(welded: tuple[Joint, Plan, HeatLine, Judgement]) -> RailChart:
    return rail(*welded, SAY, CLOCK)


def by_id(drawing: Drawing, start: str) -> dict[str, object]:
    return {s.id: s for s in shapes_of(drawing) if getattr(s, "id", "").startswith(start)}


def middle(shape: object) -> tuple[float, float]:
    if hasattr(shape, "at"):
        return shape.at
    x0, y0, x1, y1 = shape.box
    return (x0 + x1) / 2, (y0 + y1) / 2


def test_the_temperature_runs_up_with_the_heat_and_is_never_cut(on_clock: RailChart, welded: tuple) -> None:
    _, _, line, _ = welded
    curve = by_id(on_clock.drawing, "likely")["likely"].segments
    heights = [curve[0][0][1], *(b[1] for _, b in curve)]
    ranks = sorted(range(len(line.likely)), key=line.likely.__getitem__)
    assert [heights[i] for i in ranks] == sorted(heights), "hotter stands higher"
    assert len(set(heights)) > 0.9 * len(heights), "no flat piece where something was cut off"
    left, low, right, high = on_clock.temperature_box
    (band,) = by_id(on_clock.drawing, "spread").values()
    assert all(low <= y <= high and left <= x <= right for points in (band.lower, band.upper) for x, y in points)
    assert max(heights) <= max(y for _, y in band.upper) and min(heights) >= min(y for _, y in band.lower)


def test_limits_lie_across_at_their_degrees_and_the_band_of_energy_has_its_height(on_clock: RailChart, welded: tuple) -> None:
    joint, plan, line, judgement = welded
    limits = by_id(on_clock.drawing, "limit:")
    interpass, preheat = (limits[f"limit:{name}"].segments[0][0][1] for name in ("interpass", "preheat"))
    curve = by_id(on_clock.drawing, "likely")["likely"].segments
    degrees = Axis(80.0, 180.0, preheat, interpass)
    for (_, y), value in zip((a for a, _ in curve), line.likely, strict=False):
        assert degrees.value(y) == pytest.approx(value, abs=1e-6)
    windows = by_id(rail(joint, plan, None, judgement, SAY, STEPS).drawing, "window:")
    assert len(windows) == len(plan.passes)
    posts = by_id(rail(joint, plan, None, judgement, SAY, STEPS).drawing, "p")
    one = plan.passes[0]
    scale = Axis(0.4, 1.6, windows[f"window:{one.key}"].box[1], windows[f"window:{one.key}"].box[3])
    assert scale.start < scale.end
    for p in plan.passes:
        assert scale.value(posts[p.key].box[3]) == pytest.approx(p.arc_energy_kj_mm, abs=1e-6), "posts and band share one scale"
        assert posts[p.key].box[1] == FOOT


def test_the_reading_that_is_judged_is_marked_where_each_pass_starts(on_clock: RailChart, welded: tuple) -> None:
    _, plan, line, _ = welded
    marks, limits = by_id(on_clock.drawing, "start:"), by_id(on_clock.drawing, "limit:")
    degrees = Axis(80.0, 180.0, *(limits[f"limit:{name}"].segments[0][0][1] for name in ("preheat", "interpass")))
    assert set(marks) == {f"start:{p.key}" for p in plan.passes}
    for started in line.schedule.passes:
        x, y = middle(marks[f"start:{started.key}"])
        assert on_clock.time.value(x) == pytest.approx(started.start_s) and degrees.value(y) == pytest.approx(started.temp_c)
        shape = "Rect" if started.reheat_s > 0 else "Dot"
        assert type(marks[f"start:{started.key}"]).__name__ == shape
    assert {type(m).__name__ for m in marks.values()} >= {"Dot"} and any(s.wait_s > 1 for s in line.schedule.passes)
    (cross,) = by_id(on_clock.drawing, "reading").values()
    xs, ys = zip(*(p for segment in cross.segments for p in segment), strict=True)
    assert on_clock.time.value(sum(xs) / 4) == pytest.approx(1200.0) and degrees.value(sum(ys) / 4) == pytest.approx(150.0)


def test_a_pass_outside_is_notched_and_a_start_outside_is_marked_so(welded: tuple) -> None:
    joint, plan, line, judgement = welded
    tight = edited(joint, windows=(Window(quantity="arc_energy", high=0.9),))
    found = judged(tight, plan, line.schedule, Documents())
    notches = by_id(rail(tight, plan, line, found, SAY, CLOCK).drawing, "notch:")
    assert {name.removeprefix("notch:") for name in notches} == found.passes_outside != frozenset()
    hot = edited(joint, windows=(Window(quantity="arc_energy", high=1.04 * plan.peak_arc_energy_kj_mm), Window(quantity="amps", high=50.0)))
    steps = rail(hot, plan, line, judged(hot, plan, line.schedule, Documents()), SAY, STEPS).drawing  # a limit runs where names are: they stand inside
    named = {t.text: box_of(t) for t in shapes_of(steps) if isinstance(t, Text)}
    for key, notch in by_id(steps, "notch:").items():
        left, foot, right, top = named[pass_label(next(p for p in plan.passes if p.key == key.removeprefix("notch:")))]
        ends = [point for segment in notch.segments for point in segment]
        assert not [x for x, y in ends if left - 1 < x < right + 1 and foot < y < top], "a notch stands beside the name"
    assert by_id(rail(joint, plan, line, judgement, SAY, CLOCK).drawing, "notch:").keys() == {f"notch:{k}" for k in judgement.passes_outside}


def test_until_heat_is_computed_the_clock_says_so(welded: tuple) -> None:
    joint, plan, _, judgement = welded
    assert any(SAY("heat.open") in text for text in texts_of(rail(joint, plan, None, judgement, SAY, CLOCK).drawing))
    assert not any(SAY("heat.open") in text for text in texts_of(rail(joint, plan, None, judgement, SAY, STEPS).drawing))
    assert texts_of(rail(joint, None, None, None, SAY, STEPS).drawing) == [SAY("rail.none")]


@pytest.mark.parametrize("width", [700.0, 1200.0])
@pytest.mark.parametrize("on_clock", [False, True])
def test_words_on_the_rail_never_collide_and_inches_are_inches(welded: tuple, width: float, on_clock: bool) -> None:
    for say in (SAY, SAY_INCH):
        drawing = rail(*welded, say, RailView(width, 220.0, on_clock=on_clock)).drawing
        assert collisions(drawing) == []
    words = " ".join(texts_of(drawing))
    assert "kJ/in" in words and "mm" not in words and "\N{DEGREE SIGN}C" not in words


def collisions(drawing: Drawing) -> list[tuple[str, str]]:
    """Pairs of words that lie over one another."""
    boxes = [(s.text, box_of(s)) for s in shapes_of(drawing) if isinstance(s, Text) and s.text]
    return [(a, b) for (a, p), (b, q) in itertools.combinations(boxes, 2)
            if min(p[2], q[2]) - max(p[0], q[0]) > 1 and min(p[3], q[3]) - max(p[1], q[1]) > 3]  # fmt: skip


def box_of(text: Text) -> tuple[float, float, float, float]:
    wide = advance(text.text, text.size, text.face or PLAIN)
    x = text.at[0] - {"start": 0.0, "end": wide}.get(text.anchor, wide / 2)
    return (x, text.at[1] - text.size / 2, x + wide, text.at[1] + text.size / 2)


def outside(drawing: Drawing) -> list[str]:
    """Texts of a chart that lie outside its box, or run over its side."""
    low_x, low_y, high_x, high_y = drawing.box
    lying = [(s.text, s.at[1], box_of(s)) for s in shapes_of(drawing) if isinstance(s, Text) and s.text]
    return [text for text, y, (left, _, right, _) in lying if left < low_x - 1 or right > high_x + 1 or not low_y <= y <= high_y]


@pytest.mark.parametrize(("value", "words", "tone"), [(1.0, "spare", "text"), (0.3, "under the window", "outside"), (2.0, "over the window", "outside")])
def test_a_window_bar_puts_the_value_against_its_window(value: float, words: str, tone: str) -> None:
    drawing = window_bar(Gauge("Arc energy", value, "energy", Bounds(0.4, 1.6)), 260.0, SAY)
    window, pointer = by_id(drawing, "window")["window"].box, by_id(drawing, "value")["value"]
    scale = Axis(0.4, 1.6, window[0], window[2])
    assert scale.value(pointer.points[-1][0]) == pytest.approx(min(max(value, scale.value(0.0)), scale.value(260.0)))
    assert pointer.style == tone and any(words in text for text in texts_of(drawing)) and window[3] > window[1]
    assert {"0.40", "1.60"} <= set(texts_of(drawing))


def test_a_bar_without_a_window_is_not_judged() -> None:
    gauge = Gauge("Voltage", 23.5, "voltage", Bounds())
    assert gauge.words(SAY) == SAY("verdict.not judged") and by_id(window_bar(gauge, 260.0, SAY), "window") == {}


def test_plots_hold_every_line_level_and_reading() -> None:
    series = [Series("near", (0.0, 60.0, 120.0), (20.0, 420.0, 180.0)), Series("far", (0.0, 60.0, 120.0), (20.0, 90.0, 110.0))]
    plot = over_time(series, levels_of(80.0, 500.0, SAY), ((60.0, 610.0),), 90.0, (600.0, 300.0), SAY)
    shapes = by_id(plot.drawing, "")
    near, far = shapes["near"].segments, shapes["far"].segments
    top = 300.0 - 28.0
    assert near[0][1][1] > far[0][1][1] and max(y for segment in near for _, y in segment) < top
    (level,) = (s for name, s in shapes.items() if name.startswith("interpass"))
    assert near[0][1][1] < level.segments[0][0][1] < top
    (cross,) = by_id(plot.drawing, "reading").values()
    assert level.segments[0][0][1] < cross.segments[0][0][1] < top
    assert plot.along.value(shapes["cursor"].segments[0][0][0]) == pytest.approx(90.0)
    assert collisions(plot.drawing) == []
    inch = across([Series("a", (-50.8, 0.0, 50.8), (30.0, 300.0, 30.0))], (600.0, 300.0), SAY_INCH).drawing
    assert {"-1", "0", "1"} <= set(texts_of(inch)) and any("\N{DEGREE SIGN}F" in text for text in texts_of(inch))


def test_the_preheat_map_is_a_contour_picture_of_the_method() -> None:
    cet, hydrogen, here = 0.34, 8.0, (40.0, 1.2)
    drawing = preheat_map(cet, hydrogen, here, (900.0, 520.0), SAY)
    contours = {float(name.removeprefix("contour:")): s.segments for name, s in by_id(drawing, "contour:").items()}
    assert len(contours) >= 4
    for level in contours:
        for thickness in (25.0, 60.0):
            heat = contour_kj_mm(level, thickness, cet, hydrogen)
            assert method_b_c(cet, thickness, hydrogen, heat) == pytest.approx(level)
    levels = sorted(contours)
    for low, high in itertools.pairwise(levels):
        assert contours[low][80][0][1] > contours[high][80][0][1], "less heat input asks for more preheat"
    assert len(by_id(drawing, "field:")) == len(levels) + 1 and by_id(drawing, "here")
    asked = method_b_c(cet, here[0], hydrogen, here[1])
    assert f"{asked:.0f} \N{DEGREE SIGN}C" in texts_of(drawing)
    in_inches = texts_of(preheat_map(cet, hydrogen, here, (900.0, 520.0), SAY_INCH))
    assert any(t.endswith("\N{DEGREE SIGN}F") for t in in_inches) and not any("mm" in t for t in in_inches)


def test_the_board_draws_every_pass_in_its_row_in_its_role_and_caps_the_second_welder() -> None:
    joints = [edited(make_joint(thickness_mm=12.0), id=f"J{i}") for i in range(3)]
    jobs = [(joint, plan_joint(joint, RODS)) for joint in joints]
    shift = Shift(welders=2, pauses=(Pause(from_s=9 * 3600.0, to_s=9.5 * 3600.0),), left_out=("J2",))
    best = first_boards(jobs[:2], shift)[0]
    chart = board_chart(joints, best, shift, SAY, BoardView(1000.0))
    for slot in best.slots:
        x0, y0, x1, y1 = by_id(chart.drawing, f"{slot.joint_id}:{slot.started.key}")[f"{slot.joint_id}:{slot.started.key}"].box
        narrowest = 2 / chart.time.scale
        assert (chart.time.value(x0), chart.time.value(x1)) == pytest.approx((slot.started.start_s, slot.started.end_s), abs=narrowest)
        assert chart.slot_at(best, ((x0 + x1) / 2, (y0 + y1) / 2)) == slot
        assert (y0, y1) == pytest.approx((chart.feet[slot.joint_id], y1)) and y1 - y0 > 10
    assert chart.feet["J0"] > chart.feet["J1"] > chart.feet["J2"] and not by_id(chart.drawing, "J2:")
    capped = sum(s.style == "welder.2" for s in shapes_of(chart.drawing) if hasattr(s, "style"))
    assert capped == sum(slot.welder == 2 for slot in best.slots) > 0
    assert SAY(f"way.{LEFT_OUT}") in " ".join(texts_of(chart.drawing)) or shift.kept_as("J2") == LEFT_OUT
    lit = board_chart(joints, best, shift, SAY, replace(BoardView(1000.0), lit=best.slots[0]))
    assert sum(getattr(s, "edge", "") == "select.outer" for s in shapes_of(lit.drawing)) == 1
