"""Devices at the joint in the real window: a line chosen and tried, what comes over it kept in the journal."""

from __future__ import annotations

import contextlib
import gzip
import os
import tty
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from banister.core.arc.simulated import SimulatedArc
from banister.desktop.app.window import MainWindow
from banister.desktop.snapshot import DeviceLine
from banister.desktop.weld.listening import Listening
from banister.desktop.weld.page import WeldPage
from banister.devices.kinds import KeyPress, OvenReading, Temperature
from banister.devices.line import Reading, encoded
from banister.devices.station import SimulatedStation
from banister.job.traces import kept_trace, traces_folder, traces_of
from tests.desktop.at_the_joint import Clock, held_inside, opened, words
from tests.desktop.conftest import press, step


def test_a_meter_on_a_line_welds_into_the_journal(demo: MainWindow, page: WeldPage, clock: Clock) -> None:
    page.leave()
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    os.set_blocking(ours, False)
    demo.store.look(lines=(DeviceLine("arc", os.ttyname(theirs)),))
    try:
        live = opened(demo, clock)
        live._timer.stop()
        live._listening.stop()
        p = live.bench.lit
        station = SimulatedStation.of_arc(SimulatedArc(0.5 * p.amps, p.rod.burn_time_s(p.amps) * p.amps, p.rod.diameter_mm, p.rod.family, inner_hz=250.0))
        begun = clock.s
        for _ in range(700):
            clock.s += 0.5
            live._tick()
            with contextlib.suppress(BlockingIOError):
                os.write(ours, station.hears(os.read(ours, 4096)))
            os.write(ours, b"".join(station.until(clock.s - begun)))
            if live.bench.passing.rods == 1:
                break
        rod = next(r for r in demo.store.records if r.k == "rod" and r.j == "F2")
        truth = station.source.arc.truths[0]
        assert rod.d["kj"] == pytest.approx(truth.joules / 1000, rel=0.01) and rod.d["arc_s"] == pytest.approx(truth.off_s - truth.on_s, abs=0.5)
        assert rod.d["sure"] and rod.d["simulated"] and "SIMULATED" in words(live), "a simulator on a real line is no measurement"
        assert b"\n# simulated\n" in kept_trace(demo.files.file.path, rod.d["trace"])
        samples = traces_of(demo.files.file.path)(rod)
        joules = (samples[1:, 1] * samples[1:, 2] * np.diff(samples[:, 0])).sum()
        assert joules == pytest.approx(truth.joules, rel=0.02), "every sample of the rod is kept beside the journal"
        kept = traces_folder(demo.files.file.path) / rod.d["trace"]["file"]
        kept.write_bytes(gzip.compress(gzip.decompress(kept.read_bytes()).replace(b"1", b"2", 1)))
        assert traces_of(demo.files.file.path)(rod) is None, "what was altered is not used"
        amiss = [r for r in demo.store.records if r.k == "deviation" and r.d["rule"] == "amps"]
        assert amiss and amiss[0].d["value"] < amiss[0].d["limit"], "half the current is outside the procedure"
        asked = [r.d["value"] for r in demo.store.records if r.k == "note" and r.d["text"] == "arc other_rod"]
        assert asked == [pytest.approx(0.5 * p.amps, rel=0.05)], "half the amps are another rod's, which is asked once a pass"
        live.leave()
        assert "current" in step(demo, "weld").list.item(0).text() and " A for " in step(demo, "weld").list.item(0).text()
    finally:
        os.close(ours)
        os.close(theirs)


def test_a_line_is_chosen_and_tried(demo: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    panel = step(demo, "weld")
    assert "No arc meter" in panel.meter_said.text()
    press(demo, "weld", "weld_step.devices")
    dialog = demo.opened["devices"]
    dialog.line.setCurrentText(str(tmp_path / "not-there"))
    dialog.try_it()
    assert "plugged in?" in dialog.state.text() and "not-there" in panel.meter_said.text()
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    try:
        dialog.line.setCurrentText(os.ttyname(theirs))
        dialog.try_it()
        assert "nothing comes" in dialog.state.text()
        for seq, kind, fields in ((1, "H", ("thermo", "1", 1.0, "x", "y")), (2, "H", ("arc", "1", 50.0, "x", "y")), (1, "A", (23.5, 118.0))):
            os.write(ours, encoded(Reading(kind, seq, 1000, fields)))
            dialog.tick()
            if fields[0] == "thermo":
                assert "answers as thermo: wanted is arc meter" in dialog.state.text()
        assert dialog.reading.text() == "23.5 V   118 A" and dialog.state.text() == "It tells."
        dialog.give_up()
        assert "No arc meter" in panel.meter_said.text() and demo.store.view.lines == ()
    finally:
        dialog.close()
        os.close(ours)
        os.close(theirs)


def test_thermometer_pedal_and_oven_are_listened_to(demo: MainWindow, page: WeldPage, clock: Clock) -> None:
    told: dict[str, list[Any]] = {"thermometer": [], "keys": [], "oven": []}
    page.listens(Listening(page.bench, *(Told(told[name]) for name in told), page.pressed))
    page._listening.stop()

    def hears(name: str, reading: Any) -> None:
        told[name].append(reading)
        page._listen()

    for c, emissivity in ((150.0, None), (96.0, 0.95)):
        for k in range(6):
            hears("thermometer", Temperature(clock.s + k / 2, "hand", c + 0.2 * (k % 2), emissivity))
        clock.s += 20.0
    kept = [r.d for r in demo.store.records if r.k == "temp" and r.j == "F2" and r.d.get("probe") == "hand"]
    assert [(round(d["c"]), d.get("emissivity")) for d in kept] == [(150, None), (96, 0.95)], "held still for two seconds, and once"
    assert "the surface has about 0." in page.bench.notice and page.bench.notice_bad, "beside one by contact infrared is found to read low"
    held_inside(page)
    hears("keys", KeyPress(clock.s, "space", True))
    assert page.bench.passing.state == "arc"
    count = len(demo.store.records)
    for k in range(12):
        hears("thermometer", Temperature(clock.s + k / 2, "hand", 400.0))
    assert len(demo.store.records) == count, "under the arc a probe tells nothing"
    clock.s += 30.0
    hears("keys", KeyPress(clock.s, "big", True))
    assert page.bench.passing.state == "gap", "the big button is whatever is lit"
    hears("keys", KeyPress(clock.s, "back", True))
    assert page._held is not None
    hears("keys", KeyPress(clock.s, "back", False))
    assert page._held is None, "a key let go too soon does nothing"
    hears("keys", KeyPress(clock.s, "big", True))
    assert page.bench.passing.state == "clean"
    hears("oven", OvenReading(clock.s, "oven-1", 92.0, 120.0, False))
    assert "too cold to keep rods dry" in page.bench.notice
    for s in (0.0, 30.0, 61.0):
        hears("oven", OvenReading(clock.s + s, "oven-1", 118.0, 120.0, True))
    assert "its door stands open" in page.bench.notice
    page.leave()


class Told:
    """A device that tells what the test says."""

    state, is_simulated = "live", False

    def __init__(self, waiting: list[Any]) -> None:
        self.waiting = waiting

    def open(self) -> None: ...

    def close(self) -> None: ...

    def poll(self, now_s: float) -> tuple[Any, ...]:
        found = tuple(self.waiting)
        self.waiting.clear()
        return found


def test_a_thermometer_is_chosen_and_a_trace_that_is_none_is_said(demo: MainWindow, tmp_path: Path) -> None:
    press(demo, "weld", "weld_step.devices")
    dialog = demo.opened["devices"]
    dialog.device.show_choice("thermometer")
    dialog._other_device()
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    try:
        dialog.line.setCurrentText(os.ttyname(theirs))
        dialog.try_it()
        os.write(ours, encoded(Reading("H", 1, 1000, ("thermometer", "1", 2.0, "x", "y"))) + encoded(Reading("T", 1, 1100, ("hand", 148.0))))
        dialog.tick()
        assert dialog.reading.text() == "148 \u00b0C" and "thermometer: " in step(demo, "weld").meter_said.text()
        dialog.device.show_choice("arc")
        dialog._other_device()
        assert dialog.state.text() == "None chosen." and dialog.line.currentText() == ""
        bad = tmp_path / "bad.csv"
        bad.write_text("nothing", encoding="utf-8")
        dialog.line.setCurrentText(str(bad))
        dialog.try_it()
        assert dialog.driver is None and "t_s" in dialog.state.text()
        assert {line.device for line in demo.store.view.lines} == {"arc", "thermometer"}
    finally:
        dialog.close()
        os.close(ours)
        os.close(theirs)
