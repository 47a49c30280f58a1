"""The welder's own figures at the joint: gone by only by asking, kept for the next job."""

from __future__ import annotations

import math
from pathlib import Path

import pytest

from banister.core.follow.factor import Own
from banister.core.follow.hands import Hand
from banister.core.value import replace
from banister.desktop.app.window import MainWindow
from banister.desktop.weld.page import WeldPage
from banister.job.library import hands_in
from tests.desktop.at_the_joint import Clock, opened
from tests.desktop.conftest import step


def test_a_hand_known_from_earlier_jobs_is_gone_by_only_by_asking(demo: MainWindow, page: WeldPage, clock: Clock) -> None:
    p, plain = page.bench.lit, page.bench.asked_mm2(page.bench.lit)
    page.leave()
    store, panel = demo.store, step(demo, "weld")
    assert panel.hands.isHidden() and panel.go_by.isHidden() and panel.keep_hands.isHidden()
    own = Own(f=math.log(1.2), p_ff=0.04**2, p_mm=0.03**2, looks=9, depths=3)
    hand = Hand(welder=store.joint.welder, rod=p.rod.id, position=store.joint.piece.position, own=own, on="2026-11-27")
    store.library = replace(store.library, hands=(hand,))
    store.look(dark=True)
    assert "9 looks in earlier jobs" in panel.hands.text() and not panel.go_by.isHidden()
    panel.go_by_own()
    assert store.records[-1].k == "hands" and panel.go_by.isHidden(), "asked once"
    known = opened(demo, clock)
    assert known.bench.lit.key == p.key and known.bench.asked_mm2(known.bench.lit) < plain, "marks are set for the hand from the first bead"
    known.leave()


def test_a_hand_is_kept_for_the_next_job(demo: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    demo.store.look(joint_id="G1")
    panel = step(demo, "weld")
    panel.keep_own()
    assert not (demo.store.library.folder / "hands.json").exists(), "not sure enough to keep"
    sure = Own(f=0.1, p_ff=0.03**2, p_mm=0.03**2, looks=8, depths=2)
    welded = demo.store.welded
    demo.store.edit_joint("named", welder="K7")
    monkeypatch.setattr(type(demo.store), "welded", property(lambda _: replace(welded, known=replace(welded.known, own={"E7018-4.0x450": sure}))))
    panel.show_job(None, demo.store.now)
    assert "8 looks" in panel.hands.text() and not panel.keep_hands.isHidden()
    demo.store.library = replace(demo.store.library, folder=tmp_path / "own")
    panel.keep_own()
    (kept,) = hands_in(tmp_path / "own" / "hands.json")
    assert kept.own == sure and kept.welder == demo.store.joint.welder and demo.store.library.hands == (kept,)
    (tmp_path / "own" / "hands.json").write_text('{"format": "banister-hands", "version": 1, "hands": [{"welder": "K7"}]}', encoding="utf-8")
    panel.keep_own()
    assert "hands.json" in panel.hands.text() and "rod" in panel.hands.text(), "a broken file is said and left as it is"
    assert "K7" in (tmp_path / "own" / "hands.json").read_text(encoding="utf-8")
