"""The plan as a film: its clock, its temperatures against the schedule's own, what lies in the section at a moment."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from banister.core.drawing.advances import advance
from banister.core.drawing.charts.film_picture import film_picture, film_strip, frame_times
from banister.core.drawing.section import pass_label, section_drawing, warm_section
from banister.core.drawing.shapes import Clip, Drawing, Polygon, Text
from banister.core.drawing.warmth import LEVELS_C, spaced
from banister.core.heat.film import LONGEST_S, SHORTEST_S, WAITS_FASTER, film_of, moment_of, warmth_of
from banister.core.heat.history import curve_c
from banister.core.heat.schedule import schedule_of
from banister.core.joint.joint import edited
from banister.core.plan.answers import plan_joint
from banister.core.polygon import area, strip
from banister.core.value import replace
from banister.job.library import demo_job
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, shapes_of, texts_of

SIZE = (1240.0, 680.0)
JOB = demo_job()


def ids_of(drawing: Drawing) -> list[str]:
    return [one for shape in shapes_of(drawing) if (one := getattr(shape, "id", ""))]


def made(joint_id: str, **fields: object) -> tuple:
    joint = edited(JOB.joint(joint_id), **fields)
    plan = plan_joint(joint, JOB.rods_by_id)
    schedule = schedule_of(joint, plan)
    return joint, plan, schedule, film_of(joint, plan, schedule)


def test_arcs_have_one_pace_and_waits_another() -> None:
    _, _, schedule, film = made("F2")
    paces = {round((film.own(p.end_s) - film.own(p.start_s)) / (p.end_s - p.start_s), 9) for p in schedule.passes}
    (arc,) = paces
    for before, after in pairwise(schedule.passes):
        gap = film.own(after.start_s) - film.own(before.end_s)
        assert gap == pytest.approx(arc * (after.start_s - before.end_s) / WAITS_FASTER)
    assert SHORTEST_S <= film.length_s <= LONGEST_S and film.clock(film.length_s) == schedule.end_s
    assert film.clock(film.own(1234.0)) == pytest.approx(1234.0)


@pytest.mark.parametrize("joint_id", ["F2", "P4", "H1"])
def test_the_temperatures_are_those_of_the_schedule(joint_id: str) -> None:
    joint, plan, schedule, film = made(joint_id)
    stepped = 3.0 if joint.heat.preheat_held else 0.1
    """Kept-on heat is a floor that is looked at in steps: those of the film are other ones."""
    for p in schedule.passes:
        assert film.temps(p.start_s - 0.02)[1] == pytest.approx(p.temp_c, abs=stepped)
    times = np.linspace(1.0, schedule.end_s - 1.0, 300)
    own = curve_c(joint, plan, schedule, times, joint.heat.measure_at_mm).max(axis=0)
    off = np.abs(own - [film.temps(t)[1] for t in times])
    assert np.quantile(off, 0.95) < 3.0 and off.max() < 10.0, "between stills; most in the seconds when heat comes"
    across, _ = film.temps(schedule.end_s)
    x = np.array(film.x_mm)
    assert abs(x[int(np.argmax(across))]) < 30.0 and min(across) >= joint.heat.air_c - 0.01


def test_beads_lie_in_their_order_and_the_one_that_burns_is_lit() -> None:
    joint, plan, schedule, film = made("F2")
    for i, p in enumerate(schedule.passes):
        moment = moment_of(schedule, (p.start_s + p.end_s) / 2)
        assert moment.burning is p and moment.laid == tuple(q.key for q in schedule.passes[:i])
    p = schedule.passes[6]
    drawing = film_picture(joint, plan, schedule, film, film.own((p.start_s + p.end_s) / 2), SAY, SIZE).drawing
    assert {q.key for q in schedule.passes[:7]} <= set(ids_of(drawing)) and "Welding F7 of 17" in texts_of(drawing)
    waited = max(schedule.passes, key=lambda one: one.wait_s)
    picture = film_picture(joint, plan, schedule, film, film.own(waited.start_s - 20.0), SAY_INCH, SIZE)
    assert any(t.startswith("Wait 20 s before") for t in texts_of(picture.drawing)) and any("°F" in t for t in texts_of(picture.drawing))
    assert picture.own_s(-50.0, film) == 0.0 and picture.own_s(SIZE[0], film) == film.length_s
    done = film_picture(joint, plan, schedule, film, film.length_s, SAY, SIZE).drawing
    assert "Welded" in texts_of(done) and {q.key for q in schedule.passes} <= set(ids_of(done))


def test_plates_are_coloured_as_hot_as_they_are() -> None:
    joint, plan, schedule, film = made("F2")
    hottest = max(schedule.passes, key=lambda p: p.temp_c)
    drawing = film_picture(joint, plan, schedule, film, film.own(hottest.start_s), SAY, SIZE).drawing
    labels = {int(i.partition(":")[2]) for i in ids_of(drawing) if i.startswith("isotherm:")}
    across, _ = film.temps(hottest.start_s)
    assert labels and max(labels) <= max(across) and any(i.startswith("warm:") for i in ids_of(drawing))
    joint, plan, schedule, film = made("F2", key="fillet-tee", root_gap_mm=0.0, position="2F")
    fillet = film_picture(joint, plan, schedule, film, film.length_s / 2, SAY, SIZE).drawing
    assert not [i for i in ids_of(fillet) if i.startswith("warm:")], "across is not known of plates that stand"


@pytest.mark.parametrize("wide_px", [200.0, 700.0])
@pytest.mark.parametrize("joint_id", ["F2", "H1", "P4"])
def test_figures_on_the_lines_of_the_section_keep_off_the_beads_and_one_another(joint_id: str, wide_px: float) -> None:
    """The beads are painted over them, and their size is in pixels: in a small section there is room for fewer."""
    joint, plan, schedule, _ = made(joint_id)
    for say in (SAY, SAY_INCH):
        for key in (plan.passes[0].key, plan.passes[-1].key):
            whole = warm_section(joint, plan, warmth_of(joint, plan, schedule, key), section_drawing(joint, plan, say), say)
            plates = [x for s in whole.shapes if isinstance(s, Polygon) and s.style == "plate" for x, _ in s.points]
            mm = (max(plates) - min(plates)) / wide_px
            drawing = spaced(whole, 1 / mm)
            figures = [(s.at, advance(s.text, s.size, s.face) * mm) for s in drawing.shapes if isinstance(s, Text) and s.id.startswith("isotherm:")]
            for (x, y), wide in figures:
                beside = [bx for p in plan.passes for bx, by in p.outline_mm if abs(by - y) <= 6.0 * mm]
                assert not [bx for bx in beside if abs(bx - x) < 0.4 * wide], (key, x)
            assert all(b[0] - a[0] > wide for ((a, wide), (b, _)) in pairwise(sorted(figures)))
            assert figures or wide_px < 300.0 or not [s for s in whole.shapes if getattr(s, "id", "").startswith("isotherm:")]


def test_six_frames_show_the_joint_grow_and_end_with_all_of_it() -> None:
    joint, plan, schedule, film = made("F2")
    drawing = film_strip(joint, plan, schedule, film, SAY, (1080.0, 620.0))
    said = {s.id: s.text for s in drawing.shapes if isinstance(s, Text) and s.id}
    assert [said[f"doing:{i}"].partition("  ")[2].split()[0] for i in range(1, 7)] == [
        pass_label(plan.passes[round(i * len(plan.passes) / 6) - 1]) for i in range(1, 7)]  # fmt: skip
    clips = [s for s in drawing.shapes if isinstance(s, Clip)]
    beads = [sum(isinstance(one, Polygon) and one.id in {p.key for p in plan.passes} for one in clip.shapes) for clip in clips]
    assert beads == sorted(beads) and beads[-1] == len(plan.passes)
    for i, at_s in enumerate(frame_times(schedule), 1):
        assert said[f"reads:{i}"] == SAY.sized("temperature", film.temps(at_s)[1])
    few = replace(schedule, passes=schedule.passes[:4])
    assert len(frame_times(few)) == 4


def test_strips_of_an_outline_add_up() -> None:
    outline = ((0.0, 0.0), (30.0, 0.0), (22.0, 20.0), (12.0, 4.0), (3.0, 17.0))
    cuts = (-5.0, 2.0, 7.5, 12.0, 25.0, 40.0)
    assert sum(area(strip(outline, a, b)) for a, b in pairwise(cuts)) == pytest.approx(area(outline))
    assert strip(outline, 31.0, 40.0) == () and strip((), 0.0, 1.0) == ()


def test_the_section_is_as_warm_as_the_film_at_that_moment() -> None:
    joint = make_joint(thickness_mm=16.0)
    plan = plan_joint(joint, rods_by_id())
    schedule = schedule_of(joint, plan)
    film, third = film_of(joint, plan, schedule), schedule.passes[2]
    found = warmth_of(joint, plan, schedule, third.key)
    across, read = film.temps(third.end_s + 0.5)
    assert found.read_c == pytest.approx(read, abs=1.5) and found.x_mm == film.x_mm
    assert np.interp(30.0, found.x_mm, found.across_c) == pytest.approx(np.interp(30.0, film.x_mm, across), abs=1.5)
    drawing = warm_section(joint, plan, found, section_drawing(joint, plan, SAY), SAY)
    shapes = shapes_of(drawing)
    warm = [s for s in shapes if isinstance(s, Polygon) and s.style.startswith("warm.")]
    assert warm and {s.id for s in shapes if isinstance(s, Polygon) and s.style == "later"} == {p.key for p in plan.passes[3:]}
    hot = max(warm, key=lambda s: int(s.style[-1]))
    assert np.interp(max((x for x, _ in hot.points), key=abs), found.x_mm, found.across_c) >= LEVELS_C[int(hot.style[-1]) - 1] - 8.0
    labels = [t for t in texts_of(drawing) if t.endswith("\N{DEGREE SIGN}") and t[:-1].isdigit() and float(t[:-1]) in LEVELS_C]
    assert labels and section_drawing(joint, plan, SAY).handles == drawing.handles
