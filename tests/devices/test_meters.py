"""Every driver of every kind of device held to the same promises; the simulated arc held to its own truth; a device in a process of its own."""

from __future__ import annotations

import itertools
import os
import select
import subprocess
import sys
import time
import tty
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest

from banister.core.arc.analysis import ArcAnalysis, Setting
from banister.core.arc.simulated import FAULTS, SimulatedArc
from banister.core.remark import Refused
from banister.devices.driver import ABSENT, FAULTY, LIVE, SILENT, AlreadyOpen, Driver, NoDevice, Replay, SerialDevice
from banister.devices.kinds import ARC, KEYS, KINDS, OVEN, THERMOMETER, Kind
from banister.devices.line import Reading, encoded
from banister.devices.lines import driver_of
from banister.devices.simulated import SIMULATED, ArcSource, Simulated, SimulatedMeter, Source
from banister.devices.station import SimulatedStation
from banister.devices.trace import Sample

ROD_AMP_S, SHORT_ROD_AMP_S = 8315.1, 3200.0


def arc(seed: int = 1, **also: object) -> SimulatedArc:
    found = SimulatedArc(118.0, ROD_AMP_S, 3.2, "basic", seed, **also)  # type: ignore[arg-type]
    found.strike(1.0)
    return found


@dataclass
class Rig:
    """A driver and what is behind it: `step` lets its source go on to a time, `unplug` takes it away, `plug` gives it back."""

    meter: Driver[Any]
    kind: Kind[Any]
    step: Callable[[float], None] = lambda t: None
    unplug: Callable[[], None] | None = None
    plug: Callable[[], None] | None = None
    sent: list[int] = field(default_factory=lambda: [0])


class Line:
    """A pseudo-terminal with a simulated device at its other end; its path is a link, which survives being plugged in anew."""

    def __init__(self, path: Path, device: str = ARC.device) -> None:
        self.path, self.sent = path, [0]
        self.station = SimulatedStation.of_arc(arc()) if device == ARC.device else SimulatedStation(KINDS[device], source(device))
        self.plug()

    def plug(self) -> None:
        self.ours, self.theirs = os.openpty()
        tty.setraw(self.theirs)
        os.set_blocking(self.ours, False)
        self.path.unlink(missing_ok=True)
        self.path.symlink_to(os.ttyname(self.theirs))
        self.station.is_asked = False

    def unplug(self) -> None:
        os.close(self.ours)
        os.close(self.theirs)
        self.path.unlink()

    def step(self, t: float) -> None:
        if not self.path.is_symlink():
            for _ in self.station.until(t):
                pass
            return
        try:
            out = self.station.hears(os.read(self.ours, 4096))
        except BlockingIOError:
            out = b""
        lines = list(self.station.until(t))
        self.sent[0] += len(lines)
        os.write(self.ours, out + b"".join(lines))


def source(device: str) -> Source:
    return ArcSource(arc()) if device == ARC.device else SIMULATED[device][1](1)


DRIVERS = [f"{driver} {device}" for driver in ("serial", "simulated", "replay") for device in KINDS] + ["none arc"]


@pytest.fixture(params=DRIVERS)
def rig(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Rig]:
    driver, device = request.param.split()
    kind = KINDS[device]
    if driver == "serial":
        line = Line(tmp_path / "line", device)
        yield Rig(SerialDevice(kind, line.path), kind, line.step, line.unplug, line.plug, line.sent)
    elif driver == "simulated":
        made = SimulatedMeter(arc()) if device == ARC.device else Simulated(kind, source(device))
        yield Rig(made, kind, unplug=lambda: setattr(made, "is_plugged", False), plug=lambda: setattr(made, "is_plugged", True))
    elif driver == "replay":
        yield Rig(Replay(kind, tuple(source(device).until(200.0))), kind)
    else:
        yield Rig(NoDevice(), kind)


def polled(rig: Rig, begin: float, end: float, each: float = 0.1) -> list[Sample]:
    found: list[Sample] = []
    for k in range(1, round((end - begin) / each) + 1):
        t = begin + k * each
        rig.step(t)
        found += rig.meter.poll(t)
    return found


def test_a_driver_keeps_its_promises(rig: Rig) -> None:
    assert rig.meter.poll(0.0) == () and rig.meter.state == ABSENT, "nothing is read before it is opened"
    rig.meter.open()
    with pytest.raises(AlreadyOpen):
        rig.meter.open()
    samples = polled(rig, 0.0, 45.0)
    times = [t for t, *_ in samples]
    assert all(a < b for a, b in itertools.pairwise(times)), "times never go back"
    if rig.kind is ARC:
        assert all(abs(v) <= 150 and abs(a) <= 1500 for _, v, a, _ in samples)
    if isinstance(rig.meter, NoDevice):
        assert not samples and rig.meter.state == ABSENT
    else:
        wanted = {ARC: 44.5 * 50, THERMOMETER: 88, OVEN: 4, KEYS: 3}[rig.kind]
        assert rig.meter.state == LIVE and len(samples) >= wanted
        assert not isinstance(rig.meter, SerialDevice) or (len(samples) == rig.sent[0] and rig.meter.damaged == 0), "nothing is lost at ten looks a second"
        assert rig.meter.is_simulated, "none of these is a measurement"
    rig.meter.close()
    assert rig.meter.poll(46.0) == () and rig.meter.state == ABSENT
    rig.meter.open()
    rig.meter.close()


@pytest.mark.parametrize("rig", [f"{driver} {device}" for driver in ("serial", "simulated") for device in KINDS], indirect=True)
def test_unplugged_is_absent_and_comes_back_by_itself(rig: Rig) -> None:
    assert rig.unplug is not None and rig.plug is not None
    rig.meter.open()
    polled(rig, 0.0, 12.0)
    assert rig.meter.state == LIVE
    rig.unplug()
    assert polled(rig, 12.0, 14.0) == [] and rig.meter.state == ABSENT
    rig.plug()
    assert polled(rig, 14.0, 40.0) and rig.meter.state == LIVE
    rig.meter.close()


def heard(line: Line, *wanted: bytes) -> None:
    """What was asked over a line comes through, in parts: a terminal hands on what is written when it gets to it."""
    read, until = b"", time.monotonic() + 5.0
    while not all(one in read for one in wanted) and time.monotonic() < until:
        ready, _, _ = select.select([line.ours], [], [], 0.5)
        read += os.read(line.ours, 4096) if ready else b""
    assert all(one in read for one in wanted), read


def polled_until(meter: SerialDevice[Any], t: float, is_there: Callable[[], bool]) -> tuple[Any, ...]:
    """Poll at one time until what was written came through; all that was told on the way."""
    told, until = tuple(meter.poll(t)), time.monotonic() + 5.0
    while not is_there() and time.monotonic() < until:
        time.sleep(0.01)
        told += tuple(meter.poll(t))
    assert is_there()
    return told


def test_a_line_that_is_silent_or_something_else_says_so(tmp_path: Path) -> None:
    line = Line(tmp_path / "meter")
    meter = SerialDevice(ARC, line.path)
    meter.open()
    meter.poll(0.0)
    assert meter.state == SILENT
    heard(line, b">Q 1 0 #", b">R 2 0 50 #")
    os.write(line.ours, b"noise\n>A 1 1 23" + encoded(Reading("H", 1, 5, ("oven", "1", 1.0, "x", "y"))) + encoded(Reading("E", 1, 6, ("cold", "start"))))
    assert polled_until(meter, 0.5, lambda: meter.state == FAULTY and meter.trouble != "") == ()
    assert meter.answers == "oven" and meter.trouble == "cold start"
    os.write(line.ours, encoded(Reading("H", 2, 7, ("arc", "1", 50.0, "x", "y"))) + encoded(Reading("A", 1, 900, (-23.4, -118.0))))
    assert polled_until(meter, 1.0, lambda: meter.state == LIVE) == ((1.0, -23.4, -118.0, None),) and not meter.is_simulated
    meter.poll(3.5)
    assert meter.state == SILENT, "after two seconds without a line"
    meter.close()
    heard(line, b">R ")  # a meter that is let go is told to stop


@pytest.mark.parametrize("fault", ["", *FAULTS])
def test_the_simulated_arc_is_analysed_as_it_was(fault: str) -> None:
    made = SimulatedArc(118.0, SHORT_ROD_AMP_S, 3.2, "basic", 3, inner_hz=500.0, faults=frozenset({fault} - {""}))
    made.strike(1.0)
    analysis = ArcAnalysis(Setting(amps=118.0, volts=23.5, rod_amp_s=SHORT_ROD_AMP_S))
    for _ in range(2):
        while not made.is_free:
            for sample in made.until(made.t + 5.0):
                analysis.take(*sample)
        made.strike(made.t + 4.0)
    kinds = {n.kind for n in analysis.notices}
    wanted = {"drift": "drift", "long": "long_arc", "stuck": "sticking", "negative": "polarity", "clamp": "clamp_off"}.get(fault)
    assert (wanted in kinds) if wanted else not kinds - {"hole"}, kinds
    if fault != "clamp":
        assert len(analysis.all_rods) == 2
        assert sum(r.joules for r in analysis.all_rods) == pytest.approx(sum(t.joules for t in made.truths), rel=0.006)
        stuck_s = 1.2 if fault == "stuck" else 0.0
        assert sum(r.arc_s for r in analysis.all_rods) == pytest.approx(sum(t.off_s - t.on_s for t in made.truths) - stuck_s, rel=0.006)


def test_a_pedal_that_answers_is_there_and_an_oven_is_patient(tmp_path: Path) -> None:
    for device, quiet_s in ((KEYS.device, 15.0), (OVEN.device, 50.0)):
        line = Line(tmp_path / device, device)
        driver = SerialDevice(KINDS[device], line.path)
        rig = Rig(driver, KINDS[device], line.step)
        driver.open()
        polled(rig, 0.0, 12.0)
        line.station.source = Quiet()
        assert polled(rig, 12.0, 12.0 + quiet_s) == [] and driver.state == LIVE, f"{device}: nothing to tell is not silence"
        os.write(line.ours, encoded(Reading("H", 9, 5, ("arc", "1", 50.0, "x", "y"))))
        driver.poll(13.0 + quiet_s)
        assert driver.state == FAULTY
        driver.close()


class Quiet:
    def until(self, t: float) -> Iterator[Any]:
        yield from ()


def test_a_recorded_trace_is_told_again(tmp_path: Path) -> None:
    path = tmp_path / "trace.csv"
    path.write_text("t_s,volts,amps\n" + "".join(f"{5 + k / 50},23.5,118\n" for k in range(200)), encoding="utf-8")
    found = driver_of(ARC, str(path), 115200)
    found.open()
    told = [sample for k in range(60) for sample in found.poll(100.0 + k / 10)]
    assert len(told) == 200 and told[0][:3] == (100.0, 23.5, 118.0) and told[-1][0] == pytest.approx(103.98) and found.is_simulated
    assert isinstance(driver_of(THERMOMETER, str(path), 115200), SerialDevice), "only an arc is recorded so"
    path.write_text("nothing", encoding="utf-8")
    with pytest.raises(Refused):
        driver_of(ARC, str(path), 115200)


def test_the_same_seed_gives_the_same_samples() -> None:
    one, same, other = (tuple(arc(seed).until(5.0)) for seed in (4, 4, 5))
    assert one == same and one != other


def test_a_simulated_meter_runs_as_a_process_of_its_own() -> None:
    command = [sys.executable, "-m", "banister", "simulate", "meter", "--seed", "4", "--seconds", "20"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        path = Path(process.stdout.readline().strip())
        assert "SIMULATED" in process.stdout.readline()
        meter = SerialDevice(ARC, path)
        meter.open()
        samples: list[Sample] = []
        until = time.monotonic() + 10.0
        while len(samples) < 120 and time.monotonic() < until:
            samples += meter.poll(time.monotonic())
            time.sleep(0.02)
        assert len(samples) >= 120 and meter.state == LIVE and meter.damaged == 0 and meter.is_simulated
        assert 45.0 < (len(samples) - 20) / (samples[-1][0] - samples[20][0]) < 55.0, "fifty a second"
        process.terminate()
        process.wait(5)
        for _ in range(3):
            meter.poll(time.monotonic())
        assert meter.state == ABSENT
        meter.close()
