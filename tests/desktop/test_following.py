"""What was welded followed in the window: beside it, once, and the rest of the plan after it."""

from __future__ import annotations

from typing import Any

import pytest
from pytestqt.qtbot import QtBot

from banister.core.follow import facts
from banister.desktop.app.window import MainWindow
from banister.desktop.errands import Errand
from banister.desktop.steps.registry import STEPS
from banister.desktop.steps.weld.panel import WeldPanel
from banister.desktop.weld.following import FOLLOW
from banister.desktop.weld.page import WeldPage
from tests.conftest import shapes_of
from tests.desktop.at_the_joint import Clock, close, weld_pass
from tests.desktop.conftest import step

WELD = [one.key for one in STEPS].index("weld")


def test_going_to_and_fro_between_joints_follows_neither_again(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    followed, real = list[str](), demo.errands.run
    monkeypatch.setattr(demo.errands, "run", lambda errand: (followed.append(errand.request[0].joint.id) if errand.key == FOLLOW else None, real(errand)))
    seen = {}
    for joint in ("P4", "G1", "P4", "G1"):
        demo.store.look(joint_id=joint)
        now = demo.store.welded.now
        assert seen.setdefault(joint, now.plan.passes) == now.plan.passes
    assert len(seen["P4"]) != len(seen["G1"]) and followed == ["P4", "G1"]
    demo.store.edit_joint("wider", root_gap_mm=9.0)
    demo.store.issue()
    assert demo.store.welded is not None and followed == ["P4", "G1", "G1"], "another sheet is followed anew"
    assert demo.store.following.follower(demo.store.now).plan is demo.store.now.plan


def test_what_was_welded_is_followed_beside_the_window_and_the_page_waits_for_it(demo: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    waiting, real = list[Errand](), demo.errands.run
    monkeypatch.setattr(demo.errands, "run", lambda errand: waiting.append(errand) if errand.key == FOLLOW else real(errand))
    demo.store.look(joint_id="G1")
    panel = step(demo, "weld")
    assert panel.state.text() == "What was welded is not followed yet." and demo.store.welded is None and not panel.go_by.isVisible()
    panel.go.click()
    assert "weld" not in demo.opened and len(waiting) == 1, "asked once, and the page waits"
    demo.store.stop(FOLLOW)
    assert "not followed" in demo.work.note.text.text() and len(waiting) == 1
    before = demo.section.drawing
    demo.toggle_units()
    assert demo.section.drawing is not before, "what is not followed is drawn in other units all the same"
    demo.toggle_units()
    demo.work.note.again.click()
    assert len(waiting) == 2
    demo.store.stop(FOLLOW)
    panel.go.click()
    assert len(waiting) == 3, "what was stopped is asked for once more by whoever needs it"
    before = demo.section.drawing
    real(waiting.pop())
    assert "5 of 11 passes welded" in panel.state.text() and demo.section.drawing is not before and demo.work.note.again.isHidden()
    assert len(demo.opened["weld"].bench.now.welded) == 5 and len(waiting) == 2
    demo.opened["weld"].close()
    demo.store.look(joint_id="P4")
    panel.go.click()
    demo.store.look(joint_id="F2", step="joint")
    demo.store.issue()
    real(waiting[2])
    assert not demo.opened["weld"].isVisible(), "another joint is looked at: nothing opens by itself"


def test_what_a_long_journal_tells_is_not_told_again_by_a_step_or_a_record(
    demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock, monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    weld_pass(page, qtbot, clock)
    close(demo)
    asked, real = list[int](), facts.told

    def counted(records: Any, joint: str, before: Any = facts.NOTHING_TOLD) -> Any:
        asked.append(len(tuple(records)))
        return real(records, joint, before)

    monkeypatch.setattr(facts, "told", counted)
    for key in ("weld", "heat", "passes"):
        step(demo, key)
    assert max(asked, default=0) == 0 and "1" in STEPS[WELD].state(demo.store.now).text
    assert demo.logbook.write("temp", "F2", "", c=140.0) is not None
    assert max(asked) == 1


def test_the_rest_follows_what_was_laid(demo: MainWindow, page: WeldPage, qtbot: QtBot, clock: Clock) -> None:
    planned = [p.area_mm2 for p in page.bench.follower.plan.passes]
    bench, n = page.bench, 0
    while "bigger than asked" not in bench.notice and n < 7:
        weld_pass(page, qtbot, clock, share=1.2)
        n += 1
    assert 4 <= len(bench.now.welded) == n and "bigger than asked" in bench.notice, "told as soon as it changes what is left"
    ratios = [bench.known.areas_mm2[key] / bench.facts.passes[key].asked_mm2 for key in bench.now.welded]
    assert all(1.05 < ratio < 1.3 for ratio in ratios), ratios
    assert max(own.ratio for own in bench.known.own.values()) > 1.1
    rest = sum(p.area_mm2 for p in bench.now.rest)
    assert rest < sum(planned[n:]), "what was laid too much is left out above"
    assert [s.id for s in shapes_of(page.picture.drawing) if getattr(s, "id", "").startswith("welded:")] == [f"welded:{key}" for key in bench.now.welded]
    shown = demo.section.drawing
    demo.go_to("weld")
    panel = demo.work.panel("weld")
    assert panel.state.text() == "" and demo.section.drawing is shown, "nothing is drawn under the page"
    demo.activateWindow()
    qtbot.waitUntil(lambda: panel.state.text() != "")
    assert isinstance(panel, WeldPanel) and f"{n} of" in panel.state.text() and "bigger" in panel.changed.text()
    assert any(getattr(s, "id", "") == "issued" for s in shapes_of(demo.section.drawing)), "planned and real on one drawing"
    assert f"{n} passes welded" in demo.work.stair.states[WELD].text
    page.activateWindow()
    qtbot.waitUntil(page.isActiveWindow)
    weld_pass(page, qtbot, clock)
    assert f"{n} of" in panel.state.text()
    page.close()
    assert f"{n + 1} of" in panel.state.text(), "and when it is left"
