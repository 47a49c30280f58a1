"""At the joint, in the real page: passes welded by the keys, kept in the journal, followed by the plan; undone, left, taken up again."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from banister.core.drawing.charts.weld_picture import HEAD_TEXT
from banister.core.drawing.shapes import Text
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.weld.panel import WeldPanel
from banister.desktop.weld.page import WeldPage
from banister.job.journal import read_journal
from tests.conftest import shapes_of, texts_of
from tests.desktop.conftest import Answers, choose, press, step, type_in


class Clock:
    """Time that passes as the test says."""

    def __init__(self) -> None:
        self.s = time.monotonic() + 10.0

    def __call__(self) -> float:
        return self.s


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def page(demo: MainWindow, dialogs: Answers, clock: Clock, tmp_path: Path) -> Iterator[WeldPage]:
    demo.logbook.folder = tmp_path / "data"
    demo.store.look(joint_id="F2")
    yield opened(demo, clock)
    close(demo)


def opened(demo: MainWindow, clock: Clock) -> WeldPage:
    demo.weld()
    found = demo.opened["weld"]
    assert isinstance(found, WeldPage)
    found.bench.clock = clock
    found.bench.begin_next() if found.bench.passing.state != "stopped" else None
    found.showNormal()
    found.resize(1280, 800)
    QApplication.processEvents()
    found.draw()
    return found


def close(demo: MainWindow) -> None:
    from shiboken6 import isValid

    if isValid(demo.opened["weld"]):
        demo.opened["weld"].close()


def words(page: WeldPage) -> str:
    page.draw()
    return " | ".join(texts_of(page.picture.drawing))


def burn(page: WeldPage, qtbot: QtBot, clock: Clock, seconds: float, off: float = 12.0) -> None:
    for wait in (seconds, off):
        qtbot.keyClick(page, Qt.Key.Key_Space)
        clock.s += wait
        page.bench.happens("tick")


def weld_pass(page: WeldPage, qtbot: QtBot, clock: Clock, share: float = 1.0) -> None:
    """The lit pass by the keys, so that its rods come to a share of the area asked."""
    p = page.bench.lit
    rods = share * page.bench.asked_mm2(p) * p.length_mm / p.rod.deposit_mm3
    whole = p.rod.burn_time_s(p.amps)
    while rods > 1e-6:
        burn(page, qtbot, clock, whole * min(rods, 1.0))
        rods -= 1.0
    page.bench.arc_went_out()
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.bench.passing.state == "clean"
    qtbot.keyClick(page, Qt.Key.Key_Return)
    if page.bench.passing.state == "look":
        qtbot.keyClick(page, Qt.Key.Key_Return)


def test_a_pass_by_the_keys_is_kept_and_the_next_one_lights(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    assert demo.store.now.issued is not None, "what is welded is welded to an issued plan"
    said = words(page)
    p = page.bench.lit
    assert "pass 1 of 17" in said and "not known" in said and "measure first" in said and p.rod.type in said and f"{p.amps:.0f}" in said
    rod_s = p.rod.burn_time_s(p.amps)
    qtbot.keyClick(page, Qt.Key.Key_Space)
    clock.s += 40.0
    assert page.bench.passing.state == "arc" and f"40 of {rod_s:.0f} s" in words(page)
    for key in (Qt.Key.Key_Return, Qt.Key.Key_Left, Qt.Key.Key_A):
        qtbot.keyClick(page, key)
    assert page.bench.passing.state == "arc", "under the arc nothing is pressed"
    clock.s += rod_s - 40.0
    qtbot.keyClick(page, Qt.Key.Key_Space)
    clock.s += 12.0
    weld_pass(page, qtbot, clock)
    kinds = [r.k for r in demo.store.records if r.j == "F2" and r.k not in ("lot", "care", "tack")]
    assert kinds[0] == "pass-begun" and kinds.count("rod") >= 4 and "pass-ended" in kinds and kinds[-1] in ("clean", "measure")
    begun = next(r for r in demo.store.records if r.k == "pass-begun" and r.j == "F2")
    assert begun.d["rod"] == p.rod.id and begun.d["amps"] == p.amps and begun.d["temp"] is None
    assert "pass 2 of" in words(page)
    assert read_journal(demo.logbook._path).records == demo.store.records, "on disk when the next key is taken"


def test_the_rest_follows_what_was_laid(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    planned = [p.area_mm2 for p in page.bench.follower.plan.passes]
    for _ in range(4):
        weld_pass(page, qtbot, clock, share=1.2)
    bench = page.bench
    assert len(bench.now.welded) == 4 and "bigger than asked" in bench.notice
    ratios = [bench.known.areas_mm2[key] / bench.facts.passes[key].asked_mm2 for key in bench.now.welded]
    assert all(1.05 < ratio < 1.3 for ratio in ratios), ratios
    assert max(own.ratio for own in bench.known.own.values()) > 1.1
    rest = sum(p.area_mm2 for p in bench.now.rest)
    assert rest < sum(planned[4:]), "what was laid too much is left out above"
    assert [s.id for s in shapes_of(page.picture.drawing) if getattr(s, "id", "").startswith("welded:")] == [f"welded:{key}" for key in bench.now.welded]
    demo.go_to("weld")
    panel = demo.work.panel("weld")
    assert isinstance(panel, WeldPanel) and "4 of" in panel.state.text() and "bigger" in panel.changed.text()
    assert any(getattr(s, "id", "") == "issued" for s in shapes_of(demo.section.drawing)), "planned and real on one drawing"
    assert "4 passes welded" in demo.work.stair.states[-1].text


def test_a_wrong_key_is_taken_back_and_what_was_left_is_taken_up(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    burn(page, qtbot, clock, 60.0)
    burn(page, qtbot, clock, 60.0)
    qtbot.keyClick(page, Qt.Key.Key_Right)
    assert page.bench.left == pytest.approx(0.1) or page.bench.left > 0
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.bench.passing.state == "clean"
    page.bench.undo()
    assert page.bench.passing.state in ("gap", "change") and page.bench.facts.ended == () and "Taken back" in page.bench.notice
    rods = len(page.bench.facts.passes[page.bench.passing.key].arc_s)
    page.leave()
    again = opened(demo, clock)
    assert again.bench.passing.state == "stopped" and again.bench.passing.rods == rods and again.bench.lit.number == 1
    weld_pass(again, qtbot, clock)
    assert again.bench.facts.ended == (page_key(again, 0),)


def page_key(page: WeldPage, n: int) -> str:
    return page.bench.now.plan.passes[n].key


def test_too_hot_is_said_and_an_arc_all_the_same_is_a_deviation(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    weld_pass(page, qtbot, clock)
    page.bench.temp(285.0)
    assert page.bench.passing.state == "hot" and "too hot" in words(page) and "measure again" in words(page)
    burn(page, qtbot, clock, 50.0)
    (deviation,) = page.bench.open_deviations
    assert (deviation.rule, deviation.value) == ("interpass", 285.0) and "1 deviation open" in words(page)
    page.leave()
    panel = step(demo, "weld")
    assert "hotter than interpass" in panel.list.item(0).text() and demo.work.stair.states[-1].bad
    panel.list.setCurrentRow(0)
    press(demo, "weld", "weld_step.dispose")
    assert panel.bad.isVisible() and "reason" in panel.bad.text()
    panel.why.edit.setText("ground out to sound metal")
    choose(panel.as_, "ground")
    press(demo, "weld", "weld_step.dispose")
    assert "ground out: ground out to sound metal" in panel.list.item(0).text() and not demo.work.stair.states[-1].bad


def test_a_temperature_read_opens_the_gate(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    page.leave()
    panel = step(demo, "weld")
    type_in(qtbot, panel.temp.edit, "120")
    assert demo.store.records[-1].k == "temp" and demo.store.records[-1].d["c"] == 120.0
    again = opened(demo, clock)
    assert again.bench.passing.temp_c == 120.0 and "ready" in words(again) and "not known" not in words(again)


def test_a_trial_with_the_simulated_welder_says_so_and_keeps_nothing(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    page.leave()
    before = demo.store.records
    demo.weld(simulate=(60.0, 1.2))
    trial = demo.opened["weld"]
    trial.bench.clock = clock
    trial.bench.begin_next()
    trial.welder._next_s = 0.0
    for _ in range(900):
        clock.s += 2.0
        trial._tick()
        if trial.bench.passing.state == "change" and trial.welder._rods_left <= 0:
            break
    qtbot.keyClick(trial, Qt.Key.Key_Return)
    assert trial.bench.passing.state == "clean" and "SIMULATED" in words(trial) and demo.store.records is before
    assert all(facts.simulated for facts in trial.bench.facts.passes.values())
    trial.close()


@pytest.mark.parametrize("size", [(1920, 1080), (1366, 768)])
def test_what_stands_on_the_page_keeps_inside_it(page: WeldPage, qtbot: QtBot, clock: Clock, size: tuple[int, int]) -> None:
    from banister.core.drawing.advances import advance

    page.resize(*size)
    steps = ((), ("space",), ("wait", "space"), ("enter",), ("enter",))
    for keys in steps:
        for key in keys:
            if key == "wait":
                clock.s += 50.0
            else:
                qtbot.keyClick(page, Qt.Key.Key_Space if key == "space" else Qt.Key.Key_Return)
        page.draw()
        x0, y0, x1, y1 = page.picture.drawing.box
        for shape in page.picture.drawing.shapes:
            if isinstance(shape, Text):
                wide = advance(shape.text, shape.size, shape.face)
                left = shape.at[0] - {"start": 0.0, "middle": wide / 2, "end": wide}[shape.anchor]
                assert left >= x0 - 1 and left + wide <= x1 + 1 and y0 <= shape.at[1] <= y1, (page.bench.passing.state, shape.text)
        assert max(t.size for t in shapes_of(page.picture.drawing) if isinstance(t, Text)) >= HEAD_TEXT * min(size[1] / 1080, size[0] / 1640)
