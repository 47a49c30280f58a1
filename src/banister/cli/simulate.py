"""`banister simulate`: a simulated meter, thermometer, oven or pedal on a pseudo-terminal, to be connected to like a real one."""

from __future__ import annotations

import argparse
import os
import select
import time
import tty
from typing import Any

from banister.cli import spelling
from banister.cli.arc import ask_rod_and_amps, rod_and_amps
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE
from banister.core.arc.simulated import FAULTS, SimulatedArc
from banister.core.remark import Figure, Refused, fault
from banister.core.words import Speech
from banister.devices.simulated import SIMULATED
from banister.devices.station import SimulatedStation

METER = "meter"
DEVICES = (METER, *SIMULATED)
STEP_S = 0.05


def add_parser(commands: Any, say: Speech) -> None:
    """Add `simulate` to the command line."""
    p = described(commands, "simulate", say)
    p.add_argument("device", choices=DEVICES, metavar="DEVICE", help=say("cli.simulate.device"))
    ask_rod_and_amps(p, say)
    p.add_argument("--fault", action="append", choices=FAULTS, default=[], help=say("cli.simulate.fault"))
    p.add_argument("--seed", type=int, default=1, metavar="N", help=say("cli.simulate.seed"))
    p.add_argument("--seconds", type=spelling.number, metavar="S", help=say("cli.simulate.seconds"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the path of the line, and report on it until it is stopped."""
    station, running = _station(a, desk)
    ours, theirs = os.openpty()
    try:
        tty.setraw(theirs)
        os.set_blocking(ours, False)
        print(os.ttyname(theirs), flush=True)
        print(running, flush=True)
        _report(station, ours, a.seconds)
    finally:
        os.close(ours)
        os.close(theirs)
    return INSIDE


def _station(a: argparse.Namespace, desk: Desk) -> tuple[SimulatedStation, str]:
    """The device, and what is said of it."""
    if a.device == METER:
        rod, amps = rod_and_amps(a, desk)
        arc = SimulatedArc(amps, rod.burn_time_s(amps) * amps, rod.diameter_mm, rod.family, a.seed, faults=frozenset(a.fault))
        return SimulatedStation.of_arc(arc), desk.say("cli.simulate.running", rod=rod.id, amps=f"{amps:g}")
    if a.fault:
        raise Refused(fault("simulate.fault", "--fault", device=Figure(a.device, "name")))
    kind, source = SIMULATED[a.device]
    return SimulatedStation(kind, source(a.seed), seed=a.seed), desk.say(f"cli.simulate.{a.device}")


def _report(station: SimulatedStation, line: int, seconds: float | None) -> None:
    """Answer and report in time; what nobody fetches is lost, as it is on a wire."""
    begun = time.monotonic()
    while seconds is None or time.monotonic() - begun < seconds:
        heard, _, _ = select.select([line], [], [], STEP_S)
        out = station.hears(os.read(line, 4096)) if heard else b""
        out += b"".join(station.until(time.monotonic() - begun))
        if out:
            try:
                os.write(line, out)
            except BlockingIOError:
                continue
