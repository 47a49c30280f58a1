"""At the joint, in the real page: passes welded by the keys, kept in the journal, followed by the plan; undone, left, taken up again."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from typing import Any

import pytest
from PySide6.QtCore import Qt
from PySide6.QtDBus import QDBusMessage
from pytestqt.qtbot import QtBot

from banister.core.drawing.charts.weld_page import HEAD_TEXT
from banister.core.drawing.charts.weld_picture import weld_picture
from banister.core.follow.cues import cue_of
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from banister.desktop.steps.registry import STEPS
from banister.desktop.weld.awake import Awake
from banister.desktop.weld.look import place_mm
from banister.desktop.weld.page import WeldPage
from banister.job.journal import read_journal
from tests.conftest import shapes_of, texts_of
from tests.desktop.at_the_joint import Clock, burn, held_inside, opened, span, weld_pass, words
from tests.desktop.conftest import choose, press, step, type_in

WELD = [one.key for one in STEPS].index("weld")


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


def test_the_section_is_laid_out_once_a_plan_and_drawn_as_if_it_were_new(page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    laid = page.picture.laid
    for seconds in (5.0, 20.0):
        burn(page, qtbot, clock, seconds, off=2.0)
        page.draw()
        assert page.picture.laid is laid
        assert page.picture.drawing == weld_picture(page.bench.joint, page.page(), page.bench.say).drawing
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.picture.laid.plan is page.bench.now.plan is not laid.plan
    assert page.picture.drawing == weld_picture(page.bench.joint, page.page(), page.bench.say).drawing


def test_the_page_stays_when_the_window_behind_it_takes_another_theme(demo: MainWindow, page: WeldPage) -> None:
    demo.open_view("list")
    demo.menus.actions["theme"].trigger()
    assert page.isVisible() and demo.opened["weld"] is page and demo.opened["list"].isVisible()
    demo.menus.actions["theme"].trigger()


def test_a_cue_carried_from_a_cause_stands_there_until_its_pass_is_ended(page: WeldPage, demo: MainWindow, qtbot: QtBot, clock: Clock) -> None:
    before = next(t.text for t in held_inside(page) if t.id == "cue")
    demo.logbook.write("cue", "F2", cause="arc_blow", of=1)
    assert next(t.text for t in held_inside(page) if t.id == "cue") == demo.store.say("cause.arc_blow.next_pass") != before
    demo.logbook.write("cue", "F2", cause="none such", of=1)
    assert next(t.text for t in held_inside(page) if t.id == "cue") == before
    demo.logbook.write("cue", "F2", cause="unclean", of=1)
    weld_pass(page, qtbot, clock)
    assert page.bench.cue == "" and cue_of(demo.store.records, "F2") == ""


def test_what_is_taken_back_elsewhere_leaves_no_pass_in_hand_that_is_in_no_plan(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    weld_pass(page, qtbot, clock, 1.6)
    assert page.bench.lit.key not in {p.key for p in page.bench.follower.plan.passes}, "so big a root leaves other passes"
    for record in demo.store.records:
        if record.j == "F2" and record.k in ("pass-begun", "rod", "pass-ended"):
            demo.logbook.void(record.n, "entered twice")
    page.bench.happens("tick")
    assert page.bench.lit.key == "p1" and page.bench.passing.state == "ready"


def test_a_wrong_key_is_taken_back_and_what_was_left_is_taken_up(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    burn(page, qtbot, clock, 60.0)
    burn(page, qtbot, clock, 60.0)
    qtbot.keyClick(page, Qt.Key.Key_Right)
    assert page.bench.left == pytest.approx(0.1) or page.bench.left > 0
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.bench.passing.state == "clean"
    page.bench.undo()
    assert page.bench.passing.state in ("gap", "change") and page.bench.facts.ended == () and "Taken back" in page.bench.notice
    rods, in_hand = len(page.bench.facts.passes[page.bench.passing.key].arc_s), page.bench.passing.arc_s
    page.leave()
    again = opened(demo, clock)
    assert again.bench.passing.state == "stopped" and again.bench.passing.rods == rods and again.bench.lit.number == 1
    assert again.bench.passing.arc_s == pytest.approx(in_hand) and in_hand > 0, "the rod in hand is kept"
    weld_pass(again, qtbot, clock)
    assert again.bench.facts.ended == (page_key(again, 0),)


def page_key(page: WeldPage, n: int) -> str:
    return page.bench.now.plan.passes[n].key


def test_too_hot_is_said_and_an_arc_all_the_same_is_a_deviation(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    weld_pass(page, qtbot, clock)
    page.bench.temp(30.0)
    page.bench.undo()
    assert page.bench.temperature() is None, "a reading that was taken back counts no more"
    page.bench.temp(285.0)
    clock.s += 1000.0
    assert page.bench.temperature() is None, "a reading is too old after a quarter of an hour"
    page.bench.temp(285.0)
    assert page.bench.passing.state == "hot" and "too hot" in words(page) and "measure again" in words(page)
    burn(page, qtbot, clock, 50.0)
    (deviation,) = page.bench.open_deviations
    assert (deviation.rule, deviation.value) == ("interpass", 285.0) and "1 deviation open" in words(page)
    page.leave()
    panel = step(demo, "weld")
    assert "hotter than interpass" in panel.list.item(0).text() and demo.work.stair.states[WELD].bad
    panel.list.setCurrentRow(0)
    press(demo, "weld", "weld_step.dispose")
    assert panel.refused.isVisible() and "reason" in panel.refused.text()
    panel.why.edit.setText("ground out to sound metal")
    choose(panel.as_, "ground")
    press(demo, "weld", "weld_step.dispose")
    assert "ground out: ground out to sound metal" in panel.list.item(0).text() and not demo.work.stair.states[WELD].bad


def test_a_temperature_read_opens_the_gate(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    page.leave()
    panel = step(demo, "weld")
    type_in(qtbot, panel.temp.edit, "120")
    assert demo.store.records[-1].k == "temp" and demo.store.records[-1].d["c"] == 120.0
    again = opened(demo, clock)
    assert again.bench.passing.temp_c == 120.0 and "ready" in words(again) and "not known" not in words(again)


@pytest.fixture
def trial(demo: MainWindow, page: WeldPage, clock: Clock) -> Callable[[str], WeldPage]:
    """A trial in fast motion, with something amiss; it goes on as the test's clock says."""

    def begun(fault: str) -> WeldPage:
        page.leave()
        demo.weld(simulate=(60.0, 1.2, fault))
        found = demo.opened["weld"]
        found._timer.stop()
        found._listening.stop()
        found.bench.clock = clock
        found.bench.begin_next()
        found.welder.meter.arc.t = clock.s
        return found

    return begun


def ticks(page: WeldPage, clock: Clock, until: Callable[[WeldPage], bool], most: int = 600) -> None:
    for _ in range(most):
        clock.s += 2.0
        page._tick()
        if until(page):
            return
    raise AssertionError(page.bench.passing)


def is_covered(page: WeldPage) -> bool:
    return page.bench.passing.state == "change" and page.welder.rods_left <= 1e-6


def test_a_trial_goes_by_a_simulated_meter_says_so_and_keeps_nothing(demo: MainWindow, trial: Any, qtbot: QtBot, clock: Clock) -> None:
    before = demo.store.records
    page = trial("")
    qtbot.keyClick(page, Qt.Key.Key_Space)
    assert page.bench.passing.state == "ready" and page.metering.is_live, "with a meter the key is nothing"
    ticks(page, clock, lambda p: p.bench.passing.state == "arc" and p.bench.passing.rods == 1)
    assert page.bench.passing.has_meter and " V " in words(page) and "SIMULATED" in words(page)
    for size in ((1280, 800), (1920, 1080), (1024, 700)):
        page.resize(*size)
        wide = replace(page.page(), rod_end_mm=(1195.0, 1537.0))
        assert any("must end at 1195 to 1537 mm" in text.text for text in held_inside(page, weld_picture(page.bench.joint, wide, page.bench.say)))
    ticks(page, clock, is_covered)
    asked = page.bench.asked_mm2(page.bench.lit)
    p, key = page.bench.lit, page.bench.passing.key
    qtbot.keyClick(page, Qt.Key.Key_Return)
    facts = page.bench.facts.passes[key]
    truths = page.welder.meter.arc.truths
    assert page.bench.passing.state == "clean" and facts.simulated and demo.store.records is before
    assert facts.energy_kj == pytest.approx(sum(one.joules for one in truths) / 1000, rel=0.01)
    assert sum(facts.arc_s) == pytest.approx(sum(one.off_s - one.on_s for one in truths), rel=0.02)
    assert facts.rods_used * p.rod.deposit_mm3 / p.length_mm / asked == pytest.approx(1.2, rel=0.15), "a hand of 1.2 is seen in the charge"
    page.close()


@pytest.mark.parametrize(("fault", "said"), [("drift", "check the machine"), ("unplugged", "Space is arc on")])
def test_what_is_amiss_is_said_under_the_arc(trial: Any, qtbot: QtBot, clock: Clock, fault: str, said: str) -> None:
    page = trial(fault)
    ticks(page, clock, lambda p: said in p.bench.notice)
    assert said in words(page) and page.bench.notice_bad
    if fault == "unplugged":
        assert not page.bench.passing.has_meter and page.bench.passing.state == "arc", "the arc stays"
        qtbot.keyClick(page, Qt.Key.Key_Space)
        assert page.bench.passing.state == "gap", "without a meter the key ends it"
        ticks(page, clock, lambda p: p.bench.passing.has_meter)
        assert "back" in page.bench.notice
    page.close()


@pytest.mark.parametrize(("size", "inches"), [((1920, 1080), False), ((1366, 768), True), ((1024, 700), True)])
def test_what_stands_on_the_page_keeps_inside_it(
    demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock, size: tuple[int, int], inches: bool,
) -> None:  # fmt: skip
    page.leave()
    demo.store.look(inches=inches)
    page = opened(demo, clock)
    page.resize(*size)
    assert not inches or "1/8 x 13 3/4" in words(page), "a rod is called by its inches"
    for keys in ((), ("space",), ("wait", "space"), ("enter",), ("low", "enter"), ("space", "space", "space")):
        for key in keys:
            if key == "wait":
                clock.s += 50.0
            elif key == "low":
                page.bench.look.tap("low")
            else:
                qtbot.keyClick(page, Qt.Key.Key_Space if key == "space" else Qt.Key.Key_Return)
        page.draw()
        texts = held_inside(page)
        assert max(t.size for t in texts) >= HEAD_TEXT * min(size[1] / 1080, size[0] / 1640)
    assert page.bench.passing.state == "look" and page.bench.look.place == 3


def test_how_long_to_wait_is_predicted_from_what_was_welded(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    assert page.bench.ready_in() is None
    for _ in range(3):
        weld_pass(page, qtbot, clock)
    found = page.bench.ready_in()
    assert found is not None and found.late_s > 120 and "predicted: wait" in words(page) and "not known" in words(page)
    page.bench.temp(round(max(found.now_c, page.bench.limits.interpass_c + 10)))
    held_inside(page)
    assert page.bench.passing.state == "hot" and "ready in" in words(page) and "Wait; measure again." in words(page)
    clock.s += found.late_s + 600.0
    assert page.bench.ready_in().late_s < 0 and "ready in" not in words(page), "time has passed: it is to be measured"


def test_cautions_stand_at_the_start_of_a_shift_and_i_tells_what_goes_wrong(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    assert "hot work and fire watch" in words(page)
    qtbot.keyClick(page, Qt.Key.Key_I)
    cues = [page.bench.say(f"likely.{one.kind}.cue") for one in page.bench.guide().likely]
    assert len(cues) > 1 and all(cue in words(page) for cue in cues)
    burn(page, qtbot, clock, 20.0)
    page.leave()
    again = opened(demo, clock)
    assert "fire watch" not in words(again), "once a shift"
    again._moved_at -= 10.0
    again._tick()
    assert again.cursor().shape() == Qt.CursorShape.BlankCursor
    again.mouseMoveEvent(None)
    again._tick()
    assert again.cursor().shape() == Qt.CursorShape.ArrowCursor


def test_a_low_place_asks_the_next_layer_for_more_there(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    while True:
        p = page.bench.lit
        if p.layer == 3:
            break
        weld_pass(page, qtbot, clock)
    rods = page.bench.asked_mm2(p) * p.length_mm / p.rod.deposit_mm3
    for k in range(math.ceil(rods)):
        burn(page, qtbot, clock, p.rod.burn_time_s(p.amps) * min(rods - k, 1.0))
    qtbot.keyClick(page, Qt.Key.Key_Return)
    page.bench.look.tap("low")
    qtbot.keyClick(page, Qt.Key.Key_Return)
    assert page.bench.passing.state == "look" and "other place" in words(page), "a low place is worth a gauge"
    deep = page.bench.look.depth_mm
    for _ in range(5):
        qtbot.keyClick(page, Qt.Key.Key_Space)
    for _ in range(3):
        qtbot.keyClick(page, Qt.Key.Key_Right)
    middle = place_mm(5, p.length_mm)
    assert middle == pytest.approx(p.length_mm / 2) and f"still deep at {middle:.0f} mm" in words(page) and page.bench.look.depth_mm == deep
    qtbot.keyClick(page, Qt.Key.Key_Return)
    facts = page.bench.facts.passes[p.key]
    assert dict(facts.depths)[middle] == deep + 1.5 and len(facts.depths) == 9 and facts.depth_mm == pytest.approx(deep + 1.5 / 9, abs=0.01)
    nxt = page.bench.lit
    assert nxt.layer == 4 and "Slow from" in words(page)
    marks = page.page().marks_mm
    gaps = [b - a for a, b in itertools.pairwise((0.0, *marks))]
    low = [gap for a, gap in zip((0.0, *marks), gaps, strict=False) if abs(a + gap / 2 - middle) < gap]
    assert marks and min(gaps) in low and min(gaps) < 0.97 * max(gaps), "rods end sooner where it lies low"
    assert any(getattr(s, "id", "") == "slow" for s in shapes_of(page.picture.drawing))


class Desktop:
    """A session bus: what is asked of it."""

    def __init__(self, is_there: bool) -> None:
        self.is_there, self.asked = is_there, list[Any]()

    def isConnected(self) -> bool:  # noqa: N802
        return self.is_there

    def call(self, message: QDBusMessage, timeout: int) -> None:
        self.asked.append((message.service(), message.member(), message.arguments()))


@pytest.mark.parametrize("is_there", [True, False])
def test_the_screen_is_kept_on_and_given_back(is_there: bool) -> None:
    bus = Desktop(is_there)
    awake = Awake(lambda: bus, lambda: bus.asked.append("given back"))
    for _ in range(2):
        awake.hold("welding")
    for _ in range(2):
        awake.release()
    assert bus.asked == [*([("org.freedesktop.ScreenSaver", "Inhibit", ["banister", "welding"])] if is_there else []), "given back"]


def test_the_work_is_turned_and_gouged_before_the_other_side(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    page.leave()
    demo.store.look(joint_id="H1")
    double = opened(demo, clock)
    plan = double.bench.now.plan
    turned = next(i for i, phase in enumerate(plan.sequence) if phase.action == "turn")
    front = [key for phase in plan.sequence[:turned] for key in phase.passes]
    assert front and not double.bench.due and "turn the work" not in words(double)
    while double.bench.passing.key in front:
        weld_pass(double, qtbot, clock)
    assert double.bench.due == ("turn", "gouge") and "turn the work" in words(double) and "it is done" in words(double)
    texts = held_inside(double)
    window, gate = (next(t for t in texts if t.id == name) for name in ("window", "gate"))
    assert span(window)[1] < span(gate)[0], "the limits do not run into what they say"
    lit = next(shape for shape in shapes_of(double.picture.drawing) if getattr(shape, "id", "").startswith("lit:"))
    welded = [shape for shape in shapes_of(double.picture.drawing) if getattr(shape, "id", "").startswith("welded:")]
    assert min(y for _, y in lit.points) > max(sum(y for _, y in w.points) / len(w.points) for w in welded), "the side to be welded is drawn up"
    qtbot.keyClick(double, Qt.Key.Key_Return)
    assert double.bench.due == ("gouge",) and "gouge to sound metal" in words(double)
    qtbot.keyClick(double, Qt.Key.Key_Return)
    assert not double.bench.due and [r.d["what"] for r in demo.store.records if r.k == "step" and r.j == "H1"] == ["turn", "gouge"]
    double.bench.undo()
    assert double.bench.due == ("gouge",), "a step taken back is due again"
    qtbot.keyClick(double, Qt.Key.Key_Space)
    assert double.bench.passing.state == "arc", "what was not told is no lock: an arc is a fact"
    double.leave()


@pytest.mark.parametrize("text", ["99999", "-300"])
def test_a_temperature_that_no_steel_has_is_not_written(demo: MainWindow, text: str) -> None:
    panel, before = step(demo, "weld"), demo.store.records
    panel.temp.edit.setText(text)
    panel.take_temperature()
    assert demo.store.records == before and "cannot be. Enter" in panel.temp.fault.text() and not panel.temp.fault.isHidden()


def test_an_arc_shows_at_once(trial: Any, clock: Clock) -> None:
    page = trial("")
    page.welder.weld(page.bench)
    for _ in range(2000):
        clock.s += 0.05
        page.welder.weld(page.bench)
        shown = page.picture
        page._listen()
        if page.bench.passing.state == "arc":
            break
    assert page.picture is not shown and "arc on" in " | ".join(texts_of(page.picture.drawing)), "painted by the look that heard it"
    assert page._listening.interval() <= 50, "heard within 50 ms, so shown well within 200"
    page.close()


def test_what_was_noted_on_paper_is_entered_later(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    p = page.bench.lit
    page.leave()
    demo.store.look(step="weld")
    press(demo, "weld", "weld_step.paper")
    paper = demo.opened["paper"]
    assert f"pass {p.number}" in paper.next.text()
    paper.when.setDateTime(paper.when.dateTime().addSecs(3600))
    paper.rods.edit.setText("4")
    paper.keep.click()
    assert "still to come" in paper.told.text() and not [r for r in demo.store.records if r.j == "F2" and r.p == p.key]
    paper.when.setDateTime(paper.when.dateTime().addSecs(-3 * 3600))
    for typed, field in (("0", paper.rods), ("x", paper.rods), ("", paper.rods)):
        paper.rods.edit.setText(typed)
        paper.keep.click()
        assert field.fault.text(), typed
    for field, text in ((paper.rods, "4"), (paper.left, "30"), (paper.temp, "95"), (paper.deep, "14")):
        field.edit.setText(text)
    paper.keep.click()
    late = [r for r in demo.store.records if r.j == "F2" and r.p == p.key]
    assert [r.k for r in late] == ["temp", "pass-begun", *["rod"] * 4, "pass-ended", "measure"] and all(r.at for r in late)
    assert late[0].at == late[1].at < late[-1].at < late[-1].t, "the start is as long before the end as four rods burn"
    facts = demo.store.welded.told.passes[p.key]
    assert facts.rods_used == pytest.approx(3.7) and facts.depth_mm == 14.0 and f"pass {p.number}" not in paper.next.text()
    paper.back.click()
    assert demo.store.welded is None or p.key not in demo.store.welded.told.passes
    assert f"pass {p.number}" in paper.next.text(), "taken back, it is to be welded again"
    paper.what.show_choice("preheat")
    paper.keep.click()
    assert demo.store.records[-1].d == {"what": "preheat"} and demo.store.records[-1].at
