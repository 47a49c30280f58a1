"""What the page at the joint guides by, in the real page: halves of a pipe, type for two metres, how the hand moves and strikes again."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from pytestqt.qtbot import QtBot

from banister.core.drawing.shapes import Text
from banister.core.guide.of_pass import guide_of
from banister.core.guide.said import beat_said, hand_said, stop_said
from banister.core.joint.fitting import FitUp
from banister.core.plan.answers import plan_joint
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from banister.desktop.weld.page import WeldPage
from tests.conftest import SAY, SAY_INCH, make_joint, rods_by_id, shapes_of
from tests.desktop.at_the_joint import Clock, close, held_inside, opened, span, words
from tests.desktop.conftest import Answers

WEAVE = make_joint(thickness_mm=14.0, position="3G")
CAPITAL = 0.698
"""Height of a capital of the shipped face over its size."""


@pytest.mark.awaits("weld stops")
def test_a_fixed_pipe_is_welded_in_two_stretches_of_one_pass(demo: MainWindow, dialogs: Answers, qtbot: QtBot, clock: Clock, tmp_path: Path) -> None:
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="F2")
    demo.store.edit_joint("pipe", form="pipe", pipe_od_mm=273.1, position="5G", progression="up", root_progression="down", thickness_mm=14.0, fitup=FitUp())
    there = opened(demo, clock)
    p = there.bench.lit
    assert there.bench.stops is not None and len(there.bench.stops.halves) == 2 and p.rod_count % 2 == 0
    half, run = there._half(), there.bench.stops.of(p.key, "first")
    assert half.rods == p.rod_count // 2 and half.length_mm == pytest.approx(run.end_mm - run.start_mm)
    assert half.centres == ("12:00", "6:00"), "the root goes down"
    assert all(0 < mark < half.length_mm for mark in half.marks_mm) and list(half.marks_mm) == sorted(half.marks_mm)
    assert "half by 3 o'clock, 12:00 to 6:00" in words(there)
    whole = p.rod.burn_time_s(p.amps)
    for rod in range(p.rod_count):
        qtbot.keyClick(there, Qt.Key.Key_Space)
        clock.s += whole * 0.9
        there.bench.happens("tick")
        here = there._half()
        assert here.half == ("first" if rod < half.rods else "second")
        assert f"rod {rod % half.rods + 1} of {half.rods}" in words(there) and ("by 3 o'clock" if here.half == "first" else "by 9 o'clock") in words(there)
        held_inside(there)
        qtbot.keyClick(there, Qt.Key.Key_Space)
        clock.s += 12.0
        there.bench.happens("tick")
    qtbot.keyClick(there, Qt.Key.Key_Return)
    assert sum(r.k == "pass-ended" for r in demo.store.records if r.j == "F2") == 1, "two stretches, one pass"
    begun = next(r for r in demo.store.records if r.k == "pass-begun" and r.j == "F2")
    assert there.bench.stops_for(p) is there.bench.stops and there.bench.stops_for(replace(p, area_mm2=1.2 * p.area_mm2)) is None, "not those of another bead"
    assert begun.d["stops"]["first"] == [round(mark, 1) for mark in run.marks], "where it is to stop stays with the record"
    close(demo)


def test_the_figures_stand_twelve_millimetres_tall_on_a_notebook(page: WeldPage) -> None:
    """Screens of 13 and 14 inches: the type fills the page, and so is never smaller than going by dots an inch would make it."""
    for size, dpi in (((1366, 768), 112.0), ((1920, 1080), 157.0), ((1920, 1200), 162.0), ((2560, 1600), 227.0)):
        page.resize(*size)
        page.draw()
        capital_mm = CAPITAL * 25.4 / dpi
        figures = sorted(t.size * capital_mm for t in shapes_of(page.picture.drawing) if isinstance(t, Text) and t.id.startswith("figure:"))
        assert len(figures) == 4 and figures[-3] >= 12.0, (size, "amps, mark, seconds")
        assert figures[0] >= 7.0, (size, "the rod")


def test_how_the_hand_moves_is_told_before_and_how_to_strike_again_between_rods(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    bench, said = page.bench, list[str]()
    for _ in range(6):
        qtbot.keyClick(page, Qt.Key.Key_I)
        said.append(bench.notice)
        texts = {t.id: span(t) for t in held_inside(page)}
        assert texts["lean"][1] < texts["travel"][0], "beside it, not over it"
    assert said[0] == said[5] and len(set(said[:5])) == 5, "one thing after the other, and round again"
    assert said[1].startswith("whip 6.4 mm forward") and said[2].startswith("keyhole 4.6 to 6 mm") and "strike 10 to 15 mm ahead, long for 1 s" in said[3]
    assert "two short touches" in said[4] and "whip 1." in words(page)
    bench.tell("")
    qtbot.keyClick(page, Qt.Key.Key_Space)
    clock.s += 40.0
    qtbot.keyClick(page, Qt.Key.Key_Space)
    assert "restart" not in bench.notice
    clock.s += 8.0
    bench.happens("tick")
    assert bench.passing.state == "change" and bench.notice.startswith("restart: "), "when a rod is changed it is told by itself"
    bench.tell("the machine drifts")
    qtbot.keyClick(page, Qt.Key.Key_Space)
    clock.s += 20.0
    qtbot.keyClick(page, Qt.Key.Key_Space)
    clock.s += 8.0
    bench.happens("tick")
    assert bench.notice == "the machine drifts", "what waits to be read is not covered"


def test_the_beat_of_a_weave_follows_width_speed_and_position() -> None:
    plan = plan_joint(WEAVE, rods_by_id())
    p = max(plan.passes, key=lambda one: one.width_mm / one.rod.diameter_mm)
    guide = guide_of(WEAVE, plan, p)
    assert guide.beat.across_mm == pytest.approx(p.width_mm - 2.2 * p.rod.diameter_mm) and guide.beat.hold_s == pytest.approx(0.34 * guide.beat.cycle_s)
    (line,) = hand_said(guide, p, True, SAY)
    assert line.startswith("weave ") and beat_said(guide, p, SAY) == f"hold {guide.beat.hold_s:.1f} s" and len(stop_said("basic", SAY)) == 2
    assert stop_said("tig", SAY) == [] and " mm" not in " ".join([*hand_said(guide, p, True, SAY_INCH), *stop_said("basic", SAY_INCH)])
