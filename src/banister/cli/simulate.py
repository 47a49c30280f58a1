"""`banister simulate meter`: a simulated arc meter on a pseudo-terminal, to be connected to like a real one."""

from __future__ import annotations

import argparse
import os
import select
import time
import tty
from typing import Any

from banister.cli.arc import ask_rod_and_amps, rod_and_amps
from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE
from banister.core.arc.simulated import FAULTS, SimulatedArc
from banister.core.words import Speech
from banister.devices.station import SimulatedStation

DEVICES = ("meter",)
STEP_S = 0.05


def add_parser(commands: Any, say: Speech) -> None:
    """Add `simulate` to the command line."""
    p = described(commands, "simulate", say)
    p.add_argument("device", choices=DEVICES, metavar="DEVICE", help=say("cli.simulate.device"))
    ask_rod_and_amps(p, say)
    p.add_argument("--fault", action="append", choices=FAULTS, default=[], help=say("cli.simulate.fault"))
    p.add_argument("--seed", type=int, default=1, metavar="N", help=say("cli.simulate.seed"))
    p.add_argument("--seconds", type=float, metavar="S", help=say("cli.simulate.seconds"))
    p.set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the path of the line, and report on it until it is stopped."""
    rod, amps = rod_and_amps(a, desk)
    arc = SimulatedArc(amps, rod.burn_time_s(amps) * amps, rod.diameter_mm, rod.family, a.seed, faults=frozenset(a.fault))
    ours, theirs = os.openpty()
    try:
        tty.setraw(theirs)
        os.set_blocking(ours, False)
        print(os.ttyname(theirs), flush=True)
        print(desk.say("cli.simulate.running", rod=rod.id, amps=f"{amps:g}"), flush=True)
        _report(SimulatedStation(arc), ours, a.seconds)
    finally:
        os.close(ours)
        os.close(theirs)
    return INSIDE


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
